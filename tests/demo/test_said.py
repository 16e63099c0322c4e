"""What the demo's analyst said fits what happened, and the habits that were planted in it can be counted."""

import unittest

from ripasso.core.measures.attempts import change_effects
from ripasso.demo.matches.choosing import ALONE
from ripasso.demo.matches.said import with_words
from ripasso.demo.matches.sessions import shipped
from ripasso.review.scoring.scoring import score_of


def shots(*ids):
    sessions = [one for one in shipped() if not ids or one.id in ids]
    racks = [rack for one in sessions for rack in one.racks or ()]
    return [shot for rack in racks for shot in rack.shots or ()]


class Said(unittest.TestCase):
    def test_the_score_is_that_of_before(self):
        for session in shipped():
            score = score_of(session)
            self.assertEqual(score.problems, (), session.id)
            self.assertEqual([s.warnings for r in score.racks for s in r.shots if s.warnings], [], session.id)

    def test_saying_it_again_says_the_same(self):
        one = next(session for session in shipped() if session.id == "demo-ten")
        self.assertEqual(with_words(one), with_words(one))

    def test_every_pot_has_a_stroke_and_no_tip_lies_beyond_the_miscue_limit(self):
        """Half a radius: common practice, no source."""
        for shot in shots():
            if shot.intent == "pot":
                right, up = shot.stroke.tip
                self.assertLessEqual((right**2 + up**2) ** 0.5, 0.5 + 1e-9)

    def test_casimir_misses_more_with_side(self):
        counts = {True: [0, 0], False: [0, 0]}
        for shot in shots():
            if shot.intent == "pot" and shot.player == "casimir":
                sided = counts[abs(shot.stroke.tip[0]) >= 0.15]
                sided[0] += bool(shot.facts.potted)
                sided[1] += 1
        self.assertLess(counts[True][0] / counts[True][1], counts[False][0] / counts[False][1] - 0.03)

    def test_what_lioba_plays_with_draw_runs_long(self):
        def share(player):
            judged = [
                s.result.pace == "long"
                for s in shots()
                if s.player == player and s.stroke and s.stroke.tip[1] <= -0.2 and s.result and s.facts.potted
            ]
            return sum(judged) / len(judged)

        self.assertGreater(share("lioba"), share("casimir") + 0.1)

    def test_the_clock_of_the_frame_match_never_goes_back(self):
        last = 0.0
        for shot in shots("demo-snooker"):
            self.assertGreater(shot.t_strike, last)
            self.assertGreater(shot.t_rest, shot.t_strike)
            last = shot.t_rest

    def test_an_option_that_was_preferred_promised_more(self):
        """Its pot and what it leaves, in the measure of who plays the demo."""
        seen = 0
        for shot in shots():
            if shot.plan is None or not shot.plan.options:
                continue
            chosen, other = (one.chance * (ALONE + (1 - ALONE) * one.leave) for one in shot.plan.options)
            self.assertTrue(shot.plan.options[0].chosen)
            if shot.decision and shot.decision.verdict == "prefer_other":
                self.assertGreater(other, chosen - 0.05)
                seen += 1
        self.assertGreater(seen, 10)


class Practice(unittest.TestCase):
    def test_lower_on_the_ball_helped(self):
        evening = next(session for session in shipped() if session.id == "demo-ghost")
        stop = evening.attempt_sets[0]
        self.assertEqual(len(stop.attempts), 16)
        outcomes = [one.outcome == "success" for one in stop.attempts]
        changes = ["" if not one.changed else one.changed[0].what for one in stop.attempts]
        effects = {one.what: one for one in change_effects(outcomes, changes)}
        self.assertEqual((effects["height"].after.made, effects["height"].after.of), (7, 8))
        self.assertEqual((effects["height"].before.made, effects["height"].before.of), (2, 5))


if __name__ == "__main__":
    unittest.main()
