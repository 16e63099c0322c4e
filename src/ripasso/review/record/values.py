"""The values a record may hold: numbers, places, and the words of each key.

To add a word: here, and its shown form in `vocabulary`.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

Number = int | float
Share = Annotated[Number, Field(ge=0, le=1)]
RecordedPlace = tuple[Number, Number]
Layout = dict[str, RecordedPlace]
Pocket = Literal["head_left", "head_right", "side_left", "side_right", "foot_left", "foot_right"]
Cushion = Literal["head", "foot", "left", "right"]
Game = Literal["snooker", "eight_ball", "nine_ball", "ten_ball", "straight_pool", "rotation"]
Kind = Literal["match", "practice", "ghost", "attempts"]
Intent = Literal["break", "pot", "safety", "escape", "two_way", "push_out"]
Method = Literal["combination", "bank", "kick", "carom", "cannon_split", "jump", "swerve"]
ContactMiss = Literal["thick", "clean", "thin", "left", "right"]
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
]
Role = Literal["trouble", "cluster", "isolated", "key", "break_ball", "insurance", "up_table"]
Event = Literal["cluster_opened", "ball_freed", "role_solved", "layout_improved"]
