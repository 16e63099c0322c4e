"""What hangs on a shot besides itself: the shots about it, the table before it, what came of its visit.

Numbers that are not known are −1, three-valued answers −1, 0, 1: as they are stored.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ripasso.core.figures.schema import UNKNOWN_NUMBER, FactRow
from ripasso.core.json_data import JsonMapping
from ripasso.core.measures.break_places import break_places
from ripasso.core.measures.film_time import LiveFilm
from ripasso.core.rules import MatchScore, RackScore, ShotScore, Visit
from ripasso.core.table import TableSpec, table_spec
from ripasso.core.table.layouts import snooker_spots
from ripasso.review.record.model import Rack, Session, Shot
from ripasso.review.record.people import person_key
from ripasso.review.recordings.film_parts import live_film
from ripasso.review.scoring.rack_results import is_cut
from ripasso.statistics.rows.said_context import say_of_rack
from ripasso.statistics.rows.score_context import (
    Before,
    EndOfVisit,
    exchanges,
    pressure_of,
    standing_of,
    visit_words,
    won_by,
)

#: A visit of so many balls, or points in snooker, is a long one.
LONG_BALLS, LONG_POINTS = 5, 30
LOW, HIGH = frozenset(map(str, range(1, 8))), frozenset(map(str, range(9, 16)))
#: Games whose visits are counted in points.
BY_POINTS = ("snooker", "rotation")


@dataclass(frozen=True)
class Setting:
    """What the contexts of every rack of a session hang on."""

    game: str | None
    spec: TableSpec
    film: LiveFilm
    opponents: Mapping[str, str]

    @classmethod
    def of(cls, session: Session) -> Setting:
        """The setting of a session."""
        film = live_film(session)
        return cls(session.game, table_spec(session.table), film, _opponents(session))


@dataclass(frozen=True)
class ScoredRack:
    """What the rules say of a rack and of the visits that begin in it."""

    rack: RackScore
    before: Before
    visits: tuple[Visit, ...]  # that begin in it
    ends: tuple[EndOfVisit, ...]  # of those visits
    visits_before: tuple[Visit, ...]  # those of one player that were over when its first visit began


def scored_rack(racks: Sequence[Rack], score: MatchScore, place: int, film: LiveFilm) -> ScoredRack:
    """What the rules say of the rack at a place (0 first)."""
    visits = score.visits_begun[place]
    ends = tuple(_end_of(racks, score, visit, film) for visit in visits)
    before = Before(score.score_before[place], score.race_to)
    return ScoredRack(score.racks[place], before, visits, ends, visits_before(racks, score, place))


def visits_before(racks: Sequence[Rack], score: MatchScore, place: int) -> tuple[Visit, ...]:
    """The last visits before the rack at a place (0 first) that are one player's, the latest first.

    A player who wins racks goes on, and the other has seen all of it. A gap ends what is known.
    """
    found: list[Visit] = []
    while place > 0 and not racks[place - 1].not_shown:
        place -= 1
        for visit in reversed(score.visits_begun[place]):
            if found and visit.player != found[0].player:
                return tuple(found)
            found.append(visit)
    return tuple(found)


def _end_of(racks: Sequence[Rack], score: MatchScore, visit: Visit, film: LiveFilm) -> EndOfVisit:
    shots = racks[visit.last_rack - 1].shots or ()
    first = shots[0].intent if shots else None
    return EndOfVisit(score.racks[visit.last_rack - 1], first, is_cut(shots, film))


def rack_contexts(setting: Setting, rack: Rack, scored: ScoredRack | None) -> list[FactRow]:
    """The contexts of the shots of one rack."""
    judged = scored.rack if scored is not None else None
    found = _of_rack(rack, judged, setting.game, setting.spec, setting.film)
    say_of_rack(found, rack, judged, setting.spec)
    for shot, context in zip(rack.shots or (), found, strict=True):
        context.opponent, context.won = setting.opponents.get(shot.player or "", ""), won_by(judged, shot)
    for j, place, of in exchanges(rack):
        found[j].exchange, found[j].exchange_of = place, of
    if scored is not None:
        _in_match(found, rack, scored, setting.game)
    return found


def _in_match(found: Sequence[FactRow], rack: Rack, scored: ScoredRack, game: str | None) -> None:
    """What the score says of the shots of a rack, and of the visits that begin in it."""
    shots = rack.shots or ()
    for j, (shot, context) in enumerate(zip(shots, found, strict=True)):
        # A race of straight pool is to points: no rack decides it.
        if game != "straight_pool":
            context.pressure = pressure_of(scored.before, scored.rack, j, shot)
        context.standing = standing_of(scored.before, shot)
    earlier = list(scored.visits_before)
    for visit, end in zip(scored.visits, scored.ends, strict=True):
        place = visit.first_shot - 1
        context, snooker = found[place], game == "snooker"
        context.visit_score = visit.points if game in BY_POINTS else visit.balls
        context.visit_end, context.visit_balls = visit.ended_by, visit.balls
        words = visit_words(visit, shots[place], scored.rack, end, snooker=snooker)
        context.began, context.run, context.one_visit = words.began, words.run, words.one_visit
        if earlier and earlier[0].player != visit.player:
            context.after_long_visit = any(_is_long(one, snooker=snooker) for one in earlier)
            earlier = []
        earlier.append(visit)


def _is_long(visit: Visit, *, snooker: bool) -> bool:
    return visit.points >= LONG_POINTS if snooker else visit.balls >= LONG_BALLS


def _opponents(session: Session) -> dict[str, str]:
    """The person each of two players plays against."""
    players = [player.id for player in session.players or ()]
    if len(players) != 2:
        return {}
    one, other = players
    return {one: person_key(session, other), other: person_key(session, one)}


def _of_rack(
    rack: Rack, judged: RackScore | None, game: str | None, spec: TableSpec, film: LiveFilm
) -> list[FactRow]:
    shots, found = rack.shots or (), []
    for j, shot in enumerate(shots):
        own = judged.shots[j] if judged else None
        context = FactRow(phase=phase_of(shot, own, game))
        _played(context, shot, own)
        if shot.intent == "break":
            _break(context, shot, spec)
        before, later = (shots[j - 1] if j else None), (shots[j + 1] if j + 1 < len(shots) else None)
        _followed(context, shot, later, judged.shots[j + 1] if judged and later is not None else None)
        _timed(context, shot, before, film)
        _rested(context, shot, spec)
        if before is not None and before.player != shot.player:
            legal = _is_legal(before, judged.shots[j - 1] if judged else None)
            context.after_fault = not legal or before.intent in ("pot", "two_way")
        context.own_break = bool(shots) and shots[0].intent == "break" and shots[0].player == shot.player
        found.append(context)
    seconds = rack_seconds(shots, film)
    if found and seconds is not None:
        found[0].rack_s = seconds
    return found


def _played(context: FactRow, shot: Shot, own: ShotScore | None) -> None:
    """What fell, and over how many cushions the cue ball was meant to go."""
    if shot.facts is not None:
        context.potted = len(shot.facts.potted or ())
        context.cue_potted = bool(shot.facts.cue_potted)
        context.legal_balls = context.potted if _is_legal(shot, own) else 0
    if shot.plan is not None and shot.plan.cushions is not None:
        context.cushions = len(shot.plan.cushions)


def _rested(context: FactRow, shot: Shot, spec: TableSpec) -> None:
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
    return -1 if value is None else int(bool(value))


def _break(context: FactRow, shot: Shot, spec: TableSpec) -> None:
    """What the layouts say of a break wins over what was said."""
    layouts: list[dict[str, tuple[float, float]] | None] = [
        None if layout is None else {ball: (float(p[0]), float(p[1])) for ball, p in layout.items()}
        for layout in (shot.before, shot.after)
    ]
    fallen = [(p.ball, p.pocket) for p in (shot.facts.potted if shot.facts else None) or ()]
    found = break_places(spec, layouts[0], layouts[1], fallen)
    said: JsonMapping = shot.break_.model_dump() if shot.break_ is not None else {}

    def value(name: str) -> object:
        return found.get(name, said.get(name))

    context.outer, context.second_row = (
        _answer(value("outer_ball_down")),
        _answer(value("second_row_in_side")),
    )
    context.head_in_side, context.central = _answer(value("head_in_side")), _answer(found.get("central"))
    left = value("left_in_rack")
    context.left_in_rack = float(left) if isinstance(left, int) else UNKNOWN_NUMBER


def _followed(context: FactRow, shot: Shot, later: Shot | None, judged: ShotScore | None) -> None:
    context.has_next = later is not None
    context.goes_to_other = later is not None and later.player != shot.player
    if later is None or later.facts is None:
        return
    outcome = judged.outcome if judged else None
    legal = outcome.legal if outcome is not None else not later.facts.cue_potted
    context.answered = bool(later.facts.potted) and legal


def _timed(context: FactRow, shot: Shot, before: Shot | None, film: LiveFilm) -> None:
    if before is None or before.recording != shot.recording or before.t_rest is None:
        return
    start = float(before.t_rest)
    for name, end in (("since_rest_s", shot.t_strike), ("to_rest_s", shot.t_rest)):
        seconds = film.seconds(shot.recording, start, float(end)) if end is not None else None
        if seconds is not None:
            setattr(context, name, seconds)


def phase_of(shot: Shot, judged: ShotScore | None, game: str | None) -> str:
    """Opening, middle or last, by what is still needed before the shot; "" where that is not known."""
    said = judged.on_table if judged else ()
    balls = set(said if shot.before is None else shot.before) - {"cue"}
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
    if needed >= opening:
        return "opening"
    return "middle" if needed >= middle else "last"


def _needed(balls: set[str], judged: ShotScore | None) -> set[str]:
    """In eight-ball with a group: its own balls and the 8."""
    on = set(judged.balls_on) if judged else set()
    if on == {"8"}:
        return {"8"}
    for group in (LOW, HIGH):
        if on and on <= group:
            return (balls & group) | {"8"}
    return balls
