"""Writes a report, by the ending of its name: PDF, HTML, or a folder's worth of tables and film files.

Files are written beside their place and renamed: half a file never stays.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from pathlib import Path

from ripasso.film.encoding.film_writer import Cancelled, Progress
from ripasso.report.blocks import Beside, Block, Pages, Picture
from ripasso.report.file_names import file_part
from ripasso.report.films_out import (
    captions_text,
    chapters_text,
    edit_list_csv,
    edit_list_edl,
    films_of,
    scenes_of,
    webvtt_text,
)
from ripasso.report.greying import grey_text
from ripasso.report.html import html_text
from ripasso.report.making import make_pages
from ripasso.report.material import Material
from ripasso.report.pdf import pdf_bytes
from ripasso.report.tables_out import figures_csv, shots_csv
from ripasso.report.teaching.film import teaching_film, write_teaching_film
from ripasso.report.teaching.timeline import cues_of
from ripasso.review.record.report import ReportPage

#: The ending of a file to what a person chooses.
ENDINGS: Mapping[str, str] = {
    ".pdf": "PDF document (*.pdf)",
    ".html": "Web page, one file (*.html)",
    ".csv": "Tables of shots and figures (*.csv)",
    ".svg": "Drawings and charts, a file each (*.svg)",
    ".mp4": "Teaching film, with its captions (*.mp4)",
    ".vtt": "Captions, chapters and edit lists of films (*.vtt)",
}


class UnknownEnding(ValueError):
    """The name says no kind of file that a report can be; the message is one sentence."""


def write_report(material: Material, path: Path, progress: Progress | None = None) -> Written:
    """Write a report, and say what was written.

    Raises `UnknownEnding`, `FilmError` for a film that cannot be made, OSError, or `Cancelled` once
    `progress` was stopped, and leaves nothing.
    """
    progress = progress or Progress()
    ending = path.suffix.lower()
    if ending not in ENDINGS:
        named = ", ".join(ENDINGS)
        raise UnknownEnding(f"A report ends with one of {named}; {path.name} does not.")
    if ending == ".csv":
        return Written(_write_all(path, _tables(material, path)))
    if ending == ".vtt":
        return Written(_write_all(path, _films(material, path)))
    if ending == ".mp4":
        return Written(_teaching_films(material, path, progress))
    pages = make_pages(material, lambda: not progress.stop.is_set())
    if progress.stop.is_set():
        raise Cancelled
    if ending == ".svg":
        return Written(_write_all(path, _drawings(pages, path)), pages)
    data = pdf_bytes(pages) if ending == ".pdf" else html_text(pages).encode()
    return Written(_write_all(path, {path.name: data}), pages)


class Written:
    """The files that were written, and the pages where they were made."""

    def __init__(self, files: tuple[Path, ...], pages: Pages | None = None) -> None:
        self.files, self.pages = files, pages

    @property
    def words(self) -> str:
        """One sentence."""
        if not self.files:
            return "Nothing was written."
        if len(self.files) == 1:
            return f"Written to {self.files[0]}."
        names = ", ".join(file.name for file in self.files)
        return f"{len(self.files)} files were written to {self.files[0].parent}: {names}."


def _drawings(pages: Pages, path: Path) -> dict[str, bytes]:
    """Every drawing and chart of the pages under the name of its page."""
    made: dict[str, bytes] = {}
    for page in pages.pages:
        found = [svg for block in page.blocks for svg in _svgs(block)]
        for number, svg in enumerate(found, start=1):
            text = grey_text(svg) if pages.grey else svg
            made[f"{path.stem}-{page.anchor}-{number}.svg"] = text.encode()
    return made


def _svgs(block: Block) -> Iterator[str]:
    if isinstance(block, Picture):
        yield block.svg
    elif isinstance(block, Beside):
        yield from (*_svgs(block.left), *_svgs(block.right))


def _tables(material: Material, path: Path) -> dict[str, bytes]:
    made = {path.name: shots_csv(material)}
    for title, text in figures_csv(material).items():
        made[f"{path.stem}-{file_part(title, 'page')}.csv"] = text
    # A byte order mark: table programs take the file for UTF-8.
    return {name: text.encode("utf-8-sig") for name, text in made.items()}


def _films(material: Material, path: Path) -> dict[str, bytes]:
    """For each film of the report's sessions: captions, chapters, an edit list; all shots as one table."""
    made: dict[str, str] = {}
    sessions = material.report.sessions
    for key in material.everything.heads if sessions is None else sessions:
        snapshot = material.snapshot(key)
        scenes = scenes_of(snapshot) if snapshot is not None else []
        if snapshot is None or not scenes:
            continue
        base = f"{path.stem}-{file_part(snapshot.head.title, 'page')}"
        made[f"{base}-edit-list.csv"] = edit_list_csv(snapshot, scenes)
        for film in films_of(scenes):
            own = [scene for scene in scenes if scene.recording == film]
            name = f"{base}-{file_part(film, 'page')}"
            made[f"{name}-captions.vtt"] = captions_text(own)
            made[f"{name}-chapters.vtt"] = chapters_text(own)
            made[f"{name}.edl"] = edit_list_edl(snapshot, scenes, film)
    return {name: material.plain(text).encode() for name, text in made.items()}


def _teaching_films(material: Material, path: Path, progress: Progress) -> tuple[Path, ...]:
    """Each film page as a film of its own, with its captions beside it; without one, the key shots'."""
    pages = [page for page in material.report.pages or () if page.kind == "film"] or [ReportPage(kind="film")]
    written: list[Path] = []
    try:
        for number, page in enumerate(pages, start=1):
            place = path if len(pages) == 1 else path.with_stem(f"{path.stem}-{number}")
            film = teaching_film(material, page, material.plain(page.title or material.report.title))
            write_teaching_film(film, place, progress)
            written.append(place)
            captions = webvtt_text(cues_of(film.segments))
            written += _write_all(place, {f"{place.stem}.vtt": captions.encode()})
    except BaseException:
        for file in written:
            file.unlink(missing_ok=True)
        raise
    return tuple(written)


def _write_all(path: Path, made: Mapping[str, bytes]) -> tuple[Path, ...]:
    """Write files beside one another: all of them, or none."""
    folder = path.parent
    waiting = {folder / name: folder / f".{name}.part" for name in made}
    try:
        for (place, part), data in zip(waiting.items(), made.values(), strict=True):
            assert place.name
            part.write_bytes(data)
        for place, part in waiting.items():
            part.replace(place)
    except OSError:
        for part in waiting.values():
            part.unlink(missing_ok=True)
        raise
    return tuple(waiting)
