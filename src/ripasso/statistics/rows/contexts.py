"""What hangs on a shot besides itself: the shots about it, the table before it, what came of its visit.

Numbers that are not known are −1, three-valued answers −1, 0, 1: as they are stored.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Any

from ripasso.core.figures.columns import UNKNOWN_NUMBER
from ripasso.core.measures.break_places import break_places
from ripasso.core.measures.film_time import LiveFilm
from ripasso.core.rules import MatchScore, RackScore, ShotScore, Visit
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.layouts import snooker_spots
from ripasso.review.record.model import Rack, Session, Shot
from ripasso.review.record.people import person_key
from ripasso.review.recordings.film_parts import live_film
from ripasso.statistics.rows.said_context import say_of_rack
from ripasso.statistics.rows.score_context import exchanges, pressure_of, standing_of, visit_words, won_by
from ripasso.statistics.rows.shot_context import Context

#: A visit of so many balls, or points in snooker, is a long one.
LONG_BALLS, LONG_POINTS = 5, 30
LOW, HIGH = frozenset(map(str, range(1, 8))), frozenset(map(str, range(9, 16)))
#: Games whose visits are counted in points.
BY_POINTS = ("snooker", "rotation")


def contexts_of(session: Session, score: MatchScore | None) -> list[list[Context]]:
    """The contexts of all shots, by rack."""
    spec, film = table_spec(session.table), live_film(session)
    visits = _by_first_shot(score)
    found: list[list[Context]] = []
    against = _opponents(session)
    for i, rack in enumerate(session.racks or ()):
        judged = score.racks[i] if score else None
        found.append(_of_rack(rack, judged, session.game, spec, film))
        say_of_rack(found[-1], rack, judged)
        for j, (shot, context) in enumerate(zip(rack.shots or (), found[-1], strict=True)):
            context.opponent, context.won = against.get(shot.player or "", ""), won_by(judged, shot)
            # A race of straight pool is to points: no rack decides it.
            if score is not None and session.game != "straight_pool":
                context.pressure = pressure_of(score, i, j, shot)
            context.standing = standing_of(score, i, shot) if score is not None else ""
            visit = visits.get((i, j))
            if visit is not None:
                context.visit_score = visit.points if session.game in BY_POINTS else visit.balls
                context.visit_end = visit.ended_by
        for j, place, of in exchanges(rack):
            found[-1][j].exchange, found[-1][j].exchange_of = place, of
    for visit_of in visit_words(session, score) if score is not None else ():
        first = found[visit_of.rack][visit_of.shot]
        first.visit_balls, first.began, first.run = visit_of.balls, visit_of.began, visit_of.run
        first.one_visit = visit_of.one_visit
    for i, j in _after_long_visits(score, snooker=session.game == "snooker"):
        if i < len(found) and j < len(found[i]):
            found[i][j].after_long_visit = True
    return found


def _opponents(session: Session) -> dict[str, str]:
    """The person each of two players plays against."""
    players = [player.id for player in session.players or ()]
    if len(players) != 2:
        return {}
    one, other = players
    return {one: person_key(session, other), other: person_key(session, one)}


def _by_first_shot(score: MatchScore | None) -> dict[tuple[int, int], Visit]:
    """Visits by the place of their first shot: rack and shot, 0 first."""
    return {(v.rack - 1, v.first_shot - 1): v for v in (score.visits if score else ())}


def _of_rack(
    rack: Rack, judged: RackScore | None, game: str | None, spec: TableSpec, film: LiveFilm
) -> list[Context]:
    shots, found = rack.shots or (), []
    for j, shot in enumerate(shots):
        own = judged.shots[j] if judged else None
        context = Context(phase=phase_of(shot, own, game))
        if shot.facts is not None:
            context.potted = len(shot.facts.potted or ())
            context.cue_potted = bool(shot.facts.cue_potted)
            context.legal_balls = context.potted if _is_legal(shot, own) else 0
        if shot.plan is not None and shot.plan.cushions is not None:
            context.cushions = len(shot.plan.cushions)
        if shot.intent == "break":
            _break(context, shot, spec)
        before, later = (shots[j - 1] if j else None), (shots[j + 1] if j + 1 < len(shots) else None)
        _followed(context, shot, later, judged.shots[j + 1] if judged and later is not None else None)
        _timed(context, shot, before, film)
        _rested(context, shot, spec)
        if before is not None and before.player != shot.player:
            context.after_fault = not _is_legal(before, judged.shots[j - 1] if judged else None) or (
                before.intent in ("pot", "two_way")
            )
        context.own_break = bool(shots) and shots[0].intent == "break" and shots[0].player == shot.player
        found.append(context)
    seconds = rack_seconds(shots, film)
    if found and seconds is not None:
        found[0].rack_s = seconds
    return found


def _rested(context: Context, shot: Shot, spec: TableSpec) -> None:
    """Where the cue ball came to rest, seen from the baulk or head cushion."""
    cue = (shot.after or {}).get("cue")
    if cue is None:
        return
    line = snooker_spots(spec)["brown"][0] if spec.snooker else spec.length / 4
    context.cue_behind = int(float(cue[0]) <= line)
    context.to_baulk = max(0.0, float(cue[0]) - spec.ball_radius)


def rack_seconds(shots: Sequence[Shot], film: LiveFilm) -> float | None:
    """From the first strike to the last rest, None where one is missing or on another recording."""
    if not shots or shots[0].recording != shots[-1].recording:
        return None
    start, end = shots[0].t_strike, shots[-1].t_rest
    if start is None or end is None:
        return None
    return film.seconds(shots[0].recording, float(start), float(end))


def _is_legal(shot: Shot, judged: ShotScore | None) -> bool:
    if judged is not None and judged.outcome is not None:
        return judged.outcome.legal
    facts = shot.facts
    return not (facts and (facts.cue_potted or facts.off_table or facts.other_fouls))


def _answer(value: object) -> int:
    return -1 if value is None else 1 if value else 0


def _break(context: Context, shot: Shot, spec: TableSpec) -> None:
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

    context.outer, context.second_row = (
        _answer(value("outer_ball_down")),
        _answer(value("second_row_in_side")),
    )
    context.head_in_side, context.central = _answer(value("head_in_side")), _answer(found.get("central"))
    left = value("left_in_rack")
    context.left_in_rack = float(left) if isinstance(left, int) else UNKNOWN_NUMBER


def _followed(context: Context, shot: Shot, later: Shot | None, judged: ShotScore | None) -> None:
    context.has_next = later is not None
    context.goes_to_other = later is not None and later.player != shot.player
    if later is None or later.facts is None:
        return
    outcome = judged.outcome if judged else None
    legal = outcome.legal if outcome is not None else not later.facts.cue_potted
    context.answered = bool(later.facts.potted) and legal


def _timed(context: Context, shot: Shot, before: Shot | None, film: LiveFilm) -> None:
    if before is None or before.recording != shot.recording or before.t_rest is None:
        return
    start = float(before.t_rest)
    for name, end in (("since_rest_s", shot.t_strike), ("to_rest_s", shot.t_rest)):
        seconds = film.seconds(shot.recording, start, float(end)) if end is not None else None
        if seconds is not None:
            setattr(context, name, seconds)


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
    visits: Sequence[Visit] = score.visits if score else ()
    for before, after in pairwise(visits):
        is_long = before.points >= LONG_POINTS if snooker else before.balls >= LONG_BALLS
        if is_long and before.player != after.player:
            found.add((after.rack - 1, after.first_shot - 1))
    return found
