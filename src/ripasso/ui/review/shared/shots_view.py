"""The shots of a session under review: ribbon, film, table, slip and keys, side by side."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ripasso.core.measures.errors import FoundError
from ripasso.core.table import table_spec
from ripasso.drawing.seats import UPRIGHT, ViewingSide
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.measuring.errors import rack_errors
from ripasso.review.present.derived import derived_lines
from ripasso.review.present.describing import rack_line
from ripasso.review.present.measure_words import (
    Units,
    error_lines,
    measure_lines,
    near_cushion,
    settled_errors,
)
from ripasso.review.present.ribbon import Ribbon, ribbon_of
from ripasso.review.record.model import Recording
from ripasso.review.recordings.film_parts import stretches
from ripasso.review.scoring.outcome import shot_outcome
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.film.film_blocks import FilmBlocks
from ripasso.ui.review.film.film_view import FilmView
from ripasso.ui.review.film.film_window import FilmWindow
from ripasso.ui.review.film.transport import Transport
from ripasso.ui.review.film.view_exactness import ViewExactness
from ripasso.ui.review.rack.ribbon_view import RibbonView
from ripasso.ui.review.shared.arrangement import Arrangement, Parts
from ripasso.ui.review.shot.key_board import KeyBoard
from ripasso.ui.review.shot.slip import Slip
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.table.picture_controller import PictureController
from ripasso.ui.review.table.tool_bar import ToolBar
from ripasso.ui.services.drafts import NoteDrafts
from ripasso.ui.services.settings import Settings
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.table_view import TableView

#: From this width of a column on a table seen from its end stands beside the slip.
BESIDE_PX = 620
#: From this width on it has a column alone, and the slip stands beside the film.
THREE_PX = 1120


class ShotsView(QWidget):
    """Composes the parts and shows in them what the controller has in hand."""

    film_wanted = pyqtSignal()

    def __init__(
        self,
        theme: Theme,
        controller: ReviewController,
        pictures: PictureController,
        book: MeasureCache,
        actions: ActionRegistry,
        drafts: NoteDrafts,
        settings: Settings,
        exactness: ViewExactness,
    ) -> None:
        super().__init__()
        self.exactness = exactness
        self._theme, self._controller, self.pictures, self._book = theme, controller, pictures, book
        self.ribbon = RibbonView(theme)
        self.film = FilmView(theme)
        self.transport = Transport(theme, actions)
        self.table = TableView(theme)
        self.table.hand = pictures
        self.tools = ToolBar(theme, pictures, actions)
        self.slip = Slip(theme, controller, actions, drafts)
        self.key_board = KeyBoard(theme, controller, actions)
        self._has_film = self._film_is_here = True
        self._film_window: FilmWindow | None = None
        self._blocks = FilmBlocks()
        self._compose(settings)

    def _compose(self, settings: Settings) -> None:
        ribbon_panel = panel(self._ribbon_row(), (4, 0, 12, 0))
        self._film_panel = panel(self._film_column(), (0, 0, 0, 0))
        keys_box = QVBoxLayout()
        keys_box.addWidget(self.key_board)
        keys_panel = panel(keys_box, (12, 8, 12, 8))
        self._table_box = table_box = QVBoxLayout()
        table_box.setSpacing(4)
        table_box.addWidget(self.table, 1)
        table_box.addWidget(self.tools)
        self._table_panel = panel(table_box, (6, 6, 6, 6))
        slip_box = QVBoxLayout()
        slip_box.addWidget(self.slip)
        slip_panel = panel(slip_box)
        parts = Parts(ribbon_panel, self._film_panel, keys_panel, self._table_panel, slip_panel)
        self.arrangement = Arrangement(parts, settings, self._theme.px(BESIDE_PX), self._theme.px(THREE_PX))
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.addWidget(self.arrangement)

    def _ribbon_row(self) -> QHBoxLayout:
        """The ribbon, and beside it the story of the rack."""
        row = QHBoxLayout()
        row.addWidget(self.ribbon, 1)
        self._story = label("", wrap=True)
        self._story.setFixedWidth(self._theme.px(340))
        words = QVBoxLayout()
        words.setSpacing(2)
        words.addStretch(1)
        words.addWidget(self._story)
        words.addWidget(label("stem up: ran long, down: short; line: chance to clear", "caption"))
        words.addStretch(1)
        row.addLayout(words)
        return row

    def _film_column(self) -> QVBoxLayout:
        """The film, and below it the transport with the button for a session without a film."""
        self._film_box = QVBoxLayout()
        self._film_box.setSpacing(0)
        self._pictures = QWidget()
        self._films = QHBoxLayout(self._pictures)
        self._films.setContentsMargins(0, 0, 0, 0)
        self._films.setSpacing(2)
        self._films.addWidget(self.film, 1)
        self._film_box.addWidget(self._pictures, 1)
        bar = QHBoxLayout()
        bar.setContentsMargins(0, 0, 8, 0)
        bar.addWidget(self.transport, 1)
        self._film_button = QPushButton("Choose the film")
        self._film_button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._film_button.clicked.connect(self.film_wanted.emit)
        bar.addWidget(self._film_button)
        self._film_box.addLayout(bar)
        return self._film_box

    def show_beside(self, beside: QWidget) -> None:
        """A place for a second shot beside the film."""
        self._films.addWidget(beside, 1)

    def refresh(self, snapshot: Snapshot, recording: Recording | None) -> None:
        """Show the shot in hand; `recording` is the one it belongs to."""
        self._show_ribbon(snapshot)
        self.slip.refresh()
        self.key_board.refresh()
        self.show_picture()
        self._show_measures(snapshot)
        self._show_blocks(snapshot, recording)
        self._name_film_window()

    def show_film_place(self, has_film: bool) -> None:
        """Without a film the table takes the large place."""
        self._has_film = has_film
        if not has_film and self._film_window is not None:
            self._film_window.close()
        self._show_places()
        if not has_film:
            self.show_film_open(False)

    def toggle_film_window(self, actions: list[QAction]) -> None:
        """The film in a window of its own, and the table in its place here; once more brings it back."""
        if self._film_window is not None:
            self._film_window.close()
            return
        self._film_window = FilmWindow(self._pictures, actions, self)
        self._film_window.closed.connect(self._take_film_back)
        self._name_film_window()
        self._show_places()
        self._film_window.show()

    @property
    def film_window(self) -> FilmWindow | None:
        """The window of its own that the film has."""
        return self._film_window

    def _name_film_window(self) -> None:
        snapshot = self._controller.snapshot
        if self._film_window is not None and snapshot is not None:
            self._film_window.setWindowTitle(f"Film – {snapshot.head.title}")

    def _take_film_back(self) -> None:
        self._film_window = None
        self._film_box.insertWidget(0, self._pictures, 1)
        self._pictures.show()
        self._show_places()

    def _show_places(self) -> None:
        """The table stands beside the film, or where the film would be."""
        is_here = self._has_film and self._film_window is None
        if is_here != self._film_is_here:
            self._film_is_here = is_here
            if is_here:
                self._table_box.addWidget(self.table, 1)
                self._table_box.addWidget(self.tools)
                self.tools.setContentsMargins(0, 0, 0, 0)
            else:
                self._film_box.insertWidget(0, self.table, 1)
                self._film_box.insertWidget(1, self.tools)
                self.tools.setContentsMargins(8, 6, 8, 0)
            self.arrangement.show_film_place(is_here)
        self._pictures.setVisible(self._has_film)
        self._film_box.setStretchFactor(self._pictures, 1 if is_here else 0)

    def show_film_open(self, is_open: bool) -> None:
        """A film can be played, or there is a way to choose one."""
        self._film_button.setVisible(not is_open)
        self.transport.show_film_open(is_open)
        if not is_open:
            self.transport.show_no_film()

    def turn(self, seat: ViewingSide, hints: Mapping[str, str]) -> None:
        """See the table from one of its sides, with the pockets' letters."""
        self.table.set_seat(seat, hints)
        self.arrangement.see_from_end(seat in UPRIGHT)

    def _show_ribbon(self, snapshot: Snapshot) -> None:
        rack = self._controller.rack
        if rack is None:
            # Not the one before: this session has no shot yet.
            self.ribbon.show_ribbon(Ribbon((), ()), None, {})
            self._story.setText("")
            return
        players = [p.id for p in snapshot.head.players or () if not p.ghost]
        roles = {p: self._theme.player_role(i) for i, p in enumerate(players)}
        shot = self._controller.shot
        self.ribbon.show_ribbon(ribbon_of(snapshot, rack), shot.key if shot else None, roles)
        self._story.setText(rack_line(snapshot, rack))

    def show_picture(self) -> None:
        """The diagram of the shot in hand, with what is being done to it."""
        self.table.show_scene(self.pictures.scene())
        self.tools.refresh()

    def _show_measures(self, snapshot: Snapshot) -> None:
        """The measures of the shot in hand in the slip, and its errors by both schools."""
        shot, rack = self._controller.shot, self._controller.rack
        if shot is None or rack is None:
            self.slip.measures.show_lines(())
            return
        spec = table_spec(snapshot.head.table)
        exact_m = self.exactness.of_shot(snapshot, shot.record, spec)
        units = Units(self.pictures.unit, spec, snapshot.head.game, exact_m)
        measured = self._book.rack(snapshot, rack)
        place = rack.place(shot.key)
        before = shot.record.before or {}
        cue = before.get("cue")
        near = near_cushion(spec, (float(cue[0]), float(cue[1])) if cue is not None else None)
        lines = measure_lines(measured[place], units, near)
        said = settled_errors(shot.record)
        judged = self._controller.shot_score
        made = shot_outcome(shot.record, judged).made
        derived = derived_lines(rack.complete, shot.record, measured[place], made=made)
        self.slip.measures.show_lines((*lines, *derived, *error_lines(self.errors(), said)))

    def errors(self) -> tuple[FoundError, ...]:
        """The errors of the shot in hand by both schools, with the shots that may have caused them."""
        snapshot, shot, rack = self._controller.snapshot, self._controller.shot, self._controller.rack
        if snapshot is None or shot is None or rack is None:
            return ()
        measured = self._book.rack(snapshot, rack)
        place = rack.place(shot.key)
        return rack_errors(rack.complete, self._controller.rack_score, measured)[place]

    def _show_blocks(self, snapshot: Snapshot, recording: Recording | None) -> None:
        shot = self._controller.shot
        blocks = self._blocks.of(snapshot, recording.id) if recording else ()
        self.transport.strip.show_blocks(blocks, shot.key if shot else None)
        parts = stretches(snapshot, recording.id) if recording else ()
        self.transport.strip.show_parts(parts)
