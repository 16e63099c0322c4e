"""A report of forty sheets beside decoding its stills; a teaching film beside bare decoding and encoding."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable, Iterator
from datetime import date
from io import BytesIO
from pathlib import Path
from typing import Any

import av
import pypdf

from ripasso.core.figures.measure_rows import measure_row
from ripasso.demo.library import fill, film_path
from ripasso.drawing.raster import put_drawing
from ripasso.film import build_index
from ripasso.film.decoding.still import whole_frame
from ripasso.film.encoding.film_writer import PRESET, QUALITY
from ripasso.report.making import make_pages
from ripasso.report.material import Material
from ripasso.report.pdf import pdf_bytes
from ripasso.report.teaching.film import TeachingFilm, teaching_film, write_teaching_film
from ripasso.report.teaching.scenes import Scene
from ripasso.review.document.document import Document
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.record.report import Report
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.pages.pages import OVERVIEW, PAGE_WORDS
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import Library, open_library
from ripasso.style.palette import PAPER, soft_share

FILMED, SHOTS, DAY = "demo-rack-on-film", 10, date(2026, 11, 30)
FIGURES = tuple(name for name in PAGE_WORDS if name != OVERVIEW)


def measure() -> Iterator[str]:
    """The two promises of reports and films."""
    with tempfile.TemporaryDirectory() as folder:
        library = open_library(Path(folder) / "demo.ripasso")
        try:
            _fill(library)
            yield _report(library)
            yield _film(library, Path(folder))
        finally:
            library.close()


def _fill(library: Library) -> None:
    document: Any = Document(library, derived_rows)
    fill(document)
    for head in library.heads():
        snapshot = Snapshot(head.key, library.load(head.key))
        request = MeasureCache().request(snapshot, snapshot.racks, everything=True)
        made = zip(request.keys, request.stamps(), request.compute(), strict=True)
        library.keep_measures(head.key, {key: (stamp, measure_row(one)) for key, stamp, one in made})


def _material(library: Library, pages: list[dict[str, Any]]) -> Material:
    data = {"id": "bench", "title": "Bench", "player": library.persons()[0][0], "pages": pages}
    report = Report.model_validate(data, strict=False)
    return Material(library, LibraryIndex(library), report, today=DAY)


def _places() -> list[dict[str, Any]]:
    return [{"session": FILMED, "rack": 1, "shot": number} for number in range(1, SHOTS + 1)]


def _report(library: Library) -> str:
    shots = {"kind": "shots", "shots": _places()}
    figures = [{"kind": "figures", "figures": name} for name in FIGURES]
    pages = [
        shots,
        shots,
        shots,
        {"kind": "rack", "session": FILMED, "rack": 1},
        *figures,
        {"kind": "methods"},
    ]
    material = _material(library, pages)
    index = build_index(film_path())
    strikes = [float(row.record.t_strike or 0) for row in Snapshot(FILMED, library.load(FILMED)).shots][
        :SHOTS
    ]
    bare = _seconds(lambda: [whole_frame(index, index.number_at(at)) for at in strikes * 3])
    made: list[bytes] = []
    whole = _seconds(lambda: made.append(pdf_bytes(make_pages(material))))
    sheets = len(pypdf.PdfReader(BytesIO(made[0])).pages)
    return f"report of {sheets} sheets with 30 stills: {whole / bare:.1f} × decoding them (aim 10)"


def _film(library: Library, folder: Path) -> str:
    pages = [{"kind": "film", "diagram": "beside", "shots": _places()[:5]}]
    material = _material(library, pages)
    film = teaching_film(material, (material.report.pages or ())[0], "Bench")
    path = folder / "film.mp4"
    write_teaching_film(film, path)  # what is made once is made
    whole = _seconds(lambda: write_teaching_film(film, path))
    bare = _seconds(lambda: _bare(film, folder / "bare.mp4"))
    return f"teaching film of {sum(film.counts)} pictures: {bare / whole:.2f} of the bare speed (aim 0.5)"


def _bare(film: TeachingFilm, path: Path) -> None:
    """The same pictures in a plain loop: decoded in order, lines drawn where the film stops, encoded."""
    width, height = film.size
    with av.open(str(path), "w") as made:
        stream = made.add_stream("libx264", rate=film.rate, options={"crf": QUALITY, "preset": PRESET})
        stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p"
        for segment, count in zip(film.segments, film.counts, strict=True):
            picture = film.painter.ground.copy()
            if not isinstance(segment.scene, Scene):
                _encode(made, stream, picture, count)
                continue
            shot, box = segment.scene.shots[0], film.painter.frame.film
            with av.open(str(shot.index.path)) as source:
                pictures = source.streams.video[0]
                source.seek(int(segment.from_s[0] / pictures.time_base), stream=pictures)
                shown = 0
                for frame in source.decode(pictures):
                    if frame.time < segment.from_s[0] - 1e-6:
                        continue
                    picture[box.rows, box.columns] = frame.to_ndarray(format="bgr24")
                    if segment.kind != "run":
                        if shot.meant is not None:
                            put_drawing(picture, shot.meant, box, PAPER.__getitem__, soft_share)
                        _encode(made, stream, picture, count)
                        break
                    _encode(made, stream, picture, 1)
                    shown += 1
                    if shown == count:
                        break
        made.mux(stream.encode())


def _encode(made: Any, stream: Any, picture: Any, count: int) -> None:
    for _ in range(count):
        made.mux(stream.encode(av.VideoFrame.from_ndarray(picture, format="bgr24")))


def _seconds(act: Callable[[], object]) -> float:
    start = time.perf_counter()
    act()
    return time.perf_counter() - start
