"""Files of kept layouts `.ripasso-layouts.json`: in and out without loss."""

from __future__ import annotations

import json
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from ripasso.review.document.command import LIBRARY, Change, Command, Entry
from ripasso.review.document.edits import new_key
from ripasso.review.entry.kept_layouts import Kept, as_file
from ripasso.review.record.kept_layout import FORMAT, KeptLayout
from ripasso.review.record.parsing import UnreadableSession, read_json
from ripasso.review.record.values import MOST_RECORDS
from ripasso.store.session_file import LARGEST_BYTES, SessionFileError, write_whole

SUFFIX = ".ripasso-layouts.json"
_LAYOUTS = TypeAdapter(tuple[KeptLayout, ...])


def load_layouts(path: Path) -> tuple[KeptLayout, ...]:
    """The layouts in a file; raises `SessionFileError`."""
    try:
        if path.stat().st_size > LARGEST_BYTES:
            raise SessionFileError(f"{path.name} is too large for a file of layouts.")
        data = read_json(path.read_bytes())
    except OSError as error:
        raise SessionFileError(f"{path.name} cannot be read: {error.strerror or error}.") from error
    except UnreadableSession as error:
        raise SessionFileError(f"{path.name} cannot be read: {error}") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise SessionFileError(f"{path.name} is no file of layouts.")
    try:
        layouts = _LAYOUTS.validate_json(json.dumps(data.get("layouts")))
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(("layouts", *map(str, first["loc"])))
        words = f"{path.name} has a wrong value at {where}: {first['msg']}."
        raise SessionFileError(words) from error
    if len(layouts) > MOST_RECORDS:
        raise SessionFileError(f"{path.name} should hold {MOST_RECORDS} layouts at most.")
    return layouts


def save_layouts(kept: Kept, path: Path) -> None:
    """Write a file of layouts; the old one stays whole until the new one is. Raises `SessionFileError`."""
    write_whole(json.dumps(as_file(kept), ensure_ascii=False, indent=1) + "\n", path)


def take_in(kept: Kept, layouts: tuple[KeptLayout, ...]) -> Command:
    """Add the layouts that are not there yet, by their ids; one step of undo."""
    there = {one.id for _, one in kept}
    fresh = {one.id: one for one in layouts if one.id not in there}
    changes = tuple(Change("layout", new_key(), None, Entry(one, None, 0)) for one in fresh.values())
    return Command("Take in layouts", LIBRARY, changes)
