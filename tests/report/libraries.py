"""A small measured library with a coded film, and what reports are made from."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from ripasso.core.figures.measure_rows import measure_row
from ripasso.report.material import Material
from ripasso.report.stills import Stills
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.record.report import Report
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import open_library
from tests.films import write_film
from tests.sessions import played, rack_of, session

DAY = date(2026, 11, 30)
FRAMES, RATE = 300, 25
#: A camera over the middle of the table, which sees its whole length in the width of a coded film.
CAMERA = {
    "focal_px": 300.0,
    "centre": [160.0, 90.0],
    "R": [[1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, -1.0]],
    "t": [-1.27, 0.635, 3.0],
}


def shots():
    """Eight shots of two players with layouts and marks; every third one misses."""
    made = []
    for number in range(8):
        player = "a" if number < 5 else "b"
        potted = () if number % 3 == 2 else (str(number + 1),)
        made.append(
            {
                **played(player, *potted),
                "call": {"ball": str(number + 1), "pocket": "foot_left"},
                "before": {"cue": [1.0, 0.5], str(number + 1): [1.8, 0.9], "9": [0.6, 0.4]},
                "after": {"cue": [1.4, 0.6], "9": [0.6, 0.4]},
                "plan": {"zone": {"circle": {"centre": [1.3, 0.6], "radius": 0.2}}},
                "recording": "film",
                "t_strike": 1.0 + number,
                "t_rest": 1.6 + number,
                "note": "=1+1" if number == 1 else None,
            }
        )
    return [{key: value for key, value in one.items() if value is not None} for one in made]


def library_with(folder: Path, **changes):
    """A library that holds one session with its film, measured."""
    film = write_film(folder / "film.mp4", FRAMES, 25, clicks=[1.0 + number for number in range(8)])
    recording = {"id": "film", "file": str(film), "frame_rate": RATE, "duration": FRAMES / RATE}
    record = session(racks=[rack_of(*shots(), lesson="Stop short")], recordings=[recording], **changes)
    library = open_library(folder / "library.ripasso")
    document = Document(library, derived_rows)
    document.run(add_session(record))
    snapshot = Snapshot(record.id, library.load(record.id))
    request = MeasureCache().request(snapshot, snapshot.racks, everything=True)
    rows = zip(request.keys, request.stamps(), request.compute(), strict=True)
    library.keep_measures(record.id, {key: (stamp, measure_row(one)) for key, stamp, one in rows})
    return library, document


def report_of(*pages, **more):
    """A report of Ada with these pages."""
    data = {"id": "r", "title": "For Ada", "player": "ada quill", "pages": pages, **more}
    return Report.model_validate(data, strict=False)


def material_of(library, report):
    """What a report is made from, on a fixed day."""
    return Material(library, LibraryIndex(library), report, Stills(), today=DAY)
