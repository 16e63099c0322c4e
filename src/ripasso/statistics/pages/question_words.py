"""The words of questions and of their answers: one plain sentence with count and interval.

A question has its own words and those of what is compared; the form of its answer makes the sentence.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from ripasso.core.figures.answers import Answer
from ripasso.core.inference.intervals import Rate
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import count


@dataclass(frozen=True)
class QuestionWords:
    """A question, what is compared (or counted), and the words of the two ways an answer can lean."""

    question: str
    first: str
    second: str = ""
    more: str = "more"
    less: str = "less"
    unit: str = ""

    def localized(self) -> QuestionWords:
        """The same in the language in use."""
        first, second, more, less = map(tr, (self.first, self.second, self.more, self.less))
        return replace(self, question=tr(self.question), first=first, second=second, more=more, less=less)


def _even(question: str, first: str, second: str) -> QuestionWords:
    return QuestionWords(question, first, second, "more go in", "fewer go in")


QUESTION_WORDS: Mapping[str, QuestionWords] = {
    "thin_cuts": _even(
        "Are thin cuts missed more than their difficulty explains?", "thin cuts", "fuller cuts"
    ),
    "long_pots": _even(
        noop("Are long pots missed more than their difficulty explains?"), noop("long pots"), "shorter ones"
    ),
    "side_pockets": _even(
        noop("Is there a habit with the side pockets?"), noop("side pockets"), "corner pockets"
    ),
    "cut_side": _even("Does cutting to the left go better than to the right?", "cuts left", "cuts right"),
    "awkward": _even(
        noop("What does awkward cueing cost (rest, reach, cushion)?"), "awkward shots", "free ones"
    ),
    "hard_strokes": _even("What does a hard stroke cost?", "hard strokes", "softer ones"),
    "thick_or_thin": QuestionWords(noop("Are pots missed thick or thin?"), "thick", "thin"),
    "thick_by_pace": QuestionWords(
        noop("Does a hard stroke change whether pots are missed thick?"),
        "hard strokes",
        "softer ones",
        "more missed thick",
        "fewer missed thick",
    ),
    "along": QuestionWords(
        noop("Does the cue ball run long or short of the aim point?"), "", "", "long", "short", "m"
    ),
    "across": QuestionWords("Does it stop left or right of the aim point?", "", "", "left", "right", "m"),
    "along_drawn": QuestionWords(noop("Long or short with draw?"), "", "", "long", "short", "m"),
    "along_followed": QuestionWords("Long or short with follow and roll?", "", "", "long", "short", "m"),
    "judged_pace": QuestionWords("As judged: long or short of position?", "long", "short"),
    "angle": QuestionWords(
        "Is the angle left steeper or straighter than wanted?", "", "", "too steep", "too straight", "°"
    ),
    "cushions": QuestionWords(
        noop("Do two cushions and more cost the zone?"),
        noop("with two cushions and more"),
        "with none",
        "more in the zone",
        "fewer in the zone",
    ),
    "far_travel": QuestionWords(
        noop("Does a long way of the cue ball cost the zone?"),
        "long ways",
        "shorter ones",
        "more in the zone",
        "fewer in the zone",
    ),
    "draw_or_follow": QuestionWords(
        noop("Is position better with draw or with follow?"),
        noop("with draw"),
        "with follow",
        "more in the zone",
        "fewer in the zone",
    ),
    "crossing": QuestionWords(
        "Does crossing the next line cost the right side?",
        "crossing it",
        "moving along it",
        "more on the right side",
        "fewer on the right side",
    ),
    "lost_position": QuestionWords("How often is position lost?", noop("of made pots lose position")),
    "after_error": QuestionWords(
        noop("Do pots suffer after an unforced error?"),
        "the next three shots",
        "all others",
        "more go in",
        "fewer go in",
    ),
    "after_long_visit": QuestionWords(
        noop("Do pots suffer after the opponent's long visit?"),
        "the first three shots after it",
        "all others",
        "more go in",
        "fewer go in",
    ),
    "after_hard": _even("What follows a hard ball that went in?", noop("the next pot"), "all others"),
    "after_lost": _even("Is a lost position made good?", noop("the pot after it"), "all others"),
    "last_balls": _even("Are the last balls missed more than the others?", "the last balls", "those before"),
    "halves": _even("Does the second half of a match go worse?", "second half", "first half"),
    "quick": _even("Do quick shots go worse?", "quick shots", "slow ones"),
    "break_wet": QuestionWords(
        noop("How often does the break pot something?"), noop("of breaks pot something")
    ),
    "break_scratch": QuestionWords(
        noop("How often is the cue ball potted on the break?"), noop("of breaks pot the cue ball")
    ),
    "break_outer": QuestionWords(
        "How often does an outer ball fall on the break?", "of breaks drop an outer ball in a foot pocket"
    ),
    "runs_after_fault": QuestionWords(
        "Are racks won after the opponent's miss or foul?",
        "visits after a miss or foul",
        "other visits",
        "more win the rack",
        "fewer win the rack",
    ),
    "visit_balls": QuestionWords("How much does a visit bring?", "a visit, balls (snooker: points)"),
    "safeties": QuestionWords(
        "How often does a safety hold?", noop("of safeties leave nothing that is potted")
    ),
    "escapes": QuestionWords("How often does an escape hit?", "of escapes hit without a foul"),
    "roots": QuestionWords(
        "How often was an earlier shot the cause of a miss?", "of misses have a marked earlier cause"
    ),
    "shots_before": QuestionWords("How many shots before a miss lies its cause?", "shots before the miss"),
    "luck": QuestionWords("How often did luck save or end a position?", noop("of made pots had luck marked")),
    "agreement": QuestionWords("How often was the decision agreed with?", "of judged decisions agreed with"),
    "small_windows": _even(
        "Are pockets that stand little open missed more than difficulty explains?",
        "little open pockets",
        "wide open ones",
    ),
    "next_to_cushion": _even(
        noop("What does a ball next to a cushion cost?"), noop("balls at a cushion"), "free balls"
    ),
    "any_side": _even(noop("What does side spin cost in pots?"), "with side", "without"),
    "inside": _even("Does inside side cost more than outside?", "inside", "outside"),
    "check_side": _even(
        noop("Check or running side at the next cushion: what does it cost?"), "check", "running"
    ),
    "thick_by_side": QuestionWords(
        noop("Does the side of the cut change whether pots are missed thick?"),
        "cuts left",
        "cuts right",
        "more missed thick",
        "fewer missed thick",
    ),
    "thick_by_spin": QuestionWords(
        noop("Does side spin change whether pots are missed thick?"),
        "inside",
        "outside",
        "more missed thick",
        "fewer missed thick",
    ),
    "fought": QuestionWords(
        "Do fought angles cost the zone?",
        "routes that fight the angle",
        "natural routes",
        "more in the zone",
        "fewer in the zone",
    ),
    "zone_by_side": QuestionWords(
        "Does side spin cost the zone?", "with side", "without", "more in the zone", "fewer in the zone"
    ),
    "judged_angle": QuestionWords(
        "As judged: is too steep or too straight left?", "too steep", "too straight"
    ),
    "kind_luck": QuestionWords("Was luck kind or unkind to the position?", "of lucky leaves were kind"),
    "key_balls": QuestionWords(
        "How many key balls worked?", noop("of key balls potted with a good position")
    ),
    "pressure": _even(
        noop("Do pots suffer under pressure?"), "deciders, match points, frame balls", "all others"
    ),
    "behind": _even(noop("Do pots suffer when behind?"), "behind", "ahead"),
    "after_miscue": _even(noop("Do pots suffer after a miscue?"), "the next three shots", "all others"),
    "plan_changed": _even(noop("Does changing the plan cost pots?"), "plan changed", "plan kept"),
    "given_away": QuestionWords(
        "What did the choices give away?", noop("of the chance (pot times leave) given away a choice")
    ),
    "trouble_late": _even("Trouble balls: early or late?", "late trouble balls", "early ones"),
    "break_power": QuestionWords(
        noop("Does power on the break pot more?"),
        "hard breaks",
        "controlled ones",
        noop("more pot something"),
        noop("fewer pot something"),
    ),
    "break_kind": QuestionWords(
        "Cut break or head-on?",
        "cut breaks",
        "head-on ones",
        noop("more pot something"),
        noop("fewer pot something"),
    ),
    "break_scratch_power": QuestionWords(
        noop("Does power on the break pot the cue ball?"),
        "hard breaks",
        "controlled ones",
        "more scratches",
        "fewer scratches",
    ),
    "break_ball": QuestionWords(
        noop("Break balls: natural or made, which are potted?"),
        "natural ones",
        "made ones",
        noop("more potted"),
        noop("fewer potted"),
    ),
    "openings": QuestionWords(
        noop("How often does an opening leave a pot?"), noop("of openings leave a pot")
    ),
    "insurance": QuestionWords(
        "Does an insurance ball pay?",
        "openings with one",
        "openings without",
        noop("more leave a pot"),
        noop("fewer leave a pot"),
    ),
    "runs_on_own_break": QuestionWords(
        "Are racks run from the own break?",
        "visits from the own break",
        "other visits",
        "more win the rack",
        "fewer win the rack",
    ),
    "runs_in_hand": QuestionWords(
        "Are racks run with ball in hand?",
        "visits that began with ball in hand",
        "other visits",
        "more win the rack",
        "fewer win the rack",
    ),
    "chances": QuestionWords("How many open chances are taken?", "of open chances taken"),
    "safety_cushions": QuestionWords(
        noop("Do safeties hold off several cushions?"),
        "off two and more",
        "off one or none",
        "more hold",
        "fewer hold",
    ),
    "escape_cushions": QuestionWords(
        noop("Do escapes hit off several cushions?"), "off two and more", "off one", "more hit", "fewer hit"
    ),
    "streaks": QuestionWords(noop("Do pots and misses come in streaks?"), "pots"),
    "longest": QuestionWords(noop("How long was the longest row of pots?"), noop("pots in a row")),
    "racks_in_a_row": QuestionWords("How many racks were won in a row?", "racks won in a row"),
}

#: What is in sight first, by game; all others are found below.
FIRST_POOL = (
    "cushions",
    "along",
    "thick_or_thin",
    "crossing",
    "thin_cuts",
    "after_error",
    "break_wet",
    "safeties",
)
FIRST_SNOOKER = (
    "long_pots",
    "thin_cuts",
    "thick_or_thin",
    "awkward",
    "along",
    "after_error",
    "safeties",
    "visit_balls",
)


#: Forms of answers that test nothing.
PLAIN = ("rate", "mean", "most")


def order_for(game: str | None) -> list[str]:
    """All questions, those of a game first."""
    first = FIRST_SNOOKER if game == "snooker" else FIRST_POOL
    return [*first, *(name for name in QUESTION_WORDS if name not in first)]


def answer_sentence(name: str, answer: Answer, *, holds: bool) -> str:
    """The answer in one sentence; `holds`: it is a finding beside all other questions that are asked."""
    words = QUESTION_WORDS[name].localized()
    if answer.value is None or answer.low is None or answer.high is None:
        return f"Not enough to tell: {_counted(answer)}."
    sentence = _SENTENCES[answer.form](words, answer)
    if answer.form in PLAIN:
        return sentence
    if answer.p is None:
        return f"Not enough to tell: {sentence}"
    if not answer.is_finding:
        return f"No habit shows: {sentence}"
    return sentence[0].upper() + sentence[1:] if holds else f"Perhaps: {sentence}"


def _streaks(words: QuestionWords, answer: Answer) -> str:
    assert answer.value is not None
    way = "fewer" if answer.value >= 0 else "more"
    changes = f"{abs(answer.value):.0f} {way} changes between hits and misses than chance gives"
    return f"{changes}, {answer.of} {words.first}."


def _most(words: QuestionWords, answer: Answer) -> str:
    return f"{answer.value:.0f} {words.first} at the most."


def _counted(answer: Answer) -> str:
    if answer.first is not None and answer.second is not None:
        return f"{answer.first.of} against {answer.second.of} shots"
    return f"{answer.of} shots" if answer.of != 1 else "1 shot"


def _gap(words: QuestionWords, answer: Answer) -> str:
    assert answer.value is not None and answer.low is not None and answer.high is not None
    assert answer.first is not None and answer.second is not None
    way = words.more if answer.value >= 0 else words.less
    low, high = sorted((100 * answer.low, 100 * answer.high))
    even = ", at equal difficulty" if answer.form == "even" else ""
    return (
        f"{words.first}: {abs(100 * answer.value):.0f} in a hundred {way} than {words.second}{even} "
        f"({_signed(low)} to {_signed(high)}; {answer.first.of} against {answer.second.of})."
    )


def _signed(value: float, digits: int = 0) -> str:
    """With its sign, a minus as wide as the plus."""
    return f"{value:+.{digits}f}".replace("-", "−")


def _share(words: QuestionWords, answer: Answer) -> str:
    assert answer.first is not None and answer.value is not None
    more, value = (words.first, answer.value) if answer.value >= 0.5 else (words.second, 1 - answer.value)
    low, high = answer.low or 0.0, answer.high or 0.0
    if answer.value < 0.5:
        low, high = 1 - high, 1 - low
    made = answer.first.made if answer.value >= 0.5 else answer.first.of - answer.first.made
    interval = f"({100 * low:.0f}–{100 * high:.0f})"
    return f"{more} in {100 * value:.0f} % {interval} of those said, {made} of {answer.first.of}."


def _lean(words: QuestionWords, answer: Answer) -> str:
    assert answer.value is not None and answer.low is not None and answer.high is not None
    way = words.more if answer.value >= 0 else words.less
    factor, unit = (100.0, "cm") if words.unit == "m" else (1.0, "°")
    value, low, high = (factor * one for one in (answer.value, answer.low, answer.high))
    interval = f"({_signed(low, 1)} to {_signed(high, 1)})"
    return f"{abs(value):.1f} {unit} {way} on average {interval}, {answer.of} shots."


def _rate(words: QuestionWords, answer: Answer) -> str:
    assert answer.first is not None
    return f"{_rate_words(answer.first)} {words.first}, {answer.first.made} of {answer.first.of}."


def _rate_words(found: Rate) -> str:
    assert found.rate is not None and found.low is not None and found.high is not None
    return f"{100 * found.rate:.0f} % ({100 * found.low:.0f}–{100 * found.high:.0f})"


def _mean(words: QuestionWords, answer: Answer) -> str:
    assert answer.value is not None and answer.low is not None and answer.high is not None
    return f"{answer.value:.2f} ({answer.low:.2f} to {answer.high:.2f}) {words.first}, {answer.of} in all."


_SENTENCES: Mapping[str, Callable[[QuestionWords, Answer], str]] = {
    "gap": _gap,
    "even": _gap,
    "share": _share,
    "lean": _lean,
    "rate": _rate,
    "mean": _mean,
    "streaks": _streaks,
    "most": _most,
}


def found_words(holding: Sequence[bool], tested: int) -> str:
    """How many of the questions that test something found something, and how that is corrected."""
    found = sum(holding)
    what = count(found, "habit") if found else "nothing"
    return (
        f"{what} of {tested} questions that could be tested: corrected for their number "
        "(Benjamini–Hochberg, 5 %). “Perhaps” would be a finding if it were the only question."
    )
