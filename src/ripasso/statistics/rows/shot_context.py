"""What hangs on a shot besides itself, as plain values; `review.context` finds them.

Numbers that are not known are −1, three-valued answers −1, 0, 1: as they are stored.
"""

from __future__ import annotations

from dataclasses import dataclass
from operator import attrgetter
from typing import Any

from ripasso.core.figures.columns import CONTEXT, UNKNOWN_NUMBER

_VALUES = attrgetter(*CONTEXT)


@dataclass(slots=True)
class Context:
    """One shot's; the fields are those of `CONTEXT`. Times in seconds."""

    phase: str = ""
    potted: int = 0
    legal_balls: int = 0
    cue_potted: bool = False
    has_next: bool = False
    goes_to_other: bool = False  # the opponent plays the next shot of the rack
    answered: bool = False  # something was legally potted on the next shot
    after_long_visit: bool = False  # the first shot after a long visit of the opponent
    after_fault: bool = False  # the shot before was the opponent's, and failed or was a foul
    own_break: bool = False  # the visit began with the rack's break
    outer: int = -1
    second_row: int = -1
    head_in_side: int = -1
    central: int = -1
    left_in_rack: float = UNKNOWN_NUMBER
    since_rest_s: float = UNKNOWN_NUMBER
    to_rest_s: float = UNKNOWN_NUMBER
    cushions: int = -1  # that the plan has
    visit_score: int = -1  # balls, or points, of the visit this shot begins
    visit_end: str = ""  # how the visit this shot begins ended
    visit_balls: int = -1
    began: str = ""  # how the visit this shot begins began
    run: str = ""  # what that visit came to: break_and_run, run_out
    won: int = -1  # the striker won the rack
    pressure: str = ""  # words of `score_context.PRESSURE`
    standing: str = ""  # ahead, level, behind
    in_hand: bool = False  # the cue ball was placed
    opponent: str = ""  # key of the person played against
    roles: str = ""  # of the meant ball, as said of the rack
    late: int = -1  # half of the rack's balls were down before
    exchange: int = -1  # place in a safety exchange, 1 first
    exchange_of: int = -1  # how many shots it has
    break_ball: str = ""
    break_kind: str = ""
    break_power: float = UNKNOWN_NUMBER
    insurance: int = -1
    replanned: int = -1  # there was a plan: kept 0, changed 1
    given_away: float = UNKNOWN_NUMBER  # pot times leave of the best option, less that of the chosen one
    judge: str = ""  # who judged the decision
    colour_meant: str = ""
    cue_behind: int = -1  # afterwards the cue ball lay behind the baulk line, or the head string
    to_baulk: float = UNKNOWN_NUMBER  # afterwards, from its edge to the baulk (head) cushion, metres
    one_visit: int = -1  # the visit this shot begins won the rack with all its winner's points
    rack_s: float = UNKNOWN_NUMBER  # live seconds of the rack whose first shot this is

    def row(self) -> tuple[Any, ...]:
        """The values in the order of `CONTEXT`."""
        values: tuple[Any, ...] = _VALUES(self)
        return values
