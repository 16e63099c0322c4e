"""A rack worked out in Plan by keys: map, order, a lesson, both groups, ball in hand; and back in Review."""

from ripasso.drawing.primitives import Polygon
from ripasso.review.document.edits import add_session
from ripasso.review.present.rack_sheet import plan_sheet
from ripasso.review.present.ribbon import ribbon_of
from ripasso.review.present.weighed_words import rack_given_away
from ripasso.review.record.people import PROGRAM
from ripasso.review.scoring.weighed import chance_to_clear, losing_shot
from ripasso.ui.review.rack.plans_grid import planned_words
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, press, wait_until

#: The last three balls of a rack; the cue ball lies for the 1.
BEFORE = {"cue": [0.7, 0.45], "1": [1.75, 0.85], "2": [0.9, 1.0], "9": [2.2, 0.3]}
AFTER = {"cue": [1.3, 1.1], "2": [0.9, 1.0], "9": [2.2, 0.3]}
MISSED = {"cue": [2.3, 0.2], "2": [0.95, 0.4], "9": [2.2, 0.3]}


def made_session():
    pot = {**played("a", "1"), "call": {"ball": "1", "pocket": "foot_left"}, "before": BEFORE, "after": AFTER}
    miss = {
        **played("a", made=False),
        "call": {"ball": "2", "pocket": "head_left"},
        "before": AFTER,
        "after": MISSED,
    }
    return session(racks=[rack_of(pot, miss)])


class OfARack(WindowCase):
    def setUp(self):
        super().setUp()
        self.workspace.document.run(add_session(made_session()))
        self.window.open_session("test")
        self.to_plan()

    def to_plan(self):
        press("Ctrl+Shift+P")
        wait_until(lambda: self.window.plan.desk is not None, "the simulator")
        self.desk = self.window.plan.desk
        self.rack, self.page = self.desk.rack, self.desk.rack_page

    def work_out(self):
        press("C")
        wait_until(lambda: self.rack.state.worked is not None, "a first answer")
        wait_until(lambda: self.rack.share is None and self.rack.state.worked.fine, "the plan")

    def test_the_plan_by_keys(self):
        self.work_out()
        self.assertIs(self.desk.pages.currentWidget(), self.page)
        self.assertEqual(self.rack.state.plan.order, ("1", "2", "9"))
        self.assertRegex(
            self.page.text(), r"^To clear: \d+ % \(\d+–\d+ %\)\.\nIn this order: 1, 2 and then 9\."
        )
        self.assertRegex(self.page.chain.accessibleDescription(), r"^1 \w+ \w \d+ %, 2 ")
        self.map_and_chain()
        self.lesson()
        press("F")
        first = self.rack.state.plan.steps[0]
        self.assertEqual(self.desk.controller.state.stroke.phi, first.stroke.phi)
        self.assertEqual(self.desk.controller.state.problem.call, (first.ball, first.pocket))
        press("Shift+Return")  # the order shown is one's own: the plan kept is not the program's
        (kept,) = self.review.controller.rack.record.plans
        self.assertIsNone(kept.by)
        self.assertEqual([one.ball for one in kept.order], ["1", "2", "9"])
        self.zone_is_valued()
        self.a_second_look_is_at_once()

    def map_and_chain(self):
        shaded = [one for one in self.desk._drawn_under() if isinstance(one, Polygon)]
        self.assertTrue(shaded)
        press("M")
        self.assertFalse([one for one in self.desk._drawn_under() if isinstance(one, Polygon)])
        press("M", "]")
        self.assertEqual(self.rack.state.chosen, 1)
        press("]", "]")
        self.assertEqual(self.rack.state.chosen, 2)
        press("[", "[", "[")
        self.assertEqual(self.rack.state.chosen, 0)
        press("Ctrl+]")  # the rules say which ball is on
        wait_until(lambda: any("do not let" in said for said in self.said), "the answer")
        self.assertIn("Your order: 2, 1 and then 9", self.page.text())
        press("Ctrl+[")
        wait_until(lambda: self.rack.state.own_plan is not None, "the chance")
        self.assertRegex(self.page.text(), r"Your order: 1, 2 and then 9: \d+ %, against \d+ %\.")
        self.assertRegex(
            self.page.chain.accessibleDescription(),
            r"^1 \w+ \w \d+ %, 2 \w+ \w \d+ %, 9 .* %, the program's order \d+ % \d+ % \d+ %$",
        )

    def lesson(self):
        press("U")
        self.assertEqual(self.page.text(), "The 9 is the last ball. From where do you want to play it?")
        self.assertEqual(self.rack.state.steps, ())
        press("U")
        self.assertRegex(
            self.page.text(), r"^The 9 into .*; from the best places the rest is cleared in \d+ %\.$"
        )
        self.assertEqual(set(self.rack.state.lesson_layout(BEFORE)), {"9"})
        press("U")
        self.assertIn("Before that the 2", self.page.text())
        press("U", "U", "U", "U")
        self.assertIn("That is the whole rack.", self.said[-1])
        self.assertIsNone(self.rack.state.lesson)

    def zone_is_valued(self):
        press("Z")
        self.assertRegex(self.page.text(), r"Your zone holds \d+ % of the best\.")
        press("Z")

    def a_second_look_is_at_once(self):
        self.rack.state.forget()
        press("C")
        self.assertTrue(self.rack.state.worked.fine)
        self.assertIsNone(self.rack.share)

    def test_the_plan_goes_to_the_rack_and_the_loss_is_traced(self):
        self.work_out()
        press("Shift+Return")
        self.assertIn("Kept with the plans of the rack", self.said[-1])
        (plan,) = self.review.controller.rack.record.plans
        self.assertEqual((plan.by, plan.key_ball), (PROGRAM, "2"))
        self.assertEqual([one.ball for one in plan.order], ["1", "2", "9"])
        self.assertIsNotNone(plan.order[0].zone)
        sheet = plan_sheet(self.review.controller.rack.record, plan, "nine_ball")
        self.assertRegex(sheet.title, r"^Plan 1, by Ripasso, clears in \d+ %, key ball 2$")
        self.assertRegex(planned_words(sheet.lines[0]), r"^1 .* \(\w+, \d+ % before it\)")
        press("Shift+Return")  # once more: the newer one stands for the older
        self.assertEqual(len(self.review.controller.rack.record.plans), 1)
        press("Ctrl+Z")
        press("Esc", "Ctrl+Shift+W")
        wait_until(lambda: not self.review.weighing.busy, "the choices")
        shots = [row.record for row in self.review.controller.rack.shots]
        self.assertGreater(chance_to_clear(shots[0]), 0.3)
        self.assertEqual(losing_shot(shots)[0], 2)
        self.assertRegex(rack_given_away(shots), r"the chance to clear (lost|gained) .*, most at shot 2: 0")
        line = [
            token.clear
            for token in ribbon_of(self.review.controller.snapshot, self.review.controller.rack).tokens
        ]
        self.assertEqual(line, [chance_to_clear(shot) for shot in shots])
        self.assertRegex(self.review.shots.ribbon.accessibleDescription(), r"to clear \d+ %")

    def test_the_table_is_read_with_flags(self):
        press("T")
        wait_until(lambda: self.rack.state.reading is not None, "the reading")
        self.assertIs(self.desk.pages.currentWidget(), self.desk.reading_page)
        self.assertTrue(self.desk.reading_page.text())
        self.assertEqual(self.desk._drawn_over(), [])
        press("T")
        self.assertIsNone(self.rack.state.reading)

    def test_without_a_plan_its_keys_say_what_to_do(self):
        for key in ("]", "Ctrl+]"):
            press(key)
            self.assertIn("Work the rack out first", self.said[-1])
        press("G")
        self.assertIn("no other group", self.said[-1])
        self.desk.controller.balls.place("cue", (0.71, 0.47))  # no rack that is known already
        press("C", "C")
        self.assertIn("stopped", self.said[-1])
        self.assertIsNone(self.rack.share)

    def lay(self, balls, on):
        """An eight-ball table with these balls on."""
        state = self.desk.controller.state
        state.take("eight_ball", state.problem.spec, balls, on, None, None)
        self.desk.controller.renew()

    def test_an_order_of_one_s_own_is_on_the_table(self):
        self.lay({"cue": (1.3, 0.7), "1": (2.3, 1.0), "2": (0.9, 0.9), "8": (0.2, 0.2)}, ("1", "2"))
        self.work_out()
        first, second, last = self.rack.state.plan.order
        self.rack.choose(0)
        press("Ctrl+]")
        wait_until(lambda: self.rack.state.own_plan is not None, "the plan in that order")
        self.assertEqual([step.ball for step in self.rack.state.steps], [second, first, last])
        self.assertRegex(
            self.page.chain.accessibleDescription(),
            rf"^{second} .* %, {first} .* %, {last} .*, the program's",
        )
        press("F")
        self.assertEqual(self.desk.controller.state.problem.call[0], second)

    def test_both_groups_and_the_cue_ball_in_hand(self):
        plan = self.desk.controller
        self.lay({"cue": (1.3, 0.7), "1": (2.3, 1.0), "8": (0.2, 0.2), "9": (0.3, 1.0)}, ("1",))
        press("G")
        self.assertEqual(plan.state.problem.on, ("9",))
        wait_until(lambda: self.rack.share is None and self.rack.state.worked is not None, "the plan")
        self.assertEqual(self.rack.state.plan.order, ("9", "8"))
        press("J")
        self.assertRegex(self.said[-1], r"from here the rack is cleared in \d+ %|worked out")
        place = plan.state.problem.layout["cue"]
        self.assertNotEqual(place, (1.3, 0.7))
        wait_until(lambda: self.rack.share is None, "the plan from there")
        self.assertGreater(self.rack.state.plan.clear, 0.8)
