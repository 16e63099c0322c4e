"""A report by keys: from a found habit to written pages; shots and figures put in; changed and taken back."""

import time
from pathlib import Path
from unittest.mock import patch

import av
import pypdf
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QMenu

from ripasso.film.decoding.sound import sound_length_s
from ripasso.film.encoding.film_writer import Progress
from ripasso.report.teaching import clips
from ripasso.review.document.edits import add_session
from ripasso.ui.report import page as page_module
from ripasso.ui.report import shots_form
from ripasso.ui.services.microphone import Recorder, SimulatedMicrophone
from tests.films import read_number, write_film
from tests.report.libraries import FRAMES, RATE, shots
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, in_dialog, press, wait_until, write


class Report(WindowCase):
    @property
    def page(self):
        return self.window.report

    def open_report(self):
        press("Ctrl+6")
        wait_until(lambda: not self.page.is_making, "the page")

    def new_report(self):
        self.open_report()
        press("Ctrl+N")

    def wait_for_page(self):
        wait_until(lambda: not self.page.is_making, "the page")

    def kinds(self):
        return [page.kind for page in self.page.controller.pages]


class FromTheDemo(Report):
    demo = True

    def test_from_a_found_habit_to_a_written_page_and_a_clip(self):
        self.workspace.settings.set("clip_folder", str(self.folder))
        self.window.open_session("demo-rack-on-film")
        wait_until(lambda: not self.workspace.measuring.busy, "the measures")
        pressed = ["Ctrl+5"]
        press("Ctrl+5")
        statistics = self.window.statistics
        wait_until(lambda: not statistics.is_computing, "the overview")
        wait_until(statistics.overview.isVisible, "the habits")
        for keys in ("Ctrl+Shift+E", "Ctrl+2", "Ctrl+Shift+E", "Ctrl+6"):
            press(keys)
            pressed.append(keys)
        self.assertTrue(any("is in Report for Lioba Trevan" in one for one in self.said))
        self.assertEqual(
            self.kinds(), ["summary", "figures", "figures", "shots", "practice", "methods", "summary"]
        )
        shot = self.page.controller.pages[3].shots[0]
        self.assertEqual((shot.session, shot.rack, shot.shot), ("demo-rack-on-film", 1, 1))
        self.wait_for_page()
        self.assertGreaterEqual(self.page.preview.document.pageCount(), 1)
        target = self.folder / "for-lioba.pdf"

        with patch.object(page_module, "choose_file", return_value=str(target)):
            press("Ctrl+E")
        pressed.append("Ctrl+E")
        wait_until(target.exists, "the file")
        wait_until(lambda: any(one.startswith("Written to") for one in self.said), "the sentence")
        press("Ctrl+2")
        in_dialog(lambda _dialog: press("Return"))
        press("Ctrl+Shift+K")
        pressed += ["Ctrl+2", "Ctrl+Shift+K", "Return"]
        wait_until(lambda: any("shot-1.mp4." in one for one in self.said), "the clip")
        self.assertEqual(len(pressed), 9)
        self.assertEqual(len(list(self.folder.glob("*-shot-1.mp4"))), 1)
        press("Ctrl+6")
        words = "\n".join(page.extract_text() for page in pypdf.PdfReader(target).pages)
        for wanted in ("Report for Lioba Trevan", "Habits", "Key shots", "Rack 1, shot 1", "Practice list"):
            self.assertIn(wanted, words)
        report = self.page.controller.report
        self.assertTrue(report.made and report.figures)
        self.page.add_page("changes")
        self.wait_for_page()
        text = self.page.preview.document.getAllText(0).text()
        self.assertIn("No figure of this report changed.", text)


class OneSession(Report):
    def setUp(self):
        super().setUp()
        shots = (played("a", "1"), played("a"), played("b", "2"))
        self.workspace.document.run(add_session(session(racks=[rack_of(*shots)])))
        self.window.open_session("test")
        wait_until(lambda: not self.workspace.measuring.busy, "the measures")

    def wait_for_page(self):
        wait_until(lambda: not self.page.is_making, "the page")


class OfOneSession(OneSession):
    def test_pages_are_added_moved_taken_out_and_brought_back(self):
        self.open_report()
        self.assertIn("Ctrl N makes one", self.page.state.text())
        press("Ctrl+N")
        self.assertEqual(len(self.kinds()), 6)
        self.wait_for_page()
        with patch.object(page_module, "pop_up") as shown:
            press("Ins")
        menu = shown.call_args[0][0]
        self.assertIsInstance(menu, QMenu)
        words = [action.text() for action in menu.actions()]
        self.assertIn("Story of a rack", words)
        menu.actions()[words.index("Story of a rack")].trigger()
        self.assertEqual(self.kinds()[:3], ["summary", "rack", "figures"])
        self.wait_for_page()
        self.assertIn("Story of rack 1", self.page.preview.document.getAllText(0).text())
        self.page.list.setFocus()
        press("Alt+Up")
        self.assertEqual(self.kinds()[:2], ["rack", "summary"])
        press("Alt+Down", "Alt+Down")
        self.assertEqual(self.kinds()[:3], ["summary", "figures", "rack"])
        self.page.list.setFocus()
        press("Del")
        self.assertEqual(len(self.kinds()), 6)
        press("Ctrl+Z")
        self.assertEqual(self.kinds()[2], "rack")
        self.wait_for_page()

    def test_what_a_page_says_is_typed_beside_it(self):
        self.new_report()
        form, pages = self.page.page_form, self.page.report_form
        form.title.setFocus()
        write("Your month")
        press("Return")
        self.assertEqual(self.page.controller.page.title, "Your month")
        form.text.setFocus()
        write("Mind the long ones.")
        form.title.setFocus()
        self.assertEqual(self.page.controller.page.text, "Mind the long ones.")
        pages.title.setFocus()
        pages.title.selectAll()
        write("For a winter")
        press("Return")
        self.assertEqual(self.page.controller.report.title, "For a winter")
        pages.grey.click()
        pages.nameless.click()
        pages.paper.setCurrentIndex(1)
        pages.paper.activated.emit(1)
        report = self.page.controller.report
        self.assertEqual((report.grey, report.nameless, report.paper), (True, True, "letter"))
        pages.title.setFocus()
        pages.title.clear()
        press("Return")
        self.assertEqual(self.page.controller.report.title, "For a winter")
        self.wait_for_page()
        text = self.page.preview.document.getAllText(0).text()
        self.assertIn("Your month", text)
        self.assertNotIn("Quill", text)

    def test_what_cannot_be_written_is_said_and_nothing_is_lost(self):
        self.new_report()
        self.page.write(Path("/nowhere/report.html"))
        wait_until(lambda: any("cannot be written" in one for one in self.said), "the sentence")
        self.page.write(self.folder / "report.doc")
        wait_until(lambda: any("ends with one of" in one for one in self.said), "the sentence")
        self.assertFalse((self.folder / "report.doc").exists())
        press("Ctrl+Del")
        self.assertIn("Ctrl Z brings it back", self.said[-1])
        self.assertIsNone(self.page.controller.report)
        press("Ctrl+Z")
        self.assertEqual(len(self.kinds()), 6)
        self.wait_for_page()

    def test_it_is_printed_sheet_by_sheet(self):
        self.new_report()
        self.wait_for_page()
        printer = QPrinter()
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        target = self.folder / "printed.pdf"
        printer.setOutputFileName(str(target))
        data = bytes(self.page.preview._data)
        self.page.print_on(printer, data)
        sheets = self.page.preview.document.pageCount()
        self.assertIn(f"{sheets} sheet", self.said[-1])
        self.assertEqual(len(pypdf.PdfReader(target).pages), sheets)


class OfAFilm(Report):
    """A session with a coded film: a shot is struck at each second from 1 on."""

    def setUp(self):
        super().setUp()
        film = write_film(self.folder / "film.mp4", FRAMES, 25)
        recording = {"id": "film", "file": str(film), "frame_rate": RATE, "duration": FRAMES / RATE}
        record = session(racks=[rack_of(*shots())], recordings=[recording])
        self.workspace.document.run(add_session(record))
        self.window.open_session("test")
        wait_until(lambda: not self.workspace.measuring.busy, "the measures")
        self.workspace.settings.set("clip_folder", str(self.folder))

    def frames(self, path):
        with av.open(str(path)) as container:
            return [
                read_number(one.to_ndarray(format="bgr24")[:180, :320]) for one in container.decode(video=0)
            ]

    def wait_for(self, words):
        wait_until(lambda: any(words in one for one in self.said), words)

    def export(self, choose=lambda dialog: None):
        def accept(dialog):
            choose(dialog)
            press("Return")

        in_dialog(accept)
        press("Ctrl+Shift+K")

    def test_a_clip_goes_out_in_two_keys(self):
        self.export()
        self.wait_for("Written to")
        path = self.folder / "a-test-rack-1-shot-1.mp4"
        self.assertIn(RATE, self.frames(path))
        self.export(lambda dialog: dialog.way.setCurrentIndex(2))
        wait_until(lambda: len(self.frames(path)) < 100, "the copied clip")
        self.assertEqual(self.frames(path)[0], 0)
        self.assertEqual(self.workspace.settings.get("clip_way"), "copied")

    def test_a_rack_and_what_was_found_go_out(self):
        def rack(dialog):
            dialog.what.setCurrentIndex(1)
            dialog.way.setCurrentIndex(1)
            self.assertFalse(dialog.diagram.isEnabled())

        self.export(rack)
        self.wait_for("Written to")
        self.assertGreater(len(self.frames(self.folder / "a-test-rack-1.mp4")), 8 * 50)
        press("Ctrl+F")
        self.review.find_page.line.setFocus()
        write("note:1+1")
        press("Return")
        wait_until(lambda: self.review.finding.found is not None, "the search")

        def found(dialog):
            self.assertEqual(dialog.what.currentText(), "what was found (1 shot)")
            dialog.file.setText(str(self.folder / "mine"))

        self.export(found)
        self.wait_for("/mine.mp4.")
        self.assertEqual(self.frames(self.folder / "mine.mp4")[0], 12)

    def test_it_is_stopped_by_its_key_and_what_fails_is_said(self):
        with patch.object(clips, "write_clips", waits_for_a_stop):
            self.export()
            self.assertTrue(self.review.clips.exporter.busy)
            press("Ctrl+Shift+K")
            self.wait_for("was not written: it was stopped")
        self.export(lambda dialog: dialog.file.setText("/nowhere/x.mp4"))
        self.wait_for("x.mp4 cannot be written")
        with patch.object(clips, "write_clips", side_effect=RuntimeError("broken")):
            self.export()
            self.wait_for("broken")
        self.window.close()

    def test_a_teaching_film_is_a_page_of_the_report(self):
        press("Ctrl+Shift+E")
        self.new_report_page("film")
        controller, form = self.page.controller, self.page.page_form
        self.assertIn("key shots", form.shots.hint.text())
        self.wait_for_page()
        self.assertIn("1 scene", self.page.preview.document.getAllText(0).text())
        form.search.setFocus()
        write("note:1+1")
        press("Return")
        form.stop.setFocus()
        form.stop.selectAll()
        write("1")
        press("Tab")
        self.assertEqual((controller.page.search, controller.page.stop_s), ("note:1+1", 1.0))
        for box, data in ((form.speed, 0.5), (form.diagram, "below"), (form.session, "test")):
            box.setCurrentIndex(box.findData(data))
            box.activated.emit(box.currentIndex())
        form.titles.click()
        page = controller.page
        self.assertEqual((page.speed, page.diagram, page.rack, page.titles), (0.5, "below", 1, True))
        form.session.setCurrentIndex(0)
        form.session.activated.emit(0)
        self.assertIsNone(controller.page.session)
        target = self.folder / "taught.mp4"
        with patch.object(page_module, "choose_file", return_value=str(target)):
            press("Ctrl+E")
        self.wait_for("2 files were written")
        self.assertIn(2 * RATE, self.frames(target))
        with patch.object(page_module, "write_report", waits_for_a_stop):
            self.page.write(target)
            press("Ctrl+E")
            self.wait_for("was not written: it was stopped")
        self.assertIn("taught", target.name)
        form.search.setFocus()
        form.search.selectAll()
        write("cut:many")
        press("Return")
        self.page.write(target)
        self.wait_for("many")

    def new_report_page(self, kind):
        self.open_report()
        self.page.add_page(kind)

    def test_a_rack_the_plan_and_the_practice_list_go_into_the_report(self):
        press("Ctrl+Alt+E")
        self.assertIn("Rack 1 is in Report for Ada Quill", self.said[-1])
        press("Ctrl+4")
        self.window.practice.setFocus()
        press("Ctrl+Shift+E")
        self.assertIn("The practice list is in", self.said[-1])
        press("Ctrl+2", "Ctrl+Shift+P")
        wait_until(lambda: self.window.plan.desk is not None, "the simulator")
        press("Ctrl+Shift+E")
        self.assertIn("Rack 1, shot 1 is in Report for Ada Quill", self.said[-1])
        kinds = [page.kind for page in self.window.report.controller.pages]
        self.assertEqual(kinds[-2:], ["rack", "practice"])

    def test_shots_of_a_film_are_ordered_and_spoken_of(self):
        press("Ctrl+Shift+E")
        self.new_report_page("film")
        places = [{"session": "test", "rack": 1, "shot": number} for number in (2, 3)]
        self.page.controller.change_page({"shots": places})
        shots = self.page.page_form.shots
        shots.list.setCurrentRow(1)
        shots.beside.click()
        self.assertTrue(self.page.controller.page.shots[1].beside)
        self.assertIn("beside: rack 1, shot 3", shots.list.item(1).text())
        with patch.object(shots_form, "choose_file", return_value="/sounds/said.wav"):
            shots.comment.click()
        self.assertEqual(shots.comment.text(), "Spoken: said.wav")
        with patch.object(shots_form, "choose_file", return_value=""):
            shots.comment.click()
        self.assertIsNone(self.page.controller.page.shots[1].comment)
        shots.recorder = Recorder(lambda: SimulatedMicrophone)
        shots.recorder.said.connect(shots._hear)
        shots.record.click()
        wait_until(lambda: shots.record.text() >= "Stop recording, 0.3", "a third of a second")
        shots.record.click()
        spoken = Path(self.page.controller.page.shots[1].comment)
        self.assertEqual(spoken.parent.name, "test-comments")
        self.assertGreater(sound_length_s(spoken), 0.2)
        shots.recorder = Recorder(lambda: None)
        shots.recorder.said.connect(shots._hear)
        shots.record.click()
        self.assertIn("This machine has no microphone", self.said[-1])
        shots.folder = Path("/dev/null/nowhere")
        shots.recorder = Recorder(lambda: SimulatedMicrophone)
        shots.recorder.said.connect(shots._hear)
        shots.record.click()
        self.assertIn("cannot be written", self.said[-1])
        shots.earlier.click()
        self.assertEqual([one.shot for one in self.page.controller.page.shots], [3, 2])
        press("Ctrl+Z")
        self.assertEqual([one.shot for one in self.page.controller.page.shots], [2, 3])


def waits_for_a_stop(*given, **_more):
    """Stands for writing: goes on until it is stopped."""
    progress = next(one for one in given if isinstance(one, Progress))
    progress.of = 100
    while True:
        progress.step(1)
        time.sleep(0.02)
        progress.done = min(progress.done, 90)


class Nothing(Report):
    def test_without_a_report_or_a_session_each_key_says_what_is_missing(self):
        self.open_report()
        for key in ("Ctrl+E", "Ctrl+P", "Alt+Up", "Alt+Down", "Ctrl+Del", "F5"):
            press(key)
        self.page.controller.change({"title": "x"})
        self.page.controller.remove_page()
        self.assertEqual(self.said.count("There is no report yet: Ctrl N makes one."), 3)
        self.page.write(self.folder / "nothing.pdf")
        press("Ctrl+N")
        self.assertEqual(self.page.controller.report.title, "Report")
        self.page.add_page("rack")
        self.assertIn("No session has a rack yet", self.said[-1])
        while self.page.controller.pages:
            self.page.controller.remove_page()
        self.assertIn("This report has no page", self.page.state.text())
        self.page.controller.delete()
        press("Ctrl+2", "Ctrl+Shift+E")
        self.assertIn("No shot is in hand", self.said[-1])


class Fields(OneSession):
    def pick(self, box, data):
        box.setCurrentIndex(box.findData(data))
        box.activated.emit(box.currentIndex())

    def test_every_field_of_a_page(self):
        self.new_report()
        controller, form = self.page.controller, self.page.page_form
        self.page.add_page("figures")
        self.pick(form.figures, "safety")
        self.pick(form.second, "bram oster")
        self.assertEqual((controller.page.figures, controller.page.second), ("safety", "bram oster"))
        self.pick(form.second, "")
        self.assertIsNone(controller.page.second)
        self.page.add_page("course")
        self.assertEqual((controller.page.session, controller.page.rack), ("test", None))
        other = session(id="other", title="Another", racks=[rack_of(played("a", "1"))])
        self.workspace.document.run(add_session(other))
        self.page.add_page("sheet")
        self.page.refresh()
        self.pick(form.session, "other")
        self.assertEqual((controller.page.session, controller.page.rack), ("other", 1))
        self.pick(form.rack, 1)
        self.pick(self.page.report_form.player, "bram oster")
        self.pick(self.page.report_form.session, "other")
        self.assertEqual(
            (controller.report.player, list(controller.report.sessions)), ("bram oster", ["other"])
        )
        self.pick(self.page.report_form.session, "")
        self.assertIsNone(controller.report.sessions)
        search = self.page.report_form.search
        search.setFocus()
        write("cut:steep")
        press("Return")
        self.assertEqual(controller.report.search, "cut:steep")

    def test_key_shots_are_put_in_once_and_taken_out(self):
        for _ in range(2):
            press("Ctrl+Shift+E")
        self.assertIn("is in Report for Ada Quill already", self.said[-1])
        self.open_report()
        self.page.list.selectRow(3)
        self.assertEqual(self.page.controller.page.kind, "shots")
        shots = self.page.page_form.shots
        shots.note.setFocus()
        write("Watch the leave")
        press("Return")
        self.assertEqual(self.page.controller.page.shots[0].note, "Watch the leave")
        shots.out.click()
        shots.out.click()
        self.assertEqual(len(self.page.controller.page.shots or ()), 0)
        self.page.controller.new()
        self.assertEqual(self.page.reports.count(), 2)
        key = self.page.reports.itemData(0)
        self.page.reports.activated.emit(0)
        self.assertEqual(self.page.controller.state.report, key)
        press("F5")
        self.wait_for_page()

    def test_what_cannot_be_made_is_said(self):
        self.new_report()
        self.wait_for_page()
        with patch.object(page_module, "make_pages", side_effect=RuntimeError("broken")):
            press("F5")
            self.wait_for_page()
        self.assertIn("This page could not be made: broken", self.page.state.text())
        with patch.object(page_module, "choose_file", return_value=""):
            press("Ctrl+E")
        self.page._not_written(self.folder / "x.pdf", RuntimeError("broken"))
        self.assertIn("broken", self.said[-1])
        with patch.object(page_module, "run_dialog", return_value=False):
            press("Ctrl+P")
        with (
            patch.object(page_module, "run_dialog", return_value=True),
            patch.object(page_module, "print_pdf", return_value=7),
        ):
            press("Ctrl+P")
            wait_until(lambda: "7 sheets went to the printer." in self.said, "the printer")


if __name__ == "__main__":
    import unittest

    unittest.main()
