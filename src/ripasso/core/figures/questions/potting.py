"""Questions about pots: cuts, distance, pockets, cueing, which side they are missed on."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.answers import Answer, Asked, even_gap, gap, share
from ripasso.core.figures.facts import Flags
from ripasso.core.figures.questions.asking import Question, below_and_above, less, more, texts
from ripasso.core.figures.slices import NEXT_TO_M

#: A thin cut, degrees; strokes that are played hard.
THIN_CUT_DEG, HARD = 45.0, ("firm", "power")


def _missed(asked: Asked) -> Flags:
    return asked.pots & asked.facts.flags("failed") & texts(asked, "contact", ("thick", "thin"))


def _thin_cuts(asked: Asked) -> Answer:
    cut = np.abs(asked.facts.numbers("cut_deg"))
    return even_gap(asked, more(cut, THIN_CUT_DEG), less(cut, THIN_CUT_DEG))


def _long_pots(asked: Asked) -> Answer:
    long = of.long_masks(asked.facts)[0]
    return even_gap(asked, long, asked.pots & ~long)


def _side_pockets(asked: Asked) -> Answer:
    side = texts(asked, "target", ("side_left", "side_right"))
    return even_gap(asked, side, asked.pots & ~side & (asked.facts.known("target")))


def _cut_side(asked: Asked) -> Answer:
    cut = asked.facts.numbers("cut_deg")
    return even_gap(asked, more(cut, 5.0), less(cut, -5.0))


def _awkward(asked: Asked) -> Answer:
    awkward = asked.facts.known("delivery")
    return even_gap(asked, asked.pots & awkward, asked.pots & ~awkward)


def _hard_strokes(asked: Asked) -> Answer:
    hard, said = texts(asked, "stroke_pace", HARD), asked.facts.known("stroke_pace")
    return even_gap(asked, asked.pots & hard, asked.pots & said & ~hard)


def _thick_or_thin(asked: Asked) -> Answer:
    return share(_missed(asked), asked.facts.equal("contact", "thick"))


def _thick_by_pace(asked: Asked) -> Answer:
    missed, hard = _missed(asked), texts(asked, "stroke_pace", HARD)
    said = asked.facts.known("stroke_pace")
    return gap(missed & hard, missed & said & ~hard, asked.facts.equal("contact", "thick"))


def _small_windows(asked: Asked) -> Answer:
    return even_gap(asked, *below_and_above(asked.facts.numbers("window_deg"), asked.pots))


def _next_to_cushion(asked: Asked) -> Answer:
    near = less(asked.facts.numbers("ball_to_cushion"), NEXT_TO_M)
    return even_gap(asked, near, more(asked.facts.numbers("ball_to_cushion"), NEXT_TO_M))


def _any_side(asked: Asked) -> Answer:
    sided = texts(asked, "spin_cut", ("inside", "outside"))
    return even_gap(asked, sided, asked.facts.equal("spin_cut", "none"))


def _inside(asked: Asked) -> Answer:
    return even_gap(asked, asked.facts.equal("spin_cut", "inside"), asked.facts.equal("spin_cut", "outside"))


def _check_side(asked: Asked) -> Answer:
    return even_gap(asked, asked.facts.equal("spin_rail", "check"), asked.facts.equal("spin_rail", "running"))


def _thick_by_side(asked: Asked) -> Answer:
    cut, missed = asked.facts.numbers("cut_deg"), _missed(asked)
    return gap(missed & more(cut, 5.0), missed & less(cut, -5.0), asked.facts.equal("contact", "thick"))


def _thick_by_spin(asked: Asked) -> Answer:
    facts, missed = asked.facts, _missed(asked)
    return gap(
        missed & (facts.equal("spin_cut", "inside")),
        missed & (facts.equal("spin_cut", "outside")),
        asked.facts.equal("contact", "thick"),
    )


POTTING: Mapping[str, Question] = {
    "thin_cuts": _thin_cuts,
    "long_pots": _long_pots,
    "side_pockets": _side_pockets,
    "cut_side": _cut_side,
    "awkward": _awkward,
    "hard_strokes": _hard_strokes,
    "thick_or_thin": _thick_or_thin,
    "thick_by_pace": _thick_by_pace,
    "small_windows": _small_windows,
    "next_to_cushion": _next_to_cushion,
    "any_side": _any_side,
    "inside": _inside,
    "check_side": _check_side,
    "thick_by_side": _thick_by_side,
    "thick_by_spin": _thick_by_spin,
}
