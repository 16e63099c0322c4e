"""What an invented player plays next on a layout: an easy pot if there is one, else something near."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from ripasso.core.geometry.pots import chances, pots
from ripasso.core.physics.strokes import Stroke
from ripasso.core.table import POCKETS, TableSpec
from ripasso.core.table.places import Place
from ripasso.demo.filming.motion import ROLLING_TIP

AIM_SPREAD_RAD = 0.002
#: Speeds of the cue ball, m/s (common practice, no source): of a break, the slowest and the fastest of a pot.
BREAK_SPEED, SLOWEST, FASTEST = 7.5, 1.1, 3.2


def balls_on(game: str, layout: Mapping[str, Place], last: str | None) -> list[str]:
    """The balls a player may play at, roughly: enough for a film that looks like the game."""
    balls = [ball for ball in layout if ball != "cue"]
    if game in ("nine_ball", "ten_ball", "rotation"):
        return sorted(balls, key=int)[:1]
    if game == "snooker":
        reds = [ball for ball in balls if ball.startswith("red")]
        colours = [ball for ball in balls if not ball.startswith("red")]
        wants_colour = last is not None and last.startswith("red")
        return colours if (wants_colour and colours) or not reds else reds
    return balls


def next_stroke(
    game: str, spec: TableSpec, layout: Mapping[str, Place], last: str | None, random: np.random.Generator
) -> Stroke:
    """The stroke an invented player chooses, with the error of his aim in it."""
    cue = layout["cue"]
    choices = _pots(spec, layout, balls_on(game, layout, last))
    if choices:
        _, angle, way = choices[int(random.integers(min(2, len(choices))))]
        speed = float(np.clip(0.9 + 0.75 * way + random.normal(0, 0.15), SLOWEST, FASTEST))
        way = angle + random.normal(0, AIM_SPREAD_RAD)
        return Stroke(float(way), speed, 0.0, ROLLING_TIP * float(random.uniform(-0.6, 1.0)))
    ball = balls_on(game, layout, last) or [b for b in layout if b != "cue"]
    x, y = layout[min(ball, key=lambda name: math.dist(layout[name], cue))]
    angle = math.atan2(y - cue[1], x - cue[0]) + random.normal(0, 0.01)
    return Stroke(float(angle), float(random.uniform(1.2, 2.2)), 0.0, ROLLING_TIP / 2)


def _pots(
    spec: TableSpec, layout: Mapping[str, Place], balls: Sequence[str]
) -> list[tuple[float, float, float]]:
    """Chance, direction of the cue ball (radians) and way of both balls (metres) of each pot, best first."""
    if not balls:
        return []
    pairs = [(ball, pocket) for ball in balls for pocket in range(len(POCKETS))]
    others = np.full((len(pairs), max(1, len(layout) - 2), 2), np.nan)
    for i, (ball, _) in enumerate(pairs):
        rest = [place for name, place in layout.items() if name not in ("cue", ball)]
        others[i, : len(rest)] = np.array(rest).reshape(-1, 2)
    found = pots(
        spec,
        np.tile(layout["cue"], (len(pairs), 1)),
        np.array([layout[ball] for ball, _ in pairs]),
        np.array([pocket for _, pocket in pairs]),
        others,
    )
    chance = np.where(found.obstacle == 0, chances(found, AIM_SPREAD_RAD), 0.0)
    to_ghost = found.ghost - np.array(layout["cue"])
    angles = np.arctan2(to_ghost[:, 1], to_ghost[:, 0])
    order = np.argsort(-chance)
    ways = found.cue_travel + found.object_travel
    return [(float(chance[i]), float(angles[i]), float(ways[i])) for i in order if chance[i] > 0.25]
