"""The demo's sessions of each game: legal by the engine, always the same, long enough."""

import unittest

from ripasso.core.rules import GAMES
from ripasso.demo.games import PLANS, game_session
from ripasso.demo.library import fill
from ripasso.review.document import Document
from ripasso.review.scoring import score_report
from tests.sessions import MemoryStorage


class GameSessions(unittest.TestCase):
    def test_each_is_legal_and_finished(self):
        for plan in PLANS:
            with self.subTest(plan.game):
                session = game_session(plan)
                self.assertEqual(session, game_session(plan))
                report = score_report(session)
                self.assertEqual(report["problems"], [])
                warnings = {w for rack in report["racks"] for shot in rack["shots"] for w in shot["warnings"]}
                self.assertEqual(warnings, set())
                self.assertIsNotNone(report["match"]["winner"])

    def test_all_games_and_a_ghost_race_are_there(self):
        self.assertEqual({p.game for p in PLANS}, set(GAMES))
        self.assertTrue(any(p.ghost for p in PLANS))

    def test_two_are_long_enough_for_figures(self):
        shots = [sum(len(r.shots) for r in game_session(p).racks) for p in PLANS]
        self.assertGreaterEqual(sum(n >= 150 for n in shots), 2)

    def test_the_demo_library_is_filled_once(self):
        storage = MemoryStorage()
        document = Document(storage)
        fill(document)
        self.assertEqual(len(storage.rows), len(PLANS) + 2)
        commits = storage.commits
        fill(document)
        self.assertEqual(storage.commits, commits)


if __name__ == "__main__":
    unittest.main()
