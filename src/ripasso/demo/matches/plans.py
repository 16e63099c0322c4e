"""What the demo's players meet for: one session of each game, a ghost race, and a long match."""

from __future__ import annotations

from dataclasses import dataclass, field

from ripasso.core.json_data import JsonMapping
from ripasso.demo.matches import scenario


@dataclass(frozen=True)
class Plan:
    """What is played: the game, what was agreed on, how many racks the record holds at most."""

    key: str
    title: str
    date: str
    game: str
    racks: int
    rules: JsonMapping = field(default_factory=dict)
    table: str = "pool_9ft"
    ghost: bool = False
    level: str = "club"
    note: str | None = None
    #: The last racks, which are left for the user to judge.
    unjudged: int = 0


LONG_MATCH = Plan(
    scenario.MATCH_ID,
    scenario.MATCH_TITLE,
    scenario.MATCH_DATE,
    "nine_ball",
    17,
    {"race_to": 9, "break_order": "alternate"},
    note=scenario.MATCH_NOTE,
    unjudged=2,
)

PLANS = (
    Plan("demo-eight", "Quay Street league, singles", "2026-10-02", "eight_ball", 5, {"race_to": 3}),
    Plan("demo-ten", "Lantern Room open, last sixteen", "2026-10-09", "ten_ball", 5, {"race_to": 3}),
    Plan("demo-straight", "Straight pool to 100", "2026-09-18", "straight_pool", 20),
    Plan("demo-rotation", "Rotation on a wet Sunday", "2026-09-20", "rotation", 3, {"race_to": 2}),
    Plan(
        "demo-snooker",
        "Harbour Cup, best of seven",
        "2026-10-24",
        "snooker",
        7,
        {"race_to": 4},
        table="snooker_12ft",
    ),
    Plan("demo-ghost", "Ghost race, nine-ball", "2026-11-02", "nine_ball", 13, {"race_to": 7}, ghost=True),
    LONG_MATCH,
)
