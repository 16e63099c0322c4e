"""What choices and strokes gave away: from the record to words, columns and the search line."""

import math
import unittest

import numpy as np

from ripasso.core.finding.matching import FIELDS, matching
from ripasso.core.finding.query import parse_query
from ripasso.core.measures.given_away import Worth, by_choice, by_stroke, is_as_good
from ripasso.core.physics.players import spreads_of_level
from ripasso.core.planning.problem import Problem
from ripasso.core.planning.weighing import value_reached, weigh, worth_of
from ripasso.core.table import table_spec
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.planner.weighed_choices import choices_of, keep_weighed, level_of, session_spreads, told
from ripasso.review.present.describing import chips
from ripasso.review.present.weighed_words import rack_given_away
from ripasso.statistics.pages.pages import Side, page_of
from ripasso.statistics.rows.search_columns import columns_of
from tests.sessions import document_with, played, rack_of, session

CLUB = spreads_of_level("club", snooker=False)
SPEC = table_spec({"preset": "pool_9ft"})


def option(value, low, high, pocket="foot_left", kind="pot"):
    found = {"kind": kind, "ball": "1", "value": value, "low": low, "high": high}
    return found | ({"pocket": pocket} if pocket else {})


def weighed(best, chosen, reached=None):
    found = {"best": best, "level": "club"}
    found |= {"chosen": chosen} if chosen else {}
    return found | ({"reached": reached} if reached is not None else {})


#: A worse choice badly struck, one as good that gained, one that was not among what was found.
WEIGHED = (
    weighed(option(0.7, 0.66, 0.74), option(0.4, 0.36, 0.44, "side_left"), 0.1),
    weighed(option(0.6, 0.55, 0.65), option(0.58, 0.53, 0.63), 0.9),
    weighed(option(0.6, 0.55, 0.65, None, "safety"), None, 0.3),
)


def reviewed():
    shots = [{**played("a", str(n)), "decision": {"weighed": one}} for n, one in enumerate(WEIGHED, 1)]
    return session(racks=[rack_of(*shots, played("a"))])


class Arithmetic(unittest.TestCase):
    def test_what_cannot_be_told_apart_is_as_good(self):
        best, near, far = Worth(0.7, 0.66, 0.74), Worth(0.65, 0.6, 0.7), Worth(0.4, 0.36, 0.44)
        self.assertTrue(is_as_good(best, near))
        self.assertEqual(by_choice(best, near), 0.0)
        self.assertAlmostEqual(by_choice(best, far), 0.3)
        self.assertAlmostEqual(by_stroke(far, 0.9), -0.5)

    def test_a_layout_that_was_reached(self):
        layout = {"cue": (1.2, 0.6), "1": (2.4, 1.2), "2": (1.27, 0.1), "9": (0.4, 0.4)}
        problem = Problem("nine_ball", SPEC, layout, ("1",))
        after = {"cue": (1.27, 0.7), "2": (1.27, 0.1), "9": (0.4, 0.4)}

        def reached(lies, *, fouled=False, goes_on=True):
            return value_reached(problem, lies, fouled=fouled, goes_on=goes_on, spreads=CLUB)

        self.assertEqual(reached(after, fouled=True), 0.0)
        self.assertGreater(reached(after), 0.95)  # the 2 hangs in the side pocket before the cue ball
        # The same left to the opponent is worth next to nothing.
        self.assertLess(reached({**after, "1": (0.02, 1.25)}, goes_on=False), 0.5)
        self.assertEqual(reached({"cue": (1.0, 0.5), "1": (2.4, 1.2)}), 1.0)  # the 9 fell: won
        self.assertIsNone(reached({"1": (2.4, 1.2), "9": (0.4, 0.4)}))

    def test_a_hanger_is_as_good_as_anything_and_the_far_corner_is_not(self):
        layout = {"cue": (1.9, 0.95), "1": (2.46, 1.2), "9": (1.27, 0.12)}
        problem = Problem("nine_ball", SPEC, layout, ("1",))
        found = weigh(problem, ("1", "foot_left"), 0.5, CLUB)
        self.assertEqual((found.chosen.ball, found.chosen.pocket), ("1", "foot_left"))
        self.assertTrue(is_as_good(worth_of(found.best), worth_of(found.chosen)))
        kept = told(found, "club")
        self.assertEqual(kept["reached"], 0.5)
        self.assertGreater(kept["chosen"]["value"], 0.6)
        self.assertIsNone(weigh(problem, ("1", "foot_left"), None, CLUB, go_on=lambda: False))


class Recorded(unittest.TestCase):
    def setUp(self):
        self.session = reviewed()
        self.shots = self.session.racks[0].shots

    def test_chips_say_it(self):
        words = [" | ".join(chip.text for chip in chips(shot)) for shot in self.shots]
        self.assertIn("choice gave away 0.30, the 1 to foot left was worth more", words[0])
        self.assertIn("stroke gave away 0.30", words[0])
        self.assertIn("choice as good as any", words[1])
        self.assertIn("stroke gained 0.32", words[1])
        self.assertIn("choice not among what was found", words[2])
        self.assertNotIn("choice", words[3])

    def test_a_rack_in_one_line(self):
        line = rack_given_away(self.shots)
        self.assertEqual(
            line, "2 shots weighed: lost 0.30 by choices, gained 0.02 by strokes, most at shot 1"
        )
        self.assertIsNone(rack_given_away(self.shots[3:]))

    def test_columns_and_the_sums_of_racks(self):
        facts, _ = columns_of([self.session])
        choice, stroke = facts.numbers("given_choice"), facts.numbers("given_stroke")
        np.testing.assert_allclose(choice, [0.3, 0.0, np.nan, np.nan], atol=1e-9)
        np.testing.assert_allclose(stroke, [0.3, -0.32, np.nan, np.nan], atol=1e-9)
        side = Side("a", "Ada", facts.equal("person", "ada quill"))
        rows = {row.id: row.figures["a"] for row in page_of("decisions", facts, [side]).rows}
        self.assertEqual(rows["gone_choice"].words.split()[0], "15")
        self.assertEqual(rows["gone_choice_rack"].words, "30 %")
        self.assertEqual((rows["as_good"].rate.made, rows["as_good"].rate.of), (1, 2))
        self.assertEqual(rows["gone_stroke"].shots.tolist(), [0, 1])

    def test_a_second_reviewer_is_a_voice_beside_the_analyst_and_the_program(self):
        """Of two weighed shots the program calls the first worse and the second as good."""

        others = [{"by": "Bo"}, {"by": "Cy", "decision": {"verdict": "agree"}}]
        shots = [
            {**played("a", str(n)), "decision": {"weighed": one, "verdict": verdict}, "others": others}
            for n, (one, verdict) in enumerate(zip(WEIGHED, ("mistake", "agree"), strict=False), 1)
        ]
        facts, columns = columns_of([session(racks=[rack_of(*shots, played("a"), played("a"))])])
        self.assertEqual(facts.texts("second_verdict").tolist(), ["agree", "agree", "", ""])
        side = Side("a", "Ada", facts.equal("person", "ada quill"))
        rows = {row.id: row.figures["a"] for row in page_of("decisions", facts, [side]).rows}
        for key, made in (("voices", 2), ("second", 1), ("second_program", 1), ("all_three", 1)):
            with self.subTest(key):
                self.assertEqual((rows[key].rate.made, rows[key].rate.of), (made, 2))
        found = matching(parse_query("second_verdict:agree verdict:mistake", FIELDS), columns)
        self.assertEqual(np.flatnonzero(found).tolist(), [0])

    def test_the_search_line_finds_it(self):
        _, columns = columns_of([self.session])
        for asked, wanted in (
            ("by_choice:>0.2", [1]),
            ("by_choice:0", [2]),
            ("by_stroke:<0", [2]),
            ("by_stroke:>0.1", [1]),
        ):
            with self.subTest(asked):
                found = matching(parse_query(asked, FIELDS), columns)
                self.assertEqual((np.flatnonzero(found) + 1).tolist(), wanted)


class OfARack(unittest.TestCase):
    BEFORE = {"cue": [1.9, 0.95], "1": [2.46, 1.2], "2": [1.27, 0.12]}  # noqa: RUF012

    def snapshot(self, *shots, **more):
        made = session(racks=[rack_of(*shots)], **more)
        return Snapshot("test", {}).applied(add_session(made).changes)

    def choices(self, *shots, **more):
        now = self.snapshot(*shots, **more)
        return choices_of(now, now.racks[0].key)

    def test_pots_with_a_call_and_safeties_with_their_balls(self):
        pot = {**played("a", "1"), "before": self.BEFORE, "call": {"ball": "1", "pocket": "foot_left"}}
        after = {"cue": [1.3, 0.5], "2": [1.27, 0.12]}
        safe = {**played("a", intent="safety"), "before": after}
        found = self.choices({**pot, "after": after}, safe, {**pot, "call": {"ball": "1"}}, played("a"))
        self.assertEqual([(one.number, one.meant) for one in found], [(1, ("1", "foot_left")), (2, None)])
        self.assertGreater(found[0].reached, 0.8)

    def test_what_is_only_proposed_is_no_choice(self):
        proposed = {**played("a"), "before": self.BEFORE, "call": {"ball": "1", "pocket": "foot_left"}}
        proposed["proposed"] = {"/call/pocket": 0.8}
        self.assertEqual(self.choices(proposed), [])

    def test_the_level_of_a_session(self):
        self.assertEqual(level_of(session()), "club")
        self.assertEqual(level_of(session(level="county")), "county")
        stated = session(level={"aim_spread_mrad": 3.0})
        self.assertEqual(level_of(stated), "stated")
        self.assertTrue(math.isclose(session_spreads(stated).aim_mrad, 3.0))
        self.assertEqual(session_spreads(stated).speed, CLUB.speed)

    def test_all_of_it_is_one_step(self):
        document = document_with(session(racks=[rack_of(played("a", "1"), played("a", "2"))]))
        before = document.session("test")
        keys = [shot.key for shot in before.racks[0].shots]
        document.run(keep_weighed(before, {keys[0]: WEIGHED[0], keys[1]: WEIGHED[1], "gone": WEIGHED[2]}))
        kept = document.session("test").racks[0].shots
        self.assertEqual([row.record.decision.weighed.reached for row in kept], [0.1, 0.9])
        document.undo()
        self.assertEqual(
            [row.record for row in document.session("test").racks[0].shots],
            [row.record for row in before.racks[0].shots],
        )


if __name__ == "__main__":
    unittest.main()
