"""A ball that a person placed and that a reading did not see, proposed in the layouts that follow.

A ball lies where it lay until it is struck, falls or is put elsewhere: which layouts that may be is told
here from the record; whether it lies there still is for the film to say.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import dist

from ripasso.core.table.places import Place
from ripasso.review.document.command import Command
from ripasso.review.document.edits import Path, edit, set_values, several
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.record.proposals import pointer
from ripasso.review.table.layouts import When, recorded

#: A ball proposed this near is the same one, carried before and now placed better, metres.
SAME_M = 0.06


@dataclass(frozen=True)
class LaterLayout:
    """A layout that lacks the ball: of which shot, before or after it, at which time of the film."""

    shot: str
    when: When
    time_s: float


def moment_of(row: ShotRow, when: When) -> float | None:
    """The time of the film (seconds) at which a layout of a shot lies still."""
    time = row.record.t_strike if when == "before" else row.record.t_rest
    return float(time) if time is not None else None


def later_layouts(snapshot: Snapshot, shot: str, when: When, ball: str, place: Place) -> list[LaterLayout]:
    """The layouts of the same rack and film after one in which a ball was placed, as far as it may lie there.

    It ends with the shot that pots the ball, and with a layout that has the ball somewhere else.
    """
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    if row is None or rack is None:
        return []
    found: list[LaterLayout] = []
    begun = False
    for other in rack.shots[rack.place(shot) :]:
        for side in ("before", "after"):
            if not begun:
                begun = side == when
                continue
            if side == "after" and ball in _fallen(other):
                return found
            layout, time_s = recorded(other, side), moment_of(other, side)
            if layout is None or time_s is None or other.record.recording != row.record.recording:
                continue
            if ball not in layout or _is_carried(other, side, ball, layout[ball], place):
                found.append(LaterLayout(shot=other.key, when=side, time_s=time_s))
            elif dist(layout[ball], place) > SAME_M:
                return found
    return found


def _fallen(row: ShotRow) -> set[str]:
    facts = row.record.facts
    fallen = {pot.ball for pot in (facts.potted if facts else None) or ()}
    return fallen | set((facts.off_table if facts else None) or ())


def _is_carried(row: ShotRow, when: When, ball: str, lies: Place, place: Place) -> bool:
    return pointer((when, ball)) in (row.record.proposed or {}) and dist(lies, place) <= SAME_M


@edit
def carry_ball(
    snapshot: Snapshot, layouts: Sequence[tuple[LaterLayout, float]], ball: str, place: Place
) -> Command:
    """Propose a ball at its place in later layouts, each with how sure it is; one step of undo."""
    label = f"Carry ball {ball} on"
    commands = []
    for layout, sure in layouts:
        row = snapshot.shot(layout.shot)
        if row is None or recorded(row, layout.when) is None:
            continue
        marks = {**(row.record.proposed or {}), pointer((layout.when, ball)): sure}
        values: dict[Path, object] = {(layout.when, ball): list(place), ("proposed",): marks}
        command = set_values(snapshot, "shot", layout.shot, values, label)
        commands.append(command)
        snapshot = snapshot.applied(command.changes) or snapshot
    return several(label, commands) if commands else Command(label, snapshot.key, ())
