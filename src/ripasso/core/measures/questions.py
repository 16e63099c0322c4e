"""The questions that can be asked of a player's shots; their words are in `review.question_words`.

To add one: a function from `Asked` to an `Answer`, a line in `QUESTIONS`, and its words.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from ripasso.core.measures import player as of
from ripasso.core.measures.answers import Answer, Asked, average, even_gap, gap, lean, plain, share
from ripasso.core.measures.columns import Flags
from ripasso.core.measures.facts import UNKNOWN, YES
from ripasso.core.measures.slices import PHASES, second_half

#: A thin cut, degrees; strokes that are played hard; a hard ball's chance.
THIN_CUT_DEG, HARD, HARD_CHANCE = 45.0, ("firm", "power"), 0.5
#: The cue ball runs along the next line below the first, across it above the second (degrees).
ALONG_DEG, ACROSS_DEG = 20.0, 50.0
FOLLOWING, DRAWN = ("follow", "run_through", "roll"), ("draw", "drag")
#: A cue ball that runs farther than this share of the table's length travels far.
FAR = 1.0


def _texts(asked: Asked, name: str, values: tuple[str, ...]) -> Flags:
    column = asked.facts.texts(name)
    found: Flags = np.zeros(len(column), dtype=np.bool_)
    for value in values:
        found |= column == value
    return found


def _less(values: np.ndarray, limit: float) -> Flags:
    with np.errstate(invalid="ignore"):
        found: Flags = values < limit
    return found


def _more(values: np.ndarray, limit: float) -> Flags:
    with np.errstate(invalid="ignore"):
        found: Flags = values >= limit
    return found


def _thin_cuts(asked: Asked) -> Answer:
    cut = np.abs(asked.facts.numbers("cut_deg"))
    return even_gap(asked, _more(cut, THIN_CUT_DEG), _less(cut, THIN_CUT_DEG))


def _cut_side(asked: Asked) -> Answer:
    cut = asked.facts.numbers("cut_deg")
    return even_gap(asked, _more(cut, 5.0), _less(cut, -5.0))


def _long_pots(asked: Asked) -> Answer:
    long = of.long_masks(asked.facts)[0]
    return even_gap(asked, long, asked.pots & ~long)


def _side_pockets(asked: Asked) -> Answer:
    side = _texts(asked, "pocket", ("side_left", "side_right"))
    return even_gap(asked, side, asked.pots & ~side & (asked.facts.texts("pocket") != ""))


def _awkward(asked: Asked) -> Answer:
    awkward = asked.facts.texts("delivery") != ""
    return even_gap(asked, asked.pots & awkward, asked.pots & ~awkward)


def _hard_strokes(asked: Asked) -> Answer:
    hard, said = _texts(asked, "stroke_pace", HARD), asked.facts.texts("stroke_pace") != ""
    return even_gap(asked, asked.pots & hard, asked.pots & said & ~hard)


def _missed(asked: Asked) -> Flags:
    return asked.pots & asked.facts.flags("failed") & _texts(asked, "contact", ("thick", "thin"))


def _thick_or_thin(asked: Asked) -> Answer:
    return share(_missed(asked), asked.facts.texts("contact") == "thick")


def _thick_by_pace(asked: Asked) -> Answer:
    missed, hard = _missed(asked), _texts(asked, "stroke_pace", HARD)
    said = asked.facts.texts("stroke_pace") != ""
    return gap(missed & hard, missed & said & ~hard, asked.facts.texts("contact") == "thick")


def _along(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("along"), asked.made)


def _across(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("across"), asked.made)


def _along_drawn(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("along"), asked.made & _texts(asked, "stroke", DRAWN))


def _along_followed(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("along"), asked.made & _texts(asked, "stroke", FOLLOWING))


def _judged_pace(asked: Asked) -> Answer:
    said = asked.made & _texts(asked, "pace", ("long", "short"))
    return share(said, asked.facts.texts("pace") == "long")


def _angle(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("angle_miss"), asked.made)


def _zone(asked: Asked) -> tuple[Flags, Flags]:
    """Made pots with a zone, and those that hit it."""
    zone = asked.facts.ints("zone")
    return asked.made & (zone != UNKNOWN), zone == YES


def _cushions(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    cushions = asked.facts.ints("cushions")
    return gap(known & (cushions >= 2), known & (cushions == 0), hit)


def _far_travel(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    way = asked.facts.numbers("travel") / asked.facts.numbers("table_length")
    return gap(known & _more(way, FAR), known & _less(way, FAR), hit)


def _draw_or_follow(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    return gap(known & _texts(asked, "stroke", DRAWN), known & _texts(asked, "stroke", FOLLOWING), hit)


def _crossing(asked: Asked) -> Answer:
    known = asked.made & (asked.facts.texts("side") != "")
    way = asked.facts.numbers("crossing_deg")
    right = asked.facts.texts("side") != "wrong_side"
    return gap(known & _more(way, ACROSS_DEG), known & _less(way, ALONG_DEG), right)


def _after_error(asked: Asked) -> Answer:
    after = of.after_mask(asked.facts, asked.facts.texts("unforced") != "")
    return gap(asked.pots & after, asked.pots & ~after, asked.made)


def _after_long_visit(asked: Asked) -> Answer:
    after = of.started_mask(asked.facts, asked.facts.flags("after_long_visit"))
    return gap(asked.pots & after, asked.pots & ~after, asked.made)


def _after_hard(asked: Asked) -> Answer:
    hard = asked.pots & _less(asked.facts.numbers("chance"), HARD_CHANCE)
    after = of.next_mask(asked.facts, hard & asked.made)
    return even_gap(asked, asked.pots & after, asked.pots & ~after)


def _after_lost(asked: Asked) -> Answer:
    after = of.next_mask(asked.facts, asked.made & (asked.facts.texts("position") == "lost"))
    return even_gap(asked, asked.pots & after, asked.pots & ~after)


def _last_balls(asked: Asked) -> Answer:
    phase = asked.facts.texts("phase")
    return even_gap(asked, asked.pots & (phase == "last"), asked.pots & _texts(asked, "phase", PHASES[:2]))


def _quick(asked: Asked) -> Answer:
    since = asked.facts.numbers("since_rest_s")
    known = asked.pots & ~np.isnan(since)
    middle = float(np.median(since[known])) if known.any() else 0.0
    return even_gap(asked, known & _less(since, middle), known & _more(since, middle))


def _break_wet(asked: Asked) -> Answer:
    return plain(_breaks(asked), asked.facts.ints("potted") > 0)


def _break_scratch(asked: Asked) -> Answer:
    return plain(_breaks(asked), asked.facts.flags("cue_potted"))


def _break_outer(asked: Asked) -> Answer:
    outer = asked.facts.ints("outer")
    return plain(_breaks(asked) & (outer != UNKNOWN), outer == YES)


def _breaks(asked: Asked) -> Flags:
    found: Flags = asked.facts.texts("intent") == "break"
    return found


def _runs_after_fault(asked: Asked) -> Answer:
    begins = asked.facts.ints("visit_score") != UNKNOWN
    fault = asked.facts.flags("after_fault")
    return gap(begins & fault, begins & ~fault, asked.facts.texts("visit_end") == "rack_won")


def _visit_balls(asked: Asked) -> Answer:
    scores = asked.facts.ints("visit_score")
    return average(scores.astype(np.float64), scores != UNKNOWN)


def _safeties(asked: Asked) -> Answer:
    followed = asked.facts.flags("has_next") & (
        asked.facts.flags("goes_to_other") | asked.facts.flags("fouled")
    )
    safe = (asked.facts.texts("intent") == "safety") & followed
    return plain(safe, ~asked.facts.flags("fouled") & ~asked.facts.flags("answered"))


def _escapes(asked: Asked) -> Answer:
    return plain(asked.facts.texts("intent") == "escape", ~asked.facts.flags("fouled"))


def _roots(asked: Asked) -> Answer:
    return plain(asked.facts.flags("failed"), asked.facts.ints("root_back") > 0)


def _shots_before(asked: Asked) -> Answer:
    back = asked.facts.ints("root_back")
    return average(back.astype(np.float64), back > 0)


def _luck(asked: Asked) -> Answer:
    return plain(asked.made, asked.facts.texts("luck") != "")


def _agreement(asked: Asked) -> Answer:
    verdicts = asked.facts.texts("verdict")
    judged = _texts(asked, "verdict", ("agree", "prefer_other", "mistake"))
    return plain(judged, verdicts == "agree")


def _lost_position(asked: Asked) -> Answer:
    return plain(asked.made & (asked.facts.texts("position") != ""), asked.facts.texts("position") == "lost")


def _halves(asked: Asked) -> Answer:
    late = second_half(asked.facts)
    return even_gap(asked, asked.pots & late, asked.pots & ~late)


QUESTIONS: Mapping[str, Callable[[Asked], Answer]] = {
    "thin_cuts": _thin_cuts,
    "long_pots": _long_pots,
    "side_pockets": _side_pockets,
    "cut_side": _cut_side,
    "awkward": _awkward,
    "hard_strokes": _hard_strokes,
    "thick_or_thin": _thick_or_thin,
    "thick_by_pace": _thick_by_pace,
    "along": _along,
    "across": _across,
    "along_drawn": _along_drawn,
    "along_followed": _along_followed,
    "judged_pace": _judged_pace,
    "angle": _angle,
    "cushions": _cushions,
    "far_travel": _far_travel,
    "draw_or_follow": _draw_or_follow,
    "crossing": _crossing,
    "lost_position": _lost_position,
    "after_error": _after_error,
    "after_long_visit": _after_long_visit,
    "after_hard": _after_hard,
    "after_lost": _after_lost,
    "last_balls": _last_balls,
    "halves": _halves,
    "quick": _quick,
    "break_wet": _break_wet,
    "break_scratch": _break_scratch,
    "break_outer": _break_outer,
    "runs_after_fault": _runs_after_fault,
    "visit_balls": _visit_balls,
    "safeties": _safeties,
    "escapes": _escapes,
    "roots": _roots,
    "shots_before": _shots_before,
    "luck": _luck,
    "agreement": _agreement,
}
