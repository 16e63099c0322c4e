"""Recordings by the simulated camera: invented play in six games, with the exact truth beside it.

`python -m ripasso.demo.filming.recordings FOLDER [NAME ...]` renders them.
"""

from __future__ import annotations

import json
import math
import sys
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from ripasso.core.json_data import JsonObject
from ripasso.core.physics.strokes import Stroke
from ripasso.core.table import TableSpec, nine_ball_rack, table_spec
from ripasso.core.table.known_points import RAIL_TOP_M, nose_height
from ripasso.core.table.layouts import snooker_spots, starting_layout
from ripasso.core.table.places import Place
from ripasso.demo.filming import people
from ripasso.demo.filming.camera import Image, SimulatedCamera, Spin
from ripasso.demo.filming.choosing import BREAK_SPEED, next_stroke
from ripasso.demo.filming.film import encode
from ripasso.demo.filming.lens import Camera
from ripasso.demo.filming.motion import Motion, play
from ripasso.demo.filming.people import Limb
from ripasso.demo.filming.rooms import CAMERAS, ROOMS
from ripasso.demo.filming.sounds import sounds_of, track

#: Seconds: balls at rest before a player comes, walking, in the stance, after the last ball has stopped.
STILL_S, WALK_S, STANCE_S, AFTER_S, PLACE_S = 0.8, 1.6, 1.6, 0.9, 1.0
CUT_AFTER_S = 0.7  # another camera is shown so long after all balls lie still
FEATHER_S, BACK_M = 0.8, (0.035, 0.09)
RAYS = 2  # a side of each pixel: the film's compression softens the rest
NOTE_EVERY = 3  # frames between looks at what is hidden


@dataclass(frozen=True)
class Recipe:
    """What to record: a game, cameras and a room by name, how many shots, from what layout."""

    game: str
    camera: str
    room: str
    shots: int = 7
    balls: tuple[str, ...] | None = None  # None: the break
    seed: int = 1
    rate: int = 30
    size: tuple[int, int] = (1280, 720)
    table: str = "pool_9ft"
    second: str = ""  # a second camera, which shows every other shot

    @property
    def spec(self) -> TableSpec:
        """The table of the game."""
        return table_spec({"preset": "snooker_12ft" if self.game == "snooker" else self.table})


RECIPES: Mapping[str, Recipe] = {
    "eight_ball": Recipe(
        "eight_ball", "side", "blue", balls=("1", "3", "5", "6", "8", "9", "10", "12", "14", "15"), seed=2
    ),
    "nine_ball": Recipe("nine_ball", "corner", "grey", seed=3, rate=25),
    "ten_ball": Recipe("ten_ball", "end", "teal", balls=("2", "3", "5", "6", "7", "8", "9", "10"), seed=4),
    "straight_pool": Recipe(
        "straight_pool",
        "corner",
        "dim",
        balls=("1", "2", "4", "6", "7", "8", "9", "11", "12", "13", "14", "15"),
        seed=5,
    ),
    "rotation": Recipe(
        "rotation", "side", "warm", balls=("3", "4", "5", "7", "8", "10", "11", "13", "15"), seed=6
    ),
    "snooker": Recipe("snooker", "end", "green", seed=7, rate=25),
    "two_cameras": Recipe(
        "ten_ball", "side", "warm", balls=("1", "2", "4", "5", "6", "7", "9", "10"), seed=8, second="corner"
    ),
    "portrait": Recipe(
        "nine_ball",
        "phone",
        "blue",
        balls=("1", "2", "3", "4", "6", "7", "8", "9"),
        seed=9,
        size=(720, 1280),
    ),
}


@dataclass(frozen=True)
class Moment:
    """One frame: places of the balls, and people."""

    places: Mapping[str, Place]
    limbs: tuple[Limb, ...] = ()


@dataclass
class Play:
    """Everything that is shown, and the truth of the shots."""

    moments: list[Moment] = field(default_factory=list)
    shots: list[JsonObject] = field(default_factory=list)
    placements: list[JsonObject] = field(default_factory=list)


def invent(recipe: Recipe) -> Play:
    """Play the shots of a recipe; the same each time."""
    return _Director(recipe).direct()


class _Director:
    def __init__(self, recipe: Recipe) -> None:
        self._recipe, self._spec = recipe, recipe.spec
        self._random = np.random.default_rng(recipe.seed)
        self._shirt = ROOMS[recipe.room].shirt
        self._layout = self._first_layout()
        self._play = Play()
        self._stand = (self._spec.length * 0.3, -people.STANDS_M - 0.1)
        self._last: str | None = None

    def direct(self) -> Play:
        self._wait(STILL_S + 0.7)
        for number in range(1, self._recipe.shots + 1):
            if len(self._layout) < 2:
                break
            self._shot(number)
        return self._play

    def _first_layout(self) -> dict[str, Place]:
        recipe, spec = self._recipe, self._spec
        if recipe.balls is None:
            layout = starting_layout(recipe.game, spec)
            return layout if recipe.game != "nine_ball" else {"cue": layout["cue"], **nine_ball_rack(spec)}
        layout = {}
        for ball in ("cue", *recipe.balls):
            layout[ball] = self._free_place(layout)
        return layout

    def _free_place(self, layout: Mapping[str, Place]) -> Place:
        """Somewhere on the table, sometimes close to another ball."""
        radius = self._spec.ball_radius
        while True:
            x = float(self._random.uniform(2 * radius, self._spec.length - 2 * radius))
            y = float(self._random.uniform(2 * radius, self._spec.width - 2 * radius))
            if layout and self._random.random() < 0.25:
                near = list(layout.values())[int(self._random.integers(len(layout)))]
                turn = float(self._random.uniform(0, 2 * math.pi))
                x, y = near[0] + 2.02 * radius * math.cos(turn), near[1] + 2.02 * radius * math.sin(turn)
            inside = radius < x < self._spec.length - radius and radius < y < self._spec.width - radius
            if inside and all(math.dist((x, y), other) > 2.01 * radius for other in layout.values()):
                return x, y

    def _frames(self, seconds: float) -> int:
        return max(1, round(seconds * self._recipe.rate))

    def _wait(self, seconds: float, limbs: Sequence[Limb] = ()) -> None:
        self._play.moments += [Moment(dict(self._layout), tuple(limbs))] * self._frames(seconds)

    def _walk(self, goal: Place) -> None:
        count = self._frames(WALK_S)
        for i in range(count):
            place = people.around_table(self._spec, self._stand, goal, (i + 1) / count)
            self._play.moments.append(Moment(dict(self._layout), tuple(people.upright(place, self._shirt))))
        self._stand = goal

    def _shot(self, number: int) -> None:
        is_break = number == 1 and self._recipe.balls is None and self._recipe.game != "snooker"
        stroke = (
            self._break()
            if is_break
            else next_stroke(self._recipe.game, self._spec, self._layout, self._last, self._random)
        )
        aim = stroke.phi
        cue = self._layout["cue"]
        self._walk(people.stand_for(self._spec, cue, aim))
        count = self._frames(STANCE_S)
        for i in range(count):
            to_strike = (count - i) / self._recipe.rate
            swing = (1 - math.cos(2 * math.pi * to_strike / FEATHER_S)) / 2
            back = self._spec.ball_radius + BACK_M[0] + (BACK_M[1] - BACK_M[0]) * swing
            back = (
                min(back, self._spec.ball_radius + 0.002 + stroke.speed * to_strike)
                if to_strike < 0.1
                else back
            )
            limbs = people.bent(self._spec, cue, aim, back, self._shirt)
            self._play.moments.append(Moment(dict(self._layout), tuple(limbs)))
        motion = play(self._spec, self._layout, stroke, 1 / self._recipe.rate)
        self._record(number, stroke, motion)
        follow = people.bent(self._spec, cue, aim, -0.03, self._shirt)
        for i, places in enumerate(motion.places):
            limbs = follow if i < self._frames(0.7) else people.upright(self._stand, self._shirt)
            self._play.moments.append(Moment(dict(places), tuple(limbs)))
        self._layout = dict(motion.after)
        self._last = motion.potted[0][0] if motion.potted else None
        self._wait(AFTER_S, people.upright(self._stand, self._shirt))
        self._put_back(motion)

    def _break(self) -> Stroke:
        x, y = self._layout["cue"]
        apex = min((p for b, p in self._layout.items() if b != "cue"), key=lambda p: p[0])
        aim = math.atan2(apex[1] - y, apex[0] - x) + math.radians(float(self._random.normal(0, 0.4)))
        return Stroke(aim, BREAK_SPEED, 0.0, 0.08)

    def _record(self, number: int, stroke: Stroke, motion: Motion) -> None:
        start = len(self._play.moments) / self._recipe.rate
        self._play.shots.append(
            {
                "index": number,
                "t_strike": round(start, 4),
                "t_all_at_rest": round(start + motion.rest_s, 4),
                "aim_deg": round(math.degrees(stroke.phi), 3),
                "cue_ball_speed": round(stroke.speed, 3),
                "before": _rounded(self._layout),
                "after": _rounded(motion.after),
                "first_contact": motion.first_contact,
                "potted": [
                    {"ball": ball, "pocket": pocket, "t": round(start + at, 3)}
                    for ball, pocket, at in motion.potted
                ],
            }
        )

    def _put_back(self, motion: Motion) -> None:
        """The cue ball comes back into play, a colour to its spot, by hand."""
        fallen = [ball for ball, _, _ in motion.potted]
        spots = snooker_spots(self._spec)
        reds_left = any(ball.startswith("red") for ball in self._layout)
        for ball in fallen:
            if ball == "cue":
                self._place(ball, self._free_place(self._layout))
            elif self._recipe.game == "snooker" and ball in spots and reds_left:
                self._place(ball, spots[ball])

    def _place(self, ball: str, to: Place) -> None:
        angle = math.atan2(to[1] - self._spec.width / 2, to[0] - self._spec.length / 2)
        stand = people.stand_for(self._spec, to, angle + math.pi)
        self._walk(stand)
        hand = people.reaching(self._spec, stand, to, self._shirt)
        self._wait(PLACE_S / 2, hand)
        self._layout[ball] = to
        when = len(self._play.moments) / self._recipe.rate
        self._play.placements.append({"ball": ball, "t": round(when, 3), "at": [round(v, 6) for v in to]})
        self._wait(PLACE_S / 2, hand)
        self._wait(0.3, people.upright(stand, self._shirt))


def _rounded(layout: Mapping[str, Place]) -> dict[str, list[float]]:
    return {ball: [round(x, 6), round(y, 6)] for ball, (x, y) in layout.items()}


def cameras_of(recipe: Recipe) -> tuple[Camera, ...]:
    """The camera of a recipe, and its second one where it has one."""
    names = (recipe.camera, recipe.second) if recipe.second else (recipe.camera,)
    return tuple(CAMERAS[name](recipe.spec, *recipe.size) for name in names)


def shown_by(recipe: Recipe, show: Play) -> list[int]:
    """Which camera shows each frame: a second one every other shot, from when all balls lie still."""
    by = [0] * len(show.moments)
    if not recipe.second:
        return by
    for shot, following in zip(show.shots[::2], [*show.shots[1::2], None], strict=False):
        start = round((shot["t_all_at_rest"] + CUT_AFTER_S) * recipe.rate)
        rest = following["t_all_at_rest"] if following else None
        end = len(by) if rest is None else round((rest + CUT_AFTER_S) * recipe.rate)
        by[start:end] = [1] * (min(end, len(by)) - start)
    return by


def pictures(recipe: Recipe, show: Play) -> Iterator[Image]:
    """The frames of a recording."""
    cameras = [
        SimulatedCamera(recipe.spec, camera, ROOMS[recipe.room], RAYS) for camera in cameras_of(recipe)
    ]
    spin = Spin(recipe.spec.ball_radius)
    for moment, by in zip(show.moments, shown_by(recipe, show), strict=True):
        yield cameras[by].frame(moment.places, spin.follow(moment.places), None, moment.limbs)


def truth_of(name: str, recipe: Recipe, show: Play) -> JsonObject:
    """The exact truth of a recording."""
    spec, camera = recipe.spec, cameras_of(recipe)[0]
    middle = [(recipe.size[0] - 1) / 2, (recipe.size[1] - 1) / 2]
    corners = {
        "head_right": (0.0, 0.0),
        "foot_right": (spec.length, 0.0),
        "foot_left": (spec.length, spec.width),
        "head_left": (0.0, spec.width),
    }
    return {
        "clip": name,
        "game": recipe.game,
        "playing_surface": {"L": spec.length, "W": spec.width},
        "ball_radius": spec.ball_radius,
        "nose_height": nose_height(spec),
        "rail_height": RAIL_TOP_M,
        "fps": recipe.rate,
        "n_frames": len(show.moments),
        "camera": {
            "K": [[camera.focal_px, 0, middle[0]], [0, camera.focal_px, middle[1]], [0, 0, 1]],
            "R": camera.rotation.tolist(),
            "t": camera.translation.tolist(),
            "width": recipe.size[0],
            "height": recipe.size[1],
            "corners_at_nose_height": {
                corner: camera.project([[*place, nose_height(spec)]])[0].round(4).tolist()
                for corner, place in corners.items()
            },
        },
        "placements": show.placements,
        "shots": show.shots,
        "occlusion_notes": _hidden(recipe, show),
    }


def _hidden(recipe: Recipe, show: Play) -> list[JsonObject]:
    """When people hid which ball for the most part."""
    cameras, spec, by = cameras_of(recipe), recipe.spec, shown_by(recipe, show)
    notes: list[JsonObject] = []
    open_notes: dict[str, JsonObject] = {}
    known: dict[tuple[int, int], list[str]] = {}
    for number in range(0, len(show.moments), NOTE_EVERY):
        moment = show.moments[number]
        seen = (id(moment), by[number])
        if seen not in known:
            known[seen] = _hidden_balls(cameras[by[number]], spec, moment)
        hidden = known[seen]
        time_s = number / recipe.rate
        for ball in moment.places:
            if ball in hidden and ball not in open_notes:
                open_notes[ball] = {"ball": ball, "t0": round(time_s, 3), "t1": time_s, "min_visible": 0.0}
            if ball in open_notes:
                if ball in hidden:
                    open_notes[ball]["t1"] = round(time_s + NOTE_EVERY / recipe.rate, 3)
                else:
                    notes.append(open_notes.pop(ball))
    return [*notes, *open_notes.values()]


def _hidden_balls(camera: Camera, spec: TableSpec, moment: Moment) -> list[str]:
    """The balls whose middles, or most of them, lie behind a limb nearer to the camera."""
    if not moment.limbs:
        return []
    hidden = []
    eye = camera.place
    ends = camera.project([point for limb in moment.limbs for point in (limb.start, limb.end)]).reshape(
        -1, 2, 2
    )
    depth = np.array(
        [float((camera.rotation @ limb.middle + camera.translation)[2]) for limb in moment.limbs]
    )
    thick = np.array([limb.radius for limb in moment.limbs]) * camera.focal_px / np.maximum(depth, 0.1)
    away = np.array([float(np.hypot(*(limb.middle[:2] - eye[:2]))) for limb in moment.limbs])
    for ball, place in moment.places.items():
        pixel = camera.project([[*place, spec.ball_radius]])[0]
        along = ends[:, 1] - ends[:, 0]
        share = np.clip(
            ((pixel - ends[:, 0]) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-9), 0, 1
        )
        off = np.hypot(*(ends[:, 0] + share[:, None] * along - pixel).T)
        nearer = away < float(np.hypot(*(np.array(place) - eye[:2])))
        if bool((nearer & (off < thick)).any()):
            hidden.append(ball)
    return hidden


def render(name: str, recipe: Recipe, folder: Path) -> tuple[Path, Path]:
    """Write a recording and its truth into a folder; returns both paths."""
    show = invent(recipe)
    film, truth = folder / f"{name}.mp4", folder / f"{name}.truth.json"
    truth.write_text(json.dumps(truth_of(name, recipe, show), separators=(",", ":")), encoding="utf-8")
    heard = sounds_of(
        [{"t_strike": shot["t_strike"], "t_rest": shot["t_all_at_rest"]} for shot in show.shots],
        [moment.places for moment in show.moments],
        recipe.rate,
    )
    sound = track(heard, len(show.moments) / recipe.rate, recipe.seed)
    encode(pictures(recipe, show), film, recipe.rate, quality="24", preset="veryfast", sound=sound)
    return film, truth


def main(folder: str, names: Sequence[str]) -> None:
    """Render recordings by their names (none: all of them) into a folder."""
    target = Path(folder)
    target.mkdir(parents=True, exist_ok=True)
    for name in names or RECIPES:
        film, _ = render(name, RECIPES[name], target)
        sys.stdout.write(f"{film}\n")


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
