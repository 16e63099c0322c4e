"""What the program remembers of its user: one typed, versioned list, kept as JSON in the config folder.

To add a setting: a line in `SETTINGS`.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ripasso.core.json_data import JsonObject

VERSION = 1
#: What settings are called that were written to be taken over elsewhere.
FORMAT, SUFFIX = "ripasso-settings", ".ripasso-settings.json"
#: What belongs to this machine, its screens and its folders.
OF_THIS_MACHINE = frozenset(
    {"borders", "projector", "recent_films", "clip_folder", "tour_offered", "last_folder"}
)


@dataclass(frozen=True)
class Setting:
    """One thing that is remembered: its type, its default, and what it means."""

    name: str
    kind: type
    default: Any
    meaning: str
    least: float | None = None
    most: float | None = None

    def accepts(self, value: object) -> bool:
        """Whether a stored value can be used."""
        if self.kind is float and isinstance(value, int) and not isinstance(value, bool):
            value = float(value)
        if self.kind is list:
            return isinstance(value, list) and all(isinstance(one, str) for one in value)
        if self.kind is dict:
            return isinstance(value, dict) and all(isinstance(one, str) for one in value.values())
        if not isinstance(value, self.kind) or (self.kind is not bool and isinstance(value, bool)):
            return False
        low = self.least is None or value >= self.least  # type: ignore[operator]
        high = self.most is None or value <= self.most  # type: ignore[operator]
        return bool(low and high)


SETTINGS: Mapping[str, Setting] = {
    setting.name: setting
    for setting in (
        Setting("text_scale", float, 1.0, "How much larger than usual texts are.", 0.8, 2.0),
        Setting("last_game", str, "nine_ball", "The game of the last new session."),
        Setting("last_table", str, "pool_9ft", "The table of the last new session."),
        Setting("last_race", int, 7, "The race of the last new session, 0 for none.", 0, 99),
        Setting("last_order", str, "alternate", "The order of breaks of the last new session."),
        Setting("last_target", int, 100, "The target of points of the last new session.", 1, 999),
        Setting("last_reds", int, 15, "The reds of the last new frame.", 1, 15),
        Setting("last_level", str, "club", "The level of play of the last new session."),
        Setting("last_players", str, "", "The players of the last new session, one a line."),
        Setting("words", str, "british", "In whose trade words the program speaks: british, american."),
        Setting("theme", str, "paper", "The colours of the window: paper (light), evening (dark), contrast."),
        Setting("keys", dict, {}, "Keys that were given to other actions: action to key."),
        Setting("searches", list, [], "Searches that were kept."),
        Setting("favourites", list, [], "The sessions that are favourites, by their keys."),
        Setting("reviewer", str, "", "Who reviews here; named beside comments and second findings."),
        Setting("sound", bool, True, "Films are heard at their own speed."),
        Setting("unit", str, "mm", "The unit of lengths."),
        Setting("borders", dict, {}, "How the borders of Review stand: border to share of the room."),
        Setting("projector", dict, {}, "Where a projector's corners are: size of the table to eight shares."),
        Setting("recent_films", list, [], "The films that were opened last."),
        Setting("clip_folder", str, "", "Where the last film was written; the home folder without one."),
        Setting("clip_way", str, "teaching", "How films of shots are made: teaching, exact, copied."),
        Setting("clip_diagram", str, "beside", "Where the table stands in them: beside, below, or nowhere."),
        Setting("tour_offered", bool, False, "The tour was offered once; it is not offered again."),
        Setting("last_folder", str, "", "Where the last file was opened."),
    )
}


class Settings:
    """The remembered values. A broken file is set aside, and `notice` says so."""

    def __init__(self, path: Path | None) -> None:
        self._path = path
        self._values: JsonObject = {}
        self.notice: str | None = None
        if path is not None and path.exists():
            self._read(path)

    def get(self, name: str) -> Any:
        """The value of a setting, its default when nothing was stored."""
        return self._values.get(name, SETTINGS[name].default)

    def set(self, name: str, value: Any) -> None:
        """Remember a value; raises ValueError when the setting cannot take it."""
        if not SETTINGS[name].accepts(value):
            raise ValueError(f"{value!r} is no value for {name}")
        if self.get(name) == value:
            return
        self._values[name] = value
        self._write()

    def shared(self) -> JsonObject:
        """Everything that was chosen, keys and kept searches too, without what belongs to this machine."""
        chosen = {n: value for n, value in sorted(self._values.items()) if n not in OF_THIS_MACHINE}
        return {"format": FORMAT, "version": VERSION, "settings": chosen}

    def take_over(self, stored: object) -> int:
        """Settings that `shared` gave; what is not known or cannot be is left. Returns how many were taken.

        Raises ValueError with a sentence where it is something else.
        """
        held = stored.get("settings") if isinstance(stored, dict) else None
        if not isinstance(stored, dict) or stored.get("format") != FORMAT or not isinstance(held, dict):
            raise ValueError("That file holds no settings of Ripasso.")
        taken = {
            name: value
            for name, value in held.items()
            if name in SETTINGS and name not in OF_THIS_MACHINE and SETTINGS[name].accepts(value)
        }
        self._values.update(taken)
        self._write()
        return len(taken)

    def _write(self) -> None:
        if self._path is None:
            return
        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            text = json.dumps({"version": VERSION, **self._values}, indent=1, sort_keys=True)
            # Beside it first: a full disk or a killed process leaves the old file whole.
            fresh = self._path.with_name(f"{self._path.name}.new")
            fresh.write_text(text, encoding="utf-8")
            fresh.replace(self._path)
        except OSError:
            # Remembering is a comfort: a full disk must not stop the work.
            return

    def _read(self, path: Path) -> None:
        try:
            stored = json.loads(path.read_text(encoding="utf-8"))
            if not isinstance(stored, dict):
                raise ValueError("no object")
        except OSError:
            self.notice = f"{path.name} cannot be read: the settings are those of a new user."
            return
        except ValueError:
            aside = path.with_name(f"{path.name}.broken")
            with suppress(OSError):
                path.replace(aside)
            self.notice = (
                f"{path.name} is damaged and was set aside as {aside.name}; the settings begin anew."
            )
            return
        self._values = {
            name: value
            for name, value in stored.items()
            if name in SETTINGS and SETTINGS[name].accepts(value)
        }
