"""Clips of shots: as teaching film, cut exactly, or copied without encoding anew."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Literal

from ripasso.film.decoding.index import FilmIndex
from ripasso.film.encoding.copying import Stretch, copy_parts
from ripasso.film.encoding.film_writer import Progress
from ripasso.film.errors import FilmError
from ripasso.report.file_names import file_part
from ripasso.report.material import Material
from ripasso.report.teaching.film import nothing_to_show, plain_film, teaching_film, write_teaching_film
from ripasso.report.teaching.scenes import FilmedShot, Scene, scenes_of_page
from ripasso.report.teaching.timeline import RUN_IN_S, RUN_OUT_S
from ripasso.review.record.report import ReportPage

#: How a clip is made: with stops and lines; the film alone from moment to moment; copied from key frames on.
Way = Literal["teaching", "exact", "copied"]


def write_clips(
    material: Material, page: ReportPage, title: str, way: Way, path: Path, progress: Progress
) -> tuple[Path, ...]:
    """Write the shots of a film page; gives the files (one for each film where they are copied).

    Raises `FilmError`, `NotAQuery`, or `Cancelled` once it was stopped, and leaves nothing.
    """
    if way == "teaching":
        write_teaching_film(teaching_film(material, page, title), path, progress)
        return (path,)
    scenes = list(scenes_of_page(material, page))
    shots = [shot for scene in scenes if isinstance(scene, Scene) for shot in scene.shots]
    if not shots:
        raise FilmError(nothing_to_show(scenes))
    if way == "exact":
        write_teaching_film(plain_film(shots), path, progress)
        return (path,)
    return _copied(shots, path, progress)


def _copied(shots: Sequence[FilmedShot], path: Path, progress: Progress) -> tuple[Path, ...]:
    films: dict[Path, tuple[FilmIndex, list[Stretch]]] = {}
    for shot in shots:
        films.setdefault(shot.index.path, (shot.index, []))[1].append(stretch_of(shot))
    joined = [(index, joined_stretches(parts)) for index, parts in films.values()]
    progress.of = sum(
        index.number_at(end) - index.number_at(start) for index, parts in joined for start, end in parts
    )
    written: list[Path] = []
    try:
        for index, parts in joined:
            place = (
                path
                if len(films) == 1
                else path.with_stem(f"{path.stem}-{file_part(index.path.stem, 'film')}")
            )
            copy_parts(index, parts, place, progress)
            written.append(place)
    except BaseException:
        for place in written:
            place.unlink(missing_ok=True)
        raise
    return tuple(written)


def stretch_of(shot: FilmedShot) -> Stretch:
    """From a moment before the strike to one after the rest, seconds."""
    return max(0.0, shot.strike_s - RUN_IN_S), min(shot.rest_s + RUN_OUT_S, shot.index.duration_s)


def joined_stretches(parts: Sequence[Stretch]) -> list[Stretch]:
    """Stretches in their order; one that begins before the one before it ended goes on with it."""
    joined: list[Stretch] = []
    for start, end in parts:
        if joined and joined[-1][0] <= start <= joined[-1][1]:
            joined[-1] = (joined[-1][0], max(end, joined[-1][1]))
        else:
            joined.append((start, end))
    return joined
