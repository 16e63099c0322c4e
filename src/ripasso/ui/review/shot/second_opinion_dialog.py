"""Comments with names, and a second reviewer's findings beside the first's, with how far both agree."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QVBoxLayout, QWidget

from ripasso.review.document.edits import Path
from ripasso.review.entry.second_opinion import (
    Agreement,
    agreement,
    reviewers,
    second_words,
    with_comment,
    with_second,
    without_comment,
)
from ripasso.review.entry.tagging import Context, NotUnderstood
from ripasso.review.language.parsing import NotAWord, parse
from ripasso.review.present.describing import shot_title
from ripasso.review.record.proposals import without_proposals
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, set_property


class SecondDialog(GuidedDialog):
    """Works on the shot in hand; every Return is one step of undo, Delete takes the chosen comment away."""

    place = "Comments and a second reviewer."

    def __init__(
        self, theme: Theme, controller: ReviewController, reviewer: str = "", parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Comments and second findings")
        self._controller = controller
        self.by = QLineEdit(reviewer)
        self.by.setAccessibleName("Who says it")
        self.by.setPlaceholderText("who says it")
        self.by.textChanged.connect(lambda _text: self._show_agreement())
        self.comment = QLineEdit()
        self.comment.setAccessibleName("A comment")
        self.comment.setPlaceholderText("a comment; Return keeps it")
        self.comment.returnPressed.connect(self.keep_comment)
        self.finding = QLineEdit()
        self.finding.setAccessibleName("A second finding, in words")
        self.finding.setPlaceholderText("what the second reviewer finds: lost, long, wrong side, other shot")
        self.finding.returnPressed.connect(self.keep_finding)
        self.comments = QListWidget()
        self.comments.setAccessibleName("Comments on the shot")
        self.comments.setToolTip("Delete takes the chosen comment away")
        delete = QShortcut(QKeySequence(QKeySequence.StandardKey.Delete), self.comments)
        delete.setContext(Qt.ShortcutContext.WidgetShortcut)
        delete.activated.connect(self.delete_comment)
        self._seconds, self._agreed = label("", wrap=True), label("", wrap=True)
        self.told = label("", "caption", wrap=True)
        shot, snapshot = controller.shot, controller.snapshot
        title = (
            shot_title(shot.record, controller.shot_score, snapshot.head.game) if shot and snapshot else ""
        )
        row = QHBoxLayout()
        row.addWidget(label(title, "title"), 1)
        row.addWidget(self.by)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(8)
        layout.addLayout(row)
        for heading, part in (
            ("Comments", self.comments),
            ("", self.comment),
            ("Second findings on this shot", self._seconds),
            ("", self.finding),
            ("How far both agree, over this session", self._agreed),
            ("", self.told),
        ):
            if heading:
                layout.addWidget(label(heading, "title"))
            layout.addWidget(part)
        self.resize(theme.px(620), theme.px(520))
        self._refresh()
        (self.comment if reviewer else self.by).setFocus()

    def keep_comment(self) -> None:
        """Keep what is written as a comment."""
        shot, text = self._controller.shot, self.comment.text().strip()
        if shot is not None and text:
            self._say(with_comment(shot.record, self.by.text().strip(), text), "Comment on a shot")
            self.comment.clear()

    def delete_comment(self) -> None:
        """Take the chosen comment away."""
        shot, row = self._controller.shot, self.comments.currentRow()
        if shot is not None and row >= 0:
            self._say(without_comment(shot.record, row), "Delete a comment")

    def keep_finding(self) -> None:
        """Keep what the second reviewer finds."""
        shot, snapshot, by = self._controller.shot, self._controller.snapshot, self.by.text().strip()
        if shot is None or snapshot is None or not self.finding.text().strip():
            return
        if not by:
            self._tell(
                "Say first who finds it: the first reviewer's findings are entered with the keys.", "bad"
            )
            return
        context = Context(without_proposals(shot.record), snapshot.head.game, self._controller.shot_score)
        try:
            values = with_second(context, by, parse(self.finding.text()))
        except (NotAWord, NotUnderstood) as error:
            self._tell(str(error), "bad")
            return
        self._say(values, f"Findings of {by}")
        self.finding.clear()

    def _say(self, values: dict[Path, object], words: str) -> None:
        self._controller.say_values(values, words)
        self._tell("Kept.", "good")
        self._refresh()

    def _tell(self, text: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(text)

    def _refresh(self) -> None:
        shot = self._controller.shot
        if shot is None:
            return
        self.comments.clear()
        for one in shot.record.comments or ():
            who = f"{one.by}, " if one.by else ""
            self.comments.addItem(f"{who}{one.at or ''}: {one.text or ''}")
        lines = [f"{one.by or 'somebody'}: {second_words(one)}" for one in shot.record.others or ()]
        self._seconds.setText("\n".join(lines) or "Nobody else has judged this shot.")
        self._show_agreement()

    def _show_agreement(self) -> None:
        snapshot, by = self._controller.snapshot, self.by.text().strip()
        if snapshot is None:
            return
        names = [by] if by in reviewers(snapshot.session) else list(reviewers(snapshot.session))
        lines = [
            f"{name}: {_agreed_words(one)}" for name in names for one in agreement(snapshot.session, name)
        ]
        self._agreed.setText("\n".join(lines) or "No shot was judged by both.")


def _agreed_words(one: Agreement) -> str:
    same = one.same
    share = f"{100 * (same.rate or 0):.0f} % ({100 * (same.low or 0):.0f} to {100 * (same.high or 0):.0f} %)"
    beyond = "" if one.kappa is None else f", beyond chance {one.kappa:.2f}"
    return f"{one.finding} {same.made} of {same.of}, {share}{beyond}"
