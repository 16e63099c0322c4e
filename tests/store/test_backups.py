"""Backups and what can be read of a damaged library; what rarely goes wrong with either."""

import sqlite3
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from unittest import mock

from ripasso.review.document import edits
from ripasso.review.record.model import serialize
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.errors import DamagedLibrary, LibraryError
from ripasso.store.file.backups import Backup, back_up, backups_of, folder_of, free_name, restore, superfluous
from ripasso.store.library import Library, open_library
from ripasso.store.opening import check_whole, is_large, open_file
from ripasso.store.recovering import recover
from ripasso.store.session_list import session_lines
from tests.sessions import played, rack_of, session
from tests.store.test_library import document_of
from tests.store.test_safety import DAY, Filled


class Backups(Filled):
    def test_a_copy_a_day_that_is_a_library(self):
        library, document = self.filled()
        self.assertEqual(back_up(self.path, DAY).day, DAY)
        self.note(document, "later")
        self.assertIsNone(back_up(self.path, DAY), "one a day")
        library.close()
        copy = open_library(backups_of(self.path)[0].path)
        self.addCleanup(copy.close)
        self.assertIsNone(document_of(copy).session("test").shots[0].record.note)

    def test_seven_days_and_four_weeks_are_kept(self):
        """Every day for ten weeks: the last seven, and the first backup of each of the last four weeks."""
        kept = []
        for number in range(70):
            made = Backup(Path(str(number)), DAY + timedelta(number))
            kept = [made, *kept]
            gone = superfluous(kept, made)
            kept = [backup for backup in kept if backup not in gone]
        last = DAY + timedelta(69)
        self.assertEqual([b.day for b in kept[:7]], [last - timedelta(n) for n in range(7)])
        weeks = sorted({b.day.isocalendar()[:2] for b in kept}, reverse=True)
        self.assertEqual(weeks, [(last - timedelta(7 * n)).isocalendar()[:2] for n in range(4)])
        self.assertLessEqual(len(kept), 7 + 4)

    def test_days_without_work_take_no_backup_away(self):
        kept = [Backup(Path(str(n)), DAY - timedelta(30 * n)) for n in range(6)]
        self.assertEqual(superfluous(kept, kept[0]), [])

    def test_a_clock_that_was_set_back_takes_none_away(self):
        backups = [Backup(Path(str(n)), DAY + timedelta(n)) for n in range(10)]
        made = Backup(Path("today"), DAY - timedelta(400))
        self.assertEqual(superfluous([*backups, made], made), [])

    def test_a_full_disk_leaves_the_old_ones(self):
        self.filled()
        back_up(self.path, DAY)
        full = OSError(28, "No space left on device")
        with (
            mock.patch("ripasso.store.file.connecting.os.fsync", side_effect=full),
            self.assertRaises(LibraryError) as caught,
        ):
            back_up(self.path, DAY + timedelta(1))
        self.assertIn("backup of test.ripasso cannot be written", str(caught.exception))
        self.assertEqual([path.name for path in folder_of(self.path).iterdir()], [f"{DAY}.ripasso"])

    def test_going_back_keeps_the_later_one(self):
        library, document = self.filled()
        backup = back_up(self.path, DAY)
        self.note(document, "later")
        library.close()
        aside = restore(self.path, backup.path, DAY)
        for path, note in ((self.path, None), (aside, "later")):
            found = open_library(path)
            self.addCleanup(found.close)
            self.assertEqual(document_of(found).session("test").shots[0].record.note, note)

    def test_a_backup_that_cannot_be_read_leaves_the_library(self):
        library, document = self.filled()
        backup = back_up(self.path, DAY)
        self.note(document, "later")
        library.close()
        backup.path.write_bytes(b"SQLite format 3\x00" + bytes(5000))
        with self.assertRaises(LibraryError):
            restore(self.path, backup.path, DAY)
        self.assertEqual(document_of(self.open()).session("test").shots[0].record.note, "later")


class Recovering(Filled):
    def test_what_can_be_read_of_a_damaged_file(self):
        library, document = self.filled(shots=40)
        document.run(edits.add_session(session(id="other", title="Other", racks=[rack_of(played("b"))])))
        whole = serialize(document.session("other").session)
        library.close()
        self.plain("UPDATE shot SET record = '?' WHERE rowid = 7")
        found = recover(self.path, DAY, derived_rows)
        self.assertEqual((found.sessions, found.lost), (2, 1))
        self.assertTrue(found.aside.exists())
        document = document_of(self.open())
        self.assertEqual(len(document.session("test").shots), 39)
        self.assertEqual(serialize(document.session("other").session), whole)

    def break_a_page(self):
        """Overwrite a page in the middle of the table of shots, as a bad disk does."""
        with closing(sqlite3.connect(self.path)) as plain:
            plain.execute("PRAGMA journal_mode = DELETE")
            size = plain.execute("PRAGMA page_size").fetchone()[0]
            root = plain.execute("SELECT rootpage FROM sqlite_master WHERE name = 'shot'").fetchone()[0]
        data = bytearray(self.path.read_bytes())
        data[size * (root + 6) : size * (root + 7)] = bytes(size)
        self.path.write_bytes(bytes(data))

    def test_pages_that_are_gone(self):
        self.filled(shots=400)[0].close()
        self.break_a_page()
        with self.assertRaises(DamagedLibrary):
            open_library(self.path)
        found = recover(self.path, DAY, derived_rows)
        self.assertEqual(found.sessions, 1)
        shots = len(document_of(self.open()).session("test").shots)
        self.assertGreater(shots, 200)
        self.assertLessEqual(shots, 400)

    def test_a_large_file_is_looked_through_while_one_works(self):
        self.filled(shots=400)[0].close()
        check_whole(self.path)
        self.break_a_page()
        with mock.patch("ripasso.store.opening.LARGE_BYTES", 1000):
            self.open()
        with self.assertRaises(DamagedLibrary) as caught:
            check_whole(self.path)
        self.assertIn("damaged in places", str(caught.exception))

    def test_nothing_that_can_be_read(self):
        self.path.write_bytes(b"SQLite format 3\x00" + bytes(5000))
        with self.assertRaises(LibraryError):
            recover(self.path, DAY, derived_rows)
        self.assertTrue(self.path.exists())


class Edges(Filled):
    """What rarely goes wrong."""

    def test_attempts_whose_record_is_damaged_are_left_out(self):
        sets = [{"id": "one", "title": "A"}, {"id": "two", "title": "B"}]
        library, _ = self.filled(attempt_sets=sets)
        self.assertEqual([one.record.title for one in library.attempt_sets(["test"])], ["A", "B"])
        library.close()
        self.plain("UPDATE attempt_set SET record = '{' WHERE title = 'A'")
        self.assertEqual([one.record.title for one in self.open().attempt_sets()], ["B"])

    def test_other_files_among_the_backups_are_none(self):
        self.filled()
        back_up(self.path, DAY)
        for name in ("2026-13-45.ripasso", "notes.txt", "version-6.ripasso"):
            (folder_of(self.path) / name).write_text("x")
        (folder_of(self.path) / "2026-01-01.ripasso").mkdir()
        self.assertEqual([backup.day for backup in backups_of(self.path)], [DAY])

    def test_old_backups_go_with_a_new_one(self):
        self.filled()
        for number in range(60):
            back_up(self.path, DAY + timedelta(number))
        self.assertLessEqual(len(backups_of(self.path)), 11)

    def test_a_library_that_is_damaged_gets_no_backup(self):
        self.filled()[0].close()
        self.path.write_bytes(b"SQLite format 3\x00" + bytes(5000))
        with self.assertRaises(LibraryError):
            back_up(self.path, DAY)
        self.assertEqual(backups_of(self.path), [])

    def test_going_back_without_a_library_and_with_too_many_copies(self):
        library, _ = self.filled()
        backup = back_up(self.path, DAY)
        library.close()
        self.path.unlink()
        restore(self.path, backup.path, DAY)
        self.assertEqual(len(self.open().sessions()), 1)
        self.assertEqual(free_name(self.path, "x").name, "test.x.ripasso")
        (self.folder / "test.x.ripasso").touch()
        self.assertEqual(free_name(self.path, "x").name, "test.x-2.ripasso")
        with mock.patch.object(Path, "exists", return_value=True), self.assertRaises(LibraryError):
            free_name(self.path, "x")

    def test_a_backup_that_cannot_be_moved_into_its_place(self):
        library, _ = self.filled()
        backup = back_up(self.path, DAY)
        library.close()
        denied = PermissionError(13, "Permission denied")
        with mock.patch("ripasso.store.file.backups.move_library", side_effect=denied):
            with self.assertRaises(LibraryError) as caught:
                restore(self.path, backup.path, DAY)
            self.assertIn("cannot be restored: Permission denied", str(caught.exception))
        with mock.patch("ripasso.store.recovering.move_library", side_effect=denied):
            with self.assertRaises(LibraryError) as caught:
                recover(self.path, DAY, derived_rows)
            self.assertIn("cannot be replaced: Permission denied", str(caught.exception))
        self.assertEqual(len(self.open().sessions()), 1, "it is where it was")

    def test_a_library_that_is_gone_before_it_is_held(self):
        file = open_file(self.path)
        self.path.unlink()
        with self.assertRaises(LibraryError):
            Library(file)
        again = open_file(self.path)  # its lock was let go
        self.assertIsNotNone(again.lock)
        again.release()

    def test_what_is_looked_through_when_it_is_gone(self):
        self.assertFalse(is_large(self.path))
        with self.assertRaises(LibraryError):
            check_whole(self.path)
        with self.assertRaises(LibraryError):
            session_lines(self.path)
