"""The simulated camera: a perspective picture of a table with balls, their shadows and the cue.

A stand-in for a real camera, and named so. Points are in the table frame, metres; pixel (0, 0) is the
centre of the first pixel.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.demo.filming.empty_table import empty_table
from ripasso.demo.filming.lens import Camera, Floats
from ripasso.demo.filming.people import Limb
from ripasso.demo.filming.rooms import PLAIN, Room

Image = npt.NDArray[np.uint8]

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
#: The colours of snooker's balls are the trade's own as well.
SNOOKER_RGB: Mapping[str, tuple[int, int, int]] = {
    "cue": (246, 242, 228),
    "red": (178, 24, 28),
    "yellow": (236, 196, 40),
    "green": (14, 96, 62),
    "brown": (104, 60, 34),
    "blue": (24, 72, 172),
    "pink": (236, 150, 166),
    "black": (28, 28, 30),
}
NOISE_FRAMES = 8  # as many patterns of noise take turns


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


@dataclass(frozen=True)
class _Painted:
    """A ball as it is laid into pictures: its box, how much it covers, its colours times that."""

    box: tuple[int, int, int, int]
    cover: npt.NDArray[np.float32]
    colour: npt.NDArray[np.float32]


class SimulatedCamera:
    """Renders frames of one table through one camera, in one room."""

    def __init__(self, spec: TableSpec, camera: Camera, room: Room = PLAIN, rays: int = 3) -> None:
        """`rays` a side of each pixel make the edges of balls soft."""
        self.spec = spec
        self.camera = camera
        self.room = room
        self._lamp = np.array([spec.length / 2, spec.width / 2, room.lamp_height_m])
        self._empty = empty_table(spec, camera, room)
        self._digits = {name: _digit(name) for name in map(str, range(1, 16))}
        self._painted: dict[str, tuple[Place, Floats, _Painted | None]] = {}
        self._still: tuple[dict[str, Place], npt.NDArray[np.float32]] | None = None
        self._rays = rays
        self._last: dict[str, Place] = {}
        self._noise = _noise_frames(camera, room.noise)
        self._count = 0

    def frame(
        self,
        places: Mapping[str, Place],
        turned: Mapping[str, Floats],
        cue: Cue | None = None,
        people: Sequence[Limb] = (),
    ) -> Image:
        """The picture (height, width, 3), RGB, of balls at their places, a cue, and people's limbs."""
        picture = self._with_shadows(places)
        eye = self.camera.place
        parts: list[tuple[float, str | Limb]] = [
            (float(np.hypot(*(eye[:2] - place))), name) for name, place in places.items()
        ]
        parts += [
            (float(np.hypot(*(eye[:2] - np.array(limb.middle[:2])))), limb)
            for limb in people
            if not self._below(limb)
        ]
        for _, part in sorted(parts, key=lambda found: -found[0]):
            if isinstance(part, Limb):
                part.draw(picture, self.camera, self.room.light)
            else:
                self._ball(picture, part, places[part], turned[part])
        if cue is not None:
            self._cue(picture, cue)
        return self._finished(picture)

    def _below(self, limb: Limb) -> bool:
        """Whether the table hides a limb: below its rail, on the far side."""
        centre = np.array([self.spec.length / 2, self.spec.width / 2])
        to_eye = self.camera.place[:2] - centre
        return float(limb.middle[2]) < 0.05 and float((limb.middle[:2] - centre) @ to_eye) < 0

    def _finished(self, picture: npt.NDArray[np.float32]) -> Image:
        if self._noise:
            self._count += 1
            picture = picture + self._noise[self._count % len(self._noise)][..., None]
        return np.asarray(np.clip(picture + 0.5, 0, 255), dtype=np.uint8)

    def _with_shadows(self, places: Mapping[str, Place]) -> npt.NDArray[np.float32]:
        """The table with the shadows of all balls; those of balls that lie still are kept."""
        still = {name: place for name, place in places.items() if self._last.get(name) == place}
        self._last = dict(places)
        if self._still is None or self._still[0] != still:
            picture = self._empty.astype(np.float32)
            for place in still.values():
                self._shadow(picture, place)
            self._still = (still, picture)
        picture = self._still[1].copy()
        for name, place in places.items():
            if name not in still:
                self._shadow(picture, place)
        return picture

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
        centre = np.array(place) + away * radius / self.room.lamp_height_m
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
        kept = self._painted.get(name)
        if kept is None or kept[0] != place or kept[1] is not turned:
            kept = (place, turned, self._paint_ball(name, place, turned))
            self._painted[name] = kept
        painted = kept[2]
        if painted is not None:
            left, top, right, bottom = painted.box
            patch = picture[top:bottom, left:right]
            patch[:] = patch * (1 - painted.cover) + painted.colour

    def _paint_ball(self, name: str, place: Place, turned: Floats) -> _Painted | None:
        radius = self.spec.ball_radius
        centre = np.array([place[0], place[1], radius])
        corners = centre + radius * 1.25 * np.array(list(itertools.product((-1, 1), repeat=3)))
        left, top, right, bottom = self._patch(corners)
        if right <= left or bottom <= top:
            return None
        # Several rays a pixel make the edge soft.
        count = self._rays
        offsets = (np.arange(count) - (count - 1) / 2) / count
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
        shape = (bottom - top, count, right - left, count)
        cover = hit.reshape(shape).mean(axis=(1, 3))[..., None]
        mean = colour.reshape(*shape, 3).mean(axis=(1, 3))
        return _Painted((left, top, right, bottom), cover.astype(np.float32), mean.astype(np.float32))

    def _lit(self, name: str, normal: Floats, centre: Floats, rays: Floats, turned: Floats) -> Floats:
        """The ball's colour under the lamp: painted surface, soft light, one highlight."""
        to_lamp = self._lamp - centre
        to_lamp /= np.linalg.norm(to_lamp)
        diffuse = np.clip(normal @ to_lamp, 0, 1)
        from_cloth = np.clip(-normal[..., 2], 0, 1) * 0.14
        mirrored = rays - 2 * np.sum(rays * normal, axis=-1, keepdims=True) * normal
        strength, sharp = self.room.gleam
        shine = np.clip(mirrored @ to_lamp, 0, 1) ** sharp
        paint = self._paint(name, normal @ turned)
        light = 0.34 + 0.66 * diffuse
        lit = (
            paint * light[..., None]
            + from_cloth[..., None] * np.array(self.room.cloth)
            + strength * shine[..., None]
        )
        return np.asarray(lit * min(1.0, self.room.light))

    def _paint(self, name: str, direction: Floats) -> Floats:
        """The painted colour at directions (..., 3) in the ball's own frame."""
        if self.spec.snooker:
            return np.broadcast_to(np.array(SNOOKER_RGB[_kind(name)], dtype=np.float64), direction.shape)
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


def _kind(name: str) -> str:
    return "red" if name.startswith("red") else name


def _noise_frames(camera: Camera, strength: float) -> list[npt.NDArray[np.float32]]:
    """Some frames of a sensor's noise: grains a little larger than a pixel."""
    if strength <= 0:
        return []
    random = np.random.default_rng(7)
    frames = (
        random.normal(0, strength * 1.6, (camera.height, camera.width)).astype(np.float32)
        for _ in range(NOISE_FRAMES)
    )
    return [np.asarray(cv2.GaussianBlur(frame, (0, 0), 0.6)) for frame in frames]


def _digit(name: str) -> Floats:
    """The number of a ball as a mask of ink (64, 64), 0 to 1."""
    mask = np.zeros((64, 64), dtype=np.uint8)
    scale = 1.5 if len(name) == 1 else 1.0
    (width, height), _ = cv2.getTextSize(name, cv2.FONT_HERSHEY_SIMPLEX, scale, 4)
    at = ((64 - width) // 2, (64 + height) // 2)
    cv2.putText(mask, name, at, cv2.FONT_HERSHEY_SIMPLEX, scale, 255, 4, cv2.LINE_AA)
    return mask.astype(np.float64) / 255
