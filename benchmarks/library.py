"""Statistics of a library of 200,000 shots: from its file, and through the window, beside bare NumPy."""

from __future__ import annotations

import resource
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path

from benchmarks.statistics import bare_overview
from ripasso.core.figures.measure_rows import measure_row
from ripasso.demo.library import fill
from ripasso.review.document import edits
from ripasso.review.document.document import Document
from ripasso.review.measuring.cache import MeasureCache
from ripasso.statistics.answers import Answers, Choice
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import Library, open_library
from ripasso.ui.app import application, build_window
from ripasso.ui.workspace import Workspace, build_workspace

SHOTS, ROUNDS = 200_000, 3
PAGES = ("overview", "potting", "judged", "position", "safety")
PLAYER, GAME = "lioba trevan", "nine_ball"
TABLES = ("session", "rack", "shot", "shot_figure", "shot_measure", "session_person")


def measure() -> Iterator[str]:
    """Opening, pages and a tag, from the file and through the window."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.ripasso"
        build(path)
        with closing(open_library(path)) as library:
            took = _seconds(LibraryIndex(library).read)
            yield f"the first time ever, columns are made: {took:.1f} s (in the background)"
        before_mb = _peak_mb()
        with closing(open_library(path)) as library:
            yield from _from_the_file(library)
        yield f"peak of the whole process so far: {_peak_mb():.0f} MB ({before_mb:.0f} before the reading)"
        yield from _through_the_window(path)


def _from_the_file(library: Library) -> Iterator[str]:
    index, document = LibraryIndex(library), Document(library, derived_rows)
    opened = _seconds(index.read)
    facts = index.read().facts
    mine = facts.equal("person", PLAYER) & facts.equal("game", GAME)
    answers = Answers(library, index)
    first = _seconds(lambda: answers.answer(Choice("overview", PLAYER, "", game=GAME)))
    bare = statistics.median(_seconds(lambda: bare_overview(facts, mine)) for _ in range(3))
    yield (
        f"{len(facts):,} shots: index {opened:.2f} s, first overview {first:.2f} s, together "
        f"{(opened + first) / bare:.1f} x a bare NumPy overview of {bare:.2f} s (aim 3)"
    )
    for page in PAGES:
        choice = Choice(page, PLAYER, "", game=GAME)
        answers.answer(choice)
        turns, tags = [], []
        for _ in range(ROUNDS):
            turns.append(_seconds(lambda choice=choice: answers.answer(choice)))
            _tag(document, library)
            tags.append(_seconds(lambda choice=choice: answers.answer(choice)))
        turn, after = statistics.median(turns), statistics.median(tags)
        yield f"{page}: {1000 * turn:.0f} ms, after a tag {after / turn:.2f} x a page turn (aim 1.3)"


def _through_the_window(path: Path) -> Iterator[str]:
    app = application()
    workspace = build_workspace(path, None)
    window = build_window(workspace)
    window.show()
    settle(app, workspace)

    def is_shown() -> bool:
        return not window.statistics.is_computing and not workspace.background.busy

    start = time.perf_counter()
    window.show_page("statistics")
    held = until(app, is_shown)
    opened = time.perf_counter() - start
    yield f"window: Statistics first seen after {opened:.2f} s, the thread held {held:.0f} ms at most"
    page = window.statistics
    pages = page.chooser.pages
    for name in PAGES[1:]:
        pages.setCurrentIndex(pages.findData(name))
        start = time.perf_counter()
        pages.activated.emit(pages.currentIndex())
        held = until(app, is_shown)
        turn = time.perf_counter() - start
        _tag(workspace.document, workspace.library)
        start = time.perf_counter()
        page.refresh()
        held = max(held, until(app, is_shown))
        after = time.perf_counter() - start
        yield f"window, {name}: {1000 * turn:.0f} ms, after a tag {after / turn:.2f} x, held {held:.0f} ms"
    window.close()


def until(app: object, condition: Callable[[], bool]) -> float:
    """Let the window work until something holds; how long it was held at most, milliseconds."""
    longest = 0.0
    while not condition():
        start = time.perf_counter()
        app.processEvents()
        longest = max(longest, time.perf_counter() - start)
        time.sleep(0.001)
    return 1000 * longest


def settle(app: object, workspace: Workspace) -> None:
    """What begins with the window has come to its end."""
    end = time.perf_counter() + 0.5
    while time.perf_counter() < end or workspace.background.busy or workspace.measuring.busy:
        app.processEvents()
        time.sleep(0.001)


def _tag(document: Document, library: Library) -> None:
    """Say something else of one shot of a session in the middle of the library."""
    lines = library.sessions()
    snapshot = document.session(lines[len(lines) // 2].key)
    shot = snapshot.shots[3]
    pace = "long" if shot.record.result and shot.record.result.pace == "short" else "short"
    document.run(edits.set_values(snapshot, "shot", shot.key, {("result", "pace"): pace}, "pace"))


def build(path: Path) -> None:
    """The demo, measured, and its longest match of the game copied until there are enough shots."""
    with closing(open_library(path)) as library:
        document, book = Document(library, derived_rows), MeasureCache()
        fill(document)
        for line in library.sessions():
            snapshot = document.session(line.key)
            asked = book.request(snapshot, snapshot.racks, everything=True)
            found = zip(asked.keys, asked.stamps(), asked.compute(), strict=True)
            library.keep_measures(line.key, {key: (stamp, measure_row(m)) for key, stamp, m in found})
        longest = max((one for one in library.sessions() if one.game == GAME), key=lambda one: one.shots)
    with closing(sqlite3.connect(path)) as plain:
        plain.execute("PRAGMA foreign_keys = OFF")
        plain.execute("PRAGMA synchronous = OFF")
        for number in range(SHOTS // longest.shots):
            for table in TABLES:
                _copy(plain, table, longest.key, f"{number:05d}-")
        plain.commit()


def _copy(plain: sqlite3.Connection, table: str, session: str, mark: str) -> None:
    """The rows of a session in one table once more, every key with another beginning."""
    names = [row[1] for row in plain.execute(f"PRAGMA table_info({table})")]
    keys = {"key", "session", "rack"} if table in ("rack", "shot") else {"key", "session"}
    cells = [f"'{mark}' || substr({n}, 7)" if n in keys else f'"{n}"' for n in names]
    where = {
        "session": "key = ?",
        "shot": "rack IN (SELECT key FROM rack WHERE session = ?)",
    }.get(table, "session = ?")
    listed = ", ".join(f'"{name}"' for name in names)
    copied = f"SELECT {', '.join(cells)} FROM {table} WHERE {where}"
    plain.execute(f"INSERT INTO {table} ({listed}) {copied}", (session,))


def _peak_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def _seconds(act: Callable[[], object]) -> float:
    start = time.perf_counter()
    act()
    return time.perf_counter() - start


if __name__ == "__main__":
    for line in measure():
        print(line, flush=True)
