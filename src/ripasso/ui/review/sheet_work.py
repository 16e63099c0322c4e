"""The dialogs of Review that say something of a break, of missing racks, or of a stretch of film."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from ripasso.review.break_sheet import sheet_for
from ripasso.review.command import Command
from ripasso.review.rearranging import change_visit, insert_shot, merge_racks, move_boundary, split_rack
from ripasso.review.snapshot import Snapshot
from ripasso.ui.review.break_dialog import BreakDialog
from ripasso.ui.review.gap_dialog import GapDialog
from ripasso.ui.review.options_dialog import OptionsDialog
from ripasso.ui.review.parts import Parts
from ripasso.ui.review.rack_dialog import RackDialog
from ripasso.ui.review.second_dialog import SecondDialog
from ripasso.ui.review.stretch_dialog import StretchDialog
from ripasso.ui.review.whole_slip import WholeSlip

#: What can be done to racks and visits, each one step of undo.
REARRANGED: tuple[tuple[str, Callable[[Snapshot, str], Command]], ...] = (
    ("a new rack begins here", split_rack),
    ("this rack begins here; shots before it belong to the rack before", move_boundary),
    ("this rack and the one before are one", merge_racks),
    ("a shot was not marked, before this one", insert_shot),
    ("the whole visit was the other player's", change_visit),
)


class SheetWork:
    """Opens them for the page it belongs to."""

    def __init__(self, parts: Parts) -> None:
        self._parts = parts

    def break_sheet(self) -> None:
        """What is said of the break in hand, and what was measured of it."""
        snapshot, shot = self._parts.desk.snapshot, self._parts.desk.shot
        if snapshot is None or shot is None:
            return
        if not sheet_for(snapshot.head.game, shot.record):
            self._parts.say("The break sheet belongs to a break; ⇧B says that it was one.")
            return
        measures = self._parts.workspace.measures.shot(snapshot, shot.key)
        leave = measures.leave if measures else None
        BreakDialog(self._parts.theme, self._parts.desk, self._parts.window, leave).exec()

    def whole_slip(self) -> None:
        """Everything that can be said of the shot in hand."""
        if self._parts.desk.shot is None:
            self._parts.say("No shot is in hand; F marks a strike and begins one.")
            return
        WholeSlip(self._parts.theme, self._parts.desk, self._parts.window).exec()

    def options(self) -> None:
        """Other shots that could be played, weighed."""
        if self._parts.desk.shot is None:
            self._parts.say("No shot is in hand; F marks a strike and begins one.")
            return
        reviewer = self._parts.workspace.settings.get("reviewer")
        OptionsDialog(self._parts.theme, self._parts.desk, self._parts.pictures, reviewer).exec()
        self._parts.refresh()

    def rack_sheet(self) -> None:
        """The rack in hand as a story."""
        if self._parts.desk.rack is None:
            self._parts.say("No rack is in hand.")
            return
        workspace = self._parts.workspace
        RackDialog(
            self._parts.theme,
            self._parts.desk,
            workspace.measures,
            workspace.settings.get("reviewer"),
            self._parts.window,
        ).exec()

    def second(self) -> None:
        """Comments, and what a second reviewer finds."""
        if self._parts.desk.shot is None:
            self._parts.say("No shot is in hand; F marks a strike and begins one.")
            return
        reviewer = self._parts.workspace.settings.get("reviewer")
        SecondDialog(self._parts.theme, self._parts.desk, reviewer, self._parts.window).exec()

    def rearrange(self) -> QMenu | None:
        """Offer what can be done to racks and visits at the shot in hand."""
        shot = self._parts.desk.shot
        if shot is None:
            self._parts.say("No shot is in hand; F marks a strike and begins one.")
            return None
        menu = QMenu(self._parts.window)
        menu.addSection("From this shot on")
        for number, (text, build) in enumerate(REARRANGED, start=1):
            action = menu.addAction(f"&{number}  {text}")
            if action is not None:
                action.triggered.connect(partial(self._do, build, shot.key))
        menu.popup(self._parts.shots.ribbon.mapToGlobal(QPoint(16, 8)))
        return menu

    def _do(self, build: Callable[[Snapshot, str], Command], shot: str, _checked: bool = False) -> None:
        self._parts.desk.perform_session(lambda now: build(now, shot))

    def gap(self) -> None:
        """The film leaves racks out: the score at which it goes on is asked for."""
        snapshot = self._parts.desk.snapshot
        if snapshot is None:
            return
        dialog = GapDialog(snapshot, self._parts.window)
        if dialog.exec():
            self._parts.desk.gap(dialog.score())

    def begin_stretch(self) -> None:
        """A stretch of film begins here."""
        self._parts.film_desk.begin_stretch()
        self._parts.refresh()

    def end_stretch(self) -> None:
        """It ends here: what it shows is asked for."""
        ends = self._parts.film_desk.end_stretch()
        if ends is not None:
            begun, now = ends
            start_s = begun.t if begun else None
            dialog = StretchDialog(
                self._parts.theme, self._parts.desk, now.recording, start_s, now.t, self._parts.window
            )
            dialog.exec()
            self._parts.refresh()
