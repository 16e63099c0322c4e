"""The smaller objects of the format: zones, views, the break sheet, the table's state and checks."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from ripasso.core.json_data import JsonObject
from ripasso.review.record.values import (
    Ball,
    CameraMotion,
    Few,
    Metres,
    Number,
    Pocket,
    RecordedPlace,
    Size,
    Spread,
    Whole,
)


class Record(BaseModel):
    """A frozen object of the format. Unknown keys are kept where they stood."""

    # A null is written back as it came, so every optional key takes one.
    model_config = ConfigDict(
        frozen=True, extra="allow", strict=True, populate_by_name=True, allow_inf_nan=False
    )


class SideOfLine(Record):
    ball: Ball | None = None
    pocket: Pocket | None = None
    side: Literal["left", "right"] | None = None
    within_deg: Number | None = None


class Circle(Record):
    centre: RecordedPlace
    radius: Metres


class Strip(Record):
    from_: RecordedPlace = Field(alias="from")
    to: RecordedPlace
    width: Metres


class Zone(Record):
    """Where the cue ball should stop: one of the shapes, or any of several."""

    any_of: Few[Zone] | None = None
    side_of_line: SideOfLine | None = None
    circle: Circle | None = None
    polygon: Few[RecordedPlace] | None = None
    strip: Strip | None = None


class BreakSheet(Record):
    """The break: pool, break-off of snooker, or the break shot of a rack of straight pool."""

    kind: str | None = None
    action: Literal["stun", "draw", "follow"] | None = None
    power: Number | None = None
    square: bool | None = None
    in_box: bool | None = None
    head_in_side: bool | None = None
    outer_ball_down: bool | None = None
    second_row_in_side: bool | None = None
    cue_rest: RecordedPlace | None = None
    left_in_rack: Whole | None = None
    next_on: bool | None = None
    spread: Literal["good", "fair", "poor"] | None = None
    behind_baulk: bool | None = None
    red_left: bool | str | None = None
    break_ball: Literal["natural", "made", "none"] | None = None
    side: str | None = None
    height: str | Number | None = None
    fullness: str | Number | None = None
    loosened: Whole | bool | None = None
    insurance: bool | str | None = None


class ViewPoint(Record):
    table: tuple[Number, Number, Number] | None = None
    image: tuple[Number, Number] | None = None


class View(Record):
    """One camera position of a recording."""

    from_: Number | None = Field(default=None, alias="from")
    to: Number | None = None
    points: Few[ViewPoint] | None = None
    camera: JsonObject | None = None
    #: The moment of the frame whose camera it is, seconds.
    at: Number | None = None
    #: What a camera that does not stand still does beside that frame: (s, right, down, ahead, zoom).
    motion: CameraMotion | None = None


class Fingerprint(Record):
    """What finds a moved film again."""

    size: Size | None = None
    duration: Number | None = None
    hash: str | None = None


class TableState(Record):
    cloth: Literal["slow", "medium", "fast"] | None = None
    cushions: Literal["dull", "medium", "lively"] | None = None
    level: tuple[Number, Number] | None = None
    own_equipment: bool | str | None = None
    note: str | None = None


class Call(Record):
    ball: Ball | None = None
    pocket: Pocket | None = None


class TableCheck(Record):
    kind: Literal["roll", "lag", "cushion", "pocket"]
    spin: Literal["none", "left", "right"] | None = None
    from_: RecordedPlace | None = Field(default=None, alias="from")
    aimed_at: RecordedPlace | None = None
    stopped_at: RecordedPlace | None = None
    distance: Number | None = None
    seconds: Number | None = None
    angle_in_deg: Number | None = None
    angle_out_deg: Number | None = None
    pocket: Literal["corner", "side"] | None = None
    #: How many balls pass side by side through the mouth: 2.1 is two and a tenth.
    balls: Number | None = None


class Level(Record):
    aim_spread_mrad: Spread


class Shown(Record):
    rack: Whole | None = None
    from_shot: Whole | None = None
    to_shot: Whole | None = None
