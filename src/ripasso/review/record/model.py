"""The record model of the open session format: frozen, unknown keys kept, "set" told from "missing".

The keys and their meaning are in docs/session-format.md. A value that is missing was not recorded; a
value that is null says that there was none. `dump` writes exactly the keys that are set.

To add a key: a field here with a default of None, and a line in docs/session-format.md. The JSON Schema
is generated from this module.
"""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from ripasso.core.json_data import JsonObject
from ripasso.review.record.values import (
    Cause,
    ContactMiss,
    Cushion,
    Delivery,
    ErrorKind,
    Event,
    Game,
    Intent,
    Kind,
    Layout,
    Method,
    Number,
    OtherFoul,
    Pocket,
    RecordedPlace,
    Role,
    Share,
)

FORMAT = "ripasso-session"
VERSION = 1


class Record(BaseModel):
    """A frozen object of the format. Unknown keys are kept where they stood."""

    # A null is written back as it came, so every optional key takes one.
    model_config = ConfigDict(
        frozen=True, extra="allow", strict=True, populate_by_name=True, allow_inf_nan=False
    )


class Comment(Record):
    by: str | None = None
    text: str | None = None
    at: str | Number | None = None


class SideOfLine(Record):
    ball: str | None = None
    pocket: Pocket | None = None
    side: Literal["left", "right"] | None = None
    within_deg: Number | None = None


class Circle(Record):
    centre: RecordedPlace
    radius: Number


class Strip(Record):
    from_: RecordedPlace = Field(alias="from")
    to: RecordedPlace
    width: Number


class Zone(Record):
    """Where the cue ball should stop: one of the shapes, or any of several."""

    any_of: tuple[Zone, ...] | None = None
    side_of_line: SideOfLine | None = None
    circle: Circle | None = None
    polygon: tuple[RecordedPlace, ...] | None = None
    strip: Strip | None = None


class Call(Record):
    ball: str | None = None
    pocket: Pocket | None = None


class PottedBall(Record):
    ball: str
    pocket: Pocket | None = None


class Facts(Record):
    """What happened, as seen. A missing fact never makes a foul."""

    first_contact: str | None = None
    potted: tuple[PottedBall, ...] | None = None
    cue_potted: bool | None = None
    off_table: tuple[str, ...] | None = None
    cushion_after_contact: bool | None = None
    balls_to_cushion: int | None = None
    other_fouls: tuple[OtherFoul, ...] | None = None
    miss: bool | None = None
    cue_to_cushion: bool | None = None


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
    left_in_rack: int | None = None
    next_on: bool | None = None
    spread: Literal["good", "fair", "poor"] | None = None
    behind_baulk: bool | None = None
    red_left: bool | str | None = None
    break_ball: Literal["natural", "made", "none"] | None = None
    side: str | None = None
    height: str | Number | None = None
    fullness: str | Number | None = None
    loosened: int | bool | None = None
    insurance: bool | str | None = None


class Clip(Record):
    recording: str | None = None
    from_: Number | None = Field(default=None, alias="from")
    to: Number | None = None
    kind: Literal["main", "tip_view", "replay", "slow"] | None = None


class Stroke(Record):
    """How the cue ball was hit; the tip's offset in ball radii, right and up."""

    tip: tuple[Number, Number] | None = None
    pace: Literal["dead", "soft", "medium", "firm", "power"] | None = None
    speed_m_s: Number | None = None
    elevation_deg: Number | None = None
    kind: Literal["roll", "stun", "run_through", "follow", "draw", "drag", "kill"] | None = None


class Option(Record):
    """A shot that could be played, with what it promises when that was computed."""

    id: str | None = None
    title: str | None = None
    by: str | None = None
    intent: Intent | None = None
    call: Call | None = None
    next_ball: str | None = None
    route: tuple[RecordedPlace, ...] | None = None
    cushions: tuple[Cushion, ...] | None = None
    stroke: Stroke | None = None
    zone: Zone | None = None
    reason: str | None = None
    chosen: bool | None = None
    chance: Number | None = None
    leave: Number | None = None
    scratch: Number | None = None


class ShotPlan(Record):
    """What the player meant to do with the cue ball."""

    next_ball: str | None = None
    next_pocket: Pocket | None = None
    or_balls: tuple[str, ...] | None = None
    angle_wanted_deg: tuple[Number, Number] | None = None
    zone: Zone | None = None
    aim_point: RecordedPlace | None = None
    route: tuple[RecordedPlace, ...] | None = None
    cushions: tuple[Cushion, ...] | None = None
    if_missed: Literal["safe", "open", "unknown"] | None = None
    options: tuple[Option, ...] | None = None
    changed_from: int | None = None


class Result(Record):
    """Four separate findings: the pot, the position, the quality of the hit, and luck."""

    contact: ContactMiss | None = None
    position: Literal["good", "playable", "lost"] | None = None
    pace: Literal["short", "good", "long"] | None = None
    side: Literal["right", "straight", "wrong"] | None = None
    angle: Literal["too_straight", "good", "too_steep"] | None = None
    colour_meant: str | None = None
    luck: Literal["none", "fluke", "kind_leave", "unkind_leave"] | None = None
    rattled: bool | None = None
    touched: tuple[str, ...] | None = None


class Decision(Record):
    verdict: Literal["agree", "prefer_other", "mistake", "unsure"] | None = None
    better_option: str | None = None
    reason: str | None = None
    by: str | None = None


class Error(Record):
    """One error. `unforced` null lets the program decide; missing means that nobody judged it."""

    kind: ErrorKind
    unforced: bool | None = None
    causes: tuple[Cause, ...] | None = None
    cause_shot: int | None = None


class Prediction(Record):
    by: str | None = None
    option: str | None = None
    text: str | None = None


class Pen(Record):
    """What was drawn by hand over table or film; places on the table."""

    kind: Literal["line", "arrow", "area", "caption"] | None = None
    points: tuple[RecordedPlace, ...] | None = None
    text: str | None = None


class OtherReview(Record):
    """A second reviewer's findings."""

    by: str | None = None
    result: Result | None = None
    decision: Decision | None = None
    error: Error | tuple[Error, ...] | None = None
    note: str | None = None


class Shot(Record):
    """One stroke of a rack."""

    number: int
    player: str | None = None
    recording: str | None = None
    t_strike: Number | None = None
    t_rest: Number | None = None
    intent: Intent | None = None
    methods: tuple[Method, ...] | None = None
    break_: BreakSheet | None = Field(default=None, alias="break")
    clips: tuple[Clip, ...] | None = None
    call: Call | None = None
    free_ball: bool | None = None
    replaced: bool | None = None
    facts: Facts | None = None
    before: Layout | None = None
    after: Layout | None = None
    path: dict[str, tuple[tuple[Number, Number, Number], ...]] | None = None
    stroke: Stroke | None = None
    delivery: tuple[Delivery, ...] | None = None
    plan: ShotPlan | None = None
    result: Result | None = None
    decision: Decision | None = None
    predictions: tuple[Prediction, ...] | None = None
    error: Error | tuple[Error, ...] | None = None
    events: tuple[Event, ...] | None = None
    tags: tuple[str, ...] | None = None
    note: str | None = None
    comments: tuple[Comment, ...] | None = None
    others: tuple[OtherReview, ...] | None = None
    drawings: tuple[Pen, ...] | None = None
    proposed: dict[str, Share] | None = None


class PlannedBall(Record):
    ball: str | None = None
    pocket: Pocket | None = None
    zone: Zone | None = None
    link: Literal["easy", "hard"] | None = None
    reason: str | None = None


class RackPlan(Record):
    """A plan for a rack; a new version is a change of plan, not an error."""

    version: int | None = None
    by: str | None = None
    group: str | None = None
    reason: str | None = None
    order: tuple[PlannedBall, ...] | None = None
    key_ball: str | None = None
    break_ball: str | None = None
    made_at_shot: int | None = None


class Rack(Record):
    """A rack of pool or a frame of snooker."""

    number: int
    breaker: str | None = None
    layout: Layout | None = None
    roles: dict[str, tuple[Role, ...]] | None = None
    plans: tuple[RackPlan, ...] | None = None
    shots: tuple[Shot, ...] | None = None
    score_before: dict[str, int] | None = None
    not_shown: bool | None = None
    conceded_by: str | None = None
    lesson: str | None = None
    root_shot: int | None = None
    making_shot: int | None = None
    comments: tuple[Comment, ...] | None = None
    note: str | None = None


class Player(Record):
    id: str
    name: str | None = None
    handed: str | None = None
    note: str | None = None
    ghost: bool | None = None


class ViewPoint(Record):
    table: tuple[Number, Number, Number] | None = None
    image: tuple[Number, Number] | None = None


class View(Record):
    """One camera position of a recording."""

    from_: Number | None = Field(default=None, alias="from")
    to: Number | None = None
    points: tuple[ViewPoint, ...] | None = None
    camera: JsonObject | None = None


class Fingerprint(Record):
    """What finds a moved film again."""

    size: int | None = None
    duration: Number | None = None
    hash: str | None = None


class Recording(Record):
    id: str
    file: str | None = None
    fingerprint: Fingerprint | str | None = None
    duration: Number | None = None
    frame_rate: Number | None = None
    views: tuple[View, ...] | None = None


class TableState(Record):
    cloth: Literal["slow", "medium", "fast"] | None = None
    cushions: Literal["dull", "medium", "lively"] | None = None
    level: tuple[Number, Number] | None = None
    own_equipment: bool | str | None = None
    note: str | None = None


class TableCheck(Record):
    kind: Literal["roll", "lag", "cushion"]
    spin: Literal["none", "left", "right"] | None = None
    from_: RecordedPlace | None = Field(default=None, alias="from")
    aimed_at: RecordedPlace | None = None
    stopped_at: RecordedPlace | None = None
    distance: Number | None = None
    seconds: Number | None = None
    angle_in_deg: Number | None = None
    angle_out_deg: Number | None = None


class Level(Record):
    aim_spread_mrad: Number


class Shown(Record):
    rack: int | None = None
    from_shot: int | None = None
    to_shot: int | None = None


class FilmPart(Record):
    recording: str | None = None
    from_: Number | None = Field(default=None, alias="from")
    to: Number | None = None
    kind: Literal["live", "replay", "slow", "paused", "cut_out"] | None = None
    shows: Shown | None = None
    proposed: dict[str, Share] | None = None


class Adjustment(Record):
    what: Literal["aim", "side", "height", "pace", "pocket_side", "other"] | None = None
    by: Number | str | None = None
    unit: Literal["mm", "ball", "deg", "percent", "text"] | None = None


class Attempt(Record):
    number: int
    recording: str | None = None
    t_strike: Number | None = None
    on_film: bool | None = None
    outcome: Literal["success", "failure"] | None = None
    changed: tuple[Adjustment, ...] | None = None
    met: dict[str, bool] | None = None
    miss: ContactMiss | None = None
    cause: Cause | None = None
    relaxed: bool | None = None
    note: str | None = None


class Criterion(Record):
    id: str
    text: str | None = None
    zone: Zone | None = None


class FromShot(Record):
    session: str | None = None
    rack: int | None = None
    shot: int | None = None


class AttemptSet(Record):
    """One shot played again and again; never a shot of the match."""

    id: str
    title: str | None = None
    layout: Layout | None = None
    target: Call | None = None
    from_shot: FromShot | int | None = None
    criteria: tuple[Criterion, ...] | None = None
    context_weight: Number | None = None
    own_limits: str | None = None
    attempts: tuple[Attempt, ...] | None = None


class Session(Record):
    """One reviewed session: a match, a practice rack, a ghost race, a set of attempts."""

    format: Literal["ripasso-session"]
    version: int
    id: str
    title: str
    date: str | None = None
    venue: str | None = None
    note: str | None = None
    kind: Kind | None = None
    game: Game | None = None
    rules: JsonObject | None = None
    table: JsonObject | None = None
    players: tuple[Player, ...] | None = None
    recordings: tuple[Recording, ...] | None = None
    table_state: TableState | None = None
    table_checks: tuple[TableCheck, ...] | None = None
    level: Literal["beginner", "club", "county", "professional"] | Level | None = None
    film_parts: tuple[FilmPart, ...] | None = None
    racks: tuple[Rack, ...] | None = None
    attempt_sets: tuple[AttemptSet, ...] | None = None


def serialize(record: Record) -> JsonObject:
    """The record as JSON values, exactly the keys that are set, unknown ones included."""
    return record.model_dump(mode="json", by_alias=True, exclude_unset=True)
