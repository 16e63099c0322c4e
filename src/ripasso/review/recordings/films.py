"""The films of a session: several parts of a match, several cameras; what time one shows when another does.

A film that was set against another (`same_time`) shows the same moment at another time of its own.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ripasso.core.json_data import JsonObject
from ripasso.review.document.command import Command
from ripasso.review.document.edits import RefusedEdit, edit, set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Recording, Session, serialize
from ripasso.review.recordings.views import recording_of


@dataclass(frozen=True)
class FilmLine:
    """A film in a list: how many shots are marked in it, how many views of its camera are known.

    `runs_with` is the id of the film that it shows the same moments as, `offset_s` is how much later its own
    time is; both None for a film by itself.
    """

    id: str
    file: str
    duration_s: float | None
    shots: int
    views: int
    runs_with: str | None
    offset_s: float | None


def film_lines(snapshot: Snapshot) -> list[FilmLine]:
    """The films of a session in their order."""
    marked: dict[str, int] = {}
    for row in snapshot.shots:
        if row.record.recording is not None:
            marked[row.record.recording] = marked.get(row.record.recording, 0) + 1
    return [
        FilmLine(
            one.id,
            one.file,
            float(one.duration) if one.duration is not None else None,
            marked.get(one.id, 0),
            len(one.views or ()),
            one.same_time.recording if one.same_time else None,
            float(one.same_time.offset) if one.same_time else None,
        )
        for one in snapshot.head.recordings or ()
        if one.file
    ]


def time_in(session: Session, time_s: float, of: str | None, film: str | None) -> float | None:
    """What time `film` shows at a time of the film `of`; None where the two do not run together."""
    if of == film:
        return time_s
    here, there = recording_of(session, film), recording_of(session, of)
    if here is not None and here.same_time is not None and here.same_time.recording == of:
        return time_s + float(here.same_time.offset)
    if there is not None and there.same_time is not None:
        main = time_s - float(there.same_time.offset)
        if there.same_time.recording == film:
            return main
        if here is not None and here.same_time is not None:
            beside = here.same_time.recording == there.same_time.recording
            return main + float(here.same_time.offset) if beside else None
    return None


@edit
def add_film(snapshot: Snapshot, film: Recording) -> Command:
    """One more film of the session, under an id of its own. Raises `RefusedEdit` for one that is there."""
    recordings = snapshot.head.recordings or ()
    if any(one.file == film.file for one in recordings):
        raise RefusedEdit("This film belongs to the session already.")
    taken, number = {one.id for one in recordings}, 2
    name = film.id
    while name in taken:
        name, number = f"{film.id}-{number}", number + 1
    return _with_films(snapshot, lambda listed: [*listed, {**serialize(film), "id": name}], "Add a film")


@edit
def remove_film(snapshot: Snapshot, film: str) -> Command:
    """Take a film out of the session. Raises `RefusedEdit` while shots are marked in it."""
    line = next((one for one in film_lines(snapshot) if one.id == film), None)
    if line is not None and line.shots:
        raise RefusedEdit(f"{line.shots} shots are marked in this film; it stays.")

    def change(listed: list[JsonObject]) -> list[JsonObject]:
        left = [one for one in listed if one["id"] != film]
        for one in left:
            if (one.get("same_time") or {}).get("recording") == film:
                del one["same_time"]
        return left

    return _with_films(snapshot, change, "Take a film away")


@edit
def set_same_time(snapshot: Snapshot, film: str, time_s: float, other: str, other_s: float) -> Command:
    """A film shows at `time_s` what another one shows at `other_s`. Raises `RefusedEdit`."""
    there = recording_of(snapshot.head, other)
    if there is None or film == other:
        raise RefusedEdit("Two films are needed that show the same moment.")
    if there.same_time is not None:
        # All cameras run with the one film in which shots are marked.
        other, other_s = there.same_time.recording, other_s - float(there.same_time.offset)
    if film == other:
        raise RefusedEdit("The other film was set against this one; show the other, and set that.")
    offset = round(time_s - other_s, 4)

    def change(listed: list[JsonObject]) -> list[JsonObject]:
        return [
            {**one, "same_time": {"recording": other, "offset": offset}} if one["id"] == film else one
            for one in listed
        ]

    return _with_films(snapshot, change, "Set two films at the same moment")


def _with_films(
    snapshot: Snapshot, change: Callable[[list[JsonObject]], list[JsonObject]], label: str
) -> Command:
    listed = change([serialize(one) for one in snapshot.head.recordings or ()])
    return set_values(snapshot, "session", snapshot.key, {("recordings",): listed}, label)
