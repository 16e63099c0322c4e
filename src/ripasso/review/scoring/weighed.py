"""What a weighed choice and its stroke gave away, from what is recorded of it."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.core.measures.given_away import Worth, by_choice, by_stroke, is_as_good
from ripasso.review.record.model import Clearing, Shot, WeighedOption, Weighing


def weighing_of(shot: Shot) -> Weighing | None:
    """What the program worked out of the shot's choice; None where nobody asked."""
    return shot.decision.weighed if shot.decision is not None else None


def _worth(option: WeighedOption) -> Worth:
    return Worth(float(option.value), float(option.low), float(option.high))


def gone_by_choice(shot: Shot) -> float | None:
    """The chance that the choice gave away, 0 where it is as good; None where that was not worked out."""
    found = weighing_of(shot)
    if found is None or found.chosen is None:
        return None
    return by_choice(_worth(found.best), _worth(found.chosen))


def gone_by_stroke(shot: Shot) -> float | None:
    """The chance that the stroke gave away; below 0 where more came of it than it promised."""
    found = weighing_of(shot)
    if found is None or found.chosen is None or found.reached is None:
        return None
    return by_stroke(_worth(found.chosen), float(found.reached))


def clearing_of(shot: Shot) -> Clearing | None:
    """What was worked out of the chance to clear; None where that was not asked, or could not be told."""
    found = weighing_of(shot)
    return found.clear if found is not None else None


def chance_to_clear(shot: Shot) -> float | None:
    """The chance to clear before a shot; None where that was not worked out."""
    clear = clearing_of(shot)
    return float(clear.before) if clear is not None else None


def cleared_away(shot: Shot) -> tuple[float, float] | None:
    """Of the chance to clear what the choice and what the stroke gave away; None where that is not known."""
    clear = clearing_of(shot)
    if clear is None or clear.chosen is None or clear.after is None:
        return None
    chosen = float(clear.chosen)
    return max(0.0, float(clear.before) - chosen), chosen - float(clear.after)


def losing_shot(shots: Sequence[Shot]) -> tuple[int, float] | None:
    """The shot at which most of the chance to clear went, and how much; None where none did."""
    gone = {shot.number: sum(away) for shot in shots if (away := cleared_away(shot)) is not None}
    worst = max(gone, key=lambda number: gone[number], default=None)
    return (worst, gone[worst]) if worst is not None and gone[worst] > 0 else None


def gone_of_rack(shots: Sequence[Shot]) -> tuple[float, float] | None:
    """What went by the choices and by the strokes of a rack; None where no choice was weighed."""
    choices = [value for shot in shots if (value := gone_by_choice(shot)) is not None]
    strokes = [value for shot in shots if (value := gone_by_stroke(shot)) is not None]
    return (sum(choices), sum(strokes)) if choices else None


def gained_on(shot: Shot, other: Shot) -> tuple[float, float] | None:
    """What a shot gained on another from the same layout: by its choice, and by its stroke.

    Both choices are valued as they were weighed, with or without a difference that can be told. None where
    one of the two choices, or what came of it, is not known.
    """
    one, two = weighing_of(shot), weighing_of(other)
    if one is None or two is None or one.chosen is None or two.chosen is None:
        return None
    if one.reached is None or two.reached is None:
        return None
    choice = float(one.chosen.value) - float(two.chosen.value)
    return choice, float(one.reached) - float(two.reached) - choice


def chose_as_good(shot: Shot) -> bool | None:
    """Whether the chosen option is as good as the best one; None where that was not worked out."""
    found = weighing_of(shot)
    if found is None or found.chosen is None:
        return None
    return is_as_good(_worth(found.best), _worth(found.chosen))
