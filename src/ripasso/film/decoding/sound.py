"""The sound of a film: to be played, and to be listened to for the click of a struck ball."""

from __future__ import annotations

import queue
import threading
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np
import numpy.typing as npt

from ripasso.film.decoding.opening import DECODING_ERRORS, first_picture_s, open_container
from ripasso.film.errors import FilmError

#: What sound is turned into: samples a second, channels of 16 bits.
RATE_HZ, CHANNELS = 48_000, 2
BYTES_A_SECOND = RATE_HZ * CHANNELS * 2
#: How long a piece of the envelope is, and how long before it the room is listened to, seconds.
PIECE_S, ROOM_S = 0.004, 0.12
#: A click is so many times louder than the room just before it, and at least this share of the loudest one.
CLICK, LEAST = 6.0, 0.08
#: Two clicks nearer than this are one, seconds.
APART_S = 0.03
WAITING = 24  # decoded blocks held ready

Samples = npt.NDArray[np.int16]


@dataclass(frozen=True)
class Click:
    """A sudden sound: when it begins (seconds of the film), and how loud it is (1: the loudest possible)."""

    time_s: float
    loud: float


def has_sound(path: Path) -> bool:
    """A film has a sound track that can be opened."""
    try:
        with open_container(path) as container:
            return bool(container.streams.audio)
    except (FilmError, *DECODING_ERRORS):
        return False


def sound_length_s(path: Path) -> float:
    """How long the sound of a film, or of a file of sound alone, is (seconds); 0 where none can be opened."""
    try:
        with open_container(path) as container:
            if not container.streams.audio:
                return 0.0
            stream = container.streams.audio[0]
            if stream.duration is not None and stream.time_base is not None:
                return float(stream.duration * stream.time_base)
            return float(container.duration or 0) / 1_000_000
    except (FilmError, *DECODING_ERRORS):
        return 0.0


def blocks(path: Path, start_s: float = 0.0) -> Iterator[tuple[float, Samples]]:
    """Time of the first sample and samples (n, 2) from `start_s` on; ends where nothing more is decoded."""
    with suppress(FilmError, *DECODING_ERRORS), open_container(path) as container:
        if not container.streams.audio:
            return
        stream = container.streams.audio[0]
        begin_s = first_picture_s(container)
        if start_s > 0 and stream.time_base is not None:
            container.seek(int((begin_s + start_s - 0.2) / stream.time_base), stream=stream)
        resampler = av.AudioResampler(format="s16", layout="stereo", rate=RATE_HZ)
        for frame in container.decode(stream):
            for part in resampler.resample(frame):
                time_s = float(frame.time or 0.0) - begin_s
                samples = part.to_ndarray().astype(np.int16).reshape(-1, CHANNELS)
                skipped = max(0, round((start_s - time_s) * RATE_HZ))
                if skipped < len(samples):
                    yield time_s + skipped / RATE_HZ, samples[skipped:]


def clicks(path: Path, start_s: float, end_s: float) -> tuple[Click, ...]:
    """The sudden sounds of a stretch of a film, in order; none where there is no sound."""
    pieces: list[Samples] = []
    first_s: float | None = None
    begin_s = max(0.0, start_s - ROOM_S)
    for time_s, samples in blocks(path, begin_s):
        first_s = time_s if first_s is None else first_s
        pieces.append(samples)
        if time_s + len(samples) / RATE_HZ > end_s:
            break
    if first_s is None:
        return ()
    found = clicks_in(np.concatenate(pieces).mean(axis=1) / 32768, RATE_HZ, first_s)
    return tuple(click for click in found if start_s <= click.time_s <= end_s)


def clicks_in(samples: npt.NDArray[np.float64], rate_hz: int, first_s: float) -> Iterator[Click]:
    """The sudden sounds of samples (n,) of -1..1; what rises slowly, as a voice, is none.

    Differences of samples count: a struck ball is bright, a room's hum and a step are not.
    """
    size = max(1, round(PIECE_S * rate_hz))
    bright = np.abs(np.diff(samples, prepend=samples[:1]))
    count = len(bright) // size
    if not count:
        return
    envelope = bright[: count * size].reshape(count, size).max(axis=1)
    room = max(1, round(ROOM_S / PIECE_S))
    loudest, last_s = float(envelope.max()), -1.0
    for i in range(1, count):
        before = envelope[max(0, i - room) : i]
        floor = float(np.median(before))
        value = float(envelope[i])
        if value < LEAST * loudest or value <= CLICK * max(floor, 1e-4):
            continue
        within = int(np.argmax(bright[i * size : (i + 1) * size] > 0.3 * value))
        time_s = first_s + (i * size + within) / rate_hz
        if time_s - last_s > APART_S:
            yield Click(time_s, min(1.0, float(np.abs(samples[i * size : (i + 2) * size]).max())))
        last_s = time_s


class SoundFeed:
    """Decodes a film's sound from a time on in a thread of its own; `take` never waits."""

    def __init__(self, path: Path, start_s: float) -> None:
        self._blocks: queue.Queue[bytes | None] = queue.Queue(WAITING)
        self._closed = threading.Event()
        self._rest = b""
        self.ended = False
        self._thread = threading.Thread(
            target=self._run, args=(path, start_s), name=f"film sound {path.name}", daemon=True
        )
        self._thread.start()

    def take(self, most: int) -> bytes:
        """Up to so many bytes of sound, as many as are ready."""
        while len(self._rest) < most and not self.ended:
            try:
                block = self._blocks.get_nowait()
            except queue.Empty:
                break
            if block is None:
                self.ended = True
            else:
                self._rest += block
        taken, self._rest = self._rest[:most], self._rest[most:]
        return taken

    def close(self) -> None:
        """Decode no more; the thread ends."""
        self._closed.set()
        with suppress(queue.Empty):
            while True:
                self._blocks.get_nowait()
        self._thread.join(timeout=2)

    def _run(self, path: Path, start_s: float) -> None:
        for _, samples in blocks(path, start_s):
            if not self._give(samples.tobytes()):
                return
        self._give(None)

    def _give(self, block: bytes | None) -> bool:
        while not self._closed.is_set():
            with suppress(queue.Full):
                self._blocks.put(block, timeout=0.1)
                return True
        return False
