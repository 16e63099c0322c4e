"""Rooms for the simulated camera: cloth, cushions, wood and floor, the light, and where the camera stands.

To add one: a line in `ROOMS` or `CAMERAS`. All colours are red, green, blue, 0 to 255.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec
from ripasso.demo.filming.lens import Camera

Colour = tuple[int, int, int]


@dataclass(frozen=True)
class Room:
    """How a table and its room look. `light` scales all of it, `noise` is the sensor's, of 255."""

    cloth: Colour = (58, 112, 122)
    cushion: Colour = (46, 94, 104)
    wood: Colour = (74, 50, 40)
    floor: Colour = (30, 33, 38)
    line: Colour = (104, 150, 158)
    shirt: Colour = (120, 40, 48)
    lamp_height_m: float = 1.3  # above the middle of the table
    light: float = 1.0
    noise: float = 0.0
    gleam: tuple[float, float] = (190.0, 60.0)  # of the lamp on a ball: its light, and how sharp it is


def _colours(
    cloth: Colour, cushion: Colour, wood: Colour, floor: Colour, line: Colour, shirt: Colour
) -> JsonObject:
    return {"cloth": cloth, "cushion": cushion, "wood": wood, "floor": floor, "line": line, "shirt": shirt}


#: The room of the demo film has no noise and nobody in it.
PLAIN = Room()
POLISHED = (235.0, 220.0)
ROOMS: Mapping[str, Room] = {
    "teal": Room(noise=2.5, gleam=POLISHED),
    "green": Room(
        **_colours((28, 118, 60), (22, 100, 50), (60, 36, 26), (46, 40, 40), (190, 205, 190), (40, 44, 60)),
        lamp_height_m=2.2,  # a long table has its lamp higher
        noise=3.0,
        gleam=POLISHED,
    ),
    "blue": Room(
        **_colours(
            (38, 92, 150), (30, 78, 130), (40, 34, 34), (70, 66, 62), (150, 178, 210), (150, 150, 144)
        ),
        noise=3.0,
        gleam=POLISHED,
    ),
    "grey": Room(
        **_colours(
            (112, 118, 122), (94, 100, 104), (30, 28, 30), (56, 50, 46), (170, 176, 180), (60, 80, 50)
        ),
        light=0.9,
        noise=2.5,
        gleam=POLISHED,
    ),
    "dim": Room(
        **_colours((40, 104, 84), (32, 88, 70), (52, 38, 30), (18, 18, 22), (120, 160, 150), (90, 60, 30)),
        light=0.7,
        noise=4.0,
        gleam=POLISHED,
    ),
    "warm": Room(
        **_colours((96, 104, 56), (82, 90, 46), (70, 44, 30), (60, 48, 40), (180, 184, 140), (40, 60, 96)),
        lamp_height_m=1.6,
        noise=2.5,
        gleam=POLISHED,
    ),
}


def side_camera(spec: TableSpec, width: int = 1280, height: int = 720) -> Camera:
    """A camera beside the table, above a player's head, that sees all of it."""
    grown = spec.length / 2.54
    place = np.array([spec.length / 2, -1.75 * grown, 2.15 * grown])
    target = np.array([spec.length / 2, spec.width * 0.43, 0.0])
    return Camera.looking(place, target, focal_px=width * 0.91, width=width, height=height)


def end_camera(spec: TableSpec, width: int = 1280, height: int = 720) -> Camera:
    """A camera behind the head end, high up, that looks along the table."""
    place = np.array([-1.05 * spec.length, spec.width * 0.55, 0.95 * spec.length])
    target = np.array([spec.length * 0.42, spec.width / 2, 0.0])
    return Camera.looking(place, target, focal_px=width * 1.25, width=width, height=height)


def corner_camera(spec: TableSpec, width: int = 1280, height: int = 720) -> Camera:
    """A camera at a corner of the room, over the foot end on the right."""
    place = np.array([spec.length * 1.25, -0.95 * spec.length, 1.05 * spec.length])
    target = np.array([spec.length * 0.53, spec.width * 0.46, 0.0])
    return Camera.looking(place, target, focal_px=width * 0.98, width=width, height=height)


def phone_camera(spec: TableSpec, width: int = 720, height: int = 1280) -> Camera:
    """A telephone held upright over the head end: a picture that is taller than wide."""
    place = np.array([-0.7 * spec.length, spec.width * 0.47, 0.85 * spec.length])
    target = np.array([spec.length * 0.42, spec.width / 2, 0.0])
    return Camera.looking(place, target, focal_px=width * 1.5, width=width, height=height)


CAMERAS: Mapping[str, Callable[..., Camera]] = {
    "side": side_camera,
    "end": end_camera,
    "corner": corner_camera,
    "phone": phone_camera,
}
