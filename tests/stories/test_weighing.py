"""A rack's choices weighed by one key: what choice and stroke gave away, in the slip and in Statistics."""

from ripasso.review.document.edits import add_session
from ripasso.review.present.describing import chips
from tests.review.test_same_layouts import document
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, press, wait_until

#: The 1 hangs at foot left, the 2 at the side pocket.
BEFORE = {"cue": [1.9, 0.95], "1": [2.46, 1.2], "2": [1.27, 0.12]}
AFTER = {"cue": [1.3, 0.5], "2": [1.27, 0.12]}


class Weighing(WindowCase):
    def setUp(self):
        super().setUp()
        pot = {
            **played("a", "1"),
            "call": {"ball": "1", "pocket": "foot_left"},
            "before": BEFORE,
            "after": AFTER,
        }
        made = session(racks=[rack_of(pot, played("b", intent="safety"))])
        self.workspace.document.run(add_session(made))
        self.window.open_session("test")

    def weighed(self, place=0):
        decision = self.review.controller.snapshot.racks[0].shots[place].record.decision
        return decision.weighed if decision is not None else None

    def test_a_rack_by_one_key_and_what_becomes_of_it(self):
        press("Ctrl+Shift+W")
        self.assertIn("are weighed", self.said[-1])
        wait_until(lambda: not self.review.weighing.busy, "the choices")
        self.assertRegex(
            self.said[-1], r"^1 shot weighed: lost 0\.00 by choices, (gained )?\d\.\d\d by strokes"
        )
        found = self.weighed()
        self.assertEqual((found.chosen.ball, found.chosen.pocket, found.level), ("1", "foot_left", "club"))
        self.assertGreater(found.reached, 0.8)
        self.assertIsNone(self.weighed(1), "without its balls nothing is claimed")
        told = [chip.text for chip in chips(self.review.controller.shot.record)]
        self.assertIn("choice as good as any", told)
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: page._page is not None, "the figures")
        self.assertEqual((page._page.facts.numbers("given_choice") == 0).sum(), 1)
        press("Ctrl+2", "Ctrl+Z")
        self.assertIsNone(self.weighed())
        press("Ctrl+Y")
        self.assertEqual(self.weighed(), found)

    def test_asked_again_it_stops_and_nothing_is_claimed(self):
        press("Ctrl+Shift+W", "Ctrl+Shift+W")
        wait_until(lambda: not self.review.weighing.busy, "the end")
        self.assertIsNone(self.weighed())
        self.assertIn("Nothing was weighed", self.said[-1])

    def test_a_window_that_closes_stops_it(self):
        press("Ctrl+Shift+W")
        stop = self.review.weighing._stop
        self.close_window()
        self.assertTrue(stop.is_set())


class SetUpAgain(WindowCase):
    def test_the_slip_and_the_rack_s_line_stand_beside_the_first_time(self):
        self.workspace.document.run(add_session(document().session("test").session))
        self.window.open_session("test")
        self.assertIn("2 shots weighed: lost 0.10 by choices", self.review.shots._story.text())
        self.assertNotIn("same layout", self.review.shots.slip.accessibleDescription())
        press("PgDown")
        self.assertIn(
            "rack 1, from the same layout, lost 0.10 by choices, 0.90 by strokes",
            self.review.shots._story.text(),
        )
        self.assertIn("beside it the choice gained 0.10", self.review.shots.slip.accessibleDescription())
