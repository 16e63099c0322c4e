"""The people and places of the demo. All invented; any likeness is chance."""

from __future__ import annotations

LIOBA = {"id": "lioba", "name": "Lioba Trevan", "handed": "right"}
CASIMIR = {"id": "casimir", "name": "Casimir Odel", "handed": "left"}
VENUE = "Lantern Room, Port Hesper"

FILM_ID = "demo-rack-on-film"
FILM_TITLE = "Rack on film, winter ladder"
FILM_DATE = "2026-11-14"
FILM_FILE = "rack.mp4"
TRUTH_FILE = "rack.truth.json"

MATCH_ID = "demo-winter-ladder"
MATCH_TITLE = "Round three, winter ladder"
MATCH_DATE = "2026-11-07"
MATCH_NOTE = "Tagged at the table without film."
PRACTICE_ID = "demo-practice"
#: The sessions of the demo, named here so that a filled library is known without reading them.
SESSION_IDS = (
    *("demo-eight", "demo-ten", "demo-straight", "demo-rotation", "demo-snooker", "demo-ghost"),
    *("demo-winter-ladder", PRACTICE_ID, FILM_ID),
)
