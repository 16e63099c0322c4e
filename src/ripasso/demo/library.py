"""The demo library: the rack on film, fully reviewed, the long match, and a session of each game."""

from __future__ import annotations

import json
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table import table_spec
from ripasso.core.table.known_points import known_points
from ripasso.demo.film_plans import FILM_PLANS, cue_path
from ripasso.demo.filming.strokes import RACK
from ripasso.demo.matches import scenario
from ripasso.demo.matches.practice_plan import practice
from ripasso.demo.matches.sessions import shipped
from ripasso.film.calibration.camera import Camera
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.record.model import FORMAT, VERSION, Session

RECORDING = "side"
CLICKED = ("pocket", "corner")


def film_path() -> Path:
    """The demo film, as installed with the program."""
    return Path(str(files("ripasso.demo") / "data" / scenario.FILM_FILE))


def film_truth() -> JsonMapping:
    """The exact truth of the demo film."""
    text = (files("ripasso.demo") / "data" / scenario.TRUTH_FILE).read_text(encoding="utf-8")
    truth: JsonMapping = json.loads(text)
    return truth


def film_session() -> Session:
    """The rack on film with an analyst's findings; marks and facts are the truth's."""
    truth = film_truth()
    rate = truth["frame_rate"]
    cue = [_cue(changes) for changes in _places(truth)]
    shots = []
    for scripted, seen in zip(RACK, truth["shots"], strict=True):
        first, last = (round(rate * seen[mark]) for mark in ("t_strike", "t_rest"))
        path = cue_path(cue[first : last + 1], seen["t_strike"], 1 / rate)
        shots.append(_shot(scripted.player, dict(scripted.findings), seen) | {"path": {"cue": path}})
    rack = {
        "number": 1,
        "breaker": RACK[0].player,
        "shots": shots,
        "root_shot": 9,
        "lesson": "The 5 goes in softly too: then the 6 is near, and no thin cut.",
    }
    data = {
        "format": FORMAT,
        "version": VERSION,
        "id": scenario.FILM_ID,
        "title": scenario.FILM_TITLE,
        "date": scenario.FILM_DATE,
        "venue": scenario.VENUE,
        "kind": "match",
        "game": "nine_ball",
        "table": {"preset": "pool_9ft"},
        "players": [scenario.LIOBA, scenario.CASIMIR],
        "level": "club",
        "recordings": [
            {
                "id": RECORDING,
                "file": str(film_path()),
                "duration": truth["frames"] / truth["frame_rate"],
                "frame_rate": truth["frame_rate"],
                "views": [film_view()],
            }
        ],
        "racks": [rack],
    }
    return Session.model_validate_json(json.dumps(data))


def film_view() -> JsonObject:
    """The one view of the demo film: ten known points as an analyst would click them, and the true camera."""
    truth = film_truth()["camera"]
    camera = Camera.from_data(truth)
    points = [point for point in known_points(table_spec({"preset": "pool_9ft"})) if point.kind in CLICKED]
    pixels = camera.project([point.place for point in points])
    return {
        "points": [
            {"table": list(point.place), "image": [round(float(u), 1), round(float(v), 1)]}
            for point, (u, v) in zip(points, pixels, strict=True)
        ],
        "camera": camera.as_data(),
    }


def _shot(player: str, findings: JsonObject, seen: JsonMapping) -> JsonObject:
    facts: JsonObject = {
        "first_contact": seen["first_contact"],
        "potted": seen["potted"],
        "cushion_after_contact": seen["cushion_after_contact"],
    }
    if findings.get("intent") == "break":
        facts["balls_to_cushion"] = seen["balls_to_cushion"]
    return {
        "number": seen["number"],
        "player": player,
        "recording": RECORDING,
        "t_strike": seen["t_strike"],
        "t_rest": seen["t_rest"],
        **findings,
        "facts": facts,
        "before": seen["before"],
        "after": seen["after"],
        **({"plan": FILM_PLANS[seen["number"]]} if seen["number"] in FILM_PLANS else {}),
    }


def _places(truth: JsonMapping) -> Iterator[JsonObject]:
    """Where every ball was, frame by frame: the truth states what changed."""
    places: JsonObject = {}
    changes = dict(truth["places"])
    for frame in range(truth["frames"]):
        places |= changes.get(frame, {})
        yield places


def _cue(places: JsonMapping) -> tuple[float, float] | None:
    lies = places.get("cue")
    return (lies[0], lies[1]) if lies is not None else None


def fill(document: Document) -> None:
    """Put the demo's sessions into a library that has not got them."""
    missing = set(scenario.SESSION_IDS) - document.keys()
    if not missing:
        return  # reading the shipped sessions takes a moment
    for session in (*shipped(), practice(), film_session()):
        if session.id in missing:
            document.run(add_session(session))
