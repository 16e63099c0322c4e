"""`make bench`: each figure beside something bare measured in the same run, so that machines can differ."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks import (
    film,
    finding,
    growth,
    keys,
    library,
    measuring,
    physics,
    planning,
    playing,
    reading,
    reports,
    rules,
    start,
    statistics,
)


def main() -> None:
    for bench in (
        start,
        film,
        playing,
        rules,
        keys,
        measuring,
        finding,
        statistics,
        library,
        physics,
        planning,
        growth,
        reports,
        reading,
    ):
        print(bench.__doc__.splitlines()[0])
        for line in bench.measure():
            print(f"  {line}")


if __name__ == "__main__":
    main()
