"""Reads recordings of known truth and writes docs/reading-accuracy.md: `make accuracy`.

Films of the simulated camera are rendered into a folder that is given, or found there from the last time;
each condition of real films is one of them filmed again.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from ripasso.core.table import table_spec
from ripasso.demo.filming.conditions import CONDITIONS, film_again
from ripasso.demo.filming.recordings import RECIPES, render
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.camera_fit import fit_view
from ripasso.film.reading.accuracy import compared
from ripasso.film.reading.reader import FilmReading

OTHERS = Path(__file__).resolve().parents[2] / "shared" / "recordings"
#: Which recording is filmed again through which condition.
FILMED_AGAIN = {
    "lens": "snooker",
    "trembling": "nine_ball",
    "panning": "eight_ball",
    "zooming": "rotation",
    "exposure": "ten_ball",
    "noise": "straight_pool",
    "graphics": "eight_ball",
    "cuts": "ten_ball",
    "interlaced": "nine_ball",
    "small": "eight_ball",
}
COLUMNS = (
    ("shots_found", "shots", 100, "%"),
    ("shots_false", "false", 100, "%"),
    ("strike_median_s", "strike", 1, "s"),
    ("rest_within", "rest ±0.25 s", 100, "%"),
    ("off_median_mm", "median", 1, "mm"),
    ("off_95_mm", "95th", 1, "mm"),
    ("balls_found", "balls", 100, "%"),
    ("balls_invented", "invented", 100, "%"),
    ("identity", "identity", 100, "%"),
    ("potted", "potted", 100, "%"),
    ("first_contact", "first contact", 100, "%"),
    ("values_sure", "above 0.9", 100, "%"),
    ("sure_right", "of these right", 100, "%"),
)
CORNERS = ("head_right", "foot_right", "foot_left", "head_left")


def view_of(truth: dict[str, Any]) -> Camera:
    """The view from four corners as they are clicked: to the nearest pixel."""
    length, width = truth["playing_surface"]["L"], truth["playing_surface"]["W"]
    places = {
        "head_right": (0, 0),
        "foot_right": (length, 0),
        "foot_left": (length, width),
        "head_left": (0, width),
    }
    seen = truth["camera"]["corners_at_nose_height"]
    points = [(*places[corner], truth["nose_height"]) for corner in CORNERS]
    pixels = [[round(value) for value in seen[corner]] for corner in CORNERS]
    size = (truth["camera"]["width"], truth["camera"]["height"])
    return fit_view(points, pixels, size).camera


def read(film: Path, truth: dict[str, Any], camera: Camera | None) -> dict[str, Any]:
    """The figures of one film."""
    spec = table_spec({"preset": "snooker_12ft" if truth["game"] == "snooker" else "pool_9ft"})
    reading = FilmReading(build_index(film), truth["game"], spec, camera)
    try:
        reading.run()
    finally:
        reading.close()
    return compared([shot.values for shot in reading.shots()], truth).as_data()


def films(folder: Path) -> list[Path]:
    """The recordings of another renderer where they are, those of the simulated camera, and these again."""
    found = sorted(OTHERS.glob("*.mp4"))
    for name, recipe in RECIPES.items():
        film = folder / f"{name}.mp4"
        if not film.exists():
            render(name, recipe, folder)
        found.append(film)
    for condition, name in FILMED_AGAIN.items():
        film = folder / f"{name}_{condition}.mp4"
        if not film.exists():
            film_again(folder / f"{name}.mp4", CONDITIONS[condition], film)
        found.append(film)
    return found


def table(rows: list[tuple[str, dict[str, Any]]]) -> list[str]:
    """A table in Markdown."""
    lines = [
        "| film | " + " | ".join(f"{title} ({unit})" for _, title, _, unit in COLUMNS) + " |",
        "|---" * (len(COLUMNS) + 1) + "|",
    ]
    for name, figures in rows:
        cells = []
        for key, _, factor, unit in COLUMNS:
            value = figures[key]
            digits = 3 if unit == "s" else 1
            if factor == 100:
                digits = 0
            cells.append("" if value is None else f"{factor * value:.{digits}f}")
        lines.append(f"| {name} | " + " | ".join(cells) + " |")
    return lines


def main(folder: Path, target: Path) -> None:
    """Read all films twice and write the tables."""
    folder.mkdir(parents=True, exist_ok=True)
    by_corners, alone = [], []
    for film in films(folder):
        truth = json.loads(film.with_suffix(".truth.json").read_text(encoding="utf-8"))
        for rows, camera in ((by_corners, view_of(truth)), (alone, None)):
            figures = read(film, truth, camera)
            rows.append((film.stem.replace("_", " "), figures))
            sys.stdout.write(
                f"{film.stem} {'by itself' if camera is None else 'by corners'} {json.dumps(figures)}\n"
            )
            sys.stdout.flush()
    text = ["# How right a film is read", ""]
    text += ["Written by `make accuracy`; what the columns mean stands in [reading.md](reading.md).", ""]
    text += ["## With the view from four clicked corners", "", *table(by_corners), ""]
    text += ["## Fully by itself", "", *table(alone), ""]
    target.write_text("\n".join(text), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
