"""A whole session scored: racks, visits and the match, and where the record contradicts the rules.

The record is believed: a stroke by the wrong player is judged as it stands and carries a warning.

A session is scored rack by rack. What a rack takes over from those before it is a frozen `Progress`, so a
rack whose facts and progress are those of an earlier scoring is taken over as it was: after a key, only its
own rack is judged anew, and later racks only as far as what is handed over changed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import chain
from typing import Any

from ripasso.core.rules.facts import MISSING, InProgress, RackFacts, SessionFacts, ShotFacts
from ripasso.core.rules.ghost import balls_on_for
from ripasso.core.rules.interface import Game, Outcome
from ripasso.core.rules.pool import opponent, rival
from ripasso.core.rules.visits import OpenVisit, Visit, VisitBuilder, VisitStart

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
    visit: VisitStart | None = None
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
    in_progress: InProgress | None = None


@dataclass(frozen=True, slots=True)
class MatchScore:
    """Everything `score` says of a session; `score_before` and `visits_begun` have one entry a rack."""

    racks: tuple[RackScore, ...]
    visits: tuple[Visit, ...]
    score: Mapping[str, int]
    winner: str | None
    race_to: int | None
    problems: tuple[Problem, ...]
    score_before: tuple[Mapping[str, int], ...] = ()
    visits_begun: tuple[tuple[Visit, ...], ...] = ()


@dataclass(frozen=True, slots=True)
class Progress:
    """What is carried from rack to rack while a session is scored."""

    score: Mapping[str, int]
    winner: str | None = None
    expected_breaker: str | None = None
    last_breaker: str | None = None
    gap: bool = False
    #: State, players who may be next, and whether it was over, of the rack before (not across a gap).
    state: Any = None
    may_play: tuple[str, ...] = ()
    unfinished: bool = False
    #: A visit that goes on from rack to rack.
    open_visit: OpenVisit | None = None


@dataclass(frozen=True, slots=True)
class RackStep:
    """One rack of a scoring: what it was computed from, what it came to, and what it hands over."""

    facts: RackFacts
    before: Progress
    score: RackScore
    score_before: Mapping[str, int]
    visits: tuple[Visit, ...]  # that ended in this rack
    problems: tuple[Problem, ...]
    after: Progress


def score_session(facts: SessionFacts, game: Game) -> MatchScore:
    """Apply the rules of `game` to everything the session recorded."""
    return match_score(score_racks(facts, game), facts, game)


def score_racks(facts: SessionFacts, game: Game, known: Sequence[RackStep] = ()) -> tuple[RackStep, ...]:
    """The racks of a session one by one; `known` are the steps of an earlier scoring by the same settings.

    A known step stands for the rack in its place when it was computed from the very same facts (the same
    object) and took over an equal progress.
    """
    progress = Progress(dict.fromkeys(_sides(facts), 0))
    steps = []
    for index, rack in enumerate(facts.racks):
        step = known[index] if index < len(known) else None
        if step is None or step.facts is not rack or not _same(step.before, progress):
            step = _score_rack(facts, game, index, progress)
        steps.append(step)
        progress = step.after
    return tuple(steps)


def match_score(steps: Sequence[RackStep], facts: SessionFacts, game: Game) -> MatchScore:
    """The score of a match from the steps of its racks."""
    last = steps[-1].after if steps else Progress(dict.fromkeys(_sides(facts), 0))
    open_visit = () if last.open_visit is None else (last.open_visit.ended("end_of_record"),)
    return MatchScore(
        tuple(step.score for step in steps),
        (*chain.from_iterable(step.visits for step in steps), *open_visit),
        dict(last.score),
        last.winner,
        game.race_to(),
        tuple(chain.from_iterable(step.problems for step in steps)),
        tuple(step.score_before for step in steps),
        _by_first_rack(steps, open_visit),
    )


def _by_first_rack(steps: Sequence[RackStep], open_visit: tuple[Visit, ...]) -> tuple[tuple[Visit, ...], ...]:
    """The visits that begin in each rack. Most end where they began: their tuples are taken as they are."""
    begun = [step.visits for step in steps]
    late: list[Visit] = list(open_visit)
    for place, visits in enumerate(begun):
        if visits and visits[0].rack != place + 1:
            late.append(visits[0])
            begun[place] = visits[1:]
    for visit in late:
        begun[visit.rack - 1] = (*begun[visit.rack - 1], visit)
    return tuple(begun)


def _same(one: Progress, other: Progress) -> bool:
    return one is other or one == other


def _sides(facts: SessionFacts) -> tuple[str, ...]:
    return facts.players if facts.ghost is None else (*facts.players, facts.ghost)


def _score_rack(facts: SessionFacts, game: Game, index: int, before: Progress) -> RackStep:
    rack = facts.racks[index]
    score, differs = _believed_score(before, rack)
    progress = replace(before, score=score, gap=False)
    if rack.not_shown:
        return _pass_over(facts, index, before, progress)
    scorer = _RackScorer(facts, game, index, progress)
    scored = scorer.score(differs=differs)
    after = scorer.handed_over()
    score, winner = _counted(after, game, scored, game.race_to())
    after = replace(
        after,
        score=score,
        winner=winner,
        expected_breaker=_expected_breaker(after, facts, scored.winner),
    )
    visits, problems = tuple(scorer.visits), tuple(scorer.problems)
    return RackStep(rack, before, scored, progress.score, visits, problems, after)


def _pass_over(facts: SessionFacts, index: int, before: Progress, progress: Progress) -> RackStep:
    """A rack that is not shown. Shots that stand in it all the same are listed, not judged."""
    rack = facts.racks[index]
    idle = tuple(ShotScore(i, shot.player, None) for i, shot in enumerate(rack.shots, start=1))
    nothing = dict.fromkeys(facts.players, 0)
    scored = RackScore(index + 1, idle, nothing, None, None, (), (), frozenset())
    visits = () if progress.open_visit is None else (progress.open_visit.ended("end_of_record"),)
    after = replace(
        progress,
        gap=True,
        expected_breaker=None,
        state=None,
        may_play=(),
        unfinished=False,
        open_visit=None,
    )
    return RackStep(rack, before, scored, progress.score, visits, (), after)


def _believed_score(progress: Progress, rack: RackFacts) -> tuple[Mapping[str, int], bool]:
    """The score before a rack, a stated one first; True when it differs and no gap explains it."""
    if rack.score_before is None:
        return progress.score, False
    stated = {p: rack.score_before.get(p, points) for p, points in progress.score.items()}
    return stated, stated != progress.score and not progress.gap


def _counted(
    progress: Progress, game: Game, rack: RackScore, race_to: int | None
) -> tuple[Mapping[str, int], str | None]:
    """The match's score and winner after a rack: a win counts one, in one long game the points."""
    score, winner = dict(progress.score), progress.winner
    if game.one_long_game:
        for player, points in rack.score.items():
            score[player] = score.get(player, 0) + points
        if winner is None and rack.ended_by in ("target_reached", "conceded"):
            winner = rack.winner
    elif rack.winner is not None:
        score[rack.winner] = score.get(rack.winner, 0) + 1
        if race_to is not None and winner is None and score[rack.winner] >= race_to:
            winner = rack.winner
    return score, winner


def _expected_breaker(progress: Progress, facts: SessionFacts, winner: str | None) -> str | None:
    order = facts.rules.get("break_order", "alternate")
    if facts.ghost is not None:
        return None
    if order == "alternate":
        known = progress.last_breaker
        return opponent(facts.players, known) if known else None
    if winner is None:
        return None
    return winner if order == "winner" else opponent(facts.players, winner)


class _RackScorer:
    """Judges one rack, shot by shot."""

    def __init__(self, facts: SessionFacts, game: Game, index: int, progress: Progress) -> None:
        rack = facts.racks[index]
        self._facts, self._game, self._rack, self._index = facts, game, rack, index
        self._progress = progress
        self._visits = VisitBuilder(progress.open_visit)
        self.problems: list[Problem] = []
        first = rack.shots[0] if rack.shots else None
        self._breaks = rack.breaks
        self._breaker = rack.breaker or (first.player if first else None)
        self._in_progress = rack.in_progress
        self._continues = game.one_long_game and progress.state is not None
        if self._continues:
            self._may_play = progress.may_play
        else:
            self._may_play = (self._first_player,) if self._first_player else facts.players
        self._state = game.start(rack, progress.state if game.one_long_game else None, progress.score)
        self._winner: str | None = None
        self._ended_by: str | None = None
        self._shots: list[ShotScore] = []

    @property
    def _first_player(self) -> str | None:
        """Who is at the table first: the breaker, or whoever the film found there."""
        going_on = self._in_progress.player if self._in_progress is not None else None
        return going_on or self._breaker

    @property
    def visits(self) -> Sequence[Visit]:
        """The visits that ended in this rack."""
        return self._visits.ended

    def score(self, *, differs: bool) -> RackScore:
        """The rack's score."""
        for position, recorded in enumerate(self._rack.shots):
            self._judge(position, recorded, self._first_warnings(differs) if position == 0 else [])
        if self._rack.conceded_by is not None and self._ended_by is None:
            self._winner = self._other_side(self._rack.conceded_by)
            self._ended_by = "conceded"
            self._visits.concede(self._winner)
        if not self._goes_on:
            self._visits.close("end_of_record")
        points = {
            p: sum(s.outcome.points.get(p, 0) for s in self._shots if s.outcome) for p in self._facts.players
        }
        for player, so_far in (self._in_progress.points if self._in_progress else {}).items():
            points[player] = points.get(player, 0) + so_far
        over = self._ended_by is not None
        only = self._may_play[0] if len(self._may_play) == 1 else None
        return RackScore(
            self._index + 1,
            tuple(self._shots),
            points,
            self._winner,
            self._ended_by,
            () if over else self._may_play,
            () if over else self._on(only),
            self._game.on_table(self._state),
            self._in_progress,
        )

    def _other_side(self, player: str) -> str | None:
        if self._facts.ghost is not None:
            return self._facts.ghost
        return rival(self._facts.players, player)

    def _on(self, player: str | None) -> tuple[str, ...]:
        return balls_on_for(self._game, self._state, player)

    def _judge(self, position: int, recorded: ShotFacts, warnings: list[str]) -> None:
        path = f"$.racks[{self._index}].shots[{position}]"
        shot, known = _without_problems(recorded, path, self._facts, self._game, self.problems)
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
        carried = self._carried(position, shot)
        if self._facts.has_visits:
            self._visits.add(self._index + 1, position + 1, shot.player or "", outcome, carried)
        scored = ShotScore(
            position + 1,
            shot.player,
            outcome,
            tuple(warnings),
            on,
            table,
            self._visits.current,
            may,
            may_play,
        )
        self._shots.append(scored)
        self._may_play = outcome.next_players
        if outcome.rack_ends:
            self._winner, self._ended_by = outcome.winner, outcome.ended_by

    def _carried(self, position: int, shot: ShotFacts) -> int:
        """What the visit of the first stroke had made before the film began."""
        going_on = self._in_progress
        if position or going_on is None or going_on.player not in (None, shot.player):
            return 0
        return going_on.run

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

    @property
    def _goes_on(self) -> bool:
        """One long game goes on into the next rack, and so does its visit."""
        return self._game.one_long_game and self._ended_by != "conceded"

    def handed_over(self) -> Progress:
        """What the next rack needs to know of this one."""
        last = self._breaker if self._breaks else self._progress.last_breaker
        after = replace(self._progress, last_breaker=last, open_visit=self._visits.open)
        if not self._goes_on:
            return after
        return replace(after, state=self._state, may_play=self._may_play, unfinished=self._ended_by is None)


def _without_problems(
    shot: ShotFacts, path: str, facts: SessionFacts, game: Game, problems: list[Problem]
) -> tuple[ShotFacts, bool]:
    """The shot without balls the game has not; False when its player is unknown."""
    if shot.player is None:
        return shot, False  # left open: who struck is not said yet
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
