"""Everything that is counted of one player: potting, position, errors, breaks, safety, time, streaks.

Each function takes the facts of the player's own shots in order, unless it says otherwise.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ripasso.core.figures.facts import UNKNOWN, YES, Facts, Flags, Ints, Texts
from ripasso.core.figures.ledger import CONVERTED_BALLS, CONVERTED_POINTS
from ripasso.core.figures.rates import (
    OPEN_LEAVE,
    escapes_hit,
    escapes_left_pot,
    safeties_held,
    safeties_left_little,
)
from ripasso.core.figures.slices import groups_of
from ripasso.core.inference.estimates import (
    AimSpread,
    Difference,
    Expected,
    Mean,
    RunsTest,
    aim_spread,
    difference,
    expected,
    mean,
    quantile,
    rate_of,
    runs_test,
)
from ripasso.core.inference.intervals import Rate, rate
from ripasso.core.measures.errors import Thresholds
from ripasso.core.measures.shots import LONG_LEG, LONG_TOGETHER

#: How many own shots after an error, or after the opponent's long visit, are looked at.
AFTER = 3
#: The slices of pot success that `ripasso stats` puts out.
PUT_OUT = ("cut", "distance", "pocket", "phase", "delivery", "method")
OPEN_CHANCE = Thresholds().open


def pots(facts: Facts) -> Flags:
    """Shots meant as a pot of which it is known what happened."""
    tried: Flags = (facts.equal("intent", "pot")) & facts.flags("tried")
    return tried


def success(facts: Facts, among: Flags) -> Rate:
    """How many of some pots were made."""
    return rate_of(facts.flags("made")[among])


def slice_masks(facts: Facts) -> dict[str, dict[str, Flags]]:
    """The pots of each slice that is always put out, by its name and value; empty ones are left out."""
    tried = pots(facts)
    found = {name: groups_of(facts, name) for name in PUT_OUT}
    return {
        name: kept
        for name, groups in found.items()
        if (kept := {key: tried & mask for key, mask in groups.items() if (tried & mask).any()})
    }


def slices(facts: Facts) -> dict[str, dict[str, Rate]]:
    """Pot success by cut, distance, pocket, phase, delivery and method."""
    return {
        name: {value: success(facts, mask) for value, mask in masks.items()}
        for name, masks in slice_masks(facts).items()
    }


def long_masks(facts: Facts) -> tuple[Flags, Flags, Flags]:
    """Long pots; those long to the ball; those long to the pocket."""
    tried, length = pots(facts), facts.numbers("table_length")
    to_ball, to_pocket = facts.numbers("cue_travel"), facts.numbers("object_travel")
    with np.errstate(invalid="ignore"):
        ball, pocket = to_ball >= LONG_LEG * length, to_pocket >= LONG_LEG * length
        together = to_ball + to_pocket >= LONG_TOGETHER * length
    return tried & together & (ball | pocket), tried & ball, tried & pocket


def long_pots(facts: Facts) -> tuple[Rate, Rate, Rate]:
    """The success of long pots; of those long to the ball; of those long to the pocket."""
    long, ball, pocket = long_masks(facts)
    return success(facts, long), success(facts, ball), success(facts, pocket)


def potting(facts: Facts) -> tuple[AimSpread, Expected]:
    """The aim's spread, and pots beside what the reference level would make of the same attempts."""
    among = pots(facts) & facts.flags("free")
    down = facts.flags("down")[among]
    spread = aim_spread(facts.numbers("left_mrad")[among], facts.numbers("right_mrad")[among], down)
    return spread, expected(facts.numbers("chance")[among], int(down.sum()))


def position(facts: Facts) -> dict[str, Rate | Mean]:
    """Made pots with a plan: zone, distance, along, across, loss, and the side of the line."""
    made = facts.flags("made")
    zone, side = facts.ints("zone")[made], facts.texts("side")[made]

    def known(name: str) -> np.ndarray:
        values = facts.numbers(name)[made]
        return np.asarray(values[~np.isnan(values)])

    sides = side != ""
    return {
        "zone": rate(int((zone == YES).sum()), int((zone != UNKNOWN).sum())),
        "distance_median": quantile(known("distance"), 0.5),
        "distance_p90": quantile(known("distance"), 0.9),
        "along_mean": mean(known("along")),
        "across_mean": mean(known("across")),
        "loss_mean": mean(known("loss")),
        "right_side": rate(int((side == "right_side").sum()), int(sides.sum())),
    }


def leave_after_pots(facts: Facts) -> Mean:
    """The chance that made pots leave to whoever plays next."""
    leave = facts.numbers("leave")[facts.flags("made")]
    return mean(leave[~np.isnan(leave)])


def breaks(facts: Facts) -> dict[str, Rate | float | None]:
    """Breaks: legal, wet, dry, what fell where, the cue ball, a shot afterwards."""
    own = facts.where(facts.equal("intent", "break"))
    legal, potted = ~own.flags("fouled"), own.ints("potted")
    leave = own.numbers("leave")
    with np.errstate(invalid="ignore"):
        after = rate(int((leave >= OPEN_LEAVE).sum()), int((~np.isnan(leave)).sum()))
    left = own.numbers("left_in_rack")
    found: dict[str, Rate | float | None] = {
        "legal": rate_of(legal),
        "wet": rate_of(potted > 0),
        "scratch": rate_of(own.flags("cue_potted")),
        "dry": rate_of(legal & (potted == 0)),
    }
    for name, column in (
        ("outer", "outer"),
        ("second_row_in_side", "second_row"),
        ("head_in_side", "head_in_side"),
        ("cue_central", "central"),
    ):
        answers = own.ints(column)
        found[name] = rate(int((answers == YES).sum()), int((answers != UNKNOWN).sum()))
    found["shot_after"] = after
    found["balls_mean"] = float(potted.mean()) if len(own) else None
    known = left[~np.isnan(left)]
    found["left_in_rack_mean"] = float(known.mean()) if len(known) else None
    return found


def safeties(facts: Facts) -> dict[str, Rate]:
    """Safeties by result and leave, of those with a next shot: the opponent's, unless after a foul."""
    return {"result": safeties_held(facts).rate, "leave": safeties_left_little(facts).rate}


def escapes(facts: Facts) -> dict[str, Rate]:
    """Escapes that hit, and of these, followed by the opponent, those that left a pot."""
    return {"hit": escapes_hit(facts).rate, "left_pot": escapes_left_pot(facts).rate}


def began(facts: Facts) -> Texts:
    """How each visit began, at its first shot; a safety left open and a long pot are told by the layout."""
    found = facts.texts("began").copy()
    with np.errstate(invalid="ignore"):
        found[(found == "safety") & (facts.numbers("best_chance") >= OPEN_CHANCE)] = "safety_left_open"
    long = long_masks(facts)[0] & facts.flags("made")
    found[((found == "safety") | (found == "miss")) & long] = "long_pot"
    return found


def chances(facts: Facts) -> tuple[Flags, Flags]:
    """Visits (their first shots) that began with an open chance, and those that took it.

    Taken: the rack was won in the visit, or 30 points made in snooker, ten balls in straight pool.
    """
    with np.errstate(invalid="ignore"):
        opened = (facts.known("began")) & (facts.numbers("best_chance") >= OPEN_CHANCE)
    scores = facts.ints("visit_score")
    points = facts.equal("game", "snooker") & (scores >= CONVERTED_POINTS)
    balls = facts.equal("game", "straight_pool") & (scores >= CONVERTED_BALLS)
    return opened, (facts.equal("visit_end", "rack_won")) | points | balls


def times(facts: Facts) -> dict[str, float | int | None]:
    """Seconds before own strokes, and balls a minute over those strokes."""
    since = facts.numbers("since_rest_s")
    known = ~np.isnan(since)
    to_rest = facts.numbers("to_rest_s")
    whole = known & ~np.isnan(to_rest)
    balls, minutes = int(facts.ints("legal_balls")[whole].sum()), float(to_rest[whole].sum()) / 60
    return {
        "shots": int(known.sum()),
        "mean": float(since[known].mean()) if known.any() else None,
        "median": float(np.median(since[known])) if known.any() else None,
        "balls_per_minute": balls / minutes if minutes > 0 else None,
    }


def _after(facts: Facts, starts: Flags, *, including: bool) -> Flags:
    """The next `AFTER` own shots after each start (the start itself the first of them if `including`)."""
    marked = np.zeros(len(facts), dtype=np.bool_)
    sessions = facts.ints("session")
    places = np.flatnonzero(starts)
    for step in range(AFTER) if including else range(1, AFTER + 1):
        begun = places[places + step < len(facts)]
        marked[begun[sessions[begun + step] == sessions[begun]] + step] = True
    return marked


def after_mask(facts: Facts, starts: Flags) -> Flags:
    """The next `AFTER` own shots after each start, within its session."""
    return _after(facts, starts, including=False)


def started_mask(facts: Facts, starts: Flags) -> Flags:
    """Each start and the own shots after it, `AFTER` in all, within its session."""
    return _after(facts, starts, including=True)


def next_mask(facts: Facts, starts: Flags) -> Flags:
    """The next own shot after each start, of the same visit."""
    marked = np.zeros(len(facts), dtype=np.bool_)
    same = (facts.ints("visit")[1:] == facts.ints("visit")[:-1]) & (
        facts.ints("session")[1:] == facts.ints("session")[:-1]
    )
    marked[1:] = starts[:-1] & same
    return marked


def longest_run(won: Flags, stretches: Ints) -> tuple[int, int]:
    """Where the longest row of yes within one stretch begins (the first of several), and how long it is."""
    if not won.any():
        return 0, 0
    first = np.ones(len(won), dtype=np.bool_)
    first[1:] = ~won[:-1] | (stretches[1:] != stretches[:-1])
    starts = np.flatnonzero(won & first)
    lengths = np.bincount(np.cumsum(won & first)[won] - 1)
    longest = int(np.argmax(lengths))
    return int(starts[longest]), int(lengths[longest])


def stretches(facts: Facts) -> Ints:
    """A number for each stretch of play without a gap; a row goes on from rack to rack, not across a gap."""
    sessions, gaps = facts.ints("session"), facts.ints("stretch")
    stretch: Ints = sessions * (int(gaps.max(initial=0)) + 1) + gaps
    return stretch


def after_error(facts: Facts) -> tuple[Rate, Rate, Difference]:
    """Pots among the three own shots after an own unforced error, all others, and the difference."""
    return _split(facts, _after(facts, facts.known("unforced"), including=False))


def after_long_visit(facts: Facts) -> tuple[Rate, Rate, Difference]:
    """The same after the opponent's long visit."""
    return _split(facts, _after(facts, facts.flags("after_long_visit"), including=True))


def _split(facts: Facts, marked: Flags) -> tuple[Rate, Rate, Difference]:
    tried = pots(facts)
    after, rest = success(facts, tried & marked), success(facts, tried & ~marked)
    return after, rest, difference(after, rest)


def streaks(facts: Facts) -> RunsTest:
    """The runs test over all own pots in order."""
    return runs_test(facts.flags("made")[pots(facts)])


def unforced_by_kind(facts: Facts) -> Mapping[str, int]:
    """How many (shot, kind) pairs were unforced."""
    found: dict[str, int] = {}
    for text in facts.texts("unforced"):
        for kind in str(text).split():
            found[kind] = found.get(kind, 0) + 1
    return found
