"""Finding shots over the whole library: a line, results walked while tagging, played as one film, kept."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from tests.windows import WindowCase, press, wait_until


class Finding(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        press("Ctrl+F")
        self.page = self.review.find_page
        wait_until(self.page.line.hasFocus, "the line")

    def find(self, line):
        self.page.line.setText(line)
        self.page._ask()
        wait_until(lambda: self.page.model.found and self.page.model.found.line == line, "the answer")
        return self.page.model.rowCount()

    def test_shots_are_found_and_walked_while_tagging(self):
        count = self.find('session:"rack on film" position:lost or root:>0 session:"rack on film"')
        self.assertGreater(count, 2)
        self.page.table.setFocus()
        self.page.table.activated.emit(self.page.model.index(0, 0))
        first = self.review.controller.shot
        self.assertEqual(first.key, self.page.model.found.place(0)[1])
        self.assertIn(f"1 of {count} found", self.said[-1])
        press("Alt+P", "Ctrl+G")
        self.assertEqual(self.review.controller.shot.key, self.page.model.found.place(1)[1])
        press("Ctrl+Shift+G")
        self.assertEqual(self.review.controller.shot.key, first.key)
        self.assertIn(
            "pace",
            [c for e in [first.record.error] if e for c in self.review.controller.shot.record.error.causes],
        )
        # What was said meanwhile is found.
        press("Ctrl+F")
        self.assertGreaterEqual(self.find('session:"rack on film" cause:pace'), 1)

    def test_another_session_is_opened_for_its_shot(self):
        self.assertGreater(self.find("game:snooker intent:safety"), 0)
        self.page.opened.emit(0)
        self.assertEqual(self.review.controller.snapshot.head.game, "snooker")
        self.assertEqual(self.review.controller.shot.record.intent, "safety")

    def test_a_wrong_line_is_explained_and_what_was_found_stays(self):
        count = self.find("made:yes")
        self.page.line.setText("positon:lost")
        self.page._ask()
        self.assertIn("did you mean “position”", self.page.told.text())
        self.assertEqual(self.page.model.rowCount(), count)

    def test_a_search_is_kept(self):
        self.find("position:lost")
        self.page.keep.click()
        self.open_window()
        press("Ctrl+F")
        page = self.review.find_page
        page.kept.setCurrentIndex(1)
        page.kept.activated.emit(1)
        self.assertEqual(page.line.text(), "position:lost")

    def test_what_was_found_plays_as_one_film(self):
        self.find('session:"rack on film" shot:2-3')
        self.review.player.set_speed(4.0)
        QTest.mouseClick(self.page.play, Qt.MouseButton.LeftButton)
        seen = []

        def both():
            shot = self.review.controller.shot
            if shot and (not seen or seen[-1] != shot.record.number):
                seen.append(shot.record.number)
            return not self.review.finding.playing

        wait_until(both, "the film of both shots")
        self.assertEqual(seen[-2:], [2, 3])
        self.assertIn("That was the last one found.", self.said)
        self.assertFalse(self.review.player.playing)
