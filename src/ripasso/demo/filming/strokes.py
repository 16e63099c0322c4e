"""The strokes of the demo film: found by trying many, written down so that the rack is the same each time.

`findings` is what an analyst would say of the shot: the demo library shows the rack with it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.demo.filming.motion import StrokeScript

Findings = JsonMapping
_AGREE = {"verdict": "agree", "by": "analyst"}


@dataclass(frozen=True)
class ScriptedShot:
    """One stroke: who, how, and what an analyst says of it. `cue_placed`: ball in hand goes there first."""

    player: str
    stroke: StrokeScript
    findings: Findings = field(default_factory=dict)
    cue_placed: tuple[float, float] | None = None


def _pot(ball: str, pocket: str, **said: Any) -> JsonObject:
    return {"intent": "pot", "call": {"ball": ball, "pocket": pocket}, **said}


RACK: tuple[ScriptedShot, ...] = (
    ScriptedShot(
        "lioba",
        StrokeScript(-6.119977180705888, 9.006041747819769, 0.2),
        {"intent": "break"},
    ),
    ScriptedShot(
        "lioba",
        StrokeScript(-123.916, 2.151, -0.6),
        _pot("1", "side_right", result={"position": "good"}, decision=_AGREE),
    ),
    ScriptedShot(
        "lioba",
        StrokeScript(-37.359, 1.41, 0.02),
        _pot(
            "2",
            "foot_right",
            result={"position": "playable", "pace": "long"},
            decision=_AGREE,
        ),
    ),
    ScriptedShot(
        "lioba",
        StrokeScript(115.388, 2.274, -0.2),
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
        StrokeScript(179.157, 2.325, -0.05),
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
        StrokeScript(47.738, 1.302, 0.79),
        {"intent": "safety", "call": {"ball": "4"}, "decision": _AGREE},
    ),
    ScriptedShot(
        "lioba",
        StrokeScript(19.66, 1.083, 0.05),
        {
            "intent": "escape",
            "error": {"kind": "foul", "unforced": False},
            "note": "Behind the 5: nothing of the 4 could be seen.",
        },
    ),
    ScriptedShot(
        "casimir",
        StrokeScript(67.347, 2.352, -0.55),
        _pot("4", "foot_left", result={"position": "good"}, decision=_AGREE),
        cue_placed=(2.245, 0.197),
    ),
    ScriptedShot(
        "casimir",
        StrokeScript(-58.148, 1.624, 0.05),
        _pot(
            "5",
            "foot_right",
            result={"position": "lost", "pace": "long", "angle": "too_steep"},
            error={"kind": "position", "unforced": True, "causes": ["pace"]},
            decision={"verdict": "prefer_other", "by": "analyst", "reason": "Stun keeps the 6 short."},
        ),
    ),
    ScriptedShot(
        "casimir",
        StrokeScript(119.534, 2.795, 0.09),
        _pot(
            "6",
            "head_left",
            result={"contact": "thin"},
            error={"kind": "pot", "unforced": True, "causes": ["contact_thin"], "cause_shot": 9},
            note="A left cut, thin again; the shot before made it long.",
        ),
    ),
    ScriptedShot(
        "lioba",
        StrokeScript(117.7, 2.423, 0.77),
        _pot("6", "head_left", result={"position": "playable", "pace": "long"}, decision=_AGREE),
    ),
    ScriptedShot(
        "lioba",
        StrokeScript(49.527, 2.179, -0.47),
        _pot("9", "foot_left", decision=_AGREE),
    ),
)
