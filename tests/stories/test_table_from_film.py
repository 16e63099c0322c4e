"""Cloth and cushions told from the ways on film, kept with the session, and what Plan plays on then."""

import numpy as np

from ripasso.review.document.edits import add_session
from tests.core.physics.test_calibrating import shots, table
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, click, in_dialog, press, wait_until


class TableFromFilm(WindowCase):
    def setUp(self):
        super().setUp()
        made = []
        for number, (problem, seen) in enumerate(shots(np.random.default_rng(1), table(1), 3)):
            strike, ways = 10.0 * number, {}
            for one in seen:
                ways.setdefault(one.ball, []).append([strike + one.time_s, one.x, one.y])
            layout = {ball: list(place) for ball, place in problem.layout.items()}
            made.append({**played("a"), "t_strike": strike, "before": layout, "path": ways})
        self.workspace.document.run(add_session(session(racks=[rack_of(*made)])))
        self.window.open_session("test")
        press("Down")

    def test_a_slow_cloth_is_told_kept_and_planned_on(self):
        told = []

        def tell(dialog):
            self.assertIsNone(dialog.cloth.currentData())
            click(dialog.from_film)
            self.assertFalse(dialog.from_film.isEnabled())
            wait_until(dialog.from_film.isEnabled, "the table")
            told.append((dialog.cloth.currentData(), dialog.cushions.currentData(), dialog._told.text()))
            dialog._keep()

        in_dialog(tell)
        press("Ctrl+T")
        cloth, cushions, words = told[0]
        self.assertEqual((cloth, cushions), ("slow", "dull"))
        self.assertRegex(words, r"^rolling resistance 0\.01\d\d ± 0\.\d+; .*From 3 shots; places are \d+ mm")
        state = self.review.controller.snapshot.head.table_state
        self.assertEqual((state.cloth, state.cushions), ("slow", "dull"))
        press("Ctrl+Shift+P")
        wait_until(lambda: self.window.plan.desk is not None, "the simulator")
        plan = self.window.plan.desk.controller.state
        wait_until(lambda: plan.source is not None, "the shot")
        self.assertEqual((plan.feel.cloth, plan.feel.cushions), ("slow", "dull"))
        self.assertEqual(self.window.plan.desk.stroke.cloth.currentData(), "slow")

    def test_too_little_is_a_sentence_and_a_closed_dialog_hears_nothing(self):
        press("Delete")
        said = []

        def tell(dialog):
            click(dialog.from_film)
            wait_until(dialog.from_film.isEnabled, "the sentence")
            said.append(dialog._told.text())
            click(dialog.from_film)
            dialog.reject()

        in_dialog(tell)
        press("Ctrl+T")
        self.assertIn("3 shots at least", said[0])
        wait_until(lambda: not self.workspace.background.busy, "the end of the work")


if __name__ == "__main__":
    import unittest

    unittest.main()
