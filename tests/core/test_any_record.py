"""Random records, legal and not: no rule engine falls over, and points add up."""

import random
import unittest

from ripasso.core.rules import (
    GAMES,
    MISSING,
    Pot,
    RackFacts,
    SessionFacts,
    ShotFacts,
    game_for,
    score_session,
)

RECORDS, SHOTS = 60, 40
INTENTS = ("pot", "pot", "pot", "safety", "escape", "push_out", "break", "two_way", None)


class RandomRecords(unittest.TestCase):
    def record(self, game, chance, ghost=False):
        players = ("a",) if ghost else ("a", "b")
        facts = SessionFacts(
            game, players, (), {"reds": 6} if game == "snooker" else {}, "ghost" if ghost else None
        )
        balls = game_for(facts).balls
        racks = []
        for _ in range(chance.randint(1, 3)):
            shots = tuple(self.stroke(chance, players, balls) for _ in range(chance.randint(0, SHOTS)))
            layout = tuple(chance.sample(balls, 5)) if chance.random() < 0.2 else None
            conceded = chance.choice(players) if chance.random() < 0.1 else None
            racks.append(RackFacts(shots, chance.choice((*players, None)), layout, conceded_by=conceded))
        if chance.random() < 0.2:
            racks.insert(1, RackFacts(not_shown=True))
        return SessionFacts(game, players, tuple(racks), facts.rules, facts.ghost)

    def stroke(self, chance, players, balls):
        fallen = chance.sample(balls, chance.choices((0, 1, 2, 3), weights=(45, 40, 10, 5))[0])
        return ShotFacts(
            player=chance.choice(players),
            intent=chance.choice(INTENTS),
            call_ball=chance.choice((None, *balls)),
            call_pocket=chance.choice((None, "foot_left")),
            recorded=chance.random() < 0.95,
            first_contact=chance.choice((MISSING, None, *balls)),
            potted=tuple(Pot(ball, chance.choice(("foot_left", "side_left", None))) for ball in fallen),
            cue_potted=chance.random() < 0.1,
            off_table=tuple(chance.sample((*balls, "cue"), 1)) if chance.random() < 0.05 else (),
            cushion_after_contact=chance.random() < 0.8,
            balls_to_cushion=chance.choice((None, 1, 5)),
            other_fouls=("double_hit",) if chance.random() < 0.03 else (),
            cue_to_cushion=chance.random() < 0.7,
            free_ball=chance.random() < 0.1,
            replaced=chance.random() < 0.1,
            miss=chance.random() < 0.2,
        )

    def test_every_game(self):
        for game in GAMES:
            for ghost in (False, True):
                for seed in range(RECORDS):
                    with self.subTest(game=game, ghost=ghost, seed=seed):
                        self.check(self.record(game, random.Random(f"{game}{seed}"), ghost), game)

    def check(self, facts, game):
        found = score_session(facts, game_for(facts))
        self.assertEqual(score_session(facts, game_for(facts)), found)
        balls = set(game_for(facts).balls)
        for rack in found.racks:
            self.assertLessEqual(rack.on_table, balls)
            outcomes = [s.outcome for s in rack.shots if s.outcome]
            for player in facts.players:
                self.assertEqual(rack.score.get(player, 0), sum(o.points.get(player, 0) for o in outcomes))
            for outcome in outcomes:
                if outcome.fouls:
                    self.assertEqual(outcome.counted, ())
                self.assertFalse(set(outcome.next_players) - set(facts.players))
                if outcome.rack_ends and outcome.turn_ends and outcome.ended_by != "three_fouls":
                    self.assertEqual(outcome.next_players, ())
            self.add_up(game, outcomes)
        judged = [s for rack in found.racks for s in rack.shots if s.outcome]
        self.assertEqual(sum(v.balls for v in found.visits), sum(len(s.outcome.counted) for s in judged))

    def add_up(self, game, outcomes):
        """A frame's points are pots and fouls; straight pool's are balls counted less what fouls cost."""
        for outcome in outcomes:
            total = sum(outcome.points.values())
            if game == "straight_pool":
                cost = 0 if outcome.legal else 1
                if "bad_break" in outcome.fouls:
                    cost = 2
                if outcome.ended_by == "three_fouls":
                    cost = 16
                self.assertEqual(total, len(outcome.counted) - cost)
            elif game == "snooker" and not outcome.legal:
                self.assertIn(total, (0, 4, 5, 6, 7))
            elif game == "rotation":
                self.assertEqual(total, sum(int(ball) for ball in outcome.counted))


if __name__ == "__main__":
    unittest.main()
