"""What the layouts before and after a break say: what fell where, where the cue ball stopped, the box.

Definitions are in docs/measures.md (Breaks). Foot end at x = L; metres.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from ripasso.core.table import TableSpec, snooker_spots
from ripasso.core.table.places import Layout

Potted = Sequence[tuple[str, str | None]]

#: Fewer balls than in the smallest rack (the diamond) are no rack: nothing is said of its rows.
RACK_BALLS = 9


def break_places(
    spec: TableSpec, before: Layout | None, after: Layout | None, potted: Potted
) -> dict[str, object]:
    """Values of the break sheet that can be measured, by their keys in the record."""
    found: dict[str, object] = {}
    if before is not None:
        found |= _from_before(spec, before, potted)
    if after is not None:
        middle = (3 * spec.length / 4 + 2 * math.sqrt(3) * spec.ball_radius, spec.width / 2)
        balls = [place for ball, place in after.items() if ball != "cue"]
        found["left_in_rack"] = sum(math.dist(place, middle) <= 6 * spec.ball_radius for place in balls)
        if "cue" in after:
            found["cue_rest"] = after["cue"]
            found["central"] = math.dist(after["cue"], (spec.length / 2, spec.width / 2)) <= spec.length / 8
    return found


def _from_before(spec: TableSpec, before: Layout, potted: Potted) -> dict[str, object]:
    found: dict[str, object] = {}
    if "cue" in before:
        x, y = before["cue"]
        found["in_box"] = x <= spec.length / 4 and spec.width / 4 <= y <= 3 * spec.width / 4
    balls = [ball for ball in before if ball != "cue"]
    if len(balls) < RACK_BALLS:
        return found
    middle = spec.width / 2
    # The two balls farthest from the long centre line; then the rows by their distance from the head end.
    outer = sorted(balls, key=lambda ball: -abs(before[ball][1] - middle))[:2]
    along = sorted(balls, key=lambda ball: before[ball][0])
    head, second = along[0], along[1:3]
    found["outer_ball_down"] = _fell(potted, outer, "foot")
    found["second_row_in_side"] = _fell(potted, second, "side")
    found["head_in_side"] = _fell(potted, [head], "side")
    return found


def _fell(potted: Potted, balls: Sequence[str], end: str) -> bool:
    """One of the balls fell into a pocket of that kind."""
    return any(ball in balls and pocket is not None and pocket.startswith(end) for ball, pocket in potted)


def break_off_places(spec: TableSpec, after: Layout | None) -> dict[str, object]:
    """The same for the break-off of snooker: whether the cue ball came back behind the baulk line."""
    if after is None or "cue" not in after:
        return {}
    return {"cue_rest": after["cue"], "behind_baulk": after["cue"][0] <= snooker_spots(spec)["brown"][0]}
