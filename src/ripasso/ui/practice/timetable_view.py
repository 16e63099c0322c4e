"""Four weeks of practice: the days with their parts; an exercise is moved, or dragged, to another day."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QDropEvent, QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QSpinBox,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.practice.timetable import WEEK, PlannedSession, Timetable
from ripasso.review.practice.calendar import day_words, slot_lines
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel

DAY_ROLE, EXERCISE_ROLE = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1
REASONS = {
    "too_long": "takes longer than a session has room for",
    "no_room": "finds no room in these weeks",
    "no_day": "has no day: choose one above",
}
HELP = "Drag an exercise to another day, or Alt ↑ ↓: it is due then. Ctrl E saves a calendar file."


class DaysTree(QTreeWidget):
    """Days with their parts; `moved` brings an exercise and its new day."""

    moved = pyqtSignal(str, date)

    def __init__(self) -> None:
        super().__init__()
        self.setHeaderHidden(True)
        self.setAccessibleName("Timetable")
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)

    def dropEvent(self, event: QDropEvent | None) -> None:
        """What is dropped on a day is due then; the tree itself is drawn anew from the plan."""
        item = self.currentItem()
        target = self.itemAt(event.position().toPoint()) if event is not None else None
        if item is not None and target is not None:
            self.move_item(item, (target.parent() or target).data(0, DAY_ROLE))
        if event is not None:
            event.ignore()

    def move_item(self, item: QTreeWidgetItem, day: date | None) -> None:
        """Tell that an exercise belongs to a day."""
        name = item.data(0, EXERCISE_ROLE)
        if name and day is not None:
            self.moved.emit(name, day)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key())) if event is not None else None
        if event is not None and by is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self._move_by(by)
            return
        super().keyPressEvent(event)

    def _move_by(self, by: int) -> None:
        item = self.currentItem()
        parent = item.parent() if item is not None else None
        if item is None or parent is None:
            return
        other = self.topLevelItem(self.indexOfTopLevelItem(parent) + by)
        if other is not None:
            self.move_item(item, other.data(0, DAY_ROLE))


class TimetableView(QWidget):
    """Shows a timetable; `timed` brings other minutes and days."""

    timed = pyqtSignal(int, tuple)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._showing = False
        self.minutes = QSpinBox()
        self.minutes.setRange(10, 300)
        self.minutes.setSingleStep(5)
        self.minutes.setSuffix(" min")
        self.minutes.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.minutes.setAccessibleName("Minutes a day")
        self.minutes.editingFinished.connect(self._tell)
        self.days = {day: QCheckBox(day.capitalize()) for day in WEEK}
        self.tree = DaysTree()
        self.left_out = label("", "warning", wrap=True)
        top = QHBoxLayout()
        top.addWidget(label("Time for practice"))
        top.addWidget(self.minutes)
        for box in self.days.values():
            box.clicked.connect(self._tell)
            top.addWidget(box)
        top.addStretch(1)
        column = QVBoxLayout()
        column.addLayout(top)
        column.addWidget(self.tree, 1)
        column.addWidget(self.left_out)
        column.addWidget(label(HELP, "caption", wrap=True))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(panel(column))

    def _tell(self) -> None:
        if not self._showing:
            self.timed.emit(
                self.minutes.value(), tuple(day for day, box in self.days.items() if box.isChecked())
            )

    def show_timetable(
        self,
        found: Timetable,
        titles: Mapping[str, str],
        minutes: int,
        days: tuple[str, ...],
        done: Mapping[date, set[str]],
    ) -> None:
        """Show sessions; what was played on its day is ticked."""
        self._showing = True
        self.minutes.setValue(minutes)
        for day, box in self.days.items():
            box.setChecked(day in days)
        self._showing = False
        self.tree.clear()
        for session in found.sessions:
            self.tree.addTopLevelItem(_day_item(session, titles, done.get(session.day, set())))
        self.tree.expandAll()
        said = [f"{titles.get(name, name)} {REASONS[reason]}." for name, reason in found.left_out]
        self.left_out.setText("\n".join(said))
        self.left_out.setVisible(bool(said))


def _day_item(session: PlannedSession, titles: Mapping[str, str], done: set[str]) -> QTreeWidgetItem:
    item = QTreeWidgetItem([f"{day_words(session.day)}   {session.minutes} min"])
    item.setData(0, DAY_ROLE, session.day)
    for slot, line in zip(session.slots, slot_lines(session, titles), strict=True):
        is_done = slot.what == "exercise" and slot.exercise in done
        part = QTreeWidgetItem([f"✓ {line}" if is_done else line])
        part.setData(0, EXERCISE_ROLE, slot.exercise if slot.what == "exercise" else None)
        item.addChild(part)
    return item
