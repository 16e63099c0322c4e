"""The program's plan of a rack as one more of the rack's plans, beside those of people."""

from __future__ import annotations

from typing import Any

from ripasso.core.json_data import JsonObject
from ripasso.core.planning.backward.plans import RackPlan, Step
from ripasso.review.document.command import Command
from ripasso.review.document.edits import set_values
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.record.model import RackPlan as KeptPlan
from ripasso.review.record.model import serialize
from ripasso.review.record.people import PROGRAM

DIGITS = 3


def keep_plan(
    snapshot: Snapshot,
    rack: RackRow,
    plan: RackPlan,
    *,
    shot: int,
    group: str | None = None,
    by: str | None = PROGRAM,
) -> Command:
    """A command that keeps a plan with a rack: the program's, or one in somebody's own order (`by` None).

    For the same shot it stands for the program's older one, or for an own one in the same order.
    """
    at = shot if shot > 1 else None
    kept: list[Any] = [
        serialize(one)
        for one in rack.record.plans or ()
        if not (one.by == by and one.made_at_shot == at and (by == PROGRAM or _balls(one) == plan.order))
    ]
    made: JsonObject = {
        "version": 1 + max((one.get("version") or 1 for one in kept), default=0),
        "order": [_planned_ball(step) for step in plan.steps],
        "reason": f"clears in {100 * plan.clear:.0f} %",
    }
    if by is not None:
        made["by"] = by
    if at is not None:
        made["made_at_shot"] = at
    if group is not None:
        made["group"] = group
    if len(plan.steps) > 1:
        made["key_ball"] = plan.steps[-2].ball
    return set_values(snapshot, "rack", rack.key, {("plans",): [*kept, made]}, "Keep the plan of a rack")


def _balls(plan: KeptPlan) -> tuple[str | None, ...]:
    return tuple(one.ball for one in plan.order or ())


def _planned_ball(step: Step) -> JsonObject:
    made: JsonObject = {
        "ball": step.ball,
        "pocket": step.pocket,
        "link": "hard" if step.hard else "easy",
        "reason": f"{100 * step.value:.0f} % before it",
    }
    if step.zone is not None:
        # A corner for every few centimetres is enough for what is drawn of it.
        corners = step.zone.corners[:: max(1, len(step.zone.corners) // 16)]
        made["zone"] = {"polygon": [[round(x, DIGITS), round(y, DIGITS)] for x, y in corners]}
    return made
