"""Damaged views, search lines, lines of words and settings."""

from __future__ import annotations

import json
import random
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from ripasso.core.finding import FIELDS, NotAQuery, matching, parse_query
from ripasso.core.table import table_spec
from ripasso.core.table.known_points import known_points
from ripasso.demo.matches.sessions import shipped
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.views import view_table
from ripasso.film.errors import ViewError
from ripasso.reading_command import _camera
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session, set_values
from ripasso.review.entry.rack_words import parse_rack, rack_values
from ripasso.review.entry.tagging import Context, NotUnderstood
from ripasso.review.entry.word_values import words_values
from ripasso.review.language.parsing import PHRASES, SPECIALS, NotAWord, completions, parse, understood
from ripasso.statistics.rows.search_columns import columns_of
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.ui.services.settings import SETTINGS, VERSION, Settings
from tests.fuzz.mutators import ODD_TEXTS, ODD_VALUES, mutated, mutated_text
from tests.fuzz.outcome import Fault, one_sentence, run, time_limit
from tests.sessions import MemoryStorage

SIZE = (1280, 720)
SIGNS = ('"', "(", ")", "-", ":", ",", "<", ">", "=", " ", "or", "and", "\x00", "½", "²", "٣", "\u202e", "~")


def try_line(seed: int, folder: Path) -> str:
    """One damaged line or small file; returns "used" or "refused", raises what went wrong."""
    chance = random.Random(f"line {seed}")
    kinds = (_view, _read_view, _search, _search, _words, _words, _rack_words, _settings)
    with time_limit():
        return chance.choice(kinds)(chance, folder / str(seed))


@cache
def _good_view() -> dict[str, Any]:
    eye, focus = np.array([-1.2, -1.0, 1.9]), np.array([1.2, 0.6, 0.0])
    forward = (focus - eye) / np.linalg.norm(focus - eye)
    right = np.cross(forward, (0.0, 0.0, 1.0))
    right /= np.linalg.norm(right)
    turned = np.stack((right, np.cross(forward, right), forward))
    camera = Camera(900.0, (639.5, 359.5), turned, -turned @ eye)
    places = [point.place for point in known_points(table_spec(None))]
    seen = camera.project([[*place[:2], 0.0] for place in places])
    points = [
        {"table": [*map(float, place[:2]), 0.0], "image": [float(u), float(v)]}
        for place, (u, v) in zip(places, seen, strict=True)
    ]
    table = {"preset": "pool_9ft"}
    return {
        **{"image_size": list(SIZE), "table": table, "points": points, "camera": camera.as_data()},
        **{"pixels": [[640, 300], [100, 700]], "game": "nine_ball"},
    }


def _damaged_view(chance: random.Random, path: Path) -> Path:
    view = dict(_good_view())
    if chance.random() < 0.5:
        del view["camera"]
    made = view if chance.random() < 0.1 else mutated(view, chance)
    text = json.dumps(made).encode()
    path.write_bytes(text if chance.random() < 0.8 else mutated_text(text.decode(), chance))
    return path


def _view(chance: random.Random, path: Path) -> str:
    return "refused" if run("locate", str(_damaged_view(chance, path)), "--json") else "used"


def _read_view(chance: random.Random, path: Path) -> str:
    """A view for reading; the recording is missing, so that only the view is looked at."""
    try:
        view = json.loads(_damaged_view(chance, path).read_bytes())
    except (ValueError, RecursionError):
        return "refused"
    if not isinstance(view, dict):
        return "refused"
    try:
        view_table(view)
        camera = _camera(view, SIZE)
    except ViewError as error:
        one_sentence(str(error))
        return "refused"
    if camera is not None:
        camera.places(camera.project([[0.5, 0.5, 0.0]]), 0.0)
    return "used"


def _line(chance: random.Random, words: list[str]) -> str:
    """Words and signs at random, sometimes very many of them."""
    parts = [chance.choice((words, SIGNS, words, ODD_TEXTS)) for _ in range(chance.choice((1, 3, 6, 12)))]
    line = chance.choice((" ", " ", "")).join(chance.choice(part) for part in parts)
    if chance.random() < 0.05:
        return chance.choice(("(", "-", "(-", "a or ", "not ", '"')) * chance.choice((50, 3000)) + line
    return line


@cache
def _columns() -> tuple[Any, Any]:
    return columns_of(list(shipped()[:2]))


def _search(chance: random.Random, _path: Path) -> str:
    terms = [f"{name}:" for name in FIELDS]
    terms += [f"{name}:{value}" for name in FIELDS for value in ("1-3", "<0.5", "lost", "none", "a,b")]
    shots, columns = _columns()
    try:
        wanted = matching(parse_query(_line(chance, terms), FIELDS), columns)
    except NotAQuery as error:
        one_sentence(str(error))
        return "refused"
    if len(wanted) != len(shots):
        raise Fault("a search says of each shot whether it is wanted")
    return "used"


@cache
def _document() -> list[Any]:
    found = []
    for session in shipped()[:6]:
        document = Document(MemoryStorage(), derived_rows)
        document.run(add_session(session))
        found.append(document.session(session.id))
    return found


def _words(chance: random.Random, _path: Path) -> str:
    words = [" ".join(phrase) for phrase in PHRASES]
    words += [*SPECIALS, "next 6", "tip 1/0 right", "tip 9 left", "fell cue", "hit red first", "says ada"]
    line = _line(chance, words)
    completions(line)
    understood(line)
    snapshot = chance.choice(_document())
    row = chance.choice(snapshot.shots)
    try:
        values = words_values(Context(row.record, snapshot.head.game), parse(line))
        set_values(snapshot, "shot", row.key, values, "Say it in words")
    except (NotAWord, NotUnderstood) as error:
        one_sentence(str(error))
        return "refused"
    return "used"


def _rack_words(chance: random.Random, _path: Path) -> str:
    words = [
        "trouble 6",
        "root 3",
        "making 2",
        "plan 1 3 5",
        "key 8",
        "break 7",
        "lesson x",
        "group solids",
        "5",
    ]
    snapshot = chance.choice(_document())
    try:
        rack = chance.choice(snapshot.session.racks)
        rack_values(snapshot.head, rack, parse_rack(_line(chance, words)), 1, "me")
    except (NotAWord, NotUnderstood) as error:
        one_sentence(str(error))
        return "refused"
    return "used"


def _rack_words(chance: random.Random, _path: Path) -> str:
    words = [
        "trouble 6",
        "root 3",
        "making 2",
        "plan 1 3 5",
        "key 8",
        "break 7",
        "lesson x",
        "group solids",
        "5",
    ]
    snapshot = chance.choice(_document())
    try:
        rack_values(
            snapshot.head, chance.choice(snapshot.session.racks), parse_rack(_line(chance, words)), 1, "me"
        )
    except (NotAWord, NotUnderstood) as error:
        one_sentence(str(error))
        return "refused"
    return "used"


def _settings(chance: random.Random, path: Path) -> str:
    stored = {name: setting.default for name, setting in SETTINGS.items()}
    stored[chance.choice(list(SETTINGS))] = chance.choice(ODD_VALUES)
    text = json.dumps({"version": VERSION, **mutated(stored, chance)})
    path.write_bytes(text.encode() if chance.random() < 0.5 else mutated_text(text, chance))
    settings = Settings(path)
    for name in SETTINGS:
        settings.get(name)
    settings.set("reviewer", "Somebody")
    if Settings(path).get("reviewer") != "Somebody":
        raise Fault("settings are kept whatever the file held")
    if settings.notice is not None:
        one_sentence(settings.notice)
    return "refused" if settings.notice else "used"
