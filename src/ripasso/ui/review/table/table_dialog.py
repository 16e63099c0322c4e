"""The table of a session: size, pockets, balls and cloth, with the drawing beside the numbers."""

from __future__ import annotations

from dataclasses import replace
from threading import Event

from PyQt6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.measures.levels import LEVELS
from ripasso.core.table import PRESETS, TableSpec
from ripasso.drawing import TableScene
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import word
from ripasso.review.present.measure_words import level_words
from ripasso.review.record.model import Session
from ripasso.review.record.parts import Level
from ripasso.review.table.settings import (
    NUMBERS,
    RANGES,
    SOURCES,
    TableSettings,
    mouth_words,
    set_table,
    settings_of,
)
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.services.background import Background
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, save_or_cancel
from ripasso.ui.widgets.table_view import TableView

NAMES = {
    "length": "Length of the bed",
    "width": "Width of the bed",
    "ball_radius": "Radius of a ball",
    "corner_mouth": "Corner mouth",
    "side_mouth": "Side mouth",
}
OWN = "own"
#: Room for what is told of a table: so many lines, so high.
TOLD_LINES, LINE_PX = 3, 16


class TableDialog(GuidedDialog):
    """Numbers in millimetres; what is kept are the preset's name and what differs from it."""

    place = "holds the table"

    def __init__(
        self,
        theme: Theme,
        controller: ReviewController,
        background: Background,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("The table")
        self._theme, self._controller, self._background = theme, controller, background
        self._stop: Event | None = None
        snapshot = controller.snapshot
        assert snapshot is not None
        self._session: Session = snapshot.head
        now = settings_of(self._session)
        self.preset = _combo("Preset of the table", [(name, word(name)) for name in PRESETS], now.preset)
        self.fields = {name: self._field(name, getattr(now.spec, name)) for name in NUMBERS}
        said = [(None, "not said")]
        self.cloth = _combo("Cloth", [*said, *((n, n) for n in ("slow", "medium", "fast"))], now.cloth)
        self.cushions = _combo(
            tr("Cushions"), [*said, *((n, n) for n in ("dull", "medium", "lively"))], now.cushions
        )
        level = OWN if isinstance(now.level, float) else now.level
        self.from_film = QPushButton("Tell them from the film")
        self.from_film.setAutoDefault(False)
        self.from_film.setToolTip("cloth and cushions by the ways of the balls that were read from the film")
        self.from_film.clicked.connect(self._tell_table)
        self._told = label("", "caption", wrap=True)
        self._told.setMinimumHeight(TOLD_LINES * theme.px(LINE_PX))
        self.level = _combo("Level of play", [*((n, word(n)) for n in LEVELS), (OWN, "an aim spread")], level)
        self.spread = QDoubleSpinBox()
        self.spread.setRange(0.1, 20.0)
        self.spread.setDecimals(2)
        self.spread.setSuffix(" mrad")
        self.spread.setAccessibleName("Aim spread")
        self.spread.setValue(now.level if isinstance(now.level, float) else 1.5)
        self._source, self._mouths = label("", "caption", wrap=True), label("", "caption", wrap=True)
        self._level_words = label("", "caption", wrap=True)
        self.drawing = TableView(theme)
        self._compose()
        self.preset.currentIndexChanged.connect(self._take_preset)
        for field in (*self.fields.values(), self.spread):
            field.valueChanged.connect(lambda _value: self._show())
        self.level.currentIndexChanged.connect(lambda _place: self._show())
        self._show()

    def _field(self, name: str, metres: float) -> QDoubleSpinBox:
        field = QDoubleSpinBox()
        field.setDecimals(2)
        low, high = RANGES[name]
        field.setRange(1000 * low, 1000 * high)
        field.setSuffix(" mm")
        field.setValue(1000 * metres)
        field.setAccessibleName(NAMES[name])
        return field

    def _compose(self) -> None:
        form = QFormLayout()
        form.setVerticalSpacing(4)
        form.addRow("Preset", self.preset)
        form.addRow("", self._source)
        for name, field in self.fields.items():
            form.addRow(NAMES[name], field)
        form.addRow("", self._mouths)
        form.addRow("Cloth", self.cloth)
        form.addRow(tr("Cushions"), self.cushions)
        form.addRow("", self.from_film)
        form.addRow("", self._told)
        form.addRow("Level of play", self.level)
        form.addRow("", self.spread)
        form.addRow("", self._level_words)
        buttons = save_or_cancel(self, "Save", self._keep)
        left = QVBoxLayout()
        left.addWidget(label("The table of this session", "title"))
        left.addLayout(form)
        left.addStretch(1)
        left.addWidget(buttons)
        sheet = QWidget()
        sheet.setLayout(left)
        sheet.setFixedWidth(self._theme.px(400))
        row = QHBoxLayout(self)
        row.setContentsMargins(20, 16, 20, 16)
        row.setSpacing(20)
        row.addWidget(sheet)
        row.addWidget(self.drawing, 1)
        self.resize(self._theme.px(1080), self._theme.px(660))

    def _take_preset(self, _place: int) -> None:
        """Another preset brings its own numbers."""
        spec = PRESETS[self.preset.currentData()]
        for name, field in self.fields.items():
            field.setValue(1000 * getattr(spec, name))
        self._show()

    def wanted(self) -> TableSettings:
        """What the fields say."""
        preset = PRESETS[self.preset.currentData()]
        numbers = {name: field.value() / 1000 for name, field in self.fields.items()}
        # A field shows hundredths of a millimetre; the preset's own number is kept where it shows the same.
        for name, value in numbers.items():
            if abs(value - getattr(preset, name)) < 6e-6:
                numbers[name] = getattr(preset, name)
        level: str | float = self.level.currentData()
        return TableSettings(
            self.preset.currentData(),
            replace(preset, **numbers),  # type: ignore[arg-type]
            self.cloth.currentData(),
            self.cushions.currentData(),
            self.spread.value() if level == OWN else level,
        )

    def _show(self) -> None:
        wanted = self.wanted()
        self._source.setText(SOURCES[wanted.preset])
        spec: TableSpec = wanted.spec
        self._mouths.setText(
            f"Corner {mouth_words(spec.corner_mouth)}, side {mouth_words(spec.side_mouth)}; "
            f"the bed's length is {spec.length / spec.width:.2f} of its width"
        )
        self.spread.setEnabled(self.level.currentData() == OWN)
        level = wanted.level
        said = Level(aim_spread_mrad=level) if isinstance(level, float) else level
        self._level_words.setText(level_words(self._session.model_copy(update={"level": said})))
        self.drawing.show_scene(TableScene(spec))

    def _tell_table(self) -> None:
        """Cloth and cushions by the ways of balls on film, in the background; Save keeps them."""
        snapshot, spec = self._controller.snapshot, self.wanted().spec
        if snapshot is None:
            return
        stop = self._stop = self._background.stoppable()

        def work() -> tuple[str, str, str]:
            from ripasso.review.planner.table_from_film import calibration_cases, told_table

            return told_table(calibration_cases(snapshot), spec, lambda _share: not stop.is_set())

        self.from_film.setEnabled(False)
        self._told.setText("The strokes behind the ways are looked for: a second or two for each shot.")
        self._background.run(work, self._take_told, self._not_told)

    def _take_told(self, told: tuple[str, str, str]) -> None:
        if self._stop is None or self._stop.is_set():
            return  # the dialog is closed
        cloth, cushions, words = told
        self.cloth.setCurrentIndex(self.cloth.findData(cloth))
        self.cushions.setCurrentIndex(self.cushions.findData(cushions))
        self._told.setText(words)
        self._may_tell_again()

    def _not_told(self, error: Exception) -> None:
        if self._stop is None or self._stop.is_set():
            return
        self._may_tell_again()
        if isinstance(error, ValueError):
            self._told.setText(str(error))
        else:
            self._told.clear()
            self._background.report(error)

    def _may_tell_again(self) -> None:
        self.from_film.setEnabled(True)
        self.from_film.setFocus()

    def done(self, result: int) -> None:
        """Closed: what is still being told is not wanted."""
        if self._stop is not None:
            self._stop.set()
        super().done(result)

    def _keep(self) -> None:
        wanted = self.wanted()
        if self._controller.perform_session(lambda snapshot: set_table(snapshot, wanted)):
            self.accept()


def _combo(name: str, choices: list[tuple[str | None, str]], now: str | None) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    for value, text in choices:
        box.addItem(text, value)
    box.setCurrentIndex(max(0, box.findData(now)))
    return box
