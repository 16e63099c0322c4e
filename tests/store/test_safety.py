"""Backups, damage, places that are gone: what is in a library is not lost, and every case has a sentence."""

import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path
from unittest import mock

from ripasso.review.document import edits
from ripasso.review.record.model import serialize
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.shot_rows import FIGURES_VERSION, derived_rows
from ripasso.store.errors import DamagedLibrary, LibraryError, MovedLibrary
from ripasso.store.file.backups import Backup, back_up, backups_of, folder_of, free_name, restore, superfluous
from ripasso.store.file.connecting import connect
from ripasso.store.file.header import TABLES
from ripasso.store.library import Library, open_library
from ripasso.store.opening import check_whole, is_large, open_file
from ripasso.store.recovering import recover
from ripasso.store.rows import tables
from ripasso.store.session_file import save_session
from ripasso.store.session_list import session_lines
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
