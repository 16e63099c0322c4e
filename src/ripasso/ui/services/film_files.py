"""What files are films, and which were opened last."""

from __future__ import annotations

from pathlib import Path

from ripasso.ui.services.settings import Settings

#: What films are called; any other file can be chosen too.
FILM_SUFFIXES = (
    ".mp4",
    ".mkv",
    ".mov",
    ".webm",
    ".avi",
    ".m4v",
    ".mts",
    ".m2ts",
    ".ts",
    ".mpg",
    ".mpeg",
    ".vob",
)
MANY = 8


def recent_films(settings: Settings) -> list[Path]:
    """The films that were opened last and are still there, the latest first."""
    return [path for path in map(Path, settings.get("recent_films")) if path.is_file()]


def remember_film(settings: Settings, path: Path) -> None:
    """A film was opened: it stands first."""
    name = str(path.absolute())
    others = [one for one in settings.get("recent_films") if one != name]
    settings.set("recent_films", [name, *others][:MANY])
    settings.set("last_folder", str(path.absolute().parent))
