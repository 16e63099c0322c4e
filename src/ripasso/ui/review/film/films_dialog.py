"""The films of a session: show one, set a second camera at the same moment, add one, take one away."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ripasso.review.document.command import Command
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.marking import Moment
from ripasso.review.language.vocabulary import clock, count
from ripasso.review.recordings.films import FilmLine, film_lines, remove_film, set_same_time
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, set_property
from ripasso.ui.widgets.lines import LinesModel, lines_view

HEADINGS = ("", "Film", "Length", "Shots", "Views", "Runs with")


@dataclass(frozen=True)
class FilmTools:
    """What the dialog works with. `now` is what the film on show shows, `before` what the one before did."""

    snapshot: Callable[[], Snapshot | None]
    perform: Callable[[Callable[[Snapshot], Command]], bool]
    show: Callable[[str], None]
    now: Callable[[], Moment | None]
    before: Callable[[], Moment | None]
    add: Callable[[], None]


class FilmsDialog(GuidedDialog):
    """Closes when a film is to be shown, or one is to be added."""

    place = "lists the films of a session"

    def __init__(self, theme: Theme, tools: FilmTools, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Films of this session")
        self._tools = tools
        self._lines: list[FilmLine] = []
        self.model = LinesModel(self)
        self.view = lines_view(
            theme, "Films of this session", self.model, lambda _row: self.show_film(), (0,)
        )
        self.told = label("", "caption", wrap=True)
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        for name, words, call in (
            ("show", "Show it", self.show_film),
            ("same", "The same moment", self.same_moment),
            ("add", "Add a film", self._add),
            ("remove", "Take it away", self.remove),
            ("close", "Close", self.accept),
        ):
            button = self.buttons[name] = QPushButton(words)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _checked=False, call=call: call())
            row.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addWidget(label("Films of this session", "title"))
        layout.addWidget(
            label(
                "Parts of a match and second cameras. For a second camera: show the first film at a strike, "
                "then the other at the same strike, and say that both show the same moment.",
                "caption",
                wrap=True,
            )
        )
        layout.addWidget(self.view, 1)
        layout.addWidget(self.told)
        layout.addLayout(row)
        self.resize(theme.px(760), theme.px(360))
        self.refresh()
        self.view.setFocus()

    def refresh(self) -> None:
        """Show the films as they stand."""
        snapshot, now, before = self._tools.snapshot(), self._tools.now(), self._tools.before()
        self._lines = film_lines(snapshot) if snapshot is not None else []
        names = {one.id: Path(one.file).name for one in self._lines}
        shown = now.recording if now is not None else None
        rows = [
            (
                "▸" if one.id == shown else "",
                names[one.id],
                clock(one.duration_s) if one.duration_s is not None else "",
                str(one.shots),
                str(one.views),
                f"{names.get(one.runs_with, one.runs_with)}, {one.offset_s:+.2f} s" if one.runs_with else "",
            )
            for one in self._lines
        ]
        self.model.show_lines(HEADINGS, rows)
        place = next((i for i, one in enumerate(self._lines) if one.id == shown), 0)
        if self._lines:
            self.view.selectRow(place)
        can_set = now is not None and before is not None and now.recording != before.recording
        self.buttons["same"].setEnabled(can_set)
        words = count(len(self._lines), "film")
        if can_set and now is not None and before is not None:
            words += (
                f"; {names.get(now.recording, '')} at {clock(now.t)} may be the same moment as "
                f"{names.get(before.recording, '')} at {clock(before.t)}"
            )
        self._tell(f"{words}.", "plain")

    @property
    def _chosen(self) -> FilmLine | None:
        row = self.view.currentIndex().row()
        return self._lines[row] if 0 <= row < len(self._lines) else None

    def show_film(self) -> None:
        """Show the chosen film, and close."""
        if self._chosen is not None:
            self._tools.show(self._chosen.id)
            self.accept()

    def same_moment(self) -> None:
        """What is on show is the same moment as what the film before showed."""
        now, before = self._tools.now(), self._tools.before()
        if (
            now is not None
            and before is not None
            and self._tools.perform(
                lambda snapshot: set_same_time(snapshot, now.recording, now.t, before.recording, before.t)
            )
        ):
            self.refresh()
            self._tell("The two run together now; Alt V changes between them at the same moment.", "good")

    def remove(self) -> None:
        """Take the chosen film out of the session."""
        chosen = self._chosen
        if chosen is not None and self._tools.perform(lambda now: remove_film(now, chosen.id)):
            self.refresh()

    def _add(self) -> None:
        self.accept()
        self._tools.add()

    def _tell(self, text: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(text)
