"""A rack played out with all physics and the player's errors; before each shot the maps decide anew."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ripasso.core.inference.intervals import Rate, rate
from ripasso.core.physics.repeating import ON_TABLE, Outcomes, errors_of, played, repeat
from ripasso.core.planning.backward.deciding import Decision, decide, forced, rack_as
from ripasso.core.planning.backward.orders import State
from ripasso.core.planning.backward.solving import Rack
from ripasso.core.planning.expected import lies_after
from ripasso.core.table import POCKETS
from ripasso.core.table.places import Place

#: Shots of one rack at most: each takes its errors from a part of the generator's numbers.
MOST_SHOTS = 64


@dataclass(frozen=True)
class PlayedOut:
    """Racks that were played: how many were cleared, and after how many pots the others ended (n,)."""

    cleared: Rate
    pots: tuple[int, ...]


def play_out(
    rack: Rack, cue: Place, *, racks: int, seed: int, go_on: Callable[[], bool] = lambda: True
) -> PlayedOut:
    """Play racks from a place of the cue ball; a rack ends with the first ball that is not potted as meant.

    Rack number i depends on the seed and on i alone.
    """
    layout = {"cue": cue, **{ball: rack.problem.layout[ball] for ball in rack.order.balls}}
    first = decide(rack, rack.order.start, cue, layout)
    cleared, pots = 0, []
    for number in range(racks):
        if not go_on():
            break
        errors = errors_of(seed * 1_000_003 + number, MOST_SHOTS)
        made, whole = _rack(rack, layout, first, errors)
        cleared += whole
        pots.append(made)
    return PlayedOut(rate(cleared, len(pots)), tuple(pots))


def _rack(
    rack: Rack, layout: dict[str, Place], first: Decision | None, errors: np.ndarray
) -> tuple[int, bool]:
    """One rack: how many balls fell, and whether it was cleared."""
    state: State = rack.order.start
    decision, lies = first, dict(layout)
    for shot in range(MOST_SHOTS):
        if decision is None:
            return shot, False
        after = _played(rack, lies, decision, errors[shot : shot + 1])
        if after is None:
            return shot, False
        if decision.choice.then is None:
            return shot + 1, True
        state = decision.choice.then
        lies = after
        for ball in rack.order.standing(state):
            # A colour comes back onto its spot.
            lies.setdefault(ball, rack.problem.layout[ball])
        decision = decide(rack_as(rack, lies), state, lies["cue"], lies)
    return MOST_SHOTS, False


def _played(
    rack: Rack, lies: dict[str, Place], decision: Decision, error: np.ndarray
) -> dict[str, Place] | None:
    """Where the balls lie after a stroke; None where it did not do what was meant."""
    physics, bed = rack.setting.physics, rack.setting.bed
    starts = played(forced(rack, lies, decision.stroke), rack.setting.spreads, error, physics)
    found: Outcomes = repeat(lies, starts, bed, physics, threads=1)
    if found.potted("cue")[0] != ON_TABLE:
        return None
    if found.potted(decision.ball)[0] != POCKETS.index(decision.pocket):
        return None
    if found.balls[int(found.first[0])] != decision.ball:
        return None
    return lies_after(found, 0)
