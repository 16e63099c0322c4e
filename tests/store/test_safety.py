"""Backups, damage, places that are gone: what is in a library is not lost, and every case has a sentence."""

import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
from contextlib import closing
from datetime import date
from pathlib import Path
from unittest import mock

from ripasso.review.document import edits
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.shot_rows import FIGURES_VERSION
from ripasso.store.errors import DamagedLibrary, LibraryError, MovedLibrary
from ripasso.store.file.backups import back_up, backups_of, folder_of
from ripasso.store.file.connecting import connect
from ripasso.store.file.header import TABLES
from ripasso.store.library import open_library
from ripasso.store.rows import tables
from ripasso.store.session_file import save_session
from tests.sessions import played, rack_of, session
from tests.store.test_library import WithFolder, document_of

DAY = date(2026, 11, 28)


class Filled(WithFolder):
    def filled(self, shots=2, **changes):
        """A library with a session; its document."""
        library = self.open()
        document = document_of(library)
        document.run(edits.add_session(session(racks=[rack_of(*[played("a", "1")] * shots)], **changes)))
        return library, document

    def note(self, document, text, key="test"):
        snapshot = document.session(key)
        document.run(edits.set_values(snapshot, "shot", snapshot.shots[0].key, {("note",): text}, "x"))

    def plain(self, *statements):
        """What another tool does to the file."""
        with closing(sqlite3.connect(self.path)) as connection:
            for statement in statements:
                connection.execute(statement)
            connection.commit()


class Private(Filled):
    def test_a_library_belongs_to_its_user(self):
        self.path = self.folder / "new" / "test.ripasso"
        library, _ = self.filled()
        back_up(self.path, DAY)
        for path, mode in (
            *((self.path, 0o600), (self.path.with_name("test.ripasso.lock"), 0o600)),
            *((self.path.with_name("test.ripasso-wal"), 0o600), (self.path.parent, 0o700)),
            *((folder_of(self.path), 0o700), (backups_of(self.path)[0].path, 0o600)),
        ):
            with self.subTest(path.name):
                self.assertEqual(stat.S_IMODE(path.stat().st_mode), mode)
        self.assertTrue(library)


class Names(WithFolder):
    def test_what_is_no_name_of_a_file(self):
        for name in ("a\0b.ripasso", "x" * 300, "~nosuchuserhere/library.ripasso"):
            with self.subTest(name[:20]), self.assertRaises(LibraryError) as caught:
                open_library(Path(name) if name.startswith("~") else self.folder / name)
            text = str(caught.exception)
            self.assertTrue(text.endswith(".") and "\n" not in text and len(text) < 200, text)


class Foreign(Filled):
    def test_the_tables_that_are_known_are_those_that_are_made(self):
        self.assertEqual(TABLES, {*tables.metadata.tables, "alembic_version"})

    def test_what_no_ripasso_made_is_not_opened(self):
        for statement, kind in (
            ("CREATE TRIGGER t AFTER UPDATE ON shot BEGIN DELETE FROM session; END", "trigger"),
            ("CREATE VIEW v AS SELECT * FROM shot", "view"),
            ("CREATE TABLE other (x)", "table"),
        ):
            with self.subTest(kind):
                self.path = self.folder / f"{kind}.ripasso"
                self.filled()[0].close()
                self.plain(statement)
                self.assertIn(f"holds a {kind} that no Ripasso made", self.sentence())

    def test_a_migration_that_is_unknown(self):
        self.filled()[0].close()
        self.plain("UPDATE alembic_version SET version_num = '9999'", "PRAGMA user_version = 3")
        self.assertIn("cannot be brought up to date", self.sentence())

    def test_a_column_that_was_taken_away(self):
        self.filled()[0].close()
        self.plain("ALTER TABLE shot DROP COLUMN record")
        library = self.open()
        with self.assertRaises(DamagedLibrary):
            library.load("test")


class DamagedRecords(Filled):
    def opened(self):
        library = self.open()
        told = []
        library.on_damage = told.append
        return library, document_of(library), told

    def test_one_shot_is_left_out_and_the_rest_works(self):
        self.filled(shots=3)[0].close()
        for damage in ("'{'", "'[]'", "x'ff'", '\'{"number": "one"}\'', "''"):
            with self.subTest(damage):
                self.plain(f"UPDATE shot SET record = {damage} WHERE rowid = 2")
                library, document, told = self.opened()
                self.assertEqual(len(document.session("test").shots), 2)
                self.assertEqual(len(told), 1)
                self.assertIn("1 × shot", told[0])
                self.note(document, damage)
                self.assertEqual(document.session("test").shots[0].record.note, damage)
                library.load("test")
                self.assertEqual(len(told), 1, "said once a session")
                library.close()
        with closing(connect(self.path)) as plain:
            self.assertEqual(
                plain.execute("SELECT count(*) FROM shot").fetchone()[0], 3, "nothing is taken out"
            )

    def test_a_rack_and_its_shots(self):
        library, document = self.filled()
        document.run(edits.add_rack(document.session("test"), {}))
        library.close()
        self.plain("UPDATE rack SET record = '?' WHERE rowid = 1")
        _, document, told = self.opened()
        snapshot = document.session("test")
        self.assertEqual((len(snapshot.racks), len(snapshot.shots)), (1, 0))
        self.assertIn("1 × rack", told[0])

    def test_a_session_whose_own_record_is_damaged(self):
        library, document = self.filled()
        document.run(edits.add_session(session(id="other", title="Other", racks=[rack_of(played("b"))])))
        library.close()
        self.plain("UPDATE session SET record = '{\"id\": 5' WHERE key = 'test'")
        library, document, told = self.opened()
        self.assertIsNone(document.session("test"))
        self.assertIn("cannot be opened", told[0])
        self.assertEqual(len(document.session("other").shots), 1)
        self.assertEqual(len(library.sessions()), 2)
        self.assertEqual(len(LibraryIndex(library).read().facts), 3, "figures have their own rows")

    def test_derived_rows_that_are_damaged_are_made_anew(self):
        self.filled()[0].close()
        self.plain("UPDATE shot_figure SET rack = 'one'")
        library, document, told = self.opened()
        self.assertEqual(len(LibraryIndex(library).read().facts), 0)
        self.assertIn("Figures of a session are damaged", told[0])
        self.assertEqual(library.outdated(FIGURES_VERSION), ["test"])
        document.renew("test")
        self.assertEqual(len(LibraryIndex(library).read().facts), 2)

    def test_kept_columns_with_a_wrong_byte_are_made_again(self):
        library, _ = self.filled()
        right = LibraryIndex(library).read().facts.ints("number").tolist()
        library.close()
        with closing(sqlite3.connect(self.path)) as plain:
            data = bytearray(plain.execute("SELECT data FROM session_columns").fetchone()[0])
            data[-3] ^= 0xFF
            plain.execute("UPDATE session_columns SET data = ?", (bytes(data),))
            plain.commit()
        self.assertEqual(LibraryIndex(self.open()).read().facts.ints("number").tolist(), right)


class Drafts(Filled):
    def test_what_is_typed_is_there_until_it_is_kept(self):
        library, _ = self.filled()
        for text in ("a", "as", "as ty"):
            library.keep_draft("test", "note:1", text)
        library.close()
        library = self.open()
        self.assertEqual(library.drafts("test"), {"note:1": "as ty"})
        library.forget_draft("note:1")
        self.assertEqual(library.drafts("test"), {})

    def test_a_draft_goes_with_its_session(self):
        library, document = self.filled()
        library.keep_draft("test", "note:1", "a")
        document.run(edits.remove_session(document.session("test")))
        self.assertEqual(library.drafts("test"), {})

    def test_a_library_that_is_only_read_takes_none(self):
        self.filled()
        second = self.open()
        self.assertTrue(second.read_only)
        second.keep_draft("test", "note:1", "a")
        second.forget_draft("note:1")
        self.assertEqual(second.drafts("test"), {})


class Places(Filled):
    def gone(self, how):
        library, document = self.filled()
        self.note(document, "before")
        how()
        return library, document

    def rename(self):
        self.path.rename(self.folder / "elsewhere.ripasso")

    def delete(self):
        self.path.unlink()

    def remove_folder(self):
        for path in self.folder.iterdir():
            path.unlink()
        self.folder.rmdir()

    def replace(self):
        other = self.folder / "other"
        other.write_bytes(b"another file")
        other.replace(self.path)

    def test_nothing_is_written_to_a_library_that_is_gone(self):
        for how in ("rename", "delete", "replace", "remove_folder"):
            with self.subTest(how):
                self.setUp()
                library, document = self.gone(getattr(self, how))
                with self.assertRaises(MovedLibrary) as caught:
                    self.note(document, "after")
                self.assertIn("not at its place any more", str(caught.exception))
                self.assertEqual(document.session("test").shots[0].record.note, "before")
                if how != "replace":
                    self.assertFalse(self.path.exists(), "an empty file at the old place is no library")
                library.keep_draft(
                    "test", "note:1", "typed"
                )  # kept in the line, not in a file of somebody else
                library.close()

    def test_all_of_it_can_be_kept_elsewhere(self):
        for how in ("rename", "remove_folder", "replace"):
            with self.subTest(how):
                self.setUp()
                library, document = self.gone(getattr(self, how))
                place = Path(self.enterContext(tempfile.TemporaryDirectory())) / "new.ripasso"
                library.ask_place = lambda _text, place=place: place
                self.note(document, "after")
                self.assertEqual(library.path, place)
                self.note(document, "and on")
                self.assertEqual(len(library.sessions()), 1)
                library.close()
                again = open_library(place)
                self.addCleanup(again.close)
                self.assertFalse(again.read_only)
                self.assertEqual(document_of(again).session("test").shots[0].record.note, "and on")

    def test_all_of_it_can_be_kept_at_its_old_place(self):
        """The log of the one that was moved away lies there still: it belongs to that one."""
        for how in ("rename", "delete", "replace"):
            with self.subTest(how):
                self.setUp()
                library, document = self.gone(getattr(self, how))
                library.ask_place = lambda _text: self.path
                self.note(document, "after")
                self.note(document, "and on")
                library.close()
                with closing(connect(self.path)) as plain:
                    self.assertEqual(plain.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                again = self.open()
                self.assertFalse(again.read_only)
                self.assertEqual(document_of(again).session("test").shots[0].record.note, "and on")

    def test_a_place_that_takes_nothing_leaves_all_as_it_was(self):
        library, document = self.gone(self.rename)
        library.ask_place = lambda _text: Path("/proc/none/new.ripasso")
        with self.assertRaises(LibraryError):
            self.note(document, "after")
        library.ask_place = lambda _text: self.folder / "new.ripasso"
        self.note(document, "after")
        self.assertEqual(document.session("test").shots[0].record.note, "after")

    def test_a_place_that_another_window_has_open(self):
        other = open_library(self.folder / "open.ripasso")
        self.addCleanup(other.close)
        library, document = self.gone(self.rename)
        library.ask_place = lambda _text: other.path
        with self.assertRaises(LibraryError) as caught:
            self.note(document, "after")
        self.assertIn("open in another window", str(caught.exception))

    def test_a_folder_that_takes_no_files_is_read(self):
        """As root every folder takes files: SQLite is asked to read the file as it lies there."""
        library, document = self.filled()
        self.note(document, "here")
        library.close()
        denied = PermissionError(13, "Permission denied")
        with (
            mock.patch("ripasso.store.file.lock.os.open", side_effect=denied),
            mock.patch("ripasso.store.file.connecting.os.access", return_value=False),
        ):
            before = sorted(self.folder.iterdir())
            library = self.open()
            self.assertTrue(library.read_only)
            self.assertEqual(document_of(library).session("test").shots[0].record.note, "here")
            self.assertEqual(len(library.sessions()), 1)
            self.assertEqual(sorted(self.folder.iterdir()), before)


class Parallel(Filled):
    def test_four_imports_into_a_library_that_is_not_there_yet(self):
        files = []
        for name in "abcd":
            files.append(self.folder / f"{name}.ripasso.json")
            save_session(session(id=name, title=name, racks=[rack_of(played("a", "1"))]), files[-1])
        command = [sys.executable, "-m", "ripasso", "convert"]
        processes = [
            subprocess.Popen([*command, str(file), str(self.path)], stderr=subprocess.PIPE, text=True)
            for file in files
        ]
        for process in processes:
            said = process.communicate()[1]
            self.assertEqual((process.returncode, said), (0, ""))
        self.assertEqual({line.key for line in self.open().sessions()}, set("abcd"))

    def test_a_writer_is_waited_for(self):
        library, _ = self.filled()
        threading.Timer(0.3, library.close).start()
        second = self.open(wait_s=20)
        self.assertFalse(second.read_only)
