"""Damaged libraries: what can be read works, the rest is a sentence, and what is kept can be saved."""

from __future__ import annotations

import random
import shutil
import sqlite3
import tempfile
from contextlib import closing, suppress
from datetime import date
from functools import cache
from pathlib import Path

from ripasso.demo.matches.sessions import shipped
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session, set_values
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.record.model import Session
from ripasso.review.record.parsing import read_session
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.shot_rows import FIGURES_VERSION, derived_rows
from ripasso.store.errors import LibraryError
from ripasso.store.file.backups import back_up
from ripasso.store.library import Library, open_library
from ripasso.store.recovering import recover
from tests.fuzz.mutators import ODD_VALUES, mutated_bytes
from tests.fuzz.outcome import Fault, one_sentence, run, time_limit
from tests.fuzz.records import cut_short

DAY = date(2026, 3, 4)
TABLES = (
    "session",
    "rack",
    "shot",
    "attempt_set",
    "shot_figure",
    "shot_measure",
    "session_columns",
    "person",
)
#: Statements of somebody who looks into the file with a tool of his own.
STATEMENTS = (
    "DELETE FROM rack WHERE rowid % 2",
    "DELETE FROM session",
    "UPDATE shot SET rack = 'nowhere' WHERE rowid % 3 = 0",
    "UPDATE shot SET position = 0",
    "UPDATE session SET key = 'other' WHERE rowid = 1",
    "UPDATE session SET title = x'ff00'",
    "UPDATE shot_figure SET version = 0",
    "UPDATE shot_figure SET place = 'x'",
    "DROP TABLE shot_measure",
    "DROP TABLE alembic_version",
    "ALTER TABLE shot DROP COLUMN record",
    "ALTER TABLE shot RENAME COLUMN record TO records",
    "UPDATE alembic_version SET version_num = '9999'",
    "PRAGMA user_version = 3",
    "PRAGMA user_version = 0",
    "PRAGMA user_version = 99",
    "PRAGMA application_id = 1",
    "CREATE TRIGGER t AFTER UPDATE ON shot BEGIN DELETE FROM session; END",
    "CREATE VIEW v AS SELECT * FROM shot",
    "CREATE TABLE other (x)",
)


def try_library(seed: int, folder: Path) -> str:
    """Open a damaged library and work in it; returns "used" or "refused", raises what went wrong."""
    chance = random.Random(f"library {seed}")
    path = folder / f"{seed}.ripasso"
    shutil.copy(_whole(), path)
    _damage(path, chance)
    with time_limit():
        try:
            with closing(open_library(path)) as library:
                _work(library, chance)
            outcome = "used"
        except LibraryError as error:
            one_sentence(str(error))
            outcome = "refused"
        _save_what_is_left(path, folder)
    return outcome


@cache
def _whole() -> Path:
    """A library of three short sessions, measured, its columns kept."""
    path = Path(tempfile.mkdtemp()) / "whole.ripasso"  # goes with the run's folder
    chance = random.Random("library")
    with closing(open_library(path)) as library:
        document = Document(library, derived_rows)
        for session in (shipped()[0], shipped()[4], shipped()[5]):
            document.run(add_session(Session.model_validate(cut_short(session, chance), strict=False)))
        library.keep_draft(shipped()[0].id, "note:x", "being typed")
        LibraryIndex(library).read()
    with closing(sqlite3.connect(path)) as plain:
        plain.execute("PRAGMA journal_mode = DELETE")
    return path


def _damage(path: Path, chance: random.Random) -> None:
    data = path.read_bytes()
    kind = chance.randrange(6)
    if kind == 0:
        path.write_bytes(data[: chance.randrange(len(data))])
    elif kind == 1:
        path.write_bytes(mutated_bytes(data, chance, 40))
    elif kind == 2:
        page = 4096 * chance.randrange(len(data) // 4096)
        path.write_bytes(data[:page] + chance.randbytes(4096) + data[page + 4096 :])
    elif kind == 3:
        path.write_bytes(mutated_bytes(data[:100], chance, 5) + data[100:])
    else:
        with closing(sqlite3.connect(path)) as plain, suppress(sqlite3.Error):
            for _ in range(chance.randint(1, 3)):
                _change(plain, chance)
            plain.commit()


def _change(plain: sqlite3.Connection, chance: random.Random) -> None:
    """One change as of another tool: a value of any column of any row, or a statement."""
    if chance.random() < 0.5:
        plain.execute(chance.choice(STATEMENTS))
        return
    table = chance.choice(TABLES)
    columns = [row[1] for row in plain.execute(f"PRAGMA table_info({table})")]
    if not columns:
        return  # a statement took the table away
    column = chance.choice((*columns, "record") if "record" in columns else columns)
    odd = [v for v in ODD_VALUES if isinstance(v, str | float) or (isinstance(v, int) and abs(v) < 2**63)]
    value = chance.choice((*odd, b"\xff\xfe", '{"number": 1', "{}", "[]", '{"number": 1, "note": 5}'))
    count = plain.execute(f"SELECT count(*) FROM {table}").fetchone()[0]
    row = f"(SELECT rowid FROM {table} LIMIT 1 OFFSET {chance.randrange(max(1, count))})"
    plain.execute(f"UPDATE {table} SET {column} = ? WHERE rowid = {row}", (value,))


def _work(library: Library, chance: random.Random) -> None:
    """What the window does with a library: every part may say a sentence, and the others go on."""
    complaints: list[str] = []
    library.on_damage = complaints.append
    document = Document(library, derived_rows)
    parts = (
        library.sessions,
        library.persons,
        lambda: library.outdated(FIGURES_VERSION),
        library.unmeasured,
        library.attempt_sets,
        lambda: LibraryIndex(library).read(),
        lambda: _review(library, document, chance),
        lambda: back_up(library.path, DAY),
    )
    for part in parts:
        try:
            part()
        except LibraryError as error:
            one_sentence(str(error))
    for complaint in complaints:
        one_sentence(complaint)


def _review(library: Library, document: Document, chance: random.Random) -> None:
    for key in sorted(library.keys()):
        snapshot = document.session(key)
        if snapshot is None:
            continue
        library.drafts(key)
        library.measures(key)
        library.measure_stamps(key)
        library.shot_rows(key)
        for rack in snapshot.racks:
            MeasureCache().rack(snapshot, rack)
        if snapshot.shots:
            shot = chance.choice(snapshot.shots)
            document.run(set_values(snapshot, "shot", shot.key, {("note",): "written"}, "Note"))
        document.renew(key)


def _save_what_is_left(path: Path, folder: Path) -> None:
    """What can be saved of a damaged library is a library in order; each of its sessions can be written."""
    try:
        recover(path, DAY, derived_rows)
    except LibraryError as error:
        one_sentence(str(error))
        return
    with closing(open_library(path)) as library:
        keys = sorted(library.keys())
    for key in keys:
        target = folder / f"{path.stem}-saved.ripasso.json"
        if run("convert", str(path), str(target), "--session", key) != 0:
            raise Fault("a saved library is in order")
        read_session(target.read_bytes())
