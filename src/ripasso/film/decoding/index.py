"""The index of a film: the time stamp of every frame, made once by reading the packets without decoding.

The number of a frame is the rank of its time stamp, so it holds for variable frame rates and B-frames.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import numpy.typing as npt
from av.error import FFmpegError

from ripasso.film.errors import FilmError

#: So many seconds may be missing of what a file states before it is cut off.
CUT_OFF_S = 1.0


@dataclass(frozen=True)
class FilmIndex:
    """Every frame of a film.

    `pts` are the time stamps in units of `time_base`, sorted, shape (frames,); `key_frames` the numbers
    of the frames from which decoding can begin, ascending.
    """

    path: Path
    width: int
    height: int
    time_base: Fraction
    pts: npt.NDArray[np.int64]
    key_frames: npt.NDArray[np.int64]
    #: How long the file says its pictures are, seconds; 0 where it does not say.
    stated_s: float = 0.0

    @property
    def is_cut_off(self) -> bool:
        """The file says that there should be more pictures than there are."""
        return self.stated_s > self.duration_s + CUT_OFF_S

    def __len__(self) -> int:
        return len(self.pts)

    def time_s(self, number: int) -> float:
        """Seconds from the first frame to frame `number`."""
        return float((int(self.pts[number]) - int(self.pts[0])) * self.time_base)

    def number_at(self, time_s: float) -> int:
        """The frame on screen at a time: the last one that began before or at it (clipped to the film)."""
        # A time written with rounded digits must find its own frame: half a tick is no earlier frame.
        ticks = int(self.pts[0]) + time_s / float(self.time_base) + 0.5
        number = int(np.searchsorted(self.pts, ticks, side="right")) - 1
        return max(0, min(number, len(self) - 1))

    def number_of(self, pts: int) -> int | None:
        """The number of the frame with this time stamp, None when the film has none."""
        number = int(np.searchsorted(self.pts, pts))
        return number if number < len(self) and self.pts[number] == pts else None

    def key_frame_before(self, number: int) -> int:
        """The last frame at or before `number` from which decoding can begin."""
        place = int(np.searchsorted(self.key_frames, number, side="right")) - 1
        return int(self.key_frames[max(0, place)])

    @property
    def duration_s(self) -> float:
        """Seconds from the first frame to the end of the last."""
        if len(self) < 2:
            return 0.0
        return self.time_s(len(self) - 1) + 1 / self.frame_rate

    @property
    def frame_rate(self) -> float:
        """Frames a second, by the usual distance of two frames."""
        if len(self) < 2:
            return 25.0
        step = float(np.median(np.diff(self.pts))) * float(self.time_base)
        return 1 / step if step > 0 else 25.0


def build_index(path: Path) -> FilmIndex:
    """The index of a film; raises `FilmError` for a file that is missing, foreign or broken."""
    if not path.exists():
        raise FilmError(f"The film {path.name} is not there.")
    if path.is_dir() or path.stat().st_size == 0:
        raise FilmError(f"{path.name} is empty." if path.is_file() else f"{path.name} is a folder.")
    try:
        return _read_packets(path)
    except PermissionError as error:
        raise FilmError(f"{path.name} may not be read.") from error
    except (FFmpegError, OSError) as error:
        raise FilmError(f"{path.name} is no film that can be read, or it is cut off.") from error


def _read_packets(path: Path) -> FilmIndex:
    stamps: list[int] = []
    keys: list[int] = []
    with av.open(str(path), metadata_errors="replace") as container:
        if not container.streams.video:
            raise FilmError(f"{path.name} holds no picture.")
        stream = container.streams.video[0]
        time_base = stream.time_base
        for packet in container.demux(stream):
            if packet.pts is None or packet.is_discard:
                continue
            stamps.append(packet.pts)
            if packet.is_keyframe:
                keys.append(packet.pts)
        width, height = stream.codec_context.width, stream.codec_context.height
        stated_s = float(stream.duration * time_base) if stream.duration and time_base else 0.0
    if not stamps or time_base is None or not width or not height:
        raise FilmError(f"{path.name} holds no picture that can be read.")
    pts = np.unique(np.array(stamps, dtype=np.int64))
    key_frames = np.searchsorted(pts, np.unique(np.array(keys or stamps[:1], dtype=np.int64)))
    return FilmIndex(path, width, height, Fraction(time_base), pts, key_frames.astype(np.int64), stated_s)
