"""The page of practice: every exercise of a plan over all its sets, and all of them together."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

import numpy as np

from ripasso.core.inference.intervals import Rate, rate
from ripasso.core.practice.ladder import LadderRule, rungs
from ripasso.core.practice.long_runs import long_runs
from ripasso.drawing.charts import Axis, Chart, Series
from ripasso.review.entry.attempts import outcomes_of
from ripasso.review.language.vocabulary import count
from ripasso.review.practice.exercises import goal_of
from ripasso.review.practice.run_words import run_words, runs_of
from ripasso.review.practice.words import KINDS, change_in, trend_in_short, trend_of
from ripasso.review.record.people import persons
from ripasso.review.record.practice import Attempt, AttemptSet, Exercise
from ripasso.statistics.pages.attempt_pages import attempt_line, page_of_attempts, said_rows
from ripasso.statistics.pages.figures import AttemptLine, Figure, FigurePage, FigureRow, rate_words
from ripasso.statistics.pages.lines import plain
from ripasso.store.rows.attempt_rows import StoredAttempts

TOGETHER = "All exercises"
#: What a success is called, where the trade has another word for it.
SUCCESSES = {"ghost": "Racks won", "run": "Runs that did what was asked"}
Row = tuple[str, str, Figure]


@dataclass(frozen=True)
class PlayedExercise:
    """An exercise with the sets that were played of it, and whether each that was ended passed.

    `places` are those of all attempts on the page.
    """

    session: str
    exercise: Exercise
    sets: Sequence[AttemptSet]
    passed: Sequence[bool]
    places: np.ndarray

    @property
    def attempts(self) -> tuple[Attempt, ...]:
        """All attempts, in order."""
        return tuple(one for made in self.sets for one in made.attempts or ())

    def of_sets(self) -> Iterator[tuple[AttemptSet, np.ndarray]]:
        """Each set with the places of its attempts."""
        start = 0
        for made in self.sets:
            end = start + len(made.attempts or ())
            yield made, self.places[start:end]
            start = end


def practice_page(
    stored: Sequence[StoredAttempts], person: str | None, name: str, titles: Mapping[str, str]
) -> FigurePage:
    """The figures of every exercise of a player (None: of everybody), in the order of the plan."""
    head = person or ""
    lines: list[AttemptLine] = []
    played = list(_played(stored, person, titles, lines))
    rows: list[FigureRow] = []
    if played:
        rows += [FigureRow(key, TOGETHER, text, {head: figure}) for key, text, figure in _together(played)]
    for one in played:
        group = f"{one.exercise.title} ({KINDS[one.exercise.kind]})"
        rows += [
            FigureRow(f"{one.session} {one.exercise.id} {key}", group, text, {head: figure})
            for key, text, figure in _rows(one)
        ]
    charts = tuple(_chart(one) for one in played)
    return page_of_attempts(head, name, rows, charts, lines)


def _played(
    stored: Sequence[StoredAttempts],
    person: str | None,
    titles: Mapping[str, str],
    lines: list[AttemptLine],
) -> Iterator[PlayedExercise]:
    """The exercises with an attempt; the lines of their attempts are put to `lines`."""
    own = [one for one in stored if person is None or person in persons(one.head)]
    for session, sets in groupby(own, lambda one: one.session):
        known = list(sets)
        plan = known[0].head.practice_plan
        for exercise in (plan.exercises if plan is not None else None) or ():
            some = [one.record for one in known if one.record.exercise == exercise.id and one.record.attempts]
            names = {made.id for made in some}
            passed = [bool(one.passed) for one in (plan.done if plan else None) or () if one.set in names]
            start = len(lines)
            for made in some:
                lines += [
                    attempt_line(session, titles.get(session, ""), made, one) for one in made.attempts or ()
                ]
            if some:
                yield PlayedExercise(
                    session, exercise, some, passed, np.arange(start, len(lines), dtype=np.int64)
                )


def _together(played: Sequence[PlayedExercise]) -> Iterator[Row]:
    places = np.concatenate([one.places for one in played])
    yield "exercises", "Exercises", Figure(places, words=str(len(played)))
    days = {made.date for one in played for made in one.sets if made.date}
    words = f"{len(places)} on {count(len(days), 'day')}"
    yield "attempts", "Attempts", Figure(places, words=words)
    passed = [one for exercise in played for one in exercise.passed]
    yield "passed", "Sets passed", Figure(places, rate(sum(passed), len(passed)))


def _rows(played: PlayedExercise) -> Iterator[Row]:
    exercise, attempts, places = played.exercise, played.attempts, played.places
    outcomes = outcomes_of(attempts)
    judged = np.array([one is not None for one in outcomes], dtype=np.bool_)
    made = [bool(one) for one in outcomes if one is not None]
    if made:
        words = SUCCESSES.get(exercise.kind, "Successes")
        yield "rate", words, Figure(places[judged], rate(sum(made), len(made)))
        yield _longest_row(outcomes, places)
    yield "passed", "Sets passed", Figure(places, rate(sum(played.passed), len(played.passed)))
    yield from _over_time(played)
    level = f"level {exercise.level or 0}, due {exercise.due or 'at once'}"
    yield "due", "Level and date", Figure(places[:0], words=level)
    yield from _KINDS.get(exercise.kind, _nothing_more)(played)
    yield from said_rows(_pooled(played), places)


def _longest_row(outcomes: Sequence[bool | None], places: np.ndarray) -> Row:
    """The most successes in a row, an own record, with the attempts it was."""
    best, at, running = 0, 0, 0
    for place, outcome in enumerate(outcomes):
        running = running + 1 if outcome else 0
        if running > best:
            best, at = running, place + 1
    return "row", "Most in a row", Figure(places[at - best : at], words=str(best))


def _over_time(played: PlayedExercise) -> Iterator[Row]:
    yield "trend", "Trend", Figure(played.places, words=trend_in_short(trend_of(played.sets)))
    words = change_in(played.sets)
    if words:
        yield "halves", "First half and second half", Figure(played.places, words=words)


def _nothing_more(_played: PlayedExercise) -> Iterator[Row]:
    yield from ()


def _ladder_rows(played: PlayedExercise) -> Iterator[Row]:
    names = played.exercise.rungs or ()
    if not names:
        return
    reached: list[int] = []
    for made in played.sets:
        reached += rungs(outcomes_of(made.attempts or ()), LadderRule(len(names) - 1))[:-1]
    on = np.array(reached, dtype=np.int64)
    outcomes = outcomes_of(played.attempts)
    for number, name in enumerate(names):
        some = [
            one for one, rung in zip(outcomes, reached, strict=True) if rung == number and one is not None
        ]
        if some:
            yield (
                f"rung {number}",
                f"– rung {number + 1}: {name}",
                Figure(played.places[on == number], rate(sum(some), len(some))),
            )


def _way_rows(played: PlayedExercise) -> Iterator[Row]:
    names = [*(played.exercise.ways or ()), "one way", "the other way"][:2]
    ways = np.array([-1 if one.way is None else one.way for one in played.attempts], dtype=np.int64)
    for number, name in enumerate(names):
        own = [
            one.outcome == "success"
            for one in played.attempts
            if one.way == number and one.outcome is not None
        ]
        if own:
            yield (
                f"way {number}",
                f"– {name}",
                Figure(played.places[ways == number], rate(sum(own), len(own))),
            )


def _run_rows(played: PlayedExercise) -> Iterator[Row]:
    attempts = played.attempts
    said = np.array([one.count is not None for one in attempts], dtype=np.bool_)
    runs = runs_of(attempts)
    if not runs:
        return
    found, places = long_runs(runs), played.places[said]
    most = int(np.argmax(runs))
    yield "longest", "Longest run", Figure(places[most : most + 1], words=run_words(found.longest))
    values, each = np.asarray(runs, dtype=np.float64), lambda balls: count(round(balls), "ball")
    yield "average", "Balls a run", Figure(places, words=plain(found.average), values=values, each=each)
    yield "ball", "A ball made, of balls and misses", Figure(places, words=rate_words(found.ball))
    yield "racks", "Runs of a whole rack (14)", Figure(places, found.whole_racks)


_KINDS: Mapping[str, Callable[[PlayedExercise], Iterator[Row]]] = {
    "ladder": _ladder_rows,
    "two_ways": _way_rows,
    "run": _run_rows,
}


def _pooled(played: PlayedExercise) -> AttemptSet:
    """All sets as one, for what was said of their attempts."""
    return played.sets[0].model_copy(update={"attempts": played.attempts})


def _chart(played: PlayedExercise) -> Chart:
    """The share of successes of each set, and the share that is asked."""
    title = played.exercise.title
    series = [_series(played)]
    last = len(played.sets) + 1
    asked = goal_of(played.exercise).share
    if asked is not None:
        ends = np.array([0.0, float(last)])
        series.insert(0, Series("asked", "ghost", "hair", ends, np.full(2, 100 * asked)))
    numbers = tuple((float(number), str(number)) for number in range(1, last))
    return Chart(
        f"practice {played.session} {played.exercise.id}",
        title,
        f"{title}: successes, set by set",
        Axis("set", 0, last, ticks=numbers),
        Axis("per cent", 0, 105),
        tuple(series),
        note="Bars are 95 % intervals; the line is the share asked. Grey: fewer than 5 attempts.",
    )


def _series(played: PlayedExercise) -> Series:
    sets = [(made, places, _rate(made)) for made, places in played.of_sets()]
    numbered = [(number, *one) for number, one in enumerate(sets, 1) if one[2].rate is not None]
    shares = np.array([(r.rate, r.low, r.high) for _, _, _, r in numbered], dtype=np.float64).reshape(-1, 3)
    return Series(
        "",
        "accent",
        "line",
        np.array([number for number, _, _, _ in numbered], dtype=np.float64),
        100 * shares[:, 0],
        100 * shares[:, 1],
        100 * shares[:, 2],
        few=np.array([r.few for _, _, _, r in numbered], dtype=np.bool_),
        shots=[places for _, _, places, _ in numbered],
        tips=[f"{made.date or 'no date'}: {r.made} of {r.of}" for _, made, _, r in numbered],
    )


def _rate(made: AttemptSet) -> Rate:
    judged = [one for one in outcomes_of(made.attempts or ()) if one is not None]
    return rate(sum(judged), len(judged))
