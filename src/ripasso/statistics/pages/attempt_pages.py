"""The page of attempts: shots that were played again and again, the hardest first, and what a change did."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from ripasso.core.figures.facts import Facts
from ripasso.core.inference.intervals import FEW
from ripasso.core.measures.attempts import attempt_figures, change_effects
from ripasso.drawing.charts import Axis, Chart, Series
from ripasso.review.language.vocabulary import word
from ripasso.review.record.model import Attempt, AttemptSet
from ripasso.review.record.people import persons
from ripasso.statistics.pages.figures import AttemptLine, Figure, FigurePage, FigureRow
from ripasso.store.rows.attempt_rows import StoredAttempts

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
    for i, one in enumerate(own):
        start = len(lines)
        attempts = one.record.attempts or ()
        title = one.record.title or one.record.id
        for attempt in attempts:
            changed = ", ".join(str(c.what) for c in attempt.changed or () if c.what)
            place = (one.session, titles.get(one.session, ""), title, attempt.number)
            lines.append(AttemptLine(*place, changed, _words(attempt)))
        places = np.arange(start, len(lines), dtype=np.int64)
        rows += [
            FigureRow(f"{one.session} {one.record.id} {key}", title, text, {head: figure})
            for key, text, figure in _rows(attempts, places)
        ]
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
    charts = (chart,) if series else ()
    return FigurePage(
        Facts.of_columns({}, 0),
        (head,),
        rows,
        charts,
        attempts=lines,
        heads={head: name},
        compared=False,
    )


def _outcomes(attempts: Sequence[Attempt]) -> list[bool | None]:
    return [None if one.outcome is None else one.outcome == "success" for one in attempts]


def _rank(record: AttemptSet) -> tuple[bool, float]:
    found = attempt_figures(_outcomes(record.attempts or ())).rate
    return found.rate is None, found.rate or 0.0


def _words(attempt: Attempt) -> str:
    parts = [word(attempt.outcome) if attempt.outcome else "not judged", _changed(attempt)]
    return ", ".join(part for part in parts if part)


def _changed(attempt: Attempt) -> str:
    return ", ".join(f"{one.what}: {one.by}" for one in attempt.changed or () if one.what)


def _rows(attempts: Sequence[Attempt], places: np.ndarray) -> Iterator[tuple[str, str, Figure]]:
    outcomes = _outcomes(attempts)
    figures = attempt_figures(outcomes)
    judged = places[np.array([one is not None for one in outcomes], dtype=np.bool_)]
    yield "rate", "Successes", Figure(judged, figures.rate)
    first, tries = figures.until_first_success, figures.tries
    until = places[:first] if first is not None else places
    words = "none yet" if first is None else str(first)
    yield "first", "Attempts until the first success", Figure(until, words=words)
    if tries.value is not None:
        high = "more" if tries.high is None else f"{tries.high:.1f}"
        words = f"{tries.value:.1f} ({tries.low or 0:.1f} to {high})"
        yield "tries", "Attempts a success takes", Figure(judged, words=words)
    for effect in change_effects(outcomes, [_changed(one) for one in attempts]):
        end = effect.at - 1 + effect.after.of
        yield (
            f"change {effect.at}",
            f"– after {effect.what}",
            Figure(places[effect.at - 1 : end], effect.after),
        )


def _progress(title: str, role: str, attempts: Sequence[Attempt], places: np.ndarray) -> Series:
    """The share of successes after each attempt."""
    outcomes = [
        (place, one) for place, one in zip(places, _outcomes(attempts), strict=True) if one is not None
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
