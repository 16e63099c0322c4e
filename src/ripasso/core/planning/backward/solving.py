"""The chance to clear from every place of the cue ball in every state of a rack, from the last ball back.

V(state, place) is the best over balls, pockets and strokes of the chance to pot times what the next state is
worth where the cue ball stops. A way that meets another ball counts nothing, unless it opens a cluster: what
is stated is a lower bound there.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace

import numpy as np
import numpy.typing as npt

from ripasso.core.geometry.mouths import mouths_of
from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.parameters import Array
from ripasso.core.planning.backward.opening import OPENED, opened, with_openings
from ripasso.core.planning.backward.orders import Choice, Order, State, order_of
from ripasso.core.planning.backward.setting import Net, Setting
from ripasso.core.planning.backward.ways import NO_BALLS, Ways, open_places, ways_of
from ripasso.core.planning.backward.windows import Window, window_of
from ripasso.core.planning.problem import Problem
from ripasso.core.table import POCKETS, starting_layout
from ripasso.core.table.places import Place

#: Threads that work on maps.
THREADS = 2
#: The window at this one of `windows.SPEEDS` says how much of it other balls leave.
USUAL = 4
#: A pocket of which other balls leave less is none.
LEAST_LEFT = 0.2
#: Shares of chances between which a narrowed window's is interpolated.
SHARES = np.linspace(0.0, 1.0, 129)
#: A way is longer in the rack's bit than any ball: the outline of the next rack.
FAR_AWAY = 1e6

Progress = Callable[[float], bool]


class Stopped(Exception):
    """The work is not wanted any more."""


@dataclass(frozen=True)
class Pocketing:
    """A ball into a pocket: its window, its ways, and which balls narrow the window: bits, right and left
    edges (rad)."""

    ball: str
    ways: Ways
    window: Window
    blockers: tuple[tuple[int, float, float], ...]

    def left_open(self, standing: int) -> float:
        """The share of the window that balls leave which stand: its widest piece."""
        low, high = _usual(self.window)
        left = widest_piece((low, high), self.blockers, standing)
        return (left[1] - left[0]) / (high - low)


def _usual(window: Window) -> tuple[float, float]:
    """The window at a usual speed, else at the one at which it is widest."""
    low, high = (float(edge) for edge in window.edges[USUAL, 0])
    if high > low:
        return low, high
    return max(((float(a), float(b)) for a, b in window.edges[:, 0]), key=lambda pair: pair[1] - pair[0])


def widest_piece(
    whole: tuple[float, float], blockers: Iterable[tuple[int, float, float]], standing: int
) -> tuple[float, float]:
    """The widest piece of a range of directions that standing balls leave; without length where none is."""
    pieces = [whole]
    for bit, right, left in blockers:
        if bit & standing:
            pieces = [
                cut
                for piece in pieces
                for cut in ((piece[0], min(piece[1], right)), (max(piece[0], left), piece[1]))
                if cut[1] > cut[0]
            ]
    return max(pieces, key=lambda piece: piece[1] - piece[0], default=(whole[0], whole[0]))


def clipped(window: Window, blockers: Iterable[tuple[int, float, float]], standing: int) -> Window | None:
    """The window with what standing balls leave of it; None where that is hardly anything."""
    whole = _usual(window)
    left = widest_piece(whole, blockers, standing)
    if left[1] - left[0] < LEAST_LEFT * (whole[1] - whole[0]):
        return None
    if left == whole:
        return window
    # Beyond the usual window's own edges nothing is cut off.
    low = -math.inf if left[0] == whole[0] else left[0]
    high = math.inf if left[1] == whole[1] else left[1]
    edges = np.clip(window.edges, low, high)
    edges[edges[..., 1] <= edges[..., 0]] = 0.0
    edges = np.take_along_axis(edges, np.argsort(edges[..., 0] - edges[..., 1], axis=1)[..., None], axis=1)
    return replace(window, edges=edges)


@dataclass
class Map:
    """One state over the net: value (places,), and of the best way the choice and the pocket.

    They are -1 where nothing is on; `valid` is where the cue ball can lie.
    """

    value: Array
    choice: npt.NDArray[np.int64]
    pocket: npt.NDArray[np.int64]
    valid: npt.NDArray[np.bool_]


@dataclass
class Rack:
    """A rack that is being worked out: its order, the ways of its balls, and the maps of its states."""

    problem: Problem
    setting: Setting
    order: Order
    obstacles: Array
    pocketings: dict[str, list[Pocketing]] = field(default_factory=dict)
    maps: dict[State, Map] = field(default_factory=dict)
    #: Windows of places and pockets that were asked for already.
    windows: dict[tuple[Place, int], Window | None] = field(default_factory=dict)
    #: The same rack with its clusters open; None where there are none.
    opened: Rack | None = None

    @property
    def net(self) -> Net:
        """The places of the maps."""
        return self.setting.net

    def value_at(self, state: State | None, place: Place) -> float:
        """The chance to clear from a place, between the places of the net; 1 when all is cleared."""
        if state is None:
            return 1.0
        found = self.maps[state]
        return float(
            interpolated(found.value, self.net.xs, self.net.ys, np.array([place], dtype=np.float64))[0]
        )


def obstacles_of(problem: Problem, order: Order) -> Array:
    """What a way may meet (m, 4: place, reach, bit): the balls, and the outline of straight pool's rack."""
    reach = 2 * problem.spec.ball_radius
    rows = [(*problem.layout[ball], reach, float(order.bit(ball))) for ball in order.balls]
    if problem.game == "straight_pool":
        rack = starting_layout("straight_pool", problem.spec, 15)
        outer = [place for ball, place in rack.items() if ball != "cue"]
        rows += [(*place, reach, float(order.rack_bit)) for place in outer]
    return np.array(rows, dtype=np.float64).reshape(-1, 4)


def without(obstacles: Array, bit: int) -> Array:
    """The obstacles without a ball: it is far away."""
    left = obstacles.copy()
    left[left[:, 3] == bit, :2] = FAR_AWAY
    return left


def rack_of(problem: Problem, setting: Setting) -> Rack:
    """A rack with nothing worked out; raises `ValueError` without a ball on."""
    order = order_of(problem, likely_balls(problem, setting))
    apart = opened(problem)
    if apart is None:
        return Rack(problem, setting, order, obstacles_of(problem, order))
    other = Rack(apart, setting, order, obstacles_of(apart, order))
    order = with_openings(order, problem)
    return Rack(problem, setting, order, obstacles_of(problem, order), opened=other)


def likely_balls(problem: Problem, setting: Setting) -> list[str]:
    """The balls by how wide their widest window is that no other ball narrows to nothing, widest first."""
    width: dict[str, float] = {}
    for ball, place in problem.layout.items():
        if ball == "cue":
            continue
        others = np.array([at for name, at in problem.layout.items() if name not in ("cue", ball)])
        best = 0.0
        for pocket in range(len(POCKETS)):
            mouth = mouths_of(setting.spec).middle[pocket]
            away = math.dist(place, mouth)
            if len(others) and (_beside(np.array(place), mouth, others) < 2 * setting.spec.ball_radius).any():
                continue
            best = max(best, 1.0 / max(0.05, away))
        width[ball] = best
    return sorted(width, key=lambda ball: -width[ball])


def _beside(start: Array, end: Array, places: Array) -> Array:
    leg, way = end - start, places - start
    share = np.clip((way @ leg) / float(leg @ leg), 0.0, 1.0)
    found: Array = np.hypot(*(way - share[:, None] * leg).T)
    return found


def pocketings_of(
    rack: Rack,
    ball: str,
    places: Array,
    *,
    standing: int | None = None,
    pool: ThreadPoolExecutor | None = None,
    only: Collection[str] = POCKETS,
) -> list[Pocketing]:
    """The ways of a ball into pockets from places (n, 2).

    With `standing` balls are aimed at what these leave of a window; else at all of it.
    """
    at = rack.problem.layout[ball]
    bit, setting = rack.order.bit(ball), rack.setting
    obstacles = without(rack.obstacles, bit)
    pockets = [number for number, name in enumerate(POCKETS) if name in only]
    wanted = open_places(setting, places, at, pockets)

    def work(number: int) -> Pocketing | None:
        pocket = pockets[number]
        window = _window(rack, at, pocket)
        if window is None:
            return None
        blockers, behind = _blockers(rack, obstacles, at, window), NO_BALLS
        if standing is not None:
            stand = np.array([int(one) & standing != 0 for one in rack.obstacles[:, 3]], dtype=np.bool_)
            behind = np.ascontiguousarray(rack.obstacles[stand, :2])
            window, blockers = clipped(window, blockers, standing & ~bit), ()
            if window is None:
                return None
        asked = wanted[number]
        ways = ways_of(setting, places, at, pocket, window, obstacles, wanted=asked, behind=behind)
        return Pocketing(ball, ways, window, blockers)

    some = [number for number in range(len(pockets)) if wanted[number].any()]
    found = pool.map(work, some) if pool is not None else map(work, some)
    return [one for one in found if one is not None]


def _window(rack: Rack, ball: Place, pocket: int) -> Window | None:
    """The window of a place, worked out once."""
    if (ball, pocket) not in rack.windows:
        rack.windows[ball, pocket] = window_of(rack.setting, ball, pocket)
    return rack.windows[ball, pocket]


def _blockers(
    rack: Rack, obstacles: Array, ball: Place, window: Window
) -> tuple[tuple[int, float, float], ...]:
    """Balls that cover directions into a pocket: bit, right and left edge of what they cover."""
    found = []
    reach = 2 * rack.setting.spec.ball_radius
    for x, y, _, bit in obstacles:
        if bit == rack.order.rack_bit or x == FAR_AWAY:
            continue
        away = math.dist(ball, (x, y))
        if away > window.far + reach:
            continue
        turn = math.remainder(math.atan2(y - ball[1], x - ball[0]) - window.base, 2 * math.pi)
        half = math.asin(min(1.0, reach / max(away, 1e-9)))
        if abs(turn) - half < 1.0:
            found.append((int(bit), turn - half, turn + half))
    return tuple(found)


def narrowed(share: float) -> Array:
    """For a window of which a share is left: the chance for each of `SHARES` of the whole one's chance."""
    from scipy.special import erf, erfinv

    found: Array = erf(share * erfinv(np.minimum(SHARES, 1 - 1e-7)))
    return found


def solve(rack: Rack, progress: Progress = lambda share: True) -> None:
    """Work every state out; raises `Stopped` where `progress` says so."""
    if rack.opened is not None:
        solve(rack.opened, lambda share: progress(0.5 * share))
        # Its maps are all that is asked for again: the ways are large.
        rack.opened.pocketings.clear()
        _solve(rack, lambda share: progress(0.5 + 0.5 * share))
    else:
        _solve(rack, progress)


def _solve(rack: Rack, progress: Progress) -> None:
    states = rack.order.backwards()
    played = list(dict.fromkeys(choice.ball for state in states for choice in rack.order.choices[state]))
    with ThreadPoolExecutor(THREADS) as pool:
        for done, ball in enumerate(played):
            rack.pocketings[ball] = pocketings_of(rack, ball, rack.net.places, pool=pool)
            if not progress(0.7 * (done + 1) / len(played)):
                raise Stopped
        for number, layer in enumerate(layers(rack.order, states)):
            for state, found in zip(layer, pool.map(lambda one: solved(rack, one), layer), strict=True):
                rack.maps[state] = found
            if not progress(0.7 + 0.3 * (number + 1) / len(played)):
                raise Stopped
    progress(1.0)


def layers(order: Order, states: Iterable[State]) -> list[list[State]]:
    """States that need only those of earlier layers."""
    depth: dict[State, int] = {}
    found: list[list[State]] = []
    for state in states:
        after = [choice.then for choice in order.choices[state] if choice.then is not None]
        depth[state] = 1 + max((depth[one] for one in after), default=-1)
        while len(found) <= depth[state]:
            found.append([])
        found[depth[state]].append(state)
    return found


def solved(rack: Rack, state: State) -> Map:
    """The map of a state whose next states are worked out."""
    count = len(rack.net.places)
    made = Map(
        np.zeros(count),
        np.full(count, -1, dtype=np.int64),
        np.full(count, -1, dtype=np.int64),
        valid_places(rack, state),
    )
    for number, choice in enumerate(rack.order.choices[state]):
        after = after_of(rack, choice)
        for pocketing in rack.pocketings.get(choice.ball, ()):
            value = values_of(rack, state, choice, pocketing, after).max(axis=1)
            better = value > made.value
            made.value[better] = value[better]
            made.choice[better], made.pocket[better] = number, pocketing.ways.pocket
    _fill(made, rack.net)
    return made


def after_of(rack: Rack, choice: Choice) -> Array:
    """What the state after a choice is worth at every place of the net."""
    if choice.then is None:
        return np.ones(len(rack.net.places))
    if choice.opens and rack.opened is not None:
        return OPENED * rack.opened.maps[choice.then].value
    return rack.maps[choice.then].value


def values_of(rack: Rack, state: State, choice: Choice, pocketing: Pocketing, after: Array) -> Array:
    """What every stroke (n, s) of one ball into one pocket is worth in a state."""
    standing = state[0] & ~rack.order.bit(choice.ball)
    ways = pocketing.ways
    meets = standing & ~choice.through
    values = np.zeros(ways.weight.shape[:2])
    left = pocketing.left_open(standing)
    if left < LEAST_LEFT:
        return values
    _values(
        ways.weight,
        ways.rest,
        ways.met,
        ways.approach,
        standing,
        meets,
        choice.through,
        rack.setting.strokes[:, 0] >= choice.least_pace,
        narrowed(left) if left < 0.999 else SHARES,
        after,
        rack.net.xs,
        rack.net.ys,
        values,
    )
    return values


def valid_places(rack: Rack, state: State) -> npt.NDArray[np.bool_]:
    """At which places the cue ball can lie in a state: none of the standing balls is there."""
    valid = np.ones(len(rack.net.places), dtype=np.bool_)
    reach = 2 * rack.setting.spec.ball_radius
    for ball in rack.order.standing(state):
        place = np.array(rack.problem.layout[ball])
        valid &= np.hypot(*(rack.net.places - place).T) >= reach
    return valid


def _fill(made: Map, net: Net) -> None:
    """Where the cue ball cannot lie its value is that of the places beside, for what is read in between."""
    shape = (len(net.xs), len(net.ys))
    value, valid = made.value.reshape(shape), made.valid.reshape(shape)
    for i, j in np.argwhere(~valid):
        near = (slice(max(0, i - 1), i + 2), slice(max(0, j - 1), j + 2))
        value[i, j] = value[near][valid[near]].mean() if valid[near].any() else 0.0


def interpolated(value: Array, xs: Array, ys: Array, places: Array) -> Array:
    """Values of a map (n * m,) at places (k, 2), linear between the net's."""
    found = np.zeros(len(places))
    _read(value, xs, ys, np.ascontiguousarray(places), found)
    return found


@compile_
def at(value, xs, ys, x, y):  # type: ignore[no-untyped-def]
    """A map's value at a place, linear between the places of its net."""
    n, m = xs.shape[0], ys.shape[0]
    u = (x - xs[0]) / (xs[n - 1] - xs[0]) * (n - 1)
    v = (y - ys[0]) / (ys[m - 1] - ys[0]) * (m - 1)
    u, v = min(max(u, 0.0), n - 1.0), min(max(v, 0.0), m - 1.0)
    i, j = min(int(u), n - 2), min(int(v), m - 2)
    u, v = u - i, v - j
    k = i * m + j
    low = value[k] * (1.0 - v) + value[k + 1] * v
    return low * (1.0 - u) + (value[k + m] * (1.0 - v) + value[k + m + 1] * v) * u


@compile_
def _read(value, xs, ys, places, found):  # type: ignore[no-untyped-def]
    for i in range(places.shape[0]):
        found[i] = at(value, xs, ys, places[i, 0], places[i, 1])


@compile_
def _values(  # type: ignore[no-untyped-def]
    weight, rest, met, approach, standing, meets, through, fast, shares, after, xs, ys, values
):
    """What each stroke from each place is worth; the array is written."""
    last, ends = shares.shape[0] - 1, weight.shape[2]
    for i in range(weight.shape[0]):
        if approach[i] & standing:
            continue
        for k in range(weight.shape[1]):
            if not fast[k]:
                continue
            total = 0.0
            for p in range(ends):
                share = weight[i, k, p]
                if share <= 0.0 or met[i, k, p] & meets or (through and not met[i, k, p] & through):
                    continue
                # Narrowed where other balls cover a part of the window.
                whole = min(ends * share, 1.0) * last
                j = min(int(whole), last - 1)
                share = (shares[j] + (whole - j) * (shares[j + 1] - shares[j])) / ends
                total += share * at(after, xs, ys, rest[i, k, p, 0], rest[i, k, p, 1])
            values[i, k] = total
