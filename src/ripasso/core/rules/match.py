"""A whole session scored: racks, visits and the match, and where the record contradicts the rules.

The record is believed: a stroke by the wrong player is judged as it stands and carries a warning.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ripasso.core.rules.facts import MISSING, RackFacts, SessionFacts, ShotFacts
from ripasso.core.rules.ghost import balls_on_for
from ripasso.core.rules.interface import Game, Outcome
from ripasso.core.rules.pool import breaks_first, opponent, rival

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
    #: What the state allowed besides a plain stroke, and who might have played.
    may: tuple[str, ...] = ()
    may_play: tuple[str, ...] = ()


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
    """SearchIndex `score` says of a session."""

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
    #: State, players who may be next, and whether it was over, of the rack before (not across a gap).
    state: Any = None
    may_play: tuple[str, ...] = ()
    unfinished: bool = False


def score_session(facts: SessionFacts, game: Game) -> MatchScore:
    """Apply the rules of `game` to everything the session recorded."""
    race_to = game.race_to()
    sides = facts.players if facts.ghost is None else (*facts.players, facts.ghost)
    progress = _Progress(score=dict.fromkeys(sides, 0))
    book = _VisitBuilder()
    problems: list[Problem] = []
    racks: list[RackScore] = []
    before: list[Mapping[str, int]] = []
    for index, rack in enumerate(facts.racks):
        differs = _believe_score(progress, rack)
        before.append(dict(progress.score))
        if rack.not_shown:
            book.close("end_of_record")
            progress.gap, progress.expected_breaker = True, None
            progress.state, progress.may_play, progress.unfinished = None, (), False
            nothing = dict.fromkeys(facts.players, 0)
            # Shots that stand in such a rack all the same are listed, not judged.
            idle = tuple(ShotScore(i, shot.player, None) for i, shot in enumerate(rack.shots, start=1))
            racks.append(RackScore(index + 1, idle, nothing, None, None, (), (), frozenset()))
            continue
        scored = _RackScorer(facts, game, rack, index, progress, problems, book).score(differs=differs)
        racks.append(scored)
        _count(progress, game, scored, race_to)
        _expect_breaker(progress, facts, scored.winner)
    book.close("end_of_record")
    return MatchScore(
        tuple(racks),
        tuple(book.visits),
        dict(progress.score),
        progress.winner,
        race_to,
        tuple(problems),
        tuple(before),
    )


def _believe_score(progress: _Progress, rack: RackFacts) -> bool:
    """Take over a stated score; True when it differs without a gap that would explain it."""
    differs = False
    if rack.score_before is not None:
        stated = {p: rack.score_before.get(p, points) for p, points in progress.score.items()}
        differs = stated != progress.score and not progress.gap
        progress.score = stated
    progress.gap = False
    return differs


def _count(progress: _Progress, game: Game, rack: RackScore, race_to: int | None) -> None:
    """Add a rack to the match: a win, or in one long game its points."""
    if game.one_long_game:
        for player, points in rack.score.items():
            progress.score[player] = progress.score.get(player, 0) + points
        if progress.winner is None and rack.ended_by in ("target_reached", "conceded"):
            progress.winner = rack.winner
    elif rack.winner is not None:
        progress.score[rack.winner] = progress.score.get(rack.winner, 0) + 1
        if race_to is not None and progress.winner is None and progress.score[rack.winner] >= race_to:
            progress.winner = rack.winner


def _expect_breaker(progress: _Progress, facts: SessionFacts, winner: str | None) -> None:
    order = facts.rules.get("break_order", "alternate")
    if facts.ghost is not None:
        progress.expected_breaker = None
    elif order == "alternate":
        known = progress.last_breaker
        progress.expected_breaker = opponent(facts.players, known) if known else None
    elif winner is None:
        progress.expected_breaker = None
    else:
        progress.expected_breaker = winner if order == "winner" else opponent(facts.players, winner)


class _RackScorer:
    """Judges one rack, shot by shot."""

    def __init__(
        self,
        facts: SessionFacts,
        game: Game,
        rack: RackFacts,
        index: int,
        progress: _Progress,
        problems: list[Problem],
        book: _VisitBuilder,
    ) -> None:
        self._facts, self._game, self._rack, self._index = facts, game, rack, index
        self._progress, self._problems, self._book = progress, problems, book
        first = rack.shots[0] if rack.shots else None
        self._breaks = breaks_first(first.intent if first else None, rack.layout)
        self._breaker = rack.breaker or (first.player if first else None)
        self._continues = game.one_long_game and progress.state is not None
        if self._continues:
            self._may_play = progress.may_play
        else:
            self._may_play = (self._breaker,) if self._breaker else facts.players
        self._state = game.start(rack, progress.state if game.one_long_game else None, progress.score)
        self._winner: str | None = None
        self._ended_by: str | None = None
        self._shots: list[ShotScore] = []

    def score(self, *, differs: bool) -> RackScore:
        """The rack's score; the progress of the match is carried on."""
        for position, recorded in enumerate(self._rack.shots):
            self._judge(position, recorded, self._first_warnings(differs) if position == 0 else [])
        if self._rack.conceded_by is not None and self._ended_by is None:
            self._winner = self._other_side(self._rack.conceded_by)
            self._ended_by = "conceded"
            self._book.concede(self._winner)
        self._hand_over()
        points = {
            p: sum(s.outcome.points.get(p, 0) for s in self._shots if s.outcome) for p in self._facts.players
        }
        over = self._ended_by is not None
        return RackScore(
            self._index + 1,
            tuple(self._shots),
            points,
            self._winner,
            self._ended_by,
            () if over else self._may_play,
            () if over else self._on(self._may_play[0] if len(self._may_play) == 1 else None),
            self._game.on_table(self._state),
        )

    def _other_side(self, player: str) -> str | None:
        if self._facts.ghost is not None:
            return self._facts.ghost
        return rival(self._facts.players, player)

    def _on(self, player: str | None) -> tuple[str, ...]:
        return balls_on_for(self._game, self._state, player)

    def _judge(self, position: int, recorded: ShotFacts, warnings: list[str]) -> None:
        path = f"$.racks[{self._index}].shots[{position}]"
        shot, known = _without_problems(recorded, path, self._facts, self._game, self._problems)
        late = self._ended_by is not None
        if late and self._game.one_long_game and known:
            # Play went on with a new rack that the record did not begin.
            self._state = self._game.start(RackFacts(), self._state, self._now())
        on, table = self._on(shot.player), self._game.on_table(self._state)
        if late:
            warnings.append("after_rack_end")
        if not known or (late and not self._game.one_long_game):
            scored = ShotScore(position + 1, shot.player, None, tuple(warnings if late else ()), on, table)
            self._shots.append(scored)
            return
        if shot.player not in self._may_play:
            warnings.append("out_of_turn")
        may, may_play = self._game.may(self._state, shot.player), self._may_play
        self._state, outcome = self._game.play(self._state, shot)
        warnings += outcome.warnings
        self._book.add(self._index + 1, position + 1, shot.player or "", outcome)
        scored = ShotScore(
            position + 1,
            shot.player,
            outcome,
            tuple(warnings),
            on,
            table,
            self._book.current,
            may,
            may_play,
        )
        self._shots.append(scored)
        self._may_play = outcome.next_players
        if outcome.rack_ends:
            self._winner, self._ended_by = outcome.winner, outcome.ended_by

    def _now(self) -> dict[str, int]:
        """The match's points so far, this rack included."""
        points = dict(self._progress.score)
        for shot in self._shots:
            for player, scored in (shot.outcome.points if shot.outcome else {}).items():
                points[player] = points.get(player, 0) + scored
        return points

    def _first_warnings(self, differs: bool) -> list[str]:
        found = ["score_differs"] if differs else []
        expected = self._progress.expected_breaker
        if self._game.one_long_game:
            if self._continues and self._progress.unfinished:
                found.append("rack_not_finished")
        elif self._breaks and self._rack.breaker and expected and self._rack.breaker != expected:
            found.append("wrong_breaker")
        return found

    def _hand_over(self) -> None:
        """What the next rack needs to know of this one."""
        if self._game.one_long_game and self._ended_by != "conceded":
            self._progress.state = self._state
            self._progress.may_play = self._may_play
            self._progress.unfinished = self._ended_by is None
        else:
            self._book.close("end_of_record")
        if self._breaks:
            self._progress.last_breaker = self._breaker


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
    last_rack: int
    last_shot: int
    balls: int = 0
    points: int = 0

    def ended(self, by: str) -> Visit:
        return Visit(
            self.rack,
            self.player,
            self.first_shot,
            self.last_rack,
            self.last_shot,
            self.balls,
            self.points,
            by,
        )


class _VisitBuilder:
    """Collects the visits of a session as its shots are judged."""

    def __init__(self) -> None:
        self.visits: list[Visit] = []
        self._open: _OpenVisit | None = None
        self.current = -1  # index of the visit the last shot belongs to

    def add(self, rack: int, number: int, player: str, outcome: Outcome) -> None:
        """Count a shot into the running visit, or begin a new one."""
        if outcome.rerack:
            self.close("rerack")
        if self._open is not None and self._open.player != player:
            self.close("interrupted")
        if self._open is None:
            self._open = _OpenVisit(rack, player, number, rack, number)
        self.current = len(self.visits)
        self._open.last_rack, self._open.last_shot = rack, number
        self._open.balls += len(outcome.counted)
        # A penalty takes nothing from what the visit has made.
        self._open.points += max(0, outcome.points.get(player, 0))
        if outcome.turn_ends:
            self.close(outcome.visit_end or "miss")

    def concede(self, winner: str | None) -> None:
        """A concession ends a running visit."""
        if self._open is not None:
            self.close("rack_won" if self._open.player == winner else "rack_lost")

    def close(self, ended_by: str) -> None:
        """End the running visit, when there is one."""
        if self._open is not None:
            self.visits.append(self._open.ended(ended_by))
            self._open = None
