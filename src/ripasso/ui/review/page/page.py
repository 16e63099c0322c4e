"""The Review workspace: composes its parts and connects the keys with the controller and the film."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QStackedLayout, QVBoxLayout, QWidget

from ripasso.film import Picture
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.again.again_controller import AgainController
from ripasso.ui.review.again.again_page import AgainPage
from ripasso.ui.review.clips.clip_controller import ClipController
from ripasso.ui.review.controllers.carrying_controller import CarryingController
from ripasso.ui.review.controllers.dialog_controller import DialogController
from ripasso.ui.review.controllers.film_view_controller import FilmViewController
from ripasso.ui.review.controllers.reading_controller import ReadingController
from ripasso.ui.review.controllers.table_controller import TableController
from ripasso.ui.review.controllers.viewing_side import ViewingSideController
from ripasso.ui.review.controllers.weighing_controller import WeighingController
from ripasso.ui.review.film.film_controller import FilmController
from ripasso.ui.review.film.film_player import FilmPlayer
from ripasso.ui.review.film.film_pointer import FilmPointer
from ripasso.ui.review.film.film_sound import FilmSound
from ripasso.ui.review.film.side_by_side import SideBySideView
from ripasso.ui.review.film.view_exactness import ViewExactness
from ripasso.ui.review.find.find_controller import FindController
from ripasso.ui.review.find.find_page import FindPage
from ripasso.ui.review.page.key_functions import Controllers, key_functions
from ripasso.ui.review.page.layouts_controller import LayoutsController
from ripasso.ui.review.page.navigation import Navigation
from ripasso.ui.review.page.views import ReviewViews
from ripasso.ui.review.rack.match_page import MatchPage
from ripasso.ui.review.rack.score_line import ScoreLine
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.shared.shots_view import ShotsView
from ripasso.ui.review.state.keys import ACTIONS
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.table.picture_controller import PictureController
from ripasso.ui.widgets.basics import label
from ripasso.ui.workspace import Workspace


class ReviewPage(QWidget):
    """Everything that is seen of a session under review."""

    another_film_wanted = pyqtSignal()
    film_wanted = pyqtSignal()
    plan_wanted = pyqtSignal()
    practice_wanted = pyqtSignal()
    report_wanted = pyqtSignal(str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        theme = workspace.theme
        self.controller = ReviewController(workspace.document, workspace.messages.say)
        self.sound = FilmSound(workspace.background)
        self.sound.on = workspace.settings.get("sound")
        self.player = FilmPlayer(workspace.background, self, self.sound)
        self.film_controller = FilmController(
            workspace.document, self.controller, self.player, workspace.messages.say
        )
        self.pictures = PictureController(self.controller, workspace.measures, workspace.messages.say)
        self.pictures.unit = workspace.settings.get("unit")
        own_keys = workspace.settings.get("keys")
        self.actions_book = ActionRegistry(self, ACTIONS, own_keys)
        self.score_line = ScoreLine(theme, self.controller)
        self.shots = shots = ShotsView(
            theme,
            self.controller,
            self.pictures,
            workspace.measures,
            self.actions_book,
            workspace.drafts,
            workspace.settings,
            ViewExactness(workspace.background, self.player.size, self.refresh),
        )
        self.ribbon, self.film, self.transport = shots.ribbon, shots.film, shots.transport
        self.table, self.slip, self.key_board = shots.table, shots.slip, shots.key_board
        self.beside = SideBySideView(theme, workspace.background)
        shots.show_beside(self.beside)
        self.match_page = MatchPage(theme, workspace.measures.known)
        services = (workspace.background, workspace.messages.say)
        self.film_pointer = FilmPointer(self.film, self.player, self.film_controller, self.pictures, services)
        self.context = ReviewContext(
            self,
            workspace,
            self.actions_book,
            self.controller,
            self.film_controller,
            self.player,
            self.pictures,
            shots,
            self.film_pointer,
            self.refresh,
        )
        self.viewing_side, self.sheets = ViewingSideController(self.context), DialogController(self.context)
        self.table_controller = TableController(self.context)
        self.film_view_controller = FilmViewController(
            self.context, self.beside, self.another_film_wanted.emit
        )
        self.reading = ReadingController(self.context)
        self.carrying = CarryingController(self.context)
        self.weighing = WeighingController(self.context)
        self.find_page = FindPage(theme, workspace.settings)
        self.finding = FindController(self.context, self.find_page, self._show_found)
        self.clips = ClipController(self.context, self.finding)
        self.again_page = AgainPage(theme)
        self.again = AgainController(self.context, self.again_page)
        self.navigation = Navigation(self.context)
        again = (self.again_page, self.again)
        self.views = ReviewViews(self.context, self.navigation, self.match_page, self.find_page, again)
        self.layouts = LayoutsController(self.context, self.views, self.again, self._show_found)
        self.actions_book.bind(
            key_functions(
                Controllers(
                    self.context,
                    self.navigation,
                    self.views,
                    self.sheets,
                    self.table_controller,
                    self.film_view_controller,
                    self.viewing_side,
                    self.reading,
                    self.finding,
                    self.again,
                    self.sound,
                    self.layouts,
                    self.weighing,
                    self.clips,
                    self.plan_wanted.emit,
                    self.practice_wanted.emit,
                    self.report_wanted.emit,
                )
            )
        )
        self._compose()
        self._connect()
        self.viewing_side.begin()

    # Building

    def _compose(self) -> None:
        work = QWidget()
        whole = QVBoxLayout(work)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.score_line)
        framed = QVBoxLayout()
        framed.setContentsMargins(10, 8, 10, 8)
        framed.addWidget(self.views)
        whole.addLayout(framed, 1)
        self._stack = QStackedLayout(self)
        self._stack.addWidget(_empty_state())
        self._stack.addWidget(work)

    def _connect(self) -> None:
        self.views.currentChanged.connect(lambda _view: self._show_stack())
        self.controller.changed.connect(lambda _none: self.refresh())
        self._workspace.measuring.measured.connect(self._measured)
        self.pictures.changed.connect(lambda _none: self._show_drawn())
        self.shots.film_wanted.connect(self.film_wanted.emit)
        self.ribbon.chosen.connect(self.navigation.go_to)
        self.table.ball_clicked.connect(self.controller.meant_ball)
        self.table.pocket_clicked.connect(self.controller.pocket)
        self.slip.left.connect(self.setFocus)
        self.film.resized.connect(self.player.resize)
        self.player.shown.connect(self._show_picture)
        self.player.opened.connect(self._film_opened)
        self.player.failed.connect(self._film_failed)
        self.player.playing_changed.connect(self.transport.show_playing)
        self.transport.speed_chosen.connect(self.player.set_speed)
        self.transport.strip.sought.connect(self.player.seek)

    # A session and its film

    def open(self, session: str, shot: str | None = None) -> None:
        """Review a session, at a shot or at its first, with its film at the strike."""
        self.film_controller.put_away()
        self.beside.put_away()
        self.viewing_side.begin()
        self.views.show_shots()
        self.controller.open(session, shot)
        self._workspace.drafts.take_up(session)
        self._workspace.measuring.want(session)
        self.film_controller.to_mark(rest=False)
        self.setFocus()

    def close_film(self) -> None:
        """Put the film away, as when the window closes."""
        self.reading.put_away()
        self.player.close()
        self.beside.put_away()

    def _show_stack(self) -> None:
        """Without a session there is something to see all the same: the search."""
        is_empty = self.controller.snapshot is None and not self.views.is_seen(self.find_page)
        self._stack.setCurrentIndex(0 if is_empty else 1)

    def refresh(self) -> None:
        """Show what the controller has in hand."""
        snapshot = self.controller.snapshot
        self._show_stack()
        if snapshot is None:
            return
        self._follow_film()
        self.score_line.refresh()
        self.shots.refresh(snapshot, self.film_controller.recording)
        self.show_film_layers()
        self.reading.show_progress()
        begun = self.film_controller.stretch
        self.transport.strip.show_begun(begun.t if begun else None)
        if self.views.is_seen(self.match_page):
            self.match_page.refresh(snapshot)
        elif self.views.is_seen(self.again_page):
            self.again.refresh()

    def _show_drawn(self) -> None:
        """A tool was taken or moved: the diagram and the film's lines follow."""
        self.views.leave_escape()
        self.shots.show_picture()
        self.show_film_layers()

    def show_film_layers(self) -> None:
        """The layers of the shot in hand on the film, through its view."""
        layers = self.film_pointer.layers(self.pictures.layers(), self.pictures.on_film)
        self.film.show_layers(layers, self.film_pointer.film_size)

    def _measured(self, session: str) -> None:
        """A session was measured in the background: the match page shows its chances."""
        snapshot = self.controller.snapshot
        if snapshot is not None and snapshot.key == session and self.views.is_seen(self.match_page):
            self.match_page.refresh(snapshot)

    def _follow_film(self) -> None:
        is_new = self.film_controller.follow()
        self.shots.show_film_place(self.film_controller.has_film)
        if is_new:
            self.film.show_words("The film is being opened")

    def _film_opened(self) -> None:
        index = self.player.index
        if index is not None:
            self.transport.strip.show_film(index.duration_s)
            self.shots.show_film_open(True)
            self.film_view_controller.look_through(index)

    def _film_failed(self, sentence: str) -> None:
        self.film.show_words(f"{sentence} Tags work without it; “Choose the film” finds it again.")
        self._workspace.messages.say(sentence, "bad")
        self.shots.show_film_open(False)
        self.film_view_controller.look_for_film()

    def _show_picture(self, picture: Picture) -> None:
        self.film.show_picture(picture, late=self.player.late and not self.player.playing)
        self.transport.show_time(picture.time_s)
        self.film_view_controller.follow()
        self.viewing_side.sit_at_camera()
        self.show_film_layers()

    def _show_found(self, session: str, shot: str) -> None:
        """A shot that was found, in hand, with the film at its strike."""
        snapshot = self.controller.snapshot
        if snapshot is None or snapshot.key != session:
            self.open(session, shot)
        else:
            self.views.open_shot(shot)


def _empty_state() -> QLabel:
    made = label(
        "No session is open. Choose one under Sessions, or begin a new one there (Ctrl+N).", "caption"
    )
    made.setAlignment(Qt.AlignmentFlag.AlignCenter)
    return made
