"""The index of a film: the time stamp of every frame, made once by reading the packets without decoding.

The number of a frame is the rank of its time stamp, so it holds for variable frame rates and B-frames.
Where a container stamps its pictures in the order of decoding instead (AVI), they are counted from the last
key frame on.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt
from av.container import InputContainer

from ripasso.film.decoding.frame import turns_of
from ripasso.film.decoding.opening import DECODING_ERRORS, open_container
from ripasso.film.errors import FilmError

#: So many seconds may be missing of what a file states before it is cut off.
CUT_OFF_S = 1.0
#: Pictures larger than this (pixels) are no film of a table, and would take all memory.
MOST_PIXELS = 100_000_000
#: Packets in which the first picture must be found, and the longest stretch between key frames looked at.
FIRST_WITHIN = 300
#: So many seconds a picture may be shown before one that is decoded earlier.
BACK_S = 5
#: Pixels are square within this share of their width.
SQUARE_WITHIN = 0.01


@dataclass(frozen=True)
class FilmIndex:
    """Every frame of a film.

    `pts` are the time stamps in units of `time_base`, sorted, shape (frames,); `key_frames` the numbers
    of the frames from which decoding can begin, ascending. Width and height are those of the upright picture.
    """

    path: Path
    width: int
    height: int
    time_base: Fraction
    pts: npt.NDArray[np.int64]
    key_frames: npt.NDArray[np.int64]
    #: How long the file says its pictures are, seconds; 0 where it does not say.
    stated_s: float = 0.0
    #: The time stamps by which key frames are searched: of decoding, which come before those of showing.
    seeks: npt.NDArray[np.int64] | None = None
    #: Quarter turns counter-clockwise that stand the picture upright.
    turns: int = 0
    #: The time stamps are in the order of decoding: between key frames pictures are counted.
    is_counted: bool = False

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

    def seek_stamps(self, key_frame: int) -> tuple[int, ...]:
        """The time stamps by which a key frame is searched, the likelier first.

        Some containers are searched by when a picture is shown, some by when it is decoded. By the other one
        the search lands a whole group of pictures too early, or too late. Where pictures are counted, only
        the safe way is tried.
        """
        shown = int(self.pts[key_frame])
        if self.seeks is None:
            return (shown,)
        decoded = int(self.seeks[int(np.searchsorted(self.key_frames, key_frame))])
        return (decoded,) if self.is_counted or decoded == shown else (shown, decoded)

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
    try:
        if not path.exists():
            raise FilmError(f"The film {path.name} is not there.")
        if not path.is_file():
            raise FilmError(f"{path.name} is a folder." if path.is_dir() else f"{path.name} is no file.")
        if path.stat().st_size == 0:
            raise FilmError(f"{path.name} is empty.")
        return _read_film(path)
    except PermissionError as error:
        raise FilmError(f"{path.name} may not be read.") from error
    except DECODING_ERRORS as error:
        raise FilmError(f"{path.name} is no film that can be read, or it is cut off.") from error


class _Packet(NamedTuple):
    """When a packet is shown and decoded, and whether decoding can begin with it."""

    shown: int
    decoded: int
    is_key: bool


def _read_film(path: Path) -> FilmIndex:
    with open_container(path) as container:
        stream = _video(container, path)
        time_base = stream.time_base
        stated_s = float(stream.duration * time_base) if stream.duration and time_base else 0.0
        packets, has_all_stamps = _packets(container, stream)
        reorders = bool(stream.codec_context.has_b_frames)
    if not packets or time_base is None:
        raise FilmError(f"{path.name} holds no picture that can be read.")
    if _begins_anew(packets, BACK_S / time_base):
        raise FilmError(f"The time of {path.name} begins anew in its middle; convert it to MP4 or MKV first.")
    # What is shown before the first key frame leans on pictures that are not there.
    packets = [packet for packet in packets if packet.shown >= packets[0].shown]
    in_order = all(a.shown < b.shown for a, b in pairwise(packets))
    is_counted = not has_all_stamps or (in_order and reorders)
    return _indexed(path, Fraction(time_base), packets, stated_s, is_counted=is_counted)


def _begins_anew(packets: list[_Packet], most: Fraction) -> bool:
    """Whether time goes back in the film, by more than pictures change places for their coding."""
    latest = packets[0].shown
    for packet in packets:
        if packet.shown < latest - most:
            return True
        latest = max(latest, packet.shown)
    return False


def _indexed(
    path: Path, time_base: Fraction, packets: list[_Packet], stated_s: float, *, is_counted: bool
) -> FilmIndex:
    pts = np.unique(np.array([packet.shown for packet in packets], dtype=np.int64))
    keys = {packet.shown: packet.decoded for packet in reversed(packets) if packet.is_key}
    keys = keys or {packets[0].shown: packets[0].decoded}
    shown = np.array(sorted(keys), dtype=np.int64)
    with open_container(path) as container:
        stream = _video(container, path)
        first, between = _first_pictures(container, stream, path, until_key=is_counted)
        width, height, turns = _seen(first, stream)
        # A key frame that is shown later than it is decoded (an open group) cannot be counted from.
        if is_counted and len(shown) > 1 and between not in (None, int(np.searchsorted(pts, shown[1]))):
            raise FilmError(f"The pictures of {path.name} cannot be counted; convert it to MP4 or MKV first.")
    return FilmIndex(
        path,
        width,
        height,
        time_base,
        pts,
        np.searchsorted(pts, shown).astype(np.int64),
        stated_s,
        np.array([keys[int(stamp)] for stamp in shown], dtype=np.int64),
        turns,
        is_counted,
    )


def _video(container: InputContainer, path: Path) -> Any:
    """The stream of pictures, as the decoding library has it."""
    if not container.streams.video:
        raise FilmError(f"{path.name} holds no picture.")
    stream: Any = container.streams.video[0]
    if stream.codec_context is None:
        raise FilmError(f"The pictures of {path.name} are of a kind that cannot be decoded.")
    return stream


def _packets(container: InputContainer, stream: Any) -> tuple[list[_Packet], bool]:
    """Every packet from the first key frame on, and whether all of them said when they are shown.

    A recording that begins in the middle of a group shows nothing before the first key frame.
    """
    found: list[_Packet] = []
    rest: list[_Packet] = []
    has_all_stamps = True
    for packet in container.demux(stream):
        if packet.is_discard or not packet.size:
            continue
        decoded = packet.dts if packet.dts is not None else packet.pts
        if decoded is None:
            continue
        has_all_stamps = has_all_stamps and packet.pts is not None
        shown = packet.pts if packet.pts is not None else decoded
        (found if found or packet.is_keyframe else rest).append(_Packet(shown, decoded, packet.is_keyframe))
    found = found or rest
    if not has_all_stamps:
        found = [_Packet(packet.decoded, packet.decoded, packet.is_key) for packet in found]
    return found, has_all_stamps


def _first_pictures(
    container: InputContainer, stream: Any, path: Path, *, until_key: bool
) -> tuple[Any, int | None]:
    """The first picture that can be decoded, and the count of pictures before the next key frame.

    The count is None without `until_key`, and where no further key frame comes soon.
    """
    first: Any = None
    for count, frame in enumerate(_decodable(container, stream)):
        if first is not None and frame.key_frame:
            return first, count
        first = first or frame
        if not until_key:
            break
    if first is None:
        raise FilmError(f"No picture of {path.name} can be decoded.")
    return first, None


def _decodable(container: InputContainer, stream: Any) -> Iterator[Any]:
    """The pictures of the first packets, those that are broken left out."""
    for number, packet in enumerate(container.demux(stream)):
        if number > FIRST_WITHIN:
            return
        try:
            yield from packet.decode()
        except DECODING_ERRORS:
            continue


def _seen(first: Any, stream: Any) -> tuple[int, int, int]:
    """Width and height of the upright picture with square pixels, and its quarter turns."""
    width, height = int(first.width), int(first.height)
    if not 2 <= width * height <= MOST_PIXELS or min(width, height) < 2:
        raise FilmError(f"A picture of {width} × {height} pixels cannot be shown.")
    shape = float(stream.sample_aspect_ratio or 1)
    if abs(shape - 1) > SQUARE_WITHIN and 0.2 < shape < 5:
        width = max(2, round(width * shape))
    turns = turns_of(first)
    return (height, width, turns) if turns % 2 else (width, height, turns)
