"""What came of the racks of a session, from its records and its score."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.core.figures.ledger import run_of
from ripasso.core.figures.rack_results import Claim, RackResult
from ripasso.core.measures.film_time import LiveFilm
from ripasso.core.rules import MatchScore
from ripasso.review.record.model import Rack, Session, Shot


def session_results(session: Session, score: MatchScore, film: LiveFilm) -> list[RackResult]:
    """What came of every rack; sides are the ids of players."""
    return [rack_result(session, score, place, film) for place in range(len(session.racks or ()))]


def rack_result(session: Session, score: MatchScore, place: int, film: LiveFilm) -> RackResult:
    """What came of the rack at a place (0 first). What is said of the whole session is with the first."""
    rack = (session.racks or ())[place]
    points = session.game == "straight_pool"
    said = (*((session.stated or ()) if place == 0 else ()), *(rack.stated or ()))
    judged, before = score.racks[place], score.score_before[place]
    shots = rack.shots or ()
    shown = not rack.not_shown
    winning = next((one for one in score.visits_begun[place] if one.ended_by == "rack_won"), None)
    run = None
    if winning is not None and winning.last_rack == place + 1 and not is_cut(shots, film):
        run = run_of(judged, winning, shots[0].intent)
    return RackResult(
        number=rack.number,
        sides=tuple(before),
        before=() if points else tuple(before.values()),
        strokes=tuple(sum(shot.player == side for shot in shots) if shown else 0 for side in before),
        winner=judged.winner if shown else None,
        breaker=breaker_of(rack),
        ended_by=judged.ended_by or "",
        run=run or "",
        shown=shown,
        stated=rack.score_before is not None,
        claims=tuple(
            Claim(one.player, one.what, one.value, one.by or "")
            for one in said
            if one.player is not None and one.what is not None and one.value is not None
        ),
    )


def breaker_of(rack: Rack) -> str | None:
    """Who broke: as recorded, else the player of a first shot that may be a break."""
    first = rack.shots[0] if rack.shots else None
    if rack.breaker is not None or first is None:
        return rack.breaker
    return first.player if first.intent in (None, "break") else None


def is_cut(shots: Sequence[Shot], film: LiveFilm) -> bool:
    """Whether film is missing between the first strike of some shots and their last mark."""
    if not shots or shots[0].recording != shots[-1].recording:
        return False
    start = shots[0].t_strike
    end = shots[-1].t_rest if shots[-1].t_rest is not None else shots[-1].t_strike
    return start is not None and end is not None and film.is_cut(shots[0].recording, float(start), float(end))
