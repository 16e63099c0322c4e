"""The facts that full statistics read, from sessions: one row a shot, in order, ghosts' shots left out.

This is where a record becomes columns; what is counted of them is in `core.measures.player`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from ripasso.core.measures.break_places import break_places
from ripasso.core.measures.errors import FoundError
from ripasso.core.measures.facts import NO, UNKNOWN, YES, Fact
from ripasso.core.measures.film_time import LiveFilm
from ripasso.core.measures.shots import ShotMeasures
from ripasso.core.rules import MatchScore, ShotScore
from ripasso.core.table import TableSpec, table_spec
from ripasso.review.errors import rack_errors
from ripasso.review.figures import meant_ball_down, outcome_of, person_key
from ripasso.review.film_parts import live_film
from ripasso.review.measuring import measure_session
from ripasso.review.model import Session, Shot
from ripasso.review.proposals import settled
from ripasso.review.scoring import score_of

#: A visit of so many balls, or points in snooker, is a long one.
LONG_BALLS, LONG_POINTS = 5, 30
LOW, HIGH = frozenset(map(str, range(1, 8))), frozenset(map(str, range(9, 16)))


@dataclass(frozen=True)
class Sheet:
    """A session with everything that was found of it."""

    session: Session
    score: MatchScore | None
    facts: tuple[Fact, ...]
    errors: tuple[tuple[tuple[FoundError, ...], ...], ...]  # by rack and shot


def sheet_of(session: Session, index: int = 0) -> Sheet:
    """Score, measure and judge a whole session."""
    score, measured = score_of(session), measure_session(session)
    spec, film = table_spec(session.table), live_film(session)
    ghosts = {player.id for player in session.players or () if player.ghost}
    long_starts = _after_long_visits(score, snooker=session.game == "snooker")
    facts: list[Fact] = []
    errors = []
    for i, rack in enumerate(session.racks or ()):
        rack_score = score.racks[i] if score else None
        found = rack_errors(rack, rack_score, measured[i])
        errors.append(tuple(found))
        shots = rack.shots or ()
        for j, shot in enumerate(shots):
            if shot.player in ghosts:
                continue
            judged = rack_score.shots[j] if rack_score else None
            fact = _fact(shot, judged, measured[i][j], spec, session.game)
            fact.session, fact.rack, fact.number = index, rack.number, shot.number
            fact.person = person_key(session, shot.player)
            fact.errs = bool(found[j])
            fact.unforced = " ".join(error.kind for error in found[j] if error.unforced)
            fact.after_long_visit = (i, j) in long_starts
            _followed(fact, shot, shots[j + 1] if j + 1 < len(shots) else None, rack_score, j)
            _timed(fact, shot, shots[j - 1] if j else None, film)
            facts.append(fact)
    return Sheet(session, score, tuple(facts), tuple(errors))


def _fact(
    record: Shot, judged: ShotScore | None, measures: ShotMeasures, spec: TableSpec, game: str | None
) -> Fact:
    shot, went = settled(record), outcome_of(record, judged)
    result = shot.result
    pot, place = measures.geometry, measures.position
    fact = Fact(
        visit=judged.visit if judged and judged.visit is not None else -1,
        intent=shot.intent or "",
        phase=phase_of(shot, judged, game),
        pocket=(shot.call.pocket if shot.call and shot.call.pocket else None) or (pot.pocket if pot else ""),
        delivery=" ".join(shot.delivery or ()),
        methods=" ".join(shot.methods or ()),
        tried=went.tried,
        made=went.made,
        failed=went.failed,
        fouled=went.fouled,
        fluke=went.fluke,
        down=went.tried and not went.fluke and meant_ball_down(shot, judged),
        table_length=spec.length,
        leave=_number(measures.leave),
        contact=(result and result.contact) or "",
        position=(result and result.position) or "",
        pace=(result and result.pace) or "",
        said_side=(result and result.side) or "",
        angle=(result and result.angle) or "",
        verdict=(shot.decision and shot.decision.verdict) or "",
    )
    if pot is not None:
        fact.cut_deg, fact.cue_travel, fact.object_travel = pot.cut_deg, pot.cue_travel, pot.object_travel
        fact.left_mrad, fact.right_mrad = _number(pot.tolerance_left_mrad), _number(pot.tolerance_right_mrad)
        fact.chance = _number(pot.chance)
        fact.free = pot.obstacle is None and pot.tolerance_mrad is not None
    if place is not None:
        fact.zone = _answer(place.zone_hit)
        fact.distance, fact.along, fact.across = map(_number, (place.distance, place.along, place.across))
        fact.loss, fact.side = _number(place.position_loss), place.side or ""
    if shot.facts is not None:
        fact.potted = len(shot.facts.potted or ())
        fact.cue_potted = bool(shot.facts.cue_potted)
        fact.legal_balls = 0 if went.fouled else fact.potted
    if shot.intent == "break":
        _break(fact, shot, spec)
    return fact


def _number(value: float | None) -> float:
    return float("nan") if value is None else float(value)


def _answer(value: object) -> int:
    return UNKNOWN if value is None else YES if value else NO


def _break(fact: Fact, shot: Shot, spec: TableSpec) -> None:
    """What the layouts say of a break wins over what was said."""
    layouts: list[dict[str, tuple[float, float]] | None] = [
        None if layout is None else {ball: (float(p[0]), float(p[1])) for ball, p in layout.items()}
        for layout in (shot.before, shot.after)
    ]
    fallen = [(p.ball, p.pocket) for p in (shot.facts.potted if shot.facts else None) or ()]
    found = break_places(spec, layouts[0], layouts[1], fallen)
    said: Mapping[str, Any] = shot.break_.model_dump() if shot.break_ is not None else {}

    def value(name: str) -> object:
        return found.get(name, said.get(name))

    fact.outer, fact.second_row = _answer(value("outer_ball_down")), _answer(value("second_row_in_side"))
    fact.head_in_side, fact.central = _answer(value("head_in_side")), _answer(found.get("central"))
    left = value("left_in_rack")
    fact.left_in_rack = float(left) if isinstance(left, int) else float("nan")


def _followed(fact: Fact, shot: Shot, later: Shot | None, score: Any, place: int) -> None:
    fact.has_next = later is not None
    fact.goes_to_other = later is not None and later.player != shot.player
    if later is None or later.facts is None:
        return
    judged = score.shots[place + 1].outcome if score else None
    legal = judged.legal if judged is not None else not later.facts.cue_potted
    fact.answered = bool(later.facts.potted) and legal


def _timed(fact: Fact, shot: Shot, before: Shot | None, film: LiveFilm) -> None:
    if before is None or before.recording != shot.recording or before.t_rest is None:
        return
    start = float(before.t_rest)
    if shot.t_strike is not None:
        fact.since_rest_s = _number(film.seconds(shot.recording, start, float(shot.t_strike)))
    if shot.t_rest is not None:
        fact.to_rest_s = _number(film.seconds(shot.recording, start, float(shot.t_rest)))


def phase_of(shot: Shot, judged: ShotScore | None, game: str | None) -> str:
    """Opening, middle or last, by what is still needed before the shot; "" where that is not known."""
    table = set(shot.before) if shot.before is not None else set(judged.on_table) if judged else set()
    balls = table - {"cue"}
    if not balls:
        return ""
    if game == "snooker":
        reds = sum(ball.startswith("red") for ball in balls)
        if reds > 7:
            return "opening"
        on = judged.balls_on if judged else ()
        return "middle" if reds or len(on) > 1 else "last"
    needed = len(_needed(balls, judged) if game == "eight_ball" else balls)
    middle, opening = (6, 11) if game == "straight_pool" else (4, 7)
    return "opening" if needed >= opening else "middle" if needed >= middle else "last"


def _needed(balls: set[str], judged: ShotScore | None) -> set[str]:
    """In eight-ball with a group: its own balls and the 8."""
    on = set(judged.balls_on) if judged else set()
    if on == {"8"}:
        return {"8"}
    for group in (LOW, HIGH):
        if on and on <= group:
            return (balls & group) | {"8"}
    return balls


def _after_long_visits(score: MatchScore | None, *, snooker: bool) -> set[tuple[int, int]]:
    """The first shots (rack and place, 0 first) of visits that follow a long visit of the other player."""
    found: set[tuple[int, int]] = set()
    visits = score.visits if score else ()
    for before, after in pairwise(visits):
        is_long = before.points >= LONG_POINTS if snooker else before.balls >= LONG_BALLS
        if is_long and before.player != after.player:
            found.add((after.rack - 1, after.first_shot - 1))
    return found


def shot_arrays(sheets: Sequence[Sheet]) -> list[Fact]:
    """All facts of several sessions, in order."""
    return [fact for sheet in sheets for fact in sheet.facts]
