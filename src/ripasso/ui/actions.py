"""Actions as data: what can be done, its words and its key; buttons, shortcuts and the key sheet read them.

To add one: an `ActionSpec` in the list of its workspace, and a function for its id where the workspace
is built; an action without a function is an error at start.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from ripasso.review.language.translation import tr


@dataclass(frozen=True)
class ActionSpec:
    """One thing a user can do. `keys` are Qt key names, the first is the one that is shown."""

    id: str
    text: str
    keys: tuple[str, ...]
    group: str
    tip: str = ""

    @property
    def hint(self) -> str:
        """The key as it is shown beside the control."""
        return shown_key(self.keys[0]) if self.keys else ""


_SHOWN = {
    "Left": "←",
    "Right": "→",
    "Up": "↑",
    "Down": "↓",
    "Space": "space",
    "Backspace": "⌫",
    "Return": "↵",
    "PgUp": "PgUp",
    "Delete": "Del",
    "PgDown": "PgDn",
}


def shown_key(key: str) -> str:
    """A key's name in few signs: "⇧B" for Shift+B."""
    # The key of the plus sign itself stands at the end, behind the sign that joins.
    parts = [*key[:-1].rstrip("+").split("+"), "+"] if key.endswith("+") else key.split("+")
    shift = "⇧" if "Shift" in parts[:-1] else ""
    control = "Ctrl " if "Ctrl" in parts[:-1] else ""
    other = "Alt " if "Alt" in parts[:-1] else ""
    return control + other + shift + _SHOWN.get(parts[-1], parts[-1])


def with_own_keys(specs: Sequence[ActionSpec], own: Mapping[str, str]) -> tuple[ActionSpec, ...]:
    """The specs with the keys that a person gave them; a second key of an action stays."""
    return tuple(
        replace(spec, keys=(own[spec.id], *spec.keys[1:])) if spec.id in own else spec for spec in specs
    )


class KeyTaken(ValueError):
    """A key stands for something else already; the message is one sentence."""


def checked_key(specs: Sequence[ActionSpec], name: str, key: str) -> str:
    """The key in its usual form, if it may stand for an action. Raises `KeyTaken`."""
    wanted = QKeySequence(key).toString()
    if not wanted or wanted in ("Esc", "Tab"):
        raise KeyTaken("This key cannot be given to an action.")
    for spec in specs:
        taken = [QKeySequence(one).toString() for one in spec.keys]
        if spec.id != name and wanted in taken:
            raise KeyTaken(f"{shown_key(key)} is the key of “{tr(spec.text)}”; give that another one first.")
    return key


class ActionRegistry:
    """The live actions of one widget; `own` are keys a person chose, and `bind` says what each does."""

    def __init__(
        self,
        owner: QWidget,
        specs: Sequence[ActionSpec],
        own: Mapping[str, str] | None = None,
    ) -> None:
        specs = with_own_keys(specs, own or {})
        self.specs = tuple(specs)
        self._actions: dict[str, QAction] = {}
        for spec in specs:
            action = QAction(tr(spec.text), owner)
            action.setShortcuts([QKeySequence(key) for key in spec.keys])
            # Holds wherever the focus is, and only while the owner is seen: pages share keys.
            action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
            action.setToolTip(_tip(spec))
            owner.addAction(action)
            self._actions[spec.id] = action

    def __getitem__(self, name: str) -> QAction:
        return self._actions[name]

    def bind(self, functions: Mapping[str, Callable[[], object]]) -> None:
        """Say what each action does; raises ValueError for an action without a function."""
        missing = [spec.id for spec in self.specs if spec.id not in functions]
        if missing:
            raise ValueError(f"no function for {', '.join(missing)}")
        for spec in self.specs:
            self._actions[spec.id].triggered.connect(lambda _checked=False, call=functions[spec.id]: call())

    def withdraw(self) -> None:
        """Take the actions away, as when they are made anew."""
        for action in self._actions.values():
            action.setShortcuts([])
            action.deleteLater()
        self._actions.clear()

    def keep_to(self, name: str, widget: QWidget) -> None:
        """Let an action's key hold only while `widget` has the focus, as Return in a list."""
        action = self._actions[name]
        for owner in action.associatedObjects():
            if isinstance(owner, QWidget):
                owner.removeAction(action)
        action.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        widget.addAction(action)

    def spec(self, name: str) -> ActionSpec:
        """The data of an action."""
        return next(spec for spec in self.specs if spec.id == name)


def _tip(spec: ActionSpec) -> str:
    words = tr(spec.tip or spec.text)
    return f"{words[:1].upper()}{words[1:]} ({spec.hint})" if spec.hint else words
