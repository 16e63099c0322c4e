"""The dialogs of Review that say something of a break, of missing racks, or of a stretch of film."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from ripasso.report.shot_sheet import rack_drawing
from ripasso.review.document.command import Command
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.break_sheet import sheet_for
from ripasso.review.entry.rearranging import change_visit, insert_shot, merge_racks, move_boundary, split_rack
from ripasso.ui.review.film.stretch_dialog import StretchDialog
from ripasso.ui.review.rack.break_dialog import BreakDialog
from ripasso.ui.review.rack.rack_dialog import RackDialog
from ripasso.ui.review.rack.rack_start_dialog import RackStartDialog
from ripasso.ui.review.rack.shot_sheet_dialog import ShotSheetDialog
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.shot.options_dialog import OptionsDialog
from ripasso.ui.review.shot.second_opinion_dialog import SecondDialog
from ripasso.ui.review.shot.whole_slip import WholeSlip
from ripasso.ui.widgets.basics import pop_up, run_dialog

#: What can be done to racks and visits, each one step of undo.
REARRANGED: tuple[tuple[str, Callable[[Snapshot, str], Command]], ...] = (
    ("a new rack begins here", split_rack),
    ("this rack begins here; shots before it belong to the rack before", move_boundary),
    ("this rack and the one before are one", merge_racks),
    ("a shot was not marked, before this one", insert_shot),
    ("the whole visit was the other player's", change_visit),
)


class DialogController:
    """Opens them for the page it belongs to."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context

    def break_sheet(self) -> None:
        """What is said of the break in hand, and what was measured of it."""
        snapshot, shot = self._context.controller.snapshot, self._context.controller.shot
        if snapshot is None or shot is None:
            return
        if not sheet_for(snapshot.head.game, shot.record):
            self._context.say("The break sheet belongs to a break; ⇧B says that it was one.")
            return
        measures = self._context.workspace.measures.shot(snapshot, shot.key)
        leave = measures.leave if measures else None
        run_dialog(BreakDialog(self._context.theme, self._context.controller, self._context.window, leave))

    def whole_slip(self) -> None:
        """Everything that can be said of the shot in hand."""
        if self._context.controller.shot is None:
            self._context.say("No shot is in hand; F marks a strike and begins one.")
            return
        run_dialog(WholeSlip(self._context.theme, self._context.controller, self._context.window))

    def options(self) -> None:
        """Other shots that could be played, weighed."""
        if self._context.controller.shot is None:
            self._context.say("No shot is in hand; F marks a strike and begins one.")
            return
        reviewer = self._context.workspace.settings.get("reviewer")
        run_dialog(
            OptionsDialog(self._context.theme, self._context.controller, self._context.pictures, reviewer)
        )
        self._context.refresh()

    def rack_sheet(self) -> None:
        """The rack in hand as a story."""
        if self._context.controller.rack is None:
            self._context.say("No rack is in hand.")
            return
        workspace = self._context.workspace
        run_dialog(
            RackDialog(
                self._context.theme,
                self._context.controller,
                workspace.measures,
                workspace.settings.get("reviewer"),
                self._context.window,
            )
        )

    def second(self) -> None:
        """Comments, and what a second reviewer finds."""
        if self._context.controller.shot is None:
            self._context.say("No shot is in hand; F marks a strike and begins one.")
            return
        reviewer = self._context.workspace.settings.get("reviewer")
        run_dialog(
            SecondDialog(self._context.theme, self._context.controller, reviewer, self._context.window)
        )

    def rearrange(self) -> QMenu | None:
        """Offer what can be done to racks and visits at the shot in hand."""
        shot = self._context.controller.shot
        if shot is None:
            self._context.say("No shot is in hand; F marks a strike and begins one.")
            return None
        menu = QMenu(self._context.window)
        menu.addSection("From this shot on")
        for number, (text, build) in enumerate(REARRANGED, start=1):
            action = menu.addAction(f"&{number}  {text}")
            if action is not None:
                action.triggered.connect(partial(self._do, build, shot.key))
        pop_up(menu, self._context.shots.ribbon.mapToGlobal(QPoint(16, 8)))
        return menu

    def _do(self, build: Callable[[Snapshot, str], Command], shot: str, _checked: bool = False) -> None:
        self._context.controller.perform_session(lambda now: build(now, shot))

    def shot_sheet(self) -> None:
        """Every shot of the rack in hand, each on a small table."""
        context = self._context
        snapshot, rack = context.controller.snapshot, context.controller.rack
        if snapshot is None or rack is None or not rack.shots:
            context.say("No shot is in hand; F marks a strike and begins one.")
            return
        drawing = rack_drawing(snapshot, rack, context.workspace.measures, context.pictures.unit)
        run_dialog(ShotSheetDialog(context.theme, (snapshot, rack), drawing, context.say, context.window))

    def begin_rack(self) -> None:
        """How the next rack begins is asked for: after a gap, in the middle, from a layout."""
        snapshot = self._context.controller.snapshot
        if snapshot is None:
            return
        layout = self._context.pictures.layout("before")
        begin = self._context.controller.begin_rack
        run_dialog(RackStartDialog(self._context.theme, snapshot, begin, layout, self._context.window))

    def begin_stretch(self) -> None:
        """A stretch of film begins here."""
        self._context.film_controller.begin_stretch()
        self._context.refresh()

    def end_stretch(self) -> None:
        """It ends here: what it shows is asked for."""
        ends = self._context.film_controller.end_stretch()
        if ends is not None:
            begun, now = ends
            start_s = begun.t if begun else None
            dialog = StretchDialog(
                self._context.theme,
                self._context.controller,
                now.recording,
                start_s,
                now.t,
                self._context.window,
            )
            run_dialog(dialog)
            self._context.refresh()
