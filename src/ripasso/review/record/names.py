"""Names in a record that stand for nothing: balls that the game has not, players that the session has not.

They stop nobody from reading the session: an unknown ball is drawn grey, under its name. `check` lists them.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator

from ripasso.core.rules import SessionFacts, game_for
from ripasso.review.record.model import Option, Rack, Session, Shot, ShotPlan
from ripasso.review.record.parsing import Problem, below
from ripasso.review.record.parts import Call, Zone
from ripasso.review.record.practice import AttemptSet

CUE_BALL = "cue"


def unknown_names(session: Session) -> list[Problem]:
    """Every name of a ball or a player that the session's game or its list of players does not hold.

    The shooter and the balls of the facts are left out: the rules themselves complain about them.
    """
    people = [player.id for player in session.players or ()]
    names = _Names(_balls(session, people), people)
    for r, rack in enumerate(session.racks or ()):
        names.look_at_rack(rack, f"$.racks[{r}]")
    for s, one in enumerate(session.attempt_sets or ()):
        names.look_at_attempts(one, f"$.attempt_sets[{s}]")
    return names.problems


def _balls(session: Session, people: list[str]) -> frozenset[str] | None:
    """The balls of the session's game; None where no game says which there are."""
    rules = game_for(SessionFacts(session.game, tuple(people))) if session.game else None
    return frozenset((CUE_BALL, *rules.balls)) if rules else None


class _Names:
    """Collects what is unknown on the way through a session."""

    def __init__(self, balls: frozenset[str] | None, people: Collection[str]) -> None:
        self.problems: list[Problem] = []
        self._known, self._people = balls, people

    def look_at_rack(self, rack: Rack, path: str) -> None:
        self._player(rack.breaker, f"{path}.breaker")
        self._player(rack.conceded_by, f"{path}.conceded_by")
        for player in rack.score_before or ():
            self._player(player, below(f"{path}.score_before", player))
        self._balls_of(rack.layout, f"{path}.layout")
        self._balls_of(rack.roles, f"{path}.roles")
        for p, plan in enumerate(rack.plans or ()):
            here = f"{path}.plans[{p}]"
            for o, planned in enumerate(plan.order or ()):
                self._ball(planned.ball, f"{here}.order[{o}].ball")
            self._ball(plan.key_ball, f"{here}.key_ball")
            self._ball(plan.break_ball, f"{here}.break_ball")
        for s, shot in enumerate(rack.shots or ()):
            self._shot(shot, f"{path}.shots[{s}]")

    def look_at_attempts(self, one: AttemptSet, path: str) -> None:
        self._balls_of(one.layout, f"{path}.layout")
        self._call(one.target, f"{path}.target")
        for c, criterion in enumerate(one.criteria or ()):
            self._zone(criterion.zone, f"{path}.criteria[{c}].zone")

    def _shot(self, shot: Shot, path: str) -> None:
        self._call(shot.call, f"{path}.call")
        for name, layout in (("before", shot.before), ("after", shot.after), ("path", shot.path)):
            self._balls_of(layout, f"{path}.{name}")
        if shot.plan is not None:
            self._plan(shot.plan, f"{path}.plan")

    def _plan(self, plan: ShotPlan, path: str) -> None:
        self._ball(plan.next_ball, f"{path}.next_ball")
        for b, ball in enumerate(plan.or_balls or ()):
            self._ball(ball, f"{path}.or_balls[{b}]")
        self._zone(plan.zone, f"{path}.zone")
        for o, option in enumerate(plan.options or ()):
            self._option(option, f"{path}.options[{o}]")

    def _option(self, option: Option, path: str) -> None:
        self._call(option.call, f"{path}.call")
        self._ball(option.next_ball, f"{path}.next_ball")
        self._zone(option.zone, f"{path}.zone")

    def _zone(self, zone: Zone | None, path: str) -> None:
        for where, one in _shapes(zone, path):
            if one.side_of_line is not None:
                self._ball(one.side_of_line.ball, f"{where}.side_of_line.ball")

    def _call(self, call: Call | None, path: str) -> None:
        if call is not None:
            self._ball(call.ball, f"{path}.ball")

    def _balls_of(self, names: Iterable[str] | None, path: str) -> None:
        for name in names or ():
            self._ball(name, below(path, name))

    def _ball(self, name: str | None, path: str) -> None:
        if name is not None and self._known is not None and name not in self._known:
            self.problems.append(Problem(path, f"The game has no ball {name!r}."))

    def _player(self, name: str | None, path: str) -> None:
        if name is not None and self._people and name not in self._people:
            self.problems.append(Problem(path, f"The session has no player {name!r}."))


def _shapes(zone: Zone | None, path: str) -> Iterator[tuple[str, Zone]]:
    """A zone and the zones in it, each with its path."""
    if zone is None:
        return
    yield path, zone
    for i, part in enumerate(zone.any_of or ()):
        yield from _shapes(part, f"{path}.any_of[{i}]")
