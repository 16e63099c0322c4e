"""Layouts that are kept in the library: keep, change, delete, and which are forms of one another.

Each is a command of its own with exact undo; none belongs to a session.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import cast

from ripasso.core.json_data import JsonObject
from ripasso.review.document.command import LIBRARY, Change, Command, Entry
from ripasso.review.document.edits import Path, RefusedEdit, new_key, with_values
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.model import serialize
from ripasso.review.table.layouts import Layout

Kept = Sequence[tuple[str, KeptLayout]]


def keep_layout(
    snapshot: Snapshot,
    layout: Layout,
    title: str,
    tags: Sequence[str] = (),
    *,
    row: ShotRow | None = None,
    variant_of: str = "",
) -> Command:
    """Keep a layout under a name, with the shot it was met at. Raises `RefusedEdit`."""
    if not layout:
        raise RefusedEdit("No balls lie here: place them first, with ] or from the film.")
    if not title.strip():
        raise RefusedEdit("A layout needs a name.")
    key, head = new_key(), snapshot.head
    data: JsonObject = {"id": key, "title": title.strip()}
    if tags:
        data["tags"] = list(tags)
    if head.game is not None:
        data["game"] = head.game
    if head.table is not None:
        data["table"] = head.table
    data["layout"] = {ball: list(place) for ball, place in layout.items()}
    rack = snapshot.rack(row.rack) if row is not None else None
    if row is not None and rack is not None:
        place = {"rack": rack.record.number, "shot": row.record.number}
        data["from"] = {"session": snapshot.key, **place}
    if variant_of:
        data["variant_of"] = variant_of
    made = KeptLayout.model_validate_json(json.dumps(data))
    return Command(f"Keep the layout {made.title}", LIBRARY, (_change(key, None, made),))


def change_layout(key: str, kept: KeptLayout, values: Mapping[Path, object]) -> Command:
    """Give a kept layout another name, other tags, or say whose variant it is. Raises `RefusedEdit`."""
    after = cast(KeptLayout, with_values(kept, values))
    if not after.title.strip():
        raise RefusedEdit("A layout needs a name.")
    return Command(f"Change the layout {after.title}", LIBRARY, (_change(key, kept, after),))


def remove_layout(key: str, kept: KeptLayout) -> Command:
    """Take a layout out of the library; what was played from it stays."""
    return Command(f"Delete the layout {kept.title}", LIBRARY, (_change(key, kept, None),))


def _change(key: str, before: KeptLayout | None, after: KeptLayout | None) -> Change:
    return Change(
        "layout",
        key,
        Entry(before, None, 0) if before is not None else None,
        Entry(after, None, 0) if after is not None else None,
    )


def found_layouts(kept: Kept, words: str) -> Kept:
    """Those whose name, tags, game or note have every word of a line."""
    wanted = words.casefold().split()

    def has_all(one: KeptLayout) -> bool:
        text = " ".join([one.title, *(one.tags or ()), one.game or "", one.note or ""]).casefold()
        return all(word in text for word in wanted)

    return [(key, one) for key, one in kept if has_all(one)]


def forms_of(kept: Kept, layout_id: str) -> Kept:
    """A layout and its variants, and those it is a variant of, the first form first."""
    by_id = {one.id: one for _, one in kept}

    def first_form(one_id: str) -> str:
        seen = {one_id}
        while (one := by_id.get(one_id)) is not None and one.variant_of and one.variant_of not in seen:
            one_id = one.variant_of
            seen.add(one_id)
        return one_id

    wanted = first_form(layout_id)
    forms = [(key, one) for key, one in kept if first_form(one.id) == wanted]
    return sorted(forms, key=lambda pair: pair[1].id != wanted)


def as_file(kept: Kept) -> JsonObject:
    """All kept layouts as they are exchanged, see docs/session-format.md."""
    return {"format": "ripasso-layouts", "version": 1, "layouts": [serialize(one) for _, one in kept]}
