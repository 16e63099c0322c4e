"""Practice in words: how a ball is put down, what is due, how a set went, what a weak spot costs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date

from ripasso.core.inference.intervals import rate
from ripasso.core.measures.units import length_words
from ripasso.core.practice.due import CONFIDENCE, GAPS_DAYS
from ripasso.core.practice.progress import Change, Trend, attempts_to_see, change, trend
from ripasso.core.practice.setting_up import Along, setting_of
from ripasso.core.practice.table_checks import Drift, LevelCheck
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.review.entry.attempts import outcomes_of
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import ball_word, count, word
from ripasso.review.practice.exercises import goal_of
from ripasso.review.record.practice import AttemptSet, Exercise

#: The kinds in words, in the order in which they are offered.
KINDS = {
    "one_shot": "one shot",
    "run": "a run",
    "ghost": "ghost race",
    "ladder": "ladder",
    "lag": "lag and pace",
    "break": "break",
    "two_ways": "two ways",
}
NUMBERS = ("", "first", "second", "third", "fourth", "fifth", "sixth", "seventh")
#: What is said once a session begins; it is a reminder and no advice on health.
CARE = (
    "Warm up first, and straighten your back between sets. Jumps and masse strokes need the room's leave: "
    "they can hurt cloth and people nearby. Pain is a matter for a physician, not for this program."
)


def ball_lines(
    spec: TableSpec, layout: dict[str, Place], unit: str, order: Sequence[str] | None = None
) -> list[str]:
    """How the balls are put down, a sentence each, the cue ball last."""
    balls = list(order or sorted(layout, key=lambda ball: (ball == "cue", len(ball), ball)))
    lines = []
    for number, ball in enumerate(balls, start=1):
        found = setting_of(spec, ball, layout[ball])
        places = ", ".join(_along(one, unit, spec) for one in (found.length, found.width))
        lines.append(f"{number}. {named_ball(ball)}: {places}.")
    return lines


def named_ball(ball: str) -> str:
    """Such as "The 5", and the cue ball as the tradition calls it."""
    said = tr("the cue ball") if ball == "cue" else f"the {ball_word(ball)}"
    return said[:1].upper() + said[1:]


def _along(found: Along, unit: str, spec: TableSpec) -> str:
    cushion = f"{word(found.cushion)} cushion"
    level = f", level with the {NUMBERS[found.sight]} sight" if found.sight is not None else ""
    if found.gap < 0.002:
        return f"touching the {cushion}{level}"
    return f"{length_words(found.gap, unit, spec)} from the {cushion} ({found.diamonds:.1f} diamonds{level})"


def due_words(due: date, today: date) -> str:
    """When an exercise is due, from today."""
    days = (due - today).days
    if days < 0:
        return f"{-days} d ago"
    if days == 0:
        return "today"
    return "tomorrow" if days == 1 else f"in {days} d"


def goal_words(exercise: Exercise) -> str:
    """What a set is asked for."""
    goal = goal_of(exercise)
    said = []
    if goal.share is not None:
        said.append(f"{100 * goal.share:.0f} % at the lower end")
    if goal.made is not None:
        most = f" of {goal.of}" if goal.of and goal.of > goal.made else ""
        said.append(f"{goal.made}{most} in a row")
    return " or ".join(said) if said else "nothing asked"


def standing_words(exercise: Exercise, made: AttemptSet | None) -> str:
    """How a set stands against its goal: the share with its 80 % interval."""
    outcomes = [one for one in outcomes_of((made.attempts if made else None) or ()) if one is not None]
    if not outcomes:
        return f"Asked: {goal_words(exercise)}."
    found = rate(sum(outcomes), len(outcomes), CONFIDENCE)
    assert found.rate is not None and found.low is not None and found.high is not None
    share = f"{100 * found.rate:.0f} % (80 % interval {100 * found.low:.0f} to {100 * found.high:.0f})"
    return f"{share}; asked: {goal_words(exercise)}."


def ended_words(exercise: Exercise, is_passed: bool, today: date, due: date) -> str:
    """What ending a set came to; `exercise` is as it stands now."""
    verdict = "passed" if is_passed else "not passed"
    return f"{exercise.title}: {verdict}, level {exercise.level or 0}, due again {due_words(due, today)}."


def rule_words() -> str:
    """The rule of due dates in a sentence."""
    gaps = ", ".join(str(gap) for gap in GAPS_DAYS)
    return (
        f"Passed: one level up; else two down. Levels 0 to 6 come back after {gaps} days. "
        "Skipping moves the date only."
    )


def progress_lines(
    exercise: Exercise, sets: Sequence[AttemptSet], matches: tuple[tuple[int, int], tuple[int, int]] | None
) -> Iterator[str]:
    """An exercise over time: its trend, its halves, the same in matches, and what it would take.

    `matches`: made of attempts of the same slice before and since the exercise's first set.
    """
    judged = _judged(sets)
    if not judged:
        yield "Nothing was played yet."
        return
    yield trend_words(trend_of(sets))
    halves = change_in(sets)
    if halves:
        yield f"First half and second half: {halves}."
    if matches is not None:
        yield f"The same in matches, before and since: {change_words(change(*matches))}."
    share = sum(made for _, made in judged) / len(judged)
    yield f"To see a change of 10 points it takes {attempts_to_see(share)} attempts before and after it."


def _judged(sets: Sequence[AttemptSet]) -> list[tuple[int, bool]]:
    """Every attempt that was judged: the number of its day, and whether it succeeded."""
    return [
        (date.fromisoformat(made.date).toordinal() if made.date else 0, outcome)
        for made in sets
        for outcome in outcomes_of(made.attempts or ())
        if outcome is not None
    ]


def trend_of(sets: Sequence[AttemptSet]) -> Trend:
    """How an exercise went over its days."""
    judged = _judged(sets)
    return trend([day for day, _ in judged], [outcome for _, outcome in judged])


def change_in(sets: Sequence[AttemptSet]) -> str:
    """The first half of an exercise's attempts beside the second, in words; "" for fewer than two."""
    judged = _judged(sets)
    half = len(judged) // 2
    if not half:
        return ""
    first, last = [made for _, made in judged[:half]], [made for _, made in judged[half:]]
    return change_words(change((sum(first), len(first)), (sum(last), len(last))))


def trend_words(found: Trend) -> str:
    """Whether it rises or falls: the chance on the first and on the last day, with the odds' interval."""
    if found.ratio is None or found.low is None or found.high is None:
        return "No trend can be told yet: it takes eight attempts, on two days, made and missed."
    ratio, low, high = (_times(one) for one in (found.ratio, found.low, found.high))
    odds = f"odds {ratio} times in 30 days, {low} to {high}"
    if found.start is not None and found.end is not None:
        odds = f"{100 * found.start:.0f} % on the first day, {100 * found.end:.0f} % on the last ({odds})"
    if found.low > 1:
        return f"It rises: {odds}."
    return f"It falls: {odds}." if found.high < 1 else f"No trend to be told from chance: {odds}."


def trend_in_short(found: Trend) -> str:
    """The same in few words, for a table."""
    if found.start is None or found.end is None or found.low is None or found.high is None:
        return "too little to tell"
    verdict = "not to be told from chance"
    if found.low > 1:
        verdict = "it rises"
    elif found.high < 1:
        verdict = "it falls"
    return f"{100 * found.start:.0f} to {100 * found.end:.0f} %, first to last day: {verdict}"


def _times(ratio: float) -> str:
    """A ratio of odds; beyond a hundred times its digits say nothing."""
    if ratio >= 100:
        return "over 100"
    return f"{ratio:.2f}" if ratio >= 0.01 else "under 0.01"


def change_words(found: Change) -> str:
    """Before and after, with the verdict."""
    words = {"better": "better", "worse": "worse", "none": "no change to be told from chance"}
    before, after = (f"{one.made} of {one.of}" for one in (found.before, found.after))
    if found.gap.difference is None or found.gap.low is None or found.gap.high is None:
        return f"{before} and {after}, {words[found.verdict]}"
    ends = f"{100 * found.gap.low:+.0f} to {100 * found.gap.high:+.0f}"
    gap = f"{100 * found.gap.difference:+.0f} points ({ends})"
    return f"{before} and {after}, {gap}: {words[found.verdict]}"


def drift_words(found: Drift | None, way: str) -> str:
    """A drift in mm per metre with its interval, such as "to the left 3.1 mm per metre (2.0 to 4.2)"."""
    if found is None:
        return f"{way}: no roll without side yet"
    if found.low is None or found.high is None:
        return f"{way}: {found.mm_per_m:+.1f} mm per metre by one roll; it takes two for an interval"
    ends = f"{found.low:+.1f} to {found.high:+.1f}, {count(found.of, 'roll')}"
    said = f"{way}: {found.mm_per_m:+.1f} mm per metre ({ends})"
    return f"{said}, not to be told from level" if found.is_level else said


def level_lines(found: LevelCheck) -> list[str]:
    """What rolls say of a table; above 0 is to the foot and to the left, seen from the head."""
    lines = [
        drift_words(found.across, "Across, to the left"),
        drift_words(found.along, "Along, to the foot"),
    ]
    for side, drift in found.by_spin.items():
        lines.append(drift_words(drift, f"With {side} side besides, to the left of the roll"))
    return lines
