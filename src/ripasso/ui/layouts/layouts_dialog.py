"""The store of layouts: positions kept under names, what was played from each, and a rack begun from one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.table import table_spec
from ripasso.drawing import TableScene
from ripasso.drawing.primitives import Circle, Primitive, Text
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, Path, RefusedEdit
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.kept_layouts import (
    Kept,
    change_layout,
    forms_of,
    keep_layout,
    remove_layout,
)
from ripasso.review.language.vocabulary import count, word
from ripasso.review.present.layout_plays import Play, plays_of
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.table.layouts import Layout, balls_of
from ripasso.store.errors import LibraryError
from ripasso.store.library import Library
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.layouts.layout_list import LayoutList
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel, set_property
from ripasso.ui.widgets.lines import LinesModel, lines_view
from ripasso.ui.widgets.table_view import TableView

LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"
HEADINGS = ("", "Played", "By", "Shot", "What came")
NARROW = (0, 2, 3)
NUMBER_M = 0.07


@dataclass(frozen=True)
class LayoutTools:
    """What the dialog works with; the calls do what a button says and tell whether it was done."""

    library: Library
    run: Callable[[Command], bool]
    session: Callable[[str], Snapshot | None]
    begin_rack: Callable[[KeptLayout], bool]
    play_again: Callable[[KeptLayout], bool]
    open_shot: Callable[[str, str], None]


class LayoutsDialog(GuidedDialog):
    """`in_hand` are the session, the key of its shot in hand and the balls that lie there, to be kept."""

    place = "keeps the layout in hand"

    def __init__(
        self,
        theme: Theme,
        tools: LayoutTools,
        in_hand: tuple[Snapshot, str, Layout],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Kept layouts")
        self._theme, self._tools = theme, tools
        self._snapshot, self._shot, self._layout = in_hand
        self._kept: Kept = ()
        self._plays: list[Play] = []
        self.pick = LayoutList(theme)
        self.line, self.list = self.pick.line, self.pick.list
        self.pick.changed.connect(self._show)
        self.table = TableView(theme)
        self.title, self.told = label("", "title", wrap=True), label("", "caption", wrap=True)
        self.name, self.tags = QLineEdit(), QLineEdit()
        self.tags.setPlaceholderText("tags, with spaces between")
        self.model = LinesModel(self)
        self.played = lines_view(theme, "Played from this layout", self.model, self._open, NARROW)
        self._compose()
        self.refresh()
        QTimer.singleShot(0, self.line.setFocus)

    def _compose(self) -> None:
        theme = self._theme
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.pick)
        fields = QHBoxLayout()
        for words, field, stretch in (("Name", self.name, 3), ("Tags", self.tags, 2)):
            field.setAccessibleName(words)
            fields.addWidget(label(words, "caption"))
            fields.addWidget(field, stretch)
            field.returnPressed.connect(self.rename)
        right.addWidget(self.title)
        right.addWidget(self.table, 3)
        right.addWidget(self.played, 2)
        right.addLayout(fields)
        right.addWidget(self.told)
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        for name, words, call in (
            ("keep", "Keep the layout in hand", self.keep),
            ("variant", "Keep it as a variant", self.keep_variant),
            ("rack", "Begin a rack from it", self.begin_rack),
            ("again", "Play it again and again", self.play_again),
            ("rename", "Rename", self.rename),
            ("delete", "Delete", self.delete),
            ("close", "Close", self.accept),
        ):
            button = self.buttons[name] = QPushButton(words)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _checked=False, call=call: call())
            row.addWidget(button)
            if name == "variant":
                row.addStretch(1)
        middle = QHBoxLayout()
        middle.setSpacing(8)
        middle.addWidget(panel(left), 2)
        middle.addWidget(panel(right), 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addLayout(middle, 1)
        layout.addLayout(row)
        self.resize(theme.px(1160), theme.px(700))

    # What there is

    def refresh(self, key: str = "") -> None:
        """Read the layouts again; the one of this key is chosen."""
        try:
            self._kept = self._tools.library.layouts()
        except LibraryError as error:
            self._tell(str(error), "bad")
        self.pick.show_layouts(self._kept, key)

    @property
    def chosen(self) -> tuple[str, KeptLayout] | None:
        """The layout in hand with its key."""
        return self.pick.chosen

    def _show(self) -> None:
        chosen = self.chosen
        for name in ("variant", "rack", "again", "rename", "delete"):
            self.buttons[name].setEnabled(chosen is not None)
        self.buttons["keep"].setEnabled(bool(self._layout))
        self.buttons["variant"].setEnabled(bool(self._layout) and chosen is not None)
        if chosen is None:
            self.title.setText("No layout is kept yet" if not self._kept else "None has these words")
            self.name.clear()
            self.tags.clear()
            self._plays = []
            self.model.show_lines(HEADINGS, [])
            self.table.show_scene(TableScene(table_spec(self._snapshot.head.table), self._layout))
            self._tell("The layout in hand is shown: name it and keep it." if self._layout else "", "plain")
            return
        _key, one = chosen
        forms = forms_of(self._kept, one.id)
        self.name.setText(one.title)
        self.tags.setText(" ".join(one.tags or ()))
        self._plays = self._played(forms)
        self.title.setText(one.title)
        others = [other.title for _, other in forms if other.id != one.id]
        variants = f"; forms of it: {', '.join(others)}" if others else ""
        game = f", {word(one.game)}" if one.game else ""
        self._tell(f"{count(len(one.layout), 'ball')}{game}{variants}. ↵ opens what was played.", "plain")
        lines = [
            (letter, play.where, play.who, play.chosen, play.came)
            for letter, play in zip(LETTERS, self._plays, strict=False)
        ]
        self.model.show_lines(HEADINGS, lines)
        spec = table_spec(one.table)
        over: list[Primitive] = []
        for letter, play in zip(LETTERS, self._plays, strict=False):
            over += _rest_marks(spec.ball_radius, spec.width, letter, play)
        self.table.show_scene(TableScene(spec, balls_of(one.layout), over=tuple(over)))

    def _played(self, forms: Kept) -> list[Play]:
        try:
            played = self._tools.library.played_from([one.id for _, one in forms])
            return plays_of(forms, played, self._tools.session)
        except LibraryError as error:
            self._tell(str(error), "bad")
            return []

    def _tell(self, text: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(text)

    # What is done

    def keep(self) -> None:
        """Keep the layout in hand under the name that stands in the field, or one of its shot."""
        chosen = self.chosen
        name = self.name.text().strip()
        if not name or (chosen is not None and name == chosen[1].title):
            name = self._free_name(f"Layout {len(self._kept) + 1}")
        self._keep(name, "")

    def keep_variant(self) -> None:
        """Keep the layout in hand as another form of the chosen one."""
        chosen = self.chosen
        if chosen is not None:
            self._keep(self._free_name(f"{chosen[1].title}, variant"), chosen[1].id)

    def _free_name(self, name: str) -> str:
        taken, made, number = {one.title for _, one in self._kept}, name, 2
        while made in taken:
            made, number = f"{name} {number}", number + 1
        return made

    def _keep(self, name: str, variant_of: str) -> None:
        row = self._snapshot.shot(self._shot)
        tags = () if self.chosen is not None and not variant_of else self.tags.text().split()
        try:
            command = keep_layout(self._snapshot, self._layout, name, tags, row=row, variant_of=variant_of)
        except RefusedEdit as error:
            self._tell(str(error), "bad")
            return
        if self._tools.run(command):
            self.line.clear()
            self.refresh(command.changes[0].key)
            self._tell(f"Kept as “{name}”; another name and tags are typed above.", "good")
            self.name.setFocus()
            self.name.selectAll()

    def rename(self) -> None:
        """Give the chosen layout the name and tags that stand in the fields; without one, keep it."""
        chosen = self.chosen
        if chosen is None:
            self.keep()
            return
        key, one = chosen
        values: dict[Path, object] = {("title",): self.name.text().strip()}
        values[("tags",)] = self.tags.text().split() or REMOVE
        try:
            command = change_layout(key, one, values)
        except RefusedEdit as error:
            self._tell(str(error), "bad")
            return
        if self._tools.run(command):
            self.refresh(key)
            self._tell("Changed.", "good")

    def delete(self) -> None:
        """Take the chosen layout out of the library."""
        chosen = self.chosen
        if chosen is not None and self._tools.run(remove_layout(*chosen)):
            self.refresh()
            self._tell(f"“{chosen[1].title}” is deleted; Ctrl Z in Review brings it back.", "plain")

    def begin_rack(self) -> None:
        """The next rack of the session begins from the chosen layout."""
        if self.chosen is not None and self._tools.begin_rack(self.chosen[1]):
            self.accept()

    def play_again(self) -> None:
        """Attempts at the chosen layout are counted."""
        if self.chosen is not None and self._tools.play_again(self.chosen[1]):
            self.accept()

    def _open(self, row: int) -> None:
        if 0 <= row < len(self._plays) and self._plays[row].shot is not None:
            self._tools.open_shot(self._plays[row].session, self._plays[row].shot or "")
            self.accept()


def _rest_marks(radius: float, width: float, letter: str, play: Play) -> Sequence[Primitive]:
    """Where the cue ball ended: a ring, filled where it went well, with the letter of its line."""
    drawn: list[Primitive] = []
    for (x, y), well in play.rests:
        drawn.append(Circle((x, y), 0.7 * radius, "table.words" if well else None, "table.words"))
    if play.rests:
        x, y = play.rests[-1][0]
        away = 2.2 * radius
        drawn.append(Text((x, y + away if y < width / 2 else y - away), letter, "table.words", NUMBER_M))
    return drawn
