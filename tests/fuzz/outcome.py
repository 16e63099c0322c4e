"""What a program made of damaged input: done, or one sentence; anything else is a fault."""

from __future__ import annotations

import io
import signal
from collections.abc import Iterator
from contextlib import contextmanager, redirect_stderr, redirect_stdout

from ripasso.cli import main

#: Processor time that one piece of input may take.
MOST_S = 5.0
#: No sentence for a person is longer.
LONGEST = 2000


class Fault(AssertionError):
    """The program did what it never should."""


@contextmanager
def time_limit(seconds: float = MOST_S) -> Iterator[None]:
    """Raise a `Fault` where something works for too long; other processes' time does not count."""

    def stop(_signal: int, _frame: object) -> None:
        raise Fault(f"worked for more than {seconds} s")

    before = signal.signal(signal.SIGPROF, stop)
    signal.setitimer(signal.ITIMER_PROF, seconds)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)


def run(*arguments: str) -> int:
    """Run a command here; returns its exit code, or raises `Fault` for one that says too much or nothing."""
    out, said = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(said):
        try:
            code = main(arguments)
        except SystemExit as error:
            code = error.code if isinstance(error.code, int) else 1
    text = said.getvalue()
    if code not in {0, 1, 2}:
        raise Fault(f"{arguments[0]} ended with {code}")
    if code == 2:
        one_sentence(text.removeprefix("ripasso: ").removesuffix("\n"))
    out.getvalue().encode()  # what is printed can be written
    return code


def one_sentence(text: str) -> None:
    """Raises `Fault` for what is no sentence for a person."""
    if not text or "\n" in text or len(text) > LONGEST or not text.rstrip().endswith((".", "!", "?", "”")):
        raise Fault(f"no sentence: {text[:300]!r}")
    for raw in ("Traceback", "pydantic", "Exception", "sqlite3", "NoneType", "object has no"):
        if raw in text:
            raise Fault(f"not for a person: {text[:300]!r}")
