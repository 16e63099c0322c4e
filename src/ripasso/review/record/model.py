"""The record model of the open session format: frozen, unknown keys kept, "set" told from "missing".

The keys and their meaning are in docs/session-format.md. A value that is missing was not recorded; a
value that is null says that there was none. `dump` writes exactly the keys that are set.

To add a key: a field here with a default of None, and a line in docs/session-format.md. The JSON Schema
is generated from this module.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ripasso.core.json_data import JsonObject
from ripasso.review.record.parts import (
    BreakSheet,
    Call,
    Fingerprint,
    Level,
    Record,
    Shown,
    TableCheck,
    TableState,
    View,
    Zone,
)
from ripasso.review.record.practice import AttemptSet, PracticePlan
from ripasso.review.record.values import (
    MOST_BALLS,
    Aim,
    Ball,
    Cause,
    ContactMiss,
    Cushion,
    Delivery,
    ErrorKind,
    Event,
    Few,
    Game,
    Intent,
    Kind,
    Layout,
    Listed,
    Method,
    MissedBy,
    Name,
    Number,
    OtherFoul,
    Pocket,
    Position,
    RecordedPlace,
    Role,
    Share,
    Share100,
    SideAmount,
    SidePurpose,
    Size,
    Way,
    Whole,
)

FORMAT = "ripasso-session"
VERSION = 1


class Comment(Record):
    by: str | None = None
    text: str | None = None
    at: str | Number | None = None


class PottedBall(Record):
    ball: Ball
    pocket: Pocket | None = None


class Facts(Record):
    """What happened, as seen. A missing fact never makes a foul."""

    first_contact: Ball | None = None
    potted: Few[PottedBall] | None = None
    cue_potted: bool | None = None
    off_table: Few[Ball] | None = None
    cushion_after_contact: bool | None = None
    balls_to_cushion: Whole | None = None
    other_fouls: Few[OtherFoul] | None = None
    miss: bool | None = None
    cue_to_cushion: bool | None = None


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
    pace_percent: Share100 | None = None
    side_amount: SideAmount | None = None
    purpose: Few[SidePurpose] | None = None
    elevation_deg: Number | None = None
    feathers: Whole | None = None
    kind: Literal["roll", "stun", "run_through", "follow", "draw", "drag", "kill"] | None = None


class Option(Record):
    """A shot that could be played, with what it promises when that was computed."""

    id: str | None = None
    title: str | None = None
    by: str | None = None
    intent: Intent | None = None
    call: Call | None = None
    next_ball: Ball | None = None
    next_pocket: Pocket | None = None
    aim_point: RecordedPlace | None = None
    route: Few[RecordedPlace] | None = None
    #: When the cue ball is at each point of the route, seconds after the strike.
    route_s: Few[Number] | None = None
    cushions: Few[Cushion] | None = None
    stroke: Stroke | None = None
    zone: Zone | None = None
    reason: str | None = None
    chosen: bool | None = None
    chance: Number | None = None
    leave: Number | None = None
    scratch: Number | None = None


class ShotPlan(Record):
    """What the player meant to do with the cue ball."""

    next_ball: Ball | None = None
    next_pocket: Pocket | None = None
    or_balls: Few[Ball] | None = None
    angle_wanted_deg: tuple[Number, Number] | None = None
    zone: Zone | None = None
    aim_point: RecordedPlace | None = None
    route: Few[RecordedPlace] | None = None
    cushions: Few[Cushion] | None = None
    if_missed: Literal["safe", "open", "unknown"] | None = None
    aims: Few[Aim] | None = None
    system: str | None = None
    options: Few[Option] | None = None
    changed_from: Whole | None = None


class Result(Record):
    """Four separate findings: the pot, the position, the quality of the hit, and luck.

    `causes` say why it came so where nothing counts as an error; an error has its own.
    """

    contact: ContactMiss | None = None
    missed_by: MissedBy | None = None
    position: Position | None = None
    pace: Literal["short", "good", "long"] | None = None
    side: Literal["right", "straight", "wrong"] | None = None
    angle: Literal["too_straight", "good", "too_steep"] | None = None
    colour_meant: Ball | None = None
    luck: Literal["none", "fluke", "kind_leave", "unkind_leave"] | None = None
    rattled: bool | None = None
    causes: Few[Cause] | None = None
    touched: Few[Ball] | None = None


class WeighedOption(Record):
    """What an option is worth: the chance of this pot and the next, and what a miss leaves, weighed."""

    kind: Literal["pot", "bank", "combination", "carom", "kick", "safety"] | None = None
    ball: Ball | None = None
    pocket: Pocket | None = None
    value: Share
    low: Share
    high: Share


class Clearing(Record):
    """The chance to clear the rack: before the shot, with the option that was chosen, and after the shot.

    `rest` is where the cue ball stops on average with the best stroke of that option. The first shot of a
    visit says how many `hard` balls its best plan has, and how many `clusters` lie there.
    """

    before: Share
    chosen: Share | None = None
    after: Share | None = None
    rest: RecordedPlace | None = None
    hard: Size | None = None
    clusters: Size | None = None


class Weighing(Record):
    """What the program worked out of a choice: the best option, the chosen one, what the stroke came to."""

    best: WeighedOption
    chosen: WeighedOption | None = None
    reached: Share | None = None
    clear: Clearing | None = None
    level: str | None = None


class Decision(Record):
    verdict: Literal["agree", "prefer_other", "mistake", "unsure"] | None = None
    better_option: str | None = None
    reason: str | None = None
    by: str | None = None
    weighed: Weighing | None = None


class Error(Record):
    """One error. `unforced` null lets the program decide; missing means that nobody judged it."""

    kind: ErrorKind
    unforced: bool | None = None
    causes: Few[Cause] | None = None
    cause_shot: Whole | None = None


class Prediction(Record):
    """What somebody expected before the strike; it is a hit when the shot was meant so.

    `intent` and `call` are how earlier versions wrote `kind`, `ball` and `pocket`.
    """

    by: str | None = None
    option: str | None = None
    text: str | None = None
    kind: Intent | Method | None = None
    ball: Ball | None = None
    pocket: Pocket | None = None
    cushions: Whole | None = None
    next_ball: Ball | None = None
    intent: Intent | None = None
    call: Call | None = None


class Pen(Record):
    """What was drawn by hand over table or film; places on the table."""

    kind: Literal["line", "arrow", "area", "caption"] | None = None
    points: Listed[RecordedPlace] | None = None
    text: str | None = None


class OtherReview(Record):
    """A second reviewer's findings."""

    by: str | None = None
    result: Result | None = None
    decision: Decision | None = None
    error: Error | Few[Error] | None = None
    note: str | None = None


class Shot(Record):
    """One stroke of a rack."""

    number: Whole
    player: str | None = None
    recording: str | None = None
    t_strike: Number | None = None
    t_rest: Number | None = None
    intent: Intent | None = None
    methods: Few[Method] | None = None
    break_: BreakSheet | None = Field(default=None, alias="break")
    clips: Few[Clip] | None = None
    call: Call | None = None
    free_ball: bool | None = None
    replaced: bool | None = None
    facts: Facts | None = None
    before: Layout | None = None
    after: Layout | None = None
    path: Annotated[dict[Ball, Way], Field(max_length=MOST_BALLS)] | None = None
    stroke: Stroke | None = None
    delivery: Few[Delivery] | None = None
    plan: ShotPlan | None = None
    result: Result | None = None
    decision: Decision | None = None
    predictions: Few[Prediction] | None = None
    error: Error | Few[Error] | None = None
    events: Few[Event] | None = None
    tags: Few[str] | None = None
    note: str | None = None
    comments: Listed[Comment] | None = None
    others: Few[OtherReview] | None = None
    drawings: Few[Pen] | None = None
    proposed: dict[str, Share] | None = None


class PlannedBall(Record):
    ball: Ball | None = None
    pocket: Pocket | None = None
    zone: Zone | None = None
    link: Literal["easy", "hard"] | None = None
    reason: str | None = None


class RackPlan(Record):
    """A plan for a rack; a new version is a change of plan, not an error."""

    version: Whole | None = None
    by: str | None = None
    group: str | None = None
    reason: str | None = None
    order: Few[PlannedBall] | None = None
    key_ball: Ball | None = None
    break_ball: Ball | None = None
    made_at_shot: Whole | None = None


class Stated(Record):
    """What somebody says of racks that are not shown; it is kept apart from what is proven."""

    by: str | None = None
    player: str | None = None
    what: Literal["streak", "run", "break"] | None = None
    value: Whole | None = None
    text: str | None = None


class RackInProgress(Record):
    """How a rack stood when its film begins: points in it, who plays, the visit's run, what lies there.

    `on` is what snooker asks for next, `groups` are those of eight-ball by player.
    """

    points: dict[str, Whole] | None = None
    player: str | None = None
    run: Whole | None = None
    balls: Annotated[tuple[Ball, ...], Field(max_length=MOST_BALLS)] | None = None
    on: Literal["red", "colour"] | None = None
    groups: dict[str, Literal["low", "high"]] | None = None


class Rack(Record):
    """A rack of pool or a frame of snooker."""

    number: Whole
    breaker: str | None = None
    layout: Layout | None = None
    from_layout: str | None = None
    roles: Annotated[dict[Ball, Few[Role]], Field(max_length=MOST_BALLS)] | None = None
    plans: Few[RackPlan] | None = None
    shots: Listed[Shot] | None = None
    score_before: dict[str, Whole] | None = None
    in_progress: RackInProgress | None = None
    not_shown: bool | None = None
    stated: Few[Stated] | None = None
    conceded_by: str | None = None
    lesson: str | None = None
    root_shot: Whole | None = None
    making_shot: Whole | None = None
    comments: Listed[Comment] | None = None
    note: str | None = None


class Player(Record):
    id: Name
    name: str | None = None
    handed: str | None = None
    note: str | None = None
    ghost: bool | None = None


class SameTime(Record):
    """A film shows a moment so many seconds later, by its own time, than the other film does."""

    recording: Name
    offset: Number


class Recording(Record):
    id: Name
    file: str | None = None
    fingerprint: Fingerprint | str | None = None
    duration: Number | None = None
    frame_rate: Number | None = None
    same_time: SameTime | None = None
    views: Few[View] | None = None


class FilmPart(Record):
    recording: str | None = None
    from_: Number | None = Field(default=None, alias="from")
    to: Number | None = None
    kind: Literal["live", "replay", "slow", "paused", "cut_out"] | None = None
    shows: Shown | None = None
    proposed: dict[str, Share] | None = None


class Session(Record):
    """One reviewed session: a match, a practice rack, a ghost race, a set of attempts."""

    format: Literal["ripasso-session"]
    version: Whole
    id: Name
    title: str
    date: str | None = None
    venue: str | None = None
    note: str | None = None
    kind: Kind | None = None
    game: Game | None = None
    rules: JsonObject | None = None
    table: JsonObject | None = None
    players: Few[Player] | None = None
    recordings: Few[Recording] | None = None
    table_state: TableState | None = None
    table_checks: Few[TableCheck] | None = None
    level: Literal["beginner", "club", "county", "professional"] | Level | None = None
    film_parts: Listed[FilmPart] | None = None
    stated: Few[Stated] | None = None
    racks: Listed[Rack] | None = None
    attempt_sets: Listed[AttemptSet] | None = None
    practice_plan: PracticePlan | None = None


def serialize(record: Record) -> JsonObject:
    """The record as JSON values, exactly the keys that are set, unknown ones included."""
    return record.model_dump(mode="json", by_alias=True, exclude_unset=True)
