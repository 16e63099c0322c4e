"""The games as rule engines: one module a game, one small interface.

To add a game: a module with a class that has `balls`, `start` and `play` (see `interface.Game`), and a
line in `GAMES`. A state is immutable; `play` returns the next state and what the stroke came to.
"""

from collections.abc import Mapping

from ripasso.core.rules.facts import MISSING, Pot, RackFacts, SessionFacts, ShotFacts
from ripasso.core.rules.interface import Game, Outcome
from ripasso.core.rules.match import MatchScore, RackScore, ShotScore, Visit, score_session
from ripasso.core.rules.nine_ball import NineBall

GAMES: Mapping[str, type[Game]] = {"nine_ball": NineBall}

__all__ = [
    "GAMES",
    "MISSING",
    "Game",
    "MatchScore",
    "NineBall",
    "Outcome",
    "Pot",
    "RackFacts",
    "RackScore",
    "SessionFacts",
    "ShotFacts",
    "ShotScore",
    "Visit",
    "score_session",
]
