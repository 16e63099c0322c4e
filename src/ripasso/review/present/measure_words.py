"""The measures of a shot in words: a line each, its value in the unit chosen, its definition as a tip."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.measures.errors import FoundError, Thresholds
from ripasso.core.measures.exactness import cut_exactness_deg, length_exactness, rounded_to
from ripasso.core.measures.levels import DEFAULT_LEVEL, aim_spread_mrad
from ripasso.core.measures.shots import Geometry, Position, ShotMeasures
from ripasso.core.measures.units import length_words
from ripasso.core.table import PRESETS, TableSpec, cushion_gaps
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import ball_word, pocket_word, word
from ripasso.review.record.model import Session, Shot
from ripasso.review.record.parts import Level
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.outcome import recorded_errors

#: A ball whose centre is nearer to a cushion than this many radii is near it.
NEAR_RADII = 3.0

#: A cut that is known no better than this is told in whole degrees.
WHOLE_DEGREES = 0.95

OBSTACLES = {
    "touching": "the balls touch, so the aim is not free",
    "closed": "the pocket is closed from there",
    "object_blocked": "its way to the pocket is blocked",
    "cut": "the cut is steeper than 85°",
    "cushion": noop("the cushion is where the cue ball would have to be"),
    "cue_blocked": noop("the cue ball's way is blocked"),
}


@dataclass(frozen=True)
class MeasureLine:
    """A name, a value, what it means, and whether it is good, bad or neither."""

    name: str
    value: str
    tip: str
    tone: str = "ink"


@dataclass(frozen=True)
class Units:
    """How lengths are written; with `place_m` places come from a film and are known within that (95 %)."""

    unit: str
    spec: TableSpec
    game: str | None = None
    place_m: float | None = None

    def words(self, metres: float, ends: int = 1) -> str:
        """A length without a sign, between places of which `ends` were measured."""
        exact_m = length_exactness(self.place_m, ends) if self.place_m is not None else None
        return length_words(metres, self.unit, self.spec, exact_m=exact_m)

    def part(self, metres: float, more: str, less: str) -> str:
        """A length with a word in the place of its sign."""
        return f"{self.words(abs(metres))} {more if metres >= 0 else less}"

    def cut(self, degrees: float, cue_travel: float, object_travel: float) -> str:
        """A cut angle without a sign, with the lengths of both ways."""
        if self.place_m is None:
            return f"{abs(degrees):.1f}°"
        exact = cut_exactness_deg(self.place_m, self.spec.ball_radius, cue_travel, object_travel)
        value, exact, digits = rounded_to(abs(degrees), exact, 1 if exact < WHOLE_DEGREES else 0)
        return f"{value:.{digits}f} ± {exact:.{digits}f}°"


def measure_lines(measures: ShotMeasures, units: Units, near: str | None = None) -> list[MeasureLine]:
    """What was measured, the pot first, then what became of the cue ball."""
    lines: list[MeasureLine] = []
    if measures.geometry is not None:
        lines += _pot_lines(measures.geometry, units)
    elif measures.best is not None and measures.best.ball:
        best = measures.best
        pocket = pocket_word(best.pocket or "", units.game)
        value = f"{ball_word(best.ball or '')} to {pocket}, {_percent(best.chance)}"
        lines.append(MeasureLine(tr("best pot"), value, tr("The pot of the highest chance at this level.")))
    lines += _sight_lines(measures, near)
    lines += _position_lines(measures, units)
    if measures.leave is not None:
        tip = tr("The chance of the best pot for whoever plays the next shot.")
        lines.append(MeasureLine("leave", _percent(measures.leave), tip))
    return lines


def _pot_lines(pot: Geometry, units: Units) -> Iterator[MeasureLine]:
    side = " left" if pot.cut_deg > 0 else " right"
    if abs(pot.cut_deg) < 0.5:
        side = ""
    full = f", {pot.fullness:.2f} full" if pot.fullness is not None else ""
    yield MeasureLine(
        "cut",
        f"{units.cut(pot.cut_deg, pot.cue_travel, pot.object_travel)}{side}{full}",
        "From the line of aim to the object ball's line. Half-ball: 30°, 0.5 full.",
    )
    if pot.obstacle is not None:
        words = tr(OBSTACLES[pot.obstacle])
        blocking = pot.object_blockers if pot.obstacle == "object_blocked" else pot.cue_blockers
        if pot.obstacle.endswith("blocked") and blocking:
            words += f" ({', '.join(dict.fromkeys(map(ball_word, blocking)))})"
        tip = tr("The chance of a direct pot: 0 where it cannot be played.")
        yield MeasureLine("chance", f"none: {words}", tip, "bad")
    elif pot.chance is not None:
        tip = tr("How often a player of the session's level pots it, from the aim's tolerance and spread.")
        yield MeasureLine("chance", _percent(pot.chance), tip)
    yield MeasureLine(
        "way",
        f"{units.words(pot.cue_travel, 2)} + {units.words(pot.object_travel)}",
        tr("Cue ball to the ghost ball, and object ball to the pocket."),
    )
    if pot.window_deg > 0:
        cut_off = " (part of it blocked)" if pot.window_deg < pot.window_full_deg - 0.005 else ""
        tip = "The directions in which the object ball drops clean, without touching a jaw."
        yield MeasureLine("window", f"{pot.window_deg:.2f}°{cut_off}", tip)
    if pot.tolerance_mrad is not None:
        tip = "How far the line of aim may turn to either side (mrad: mm at a metre)."
        yield MeasureLine("tolerance", f"± {pot.tolerance_mrad:.1f} mrad", tip)


def _sight_lines(measures: ShotMeasures, near: str | None) -> Iterator[MeasureLine]:
    if measures.snookered:
        tip = "No straight way reaches any part of a ball on."
        yield MeasureLine("in sight", "snookered", tip, "bad")
    elif measures.visible is not None and measures.visible < 0.995:
        tip = "The share of the ball on that a straight way reaches; of several, the one seen most."
        yield MeasureLine("in sight", _percent(measures.visible), tip)
    if near is not None:
        yield MeasureLine(
            tr("cue ball near"), near, f"Its centre is within {NEAR_RADII:.0f} radii of a cushion."
        )


def _position_lines(measures: ShotMeasures, units: Units) -> Iterator[MeasureLine]:
    if measures.angle_left_deg is not None:
        miss = measures.angle_miss_deg
        against, tone = "", "ink"
        if miss is not None:
            way = "steep" if miss > 0 else "straight"
            against = f", {abs(miss):.0f}° too {way}" if miss else ", as wanted"
            tone = "good" if miss == 0 else "bad"
        tip = "The cut that the rest point leaves on the next ball, against the angle wanted."
        yield MeasureLine("angle left", f"{measures.angle_left_deg:.0f}°{against}", tip, tone)
    if measures.position is not None:
        yield from _error_lines(measures.position, units)
    if measures.cue_travelled is not None:
        tip = tr(
            "How far the cue ball ran after the contact: along its path, else the planned route to its rest."
        )
        yield MeasureLine(tr("cue ball ran"), units.words(measures.cue_travelled, 2), tip)
    elif measures.cue_travelled_least is not None:
        tip = tr("From the contact to its rest in a straight line: the way between is not drawn.")
        yield MeasureLine(tr("cue ball ran"), f"at least {units.words(measures.cue_travelled_least, 2)}", tip)


def _error_lines(position: Position, units: Units) -> Iterator[MeasureLine]:
    if position.zone_hit is not None:
        outside = units.words(position.zone_distance or 0.0)
        value = "in it" if position.zone_hit else f"missed by {outside}"
        tip = tr("Whether the cue ball stopped in the zone; its edge belongs to it.")
        yield MeasureLine("zone", value, tip, "good" if position.zone_hit else "bad")
    if position.distance is not None:
        yield MeasureLine(
            "off the aim", units.words(position.distance), "From the aim point to the rest point."
        )
    if position.along is not None and position.across is not None:
        value = (
            f"{units.part(position.along, 'long', 'short')}, {units.part(position.across, 'left', 'right')}"
        )
        yield MeasureLine("along, across", value, "The same along the last leg of the route, and across it.")
    if position.side is not None:
        tone = {"right_side": "good", "wrong_side": "bad"}.get(position.side, "ink")
        degrees = f", {abs(position.side_deg):.0f}° off it" if position.side_deg is not None else ""
        tip = tr("On which side of the next ball's line the cue ball stopped; straight within 3°.")
        yield MeasureLine("next ball's line", f"{word(position.side)}{degrees}", tip, tone)
    if position.crossing_deg is not None:
        tip = "The angle between the last leg and the next ball's line; below 20° pace matters little."
        yield MeasureLine("comes", f"{position.crossing} it, {position.crossing_deg:.0f}°", tip)
    if position.position_loss is not None:
        loss = position.position_loss
        value = f"{abs(100 * loss):.0f} points {'lost' if loss >= 0 else 'won'}"
        if position.chance_aim is not None and position.chance_rest is not None:
            value += f" ({_percent(position.chance_aim)} → {_percent(position.chance_rest)})"
        tip = tr("Chance of the best next pot from the aim point less that from the rest point.")
        yield MeasureLine(tr("next pot"), value, tip, "bad" if loss >= Thresholds().loss else "ink")


def settled_errors(record: Shot) -> frozenset[str]:
    """Kinds of error that the analyst judged in full: a chip says them already."""
    said = recorded_errors(without_proposals(record))
    return frozenset(error.kind for error in said if error.unforced is not None)


def error_lines(errors: tuple[FoundError, ...], said: frozenset[str] = frozenset()) -> list[MeasureLine]:
    """The errors of a shot that nobody judged, and where an error may have come from."""
    lines = []
    for error in errors:
        if error.kind in said and (error.cause_shot is not None or error.cause_suggested is None):
            continue
        forced = {True: "unforced", False: "forced", None: "not decided"}[error.unforced]
        by = "as judged" if error.school == "judged" else "by chance"
        value = f"{forced} {by}"
        if error.cause_shot is not None:
            value += f", caused by shot {error.cause_shot}"
        elif error.cause_suggested is not None:
            value += f"; it may begin with shot {error.cause_suggested}"
        tip = (
            "Unforced by rule: a fair chance (75 % and more) that was not awkward. U and ⇧U judge otherwise."
        )
        lines.append(MeasureLine(f"{word(f'error_{error.kind}')} error", value, tip, "bad"))
    return lines


def near_cushion(spec: TableSpec, place: tuple[float, float] | None) -> str | None:
    """The cushion a ball is near to, in words; None away from all."""
    if place is None:
        return None
    gaps = cushion_gaps(spec, place)
    near = min(gaps, key=lambda name: gaps[name])
    if gaps[near] > NEAR_RADII * spec.ball_radius:
        return None
    frozen = gaps[near] - spec.ball_radius < 0.0005
    return f"{near} cushion{', touching it' if frozen else ''}"


def level_words(session: Session) -> str:
    """The level of an analysis, named by what it pots on a table of full size."""
    snooker = session.game == "snooker"
    if isinstance(session.level, Level):
        spread, name = float(session.level.aim_spread_mrad), f"{session.level.aim_spread_mrad:g} mrad"
    else:
        spread = aim_spread_mrad(session.level or DEFAULT_LEVEL, snooker=snooker)
        name = word(session.level or DEFAULT_LEVEL)
    spec = PRESETS["snooker_12ft" if snooker else "pool_9ft"]
    # A straight ball a metre from a corner pocket, the cue ball a metre behind it.
    step = 0.5**0.5
    ball = (spec.length - step, spec.width - step)
    cue = (ball[0] - (1 + 2 * spec.ball_radius) * step, ball[1] - (1 + 2 * spec.ball_radius) * step)
    book = PotBook(spec)
    asked = book.ask(cue, {"cue": cue, "1": ball}, ("1",), ("foot_left",))
    book.solve(spread / 1000)
    return f"{name}: a straight ball, 1 m and 1 m: {_percent(asked.pots()[0].chance)}"


def _percent(share: float) -> str:
    return f"{100 * share:.0f} %"
