"""A stroke that was planned, kept as an option of the shot it was planned for."""

from __future__ import annotations

import math

import numpy as np

from ripasso.core.json_data import JsonObject
from ripasso.core.physics.motion import Motion
from ripasso.core.physics.strokes import Stroke, pace_of
from ripasso.core.planning.expected import Expected
from ripasso.core.planning.options import kind_of
from ripasso.core.planning.problem import Problem
from ripasso.review.entry.options import DIGITS, Values, options_of
from ripasso.review.record.model import Shot, serialize

#: Points of a cue ball's way that are kept, about.
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
    times = _times(motion)
    places = motion.places("cue", times)
    option["route"] = [[round(float(x), 4), round(float(y), 4)] for x, y in places]
    option["route_s"] = [round(float(time), 3) for time in times]
    if promise is not None:
        if problem.call is not None and promise.pot.rate is not None:
            option["chance"] = round(promise.pot.rate, DIGITS)
        leave = promise.leave.value if problem.call is not None else promise.left.value
        if leave is not None:
            option["leave"] = round(leave, DIGITS)
        if promise.scratch.rate is not None:
            option["scratch"] = round(promise.scratch.rate, DIGITS)
    return {("plan", "options"): [*(serialize(one) for one in options_of(shot)), option]}


def _times(motion: Motion) -> np.ndarray:
    """Times that hold every bend of the cue ball's way, and some between, until it lies still or falls."""
    bends = [event.time for event in motion.events if "cue" in event.balls]
    end = max(bends, default=0.0)
    even = np.linspace(0.0, end, max(2, MOST_POINTS - len(bends)))
    times = np.unique(np.round([*even, *bends[:MOST_POINTS]], 3))
    found = motion.places("cue", times)
    return times[np.isfinite(found).all(axis=1)]
