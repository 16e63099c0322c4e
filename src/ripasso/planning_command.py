"""The commands that play a layout out: a stroke, what else could be played, a rack's plan, its reading."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from math import degrees

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.backward.plans import Step, best_place, half_interval, plan_of
from ripasso.core.planning.backward.playing_out import play_out
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import rack_of, solve
from ripasso.core.planning.expected import expected
from ripasso.core.planning.in_hand import find_places
from ripasso.core.planning.layout_file import (
    BadLayout,
    case_ids,
    case_motion,
    expected_report,
    is_case,
    layout_motion,
    motion_report,
    player_of,
    problem_of,
    share_report,
)
from ripasso.core.planning.options import Option, find_options
from ripasso.core.planning.reading.balls import BallRead
from ripasso.core.planning.reading.table_reading import read_table
from ripasso.report_lines import option_lines, sentence_lines, simulated_lines
from ripasso.review.present.option_words import option_sentence
from ripasso.review.present.rack_plan_words import plan_lines
from ripasso.review.present.reading_words import reading_lines

Work = Callable[[JsonMapping, int, int, str | None], JsonObject]

#: More repetitions than anybody waits for.
MOST = 1_000_000
#: What an option has of what is promised of its stroke.
PROMISED = ("pot", "foul", "scratch", "leave", "left_to_opponent", "right_side", "rest")
NOTHING_ON = "Nothing can be potted from here."


def simulated(data: JsonMapping, repetitions: int, seed: int, level: str | None) -> JsonObject:
    """The output of `simulate --json`; raises `BadLayout` with one sentence."""
    if is_case(data):
        if repetitions:
            raise BadLayout("A case is played once; repetitions need a layout of the program.")
        return motion_report(case_motion(data), case_ids(data))
    problem = problem_of(data)
    motion, stroke = layout_motion(data, problem)
    report = motion_report(motion)
    if repetitions:
        if not 0 < repetitions <= MOST:
            raise BadLayout(f"Repetitions should be from 1 to {MOST}.")
        spreads = player_of(data, problem, level)
        begun = time.perf_counter()
        found = expected(problem, stroke, spreads, seed=seed, repetitions=repetitions)
        report["repeated"] = expected_report(found, time.perf_counter() - begun)
    report["stroke"] = _stroke(stroke)
    return report


def _stroke(stroke: Stroke) -> JsonObject:
    return {
        "phi_deg": degrees(stroke.phi),
        "v0": stroke.speed,
        "a": stroke.a,
        "b": stroke.b,
        "theta_deg": degrees(stroke.elevation),
    }


def options_report(data: JsonMapping, repetitions: int, seed: int, level: str | None) -> JsonObject:
    """The output of `options --json`; raises `BadLayout` with one sentence."""
    problem = problem_of(data)
    spreads = player_of(data, problem, level)
    if not 2 <= repetitions <= MOST:
        raise BadLayout(f"Repetitions should be from 2 to {MOST}.")
    try:
        # Without a cue ball on the table it is in hand.
        search = find_options if "cue" in problem.layout else find_places
        found = search(problem, spreads, seed=seed, repetitions=repetitions)
    except ValueError as error:
        raise BadLayout(str(error)) from None
    return {
        "format": "ripasso-options",
        "version": 1,
        "seed": seed,
        "repetitions": repetitions,
        "player": _player(spreads),
        "options": [_option(option, problem.game) for option in found],
    }


def _option(option: Option, game: str) -> JsonObject:
    promise = expected_report(option.expected, 0.0)
    return {
        "kind": option.kind,
        "ball": option.ball,
        "pocket": option.pocket,
        **({"cue_place": list(option.cue_place)} if option.cue_place is not None else {}),
        "stroke": _stroke(option.stroke),
        "cushions": list(option.cushions),
        **{name: promise[name] for name in PROMISED},
        "both": option.both,
        "value": share_report(option.value),
        "tied_with_best": option.tied,
        "sentence": option_sentence(option, game),
    }


def plan_report(data: JsonMapping, repetitions: int, seed: int, level: str | None) -> JsonObject:
    """The output of `plan --json`; with repetitions so many racks are played out. Raises `BadLayout`."""
    problem = problem_of(data)
    spreads = player_of(data, problem, level)
    if not 0 <= repetitions <= MOST:
        raise BadLayout(f"Repetitions should be from 0 to {MOST}.")
    try:
        rack = rack_of(problem, setting_of(problem, spreads))
    except ValueError as error:
        raise BadLayout(str(error)) from None
    solve(rack)
    start = rack.order.start
    in_hand = "cue" not in problem.layout
    cue = best_place(rack, start)[0] if in_hand else problem.layout["cue"]
    plan = plan_of(rack, cue)
    net, own = rack.net, rack.maps[start]
    report: JsonObject = {
        "format": "ripasso-plan",
        "version": 1,
        "grid_m": float(max(net.xs[1] - net.xs[0], net.ys[1] - net.ys[0])),
        "player": _player(spreads),
        "clear": _clear(plan.clear, plan.spread) if plan is not None else _clear(0.0, 0.0),
        "order": [_step(step) for step in plan.steps] if plan is not None else [],
        "cue_place": list(cue),
        "in_hand": in_hand,
        "alternatives": [
            {"order": list(order), "clear": _clear(chance, half_interval(chance))}
            for order, chance in (plan.others if plan is not None else ())
        ],
        "map": {
            "x": net.xs.tolist(),
            "y": net.ys.tolist(),
            "value": own.value.reshape(len(net.xs), len(net.ys)).T.tolist(),
        },
        "sentences": plan_lines(plan, problem.game) if plan is not None else [NOTHING_ON],
    }
    if rack.order.horizon is not None:
        report["pots_ahead"] = rack.order.horizon
    if repetitions:
        found = play_out(rack, cue, racks=repetitions, seed=seed).cleared
        report["played"] = {"of": found.of, "cleared": found.made, "low": found.low, "high": found.high}
    return report


def _clear(value: float, half: float) -> JsonObject:
    return {"value": value, "low": max(0.0, value - half), "high": min(1.0, value + half)}


def _step(step: Step) -> JsonObject:
    return {
        "ball": step.ball,
        "pocket": step.pocket,
        "stroke": _stroke(step.stroke),
        "cue_place": list(step.cue),
        "aim_place": list(step.rest),
        "zone": [list(corner) for corner in step.zone.corners] if step.zone is not None else [],
        "chance": step.chance,
        "value": step.value,
        "value_after": step.after,
        "link": "hard" if step.hard else "easy",
    }


def _player(spreads: Spreads) -> JsonObject:
    return {
        "aim_spread_mrad": spreads.aim_mrad,
        "speed_spread": spreads.speed,
        "tip_across_mm": spreads.tip_across_mm,
        "tip_up_mm": spreads.tip_up_mm,
        "from": spreads.source,
    }


def reading_report(data: JsonMapping, repetitions: int, seed: int, level: str | None) -> JsonObject:
    """The output of `reading --json`; raises `BadLayout` with one sentence."""
    problem = problem_of(data)
    del repetitions, seed
    try:
        reading = read_table(problem, player_of(data, problem, level))
    except ValueError as error:
        raise BadLayout(str(error)) from None
    return {
        "format": "ripasso-table-reading",
        "version": 1,
        "balls": {one.ball: _read_ball(one) for one in reading.balls},
        "clusters": [list(cluster.balls) for cluster in reading.clusters],
        "openings": [
            {
                "cluster": list(cluster.balls),
                "by": [
                    {"ball": one.ball, "pocket": one.pocket, "cut_deg": list(one.cut_deg)}
                    for one in cluster.openings
                ],
                "insurance": list(cluster.insurance),
            }
            for cluster in reading.clusters
        ],
        "links": [
            {"from": one.first, "to": one.then, "chance": one.chance, "kind": one.kind}
            for one in reading.links
        ],
        "groups": {
            one.group: {"balls": list(one.balls), "trouble": list(one.trouble), "clear": one.clear}
            for one in reading.groups
        },
        "break_balls": [
            {"ball": one.ball, "chance": one.chance, "key_ball": one.key_ball, "key_chance": one.key_chance}
            for one in reading.break_balls
        ],
        "bumps": [
            {
                "ball": one.ball,
                "off": one.off,
                "pocket": one.pocket,
                "stroke": _stroke(one.stroke),
                "place": list(one.place),
                "share": one.share,
                "before": one.before,
                "after": one.after,
            }
            for one in reading.bumps
        ],
        "colours": list(reading.free_colours),
        "reds": list(reading.open_reds),
        "sentences": reading_lines(reading, problem.game),
    }


def _read_ball(one: BallRead) -> JsonObject:
    return {
        "pockets": {
            pocket.pocket: {
                "chance": pocket.chance,
                "best": pocket.best,
                "when_gone": list(pocket.when_gone),
            }
            for pocket in one.pockets
        },
        "flags": list(one.flags),
    }


#: The commands: what they work out of a layout, and how that is read.
COMMANDS: dict[str, tuple[Work, Callable[[JsonObject], Iterable[str]]]] = {
    "simulate": (simulated, simulated_lines),
    "options": (options_report, option_lines),
    "plan": (plan_report, sentence_lines),
    "reading": (reading_report, sentence_lines),
}
