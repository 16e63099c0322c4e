"""The break sheet: what is said of a break by keys, a digit a line, pressed again for the next value.

Places on the table come with measuring; what is measured will win over what is said.
To add a line: an entry of `SHEETS`, with words for its values.
"""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.review.edits import REMOVE, Path
from ripasso.review.model import Shot, dump
from ripasso.review.vocabulary import word

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
    sheet = dump(shot.break_) if shot.break_ else {}
    return sheet.get(line.name)


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
