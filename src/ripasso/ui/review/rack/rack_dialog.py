"""The rack sheet: the plan as a chain on the table, planned beside played, root and making shot, the lesson.

One line takes everything that is said of a rack; see `review.entry.rack_words`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.table import table_spec
from ripasso.core.table.places import Place
from ripasso.drawing import TableScene
from ripasso.drawing.chain import chain, landings
from ripasso.review.document.edits import Path, set_values, with_values
from ripasso.review.document.snapshot import RackRow
from ripasso.review.entry.rack_words import EXAMPLES, parse_rack, rack_values
from ripasso.review.language.parsing import NotAWord
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import rack_word, sentence
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.measuring.errors import rack_errors
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.present.rack_sheet import RackSheet, fault_words, rack_sheet
from ripasso.review.record.model import RackPlan
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.rack.plans_grid import PlansGrid
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, scrolling, set_property
from ripasso.ui.widgets.table_view import TableView


class RackDialog(GuidedDialog):
    """Works on the rack of the shot in hand; every Return is one step of undo."""

    place = "The rack sheet."

    def __init__(
        self,
        theme: Theme,
        controller: ReviewController,
        book: MeasureCache,
        reviewer: str = "",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._theme, self._controller, self._book, self._reviewer = theme, controller, book, reviewer
        snapshot, rack = controller.snapshot, controller.rack
        what = rack_word(snapshot.head.game if snapshot else None)
        number = rack.record.number if rack else 0
        self.setWindowTitle(f"Sheet of {what} {number}")
        self._make_parts()
        self._compose()
        self.resize(theme.px(1120), theme.px(620))
        self._refresh()
        self._tell(f"Such as: {tr(EXAMPLES[0])}; {EXAMPLES[-1]}", "plain")
        self.line.setFocus()

    def _make_parts(self) -> None:
        self.line = QLineEdit()
        self.line.setAccessibleName("The rack in words")
        self.line.setPlaceholderText(
            "order 1 2 3 8; group solids because four are open; 6 trouble; lesson ..."
        )
        self.line.returnPressed.connect(self.keep)
        self.told = label("", "caption", wrap=True)
        self.table = TableView(self._theme)
        self.table.setMinimumSize(self._theme.px(480), self._theme.px(260))
        self.backwards = QCheckBox("Count from the last ball")
        self.backwards.toggled.connect(lambda _on: self._draw())
        self.confirm = QPushButton("It began there")
        self.confirm.clicked.connect(self._confirm_root)
        self.made = QPushButton("It was made there")
        self.made.clicked.connect(self._confirm_making)
        for button in (self.confirm, self.made):
            button.setAutoDefault(False)
        self._story = label("", wrap=True)
        self._roots, self._makes = label("", wrap=True), label("", wrap=True)
        self._plans = PlansGrid()
        self._faults = label("", wrap=True)

    def _words_column(self) -> QWidget:
        """What is said of the rack, each part below its title and beside its button."""
        words = QWidget()
        column = QVBoxLayout(words)
        column.setContentsMargins(14, 12, 14, 12)
        column.setSpacing(10)
        for title, part, button in (
            ("Roles and lesson", self._story, None),
            ("Planned and played", self._plans, None),
            ("Where it was lost", self._roots, self.confirm),
            ("Where it was made", self._makes, self.made),
            ("The same fault elsewhere", self._faults, None),
        ):
            head = QHBoxLayout()
            head.addWidget(label(title, "title"), 1)
            if button is not None:
                head.addWidget(button)
            column.addLayout(head)
            column.addWidget(part)
        column.addStretch(1)
        return words

    def _compose(self) -> None:
        left = QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addWidget(self.backwards)
        middle = QHBoxLayout()
        middle.setSpacing(16)
        middle.addLayout(left, 3)
        middle.addWidget(scrolling(self._words_column()), 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(10)
        layout.addLayout(middle, 1)
        layout.addWidget(self.told)
        layout.addWidget(self.line)

    @property
    def sheet(self) -> RackSheet | None:
        """What the sheet says."""
        snapshot, rack = self._controller.snapshot, self._controller.rack
        if snapshot is None or rack is None:
            return None
        measured = self._book.rack(snapshot, rack)
        errors = rack_errors(rack.complete, self._controller.rack_score, measured)
        return rack_sheet(snapshot.session, rack.complete, self._controller.rack_score, errors)

    def keep(self) -> None:
        """Say what stands in the line."""
        rack, shot = self._controller.rack, self._controller.shot
        if rack is None or not self.line.text().strip():
            self.accept()
            return
        try:
            words = parse_rack(self.line.text())
            head = self._controller.snapshot.head if self._controller.snapshot else None
            assert head is not None
            number = shot.record.number if shot else None
            values = rack_values(head, rack.record, words, number, self._reviewer)
        except NotAWord as error:
            self._tell(str(error), "bad")
            return
        said_already = with_values(rack.record, values) == rack.record
        if said_already or self._set(values, "Say it of the rack"):
            self.line.clear()
            done = "That was said already." if said_already else "Kept."
            self._tell(f"{done} An empty line closes the sheet.", "good")

    def _set(self, values: dict[Path, object], words: str) -> bool:
        rack = self._controller.rack
        if rack is None or not values:
            return False
        done = self._controller.perform_session(lambda now: set_values(now, "rack", rack.key, values, words))
        self._refresh()
        return done

    def _confirm_root(self) -> None:
        sheet = self.sheet
        if sheet is not None and sheet.root_suggested is not None:
            self._set({("root_shot",): sheet.root_suggested}, "Say where the rack was lost")

    def _confirm_making(self) -> None:
        sheet = self.sheet
        if sheet is not None and sheet.making_suggested is not None:
            self._set({("making_shot",): sheet.making_suggested}, "Say what made the rack")

    def _tell(self, text: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(text)

    def _refresh(self) -> None:
        sheet = self.sheet
        if sheet is None:
            return
        roles = ". ".join(sheet.roles) or "No ball has a role"
        said = [f" Said of racks not shown: {line}." for line in sheet.stated]
        lesson = f" Lesson: {sheet.lesson}" if sheet.lesson else ""
        self._story.setText(f"{roles}.{''.join(said)}{lesson}")
        self._plans.show_plans(sheet.plans)
        self._roots.setText(_place_words(sheet.root_shot, sheet.root_suggested, "Nothing failed here."))
        self.confirm.setVisible(sheet.root_suggested not in (None, sheet.root_shot))
        self._makes.setText(
            _place_words(sheet.making_shot, sheet.making_suggested, "Nobody has won it in one visit.")
        )
        self.made.setVisible(sheet.making_suggested not in (None, sheet.making_shot))
        faults = [sentence(fault_words(fault)) for fault in sheet.faults]
        self._faults.setText("\n".join(faults) or "No cause stands in two racks of this session.")
        self._draw()

    def _draw(self) -> None:
        snapshot, rack = self._controller.snapshot, self._controller.rack
        if snapshot is None or rack is None:
            return
        spec = table_spec(snapshot.head.table)
        plans = rack.record.plans or ()
        plan = plans[-1] if plans else None
        layout = _layout_of(rack, plan)
        balls = {ball: (float(p[0]), float(p[1])) for ball, p in (layout or {}).items()}
        order = [
            (one.ball, one.pocket, core_zone(one.zone, balls, spec) if one.zone is not None else None)
            for one in (plan.order if plan else None) or ()
            if one.ball is not None
        ]
        under, over = chain(spec, balls, order, backwards=self.backwards.isChecked())
        planned = [one.ball for one in (plan.order if plan else None) or ()]
        over = (*over, *landings(spec, _rests(rack, planned)))
        note = "" if balls else "Where the balls lay is not recorded"
        self.table.show_scene(TableScene(spec, balls, under=under, over=over, note=note))


def _layout_of(rack: RackRow, plan: RackPlan | None) -> Mapping[str, Sequence[float]] | None:
    """The layout that a plan was made for: of its shot, else the first after the break, else the rack's."""
    layout = rack.record.layout
    since = (plan.made_at_shot if plan else None) or 1
    wanted = 2 if plan and not plan.made_at_shot else since
    for shot in rack.shots:
        if shot.record.before and (shot.record.number >= since or layout is None):
            layout = shot.record.before
            if shot.record.number >= wanted:
                break
    return layout


def _rests(rack: RackRow, planned: Sequence[str | None]) -> list[tuple[int, Place]]:
    """Where the cue ball came to rest after each planned ball fell, with the number of its shot."""
    found = []
    for shot in rack.shots:
        record = shot.record
        cue = (record.after or {}).get("cue")
        fallen = {pot.ball for pot in (record.facts.potted if record.facts else None) or ()}
        if cue is not None and fallen & set(planned):
            found.append((record.number, (float(cue[0]), float(cue[1]))))
    return found


def _place_words(said: int | None, suggested: int | None, nothing: str) -> str:
    if said is not None:
        return f"At shot {said}, as said."
    return f"Suggested: shot {suggested}." if suggested is not None else nothing
