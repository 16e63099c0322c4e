"""Kills at any moment: what was announced is stored, at most the one thing in hand is lost.

python -m tests.endurance.kills KILLS

Each kill is of a process of its own that works on a library: it types a note in the real window, stores
commands, imports, stores measures, reads a film in the real window, brings an older library up to date, or
makes backups. It tells each step once it is done. After the kill the library is opened and looked through.
"""

from __future__ import annotations

import collections
import os
import random
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path

from ripasso.cli import main as ripasso
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session, set_values
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.file.backups import back_up, backups_of
from ripasso.store.file.connecting import connect
from ripasso.store.library import Library, open_library
from ripasso.store.migrations import migrate  # noqa: F401 - taken in once, before the forks
from ripasso.store.session_file import save_session
from tests.sessions import played, rack_of, session

SHOTS = 30
TEXT = "the object ball was hit too thick, and the white ran on behind the black, which nobody had seen"
LATEST_S = 1.2
Tell = Callable[[int], None]


def write(path: Path, tell: Tell) -> None:
    """One command after the other, each of all shots."""
    document = Document(open_library(path), derived_rows)
    for number in range(1, 10_000):
        snapshot = document.session("test")
        note = {("note",): str(number)}
        commands = [set_values(snapshot, "shot", shot.key, note, "n") for shot in snapshot.shots]
        changes = tuple(change for command in commands for change in command.changes)
        document.run(type(commands[0])("n", "test", changes))
        tell(number)


def written(library: Library, told: int) -> None:
    snapshot = Document(library, derived_rows).session("test")
    notes = {shot.record.note for shot in snapshot.shots}
    assert len(notes) == 1, f"half a command is stored: {notes}"
    assert int(notes.pop() or 0) - told in (0, 1), "a command that was told is not there"


def type_note(path: Path, tell: Tell) -> None:
    """A note, letter after letter, in the real window."""
    from ripasso.ui.app import build_window
    from ripasso.ui.workspace import build_workspace
    from tests import windows

    workspace = build_workspace(path, path.with_name("settings.json"))
    window = build_window(workspace)
    window.open_session("test")
    window.show()
    windows.press("N")
    for end, letter in enumerate(TEXT, start=1):
        windows.write(letter)
        tell(end)
        time.sleep(0.004)


def typed(library: Library, told: int) -> None:
    drafts = list(library.drafts("test").values())
    length = len(drafts[0]) if drafts else 0
    assert not drafts or TEXT.startswith(drafts[0]), f"the draft is another text: {drafts}"
    assert length - told in (0, 1), f"{told} letters were told, {length} are there"


def read_film(path: Path, tell: Tell) -> None:
    """The demo's film is read in the real window, its shots coming in as proposals."""
    from ripasso.demo.library import film_path
    from ripasso.ui.app import build_window
    from ripasso.ui.workspace import build_workspace
    from tests import windows

    workspace = build_workspace(path, path.with_name("settings.json"))
    film = {"id": "film", "file": str(film_path())}
    made = session(id="read", game="nine_ball", racks=[], recordings=[film], table={"preset": "pool_9ft"})
    workspace.document.run(add_session(made))
    window = build_window(workspace)
    window.open_session("read")
    window.show()
    windows.wait_until(lambda: window.review.player.index is not None, "the film")
    told = 0

    def follow(_change: object) -> None:
        nonlocal told
        count = len(workspace.document.session("read").shots)
        if count > told:
            told = count
            tell(count)

    workspace.document.changed.connect(follow)
    windows.press("Ctrl+L")
    windows.wait_until(lambda: not window.review.reading.busy, "the end of the film")


def was_read(library: Library, told: int) -> None:
    snapshot = Document(library, derived_rows).session("read")
    assert len(snapshot.shots) >= told, f"{told} proposals were told, {len(snapshot.shots)} are there"
    assert all(shot.record.proposed for shot in snapshot.shots), "a proposal was accepted by nobody"
    assert all(shot.record.t_strike is not None for shot in snapshot.shots), "half a proposal is there"


def import_files(path: Path, tell: Tell) -> None:
    """One session file after the other."""
    for number in range(1, 10_000):
        file = path.with_name(f"{number}.ripasso.json")
        save_session(session(id=f"s{number}", title=str(number), racks=[rack_of(*[played("a")] * 40)]), file)
        assert ripasso(["convert", str(file), str(path)]) == 0
        tell(number)


def imported(library: Library, told: int) -> None:
    keys = {line.key for line in library.sessions()} - {"test"}
    assert len(keys) - told in (0, 1), "a session that was told is not there"
    document = Document(library, derived_rows)
    for key in keys:
        assert len(document.session(key).shots) == 40, "half a session is there"


def measure(path: Path, tell: Tell) -> None:
    """The measures of all shots, again and again."""
    library = open_library(path)
    shots = [shot.key for shot in Document(library, derived_rows).session("test").shots]
    for number in range(1, 10_000):
        library.keep_measures("test", {key: (str(number), {"cut": float(number)}) for key in shots})
        tell(number)


def measured(library: Library, told: int) -> None:
    stamps = set(library.measure_stamps("test").values())
    assert len(stamps) <= 1, f"half of the measures are stored: {stamps}"
    assert int(next(iter(stamps), 0)) - told in (0, 1), "measures that were told are not there"


#: A version before, and the columns that came since; a step of the version adds its own here.
OLDER = 8
SINCE = (
    ("shot_figure", "missed_by"),
    ("shot_measure", "cue_travelled_least"),
    ("shot_figure", "given_choice"),
    ("shot_figure", "given_stroke"),
    ("shot_figure", "clear_before"),
    ("shot_figure", "clear_choice"),
    ("shot_figure", "clear_stroke"),
    ("shot_figure", "clear_ran"),
    ("shot_figure", "clear_hard"),
    ("shot_figure", "clear_clusters"),
    ("shot_figure", "rack_root"),
    ("shot_figure", "second_verdict"),
)


def upgrade(path: Path, tell: Tell) -> None:
    """An older library brought up to date, again and again."""
    for number in range(1, 10_000):
        make_older(path)
        open_library(path).close()
        tell(number)


def make_older(path: Path) -> None:
    """The library as version `OLDER` made it: what came since is taken out again."""
    with closing(sqlite3.connect(path)) as plain:
        gone = "".join(f"ALTER TABLE {table} DROP COLUMN {column};" for table, column in SINCE)
        plain.executescript(
            f"BEGIN; DROP TABLE layout; DROP TABLE report; {gone}"
            f"UPDATE alembic_version SET version_num = '{OLDER:04}';"
            f"PRAGMA user_version = {OLDER}; COMMIT"
        )


def upgraded(library: Library, _told: int) -> None:
    assert len(Document(library, derived_rows).session("test").shots) == SHOTS
    library.keep_draft("test", "note:x", "y")


def make_backups(path: Path, tell: Tell) -> None:
    """A backup a day."""
    for number in range(1, 10_000):
        back_up(path, date(2026, 1, 1) + timedelta(number))
        tell(number)


def backed_up(library: Library, told: int) -> None:
    found = backups_of(library.path)
    assert not told or found, "a backup that was told is not there"
    for backup in found:
        with closing(connect(backup.path)) as copy:
            assert copy.execute("PRAGMA quick_check").fetchone()[0] == "ok", (
                f"{backup.path.name} is not whole"
            )
            assert copy.execute("SELECT count(*) FROM shot").fetchone()[0] == SHOTS


#: What is killed, what is looked at then, and how often of a hundred times.
KINDS = {
    "typing": (type_note, typed, 30),
    "commands": (write, written, 25),
    "import": (import_files, imported, 15),
    "measures": (measure, measured, 10),
    "upgrade": (upgrade, upgraded, 10),
    "backup": (make_backups, backed_up, 10),
    "reading": (read_film, was_read, 5),
}


def one_kill(kind: str, chance: random.Random, template: Path) -> int:
    """Fork, work, kill, look; returns the steps that were told."""
    work, look, _ = KINDS[kind]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(shutil.copy(template, Path(folder) / "killed.ripasso"))
        told = _killed(work, path, chance)
        with closing(open_library(path)) as library:
            assert not library.read_only, "the lock outlived its process"
            with closing(connect(path)) as plain:
                assert plain.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            look(library, told)
    return told


def _killed(work: Callable[[Path, Tell], None], path: Path, chance: random.Random) -> int:
    """The last step that a worker told before it was killed."""
    reading, writing = os.pipe()
    process = os.fork()
    if process == 0:
        os.close(reading)
        work(path, lambda number: os.write(writing, number.to_bytes(4, "little")) and None)
        os._exit(0)
    os.close(writing)
    # Some die before they have told anything; the window needs its time to open.
    first = os.read(reading, 4) if work in (type_note, read_film) or chance.random() < 0.8 else b""
    time.sleep(chance.uniform(0, LATEST_S) * chance.random() ** 2)
    os.kill(process, signal.SIGKILL)
    os.waitpid(process, 0)
    told = first
    while part := os.read(reading, 4096):
        told = (told + part)[-4:]
    os.close(reading)
    return int.from_bytes(told, "little") if told else 0


def main(kills: int, seed: int = 0) -> int:
    """So many kills; prints how many of each kind, and what went wrong."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    chance = random.Random(seed)
    done: collections.Counter[str] = collections.Counter()
    steps: collections.Counter[str] = collections.Counter()
    wrong = []
    with tempfile.TemporaryDirectory() as folder:
        template = Path(folder) / "whole.ripasso"
        with closing(open_library(template)) as library:
            racks = [rack_of(*[played("a", "1")] * SHOTS)]
            Document(library, derived_rows).run(add_session(session(racks=racks)))
        kinds = list(KINDS)
        for kind in chance.choices(kinds, [KINDS[kind][2] for kind in kinds], k=kills):
            done[kind] += 1
            try:
                steps[kind] += one_kill(kind, chance, template)
            except Exception as error:  # noqa: BLE001 - every kind of loss is counted
                wrong.append(f"{kind}: {type(error).__name__}: {error}")
    for kind, many in done.items():
        sys.stdout.write(f"{kind}: {many} kills, {steps[kind]} steps told\n")
    sys.stdout.write("\n".join(wrong) + f"{len(wrong)} of {kills} kills lost something\n")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
