"""Pages of figures about the course of a match: errors, breaks, visits, safety, time. Each has its shots."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import UNKNOWN, YES, Facts, Flags
from ripasso.core.figures.racks import PlacedRack, claim_of, runs_in_a_row, streak_of
from ripasso.core.figures.rates import (
    OPEN_LEAVE,
    escapes_hit,
    escapes_left_pot,
    safeties_held,
    safeties_left_little,
)
from ripasso.core.figures.slices import PHASES, second_half
from ripasso.core.inference.estimates import mean, quantile
from ripasso.core.inference.intervals import count_per, rate
from ripasso.core.rules.snooker import COLOURS
from ripasso.review.language.translation import noop, tr
from ripasso.review.language.vocabulary import word
from ripasso.statistics.pages.figures import Figure
from ripasso.statistics.pages.lines import (
    EACH,
    Line,
    PageKind,
    averaged,
    by_group,
    group_word,
    mean_ends,
    metres,
    plain,
    points,
    rated,
)

#: The runs that are counted, by the balls (snooker, rotation: points) of a visit.
RUNS = (3, 5, 8, 20, 30, 50, 70, 100)
SNOOKER_RUNS = (20, 50)


#: What an unforced error may hang on besides the phase.
ERRORS_BY = {
    "standing": "Shots with an unforced error, by the score",
    "pressure": "Shots with an unforced error, under pressure",
    "half": "Shots with an unforced error, by half of the match",
}
PRESSED = {"pressure": noop("Pots under pressure"), "standing": noop("Pots by the score")}


def _errors(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    marked, kinds = facts.known("unforced"), facts.words("unforced")
    total = sum(of.unforced_by_kind(facts).values())
    racks = len(set(zip(facts.ints("session").tolist(), facts.ints("rack").tolist(), strict=True)))
    group = "Unforced errors, judged or by chance"
    for key, text, per in (
        ("per_100", "Per 100 shots", len(facts) / 100),
        ("per_rack", "Per rack", racks),
    ):
        yield key, group, text, Figure(places[marked], count=count_per(total, per), unit=text.lower())
    for kind in of.unforced_by_kind(facts):
        yield f"unforced_{kind}", group, "– " + word(f"error_{kind}"), Figure(places[kinds[kind]])
    for phase in PHASES:
        among = facts.equal("phase", phase)
        if among.any():
            title = "Shots with an unforced error, by phase of the rack"
            yield f"phase_{phase}", title, group_word(phase), rated(places, among, marked)
    everything = np.ones(len(facts), dtype=np.bool_)
    for way, title in ERRORS_BY.items():
        yield from by_group(facts, places, way, title, everything, marked)
    failed = facts.flags("failed")
    back = facts.ints("root_back")
    title = "Where misses came from"
    yield "rooted", title, "With a marked earlier cause", rated(places, failed, back > 0)
    yield (
        "shots_back",
        title,
        "Shots before the miss, mean",
        averaged(places, failed & (back > 0), back.astype(np.float64), plain),
    )
    for cause, mask in facts.words("causes").items():
        yield f"cause {cause}", "Causes that were said", group_word(cause), Figure(places[mask])


def _breaks(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    broke = facts.equal("intent", "break")
    clean, potted = ~facts.flags("fouled"), facts.ints("potted")
    pool = broke & ~facts.equal("game", "snooker")  # its pack has no corner balls to fall
    group = "Breaks of the rack"
    yield "legal", group, "Without a foul", rated(places, broke, clean)
    yield "wet", group, tr("Something potted"), rated(places, broke, potted > 0)
    yield "dry", group, tr("Without a foul, nothing potted"), rated(places, broke, clean & (potted == 0))
    yield "scratch", group, tr("Cue ball potted"), rated(places, broke, facts.flags("cue_potted"))
    for key, text, column in (
        ("outer", "An outer ball in a foot pocket", "outer"),
        ("second_row", tr("A ball of the second row in a side pocket"), "second_row"),
        ("head_in_side", tr("The head ball in a side pocket"), "head_in_side"),
        ("central", tr("Cue ball left near the middle"), "central"),
    ):
        known = pool & (facts.ints(column) != UNKNOWN)
        if not known.any():
            continue
        yield key, "What fell, what stayed", text, rated(places, known, facts.ints(column) == YES)
    leave = facts.numbers("leave")
    known = broke & ~np.isnan(leave)
    yield (
        "shot_after",
        "What fell, what stayed",
        "A shot on afterwards",
        rated(places, known, _at_least(leave)),
    )
    behind = facts.ints("cue_behind")
    off = broke & facts.equal("game", "snooker") & (behind != UNKNOWN)
    if off.any():
        yield (
            "off_behind",
            "Break-offs",
            tr("Cue ball back behind the baulk line"),
            rated(places, off, behind == YES),
        )
        yield (
            "off_held",
            "Break-offs",
            tr("Left hardly a pot"),
            rated(places, off & ~np.isnan(leave), ~_at_least(leave)),
        )
    if broke.any():
        words = f"{potted[broke].mean():.2f} balls"
        yield "potted", "What fell, what stayed", tr("Potted, mean"), Figure(places[broke], words=words)


def _at_least(values: np.ndarray) -> Flags:
    with np.errstate(invalid="ignore"):
        enough: Flags = values >= OPEN_LEAVE
    return enough


def _visits(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    scores = facts.ints("visit_score")
    begins = scores != UNKNOWN
    group = "Visits to the table"
    if begins.any():
        found = mean(scores[begins].astype(np.float64))
        words = f"{found.value:.2f}{mean_ends(found, 2)}"
        amounts = Figure(places[begins], words=words, values=scores[begins], each=EACH[plain])
        yield "mean", group, "Balls (snooker: points) a visit", amounts
        best = begins & (scores == scores[begins].max())
        yield "best", group, "The best", Figure(places[best], words=str(int(scores[begins].max())))
    for least in RUNS:
        # Breaks of these sizes are asked of every frame of snooker, also where there are none.
        asked = least in SNOOKER_RUNS and facts.equal("game", "snooker").any()
        if asked or (begins & (scores >= least)).any():
            title = "Visits of so many balls (points) and more"
            yield f"run {least}", title, f"{least} and more", rated(places, begins, scores >= least)
    visits, firsts = facts.where(begins), places[begins]
    for ending, ended in visits.values("visit_end").items():
        every = np.ones(len(visits), dtype=np.bool_)
        yield f"end {ending}", "How visits ended", word(ending), rated(firsts, every, ended)
    began, won = of.began(visits), visits.equal("visit_end", "rack_won")
    for way in dict.fromkeys(str(text) for text in began if text):
        title = "How visits began, and how many of them won the rack"
        yield f"began {way}", title, word(f"began_{way}"), rated(firsts, began == way, won)
    opened, taken = of.chances(facts)
    yield "converted", "Chances", "Open chances taken", rated(places, begins & opened, taken)
    own = begins & facts.equal("began", "own_break")
    # A run from the break is one of the own breaks; any other visit may come to a run-out.
    for run, among in (("break_and_run", own), ("won_on_break", own), ("run_out", begins & ~own)):
        won_so = facts.equal("run", run)
        if run != "won_on_break" or won_so.any():
            yield f"run {run}", "Racks won in the visit", word(run), rated(places, among, won_so)
    fault = begins & facts.flags("after_fault")
    won = facts.equal("visit_end", "rack_won")
    title = "Racks won in the visit"
    yield "won", title, "Of all visits", rated(places, begins, won)
    yield "won_after_fault", title, "Of visits after a miss or foul", rated(places, fault, won)
    one = facts.ints("one_visit")
    if (one != UNKNOWN).any():
        yield (
            "one_visit",
            "Racks won in the visit",
            "Frames won in one visit, of those won",
            rated(places, one != UNKNOWN, one == YES),
        )
    yield from _colours(facts, places)


def _colours(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    """Snooker: which colours are taken after a red, and whether the one that was meant was got."""
    taken = facts.flags("made") & facts.equal("ball", *COLOURS) & ~facts.equal("phase", "last")
    for colour in reversed(COLOURS):
        if (taken & facts.equal("ball", colour)).any():
            yield (
                f"colour {colour}",
                "Colours taken after a red",
                word(colour),
                rated(places, taken, facts.equal("ball", colour)),
            )
    meant = facts.known("colour_meant") & facts.known("ball")
    if meant.any():
        (codes, values), (others, names) = facts.coded("colour_meant"), facts.coded("ball")
        got = np.array(values, dtype=object)[codes] == np.array(names, dtype=object)[others]
        yield "colour_got", "Colours taken after a red", "As meant", rated(places, meant, got)


CLAIMED = {
    "streak": "Longest row of racks, of what is not shown",
    "run": "Highest run, of what is not shown",
    "break": "Highest visit in points, of what is not shown",
}


def _racks(racks: Sequence[PlacedRack]) -> Iterator[Line]:
    """Racks won or lost, on whose break, without a stroke, and the longest rows of them."""
    title, known = "Racks", [rack for rack in racks if rack.known]
    for what, words in CLAIMED.items():
        claim = claim_of(racks, what)
        if claim is not None:
            yield f"stated_{what}", title, words, Figure(_shots_of([]), words=claim.words)
    if not known:
        return
    yield "racks", title, "Won", _of_racks(known)
    yield "racks_own", title, "Won on the own break", _of_racks([rack for rack in known if rack.own_break])
    other = [rack for rack in known if rack.result.breaker is not None and not rack.own_break]
    yield "racks_other", title, "Won on the other's break", _of_racks(other)
    lost = [rack for rack in known if not rack.won]
    bare = [rack for rack in lost if rack.without_stroke]
    if bare:
        yield "racks_bare", title, "Lost without a stroke, of those lost", _share(bare, lost)
    for key, words, (streak, row) in (
        ("streak", "Longest row of racks won", streak_of(racks)),
        ("runs_in_a_row", "Break-and-runs in a row", runs_in_a_row(racks)),
    ):
        if key == "streak" or streak.length:
            yield key, title, words, Figure(_shots_of(row), words=streak.words)
    hidden = [rack for rack in racks if not rack.result.shown]
    if hidden:
        words = f"{len(hidden)}: no row and no run is counted across, but where the score proves it"
        yield "gaps", title, "Gaps in the film", Figure(_shots_of([]), words=words)


def _of_racks(racks: Sequence[PlacedRack]) -> Figure:
    """How many of some racks were won."""
    return _share([rack for rack in racks if rack.won], racks)


def _share(some: Sequence[PlacedRack], racks: Sequence[PlacedRack]) -> Figure:
    return Figure(_shots_of(racks), rate(len(some), len(racks)))


def _shots_of(racks: Sequence[PlacedRack]) -> np.ndarray:
    """The shots that show racks; one without a shot has none."""
    return np.array([rack.shot for rack in racks if rack.shot >= 0], dtype=np.int64)


def _safety(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    held, hit = safeties_held(facts), escapes_hit(facts)
    yield "result", "Safeties", tr("Nothing potted on the next shot"), rated(places, *held)
    yield "leave", "Safeties", tr("Hardly a pot left"), rated(places, *safeties_left_little(facts))
    yield "hit", "Escapes", "Hit without a foul", rated(places, *hit)
    yield "left_pot", "Escapes", tr("Hit, but left a pot"), rated(places, *escapes_left_pot(facts))
    leave = facts.numbers("leave")
    known = held.among & ~np.isnan(leave)
    if known.any():
        yield (
            "chance_left",
            "Safeties",
            "Chance left, mean",
            averaged(places, known, leave, points),
        )
    yield from _as_played(facts, places, held.among)
    yield from by_group(facts, places, "cushions", tr("Safeties held, by cushions planned"), *held)
    yield from by_group(facts, places, "cushions", tr("Escapes that hit, by cushions planned"), *hit)
    yield from _exchanges(facts, places)


def _as_played(facts: Facts, places: np.ndarray, safe: Flags) -> Iterator[Line]:
    """What a safety was: where the cue ball lay, whether the other was snookered, what was left."""
    title, behind, laid = "Safeties as they were played", facts.ints("cue_behind"), facts.ints("laid")
    yield (
        "behind",
        title,
        tr("Cue ball behind the head string"),
        rated(places, safe & (behind != UNKNOWN), behind == YES),
    )
    yield (
        "to_baulk",
        title,
        tr("Its way to that cushion, mean"),
        averaged(places, safe, facts.numbers("to_baulk"), metres),
    )
    yield "laid", title, "Snooker laid", rated(places, safe & (laid != UNKNOWN), laid == YES)
    leave = facts.numbers("leave")
    known = safe & ~np.isnan(leave)
    with np.errstate(invalid="ignore"):
        little, easy = leave < OPEN_LEAVE, leave >= of.OPEN_CHANCE
    for key, text, mask in (
        ("nothing", tr("Left hardly a pot"), little),
        ("hard", tr("Left a hard pot"), ~little & ~easy),
        ("easy", tr("Left an easy pot"), easy),
    ):
        yield f"left_{key}", title, text, rated(places, known, mask)


def _exchanges(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    """Exchanges of safeties: how long, and what the last word of one's own was."""
    place, length, title = facts.ints("exchange"), facts.ints("exchange_of"), "Exchanges of safeties"
    began, last = place == 1, (place == length) & (place != UNKNOWN)
    if began.any():
        yield (
            "exchange_length",
            title,
            "Shots, of those begun",
            averaged(places, began, length.astype(np.float64), plain),
        )
    with np.errstate(invalid="ignore"):
        opened = facts.numbers("leave") >= of.OPEN_CHANCE
    if not last.any():
        return
    fouled = facts.flags("fouled")
    yield "broke_foul", title, "Own last word: a foul", rated(places, last, fouled)
    yield "broke_error", title, "Own last word: an open chance left", rated(places, last, ~fouled & opened)
    yield (
        "broke_held",
        title,
        "Own last word: the other attacked without",
        rated(places, last, ~fouled & ~opened),
    )


def _time(facts: Facts, places: np.ndarray) -> Iterator[Line]:
    since, made = facts.numbers("since_rest_s"), facts.flags("made")
    known = ~np.isnan(since)
    group = "Seconds before the stroke"
    if known.any():
        for key, text, found in (
            ("mean", "Mean", mean(since[known])),
            ("median", "Median", quantile(since[known], 0.5)),
            ("p90", "Nine in ten within", quantile(since[known], 0.9)),
        ):
            words = f"{found.value:.1f} s{mean_ends(found, 1)}"
            yield key, group, text, Figure(places[known], words=words)
        pace = of.times(facts)["balls_per_minute"]
        if pace is not None:
            yield "pace", group, "Balls a minute", Figure(places[known], words=f"{pace:.2f}")
        racks = facts.numbers("rack_s")
        if not np.isnan(racks).all():
            among = ~np.isnan(racks)
            yield "rack", group, "Minutes a rack, of those broken", averaged(places, among, racks / 60, plain)
        middle = float(np.median(since[known]))
        tried = of.pots(facts) & known
        title = tr("Pots by pace of play")
        with np.errstate(invalid="ignore"):
            quick = since < middle
        yield "quick", title, "Quicker than the own median", rated(places, tried & quick, made)
        yield "slow", title, "At the own median and slower", rated(places, tried & ~quick, made)
    tried = of.pots(facts)
    for phase in PHASES:
        among = tried & (facts.equal("phase", phase))
        if among.any():
            yield (
                f"pots_{phase}",
                tr("Pots by phase of the rack"),
                group_word(phase),
                rated(places, among, made),
            )
    for way, title in PRESSED.items():
        yield from by_group(facts, places, way, tr(title), tried, made)
    after = of.started_mask(facts, facts.flags("after_long_visit"))
    title = "After the opponent's long visit"
    yield "long_visit", title, "The first three shots", rated(places, tried & after, made)
    yield "long_visit_rest", title, tr("All other pots"), rated(places, tried & ~after, made)
    first = tried & ~second_half(facts)
    yield "first_half", tr("Pots by half of the match"), "First half", rated(places, first, made)
    yield "second_half", tr("Pots by half of the match"), "Second half", rated(places, tried & ~first, made)


MATCH_PAGES: Mapping[str, PageKind] = {
    "errors": PageKind(
        "Errors",
        _errors,
        (
            "Unforced errors, judged or by chance",
            "Shots with an unforced error, by phase of the rack",
            *ERRORS_BY.values(),
            "Where misses came from",
            "Causes that were said",
        ),
    ),
    "breaks": PageKind("Breaks", _breaks, ("Breaks of the rack", "What fell, what stayed", "Break-offs")),
    "visits": PageKind(
        "Visits and chances",
        _visits,
        (
            "Visits to the table",
            "Visits of so many balls (points) and more",
            "How visits began, and how many of them won the rack",
            "Chances",
            "How visits ended",
            "Racks won in the visit",
            "Colours taken after a red",
            "Racks",
        ),
        _racks,
    ),
    "safety": PageKind(
        "Safety and escapes",
        _safety,
        (
            "Safeties",
            noop("Safeties held, by cushions planned"),
            "Safeties as they were played",
            "Escapes",
            noop("Escapes that hit, by cushions planned"),
            "Exchanges of safeties",
        ),
    ),
    "time": PageKind(
        "Time and pressure",
        _time,
        (
            "Seconds before the stroke",
            noop("Pots by pace of play"),
            *PRESSED.values(),
            "After the opponent's long visit",
            noop("Pots by phase of the rack"),
            noop("Pots by half of the match"),
        ),
    ),
}
