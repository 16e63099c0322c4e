"""The table of a session as it is edited: size, pockets, balls, cloth, cushions, and the level of play."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.json_data import JsonMapping
from ripasso.core.table import PRESETS, TableSpec, table_spec
from ripasso.core.table.presets import DEFAULT_PRESET, INCH
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, Path, set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Session
from ripasso.review.record.parts import Level

NUMBERS = ("length", "width", "ball_radius", "corner_mouth", "side_mouth")
#: What a real table can be, metres: a number outside is a slip of the finger.
RANGES: Mapping[str, tuple[float, float]] = {
    "length": (1.2, 4.0),
    "width": (0.6, 2.2),
    "ball_radius": (0.020, 0.035),
    "corner_mouth": (0.070, 0.150),
    "side_mouth": (0.070, 0.160),
}
#: Where the numbers of a preset come from, said beside them.
SOURCES: Mapping[str, str] = {
    "pool_9ft": "World Pool Association: bed 100 × 50 in, mouths 4.5–4.625 and 5–5.125 in (from memory)",
    "pool_8ft": "World Pool Association: bed 88 × 44 in (from memory)",
    "pool_7ft": "Common practice, no source: bed 78 × 39 in",
    "snooker_12ft": "Rules of snooker: bed 3569 × 1778 mm; mouths about 3.5 and 4 in, no public source",
    "snooker_10ft": "From memory, no published source found",
    "snooker_9ft": "From memory, no published source found",
    "english_7ft": "From memory, no published source found",
}


@dataclass(frozen=True)
class TableSettings:
    """What is set of a session's table; a level is a name or an aim spread in mrad."""

    preset: str
    spec: TableSpec
    cloth: str | None = None
    cushions: str | None = None
    level: str | float = "club"


def settings_of(session: Session) -> TableSettings:
    """The settings of a session as they stand."""
    preset = str((session.table or {}).get("preset", DEFAULT_PRESET))
    state, level = session.table_state, session.level
    return TableSettings(
        preset if preset in PRESETS else DEFAULT_PRESET,
        table_spec(session.table),
        state.cloth if state else None,
        state.cushions if state else None,
        float(level.aim_spread_mrad) if isinstance(level, Level) else (level or "club"),
    )


def table_feel(head: Session) -> tuple[str, str]:
    """The words of a session's cloth and cushions; the medium ones where nothing is said."""
    state = head.table_state
    return (state and state.cloth) or "medium", (state and state.cushions) or "medium"


def set_table(snapshot: Snapshot, wanted: TableSettings) -> Command:
    """Change the table of a session; only what differs from the preset is written as an override."""
    preset = PRESETS[wanted.preset]
    values: dict[Path, object] = {("table", "preset"): wanted.preset}
    for name in NUMBERS:
        value = getattr(wanted.spec, name)
        same = abs(value - getattr(preset, name)) < 5e-6
        stored = name in (snapshot.head.table or {})
        if not same:
            values["table", name] = round(value, 6)
        elif stored:
            values["table", name] = REMOVE
    for name in ("cloth", "cushions"):
        said = getattr(wanted, name)
        if said is not None:
            values["table_state", name] = said
        elif snapshot.head.table_state is not None:
            values["table_state", name] = REMOVE
    level = wanted.level
    values["level",] = {"aim_spread_mrad": level} if isinstance(level, float) else level
    return set_values(snapshot, "session", snapshot.key, values, "Change the table")


def mouth_words(metres: float) -> str:
    """A pocket's mouth in inches, as the trade says it: to an eighth."""
    eighths = round(metres / INCH * 8)
    whole, rest = divmod(eighths, 8)
    parts = {0: "", 1: " 1/8", 2: " 1/4", 3: " 3/8", 4: " 1/2", 5: " 5/8", 6: " 3/4", 7: " 7/8"}
    near = abs(metres / INCH - eighths / 8) < 0.005
    return f"{'' if near else 'about '}{whole}{parts[rest]} in"


#: What is said of a table's state, in words.
CONDITIONS: Mapping[str, str] = {"cloth": "cloth", "cushions": "cushions"}


def table_words(table: JsonMapping | None, state: JsonMapping | None = None) -> str:
    """What makes a table easy or hard, in words: length, corner mouths, its state, what was played with."""
    spec, state = table_spec(table), state or {}
    parts = [f"{100 * spec.length:.0f} cm", f"corner mouths {1000 * spec.corner_mouth:.0f} mm"]
    parts += [
        f"{state[name]} {words}" for name, words in CONDITIONS.items() if isinstance(state.get(name), str)
    ]
    equipment = state.get("own_equipment")
    if equipment:
        parts.append(equipment if isinstance(equipment, str) else "own equipment")
    return ", ".join(parts)
