"""What is taken to Plan, wherever it came from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.geometry.zones import Zone
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place


@dataclass(frozen=True)
class Taken:
    """A table, with the shot it came from; without one session and shot are empty."""

    game: str
    spec: TableSpec
    layout: Mapping[str, Place]
    on: tuple[str, ...]
    call: tuple[str, str] | None
    session: str
    shot: str
    title: str
    #: Where balls were seen on their ways: seconds after the strike, ball, metres.
    seen: tuple[tuple[float, str, float, float], ...] = ()
    #: Where the cue ball should stop, and who played.
    zone: Zone | None = None
    person: str | None = None
    #: The words of cloth and cushions, where it came from a session.
    feel: tuple[str, str] | None = None
