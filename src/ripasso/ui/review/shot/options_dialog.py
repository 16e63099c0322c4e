"""Options of a shot side by side: kept from what is planned, each with its chance and what it leaves."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QPixmap
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.document.edits import Path
from ripasso.review.entry.options import (
    NothingToWeigh,
    OptionLine,
    better_option,
    chosen_option,
    forgotten_option,
    kept_option,
    option_lines,
)
from ripasso.review.language.localization import tradition
from ripasso.review.record.proposals import without_proposals
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.shot.options_picture import ACROSS, options_drawing
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.table.tool_controller import ToolController
from ripasso.ui.sheet_picture import sheet_image, sheet_svg
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, scrolling, set_property
from ripasso.ui.widgets.plain_table import header_of

COLUMNS = ("Option", "Chance", "Leave", "Both", "")


class OptionsDialog(GuidedDialog):
    """Every change is stored at once, one step of undo each."""

    place = "keeps what is said and drawn of the shot now as one option"

    def __init__(
        self,
        theme: Theme,
        controller: ReviewController,
        pictures: ToolController,
        reviewer: str = "",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Options")
        self._theme, self._controller, self._pictures = theme, controller, pictures
        self.by = QLineEdit(reviewer)
        self.by.setAccessibleName("Whose option")
        self.by.setPlaceholderText("whose option")
        self.reason = QLineEdit()
        self.reason.setAccessibleName("Why")
        self.reason.setPlaceholderText("why; Return keeps what is planned now as an option")
        self.reason.returnPressed.connect(self.keep)
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setAccessibleName("Options of the shot")
        self.table.setHorizontalHeaderLabels(COLUMNS)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.setTabKeyNavigation(False)
        header_of(self.table).setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.told = label("", "caption", wrap=True)
        new = QHBoxLayout()
        new.addWidget(self.reason, 1)
        new.addWidget(self.by)
        new.addWidget(_button("Keep as option", self.keep))
        row = QHBoxLayout()
        row.addWidget(self.told, 1)
        for text, act in (
            ("Was played", self.choose),
            ("Was better", self.prefer),
            ("Forget", self.forget),
        ):
            row.addWidget(_button(text, act))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(10)
        layout.addWidget(
            label("What is said and drawn of the shot now can be kept as one option among others", "title")
        )
        layout.addLayout(new)
        layout.addWidget(self.table, 1)
        self.picture = QLabel()
        self.picture.setAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        self._area = scrolling(self.picture)
        layout.addWidget(self._area, 1)
        layout.addLayout(row)
        self.resize(theme.px(900), theme.px(600))
        self._fill()
        self.reason.setFocus()

    @property
    def lines(self) -> tuple[OptionLine, ...]:
        """The options on show."""
        shot, snapshot = self._controller.shot, self._controller.snapshot
        if shot is None or snapshot is None:
            return ()
        return option_lines(without_proposals(shot.record), snapshot.head.game, tradition())

    def keep(self) -> None:
        """Keep what is planned now as an option."""
        shot = self._controller.shot
        if shot is None:
            return
        try:
            values = kept_option(
                without_proposals(shot.record),
                self._pictures.measures(),
                self.by.text().strip(),
                self.reason.text().strip(),
            )
        except NothingToWeigh as error:
            self._tell(str(error), "bad")
            return
        self._say(values, "Keep an option")
        self.reason.clear()
        self.table.selectRow(self.table.rowCount() - 1)

    def choose(self) -> None:
        """The option in the chosen row was played."""
        line, shot = self._line(), self._controller.shot
        if line is not None and shot is not None:
            self._say(chosen_option(shot.record, line.id), "Say which option was played")

    def prefer(self) -> None:
        """The option in the chosen row was better."""
        line, shot = self._line(), self._controller.shot
        if line is not None and shot is not None:
            # The name beside an option is whose idea it was, not who judges.
            self._say(better_option(shot.record, line.id), "Say the better option")

    def forget(self) -> None:
        """Take the option in the chosen row away."""
        line, shot = self._line(), self._controller.shot
        if line is not None and shot is not None:
            self._say(forgotten_option(shot.record, line.id), "Forget an option")

    def _say(self, values: dict[Path, object], words: str) -> None:
        row = self.table.currentRow()
        self._controller.say_values(values, words)
        self._fill()
        self.table.selectRow(min(row, self.table.rowCount() - 1))

    def _line(self) -> OptionLine | None:
        row = self.table.currentRow()
        if not 0 <= row < len(self.lines):
            self._tell("Choose an option in the list first.", "bad")
            return None
        return self.lines[row]

    def _tell(self, sentence: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(sentence)

    def _fill(self) -> None:
        lines = self.lines
        self.table.setRowCount(len(lines))
        for row, line in enumerate(lines):
            marks = [name for name, holds in (("played", line.chosen), ("better", line.better)) if holds]
            cells = (
                line.text,
                _percent(line.chance),
                _percent(line.leave),
                _percent(line.worth),
                ", ".join(marks),
            )
            for column, text in enumerate(cells):
                self.table.setItem(row, column, QTableWidgetItem(text))
        self._tell("" if lines else "No option is kept yet.", "plain")
        snapshot, shot = self._controller.snapshot, self._controller.shot
        if snapshot is None or shot is None:
            return
        drawing = options_drawing(snapshot, shot, lines)
        self._area.setVisible(bool(drawing.primitives))
        if drawing.primitives:
            across = min(ACROSS, len(lines))
            svg = sheet_svg(drawing, across)
            image = sheet_image(svg, drawing, self._theme, self._theme.px(280) * across)
            self.picture.setPixmap(QPixmap.fromImage(image))
            self.picture.setAccessibleName(drawing.words)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Delete and self.table.hasFocus():
            self.forget()
            return
        super().keyPressEvent(event)


def _button(text: str, act: object) -> QPushButton:
    button = QPushButton(text)
    button.setAutoDefault(False)
    button.clicked.connect(act)  # type: ignore[arg-type]
    return button


def _percent(share: float | None) -> str:
    return "not known" if share is None else f"{100 * share:.0f} %"
