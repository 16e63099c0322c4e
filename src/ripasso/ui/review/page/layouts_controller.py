"""Opens the store of layouts for the shot in hand, and does what is chosen there."""

from __future__ import annotations

from collections.abc import Callable

from ripasso.review.entry.rack_start import RackStart
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.table.layouts import balls_of
from ripasso.ui.layouts.layouts_dialog import LayoutsDialog, LayoutTools
from ripasso.ui.review.again.again_controller import AgainController
from ripasso.ui.review.page.views import ReviewViews
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.widgets.basics import run_dialog


class LayoutsController:
    """Works for the page whose parts it has; `open_shot` shows a shot of any session."""

    def __init__(
        self,
        context: ReviewContext,
        views: ReviewViews,
        again: AgainController,
        open_shot: Callable[[str, str], None],
    ) -> None:
        self._context, self._views, self._again, self._open_shot = context, views, again, open_shot

    def show(self) -> None:
        """The kept layouts, and the one in hand to be kept."""
        context = self._context
        snapshot, shot = context.controller.snapshot, context.controller.shot
        if snapshot is None:
            return
        tools = LayoutTools(
            context.workspace.library,
            context.controller.perform_other,
            context.workspace.document.session,
            self._begin_rack,
            self._play_again,
            self._open_shot,
        )
        in_hand = (snapshot, shot.key if shot is not None else "", dict(context.pictures.layout("before")))
        run_dialog(LayoutsDialog(context.theme, tools, in_hand, context.window))

    def _begin_rack(self, kept: KeptLayout) -> bool:
        snapshot = self._context.controller.snapshot
        if snapshot is not None and kept.game not in (None, snapshot.head.game):
            self._context.say("This layout is of another game than the session.", "unsure")
            return False
        start = RackStart(layout=balls_of(kept.layout), from_layout=kept.id)
        return self._context.controller.begin_rack(start)

    def _play_again(self, kept: KeptLayout) -> bool:
        done = self._again.begin_with(kept)
        if done:
            self._views.show_again()
        return done
