"""One shot played again and again: until it worked, how often it works, and what a change did.

Outcomes are True (success), False (failure) or None (not judged), in the order played.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ripasso.core.inference.intervals import Rate, rate


@dataclass(frozen=True)
class TriesPerSuccess:
    """How many tries a success takes: 1/rate, with 1/high and 1/low of the rate's interval.

    The geometric distribution's mean; None where nothing succeeded yet (`high`: without a bound).
    """

    value: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True)
class AttemptFigures:
    """The figures of one set. Counting begins with 1."""

    rate: Rate
    until_first_success: int | None
    tries: TriesPerSuccess
    first_met: Mapping[str, int | None]
    relaxed: int
    off_film: int


def first_success(outcomes: Sequence[bool | None]) -> int | None:
    """How many attempts it took until the first success, counting it; None for none."""
    return next((place for place, outcome in enumerate(outcomes, start=1) if outcome), None)


def tries_per_success(found: Rate) -> TriesPerSuccess:
    """How many tries a success takes, from the rate of success."""

    def turned(share: float | None) -> float | None:
        return 1 / share if share else None

    return TriesPerSuccess(turned(found.rate), turned(found.high), turned(found.low))


def attempt_figures(
    outcomes: Sequence[bool | None],
    met: Sequence[Mapping[str, bool]] = (),
    criteria: Sequence[str] = (),
    relaxed: Sequence[bool] = (),
    on_film: Sequence[bool] = (),
) -> AttemptFigures:
    """The figures of a set; `met` says of each attempt which criteria it met."""
    judged = [outcome for outcome in outcomes if outcome is not None]
    found = rate(sum(judged), len(judged))
    first_met = {name: first_success([one.get(name) for one in met]) for name in criteria}
    return AttemptFigures(
        found,
        first_success(outcomes),
        tries_per_success(found),
        first_met,
        sum(map(bool, relaxed)),
        sum(not one for one in on_film),
    )


@dataclass(frozen=True)
class ChangeEffect:
    """What followed a change: successes after it until the next one, and of how many."""

    what: str
    at: int
    after: Rate
    before: Rate


def change_effects(outcomes: Sequence[bool | None], changes: Sequence[str]) -> tuple[ChangeEffect, ...]:
    """For each attempt that changed something (`changes` holds words, "" for none): before it, and after it.

    Before reaches back to the change before, after forward to the next one.
    """
    marks = [place for place, what in enumerate(changes) if what]
    effects = []
    for i, place in enumerate(marks):
        until = marks[i + 1] if i + 1 < len(marks) else len(outcomes)
        since = marks[i - 1] if i else 0
        effects.append(
            ChangeEffect(
                changes[place], place + 1, _rate(outcomes[place:until]), _rate(outcomes[since:place])
            )
        )
    return tuple(effects)


@dataclass(frozen=True)
class AmountEffect:
    """How attempts went at one amount of what was changed; `places` (0 first) are those attempts."""

    what: str
    unit: str
    amount: float
    rate: Rate
    places: tuple[int, ...]


#: What was changed before an attempt: what, the unit, by how much.
Amount = tuple[str, str, float]


def amount_effects(
    outcomes: Sequence[bool | None], changes: Sequence[Sequence[Amount]]
) -> tuple[AmountEffect, ...]:
    """Results by amount, the smallest first. Changes add up: each was made to what was played before it.

    Only what was changed at least once has amounts; before its first change it stood at 0.
    """
    found: list[AmountEffect] = []
    for what, unit in dict.fromkeys((what, unit) for some in changes for what, unit, _ in some):
        total, at = 0.0, dict[float, list[int]]()
        for place, some in enumerate(changes):
            total += sum(by for one, of, by in some if (one, of) == (what, unit))
            at.setdefault(round(total, 6), []).append(place)
        for amount, places in sorted(at.items()):
            found.append(
                AmountEffect(what, unit, amount, _rate([outcomes[i] for i in places]), tuple(places))
            )
    return tuple(found)


def _rate(outcomes: Sequence[bool | None]) -> Rate:
    judged = [outcome for outcome in outcomes if outcome is not None]
    return rate(sum(judged), len(judged))
