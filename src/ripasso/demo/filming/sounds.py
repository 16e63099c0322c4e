"""The sound of a simulated match: the tip, balls that meet, balls that fall, and a room that hums."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from ripasso.core.json_data import JsonMapping
from ripasso.core.table.places import Place

RATE_HZ = 48_000
ROOM = 0.002  # how loud the room is, of 1
MOVED_M = 0.003  # a ball that is farther off than this has been met

#: Pitch in Hz, ringing in seconds, loudness (from memory: a tip is duller than two balls that meet).
VOICES: Mapping[str, tuple[float, float, float]] = {
    "tip": (1400.0, 0.012, 0.5),
    "balls": (3200.0, 0.008, 0.45),
    "pocket": (180.0, 0.09, 0.4),
}


@dataclass(frozen=True)
class Sound:
    """Something that is heard at a time."""

    time_s: float
    voice: Literal["tip", "balls", "pocket"]


def sounds_of(
    shots: Iterable[JsonMapping], places: Sequence[Mapping[str, Place]], rate: float
) -> list[Sound]:
    """What is heard in shots (as their truth says them) of a film whose frames show these places."""
    heard: list[Sound] = []
    for shot in shots:
        first, last = (round(shot[key] * rate) for key in ("t_strike", "t_rest"))
        heard.append(Sound(shot["t_strike"], "tip"))
        start, moved = places[first], {"cue"}
        for frame in range(first, min(last + 1, len(places))):
            for ball, place in start.items():
                now = places[frame].get(ball)
                if ball in moved:
                    continue
                if now is None or np.hypot(now[0] - place[0], now[1] - place[1]) > MOVED_M:
                    moved.add(ball)
                    heard.append(Sound((frame - 0.5) / rate, "balls"))
        for ball in start:
            gone = next((f for f in range(first, min(last + 1, len(places))) if ball not in places[f]), None)
            if gone is not None:
                heard.append(Sound(gone / rate, "pocket"))
    return heard


def track(sounds: Iterable[Sound], duration_s: float, seed: int = 1) -> npt.NDArray[np.int16]:
    """The sound (n,) of one channel at `RATE_HZ`."""
    random = np.random.default_rng(seed)
    samples = ROOM * random.standard_normal(round(duration_s * RATE_HZ))
    for sound in sounds:
        pitch, rings_s, loud = VOICES[sound.voice]
        first = round(sound.time_s * RATE_HZ)
        times = np.arange(max(0, min(round(8 * rings_s * RATE_HZ), len(samples) - first))) / RATE_HZ
        samples[first : first + len(times)] += (
            loud * np.exp(-times / rings_s) * np.cos(2 * np.pi * pitch * times)
        )
    return (np.clip(samples, -1, 1) * 32767).astype(np.int16)
