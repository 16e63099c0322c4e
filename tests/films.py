"""Small films whose frames carry their own number, as a binary code in the picture."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

WIDTH, HEIGHT = 320, 180
BITS = 12
CELL = 20


def coded_picture(number: int) -> np.ndarray:
    """The picture of frame `number`: a row of white and black cells, the lowest bit at the left."""
    picture = np.full((HEIGHT, WIDTH, 3), 90, dtype=np.uint8)
    picture[100:160, (number * 7) % 280 : (number * 7) % 280 + 30] = (200, 60, 60)  # something that moves
    for bit in range(BITS):
        left = 10 + bit * (CELL + 5)
        picture[20:60, left : left + CELL] = 235 if number >> bit & 1 else 20
    return picture


def read_number(pixels: np.ndarray) -> int:
    """The number in a picture (height, width, channels) of any size."""
    height, width = pixels.shape[:2]
    number = 0
    for bit in range(BITS):
        x = int((10 + bit * (CELL + 5) + CELL / 2) / WIDTH * width)
        y = int(40 / HEIGHT * height)
        if pixels[y, x, :3].mean() > 128:
            number |= 1 << bit
    return number


def write_film(path: Path, frames: int, group: int, b_frames: int = 3, rate: int = 25) -> Path:
    """An H.264 film of coded pictures with groups of `group` pictures."""
    options = {"g": str(group), "keyint_min": str(group), "bf": str(b_frames), "preset": "veryfast"}
    options["x264-params"] = "scenecut=0"
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=Fraction(rate), options=options)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        for number in range(frames):
            frame = av.VideoFrame.from_ndarray(coded_picture(number), format="rgb24")
            container.mux(stream.encode(frame))
        container.mux(stream.encode())
    return path
