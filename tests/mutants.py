"""`make mutants`: puts each fault of `tests.faults` into a copy of the source; tells which survive the tests.

A fault is killed when a test fails. The tests named beside it are tried first, then all that need no window
and no film. Takes some minutes.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from tests.faults import FAULTS, Fault

ROOT = Path(__file__).resolve().parent.parent
#: Rooms whose tests need no window: what every fault has to pass that its own tests let through.
WIDER = ("core", "review", "statistics", "store")
AIM = 5


def copy_of_the_source(folder: Path) -> Path:
    """The source and its tests, in a place where they may be spoilt."""
    for part in ("src", "tests", "docs"):
        shutil.copytree(ROOT / part, folder / part, ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copy(ROOT / "pyproject.toml", folder)
    return folder


def fails(folder: Path, modules: list[str]) -> bool:
    """Whether one of the tests of a copy fails."""
    environment = {
        **os.environ,
        "PYTHONPATH": f"{folder / 'src'}{os.pathsep}{folder}",
        "PYTHONDONTWRITEBYTECODE": "1",
    }
    call = [sys.executable, "-m", "unittest", "-f", "-q", *modules]
    return subprocess.run(call, cwd=folder, env=environment, capture_output=True, check=False).returncode != 0


def wider_tests() -> list[str]:
    """All modules of tests that need no window."""
    paths = sorted(path for room in WIDER for path in (ROOT / "tests" / room).glob("test_*.py"))
    # Killed writers take their time and say nothing of figures.
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for p in paths if "kills" not in p.name]


def is_killed(folder: Path, fault: Fault) -> bool:
    """Whether the tests notice a fault; the copy is as it was afterwards."""
    path = folder / "src" / "ripasso" / fault.path
    text = path.read_text(encoding="utf-8")
    path.write_text(text.replace(fault.right, fault.wrong), encoding="utf-8")
    try:
        return fails(folder, [f"tests.{fault.tests}"]) or fails(folder, wider_tests())
    finally:
        path.write_text(text, encoding="utf-8")


def main() -> int:
    """Try every fault; returns 1 when more survive than are allowed."""
    survived = []
    with tempfile.TemporaryDirectory() as place:
        copies = [copy_of_the_source(Path(place) / str(i)) for i in range(os.cpu_count() or 2)]
        if fails(copies[0], wider_tests()):
            raise SystemExit("The tests fail without any fault.")
        with ThreadPoolExecutor(len(copies)) as pool:

            def trial(fault: Fault) -> bool:
                folder = copies.pop()
                try:
                    return is_killed(folder, fault)
                finally:
                    copies.append(folder)

            for fault, killed in zip(FAULTS, pool.map(trial, FAULTS), strict=True):
                print("." if killed else "S", end="", flush=True)
                if not killed:
                    survived.append(fault)
    print()
    for fault in survived:
        print(f"survived: {fault.path}: {fault.right.strip()!r} as {fault.wrong.strip()!r}")
    print(f"{len(FAULTS) - len(survived)} of {len(FAULTS)} faults were noticed, {len(survived)} survived")
    return 1 if len(survived) > AIM else 0


if __name__ == "__main__":
    sys.exit(main())
