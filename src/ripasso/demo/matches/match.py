"""A long invented nine-ball match, tags only, from a seeded generator.

Two known habits are planted in it: Lioba's cue ball runs long, Casimir misses left cuts thin. The record
is legal because the rule engine itself says who plays on.
"""

from __future__ import annotations

import json
import random
from dataclasses import dataclass, replace

from ripasso.core.json_data import JsonObject
from ripasso.core.rules import NineBall, Outcome, Pot, RackFacts, ShotFacts
from ripasso.core.rules.lowest_first import RackState
from ripasso.demo.matches import scenario
from ripasso.review.record.model import FORMAT, VERSION, Session

SEED = 20261107
RACE_TO = 9
POCKETS = ("head_left", "head_right", "side_left", "side_right", "foot_left", "foot_right")
BREAK_POCKETS = ("foot_left", "foot_right", "side_left", "side_right")


@dataclass(frozen=True)
class Habits:
    """How a player plays: shares between 0 and 1."""

    pots: float = 0.86
    pots_left_cuts: float = 0.84
    misses_left_thin: float = 0.5
    runs_long: float = 0.14
    runs_short: float = 0.12
    wrong_side: float = 0.08
    scratches: float = 0.025


HABITS = {
    "lioba": Habits(runs_long=0.34, runs_short=0.05),
    "casimir": Habits(pots_left_cuts=0.58, misses_left_thin=0.85),
}


def long_match(seed: int = SEED) -> Session:
    """The match, judged but for its last racks, which are left for the user to judge."""
    writer = _MatchWriter(random.Random(seed))
    return Session.model_validate_json(json.dumps(writer.session()))


class _MatchWriter:
    """Writes racks until one player has won the race."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance
        self._players = ("lioba", "casimir")
        self._game = NineBall(self._players, {})
        self._won = dict.fromkeys(self._players, 0)

    def session(self) -> JsonObject:
        racks: list[JsonObject] = []
        breaker = 0
        while max(self._won.values()) < RACE_TO:
            racks.append(self._rack(len(racks) + 1, self._players[breaker]))
            breaker = 1 - breaker
        for rack in racks[-2:]:
            for shot in rack["shots"]:
                _forget_judgement(shot)
        return {
            "format": FORMAT,
            "version": VERSION,
            "id": scenario.MATCH_ID,
            "title": scenario.MATCH_TITLE,
            "date": scenario.MATCH_DATE,
            "venue": scenario.VENUE,
            "note": scenario.MATCH_NOTE,
            "kind": "match",
            "game": "nine_ball",
            "rules": {"race_to": RACE_TO, "break_order": "alternate"},
            "table": {"preset": "pool_9ft"},
            "players": [scenario.LIOBA, scenario.CASIMIR],
            "level": "club",
            "racks": racks,
        }

    def _rack(self, number: int, breaker: str) -> JsonObject:
        state: RackState = self._game.start(RackFacts(breaker=breaker), None, self._won)
        shots: list[JsonObject] = []
        player, lost_position, after_break = breaker, False, False
        while True:
            shot = self._shot(state, player, lost_position, after_break)
            after_break = state.break_next
            state, outcome = self._play(state, shot, player)
            lost_position = shot.get("result", {}).get("position") == "lost"
            shots.append({"number": len(shots) + 1, "player": player, **shot})
            if outcome.rack_ends:
                self._won[outcome.winner or player] += 1
                return {"number": number, "breaker": breaker, "shots": shots}
            player = self._next(outcome, player)

    def _play(self, state: RackState, shot: JsonObject, player: str) -> tuple[RackState, Outcome]:
        facts = shot["facts"]
        stroke = ShotFacts(
            player=player,
            intent=shot["intent"],
            potted=tuple(Pot(pot["ball"], pot.get("pocket")) for pot in facts["potted"]),
            cue_potted=facts.get("cue_potted", False),
            balls_to_cushion=facts.get("balls_to_cushion"),
        )
        if "first_contact" in facts:
            stroke = replace(stroke, first_contact=facts["first_contact"])
        return self._game.play(state, stroke)

    def _next(self, outcome: Outcome, player: str) -> str:
        """After a push-out the opponent plays on, or hands back."""
        if len(outcome.next_players) == 1:
            return outcome.next_players[0]
        other = next(p for p in self._players if p != player)
        return other if self._chance.random() < 0.6 else player

    def _shot(self, state: RackState, player: str, lost_position: bool, after_break: bool) -> JsonObject:
        if state.break_next:
            return self._break(state)
        if after_break and state.push_out_open and self._chance.random() < 0.12:
            return {"intent": "push_out", "facts": {"potted": []}}
        if lost_position and self._chance.random() < 0.45:
            return self._safety(state, player)
        return self._pot(state, player, hard=lost_position)

    def _break(self, state: RackState) -> JsonObject:
        fallen = self._chance.choices((0, 1, 2, 3), weights=(30, 42, 22, 6))[0]
        balls = sorted(self._chance.sample([b for b in state.on_table if b != "9"], fallen), key=int)
        potted = [{"ball": ball, "pocket": self._chance.choice(BREAK_POCKETS)} for ball in balls]
        facts: JsonObject = {"first_contact": "1", "potted": potted, "balls_to_cushion": 5}
        if self._chance.random() < 0.06:
            facts["cue_potted"] = True
        return {"intent": "break", "facts": facts}

    def _safety(self, state: RackState, player: str) -> JsonObject:
        facts: JsonObject = {"first_contact": self._lowest(state), "potted": []}
        if self._chance.random() < HABITS[player].scratches * 2:
            facts["cue_potted"] = True
        return {"intent": "safety", "facts": facts, "decision": {"verdict": "agree", "by": "analyst"}}

    def _pot(self, state: RackState, player: str, *, hard: bool) -> JsonObject:
        habits, chance = HABITS[player], self._chance
        cut = chance.choice(("left", "right"))
        success = habits.pots_left_cuts if cut == "left" else habits.pots
        ball, pocket = self._lowest(state), chance.choice(POCKETS)
        shot: JsonObject = {
            "intent": "pot",
            "call": {"ball": ball, "pocket": pocket},
            "facts": {"first_contact": ball, "potted": []},
            "tags": [f"cut_{cut}"],
        }
        if chance.random() < success * (0.62 if hard else 1.0):
            shot["facts"]["potted"] = [{"ball": ball, "pocket": pocket}]
            if ball != "9":
                shot["result"] = judged_position(chance, habits)
        else:
            thin = chance.random() < (habits.misses_left_thin if cut == "left" else 0.5)
            shot["result"] = {"contact": "thin" if thin else "thick"}
            shot["error"] = {"kind": "pot", "unforced": not hard}
        if chance.random() < habits.scratches:
            shot["facts"]["cue_potted"] = True
        self._judge(shot, hard)
        return shot

    def _judge(self, shot: JsonObject, hard: bool) -> None:
        if shot.get("result", {}).get("position") == "lost":
            shot["error"] = {"kind": "position", "unforced": self._chance.random() < 0.7}
        if self._chance.random() < 0.85:
            agreed = self._chance.random() < (0.7 if hard else 0.9)
            shot["decision"] = {"verdict": "agree" if agreed else "prefer_other", "by": "analyst"}

    def _lowest(self, state: RackState) -> str:
        return self._game.balls_on(state)[0]


def judged_position(chance: random.Random, habits: Habits) -> JsonObject:
    """What an analyst says of the position after a made pot, the habits showing."""
    draw = chance.random()
    grade = chance.choices(("playable", "lost"), weights=(55, 45))[0]
    if draw < habits.runs_long:
        return {"position": grade, "pace": "long"}
    if draw < habits.runs_long + habits.runs_short:
        return {"position": grade, "pace": "short"}
    if draw < habits.runs_long + habits.runs_short + habits.wrong_side:
        return {"position": grade, "side": "wrong"}
    if draw > 0.9:
        return {"position": "playable", "angle": chance.choice(("too_straight", "too_steep"))}
    return {"position": "good"}


def _forget_judgement(shot: JsonObject) -> None:
    """What happened stays; what the analyst would say is not said yet."""
    shot.pop("error", None)
    shot.pop("decision", None)
    result = shot.get("result", {})
    for key in ("position", "pace", "side", "angle"):
        result.pop(key, None)
    if not result:
        shot.pop("result", None)
