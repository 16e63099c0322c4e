"""Views of recordings: which camera sees the table at a time of the film, and commands that set one.

A view holds from its `from` to its `to` (seconds; missing: from the start, to the end). Later ones win
where two overlap, as they were set later.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.review.document.command import Command
from ripasso.review.document.edits import RefusedEdit, set_values
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Recording, Session, serialize
from ripasso.review.record.parts import View


def recording_of(session: Session, recording: str | None) -> Recording | None:
    """The recording with an id."""
    return next((r for r in session.recordings or () if r.id == recording), None)


def view_at(recording: Recording | None, time_s: float) -> View | None:
    """The view that holds at a time of the film."""
    found = [view for view in (recording.views if recording else None) or () if _holds(view, time_s)]
    return found[-1] if found else None


def _holds(view: View, time_s: float) -> bool:
    after = view.from_ is None or time_s >= view.from_
    return after and (view.to is None or time_s <= view.to)


def set_view(snapshot: Snapshot, recording: str, view: JsonObject, replaces: int | None = None) -> Command:
    """Add a view to a recording, or put it in the place of its view number `replaces`."""

    def change(views: list[JsonObject]) -> list[JsonObject]:
        if replaces is None:
            return [*views, view]
        return [view if i == replaces else old for i, old in enumerate(views)]

    return _with_views(snapshot, recording, change, "Set the film's view")


def first_view(snapshot: Snapshot, recording: str, camera: JsonObject) -> Command | None:
    """The camera of a recording that has no view yet; None where it has one."""
    there = recording_of(snapshot.head, recording)
    if there is None or there.views:
        return None
    return set_view(snapshot, recording, {"camera": camera})


def set_camera(snapshot: Snapshot, recording: str, time_s: float, camera: JsonObject) -> Command | None:
    """Another camera for the view that holds at a time; the rest of it stays. None where none holds."""
    there = recording_of(snapshot.head, recording)
    holds = view_at(there, time_s)
    if there is None or holds is None:
        return None
    place = next(i for i, view in enumerate(there.views or ()) if view is holds)
    return set_view(snapshot, recording, {**serialize(holds), "camera": camera}, place)


def add_views(snapshot: Snapshot, recording: str, views: Sequence[JsonObject]) -> Command:
    """Add the views that a film showed after cuts, but none that holds from a moment one holds from."""
    there = recording_of(snapshot.head, recording)
    known = {view.from_ for view in (there.views if there else None) or ()}
    fresh = [view for view in views if view.get("from") not in known]
    return _with_views(snapshot, recording, lambda old: [*old, *fresh], "Add the film's other views")


def follow_camera(snapshot: Snapshot, recording: str, start_s: float, seen: Sequence[JsonMapping]) -> Command:
    """What cameras did, as a reading from `start_s` on states it: each view there is gets its motion.

    A view that somebody set anew meanwhile is of another frame, and keeps what it has.
    """
    there = recording_of(snapshot.head, recording)
    holds = view_at(there, start_s)
    moved = {one.get("from"): one for one in seen if one.get("motion")}
    known = list((there.views if there else None) or ())
    places = {view.from_: i for i, view in enumerate(known)}
    if holds is not None and None in moved:
        places[None] = next(i for i, view in enumerate(known) if view is holds)
    motions = {places[start]: one for start, one in moved.items() if start in places}
    motions = {i: one for i, one in motions.items() if known[i].at in (None, one["at"])}
    if not motions:
        return Command("Follow the camera", snapshot.key, ())

    def change(views: list[JsonObject]) -> list[JsonObject]:
        return [_followed(view, motions[i]) if i in motions else view for i, view in enumerate(views)]

    return _with_views(snapshot, recording, change, "Follow the camera")


def _followed(view: JsonObject, seen: JsonMapping) -> JsonObject:
    """A view with the motion that was seen; what a reading before it saw stays."""
    rows = seen["motion"]
    before = [row for row in view.get("motion") or () if row[0] < rows[0][0]]
    return {**view, "at": seen["at"], "motion": [*before, *rows]}


def forget_view(snapshot: Snapshot, recording: str, place: int) -> Command:
    """Take a view away."""
    return _with_views(
        snapshot,
        recording,
        lambda views: [view for i, view in enumerate(views) if i != place],
        "Take a view away",
    )


def copy_view(snapshot: Snapshot, recording: str, source: View, label: str = "Copy a view") -> Command:
    """The view of another recording of the same camera, for the whole of this one."""
    of_its_film = ("from", "to", "at", "motion")
    data = {key: value for key, value in serialize(source).items() if key not in of_its_film}
    return _with_views(snapshot, recording, lambda views: [*views, data], label)


def _with_views(snapshot: Snapshot, recording: str, change: Any, label: str) -> Command:
    recordings: Sequence[Recording] = snapshot.head.recordings or ()
    if not any(r.id == recording for r in recordings):
        raise RefusedEdit("This session has no such recording.")
    listed = []
    for one in recordings:
        data = serialize(one)
        if one.id == recording:
            data["views"] = change(list(data.get("views") or []))
        listed.append(data)
    return set_values(snapshot, "session", snapshot.key, {("recordings",): listed}, label)
