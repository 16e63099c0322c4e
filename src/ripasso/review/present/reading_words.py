"""A layout read in sentences: trouble first, then clusters, links, groups, the last balls."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ripasso.core.planning.reading.balls import BallRead
from ripasso.core.planning.reading.links import EASY, HARD, Link
from ripasso.core.planning.reading.table_reading import ClusterRead, TableReading
from ripasso.review.language.vocabulary import ball_word, count, pocket_word
from ripasso.review.present.option_words import pace_word, tip_words

#: At most so many sentences of one kind.
MOST = 4


def reading_lines(reading: TableReading, game: str) -> list[str]:
    """What was read, a sentence each."""
    lines = [
        *_trouble(reading, game),
        *(_cluster(one, game) for one in reading.clusters),
        *_links(reading),
        *_groups(reading),
        *_break_balls(reading),
        *_bumps(reading, game),
        *_snooker(reading),
    ]
    return lines or ["Every ball goes into several pockets, none touches another: nothing stands in the way."]


def flag_word(one: BallRead) -> str:
    """What is written beside a ball in trouble."""
    if "no_pocket" in one.flags:
        return "no pocket"
    return "cluster" if "cluster" in one.flags else "one pocket"


def _all(balls: Sequence[str]) -> str:
    named = [ball_word(ball) for ball in balls]
    return named[0] if len(named) == 1 else f"{', '.join(named[:-1])} and {named[-1]}"


def _trouble(reading: TableReading, game: str) -> Iterator[str]:
    grouped = {ball for cluster in reading.clusters for ball in cluster.balls}
    some = [one for one in reading.balls if "trouble" in one.flags or "one_pocket" in one.flags]
    some.sort(key=lambda one: "no_pocket" not in one.flags)
    for one in some[:MOST]:
        if one.ball not in grouped:
            yield _ball(one, game)


def _ball(one: BallRead, game: str) -> str:
    name = ball_word(one.ball)
    if "no_pocket" in one.flags:
        opened = min((p.when_gone for p in one.pockets if p.when_gone), key=len, default=())
        if opened:
            gone = f"{_all(opened)} {'is' if len(opened) == 1 else 'are'} gone"
            return f"The {name} has no pocket until the {gone}."
        return f"The {name} has no pocket."
    pocket = one.open_pockets[0].pocket
    rail = ", and it lies on the rail" if "on_rail" in one.flags else ""
    return f"The {name} goes only into {pocket_word(pocket, game)}{rail}."


def _cluster(cluster: ClusterRead, game: str) -> str:
    what = f"The {_all(cluster.balls)} lie together"
    if not cluster.openings:
        return f"{what}; no plain pot opens them."
    first = cluster.openings[0]
    low, high = first.cut_deg
    cut = f"with a cut of {low:.0f}–{high:.0f}°"
    way = f"the {ball_word(first.ball)} into {pocket_word(first.pocket, game)} {cut} opens them"
    safe = [ball for ball in cluster.insurance if ball != first.ball]
    if safe:
        return f"{what}: {way}, and the {ball_word(safe[0])} is on afterwards nearly surely."
    return f"{what}: {way}, but no ball is on afterwards for sure."


def _links(reading: TableReading) -> Iterator[str]:
    hard = sorted((one for one in reading.links if one.chance < HARD), key=lambda one: one.chance)
    for one in hard[:MOST]:
        yield f"From the {ball_word(one.first)} to the {ball_word(one.then)} is hard: {_share(one)}."
    easy = [one for one in reading.links if one.chance >= EASY]
    if easy:
        steps = ", ".join(f"{ball_word(one.first)} to {ball_word(one.then)}" for one in easy[:MOST])
        yield f"Easy steps: {steps}."


def _share(one: Link) -> str:
    return f"{100 * one.chance:.0f} % from a good place"


def _groups(reading: TableReading) -> Iterator[str]:
    if len(reading.groups) == 2:
        first, second = sorted(reading.groups, key=lambda one: -one.clear)
        names = (
            f"{first.group.capitalize()} {100 * first.clear:.0f} %, {second.group} {100 * second.clear:.0f} %"
        )
        trouble = (
            f"; {count(len(second.trouble), 'ball')} of {second.group} in trouble" if second.trouble else ""
        )
        yield f"{names} to clear{trouble}."


def _break_balls(reading: TableReading) -> Iterator[str]:
    if not reading.break_balls:
        return
    best = reading.break_balls[0]
    key = f", the {ball_word(best.key_ball)} is the key ball for it" if best.key_ball is not None else ""
    # Where others can be bumped into place none lies well.
    is_one = "comes nearest to a break ball as it lies" if reading.bumps else "is the break ball"
    yield f"The {ball_word(best.ball)} {is_one}{key}."
    if len(reading.break_balls) > 1:
        yield f"Else the {_all([one.ball for one in reading.break_balls[1:]])}."


def _bumps(reading: TableReading, game: str) -> Iterator[str]:
    for one in reading.bumps:
        off = f"the {ball_word(one.off)} into {pocket_word(one.pocket, game)}"
        stroke = f"{tip_words(one.stroke.a, one.stroke.b)}, {pace_word(one.stroke.speed)}"
        yield (
            f"The {ball_word(one.ball)} can be bumped into place off {off} ({stroke}): that comes off in "
            f"{100 * one.share:.0f} %, then it opens the rack from {100 * one.after:.0f} % of all places "
            f"(from where it lies {100 * one.before:.0f} %)."
        )


def _snooker(reading: TableReading) -> Iterator[str]:
    if reading.open_reds:
        yield f"{count(len(reading.open_reds), 'red')} can be potted."
    if reading.free_colours and reading.open_reds:
        yield f"Colours that go: {_all(reading.free_colours)}."
