"""What a weighed choice and its stroke gave away, from what is recorded of it."""

from __future__ import annotations

from ripasso.core.measures.given_away import Worth, by_choice, by_stroke, is_as_good
from ripasso.review.record.model import Shot, WeighedOption, Weighing


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


def chose_as_good(shot: Shot) -> bool | None:
    """Whether the chosen option is as good as the best one; None where that was not worked out."""
    found = weighing_of(shot)
    if found is None or found.chosen is None:
        return None
    return is_as_good(_worth(found.best), _worth(found.chosen))
