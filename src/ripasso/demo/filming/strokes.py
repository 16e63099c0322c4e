"""The strokes of the demo film: found by trying many, written down so that the rack is the same each time.

`findings` is what an analyst would say of the shot: the demo library shows the rack with it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.physics.strokes import Stroke

Findings = JsonMapping
_AGREE = {"verdict": "agree", "by": "analyst"}


@dataclass(frozen=True)
class ScriptedShot:
    """One stroke: who, how, and what an analyst says of it. `cue_placed`: ball in hand goes there first."""

    player: str
    stroke: Stroke
    findings: Findings = field(default_factory=dict)
    cue_placed: tuple[float, float] | None = None


#: Which ball lies where the usual rack has which: the 1 in front, the 9 in the middle, the rest as they came.
RACKED: Mapping[str, str] = {
    "1": "1",
    "2": "3",
    "3": "8",
    "4": "7",
    "9": "9",
    "5": "4",
    "6": "2",
    "7": "5",
    "8": "6",
}


def _pot(ball: str, pocket: str, **said: Any) -> JsonObject:
    return {"intent": "pot", "call": {"ball": ball, "pocket": pocket}, **said}


RACK: tuple[ScriptedShot, ...] = (
    ScriptedShot(
        "lioba",
        Stroke(-0.10678030884417604, 8.361293879079774, 0.0, 0.033962785788192396),
        {"intent": "break"},
    ),
    ScriptedShot(
        "lioba",
        Stroke(-2.5704627297770637, 2.4, 0.0, -0.35, 0.17888760036163492),
        _pot("1", "side_right", result={"position": "good"}, decision=_AGREE),
    ),
    ScriptedShot(
        "lioba",
        Stroke(-0.6113010394186935, 2.3400000000000003, 0.3, 0.35, 0.022669591443028228),
        _pot(
            "2",
            "foot_right",
            result={"position": "playable", "pace": "long"},
            decision=_AGREE,
        ),
    ),
    ScriptedShot(
        "lioba",
        Stroke(3.0652265589243903, 3.2, -0.3, -0.35, 0.18677657142640525),
        _pot(
            "3",
            "head_left",
            result={"contact": "thick"},
            error={"kind": "pot", "unforced": True, "causes": ["contact_thick"], "cause_shot": 3},
            decision=_AGREE,
        ),
    ),
    ScriptedShot(
        "casimir",
        Stroke(2.938207790107066, 2.624, 0.0, -0.35, 0.05929501782546521),
        _pot(
            "3",
            "head_right",
            result={"position": "lost", "pace": "short"},
            error={"kind": "position", "unforced": True, "causes": ["pace"]},
            decision=_AGREE,
        ),
    ),
    ScriptedShot(
        "casimir",
        Stroke(-1.635141696121396, 1.1, 0.0, -0.3, 0.0),
        {"intent": "safety", "call": {"ball": "4"}, "decision": _AGREE},
    ),
    ScriptedShot(
        "lioba",
        Stroke(2.408960538829859, 1.1178653430481464, 0.0, 0.0, 0.0),
        {
            "intent": "escape",
            "error": {"kind": "foul", "unforced": False},
            "note": "Behind the 6: nothing of the 4 could be seen.",
        },
    ),
    ScriptedShot(
        "casimir",
        Stroke(1.5053801874791324, 1.8, 0.3, 0.0, 0.06050576942057018),
        _pot("4", "foot_left", result={"position": "good"}, decision=_AGREE),
        cue_placed=(1.62, 0.27),
    ),
    ScriptedShot(
        "casimir",
        Stroke(-1.604031365254653, 3.776, 0.0, 0.0, 0.06157963483212548),
        _pot(
            "5",
            "foot_right",
            result={"position": "playable", "pace": "long", "angle": "too_steep"},
            error={"kind": "position", "unforced": True, "causes": ["pace"]},
            decision={
                "verdict": "prefer_other",
                "by": "analyst",
                "reason": "Softer: the 6 from a metre is no cut to be feared.",
            },
        ),
    ),
    ScriptedShot(
        "casimir",
        Stroke(0.27130001234658946, 3.2, 0.0, -0.35, 0.031253013090657936),
        _pot(
            "6",
            "foot_left",
            result={"contact": "thin"},
            error={"kind": "pot", "unforced": True, "causes": ["contact_thin"], "cause_shot": 9},
            note="A left cut, thin again; the shot before made it long.",
        ),
    ),
    ScriptedShot(
        "lioba",
        Stroke(-0.20899741160976332, 1.9800000000000002, 0.0, 0.35, 0.0),
        _pot("6", "foot_right", result={"position": "playable", "pace": "long"}, decision=_AGREE),
    ),
    ScriptedShot(
        "lioba",
        Stroke(0.04209974349196047, 1.8, -0.3, -0.35, 0.0),
        _pot("9", "foot_left", decision=_AGREE),
    ),
)
