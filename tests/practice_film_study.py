"""Fifteen attempts at one layout, set up by hand, filmed and read: `python -m tests.practice_film_study`.

How many attempts are found, and how many outcomes are right? Run for a report, not in every test run: it
renders a film of some minutes and reads it.
"""

from __future__ import annotations

import json
import math
import sys
import tempfile
from pathlib import Path

from ripasso.core.physics.strokes import Stroke
from ripasso.core.table import pocket_mouth_middle
from ripasso.core.table.places import Place
from ripasso.demo.filming import recordings
from ripasso.demo.filming.motion import ROLLING_TIP, Motion
from ripasso.demo.filming.recordings import Play, Recipe, _Director, render
from ripasso.reading_command import read_film
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.practice.film_attempts import attempts_on_film
from ripasso.review.record.practice import Exercise

ATTEMPTS = 15
LAYOUT: dict[str, Place] = {"cue": (1.05, 0.45), "1": (1.9, 0.85), "9": (0.5, 1.0)}
TARGET = {"ball": "1", "pocket": "foot_left"}
ZONE = {"circle": {"centre": [1.75, 0.9], "radius": 0.3}}
#: How far off a hand puts a ball (m), how far off the aim is (degrees).
HAND_M, AIM_DEG = 0.006, 0.9
RECIPE = Recipe("nine_ball", "side", "blue", balls=("1", "9"), seed=20)


class Practising(_Director):
    """Plays one layout again and again; what moved is put back by hand."""

    def __init__(self, recipe: Recipe) -> None:
        super().__init__(recipe)
        self._layout = dict(LAYOUT)

    def direct(self) -> Play:
        self._wait(1.5)
        for number in range(1, ATTEMPTS + 1):
            self._shot(number)
        self._wait(1.0)
        return self._play

    def _put_back(self, motion: Motion) -> None:
        for ball, place in LAYOUT.items():
            lies = self._layout.get(ball)
            if lies is None or math.dist(lies, place) > HAND_M * 3:
                x, y = (value + float(self._random.normal(0, HAND_M / 2)) for value in place)
                self._place(ball, (x, y))


def stroke_for(spec, layout: dict[str, Place], random) -> Stroke:
    """At the ghost ball of the target, off by a hand's error."""
    ball, target = layout["1"], pocket_mouth_middle(spec, "foot_left")
    way = math.atan2(target[1] - ball[1], target[0] - ball[0])
    ghost = (
        ball[0] - 2 * spec.ball_radius * math.cos(way),
        ball[1] - 2 * spec.ball_radius * math.sin(way),
    )
    cue = layout["cue"]
    aim = math.atan2(ghost[1] - cue[1], ghost[0] - cue[0])
    off, pace, roll = random.normal(0, AIM_DEG), random.uniform(1.3, 1.9), random.uniform(-0.3, 0.5)
    return Stroke(aim + math.radians(float(off)), float(pace), 0.0, ROLLING_TIP * float(roll))


def main() -> int:
    """Film, read, compare; 0 where every attempt is found and at most one outcome is wrong."""
    recordings.next_stroke = lambda _game, spec, layout, _last, random: stroke_for(spec, layout, random)
    recordings.invent = lambda recipe: Practising(recipe).direct()
    with tempfile.TemporaryDirectory() as folder:
        film, truth_file = render("attempts", RECIPE, Path(folder))
        truth = json.loads(truth_file.read_text())
        session = read_film(film, None, "nine_ball").session
    snapshot = Snapshot(session.id, {}).applied(add_session(session).changes)
    asked = {"id": "x", "title": "x", "kind": "one_shot", "layout": LAYOUT, "target": TARGET}
    exercise = Exercise.model_validate_json(json.dumps(asked))
    found = attempts_on_film(snapshot, exercise, None)
    wanted = {one["t_strike"]: _is_made(one) for one in truth["shots"]}
    right = 0
    for at, made in wanted.items():
        near = min(found, key=lambda one: abs(one.t_strike - at), default=None)
        hit = near is not None and abs(near.t_strike - at) < 1.0
        right += hit and near.success == made
        print(f"{at:7.2f} s: {'made' if made else 'missed'}, {'found' if hit else 'not found'}")
    print(f"{len(found)} of {ATTEMPTS} found, {right} outcomes right; {len(snapshot.shots)} shots read")
    return 0 if len(found) == ATTEMPTS and right >= ATTEMPTS - 1 else 1


def _is_made(shot) -> bool:
    fallen = {one["ball"]: one["pocket"] for one in shot["potted"]}
    return fallen.get("1") == "foot_left" and "cue" not in fallen


if __name__ == "__main__":
    sys.exit(main())
