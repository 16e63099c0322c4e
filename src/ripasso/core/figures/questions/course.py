"""Questions about the course of a match: after what, under what, breaks, visits, safeties, decisions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.answers import LEAST, Answer, Asked, average, even_gap, gap, plain
from ripasso.core.figures.facts import NO, UNKNOWN, YES, Flags
from ripasso.core.figures.questions.asking import Question, below_and_above, less, more, texts, words
from ripasso.core.figures.racks import streak_of
from ripasso.core.figures.rates import OPEN_LEAVE, escapes_hit, safeties_held
from ripasso.core.figures.slices import PHASES, second_half
from ripasso.core.inference.estimates import fewer_runs_p

#: A pot of less chance is hard; a break of more power (of 100) is a hard one.
HARD_CHANCE, HARD_BREAK = 0.5, 75.0


def _breaks(asked: Asked) -> Flags:
    found: Flags = asked.facts.equal("intent", "break")
    return found


def _after_error(asked: Asked) -> Answer:
    after = of.after_mask(asked.facts, asked.facts.known("unforced"))
    return gap(asked.pots & after, asked.pots & ~after, asked.made)


def _after_long_visit(asked: Asked) -> Answer:
    after = of.started_mask(asked.facts, asked.facts.flags("after_long_visit"))
    return gap(asked.pots & after, asked.pots & ~after, asked.made)


def _after_hard(asked: Asked) -> Answer:
    hard = asked.pots & less(asked.facts.numbers("chance"), HARD_CHANCE)
    after = of.next_mask(asked.facts, hard & asked.made)
    return even_gap(asked, asked.pots & after, asked.pots & ~after)


def _after_lost(asked: Asked) -> Answer:
    after = of.next_mask(asked.facts, asked.made & (asked.facts.equal("position", "lost")))
    return even_gap(asked, asked.pots & after, asked.pots & ~after)


def _last_balls(asked: Asked) -> Answer:
    return even_gap(
        asked,
        asked.pots & (asked.facts.equal("phase", "last")),
        asked.pots & texts(asked, "phase", PHASES[:2]),
    )


def _halves(asked: Asked) -> Answer:
    late = second_half(asked.facts)
    return even_gap(asked, asked.pots & late, asked.pots & ~late)


def _quick(asked: Asked) -> Answer:
    return even_gap(asked, *below_and_above(asked.facts.numbers("since_rest_s"), asked.pots))


def _runs_after_fault(asked: Asked) -> Answer:
    begins = asked.facts.ints("visit_score") != UNKNOWN
    fault = asked.facts.flags("after_fault")
    return gap(begins & fault, begins & ~fault, asked.facts.equal("visit_end", "rack_won"))


def _visit_balls(asked: Asked) -> Answer:
    scores = asked.facts.ints("visit_score")
    return average(scores.astype(np.float64), scores != UNKNOWN)


def _safeties(asked: Asked) -> Answer:
    return plain(*safeties_held(asked.facts))


def _escapes(asked: Asked) -> Answer:
    return plain(*escapes_hit(asked.facts))


def _roots(asked: Asked) -> Answer:
    return plain(asked.facts.flags("failed"), asked.facts.ints("root_back") > 0)


def _shots_before(asked: Asked) -> Answer:
    back = asked.facts.ints("root_back")
    return average(back.astype(np.float64), asked.facts.flags("failed") & (back > 0))


def _agreement(asked: Asked) -> Answer:
    judged = texts(asked, "verdict", ("agree", "prefer_other", "mistake"))
    return plain(judged, asked.facts.equal("verdict", "agree"))


def _break_wet(asked: Asked) -> Answer:
    return plain(_breaks(asked), asked.facts.ints("potted") > 0)


def _break_scratch(asked: Asked) -> Answer:
    return plain(_breaks(asked), asked.facts.flags("cue_potted"))


def _break_outer(asked: Asked) -> Answer:
    outer = asked.facts.ints("outer")
    return plain(_breaks(asked) & (outer != UNKNOWN), outer == YES)


def _pressure(asked: Asked) -> Answer:
    pressed = asked.facts.known("pressure")
    return even_gap(asked, asked.pots & pressed, asked.pots & ~pressed)


def _behind(asked: Asked) -> Answer:
    return even_gap(
        asked,
        asked.pots & (asked.facts.equal("standing", "behind")),
        asked.pots & (asked.facts.equal("standing", "ahead")),
    )


def _after_miscue(asked: Asked) -> Answer:
    after = of.after_mask(asked.facts, words(asked, "causes", "miscue"))
    return even_gap(asked, asked.pots & after, asked.pots & ~after)


def _plan_changed(asked: Asked) -> Answer:
    changed = asked.facts.ints("replanned")
    return even_gap(asked, asked.pots & (changed == YES), asked.pots & (changed == NO))


def _given_away(asked: Asked) -> Answer:
    given = asked.facts.numbers("given_away")
    return average(given, ~np.isnan(given))


def _trouble_late(asked: Asked) -> Answer:
    trouble, late = words(asked, "roles", "trouble"), asked.facts.ints("late")
    return even_gap(asked, asked.pots & trouble & (late == YES), asked.pots & trouble & (late == NO))


def _break_power(asked: Asked) -> Answer:
    power, broke = asked.facts.numbers("break_power"), _breaks(asked)
    wet = asked.facts.ints("potted") > 0
    return gap(broke & more(power, HARD_BREAK), broke & less(power, HARD_BREAK), wet)


def _break_kind(asked: Asked) -> Answer:
    facts, broke = asked.facts, _breaks(asked)
    return gap(
        broke & (facts.equal("break_kind", "cut")),
        broke & (facts.equal("break_kind", "head_on")),
        asked.facts.ints("potted") > 0,
    )


def _break_scratch_power(asked: Asked) -> Answer:
    power, broke = asked.facts.numbers("break_power"), _breaks(asked)
    scratched = asked.facts.flags("cue_potted")
    return gap(broke & more(power, HARD_BREAK), broke & less(power, HARD_BREAK), scratched)


def _break_ball(asked: Asked) -> Answer:
    return gap(
        asked.facts.equal("break_ball", "natural"), asked.facts.equal("break_ball", "made"), asked.made
    )


def _opened(asked: Asked) -> Flags:
    events = words(asked, "events", "cluster_opened", "ball_freed")
    said: Flags = asked.facts.known("break_ball")
    return events | words(asked, "methods", "cannon_split") | said


def _openings(asked: Asked) -> Answer:
    leave = asked.facts.numbers("leave")
    return plain(_opened(asked) & ~np.isnan(leave), more(leave, OPEN_LEAVE))


def _insurance(asked: Asked) -> Answer:
    leave, insurance = asked.facts.numbers("leave"), asked.facts.ints("insurance")
    known = _opened(asked) & ~np.isnan(leave)
    return gap(known & (insurance == YES), known & (insurance == NO), more(leave, OPEN_LEAVE))


def _runs_on_own_break(asked: Asked) -> Answer:
    begins = asked.facts.ints("visit_score") != UNKNOWN
    own = asked.facts.equal("began", "own_break")
    return gap(begins & own, begins & ~own, asked.facts.equal("visit_end", "rack_won"))


def _runs_in_hand(asked: Asked) -> Answer:
    begins = asked.facts.ints("visit_score") != UNKNOWN
    hand = asked.facts.equal("began", "ball_in_hand")
    return gap(begins & hand, begins & ~hand, asked.facts.equal("visit_end", "rack_won"))


def _chances(asked: Asked) -> Answer:
    opened, taken = of.chances(asked.facts)
    return plain(opened, taken)


def _safety_cushions(asked: Asked) -> Answer:
    safe, held = safeties_held(asked.facts)
    cushions = asked.facts.ints("cushions")
    return gap(safe & (cushions >= 2), safe & (cushions >= 0) & (cushions < 2), held)


def _escape_cushions(asked: Asked) -> Answer:
    away, cushions = asked.facts.equal("intent", "escape"), asked.facts.ints("cushions")
    return gap(away & (cushions >= 2), away & (cushions == 1), ~asked.facts.flags("fouled"))


def _streaks(asked: Asked) -> Answer:
    """How many runs fewer than by chance, tested exactly; more of them are no habit anybody asks for."""
    test = of.streaks(asked.facts)
    if test.expected is None or test.runs is None:
        return Answer("streaks", None, None, None, None, asked.pots, of=test.of)
    fewer = test.expected - test.runs
    p = None
    if min(test.made, test.of - test.made) >= LEAST:
        p = fewer_runs_p(asked.made[asked.pots])
    return Answer("streaks", fewer, fewer, fewer, p, asked.pots, of=test.of)


def _longest(asked: Asked) -> Answer:
    """The longest row of pots made in one session without a gap, and where it was."""
    places = np.flatnonzero(asked.pots)
    start, length = of.longest_run(asked.made[asked.pots], of.stretches(asked.facts)[asked.pots])
    return _most(asked, places[start : start + length].tolist(), length)


def _most(asked: Asked, places: Sequence[int], length: int) -> Answer:
    mask: Flags = np.zeros(len(asked.facts), dtype=np.bool_)
    mask[list(places)] = True
    value = float(length) if length else None
    return Answer("most", value, value, value, None, mask, of=length)


def _racks_in_a_row(asked: Asked) -> Answer:
    """The longest row of racks won that is proven; its shots are the racks' first own ones."""
    streak, racks = streak_of(asked.racks)
    return _most(asked, asked.own_places([rack.shot for rack in racks]), streak.length)


COURSE: Mapping[str, Question] = {
    "after_error": _after_error,
    "after_long_visit": _after_long_visit,
    "after_hard": _after_hard,
    "after_lost": _after_lost,
    "last_balls": _last_balls,
    "halves": _halves,
    "quick": _quick,
    "runs_after_fault": _runs_after_fault,
    "visit_balls": _visit_balls,
    "safeties": _safeties,
    "escapes": _escapes,
    "roots": _roots,
    "shots_before": _shots_before,
    "agreement": _agreement,
    "break_wet": _break_wet,
    "break_scratch": _break_scratch,
    "break_outer": _break_outer,
    "pressure": _pressure,
    "behind": _behind,
    "after_miscue": _after_miscue,
    "plan_changed": _plan_changed,
    "given_away": _given_away,
    "trouble_late": _trouble_late,
    "break_power": _break_power,
    "break_kind": _break_kind,
    "break_scratch_power": _break_scratch_power,
    "break_ball": _break_ball,
    "openings": _openings,
    "insurance": _insurance,
    "runs_on_own_break": _runs_on_own_break,
    "runs_in_hand": _runs_in_hand,
    "chances": _chances,
    "safety_cushions": _safety_cushions,
    "escape_cushions": _escape_cushions,
    "streaks": _streaks,
    "longest": _longest,
    "racks_in_a_row": _racks_in_a_row,
}
