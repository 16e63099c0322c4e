"""The demo film: one invented nine-ball rack, from strokes to frames, with its exact truth.

`python -m ripasso.demo.filming.film FOLDER` renders it again; the film that ships was made so.
"""

from __future__ import annotations

import json
import math
import sys
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import numpy.typing as npt

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table import TableSpec, nine_ball_rack, table_spec
from ripasso.core.table.places import Place
from ripasso.demo.filming.camera import Cue, Image, SimulatedCamera, Spin
from ripasso.demo.filming.motion import play
from ripasso.demo.filming.rooms import side_camera
from ripasso.demo.filming.sounds import RATE_HZ, sounds_of, track
from ripasso.demo.filming.strokes import RACK, RACKED, ScriptedShot
from ripasso.demo.matches import scenario

FRAMES_A_SECOND = 25
BEFORE_S = 2.6  # balls at rest before a strike
AFTER_S = 1.0
CUE_SHOWN_S = 1.5
TABLE = {"preset": "pool_9ft"}
FIRST_CUE_PLACE: Place = (0.508, 0.7874)
SOUND_BLOCK, SOUND_BITS = 1024, 40_000  # samples at a time, bits a second
PLACE_DIGITS = 4  # a tenth of a millimetre


@dataclass(frozen=True)
class Scene:
    """One frame: where the balls are, and the cue when it is in the picture."""

    places: Mapping[str, Place]
    cue: Cue | None = None


@dataclass(frozen=True)
class FilmScript:
    """Every frame of the film, and the truth of its shots."""

    scenes: tuple[Scene, ...]
    truth: JsonMapping


def write_script(shots: tuple[ScriptedShot, ...] = RACK, table: TableSpec | None = None) -> FilmScript:
    """Play the strokes one after the other; times are those of the frames."""
    spec = table or table_spec(TABLE)
    usual = nine_ball_rack(spec)
    layout: dict[str, Place] = {"cue": FIRST_CUE_PLACE, **{RACKED[place]: usual[place] for place in usual}}
    scenes: list[Scene] = []
    truths: list[JsonObject] = []
    for number, shot in enumerate(shots, start=1):
        if shot.cue_placed is not None:
            scenes += [Scene(dict(layout))] * FRAMES_A_SECOND
            layout = {**layout, "cue": shot.cue_placed}
        scenes += _preparation(layout, shot)
        strike = len(scenes)
        motion = play(spec, layout, shot.stroke, 1 / FRAMES_A_SECOND)
        scenes += [Scene(places) for places in motion.places]
        rest = strike + math.ceil(motion.rest_s * FRAMES_A_SECOND)
        truths.append(
            {
                "number": number,
                "player": shot.player,
                "t_strike": strike / FRAMES_A_SECOND,
                "t_rest": rest / FRAMES_A_SECOND,
                "before": _rounded(layout),
                "after": _rounded(motion.after),
                "first_contact": motion.first_contact,
                "potted": [{"ball": ball, "pocket": pocket} for ball, pocket, _ in motion.potted],
                "cushion_after_contact": motion.cushion_after_contact,
                "balls_to_cushion": len(motion.balls_to_cushion),
            }
        )
        # What is played on is what the truth states: a shot played again from it ends at the same place.
        layout = {ball: (x, y) for ball, (x, y) in _rounded(motion.after).items()}
        scenes += [Scene(dict(layout))] * round(AFTER_S * FRAMES_A_SECOND)
    truth = {
        "frame_rate": FRAMES_A_SECOND,
        "frames": len(scenes),
        "table": TABLE,
        "camera": side_camera(spec).described(),
        "shots": truths,
        "places": _changes(scenes),
    }
    return FilmScript(tuple(scenes), truth)


def _preparation(layout: Mapping[str, Place], shot: ScriptedShot) -> list[Scene]:
    """The still table before a strike, the cue moving to and fro at its end."""
    aim = shot.stroke.phi
    frames = round(BEFORE_S * FRAMES_A_SECOND)
    shown = round(CUE_SHOWN_S * FRAMES_A_SECOND)
    scenes = [Scene(dict(layout))] * (frames - shown)
    for i in range(shown):
        to_strike = (shown - i) / FRAMES_A_SECOND
        back = 0.035 + 0.05 * (1 - math.cos(2 * math.pi * to_strike / 0.75)) / 2
        x, y = layout["cue"]
        tip = (x - math.cos(aim) * back, y - math.sin(aim) * back)
        scenes.append(Scene(dict(layout), Cue(tip, aim)))
    return scenes


def _rounded(layout: Mapping[str, Place]) -> dict[str, list[float]]:
    return {name: [round(x, PLACE_DIGITS), round(y, PLACE_DIGITS)] for name, (x, y) in layout.items()}


def _changes(scenes: list[Scene]) -> list[list[Any]]:
    """[frame, {ball: [x, y] or null}] for every frame in which something moved."""
    changes: list[list[Any]] = []
    last: dict[str, list[float]] = {}
    for frame, scene in enumerate(scenes):
        now = _rounded(scene.places)
        moved: JsonObject = {name: place for name, place in now.items() if last.get(name) != place}
        moved |= {name: None for name in last if name not in now}
        if moved:
            changes.append([frame, moved])
        last = now
    return changes


def scenes_from_truth(truth: JsonMapping) -> Iterator[dict[str, Place]]:
    """The balls' places in every frame, as the truth file states them."""
    places: dict[str, Place] = {}
    changes = iter(truth["places"])
    upcoming = next(changes, None)
    for frame in range(truth["frames"]):
        while upcoming is not None and upcoming[0] == frame:
            for name, place in upcoming[1].items():
                if place is None:
                    places.pop(name)
                else:
                    places[name] = (place[0], place[1])
            upcoming = next(changes, None)
        yield dict(places)


def pictures(
    scenes: tuple[Scene, ...], spec: TableSpec, first: int = 0, last: int | None = None
) -> Iterator[Image]:
    """The frames from `first` up to, not including, `last`; what lies before is only rolled through."""
    camera = SimulatedCamera(spec, side_camera(spec))
    spin = Spin(spec.ball_radius)
    shown: tuple[Scene, Image] | None = None
    for number, scene in enumerate(scenes[:last]):
        turned = spin.follow(scene.places)
        if number < first:
            continue
        if shown is None or shown[0] != scene:
            shown = (scene, camera.frame(scene.places, turned, scene.cue))
        yield shown[1]


def encode(
    frames: Iterator[Image],
    path: Path,
    rate: int = FRAMES_A_SECOND,
    quality: str = "25",
    preset: str = "slow",
    sound: npt.NDArray[np.int16] | None = None,
    is_interlaced: bool = False,
) -> None:
    """Write frames as H.264, a key frame every two seconds; `quality`, `preset`: the encoder's.

    `sound` (n,) is one channel at `sounds.RATE_HZ`, written as AAC. `is_interlaced`: two fields a frame, the
    upper one first.
    """
    with av.open(str(path), "w", options={"movflags": "faststart"}) as container:
        stream: Any = None
        voice: SoundWriter | None = None
        for number, picture in enumerate(frames):
            if stream is None:
                options = {"crf": quality, "preset": preset, "g": str(2 * rate)}
                if is_interlaced:
                    options["x264-params"] = "tff=1"
                stream = container.add_stream("libx264", rate=Fraction(rate), options=options)
                stream.width, stream.height, stream.pix_fmt = picture.shape[1], picture.shape[0], "yuv420p"
                voice = SoundWriter(container, sound) if sound is not None else None
            frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
            container.mux(stream.encode(frame))
            if voice is not None:
                voice.until(number / rate)
        if stream is not None:
            container.mux(stream.encode())
        if voice is not None:
            voice.close()


class SoundWriter:
    """Encodes one channel of sound beside the pictures: a file that is cut off has both to its end."""

    def __init__(self, container: Any, sound: npt.NDArray[np.int16]) -> None:
        self._container, self._sound, self._first = container, sound, 0
        self._stream = container.add_stream("aac", rate=RATE_HZ, layout="mono")
        self._stream.bit_rate = SOUND_BITS

    def until(self, time_s: float) -> None:
        """Write what is heard up to a time."""
        while self._first < len(self._sound) and self._first / RATE_HZ <= time_s:
            part = self._sound[self._first : self._first + SOUND_BLOCK].reshape(1, -1)
            frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(part), format="s16", layout="mono")
            frame.sample_rate, frame.pts, frame.time_base = RATE_HZ, self._first, Fraction(1, RATE_HZ)
            self._container.mux(self._stream.encode(frame))
            self._first += SOUND_BLOCK

    def close(self) -> None:
        """Write the rest."""
        self.until(len(self._sound) / RATE_HZ)
        self._container.mux(self._stream.encode())


def sound_of(truth: JsonMapping) -> npt.NDArray[np.int16]:
    """What is heard in the film of a truth."""
    places = list(scenes_from_truth(truth))
    rate = truth["frame_rate"]
    return track(sounds_of(truth["shots"], places, rate), len(places) / rate)


def main(folder: str) -> None:
    """Render the film and its truth into a folder."""
    script = write_script()
    target = Path(folder)
    text = json.dumps(script.truth, separators=(",", ":"))
    (target / scenario.TRUTH_FILE).write_text(text, encoding="utf-8")
    encode(
        pictures(script.scenes, table_spec(TABLE)), target / scenario.FILM_FILE, sound=sound_of(script.truth)
    )


if __name__ == "__main__":
    main(sys.argv[1])
