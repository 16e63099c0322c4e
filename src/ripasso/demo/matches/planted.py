"""Invented players whose habits are known: shots as columns, to see whether statistics find what is there.

Nothing is played: each shot is drawn. What a habit changes is said at its line; all else is drawn alike.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from scipy.special import ndtr

from ripasso.core.figures.facts import Facts, Flags

#: Shots of a session, of a rack, of a visit.
SESSION, RACK, VISIT = 200, 12, 4
REFERENCE_MRAD = 1.5
#: No ball is harder than this (mrad), so that a habit that takes chances away always can.
HARDEST_MRAD = 0.7
#: How many of the next shots a player is unsettled after an unforced error.
UNSETTLED = 3
FAIR = 0.75


@dataclass(frozen=True)
class Habits:
    """What a player does; the values of somebody without habits stand here."""

    spread_mrad: float = 1.5
    along_m: float = 0.0  # long of the aim point
    across_m: float = 0.0
    thick: float = 0.5  # of missed pots
    crossing: float = 0.0  # added to the share of the right side when the next line is crossed
    cushions: float = 0.0  # added to the share of zones hit with two cushions and more
    after_error: float = 0.0  # added to the chance of the next three shots
    thin_cuts: float = 0.0  # added to the chance of cuts of 45° and more
    drawn_m: float = 0.0  # long of the aim point with draw, besides
    quick: float = 0.0  # added to the chance of shots that are played quickly
    inside: float = 0.0  # added to the chance of shots with inside side
    pressure: float = 0.0  # added to the chance of shots under pressure


#: Sizes that 5,000 shots are to show, by the question that asks for them.
PLANTED = {
    "along": Habits(along_m=0.015),
    "across": Habits(across_m=-0.01),
    "thick_or_thin": Habits(thick=0.56),
    "crossing": Habits(crossing=-0.08),
    "cushions": Habits(cushions=-0.08),
    "after_error": Habits(after_error=-0.06),
    "thin_cuts": Habits(thin_cuts=-0.07),
    "along_drawn": Habits(drawn_m=0.03),
    "quick": Habits(quick=-0.05),
    "inside": Habits(inside=-0.08),
    "pressure": Habits(pressure=-0.08),
}
RIGHT_SIDE, IN_ZONE = 0.8, 0.7


@dataclass
class _Draw:
    """Columns as they are drawn."""

    count: int
    random: np.random.Generator
    seed: int = 0
    columns: dict[str, np.ndarray] = field(default_factory=dict)

    def words(self, name: str, values: list[str], shares: list[float] | None = None) -> np.ndarray:
        drawn = self.random.choice(values, self.count, p=shares).astype(object)
        self.columns[name] = drawn
        return drawn

    def flags(self, share: float) -> Flags:
        drawn: Flags = self.random.random(self.count) < share
        return drawn


def planted_facts(count: int, habits: Habits, seed: int) -> Facts:
    """So many pots of a player with these habits."""
    draw = _Draw(count, np.random.default_rng(seed), seed)
    places = np.arange(count)
    made = _pots(draw, habits, places)
    columns = draw.columns | {
        "person": np.full(count, "p", dtype=object),
        "intent": np.full(count, "pot", dtype=object),
        "session": places // SESSION,
        "rack": places % SESSION // RACK + 1,
        "number": places % RACK + 1,
        "visit": places // VISIT,
        "tried": np.ones(count, dtype=bool),
        "made": made,
        "down": made,
        "failed": ~made,
        "free": np.ones(count, dtype=bool),
    }
    draw.columns = columns
    _misses(draw, habits)
    _position(draw, habits)
    return Facts.of_columns(draw.columns, count)


def _pots(draw: _Draw, habits: Habits, places: np.ndarray) -> Flags:
    random, columns = draw.random, draw.columns
    cut = random.uniform(-60, 60, draw.count)
    # Tolerances in mrad as they are met on a table: from hard to easy, thin cuts not harder by themselves.
    left, right = np.maximum(HARDEST_MRAD, np.exp(random.normal(0.9, 0.45, (2, draw.count))))
    since = random.lognormal(3.0, 0.5, draw.count)
    columns |= {
        "cut_deg": cut,
        "left_mrad": left,
        "right_mrad": right,
        "chance": _chance(left, right, REFERENCE_MRAD),
        "cue_travel": random.uniform(0.3, 1.8, draw.count),
        "object_travel": random.uniform(0.2, 1.5, draw.count),
        "table_length": np.full(draw.count, 2.54),
        "since_rest_s": since,
    }
    draw.words("delivery", ["", "rest", "reach"], [0.85, 0.05, 0.1])
    draw.words("target", ["foot_left", "foot_right", "side_left", "side_right", "head_left", "head_right"])
    draw.words("phase", ["opening", "middle", "last"])
    draw.words("stroke", ["follow", "stun", "draw"])
    draw.words("stroke_pace", ["soft", "medium", "firm"])
    chance = _chance(left, right, habits.spread_mrad)
    chance = chance + np.where(np.abs(cut) >= 45, habits.thin_cuts, 0.0)
    said = _said(draw)
    chance = chance + np.where(said["spin_cut"] == "inside", habits.inside, 0.0)
    chance = chance + np.where(said["pressure"] != "", habits.pressure, 0.0)
    chance = chance + np.where(since < np.median(since), habits.quick, 0.0)
    luck = random.random(draw.count)
    made = np.zeros(draw.count, dtype=bool)
    unsettled_until, fair = -1, columns["chance"] >= FAIR
    for place in places.tolist():
        if place % SESSION == 0:
            unsettled_until = -1
        own = chance[place] + (habits.after_error if place <= unsettled_until else 0.0)
        made[place] = luck[place] < own
        if not made[place] and fair[place]:
            unsettled_until = place + UNSETTLED
    columns["unforced"] = np.where(~made & fair, "pot", "").astype(object)
    columns["after_long_visit"] = draw.flags(0.03)
    return made


def _said(draw: _Draw) -> dict[str, np.ndarray]:
    """What hangs on nothing else; drawn apart, so that all other columns stay as they were."""
    other = _Draw(draw.count, np.random.default_rng((draw.seed, 1)))
    other.words("spin_cut", ["none", "inside", "outside"], [0.5, 0.25, 0.25])
    other.words("spin_rail", ["none", "running", "check"], [0.5, 0.3, 0.2])
    other.words("route", ["", "natural", "fought"], [0.4, 0.4, 0.2])
    other.words("pressure", ["", "decider", "match_point"], [0.8, 0.1, 0.1])
    other.words("standing", ["ahead", "level", "behind"])
    other.words("roles", ["", "trouble"], [0.9, 0.1])
    other.words("causes", ["", "miscue"], [0.98, 0.02])
    other.columns |= {
        "late": other.random.integers(0, 2, draw.count),
        "replanned": other.random.integers(0, 2, draw.count),
        "ball_to_cushion": other.random.uniform(0, 0.3, draw.count),
        "window_deg": other.random.uniform(2, 12, draw.count),
    }
    draw.columns |= other.columns
    return other.columns


def _chance(left: np.ndarray, right: np.ndarray, spread: float) -> np.ndarray:
    return np.asarray(ndtr(right / spread) + ndtr(left / spread) - 1)


def _misses(draw: _Draw, habits: Habits) -> None:
    contact = np.where(draw.flags(habits.thick), "thick", "thin")
    draw.columns["contact"] = np.where(draw.columns["failed"], contact, "").astype(object)


def _position(draw: _Draw, habits: Habits) -> None:
    """The cue ball beside the aim point, in the zone or not, on which side of the next line."""
    columns, random = draw.columns, draw.random
    made = columns["made"]
    drawn = np.where(columns["stroke"] == "draw", habits.drawn_m, 0.0)
    cushions, crossing = random.integers(0, 4, draw.count), random.uniform(0, 90, draw.count)
    in_zone = random.random(draw.count) < IN_ZONE + np.where(cushions >= 2, habits.cushions, 0.0)
    right = random.random(draw.count) < RIGHT_SIDE + np.where(crossing >= 50, habits.crossing, 0.0)
    columns |= {
        "along": np.where(made, random.normal(habits.along_m, 0.2, draw.count) + drawn, np.nan),
        "across": np.where(made, random.normal(habits.across_m, 0.12, draw.count), np.nan),
        "angle_miss": np.where(made, random.normal(0, 8, draw.count), np.nan),
        "travel": random.uniform(0.2, 5, draw.count),
        "cushions": cushions,
        "crossing_deg": crossing,
        "zone": np.where(made, in_zone.astype(int), -1),
        "side": np.where(made, np.where(right, "right_side", "wrong_side"), "").astype(object),
        "pace": np.where(made & draw.flags(0.4), np.where(draw.flags(0.5), "long", "short"), "").astype(
            object
        ),
        "position": np.where(made, np.where(draw.flags(0.15), "lost", "good"), "").astype(object),
    }
