"""The command `ripasso read`: a recording in, a session of proposals out, and how right it is."""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table.known_points import exactness_m
from ripasso.film import FilmError, build_index, fingerprint
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.camera_fit import fit_view
from ripasso.film.calibration.views import known_points, stated_camera, view_table
from ripasso.film.errors import ViewError
from ripasso.film.reading.accuracy import compared
from ripasso.film.reading.detection.stretches import Stretch
from ripasso.film.reading.reader import FilmReading, Told
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import FORMAT, VERSION, Session, serialize
from ripasso.review.recordings.film_parts import propose_stretches
from ripasso.review.recordings.proposed_shots import take_in_shots

RECORDING = "film"
GAMES = ("snooker", "eight_ball", "nine_ball", "ten_ball", "straight_pool", "rotation")


class CannotRead(ValueError):
    """The recording or its view cannot be used; the message is one sentence."""


@dataclass(frozen=True)
class ReadFilm:
    """The session, the shots as they were read, a sentence when the film ended early or shows none."""

    session: Session
    shots: tuple[Told, ...]
    notice: str | None


def read_film(path: Path, view: JsonMapping | None, game: str | None) -> ReadFilm:
    """Read a recording; `view` as `locate` reads it, it may name the game. Raises `CannotRead`."""
    view = view or {}
    game = game or view.get("game")
    if game is None:
        raise CannotRead(f"Which game? --game names one of {', '.join(GAMES)}.")
    if game not in GAMES:
        raise CannotRead(f"There is no game {game}; known are {', '.join(GAMES)}.")
    table = view.get("table") or {"preset": "snooker_12ft" if game == "snooker" else "pool_9ft"}
    try:
        spec = view_table({"table": table})
        index = build_index(path)
        camera = _camera(view, (index.width, index.height))
        reading = FilmReading(index, game, spec, camera, RECORDING)
        try:
            reading.run(on_progress=_show_progress)
        finally:
            reading.close()
        _end_progress()
        print_of_film = fingerprint(path, index.duration_s)
    except (FilmError, ViewError) as error:
        raise CannotRead(str(error)) from error
    shots = tuple(reading.shots())
    recording = {
        "id": RECORDING,
        "file": str(path),
        "fingerprint": print_of_film,
        "duration": round(index.duration_s, 3),
        "frame_rate": round(index.frame_rate, 4),
        "views": reading.stated_views(),
    }
    head = {
        "format": FORMAT,
        "version": VERSION,
        "id": f"read-{path.stem}",
        "title": f"Read from {path.name}",
        "kind": "practice",
        "game": game,
        "table": dict(table),
        "players": [{"id": "a", "name": "Player A"}, {"id": "b", "name": "Player B"}],
        "recordings": [recording],
    }
    session = _with_shots(Session.model_validate_json(json.dumps(head)), shots, reading.stretches())
    return ReadFilm(session, shots, reading.notice)


def _with_shots(session: Session, shots: tuple[Told, ...], stretches: Sequence[Stretch]) -> Session:
    empty = Snapshot(session.id, {}).applied(add_session(session).changes)
    assert empty is not None
    command = take_in_shots(empty, RECORDING, [(shot.rack, shot.values) for shot in shots])
    read = empty.applied(command.changes) or empty
    if not stretches:
        return read.session
    return (read.applied(propose_stretches(read, RECORDING, stretches).changes) or read).session


def _camera(view: JsonMapping, size: tuple[int, int]) -> Camera | None:
    known = stated_camera(view)
    if known is not None or view.get("points") is None:
        return known
    places, pixels = known_points(view)
    return fit_view(places, pixels, size, exactness_m(view_table(view), places)).camera


def _show_progress(share: float) -> None:
    if sys.stderr.isatty():
        sys.stderr.write(f"\rread {100 * share:5.1f} %")


def _end_progress() -> None:
    if sys.stderr.isatty():
        sys.stderr.write("\n")


def session_text(found: ReadFilm) -> str:
    """The session as a file."""
    return json.dumps(serialize(found.session), ensure_ascii=False, indent=1)


def check_truth(truth: JsonMapping, name: str) -> None:
    """Raises `CannotRead` for what is not the truth of a recording, before the recording is read."""
    try:
        compared([_as_read(shot) for shot in truth["shots"]], truth)
    except (LookupError, TypeError, ValueError, AttributeError, ArithmeticError) as error:
        raise CannotRead(f"{name} does not hold the truth of a recording.") from error


def _as_read(true: JsonMapping) -> JsonObject:
    """A true shot as if it had been read without a fault."""
    facts = {"first_contact": true["first_contact"], "potted": [], "cue_potted": False}
    layouts = {"before": true["before"], "after": true["after"]}
    return {"t_strike": true["t_strike"], "t_rest": true["t_all_at_rest"], **layouts, "facts": facts}


def accuracy_of(found: ReadFilm, truth: JsonMapping) -> JsonObject:
    """The figures beside the truth, and what was wrong though stated as sure."""
    result = compared([shot.values for shot in found.shots], truth)
    return {"format": "ripasso-reading", "version": 1, **result.as_data(), "wrong": result.wrong}


def lines_of(found: ReadFilm) -> list[str]:
    """One line a shot, for a reader."""
    lines = []
    for number, shot in enumerate(found.shots, start=1):
        facts = shot.values["facts"]
        fell = ", ".join(f"{p['ball']} {p['pocket'].replace('_', ' ')}" for p in facts["potted"])
        fell = ", ".join(part for part in (fell, "cue ball" if facts["cue_potted"] else "") if part)
        least = min(shot.values["proposed"].values())
        times = f"{shot.values['t_strike']:8.2f}–{shot.values['t_rest']:.2f} s"
        first = facts.get("first_contact", "?") or "nothing"
        lines.append(
            f"{number:>3} {times}  first {first}, {'potted ' + fell if fell else 'nothing potted'}"
            f"  (least sure {least:.2f})"
        )
    return lines
