"""The reading of a whole layout: balls, clusters and what opens them, links, groups, break balls."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise

from ripasso.core.physics.players import Spreads
from ripasso.core.planning.backward.deciding import decisions
from ripasso.core.planning.backward.orders import break_balls
from ripasso.core.planning.backward.plans import best_place
from ripasso.core.planning.backward.setting import setting_of
from ripasso.core.planning.backward.solving import Rack, rack_of, solve
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.planning.reading.balls import BallRead, read_balls
from ripasso.core.planning.reading.bumps import Bump, bumps
from ripasso.core.planning.reading.clusters import clusters
from ripasso.core.planning.reading.links import BreakBall, Link, Links, Opening
from ripasso.core.rules.lowest_first import LOWEST_FIRST
from ripasso.core.rules.snooker import COLOURS

#: A ball that goes from this share of all places and more is insurance: after an opening it is on for sure
#: (common practice, no source).
INSURANCE = 0.3
#: So many openings of a cluster, links and break balls are told.
TOLD = 3


@dataclass(frozen=True)
class ClusterRead:
    """Balls that touch or nearly do, what opens them, and which balls are on nearly surely afterwards."""

    balls: tuple[str, ...]
    openings: tuple[Opening, ...]
    insurance: tuple[str, ...]


@dataclass(frozen=True)
class GroupRead:
    """One group at eight-ball: its balls, those of them in trouble, and the chance to clear with it."""

    group: str
    balls: tuple[str, ...]
    trouble: tuple[str, ...]
    clear: float


@dataclass(frozen=True)
class TableReading:
    """What was read; `groups` are those of eight-ball while they are open, `break_balls` of straight pool."""

    balls: tuple[BallRead, ...]
    clusters: tuple[ClusterRead, ...]
    links: tuple[Link, ...]
    groups: tuple[GroupRead, ...]
    break_balls: tuple[BreakBall, ...]
    free_colours: tuple[str, ...]
    open_reds: tuple[str, ...]
    #: At straight pool without a good break ball: what can be pushed into place.
    bumps: tuple[Bump, ...] = ()

    def ball(self, name: str) -> BallRead | None:
        """What was read of one ball."""
        return next((one for one in self.balls if one.ball == name), None)


Progress = Callable[[float], bool]


def read_table(problem: Problem, spreads: Spreads, progress: Progress = lambda share: True) -> TableReading:
    """Read a layout; raises `ValueError` without a ball on, `Stopped` where `progress` says so."""
    balls = tuple(read_balls(problem, spreads))
    progress(0.2)
    rack = rack_of(problem, setting_of(problem, spreads, coarse=True))
    links = Links(rack)
    insured = tuple(one.ball for one in balls if one.freedom >= INSURANCE and "trouble" not in one.flags)
    played = _played(problem)
    found_clusters = tuple(
        ClusterRead(
            cluster,
            tuple(one for one in links.openings(cluster) if one.ball in played)[:TOLD],
            tuple(ball for ball in insured if ball in played and ball not in cluster),
        )
        for cluster in clusters(problem)
    )
    progress(0.5)
    return TableReading(
        balls,
        found_clusters,
        tuple(_links(problem, links)),
        tuple(_groups(problem, spreads, balls)),
        tuple(_break_balls(problem, links)),
        tuple(ball for ball in COLOURS if problem.game == "snooker" and _is_open(balls, ball)),
        tuple(one.ball for one in balls if one.ball.startswith("red") and one.open_pockets),
        tuple(bumps(problem, spreads, links.break_places, partial(_break_places, spreads))[:TOLD]),
    )


def _break_places(spreads: Spreads, problem: Problem, ball: str) -> float:
    """From how many places a ball of a problem opens the next rack: what it is worth as a break ball."""
    return Links(rack_of(problem, setting_of(problem, spreads, coarse=True))).break_places(ball)


def _played(problem: Problem) -> tuple[str, ...]:
    """The balls that this player may pot."""
    if problem.game == "eight_ball" and "8" not in problem.on and not _is_open_table(problem):
        return (*problem.on, "8")
    return tuple(ball for ball in problem.layout if ball != "cue")


def _is_open(balls: Sequence[BallRead], name: str) -> bool:
    return any(one.ball == name and one.open_pockets for one in balls)


def _links(problem: Problem, links: Links) -> list[Link]:
    """Where the order is told the steps of it, else of each ball what it leads to best."""
    balls = [ball for ball in _played(problem) if ball in problem.layout]
    if problem.game in LOWEST_FIRST:
        ordered = sorted((ball for ball in balls if ball.isdecimal()), key=int)
        return [links.link(one, then) for one, then in pairwise(ordered)]
    if problem.game == "snooker":
        colours = [ball for ball in COLOURS if ball in problem.layout]
        return [links.link(one, then) for one, then in pairwise(colours)]
    if len(balls) > 9:
        return []
    found = []
    for one in balls:
        to = [links.link(one, then) for then in balls if then != one]
        found += sorted(to, key=lambda link: -link.chance)[:1]
    return found


def _is_open_table(problem: Problem) -> bool:
    """At eight-ball: balls of both groups are on."""
    numbers = [int(ball) for ball in problem.on if ball.isdecimal() and ball != "8"]
    return any(n < 8 for n in numbers) and any(n > 8 for n in numbers)


def _groups(problem: Problem, spreads: Spreads, balls: Sequence[BallRead]) -> list[GroupRead]:
    if problem.game != "eight_ball" or not _is_open_table(problem):
        return []
    found = []
    for group in ("solids", "stripes"):
        own = balls_on("eight_ball", problem.layout, group)
        rack = solved_rack(replace(problem, on=own), spreads)
        trouble = tuple(one.ball for one in balls if one.ball in own and "trouble" in one.flags)
        found.append(GroupRead(group, own, trouble, clear_of(rack)))
    return found


def solved_rack(problem: Problem, spreads: Spreads) -> Rack:
    """A rack worked out on the wide net."""
    rack = rack_of(problem, setting_of(problem, spreads, coarse=True))
    solve(rack)
    return rack


def clear_of(rack: Rack) -> float:
    """The chance to clear from where the cue ball lies, in hand from the best place."""
    cue = rack.problem.layout.get("cue")
    if cue is None:
        return best_place(rack, rack.order.start)[1]
    found = decisions(rack, rack.order.start, cue)
    return found[0].value if found else 0.0


def _break_balls(problem: Problem, links: Links) -> list[BreakBall]:
    if problem.game != "straight_pool":
        return []
    balls = tuple(ball for ball in problem.layout if ball != "cue")
    found = [links.break_ball(ball, balls) for ball in break_balls(problem)]
    good = [one for one in found if one.chance > 0]
    return sorted(good, key=lambda one: -one.chance * (one.key_chance or 1.0))[:TOLD]
