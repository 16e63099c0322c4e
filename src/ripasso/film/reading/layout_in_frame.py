"""The balls that lie on the table in one picture of a film, without the shots about it."""

from __future__ import annotations

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.calibration.camera import Camera
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.errors import NoTable
from ripasso.film.reading.reader import FilmReading

#: From so long before it on the film is read: whoever stands there hides balls that were seen before. And so
#: long after it balls are looked for where there were none, seconds.
BEFORE_S, AFTER_S = 10.0, 4.0
NO_BALLS = (
    "No balls were found in this picture: go to one where they lie still and nobody stands before them."
)


def layout_in_frame(
    index: FilmIndex, number: int, game: str, spec: TableSpec, camera: Camera | None
) -> dict[str, Place]:
    """The balls (metres) that lie in frame `number`, seen as `camera` shows it there (None: it is found).

    A picture in which balls run gives the layout before they ran. Raises `NoTable` for no table and for no
    balls, `FilmError` for a film that cannot be decoded.
    """
    time_s = index.time_s(number)
    known_s = time_s if camera is not None else None
    reading = FilmReading(index, game, spec, camera, start_s=max(0.0, time_s - BEFORE_S), camera_s=known_s)
    try:
        last = min(len(index) - 1, index.number_at(time_s + AFTER_S))
        reading.read_up_to(number)
        while not reading.lying() and number < last:
            number += 1
            reading.read_up_to(number)
        found = reading.lying()
    finally:
        reading.close()
    if not found.keys() - {"cue"}:
        raise NoTable(NO_BALLS)
    return found
