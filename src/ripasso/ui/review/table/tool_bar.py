"""Under the table: the tools of the mouse, what the one in hand waits for, and which layers are drawn."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from ripasso.drawing.layers import LAYERS
from ripasso.drawing.legend import legend
from ripasso.drawing.table import table_drawing
from ripasso.review.language.vocabulary import word
from ripasso.ui.actions import ActionRegistry, shown_key
from ripasso.ui.review.table.legend_view import LegendView
from ripasso.ui.review.table.picture_controller import PictureController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import as_it_stands, label, pop_up
from ripasso.ui.widgets.key_button import KeyButton

#: What the mouse does without a tool.
RESTING = "Click: the ball or pocket meant. Drag: move a ball. Wheel: larger."
BUTTONS = ("balls_before", "balls_after", "zone", "aim", "route", "pen", "layers")


class ToolBar(QWidget):
    """Buttons for the tools; they are pressed while their tool is in hand."""

    def __init__(self, theme: Theme, pictures: PictureController, actions: ActionRegistry) -> None:
        super().__init__()
        self._pictures, self._theme = pictures, theme
        hints = {n: "" if n == "layers" else actions.spec(n).hint for n in BUTTONS}
        self._buttons = {n: KeyButton(theme, actions[n], hints[n]) for n in BUTTONS}
        self.hint = label(RESTING, "caption")
        self.hint.setMinimumWidth(1)  # longer words are cut, the tip has all of them
        row = QHBoxLayout()
        row.setSpacing(3)
        for button in self._buttons.values():
            button.setMinimumWidth(theme.px(48))  # the keys' board beside it needs its place more
            row.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        column.addWidget(self.hint)
        column.addLayout(row)

    def refresh(self) -> None:
        """Show the tool in hand and what it waits for."""
        name = self._pictures.tool.name
        for button, shown in self._buttons.items():
            shown.set_chosen(name == button or name.split("_")[0] == button)
        hint = self._pictures.hint
        self.hint.setText(f"{hint}. Esc ends." if hint else RESTING)
        self.hint.setToolTip(as_it_stands(self.hint.text()))

    def show_legend(self) -> None:
        """A list of the marks that are drawn now, each with a sample and what it means."""
        marks = legend(table_drawing(self._pictures.scene()).primitives)
        button = self._buttons["layers"]
        LegendView(self._theme, marks, self).show_above(button.mapToGlobal(button.rect().topLeft()))

    def choose_layers(self) -> None:
        """A menu of what is drawn."""
        menu = QMenu(self)
        wanted = self._pictures.wanted()
        for name in LAYERS:
            action = menu.addAction(word(f"layer_{name}"))
            if action is not None:
                action.setCheckable(True)
                action.setChecked(name in wanted)
                action.triggered.connect(partial(self._pictures.switch, name))
        menu.addSeparator()
        film = menu.addAction("On the film too")
        if film is not None:
            film.setCheckable(True)
            film.setChecked(self._pictures.on_film)
            film.triggered.connect(self._pictures.show_on_film)
        menu.addSeparator()
        meaning = menu.addAction(f"What the marks mean\t{shown_key('Shift+F1')}")
        if meaning is not None:
            meaning.triggered.connect(lambda _on: self.show_legend())
        automatic = menu.addAction("What matters now")
        if automatic is not None:
            automatic.triggered.connect(lambda _on: self._pictures.automatic())
        button = self._buttons["layers"]
        pop_up(menu, button.mapToGlobal(button.rect().topLeft()))
