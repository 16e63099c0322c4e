"""LAYOUT files of the command line: balls on a table and a stroke, read, and what came of it written."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.measures.levels import DEFAULT_LEVEL
from ripasso.core.physics.bed import Bed, unbounded_bed, walled_bed
from ripasso.core.physics.contact_figures import of_cushion, of_two_balls
from ripasso.core.physics.flight import settle
from ripasso.core.physics.motion import STATES, Event, Motion, simulate, simulate_states
from ripasso.core.physics.parameters import Physics, physics_of_case
from ripasso.core.physics.players import Spreads, spreads_of_level
from ripasso.core.physics.strokes import Stroke, ball_speed, with_least_elevation
from ripasso.core.planning.expected import Expected, RightSide, Share
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.table import POCKETS, table_spec
from ripasso.core.table.places import Place


class BadLayout(ValueError):
    """The file is no layout; the message is one sentence."""


def is_case(data: JsonMapping) -> bool:
    """Whether a layout is a case: balls with states in a list, and constants of its own."""
    return isinstance(data.get("balls"), list)


def case_motion(data: JsonMapping) -> Motion:
    """What happens in a case; raises `BadLayout`."""
    physics, bed = _case_physics(data), _case_bed(data)
    balls: list[str] = []
    rows = []
    for ball in data["balls"]:
        balls.append(str(ball.get("id", len(balls)) if isinstance(ball, Mapping) else len(balls)))
        rows.append([_number(ball, name, 0.0) for name in ("x", "y", "vx", "vy", "wx", "wy", "wz")])
    states = np.array(rows, dtype=np.float64).reshape(-1, 7)
    strike = data.get("strike")
    if strike is not None:
        struck = str(strike.get("ball", 0))
        if struck not in balls:
            raise BadLayout(f"There is no ball “{struck}” to be struck.")
        states[balls.index(struck), 2:] = stroke_of(strike, physics).struck(physics)
    return simulate_states(balls, states, bed, physics)


def _case_physics(data: JsonMapping) -> Physics:
    try:
        return physics_of_case(data.get("params") or {})
    except (ValueError, TypeError) as error:
        raise BadLayout(str(error)) from None


def _case_bed(data: JsonMapping) -> Bed:
    table = data.get("table") or {}
    if not table.get("cushions"):
        return unbounded_bed()
    length, width, contact = (_number(table, name) for name in ("L", "W", "d_c"))
    holes = [[float(value) for value in hole] for hole in table.get("pockets") or ()]
    return walled_bed(length, width, contact, holes, [str(i) for i in range(len(holes))])


def problem_of(data: JsonMapping) -> Problem:
    """The balls, the table and what is meant; raises `BadLayout`."""
    layout = data.get("layout")
    if not isinstance(layout, Mapping) or not layout:
        raise BadLayout("A layout needs “layout”: balls with their places in metres.")
    places: dict[str, Place] = {}
    for ball, place in layout.items():
        if not isinstance(place, list | tuple) or len(place) != 2:
            raise BadLayout(f"The place of ball “{ball}” should be two numbers of metres.")
        places[str(ball)] = (_finite(place[0], ball), _finite(place[1], ball))
    table = data.get("table")
    spec = table_spec(table if isinstance(table, Mapping) else None)
    game, state = str(data.get("game") or "nine_ball"), data.get("state") or {}
    on = tuple(str(ball) for ball in state.get("on") or ()) or balls_on(game, places, state.get("group"))
    call = data.get("call") or {}
    meant = None
    if call.get("ball") and call.get("pocket"):
        if call["pocket"] not in POCKETS:
            raise BadLayout(f"There is no pocket “{call['pocket']}”.")
        meant = (str(call["ball"]), str(call["pocket"]))
    return Problem(game, spec, places, on, meant)


def stroke_of(strike: JsonMapping, physics: Physics) -> Stroke:
    """The stroke of a layout; raises `BadLayout`."""
    phi, elevation = math.radians(_number(strike, "phi_deg")), math.radians(_number(strike, "theta_deg", 0.0))
    a, b = _number(strike, "a", 0.0), _number(strike, "b", 0.0)
    if strike.get("v0") is not None:
        speed = _number(strike, "v0")
    elif strike.get("V") is not None:
        speed = ball_speed(_number(strike, "V"), a, b, elevation, physics)
    else:
        raise BadLayout("A stroke needs “v0”, the ball's speed, or “V”, the cue's.")
    if speed < 0 or math.cos(elevation) <= 0:
        raise BadLayout("A stroke goes forward: its speed is 0 or more, its elevation below 90 degrees.")
    return Stroke(phi, speed, a, b, elevation)


def player_of(data: JsonMapping, problem: Problem, level: str | None) -> Spreads:
    """The spreads of a layout's player, else those of a level."""
    usual = spreads_of_level(level or DEFAULT_LEVEL, snooker=problem.spec.snooker)
    own = data.get("player")
    if level is not None or not isinstance(own, Mapping):
        return usual
    return Spreads(
        _number(own, "aim_spread_mrad", usual.aim_mrad),
        _number(own, "speed_spread", usual.speed),
        _number(own, "tip_across_mm", usual.tip_across_mm),
        _number(own, "tip_up_mm", usual.tip_up_mm),
        "own",
    )


def layout_motion(data: JsonMapping, problem: Problem) -> tuple[Motion, Stroke]:
    """What a layout's stroke does, and the stroke with the elevation that rails force."""
    strike = data.get("strike")
    if not isinstance(strike, Mapping):
        raise BadLayout("A layout to be simulated needs “strike”.")
    if "cue" not in problem.layout:
        raise BadLayout("There is no cue ball on the table.")
    stroke = with_least_elevation(stroke_of(strike, problem.physics), problem.spec, problem.layout)
    return simulate(problem.layout, stroke, problem.bed, problem.physics), stroke


def case_ids(data: JsonMapping) -> dict[str, Any]:
    """The balls of a case by name, each with the id that the case gives it."""
    balls = [ball if isinstance(ball, Mapping) else {} for ball in data["balls"]]
    ids = [ball.get("id", place) for place, ball in enumerate(balls)]
    return {str(one): one for one in ids}


def motion_report(motion: Motion, ids: Mapping[str, Any] | None = None) -> JsonObject:
    """The output of `simulate --json`; `ids` are those of a case, whose pockets are numbers as well."""
    final: list[JsonObject] = []
    for i, ball in enumerate(motion.balls):
        x, y, *_, wz = (float(value) for value in motion.end[i])
        line: JsonObject = {"id": ids[ball] if ids else ball, "x": x, "y": y}
        line |= {"state": motion.kinds[i], "wz": wz}
        if ball in motion.pockets:
            line["pocket"] = int(motion.pockets[ball]) if ids else motion.pockets[ball]
        final.append(line)
    report: JsonObject = {
        "format": "ripasso-motion",
        "version": 1,
        "t_end": motion.duration,
        "final": final,
        "events": [_event(event, motion.physics, ids) for event in motion.events],
    }
    if motion.capped:
        report["capped"] = True
    return report


def _event(event: Event, physics: Physics, ids: Mapping[str, Any] | None) -> JsonObject:
    balls = [ids[ball] if ids else ball for ball in event.balls]
    line: JsonObject = {"t": event.time, "type": event.kind, "balls": balls}
    if event.kind == "pocket":
        line["pocket"] = int(event.met) if ids else event.met
    elif event.met:
        line["cushion"] = event.met
    if event.kind in ("ball_ball", "cushion", "jaw"):
        line["before"] = [[float(value) for value in state] for state in event.before]
        line["after"] = [[float(value) for value in state] for state in event.after]
        if event.kind == "ball_ball":
            line |= of_two_balls(event.before[0], event.before[1], physics)
        else:
            line |= of_cushion(event.before[0], event.met, physics)
    else:
        line["at"] = [float(value) for value in event.after[0]]
    line["state_after"] = (
        ["pocketed"]
        if event.kind == "pocket"
        else [STATES[settle(state.copy(), physics.as_array())] for state in event.after]
    )
    return line


def expected_report(found: Expected, seconds: float) -> JsonObject:
    """The key `repeated` of `simulate --json`."""
    return {
        "n": found.repetitions,
        "seconds": seconds,
        "pot": _rate(found.pot),
        "foul": _rate(found.foul),
        "scratch": _rate(found.scratch),
        "rest": {
            "mean": list(found.rest) if found.rest is not None else None,
            "cov": [list(row) for row in found.cov] if found.cov is not None else None,
        },
        "leave": share_report(found.leave),
        "left_to_opponent": share_report(found.left),
        "right_side": _side(found.side),
    }


def _side(found: RightSide | None) -> JsonObject | None:
    if found is None:
        return None
    return {"ball": found.ball, "pocket": found.pocket, **_rate(found.share)}


def share_report(share: Share) -> JsonObject:
    """A mean of chances as the command line writes it."""
    return {"value": share.value, "low": share.low, "high": share.high}


def _rate(found: Any) -> JsonObject:
    return {
        "made": found.made,
        "of": found.of,
        "rate": found.rate,
        "low": found.low,
        "high": found.high,
    }


def _number(data: Any, name: str, default: float | None = None) -> float:
    value = data.get(name, default) if isinstance(data, Mapping) else default
    if value is None:
        value = default
    if value is None:
        raise BadLayout(f"“{name}” is missing.")
    return _finite(value, name)


def _finite(value: Any, name: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise BadLayout(f"“{name}” should be a number.")
    return float(value)
