"""What is in sight first of a player: the ready figures of a game, and every question answered. No window.

To add a ready figure: a line in `READY`, by the page and the id of a figure that is there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ripasso.core.figures.answers import Asked, corrected
from ripasso.core.figures.facts import Facts, Ints
from ripasso.core.figures.questions import QUESTIONS
from ripasso.core.figures.racks import racks_of
from ripasso.review.language.translation import noop, tr
from ripasso.statistics.pages.figures import Figure
from ripasso.statistics.pages.lines import Side
from ripasso.statistics.pages.pages import PAGES
from ripasso.statistics.pages.question_words import (
    PLAIN,
    QUESTION_WORDS,
    answer_sentence,
    found_words,
    order_for,
)

#: Page, id, caption.
Ready = tuple[str, str, str]
POOL: Sequence[Ready] = (
    ("potting", "pots", noop("Pots")),
    ("potting", "long", noop("Long pots")),
    ("position", "zone", "In the zone"),
    ("position", "side_right_side", "Right side"),
    ("visits", "converted", "Chances taken"),
    ("visits", "run break_and_run", "From the break"),
    ("visits", "run run_out", noop("Run-outs")),
    ("breaks", "wet", noop("Breaks that pot")),
    ("breaks", "shot_after", "Shot after a break"),
    ("safety", "result", "Safeties held"),
)
STRAIGHT: Sequence[Ready] = (
    ("potting", "pots", noop("Pots")),
    ("position", "zone", "In the zone"),
    ("position", "side_right_side", "Right side"),
    ("visits", "mean", "Balls, a visit"),
    ("visits", "best", "Highest run"),
    ("openings", "opened", noop("Openings: a pot on")),
    ("openings", "freed", "Openings: freed"),
    ("openings", "insurance_with", "With insurance"),
    ("safety", "result", "Safeties held"),
    ("errors", "per_100", "Errors, 100 shots"),
)
SNOOKER: Sequence[Ready] = (
    ("potting", "pots", noop("Pots")),
    ("potting", "long", noop("Long pots")),
    ("potting", "delivery rest", "With the rest"),
    ("safety", "result", "Safeties held"),
    ("visits", "converted", "Chances taken"),
    ("visits", "mean", "Points, a visit"),
    ("visits", "best", "Highest break"),
    ("visits", "run 20", "Breaks of 20"),
    ("visits", "run 50", "Breaks of 50"),
    ("time", "mean", "Seconds, a shot"),
)
READY: Mapping[str, Sequence[Ready]] = {"snooker": SNOOKER, "straight_pool": STRAIGHT}


@dataclass(frozen=True)
class Card:
    """A ready figure: its caption and the figure with its shots."""

    caption: str
    figure: Figure


@dataclass(frozen=True)
class AnsweredQuestion:
    """A question, its answer in a sentence, the shots behind it.

    `state` is `finding`, `perhaps` (one if it were the only question), `none`, `plain` (not tested), `few`.
    """

    id: str
    question: str
    sentence: str
    state: str
    shots: Ints


@dataclass(frozen=True)
class Overview:
    """Everything in sight first of one player."""

    facts: Facts
    cards: tuple[Card, ...]
    questions: tuple[AnsweredQuestion, ...]
    summary: str


def _figures(own: Facts, places: Ints, wanted: set[tuple[str, str]]) -> dict[tuple[str, str], Figure]:
    """The figures that are wanted, by page and id; a page is counted no further than its last of them."""
    found: dict[tuple[str, str], Figure] = {}
    for page in sorted({page for page, _ in wanted}):
        missing = {name for on, name in wanted if on == page}
        lines = PAGES[page].lines(own, places)
        while missing and (line := next(lines, None)) is not None:
            if line[0] in missing:
                missing.remove(line[0])
                found[page, line[0]] = line[3]
    return found


def overview_of(facts: Facts, side: Side, game: str | None) -> Overview:
    """The overview of the shots that are a player's; the shots behind a figure are places in `facts`."""
    own, places = facts.by_person(side.mask)
    wanted = READY.get(game or "", POOL)
    figures = _figures(own, places, {(page, name) for page, name, _ in wanted})
    nothing = Figure(np.array([], dtype=np.int64), words="–")
    cards = tuple(Card(tr(caption), figures.get((page, name), nothing)) for page, name, caption in wanted)
    asked = Asked(own, racks_of(facts, side.person, side.among), places)
    answers = {name: ask(asked) for name, ask in QUESTIONS.items()}
    holding = dict(zip(answers, corrected(list(answers.values())), strict=True))
    tested = sum(answer.p is not None for answer in answers.values())
    questions = []
    for name in order_for(game):
        answer = answers[name]
        if answer.value is None or (answer.p is None and answer.form not in PLAIN):
            state = "few"
        elif answer.is_finding:
            state = "finding" if holding[name] else "perhaps"
        else:
            state = "plain" if answer.form in PLAIN else "none"
        questions.append(
            AnsweredQuestion(
                name,
                tr(QUESTION_WORDS[name].question),
                answer_sentence(name, answer, holds=holding[name]),
                state,
                places[answer.shots],
            )
        )
    # What was found comes first, what is not known last; the game's own first in each.
    questions.sort(key=lambda one: {"finding": 0, "perhaps": 1, "few": 3}.get(one.state, 2))
    return Overview(facts, cards, tuple(questions), found_words(list(holding.values()), tested))
