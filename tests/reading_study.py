"""How much a film's reading hangs on each of its parameters: `make study`, writes docs/reading-parameters.md.

Each is made 30 % smaller and larger, and two recordings of another renderer (pool, snooker) are read again.
What a parameter means is read from the comment above it, so that the table cannot say something else.
"""

from __future__ import annotations

import importlib
import json
import os
import pkgutil
import re
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import cv2

import ripasso.film.reading as package
from tests.reading_table import OTHERS, read, view_of

FILMS = ("clip2", "clip4")
FACTORS = (0.7, 1.3)
#: Module, name, and the place in a tuple; shares stay at most 1.
PARAMETERS: tuple[tuple[str, str, int | None], ...] = (
    ("ground", "OTHER", None),
    ("ground", "FOLLOWS", None),
    ("ground", "POCKET_SHARE", None),
    ("resting", "ONE_BALL", 0),
    ("resting", "ONE_BALL", 1),
    ("resting", "LONE_BALL", None),
    ("resting", "PACK_COVERED", None),
    ("resting", "PACK_LOOK", None),
    ("resting", "FILLED", None),
    ("resting", "TINT", None),
    ("resting", "SHADED_SHARE", None),
    ("rack", "ALIKE", None),
    ("shadows", "SHADOWY", None),
    ("scene", "SAME", None),
    ("scene", "BARE", None),
    ("scene", "PERSON", None),
    ("scene", "ARM_RADII", None),
    ("tracks", "GATE_M", None),
    ("tracks", "UNSEEN_S", None),
    ("tracks", "STANDS_RADII", None),
    ("trajectories", "JOINS_M", None),
    ("matching", "NEW", None),
    ("matching", "LEADS_M", None),
    ("pockets", "IN_POCKET_M", None),
    ("shots", "AT_CUSHION_M", None),
    ("shots", "TAIL_S", None),
    ("following", "CALM_S", None),
    ("following", "RAN_RADII", None),
    ("explaining", "BEGAN_M", None),
    ("explaining", "TAKEN_S", None),
    ("names", "MOST_COST", None),
    ("colours", "PAINT_SHARE", None),
    ("gleams", "SPREAD", None),
    ("reader", "BLANK", None),
)
SHARES = frozenset(
    {
        "POCKET_SHARE",
        "PACK_COVERED",
        "FILLED",
        "SHADED_SHARE",
        "ALIKE",
        "SHADOWY",
        "BARE",
        "PAINT_SHARE",
        "BLANK",
        "FOLLOWS",
    }
)
COLUMNS = ("shots_found", "balls_found", "identity", "potted")


def modules() -> list[Any]:
    """All modules of the package that reads."""
    found = pkgutil.walk_packages(package.__path__, f"{package.__name__}.")
    return [importlib.import_module(one.name) for one in found if not one.ispkg]


def module(home: str) -> Any:
    """The module of a name, whichever room of the package it stands in."""
    (found,) = (one for one in modules() if one.__name__.rpartition(".")[2] == home)
    return found


@contextmanager
def changed(home: str, name: str, place: int | None, factor: float) -> Iterator[None]:
    """A parameter another one for a while, wherever it was taken in by its name."""
    usual = getattr(module(home), name)
    other: Any
    if place is None:
        other = min(1.0, usual * factor) if name in SHARES else usual * factor
    else:
        other = tuple(v * factor if i == place else v for i, v in enumerate(usual))
    users = [one for one in modules() if name in vars(one) and vars(one)[name] is usual]
    try:
        for one in users:
            setattr(one, name, other)
        yield
    finally:
        for one in users:
            setattr(one, name, usual)


def meaning(home: str, name: str) -> tuple[str, str]:
    """What the comment above a parameter says, and its value as it is written."""
    text = Path(module(home).__file__ or "").read_text(encoding="utf-8")
    found = re.search(rf"((?:^#: .*\n)*)^(?:\w+, )*{name}(?:, \w+)* = (.*)$", text, re.M)
    assert found, name
    words = " ".join(line.removeprefix("#:").strip() for line in found[1].splitlines())
    return words, found[2].split("  #")[0].strip()


def figures(job: tuple[str, str, int | None, float]) -> list[dict[str, Any]]:
    """The accuracy on both films with one parameter changed."""
    results = []
    with changed(*job):
        for name in FILMS:
            truth = json.loads((OTHERS / f"{name}.truth.json").read_text(encoding="utf-8"))
            results.append(read(OTHERS / f"{name}.mp4", truth, view_of(truth)))
    return results


def cell(results: list[dict[str, Any]]) -> str:
    """Shots, balls, names, pots in per cent and the median in mm: pool; snooker."""
    parts = []
    for one in results:
        shares = "/".join("–" if one[key] is None else f"{100 * one[key]:.0f}" for key in COLUMNS)
        false, invented = 100 * (one["shots_false"] or 0), 100 * (one["balls_invented"] or 0)
        more = f" +{false:.0f}/{invented:.0f}" if false or invented else ""
        parts.append(f"{shares}{more}, {one['off_median_mm']:.1f} mm")
    return "; ".join(parts)


def main(target: Path) -> None:
    """Read both films for each parameter and factor, in as many processes as there are cores."""
    jobs = [(*parameter, factor) for parameter in PARAMETERS for factor in FACTORS]
    # Each process is one core's work; threads inside it would only wait for those of the other.
    with ProcessPoolExecutor(os.cpu_count(), initializer=cv2.setNumThreads, initargs=(1,)) as pool:
        usual, *found = pool.map(figures, [("ground", "OTHER", None, 1.0), *jobs])
    lines = ["# How much the reading of a film hangs on its parameters", ""]
    lines += [
        "Written by `make study`. Each parameter 30 % smaller and larger, all others as they are (shares at"
    ]
    lines += [
        "most 1), on two recordings of another renderer, the view from four corners. In each cell, pool;"
    ]
    lines += [
        "snooker: shots / balls / names / pots found right, in per cent, then `+` false shots / invented"
    ]
    lines += ["balls where there are any, and the median distance of balls at rest.", ""]
    lines += [f"As they are: {cell(usual)}.", ""]
    lines += ["| parameter | what it means | value | 30 % less | 30 % more |", "|---|---|---|---|---|"]
    for i, (home, name, place) in enumerate(PARAMETERS):
        words, value = meaning(home, name)
        which = "" if place is None else f"[{place}]"
        less, more = cell(found[2 * i]), cell(found[2 * i + 1])
        cells = ["as they are" if one == cell(usual) else one for one in (less, more)]
        lines.append(f"| `{home}.{name}{which}` | {words} | {value} | {cells[0]} | {cells[1]} |")
    target.write_text("\n".join([*lines, ""]), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
