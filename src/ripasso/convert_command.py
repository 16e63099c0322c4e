"""The command `convert`: a session, or kept layouts, between a file and a library; no window."""

from __future__ import annotations

import sys
from pathlib import Path

from ripasso.command_input import Unusable, is_session_file, load_file, open_library_at
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session, replace_session
from ripasso.review.record.model import Session, serialize
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.errors import LibraryError
from ripasso.store.layouts_file import SUFFIX, load_layouts, save_layouts, take_in
from ripasso.store.session_file import SessionFileError, save_session


def convert(source: Path, target: Path, session: str | None, *, replace: bool) -> bool:
    """Copy; False where something differs, or was damaged and left out, as is said. Raises `Unusable`."""
    if target.name.endswith(SUFFIX) or source.name.endswith(SUFFIX):
        return _convert_layouts(source, target, out=target.name.endswith(SUFFIX))
    from_file, to_file = is_session_file(source), is_session_file(target)
    if from_file and to_file:
        return _write(load_file(source), target)
    if from_file:
        return _import(load_file(source), target, replace=replace)
    if to_file:
        return _export(source, session, target)
    raise Unusable("one of the two must be a session file (.ripasso.json).")


def _convert_layouts(source: Path, target: Path, *, out: bool) -> bool:
    """The kept layouts of a library out to a file, or those of a file into a library."""

    try:
        layouts = () if out else load_layouts(source)
        library = open_library_at(source if out else target, create=not out)
        try:
            if out:
                save_layouts(library.layouts(), target)
                return True
            if library.read_only:
                raise Unusable(library.notice)
            command = take_in(library.layouts(), layouts)
            Document(library, derived_rows).run(command)
            print(f"{len(command.changes)} of {len(layouts)} layouts are new.")
        finally:
            library.close()
    except (SessionFileError, LibraryError) as error:
        raise Unusable(str(error)) from error
    return True


def _write(session: Session, path: Path) -> bool:

    try:
        save_session(session, path)
    except SessionFileError as error:
        raise Unusable(str(error)) from error
    return True


def _import(session: Session, path: Path, *, replace: bool) -> bool:

    library = open_library_at(path, create=True)
    try:
        if library.read_only:
            raise Unusable(library.notice)
        document = Document(library, derived_rows)
        there = document.session(session.id)
        if there is None:
            document.run(add_session(session))
        elif serialize(there.session) == serialize(session):
            print(f"{session.title} is in the library already, and equal.")
        elif replace:
            document.run(replace_session(there, session))
        else:
            words = f"ripasso: {session.title} is in the library already and differs; --replace replaces it."
            print(words, file=sys.stderr)
            return False
    except LibraryError as error:
        raise Unusable(str(error)) from error
    finally:
        library.close()
    return True


def _export(source: Path, wanted: str | None, target: Path) -> bool:

    library = open_library_at(source, create=False)
    complaints: list[str] = []
    library.on_damage = complaints.append
    try:
        lines = library.sessions()
        chosen = [line for line in lines if wanted is None or wanted in (line.key, line.title)]
        if len(chosen) != 1:
            titles = ", ".join(f"“{line.title}”" for line in lines) or "nothing"
            raise Unusable(f"which session? --session names one of: {titles}.")
        snapshot = Document(library, derived_rows).session(chosen[0].key)
        if snapshot is None:
            raise Unusable(complaints[0] if complaints else f"{chosen[0].title} is gone.")
        _write(snapshot.session, target)
    except LibraryError as error:
        raise Unusable(str(error)) from error
    finally:
        library.close()
    for complaint in complaints:
        print(f"ripasso: {complaint}", file=sys.stderr)
    return not complaints
