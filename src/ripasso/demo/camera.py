"""The simulated camera: a perspective picture of a table with balls, their shadows and the cue.

A stand-in for a real camera, and named so. Points are in the table frame, metres; pixel (0, 0) is the
centre of the first pixel.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec, pocket_centres

Floats = npt.NDArray[np.float64]
Image = npt.NDArray[np.uint8]
Place = tuple[float, float]

SUPERSAMPLE = 2
RAIL_HEIGHT_M = 0.042
NOSE_HEIGHT_M = 0.036  # 63.5 % of a pool ball's diameter (WPA equipment specification, from memory)
CUSHION_WIDTH_M = 0.050
RAIL_WIDTH_M = 0.075
LAMP_HEIGHT_M = 1.3

# Red, green, blue. The colours of pool balls are the trade's own.
BALL_RGB: Mapping[str, tuple[int, int, int]] = {
    "cue": (246, 242, 228),
    "1": (233, 178, 30),
    "2": (32, 76, 160),
    "3": (196, 44, 40),
    "4": (92, 54, 132),
    "5": (226, 112, 32),
    "6": (24, 112, 70),
    "7": (120, 30, 44),
    "8": (30, 30, 32),
}
IVORY = (244, 240, 226)
CLOTH = (58, 112, 122)
CUSHION = (46, 94, 104)
WOOD = (74, 50, 40)
FLOOR = (30, 33, 38)


@dataclass(frozen=True)
class Camera:
    """A pinhole camera: X_cam = rotation @ X + translation (x right, y down, z forward)."""

    width: int
    height: int
    focal_px: float
    rotation: Floats
    translation: Floats

    @classmethod
    def looking(cls, place: Floats, target: Floats, focal_px: float, width: int, height: int) -> Camera:
        """A level camera at `place` that has `target` in the middle of its picture."""
        forward = (target - place) / np.linalg.norm(target - place)
        right = np.cross(forward, (0.0, 0.0, 1.0))
        right /= np.linalg.norm(right)
        rotation = np.stack([right, np.cross(forward, right), forward])
        return cls(width, height, focal_px, rotation, -rotation @ place)

    @property
    def place(self) -> Floats:
        """Where the camera stands."""
        return np.asarray(-self.rotation.T @ self.translation)

    def project(self, points: npt.ArrayLike) -> Floats:
        """Pixels (n, 2) of points (n, 3)."""
        seen = np.asarray(points, dtype=np.float64) @ self.rotation.T + self.translation
        middle = ((self.width - 1) / 2, (self.height - 1) / 2)
        return np.asarray(seen[:, :2] / seen[:, 2:] * self.focal_px + middle)

    def rays(self, pixels: npt.ArrayLike) -> Floats:
        """Directions (..., 3) in the table frame, not normalised, of pixels (..., 2)."""
        middle = np.array([(self.width - 1) / 2, (self.height - 1) / 2])
        flat = (np.asarray(pixels, dtype=np.float64) - middle) / self.focal_px
        directions = np.concatenate([flat, np.ones_like(flat[..., :1])], axis=-1) @ self.rotation
        return np.asarray(directions)

    def described(self) -> dict[str, object]:
        """The camera as the truth file states it."""
        return {
            "focal_px": self.focal_px,
            "centre": [(self.width - 1) / 2, (self.height - 1) / 2],
            "R": self.rotation.tolist(),
            "t": self.translation.tolist(),
            "image_size": [self.width, self.height],
        }


def side_camera(spec: TableSpec, width: int = 1280, height: int = 720) -> Camera:
    """A camera beside the table, above a player's head, that sees all of it."""
    place = np.array([spec.length / 2, -1.75, 2.15])
    target = np.array([spec.length / 2, spec.width * 0.43, 0.0])
    return Camera.looking(place, target, focal_px=width * 0.91, width=width, height=height)


@dataclass(frozen=True)
class Cue:
    """The cue on its way: the tip's place, the direction of the shot (radians)."""

    tip: Place
    aim: float


class Spin:
    """How each ball is turned, carried along as it rolls."""

    def __init__(self, radius: float) -> None:
        self._radius = radius
        self._turned: dict[str, Floats] = {}
        self._last: dict[str, Place] = {}

    def follow(self, places: Mapping[str, Place]) -> dict[str, Floats]:
        """Roll every ball from its last place to this one; returns the rotation of each (3, 3)."""
        for name, place in places.items():
            turned = self._turned.setdefault(name, _first_turn(name))
            before = self._last.get(name, place)
            self._turned[name] = _rolled(turned, before, place, self._radius)
        self._last = dict(places)
        return {name: self._turned[name] for name in places}


def _first_turn(name: str) -> Floats:
    """Each ball begins with its number up and towards the side camera, turned a little its own way."""
    lean = 0.5824  # radians from straight up, towards the camera
    spot = np.array([0.0, -math.sin(lean), math.cos(lean)])
    upright = np.array([0.0, math.cos(lean), math.sin(lean)])
    facing = np.stack([spot, np.cross(upright, spot), upright], axis=1)
    sway = 0.12 * (sum(name.encode()) % 7) - 0.36
    return np.asarray(_rotation(np.array([0.0, 0.0, 1.0]), sway) @ facing)


def _rolled(turned: Floats, before: Place, after: Place, radius: float) -> Floats:
    dx, dy = after[0] - before[0], after[1] - before[1]
    way = math.hypot(dx, dy)
    if way < 1e-7 or way > 0.5:  # a longer jump is a ball placed by hand
        return turned
    return np.asarray(_rotation(np.array([-dy, dx, 0.0]) / way, way / radius) @ turned)


def _rotation(axis: Floats, angle: float) -> Floats:
    x, y, z = axis
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    turn = np.eye(3) + math.sin(angle) * cross + (1 - math.cos(angle)) * (cross @ cross)
    return np.asarray(turn)


class SimulatedCamera:
    """Renders frames of one table through one camera."""

    def __init__(self, spec: TableSpec, camera: Camera) -> None:
        self.spec = spec
        self.camera = camera
        self._lamp = np.array([spec.length / 2, spec.width / 2, LAMP_HEIGHT_M])
        self._empty = _empty_table(spec, camera)
        self._digits = {name: _digit(name) for name in map(str, range(1, 16))}

    def frame(
        self, places: Mapping[str, Place], turned: Mapping[str, Floats], cue: Cue | None = None
    ) -> Image:
        """The picture (height, width, 3), RGB, of balls at their places."""
        picture = self._empty.astype(np.float32)
        for place in places.values():
            self._shadow(picture, place)
        order = sorted(places, key=lambda name: -float(np.hypot(*(self.camera.place[:2] - places[name]))))
        for name in order:
            self._ball(picture, name, places[name], turned[name])
        if cue is not None:
            self._cue(picture, cue)
        return np.asarray(np.clip(picture + 0.5, 0, 255), dtype=np.uint8)

    def _patch(self, places: Floats) -> tuple[int, int, int, int]:
        """The pixel box (left, top, right, bottom) around projected points, inside the picture."""
        pixels = self.camera.project(places)
        left, top = np.floor(pixels.min(axis=0)).astype(int) - 1
        right, bottom = np.ceil(pixels.max(axis=0)).astype(int) + 2
        return (
            max(0, left),
            max(0, top),
            min(self.camera.width, right),
            min(self.camera.height, bottom),
        )

    def _shadow(self, picture: npt.NDArray[np.float32], place: Place) -> None:
        radius = self.spec.ball_radius
        away = np.array(place) - self._lamp[:2]
        centre = np.array(place) + away * radius / LAMP_HEIGHT_M
        reach = 2.2 * radius
        corners = [(centre[0] + sx * reach, centre[1] + sy * reach, 0.0) for sx in (-1, 1) for sy in (-1, 1)]
        left, top, right, bottom = self._patch(np.array(corners))
        if right <= left or bottom <= top:
            return
        u, v = np.meshgrid(np.arange(left, right), np.arange(top, bottom))
        rays = self.camera.rays(np.stack([u, v], axis=-1))
        origin = self.camera.place
        ground = origin[:2] + rays[..., :2] * (-origin[2] / rays[..., 2])[..., None]
        distance = np.hypot(ground[..., 0] - centre[0], ground[..., 1] - centre[1]) / radius
        dark = 0.62 * np.clip((1.75 - distance) / 1.1, 0, 1) ** 1.5
        picture[top:bottom, left:right] *= (1 - dark)[..., None].astype(np.float32)

    def _ball(self, picture: npt.NDArray[np.float32], name: str, place: Place, turned: Floats) -> None:
        radius = self.spec.ball_radius
        centre = np.array([place[0], place[1], radius])
        corners = [
            centre + radius * 1.25 * np.array([sx, sy, sz])
            for sx in (-1, 1)
            for sy in (-1, 1)
            for sz in (-1, 1)
        ]
        left, top, right, bottom = self._patch(np.array(corners))
        if right <= left or bottom <= top:
            return
        # Three by three rays a pixel make the edge soft.
        offsets = (np.arange(3) - 1) / 3
        u = (np.arange(left, right)[:, None] + offsets).ravel()
        v = (np.arange(top, bottom)[:, None] + offsets).ravel()
        rays = self.camera.rays(np.stack(np.meshgrid(u, v), axis=-1))
        rays /= np.linalg.norm(rays, axis=-1, keepdims=True)
        to_ball = centre - self.camera.place
        along = rays @ to_ball
        inside = radius**2 - (to_ball @ to_ball - along**2)
        hit = inside > 0
        depth = along - np.sqrt(np.where(hit, inside, 0))
        normal = (rays * depth[..., None] - to_ball) / radius
        colour = self._lit(name, normal, centre, rays, turned) * hit[..., None]
        shape = (bottom - top, 3, right - left, 3)
        cover = hit.reshape(shape).mean(axis=(1, 3))[..., None]
        mean = colour.reshape(*shape, 3).mean(axis=(1, 3))
        patch = picture[top:bottom, left:right]
        patch[:] = patch * (1 - cover) + mean

    def _lit(self, name: str, normal: Floats, centre: Floats, rays: Floats, turned: Floats) -> Floats:
        """The ball's colour under the lamp: painted surface, soft light, one highlight."""
        to_lamp = self._lamp - centre
        to_lamp /= np.linalg.norm(to_lamp)
        diffuse = np.clip(normal @ to_lamp, 0, 1)
        from_cloth = np.clip(-normal[..., 2], 0, 1) * 0.14
        mirrored = rays - 2 * np.sum(rays * normal, axis=-1, keepdims=True) * normal
        shine = np.clip(mirrored @ to_lamp, 0, 1) ** 60
        paint = self._paint(name, normal @ turned)
        light = 0.34 + 0.66 * diffuse
        return np.asarray(
            paint * light[..., None] + from_cloth[..., None] * np.array(CLOTH) + 190 * shine[..., None]
        )

    def _paint(self, name: str, direction: Floats) -> Floats:
        """The painted colour at directions (..., 3) in the ball's own frame."""
        base = np.array(BALL_RGB.get(name) or BALL_RGB.get(str(int(name) - 8), IVORY), dtype=np.float64)
        paint = np.broadcast_to(base, direction.shape).copy()
        if name == "cue":
            return paint
        if int(name) > 8:
            paint[np.abs(direction[..., 2]) > 0.52] = IVORY
        for side in (1.0, -1.0):
            facing = direction[..., 0] * side
            spot = facing > math.cos(0.46)
            paint[spot] = IVORY
            across = direction[..., 1] * side
            column = np.clip((across / 0.44 * 0.5 + 0.5) * 63, 0, 63).astype(int)
            row = np.clip((-direction[..., 2] / 0.44 * 0.5 + 0.5) * 63, 0, 63).astype(int)
            ink = self._digits[name][row, column][..., None]
            paint = np.where(spot[..., None], paint * (1 - ink) + 24 * ink, paint)
        return paint

    def _cue(self, picture: npt.NDArray[np.float32], cue: Cue) -> None:
        back = np.array([-math.cos(cue.aim), -math.sin(cue.aim)])
        tip = np.array([*cue.tip, self.spec.ball_radius])
        butt = np.array([*(np.array(cue.tip) + back * 1.2), self.spec.ball_radius + 0.16])
        ferrule = tip + (butt - tip) * 0.016
        flat = np.ascontiguousarray(np.clip(picture, 0, 255).astype(np.uint8))
        ends = np.round(self.camera.project([tip, ferrule, butt]) * 16).astype(int)
        cv2.line(flat, tuple(ends[1]), tuple(ends[2]), (196, 158, 108), 5, cv2.LINE_AA, 4)
        cv2.line(flat, tuple(ends[0]), tuple(ends[1]), (232, 230, 222), 5, cv2.LINE_AA, 4)
        picture[:] = flat


def _digit(name: str) -> Floats:
    """The number of a ball as a mask of ink (64, 64), 0 to 1."""
    mask = np.zeros((64, 64), dtype=np.uint8)
    scale = 1.5 if len(name) == 1 else 1.0
    (width, height), _ = cv2.getTextSize(name, cv2.FONT_HERSHEY_SIMPLEX, scale, 4)
    at = ((64 - width) // 2, (64 + height) // 2)
    cv2.putText(mask, name, at, cv2.FONT_HERSHEY_SIMPLEX, scale, 255, 4, cv2.LINE_AA)
    return mask.astype(np.float64) / 255


def _empty_table(spec: TableSpec, camera: Camera) -> Image:
    """The table without balls, drawn from the floor up at twice the size and then made smaller."""
    big = Camera(
        camera.width * SUPERSAMPLE,
        camera.height * SUPERSAMPLE,
        camera.focal_px * SUPERSAMPLE,
        camera.rotation,
        camera.translation,
    )
    canvas = np.empty((big.height, big.width, 3), dtype=np.uint8)
    canvas[:] = FLOOR
    drawer = _Drawer(canvas, big)
    length, width = spec.length, spec.width
    outer, nose = CUSHION_WIDTH_M + RAIL_WIDTH_M, CUSHION_WIDTH_M
    drawer.box(-outer, -outer, length + outer, width + outer, RAIL_HEIGHT_M, WOOD)
    drawer.wall(-outer, length + outer, -outer, RAIL_HEIGHT_M, -0.16, (52, 35, 29))
    drawer.box(-nose, -nose, length + nose, width + nose, RAIL_HEIGHT_M - 0.001, CUSHION)
    drawer.bed(spec)
    for x in (0.0, length):
        drawer.side(x, width, NOSE_HEIGHT_M, (33, 70, 79))
    drawer.wall(0, length, width, NOSE_HEIGHT_M, 0.0, (36, 76, 86))
    for x, y in pocket_centres(spec).values():
        drawer.disc(x, y, RAIL_HEIGHT_M, 0.066, (58, 40, 33))
        drawer.disc(x, y, RAIL_HEIGHT_M - 0.004, 0.058, (12, 12, 13))
    for i in (1, 2, 3, 5, 6, 7):
        for y in (-nose - RAIL_WIDTH_M / 2, width + nose + RAIL_WIDTH_M / 2):
            drawer.disc(i * length / 8, y, RAIL_HEIGHT_M, 0.008, (226, 220, 200))
    for i in (1, 2, 3):
        for x in (-nose - RAIL_WIDTH_M / 2, length + nose + RAIL_WIDTH_M / 2):
            drawer.disc(x, i * width / 4, RAIL_HEIGHT_M, 0.008, (226, 220, 200))
    small = cv2.resize(canvas, (camera.width, camera.height), interpolation=cv2.INTER_AREA)
    return np.asarray(small, dtype=np.uint8)


class _Drawer:
    """Paints flat parts of the table, far ones first."""

    def __init__(self, canvas: Image, camera: Camera) -> None:
        self._canvas, self._camera = canvas, camera

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
        lit = np.clip(np.array(CLOTH) * light[..., None], 0, 255)
        share = (mask / 255.0)[..., None]
        self._canvas[:] = np.where(share > 0, self._canvas * (1 - share) + lit * share, self._canvas)
        string = [(spec.length / 4, 0, 0), (spec.length / 4, spec.width, 0)]
        ends = np.round(self._camera.project(string) * 16).astype(int)
        cv2.line(self._canvas, tuple(ends[0]), tuple(ends[1]), (104, 150, 158), 2, cv2.LINE_AA, 4)
        self.disc(0.75 * spec.length, spec.width / 2, 0, 0.007, (28, 52, 58))
