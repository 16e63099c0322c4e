"""The commands that play a layout out: what a stroke does, and what else could be played."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from math import degrees

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.physics.strokes import Stroke
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
from ripasso.report_lines import option_lines, simulated_lines
from ripasso.review.present.option_words import option_sentence

Work = Callable[[JsonMapping, int, int, str | None], JsonObject]

#: More repetitions than anybody waits for.
MOST = 1_000_000


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
        "player": {
            "aim_spread_mrad": spreads.aim_mrad,
            "speed_spread": spreads.speed,
            "tip_across_mm": spreads.tip_across_mm,
            "tip_up_mm": spreads.tip_up_mm,
            "from": spreads.source,
        },
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
        **{name: promise[name] for name in ("pot", "foul", "scratch", "leave", "left_to_opponent", "rest")},
        "both": option.both,
        "value": share_report(option.value),
        "tied_with_best": option.tied,
        "sentence": option_sentence(option, game),
    }


#: The commands: what they work out of a layout, and how that is read.
COMMANDS: dict[str, tuple[Work, Callable[[JsonObject], Iterable[str]]]] = {
    "simulate": (simulated, simulated_lines),
    "options": (options_report, option_lines),
}
