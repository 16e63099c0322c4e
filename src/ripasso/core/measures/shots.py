"""What is measured of each shot of a session: the pot before it, what it left, and how far off it was.

Definitions are in docs/measures.md. All pots that any shot needs are computed together.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from ripasso.core.geometry import OBSTACLES
from ripasso.core.geometry.layouts import Pot, PotBook, Question
from ripasso.core.geometry.position import (
    ALONG_DEG,
    STRAIGHT_DEG,
    Leg,
    angle_from_line,
    crossing_angle,
    miss_from,
    side_of_line,
)
from ripasso.core.geometry.sight import visible_fractions
from ripasso.core.geometry.zones import Zone, distance_outside
from ripasso.core.measures.spin_words import SideSpin, cue_leaves, route_kind, side_spin
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Layout, Place


@dataclass(frozen=True, slots=True)
class PlanInput:
    """What was planned for the cue ball. Angles in degrees as they are said."""

    next_ball: str | None = None
    next_pocket: str | None = None
    or_balls: tuple[str, ...] = ()
    angle_wanted_deg: tuple[float, float] | None = None
    zone: Zone | None = None
    aim_point: Place | None = None
    route: tuple[Place, ...] = ()
    has_cushions: bool = False


@dataclass(frozen=True, slots=True)
class ShotInput:
    """One shot as plain values. `on_next`: the balls on afterwards, `goes_on`: the player plays on."""

    before: Layout | None
    after: Layout | None
    balls_on: tuple[str, ...]
    on_next: tuple[str, ...]
    is_break: bool
    goes_on: bool
    #: The layout and the balls on of the rack's next shot; None when there is none.
    next_before: Layout | None
    has_next: bool
    #: The meant ball of a plain pot, None for every other shot.
    ball: str | None = None
    pocket: str | None = None
    plan: PlanInput = field(default_factory=PlanInput)
    path_m: float | None = None
    #: The tip's offset to the right in ball radii, and the way on film; only with a tip said.
    tip_right: float | None = None
    followed: tuple[Place, ...] = ()


@dataclass(frozen=True, slots=True)
class Geometry:
    """The meant pot. Degrees, metres, milliradians; None where not defined."""

    ball: str
    pocket: str
    target: Place
    ghost: Place
    cut_deg: float
    fullness: float | None
    cue_travel: float
    object_travel: float
    window_full_deg: float
    window_deg: float
    tolerance_mrad: float | None
    tolerance_left_mrad: float | None
    tolerance_right_mrad: float | None
    chance: float | None
    obstacle: str | None
    object_blockers: tuple[str, ...]
    cue_blockers: tuple[str, ...]
    tangent_deg: float | None
    natural_roll_deg: float | None


@dataclass(frozen=True, slots=True)
class Position:
    """How far off the plan the cue ball came to rest, by every school."""

    zone_hit: bool | None = None
    zone_distance: float | None = None
    distance: float | None = None
    along: float | None = None
    across: float | None = None
    chance_rest: float | None = None
    chance_aim: float | None = None
    position_loss: float | None = None
    next_ball: str | None = None
    next_pocket: str | None = None
    side: str | None = None
    side_deg: float | None = None
    crossing_deg: float | None = None
    crossing: str | None = None


@dataclass(frozen=True, slots=True)
class BestPot:
    """The likeliest pot of a layout; chance 0 and no names when there is none."""

    ball: str | None
    pocket: str | None
    chance: float


@dataclass(frozen=True, slots=True)
class ShotMeasures:
    """Everything measured of one shot."""

    balls_on: tuple[str, ...]
    geometry: Geometry | None = None
    snookered: bool | None = None
    visible: float | None = None
    best: BestPot | None = None
    leave: float | None = None
    angle_left_deg: float | None = None
    angle_miss_deg: float | None = None
    position: Position | None = None
    cue_travelled: float | None = None
    cue_travelled_least: float | None = None
    #: The likeliest pots of the next ball from where the cue ball was wanted, else from where it stopped.
    next_pots: tuple[BestPot, ...] = ()
    side_spin: SideSpin | None = None
    #: "natural" or "fought": how the planned route starts.
    route: str | None = None
    #: From the edge of the meant ball to the nearest cushion, metres.
    ball_to_cushion: float | None = None


#: A long pot: both ways together, and one of them, in lengths of the table.
LONG_TOGETHER, LONG_LEG = 2 / 3, 0.4


def is_long_pot(pot: Geometry | None, table_length: float) -> bool:
    """Long to the ball or to the pocket, and long altogether."""
    if pot is None:
        return False
    legs = (pot.cue_travel, pot.object_travel)
    return sum(legs) >= LONG_TOGETHER * table_length and max(legs) >= LONG_LEG * table_length


@dataclass(slots=True)
class _Asked:
    """The questions of one shot."""

    meant: Question | None = None
    before: Question | None = None
    leave: Question | None = None
    rest: Question | None = None
    aim: Question | None = None


def measure_shots(
    spec: TableSpec,
    shots: Sequence[ShotInput],
    spread: float,
    *,
    straight_deg: float = STRAIGHT_DEG,
    along_deg: float = ALONG_DEG,
) -> list[ShotMeasures]:
    """Measure shots; `spread` is the aim spread of the reference level in radians."""
    book = PotBook(spec)
    asked = [_ask(book, shot) for shot in shots]
    book.solve(spread)
    settings = _Settings(spec, book, straight_deg, along_deg)
    return [_measure(settings, shot, questions) for shot, questions in zip(shots, asked, strict=True)]


@dataclass(frozen=True, slots=True)
class _Settings:
    spec: TableSpec
    book: PotBook
    straight_deg: float
    along_deg: float


def _ask(book: PotBook, shot: ShotInput) -> _Asked:
    asked = _Asked()
    before, after, plan = shot.before, shot.after, shot.plan
    if before is not None and "cue" in before:
        if shot.ball is not None and shot.ball in before:
            pockets = (shot.pocket,) if shot.pocket else None
            asked.meant = book.ask(before["cue"], before, (shot.ball,), *((pockets,) if pockets else ()))
        if not shot.is_break:
            asked.before = book.ask(before["cue"], before, shot.balls_on)
    if shot.has_next:
        lies = shot.next_before if shot.next_before is not None else after
        if lies is not None and "cue" in lies:
            asked.leave = book.ask(lies["cue"], lies, shot.on_next)
    if after is not None and "cue" in after:
        named = tuple(b for b in (plan.next_ball, *plan.or_balls) if b is not None)
        wanted = tuple(dict.fromkeys((*shot.on_next, *named)))
        asked.rest = book.ask(after["cue"], after, wanted)
        if plan.aim_point is not None:
            asked.aim = book.ask(plan.aim_point, after, wanted)
    return asked


def _measure(settings: _Settings, shot: ShotInput, asked: _Asked) -> ShotMeasures:
    geometry = _geometry(settings.book, shot, asked.meant)
    visible = _visible(settings.spec, shot)
    angle_left, angle_miss = _angles(settings.book, shot, asked.rest)
    return ShotMeasures(
        balls_on=shot.balls_on,
        geometry=geometry,
        snookered=None if visible is None else visible == 0.0,
        visible=visible,
        best=_best(asked.before),
        leave=_chance_of(asked.leave, shot.on_next),
        angle_left_deg=angle_left,
        angle_miss_deg=angle_miss,
        position=_position(settings, shot, asked, geometry),
        cue_travelled=_travelled(shot, geometry),
        cue_travelled_least=_travelled_least(shot, geometry),
        next_pots=_next_pots(shot, asked),
        side_spin=_side_spin(settings.spec, shot, geometry),
        route=None if geometry is None else _route(shot, geometry),
        ball_to_cushion=_to_cushion(settings.spec, shot),
    )


def _side_spin(spec: TableSpec, shot: ShotInput, geometry: Geometry | None) -> SideSpin | None:
    if geometry is None or shot.tip_right is None:
        return None
    leaves = cue_leaves(geometry.ghost, shot.followed, shot.plan.route, geometry.natural_roll_deg)
    return side_spin(shot.tip_right, geometry.cut_deg, geometry.ghost, leaves, spec)


def _route(shot: ShotInput, geometry: Geometry) -> str | None:
    return route_kind(geometry.ghost, shot.plan.route, geometry.natural_roll_deg, geometry.tangent_deg)


def _to_cushion(spec: TableSpec, shot: ShotInput) -> float | None:
    if shot.ball is None or shot.before is None or shot.ball not in shot.before:
        return None
    x, y = shot.before[shot.ball]
    return max(0.0, min(x, spec.length - x, y, spec.width - y) - spec.ball_radius)


def _next_pots(shot: ShotInput, asked: _Asked) -> tuple[BestPot, ...]:
    question, ball = asked.aim or asked.rest, _next_ball(shot)
    if question is None or ball is None:
        return ()
    found = [pot for pot in question.pots() if pot.ball == ball and pot.chance > 0]
    found.sort(key=lambda pot: -pot.chance)
    return tuple(BestPot(pot.ball, pot.pocket, pot.chance) for pot in found)


def _geometry(book: PotBook, shot: ShotInput, question: Question | None) -> Geometry | None:
    if question is None or shot.ball is None:
        return None
    pot = question.likeliest(shot.ball)
    if pot is None:
        return None
    found, i = book.found, pot.index
    names = question.others
    return Geometry(
        ball=pot.ball,
        pocket=pot.pocket,
        target=_place(found.target[i]),
        ghost=_place(found.ghost[i]),
        cut_deg=math.degrees(found.cut[i]),
        fullness=_number(found.fullness[i]),
        cue_travel=float(found.cue_travel[i]),
        object_travel=float(found.object_travel[i]),
        window_full_deg=math.degrees(found.window_full[i]),
        window_deg=math.degrees(found.window[i]),
        tolerance_mrad=_number(500 * (found.tolerance_left[i] + found.tolerance_right[i])),
        tolerance_left_mrad=_number(1e3 * found.tolerance_left[i]),
        tolerance_right_mrad=_number(1e3 * found.tolerance_right[i]),
        chance=_number(pot.chance),
        obstacle=OBSTACLES[int(found.obstacle[i])],
        object_blockers=_named(names, found.object_blockers[i]),
        cue_blockers=_named(names, found.cue_blockers[i]),
        tangent_deg=_number(math.degrees(found.tangent[i])),
        natural_roll_deg=_number(math.degrees(found.natural_roll[i])),
    )


def _place(point: np.ndarray) -> Place:
    return float(point[0]), float(point[1])


def _number(value: float) -> float | None:
    return None if math.isnan(value) else float(value)


def _named(names: Sequence[str], flags: np.ndarray) -> tuple[str, ...]:
    return tuple(name for name, flag in zip(names, flags.tolist(), strict=False) if flag)


def _visible(spec: TableSpec, shot: ShotInput) -> float | None:
    before = shot.before
    if before is None or "cue" not in before:
        return None
    on = [before[ball] for ball in shot.balls_on if ball in before]
    if not on:
        return None
    away = [place for ball, place in before.items() if ball != "cue" and ball not in shot.balls_on]
    blockers = np.array(away, dtype=np.float64).reshape(-1, 2)
    seen = visible_fractions(np.array(before["cue"]), np.array(on), blockers, spec.ball_radius)
    return float(seen.max())


def _best(question: Question | None) -> BestPot | None:
    if question is None:
        return None
    pot = question.best()
    return BestPot(pot.ball, pot.pocket, pot.chance) if pot else BestPot(None, None, 0.0)


def _chance_of(question: Question | None, balls: Sequence[str]) -> float | None:
    """The best chance over some balls; None without a question, 0 where nothing can be potted."""
    if question is None:
        return None
    return max((pot.chance for pot in question.pots() if pot.ball in balls and pot.chance > 0), default=0.0)


def _next_ball(shot: ShotInput) -> str | None:
    """The next ball as planned, or the only one that is on."""
    if shot.plan.next_ball is not None:
        return shot.plan.next_ball
    return shot.on_next[0] if len(shot.on_next) == 1 else None


def _angles(book: PotBook, shot: ShotInput, rest: Question | None) -> tuple[float | None, float | None]:
    """The cut that the rest point leaves on the next ball, and by how much it misses the wanted band."""
    ball = _next_ball(shot)
    if rest is None or ball is None or not shot.goes_on:
        return None, None
    found: list[tuple[float, float | None]] = []
    for name in (ball, *shot.plan.or_balls):
        wanted = shot.plan.next_pocket if name == ball else None
        pot = rest.pot(name, wanted) if wanted else rest.likeliest(name)
        if pot is not None:
            cut = abs(math.degrees(book.found.cut[pot.index]))
            found.append((cut, _band_miss(cut, shot.plan.angle_wanted_deg)))
    if not found:
        return None, None
    return min(found, key=lambda pair: abs(pair[1] or 0.0)) if shot.plan.or_balls else found[0]


def _band_miss(cut: float, band: tuple[float, float] | None) -> float | None:
    """0 inside the wanted band, negative too straight by, positive too steep by (degrees)."""
    if band is None:
        return None
    low, high = band
    return min(0.0, cut - low) + max(0.0, cut - high)


def last_leg(shot: ShotInput, geometry: Geometry | None) -> Leg | None:
    """The last leg of the planned route: its last two points, else from the ghost ball or the cue ball."""
    plan, before = shot.plan, shot.before
    if len(plan.route) >= 2:
        return plan.route[-2], plan.route[-1]
    if plan.route or plan.has_cushions or plan.aim_point is None:
        return None
    if geometry is not None:
        return geometry.ghost, plan.aim_point
    return (before["cue"], plan.aim_point) if before is not None and "cue" in before else None


def _position(
    settings: _Settings, shot: ShotInput, asked: _Asked, geometry: Geometry | None
) -> Position | None:
    plan = shot.plan
    if asked.rest is None or shot.after is None or (plan.zone is None and plan.aim_point is None):
        return None
    rest, aim, leg = shot.after["cue"], plan.aim_point, last_leg(shot, geometry)
    outside = distance_outside(plan.zone, rest) if plan.zone is not None else None
    values: dict[str, object] = {
        "zone_hit": None if outside is None else outside == 0.0,
        "zone_distance": outside,
    }
    if aim is None:
        # Without an aim point there is nothing to compare the rest point with but the zone.
        return Position(**values)  # type: ignore[arg-type]
    miss = miss_from(aim, rest, leg)
    values |= {"distance": miss.distance, "along": miss.along, "across": miss.across}
    ball = _next_ball(shot)
    pot = _next_pot(shot, asked, ball)
    values |= {"next_ball": ball, "next_pocket": pot.pocket if pot else plan.next_pocket}
    if shot.goes_on:
        values |= _next_shot_school(shot, asked)
        if pot is not None and ball in shot.after:
            values |= _line_school(settings, shot.after[pot.ball], pot, rest, aim, leg)
    return Position(**values)  # type: ignore[arg-type]


def _next_pot(shot: ShotInput, asked: _Asked, ball: str | None) -> Pot | None:
    """The next ball into its planned pocket; where none is planned, the best one from the aim point."""
    if ball is None or asked.aim is None:
        return None
    if shot.plan.next_pocket is not None:
        return asked.aim.pot(ball, shot.plan.next_pocket)
    return asked.aim.likeliest(ball)


def _next_shot_school(shot: ShotInput, asked: _Asked) -> Mapping[str, float | None]:
    rest = _chance_of(asked.rest, shot.on_next)
    aim = _chance_of(asked.aim, shot.on_next)
    loss = aim - rest if aim is not None and rest is not None else None
    return {"chance_rest": rest, "chance_aim": aim, "position_loss": loss}


def _line_school(
    settings: _Settings, ball: Place, pot: Pot, rest: Place, aim: Place, leg: Leg | None
) -> Mapping[str, object]:
    target = _place(settings.book.found.target[pot.index])
    at_rest = angle_from_line(ball, target, rest)
    side = side_of_line(angle_from_line(ball, target, aim), at_rest, settings.straight_deg)
    values: dict[str, object] = {"side_deg": math.degrees(at_rest), "side": side}
    if leg is not None:
        crossing = math.degrees(crossing_angle(leg, ball, target))
        values["crossing_deg"] = crossing
        values["crossing"] = "along" if crossing < settings.along_deg else "across"
    return values


def _travelled_least(shot: ShotInput, geometry: Geometry | None) -> float | None:
    """The straight way from the ghost ball to the rest point, metres, where no path and no route is known."""
    rest = shot.after.get("cue") if shot.after is not None else None
    if geometry is None or rest is None or _travelled(shot, geometry) is not None:
        return None
    return math.dist(geometry.ghost, rest)


def _travelled(shot: ShotInput, geometry: Geometry | None) -> float | None:
    """How far the cue ball ran after the contact: along its path, else ghost ball, route, rest point."""
    if shot.path_m is not None:
        return shot.path_m
    rest = shot.after.get("cue") if shot.after is not None else None
    if geometry is None or rest is None or not shot.plan.route:
        return None
    points = (geometry.ghost, *shot.plan.route[1:-1], rest)
    return sum(math.dist(a, b) for a, b in pairwise(points))
