"""A whole session scored: racks, visits and the match, and where the record contradicts the rules.

The record is believed: a stroke by the wrong player is judged as it stands and carries a warning.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from ripasso.core.rules.facts import MISSING, RackFacts, SessionFacts, ShotFacts
from ripasso.core.rules.interface import Game, Outcome
from ripasso.core.rules.pool import opponent

Problem = tuple[str, str]  # JSON path, sentence


@dataclass(frozen=True, slots=True)
class ShotScore:
    """A shot with its outcome (None: not judged) and what lay before it."""

    number: int
    player: str | None
    outcome: Outcome | None
    warnings: tuple[str, ...] = ()
    balls_on: tuple[str, ...] = ()
    on_table: frozenset[str] = frozenset()
    visit: int | None = None


@dataclass(frozen=True, slots=True)
class RackScore:
    """A rack's shots, who won it and how; `next_players` and the balls are those after the last shot."""

    number: int
    shots: tuple[ShotScore, ...]
    score: Mapping[str, int]
    winner: str | None
    ended_by: str | None
    next_players: tuple[str, ...]
    balls_on: tuple[str, ...]
    on_table: frozenset[str]


@dataclass(frozen=True, slots=True)
class Visit:
    """Shots of one player up to the end of the turn; shot numbers within their racks."""

    rack: int
    player: str
    first_shot: int
    last_rack: int
    last_shot: int
    balls: int
    points: int
    ended_by: str


@dataclass(frozen=True, slots=True)
class MatchScore:
    """Everything `score` says of a session."""

    racks: tuple[RackScore, ...]
    visits: tuple[Visit, ...]
    score: Mapping[str, int]
    winner: str | None
    race_to: int | None
    problems: tuple[Problem, ...]
    score_before: tuple[Mapping[str, int], ...] = ()


@dataclass(slots=True)
class _Progress:
    """What is carried from rack to rack while a session is scored."""

    score: dict[str, int]
    winner: str | None = None
    expected_breaker: str | None = None
    last_breaker: str | None = None
    gap: bool = False
    visits: list[Visit] = field(default_factory=list)


def score_session(facts: SessionFacts, game: Game) -> MatchScore:
    """Apply the rules of `game` to everything the session recorded."""
    race = facts.rules.get("race_to")
    race_to = race if isinstance(race, int) and not isinstance(race, bool) else None
    progress = _Progress(score=dict.fromkeys(facts.players, 0))
    problems: list[Problem] = []
    racks: list[RackScore] = []
    before: list[Mapping[str, int]] = []
    for index, rack in enumerate(facts.racks):
        differs = _believe_score(progress, rack, facts.players)
        before.append(dict(progress.score))
        if rack.not_shown:
            progress.gap, progress.expected_breaker = True, None
            racks.append(
                RackScore(index + 1, (), dict.fromkeys(facts.players, 0), None, None, (), (), frozenset())
            )
            continue
        scored = _score_rack(facts, game, rack, index, progress, problems, differs=differs)
        racks.append(scored)
        if scored.winner is not None:
            progress.score[scored.winner] = progress.score.get(scored.winner, 0) + 1
            if race_to is not None and progress.winner is None and progress.score[scored.winner] >= race_to:
                progress.winner = scored.winner
        _expect_breaker(progress, facts, scored.winner)
    return MatchScore(
        tuple(racks),
        tuple(progress.visits),
        dict(progress.score),
        progress.winner,
        race_to,
        tuple(problems),
        tuple(before),
    )


def _believe_score(progress: _Progress, rack: RackFacts, players: tuple[str, ...]) -> bool:
    """Take over a stated score; True when it differs without a gap that would explain it."""
    differs = False
    if rack.score_before is not None:
        stated = {p: rack.score_before.get(p, progress.score[p]) for p in players}
        differs = stated != progress.score and not progress.gap
        progress.score = stated
    progress.gap = False
    return differs


def _expect_breaker(progress: _Progress, facts: SessionFacts, winner: str | None) -> None:
    order = facts.rules.get("break_order", "alternate")
    if order == "alternate":
        known = progress.last_breaker
        progress.expected_breaker = opponent(facts.players, known) if known else None
    elif winner is None:
        progress.expected_breaker = None
    else:
        progress.expected_breaker = winner if order == "winner" else opponent(facts.players, winner)


def _score_rack(
    facts: SessionFacts,
    game: Game,
    rack: RackFacts,
    index: int,
    progress: _Progress,
    problems: list[Problem],
    *,
    differs: bool,
) -> RackScore:
    breaks = rack.layout is None or bool(rack.shots and rack.shots[0].intent == "break")
    breaker = rack.breaker or (rack.shots[0].player if rack.shots else None)
    may_play: tuple[str, ...] = (breaker,) if breaker else facts.players
    state = game.start(rack)
    winner: str | None = None
    ended_by: str | None = None
    shots: list[ShotScore] = []
    book = _VisitBook(progress.visits, index + 1)
    for position, recorded in enumerate(rack.shots):
        path = f"$.racks[{index}].shots[{position}]"
        shot, known = _without_problems(recorded, path, facts, game, problems)
        on, table = game.balls_on(state), game.on_table(state)
        if not known or ended_by is not None:
            late = ("after_rack_end",) if ended_by is not None else ()
            shots.append(ShotScore(position + 1, shot.player, None, late, on, table))
            continue
        warnings = list(_first_warnings(progress, rack, breaks, differs) if position == 0 else ())
        if shot.player not in may_play:
            warnings.append("out_of_turn")
        state, outcome = game.play(state, shot)
        warnings += outcome.warnings
        book.add(position + 1, shot.player or "", outcome)
        scored = ShotScore(position + 1, shot.player, outcome, tuple(warnings), on, table, book.current)
        shots.append(scored)
        may_play = outcome.next_players
        if outcome.rack_ends:
            winner, ended_by = outcome.winner, outcome.ended_by
    if rack.conceded_by is not None and ended_by is None:
        winner, ended_by = opponent(facts.players, rack.conceded_by), "conceded"
    book.close_rack(winner)
    if breaks:
        progress.last_breaker = breaker
    points = {p: sum(s.outcome.points.get(p, 0) for s in shots if s.outcome) for p in facts.players}
    over = ended_by is not None
    return RackScore(
        index + 1,
        tuple(shots),
        points,
        winner,
        ended_by,
        () if over else may_play,
        () if over else game.balls_on(state),
        game.on_table(state),
    )


def _first_warnings(progress: _Progress, rack: RackFacts, breaks: bool, differs: bool) -> list[str]:
    found = ["score_differs"] if differs else []
    expected = progress.expected_breaker
    if breaks and rack.breaker is not None and expected is not None and rack.breaker != expected:
        found.append("wrong_breaker")
    return found


def _without_problems(
    shot: ShotFacts, path: str, facts: SessionFacts, game: Game, problems: list[Problem]
) -> tuple[ShotFacts, bool]:
    """The shot without balls the game has not; False when its player is unknown."""
    if shot.player not in facts.players:
        problems.append((f"{path}.player", f"The session has no player {shot.player!r}."))
        return shot, False
    balls = game.balls
    named = [pot.ball for pot in shot.potted]
    named += [ball for ball in (*shot.off_table, shot.call_ball) if ball is not None and ball != "cue"]
    if isinstance(shot.first_contact, str):
        named.append(shot.first_contact)
    if all(ball in balls for ball in named):
        return shot, True

    def unknown(ball: str, where: str, *, cue: bool = False) -> bool:
        if ball in balls or (cue and ball == "cue"):
            return False
        problems.append((f"{path}.{where}", f"The game has no ball {ball!r}."))
        return True

    potted = tuple(
        pot
        for i, pot in enumerate(shot.potted)
        if not unknown(pot.ball, f"facts.potted[{i}].ball", cue=False)
    )
    off = tuple(
        ball for i, ball in enumerate(shot.off_table) if not unknown(ball, f"facts.off_table[{i}]", cue=True)
    )
    first: Any = shot.first_contact
    if isinstance(first, str) and unknown(first, "facts.first_contact"):
        first = MISSING
    call = shot.call_ball
    if call is not None and unknown(call, "call.ball"):
        call = None
    return replace(shot, potted=potted, off_table=off, first_contact=first, call_ball=call), True


@dataclass(slots=True)
class _OpenVisit:
    """A visit that still goes on."""

    rack: int
    player: str
    first_shot: int
    last_shot: int
    balls: int = 0
    points: int = 0

    def ended(self, by: str) -> Visit:
        return Visit(
            self.rack, self.player, self.first_shot, self.rack, self.last_shot, self.balls, self.points, by
        )


class _VisitBook:
    """Collects the visits of one rack as its shots are judged."""

    def __init__(self, visits: list[Visit], rack: int) -> None:
        self._visits = visits
        self._rack = rack
        self._open: _OpenVisit | None = None
        self.current = -1  # index of the visit the last shot belongs to

    def add(self, number: int, player: str, outcome: Outcome) -> None:
        """Count a shot into the running visit, or begin a new one."""
        if self._open is not None and self._open.player != player:
            self._close("interrupted")
        if self._open is None:
            self._open = _OpenVisit(self._rack, player, number, number)
        self.current = len(self._visits)
        self._open.last_shot = number
        self._open.balls += len(outcome.counted)
        self._open.points += max(0, outcome.points.get(player, 0))
        if outcome.turn_ends:
            self._close(outcome.visit_end or "miss")

    def close_rack(self, winner: str | None) -> None:
        """The rack's record is over: a concession ends a running visit, otherwise the record just stops."""
        if self._open is None:
            return
        if winner is None:
            self._close("end_of_record")
        else:
            self._close("rack_won" if self._open.player == winner else "rack_lost")

    def _close(self, ended_by: str) -> None:
        if self._open is not None:
            self._visits.append(self._open.ended(ended_by))
            self._open = None
