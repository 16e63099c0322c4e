"""What the players of the demo film meant to do with the cue ball, by the number of the shot."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ripasso.core.geometry.timed_way import few_places
from ripasso.core.json_data import JsonObject
from ripasso.core.table.places import Place

PATH_WITHIN_M = 0.004


def _plan(ball: str, pocket: str, aim: Sequence[float], radius: float, **more: Any) -> JsonObject:
    zone = {"circle": {"centre": list(aim), "radius": radius}}
    return {"next_ball": ball, "next_pocket": pocket, "aim_point": list(aim), "zone": zone, **more}


FILM_PLANS: Mapping[int, JsonObject] = {
    2: _plan(
        "2",
        "foot_right",
        (0.839, 1.04),
        0.12,
        route=[[1.34, 1.07], [0.459, 1.2414], [0.0286, 1.187], [0.839, 1.04]],
        cushions=["left", "head"],
    ),
    3: _plan("3", "side_left", (2.307, 0.414), 0.12, angle_wanted_deg=[8, 26]),
    5: _plan(
        "4",
        "head_left",
        (2.019, 0.133),
        0.15,
        route=[[1.89, 0.8], [1.743, 1.2414], [2.019, 0.133]],
        cushions=["left"],
    ),
    8: _plan("5", "foot_right", (2.43, 1.005), 0.1, angle_wanted_deg=[5, 20]),
    9: _plan(
        "6",
        "foot_left",
        (1.297, 0.214),
        0.15,
        angle_wanted_deg=[20, 38],
        route=[[2.41, 0.47], [1.787, 0.0286], [1.297, 0.214]],
        cushions=["right"],
    ),
    11: _plan(
        "9",
        "foot_left",
        (1.997, 0.53),
        0.1,
        route=[[2.13, 0.22], [2.5114, 0.353], [1.997, 0.53]],
        cushions=["foot"],
    ),
}


def cue_path(places: Sequence[Place | None], start_s: float, frame_s: float) -> list[list[float]]:
    """The way of the cue ball as times and places, from its place in every frame, as a reading gives it."""
    seen = [(start_s + i * frame_s, *place) for i, place in enumerate(places) if place is not None]
    return [[round(time_s, 3), x, y] for time_s, x, y in few_places(seen, PATH_WITHIN_M)]
