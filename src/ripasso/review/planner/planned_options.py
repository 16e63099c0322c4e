"""A stroke that was planned, kept as an option of the shot it was planned for."""

from __future__ import annotations

import math

from ripasso.core.json_data import JsonObject
from ripasso.core.physics.motion import Motion
from ripasso.core.physics.strokes import Stroke, pace_of
from ripasso.core.planning.expected import Expected
from ripasso.core.planning.options import kind_of
from ripasso.core.planning.problem import Problem
from ripasso.review.entry.options import DIGITS, Values, options_of
from ripasso.review.record.model import Shot, serialize

#: Points of a cue ball's way that are kept, at most.
MOST_POINTS = 40


def planned_option(
    shot: Shot, problem: Problem, stroke: Stroke, motion: Motion, promise: Expected | None
) -> Values:
    """The shot's options with this one behind them: call, stroke, cushions, route and what it promises."""
    taken = {one.id for one in options_of(shot)}
    option: JsonObject = {
        "id": next(f"o{n}" for n in range(1, len(taken) + 2) if f"o{n}" not in taken),
        "intent": "pot" if problem.call else "safety",
        "stroke": {
            "tip": [round(stroke.a, DIGITS), round(stroke.b, DIGITS)],
            "pace": pace_of(stroke.speed),
            "speed_m_s": round(stroke.speed, DIGITS),
            "elevation_deg": round(math.degrees(stroke.elevation), 1),
        },
    }
    if problem.call is not None:
        option["call"] = {"ball": problem.call[0], "pocket": problem.call[1]}
    cushions = kind_of(motion, problem.call[0] if problem.call else None)[1]
    if cushions:
        option["cushions"] = list(cushions)
    path = motion.path("cue")
    step = max(1, math.ceil(len(path) / MOST_POINTS))
    route = [*path[:-1:step], path[-1]]
    option["route"] = [[round(x, 4), round(y, 4)] for x, y in route]
    if promise is not None:
        if problem.call is not None and promise.pot.rate is not None:
            option["chance"] = round(promise.pot.rate, DIGITS)
        leave = promise.leave.value if problem.call is not None else promise.left.value
        if leave is not None:
            option["leave"] = round(leave, DIGITS)
        if promise.scratch.rate is not None:
            option["scratch"] = round(promise.scratch.rate, DIGITS)
    return {("plan", "options"): [*(serialize(one) for one in options_of(shot)), option]}
