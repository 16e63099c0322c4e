"""What was said of a shot beside its result: roles of balls, changes of plan, options, break balls."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ripasso.core.figures.schema import UNKNOWN, UNKNOWN_NUMBER, FactRow
from ripasso.core.rules import RackScore
from ripasso.core.table import TableSpec, pocket_mouth_middle
from ripasso.review.record.model import Option, Rack, Shot
from ripasso.review.scoring.meant import meant_ball
from ripasso.review.scoring.weighed import cleared_away, clearing_of, gone_by_choice, gone_by_stroke


def say_of_rack(contexts: Sequence[FactRow], rack: Rack, judged: RackScore | None, spec: TableSpec) -> None:
    """Put down what was said of the shots of a rack."""
    balls = len(judged.shots[0].on_table) if judged is not None and judged.shots else 0
    down = 0
    for j, (shot, context) in enumerate(zip(rack.shots or (), contexts, strict=True)):
        ball = meant_ball(shot, judged.shots[j] if judged is not None else None)
        context.roles = " ".join(_roles(rack, ball))
        if balls:
            context.late = int(down >= balls / 2)
        before = judged.shots[j - 1].outcome if judged is not None and j else None
        context.in_hand = before is not None and before.ball_in_hand_from is not None
        _said(context, shot)
        context.rack_root = rack.root_shot if rack.root_shot is not None else UNKNOWN
        ran = _ran_beyond(shot, ball, spec)
        context.clear_ran = _number(ran)
        down += context.potted


def _roles(rack: Rack, ball: str | None) -> dict[str, None]:
    """What a ball was said to be; the key ball and the break ball of the last plan as well."""
    roles: dict[str, None] = dict.fromkeys((rack.roles or {}).get(ball or "", ()))
    plan = rack.plans[-1] if rack.plans else None
    if plan is not None and ball is not None:
        roles |= {"key": None} if plan.key_ball == ball else {}
        roles |= {"break_ball": None} if plan.break_ball == ball else {}
    return roles


def _said(context: FactRow, shot: Shot) -> None:
    if shot.break_ is not None:
        context.break_ball, context.break_kind = shot.break_.break_ball or "", shot.break_.kind or ""
        if shot.break_.power is not None:
            context.break_power = float(shot.break_.power)
        if shot.break_.insurance is not None:
            context.insurance = int(bool(shot.break_.insurance))
    if shot.plan is not None:
        context.replanned = int(shot.plan.changed_from is not None)
        context.given_away = _given_away(shot.plan.options or ())
    if shot.result is not None:
        context.colour_meant = shot.result.colour_meant or ""
    if shot.decision is not None:
        context.judge = (shot.decision.by or "").replace(" ", "_")
        context.given_choice = _number(gone_by_choice(shot))
        context.given_stroke = _number(gone_by_stroke(shot))
        _cleared(context, shot)


def _cleared(context: FactRow, shot: Shot) -> None:
    """What was worked out of the chance to clear."""
    clear, away = clearing_of(shot), cleared_away(shot)
    if clear is None:
        return
    context.clear_before = _number(float(clear.before))
    if away is not None:
        context.clear_choice, context.clear_stroke = map(_number, away)
    if clear.hard is not None and clear.clusters is not None:
        context.clear_hard, context.clear_clusters = clear.hard, clear.clusters


def _ran_beyond(shot: Shot, ball: str | None, spec: TableSpec) -> float | None:
    """How much farther (m) from where it met the ball the cue ball stopped than worked out; of made pots."""
    clear, pocket = clearing_of(shot), shot.call.pocket if shot.call else None
    lay, rest = (shot.before or {}).get(ball or ""), (shot.after or {}).get("cue")
    if (
        clear is None
        or clear.rest is None
        or not clear.after
        or pocket is None
        or lay is None
        or rest is None
    ):
        return None
    target = pocket_mouth_middle(spec, pocket)
    back = 2 * spec.ball_radius / math.dist(lay, target)
    met = (lay[0] - back * (target[0] - lay[0]), lay[1] - back * (target[1] - lay[1]))
    return math.dist(met, rest) - math.dist(met, clear.rest)


def _number(value: float | None) -> float:
    """A column's number; one that happens to be the sign for nothing is moved by a hair."""
    if value is None:
        return UNKNOWN_NUMBER
    return value if value != UNKNOWN_NUMBER else value + 1e-6


def _given_away(options: Sequence[Option]) -> float:
    """What the best option promises (pot times leave) more than the chosen one; known for both only."""
    worth = {
        i: float(one.chance) * float(one.leave)
        for i, one in enumerate(options)
        if one.chance is not None and one.leave is not None
    }
    chosen = next((i for i, one in enumerate(options) if one.chosen), None)
    if chosen is None or chosen not in worth or len(worth) < 2:
        return UNKNOWN_NUMBER
    return max(worth.values()) - worth[chosen]
