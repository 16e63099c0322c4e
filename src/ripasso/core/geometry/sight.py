"""What the cue ball can reach of a ball in a straight line, past those not on. Jaws are ignored."""

from __future__ import annotations

import numpy as np

from ripasso.core.geometry.plane import Array, direction, half_angle, length, wrapped


def visible_fractions(cue: Array, targets: Array, blockers: Array, radius: float) -> Array:
    """For each target (k, 2): the share of the directions that reach it in which no blocker is hit first.

    `cue` (2,), `blockers` (m, 2), `radius` of a ball in metres. Exact: between two directions at which the
    first ball hit can change (edges of a ball, and where two are touched at once) it is the same.
    """
    return np.array([_visible(cue, target, blockers, radius) for target in np.atleast_2d(targets)])


def _visible(cue: Array, target: Array, blockers: Array, radius: float) -> float:
    away = target - cue
    middle, half = float(direction(away)), float(half_angle(2 * radius, length(away)))
    if not len(blockers):
        return 1.0
    others = blockers - cue
    centres = wrapped(direction(others) - middle)
    halves = half_angle(2 * radius, length(others))
    turns = np.concatenate((centres - halves, centres + halves, _ties(cue, target, blockers, radius, middle)))
    turns = np.sort(np.clip(np.concatenate((turns, (-half, half))), -half, half))
    middles, widths = (turns[:-1] + turns[1:]) / 2, np.diff(turns)
    reach = _reach(float(length(away)), middles, radius)
    first = _reach(length(others)[:, None], wrapped(middles[None, :] - centres[:, None]), radius)
    free = ~(first < reach[None, :]).any(axis=0)
    return float(widths[free].sum() / (2 * half))


def _ties(cue: Array, target: Array, blockers: Array, radius: float, middle: float) -> Array:
    """Directions in which the cue ball would touch the target and a blocker at once."""
    apart = blockers - target
    distance = length(apart)
    close = (distance > 0) & (distance < 4 * radius)
    apart, distance = apart[close], distance[close]
    if not len(distance):
        return np.empty(0)
    across = np.stack((-apart[:, 1], apart[:, 0]), axis=-1) / distance[:, None]
    rise = np.sqrt(4 * radius**2 - (distance / 2) ** 2)[:, None]
    centre = target + apart / 2
    both = np.concatenate((centre + rise * across, centre - rise * across))
    ties: Array = wrapped(direction(both - cue) - middle)
    return ties


def _reach(distance: Array | float, offset: Array, radius: float) -> Array:
    """How far the cue ball travels until it touches a ball, inf where it misses it or lies behind."""
    sideways = distance * np.sin(offset)
    with np.errstate(invalid="ignore"):
        depth = np.sqrt(4 * radius**2 - sideways**2)
    forward = distance * np.cos(offset)
    hits = (np.abs(sideways) < 2 * radius) & (forward > 0)
    return np.where(hits, forward - depth, np.inf)
