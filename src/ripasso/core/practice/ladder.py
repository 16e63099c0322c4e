"""A ladder: a shot from growing distance or to a smaller zone; up after successes, down after misses."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class LadderRule:
    """Up after `up` successes of the last `of`, down after `down` misses in a row; rungs from 0 to `last`."""

    last: int
    up: int = 3
    of: int = 4
    down: int = 2


def rungs(outcomes: Sequence[bool | None], rule: LadderRule) -> list[int]:
    """The rung of each attempt, and behind them that of the next one; every rung counts anew."""
    rung, found, since = 0, [], list[bool]()
    for outcome in outcomes:
        found.append(rung)
        if outcome is None:
            continue
        since.append(outcome)
        if sum(since[-rule.of :]) >= rule.up and rung < rule.last:
            rung, since = rung + 1, []
        elif len(since) >= rule.down and not any(since[-rule.down :]) and rung > 0:
            rung, since = rung - 1, []
    return [*found, rung]
