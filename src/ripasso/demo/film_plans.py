"""What the players of the demo film meant to do with the cue ball, by the number of the shot."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ripasso.core.json_data import JsonObject
from ripasso.core.table.places import Place
from ripasso.review.table.planning import simplified

PATH_WITHIN_M = 0.004


def _plan(ball: str, pocket: str, aim: Sequence[float], radius: float, **more: Any) -> JsonObject:
    zone = {"circle": {"centre": list(aim), "radius": radius}}
    return {"next_ball": ball, "next_pocket": pocket, "aim_point": list(aim), "zone": zone, **more}


FILM_PLANS: Mapping[int, JsonObject] = {
    2: _plan("2", "foot_right", (1.6, 0.81), 0.1),
    3: _plan("3", "foot_left", (2.13, 0.41), 0.12, angle_wanted_deg=[20, 40]),
    5: _plan(
        "4",
        "side_left",
        (0.45, 0.62),
        0.15,
        route=[[1.21, 0.07], [0.0286, 0.26], [0.45, 0.62]],
        cushions=["head"],
    ),
    8: _plan("5", "foot_right", (2.34, 0.46), 0.1, angle_wanted_deg=[5, 20]),
    9: _plan(
        "6",
        "head_left",
        (2.44, 0.278),
        0.06,
        angle_wanted_deg=[40, 52],
        route=[[2.43, 0.32], [2.5114, 0.3], [2.44, 0.278]],
        cushions=["foot"],
    ),
    11: _plan(
        "9",
        "foot_left",
        (1.53, 0.75),
        0.2,
        route=[[1.67, 0.87], [1.7, 1.2414], [1.64, 0.0286], [1.57, 1.2414], [1.53, 0.75]],
        cushions=["left", "right", "left"],
    ),
}


def cue_path(places: Sequence[Place | None], start_s: float, frame_s: float) -> list[list[float]]:
    """The way of the cue ball as times and places, from its place in every frame; few points."""
    seen = [(i, place) for i, place in enumerate(places) if place is not None]
    kept = set(simplified([place for _, place in seen], PATH_WITHIN_M))
    return [[round(start_s + i * frame_s, 3), place[0], place[1]] for i, place in seen if place in kept]
