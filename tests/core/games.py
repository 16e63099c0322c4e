"""Strokes and racks in few words, for tests of the rules."""

from __future__ import annotations

from ripasso.core.rules import Pot, RackFacts, SessionFacts, ShotFacts, game_for, score_session

PLAYERS = ("a", "b")
POCKET = "foot_left"


def shot(player, *potted, intent="pot", call=None, pocket=None, **facts):
    """A stroke; balls fall into foot left. `call` names the ball meant, `pocket` the pocket meant."""
    fallen = tuple(Pot(ball, POCKET) for ball in potted)
    return ShotFacts(player, intent, call_ball=call, call_pocket=pocket, potted=fallen, **facts)


def broke(player, *potted, **facts):
    """A legal break, as far as cushions go."""
    return shot(player, *potted, intent="break", **{"balls_to_cushion": 5, **facts})


def rack(*shots, breaker="a", **more):
    return RackFacts(tuple(shots), breaker, **more)


def score(game, *racks, players=PLAYERS, ghost=None, **rules):
    """The score of racks, each given as shots or as a rack."""
    facts = SessionFacts(game, players, tuple(racks), rules, ghost)
    return score_session(facts, game_for(facts))


def outcomes(game, *shots, players=PLAYERS, ghost=None, layout=None, **rules):
    """What the strokes of one rack came to."""
    only = RackFacts(tuple(shots), "a" if layout is None else None, layout=layout)
    found = score(game, only, players=players, ghost=ghost, **rules)
    return [s.outcome for s in found.racks[0].shots]
