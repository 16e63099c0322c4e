"""The Review workspace: composes its parts and connects the keys with the desk and the film."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QStackedLayout, QVBoxLayout, QWidget

from ripasso.film import Picture
from ripasso.ui.actions import ActionBook
from ripasso.ui.review.again_page import AgainPage
from ripasso.ui.review.again_work import AgainWork
from ripasso.ui.review.beside import Beside
from ripasso.ui.review.desk import ReviewDesk
from ripasso.ui.review.film_desk import FilmDesk
from ripasso.ui.review.film_hand import FilmHand
from ripasso.ui.review.film_player import FilmPlayer
from ripasso.ui.review.film_sound import FilmSound
from ripasso.ui.review.film_work import FilmWork
from ripasso.ui.review.find_page import FindPage
from ripasso.ui.review.find_work import FindWork
from ripasso.ui.review.key_functions import key_functions
from ripasso.ui.review.keys import ACTIONS
from ripasso.ui.review.match_page import MatchPage
from ripasso.ui.review.parts import Parts
from ripasso.ui.review.picture_desk import PictureDesk
from ripasso.ui.review.reading_work import ReadingWork
from ripasso.ui.review.score_line import ScoreLine
from ripasso.ui.review.seating import Seating
from ripasso.ui.review.sheet_work import SheetWork
from ripasso.ui.review.shots_view import ShotsView
from ripasso.ui.review.table_work import TableWork
from ripasso.ui.widgets.basics import label
from ripasso.ui.workspace import Workspace

#: Keys that hold in every view of Review.
ALWAYS = ("match", "find", "again", "found_next", "found_previous")
#: The places of the views in the stack.
SHOTS, MATCH, FIND, AGAIN = 0, 1, 2, 3


class ReviewPage(QWidget):
    """Everything that is seen of a session under review."""

    film_wanted = pyqtSignal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        theme = workspace.theme
        self.desk = ReviewDesk(workspace.document, workspace.messages.say)
        self.sound = FilmSound(workspace.background)
        self.sound.on = workspace.settings.get("sound")
        self.player = FilmPlayer(workspace.background, self, self.sound)
        self.film_desk = FilmDesk(workspace.document, self.desk, self.player, workspace.messages.say)
        self.pictures = PictureDesk(self.desk, workspace.measures, workspace.messages.say)
        self.pictures.unit = workspace.settings.get("unit")
        own_keys = workspace.settings.get("keys")
        self.actions_book = ActionBook(self, ACTIONS, key_functions(self), own_keys)
        self.score_line = ScoreLine(theme, self.desk)
        self.shots = shots = ShotsView(theme, self.desk, self.pictures, workspace.measures, self.actions_book)
        self.ribbon, self.film, self.transport = shots.ribbon, shots.film, shots.transport
        self.table, self.slip, self.key_board = shots.table, shots.slip, shots.key_board
        self.beside = Beside(theme, workspace.background)
        shots.show_beside(self.beside)
        self.match_page = MatchPage(theme, workspace.measures.known)
        services = (workspace.background, workspace.messages.say)
        self.film_hand = FilmHand(self.film, self.player, self.film_desk, self.pictures, services)
        self.parts = Parts(
            self,
            workspace,
            self.actions_book,
            self.desk,
            self.film_desk,
            self.player,
            self.pictures,
            shots,
            self.film_hand,
            self.refresh,
        )
        self.seating, self.sheets = Seating(self.parts), SheetWork(self.parts)
        self.table_work = TableWork(self.parts)
        self.film_work = FilmWork(self.parts, self.beside)
        self.reading = ReadingWork(self.parts)
        self.find_page = FindPage(theme, workspace.settings)
        self.finding = FindWork(self.parts, self.find_page, self._show_found)
        self.again_page = AgainPage(theme)
        self.again = AgainWork(self.parts, self.again_page)
        self._compose()
        self._connect()
        self.seating.begin()

    # Building

    def _compose(self) -> None:
        self._views = QStackedLayout()
        self._views.addWidget(self.shots)
        self._views.addWidget(self.match_page)
        self._views.addWidget(self.find_page)
        self._views.addWidget(self.again_page)
        work = QWidget()
        whole = QVBoxLayout(work)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.score_line)
        framed = QVBoxLayout()
        framed.setContentsMargins(10, 8, 10, 8)
        framed.addLayout(self._views)
        whole.addLayout(framed, 1)
        self._stack = QStackedLayout(self)
        self._stack.addWidget(_empty_state())
        self._stack.addWidget(work)

    def _connect(self) -> None:
        self.desk.changed.listen(lambda _none: self.refresh())
        self._workspace.measuring.measured.listen(self._measured)
        self.pictures.changed.listen(lambda _none: self._show_drawn())
        self.shots.film_wanted.connect(self.film_wanted.emit)
        self.ribbon.chosen.connect(self._go_to)
        self.table.ball_clicked.connect(self.desk.meant_ball)
        self.table.pocket_clicked.connect(self.desk.pocket)
        self.slip.left.connect(self.setFocus)
        self.match_page.opened.connect(self._leave_match)
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
        self.reading.put_away()
        self.film_desk.put_away()
        self.beside.put_away()
        self.seating.begin()
        self._show_view(SHOTS)
        self.desk.open(session, shot)
        self._workspace.measuring.want(session)
        self.film_desk.to_mark(rest=False)
        self.setFocus()

    def close_film(self) -> None:
        """Put the film away, as when the window closes."""
        self.reading.put_away()
        self.player.close()
        self.beside.put_away()

    def refresh(self) -> None:
        """Show what the desk has in hand."""
        snapshot = self.desk.snapshot
        self._stack.setCurrentIndex(1 if snapshot else 0)
        if snapshot is None:
            return
        self._follow_film()
        self.score_line.refresh()
        self.shots.refresh(snapshot, self.film_desk.recording)
        self.show_film_layers()
        begun = self.film_desk.stretch
        self.transport.strip.show_begun(begun.t if begun else None)
        if self._views.currentIndex() == MATCH:
            self.match_page.refresh(snapshot)
        elif self._views.currentIndex() == AGAIN:
            self.again.refresh()

    def _show_drawn(self) -> None:
        """A tool was taken or moved: the diagram and the film's lines follow."""
        self._leave_escape()
        self.shots.show_picture()
        self.show_film_layers()

    def _leave_escape(self) -> None:
        """Escape is the tool's only while one is in hand: a note has its own use for it."""
        shots = self._views.currentIndex() == SHOTS
        self.actions_book["put_down"].setEnabled(shots and not self.pictures.looking)

    def show_film_layers(self) -> None:
        """The layers of the shot in hand on the film, through its view."""
        layers = self.film_hand.layers(self.pictures.layers(), self.pictures.on_film)
        self.film.show_layers(layers, self.film_hand.film_size)

    def _measured(self, session: str) -> None:
        """A session was measured in the background: the match page shows its chances."""
        snapshot = self.desk.snapshot
        if snapshot is not None and snapshot.key == session and self._views.currentIndex() == MATCH:
            self.match_page.refresh(snapshot)

    def _follow_film(self) -> None:
        is_new = self.film_desk.follow()
        self.shots.show_film_place(self.film_desk.has_film)
        if is_new:
            self.film.show_words("The film is being opened")

    def _film_opened(self) -> None:
        index = self.player.index
        if index is not None:
            self.transport.strip.show_film(index.duration_s)
            self.shots.show_film_open(True)
            self.film_work.look_through(index)

    def _film_failed(self, sentence: str) -> None:
        self.film.show_words(f"{sentence} Tags work without it; “Choose the film” finds it again.")
        self._workspace.messages.say(sentence, "bad")
        self.shots.show_film_open(False)
        self.film_work.look_for_film()

    def _show_picture(self, picture: Picture) -> None:
        self.film.show_picture(picture, late=self.player.late and not self.player.playing)
        self.transport.show_time(picture.time_s)
        self.film_work.follow()
        self.seating.sit_at_camera()
        self.show_film_layers()

    # Marks

    def mark_strike(self) -> None:
        """The strike is at the frame on screen."""
        moment = self.film_desk.moment()
        if moment is not None:
            self.desk.strike(moment)

    def mark_rest(self) -> None:
        """All balls are at rest at the frame on screen."""
        moment = self.film_desk.moment()
        if moment is not None:
            self.desk.rest(moment)

    # Moving about

    def _go_to(self, shot: str) -> None:
        self.walk(lambda: self.desk.choose(shot))

    def walk(self, move: Callable[[], object]) -> None:
        """Go to another shot; the film goes to its strike, or its loop goes along."""
        before = self.desk.shot.key if self.desk.shot else None
        move()
        after = self.desk.shot.key if self.desk.shot else None
        if after != before and self.player.loop is not None:
            self.film_desk.follow_loop()
        elif after != before:
            self.film_desk.to_mark(rest=False)
        self.transport.strip.show_loop(self.player.loop)

    def toggle_play(self) -> None:
        """Play, or pause."""
        if self.player.index is None:
            self._workspace.messages.say("There is no film to play here.", "plain")
        self.player.toggle()

    def write_note(self) -> None:
        """Begin to write the note of the shot in hand."""
        if self.desk.shot is not None:
            self.slip.note.setFocus()
            self.slip.note.selectAll()

    def write_words(self) -> None:
        """Begin to say the shot in hand in words."""
        if self.desk.shot is None:
            self._workspace.messages.say("No shot is in hand; F marks a strike and begins one.", "plain")
        else:
            self.slip.words.open_line()

    # Views

    def toggle_match(self) -> None:
        """The match page in the place of the shots, and back."""
        if self._views.currentIndex() == MATCH:
            self._show_view(SHOTS)
            self.setFocus()
        elif self.desk.snapshot is not None:
            self.match_page.refresh(self.desk.snapshot)
            self._show_view(MATCH)
            self.match_page.racks.setFocus()

    def toggle_find(self) -> None:
        """The search in the place of the shots, and back; it looks through every session."""
        if self._views.currentIndex() == FIND:
            self._show_view(SHOTS)
            self.setFocus()
        else:
            self._stack.setCurrentIndex(1)
            self._show_view(FIND)
            self.find_page.begin()

    def toggle_again(self) -> None:
        """The shot in hand played again, in the place of the shots; and back."""
        if self._views.currentIndex() == AGAIN:
            self._show_view(SHOTS)
            self.setFocus()
        elif self.again.begin():
            self._show_view(AGAIN)
            self.again_page.setFocus()

    def _show_found(self, session: str, shot: str) -> None:
        """A shot that was found, in hand, with the film at its strike."""
        snapshot = self.desk.snapshot
        if snapshot is None or snapshot.key != session:
            self.open(session, shot)
        else:
            self._show_view(SHOTS)
            self._go_to(shot)
            self.setFocus()

    def _show_view(self, view: int) -> None:
        """The keys of a shot hold only while it is seen: nothing is said of one behind the match page."""
        self._views.setCurrentIndex(view)
        for spec in self.actions_book.specs:
            self.actions_book[spec.id].setEnabled(view == SHOTS or spec.id in ALWAYS)
        self._leave_escape()

    def enlarge(self, what: str) -> None:
        """Let the film or the table fill the space, or bring everything back."""
        self.shots.enlarge(what)

    def _leave_match(self, shot: str) -> None:
        """A line of the match page was opened: its shot, with the film at the strike."""
        self._show_view(SHOTS)
        self._go_to(shot)
        self.setFocus()


def _empty_state() -> QLabel:
    made = label(
        "No session is open. Choose one under Sessions, or begin a new one there (Ctrl+N).", "caption"
    )
    made.setAlignment(Qt.AlignmentFlag.AlignCenter)
    return made
