"""A search line over 100,000 shots, beside bare SQLite on the same columns."""

from __future__ import annotations

import sqlite3
import statistics
import time
from collections.abc import Callable, Iterator

import numpy as np

from ripasso.core.finding import FIELDS, matching, parse_query
from ripasso.core.finding.matching import coded

SHOTS, ROUNDS = 100_000, 7
#: A search line, and the same as a condition of SQLite.
LINES = (
    ("position:lost", "position = 'lost'"),
    ("cut:30-60 made:no", "cut BETWEEN 30 AND 60 AND NOT made"),
    (
        "chance:>0.75 -position:good or delivery:rest",
        "chance > 0.75 AND position <> 'good' OR delivery = 'rest'",
    ),
    (
        "player:ada cause:pace,aim rack:1-3",
        "player LIKE '%ada%' AND cause IN ('pace','aim') AND rack BETWEEN 1 AND 3",
    ),
)
TEXTS = {
    "position": ("good", "playable", "lost", ""),
    "delivery": ("", "rest", "reach", "over_ball"),
    "player": ("ada quill", "bram oster", "cleo marsh"),
    "cause": ("", "pace", "aim", "pressure"),
}


def _made() -> tuple[dict[str, object], list[tuple[object, ...]], list[str]]:
    random = np.random.default_rng(1)
    texts = {
        name: [values[i] for i in random.integers(0, len(values), SHOTS)] for name, values in TEXTS.items()
    }
    numbers = {
        "cut": random.uniform(0, 80, SHOTS),
        "chance": random.uniform(0, 1, SHOTS),
        "rack": random.integers(1, 12, SHOTS).astype(float),
    }
    made = random.random(SHOTS) < 0.7
    columns: dict[str, object] = {name: coded(values) for name, values in texts.items()}
    columns |= {**numbers, "made": made}
    names = [*texts, *numbers, "made"]
    rows = list(zip(*texts.values(), *(v.tolist() for v in numbers.values()), made.tolist(), strict=True))
    return columns, rows, names


def _median_ms(work: Callable[[], object]) -> float:
    times = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        work()
        times.append(1e3 * (time.perf_counter() - start))
    return statistics.median(times)


def measure() -> Iterator[str]:
    columns, rows, names = _made()
    plain = sqlite3.connect(":memory:")
    plain.execute(f"CREATE TABLE shot ({', '.join(names)})")
    plain.executemany(f"INSERT INTO shot VALUES ({', '.join('?' * len(names))})", rows)
    for line, condition in LINES:
        query = f"SELECT rowid FROM shot WHERE {condition}"
        found = int(matching(parse_query(line, FIELDS), columns).sum())  # type: ignore[arg-type]
        assert found == len(plain.execute(query).fetchall()), line
        ours = _median_ms(lambda line=line: matching(parse_query(line, FIELDS), columns))  # type: ignore[misc]
        bare = _median_ms(lambda query=query: plain.execute(query).fetchall())  # type: ignore[misc]
        yield f"{line}: {found} of {SHOTS} in {ours:.1f} ms, {ours / bare:.2f} x bare SQLite ({bare:.1f} ms)"
