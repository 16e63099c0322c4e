"""Killed, full, gone, damaged: what was typed is there again, and the window says what happened."""

import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path
from unittest import mock

from PyQt6.QtWidgets import QApplication, QPushButton

from ripasso.review.document.edits import add_session
from ripasso.store.errors import DamagedLibrary, LibraryError
from ripasso.store.file.backups import back_up, backups_of
from ripasso.store.library import open_library
from ripasso.store.session_file import save_session
from ripasso.ui import app as application
from ripasso.ui.recovery import BackupsDialog, repaired
from ripasso.ui.services.log_file import begin_log
from tests.sessions import played, rack_of, session
from tests.store.test_library import document_of
from tests.windows import WindowCase, in_dialog, press, uncaught, wait_until, write

ROOT = Path(__file__).resolve().parents[2]
FULL = LibraryError("The disk is full: the last change was not stored; free some space and do it again.")


def answered(case, words):
    """Press the button with these words in the next question; what it asked is kept."""

    def act(box):
        case.asked.append(f"{box.text()} {box.informativeText()}")
        next(button for button in box.buttons() if button.text() == words).click()

    in_dialog(act)


class Asked(WindowCase):
    def setUp(self):
        self.asked = []
        super().setUp()

    def begin(self, shots=3):
        """Review a session of a few shots."""
        self.workspace.document.run(add_session(session(racks=[rack_of(*[played("a", "1")] * shots)])))
        self.window.open_session("test")

    def note(self, text, end="Return"):
        press("N")
        write(text)
        if end:
            press(end)

    def stored(self, shot=0):
        return self.workspace.document.session("test").shots[shot].record.note


class Drafts(Asked):
    def test_a_note_that_was_being_typed_is_there_again(self):
        self.begin()
        self.note("a long note that nobody fin", end="")
        # The process is gone at this moment: another one opens a copy of the file.
        copy = self.folder / "copy.ripasso"
        with closing(sqlite3.connect(self.library)) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
        self.close_window()
        shutil.copy(copy, self.library)
        for beside in ("-wal", "-shm"):
            self.library.with_name(self.library.name + beside).unlink(missing_ok=True)
        self.open_window()
        self.window.open_session("test")
        self.assertEqual(self.stored(), "a long note that nobody fin")
        self.assertIn("Kept as it was being typed: 1 note", self.said[-1])
        press("Ctrl+Z")
        self.assertIsNone(self.stored())
        self.assertEqual(self.workspace.library.drafts("test"), {})

    def test_a_note_that_is_kept_or_left_leaves_no_draft(self):
        self.begin()
        self.note("kept")
        self.assertEqual((self.stored(), self.workspace.library.drafts("test")), ("kept", {}))
        self.note(" and more", end="")
        self.assertEqual(list(self.workspace.library.drafts("test").values()), [" and more"])
        press("Escape")
        self.assertEqual((self.stored(), self.workspace.library.drafts("test")), ("kept", {}))

    def test_another_shot_comes_into_hand_while_a_note_is_typed(self):
        self.begin()
        self.note("half a no", end="")
        self.review.navigation.go_to(self.workspace.document.session("test").shots[2].key)
        self.assertEqual((self.stored(0), self.stored(2)), ("half a no", None))
        self.assertEqual((self.review.slip.note.text(), self.workspace.library.drafts("test")), ("", {}))

    def test_a_killed_window_loses_no_letter(self):
        """A process of its own types letter after letter, tells each, and is killed."""
        self.close_window()
        typed = "the object ball was hit too thick, the side was missed, and so on"
        command = [sys.executable, "-m", "tests.stories.typist", str(self.library), typed]
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        with subprocess.Popen(
            command, cwd=ROOT, env=environment, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
        ) as typist:
            told = ""
            while len(told) < 30:
                told = typist.stdout.readline().rstrip("\n")
            time.sleep(0.01)
            typist.send_signal(signal.SIGKILL)
            rest = typist.stdout.read().splitlines()
        told = rest[-1] if rest else told
        self.open_window()
        self.window.open_session("test")
        # A note ends with its last word, wherever the kill came.
        self.assertIn(self.stored(), (told.strip(), typed[: len(told) + 1].strip()))


class FullDisk(Asked):
    def test_the_window_asks_before_it_closes_without_a_note(self):
        self.begin()
        with mock.patch.object(type(self.workspace.library), "commit", side_effect=FULL):
            self.note("nowhere to go", end="")
            answered(self, "Stay")
            self.window.close()
            self.assertTrue(self.window.isVisible())
            self.assertIn("“nowhere to go”", self.asked[0])
            self.assertIn("disk is full", self.asked[0])
            self.assertEqual(self.review.slip.note.text(), "nowhere to go")
            answered(self, "Close without it")
            self.window.close()
            self.assertFalse(self.window.isVisible())

    def test_what_was_typed_is_stored_when_there_is_room_again(self):
        self.begin()
        with mock.patch.object(type(self.workspace.library), "commit", side_effect=FULL):
            self.note("in time")
            self.assertIn("disk is full", self.said[-1])
            self.assertEqual(self.review.slip.note.text(), "in time")
        press("N", "Return")
        self.assertEqual(self.stored(), "in time")

    def test_a_full_disk_is_said_once_while_a_note_is_typed(self):
        self.begin()
        with mock.patch.object(type(self.workspace.library), "keep_draft", side_effect=FULL):
            self.note("abc", end="")
            self.assertEqual(sum("disk is full" in sentence for sentence in self.said), 1)
        press("Return")
        self.assertEqual(self.stored(), "abc")


class Gone(Asked):
    def test_a_library_that_was_moved_away_is_kept_elsewhere(self):
        self.begin()
        self.note("before")
        self.library.rename(self.folder / "moved.ripasso")
        place = self.folder / "saved.ripasso"
        answered(self, "Save elsewhere")
        with mock.patch("ripasso.ui.recovery.choose_file", return_value=str(place)):
            press("Down")
            self.note("after")
        self.assertIn("test.ripasso is not at its place any more", self.asked[0])
        self.assertEqual(self.stored(1), "after")
        self.assertEqual(self.workspace.path, place)
        self.assertEqual(self.window.windowTitle(), "Ripasso – saved")
        press("Ctrl+1")
        self.assertEqual(len(self.window.sessions.model.lines), 1)
        self.assertFalse(self.library.exists(), "no empty file at the old place")
        self.close_window()
        library = open_library(place)
        self.addCleanup(library.close)
        notes = [shot.record.note for shot in document_of(library).session("test").shots]
        self.assertEqual(notes, ["before", "after", None])

    def test_what_goes_on_in_the_background_says_a_sentence(self):
        self.begin()
        self.library.unlink()
        self.workspace.measuring.want("test")
        self.window._begin_work()
        wait_until(lambda: self.said and not self.workspace.measuring.busy)
        self.assertFalse([said for said in self.said if "inside the program" in said], self.said)

    def test_sessions_that_cannot_be_read_any_more_are_said(self):
        self.begin()
        record = session(id="other", title="Other", racks=[rack_of(played("a", "1"))])
        self.workspace.document.run(add_session(record))
        press("Ctrl+1")
        self.close_window()
        self.open_window()
        _ = self.workspace.document
        gone = LibraryError(
            "test.ripasso cannot be read or written any more; its disk may have been taken away."
        )
        with mock.patch.object(type(self.workspace.library), "load", side_effect=gone):
            self.window.open_session("other")
            self.assertIn("taken away", self.said[-1])
            self.said.clear()
            controller = self.window.sessions.controller
            for work in (controller.delete, controller.choose_export):
                work("other")
                self.assertIn("taken away", self.said.pop())
            file = self.folder / "other.ripasso.json"
            save_session(record, file)
            self.assertIsNone(controller.import_file(file))
            self.assertIn("taken away", self.said.pop())

    def test_who_cancels_keeps_what_was_typed_in_the_line(self):
        self.begin()
        self.library.unlink()
        answered(self, "Cancel")
        self.note("typed")
        # Work in the background may have found the library gone too, and said so after it.
        self.assertIn("was not stored", "\n".join(self.said))
        self.assertEqual(self.review.slip.note.text(), "typed")
        self.assertFalse(self.library.exists())
        answered(self, "Close without it")


class Damaged(Asked):
    def damaged(self):
        self.begin()
        back_up(self.library, date(2026, 3, 4))
        self.note("later")
        self.close_window()
        for other in backups_of(self.library)[:-1]:
            other.path.unlink()  # the window's own of today, where it was made in time
        data = bytearray(self.library.read_bytes())
        data[4096 : 4096 + 64] = bytes(64)
        self.library.write_bytes(bytes(data))
        with self.assertRaises(DamagedLibrary) as caught:
            open_library(self.library)
        return caught.exception

    def test_a_backup_is_offered(self):
        error = self.damaged()
        answered(self, "Restore the backup of 2026-03-04")
        self.assertIn("that of 2026-03-04", repaired(self.library, error))
        self.open_window()
        self.window.open_session("test")
        self.assertIsNone(self.stored())
        self.assertIn("damaged", self.asked[0])

    def test_what_can_be_read_is_saved(self):
        error = self.damaged()
        answered(self, "Save what can be read")
        try:
            said = repaired(self.library, error)
        except LibraryError as further:
            self.assertIn("backup of it is needed", str(further))
            return
        self.assertIn("sessions were saved", said)

    def test_who_closes_changes_nothing(self):
        error = self.damaged()
        before = self.library.read_bytes()
        answered(self, "Close")
        self.assertIsNone(repaired(self.library, error))
        self.assertEqual(self.library.read_bytes(), before)

    def test_one_damaged_record_is_said_and_the_rest_is_reviewed(self):
        self.begin()
        self.close_window()
        with closing(sqlite3.connect(self.library)) as plain:
            plain.execute("UPDATE shot SET record = '{' WHERE rowid = 2")
            plain.commit()
        self.open_window()
        self.window.open_session("test")
        self.assertEqual(len(self.workspace.document.session("test").shots), 2)
        self.assertTrue(any("1 × shot" in sentence for sentence in self.said), self.said)
        self.note("goes on")
        self.assertEqual(self.stored(), "goes on")


class Backups(Asked):
    def test_a_backup_is_made_when_the_library_is_opened_with_something_in_it(self):
        self.begin()
        self.window._begin_work()
        wait_until(lambda: backups_of(self.library), "today's backup")
        self.assertEqual(backups_of(self.library)[0].day, date.today())

    def test_the_dialog_lists_them_and_the_window_goes_back(self):
        self.begin()
        # The window keeps today's in the background, whenever it comes to it.
        days = [date.today() - timedelta(3), date.today() - timedelta(1), date.today()]
        for number, day in enumerate(days):
            self.note(str(number))
            back_up(self.library, day)
        self.note(" the last")
        press("Ctrl+1")

        def choose(dialog):
            self.assertIsInstance(dialog, BackupsDialog)
            rows = [dialog.list.item(row).text() for row in range(dialog.list.count())]
            self.assertEqual([row[:10] for row in rows], [day.isoformat() for day in reversed(days)])
            self.assertIn("1 session, 3 shots", rows[0])
            dialog.list.setCurrentRow(2)
            dialog.accept()

        in_dialog(choose)
        press("Ctrl+Shift+B")
        self.assertFalse(self.window.isVisible())
        self.assertEqual(self.window.going_back_to.day, days[0])
        said = application._restored(self.library, self.window.going_back_to)
        self.assertIn("later one is kept", said)
        self.open_window()
        self.window.open_session("test")
        self.assertEqual(self.stored(), "0")

    def test_the_settings_lead_to_them(self):
        self.begin()
        back_up(self.library, date.today())
        found = []

        def look(dialog):
            found.append(dialog.windowTitle())
            dialog.reject()

        def lead(settings):
            in_dialog(look)
            settings.backups.click()

        in_dialog(lead)
        press("Ctrl+,")
        self.assertEqual(found, ["Backups"])
        self.assertTrue(self.window.isVisible())

    def test_without_a_backup_there_is_nothing_to_go_back_to(self):
        dialog = BackupsDialog(self.library)
        self.addCleanup(dialog.deleteLater)
        self.assertIsNone(dialog.chosen)
        enabled = {button.text(): button.isEnabled() for button in dialog.findChildren(QPushButton)}
        self.assertFalse(enabled["Restore"])


class Errors(Asked):
    def test_an_error_that_nobody_caught_is_said_and_its_details_can_be_copied(self):
        log = begin_log(self.folder / "state")
        hook = sys.excepthook
        self.addCleanup(setattr, sys, "excepthook", hook)
        self.workspace.messages.catch_all()
        try:
            raise KeyError("white")
        except KeyError:
            sys.excepthook(*sys.exc_info())
        self.assertIn("Something went wrong inside the program", self.window.message.text())
        self.assertTrue(self.window.message.copy_details.isVisible())
        self.window.message.copy_details.click()
        self.assertIn("Traceback", QApplication.clipboard().text())
        self.assertIn("KeyError", QApplication.clipboard().text())
        self.assertIn("Traceback", log.read_text())
        self.workspace.messages.say("Something else.")
        self.assertFalse(self.window.message.copy_details.isVisible())
        self.assertEqual(uncaught, [])

    def test_an_error_in_the_background_is_no_sentence_of_python(self):
        self.workspace.background.run(lambda: {}["white"], lambda _answer: None)
        wait_until(lambda: self.said, "the sentence")
        self.assertIn("Something went wrong inside the program", self.said[-1])
        self.assertTrue(self.window.message.copy_details.isVisible())

    def test_a_log_never_grows_large_and_is_private(self):
        log = begin_log(self.folder / "state")
        for _ in range(3000):
            self.workspace.messages.say("x" * 1000)
        files = list(log.parent.glob("ripasso.log*"))
        self.assertEqual(len(files), 4)
        for file in files:
            self.assertLess(file.stat().st_size, 600_000)
            self.assertEqual(file.stat().st_mode & 0o777, 0o600)

    def test_a_folder_that_takes_no_log(self):
        self.assertIsNone(begin_log(Path("/proc/none")))
