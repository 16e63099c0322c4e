"""When something is wrong the window says one sentence and goes on."""

import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from ripasso.demo.library import film_path
from ripasso.film import build_index, fingerprint
from ripasso.film.finding import find_film
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import open_library
from tests.films import write_film
from tests.sessions import played, rack_of, session, session_data
from tests.windows import WindowCase, destroy, in_dialog, press, wait_until, write

ROOT = Path(__file__).resolve().parents[2]


class WrongFiles(WindowCase):
    def test_each_file_gets_its_sentence_and_the_window_goes_on(self):
        deep = session_data(racks=[rack_of({"facts": {"potted": [{"ball": 3}]}})])
        cases = {
            "empty.ripasso.json": ("", "empty"),
            "cut.ripasso.json": ('{"format": "ripasso', "not valid JSON"),
            "letter.ripasso.json": ('"Dear Ada"', "not a Ripasso session"),
            "deep.ripasso.json": (json.dumps(deep), "$.racks[0].shots[0].facts.potted[0].ball"),
        }
        for name, (text, said) in cases.items():
            path = self.folder / name
            path.write_text(text)
            self.assertIsNone(self.window.sessions.controller.import_file(path))
            self.assertIn(said, self.said[-1])
        newer = self.folder / "newer.ripasso.json"
        newer.write_text(json.dumps(session_data(version=2, racks=[rack_of(played("a", "2"))])))
        self.window.files.import_session(newer)
        self.assertTrue(any("newer Ripasso" in sentence for sentence in self.said))
        self.assertEqual(self.review.controller.shot.record.number, 1)

    def test_a_differing_import_asks_and_keeps_both(self):
        path = self.folder / "one.ripasso.json"
        path.write_text(json.dumps(session_data(racks=[rack_of(played("a", "2"))])))
        self.window.sessions.controller.import_file(path)
        self.window.sessions.controller.import_file(path)
        self.assertIn("equal", self.said[-1])
        path.write_text(json.dumps(session_data(note="other")))
        for wanted, sessions in (("Cancel", 1), ("Keep both", 2), ("Replace it", 2)):
            in_dialog(lambda box, wanted=wanted: self.choose(box, wanted))
            self.window.sessions.controller.import_file(path)
            self.assertEqual(len(self.window.sessions.model.lines), sessions, wanted)
        self.assertEqual(self.workspace.document.session("test").head.note, "other")

    def choose(self, box, words):
        next(b for b in box.buttons() if b.text() == words).click()

    def test_only_deleting_a_session_asks(self):
        path = self.folder / "one.ripasso.json"
        path.write_text(json.dumps(session_data(racks=[rack_of(played("a", "2"))])))
        self.window.sessions.controller.import_file(path)
        self.window.sessions.take_focus()
        in_dialog(lambda box: self.choose(box, "Delete"))
        press("Delete")
        self.assertEqual(self.window.sessions.model.lines, [])
        press("Ctrl+Z")
        self.assertEqual(len(self.window.sessions.model.lines), 1)


class WrongFilms(WindowCase):
    def open_with_film(self, path):
        data = session_data(
            recordings=[{"id": "f", "file": str(path)}], racks=[rack_of(played("a", "2", intent="break"))]
        )
        file = self.folder / "one.ripasso.json"
        file.write_text(json.dumps(data))
        self.window.files.import_session(file)
        wait_until(lambda: self.said and "film" in self.said[-1].lower(), "a sentence on the film")

    def test_a_missing_film_blocks_neither_tags_nor_figures(self):
        self.open_with_film(self.folder / "gone.mp4")
        self.assertIn("is not there", self.said[-1])
        press("Y", "F")
        self.assertEqual(self.review.controller.shot.record.decision.verdict, "agree")
        self.assertIn("no frame to mark", self.said[-1])
        self.window.show_page("statistics")
        wait_until(lambda: self.window.statistics.overview.model.questions)

    def test_a_letter_is_no_film(self):
        letter = self.folder / "letter.mp4"
        letter.write_text("Dear Bram")
        self.open_with_film(letter)
        self.assertIn("no film that can be read", self.said[-1])

    def test_a_moved_film_is_found_again(self):
        self.open_with_film(self.folder / "gone.mp4")
        self.window.sessions.controller.attach_film("test", film_path())
        self.wait_for_film()
        press("F")
        self.assertEqual(self.review.controller.shot.record.recording, "f")

    def test_a_film_that_was_moved_nearby_is_found_by_itself(self):
        film = self.folder / "rack.mp4"
        write_film(film, 60, 12)
        index = build_index(film)
        known = fingerprint(film, index.duration_s)
        (self.folder / "elsewhere").mkdir()
        moved = self.folder / "elsewhere" / "another name.mp4"
        (self.folder / "elsewhere" / "other.mp4").write_bytes(b"0" * known["size"])  # as large, and another
        film.rename(moved)
        recordings = [{"id": "f", "file": str(film), "fingerprint": known}]
        self.workspace.document.run(add_session(session(recordings=recordings)))
        self.window.open_session("test")
        self.wait_for_film()
        self.assertEqual(self.review.controller.snapshot.head.recordings[0].file, str(moved))
        self.assertTrue(any("found again" in sentence for sentence in self.said))
        press("Ctrl+Z")  # the record is as it was, and the film stays
        self.assertEqual(self.review.controller.snapshot.head.recordings[0].file, str(film))
        self.wait_for_film()
        self.assertIsNone(find_film(known, [self.folder / "nowhere"]))
        self.assertIsNone(find_film({}, [self.folder]))

    def test_a_film_that_does_not_open_keeps_the_new_session_waiting(self):
        letter = self.folder / "letter.mp4"
        letter.write_text("Dear Bram")
        sentences = []

        def fill_in(dialog):
            write("Ada")
            dialog._film.setText(str(letter))
            press("Return")
            wait_until(lambda: dialog._looking is None, "the film to be looked through")
            sentences.append(dialog._problem.text())

        in_dialog(fill_in)
        press("Ctrl+N")
        self.assertIn("no film", sentences[0])
        self.assertEqual(self.window.sessions.model.lines, [])

    def test_return_while_the_film_is_looked_through_begins_the_session_then(self):
        def fill_in(dialog):
            write("Ada")
            dialog._film.setText(str(film_path()))
            press("Return")
            self.assertIn("looked through", dialog._problem.text())
            wait_until(lambda: not dialog.isVisible(), "the session to begin")

        in_dialog(fill_in)
        press("Ctrl+N")
        wait_until(lambda: self.review.controller.snapshot is not None, "the session")
        self.assertEqual(self.review.controller.snapshot.head.recordings[0].file, str(film_path()))


class NoFilm(WindowCase):
    def test_marks_take_the_clock(self):
        file = self.folder / "one.ripasso.json"
        file.write_text(json.dumps(session_data()))
        self.window.files.import_session(file)
        press("F")
        time.sleep(0.6)
        press("M", "F")
        shots = [s.record for s in self.review.controller.snapshot.shots]
        self.assertEqual([(s.recording, s.player) for s in shots], [("clock", "a"), ("clock", "b")])
        self.assertGreater(shots[1].t_strike - shots[0].t_strike, 0.55)
        self.assertEqual(shots[0].t_strike, 0.0)

    def test_a_note_is_words_not_commands(self):
        file = self.folder / "one.ripasso.json"
        file.write_text(json.dumps(session_data(racks=[rack_of(played("a", "2", intent="break"))])))
        self.window.files.import_session(file)
        press("N")
        write("gj 9 too thin")
        press("Return", "Y")
        record = self.review.controller.shot.record
        self.assertEqual((record.note, record.decision.verdict), ("gj 9 too thin", "agree"))
        press("N")
        write("never mind")
        press("Escape")
        self.assertEqual(self.review.controller.shot.record.note, "gj 9 too thin")
        self.assertEqual(self.review.slip.note.text(), "gj 9 too thin")


class WrongRecords(WindowCase):
    def test_they_are_shown_where_they_are_and_never_refused(self):
        shots = (played("a", "2", intent="break"), played("b", "1"), played("b", "2"), played("b", "12"))
        file = self.folder / "one.ripasso.json"
        file.write_text(json.dumps(session_data(racks=[rack_of(*shots)])))
        self.window.files.import_session(file)
        expected = ("", "the other player", "not on the table", "no ball '12'")
        for words in expected:
            self.assertIn(words, self.review.slip._warning.text())
            self.assertEqual(self.review.slip._warning.isVisible(), bool(words))
            press("Down")


class SecondWindow(WindowCase):
    demo = True

    def test_it_reads_only_and_says_so(self):
        from ripasso.ui.app import build_window
        from ripasso.ui.workspace import build_workspace

        workspace = build_workspace(self.library, None)
        said = []
        workspace.messages.said.connect(lambda sentence, _tone: said.append(sentence))
        second = build_window(workspace)
        self.addCleanup(destroy, second)
        self.assertIn("another window", said[0])
        second.open_session("demo-winter-ladder")
        second.review.controller.tag("decision_other")
        self.assertIn("reading only", said[-1])


class KilledWindow(WindowCase):
    """The real window in a process of its own, killed between two keys."""

    CODE = """
import pathlib, sys
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import build_workspace
app = application()
window = build_window(build_workspace(pathlib.Path(sys.argv[1]), None))
window.show()
window.open_session("test")
QTest.qWaitForWindowActive(window)
count = 0
while True:
    count += 1
    QTest.keyClick(window.review, Qt.Key.Key_N)
    QTest.keyClicks(window.review.slip.note, str(count % 10))
    QTest.keyClick(window.review.slip.note, Qt.Key.Key_Return)
    print(window.review.controller.shot.record.note, flush=True)
"""

    def test_two_kills(self):
        file = self.folder / "one.ripasso.json"
        file.write_text(json.dumps(session_data(racks=[rack_of(played("a", "2", intent="break"))])))
        self.window.sessions.controller.import_file(file)
        self.close_window()
        for seconds in (0.15, 0.4):
            with self.subTest(seconds=seconds):
                printed = self.run_and_kill(seconds)
                library = open_library(self.library)
                stored = Document(library, derived_rows).session("test").shots[0].record.note
                library.close()
                # The note that was stored last, or the one that was in hand.
                self.assertIn(stored, (printed, str((int(printed) + 1) % 10)))

    def run_and_kill(self, seconds):
        command = [sys.executable, "-c", self.CODE, str(self.library)]
        with subprocess.Popen(
            command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, cwd=ROOT
        ) as process:
            first = process.stdout.readline()
            time.sleep(seconds)
            os.kill(process.pid, signal.SIGKILL)
            lines = [first, *process.stdout.read().splitlines()]
        self.assertTrue(first.strip(), "the window did not begin")
        return lines[-1].strip()
