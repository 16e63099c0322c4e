"""The break sheet: what is said of a break by keys, a digit a line, pressed again for the next value.

What the layouts say is measured, and wins over what is said.
To add a line: an entry of `SHEETS`, with words for its values.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.measures.break_places import break_off_places, break_places
from ripasso.core.measures.errors import Thresholds
from ripasso.core.table import TableSpec, table_spec
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.language.vocabulary import word
from ripasso.review.record.model import Session, Shot, serialize
from ripasso.review.record.proposals import without_proposals
from ripasso.review.record.values import Layout

#: A chance from here on is a shot left after the break.
SHOT_LEFT = Thresholds().hardly

YES_NO = (True, False)
POWERS = (40, 60, 80, 100)
POOL_GAMES = ("eight_ball", "nine_ball", "ten_ball", "rotation")


@dataclass(frozen=True)
class SheetField:
    """A line of the sheet: its key in the record and the values it takes, in the order of presses."""

    name: str
    values: tuple[object, ...]

    @property
    def path(self) -> Path:
        """Where the value stands in the shot."""
        return ("break", self.name)

    def shown(self, value: object) -> str:
        """The value in words."""
        if value is None:
            return "–"
        if value is True or value is False:
            return word("yes" if value else "no")
        return f"{value} %" if self.name == "power" else word(f"break_{value}")


_ACTION = SheetField("action", ("stun", "draw", "follow"))
_POWER = SheetField("power", POWERS)
_POOL = (
    SheetField("kind", ("head_on", "cut", "box_side", "rail")),
    _ACTION,
    _POWER,
    SheetField("square", YES_NO),
    SheetField("in_box", YES_NO),
    SheetField("head_in_side", YES_NO),
    SheetField("outer_ball_down", YES_NO),
    SheetField("second_row_in_side", YES_NO),
    SheetField("next_on", YES_NO),
    SheetField("spread", ("good", "fair", "poor")),
)
SHEETS: dict[str, tuple[SheetField, ...]] = {
    **dict.fromkeys(POOL_GAMES, _POOL),
    "snooker": (
        SheetField("kind", ("end_red", "second_red", "off_the_cushion")),
        SheetField("behind_baulk", YES_NO),
        SheetField("red_left", YES_NO),
    ),
    "straight_pool": (
        SheetField("break_ball", ("natural", "made", "none")),
        SheetField("side", ("left", "right", "behind", "below")),
        SheetField("height", ("high", "middle", "low")),
        _ACTION,
        _POWER,
        SheetField("fullness", ("full", "half", "thin")),
        SheetField("loosened", (0, 2, 4, 6, 8)),
        SheetField("insurance", YES_NO),
    ),
}


def sheet_for(game: str | None, shot: Shot) -> tuple[SheetField, ...]:
    """The lines for a shot: of a break, in straight pool of the first shot of every rack; else none."""
    if shot.intent == "break" or (game == "straight_pool" and shot.number == 1):
        return SHEETS.get(game or "", ())
    return ()


def value_of(shot: Shot, line: SheetField) -> object:
    """What is said on a line, None when nothing is."""
    sheet = serialize(shot.break_) if shot.break_ else {}
    return sheet.get(line.name)


def measured_values(session: Session, shot: Shot, best: float | None = None) -> dict[str, object]:
    """Lines that the layouts before and after a break answer; `best` is the best chance after it.

    A layout that was only proposed measures nothing.
    """
    record = without_proposals(shot)
    spec = table_spec(session.table)
    before, after = _layout(record.before), _layout(record.after)
    fallen = (record.facts.potted if record.facts else None) or ()
    potted = [(pot.ball, pot.pocket) for pot in fallen]
    if session.game == "snooker":
        return break_off_places(spec, after)
    found = break_places(spec, before, after, potted)
    if best is not None:
        found["next_on"] = best >= SHOT_LEFT
    return found


def places_words(measured: Mapping[str, object], spec: TableSpec | None) -> str:
    """What was measured and has no line of its own: balls left in the rack, where the cue ball stopped."""
    parts = []
    left = measured.get("left_in_rack")
    if left is not None:
        parts.append(f"Balls left where the rack stood: {left}.")
    rest = measured.get("cue_rest")
    if isinstance(rest, tuple) and spec is not None:
        off = math.dist(rest, (spec.length / 2, spec.width / 2))
        where = (
            "in the middle of the table" if off <= spec.length / 8 else f"{100 * off:.0f} cm from the middle"
        )
        parts.append(f"The cue ball stopped {where}.")
    return " ".join(parts)


def _layout(layout: Layout | None) -> dict[str, tuple[float, float]] | None:
    if layout is None:
        return None
    return {ball: (float(place[0]), float(place[1])) for ball, place in layout.items()}


def next_value(shot: Shot, line: SheetField) -> object:
    """What the next press of the line's digit says; after the last value nothing is said again."""
    now = value_of(shot, line)
    if now not in line.values:
        return line.values[0]
    # True equals 1 in Python, so the place is looked up by identity of type as well.
    place = next(i for i, v in enumerate(line.values) if v == now and type(v) is type(now)) + 1
    return line.values[place] if place < len(line.values) else REMOVE


def digit_of(place: int) -> str:
    """The digit of a line: 1 to 9, then 0."""
    return str((place + 1) % 10)
