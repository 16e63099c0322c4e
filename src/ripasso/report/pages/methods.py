"""By what the figures of a report are computed: methods, thresholds, which school of the trade is used."""

from __future__ import annotations

from collections.abc import Iterator

from ripasso.core.inference.intervals import FEW
from ripasso.core.practice.progress import CONFIDENCE
from ripasso.report.blocks import Block, Bullets, Heading
from ripasso.report.material import Material
from ripasso.review.practice.words import rule_words
from ripasso.review.present.measure_words import level_words

SCHOOLS = (
    "Position is measured both ways: against the planned zone, and as the distance to the aim point.",
    "An error is unforced where the analyst says so; where nobody judged it, by the chance of the shot. "
    "Both are told apart in Statistics.",
    "A chance is that of the pot at the level of the session, by its geometry; it knows no nerves.",
    "A change of plan is not an error, and luck is kept apart from the quality of the hit.",
)


def methods_blocks(material: Material) -> Iterator[Block]:
    """What the reader of a figure should know."""
    yield Heading("Rates and counts")
    yield Bullets(
        (
            "In brackets behind a rate stands its 95 % interval by Wilson's formula; counts have exact "
            "Poisson intervals, means those of the bootstrap.",
            f"Under {FEW} shots a rate is grey and never ranked.",
            "What is not judged is in no figure. Nothing is counted across film that is missing.",
            "Habits are corrected for how many questions were asked (Benjamini and Hochberg); what would be "
            "one only if it were the only question is said so.",
        )
    )
    yield Heading("Schools of the trade")
    yield Bullets(SCHOOLS)
    levels = _levels(material)
    if levels:
        yield Heading("Level of the sessions")
        yield Bullets(levels)
    yield Heading("Practice")
    yield Bullets(
        (
            rule_words(),
            f"Better or worse is said where the {100 * CONFIDENCE:.0f} % interval of the difference lies on "
            "one side of nothing.",
        )
    )


def _levels(material: Material) -> list[str]:
    """The levels of the sessions that the report is of, each once."""
    sessions = material.report.sessions
    keys = list(material.everything.heads if sessions is None else sessions)
    found = dict[str, None]()
    for key in keys:
        snapshot = material.snapshot(key)
        if snapshot is not None:
            table = "snooker" if snapshot.head.game == "snooker" else "pool"
            found[f"{table}: {level_words(snapshot.head)}"] = None
    return list(found)
