"""Damaged session files through every command, a library and back, and onto the table."""

from __future__ import annotations

import json
import random
import shutil
from functools import cache
from pathlib import Path
from xml.etree import ElementTree

from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec, table_spec
from ripasso.drawing import TableScene
from ripasso.drawing.layers import LAYERS, draw_layers
from ripasso.drawing.shot import shot_picture
from ripasso.drawing.svg import svg_text
from ripasso.drawing.table import table_drawing
from ripasso.report.shot_drawing import said_of
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.present.describing import chips, rack_story
from ripasso.review.present.match_sheet import match_sheet
from ripasso.review.present.rack_sheet import repeated_faults
from ripasso.review.present.ribbon import ribbon_of
from ripasso.review.record.model import Session, serialize
from ripasso.store.library import open_library
from ripasso.store.session_file import SessionFileError, load_session
from tests.fuzz.mutators import mutated, mutated_text
from tests.fuzz.outcome import Fault, run, time_limit
from tests.fuzz.records import some_session

SEARCHES = ("position:lost or made:no", "player:ada -tag:final", "cut:15-30 speed:1-3")


def session_text(seed: int) -> bytes:
    """A damaged session; one in ten is in order."""
    chance = random.Random(f"session {seed}")
    data = some_session(chance)
    kind = chance.random()
    if kind < 0.1:
        return json.dumps(data).encode()
    if kind < 0.75:
        return json.dumps(mutated(data, chance)).encode()
    return mutated_text(json.dumps(data, ensure_ascii=False), chance)


def try_session(seed: int, folder: Path) -> str:
    """Put a damaged session through the program; returns "used" or "refused", raises what went wrong."""
    path = folder / f"{seed}.ripasso.json"
    path.write_bytes(session_text(seed))
    with time_limit():
        return _tried(path, folder)


def _tried(path: Path, folder: Path) -> str:
    codes = {run("check", str(path))}
    for command in (("score",), ("measure", "--json"), ("stats", "--json")):
        codes.add(run(*command, str(path)))
    codes.add(run("find", SEARCHES[len(path.name) % len(SEARCHES)], str(path)))
    try:
        session = load_session(path)
    except SessionFileError:
        if not codes <= {1, 2}:
            raise Fault(f"refused, but not by every command: {codes}") from None
        return "refused"
    _through_a_library(session, path, folder)
    _drawn(session)
    return "used"


def _through_a_library(session: Session, path: Path, folder: Path) -> None:
    """Into a library and out of it again: the copy equals the source."""
    library, copy = folder / f"{path.stem}.ripasso", folder / f"{path.stem}-copy.ripasso.json"
    shutil.copy(_empty_library(str(folder)), library)
    if run("convert", str(path), str(library)) or run("convert", str(library), str(copy)):
        raise Fault("what passes is stored")
    if _comparable(load_session(copy)) != _comparable(session):
        raise Fault("the copy differs from its source")


def _comparable(session: Session) -> JsonObject:
    """A session's values; no list of racks, shots or attempts is an empty one in the library."""
    data = serialize(session)
    racks = [{**rack, "shots": rack.get("shots") or []} for rack in data.get("racks") or []]
    return {**data, "racks": racks, "attempt_sets": data.get("attempt_sets") or []}


@cache
def _empty_library(folder: str) -> Path:
    path = Path(folder) / "empty.ripasso"
    open_library(path).close()
    return path


def _drawn(session: Session) -> None:
    """Every shot is described and drawn, each layer of it."""
    snapshot = Snapshot(session.id, {}).applied(add_session(session).changes)
    if snapshot is None:
        raise Fault("what passes is a session")
    spec, book = table_spec(session.table), MeasureCache()
    match_sheet(snapshot)
    repeated_faults(session)
    for place, rack in enumerate(snapshot.racks):
        ribbon_of(snapshot, rack)
        score = snapshot.score.racks[place] if snapshot.score else None
        rack_story(session, session.racks[place], score)
        book.rack(snapshot, rack)
        for shot in rack.shots:
            chips(shot.record)
            ElementTree.fromstring(_picture(shot, book, spec))


def _picture(shot: ShotRow, book: MeasureCache, spec: TableSpec) -> str:
    """The diagram of a shot as an SVG."""
    given, measures = book.given(shot.key), book.known(shot.key)
    if given is None or measures is None:
        raise Fault("what passes is measured")
    picture = shot_picture(spec, given, measures, "mm", said_of(shot.record, given, spec))
    layers = draw_layers(picture, LAYERS)
    before = {name: (float(x), float(y)) for name, (x, y) in (shot.record.before or {}).items()}
    scene = TableScene(spec, before, under=layers.under, over=layers.over, words=shot.record.note or "")
    return svg_text(table_drawing(scene), lambda _role: "#123456", lambda _role: 1.0)
