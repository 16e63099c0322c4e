"""Attempts at two shots of the demo, as counted on a practice evening: invented, always the same."""

from __future__ import annotations

import json

from ripasso.core.json_data import JsonObject
from ripasso.review.record.model import Session
from ripasso.review.record.practice import AttemptSet

#: Successes (1) and failures (0) in the order played, and what was changed before which attempt.
STOP_ON_THE_5 = "0010011011110111"
CROSS_TABLE = "000100010010"
CHANGES = {
    "stop": {4: ("pace", "softer"), 9: ("height", "a tip lower")},
    "cross": {5: ("side", "half a tip of check side"), 9: ("aim", "fuller")},
}


def _attempts(outcomes: str, changes: dict[int, tuple[str, str]]) -> list[JsonObject]:
    made = []
    for number, outcome in enumerate(outcomes, start=1):
        attempt: JsonObject = {"number": number, "outcome": "success" if outcome == "1" else "failure"}
        if number in changes:
            what, by = changes[number]
            attempt["changed"] = [{"what": what, "by": by, "unit": "text"}]
        made.append(attempt)
    return made


def with_attempts(session: Session) -> Session:
    """The session with what was played again on the same evening."""
    sets = (
        {
            "id": "stop",
            "title": "Stop short of the centre line on the 5",
            "layout": {"cue": [1.1, 0.4], "5": [1.7, 0.7], "6": [1.9, 1.2]},
            "target": {"ball": "5", "pocket": "foot_right"},
            "attempts": _attempts(STOP_ON_THE_5, CHANGES["stop"]),
        },
        {
            "id": "cross",
            "title": "Two cushions across to the 7",
            "layout": {"cue": [0.6, 0.3], "4": [1.2, 0.9], "7": [2.2, 0.3]},
            "target": {"ball": "4", "pocket": "side_left"},
            "attempts": _attempts(CROSS_TABLE, CHANGES["cross"]),
        },
    )
    made = tuple(AttemptSet.model_validate_json(json.dumps(one)) for one in sets)
    return session.model_copy(update={"attempt_sets": made})
