"""The values a record may hold: numbers, places, and the words of each key.

Every number and every list has a bound that no real record comes near, so that what was read can be drawn,
measured and stored. To add a word: here, and its shown form in `vocabulary`.
"""

from __future__ import annotations

from typing import Annotated, Literal, TypeVar

from pydantic import Field

#: Whole numbers from here on are not the same in every program that reads JSON (RFC 8259, section 6).
WHOLE_LIMIT = 2**53
#: Seconds, percent, pixels, millimetres: thirty years of film in seconds.
LARGEST = 1e9
#: Metres around a table.
FARTHEST = 1e4
#: The most racks of a session or shots of a rack, points of a way, balls of a layout, corners of a zone.
MOST_RECORDS, MOST_POINTS, MOST_BALLS, MOST_CORNERS = 20_000, 100_000, 64, 500

T = TypeVar("T")
_number = Field(ge=-LARGEST, le=LARGEST)
_metres = Field(ge=-FARTHEST, le=FARTHEST)
# Bounds stand at each kind of number: at the union of both they would be checked in Python.
Number = Annotated[int, _number] | Annotated[float, _number]
Metres = Annotated[int, _metres] | Annotated[float, _metres]
Whole = Annotated[int, _number]
Size = Annotated[int, Field(ge=0, lt=WHOLE_LIMIT)]
Share = Annotated[int, Field(ge=0, le=1)] | Annotated[float, Field(ge=0, le=1)]
Share100 = Annotated[int, Field(ge=0, le=100)] | Annotated[float, Field(ge=0, le=100)]
#: A player's aim in thousandths of a radian: nobody's is without spread, and 1,000 is any direction.
Spread = Annotated[int, Field(gt=0, le=1000)] | Annotated[float, Field(gt=0, le=1000)]
Name = Annotated[str, Field(min_length=1, max_length=500)]
#: One that the game has not is drawn grey, under its name.
Ball = Annotated[str, Field(max_length=100)]
RecordedPlace = tuple[Metres, Metres]
Layout = Annotated[dict[Ball, RecordedPlace], Field(max_length=MOST_BALLS)]
Listed = Annotated[tuple[T, ...], Field(max_length=MOST_RECORDS)]
Few = Annotated[tuple[T, ...], Field(max_length=MOST_CORNERS)]
Way = Annotated[tuple[tuple[Number, Metres, Metres], ...], Field(max_length=MOST_POINTS)]
#: A turn about an axis (radians, at most once around), and the logarithm of a zoom.
Turn = Annotated[int, Field(ge=-6, le=6)] | Annotated[float, Field(ge=-6.3, le=6.3)]
#: What a film's camera does: (s, right, down, ahead, zoom).
CameraMotion = Annotated[tuple[tuple[Number, Turn, Turn, Turn, Turn], ...], Field(max_length=MOST_RECORDS)]
Pocket = Literal["head_left", "head_right", "side_left", "side_right", "foot_left", "foot_right"]
Cushion = Literal["head", "foot", "left", "right"]
Game = Literal["snooker", "eight_ball", "nine_ball", "ten_ball", "straight_pool", "rotation"]
Kind = Literal["match", "practice", "ghost", "attempts"]
Day = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
ExerciseKind = Literal["one_shot", "run", "ghost", "ladder", "lag", "break", "two_ways"]
Intent = Literal["break", "pot", "safety", "escape", "two_way", "push_out"]
Method = Literal[
    "combination",
    "bank",
    "cross_side",
    "cross_corner",
    "kick",
    "carom",
    "cannon_split",
    "jump",
    "swerve",
    "spot_shot",
    "through_gap",
    "flick",
    "bump",
    "through_cushion",
]
#: How much side spin, and what it is for.
SideAmount = Literal["trace", "touch", "maximum"]
SidePurpose = Literal["kill", "run", "widen", "shorten", "swerve", "throw", "avoid_scratch"]
#: What position was meant besides a place, and how the plan was held.
Aim = Literal[
    "short_side",
    "long_on_purpose",
    "straight_on_purpose",
    "off_the_jaw",
    "past_straight",
    "one_area",
    "keep_simple",
    "second_plan",
]
ContactMiss = Literal["thick", "clean", "thin", "left", "right"]
MissedBy = Literal["near", "far"]
Position = Literal["perfect", "good", "playable", "poor", "lost"]
ErrorKind = Literal["pot", "position", "safety", "escape", "foul", "decision", "missed_chance", "break"]
OtherFoul = Literal[
    "double_hit",
    "push_stroke",
    "moved_ball",
    "wrong_cue_ball_position",
    "played_out_of_turn",
    "no_foot_down",
    "not_still",
    "touching_ball_moved",
    "jump_shot",
    "not_nominated",
    "snookered_by_free_ball",
]
Cause = Literal[
    "aim",
    "contact_thin",
    "contact_thick",
    "throw",
    "pace",
    "spin",
    "swerve",
    "miscue",
    "steering",
    "awkward_cueing",
    "reach",
    "kick_bad_contact",
    "roll_off",
    "cloth",
    "cushion",
    "concentration",
    "hurry",
    "pressure",
    "not_seen",
    "wrong_plan",
    "wrong_shot",
    "previous_leave",
    "luck",
    "squirt",
    "double_kiss",
    "worn_ball",
    "dirty_ball",
    "chalk",
    "pocket_refused",
    "too_much_spin",
    "too_little_spin",
    "fast_cushion",
    "grippy_cushion",
]
Delivery = Literal[
    "off_hand",
    "rest",
    "spider",
    "extension",
    "reach",
    "elevated",
    "over_ball",
    "frozen_cushion",
    "frozen_ball",
    "closed_bridge",
    "open_bridge",
    "short_bridge",
    "stood_up_again",
    "steered",
    "moved_head",
    "hurried",
    "unsure",
    "miscue",
    "loop_bridge",
    "long_bridge",
    "shortened_grip",
    "long_backswing",
    "cue_rose",
    "stayed_down",
    "walked_round",
]
Role = Literal[
    "trouble",
    "cluster",
    "isolated",
    "key",
    "key_of_key",
    "break_ball",
    "break_out",
    "pair",
    "insurance",
    "up_table",
]
Event = Literal[
    "cluster_opened",
    "clusters_left",
    "ball_freed",
    "role_solved",
    "layout_improved",
    "stuck",
    "snooker_laid",
    "white_parked",
    "jumped_out",
    "other_than_meant",
    "position_without_pot",
]
