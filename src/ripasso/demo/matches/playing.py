"""Sessions played out: the rules say who is on, the simulator what comes of each stroke. Seeded.

What the analyst would say of a shot is in `judging`, what players decide in `choosing`.
"""

from __future__ import annotations

import json
import math
import random
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ripasso.core.json_data import JsonObject
from ripasso.core.physics.motion import Motion, simulate
from ripasso.core.physics.players import Spreads, spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.problem import Problem
from ripasso.core.rules import Outcome, RackFacts, SessionFacts, game_for
from ripasso.core.rules.ghost import balls_on_for
from ripasso.core.rules.snooker import COLOURS, is_red
from ripasso.core.table import TableSpec, foot_spot, starting_layout, table_spec
from ripasso.core.table.places import Place
from ripasso.core.table.placing import ImpossiblePlace, settle, spot_for
from ripasso.demo.matches import scenario
from ripasso.demo.matches.choosing import Choice, felt_best, in_hand, pots_of, safety_of, to_ball
from ripasso.demo.matches.habits import HABITS, Habits, as_played
from ripasso.demo.matches.judging import Seen, forget_judgement, judge
from ripasso.demo.matches.plans import Plan
from ripasso.demo.seen import contacts_of
from ripasso.review.record.model import FORMAT, VERSION, Session, Shot
from ripasso.review.scoring.scoring import shot_facts

Layout = dict[str, Place]

#: Below this chance of the pot somebody plays safe; nobody does in a ghost race.
SAFE_BELOW = 0.34
#: How hard breaks are (percent, and m/s of the cue ball for each), speeds of the thin ones that leave little.
POWERS, MS_OF_POWER, THIN_BREAKS_MS = (50, 95), 0.095, (2.2, 2.8, 3.4)
#: A break from so near to the middle line meets the rack head on, as a share of the width.
HEAD_ON = 0.08
#: Balls that keep their places in a rack; the others are put where they come.
KEPT = {"nine_ball": ("1", "9"), "ten_ball": ("1", "10"), "eight_ball": ("8",), "rotation": ("1",)}


def played(plan: Plan) -> Session:
    """The session of a plan."""
    return _Player(plan).session()


class _Player:
    """Plays one plan to its end."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan
        self._chance = random.Random(plan.key)
        self._errors = np.random.default_rng([ord(letter) for letter in plan.key])
        self._players = ("lioba",) if plan.ghost else ("lioba", "casimir")
        facts = SessionFacts(plan.game, self._players, (), plan.rules, "ghost" if plan.ghost else None)
        game = game_for(facts)
        if game is None:
            raise ValueError(f"no rules for {plan.game}")
        self._game = game
        self._spec: TableSpec = table_spec({"preset": plan.table})
        self._spreads: Spreads = spreads_of_level(plan.level, snooker=self._spec.snooker)
        self._bed = Problem(plan.game, self._spec, {}, ())

    def session(self) -> Session:
        """The record, with layouts, plans and what was judged."""
        plan = self._plan
        racks = self._racks()
        for rack in racks[len(racks) - plan.unjudged :]:
            for shot in rack["shots"]:
                forget_judgement(shot)
        players: list[JsonObject] = [scenario.LIOBA]
        players.append({"id": "ghost", "ghost": True} if plan.ghost else scenario.CASIMIR)
        data = {
            "format": FORMAT,
            "version": VERSION,
            "id": plan.key,
            "title": plan.title,
            "date": plan.date,
            "venue": scenario.VENUE,
            **({"note": plan.note} if plan.note else {}),
            "kind": "ghost" if plan.ghost else "match",
            "game": plan.game,
            "rules": dict(plan.rules),
            "table": {"preset": plan.table},
            "players": players,
            "level": plan.level,
            "racks": racks,
        }
        return Session.model_validate_json(json.dumps(data))

    def _racks(self) -> list[JsonObject]:
        racks: list[JsonObject] = []
        state: Any = None
        lies: Layout = {}
        score = dict.fromkeys((*self._players, "ghost"), 0)
        player, goes_on = self._players[0], self._game.one_long_game
        while len(racks) < self._plan.racks:
            if not goes_on:
                player = self._players[len(racks) % len(self._players)]
            state = self._game.start(RackFacts(), state if goes_on else None, score)
            lies = self._racked(state, lies if goes_on and racks else {})
            shots, state, last, lies = self._shots(state, player, lies)
            opens = {} if goes_on and racks else {"breaker": player}
            racks.append({"number": len(racks) + 1, **opens, "shots": shots})
            if goes_on:
                score = dict(state.score)
                player = last.next_players[0] if last.next_players else player
            elif last.winner is not None:
                score[last.winner] += 1
            target = self._game.race_to()
            if target and max(score.values()) >= target:
                return racks
        return racks

    def _racked(self, state: Any, lies: Layout) -> Layout:
        """The rack as it is set up; of one long game's later racks one ball and the cue ball lie aside."""
        reds = int(self._plan.rules.get("reds", 15))
        rack = dict(starting_layout(self._plan.game, self._spec, reds))
        cue = rack.pop("cue")
        if not self._spec.snooker:
            kept = KEPT.get(self._plan.game, ())
            free = [ball for ball in rack if ball not in kept]
            spots = [rack[ball] for ball in free]
            self._chance.shuffle(spots)
            rack |= dict(zip(free, spots, strict=True))
            cue = (cue[0], self._spec.width * self._chance.uniform(0.3, 0.7))
        stays = [ball for ball in lies if ball != "cue"]
        if not stays or len(self._game.on_table(state)) != len(rack):
            return {"cue": cue, **rack}
        # Straight pool: fourteen balls are racked, the foremost place stays free.
        apex = min(rack, key=lambda ball: rack[ball][0])
        last = stays[0]
        rack[last], rack[apex] = rack[apex], rack[last]
        pack = {ball: place for ball, place in rack.items() if ball != last}
        aside = self._aside(pack, lies[last], (self._spec.length / 4, self._spec.width / 2))
        pack[last] = aside
        return {"cue": self._aside(pack, lies.get("cue", cue), cue), **pack}

    def _aside(self, pack: Layout, place: Place, otherwise: Place) -> Place:
        """Where a ball lies that is not racked: where it lay, unless that is in the way of the rack."""
        xs, ys = [p[0] for p in pack.values()], [p[1] for p in pack.values()]
        near = 3 * self._spec.ball_radius
        in_way = min(xs) - near < place[0] < max(xs) + near and min(ys) - near < place[1] < max(ys) + near
        return otherwise if in_way else place

    def _shots(self, state: Any, player: str, lies: Layout) -> tuple[list[JsonObject], Any, Outcome, Layout]:
        shots: list[JsonObject] = []
        in_hand_from: str | None = None
        while True:
            first = not shots and (not self._game.one_long_game or state.opening)
            shot, lies = self._shot(state, player, lies, first=first, in_hand_from=in_hand_from)
            shots.append({"number": len(shots) + 1, "player": player, **shot})
            record = Shot.model_validate_json(json.dumps(shots[-1]))
            state, outcome = self._game.play(state, shot_facts(record))
            lies = self._spotted(lies, outcome.spotted)
            shots[-1]["after"] = _written(lies)
            if outcome.rack_ends:
                return shots, state, outcome, lies
            # Where both may be next the other one takes the table.
            others = [p for p in outcome.next_players if p != player]
            player = others[0] if others else outcome.next_players[0]
            in_hand_from = outcome.ball_in_hand_from or (None if "cue" in lies else "anywhere")

    # One shot

    def _shot(
        self, state: Any, player: str, lies: Layout, *, first: bool, in_hand_from: str | None
    ) -> tuple[JsonObject, Layout]:
        problems = self._problems(state, player, lies)
        if in_hand_from is not None:
            there = {b: p for b, p in lies.items() if b != "cue"}
            place = in_hand(
                [replace(one, layout={"cue": lies.get("cue", (0.1, 0.1)), **there}) for one in problems],
                self._spreads,
                self._chance,
                kitchen=in_hand_from != "anywhere" and not self._spec.snooker,
            )
            lies = {"cue": (round(place[0], 4), round(place[1], 4)), **there}
            problems = self._problems(state, player, lies)
        choices = [] if first else pots_of(problems, self._spreads, self._chance.randrange(2**31))
        choice = felt_best(choices, self._chance) if choices else None
        intent = "pot"
        if first:
            intent, choice = "break", self._break(problems)
        elif choice is None or (choice.chance < SAFE_BELOW and not self._plan.ghost):
            if "push_out" in self._game.may(state, player) and self._chance.random() < 0.5:
                intent, choice = "push_out", self._push_out(problems[0])
            else:
                safe = safety_of(problems, self._spreads)
                intent, choice = ("safety", safe) if safe or not choice else ("pot", choice)
        if choice is None:
            intent, choice = "safety", self._anywhere(problems[0])
        stroke = self._as_played(choice, player, intent)
        motion = simulate(lies, stroke, self._bed.bed, self._bed.physics)
        shot = self._record(choice, motion, intent)
        exact = simulate(lies, choice.stroke, self._bed.bed, self._bed.physics)
        judge(shot, Seen(choices, choice, exact, motion, self._spreads), self._chance)
        rest = {ball: motion.rest()[ball] for ball in lies if ball in motion.rest()}
        return {**shot, "before": _written(lies)}, self._possible(rest)

    def _problems(self, state: Any, player: str, lies: Layout) -> list[Problem]:
        """The questions of a shot: one for each group or colour that may be chosen."""
        on = balls_on_for(self._game, state, player)
        if self._plan.game == "eight_ball" and len(on) > 7:
            groups: list[Sequence[str]] = [
                [ball for ball in on if int(ball) < 8],
                [ball for ball in on if int(ball) > 8],
            ]
        elif self._spec.snooker and len(on) > 1 and on[0] in COLOURS:
            groups = [[colour] for colour in on]
        else:
            groups = [on]
        return [
            Problem(self._plan.game, self._spec, lies, tuple(group), None, self._bed.bed, self._bed.physics)
            for group in groups
            if group
        ]

    def _break(self, problems: list[Problem]) -> Choice | None:
        """Power into the pack, or thin off its side where that is the opening."""
        problem = problems[0]
        if self._spec.snooker or self._game.one_long_game:
            return safety_of(problems, self._spreads, THIN_BREAKS_MS)
        cue, apex = problem.layout["cue"], foot_spot(self._spec)
        way = math.atan2(apex[1] - cue[1], apex[0] - cue[0])
        power = self._chance.randint(*POWERS)
        return Choice(problem, Stroke(way, power * MS_OF_POWER, 0.0, 0.08), None, None, None, 0.0)

    def _push_out(self, problem: Problem) -> Choice:
        way = self._chance.uniform(0, 2 * math.pi)
        return Choice(problem, Stroke(way, self._chance.uniform(0.5, 1.1)), None, None, None, 0.0)

    def _anywhere(self, problem: Problem) -> Choice:
        """At the nearest ball on, whatever is in between."""
        cue = problem.layout["cue"]
        ball = min(
            (problem.layout[b] for b in problem.on if b in problem.layout), key=lambda p: math.dist(p, cue)
        )
        return Choice(
            problem, Stroke(math.atan2(ball[1] - cue[1], ball[0] - cue[0]), 1.6), None, None, None, 0.0
        )

    def _as_played(self, choice: Choice, player: str, intent: str) -> Stroke:
        errors = self._errors.standard_normal(4)
        habits = HABITS[player] if intent == "pot" else Habits()
        return as_played(
            choice.stroke, to_ball(choice), errors, self._spreads, habits, self._spec.ball_radius
        )

    def _record(self, choice: Choice, motion: Motion, intent: str) -> JsonObject:
        facts = facts_of(motion, is_break=intent == "break")
        shot: JsonObject = {"intent": intent, "facts": facts}
        if intent == "break" and choice.stroke.speed > max(THIN_BREAKS_MS):
            off_middle = abs(choice.problem.layout["cue"][1] / self._spec.width - 0.5)
            shot["break"] = {
                "kind": "head_on" if off_middle < HEAD_ON else "cut",
                "power": round(choice.stroke.speed / MS_OF_POWER),
            }
        if intent == "pot":
            assert choice.ball is not None
            shot["call"] = {"pocket": choice.pocket}
            if not is_red(choice.ball):
                shot["call"]["ball"] = choice.ball
        elif intent == "safety" and self._spec.snooker and choice.problem.on[0] in COLOURS:
            shot["call"] = {"ball": choice.problem.on[0]}
        return shot

    # Layouts

    def _spotted(self, lies: Layout, spotted: Sequence[str]) -> Layout:
        lies = dict(lies)
        for ball in spotted:
            lies[ball] = spot_for(self._spec, ball, {b: p for b, p in lies.items() if b != ball})
        return lies

    def _possible(self, lies: Layout) -> Layout:
        """The layout in tenths of a millimetre, frozen balls moved apart by what that takes."""
        kept: Layout = {}
        for ball, place in lies.items():
            try:
                x, y = settle(self._spec, kept, ball, place).place
            except ImpossiblePlace:
                x, y = place
            kept[ball] = (round(x, 4), round(y, 4))
        return kept


def facts_of(motion: Motion, *, is_break: bool) -> JsonObject:
    """What somebody sees of a stroke."""
    seen = contacts_of(motion)
    fallen = [(event.balls[0], event.met) for event in motion.events if event.kind == "pocket"]
    facts: JsonObject = {
        "potted": [{"ball": ball, "pocket": pocket} for ball, pocket in fallen if ball != "cue"],
        "cushion_after_contact": seen.cushion_after,
        "first_contact": seen.first,
    }
    if any(ball == "cue" for ball, _ in fallen):
        facts["cue_potted"] = True
    if is_break:
        facts |= {"balls_to_cushion": len(seen.driven), "cue_to_cushion": seen.cue_driven}
    return facts


def _written(lies: Layout) -> JsonObject:
    return {ball: [round(place[0], 4), round(place[1], 4)] for ball, place in lies.items()}
