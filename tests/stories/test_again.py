"""A shot rebuilt in two dozen attempts with two criteria, first met at different attempts; a key each."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from tests.windows import WindowCase, click, on_table, press, wait_until


class Again(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        press("Down", "Down", "Down")
        # The frame on screen is what an attempt is counted at.
        self.wait_for_film()

    @property
    def page(self):
        return self.review.again_page

    def line(self, field, text):
        field.setText(text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.page.setFocus()

    def test_twenty_nine_attempts_with_miscues_and_rest_places(self):
        press("Up", "Ctrl+A")  # a shot with a planned area
        wait_until(self.page.hasFocus, "the counter")
        self.line(self.page.before, "3")
        for number in range(1, 30):
            press("G" if number % 5 == 0 else "C")
            if number in (4, 13, 22):
                press("W")
                self.line(self.page.words, "miscued note the tip was dry")
        self.assertIn("at least 3 before that nobody counted", self.page.first.text())
        self.assertEqual(self.page.counter.text(), "5 of 29")
        view = self.page.table
        area = next(one for one in self.review.again.made.criteria if one.zone is not None)
        centre = area.zone.circle.centre
        click(view, on_table(view, (float(centre[0]), float(centre[1]))))  # the last one stopped in the area
        # The fifth is looked at, corrected and placed; behind the last one counting goes on.
        press(*["Left"] * 25)
        self.assertIn("Attempt 5: success", self.page.told.text())
        click(view, on_table(view, (0.3, 0.3)))
        press("V")
        self.assertIn("Attempt 5: failure, thin", self.page.told.text())
        press(*["Right"] * 25)
        attempts = self.review.again.made.attempts
        self.assertEqual(len(attempts), 29)
        self.assertEqual([one.number for one in attempts if "miscue" in one.every_cause], [4, 13, 22])
        self.assertEqual({one.note for one in attempts if one.every_cause}, {"the tip was dry"})
        self.assertEqual([one.number for one in attempts if one.rest is not None], [5, 29])
        self.assertEqual((attempts[4].outcome, attempts[4].miss), ("failure", "thin"))
        self.assertTrue(attempts[28].met[area.id])
        self.assertEqual(self.page.counter.text(), "4 of 29")
        self.assertRegex(self.page.criteria.text(), r"the ball falls: 4 of 29 \(\d+ % to \d+ %\)")
        self.line(self.page.name, "the long red")
        self.assertEqual(self.page.title.text(), "the long red")
        press("G")
        self.assertEqual(self.page.counter.text(), "5 of 30")
        press("W")
        self.line(self.page.words, "beautifully")
        self.assertIn("beautifully", self.said[-1])

    def test_two_dozen_attempts(self):
        shots = len(self.review.controller.snapshot.shots)
        press("Ctrl+A")
        wait_until(self.page.hasFocus, "the counter")
        self.page.more.setText("the 4 is on afterwards")
        QTest.keyClick(self.page.more, Qt.Key.Key_Return)
        self.page.setFocus()
        made = self.review.again.made
        criteria = [one.id for one in made.criteria]
        self.assertIn("the 4 is on afterwards", [one.text for one in made.criteria])
        # Missed, thick and thin, until the aim is changed; the ball falls first at the sixth.
        press("C", "C", "V", "M", "M")
        press("N")
        self.page.change.setText("aim 2 mm")
        QTest.keyClick(self.page.change, Qt.Key.Key_Return)
        self.assertIn("aim 2 mm", self.page.pending.text())
        press("M", "1")
        for _ in range(5):
            press("M", "1")
        press("M")
        # Both at once first at the thirteenth, and from then on every other time.
        for number in range(13, 25):
            press("G" if number % 2 else "M")
        made = self.review.again.made
        self.assertEqual(len(made.attempts), 24)
        self.assertEqual(self.page.counter.text(), "6 of 24")
        self.assertIn("First success at attempt 13", self.page.first.text())
        self.assertIn("24 not on film", self.page.first.text())
        words = self.page.criteria.text().splitlines()
        self.assertIn("first at 6", words[0])
        self.assertIn("first at 13", words[-1])
        self.assertIn("aim 2 mm at 6: 0 of 5 before, 6 of 19 after", self.page.effects.text())
        self.assertEqual(made.attempts[0].miss, "thick")
        self.assertEqual(len(criteria), len(made.criteria))
        # The match has not one shot more, and every attempt is one step back.
        self.assertEqual(len(self.review.controller.snapshot.shots), shots)
        press("Ctrl+Z")
        self.assertEqual(self.page.counter.text(), "6 of 23")
        press("Backspace")
        self.assertEqual(len(self.review.again.made.attempts), 22)
        press("Ctrl+A")
        self.assertEqual(self.review.controller.shot.record.number, 4)
        press("Ctrl+A")
        self.assertEqual(len(self.review.again.made.attempts), 22)

    def test_granted_weighed_and_ranked(self):
        press("Ctrl+A", "M", "X")
        self.assertTrue(self.review.again.made.attempts[0].relaxed)
        self.assertIn("1 granted", self.page.first.text())
        self.page.weight.setText("4")
        QTest.keyClick(self.page.weight, Qt.Key.Key_Return)
        self.page.limits.setText("no room for the cue at the wall")
        QTest.keyClick(self.page.limits, Qt.Key.Key_Return)
        made = self.review.again.made
        self.assertEqual((made.context_weight, made.own_limits), (4, "no room for the cue at the wall"))
        press("Ctrl+A", "Down", "Ctrl+A")
        self.assertEqual(self.page.model.rowCount(), 2)
        self.page.chosen.emit(0)
        self.page.change.setText("stance wide")
        QTest.keyClick(self.page.change, Qt.Key.Key_Return)
        self.assertIn("What was changed", self.said[-1])

    def test_a_set_is_deleted_and_comes_back(self):
        press("Ctrl+A", "G", "Ctrl+A", "Down", "Ctrl+A", "M")
        self.assertEqual(self.page.model.rowCount(), 2)
        press("Delete")
        self.assertEqual(self.page.model.rowCount(), 1)
        self.assertEqual(self.review.again.made.attempts[0].outcome, "success")
        press("Delete")
        self.assertFalse(self.page.isVisible())  # nothing is left to be seen there
        self.assertIn("deleted", self.said[-1])
        press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(len(self.review.controller.snapshot.attempt_sets), 2)

    def test_attempts_on_film(self):
        press("Alt+G")
        wait_until(lambda: self.review.again.made is not None, "the set")
        press("Shift+Right")
        self.wait_for_film()
        press("Alt+M")
        first, second = self.review.again.made.attempts
        self.assertTrue(first.on_film)
        self.assertAlmostEqual(second.t_strike - first.t_strike, 1.0, delta=0.05)
        self.assertIn("1 of 2 attempts", self.said[-1])
