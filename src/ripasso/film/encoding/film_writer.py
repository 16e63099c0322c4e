"""Writes a film, H.264 and AAC in MP4: beside its place, and renamed when it is whole."""

from __future__ import annotations

import threading
from contextlib import suppress
from fractions import Fraction
from pathlib import Path
from types import TracebackType
from typing import Any

import av
import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.opening import DECODING_ERRORS, new_container
from ripasso.film.decoding.sound import CHANNELS, RATE_HZ, Samples
from ripasso.film.errors import FilmError

#: How exact the pictures are kept (of the encoder, less is better), how hard it works, key frames (seconds).
QUALITY, PRESET, KEY_S = "20", "veryfast", 2
SOUND_BITS, SOUND_BLOCK = 128_000, 1024


class Cancelled(Exception):
    """Whoever asked for a film does not want it any more."""


def part_of(path: Path) -> Path:
    """Where a film lies until it is whole."""
    return path.with_name(f".{path.name}.part")


def finish(path: Path) -> None:
    """The film is whole: it goes to its place."""
    part_of(path).replace(path)


def not_written(path: Path, error: Exception) -> FilmError:
    """One sentence for a film that cannot be written; what was written of it goes."""
    with suppress(OSError):
        part_of(path).unlink(missing_ok=True)
    why = getattr(error, "strerror", None) or "unknown reason"
    return FilmError(f"{path.name} cannot be written: {why}.")


class FilmWriter:
    """One film in the making. Pictures follow each other at `rate`; sound is kept in step with them.

    As a context: left without an error the film is finished, else nothing of it stays.
    """

    def __init__(self, path: Path, size: tuple[int, int], rate: Fraction, *, has_sound: bool) -> None:
        self.path, self.size, self.rate = path, size, rate
        self.pictures, self._samples = 0, 0
        try:
            self._container: Any = new_container(part_of(path))
            options = {"crf": QUALITY, "preset": PRESET, "g": str(round(KEY_S * rate))}
            self._pictures: Any = self._container.add_stream("libx264", rate=rate, options=options)
            self._pictures.width, self._pictures.height = size
            self._pictures.pix_fmt = "yuv420p"
            self._sound: Any = None
            if has_sound:
                self._sound = self._container.add_stream("aac", rate=RATE_HZ, layout="stereo")
                self._sound.bit_rate = SOUND_BITS
        except DECODING_ERRORS as error:
            raise not_written(path, error) from error

    def __enter__(self) -> FilmWriter:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, _trace: TracebackType | None
    ) -> None:
        if kind is None:
            self.close()
            return
        with suppress(*DECODING_ERRORS):
            self._container.close()
        with suppress(OSError):
            part_of(self.path).unlink(missing_ok=True)
        if isinstance(error, DECODING_ERRORS) and not isinstance(error, FilmError):
            raise not_written(self.path, error) from error

    @property
    def time_s(self) -> float:
        """How long the film is so far."""
        return float(self.pictures / self.rate)

    def picture(self, pixels: npt.NDArray[np.uint8], times: int = 1) -> None:
        """A picture (height, width, 3: blue, green, red), shown for so many frames."""
        whole = av.VideoFrame.from_ndarray(pixels, format="bgr24").reformat(format="yuv420p")
        for _ in range(times):
            whole.pts, whole.time_base = self.pictures, 1 / self.rate
            self._container.mux(self._pictures.encode(whole))
            self.pictures += 1

    def sound(self, samples: Samples) -> None:
        """Sound (n, 2) at `RATE_HZ` that follows what was heard so far."""
        if self._sound is None:
            return
        for first in range(0, len(samples), SOUND_BLOCK):
            part = np.ascontiguousarray(samples[first : first + SOUND_BLOCK]).reshape(1, -1)
            frame = av.AudioFrame.from_ndarray(part, format="s16", layout="stereo")
            frame.sample_rate, frame.pts = RATE_HZ, self._samples
            frame.time_base = Fraction(1, RATE_HZ)
            self._container.mux(self._sound.encode(frame))
            self._samples += part.shape[1] // CHANNELS

    def sound_to_here(self, samples: Samples | None = None) -> None:
        """Sound up to the end of the pictures: cut where it is longer, silent where it is shorter."""
        wanted = round(self.time_s * RATE_HZ) - self._samples
        given = samples[:wanted] if samples is not None else np.zeros((0, CHANNELS), np.int16)
        self.sound(given)
        self.sound(np.zeros((max(0, wanted - len(given)), CHANNELS), np.int16))

    def close(self) -> None:
        """Write the rest, and put the film in its place; raises `FilmError` and leaves nothing."""
        try:
            self._container.mux(self._pictures.encode())
            if self._sound is not None:
                self._container.mux(self._sound.encode())
            self._container.close()
            finish(self.path)
        except DECODING_ERRORS as error:
            raise not_written(self.path, error) from error


class Progress:
    """How far a film is: told by whoever writes it, asked by whoever waits; `stop` ends it."""

    def __init__(self, stop: threading.Event | None = None) -> None:
        self.stop = stop or threading.Event()
        self.done, self.of = 0, 0

    def step(self, pictures: int = 1) -> None:
        """So many pictures more are written; raises `Cancelled` once it was stopped."""
        self.done += pictures
        if self.stop.is_set():
            raise Cancelled
