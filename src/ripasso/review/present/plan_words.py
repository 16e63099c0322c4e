"""A planned stroke in words: aim, pace, tip, what it promises, and what a little more would do."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ripasso.core.geometry.zones import Zone
from ripasso.core.inference.intervals import Rate
from ripasso.core.measures.units import length_words
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.cushion_lines import CushionShot
from ripasso.core.planning.differences import Differences
from ripasso.core.planning.expected import Expected, Share, in_zone
from ripasso.core.planning.explaining import Explained
from ripasso.core.planning.variations import Variation
from ripasso.core.table import TableSpec
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import ball_word, pocket_word, word
from ripasso.review.present.option_words import pace_word, tip_words

NAMES: Mapping[str, str] = {
    "thinner": "0.1° thinner",
    "thicker": "0.1° thicker",
    "harder": "5 % harder",
    "softer": "5 % softer",
    "left": "tip 1 mm left",
    "right": "tip 1 mm right",
    "higher": "tip 1 mm higher",
    "lower": "tip 1 mm lower",
}


def aim_words(stroke: Stroke, call: tuple[str, str] | None, game: str) -> str:
    """What is aimed at and how it is struck."""
    what = f"{ball_word(call[0])} to {pocket_word(call[1], game)}" if call else "a free stroke"
    return f"{what[0].upper()}{what[1:]}, {tip_words(stroke.a, stroke.b)}, {pace_word(stroke.speed)}"


def stroke_lines(stroke: Stroke, spec: TableSpec) -> list[tuple[str, str]]:
    """Names and values of a stroke."""
    across, up = (round(1000 * value * spec.ball_radius) for value in (stroke.a, stroke.b))
    sides = []
    if across:
        sides.append(f"{'right' if across > 0 else 'left'} {abs(across)}")
    if up:
        sides.append(f"{'high' if up > 0 else 'low'} {abs(up)}")
    return [
        ("pace", f"{stroke.speed:.1f} m/s, {pace_word(stroke.speed)}"),
        ("tip, mm", ", ".join(sides) or "middle"),
        ("aim", f"{math.degrees(stroke.phi) % 360:.1f}°"),
        ("elevation", f"{math.degrees(stroke.elevation):.0f}°"),
    ]


def promise_lines(promise: Expected | None, zone: Zone | None = None) -> list[tuple[str, str]]:
    """Names and values of what a stroke promises, each with its interval; None: it is being counted."""
    if promise is None:
        waiting = ["made", "foul", tr("in-off"), *(["in the zone"] if zone is not None else [])]
        return [(name, "…") for name in waiting]
    lines = [
        ("made", _rate(promise.pot)),
        ("foul", _rate(promise.foul)),
        (tr("in-off"), _rate(promise.scratch)),
    ]
    if zone is not None:
        lines.append(("in the zone", _rate(in_zone(promise, zone))))
    if promise.side is not None:
        lines.append((f"right side of the {ball_word(promise.side.ball)}", _rate(promise.side.share)))
    if promise.leave.value is not None:
        lines.append(("then the next", _share(promise.leave)))
    if promise.left.value is not None:
        lines.append(("a miss leaves", _share(promise.left)))
    return lines


def beside_lines(
    promise: Expected | None, kept: Expected | None, zone: Zone | None = None
) -> list[tuple[str, str, str]]:
    """What the stroke in hand and the one kept beside it promise, line by line."""
    other = dict(promise_lines(kept, zone))
    lines = [(name, value, other.pop(name, "–")) for name, value in promise_lines(promise, zone)]
    return lines + [(name, "–", value) for name, value in other.items()]


def player_words(level: str, own: Spreads | None) -> str:
    """Whose errors are played: a level's, or the player's own aim."""
    if own is None:
        return word(level)
    return f"own aim, {own.aim_mrad:.1f} mrad; pace and tip of a {word(level)} player"


def _rate(found: Rate) -> str:
    if found.rate is None or found.low is None or found.high is None:
        return "–"
    return f"{100 * found.rate:.0f} % ({100 * found.low:.0f}–{100 * found.high:.0f})"


def _share(found: Share) -> str:
    if found.value is None or found.low is None or found.high is None:
        return "–"
    return f"{100 * found.value:.0f} % ({100 * found.low:.0f}–{100 * found.high:.0f})"


def variation_lines(
    found: Sequence[Variation] | None, spec: TableSpec, unit: str, *, was_potted: bool
) -> list[tuple[str, str]]:
    """What a little more of each would do; None: it is being played."""
    if found is None:
        return [(name, "…") for name in NAMES.values()]
    return [variation_line(one, spec, unit, was_potted=was_potted) for one in found]


def variation_line(found: Variation, spec: TableSpec, unit: str, *, was_potted: bool) -> tuple[str, str]:
    """What a little more of something would do."""
    if found.falls:
        return NAMES[found.name], tr("the cue ball falls")
    words = f"stops {length_words(found.moved_m or 0.0, unit, spec)} away"
    if was_potted and not found.potted:
        words = f"missed, {words}"
    elif found.potted and not was_potted:
        words = f"potted, {words}"
    return NAMES[found.name], words


def difference_lines(found: Differences, spec: TableSpec, unit: str) -> list[tuple[str, str]]:
    """What parts a stroke from the one kept beside it, and how far each alone moves the cue ball."""
    pace = _either(round(100 * found.pace), "% harder", "% softer")
    aim = f"{abs(found.aim_deg):.1f}° {'left' if found.aim_deg > 0 else 'right'}"
    across = _either(round(1000 * found.tip_right_m), "right", "left")
    high = _either(round(1000 * found.tip_up_m), "higher", "lower")
    tip = ", ".join(part for part in (across, high) if part)
    named = (
        (f"aim {aim}", found.by_aim_m),
        (pace or "same pace", found.by_pace_m),
        (f"tip {tip} mm" if tip else "same tip", found.by_tip_m),
        ("all together", found.together_m),
    )
    return [
        (name, tr("the cue ball falls") if moved is None else f"stops {length_words(moved, unit, spec)} away")
        for name, moved in named
    ]


def _either(amount: int, more: str, less: str) -> str:
    """A whole amount with the word for its sign; nothing for none."""
    if amount == 0:
        return ""
    return f"{abs(amount)} {more if amount > 0 else less}"


CUSHIONS: Mapping[str, str] = {
    "head": noop("head cushion"),
    "foot": noop("foot cushion"),
    "left": noop("left cushion"),
    "right": noop("right cushion"),
}


def cushion_words(shot: CushionShot, what: str) -> str:
    """What the table makes of a bank or a kick beside the mirror's line; `what` is what should come of it."""
    told = f"Off the {tr(CUSHIONS[shot.cushion])}"
    turn = shot.turn_deg
    if turn is None:
        told += f": nothing near the mirror's line {what}"
    elif abs(turn) < NO_TURN_DEG:
        told += f": as the mirror says it {what}"
    else:
        told += f": {abs(turn):.1f}° to the {'left' if turn > 0 else 'right'} of the mirror's aim it {what}"
    if shot.angles_deg is not None:
        told += f"; in at {shot.angles_deg[0]:.0f}°, out at {shot.angles_deg[1]:.0f}°"
    if shot.out_with_side_deg is not None:
        told += f", {tr('with running side')} {shot.out_with_side_deg:.0f}°"
    return f"{told}."


#: A turn of the aim that nobody sees, degrees.
NO_TURN_DEG = 0.1
#: A tip whose place is known no better than this is not told (radii, standard deviation).
UNTOLD = 0.15
#: A way that no stroke comes nearer to than this is not of this table, or of another ball (metres).
CONTRADICTED_M = 0.05


def played_words(found: Explained) -> str:
    """The stroke that was played, how surely, and what cannot be told."""
    if found.residual_m > CONTRADICTED_M:
        return f"Played: {1000 * found.residual_m:.0f} mm off every stroke, so none is told"
    stroke = found.stroke
    side_told, height_told = found.sd_a <= UNTOLD, found.sd_b <= UNTOLD
    tip = tip_words(stroke.a if side_told else 0.0, stroke.b if height_told else 0.0)
    untold = [name for name, told in (("side", side_told), ("height", height_told)) if not told]
    left = f"; {' and '.join(untold)} not to be told" if untold else ""
    off = f", {1000 * found.residual_m:.0f} mm off"
    return f"Played: {tip}, {stroke.speed:.2f} ± {max(0.01, 1.96 * found.sd_speed):.2f} m/s{left}{off}"
