"""Which ball a ball is: by its colour, and in pool by how much white it shows.

Colours are taken relative to the cue ball's white, so that the lamp does not matter. The nominal colours are
the trade's own (common practice, no source); what a recording shows, and what is corrected, teaches them.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.reading.detection.picture import Bytes

Vector = npt.NDArray[np.float64]

#: Red, green, blue as white light shows them.
SNOOKER: Mapping[str, tuple[int, int, int]] = {
    "cue": (245, 240, 225),
    "red": (190, 20, 25),
    "yellow": (240, 200, 40),
    "green": (0, 100, 60),
    "brown": (110, 60, 30),
    "blue": (20, 70, 180),
    "pink": (240, 150, 170),
    "black": (25, 25, 25),
}
POOL: Mapping[str, tuple[int, int, int]] = {
    "cue": (245, 240, 225),
    "1": (235, 180, 35),
    "2": (30, 70, 165),
    "3": (200, 42, 40),
    "4": (88, 48, 130),
    "5": (232, 112, 35),
    "6": (22, 110, 70),
    "7": (122, 32, 45),
    "8": (28, 28, 28),
}
#: A pixel is white from this light on (of 100) and below this colourfulness, in CIE Lab.
WHITE_LIGHT, WHITE_CHROMA = 42.0, 20.0
#: Pixels with at least this share of the ball's full colourfulness show its paint.
PAINT_SHARE = 0.6
#: Less of a ball than this is no paint: at the rim of a white ball the picture mixes the cloth in.
LEAST_PAINT = 0.12
#: White shares of a cue ball, a striped and a solid ball, and how far they spread.
WHITE_SHARE: Mapping[str, tuple[float, float]] = {
    "cue": (0.97, 0.08),
    "stripe": (0.5, 0.18),
    "solid": (0.1, 0.1),
}
#: How far apart two shades of one colour may be (light counts by `LIGHT_COUNTS`), in CIE Lab.
SHADES, LIGHT_COUNTS = 14.0, 0.6


@dataclass(frozen=True)
class Look:
    """What a ball looks like: colour (Lab) apart from its white, and the share of white."""

    colour: tuple[float, float, float]
    white: float


def ball_look(
    picture: Bytes,
    disc: tuple[float, float, float],
    white: Vector,
    nearer: Iterable[tuple[float, float, float]] = (),
) -> Look | None:
    """The look of a disc (column, row, radius) of a picture (RGB); None where too little of it is seen.

    `white` (3,) is the colour of the cue ball's light side; `nearer` are discs of balls that stand before it.
    """
    u, v, radius = disc
    left, top = max(0, int(u - radius)), max(0, int(v - radius))
    cut = picture[top : int(v + radius) + 2, left : int(u + radius) + 2]
    if min(cut.shape[:2]) < 3:
        return None
    rows, columns = np.mgrid[top : top + cut.shape[0], left : left + cut.shape[1]]
    inside = np.hypot(columns - u, rows - v) < 0.85 * radius
    for x, y, size in nearer:
        inside &= np.hypot(columns - x, rows - y) > 1.1 * size
    if inside.sum() < 8:
        return None
    return _look(cut[inside], white)


def _look(pixels: Bytes, white: Vector) -> Look:
    lit = np.clip(pixels / white * 0.94, 0, 1).astype(np.float32)
    lab = cv2.cvtColor(lit[None], cv2.COLOR_RGB2LAB)[0].astype(np.float64)
    chroma = np.hypot(lab[:, 1], lab[:, 2])
    is_white = (lab[:, 0] > WHITE_LIGHT) & (chroma < WHITE_CHROMA)
    rest = lab[~is_white]
    if len(rest) < max(3, LEAST_PAINT * len(lab)):
        rest = lab
    # At the edge of a stripe white is mixed in: where the ball has most colour, it has its own.
    strength = np.hypot(rest[:, 1], rest[:, 2])
    strong = rest[strength >= PAINT_SHARE * np.percentile(strength, 90)]
    # The brighter part tells the paint; the darker lies in the ball's own shade.
    order = np.argsort(strong[:, 0])
    light = strong[order[len(order) // 2 :]]
    middle = np.median(light, axis=0)
    return Look((float(middle[0]), float(middle[1]), float(middle[2])), float(is_white.mean()))


def white_of(picture: Bytes, discs: Iterable[tuple[float, float, float]]) -> tuple[Vector, float]:
    """The colour (3,) of the whitest of some balls, on its light side, and how white it is (0 to 255).

    That is the cue ball, where it is seen.
    """
    best, whitest = np.array([235.0, 230.0, 220.0]), 0.0
    for u, v, radius in discs:
        left, top = max(0, int(u - radius * 0.6)), max(0, int(v - radius * 0.7))
        cut = (
            picture[top : int(v + radius * 0.4) + 1, left : int(u + radius * 0.6) + 1]
            .reshape(-1, 3)
            .astype(float)
        )
        if len(cut) < 4:
            continue
        colour = np.median(cut, axis=0)
        value = float(colour.min()) - 0.5 * float(colour.max() - colour.min())
        # All of a cue ball is white; of a stripe only a part.
        value -= float(np.std(cut.min(axis=1)))
        if value > whitest:
            best, whitest = colour, value
    return np.maximum(best, 20.0), whitest


def lab_of(rgb: Sequence[float]) -> Vector:
    """CIE Lab (3,) of a colour in white light."""
    value = np.array(rgb, dtype=np.float32)[None, None] / 255
    return np.asarray(cv2.cvtColor(value, cv2.COLOR_RGB2LAB)[0, 0], dtype=np.float64)


@dataclass
class Palette:
    """The balls of a game and their colours; learns from what is sure."""

    names: tuple[str, ...]
    colours: dict[str, Vector] = field(default_factory=dict)
    #: How colourful this film shows paint, beside what it is in white light.
    fade: float = 1.0

    @classmethod
    def of_game(cls, balls: Sequence[str]) -> Palette:
        """The colours of the balls of a game: pool `cue 1 .. 15`, snooker `cue red1 .. black`."""
        kinds = tuple(dict.fromkeys("red" if ball.startswith("red") else ball for ball in balls))
        nominal = SNOOKER if "red" in kinds else POOL
        return cls(kinds, {name: lab_of(rgb) for name, rgb in nominal.items()})

    def costs(self, looks: Sequence[Look], kinds: Sequence[str]) -> Vector:
        """How unlike balls of some kinds looks are (looks, kinds): squared, in spreads."""
        seen = np.array([look.colour for look in looks]).reshape(-1, 1, 3) / (1.0, self.fade, self.fade)
        own = np.array([self.colours[_paint(kind)] for kind in kinds]).reshape(1, -1, 3)
        found = np.asarray((((seen - own) * (LIGHT_COUNTS, 1.0, 1.0)) ** 2).sum(axis=2) / SHADES**2)
        whites = np.array([look.white for look in looks])
        for column, kind in enumerate(kinds):
            if kind == "cue":
                found[:, column] = np.minimum(found[:, column], 4.0)
            if kind == "cue" or kind.isdigit():
                usual, spread = WHITE_SHARE[_design(kind)]
                found[:, column] += ((whites - usual) / spread) ** 2
        return found

    def cost(self, look: Look, kind: str) -> float:
        """How unlike a ball of a kind a look is: squared, in spreads."""
        return float(self.costs([look], [kind])[0, 0])

    def learn(self, kind: str, look: Look, share: float) -> None:
        """Move the colour of a kind towards a look."""
        own, seen = self.colours[_paint(kind)], np.array(look.colour) / (1.0, self.fade, self.fade)
        self.colours[_paint(kind)] = own + share * (seen - own)


def _design(kind: str) -> str:
    """How much white a ball of a kind shows: the key in `WHITE_SHARE`."""
    if kind == "cue":
        return "cue"
    return "stripe" if int(kind) > 8 else "solid"


def _paint(kind: str) -> str:
    """The ball that has the colour of a kind: a stripe has that of the solid eight below."""
    return str(int(kind) - 8) if kind.isdecimal() and int(kind) > 8 else kind
