"""The page of a teaching film on paper: its scenes as pictures, when each begins, what is said."""

from __future__ import annotations

from collections.abc import Iterator

import cv2

from ripasso.drawing.raster import Pixels
from ripasso.film.errors import FilmError
from ripasso.report.blocks import Beside, Block, Heading, Paragraph, Still
from ripasso.report.material import Material
from ripasso.report.stills import MOST_WIDTH_PX, QUALITY
from ripasso.report.teaching.film import TeachingFilm, still_of, teaching_film
from ripasso.report.teaching.scenes import MissingScene, Scene
from ripasso.report.teaching.timeline import Segment, length_s, starts_of
from ripasso.review.language.vocabulary import count
from ripasso.review.record.report import ReportPage


def film_blocks(material: Material, page: ReportPage) -> Iterator[Block]:
    """The scenes of a film as it is written (MP4): every picture is the one that the film stops at."""
    try:
        film = teaching_film(material, page, page.title or material.plain(material.report.title))
    except FilmError as error:
        yield Paragraph(str(error), "missing")
        return
    scenes = [segment for segment in film.segments if segment.kind in ("meant", "came")]
    shown = len({id(segment.scene) for segment in film.segments if isinstance(segment.scene, Scene)})
    width, height = film.size
    told = f"{count(shown, 'scene')}, {clock(length_s(film.segments))}, {width} × {height} pixels."
    yield Paragraph(told, "quiet")
    starts = dict(zip(map(id, film.segments), starts_of(film.segments), strict=True))
    for segment in film.segments:
        if isinstance(segment.scene, MissingScene):
            yield Heading(segment.title)
            yield Paragraph(segment.words, "missing")
        elif segment.kind == "meant" or (segment.kind == "came" and not _stops_before(segment, scenes)):
            assert segment.scene is not None
            yield Heading(f"{clock(starts[id(segment)])} {segment.scene.title}")
            after = next((one for one in scenes if one.scene is segment.scene and one.kind == "came"), None)
            before = _still(film, segment)
            yield Beside(before, _still(film, after)) if after not in (None, segment) else before


def _stops_before(segment: Segment, stops: list[Segment]) -> bool:
    return any(one.scene is segment.scene and one.kind == "meant" for one in stops)


def _still(film: TeachingFilm, segment: Segment | None) -> Block:
    assert segment is not None
    try:
        pixels = still_of(film, segment)
    except FilmError as error:
        return Paragraph(str(error), "missing")
    words = "before the stroke" if segment.kind == "meant" else "what came"
    return Still(_jpeg(pixels), film.size, "", words, words)


def _jpeg(pixels: Pixels) -> bytes:
    share = min(1.0, MOST_WIDTH_PX / pixels.shape[1])
    smaller = cv2.resize(pixels, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
    _done, data = cv2.imencode(".jpg", smaller, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    return bytes(data.tobytes())


def clock(seconds: float) -> str:
    """A time of a film, minutes and seconds."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"
