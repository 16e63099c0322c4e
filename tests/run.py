"""Runs what CI runs: lint, types, all tests; the last line is "N passed, N failed".

python -m tests.run [WORD ...]       only tests whose name holds one of the words, without the checks around
python -m tests.run --keep-coverage  everything, and later runs are held against its coverage

The classes of tests are shared among as many processes as there are cores (two at least).
"""

from __future__ import annotations

import atexit
import faulthandler
import importlib
import io
import multiprocessing
import os
import pkgutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Iterator
from concurrent.futures import Future, ProcessPoolExecutor, ThreadPoolExecutor, as_completed
from dataclasses import dataclass, field
from pathlib import Path

from coverage import Coverage

from tests import coverage_table

ROOT = Path(__file__).resolve().parent.parent
OFFLINE = Path(__file__).resolve().parent / "offline"
PROCESSES = max(2, os.cpu_count() or 2)
SLOW_S = 4.0
SLOWEST_SHOWN = 12
CHECKS = (
    ("lint", ["ruff", "check", "src", "tests", "benchmarks"]),
    ("format", ["ruff", "format", "--check", "--quiet", "src", "tests", "benchmarks"]),
    ("types", ["mypy", "src"]),
)
#: Long classes of tests start first, so that no process is left with one at the end.
LONG = (
    "fuzz",
    "endurance",
    "film",
    "stories",
    "kills",
    "references",
    "read_command",
    "recordings",
    "house",
    "table_dialogs",
)

#: What goes through the whole program again and again: traced, it would take three times as long.
UNTRACED = (
    "tests.fuzz.",
    "tests.endurance.",
    "tests.review.test_by_rack",
)
#: Writes the figures of coverage anew.
KEEP = "--keep-coverage"
#: What the offscreen window system says of itself when a dialog or a menu opens.
OFFSCREEN = "This plugin does not support "
#: What a machine without sound says of it.
SOUNDLESS = "PulseAudioService: "


@dataclass
class Report:
    """What one class of tests came to."""

    name: str
    passed: int = 0
    failures: list[tuple[str, str]] = field(default_factory=list)
    skipped: list[tuple[str, str]] = field(default_factory=list)
    times: list[tuple[float, str]] = field(default_factory=list)
    #: With what is done once for the class.
    seconds: float = 0.0


class Result(unittest.TextTestResult):
    """Counts what passed, times every piece, and fails one during which Qt complained."""

    def __init__(self, *arguments, **options):
        super().__init__(*arguments, **options)
        self.passed = 0
        self.times: list[tuple[float, str]] = []
        self.qt_complaints: list[str] = []

    def startTest(self, test):
        super().startTest(test)
        self.qt_complaints.clear()
        self._started = time.monotonic()

    def stopTest(self, test):
        self.times.append((time.monotonic() - self._started, test.id()))
        super().stopTest(test)

    def addSuccess(self, test):
        if self.qt_complaints:
            error = AssertionError("Qt said: " + "; ".join(self.qt_complaints))
            self.addFailure(test, (AssertionError, error, None))
            return
        self.passed += 1
        super().addSuccess(test)


def watch_qt(result: Result) -> None:
    """Collect what Qt warns about while a test runs."""
    from PyQt6.QtCore import QtMsgType, qInstallMessageHandler

    def note(kind, _context, text):
        # The offscreen platform says this of every window; it has no window manager to hint to.
        if kind != QtMsgType.QtDebugMsg and not text.startswith((OFFSCREEN, SOUNDLESS)):
            result.qt_complaints.append(text)

    qInstallMessageHandler(note)


def checks() -> int:
    """Lint and types; returns how many of them failed."""
    failed = 0
    for name, command in CHECKS:
        call = [sys.executable, "-m", *command]
        done = subprocess.run(call, cwd=ROOT, capture_output=True, text=True, check=False)
        print(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'}", flush=True)
        if done.returncode != 0:
            failed += 1
            print(done.stdout + done.stderr)
    return failed


def refuse_sockets() -> None:
    """Here, and in every Python that a test starts."""
    known = os.environ.get("PYTHONPATH")
    os.environ["PYTHONPATH"] = os.pathsep.join([str(OFFLINE), *([known] if known else [])])
    sys.path.insert(0, str(OFFLINE))
    sys.modules.pop("sitecustomize", None)
    __import__("sitecustomize")


def tests_of(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    """Every test below a suite."""
    for part in suite:
        if isinstance(part, unittest.TestSuite):
            yield from tests_of(part)
        else:
            yield part


def by_class(words: list[str]) -> dict[str, list[str]]:
    """The full names of the wanted tests under the name of their class, long classes first."""
    loader = unittest.TestLoader()
    if words:
        loader.testNamePatterns = [f"*{word}*" for word in words]
    names: dict[str, list[str]] = {}
    for test in tests_of(loader.discover("tests", top_level_dir=str(ROOT))):
        if type(test).__module__ == "unittest.loader":
            raise SystemExit(f"{test.id()} could not be loaded: {getattr(test, '_exception', '')}")
        kind = type(test)
        names.setdefault(f"{kind.__module__}.{kind.__qualname__}", []).append(test.id())
    return dict(sorted(names.items(), key=lambda item: not any(word in item[0] for word in LONG)))


#: The measurement of a process of the pool; None where nothing is measured.
measured: Coverage | None = None


def begin(folder: Path | None) -> None:
    """What a process of the pool does first."""
    global measured  # noqa: PLW0603 - one a process, as the process is
    faulthandler.enable()
    # A run that stands still tells where: kill -USR1 of its processes.
    faulthandler.register(signal.SIGUSR1, all_threads=True)
    if folder is not None:
        measured = coverage_table.measuring(folder)
        measured.start()
        load_everything()


def load_everything() -> None:
    """The window loads some modules in a thread of Qt, where the tracer does not see their lines."""
    import ripasso

    for module in pkgutil.walk_packages(ripasso.__path__, "ripasso."):
        if ".versions." not in module.name and not module.name.endswith(("__main__", "migrations.env")):
            importlib.import_module(module.name)


def run_class(name: str, tests: list[str]) -> Report:
    """Run the tests of one class, in a process of the pool."""
    report, begun_s = Report(name), time.monotonic()
    threads = set(threading.enumerate())
    runner = unittest.TextTestRunner(io.StringIO(), resultclass=Result, verbosity=0, warnings="error")
    make = runner._makeResult
    made: list[Result] = []

    def make_and_watch():
        made.append(make())
        watch_qt(made[0])
        return made[0]

    runner._makeResult = make_and_watch
    is_traced = measured is not None and not name.startswith(UNTRACED)
    if measured is not None and not is_traced:
        measured.stop()
    runner.run(unittest.TestLoader().loadTestsFromNames(tests))
    if measured is not None and not is_traced:
        measured.start()
    if measured is not None:
        measured.save()
    result = made[0]
    report.passed, report.times = result.passed, result.times
    report.failures = [(str(test), text) for test, text in (*result.failures, *result.errors)]
    report.failures += [(str(test), "passed, which was not expected") for test in result.unexpectedSuccesses]
    report.skipped = [(str(test), reason) for test, reason in result.skipped]
    report.seconds = time.monotonic() - begun_s
    if os.sched_getscheduler(0) != os.SCHED_OTHER:
        os.sched_setscheduler(0, os.SCHED_OTHER, os.sched_param(0))
        report.failures.append((name, "left its process above all others: they stand still beside it"))
    left = [t.name for t in set(threading.enumerate()) - threads if not t.daemon or "film" in t.name]
    if left:
        report.failures.append((name, f"threads left over: {', '.join(left)}"))
    return report


def reports(classes: dict[str, list[str]], coverage: Path | None) -> Iterator[Report]:
    """What each class came to, as it ends. A process that dies is told as a failure of what it ran."""
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(PROCESSES, context, initializer=begin, initargs=(coverage,)) as pool:
        waiting: dict[Future[Report], str] = {
            pool.submit(run_class, name, tests): name for name, tests in classes.items()
        }
        for future in as_completed(waiting):
            error = future.exception()
            if error is None:
                yield future.result()
            else:
                yield Report(waiting[future], failures=[(waiting[future], f"its process ended: {error!r}")])


def in_a_folder_of_its_own(classes: dict[str, list[str]], coverage: Path | None) -> Iterator[Report]:
    """The reports of all classes; what tests leave in the system's temporary folder goes with it."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        os.environ["TMPDIR"] = folder
        yield from reports(classes, coverage)


def hold_coverage(folder: Path, *, keep: bool) -> int:
    """Print what was run of each room; returns how many figures are too low."""
    joined = coverage_table.joined_measurement(folder)
    found = coverage_table.shares(joined)
    for room, share in found.items():
        print(f"coverage: {room:18} {share.lines:5.1f} % of lines, {share.branches:5.1f} % of branches")
    if keep:
        coverage_table.keep(found)
    wrong = coverage_table.faults(found)
    for sentence in wrong:
        print(f"coverage FAILED: {sentence}")
    for room in dict.fromkeys(sentence.partition(":")[0] for sentence in wrong):
        for line in coverage_table.most_missed(joined, room):
            print(f"coverage: {line}")
    return len(wrong)


def main(arguments: list[str]) -> int:
    os.chdir(ROOT)
    words = [word for word in arguments if word != KEEP]
    with tempfile.TemporaryDirectory() as coverage:
        return run(words, None if words else Path(coverage), keep=KEEP in arguments)


def run(words: list[str], coverage: Path | None, *, keep: bool) -> int:
    """The whole run, or that of some tests; returns the exit code."""
    started = time.monotonic()
    # The simulator is compiled once for all processes; the checks run beside that and beside the first tests.
    compiling = subprocess.Popen([sys.executable, "-m", "ripasso.core.planning.warming"], cwd=ROOT)
    beside = ThreadPoolExecutor(1)
    checked = beside.submit(checks) if not words else None
    if not words:
        compiling.wait()
    passed = failed = 0
    refuse_sockets()
    times: list[tuple[float, str]] = []
    class_times: list[tuple[float, str]] = []
    skipped: list[tuple[str, str]] = []
    for report in in_a_folder_of_its_own(by_class(words), coverage):
        print("F" if report.failures else ".", end="", flush=True)
        for name, text in report.failures:
            print(f"\n{'=' * 70}\nFAIL: {name}\n{'-' * 70}\n{text}", flush=True)
        passed += report.passed
        failed += len(report.failures)
        times += report.times
        class_times.append((report.seconds, report.name))
        skipped += report.skipped
    print()
    if checked is not None:
        failed += checked.result()
        passed += len(CHECKS) - checked.result()
    for seconds, name in sorted((t for t in times if t[0] > SLOW_S), reverse=True)[:SLOWEST_SHOWN]:
        print(f"slow: {seconds:5.1f} s  {name}")
    for seconds, name in sorted(class_times, reverse=True)[:SLOWEST_SHOWN]:
        print(f"class: {seconds:5.0f} s  {name}")
    for test, reason in skipped:
        print(f"skipped: {test}: {reason}")
    if coverage is not None:
        too_low = hold_coverage(coverage, keep=keep)
        failed += too_low
        passed += too_low == 0
    print(f"{time.monotonic() - started:.0f} s in {PROCESSES} processes")
    compiling.wait()
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or passed == 0 else 0


if __name__ == "__main__":
    # Threads of Qt and of the film library end with the process; nothing of ours is left by then.
    code = main(sys.argv[1:])
    sys.stdout.flush()
    atexit._run_exitfuncs()
    os._exit(code)
