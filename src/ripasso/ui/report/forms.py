"""What a report and its chosen page may say: fields beside the page."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QFormLayout,
    QLineEdit,
    QPlainTextEdit,
    QWidget,
)

from ripasso.report.teaching.timeline import STOP_S
from ripasso.review.language.translation import tr
from ripasso.review.record.report import DIAGRAM_WORDS, Report, ReportPage
from ripasso.statistics.pages.pages import OVERVIEW, PAGE_WORDS
from ripasso.store.session_list import SessionLine, told_apart
from ripasso.ui.report.shots_form import ShotsForm

#: Pages of figures that stand alone, without somebody beside.
ALL, NOBODY = "", ""
#: Pages that are of one rack, or may be.
WITH_RACK = ("rack", "sheet", "film")
SPEEDS = ((1.0, "as it was"), (0.5, "half as fast"), (0.25, "a quarter as fast"), (2.0, "twice as fast"))
PAPERS = (("a4", "A4"), ("letter", "Letter"))


class _Text(QPlainTextEdit):
    """Tells when it is left."""

    left = pyqtSignal()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class ReportForm(QWidget):
    """Title, player, sessions, search line, paper; `changed` carries the values that are other now."""

    changed = pyqtSignal(dict)

    def __init__(self) -> None:
        super().__init__()
        self.title, self.search = QLineEdit(), QLineEdit()
        self.search.setPlaceholderText("only shots like this: cut:30-60")
        self.player, self.session, self.paper = _narrow_box(), _narrow_box(), _narrow_box()
        self.grey, self.nameless = QCheckBox("Without colour"), QCheckBox("Without names")
        for paper, words in PAPERS:
            self.paper.addItem(words, paper)
        form = QFormLayout(self)
        form.setContentsMargins(0, 0, 0, 0)
        for words, field in (
            ("Title", self.title),
            ("Player", self.player),
            ("Sessions", self.session),
            ("Search", self.search),
            ("Paper", self.paper),
        ):
            field.setAccessibleName(words)
            form.addRow(words, field)
        form.addRow(self.grey)
        form.addRow(self.nameless)
        self.title.editingFinished.connect(lambda: self._tell("title", self.title.text().strip() or None))
        self.search.editingFinished.connect(lambda: self._tell("search", self.search.text().strip() or None))
        self.player.activated.connect(lambda: self._tell("player", self.player.currentData() or None))
        self.session.activated.connect(self._tell_session)
        self.paper.activated.connect(lambda: self._tell("paper", self.paper.currentData()))
        self.grey.clicked.connect(lambda on: self._tell("grey", True if on else None))
        self.nameless.clicked.connect(lambda on: self._tell("nameless", True if on else None))
        self._report: Report | None = None

    def _tell(self, name: str, value: object) -> None:
        if self._report is None or getattr(self._report, name) == value:
            return
        if name == "title" and value is None:
            self.title.setText(self._report.title)  # a report is never without one
            return
        self.changed.emit({name: value})

    def _tell_session(self) -> None:
        key = self.session.currentData()
        value = [key] if key else None
        now = list(self._report.sessions) if self._report is not None and self._report.sessions else None
        if value != now:
            self.changed.emit({"sessions": value})

    def show_report(
        self, report: Report | None, lines: Sequence[SessionLine], persons: Sequence[tuple[str, str]]
    ) -> None:
        """Show a report with the sessions and players that there are."""
        self._report = report
        self.setEnabled(report is not None)
        names = told_apart((line.key, line.title, line.date) for line in lines)
        _fill(self.player, [("", "everybody"), *persons], (report.player if report else None) or "")
        one = report.sessions[0] if report is not None and report.sessions else ""
        sessions = [("", "all sessions"), *((line.key, names[line.key]) for line in lines)]
        _fill(self.session, sessions, one)
        for field, text in (
            (self.title, report.title if report else ""),
            (self.search, (report.search if report else None) or ""),
        ):
            if field.text() != text:
                field.setText(text)
        self.paper.setCurrentIndex(max(0, self.paper.findData((report.paper if report else None) or "a4")))
        self.grey.setChecked(bool(report and report.grey))
        self.nameless.setChecked(bool(report and report.nameless))


class PageForm(QWidget):
    """What the chosen page takes; `changed` carries the values that are other now."""

    changed = pyqtSignal(dict)

    def __init__(self) -> None:
        super().__init__()
        self._page: ReportPage | None = None
        self._racks: Callable[[str], Sequence[int]] = lambda _session: ()
        self.title, self.text = QLineEdit(), _Text()
        self.text.setTabChangesFocus(True)
        self.text.setPlaceholderText("what you say above the page")
        self.text.setFixedHeight(5 * self.text.fontMetrics().lineSpacing() + 12)
        self.session, self.rack = _narrow_box(), _narrow_box()
        self.figures, self.second = _narrow_box(), _narrow_box()
        self.search, self.stop = QLineEdit(), QDoubleSpinBox()
        self.search.setPlaceholderText("and what this finds")
        self.stop.setRange(0, 60)
        self.stop.setSingleStep(0.5)
        self.stop.setDecimals(1)
        self.stop.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        self.stop.setSuffix(" s")
        self.speed, self.diagram = _narrow_box(), _narrow_box()
        _fill(self.speed, SPEEDS, 1.0)
        _fill(self.diagram, DIAGRAM_WORDS, "")
        self.titles = QCheckBox("A title before each scene")
        self.shots = ShotsForm()
        for name, words in PAGE_WORDS.items():
            if name != OVERVIEW:
                self.figures.addItem(tr(words), name)
        # Which kinds of pages have which fields.
        self._rows: dict[QWidget, Sequence[str]] = {
            self.session: ("course", *WITH_RACK),
            self.rack: WITH_RACK,
            self.figures: ("figures",),
            self.second: ("figures",),
            **dict.fromkeys((self.search, self.stop, self.speed, self.diagram, self.titles), ("film",)),
            self.shots: ("shots", "film"),
        }
        self._form = QFormLayout(self)
        self._form.setContentsMargins(0, 0, 0, 0)
        for words, field in (
            ("Title", self.title),
            ("Words", self.text),
            ("Session", self.session),
            ("Rack", self.rack),
            ("Figures", self.figures),
            ("Beside", self.second),
            ("Search", self.search),
            ("Stops", self.stop),
            ("Speed", self.speed),
            ("Table", self.diagram),
        ):
            field.setAccessibleName(f"{words} of the page")
            self._form.addRow(words, field)
        self._form.addRow(self.titles)
        self._form.addRow(self.shots)
        self.title.editingFinished.connect(lambda: self._tell("title", self.title.text().strip() or None))
        self.text.left.connect(lambda: self._tell("text", self.text.toPlainText().strip() or None))
        self.session.activated.connect(self._tell_session)
        self.rack.activated.connect(lambda: self._tell("rack", self.rack.currentData()))
        self.figures.activated.connect(lambda: self._tell("figures", self.figures.currentData()))
        self.second.activated.connect(lambda: self._tell("second", self.second.currentData() or None))
        self.search.editingFinished.connect(lambda: self._tell("search", self.search.text().strip() or None))
        self.stop.editingFinished.connect(lambda: self._tell("stop_s", self.stop.value()))
        self.speed.activated.connect(lambda: self._tell("speed", self.speed.currentData()))
        self.diagram.activated.connect(lambda: self._tell("diagram", self.diagram.currentData() or None))
        self.titles.clicked.connect(lambda on: self._tell("titles", True if on else None))
        self.shots.changed.connect(lambda shots: self.changed.emit({"shots": shots}))

    def _tell(self, name: str, value: object) -> None:
        if self._page is not None and getattr(self._page, name) != value:
            self.changed.emit({name: value})

    def _tell_session(self) -> None:
        key = self.session.currentData() or None
        racks = self._racks(key) if key else ()
        if self._page is not None and self._page.session != key:
            has_rack = self._page.kind in WITH_RACK
            self.changed.emit({"session": key, "rack": racks[0] if racks and has_rack else None})

    def show_page(
        self,
        page: ReportPage | None,
        lines: Sequence[SessionLine],
        persons: Sequence[tuple[str, str]],
        racks: Callable[[str], Sequence[int]],
    ) -> None:
        """Show a page; `racks` gives the numbers of a session's racks."""
        self._page, self._racks = page, racks
        self.setEnabled(page is not None)
        kind = page.kind if page is not None else ""
        for field, kinds in self._rows.items():
            self._form.setRowVisible(field, kind in kinds)
        if page is None:
            return
        if self.title.text() != (page.title or ""):
            self.title.setText(page.title or "")
        if self.text.toPlainText().strip() != (page.text or ""):
            self.text.setPlainText(page.text or "")
        names = told_apart((line.key, line.title, line.date) for line in lines)
        sessions = [(one.key, names[one.key]) for one in lines if one.racks]
        nothing = [(NOBODY, "no whole rack")] if page.kind == "film" else []
        _fill(self.session, [*nothing, *sessions], page.session or "")
        numbers = racks(page.session) if page.session else ()
        _fill(self.rack, [(number, f"rack {number}") for number in numbers], page.rack)
        self.figures.setCurrentIndex(max(0, self.figures.findData(page.figures or "potting")))
        _fill(self.second, [(NOBODY, "nobody"), *persons], page.second or NOBODY)
        if self.search.text() != (page.search or ""):
            self.search.setText(page.search or "")
        self.stop.setValue(STOP_S if page.stop_s is None else float(page.stop_s))
        self.speed.setCurrentIndex(max(0, self.speed.findData(float(page.speed or 1))))
        self.diagram.setCurrentIndex(max(0, self.diagram.findData(page.diagram or "")))
        self.titles.setChecked(bool(page.titles))
        self.shots.show_shots(page.shots or (), names, is_film=page.kind == "film")


def _narrow_box() -> QComboBox:
    """A box that is as wide as there is room, however long a title in it is."""
    box = QComboBox()
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(8)
    return box


def _fill(box: QComboBox, items: Sequence[tuple[object, str]], chosen: object) -> None:
    box.clear()
    for key, text in items:
        box.addItem(text, key)
    box.setCurrentIndex(max(0, box.findData(chosen)))
