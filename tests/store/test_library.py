"""The library: what goes in comes out, one writer, and every wrong file gets one sentence."""

import json
import shutil
import sqlite3
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from sqlalchemy import inspect

from ripasso.core.figures.schema import SHOT_FIELDS
from ripasso.review.document import edits
from ripasso.review.document.document import Document
from ripasso.review.record.model import serialize
from ripasso.review.record.parsing import read_session
from ripasso.statistics.rows.shot_rows import FIGURES_VERSION, derived_rows
from ripasso.store.errors import LibraryError
from ripasso.store.file.backups import before_upgrade
from ripasso.store.file.header import APPLICATION_ID, LIBRARY_VERSION
from ripasso.store.library import open_library
from ripasso.store.migrations.migrate import migrate
from ripasso.store.rows import tables
from ripasso.store.rows.figure_rows import COUNTS
from tests.review.test_model import EVERYTHING
from tests.sessions import played, rack_of, session


def document_of(library):
    return Document(library, derived_rows)


class WithFolder(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.path = self.folder / "test.ripasso"

    def open(self, **options):
        library = open_library(self.path, **options)
        self.addCleanup(library.close)
        return library

    def sentence(self):
        with self.assertRaises(LibraryError) as caught:
            open_library(self.path)
        text = str(caught.exception)
        self.assertTrue(text.endswith(".") and "\n" not in text, text)
        return text


#: What the first version stored of a shot; one has another name today.
FIRST_COLUMNS = (
    *("key", "session", "rack", "number", "person", "visit", "intent", "tried", "made", "failed", "fouled"),
    *("fluke", "position", "pace", "said_side", "angle", "verdict", "errors"),
)


class Contents(WithFolder):
    def test_everything_comes_back(self):
        record = read_session(json.dumps(EVERYTHING))
        document_of(self.open()).run(edits.add_session(record))
        self.assertEqual(serialize(document_of(self.open_again()).session("test").session), EVERYTHING)

    def open_again(self):
        library = open_library(self.path)
        self.addCleanup(library.close)
        return library

    def test_lists_people_and_columns_follow_every_command(self):
        library = self.open()
        document = document_of(library)
        document.run(
            edits.add_session(session(racks=[rack_of(played("a", "2", intent="break"), played("a", "1"))]))
        )
        snapshot = document.session("test")
        line = library.sessions()[0]
        self.assertEqual(
            (line.players, line.racks, line.shots, line.judged), (("Ada Quill", "Bram Oster"), 1, 2, 0)
        )
        self.assertEqual(library.persons(), [("ada quill", "Ada Quill"), ("bram oster", "Bram Oster")])
        document.run(
            edits.set_values(snapshot, "shot", snapshot.shots[1].key, {("result", "position"): "good"}, "x")
        )
        self.assertEqual(library.sessions()[0].judged, 1)
        snapshot = document.session("test")
        self.assertEqual(library.shot_rows("test"), (derived_rows(snapshot).rows, [None, None]))
        document.run(edits.remove_session(snapshot))
        self.assertEqual(
            (library.sessions(), library.persons(), library.shot_rows("test")), ([], [], ([], []))
        )
        document.undo()
        self.assertEqual(len(library.shot_rows("test")[0]), 2)

    def test_rows_of_an_older_program_are_computed_anew(self):
        library = self.open()
        document_of(library).run(
            edits.add_session(session(racks=[rack_of(played("a", "2"), played("a", "1"))]))
        )
        fresh = library.shot_rows("test")
        library.close()
        plain = sqlite3.connect(self.path)
        plain.execute("UPDATE shot_figure SET version = 0, made = 0, failed = 1")
        plain.commit()
        plain.close()
        library = self.open()
        self.assertEqual(library.outdated(FIGURES_VERSION), ["test"])
        document_of(library).renew("test")
        self.assertEqual((library.outdated(FIGURES_VERSION), library.shot_rows("test")), ([], fresh))

    def test_a_command_that_fails_midway_leaves_no_trace(self):
        library = self.open()
        document = document_of(library)
        document.run(edits.add_session(session(racks=[rack_of(played("a"))])))
        snapshot = document.session("test")
        orphan = edits.add_shot(snapshot, snapshot.racks[0].key, 1, {"player": "a"})
        wrong = edits.Command(
            "x", "test", (*orphan.changes, edits._added("shot", "k", snapshot.shots[0].record, "nowhere", 0))
        )
        with self.assertRaises(LibraryError):
            library.commit(wrong.changes, None)
        self.assertEqual(len(document_of(library).session("test").shots), 1)

    def test_the_migrations_make_the_tables_the_program_uses(self):
        library = self.open()
        inspector = inspect(library._engine)
        for table in tables.metadata.sorted_tables:
            stored = {c["name"]: c["nullable"] for c in inspector.get_columns(table.name)}
            meant = {c.name: c.nullable and not c.primary_key for c in table.columns}
            self.assertEqual(
                (meant.keys() - stored.keys(), stored.keys() - meant.keys()),
                (set(), set()),
                f"{table.name} is not what the migrations make: a step in store/migrations/versions/ and "
                "another LIBRARY_VERSION are missing",
            )
            self.assertEqual(stored, meant, table.name)
        with library._engine.begin() as connection:
            migrate(connection)  # a library that is up to date stays as it is

    def test_an_older_library_is_brought_up_to_date_and_a_copy_kept(self):
        library = self.open()
        document_of(library).run(edits.add_session(session(racks=[rack_of(played("a", "2"))])))
        library.close()
        plain = sqlite3.connect(self.path)  # as the first version made it
        later = set(SHOT_FIELDS) - set(FIRST_COLUMNS)
        gone = ";".join(f"ALTER TABLE shot_figure DROP COLUMN {name}" for name in sorted(later))
        gone += ";ALTER TABLE shot_figure RENAME COLUMN said_side TO side;"
        gone += "DROP TABLE session_columns;DROP TABLE draft;DROP TABLE layout;DROP TABLE report;"
        gone += ";".join(f"ALTER TABLE session DROP COLUMN {name}" for name in COUNTS)
        plain.executescript(
            f"DROP TABLE shot_measure;{gone};UPDATE alembic_version SET version_num = '0001';"
            "UPDATE shot_figure SET version = 2;PRAGMA user_version = 1"
        )
        plain.close()
        opened = self.open()
        self.assertEqual(document_of(opened).session("test").head.title, "A test")
        self.assertEqual(opened.unmeasured(), ["test"])
        opened.close()
        copy = sqlite3.connect(before_upgrade(self.path, 1))
        self.addCleanup(copy.close)
        self.assertEqual(copy.execute("PRAGMA user_version").fetchone()[0], 1)
        self.assertEqual(copy.execute("SELECT count(*) FROM shot").fetchone()[0], 1)

    def test_readable_with_any_sqlite_tool(self):
        library = self.open()
        document_of(library).run(edits.add_session(session(racks=[rack_of(played("a", "2"))])))
        library.close()
        plain = sqlite3.connect(self.path)
        self.addCleanup(plain.close)
        self.assertEqual(plain.execute("PRAGMA application_id").fetchone()[0], APPLICATION_ID)
        self.assertEqual(plain.execute("PRAGMA user_version").fetchone()[0], LIBRARY_VERSION)
        self.assertEqual(plain.execute("PRAGMA journal_mode").fetchone()[0], "wal")
        record = json.loads(plain.execute("SELECT record FROM shot").fetchone()[0])
        self.assertEqual(record["facts"]["potted"][0]["ball"], "2")


class OneWriter(WithFolder):
    def test_a_second_window_reads_only_and_says_so(self):
        first = self.open()
        document_of(first).run(edits.add_session(session()))
        second = self.open()
        self.assertTrue(second.read_only)
        self.assertIn("another window", second.notice)
        self.assertEqual(len(second.sessions()), 1)
        with self.assertRaises(LibraryError):
            second.commit([], None)
        first.close()
        self.assertFalse(self.open().read_only)


class WrongFiles(WithFolder):
    def test_a_text(self):
        self.path.write_text("Dear diary, today I missed everything thin.")
        self.assertIn("is not a Ripasso library", self.sentence())

    def test_a_database_of_another_program(self):
        other = sqlite3.connect(self.path)
        other.execute("CREATE TABLE birds (name TEXT)")
        other.commit()
        other.close()
        self.assertIn("another program", self.sentence())

    def test_a_newer_library(self):
        self.open().close()
        newer = sqlite3.connect(self.path)
        newer.execute(f"PRAGMA user_version = {LIBRARY_VERSION + 1}")
        newer.close()
        self.assertIn("newer Ripasso", self.sentence())

    def test_a_damaged_library(self):
        library = self.open()
        document_of(library).run(edits.add_session(session(racks=[rack_of(*[played("a", "2")] * 60)])))
        library.close()
        data = bytearray(self.path.read_bytes())
        data[4096:] = b"\x13" * (len(data) - 4096)
        self.path.write_bytes(bytes(data))
        self.assertIn("damaged", self.sentence())

    def test_a_cut_off_library(self):
        self.open().close()
        self.path.write_bytes(self.path.read_bytes()[:5000])
        self.assertIn("damaged", self.sentence())

    def test_a_folder(self):
        self.path.mkdir()
        self.assertIn("is a folder", self.sentence())

    def test_a_library_that_is_not_there(self):
        with self.assertRaises(LibraryError):
            self.open(create=False)

    def test_a_locked_library(self):
        library = self.open()
        document_of(library).run(edits.add_session(session()))
        other = sqlite3.connect(self.path, isolation_level=None)
        self.addCleanup(other.close)
        other.execute("BEGIN IMMEDIATE")
        waiting = library._engine.raw_connection()
        waiting.cursor().execute("PRAGMA busy_timeout = 50")
        waiting.close()
        snapshot = document_of(library).session("test")
        with self.assertRaises(LibraryError) as caught:
            document_of(library).run(edits.set_values(snapshot, "session", "test", {("note",): "n"}, "note"))
        self.assertIn("locked by another program", str(caught.exception))

    def test_a_write_protected_library_is_read(self):
        library = self.open()
        document_of(library).run(edits.add_session(session()))
        library.close()
        # Asked this way because the administrator may write everything.
        with mock.patch("ripasso.store.opening.os.access", return_value=False):
            found = self.open()
        self.assertTrue(found.read_only)
        self.assertIn("write-protected", found.notice)
        self.assertEqual(len(found.sessions()), 1)

    def test_a_full_disk(self):
        library = self.open()
        document = document_of(library)
        document.run(edits.add_session(session()))
        with library._engine.connect() as connection:
            pages = connection.exec_driver_sql("PRAGMA page_count").scalar_one()
            connection.exec_driver_sql(f"PRAGMA max_page_count = {pages}")
        snapshot = document.session("test")
        with self.assertRaises(LibraryError) as caught:
            document.run(edits.set_values(snapshot, "session", "test", {("note",): "n" * 100_000}, "note"))
        self.assertIn("disk is full", str(caught.exception))
        self.assertIsNone(document.session("test").head.note)


if __name__ == "__main__":
    unittest.main()
