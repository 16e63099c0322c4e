"""Pages of figures about what was chosen: decisions, and openings of a pack. Each figure has its shots."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import NO, UNKNOWN, YES, Facts
from ripasso.core.figures.judged import DECISIONS
from ripasso.core.figures.rates import OPEN_LEAVE
from ripasso.core.inference.estimates import mean
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import word
from ripasso.statistics.pages.clearing_lines import CLEARING, clearing_lines, sums_of_racks
from ripasso.statistics.pages.figures import Figure
from ripasso.statistics.pages.lines import Line, PageKind, averaged, by_group, group_word, points, rated

#: Events that an opening of a pack or a cluster brings.
OPENED = ("cluster_opened", "ball_freed")


def _decisions(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    verdicts = facts.texts("verdict")
    judged = np.isin(verdicts.astype(str), DECISIONS)
    agreed, title = facts.equal("verdict", "agree"), "Agreed with"
    yield "agreement", title, "All judged decisions", rated(places, judged, agreed)
    for verdict in DECISIONS[1:]:
        yield (
            f"verdict {verdict}",
            title,
            word(verdict),
            rated(places, judged, facts.equal("verdict", verdict)),
        )
    for judge, mask in facts.words("judge").items():
        if (judged & mask).any():
            yield f"judge {judge}", "By who judged", group_word(judge), rated(places, judged & mask, agreed)
    for way, title in (("phase", "By phase of the rack"), ("standing", "By the score")):
        yield from by_group(facts, places, way, title, judged, agreed)
    given, title = facts.numbers("given_away"), "What the choice gave away"
    known = ~np.isnan(given)
    everything = np.ones(len(facts), dtype=np.bool_)
    yield "given", title, tr("Chance, pot times leave, mean"), averaged(places, everything, given, points)
    yield "best", title, "The best option was played", rated(places, known, known & (given == 0))
    yield from _weighed(facts, places, judged, agreed)
    yield from clearing_lines(facts, places)
    changed, title = facts.ints("replanned"), "Plan kept or changed"
    tried, made = of.pots(facts), facts.flags("made")
    for key, text, value in (("kept", tr("Pots, plan kept"), NO), ("changed", tr("Pots, plan changed"), YES)):
        yield f"plan_{key}", title, text, rated(places, tried & (changed == value), made)


#: The titles of what the program worked out.
WEIGHED, WEIGHED_BY, THREE_VOICES = (
    "Given away, worked out",
    "Given away by choice and stroke, by intent and phase",
    "Analyst, second reviewer and program",
)


def _weighed(facts: Facts, places: np.ndarray, judged: np.ndarray, agreed: np.ndarray) -> Iterator[Line]:
    """What choices and strokes gave away, and how people's verdicts agree with it."""
    choice, stroke = facts.numbers("given_choice"), facts.numbers("given_stroke")
    known = ~np.isnan(choice)
    for key, values in (("choice", choice), ("stroke", stroke)):
        yield f"gone_{key}", WEIGHED, f"By {key}, mean of a shot", averaged(places, known, values, points)
        told = Figure(places[known], words=points(mean(sums_of_racks(facts, known, values))))
        yield f"gone_{key}_rack", WEIGHED, f"By {key}, a rack", told
    as_good = known & (choice == 0)
    yield "as_good", WEIGHED, "The choice was the best or as good", rated(places, known, as_good)
    for way in ("intent", "phase"):
        words = facts.texts(way)
        for value in sorted(set(words[known]) - {""}):
            own = known & facts.equal(way, value)
            for key, values in (("choice", choice), ("stroke", stroke)):
                name = f"{group_word(value)}, by {key}"
                yield f"gone_{key} {way} {value}", WEIGHED_BY, name, averaged(places, own, values, points)
    both = known & judged
    yield "voices", THREE_VOICES, "The program says the same", rated(places, both, agreed == as_good)
    yield "only_analyst", THREE_VOICES, "Only the analyst agrees", rated(places, both, agreed & ~as_good)
    yield "only_program", THREE_VOICES, "Only the program agrees", rated(places, both, ~agreed & as_good)
    yield from _second_voice(facts, places, judged, known)


def _second_voice(facts: Facts, places: np.ndarray, judged: np.ndarray, known: np.ndarray) -> Iterator[Line]:
    """How a second reviewer's verdicts agree with the analyst's and with the program's."""
    seconded = np.isin(facts.texts("second_verdict").astype(str), DECISIONS)
    second, agreed = facts.equal("second_verdict", "agree"), facts.equal("verdict", "agree")
    as_good = facts.numbers("given_choice") == 0
    title = THREE_VOICES
    people, with_program, all_three = judged & seconded, known & seconded, judged & known & seconded
    yield (
        "second",
        title,
        "The second reviewer says the same as the analyst",
        rated(places, people, second == agreed),
    )
    if with_program.any():
        text = "The second reviewer says the same as the program"
        yield "second_program", title, text, rated(places, with_program, second == as_good)
        text = "All three say the same"
        yield "all_three", title, text, rated(places, all_three, (second == agreed) & (agreed == as_good))


def _openings(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    methods = facts.words("methods")
    events = facts.words("events")
    nothing = np.zeros(len(facts), dtype=np.bool_)
    said, broke = facts.texts("break_ball"), facts.known("break_ball")
    opened = methods.get("cannon_split", nothing) | broke
    freed = nothing.copy()
    for event in OPENED:
        freed |= events.get(event, nothing)
    opened = opened | freed
    leave = facts.numbers("leave")
    known = opened & ~np.isnan(leave)
    with np.errstate(invalid="ignore"):
        on = leave >= OPEN_LEAVE
    title = "Openings of a pack or a cluster"
    yield "opened", title, tr("A pot on afterwards"), rated(places, known, on)
    yield "freed", title, "A cluster opened or a ball freed", rated(places, opened, freed)
    insurance = facts.ints("insurance")
    for key, text, value in (("with", "With an insurance ball", YES), ("without", "Without one", NO)):
        yield (
            f"insurance_{key}",
            tr("A pot on afterwards, by insurance"),
            text,
            rated(places, known & (insurance == value), on),
        )
    made = facts.flags("made")
    for ball in ("natural", "made", "none"):
        if (said == ball).any():
            title = tr("Break balls of straight pool, potted")
            yield (
                f"break_ball {ball}",
                title,
                group_word(ball),
                rated(places, (said == ball) & facts.flags("tried"), made),
            )
    trouble = facts.words("roles").get("trouble", nothing)
    late, title = facts.ints("late"), tr("Trouble balls, potted")
    tried = of.pots(facts) & trouble & (late != UNKNOWN)
    yield "trouble_early", title, "In the first half of the rack", rated(places, tried & (late == NO), made)
    yield "trouble_late", title, "In the second half", rated(places, tried & (late == YES), made)


JUDGEMENT_PAGES: Mapping[str, PageKind] = {
    "decisions": PageKind(
        "Decisions",
        _decisions,
        (
            "Agreed with",
            "By who judged",
            "By phase of the rack",
            "By the score",
            "What the choice gave away",
            WEIGHED,
            WEIGHED_BY,
            THREE_VOICES,
            *CLEARING,
            "Plan kept or changed",
        ),
    ),
    "openings": PageKind(
        "Openings",
        _openings,
        (
            "Openings of a pack or a cluster",
            noop("A pot on afterwards, by insurance"),
            noop("Break balls of straight pool, potted"),
            noop("Trouble balls, potted"),
        ),
    ),
}
