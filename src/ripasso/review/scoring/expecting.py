"""What somebody expected of a shot before it was played, and whether it was meant so."""

from __future__ import annotations

from dataclasses import dataclass
from typing import get_args

from ripasso.review.record.model import Prediction, Shot
from ripasso.review.record.values import Intent


@dataclass(frozen=True)
class Expectation:
    """A prediction as it counts: kind of shot (an intent or a method), ball, pocket, next ball, cushions."""

    kind: str | None
    ball: str | None
    pocket: str | None
    next_ball: str | None
    cushions: int | None

    @property
    def can_be_said(self) -> bool:
        """It says something beside a pocket alone."""
        return any(value is not None for value in (self.kind, self.ball, self.next_ball, self.cushions))


def expectation(one: Prediction) -> Expectation:
    """A prediction, whichever version wrote it."""
    call = one.call
    return Expectation(
        one.kind or one.intent,
        one.ball or (call.ball if call else None),
        one.pocket or (call.pocket if call else None),
        one.next_ball,
        one.cushions,
    )


def came_as_expected(one: Prediction, shot: Shot, meant: str) -> bool | None:
    """Whether a shot was meant as expected; only what is known of it decides, None: nothing is."""
    said, plan = expectation(one), shot.plan
    pairs: list[tuple[object, object]] = [
        (said.ball, meant or None),
        (said.pocket, shot.call and shot.call.pocket),
        (said.next_ball, plan and plan.next_ball),
        (said.cushions, len(plan.cushions) if plan and plan.cushions is not None else None),
    ]
    if said.kind in get_args(Intent):
        pairs.append((said.kind, shot.intent))
    known = [(expected, came) for expected, came in pairs if expected is not None and came is not None]
    if said.kind is not None and said.kind not in get_args(Intent) and shot.methods is not None:
        known.append((True, said.kind in shot.methods))
    return all(expected == came for expected, came in known) if known else None
