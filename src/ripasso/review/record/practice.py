"""What is played on purpose: attempts at one shot, exercises with goals, and a player's practice plan."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ripasso.review.record.parts import Call, Record, Zone
from ripasso.review.record.values import (
    Cause,
    ContactMiss,
    Day,
    ExerciseKind,
    Few,
    Layout,
    Listed,
    Name,
    Number,
    RecordedPlace,
    Share,
    Size,
    Whole,
)


class Adjustment(Record):
    what: Literal["aim", "side", "height", "pace", "pocket_side", "other"] | None = None
    by: Number | str | None = None
    unit: Literal["mm", "ball", "deg", "percent", "text"] | None = None


class Attempt(Record):
    number: Whole
    recording: str | None = None
    t_strike: Number | None = None
    on_film: bool | None = None
    outcome: Literal["success", "failure"] | None = None
    changed: Few[Adjustment] | None = None
    met: dict[str, bool] | None = None
    miss: ContactMiss | None = None
    cause: Cause | None = None
    causes: Few[Cause] | None = None
    miscue: bool | None = None
    relaxed: bool | None = None
    rest: RecordedPlace | None = None
    way: Size | None = None
    count: Size | None = None
    note: str | None = None

    @property
    def every_cause(self) -> tuple[str, ...]:
        """The causes however they were written; a miscue is one."""
        said = (self.cause, *(self.causes or ()), "miscue" if self.miscue else None)
        return tuple(dict.fromkeys(one for one in said if one is not None))


class Criterion(Record):
    id: Name
    text: str | None = None
    zone: Zone | None = None


class FromShot(Record):
    session: str | None = None
    rack: Whole | None = None
    shot: Whole | None = None


class AttemptSet(Record):
    """One shot played again and again; never a shot of the match."""

    id: Name
    title: str | None = None
    layout: Layout | None = None
    target: Call | None = None
    from_shot: FromShot | Whole | None = None
    variant_of: FromShot | str | None = None
    from_layout: str | None = None
    criteria: Few[Criterion] | None = None
    context_weight: Number | None = None
    exercise: str | None = None
    date: str | None = None
    before_count: Whole | None = None
    own_limits: str | None = None
    attempts: Listed[Attempt] | None = None


class PracticeGoal(Record):
    """What a set is asked for: a `share` of successes, or `made` of `of` attempts in a row (without: all)."""

    share: Share | None = None
    made: Size | None = None
    of: Size | None = None


class Exercise(Record):
    """Something to be played again and again, on purpose; its sets name it.

    `ways` are the two choices of a decision that is played both ways, `rungs` the steps of a ladder in words,
    `slices` the weak spot it is for: ways to cut a player's shots, each with its group.
    """

    id: Name
    title: str
    kind: ExerciseKind
    layout: Layout | None = None
    target: Call | None = None
    zone: Zone | None = None
    criteria: Few[Criterion] | None = None
    goal: PracticeGoal | None = None
    attempts: Size | None = None
    minutes: Size | None = None
    ways: Few[str] | None = None
    rungs: Few[str] | None = None
    level: Annotated[int, Field(ge=0, le=6)] | None = None
    due: str | None = None
    from_: FromShot | None = Field(default=None, alias="from")
    slices: Few[tuple[str, str]] | None = None
    note: str | None = None


class DoneSet(Record):
    """A set that was ended: when, of which exercise, whether it passed."""

    exercise: Name
    date: str
    set: Name | None = None
    passed: bool | None = None


class PracticePlan(Record):
    """A player's practice: how many minutes on which days, the exercises, and what was done."""

    player: str | None = None
    minutes: Size | None = None
    days: Few[Day] | None = None
    exercises: Listed[Exercise] | None = None
    done: Listed[DoneSet] | None = None
