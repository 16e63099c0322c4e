"""The page of attempts: shots that were played again and again, the hardest first, and what a change did."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

import numpy as np

from ripasso.core.figures.facts import Facts
from ripasso.core.inference.estimates import quantile
from ripasso.core.inference.intervals import FEW, rate
from ripasso.core.measures.attempts import change_effects
from ripasso.drawing.charts import Axis, Chart, Series
from ripasso.review.entry.attempts import amounts_of, figures_of, outcomes_of
from ripasso.review.language.vocabulary import count, word
from ripasso.review.record.people import persons
from ripasso.review.record.practice import Attempt, AttemptSet
from ripasso.statistics.pages.figures import AttemptLine, Figure, FigurePage, FigureRow
from ripasso.statistics.pages.lines import millimetres
from ripasso.store.rows.attempt_rows import StoredAttempts

_UNIT_WORDS = {"ball": "balls", "percent": "per cent"}
ROLES = ("player_a", "player_b", "accent", "good", "bad")


def attempts_page(
    stored: Sequence[StoredAttempts], person: str | None, name: str, titles: Mapping[str, str]
) -> FigurePage:
    """The figures of every set of a player (None: of everybody).

    Sets of a session with several players are those of each of them.
    """
    own = [s for s in stored if s.record.attempts and (person is None or person in persons(s.head))]
    head = person or ""
    # The shots that take most tries come first; few attempts are never ranked.
    own.sort(key=lambda one: _rank(one.record))
    lines: list[AttemptLine] = []
    rows: list[FigureRow] = []
    series: list[Series] = []
    amounts: list[Chart] = []
    for i, one in enumerate(own):
        start = len(lines)
        attempts = one.record.attempts or ()
        title = one.record.title or one.record.id
        lines += [attempt_line(one.session, titles.get(one.session, ""), one.record, a) for a in attempts]
        places = np.arange(start, len(lines), dtype=np.int64)
        rows += [
            FigureRow(f"{one.session} {one.record.id} {key}", title, text, {head: figure})
            for key, text, figure in _rows(one, places)
        ]
        amounts += _amount_charts(title, f"{one.session} {one.record.id}", one.record, places)
        series.append(_progress(title, ROLES[i % len(ROLES)], attempts, places))
    most = max((len(one.x) for one in series), default=1)
    chart = Chart(
        "attempts",
        "successes so far",
        "Successes so far, attempt by attempt",
        Axis("attempt", 0, most + 1),
        Axis("per cent", 0, 105),
        tuple(series),
        note="Grey: fewer than 5 attempts yet. A mark shows the attempts up to it.",
    )
    charts = (chart, *amounts) if series else ()
    return page_of_attempts(head, name, rows, charts, lines)


def page_of_attempts(
    head: str, name: str, rows: Sequence[FigureRow], charts: Sequence[Chart], lines: Sequence[AttemptLine]
) -> FigurePage:
    """A page of one column whose figures lead to attempts."""
    return FigurePage(
        Facts.of_columns({}, 0),
        (head,),
        rows,
        charts,
        attempts=lines,
        heads={head: name},
        compared=False,
    )


def attempt_line(session: str, title: str, made: AttemptSet, attempt: Attempt) -> AttemptLine:
    """An attempt in the list behind a figure."""
    changed = ", ".join(str(one.what) for one in attempt.changed or () if one.what)
    return AttemptLine(session, title, made.title or made.id, attempt.number, changed, _words(attempt))


def _rank(record: AttemptSet) -> tuple[bool, float]:
    found = figures_of(record).rate
    return found.rate is None, found.rate or 0.0


def _words(attempt: Attempt) -> str:
    balls = count(attempt.count, "ball") if attempt.count is not None else ""
    parts = [word(attempt.outcome) if attempt.outcome else "not judged", balls, _changed(attempt)]
    return ", ".join(part for part in parts if part)


def _changed(attempt: Attempt) -> str:
    return ", ".join(f"{one.what}: {one.by}" for one in attempt.changed or () if one.what)


def _rows(stored: StoredAttempts, places: np.ndarray) -> Iterator[tuple[str, str, Figure]]:
    record = stored.record
    attempts = record.attempts or ()
    outcomes, figures = outcomes_of(attempts), figures_of(record)
    judged = places[np.array([one is not None for one in outcomes], dtype=np.bool_)]
    yield "rate", "Successes", Figure(judged, figures.rate)
    first, tries = figures.until_first_success, figures.tries
    until = places[:first] if first is not None else places
    # Of attempts that were searched for it is not said what lay between them.
    if stored.is_whole:
        words = "none yet" if first is None else str(first)
        yield "first", "Attempts until the first success", Figure(until, words=words)
    if tries.value is not None:
        high = "more" if tries.high is None else f"{tries.high:.1f}"
        words = f"{tries.value:.1f} ({tries.low or 0:.1f} to {high})"
        yield "tries", "Attempts a success takes", Figure(judged, words=words)
    if record.before_count:
        words = f"at least {record.before_count}"
        yield "before", "Attempts before that nobody counted", Figure(places[:0], words=words)
    yield from said_rows(record, places)
    if stored.is_whole:
        yield from _change_rows(record, places)


def _change_rows(record: AttemptSet, places: np.ndarray) -> Iterator[tuple[str, str, Figure]]:
    attempts = record.attempts or ()
    for effect in change_effects(outcomes_of(attempts), [_changed(one) for one in attempts]):
        end = effect.at - 1 + effect.after.of
        yield (
            f"change {effect.at}",
            f"– after {effect.what}",
            Figure(places[effect.at - 1 : end], effect.after),
        )


def said_rows(record: AttemptSet, places: np.ndarray) -> Iterator[tuple[str, str, Figure]]:
    """What was said of the attempts: each criterion, how they missed, the causes, where they came to rest."""
    attempts = record.attempts or ()

    def at(flags: Iterable[bool]) -> np.ndarray:
        return places[np.fromiter(flags, np.bool_, len(attempts))]

    for criterion in record.criteria or ():
        asked = at(criterion.id in (one.met or {}) for one in attempts)
        met = sum(bool((one.met or {}).get(criterion.id)) for one in attempts)
        if len(asked):
            yield f"met {criterion.id}", f"– {criterion.text or criterion.id}", _share(met, asked)
    misses = [one.miss if one.outcome == "failure" else None for one in attempts]
    missed = at(one is not None for one in misses)
    for value in dict.fromkeys(one for one in misses if one is not None):
        words = f"– missed {word(f'contact_{value}').removeprefix('missed ')}, of those said"
        yield f"miss {value}", words, _share(misses.count(value), missed)
    for cause in dict.fromkeys(cause for one in attempts for cause in one.every_cause):
        some = at(cause in one.every_cause for one in attempts)
        found = rate(len(some), len(attempts))
        yield f"cause {cause}", f"– {word(cause)}, of all attempts", Figure(some, found)
    rests = np.array([one.rest for one in attempts if one.rest is not None], dtype=np.float64)
    if len(rests) > 1:
        off = np.hypot(*(rests - np.median(rests, axis=0)).T)
        figure = Figure(at(one.rest is not None for one in attempts), words=millimetres(quantile(off, 0.5)))
        yield "spread", "– where they came to rest, from their middle, median", figure


def _share(some: int, among: np.ndarray) -> Figure:
    return Figure(among, rate(some, len(among)))


def _amount_charts(title: str, key: str, record: AttemptSet, places: np.ndarray) -> Iterator[Chart]:
    """Results against the amount of each thing that was changed, where there were several amounts."""
    effects = [one for one in amounts_of(record) if one.rate.of]
    for what, unit in dict.fromkeys((one.what, one.unit) for one in effects):
        some = [one for one in effects if (one.what, one.unit) == (what, unit)]
        if len(some) < 2:
            continue
        x = np.array([one.amount for one in some], dtype=np.float64)
        rates = np.array([(one.rate.rate or 0.0, one.rate.low or 0.0, one.rate.high or 1.0) for one in some])
        name = what.replace("_", " ")
        pad = 0.1 * (x.max() - x.min())
        yield Chart(
            f"amounts {key} {what} {unit}",
            f"{title}: by {name}",
            f"{title}: successes by change of {name}",
            Axis(f"{name} changed in all, {_UNIT_WORDS.get(unit, unit)}", x.min() - pad, x.max() + pad),
            Axis("per cent", 0, 105),
            (
                Series(
                    title,
                    "accent",
                    "dots",
                    x,
                    100 * rates[:, 0],
                    100 * rates[:, 1],
                    100 * rates[:, 2],
                    few=np.array([one.rate.few for one in some]),
                    shots=[places[list(one.places)] for one in some],
                    tips=[f"{name} {one.amount:+g}: {one.rate.made} of {one.rate.of}" for one in some],
                ),
            ),
            note="Changes add up from the first attempt; bars are 95 % intervals. Grey: fewer than 5.",
        )


def _progress(title: str, role: str, attempts: Sequence[Attempt], places: np.ndarray) -> Series:
    """The share of successes after each attempt."""
    outcomes = [
        (place, one) for place, one in zip(places, outcomes_of(attempts), strict=True) if one is not None
    ]
    made = np.cumsum([one for _, one in outcomes])
    number = np.arange(1, len(outcomes) + 1)
    kept = np.array([place for place, _ in outcomes], dtype=np.int64)
    return Series(
        title,
        role,
        "line",
        number.astype(np.float64),
        100.0 * made / number,
        few=number < FEW,
        shots=[kept[: i + 1] for i in range(len(kept))],
        tips=[f"{title}: {m} of {n}" for m, n in zip(made.tolist(), number.tolist(), strict=True)],
    )
