"""Practice by keys: a shot becomes an exercise, is set up, played, passed and comes back; table and weeks."""

import json
from datetime import date, timedelta
from unittest.mock import Mock, patch

import numpy as np
from icalendar import Calendar
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ripasso.review.document.edits import add_session, replace_session
from ripasso.review.entry.kept_layouts import keep_layout
from ripasso.review.practice.exercises import plan_of
from ripasso.ui.practice import page as page_module
from ripasso.ui.practice import taking
from ripasso.ui.practice.setting_up import kept_corners, show_projector
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, click, in_dialog, press, wait_until, write

ZONE = {"circle": {"centre": [1.6, 0.7], "radius": 0.15}}
SHOT = {
    **played("a", "1"),
    "call": {"ball": "1", "pocket": "foot_left"},
    "before": {"cue": [1.1, 0.5], "1": [1.9, 0.95], "2": [0.6, 0.4]},
    "plan": {"zone": ZONE},
}


class Practice(WindowCase):
    def setUp(self):
        super().setUp()
        self.workspace.document.run(add_session(session(racks=[rack_of(SHOT, played("b", "2"))])))
        self.day = date(2026, 11, 30)
        self.window.open_session("test")

    def practise(self):
        """The shot in hand becomes an exercise of its player."""
        with patch.object(taking, "date", Mock(today=lambda: self.day)):
            press("Ctrl+Shift+A")
        self.page = self.window.practice
        self.page.controller._today = lambda: self.day
        self.page.controller.refresh()

    @property
    def plan(self):
        return plan_of(self.page.controller.snapshot)

    def play(self, text):
        for one in text:
            press("G" if one == "1" else "M")

    def test_from_a_shot_to_a_passed_exercise_that_comes_back(self):
        self.practise()
        self.assertIs(self.window._stack.currentWidget(), self.page)
        view = self.page.exercise
        self.assertIn("The 1:", view.set_up.text())
        self.assertIn("asked: 60 %", f"{view.said.text().casefold()}")
        self.play("110")
        press("C")
        write("aim 2 mm")
        press("Return")
        self.assertEqual(view.pending.text(), "Changed for the next: aim 2 mm")
        self.play("111111")
        press("C")
        write("pace 10 %")
        press("Return")
        self.play("11110111111")
        self.assertEqual(view.counter.text(), "18 of 20")
        self.assertIn("aim 2 mm at attempt 4: 2 of 3 before, 6 of 6 since", view.more.text())
        self.assertIn("The set is whole", view.more.text())
        press("E")
        self.assertIn("passed, level 1, due again in 2 d", self.said[-1])
        exercise = self.plan.exercises[0]
        self.assertEqual((exercise.level, exercise.due), (1, "2026-12-02"))
        press("F3")
        self.assertIn("No trend can be told yet", self.page.progress.lines.text())
        self.assertEqual(self.page.progress.model.data(self.page.progress.model.index(0, 5)), "yes")
        self.day += timedelta(days=2)
        press("F2")
        self.play("000")
        press("E")
        self.assertIn("not passed, level 0, due again tomorrow", self.said[-1])
        press("F3")
        self.assertIn("First half and second half", self.page.progress.lines.text())
        press("F4")
        days = [self.page.weeks.tree.topLevelItem(n).text(0) for n in range(3)]
        self.assertEqual([day[:10].strip() for day in days], ["Fri 4 Dec", "Mon 7 Dec", "Wed 9 Dec"])

    def test_nothing_is_lost_when_it_is_left(self):
        self.practise()
        self.play("101")
        press("Ctrl+1")
        self.close_window()
        self.open_window()
        press("Ctrl+4")
        self.page = self.window.practice
        self.assertEqual(self.page.exercise.counter.text(), "2 of 3")
        press("Backspace")
        self.assertEqual(self.page.exercise.counter.text(), "1 of 2")
        press("X")
        self.assertEqual(self.page.exercise.counter.text(), "2 of 2")
        press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(self.page.exercise.counter.text(), "2 of 3")

    def test_a_shot_of_the_session_s_own_film_is_counted_by_one_key(self):
        self.practise()
        press("F")
        self.assertIn("No further shot of this session", self.said[-1])
        snapshot = self.page.controller.snapshot
        shot = {**SHOT, "recording": "f", "t_strike": 12.0, "after": {"cue": [1.6, 0.72], "2": [0.6, 0.4]}}
        record = snapshot.session.model_copy(
            update={
                "racks": session(racks=[rack_of(shot)]).racks,
                "recordings": session(recordings=[{"id": "f", "file": "f.mp4"}]).recordings,
            }
        )
        self.workspace.document.run(replace_session(snapshot, record))
        press("F")
        self.assertIn("Made at 12.0 s by the film; 0 more.", self.said[-1])
        self.assertEqual(self.page.exercise.counter.text(), "1 of 1")
        attempt = self.page.controller.running.attempts[0]
        self.assertEqual((attempt.recording, attempt.met), ("f", {"pot": True, "area": True}))

    def test_two_criteria_are_first_met_at_different_attempts(self):
        """29 attempts: the ball falls at the 3rd for the first time, the area is met at the 11th."""
        self.practise()
        for number in range(1, 30):
            press("M")
            if number >= 3:
                press("Alt+1")
            if number >= 11:
                press("Alt+2")
        more = self.page.exercise.more.text()
        self.assertIn("Alt 1 the ball falls: 27 of 27, first at 3", more)
        self.assertRegex(more, r"Alt 2 the .* stops in the area: 19 of 19, first at 11")
        self.assertEqual(self.page.exercise.counter.text(), "19 of 29")
        press("Alt+4")
        self.assertIn("no such criterion", self.said[-1])

    def test_a_ghost_race_of_ten_racks(self):
        self.practise()

        def fill(dialog):
            dialog.title.setText("Ghost to seven")
            dialog.kind.setCurrentIndex(dialog.kind.findData("ghost"))
            dialog.share.setValue(0)
            dialog.made.setValue(6)
            dialog.of.setValue(10)
            dialog.attempts.setValue(10)
            dialog._save()

        in_dialog(fill)
        press("N")
        self.play("1101011010")
        self.assertEqual(self.page.exercise.counter.text(), "6 of 10")
        self.assertIn("80 % interval", self.page.exercise.said.text())
        press("E")
        self.assertIn("passed, level 1", self.said[-1])
        press("F3")
        self.assertIn("6 of 10", self.page.progress.model.data(self.page.progress.model.index(0, 2)))

    def test_a_kept_layout_becomes_an_exercise(self):
        self.practise()
        head = self.page.controller.snapshot
        self.workspace.document.run(
            keep_layout(head, {"cue": (1.0, 0.5), "5": (1.8, 0.3)}, "Cut along the rail")
        )

        def fill(dialog):
            dialog.layouts.setCurrentIndex(1)
            dialog.layouts.activated.emit(1)
            self.assertEqual(dialog.title.text(), "Cut along the rail")
            dialog._save()

        in_dialog(fill)
        press("N")
        exercise = self.page.controller.exercise
        self.assertEqual((exercise.title, exercise.layout["5"]), ("Cut along the rail", (1.8, 0.3)))
        self.assertTrue(exercise.from_layout)
        self.assertIn("5", self.page.exercise.table._scene.balls)

    def test_keypad_and_a_presenter_s_buttons_count(self):
        self.practise()
        for key in ("1", "0", "+", "-", "PgDown", "PgUp"):
            press(key)
        self.assertEqual(self.page.exercise.counter.text(), "3 of 6")
        click(self.page.exercise.made)
        click(self.page.exercise.missed)
        self.assertEqual(self.page.exercise.counter.text(), "4 of 8")

    def test_two_ways_of_one_decision_in_turns_and_a_ladder(self):
        self.practise()

        def fill(dialog):
            dialog.title.setText("Bank or safe")
            dialog.kind.setCurrentIndex(dialog.kind.findData("two_ways"))
            dialog.parts.setPlainText("bank\nsafe")
            dialog._save()

        in_dialog(fill)
        press("N")
        self.assertIn("Bank or safe is an exercise now", self.said[-1])
        self.play("100011")
        more = self.page.exercise.more.text()
        self.assertIn("Next: bank.", more)
        self.assertIn("bank: 2 of 3", more)
        self.assertIn("safe: 1 of 3", more)

        def change(dialog):
            dialog.kind.setCurrentIndex(dialog.kind.findData("ladder"))
            dialog.parts.setPlainText("one diamond\ntwo diamonds\nthree diamonds")
            dialog.title.setText("")
            dialog._save()
            self.assertEqual(dialog.warning.text(), "An exercise has a title.")
            dialog.title.setText("Ladder")
            dialog._save()

        in_dialog(change)
        self.page.list.setFocus()
        press("Return")
        self.assertEqual(self.page.controller.exercise.rungs[1], "two diamonds")
        self.play("1")
        self.assertIn("Rung 2 of 3: two diamonds", self.page.exercise.more.text())
        press("S")
        self.assertIn("due tomorrow", self.said[-1])
        press("Delete")
        self.assertIn("Ctrl Z brings it back", self.said[-1])
        self.assertEqual(len(self.plan.exercises), 1)

    def test_runs_are_counted_by_their_balls_and_found_in_statistics(self):
        self.practise()
        controller = self.page.controller
        press("B")
        self.assertIn("this exercise is none", self.said[-1])
        values = {"title": "Long runs", "kind": "run", "goal": {"share": 0.3}, "due": "2026-11-30"}
        controller.add(values, controller.snapshot.head.players[0])
        view = self.page.exercise
        for balls in ("31", "8", "x", "64"):
            press("B")
            self.assertTrue(view.balls.hasFocus())
            view.balls.clear()
            write(balls)
            press("Return")
        self.assertTrue(any("such as 23" in one for one in self.said))
        self.assertEqual(view.counter.text(), "1 of 2")  # the first had nothing to beat
        self.assertIn("Last: 64 balls: 4 racks and 8, 6 to the next break shot.", view.more.text())
        self.assertIn("To beat: 34.3", view.more.text())
        self.assertIn("A ball is made in 97.2 %", view.more.text())
        press("Ctrl+Z")
        self.assertIn("Longest of 2: 31 balls: 2 racks and 3", view.more.text())
        press("Ctrl+Shift+Z")
        press("E")
        press("Ctrl+5")
        page = self.window.statistics
        page.chooser.pages.setCurrentIndex(page.chooser.pages.findData("practice"))
        page.chooser.line.setText("exercise:long balls:>10")
        page.refresh()
        wait_until(lambda: not page.is_computing and page.model.page is not None, "the figures")
        words = {row.text: row for row in page.model.page.rows}
        (head,) = page.model.page.persons
        self.assertEqual(words["Attempts"].figures[head].words, "2 on 1 day")
        self.assertEqual(words["Longest run"].figures[head].words.split(":")[0], "64 balls")
        page._choose_words("Longest", words["Longest run"].figures[head].shots)
        page.shots.setFocus()
        press("Return")
        self.assertIs(self.window._stack.currentWidget(), self.page)

    def test_keys_without_an_exercise_or_a_set_say_so(self):
        press("Ctrl+4")
        controller = self.window.practice.controller
        press("G", "E", "Backspace", "X", "S", "Del", "F", "Alt+1", "Down", "Up", "B")
        for wanted in ("There is no exercise yet", "No set is being played", "no such criterion"):
            self.assertTrue(any(wanted in one for one in self.said), wanted)
        controller.edit({"title": "nobody's"})
        controller.move_to("gone", self.day)
        controller.set_time(30, ("mon",))
        press("Ctrl+2")
        self.practise()
        controller.change("  ")
        controller.change("nonsense")
        self.assertIn("What was changed", self.said[-1])
        press("X", "Backspace", "E")
        controller.count_on_film()
        self.assertIn("No further shot of this session", self.said[-1])
        controller.set_time(30, ("mon", "thu"))
        self.assertEqual(self.plan.minutes, 30)
        controller.step(1)
        controller.step(-1)
        controller.choose_plan(controller.plans()[0][0])
        self.assertIsNotNone(controller.exercise)

    def test_a_table_that_falls_is_found_by_clicks(self):
        self.practise()
        press("F6")
        checks = self.page.checks
        for number in range(6):
            y = 0.3 + 0.1 * number
            for place in ((0.3, y), (2.1, y + 0.0054 + 0.0002 * (number % 3))):
                checks.table.hand.press(place)
        self.assertRegex(
            checks.lines.text(), r"Across, to the left: \+3\.1 mm per metre \(\+3\.0 to \+3\.2, 6 rolls\)"
        )
        for button in checks.spins.buttons():
            if button.property("spin") == "left":
                click(button, QPoint(8, button.height() // 2))
        for place in ((0.3, 1.1), (2.1, 1.112)):
            checks.table.hand.press(place)
        self.assertIn("With left side besides", checks.lines.text())
        checks.lag.setFocus()
        write("2.4 x")
        press("Return")
        self.assertIn("Type lag 2.3 6.8", self.said[-1])
        for typed in ("corner 4", "cushion 45 100", "mouth 2", "lag 0 1", "corner"):
            write(typed)
            press("Return")
            self.assertIn("Type lag 2.3 6.8", self.said[-1])
        for typed in ("corner 2.1", "Corner 2,0", "middle 2.2", "cushion 45 41", "cushion 40 37"):
            write(typed)
            press("Return")
        self.assertIn("Corner pockets: 117 mm, 2.05 balls side by side (2 measured)", checks.lines.text())
        self.assertIn("Middle pockets: 126 mm, 2.20 balls side by side (1 measured)", checks.lines.text())
        self.assertRegex(
            checks.lines.text(), r"Cushion: 42° in, -3\.5° out against it \(-9\.9 to \+2\.9\), 2 meas"
        )
        write("2.4 6.9")
        press("Return")
        self.assertIn("Cloth: medium", checks.lines.text())
        click(checks.use)
        state = self.page.controller.snapshot.head.table_state
        self.assertEqual((state.level, state.cloth), ((0, 3.11), "medium"))
        # Two balls and a twentieth of 57.15 mm.
        table = self.page.controller.snapshot.head.table
        self.assertEqual((table["corner_mouth"], table["side_mouth"]), (0.1172, 0.1257))

    def test_time_is_changed_an_exercise_moved_and_a_calendar_saved(self):
        self.practise()
        press("F4")
        weeks = self.page.weeks
        weeks.minutes.setValue(45)
        click(weeks.days["tue"], QPoint(8, 8))
        self.assertEqual((self.plan.minutes, self.plan.days), (45, ("mon", "tue", "wed", "fri")))
        day = weeks.tree.topLevelItem(0)
        weeks.tree.setCurrentItem(day.child(1))
        weeks.tree.setFocus()
        QTest.keyClick(weeks.tree, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
        QApplication.processEvents()
        self.assertEqual(self.plan.exercises[0].due, "2026-12-01")
        file = self.folder / "weeks.ics"
        with patch.object(page_module, "choose_file", return_value=str(file)):
            press("Ctrl+E")
        events = Calendar.from_ical(file.read_bytes()).walk("VEVENT")
        self.assertEqual(str(events[0]["summary"]), "Practice, Ada Quill")
        self.assertEqual(len(events), weeks.tree.topLevelItemCount())
        with patch.object(page_module, "choose_file", return_value=str(self.folder / "no" / "weeks.ics")):
            press("Ctrl+E")
        self.assertIn("cannot be written", self.said[-1])

    def test_the_set_up_page_is_one_page_with_its_words(self):
        self.practise()
        file = self.folder / "page.pdf"
        with patch.object(page_module, "choose_file", return_value=str(file)):
            press("Ctrl+P")
        document = QPdfDocument(None)
        document.load(str(file))
        self.assertEqual(document.pageCount(), 1)
        text = document.getAllText(0).text()
        # Qt writes the font's own codes for digits: only words are read back.
        self.assertIn("from the head cushion", text)
        self.assertIn("one shot", text)
        document.close()

    def test_projector_corners_are_dragged_and_kept(self):
        self.practise()
        window = show_projector(
            self.page, self.workspace.settings, self.page.spec, self.page.controller.exercise
        )
        QApplication.processEvents()
        start = QPoint(*(round(one) for one in window.pixels()[2]))
        QTest.mousePress(window, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(window, QPoint(800, 100))
        window._move(2, 800, 100)
        QTest.mouseRelease(window, Qt.MouseButton.LeftButton, pos=QPoint(800, 100))
        found = window.matrix() @ [self.page.spec.length, self.page.spec.width, 1]
        self.assertLess(np.abs(found[:2] / found[2] - [800, 100]).max(), 1.0)
        QTest.keyClick(window, Qt.Key.Key_3)
        QTest.keyClick(window, Qt.Key.Key_Left)
        QTest.keyClick(window, Qt.Key.Key_H)
        self.assertAlmostEqual(window.pixels()[2][0], 799, places=3)
        self.assertFalse(window.grab().isNull())
        kept = kept_corners(self.workspace.settings, self.page.spec)
        self.assertAlmostEqual(kept[2][0] * window.width(), 799, places=2)
        QTest.keyClick(window, Qt.Key.Key_Escape)
        self.assertFalse(window.isVisible())
        window.deleteLater()

    def test_weak_spots_without_material_say_so(self):
        self.practise()
        seen = []

        def look(dialog):
            seen.append(dialog.windowTitle())
            dialog.reject()

        in_dialog(look)
        press("W")
        wait_until(lambda: seen, "the weak spots")
        self.assertEqual(seen, ["Weak spots, Ada Quill"])


class FromTheDemo(WindowCase):
    demo = True

    def test_a_weak_spot_becomes_an_exercise_with_its_layout(self):
        press("Ctrl+4")
        page = self.window.practice
        self.assertIn("of 6", page.summary.text())
        before = len(page.controller.exercises)
        wait_until(lambda: not self.workspace.measuring.busy, "the measures")
        seen = []

        def choose(dialog):
            seen.append([dialog.model.data(dialog.model.index(0, n)) for n in (0, 1)])
            dialog._choose(0)

        in_dialog(choose)
        press("W")
        wait_until(lambda: len(page.controller.exercises) > before, "the exercise")
        self.assertIn("racks in a hundred", seen[0][1])
        made = page.controller.exercise
        self.assertTrue(made.slices)
        self.assertTrue(made.layout)
        self.assertIn(seen[0][0], made.title)
        press("G", "M", "F3")
        wait_until(lambda: "in matches" in page.progress.lines.text(), "the matches")

    def test_sessions_opens_a_plan_here_and_any_other_session_in_review(self):
        film = session(id="filmed", kind="practice", title="Filmed practice")
        self.workspace.document.run(add_session(film))
        for key, page in (("demo-practice", "practice"), ("filmed", "review")):
            self.window.sessions.opened.emit(key)
            self.assertIs(self.window._stack.currentWidget(), getattr(self.window, page), key)

    def test_what_is_practised_goes_out_and_comes_back(self):
        press("Ctrl+4")
        record = self.window.practice.controller.snapshot.session
        text = record.model_dump_json(by_alias=True, exclude_none=True)
        again = type(record).model_validate_json(text)
        self.assertEqual(again, record)
        self.assertEqual(len(json.loads(text)["practice_plan"]["exercises"]), 6)


if __name__ == "__main__":
    import unittest

    unittest.main()
