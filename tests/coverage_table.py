"""How much of the source the tests run, by room: measured in each process, joined and held at the end.

`tests/coverage.json` holds the figures of before; one that falls by more than a point fails the run, and so
does one below its floor. `python -m tests.run --keep-coverage` writes the figures anew.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from coverage import Coverage
from coverage.results import Numbers

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src" / "ripasso"
KEPT = Path(__file__).with_name("coverage.json")
#: What may be lost from one run to the next, in points.
SLACK = 1.0
#: Rooms that are not measured: tracing every frame of a film takes as long as reading it.
LEFT_OUT = ("film", "demo", "reading_command")
#: The least share of branches, and of lines, in per cent. What works in threads of Qt is not seen.
LEAST = {
    "core": {"branches": 90.0},
    "review": {"branches": 90.0},
    "statistics": {"branches": 90.0},
    "store": {"branches": 90.0},
    "ui": {"lines": 80.0},
}


@dataclass(frozen=True)
class Share:
    """Of a room: the lines and the branches that were run, in per cent."""

    lines: float
    branches: float


def measuring(folder: Path) -> Coverage:
    """A measurement of this process, whose figures go into the folder."""
    return Coverage(
        data_file=str(folder / "coverage"),
        data_suffix=True,
        branch=True,
        source=[str(SOURCE)],
        omit=[str(SOURCE / room / "*") for room in LEFT_OUT],
        config_file=False,
        messages=False,
    )


def joined_measurement(folder: Path) -> Coverage:
    """What all processes together ran."""
    joined = Coverage(
        data_file=str(folder / "coverage"), branch=True, source=[str(SOURCE)], config_file=False
    )
    joined.exclude("if TYPE_CHECKING:")
    joined.exclude(r"^\s*\.\.\.$")
    joined.exclude(r"^@compile_$")  # machine code: nothing of it is traced
    joined.combine(data_paths=[str(folder)])
    return joined


def most_missed(joined: Coverage, room: str, most: int = 15) -> list[str]:
    """The modules of a room of which most branches are not run, a line each."""
    found = []
    for path in sorted((SOURCE / room).rglob("*.py")):
        numbers = joined._analyze(str(path)).numbers
        missed = numbers.n_branches - numbers.n_executed_branches
        found.append((missed, numbers.n_branches, path.relative_to(SOURCE)))
    return [
        f"{path}: {missed} of {of} branches are not run"
        for missed, of, path in sorted(found)[: -most - 1 : -1]
    ]


def shares(joined: Coverage) -> dict[str, Share]:
    """What was run of each room."""
    numbers: dict[str, Numbers] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        room = path.relative_to(SOURCE).parts[0].removesuffix(".py")
        if room in LEFT_OUT:
            continue
        numbers[room] = numbers.get(room, Numbers()) + joined._analyze(str(path)).numbers
    return {
        room: Share(
            100 * one.n_executed / max(1, one.n_statements),
            100 * one.n_executed_branches / max(1, one.n_branches),
        )
        for room, one in numbers.items()
        if one.n_statements > 50
    }


def faults(found: dict[str, Share]) -> list[str]:
    """What is below its floor, or fell since it was kept; a sentence each."""
    before = json.loads(KEPT.read_text(encoding="utf-8"))
    wrong = []
    for room, share in found.items():
        for kind, value in vars(share).items():
            least = LEAST.get(room, {}).get(kind, 0.0)
            if value < least:
                wrong.append(
                    f"{room}: {value:.1f} % of {kind} are run by the tests, {least:.0f} % are wanted"
                )
            known = before.get(room, {}).get(kind, 0.0)
            if value < known - SLACK:
                wrong.append(
                    f"{room}: {value:.1f} % of {kind} are run by the tests, it was {known:.1f} % before"
                )
    return wrong


def keep(found: dict[str, Share]) -> None:
    """Hold later runs against these figures."""
    figures = {
        room: {kind: round(value, 1) for kind, value in vars(share).items()} for room, share in found.items()
    }
    KEPT.write_text(json.dumps(figures, indent=2) + "\n", encoding="utf-8")
