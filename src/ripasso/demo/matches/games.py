"""One invented session of each other game, from a seeded generator; the engine says who plays on."""

from __future__ import annotations

import json
import random
from dataclasses import dataclass, field
from typing import Any

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.rules import Outcome, RackFacts, SessionFacts, game_for
from ripasso.core.rules.ghost import balls_on_for
from ripasso.core.rules.snooker import COLOURS, is_red
from ripasso.core.table import POCKETS
from ripasso.demo.matches import scenario
from ripasso.demo.matches.match import HABITS, judged_position
from ripasso.review.record.model import FORMAT, VERSION, Session, Shot
from ripasso.review.scoring.scoring import shot_facts

#: How often a colour is chosen after a red: the black most.
COLOUR_WEIGHTS = (6, 6, 8, 22, 22, 36)
SUCCESS, SAFETY, SCRATCH = 0.8, 0.12, 0.02


@dataclass(frozen=True)
class Plan:
    """What is played: the game, what was agreed on, and how many racks the record holds."""

    key: str
    title: str
    date: str
    game: str
    racks: int
    rules: JsonMapping = field(default_factory=dict)
    table: str = "pool_9ft"
    ghost: bool = False
    success: float = SUCCESS


PLANS = (
    Plan("demo-eight", "Quay Street league, singles", "2026-10-02", "eight_ball", 5, {"race_to": 3}),
    Plan("demo-ten", "Lantern Room open, last sixteen", "2026-10-09", "ten_ball", 4, {"race_to": 3}),
    Plan("demo-straight", "Straight pool to 100", "2026-09-18", "straight_pool", 20),
    Plan("demo-rotation", "Rotation on a wet Sunday", "2026-09-20", "rotation", 3, {"race_to": 2}),
    Plan(
        "demo-snooker",
        "Harbour Cup, best of seven",
        "2026-10-24",
        "snooker",
        7,
        {"race_to": 4},
        table="snooker_12ft",
        success=0.68,
    ),
    Plan(
        "demo-ghost",
        "Ghost race, nine-ball",
        "2026-11-02",
        "nine_ball",
        7,
        {"race_to": 4},
        ghost=True,
        success=0.93,
    ),
)


def game_session(plan: Plan) -> Session:
    """The session of a plan, always the same."""
    return _Writer(plan).session()


class _Writer:
    """Plays one plan to its end."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan
        self._chance = random.Random(plan.key)
        self._players = ("lioba",) if plan.ghost else ("lioba", "casimir")
        facts = SessionFacts(plan.game, self._players, (), plan.rules, "ghost" if plan.ghost else None)
        game = game_for(facts)
        if game is None:
            raise ValueError(f"no rules for {plan.game}")
        self._game = game

    def session(self) -> Session:
        plan = self._plan
        players: list[JsonObject] = [scenario.LIOBA]
        players.append({"id": "ghost", "ghost": True} if plan.ghost else scenario.CASIMIR)
        data = {
            "format": FORMAT,
            "version": VERSION,
            "id": plan.key,
            "title": plan.title,
            "date": plan.date,
            "venue": scenario.VENUE,
            "kind": "ghost" if plan.ghost else "match",
            "game": plan.game,
            "rules": dict(plan.rules),
            "table": {"preset": plan.table},
            "players": players,
            "level": "club",
            "racks": self._racks(),
        }
        return Session.model_validate_json(json.dumps(data))

    def _racks(self) -> list[JsonObject]:
        racks: list[JsonObject] = []
        state: Any = None
        score = dict.fromkeys((*self._players, "ghost"), 0)
        breaker = 0
        player = self._players[0]
        while len(racks) < self._plan.racks:
            if not self._game.one_long_game:
                player = self._players[breaker % len(self._players)]
                breaker += 1
            before = state if self._game.one_long_game else None
            state = self._game.start(RackFacts(), before, score)
            shots, state, last = self._shots(state, player)
            opens = {} if self._game.one_long_game and racks else {"breaker": player}
            racks.append({"number": len(racks) + 1, **opens, "shots": shots})
            if self._game.one_long_game:
                score = dict(state.score)
                player = last.next_players[0] if last.next_players else player
            elif last.winner is not None:
                score[last.winner] += 1
            target = self._game.race_to()
            if target and max(score.values()) >= target:
                return racks
        return racks

    def _shots(self, state: Any, player: str) -> tuple[list[JsonObject], Any, Outcome]:
        shots: list[JsonObject] = []
        while True:
            first = not shots and (not self._game.one_long_game or state.opening)
            shot = {"number": len(shots) + 1, "player": player, **self._stroke(state, player, first)}
            shots.append(shot)
            record = Shot.model_validate_json(json.dumps(shot))
            state, outcome = self._game.play(state, shot_facts(record))
            if outcome.rack_ends:
                return shots, state, outcome
            # Where both may be next, the other one takes the table.
            others = [p for p in outcome.next_players if p != player]
            player = others[0] if others else outcome.next_players[0]

    def _stroke(self, state: Any, player: str, first: bool) -> JsonObject:
        chance = self._chance
        on = balls_on_for(self._game, state, player)
        if first:
            return self._break(on)
        ball = self._wanted(on)
        pocket = chance.choice(POCKETS)
        facts: JsonObject = {"first_contact": ball, "potted": [], "cushion_after_contact": True}
        nominated = ball in COLOURS and len(on) > 1
        if chance.random() < SAFETY and not nominated and not self._plan.ghost:
            return {"intent": "safety", "facts": facts, "decision": {"verdict": "agree"}}
        call = {"pocket": pocket} if is_red(ball) else {"ball": ball, "pocket": pocket}
        shot: JsonObject = {"intent": "pot", "call": call, "facts": facts}
        if chance.random() < self._plan.success:
            facts["potted"] = [{"ball": ball, "pocket": pocket}]
            shot["result"] = judged_position(chance, HABITS[player])
        else:
            shot["result"] = {"contact": chance.choice(("thin", "thick"))}
            shot["error"] = {"kind": "pot", "unforced": chance.random() < 0.6}
        if chance.random() < SCRATCH:
            facts["cue_potted"] = True
        return shot

    def _wanted(self, on: tuple[str, ...]) -> str:
        if len(on) == len(COLOURS) and on[0] in COLOURS:
            return self._chance.choices(COLOURS, weights=COLOUR_WEIGHTS)[0]
        return self._chance.choice(on)

    def _break(self, on: tuple[str, ...]) -> JsonObject:
        facts: JsonObject = {"first_contact": on[0], "potted": [], "balls_to_cushion": 5}
        if self._plan.game == "snooker":
            return {"intent": "break", "facts": {"first_contact": on[0], "potted": []}}
        if self._plan.game != "straight_pool" and self._chance.random() < 0.6:
            ball = self._chance.choice([b for b in self._game.balls if b not in ("8", "9", "10")])
            facts["potted"] = [{"ball": ball, "pocket": self._chance.choice(POCKETS)}]
        return {"intent": "break", "facts": facts}
