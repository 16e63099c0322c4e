"""Pictures of films for reports: the frame at a time as JPEG, with lines laid through the film's view."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path

import cv2

from ripasso.drawing.primitives import Drawing, Primitive
from ripasso.drawing.svg import svg_text
from ripasso.drawing.through import through_view
from ripasso.film.calibration.moving import camera_at
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.decoding.index_store import known_index
from ripasso.film.decoding.still import whole_frame
from ripasso.film.errors import FilmError
from ripasso.film.finding import find_film
from ripasso.report.blocks import Paragraph, Still
from ripasso.review.record.model import Recording, serialize
from ripasso.review.record.parts import Fingerprint
from ripasso.review.recordings.views import view_at
from ripasso.style.palette import PAPER, soft_share

#: Wide enough for paper: a still is at most 175 mm wide, at 190 dots an inch.
MOST_WIDTH_PX, QUALITY = 1280, 88


class Stills:
    """Finds films, in the folders given, and takes pictures of them; an index is read once."""

    def __init__(self, folders: Iterable[Path] = ()) -> None:
        self._folders = tuple(folders)
        self._indices: dict[str, FilmIndex] = {}

    def still(
        self,
        recording: Recording | None,
        time_s: float | None,
        lines: Sequence[Primitive],
        height_m: float,
        words: str,
    ) -> Still | Paragraph:
        """The frame on screen at a time with lines over it; a sentence where there is none."""
        if recording is None or time_s is None:
            return Paragraph("This shot has no film.", "quiet")
        try:
            index = self.index_of(recording)
            number = index.number_at(time_s)
            pixels = whole_frame(index, number)[:, :, :3]
        except FilmError as error:
            return Paragraph(str(error), "missing")
        size = (pixels.shape[1], pixels.shape[0])
        if size[0] > MOST_WIDTH_PX:
            share = MOST_WIDTH_PX / size[0]
            smaller = cv2.resize(pixels, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
        else:
            smaller = pixels
        _done, jpeg = cv2.imencode(".jpg", smaller, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
        caption = f"{Path(recording.file or recording.id).name}, frame {number}, {index.time_s(number):.2f} s"
        drawing = seen_by_film(recording, time_s, lines, size, height_m)
        drawn = ""
        if drawing is not None:
            drawn = svg_text(drawing, PAPER.__getitem__, soft_share, width_px=size[0], rimmed=False)
        return Still(jpeg.tobytes(), size, drawn, words, caption)

    def index_of(self, recording: Recording) -> FilmIndex:
        """The index of a recording's film; raises `FilmError` with one sentence where it is not there."""
        if recording.id not in self._indices:
            self._indices[recording.id] = known_index(self._file(recording))
        return self._indices[recording.id]

    def _file(self, recording: Recording) -> Path:
        """Where a film is: at its place, or found by its fingerprint; raises `FilmError`."""
        name = recording.file or recording.id
        path = Path(name)
        if path.is_file():
            return path
        stated = recording.fingerprint
        folders = (path.parent, *self._folders)
        found = find_film(serialize(stated), folders) if isinstance(stated, Fingerprint) else None
        if found is None:
            raise FilmError(f"The film {path.name} is not there.")
        return found


def seen_by_film(
    recording: Recording, time_s: float, lines: Sequence[Primitive], size: tuple[int, int], height_m: float
) -> Drawing | None:
    """Lines as the film sees them, in its pixels; None without a view or a line."""
    camera = camera_at(view_at(recording, time_s), time_s)
    if camera is None or not lines:
        return None
    return through_view(lines, camera.project, size, height_m)
