"""The dialogs of Review that say something of a break, of missing racks, or of a stretch of film."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ripasso.review.break_sheet import sheet_for
from ripasso.review.measured import MeasureBook
from ripasso.ui.review.break_dialog import BreakDialog
from ripasso.ui.review.gap_dialog import GapDialog
from ripasso.ui.review.stretch_dialog import StretchDialog

if TYPE_CHECKING:
    from ripasso.ui.review.page import ReviewPage


class SheetWork:
    """Opens them for the page it belongs to."""

    def __init__(self, page: ReviewPage, book: MeasureBook) -> None:
        self._page, self._book = page, book

    def break_sheet(self) -> None:
        """What is said of the break in hand, and what was measured of it."""
        snapshot, shot = self._page.desk.snapshot, self._page.desk.shot
        if snapshot is None or shot is None:
            return
        if not sheet_for(snapshot.head.game, shot.record):
            self._page.say("The break sheet belongs to a break; ⇧B says that it was one.")
            return
        measures = self._book.shot(snapshot, shot.key)
        leave = measures.leave if measures else None
        BreakDialog(self._page.theme, self._page.desk, self._page, leave).exec()

    def gap(self) -> None:
        """The film leaves racks out: the score at which it goes on is asked for."""
        snapshot = self._page.desk.snapshot
        if snapshot is None:
            return
        dialog = GapDialog(snapshot, self._page)
        if dialog.exec():
            self._page.desk.gap(dialog.score())

    def begin_stretch(self) -> None:
        """A stretch of film begins here."""
        self._page.film_desk.begin_stretch()
        self._page.refresh()

    def end_stretch(self) -> None:
        """It ends here: what it shows is asked for."""
        ends = self._page.film_desk.end_stretch()
        if ends is not None:
            begun, now = ends
            start_s = begun.t if begun else None
            dialog = StretchDialog(
                self._page.theme, self._page.desk, now.recording, start_s, now.t, self._page
            )
            dialog.exec()
            self._page.refresh()
