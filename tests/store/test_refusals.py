"""What libraries and session files refuse, and how the disk refuses: one sentence each, nothing lost."""

import sqlite3
from pathlib import Path
from unittest import mock

from ripasso.review.document import edits
from ripasso.store.errors import LibraryError, failure
from ripasso.store.file.backups import before_upgrade
from ripasso.store.file.header import LIBRARY_VERSION
from ripasso.store.library import open_library
from ripasso.store.session_file import SessionFileError, load_session, save_session
from tests.sessions import played, rack_of, session
from tests.store.test_library import WithFolder, document_of


class Sentences(WithFolder):
    def test_each_thing_that_sqlite_says_has_its_own(self):
        for said, ours in (
            ("database or disk is full", "The disk is full"),
            ("database is locked", "another program"),
            ("database table is busy", "another program"),
            ("attempt to write a readonly database", "write-protected"),
            ("database disk image is malformed", "damaged"),
            ("file is not a database", "damaged"),
            ("unable to open database file", "cannot be opened"),
            ("disk I/O error", "taken away"),
            ("no such table: shot", "damaged"),
            ("something else", "cannot be used: something else"),
        ):
            with self.subTest(said):
                found = str(failure(sqlite3.OperationalError(said), self.path))
                self.assertIn(ours, found)
                self.assertTrue(found.endswith(".") and found.count(".") <= 2, found)


class Opening(WithFolder):
    def test_a_library_that_should_be_there(self):
        with self.assertRaises(LibraryError) as caught:
            open_library(self.path, create=False)
        self.assertEqual(str(caught.exception), "There is no library test.ripasso.")
        self.assertFalse(self.path.exists())

    def test_a_place_where_nothing_can_be_made(self):
        (self.folder / "file").write_text("here")
        self.path = self.folder / "file" / "test.ripasso"
        self.assertIn("cannot be made there", self.sentence())

    def test_a_folder_that_cannot_be_written(self):
        open_library(self.path).close()
        denied = PermissionError(13, "Permission denied")
        with mock.patch("ripasso.store.file.lock.os.open", side_effect=denied):
            library = self.open()
        self.assertTrue(library.read_only)
        self.assertIn("folder cannot be written", library.notice)

    def test_a_file_that_cannot_be_written(self):
        open_library(self.path).close()
        with mock.patch("ripasso.store.opening.os.access", return_value=False):
            library = self.open()
        self.assertTrue(library.read_only)
        self.assertIn("write-protected", library.notice)
        again = self.open()  # the lock was not kept
        self.assertFalse(again.read_only)

    def test_an_older_library_needs_a_place_where_it_can_be_written_once(self):
        open_library(self.path).close()
        plain = sqlite3.connect(self.path)
        plain.execute(f"PRAGMA user_version = {LIBRARY_VERSION - 1}")
        plain.close()
        with mock.patch("ripasso.store.opening.os.access", return_value=False):
            self.assertIn("brought up to date once", self.sentence())

    def test_an_older_library_without_room_for_its_copy_is_not_touched(self):
        open_library(self.path).close()
        version = LIBRARY_VERSION - 1
        plain = sqlite3.connect(self.path)
        plain.execute(f"PRAGMA user_version = {version}")
        plain.close()
        before_upgrade(self.path, version).mkdir(parents=True)
        self.assertIn("no copy of it can be kept", self.sentence())
        plain = sqlite3.connect(self.path)
        self.addCleanup(plain.close)
        self.assertEqual(plain.execute("PRAGMA user_version").fetchone()[0], version)


class Writing(WithFolder):
    def filled(self):
        library = self.open()
        document = document_of(library)
        document.run(edits.add_session(session(racks=[rack_of(played("a", "1"))])))
        return library, document.session("test").shots[0].key

    def test_what_is_only_read_stays_as_it_is(self):
        library, shot = self.filled()
        second = self.open()
        self.assertTrue(second.read_only)
        second.keep_measures("test", {shot: ("stamp", {})})
        second.keep_columns({"test": (second.changes("test"), b"x")})
        self.assertEqual((library.measure_stamps("test"), library.kept_columns(["test"])), ({}, {}))

    def test_columns_of_an_earlier_state_are_not_kept(self):
        library, _ = self.filled()
        count = library.changes("test")
        document = document_of(library)
        document.run(edits.set_values(document.session("test"), "session", "test", {("title",): "Two"}, "x"))
        library.keep_columns({"test": (count, b"old")})
        self.assertEqual(library.kept_columns(["test"]), {})

    def test_a_writer_takes_its_lock_before_it_reads(self):
        """Two writers that both read first would end with one of them refused (SQLite: BEGIN IMMEDIATE)."""
        library, _ = self.filled()
        other = sqlite3.connect(self.path, timeout=0)
        self.addCleanup(other.close)
        from ripasso.store.file.engine import writing

        with writing(library._engine), self.assertRaises(sqlite3.OperationalError) as caught:
            other.execute("BEGIN IMMEDIATE")
        self.assertIn("locked", str(caught.exception))

    def test_a_library_that_breaks_while_it_is_open(self):
        library, shot = self.filled()
        plain = sqlite3.connect(self.path)
        for table in ("shot_measure", "session_columns", "shot_figure"):
            plain.execute(f"DROP TABLE IF EXISTS {table}")
        plain.close()
        for work in (
            lambda: library.keep_measures("test", {shot: ("stamp", {})}),
            lambda: library.keep_columns({"test": (library.changes("test"), b"x")}),
            lambda: library.outdated(1),
            lambda: library.measure_stamps("test"),
        ):
            with self.assertRaises(LibraryError) as caught:
                work()
            self.assertIn("test.ripasso", str(caught.exception))


class Files(WithFolder):
    def refused(self, work):
        with self.assertRaises(SessionFileError) as caught:
            work()
        text = str(caught.exception)
        self.assertTrue(text.endswith(".") and "\n" not in text, text)
        return text

    def test_a_file_that_is_too_large(self):
        self.path.write_text("{}")
        with mock.patch("ripasso.store.session_file.LARGEST_BYTES", 1):
            self.assertIn("too large", self.refused(lambda: load_session(self.path)))

    def test_a_folder_that_is_not_there(self):
        target = self.folder / "nowhere" / "one.json"
        self.assertIn("cannot be written", self.refused(lambda: save_session(session(), target)))

    def test_a_disk_that_is_full_leaves_no_half_file(self):
        target = self.folder / "one.json"
        full = OSError(28, "No space left on device")
        with mock.patch.object(Path, "replace", side_effect=full):
            self.assertIn("No space left", self.refused(lambda: save_session(session(), target)))
        self.assertEqual(list(self.folder.iterdir()), [])
