"""A plan of a rack in words: at most five lines, as a coach would say them."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.core.planning.backward.plans import RackPlan, Step
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import ball_word, pocket_word
from ripasso.review.present.option_words import pace_word, tip_words

#: A chance that is lower by so much with one spread doubled decides.
DECIDES = 0.03
SPREAD_WORDS = {"aim": "the aim", "speed": "the pace", "tip": noop("where the cue ball is struck")}


def percent(value: float) -> str:
    """A chance as a whole percentage."""
    return f"{100 * value:.0f} %"


def interval_words(plan: RackPlan) -> str:
    """The chance to clear with its interval."""
    low, high = max(0.0, plan.clear - plan.spread), min(1.0, plan.clear + plan.spread)
    return f"{percent(plan.clear)} ({100 * low:.0f}–{100 * high:.0f} %)"


def order_words(balls: Sequence[str]) -> str:
    """Balls one after the other."""
    named = [ball_word(ball) for ball in balls]
    return named[0] if len(named) == 1 else f"{', '.join(named[:-1])} and then {named[-1]}"


def step_words(step: Step, game: str) -> str:
    """One step: what is potted, how, and how often."""
    how = f"{tip_words(step.stroke.a, step.stroke.b)}, {pace_word(step.stroke.speed)}"
    return f"{ball_word(step.ball)} into {pocket_word(step.pocket, game)}: {how}"


def plan_lines(plan: RackPlan, game: str, decides: str | None = None) -> list[str]:
    """The plan as a coach says it; `decides` is the spread that costs most."""
    first = plan.steps[0]
    what = f"To clear: {interval_words(plan)}."
    if not plan.whole:
        what = f"The next {len(plan.steps)} pots: {interval_words(plan)}; further was not looked."
    lines = [what, f"In this order: {order_words(plan.order)}."]
    begin = step_words(first, game)
    lines.append(f"Begin with the {begin}, {percent(first.chance)}.")
    hard = plan.hardest
    if hard is not None and len(plan.steps) > 1:
        lines.append(_hard_line(plan, hard))
    elif len(plan.steps) > 1:
        lines.append("No step of it is hard.")
    if plan.others:
        order, chance = plan.others[0]
        lines.append(f"Else the {ball_word(order[0])} first: {percent(chance)}.")
    elif decides is not None:
        lines.append(f"What decides is {tr(SPREAD_WORDS[decides])}.")
    return lines


def _hard_line(plan: RackPlan, hard: Step) -> str:
    place = plan.steps.index(hard)
    kept = percent(hard.chance * hard.keeps)
    if place + 1 < len(plan.steps):
        then = plan.steps[place + 1].ball
        link = f"from the {ball_word(hard.ball)} to the {ball_word(then)}"
        return f"The hard step is {link}: {kept} of the chance is kept."
    return f"The hard step is the {ball_word(hard.ball)}: {percent(hard.chance)}."


def own_order_words(order: Sequence[str], chance: float | None, plan: RackPlan) -> str:
    """An order of somebody's own against the program's."""
    what = f"Your order: {order_words(order)}"
    if chance is None:
        return f"{what}: being worked out."
    return f"{what}: {percent(chance)}, against {percent(plan.clear)}."


def question_words(step: Step, last: bool) -> str:
    """What is asked before a step worked out backwards is shown."""
    if last:
        return f"The {ball_word(step.ball)} is the last ball. From where do you want to play it?"
    return f"Before that the {ball_word(step.ball)}. Into which pocket, and from where?"


def answer_words(step: Step, best: float, game: str) -> str:
    """The answer to that."""
    what = f"The {ball_word(step.ball)} into {pocket_word(step.pocket, game)}"
    return f"{what}; from the best places the rest is cleared in {percent(best)}."
