"""Reports in the library: made, changed, taken away, and their pages; each a command with exact undo."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import cast

from ripasso.core.json_data import JsonObject
from ripasso.review.document.command import LIBRARY, Change, Command, Entry
from ripasso.review.document.edits import Path, RefusedEdit, new_key, with_values
from ripasso.review.record.model import serialize
from ripasso.review.record.report import Report

#: What a new report has.
PAGES: Sequence[JsonObject] = (
    {"kind": "summary"},
    {"kind": "figures", "figures": "potting"},
    {"kind": "figures", "figures": "position"},
    {"kind": "shots", "shots": []},
    {"kind": "practice"},
    {"kind": "methods"},
)


def add_report(
    title: str,
    player: str | None,
    sessions: Sequence[str] | None = None,
    pages: Sequence[JsonObject] = PAGES,
    **more: object,
) -> tuple[str, Command]:
    """A new report under its key; raises `RefusedEdit` without a title."""
    if not title.strip():
        raise RefusedEdit("A report needs a title.")
    key = new_key()
    data: JsonObject = {"id": key, "title": title.strip(), "pages": list(pages), **more}
    if player is not None:
        data["player"] = player
    if sessions is not None:
        data["sessions"] = list(sessions)
    made = Report.model_validate_json(json.dumps(data))
    return key, Command(f"Make the report {made.title}", LIBRARY, (_change(key, None, made),))


def change_report(key: str, report: Report, values: Mapping[Path, object], label: str = "") -> Command:
    """Other values of a report, by path. Raises `RefusedEdit`."""
    after = cast(Report, with_values(report, values))
    if not after.title.strip():
        raise RefusedEdit("A report needs a title.")
    return Command(label or f"Change the report {after.title}", LIBRARY, (_change(key, report, after),))


def remove_report(key: str, report: Report) -> Command:
    """Take a report out of the library."""
    return Command(f"Delete the report {report.title}", LIBRARY, (_change(key, report, None),))


def add_page(key: str, report: Report, page: JsonObject, at: int | None = None) -> Command:
    """One page more, at a place or at the end."""
    pages = page_list(report)
    pages.insert(len(pages) if at is None else at, page)
    return change_report(key, report, {("pages",): pages}, "Add a page to the report")


def change_page(key: str, report: Report, place: int, values: Mapping[str, object]) -> Command:
    """Other values of a page; None takes one away."""
    pages = page_list(report)
    changed = {**pages[place], **values}
    pages[place] = {name: value for name, value in changed.items() if value is not None}
    return change_report(key, report, {("pages",): pages}, "Change a page of the report")


def remove_page(key: str, report: Report, place: int) -> Command:
    """Take a page out of a report."""
    pages = page_list(report)
    del pages[place]
    return change_report(key, report, {("pages",): pages}, "Take a page out of the report")


def move_page(key: str, report: Report, place: int, to: int) -> Command:
    """A page stands elsewhere."""
    pages = page_list(report)
    pages.insert(to, pages.pop(place))
    return change_report(key, report, {("pages",): pages}, "Move a page of the report")


def add_shot(key: str, report: Report, session: str, rack: int, shot: int) -> Command:
    """A key shot more: on the last page of key shots, or on a new one. Raises `RefusedEdit` for one twice."""
    wanted: JsonObject = {"session": session, "rack": rack, "shot": shot}
    pages = page_list(report)
    places = [place for place, page in enumerate(pages) if page["kind"] == "shots"]
    if not places:
        return add_page(key, report, {"kind": "shots", "shots": [wanted]})
    listed = list(pages[places[-1]].get("shots", ()))
    if any({name: one[name] for name in wanted} == wanted for one in listed):
        raise RefusedEdit(f"Rack {rack}, shot {shot} is in {report.title} already.")
    return change_page(key, report, places[-1], {"shots": [*listed, wanted]})


def page_list(report: Report) -> list[JsonObject]:
    """The pages as they are stored."""
    return [serialize(page) for page in report.pages or ()]


def _change(key: str, before: Report | None, after: Report | None) -> Change:
    def entry(record: Report | None) -> Entry | None:
        return Entry(record, None, 0) if record is not None else None

    return Change("report", key, entry(before), entry(after))
