"""Small films whose frames carry their own number, as a binary code in the picture."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ripasso.demo.filming.film import SoundWriter
from ripasso.demo.filming.sounds import RATE_HZ

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


def write_film(path: Path, frames: int, group: int, b_frames: int = 3, rate: int = 25, clicks=()) -> Path:
    """An H.264 film of coded pictures in groups of `group`; `clicks`: it has sound, and clicks then."""
    options = {"g": str(group), "keyint_min": str(group), "bf": str(b_frames), "preset": "veryfast"}
    options["x264-params"] = "scenecut=0"
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=Fraction(rate), options=options)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        voice = SoundWriter(container, clicking(clicks, frames / rate)) if clicks else None
        for number in range(frames):
            frame = av.VideoFrame.from_ndarray(coded_picture(number), format="rgb24")
            container.mux(stream.encode(frame))
            if voice is not None:
                voice.until(number / rate)
        container.mux(stream.encode())
        if voice is not None:
            voice.close()
    return path


def clicking(times, length_s: float) -> np.ndarray:
    """Sound of one channel that is still but for a click at each time, samples of 16 bits."""
    samples = np.zeros(round(length_s * RATE_HZ), np.int16)
    decay = np.exp(-np.arange(round(0.02 * RATE_HZ)) / 120.0)
    for time_s in times:
        at = round(time_s * RATE_HZ)
        part = samples[at : at + len(decay)]
        part[:] = (20_000 * decay * np.sign(np.sin(np.arange(len(decay)) * 1.3)))[: len(part)]
    return samples
