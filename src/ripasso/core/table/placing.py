"""Where a ball can lie: on the bed or in a pocket's jaws, and never inside another ball.

A place that is a little wrong, as a click is, is moved to the nearest possible one; what cannot be mended
so is refused with a sentence. Metres.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.table.layouts import foot_spot, snooker_spots
from ripasso.core.table.places import Place
from ripasso.core.table.pockets import POCKETS, pocket_centre
from ripasso.core.table.presets import TableSpec

#: How far a place may be moved to become possible, in ball radii; from there on it is refused.
MENDED_RADII = 0.5
#: Two balls that touch, as recorded to a tenth of a millimetre.
TOUCH_M = 0.00015
MOVES = 24


class ImpossiblePlace(ValueError):
    """No ball can lie there; the message is one sentence for the user."""


@dataclass(frozen=True, slots=True)
class Settled:
    """Where a ball comes to lie, and what it touches there (a ball's name, or "cushion")."""

    place: Place
    touches: str | None = None


def settle(spec: TableSpec, others: Mapping[str, Place], ball: str, place: Place) -> Settled:
    """The possible place nearest to `place` for a ball among others; raises `ImpossiblePlace`."""
    wanted, touches = place, None
    for _ in range(MOVES):
        inside = _on_bed(spec, place)
        if inside != place:
            place, touches = inside, "cushion"
        near = min(others, key=lambda name: math.dist(others[name], place), default=None)
        short = 2 * spec.ball_radius - (math.dist(others[near], place) if near is not None else math.inf)
        if near is None or short <= 1e-9:
            break
        place, touches = _pushed_off(others[near], place, 2 * spec.ball_radius + TOUCH_M), near
    moved = math.dist(wanted, place)
    free = all(math.dist(other, place) > 2 * spec.ball_radius - 1e-9 for other in others.values())
    if free and _on_bed(spec, place) == place and moved <= MENDED_RADII * spec.ball_radius:
        return Settled(place, touches)
    raise ImpossiblePlace(_sentence(spec, others, ball, wanted))


def overlapping(spec: TableSpec, layout: Mapping[str, Place], slack_m: float = 0.001) -> list[str]:
    """What cannot be in a layout, a sentence each: balls off the table, balls inside one another."""
    found = []
    names = list(layout)
    for i, name in enumerate(names):
        if math.dist(_on_bed(spec, layout[name]), layout[name]) > slack_m:
            found.append(f"{_the(name)} is off the table.")
        for other in names[i + 1 :]:
            short = 2 * spec.ball_radius - math.dist(layout[name], layout[other])
            if short > slack_m:
                found.append(f"{_the(name)} and {_the(other, start=False)} overlap by {1000 * short:.0f} mm.")
    return found


def spot_for(spec: TableSpec, ball: str, others: Mapping[str, Place]) -> Place:
    """Where a ball is spotted: on its spot, or the nearest free place behind it towards the foot cushion.

    Snooker: its own spot, else the highest spot that is free (official rules of snooker, section 3, from
    memory); pool: the foot spot and the long string behind it (WPA rules 1.4, from memory).
    """
    if spec.snooker:
        spots = snooker_spots(spec)
        own = spots.get(ball, spots["black"])
        order = [own, *(spots[name] for name in ("black", "pink", "blue", "brown", "green", "yellow"))]
        free = next((spot for spot in order if _is_free(spec, others, spot)), None)
        if free is not None:
            return free
        start = own
    else:
        start = foot_spot(spec)
    x, y = start
    while not _is_free(spec, others, (x, y)) and x < spec.length - spec.ball_radius:
        x += 0.001
    return (x, y)


def _is_free(spec: TableSpec, others: Mapping[str, Place], place: Place) -> bool:
    return all(math.dist(other, place) >= 2 * spec.ball_radius for other in others.values())


def _on_bed(spec: TableSpec, place: Place) -> Place:
    """The nearest place for a ball's centre that the cushions leave; in a pocket's jaws it stays."""
    radius = spec.ball_radius
    x = min(max(place[0], radius), spec.length - radius)
    y = min(max(place[1], radius), spec.width - radius)
    if (x, y) == place:
        return place
    for pocket in POCKETS:
        mouth = spec.side_mouth if pocket.startswith("side") else spec.corner_mouth
        if math.dist(pocket_centre(spec, pocket), place) < 0.75 * mouth:
            return place
    return (x, y)


def _pushed_off(other: Place, place: Place, distance: float) -> Place:
    """The place at a distance from another ball, in the same direction."""
    away = (place[0] - other[0], place[1] - other[1])
    length = math.hypot(*away)
    if length < 1e-9:
        return (other[0] + distance, other[1])
    return (other[0] + away[0] / length * distance, other[1] + away[1] / length * distance)


def _sentence(spec: TableSpec, others: Mapping[str, Place], ball: str, place: Place) -> str:
    if math.dist(_on_bed(spec, place), place) > MENDED_RADII * spec.ball_radius:
        return f"That place is off the table, so {_the(ball, start=False)} stays where it was."
    near = min(others, key=lambda name: math.dist(others[name], place), default="")
    return f"{_the(ball)} would lie in {_the(near, start=False)}, so it stays where it was."


def _the(ball: str, *, start: bool = True) -> str:
    """The ball in a sentence."""
    words = "the cue ball" if ball == "cue" else f"the {ball}"
    if ball.startswith("red") and ball[-1:].isdigit():
        words = ball.replace("red", "red ")
    return words[:1].upper() + words[1:] if start else words
