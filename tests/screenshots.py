"""Pictures of the main views, from the demo library: `python -m tests.screenshots FOLDER`."""

from __future__ import annotations

import json
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtTest import QTest

from ripasso.demo.library import film_path
from ripasso.demo.matches.scenario import CASIMIR, FILM_ID, LIOBA
from ripasso.review.document.edits import add_session
from ripasso.review.language.parsing import parse
from ripasso.review.record.model import Session
from ripasso.ui.app import application, build_window
from ripasso.ui.help.key_sheet import KeySheet
from ripasso.ui.review.controllers.camera_dialog import open_camera_dialog
from ripasso.ui.review.rack.rack_dialog import RackDialog
from ripasso.ui.review.shot.whole_slip import WholeSlip
from ripasso.ui.review.state.keys import SHEET as REVIEW_SHEET
from ripasso.ui.settings_dialog import choose
from ripasso.ui.window import ACTIONS as WINDOW_ACTIONS
from ripasso.ui.window import MainWindow
from ripasso.ui.workspace import Workspace, build_workspace

SIZE = (1280, 800)
SETTLE_MS = 1200


def main(folder: Path) -> None:
    """Take every picture anew."""
    app = application()
    with tempfile.TemporaryDirectory() as place:
        workspace = build_workspace(Path(place) / "demo.ripasso", None)
        window = build_window(workspace, demo=True)
        window.open_session(FILM_ID)
        window.resize(*SIZE)
        window.show()
        QTest.qWait(SETTLE_MS)

        def take(name: str) -> None:
            QTest.qWait(SETTLE_MS)
            window.grab().save(str(folder / f"{name}.png"))

        _review(window, folder, take)
        _more(window, folder, take)
        _reading(workspace, window)
        take("review-reading")
        window.review.reading.put_away()
        _plan(window, take)
        _practice(window, take)
        _other_sessions(window, take)
        window.show_page("sessions")
        take("sessions")
        while workspace.measuring.busy:
            QTest.qWait(SETTLE_MS)
        window.show_page("statistics")
        QTest.qWait(SETTLE_MS)
        take("statistics")
        pages = window.statistics.chooser.pages
        pages.setCurrentIndex(pages.findData("position"))
        pages.activated.emit(pages.currentIndex())
        while window.statistics.is_computing:
            QTest.qWait(SETTLE_MS)
        QTest.qWait(5 * SETTLE_MS)
        take("statistics-position")
        _report(workspace, window, take)
        _in_the_dark(workspace, window)
        while window.review.player.index is None:
            QTest.qWait(SETTLE_MS)
        QTest.qWait(5 * SETTLE_MS)
        take("review-dark")
        window.close()
    del app


def _review(window: MainWindow, folder: Path, take: Callable[[str], None]) -> None:
    """Review as it opens, the diagram, the dialog of the camera."""
    review = window.review
    for _ in range(9):
        review.actions_book["shot_next"].trigger()
    take("review")
    review.actions_book["shot_next"].trigger()
    review.actions_book["to_rest"].trigger()
    review.table_controller.picture(1280).save(str(folder / "diagram.png"))
    for name, dialog in (("film-view", open_camera_dialog(review.context)),):
        dialog.show()
        QTest.qWait(5 * SETTLE_MS)  # the film's picture comes, and its camera is looked for
        dialog.grab().save(str(folder / f"{name}.png"))
        dialog.close()


def _plan(window: MainWindow, take: Callable[[str], None]) -> None:
    """The shot that lost the rack, with its options and one of them in hand."""
    window.open_session(FILM_ID)
    for _ in range(9):
        window.review.actions_book["shot_next"].trigger()
    window.review.actions_book["plan_shot"].trigger()
    while window.plan.desk is None:
        QTest.qWait(50)
    desk = window.plan.desk
    desk.controller.find_options()
    while desk.controller.share is not None:
        QTest.qWait(50)
    desk.controller.keep()
    desk.controller.take_option(2)
    take("plan")
    desk.rack.work_out()
    while desk.rack.share is not None:
        QTest.qWait(50)
    desk.pages.setCurrentWidget(desk.rack_page)
    desk.rack.step(1)
    take("plan-rack")


def _practice(window: MainWindow, take: Callable[[str], None]) -> None:
    """Practice: an exercise that is being played."""
    window.show_page("practice")
    actions = window.practice.actions_book
    for key in "110111":
        actions["attempt_made" if key == "1" else "attempt_missed"].trigger()
    window.practice.controller.change("height a tip lower")
    actions["attempt_made"].trigger()
    take("practice")


def _report(workspace: Workspace, window: MainWindow, take: Callable[[str], None]) -> None:
    """A report with two key shots, the page of these."""
    window.show_page("report")
    page, controller = window.report, window.report.controller
    controller.new()
    for shot in (8, 9):
        controller.take_shot(FILM_ID, 1, shot)
    controller.choose_page(3)
    QTest.qWait(SETTLE_MS)
    while page.is_making or workspace.background.busy:
        QTest.qWait(SETTLE_MS)
    take("report")


def _other_sessions(window: MainWindow, take: Callable[[str], None]) -> None:
    """A session without a film, its match as a page, and another game."""
    window.open_session("demo-winter-ladder")
    for _ in range(3):
        window.review.actions_book["rack_next"].trigger()
    take("review-without-film")
    window.review.actions_book["match"].trigger()
    take("match-page")
    window.open_session("demo-snooker")
    for _ in range(24):
        window.review.actions_book["shot_next"].trigger()
    take("review-snooker")


def _more(window: MainWindow, folder: Path, take: Callable[[str], None]) -> None:
    """The whole slip, the rack as a story, the search, the keys, a shot played again."""
    review = window.review
    review.controller.choose(review.controller.snapshot.shots[3].key)
    review.controller.say_words(parse("draw, firm, tip 1/4 left 3/4 low, over a ball, by pressure"))
    theme, controller = review.context.theme, review.controller
    slip = WholeSlip(theme, controller, review)
    rack = RackDialog(theme, controller, review.context.workspace.measures, "Mio", review)
    rack.line.setText("order 3 side left 4 5 hard 6 9; 6 trouble; 5 key ball")
    rack.keep()
    keys = KeySheet(theme, (*WINDOW_ACTIONS, *REVIEW_SHEET), {}, review)
    keys.tabs.setCurrentIndex(1)  # the guide shows these pictures itself
    for name, dialog in (("whole-slip", slip), ("rack-sheet", rack), ("key-sheet", keys)):
        dialog.show()
        QTest.qWait(SETTLE_MS)
        dialog.grab().save(str(folder / f"{name}.png"))
        dialog.close()
    review.views.toggle_find()
    review.find_page.line.setText("(position:lost or root:>0) -game:snooker")
    take("find")
    review.views.toggle_find()


def _in_the_dark(workspace: Workspace, window: MainWindow) -> None:
    """The rack on film again, in the colours of the evening and in American words."""
    workspace.settings.set("theme", "evening")
    workspace.settings.set("words", "american")
    choose(workspace)
    window.rebuild()
    window.open_session(FILM_ID)
    for _ in range(9):
        window.review.actions_book["shot_next"].trigger()


def _reading(workspace: Workspace, window: MainWindow) -> None:
    """The demo film while it is being read, without anything said of it."""
    recordings = [{"id": "film", "file": str(film_path())}]
    head = {"id": "reading", "title": "A film without marks", "kind": "practice", "game": "nine_ball"}
    players = [LIOBA, CASIMIR]
    made = {"format": "ripasso-session", "version": 1, **head, "players": players, "recordings": recordings}
    workspace.document.run(add_session(Session.model_validate_json(json.dumps(made))))
    window.open_session("reading")
    QTest.qWait(SETTLE_MS)
    window.review.actions_book["read_film"].trigger()
    while len(window.review.controller.snapshot.shots) < 4:
        QTest.qWait(SETTLE_MS)
    window.review.controller.choose(window.review.controller.snapshot.shots[2].key)
    window.review.actions_book["to_strike"].trigger()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
