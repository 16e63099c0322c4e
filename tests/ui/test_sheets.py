"""The dialogs in which much can be said: the whole slip, options, the rack sheet."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from tests.windows import WindowCase, in_dialog, press, wait_until


class Sheets(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        press("Down", "Down", "Down")

    @property
    def record(self):
        return self.review.controller.shot.record

    def test_six_usual_causes_have_a_key_each(self):
        press("Alt+P", "Alt+O")
        self.assertIn("pace", self.record.error.causes)
        self.assertEqual(self.record.delivery, ("over_ball",))
        flags = self.review.slip.flags
        self.assertTrue(flags.buttons["error.causes.pace"].isChecked())
        press("Alt+P", "Alt+O")
        self.assertNotIn("pace", self.record.error.causes or ())
        self.assertIsNone(self.record.delivery)

    def test_the_whole_slip_finds_words_and_moves_the_tip(self):
        def work(slip):
            QTest.keyClicks(slip.finder, "screw")
            QTest.keyClick(slip.finder, Qt.Key.Key_Return)
            QTest.keyClicks(slip.finder, "hurried")
            QTest.keyClick(slip.finder, Qt.Key.Key_Return)
            slip.pad.setFocus()
            for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down):
                QTest.keyClick(slip.pad, key)
            self.assertEqual(slip.pad.words(), "0.5 right, 0.25 low (widths of the tip)")
            QTest.mouseClick(slip.pad, Qt.MouseButton.LeftButton, pos=slip.pad.rect().center())
            self.assertEqual(slip.pad.words(), "in the middle")
            QTest.keyClicks(slip.finder, "nothing like it")
            QTest.keyClick(slip.finder, Qt.Key.Key_Return)
            self.assertTrue(slip.isVisible())
            slip.accept()

        in_dialog(work)
        press("'")
        self.assertEqual((self.record.stroke.kind, self.record.delivery), ("draw", ("hurried",)))
        self.assertEqual(self.record.stroke.tip, (0, 0))
        press("Ctrl+Z")
        self.assertEqual(self.record.stroke.tip[0], 0.2275)

    def test_two_options_are_weighed(self):
        def weigh(dialog):
            dialog.by.setText("ada")
            QTest.keyClicks(dialog.reason, "the easier leave")
            QTest.keyClick(dialog.reason, Qt.Key.Key_Return)
            self.review.controller.pocket("side_left")
            dialog.keep()
            self.assertEqual(len(dialog.lines), 2)
            self.assertIsNotNone(dialog.lines[0].chance)
            dialog.table.selectRow(0)
            dialog.prefer()
            dialog.table.selectRow(1)
            dialog.choose()
            dialog.accept()

        in_dialog(weigh)
        press("Alt+W")
        # Whose idea an option was is not who judges.
        self.assertEqual((self.record.decision.better_option, self.record.decision.by), ("o1", "analyst"))
        self.assertTrue(self.record.plan.options[1].chosen)
        words = [route.title for route in self.review.pictures.picture().options]
        self.assertEqual(len(words), 2)

    def test_the_rack_sheet_takes_a_line_and_says_it_back(self):
        def work(dialog):
            dialog.line.setText("order 1 2 3 4; 6 trouble; lesson shorter on the 5")
            QTest.keyClick(dialog.line, Qt.Key.Key_Return)
            self.assertIn("Plan", dialog._plans.text())
            self.assertIn("6: trouble", dialog._story.text())
            dialog.line.setText("6 troubl")
            QTest.keyClick(dialog.line, Qt.Key.Key_Return)
            self.assertIn("did you mean", dialog.told.text())
            dialog.backwards.setChecked(True)
            dialog.line.setText("root 2")
            QTest.keyClick(dialog.line, Qt.Key.Key_Return)
            self.assertEqual(dialog._roots.text(), "At shot 2, as said.")
            dialog.confirm.click()
            self.assertEqual(dialog._roots.text(), "At shot 9, as said.")
            dialog.line.clear()
            QTest.keyClick(dialog.line, Qt.Key.Key_Return)

        in_dialog(work)
        press("Alt+K")
        rack = self.review.controller.rack.record
        self.assertEqual(rack.lesson, "shorter on the 5")
        self.assertEqual(rack.root_shot, 9)
        press("Ctrl+Z")
        self.assertEqual(self.review.controller.rack.record.root_shot, 2)

    def test_a_second_reviewer_and_comments(self):
        def work(dialog):
            dialog.finding.setText("lost")
            QTest.keyClick(dialog.finding, Qt.Key.Key_Return)
            self.assertIn("Say first who", dialog.told.text())
            dialog.by.setText("Cleo")
            for text in ("lost, long", "other shot"):
                dialog.finding.setText(text)
                QTest.keyClick(dialog.finding, Qt.Key.Key_Return)
            dialog.finding.setText("lsot")
            QTest.keyClick(dialog.finding, Qt.Key.Key_Return)
            self.assertIn("not understood", dialog.told.text())
            dialog.comment.setText("the bridge is too short")
            QTest.keyClick(dialog.comment, Qt.Key.Key_Return)
            self.assertIn("Cleo", dialog.comments.item(0).text())
            dialog.comment.setText("said by mistake")
            QTest.keyClick(dialog.comment, Qt.Key.Key_Return)
            dialog.comments.setCurrentRow(1)
            dialog.comments.setFocus()
            QTest.keyClick(dialog.comments, Qt.Key.Key_Delete)
            self.assertEqual(dialog.comments.count(), 1)
            # The first reviewer said agree; the second prefers another shot.
            self.assertIn("Cleo: decision 0 of 1", dialog._agreed.text())
            dialog.accept()

        in_dialog(work)
        first = self.record.decision.verdict
        press("Alt+C")
        self.assertEqual(self.record.decision.verdict, first)
        self.assertEqual(self.record.others[0].result.pace, "long")
        self.assertEqual(self.record.comments[0].text, "the bridge is too short")

    def test_a_rack_is_split_and_joined_from_the_menu(self):
        menu = self.review.sheets.rearrange()
        actions = [action for action in menu.actions() if not action.isSeparator()]
        self.assertEqual(len(actions), 5)
        actions[0].trigger()
        menu.close()
        self.assertEqual([len(rack.shots) for rack in self.review.controller.snapshot.racks], [3, 9])
        menu = self.review.sheets.rearrange()
        [action for action in menu.actions() if not action.isSeparator()][2].trigger()
        menu.close()
        self.assertEqual([len(rack.shots) for rack in self.review.controller.snapshot.racks], [12])
        menu = self.review.sheets.rearrange()
        [action for action in menu.actions() if not action.isSeparator()][2].trigger()
        menu.close()
        self.assertIn("no rack before", self.said[-1])

    def test_many_shots_take_the_same_words(self):
        press("Ctrl+F")
        page = self.review.find_page
        page.line.setText('session:"rack on film" failed:yes')
        page._ask()
        wait_until(lambda: page.model.found and page.model.found.line == page.line.text(), "the answer")
        count = page.model.rowCount()
        self.assertGreaterEqual(count, 2)
        page.table.selectAll()
        page.words.setText("by pressure, #late")
        QTest.keyClick(page.words, Qt.Key.Key_Return)
        self.assertIn(f"Said of {count} shots", self.said[-1])
        tagged = [
            s for s in self.review.controller.snapshot.shots if s.record.tags and "late" in s.record.tags
        ]
        self.assertEqual(len(tagged), count)
        press("Ctrl+Z")
        tagged = [
            s for s in self.review.controller.snapshot.shots if s.record.tags and "late" in s.record.tags
        ]
        self.assertEqual(tagged, [])
        page.words.setText("by presure")
        page.table.selectAll()
        QTest.keyClick(page.words, Qt.Key.Key_Return)
        self.assertIn("not understood", page.told.text())
