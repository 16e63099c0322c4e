"""A whole film at a glance: small pictures along it, and how loud it is (a struck ball clicks)."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

import av
import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.opening import DECODING_ERRORS, first_picture_s, open_container
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.errors import FilmError

#: Small pictures of a film, their height in pixels, and the parts of its time whose loudness is told apart.
PICTURES, HEIGHT_PX, PARTS = 24, 54, 600
#: So many films are remembered; each takes half a megabyte.
KEPT = 8


@dataclass(frozen=True)
class Overview:
    """Pictures (height, width, 4) as B G R A with their times; loudness (parts,) of 1, None without sound."""

    times_s: tuple[float, ...]
    pictures: tuple[npt.NDArray[np.uint8], ...]
    loudness: npt.NDArray[np.float32] | None


class OverviewCache:
    """The films that were looked through last; a file that has changed is another film. For any thread."""

    def __init__(self, most: int = KEPT) -> None:
        self._most, self._found = most, OrderedDict[tuple[Path, int, int], Overview]()
        self._lock = Lock()

    def of(self, index: FilmIndex, is_wanted: Callable[[], bool] = lambda: True) -> Overview:
        """The overview of a film, as `overview` gives it."""
        try:
            state = index.path.stat()
        except OSError:
            return overview(index, is_wanted)
        key = (index.path, state.st_mtime_ns, state.st_size)
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
                return self._found[key]
        found = overview(index, is_wanted)
        if is_wanted():
            with self._lock:
                self._found[key] = found
                while len(self._found) > self._most:
                    self._found.popitem(last=False)
        return found


#: One a process: the same films are opened by several windows, and again after others.
CACHE = OverviewCache()


def overview(index: FilmIndex, is_wanted: Callable[[], bool] = lambda: True) -> Overview:
    """Look through a film; what cannot be decoded is left out. Stops early when it is not wanted any more."""
    times: list[float] = []
    pictures: list[npt.NDArray[np.uint8]] = []
    width = max(2, round(HEIGHT_PX * index.width / index.height))
    reader = FilmReader(index)
    try:
        for number in sorted(set(_numbers(index))):
            if not is_wanted():
                break
            with suppress(FilmError):
                frame = reader.frame(number)
                times.append(index.time_s(number))
                pictures.append(frame.pixels("bgra", (width, HEIGHT_PX)))
    finally:
        reader.close()
    sound = loudness(index.path, index.duration_s) if is_wanted() else None
    return Overview(tuple(times), tuple(pictures), sound)


def still(index: FilmIndex, share: float, height_px: int) -> npt.NDArray[np.uint8]:
    """A small picture (height, width, 4), B G R A, of a film at a share of its time; raises `FilmError`."""
    width = max(2, round(height_px * index.width / index.height))
    reader = FilmReader(index)
    try:
        number = index.key_frame_before(min(round(share * len(index)), len(index) - 1))
        return reader.frame(number).pixels("bgra", (width, height_px))
    finally:
        reader.close()


def _numbers(index: FilmIndex) -> list[int]:
    """Frames from which decoding can begin, spread over the film: they cost least."""
    wanted = [round((i + 0.5) * len(index) / PICTURES) for i in range(PICTURES)]
    return [index.key_frame_before(min(number, len(index) - 1)) for number in wanted]


def loudness(path: Path, duration_s: float, parts: int = PARTS) -> npt.NDArray[np.float32] | None:
    """The peak of the sound in each part of a film's time, of its loudest 1; None where there is no sound."""
    if duration_s <= 0:
        return None
    peaks = np.zeros(parts, dtype=np.float32)
    try:
        with open_container(path) as container:
            if not container.streams.audio:
                return None
            begin_s = first_picture_s(container)
            for frame in container.decode(container.streams.audio[0]):
                _take_in(peaks, frame, begin_s, duration_s)
    except (FilmError, *DECODING_ERRORS):
        # A film that ends early is as loud as it is up to there.
        pass
    loudest = float(peaks.max())
    return peaks / loudest if loudest > 0 else None


def _take_in(peaks: npt.NDArray[np.float32], frame: av.AudioFrame, begin_s: float, duration_s: float) -> None:
    if frame.pts is None or frame.time_base is None or not frame.samples:
        return
    samples = frame.to_ndarray()
    scale = 2.0 ** (8 * samples.dtype.itemsize - 1) if samples.dtype.kind in "iu" else 1.0
    # Planar sound has a row a channel, packed sound has the channels side by side in one row.
    values = np.abs(samples.astype(np.float32)).reshape(-1) / scale
    per_row = values.reshape(samples.shape[0], -1).max(axis=0)
    start_s = float(frame.pts * frame.time_base) - begin_s
    at = start_s + np.arange(len(per_row)) / len(per_row) * frame.samples / frame.sample_rate
    places = np.clip((at / duration_s * len(peaks)).astype(np.int64), 0, len(peaks) - 1)
    np.maximum.at(peaks, places, per_row)
