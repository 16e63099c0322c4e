"""The demo's sessions of each game: legal by the engine, long enough, played by the simulator."""

import math
import unittest

from ripasso.core.physics.motion import simulate
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.problem import Problem
from ripasso.core.rules import GAMES
from ripasso.core.table import pocket_mouth_middle, table_spec
from ripasso.core.table.placing import overlapping
from ripasso.demo.library import fill
from ripasso.demo.matches.habits import Habits, as_played
from ripasso.demo.matches.judging import miss_of_aim, signed_cut_deg
from ripasso.demo.matches.plans import PLANS, Plan
from ripasso.demo.matches.playing import facts_of, played
from ripasso.demo.matches.sessions import shipped
from ripasso.review.document.document import Document
from ripasso.review.measuring.measuring import measure_session
from ripasso.review.scoring.scoring import score_report
from ripasso.statistics.report import stats_report
from ripasso.statistics.rows.shot_rows import derived_rows
from tests.sessions import MemoryStorage, warnings_of

#: What club players and somewhat better ones pot of all they try (common practice, no source).
POTTED = (0.68, 0.9)


def shots_of(sessions):
    racks = [rack for one in sessions for rack in one.racks]
    return [shot for rack in racks for shot in rack.shots]


class Shipped(unittest.TestCase):
    def test_each_is_legal_and_finished(self):
        for session in shipped():
            with self.subTest(session.game):
                report = score_report(session)
                self.assertEqual(report["problems"], [])
                self.assertEqual(warnings_of(report), set())
                self.assertIsNotNone(report["match"]["winner"])

    def test_all_games_and_a_ghost_race_are_there(self):
        self.assertEqual({session.game for session in shipped()}, set(GAMES))
        self.assertEqual([session.id for session in shipped()], [plan.key for plan in PLANS])
        self.assertTrue(any(session.kind == "ghost" for session in shipped()))

    def test_some_are_long_enough_for_figures(self):
        counts = [len(shots_of([session])) for session in shipped()]
        self.assertGreaterEqual(sum(count >= 150 for count in counts), 3)

    def test_the_demo_library_is_filled_once(self):
        storage = MemoryStorage()
        document = Document(storage, derived_rows)
        fill(document)
        self.assertEqual(len(storage.rows), len(PLANS) + 2)
        commits = storage.commits
        fill(document)
        self.assertEqual(storage.commits, commits)

    def test_every_shot_has_possible_layouts(self):
        for session in shipped():
            spec = table_spec(session.table)
            for rack in session.racks:
                for shot in rack.shots:
                    for layout in (shot.before, shot.after):
                        self.assertEqual(
                            overlapping(spec, layout), [], (session.id, rack.number, shot.number)
                        )

    def test_a_rack_goes_on_from_where_the_balls_lay(self):
        for session in shipped():
            for rack in session.racks:
                for one, later in zip(rack.shots, rack.shots[1:], strict=False):
                    same = {ball: place for ball, place in one.after.items() if ball != "cue"}
                    self.assertEqual({b: p for b, p in later.before.items() if b != "cue"}, same)

    def test_they_pot_what_such_players_pot(self):
        pots = [shot for shot in shots_of(shipped()) if shot.intent == "pot"]
        made = [shot for shot in pots if shot.facts.potted and not shot.facts.cue_potted]
        self.assertGreater(len(made) / len(pots), POTTED[0])
        self.assertLess(len(made) / len(pots), POTTED[1])

    def test_racks_are_run_out(self):
        """Of the racks of nine-ball some are ended by one visit of five pots and more."""
        long = 0
        for rack in shipped()[-1].racks:
            last = rack.shots[-1].player
            pots = 0
            for shot in reversed(rack.shots):
                if shot.player != last or not shot.facts.potted:
                    break
                pots += len(shot.facts.potted)
            long += pots >= 5
        self.assertGreaterEqual(long, 3)

    def test_pots_that_went_in_could_go_in(self):
        """Of the made pots nearly all had a chance; what was left after a lost position was less."""
        chances, left = [], {"good": [], "lost": []}
        match = shipped()[-1]
        for rack, measured in zip(match.racks, measure_session(match), strict=True):
            for shot, found in zip(rack.shots, measured, strict=True):
                if shot.intent == "pot" and shot.facts.potted and found.geometry:
                    chances.append(found.geometry.chance or 0.0)
                said = shot.result.position if shot.result else None
                if said in left and found.leave is not None:
                    left[said].append(found.leave)
        self.assertGreater(sum(chance > 0.1 for chance in chances) / len(chances), 0.9)
        self.assertGreater(sum(left["good"]) / len(left["good"]), sum(left["lost"]) / len(left["lost"]) + 0.2)

    def test_the_planted_habits_show(self):
        """Lioba's cue ball runs long; Casimir misses his cuts to the left thin."""
        figures = stats_report([shipped()[-1]])["players"]
        longs = {name: figures[name]["position_judged"]["long"]["rate"] for name in ("lioba", "casimir")}
        self.assertGreater(longs["lioba"], longs["casimir"] + 0.1)
        missed = [s for s in shots_of(shipped()) if s.player == "casimir" and s.result and s.result.contact]
        thin = {
            side: [s.result.contact == "thin" for s in missed if side in (s.tags or ())]
            for side in ("cut_left", "cut_right")
        }
        share = {side: sum(found) / len(found) for side, found in thin.items()}
        self.assertGreater(share["cut_left"], 0.65)
        self.assertGreater(share["cut_left"], share["cut_right"] + 0.1)


class Playing(unittest.TestCase):
    """What plays the sessions, on a rack of its own."""

    PLAN = Plan("a-test", "A test", "2026-01-01", "nine_ball", 1, {"race_to": 1}, unjudged=1)

    def test_a_rack_is_played_to_its_end_the_same_each_time(self):
        session = played(self.PLAN)
        self.assertEqual(session, played(self.PLAN))
        report = score_report(session)
        self.assertEqual(report["problems"], [])
        self.assertEqual(warnings_of(report), set())
        self.assertIsNotNone(report["match"]["winner"])
        # It was left to be judged: what stands there is only what happened.
        for shot in shots_of([session]):
            self.assertIsNone(shot.decision)
            self.assertIsNone(shot.error)
            self.assertIsNone(shot.result.position if shot.result else None)

    def test_a_left_cut_is_aimed_out_to_the_right(self):
        spec = table_spec({"preset": "pool_9ft"})
        problem = Problem("nine_ball", spec, {"cue": (0.6, 0.6), "1": (1.4, 0.6)}, ("1",))
        spreads = spreads_of_level("club", snooker=False)
        exact = Stroke(-0.04, 2.0)
        thin = as_played(exact, 0.0, [0.0] * 4, spreads, Habits(left_cuts_thin=1.0), spec.ball_radius)
        self.assertAlmostEqual(thin.phi, exact.phi - spreads.aim_mrad / 1000)
        cuts = [
            signed_cut_deg(simulate(problem.layout, one, problem.bed, problem.physics))
            for one in (exact, thin)
        ]
        self.assertGreater(cuts[0], 0)  # to the left
        self.assertGreater(cuts[1], cuts[0])  # and thinner
        right = as_played(Stroke(0.04, 2.0), 0.0, [0.0] * 4, spreads, Habits(left_cuts_thin=1.0), 0.0286)
        self.assertEqual(right.phi, 0.04)

    def test_harder_is_long(self):
        spec = table_spec({"preset": "pool_9ft"})
        problem = Problem("nine_ball", spec, {"cue": (0.6, 0.6), "1": (1.4, 0.62)}, ("1",))
        motions = [
            simulate(problem.layout, Stroke(0.0, speed, 0.0, 0.3), problem.bed, problem.physics)
            for speed in (1.5, 1.65)
        ]
        along, across = miss_of_aim(*motions)
        self.assertGreater(along, 0.02)
        self.assertLess(abs(across), along)

    def test_facts_are_those_of_the_motion(self):
        spec = table_spec({"preset": "pool_9ft"})
        x, y = pocket_mouth_middle(spec, "foot_left")
        way = math.atan2(y - 0.9, x - 2.2)
        ball = (2.2 + 0.1 * math.cos(way), 0.9 + 0.1 * math.sin(way))
        problem = Problem("nine_ball", spec, {"cue": (2.2, 0.9), "1": ball}, ("1",))
        for speed, follows in ((2.5, True), (0.9, False)):
            stroke = Stroke(way, speed, 0.0, 0.45 if follows else -0.2)
            facts = facts_of(simulate(problem.layout, stroke, problem.bed, problem.physics), is_break=False)
            self.assertEqual(facts["potted"], [{"ball": "1", "pocket": "foot_left"}])
            self.assertEqual(facts["first_contact"], "1")
            self.assertEqual(facts.get("cue_potted", False), follows)


if __name__ == "__main__":
    unittest.main()
