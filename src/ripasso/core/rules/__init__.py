"""The games as rule engines: one module a game, one small interface.

To add a game: a module with a class that has `balls`, `start` and `play` (see `interface.Game`), and a
line in `GAMES`. A state is immutable; `play` returns the next state and what the stroke came to.
"""

from collections.abc import Callable, Mapping

from ripasso.core.rules.eight_ball import EightBall
from ripasso.core.rules.facts import MISSING, InProgress, Pot, RackFacts, SessionFacts, ShotFacts
from ripasso.core.rules.ghost import GhostRace
from ripasso.core.rules.interface import Game, Outcome, SnookerState
from ripasso.core.rules.match import (
    MatchScore,
    RackScore,
    RackStep,
    ShotScore,
    match_score,
    score_racks,
    score_session,
)
from ripasso.core.rules.nine_ball import NineBall
from ripasso.core.rules.pool import ALONE
from ripasso.core.rules.rotation import Rotation
from ripasso.core.rules.snooker import Snooker
from ripasso.core.rules.straight_pool import StraightPool
from ripasso.core.rules.ten_ball import TenBall
from ripasso.core.rules.visits import Visit, VisitStart

GAMES: Mapping[str, Callable[[tuple[str, ...], Mapping[str, object]], Game]] = {
    "eight_ball": EightBall,
    "nine_ball": NineBall,
    "rotation": Rotation,
    "snooker": Snooker,
    "straight_pool": StraightPool,
    "ten_ball": TenBall,
}
#: Games that are raced against a ghost: pool games with racks.
GHOST_GAMES = ("eight_ball", "nine_ball", "rotation", "ten_ball")


def game_for(facts: SessionFacts) -> Game | None:
    """The rules of a session; None for a game that is not known."""
    build = GAMES.get(facts.game or "")
    if build is None:
        return None
    alone = len(facts.players) == 1 and facts.ghost is None
    game = build(facts.players, {**facts.rules, ALONE: alone})
    if facts.ghost is not None and facts.game in GHOST_GAMES and len(facts.players) == 1:
        return GhostRace(game, facts.players[0], facts.ghost, facts.rules)
    return game


__all__ = [
    "GAMES",
    "GHOST_GAMES",
    "MISSING",
    "EightBall",
    "Game",
    "GhostRace",
    "InProgress",
    "MatchScore",
    "NineBall",
    "Outcome",
    "Pot",
    "RackFacts",
    "RackScore",
    "RackStep",
    "Rotation",
    "SessionFacts",
    "ShotFacts",
    "ShotScore",
    "Snooker",
    "SnookerState",
    "StraightPool",
    "TenBall",
    "Visit",
    "VisitStart",
    "game_for",
    "match_score",
    "score_racks",
    "score_session",
]
