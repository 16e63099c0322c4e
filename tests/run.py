"""Runs what CI runs: lint, types, all tests; the last line is "N passed, N failed".

python -m tests.run [WORD ...]      only tests whose name holds one of the words, without lint and types
"""

from __future__ import annotations

import atexit
import faulthandler
import os
import subprocess
import sys
import threading
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
OFFLINE = Path(__file__).resolve().parent / "offline"
SLOW_S = 2.0
SLOWEST_SHOWN = 12
CHECKS = (
    ("lint", ["ruff", "check", "src", "tests", "benchmarks"]),
    ("format", ["ruff", "format", "--check", "--quiet", "src", "tests", "benchmarks"]),
    ("types", ["mypy", "src"]),
)

#: What the offscreen window system says of itself when a dialog or a menu opens.
OFFSCREEN = "This plugin does not support "


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
        if kind != QtMsgType.QtDebugMsg and not text.startswith(OFFSCREEN):
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


def main(words: list[str]) -> int:
    faulthandler.enable()
    os.chdir(ROOT)
    failed = 0 if words else checks()
    passed = 0 if words else len(CHECKS) - failed
    refuse_sockets()
    loader = unittest.TestLoader()
    if words:
        loader.testNamePatterns = [f"*{word}*" for word in words]
    suite = loader.discover("tests", top_level_dir=str(ROOT))
    runner = unittest.TextTestRunner(resultclass=Result, verbosity=1, warnings="error")
    threads = set(threading.enumerate())
    runner_result = _run(runner, suite)
    left = [t.name for t in set(threading.enumerate()) - threads if not t.daemon or "film" in t.name]
    if left:
        print(f"Threads left over: {', '.join(left)}")
        failed += 1
    slow = sorted((t for t in runner_result.times if t[0] > SLOW_S), reverse=True)
    for seconds, name in slow[:SLOWEST_SHOWN]:
        print(f"slow: {seconds:5.1f} s  {name}")
    for test, reason in runner_result.skipped:
        print(f"skipped: {test}: {reason}")
    passed += runner_result.passed
    failed += len(runner_result.failures) + len(runner_result.errors) + len(runner_result.unexpectedSuccesses)
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or passed == 0 else 0


def _run(runner: unittest.TextTestRunner, suite: unittest.TestSuite) -> Result:
    made: list[Result] = []
    make = runner._makeResult

    def make_and_watch():
        result = make()
        made.append(result)
        watch_qt(result)
        return result

    runner._makeResult = make_and_watch
    runner.run(suite)
    return made[0]


if __name__ == "__main__":
    # Threads of Qt and of the film library end with the process; nothing of ours is left by then.
    code = main(sys.argv[1:])
    sys.stdout.flush()
    atexit._run_exitfuncs()
    os._exit(code)
