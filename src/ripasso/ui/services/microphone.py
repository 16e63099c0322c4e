"""A spoken comment recorded: from the machine's microphone, or from a stand-in; written as a WAV file."""

from __future__ import annotations

import math
import wave
from collections.abc import Callable
from pathlib import Path
from time import monotonic
from typing import Protocol

import numpy as np
from PyQt6.QtCore import QLoggingCategory, QObject, QTimer, pyqtSignal

#: Samples a second of one channel of 16 bits, and how often they are taken.
RATE_HZ, TAKE_MS = 48_000, 60
#: What the stand-in says: a tone of this pitch and loudness (of 32,768).
TONE_HZ, TONE = 440.0, 6_000


class Microphone(Protocol):
    """Where sound comes from."""

    def take(self) -> bytes:
        """What was heard since the last time: one channel of 16 bits at `RATE_HZ`."""

    def close(self) -> None:
        """Listen no more."""


class SimulatedMicrophone:
    """A stand-in that hears a tone, for machines without a microphone and for tests."""

    def __init__(self, clock: Callable[[], float] = monotonic) -> None:
        self._clock, self._began, self._given = clock, clock(), 0

    def take(self) -> bytes:
        upto = round((self._clock() - self._began) * RATE_HZ)
        turns = np.arange(self._given, max(self._given, upto)) * (2 * math.pi * TONE_HZ / RATE_HZ)
        self._given = max(self._given, upto)
        return bytes((TONE * np.sin(turns)).astype("<i2").tobytes())

    def close(self) -> None:
        """Nothing is held."""


def find_microphone() -> Callable[[], Microphone] | None:
    """The machine's microphone; None without one, or without the system's sound library."""
    # What Qt finds missing around sound is no news to a person who speaks of a film.
    QLoggingCategory.setFilterRules("qt.multimedia.*=false")
    try:
        from PyQt6.QtMultimedia import QMediaDevices
    except ImportError:
        return None
    return None if QMediaDevices.defaultAudioInput().isNull() else _Device


class _Device:
    """The default device of the machine, as a `Microphone`."""

    def __init__(self) -> None:
        from PyQt6.QtMultimedia import QAudioFormat, QAudioSource

        form = QAudioFormat()
        form.setSampleRate(RATE_HZ)
        form.setChannelCount(1)
        form.setSampleFormat(QAudioFormat.SampleFormat.Int16)
        self._source = QAudioSource(form)
        self._pipe = self._source.start()

    def take(self) -> bytes:
        return bytes(self._pipe.readAll().data()) if self._pipe is not None else b""

    def close(self) -> None:
        self._source.stop()


class Recorder(QObject):
    """Records into a file; `said` tells how long it is by now, or why it ended by itself."""

    said = pyqtSignal(str)

    def __init__(self, device: Callable[[], Callable[[], Microphone] | None] = find_microphone) -> None:
        super().__init__()
        self._device = device
        self._microphone: Microphone | None = None
        self._file: wave.Wave_write | None = None
        self._path: Path | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(TAKE_MS)
        self._timer.timeout.connect(self._take)

    @property
    def is_recording(self) -> bool:
        """Something is being recorded."""
        return self._file is not None

    def start(self, path: Path) -> bool:
        """Record into a file; False, with a sentence, where that cannot be."""
        make = self._device()
        if make is None:
            self.said.emit("This machine has no microphone; a file of sound can be chosen.")
            return False
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._file = wave.open(str(path), "wb")  # noqa: SIM115  (it is open until the recording ends)
        except OSError as error:
            self.said.emit(f"{path.name} cannot be written: {error.strerror or 'unknown reason'}.")
            return False
        self._file.setnchannels(1)
        self._file.setsampwidth(2)
        self._file.setframerate(RATE_HZ)
        self._path, self._microphone = path, make()
        self._timer.start()
        return True

    def stop(self) -> Path | None:
        """End the recording; the file, or None where nothing was recorded."""
        self._take()
        path = self._path if self._file is not None else None
        self._end()
        return path

    def _take(self) -> None:
        if self._file is None or self._microphone is None:
            return
        try:
            self._file.writeframes(self._microphone.take())
        except OSError as error:
            name = self._path.name if self._path is not None else "The comment"
            self._end()
            self.said.emit(f"{name} cannot be written: {error.strerror or 'unknown reason'}.")
            return
        self.said.emit(f"{self._file.getnframes() / RATE_HZ:.1f} s")

    def _end(self) -> None:
        self._timer.stop()
        if self._microphone is not None:
            self._microphone.close()
        if self._file is not None:
            try:
                self._file.close()
            except OSError:
                self._path = None
        self._microphone = self._file = None
