"""The table without balls, as the simulated camera sees it: drawn from the floor up, far parts first."""

from __future__ import annotations

import math

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec, pocket_centres
from ripasso.core.table.layouts import snooker_spots
from ripasso.demo.filming.lens import Camera
from ripasso.demo.filming.rooms import Room

Image = npt.NDArray[np.uint8]

SUPERSAMPLE = 2
RAIL_HEIGHT_M = 0.042
NOSE_HEIGHT_M = 0.036  # 63.5 % of a pool ball's diameter (WPA equipment specification, from memory)
CUSHION_WIDTH_M = 0.050
RAIL_WIDTH_M = 0.075
POCKET_SHARE = 0.507  # the radius of a pocket's hole, in corner mouths


def empty_table(spec: TableSpec, camera: Camera, room: Room) -> Image:
    """The table without balls, drawn from the floor up at twice the size and then made smaller."""
    big = Camera(
        camera.width * SUPERSAMPLE,
        camera.height * SUPERSAMPLE,
        camera.focal_px * SUPERSAMPLE,
        camera.rotation,
        camera.translation,
    )
    canvas = np.empty((big.height, big.width, 3), dtype=np.uint8)
    canvas[:] = room.floor
    drawer = _Drawer(canvas, big, room)
    length, width = spec.length, spec.width
    nose_height = NOSE_HEIGHT_M if not spec.snooker else 0.635 * 2 * spec.ball_radius
    outer, nose = CUSHION_WIDTH_M + RAIL_WIDTH_M, CUSHION_WIDTH_M
    drawer.box(-outer, -outer, length + outer, width + outer, RAIL_HEIGHT_M, room.wood)
    drawer.wall(-outer, length + outer, -outer, RAIL_HEIGHT_M, -0.16, _darker(room.wood, 0.7))
    drawer.box(-nose, -nose, length + nose, width + nose, RAIL_HEIGHT_M - 0.001, room.cushion)
    drawer.bed(spec)
    for x in (0.0, length):
        drawer.side(x, width, nose_height, _darker(room.cushion, 0.74))
    drawer.wall(0, length, width, nose_height, 0.0, _darker(room.cushion, 0.8))
    hole = POCKET_SHARE * spec.corner_mouth
    for x, y in pocket_centres(spec).values():
        drawer.disc(x, y, RAIL_HEIGHT_M, hole + 0.008, _darker(room.wood, 0.8))
        drawer.disc(x, y, RAIL_HEIGHT_M - 0.004, hole, (12, 12, 13))
    if not spec.snooker:
        _draw_sights(drawer, spec)
    small = cv2.resize(canvas, (camera.width, camera.height), interpolation=cv2.INTER_AREA)
    return np.asarray(np.clip(small * min(1.0, room.light), 0, 255), dtype=np.uint8)


def _darker(colour: tuple[int, int, int], share: float) -> tuple[int, int, int]:
    red, green, blue = (round(value * share) for value in colour)
    return red, green, blue


def _draw_sights(drawer: _Drawer, spec: TableSpec) -> None:
    length, width, nose = spec.length, spec.width, CUSHION_WIDTH_M
    for i in (1, 2, 3, 5, 6, 7):
        for y in (-nose - RAIL_WIDTH_M / 2, width + nose + RAIL_WIDTH_M / 2):
            drawer.disc(i * length / 8, y, RAIL_HEIGHT_M, 0.008, (226, 220, 200))
    for i in (1, 2, 3):
        for x in (-nose - RAIL_WIDTH_M / 2, length + nose + RAIL_WIDTH_M / 2):
            drawer.disc(x, i * width / 4, RAIL_HEIGHT_M, 0.008, (226, 220, 200))


class _Drawer:
    """Paints flat parts of the table, far ones first."""

    def __init__(self, canvas: Image, camera: Camera, room: Room) -> None:
        self._canvas, self._camera, self._room = canvas, camera, room

    def polygon(self, points: npt.ArrayLike, colour: tuple[int, int, int]) -> None:
        pixels = np.round(self._camera.project(points) * 16).astype(np.int32)
        cv2.fillPoly(self._canvas, [pixels], colour, cv2.LINE_AA, 4)

    def box(self, x0: float, y0: float, x1: float, y1: float, z: float, colour: tuple[int, int, int]) -> None:
        self.polygon([(x0, y0, z), (x1, y0, z), (x1, y1, z), (x0, y1, z)], colour)

    def wall(
        self, x0: float, x1: float, y: float, top: float, bottom: float, colour: tuple[int, int, int]
    ) -> None:
        self.polygon([(x0, y, top), (x1, y, top), (x1, y, bottom), (x0, y, bottom)], colour)

    def side(self, x: float, y: float, top: float, colour: tuple[int, int, int]) -> None:
        """The inner face of an end cushion, seen from the middle of the table."""
        self.polygon([(x, 0, top), (x, y, top), (x, y, 0), (x, 0, 0)], colour)

    def disc(self, x: float, y: float, z: float, radius: float, colour: tuple[int, int, int]) -> None:
        turn = np.linspace(0, 2 * math.pi, 48, endpoint=False)
        ring = np.stack([x + radius * np.cos(turn), y + radius * np.sin(turn), np.full(48, z)], axis=1)
        self.polygon(ring, colour)

    def bed(self, spec: TableSpec) -> None:
        """The cloth between the noses, brighter below the lamp, with the head string and foot spot."""
        corners = [(0, 0, 0), (spec.length, 0, 0), (spec.length, spec.width, 0), (0, spec.width, 0)]
        mask = np.zeros(self._canvas.shape[:2], dtype=np.uint8)
        pixels = np.round(self._camera.project(corners) * 16).astype(np.int32)
        cv2.fillPoly(mask, [pixels], 255, cv2.LINE_AA, 4)
        v, u = np.mgrid[0 : self._canvas.shape[0], 0 : self._canvas.shape[1]]
        rays = self._camera.rays(np.stack([u, v], axis=-1))
        origin = self._camera.place
        with np.errstate(divide="ignore", invalid="ignore"):
            ground = origin[:2] + rays[..., :2] * (-origin[2] / rays[..., 2])[..., None]
        off_x = (ground[..., 0] - spec.length / 2) / spec.length
        off_y = (ground[..., 1] - spec.width / 2) / spec.width
        light = 1.16 - 0.42 * np.clip(off_x**2 + 0.7 * off_y**2, 0, 1)
        lit = np.clip(np.array(self._room.cloth) * light[..., None], 0, 255)
        share = (mask / 255.0)[..., None]
        self._canvas[:] = np.where(share > 0, self._canvas * (1 - share) + lit * share, self._canvas)
        if spec.snooker:
            self._baulk(spec)
            return
        self.line([(spec.length / 4, 0, 0), (spec.length / 4, spec.width, 0)])
        self.disc(0.75 * spec.length, spec.width / 2, 0, 0.007, _darker(self._room.cloth, 0.48))

    def _baulk(self, spec: TableSpec) -> None:
        """The baulk line, the D and the spots."""
        spots = snooker_spots(spec)
        (x, y), radius = spots["brown"], abs(spots["green"][1] - spots["brown"][1])
        self.line([(x, 0, 0), (x, spec.width, 0)])
        turn = np.linspace(math.pi / 2, 1.5 * math.pi, 60)
        self.line(np.stack([x + radius * np.cos(turn), y + radius * np.sin(turn), np.zeros(60)], axis=1))
        for place in spots.values():
            self.disc(*place, 0, 0.006, _darker(self._room.cloth, 0.5))

    def line(self, points: npt.ArrayLike) -> None:
        """A line on the cloth."""
        pixels = np.round(self._camera.project(points) * 16).astype(np.int32)
        cv2.polylines(self._canvas, [pixels], False, self._room.line, 2, cv2.LINE_AA, 4)
