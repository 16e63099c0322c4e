"""Puts damaged input through the program: python -m tests.fuzz.run N [KIND ...]

N damaged sessions, a tenth as many films, a twentieth as many libraries, a fifth as many views, searches and
lines of words; with kinds only those. Each case has a number, which makes it again. The last lines say how
many were used and how many refused, what went wrong, and the most memory a process took.
"""

from __future__ import annotations

import collections
import importlib
import multiprocessing
import os
import resource
import sys
import tempfile
import traceback
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

CHUNK = 25


@dataclass(frozen=True)
class Kind:
    """A kind of input: the function that tries one, its share of N, and its share in the tests."""

    function: str
    share: float
    in_tests: float = 1.0

    def attempt(self) -> Callable[[int, Path], str]:
        """The function: a number and a folder to "used" or "refused"; it raises what went wrong."""
        module, name = self.function.split(":")
        found: Callable[[int, Path], str] = getattr(importlib.import_module(module), name)
        return found


KINDS = {
    "session": Kind("tests.fuzz.sessions:try_session", 1.0, 0.5),
    "film": Kind("tests.fuzz.films:try_film", 0.1, 0.34),
    "library": Kind("tests.fuzz.libraries:try_library", 0.05, 0.2),
    "line": Kind("tests.fuzz.lines:try_line", 0.2),
}


def tried(kind: str, first: int, last: int) -> tuple[collections.Counter[str], list[str], int]:
    """Some cases of a kind: how they ended, what went wrong, and the process's peak in kB."""
    attempt = KINDS[kind].attempt()
    counts: collections.Counter[str] = collections.Counter()
    wrong = []
    with tempfile.TemporaryDirectory() as folder:
        for seed in range(first, last):
            try:
                counts[attempt(seed, Path(folder))] += 1
            except BaseException:  # noqa: BLE001  (whatever ends a case is what is looked for)
                counts["wrong"] += 1
                wrong.append(f"{kind} {seed}: {traceback.format_exc()}")
    return counts, wrong, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss


def main(arguments: list[str]) -> int:
    """Run the cases; returns the exit code."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    number, kinds = int(arguments[0]), arguments[1:] or list(KINDS)
    failed = 0
    context = multiprocessing.get_context("spawn")
    for kind in kinds:
        many = max(1, int(number * KINDS[kind].share))
        counts: collections.Counter[str] = collections.Counter()
        peak = 0
        with ProcessPoolExecutor(os.cpu_count(), context) as pool:
            starts = range(0, many, CHUNK)
            ends = [min(many, start + CHUNK) for start in starts]
            for found, wrong, memory in pool.map(tried, [kind] * len(ends), starts, ends):
                counts += found
                peak = max(peak, memory)
                failed += len(wrong)
                print("\n".join(wrong), end="\n" if wrong else "", flush=True)
        words = ", ".join(f"{count} {how}" for how, count in sorted(counts.items()))
        print(f"{kind}: {many} tried, {words}; at most {peak // 1024} MB", flush=True)
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
