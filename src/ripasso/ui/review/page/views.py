"""The views of Review in one place: the shots, the match, the search, a shot played again."""

from __future__ import annotations

from PyQt6.QtWidgets import QStackedWidget, QWidget

from ripasso.ui.review.again.again_controller import AgainController
from ripasso.ui.review.again.again_page import AgainPage
from ripasso.ui.review.find.find_page import FindPage
from ripasso.ui.review.page.navigation import Navigation
from ripasso.ui.review.rack.match_page import MatchPage
from ripasso.ui.review.shared.context import ReviewContext

#: Keys that hold in every view.
ALWAYS = ("match", "find", "again", "found_next", "found_previous", "export")


class ReviewViews(QStackedWidget):
    """Switches between the views; keys of a shot hold only while the shots are seen."""

    def __init__(
        self,
        context: ReviewContext,
        navigation: Navigation,
        match: MatchPage,
        find: FindPage,
        again: tuple[AgainPage, AgainController],
    ) -> None:
        super().__init__()
        self._context, self._navigation = context, navigation
        self._match, self._find = match, find
        self._again, self._attempts = again
        self._attempts.emptied.connect(self._leave_again)
        for view in (context.shots, match, find, self._again):
            self.addWidget(view)
        match.opened.connect(self.open_shot)

    def is_seen(self, view: QWidget) -> bool:
        """Whether this view is the one on screen."""
        return self.currentWidget() is view

    def toggle_match(self) -> None:
        """The match page in the place of the shots, and back."""
        snapshot = self._context.controller.snapshot
        if self.is_seen(self._match):
            self.back_to_shots()
        elif snapshot is not None:
            self._match.refresh(snapshot)
            self._show(self._match)
            self._match.racks.setFocus()

    def toggle_find(self) -> None:
        """The search in the place of the shots, and back; it looks through every session."""
        if self.is_seen(self._find):
            self.back_to_shots()
        else:
            self._show(self._find)
            self._find.begin()

    def _leave_again(self, _nothing: None) -> None:
        if self.is_seen(self._again):
            self.toggle_again()

    def toggle_again(self) -> None:
        """The shot in hand played again, in the place of the shots; and back."""
        if self.is_seen(self._again):
            self.back_to_shots()
        elif self._attempts.begin():
            self.show_again()

    def show_again(self) -> None:
        """The attempts that are in hand, in the place of the shots."""
        self._show(self._again)
        self._again.setFocus()

    def show_shots(self) -> None:
        """Show the shots; the focus stays where it is."""
        self._show(self._context.shots)

    def back_to_shots(self) -> None:
        """Show the shots, with the keys for them."""
        self.show_shots()
        self._context.window.setFocus()

    def open_shot(self, shot: str) -> None:
        """A shot of the session in hand, with the film at its strike."""
        self.show_shots()
        self._navigation.go_to(shot)
        self._context.window.setFocus()

    def leave_escape(self) -> None:
        """Escape is the tool's only while one is in hand: a note has its own use for it."""
        holds = self.is_seen(self._context.shots) and not self._context.pictures.looking
        self._context.actions["put_down"].setEnabled(holds)

    def _show(self, view: QWidget) -> None:
        """Nothing is said of a shot behind another view."""
        self.setCurrentWidget(view)
        actions, shots = self._context.actions, self.is_seen(self._context.shots)
        for spec in actions.specs:
            actions[spec.id].setEnabled(shots or spec.id in ALWAYS)
        self.leave_escape()
