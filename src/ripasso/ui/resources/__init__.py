"""What ships with the window: icons and styles, found through this one module."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path


def _path(folder: str, name: str) -> Path:
    return Path(str(files("ripasso.ui.resources") / folder / name))


def icon_folder() -> str:
    """Where the icons are, for style sheets."""
    return str(files("ripasso.ui.resources") / "icons")


def icon_svg(name: str) -> str:
    """The SVG text of a shipped icon."""
    return _path("icons", f"{name}.svg").read_text(encoding="utf-8")


def style_text(name: str) -> str:
    """A shipped style sheet with `{role}` where a colour goes."""
    return _path("styles", f"{name}.qss").read_text(encoding="utf-8")
