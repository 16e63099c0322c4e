"""What stands between a clean picture and a real film: lens, hand, light, sensor, graphics, a small picture.

A stand-in for the cameras and halls that people really have. A recording is filmed again through a condition,
and its truth says what became of the camera: `view` is the one of the first frame.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.demo.filming.camera import Image
from ripasso.demo.filming.film import encode
from ripasso.film.decoding.opening import open_container

Floats = npt.NDArray[np.float64]
Pictures = Iterator[Image]

#: Barrel distortion of a moderate lens, and of one frame to the next of a hand: pixels of a 1280 picture, how
#: much of its last way is kept, how far it turns (radians).
BARREL = -0.2
HAND_PX, HAND_KEEPS, HAND_TURNS = 2.4, 0.8, 0.0012
#: A slow pan: how far and how long there and back; a zoom: how much, at which shares of the film.
PAN_PX, PAN_S = (70.0, 18.0), 16.0
ZOOM, ZOOMED = 1.22, (0.25, 0.75)
ZOOM_TAKES_S = 1.5
#: How much the exposure swings, and how long.
SWING, SWING_S = 0.18, 6.0
#: The noise of a sensor in the dark, of 255.
GRAIN = 9.0
#: How wide and high a score is, in shares of the picture.
SCORE = (0.4, 0.07)
#: Another camera is shown from so long after all balls lie still until so long before the next strike, if
#: that is so long (seconds).
CUT_AFTER_S, CUT_BEFORE_S, CUT_LEAST_S = 0.7, 1.2, 0.8
#: How strongly a small picture and a usual one are compressed (the encoder's factor), and how small it is.
USUAL, STRONG, SMALL = "23", "31", (640, 360)


@dataclass(frozen=True)
class Condition:
    """How a film is filmed again: what happens to its pictures and to its truth."""

    pictures: Callable[[Pictures, JsonMapping], Pictures]
    truth: Callable[[JsonMapping], JsonObject] = dict
    quality: str = USUAL
    is_interlaced: bool = False


def _matrix(truth: JsonMapping) -> Floats:
    return np.asarray(truth["camera"]["K"], dtype=np.float64)


def bent(points: npt.ArrayLike, matrix: Floats, k1: float = BARREL) -> Floats:
    """Where a lens shows points (n, 2) that a pinhole camera would show, pixels."""
    flat = (np.asarray(points, dtype=np.float64) - matrix[:2, 2]) / matrix[0, 0]
    squared = (flat**2).sum(axis=-1, keepdims=True)
    return np.asarray(flat * (1 + k1 * squared) * matrix[0, 0] + matrix[:2, 2])


def _straight_from(points: Floats, matrix: Floats, k1: float) -> Floats:
    flat = (points - matrix[:2, 2]) / matrix[0, 0]
    straight = flat.copy()
    for _ in range(40):
        straight = flat / (1 + k1 * (straight**2).sum(axis=-1, keepdims=True))
    return np.asarray(straight * matrix[0, 0] + matrix[:2, 2])


def _through_lens(pictures: Pictures, truth: JsonMapping) -> Pictures:
    maps = None
    for picture in pictures:
        if maps is None:
            height, width = picture.shape[:2]
            pixels = np.stack(np.meshgrid(np.arange(width), np.arange(height)), axis=-1).astype(np.float64)
            maps = _straight_from(pixels, _matrix(truth), BARREL).astype(np.float32)
        columns, rows = maps[..., 0], maps[..., 1]
        bent_picture = cv2.remap(picture, columns, rows, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        yield np.asarray(bent_picture, dtype=np.uint8)


def _lens_truth(truth: JsonMapping) -> JsonObject:
    camera = dict(truth["camera"])
    corners = camera["corners_at_nose_height"]
    camera["k1"] = BARREL
    camera["corners_at_nose_height"] = {
        name: bent([place], _matrix(truth))[0].round(4).tolist() for name, place in corners.items()
    }
    return {**truth, "camera": camera}


def _moved(pictures: Pictures, way: Iterator[Floats]) -> Pictures:
    """Each picture as a camera sees it that moved: `way` gives 3x3 matrices from pixels before it did."""
    for picture, matrix in zip(pictures, way, strict=False):
        size = (picture.shape[1], picture.shape[0])
        moved = cv2.warpPerspective(
            picture, matrix, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        yield np.asarray(moved, dtype=np.uint8)


def turned(matrix: Floats, right: float, down: float, roll: float = 0.0, zoom: float = 1.0) -> Floats:
    """The matrix (3, 3) of pixels of a camera turned by so many pixels to the right and down, and rolled."""
    vector = np.array([-down / matrix[0, 0], right / matrix[0, 0], roll])
    rotation = np.asarray(cv2.Rodrigues(vector)[0])
    longer = matrix.copy()
    longer[0, 0] *= zoom
    longer[1, 1] *= zoom
    return np.asarray(longer @ rotation @ np.linalg.inv(matrix))


def _trembling(pictures: Pictures, truth: JsonMapping) -> Pictures:
    matrix, random = _matrix(truth), np.random.default_rng(17)

    def way() -> Iterator[Floats]:
        right = down = roll = 0.0
        while True:
            yield turned(matrix, right, down, roll)
            right, down, roll = (
                HAND_KEEPS * value + float(random.normal(0, spread * np.sqrt(1 - HAND_KEEPS**2)))
                for value, spread in ((right, HAND_PX), (down, HAND_PX), (roll, HAND_TURNS))
            )

    return _moved(pictures, way())


def _panning(pictures: Pictures, truth: JsonMapping) -> Pictures:
    matrix, rate = _matrix(truth), truth["fps"]

    def way() -> Iterator[Floats]:
        number = 0
        while True:
            swing = np.sin(2 * np.pi * number / (rate * PAN_S))
            yield turned(matrix, PAN_PX[0] * swing, PAN_PX[1] * swing)
            number += 1

    return _moved(pictures, way())


def _zooming(pictures: Pictures, truth: JsonMapping) -> Pictures:
    matrix, frames, rate = _matrix(truth), truth["n_frames"], truth["fps"]

    def way() -> Iterator[Floats]:
        for number in range(frames + rate):
            shares = ((number - share * frames) / (rate * ZOOM_TAKES_S) for share in ZOOMED)
            begun, over = (float(np.clip(share, 0, 1)) for share in shares)
            yield turned(matrix, 0.0, 0.0, zoom=1 + (1 / ZOOM - 1) * (begun - over))

    return _moved(pictures, way())


def _swinging(pictures: Pictures, truth: JsonMapping) -> Pictures:
    for number, picture in enumerate(pictures):
        gain = 1 + SWING * np.sin(2 * np.pi * number / (truth["fps"] * SWING_S))
        yield np.clip(picture * gain, 0, 255).astype(np.uint8)


def _grainy(pictures: Pictures, truth: JsonMapping) -> Pictures:
    random = np.random.default_rng(19)
    grain: list[npt.NDArray[np.int16]] = []
    for picture in pictures:
        if len(grain) < 16:
            grain.append(random.normal(0, GRAIN, picture.shape).astype(np.int16))
        # A pattern that is moved about is a new one.
        shifted = np.roll(grain[int(random.integers(len(grain)))], int(random.integers(picture.shape[1])), 1)
        yield np.clip(picture + shifted, 0, 255).astype(np.uint8)


def _with_graphics(pictures: Pictures, truth: JsonMapping) -> Pictures:
    """A score over the middle of the near cushion and the cloth before it, and a sign in a corner."""
    lowest = sorted(truth["camera"]["corners_at_nose_height"].values(), key=lambda place: -place[1])[:2]
    u, v = np.mean(lowest, axis=0)
    for picture in pictures:
        shown = picture.copy()
        height, width = shown.shape[:2]
        left, right = round(u - SCORE[0] * width / 2), round(u + SCORE[0] * width / 2)
        top, bottom = round(v - SCORE[1] * height / 2), round(v + SCORE[1] * height / 2)
        shown[top:bottom, left:right] = (26, 30, 44)
        shown[top:bottom, left : left + 14] = (214, 168, 60)
        for text, share in (("A. Varga", 0.06), ("3", 0.46), ("5", 0.52), ("T. Okoye", 0.62)):
            place = (round(left + share * (right - left)), bottom - 14)
            cv2.putText(shown, text, place, cv2.FONT_HERSHEY_SIMPLEX, 0.8, (236, 236, 230), 2, cv2.LINE_AA)
        corner = shown[round(0.05 * height) : round(0.12 * height), round(0.86 * width) : round(0.96 * width)]
        corner[:] = (corner * 0.4 + np.array([230, 230, 235]) * 0.6).astype(np.uint8)
        yield shown


def _cut(pictures: Pictures, truth: JsonMapping) -> Pictures:
    """Between shots, while nothing runs, another camera is shown: from across the table, and nearer."""
    rate, shots = truth["fps"], truth["shots"]
    over = [shot["t_all_at_rest"] + CUT_AFTER_S for shot in shots[:-1]]
    begun = [shot["t_strike"] - CUT_BEFORE_S for shot in shots[1:]]
    spans = [(start, end) for start, end in zip(over, begun, strict=True) if end - start > CUT_LEAST_S]
    for number, picture in enumerate(pictures):
        if any(start < number / rate < end for start, end in spans):
            height, width = picture.shape[:2]
            corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32)
            nearer = np.array(
                [
                    [1.1 * width, 1.2 * height],
                    [-0.15 * width, 1.1 * height],
                    [0.1 * width, -0.3 * height],
                    [0.85 * width, -0.1 * height],
                ],
                dtype=np.float32,
            )
            across = cv2.getPerspectiveTransform(corners, nearer)
            yield np.asarray(cv2.warpPerspective(picture, across, (width, height)), dtype=np.uint8)
        else:
            yield picture


def _graphics_truth(truth: JsonMapping) -> JsonObject:
    """Balls at rest that lie under the score are hidden."""
    camera = truth["camera"]
    matrix, rotation, shift = _matrix(truth), np.array(camera["R"]), np.array(camera["t"])
    lowest = sorted(camera["corners_at_nose_height"].values(), key=lambda place: -place[1])[:2]
    middle = np.mean(lowest, axis=0)
    half = np.array([SCORE[0] * camera["width"] / 2, SCORE[1] * camera["height"] / 2])
    notes = list(truth.get("occlusion_notes", ()))
    for shot in truth["shots"]:
        for key, from_s, to_s in (("before", -2.0, 0.0), ("after", 0.0, 2.0)):
            around = shot["t_strike" if key == "before" else "t_all_at_rest"]
            for ball, place in shot[key].items():
                seen = rotation @ np.array([*place[:2], truth["ball_radius"]]) + shift
                pixel = seen[:2] / seen[2] * matrix[0, 0] + matrix[:2, 2]
                if bool((np.abs(pixel - middle) < half).all()):
                    notes.append(
                        {"ball": ball, "t0": around + from_s, "t1": around + to_s, "min_visible": 0.0}
                    )
    return {**truth, "occlusion_notes": notes}


def _interlaced(pictures: Pictures, truth: JsonMapping) -> Pictures:
    """Every second row is of a moment half a picture later."""
    before: Image | None = None
    for picture in pictures:
        if before is not None:
            woven = before.copy()
            half_later = (before[1::2].astype(np.uint16) + picture[1::2]) // 2
            woven[1::2] = half_later.astype(np.uint8)
            yield np.asarray(woven, dtype=np.uint8)
        before = picture
    if before is not None:
        yield np.asarray(before, dtype=np.uint8)


def _small(pictures: Pictures, truth: JsonMapping) -> Pictures:
    for picture in pictures:
        yield np.asarray(cv2.resize(picture, SMALL, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def _small_truth(truth: JsonMapping) -> JsonObject:
    camera = dict(truth["camera"])
    share = SMALL[0] / camera["width"]

    def scaled(value: float) -> float:
        return float((value + 0.5) * share - 0.5)

    focal, middle = camera["K"][0][0] * share, [scaled(camera["K"][i][2]) for i in (0, 1)]
    camera |= {
        "K": [[focal, 0, middle[0]], [0, focal, middle[1]], [0, 0, 1]],
        "width": SMALL[0],
        "height": SMALL[1],
        "corners_at_nose_height": {
            name: [scaled(value) for value in place]
            for name, place in camera["corners_at_nose_height"].items()
        },
    }
    return {**truth, "camera": camera}


CONDITIONS: Mapping[str, Condition] = {
    "lens": Condition(_through_lens, _lens_truth),
    "trembling": Condition(_trembling),
    "panning": Condition(_panning),
    "zooming": Condition(_zooming),
    "exposure": Condition(_swinging),
    "noise": Condition(_grainy, quality="26"),
    "graphics": Condition(_with_graphics, _graphics_truth),
    "cuts": Condition(_cut),
    "interlaced": Condition(_interlaced, is_interlaced=True),
    "small": Condition(_small, _small_truth, quality=STRONG),
}


def film_again(film: Path, condition: Condition, target: Path) -> None:
    """Film a recording through a condition: `target` and its truth beside it."""
    truth: dict[str, Any] = json.loads(film.with_suffix(".truth.json").read_text(encoding="utf-8"))

    def pictures() -> Pictures:
        with open_container(film) as container:
            for frame in container.decode(video=0):
                yield np.asarray(frame.to_ndarray(format="rgb24"), dtype=np.uint8)

    encode(
        condition.pictures(pictures(), truth),
        target,
        truth["fps"],
        condition.quality,
        "veryfast",
        is_interlaced=condition.is_interlaced,
    )
    changed = json.dumps(condition.truth(truth), separators=(",", ":"))
    target.with_suffix(".truth.json").write_text(changed, encoding="utf-8")
