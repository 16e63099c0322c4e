"""The demo's sessions of each game: legal by the engine, always the same, long enough."""

import unittest

from ripasso.core.rules import GAMES
from ripasso.core.table import table_spec
from ripasso.core.table.placing import overlapping
from ripasso.demo.library import fill
from ripasso.demo.matches.games import PLANS, game_session
from ripasso.demo.matches.sessions import shipped, written
from ripasso.review.document.document import Document
from ripasso.review.measuring.measuring import measure_session
from ripasso.review.scoring.scoring import score_report
from ripasso.statistics.rows.shot_rows import derived_rows
from tests.sessions import MemoryStorage, warnings_of


class GameSessions(unittest.TestCase):
    def test_each_is_legal_and_finished(self):
        for plan in PLANS:
            with self.subTest(plan.game):
                session = game_session(plan)
                self.assertEqual(session, game_session(plan))
                report = score_report(session)
                self.assertEqual(report["problems"], [])
                self.assertEqual(warnings_of(report), set())
                self.assertIsNotNone(report["match"]["winner"])

    def test_all_games_and_a_ghost_race_are_there(self):
        self.assertEqual({p.game for p in PLANS}, set(GAMES))
        self.assertTrue(any(p.ghost for p in PLANS))

    def test_two_are_long_enough_for_figures(self):
        shots = [sum(len(r.shots) for r in game_session(p).racks) for p in PLANS]
        self.assertGreaterEqual(sum(n >= 150 for n in shots), 2)

    def test_the_demo_library_is_filled_once(self):
        storage = MemoryStorage()
        document = Document(storage, derived_rows)
        fill(document)
        self.assertEqual(len(storage.rows), len(PLANS) + 3)
        commits = storage.commits
        fill(document)
        self.assertEqual(storage.commits, commits)


class Layouts(unittest.TestCase):
    def test_what_ships_is_what_is_written(self):
        sessions = {session.id: session for session in shipped()}
        self.assertEqual(len(sessions), len(PLANS) + 1)
        for plan in PLANS:
            if plan.key in ("demo-ghost", "demo-ten"):
                self.assertEqual(sessions[plan.key], written(game_session(plan)))

    def test_every_shot_has_possible_layouts_and_the_same_score(self):
        for session in shipped():
            spec = table_spec(session.table)
            report = score_report(session)
            self.assertEqual(report["problems"], [])
            self.assertEqual(warnings_of(report), set())
            for rack in session.racks:
                for shot in rack.shots:
                    for layout in (shot.before, shot.after):
                        self.assertEqual(
                            overlapping(spec, layout), [], (session.id, rack.number, shot.number)
                        )

    def test_pots_that_went_in_could_go_in(self):
        """Of the made pots nearly all had a chance; what was left after a lost position was less."""
        match = shipped()[-1]
        chances, left = [], {"good": [], "lost": []}
        for rack, measured in zip(match.racks, measure_session(match), strict=True):
            for shot, found in zip(rack.shots, measured, strict=True):
                if shot.intent == "pot" and shot.facts.potted and found.geometry:
                    chances.append(found.geometry.chance or 0.0)
                said = shot.result.position if shot.result else None
                if said in left and found.leave is not None:
                    left[said].append(found.leave)
        self.assertGreater(sum(chance > 0.1 for chance in chances) / len(chances), 0.9)
        self.assertGreater(sum(left["good"]) / len(left["good"]), sum(left["lost"]) / len(left["lost"]) + 0.2)


if __name__ == "__main__":
    unittest.main()
