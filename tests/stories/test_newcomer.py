"""A newcomer's first minutes on the demo, by keys alone, each key told by what stands on the screen.

The same way is written down in docs/first-ten-minutes.md.
"""

from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel

from ripasso.demo.library import film_truth
from ripasso.demo.matches.scenario import FILM_ID
from tests.windows import WindowCase, in_dialog, press, wait_until

#: More keys than this are too many for somebody who looks round (the issue asks for ten minutes).
MOST_KEYS = 30


class Newcomer(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.pressed = 0

    def told(self):
        """Every text that is seen in the window now."""
        widgets = (w for w in self.window.findChildren((QLabel, QAbstractButton)) if w.isVisible())
        return " ".join(widget.text().replace("\n", " ") for widget in widgets)

    def press_as_told(self, key, words):
        """A key that the screen names."""
        self.assertIn(words, self.told())
        press(key)
        QApplication.processEvents()
        self.pressed += 1

    def test_from_the_start_to_the_film_behind_a_habit(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        self.window.actions_book["tour"].trigger()  # the first start of the demo shows it
        for number in range(1, 9):
            self.assertIn(f"{number} of 8", self.told())
            self.press_as_told("Return", "Next" if number < 8 else "Done")
        self.press_as_told("Ctrl+5", "Statistics Ctrl 5")
        page = self.window.statistics
        wait_until(lambda: page.overview.model.questions and not page.is_computing, "the overview")
        # The first habit is in hand: Return leads to its shots, once more to the film of the newest.
        self.press_as_told("Return", "Return shows the chosen one in Review, with its film")
        self.assertTrue(page.shots.hasFocus())
        self.press_as_told("Return", "Return shows the chosen one in Review, with its film")
        wait_until(self.review.isVisible, "Review")
        self.assertEqual(self.review.controller.snapshot.key, FILM_ID)
        self.wait_for_film()
        shot = self.review.controller.shot.record
        self.assertEqual(shot.result.pace, "long")
        struck = film_truth()["shots"][shot.number - 1]["t_strike"]
        self.assertAlmostEqual(self.review.player.time_s, struck, delta=0.04)
        # What it cost: the shot after it, and why the rack was lost, stand there in words.
        self.assertIn("Lioba Trevan won the rack", self.told())
        self.press_as_told("Space", "space")
        wait_until(lambda: self.review.player.time_s > struck + 0.2, "the film runs")
        press("Space")
        in_dialog(lambda _sheet: press("Esc"))
        self.press_as_told("F1", "Help F1")
        self.assertLessEqual(self.pressed, MOST_KEYS)
