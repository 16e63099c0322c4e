"""The match page in the real window: read, and followed back to a rack and a visit."""

from tests.windows import WindowCase, in_dialog, press, wait_until, write


class MatchPage(WindowCase):
    demo = True

    def cells(self, model, row):
        return [model.data(model.index(row, column), 0) for column in range(model.columnCount())]

    def test_the_course_of_the_match_leads_to_its_racks(self):
        self.window.open_session("demo-winter-ladder")
        press("F8")
        page = self.review.match_page
        self.assertTrue(page.isVisible())
        self.assertEqual(page.rack_model.rowCount(), 17)
        self.assertEqual(self.cells(page.rack_model, 16)[1:4], ["8 – 9", "Lioba Trevan", "Casimir Odel"])
        self.assertIn("9 racks won", page._summary.text())
        page.racks.selectRow(5)
        page.racks.setFocus()
        press("Return")
        self.assertFalse(page.isVisible())
        self.assertEqual(
            (self.review.controller.rack.record.number, self.review.controller.shot.record.number), (6, 1)
        )

    def test_the_ledger_has_its_times_and_leads_to_the_film(self):
        self.wait_for_film()
        press("F8")
        page = self.review.match_page
        self.assertEqual(page.visit_model.rowCount(), 5)
        wait_until(lambda: self.cells(page.visit_model, 3)[3], "the chances to be measured")
        third = self.cells(page.visit_model, 3)
        # The 4 was on straight from where the cue ball had been placed; the visit ended without the rack.
        self.assertEqual(third[1:4], ["Casimir Odel", "ball in hand", "100 %, not taken"])
        self.assertEqual(third[4:7], ["a miss", "2", "3"])
        self.assertEqual(third[7], "0:24")  # from 68.76 s to 93.12 s
        page.visits.selectRow(3)
        page.visits.setFocus()
        press("Return")
        wait_until(lambda: self.review.controller.shot.record.number == 8)
        self.wait_for_film()
        self.assertAlmostEqual(self.review.player.time_s, 68.76, delta=0.04)

    def test_racks_not_shown_are_stated_and_said(self):
        self.window.open_session("demo-winter-ladder")

        def state(dialog):
            write("12")
            press("Return")

        in_dialog(state)
        press("Shift+K")
        self.assertIn("next strike begins", self.said[-1])
        press("F8")
        page = self.review.match_page
        self.assertEqual(self.cells(page.rack_model, 17)[4], "not shown")
        press("F8", "Ctrl+Z")
        self.assertEqual(len(self.review.controller.snapshot.racks), 17)

    def test_the_page_follows_what_is_changed(self):
        press("F8", "F8", "Down", "F8")
        page = self.review.match_page
        before = self.cells(page.visit_model, 0)
        press("F8", "0", "F8")
        self.assertNotEqual(self.cells(page.visit_model, 0), before)
