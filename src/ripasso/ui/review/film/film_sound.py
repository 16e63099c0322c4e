"""The sound of a film while it runs at its own speed; silence elsewhere, and where no device plays it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Protocol

from PyQt6.QtCore import QLoggingCategory, QObject, QTimer

from ripasso.film.decoding.sound import BYTES_A_SECOND, CHANNELS, RATE_HZ, SoundFeed, has_sound
from ripasso.ui.services.background import Background

#: How often the device is filled, and how much of the sound it holds.
FILL_MS, HELD_S = 30, 0.25


class Output(Protocol):
    """Where sound goes: a device that takes bytes (16 bits, two channels) while it has room."""

    def room(self) -> int:
        """How many bytes it takes now."""

    def write(self, samples: bytes) -> None:
        """Play them after what was written before."""

    def close(self) -> None:
        """Fall silent at once."""


class FilmSound(QObject):
    """Plays the sound of one film; `device` says what makes outputs, None for silence."""

    def __init__(
        self,
        background: Background,
        device: Callable[[], Callable[[], Output | None] | None] | None = None,
    ) -> None:
        super().__init__()
        self._background = background
        self._device = device or find_device
        #: What makes an output; None where there is no device. Found once, when a film is first heard.
        self._make: Callable[[], Output | None] | None = None
        self._looked = False
        self._path: Path | None = None
        self._feed: SoundFeed | None = None
        self._output: Output | None = None
        self.on = True
        self._timer = QTimer(self)
        self._timer.setInterval(FILL_MS)
        self._timer.timeout.connect(self._fill)

    def open(self, path: Path) -> None:
        """Find out in the background whether a film has sound; where it goes is found when it is heard."""
        self.close()
        self._background.run(lambda: has_sound(path), partial(self._opened, path), lambda _error: None)

    def _opened(self, path: Path, sounds: bool) -> None:
        self._path = path if sounds else None

    def close(self) -> None:
        """Put the film away."""
        self.stop()
        self._path = None

    @property
    def heard(self) -> bool:
        """Sound is being played."""
        return self._output is not None

    def play(self, time_s: float) -> None:
        """Play from a time of the film on, whatever was played before."""
        self.stop()
        if not self.on or self._path is None:
            return
        if not self._looked:
            self._looked, self._make = True, self._device()
        self._output = self._make() if self._make is not None else None
        if self._output is not None:
            self._feed = SoundFeed(self._path, time_s)
            self._timer.start()

    def stop(self) -> None:
        """Fall silent."""
        self._timer.stop()
        if self._feed is not None:
            self._feed.close()
        if self._output is not None:
            self._output.close()
        self._feed = self._output = None

    def _fill(self) -> None:
        if self._feed is None or self._output is None:
            return
        samples = self._feed.take(self._output.room())
        if samples:
            self._output.write(samples)
        elif self._feed.ended:
            self._timer.stop()


def find_device() -> Callable[[], Output | None] | None:
    """The machine's sound device; None without one, or without the system's sound library.

    Called on the window's thread: Qt's module for sound ends the process when another thread loads it while
    the window works.
    """
    # What Qt finds missing around sound is no news to a person who looks at a film.
    QLoggingCategory.setFilterRules("qt.multimedia.*=false")
    try:
        from PyQt6.QtMultimedia import QMediaDevices
    except ImportError:
        return None
    return None if QMediaDevices.defaultAudioOutput().isNull() else _Device


class _Device:
    """The default device of the machine, as an `Output`."""

    def __init__(self) -> None:
        from PyQt6.QtMultimedia import QAudioFormat, QAudioSink

        form = QAudioFormat()
        form.setSampleRate(RATE_HZ)
        form.setChannelCount(CHANNELS)
        form.setSampleFormat(QAudioFormat.SampleFormat.Int16)
        self._sink = QAudioSink(form)
        self._sink.setBufferSize(int(HELD_S * BYTES_A_SECOND))
        self._pipe = self._sink.start()

    def room(self) -> int:
        return self._sink.bytesFree() if self._pipe is not None else 0

    def write(self, samples: bytes) -> None:
        if self._pipe is not None:
            self._pipe.write(samples)

    def close(self) -> None:
        self._sink.reset()
