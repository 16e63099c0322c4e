"""What may be played from which balls: the states of a rack that is cleared, game by game.

A state is the set of balls that stand, as bits, and a phase (at snooker what is on; else how many more pots
are looked at). Balls that are never played stand all the time.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from ripasso.core.planning.problem import Problem
from ripasso.core.rules.lowest_first import LOWEST_FIRST
from ripasso.core.rules.snooker import COLOURS
from ripasso.core.table import foot_spot

#: In a free order so many balls are worked out to the end; of more, so many pots ahead among the likeliest.
MOST_FREE, AHEAD = 8, 4
#: At snooker so many pairs of a red and a colour are looked at, of so many reds.
PAIRS, REDS = 3, 6
#: So near to the middle of the next rack a ball is a break ball (m), and it is struck this fast at least, m/s
#: (common practice, no source: the cue ball has to come into the rack and open it).
BREAK_REACH_M, BREAK_PACE = 0.6, 2.0

#: Standing balls and phase; the end is None.
State = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Choice:
    """A ball that may be played, and the state after it (None: the rack is cleared).

    `through`: bits of which the cue ball has to meet one; `least_pace` (m/s). `opens`: what it meets is a
    cluster, and the state after it is that of the rack with its clusters open.
    """

    ball: str
    then: State | None
    through: int = 0
    least_pace: float = 0.0
    opens: bool = False


@dataclass
class Order:
    """The balls (their place is their bit), the state at the start and the choices of every state.

    `horizon`: None where the rack is worked out to its end, else how many pots ahead.
    """

    balls: tuple[str, ...]
    start: State
    choices: dict[State, tuple[Choice, ...]] = field(default_factory=dict)
    horizon: int | None = None

    def bit(self, ball: str) -> int:
        """The bit of a ball."""
        return 1 << self.balls.index(ball)

    def standing(self, state: State) -> tuple[str, ...]:
        """The balls on the table in a state."""
        return tuple(ball for i, ball in enumerate(self.balls) if state[0] >> i & 1)

    def backwards(self) -> list[State]:
        """All states, those before which nothing is unknown first."""
        done: dict[State, None] = {}

        def visit(state: State) -> None:
            if state in done:
                return
            for choice in self.choices[state]:
                if choice.then is not None:
                    visit(choice.then)
            done[state] = None

        visit(self.start)
        return list(done)

    @property
    def rack_bit(self) -> int:
        """The bit of the next rack at straight pool, behind those of the balls."""
        return 1 << len(self.balls)


def order_of(problem: Problem, likely: Sequence[str]) -> Order:
    """The order of a problem's rack; `likely` are its balls, those with the best pots first.

    Raises `ValueError` where there is no ball to be played.
    """
    balls = tuple(ball for ball in problem.layout if ball != "cue")
    if not problem.on:
        raise ValueError("A plan needs a ball that is on.")
    if problem.game == "snooker":
        return _snooker(problem, balls, likely)
    every = (1 << len(balls)) - 1
    if problem.game in LOWEST_FIRST:
        order = Order(balls, (every, 0))
        _chain(order, order.start, sorted(balls, key=_number))
        return order
    if problem.game == "eight_ball":
        return _eight_ball(problem, balls)
    return _straight(problem, balls, likely)


def _number(ball: str) -> int:
    return int(ball) if ball.isdecimal() else 99


def _chain(order: Order, state: State, balls: Sequence[str]) -> None:
    """Balls one after the other; the last one ends the rack."""
    for place, ball in enumerate(balls):
        last = place == len(balls) - 1
        after = (state[0] & ~order.bit(ball), state[1])
        order.choices[state] = (Choice(ball, None if last else after),)
        state = after


def _free(order: Order, own: Sequence[str], end_phase: int | None = None) -> None:
    """Some balls in any order; the phase counts the pots that are left, the last one leads to `end_phase`
    (None: the rack is cleared)."""
    todo = [order.start]
    while todo:
        state = todo.pop()
        if state in order.choices:
            continue
        found = []
        for ball in own:
            bit = order.bit(ball)
            if state[0] & bit:
                after: State | None = (state[0] & ~bit, state[1] - 1)
                if state[1] == 1:
                    after = (state[0] & ~bit, end_phase) if end_phase is not None else None
                elif after is not None:
                    todo.append(after)
                found.append(Choice(ball, after))
        order.choices[state] = tuple(found)


def _eight_ball(problem: Problem, balls: tuple[str, ...]) -> Order:
    """The own group in any order, then the 8; the other group stands in the way all the time."""
    every = (1 << len(balls)) - 1
    own = [ball for ball in problem.on if ball in balls]
    if own == ["8"] or "8" not in balls:
        order = Order(balls, (every, len(own)))
        _free(order, own)
        return order
    order = Order(balls, (every, len(own)))
    last = 0
    for ball in own:
        last |= order.bit(ball)
    then = (every & ~last, 0)
    _free(order, own, 0)
    order.choices[then] = (Choice("8", None),)
    return order


def _straight(problem: Problem, balls: tuple[str, ...], likely: Sequence[str]) -> Order:
    """Any ball; the last one is the break ball, off which the cue ball has to open the next rack."""
    every = (1 << len(balls)) - 1
    own = [ball for ball in problem.on if ball in balls]
    if len(own) > MOST_FREE:
        order = Order(balls, (every, AHEAD), horizon=AHEAD)
        _free(order, [ball for ball in likely if ball in own][:MOST_FREE])
        return order
    order = Order(balls, (every, len(own)))
    _free(order, own)
    if problem.game == "straight_pool" and len(own) > 1:
        good = break_balls(problem)
        for state, choices in order.choices.items():
            if state[1] == 1:
                order.choices[state] = tuple(
                    Choice(one.ball, None, order.rack_bit, BREAK_PACE) for one in choices if one.ball in good
                )
    return order


def break_balls(problem: Problem) -> tuple[str, ...]:
    """At straight pool the balls that lie near enough to the next rack; all where none does."""
    x, y = foot_spot(problem.spec)
    middle = (x + 2 * math.sqrt(3) * problem.spec.ball_radius, y)
    balls = [ball for ball in problem.layout if ball != "cue"]
    near = [ball for ball in balls if math.dist(problem.layout[ball], middle) <= BREAK_REACH_M]
    return tuple(near or balls)


#: Phases at snooker: a colour is on, a red is on; behind them the pairs that are left.
RED, COLOUR = 0, 1


def _snooker(problem: Problem, balls: tuple[str, ...], likely: Sequence[str]) -> Order:
    """Reds and colours in turn, so many pairs ahead; then the colours in their order."""
    every = (1 << len(balls)) - 1
    colours = [ball for ball in COLOURS if ball in balls]
    reds = [ball for ball in balls if ball.startswith("red")]
    colour_is_on = all(ball in COLOURS for ball in problem.on)
    if not reds and len(problem.on) == 1:
        order = Order(balls, (every, 0))
        _chain(order, order.start, colours)
        return order
    pairs = min(PAIRS, len(reds) + (1 if colour_is_on else 0))
    some = [ball for ball in likely if ball in reds][:REDS] or reds[:REDS]
    whole = len(reds) < PAIRS or (len(reds) == PAIRS and not colour_is_on)
    begun = COLOUR if colour_is_on else RED
    order = Order(balls, (every, 2 * pairs + begun), horizon=None if whole else 2 * pairs - begun)
    for state in _pairs(order, some, colours, whole=whole):
        if not order.choices.get(state):
            order.choices[state] = ()
    return order


def _pairs(order: Order, reds: Sequence[str], colours: Sequence[str], *, whole: bool) -> Iterator[State]:
    """States of reds and colours in turn; a phase is twice the pairs that are left, one more for a colour."""
    todo = [order.start]
    while todo:
        state = todo.pop()
        if state in order.choices:
            continue
        pairs, is_colour = divmod(state[1], 2)
        if is_colour:
            then: State | None = (state[0], 2 * (pairs - 1))
            if pairs == 1:
                then = None
                if whole and colours:
                    then = (state[0], 0)
                    _chain(order, then, colours)
            elif then is not None:
                todo.append(then)
            order.choices[state] = tuple(Choice(ball, then) for ball in colours)
        else:
            found = []
            for ball in reds:
                if state[0] & order.bit(ball):
                    after = (state[0] & ~order.bit(ball), 2 * pairs + 1)
                    found.append(Choice(ball, after))
                    todo.append(after)
            order.choices[state] = tuple(found)
        yield state
