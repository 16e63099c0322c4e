"""The one schema of facts: every column that a figure, a search or the library may read of a shot.

From it come the row class (`FactRow`), the library's tables, the columns that figures read, and
docs/facts.md. To add a column of the record or of the shots about a shot: a field of `FactRow`, filled in
`statistics.rows`, and a migration; of the measures: a line in `MEASURES`, a migration; of both together: a
line in `DERIVED`, computed in `statistics.rows.encoding`. Tests say what was forgotten.

Not known is "" for texts, −1 for answers and counts, NaN for numbers (−1 in a stored row of `FactRow`).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from operator import attrgetter
from typing import Any, Literal

UNKNOWN, NO, YES = -1, 0, 1
#: A number of `FactRow` that is not known; all of them are 0 or more.
UNKNOWN_NUMBER = -1.0

Kind = Literal["text", "words", "flag", "answer", "count", "number"]
Origin = Literal["record", "measure", "derived", "session"]
Row = tuple[Any, ...]


@dataclass(frozen=True, slots=True)
class Column:
    """One column: several `words` stand in a text, apart by spaces; an `answer` is yes, no or not known.

    `stored` is its name in the library where that is another one.
    """

    name: str
    kind: Kind
    origin: Origin
    meaning: str
    unit: str = ""
    stored: str = ""


def _text(meaning: str) -> Any:
    return field(default="", metadata={"kind": "text", "meaning": meaning})


def _words(meaning: str) -> Any:
    return field(default="", metadata={"kind": "words", "meaning": meaning})


def _flag(meaning: str) -> Any:
    return field(default=False, metadata={"kind": "flag", "meaning": meaning})


def _answer(meaning: str) -> Any:
    return field(default=UNKNOWN, metadata={"kind": "answer", "meaning": meaning})


def _count(meaning: str, default: int = UNKNOWN) -> Any:
    return field(default=default, metadata={"kind": "count", "meaning": meaning})


def _number(meaning: str, unit: str = "") -> Any:
    return field(default=UNKNOWN_NUMBER, metadata={"kind": "number", "meaning": meaning, "unit": unit})


@dataclass(slots=True)
class FactRow:
    """What follows from a session's record for one shot: a row of the library's table `shot_figure`."""

    key: str = _text("key of the shot in the library, empty in a file")
    session: str = _text("key of the session")
    rack: int = _count("number of the rack", 0)
    number: int = _count("number of the shot in its rack", 0)
    person: str = _text("key of the person who struck, empty for a ghost")
    visit: int = _count("where the visit began: rack × 100,000 + shot")
    intent: str = _text("pot, safety, escape, two_way, push_out, break")
    tried: bool = _flag("a pot or two-way shot of which it is known what happened")
    made: bool = _flag("a pot that counts")
    failed: bool = _flag("a pot that does not")
    fouled: bool = _flag("a foul")
    fluke: bool = _flag("made by luck, so it counts as failed")
    judged: bool = _flag("its position, the decision or an error was judged")
    position: str = _text("as judged: perfect, good, playable, poor, lost")
    pace: str = _text("the cue ball ran short, good, long")
    said_side: str = _text("side of the next ball's line as judged: right, straight, wrong")
    angle: str = _text("angle left as judged: too_straight, good, too_steep")
    verdict: str = _text("of the decision: agree, prefer_other, mistake, unsure")
    second_verdict: str = _text("of the decision, by a second reviewer: as the first")
    errors: str = _words("kind:yes, kind:no or kind:? (unforced), as recorded, then those that follow")
    ball: str = _text("the ball meant")
    pocket: str = _text("the pocket called")
    contact: str = _text("thick, clean, thin, left, right")
    luck: str = _text("none, fluke, kind_leave, unkind_leave")
    stroke: str = _text("kind of stroke")
    stroke_pace: str = _text("pace of the stroke")
    methods: str = _words("bank, combination, carom, kick, jump, swerve")
    delivery: str = _words("rest, reach, over_ball and so on")
    causes: str = _words("of the errors, and of positions that are none")
    events: str = _words("cluster_opened, ball_freed, role_solved, layout_improved")
    tags: str = _words("tags of one's own")
    root: int = _count("number of the shot that caused a failure")
    words: str = _text("note and comments")
    down: bool = _flag("the meant ball fell where it was meant to, not by fluke; a scratch does not matter")
    phase: str = _text("of the rack: opening, middle, last")
    potted: int = _count("balls that fell", 0)
    legal_balls: int = _count("balls that fell on a legal shot", 0)
    cue_potted: bool = _flag("the cue ball fell")
    has_next: bool = _flag("the rack has another shot after it")
    goes_to_other: bool = _flag("the opponent plays the next shot of the rack")
    answered: bool = _flag("something was legally potted on the next shot")
    after_long_visit: bool = _flag("the first shot after a long visit of the opponent")
    after_fault: bool = _flag("the shot before was the opponent's, and failed or was a foul")
    own_break: bool = _flag("the rack was broken by the same player")
    outer: int = _answer("break: an outer ball of the second row fell")
    second_row: int = _answer("break: a ball of the second row went into a side pocket")
    head_in_side: int = _answer("break: the head ball went into a side pocket")
    central: int = _answer("break: the cue ball stopped in the middle of the table")
    left_in_rack: float = _number("break: balls still where they were racked")
    since_rest_s: float = _number("from the rest before to the strike", "s")
    to_rest_s: float = _number("from the rest before to the rest after", "s")
    cushions: int = _count("cushions that the plan has")
    visit_score: int = _count("balls, or points, of the visit this shot begins")
    visit_end: str = _text("how the visit this shot begins ended")
    visit_balls: int = _count("balls of the visit this shot begins")
    began: str = _text("how the visit this shot begins began")
    run: str = _text("what the visit this shot begins came to: break_and_run, run_out, won_on_break")
    won: int = _answer("the striker won the rack")
    pressure: str = _words("decider, match_point, facing_match_point, frame_ball, needs_snookers")
    standing: str = _text("by the racks (points of a long game) before: ahead, level, behind")
    in_hand: bool = _flag("the cue ball was placed")
    opponent: str = _text("key of the person played against")
    roles: str = _words("what the meant ball was said to be in its rack")
    late: int = _answer("half of the rack's balls were down before")
    exchange: int = _count("place in a safety exchange, 1 first")
    exchange_of: int = _count("how many shots that exchange has")
    break_ball: str = _text("of a break shot in straight pool: natural, made, none")
    break_kind: str = _text("of a break: head_on, cut, box_side, rail")
    break_power: float = _number("of a break as said, 0 to 100")
    insurance: int = _answer("there was an insurance ball")
    replanned: int = _answer("there was a plan: kept no, changed yes")
    given_away: float = _number("pot times leave of the best option, less that of the chosen one")
    given_choice: float = _number("worked out: value that the choice gave away, 0 where it is as good")
    given_stroke: float = _number("worked out: value that the stroke gave away, below 0 where it gained")
    clear_before: float = _number("worked out: the chance to clear the rack before the shot")
    clear_choice: float = _number("worked out: what the choice took of the chance to clear")
    clear_stroke: float = _number("worked out: what the stroke took of it, below 0 where it gained")
    clear_hard: int = _count("worked out, where a visit begins: hard balls of the best plan")
    clear_clusters: int = _count("worked out, where a visit begins: clusters on the table")
    clear_ran: float = _number("how much farther than worked out the cue ball stopped from its contact", "m")
    rack_root: int = _count("number of the shot that lost the rack, as marked")
    judge: str = _text("who judged the decision")
    colour_meant: str = _text("snooker: what was to be potted next")
    cue_behind: int = _answer("afterwards the cue ball lay behind the baulk line, or the head string")
    to_baulk: float = _number("afterwards, from the cue ball's edge to the baulk (head) cushion", "m")
    one_visit: int = _answer("the visit this shot begins won the rack with all its winner's points")
    rack_s: float = _number("live time of the rack whose first shot this is", "s")
    stretch: int = _count("how many gaps lie before it: racks that are not shown", 0)
    aims: str = _words("what position was meant besides a place, and how the plan was held")
    system: str = _text("by which a bank or an escape was aimed")
    side_amount: str = _text("of side spin: trace, touch, maximum")
    purposes: str = _words("what the side spin was for")
    off: str = _words("cushions that the plan goes off: head, foot, left, right")
    if_missed: str = _text("what a miss would leave: safe, open, unknown")
    sheet: str = _words("what the break sheet says, as name_value")
    rattled: int = _answer("the ball touched the jaws")
    feathers: int = _count("how often the cue went back and forth")
    pace_percent: float = _number("pace of the stroke, of the hardest", "%")
    raised: float = _number("how far the cue was raised", "°")
    taken: str = _words("in snooker: free_ball, replaced")
    fouls: str = _words("the fouls that the rules find, and those recorded")
    predicted: str = _words("what was expected before the strike, as person:hit or person:miss")

    missed_by: str = _text("the pocket was missed at its near or its far jaw: near, far")

    def row(self) -> Row:
        """The values in the order of `SHOT_FIELDS`, as they are stored."""
        values: Row = _VALUES(self)
        return values


def _column(one: Any) -> Column:
    meta = one.metadata
    name = "session_key" if one.name == "session" else one.name
    return Column(name, meta["kind"], "record", meta["meaning"], meta.get("unit", ""), one.name)


SHOT_FIELDS = tuple(one.name for one in fields(FactRow))
_VALUES = attrgetter(*SHOT_FIELDS)
RECORD: tuple[Column, ...] = tuple(map(_column, fields(FactRow)))


def _measure(kind: Kind, meaning: str, unit: str, **names: str) -> tuple[Column, ...]:
    return tuple(Column(name, kind, "measure", meaning, unit, stored) for name, stored in names.items())


#: What was measured of a shot: the columns of the library's table `shot_measure`, see docs/measures.md.
MEASURES: tuple[Column, ...] = (
    *_measure("text", "the ball that was measured", "", measured_ball="ball"),
    *_measure("text", "and its pocket", "", measured_pocket="pocket"),
    *_measure("text", "what is in the way", "", obstacle="obstacle"),
    *_measure("text", "ball of the best pot there was", "", best_ball="best_ball"),
    *_measure("text", "and its pocket", "", best_pocket="best_pocket"),
    *_measure("text", "the ball played for", "", next_ball="next_ball"),
    *_measure("text", "and its pocket", "", next_pocket="next_pocket"),
    *_measure("text", "of the next ball's line: right_side, straight, wrong_side", "", side="side"),
    *_measure("text", "along or across the next ball's line", "", crossing="crossing"),
    *_measure("text", "side spin at the cut: outside, inside, none", "", spin_cut="spin_cut"),
    *_measure("text", "side spin at the next cushion: running, check, …", "", spin_rail="spin_rail"),
    *_measure("text", "how the planned way starts: natural, fought", "", route="route"),
    *_measure("answer", "no ball on was in sight", "", snookered="snookered"),
    *_measure("answer", "the cue ball stopped in the zone", "", zone="zone_hit"),
    *_measure("number", "angle of the cut, left above 0", "°", cut_deg="cut_deg"),
    *_measure("number", "of the contact, 0 to 1", "", fullness="fullness"),
    *_measure("number", "cue ball to the contact", "m", cue_travel="cue_travel"),
    *_measure("number", "object ball to the pocket", "m", object_travel="object_travel"),
    *_measure("number", "of the pocket without other balls", "°", window_full_deg="window_full_deg"),
    *_measure("number", "how wide the pocket stands open", "°", window_deg="window_deg"),
    *_measure("number", "of the aim, to the left", "mrad", left_mrad="tolerance_left_mrad"),
    *_measure("number", "of the aim, to the right", "mrad", right_mrad="tolerance_right_mrad"),
    *_measure("number", "of the pot, 0 to 1", "", chance="chance"),
    *_measure("number", "share of the ball on that is seen", "", visible="visible"),
    *_measure("number", "of the best pot before the shot", "", best_chance="best_chance"),
    *_measure("number", "chance of the best next pot", "", leave="leave"),
    *_measure("number", "left on the next ball", "°", angle_left_deg="angle_left_deg"),
    *_measure("number", "beside the angle wanted, too steep above 0", "°", angle_miss="angle_miss_deg"),
    *_measure("number", "of the cue ball after contact", "m", travel="cue_travelled"),
    *_measure(
        "number",
        "of the cue ball after contact at least, as it is drawn nowhere",
        "m",
        travel_least="cue_travelled_least",
    ),
    *_measure("number", "outside the zone by", "m", zone_distance="zone_distance"),
    *_measure("number", "rest point to aim point", "m", distance="distance"),
    *_measure("number", "of that, long above 0", "m", along="along"),
    *_measure("number", "of that, left above 0", "m", across="across"),
    *_measure("number", "of the next pot from where the cue ball rests", "", chance_rest="chance_rest"),
    *_measure("number", "of the next pot from the aim point", "", chance_aim="chance_aim"),
    *_measure("number", "chance lost by position", "", loss="position_loss"),
    *_measure("number", "angle of the next pot, its side as sign", "°", side_deg="side_deg"),
    *_measure("number", "between the last leg and the next line", "°", crossing_deg="crossing_deg"),
    *_measure("number", "of the meant ball's edge", "m", ball_to_cushion="ball_to_cushion"),
)
MEASURE_FIELDS = tuple(column.stored for column in MEASURES)

DERIVED: tuple[Column, ...] = (
    Column("target", "text", "derived", "the pocket called, or known from the geometry"),
    Column("free", "flag", "derived", "with geometry and without an obstacle"),
    Column("root_back", "count", "derived", "how many shots before this failure its cause lies"),
    Column("laid", "answer", "derived", "the opponent was snookered on the next shot"),
    Column("unforced", "words", "derived", "kinds of error that were unforced, by the school in use"),
)
#: The same for all shots of a session.
SESSION: tuple[Column, ...] = (
    Column("session", "count", "session", "place of the session among those that are read, 0 first"),
    Column("table_length", "number", "session", "length of the playing surface", "m"),
    Column("date", "text", "session", "date of the session"),
    Column("game", "text", "session", "game of the session"),
    Column("table", "text", "session", "the table in words"),
)
COLUMNS: Mapping[str, Column] = {column.name: column for column in (*RECORD, *MEASURES, *DERIVED, *SESSION)}


def unknown_of(kind: Kind) -> Any:
    """What stands in a column of facts for what is not known."""
    unknown: Mapping[Kind, Any] = {
        "text": "",
        "words": "",
        "flag": False,
        "answer": UNKNOWN,
        "count": UNKNOWN,
    }
    return unknown.get(kind, float("nan"))
