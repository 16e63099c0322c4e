"""From rows to columns: the facts of one session, from what is stored of its shots or was just computed.

This is the one way from record to figure: window, command line and questions read what is made here.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from ripasso.core.figures.measure_rows import measure_row
from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import (
    MEASURES,
    RECORD,
    SHOT_FIELDS,
    UNKNOWN,
    UNKNOWN_NUMBER,
    Row,
    unknown_of,
)
from ripasso.core.figures.session_columns import SessionColumns, SessionConstants
from ripasso.core.json_data import JsonMapping
from ripasso.core.measures.errors import Played, RecordedError, Seen, is_awkward, shot_errors
from ripasso.core.measures.shots import ShotMeasures
from ripasso.core.table import table_spec
from ripasso.review.record.model import Session, serialize
from ripasso.review.table.settings import table_words

Columns = dict[str, Sequence[Any]]
MeasureRow = JsonMapping
_JUDGED: Mapping[str, bool | None] = {"yes": True, "no": False, "?": None}


def constants_of(session: Session) -> SessionConstants:
    """What is the same for all shots of a session."""
    length = table_spec(session.table).length
    state = serialize(session.table_state) if session.table_state is not None else None
    return SessionConstants(
        session.id, session.date or "", session.game or "", table_words(session.table, state), length
    )


def encoded(
    rows: Sequence[Row],
    measured: Sequence[MeasureRow | None],
    constants: SessionConstants,
    racks: Sequence[RackResult] = (),
) -> SessionColumns:
    """The columns of a session from its rows, in order, and each shot's measures (None: not measured).

    `racks` is what came of its racks.
    """
    columns = _recorded(rows) | _measured(measured)
    columns |= {
        "target": [
            said or seen for said, seen in zip(columns["pocket"], columns["measured_pocket"], strict=True)
        ],
        "free": _free(columns),
        "root_back": _root_back(columns),
        "laid": _laid(columns),
        "unforced": _unforced(columns, measured),
    }
    return replace(SessionColumns.of(constants, columns), racks=tuple(racks))


def measure_rows(measured: Sequence[Sequence[ShotMeasures]]) -> list[MeasureRow]:
    """The rows of measured racks, shot by shot."""
    return [measure_row(one) for rack in measured for one in rack]


def _recorded(rows: Sequence[Row]) -> Columns:
    values = dict(zip(SHOT_FIELDS, zip(*rows, strict=True), strict=True)) if rows else {}
    columns: Columns = {}
    for column in RECORD:
        found: Sequence[Any] = values.get(column.stored, ())
        if column.kind == "number":
            found = [unknown_of("number") if value == UNKNOWN_NUMBER else value for value in found]
        columns[column.name] = found
    return columns


def _measured(rows: Sequence[MeasureRow | None]) -> Columns:
    """Measures by the names of columns; a value that is not defined is unknown."""
    columns: Columns = {}
    for column in MEASURES:
        unknown = unknown_of(column.kind)
        values = [None if row is None else row[column.stored] for row in rows]
        columns[column.name] = [unknown if value is None else value for value in values]
    return columns


def _free(columns: Columns) -> list[bool]:
    """With a geometry, and nothing in the way."""
    pairs = zip(columns["obstacle"], columns["left_mrad"], strict=True)
    return [not obstacle and left == left for obstacle, left in pairs]  # NaN is not itself


def _root_back(columns: Columns) -> list[int]:
    pairs = zip(columns["number"], columns["root"], strict=True)
    return [number - root if root >= 0 else UNKNOWN for number, root in pairs]


def _laid(columns: Columns) -> list[int]:
    """Whether the opponent was snookered on the next shot of the rack."""
    found = [UNKNOWN] * len(columns["rack"])
    for place, is_handed_over in enumerate(columns["goes_to_other"]):
        if is_handed_over and place + 1 < len(found):
            found[place] = int(columns["snookered"][place + 1])
    return found


def _unforced(columns: Columns, measured: Sequence[MeasureRow | None]) -> list[str]:
    """The kinds of unforced errors of each shot: as judged, and by chance where that was left open."""
    return [
        " ".join(error.kind for error in shot_errors(_played(columns, place, row or {})) if error.unforced)
        for place, row in enumerate(measured)
    ]


def _played(columns: Columns, place: int, measures: MeasureRow) -> Played:
    """What errors hang on, of one shot."""

    def words(name: str) -> list[str]:
        return str(columns[name][place]).split()

    recorded = [word.partition(":") for word in words("errors")]
    snookered = measures.get("snookered")
    return Played(
        number=columns["number"][place],
        visit=None,
        intent=columns["intent"][place],
        made=columns["made"][place],
        failed=columns["failed"][place],
        fouled=columns["fouled"][place],
        awkward=is_awkward(words("delivery"), words("methods"), words("causes")),
        judged_lost=columns["position"][place] == "lost",
        leaves_to_other=columns["goes_to_other"][place],
        mistake=columns["verdict"][place] == "mistake",
        recorded=tuple(RecordedError(kind, _JUDGED[judged]) for kind, _, judged in recorded),
        seen=Seen(
            chance=measures.get("chance"),
            chance_aim=measures.get("chance_aim"),
            chance_rest=measures.get("chance_rest"),
            leave=measures.get("leave"),
            best_chance=measures.get("best_chance"),
            snookered=None if snookered is None else bool(snookered),
        ),
    )
