"""Parts of a film copied as they are, pictures and sound: quick and without loss, from key frame on."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any

from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.opening import DECODING_ERRORS, new_container, open_container
from ripasso.film.encoding.film_writer import Progress, finish, not_written, part_of

Stretch = tuple[float, float]
#: Sound is looked at for so long behind the end, seconds: pictures may go on for a few.
TAIL_S = 0.5


def begins_at(index: FilmIndex, time_s: float) -> float:
    """Where a part that is asked from a time on begins: at the key frame before it."""
    return index.time_s(index.key_frame_before(index.number_at(time_s)))


def copy_parts(
    index: FilmIndex, parts: Sequence[Stretch], path: Path, progress: Progress | None = None
) -> list[Stretch]:
    """Write parts of a film, from and to in seconds, one after another; gives where each truly lies.

    Each begins at the key frame before what was asked, and ends with the last picture that another hangs on.
    Raises `FilmError` or `Cancelled`, and leaves nothing.
    """
    progress = progress or Progress()
    true = [(begins_at(index, start), end) for start, end in parts]
    try:
        with open_container(index.path) as source, new_container(part_of(path)) as made:
            copier = _Copier(index, source, made)
            for start, end in true:
                copier.copy(start, end, progress)
        finish(path)
    except DECODING_ERRORS as error:
        raise not_written(path, error) from error
    except BaseException:
        with suppress(OSError):
            part_of(path).unlink(missing_ok=True)
        raise
    return true


class _Copier:
    def __init__(self, index: FilmIndex, source: Any, made: Any) -> None:
        self._index, self._source, self._made = index, source, made
        self._pictures = source.streams.video[0]
        self._streams = {self._pictures.index: made.add_stream_from_template(self._pictures)}
        if source.streams.audio:
            sound = source.streams.audio[0]
            self._streams[sound.index] = made.add_stream_from_template(sound)
        #: The time stamp of the first picture, seconds, and where the next part begins in what is made.
        self._first_s, self._at_s = float(int(index.pts[0]) * index.time_base), 0.0
        self._decoded: dict[int, int] = {}

    def copy(self, start_s: float, end_s: float, progress: Progress) -> None:
        """One part behind those before."""
        first_s, sounds = self._first_s, list[Any]()
        # A picture that is shown after the end goes along only where one before the end hangs on it.
        late: list[Any] = []
        last_s = start_s
        for packet in self._packets(start_s, end_s):
            shown_s = float(packet.pts * packet.time_base) - first_s
            if packet.stream.index != self._pictures.index:
                sounds.append(packet)
            elif shown_s > end_s:
                late.append(packet)
            else:
                for one in (*late, packet):
                    last_s = max(last_s, float(one.pts * one.time_base) - first_s)
                    self._put(one, start_s)
                    progress.step()
                late.clear()
        end_s = last_s + 1 / self._index.frame_rate
        for one in sounds:
            if float(one.pts * one.time_base) - first_s < end_s:
                self._put(one, start_s)
        self._at_s += end_s - start_s

    def _packets(self, start_s: float, end_s: float) -> Iterator[Any]:
        """What is shown and heard from a key frame on, and is decoded before the end."""
        first_s = self._first_s
        key = self._index.number_at(start_s)
        self._source.seek(self._index.seek_stamps(key)[-1], backward=True, stream=self._pictures)
        going_on = set(self._streams)
        for packet in self._source.demux([one for one in self._source.streams if one.index in going_on]):
            if packet.dts is None or packet.pts is None:
                continue
            base, which = float(packet.time_base), packet.stream.index
            tail_s = 0.0 if which == self._pictures.index else TAIL_S
            if packet.dts * base - first_s > end_s + tail_s:
                going_on.discard(which)
                if not going_on:
                    return
            # What is shown before the key frame hangs on pictures that were not copied.
            elif packet.pts * base - first_s >= start_s - 1e-6:
                yield packet

    def _put(self, packet: Any, start_s: float) -> None:
        """A packet at its new time; `start_s` is when its part begins in the film."""
        which = packet.stream.index
        shift = round((self._at_s - start_s - self._first_s) / float(packet.time_base))
        # The first pictures of a part are decoded before they are shown: behind those of the part before.
        decoded = max(packet.dts + shift, self._decoded.get(which, packet.dts + shift - 1) + 1)
        self._decoded[which] = decoded
        packet.pts, packet.dts, packet.stream = packet.pts + shift, decoded, self._streams[which]
        self._made.mux(packet)
