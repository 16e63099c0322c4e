"""The dialog for a new session: what is played, who plays, on which table, and the film if there is one."""

from __future__ import annotations

import re
import uuid
from collections.abc import Sequence
from datetime import date
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.rules import GHOST_GAMES
from ripasso.core.table import PRESETS
from ripasso.film import fingerprint, known_index
from ripasso.review.language.vocabulary import count, sentence, word
from ripasso.review.record.model import FORMAT, VERSION, Recording, Session
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.services.background import Background
from ripasso.ui.services.film_files import FILM_SUFFIXES, recent_films, remember_film
from ripasso.ui.services.settings import Settings
from ripasso.ui.sessions.player_fields import PlayerFields
from ripasso.ui.widgets.basics import choose_file, label, pop_up, save_or_cancel

GAMES = ("nine_ball", "eight_ball", "ten_ball", "straight_pool", "rotation", "snooker")
FILM_FILTER = f"Films ({' '.join(f'*{suffix} *{suffix.upper()}' for suffix in FILM_SUFFIXES)});;All files (*)"
FILM_ID = "film"
LEVELS = ("beginner", "club", "county", "professional")
#: Games that a number of points ends, with the usual number.
TARGETS = {"straight_pool": 100, "rotation": 61}


def recording_of(path: Path) -> Recording:
    """The record of a film: where it is and what finds it again; raises `FilmError`."""
    index = known_index(path)
    data = {
        "id": FILM_ID,
        "file": str(path.absolute()),
        "fingerprint": fingerprint(path, index.duration_s),
        "duration": round(index.duration_s, 3),
        "frame_rate": round(index.frame_rate, 3),
    }
    return Recording.model_validate(data)


class NewSessionDialog(GuidedDialog):
    """Asks for a session; `session()` is what was asked for. The last choices are the default.

    `met` holds the players of earlier sessions, the latest first.
    """

    place = "begins a session"

    def __init__(
        self,
        settings: Settings,
        background: Background,
        met: Sequence[tuple[str, ...]] = (),
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("New session")
        self._settings, self._background = settings, background
        self._recording: Recording | None = None
        self._looked_at = ""  # the film that was, or is being, looked through
        self._looking: int | None = None
        self._begins_then = False
        self._title = QLineEdit()
        self._title.setPlaceholderText("made from the players and the date")
        self._game = _choice(GAMES, settings.get("last_game"))
        self._table = _choice(tuple(PRESETS), settings.get("last_table"))
        self._race = QSpinBox()
        self._race.setRange(0, 99)
        self._race.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self._race.setSpecialValueText("none")
        self._race.setValue(settings.get("last_race"))
        self._order = _choice(("alternate", "winner", "loser"), settings.get("last_order"))
        self._target = QSpinBox()
        self._target.setRange(1, 999)
        self._target.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self._target.setValue(settings.get("last_target"))
        self._reds = _choice(("15", "10", "6"), str(settings.get("last_reds")))
        self._level = _choice(LEVELS, settings.get("last_level"))
        self._ghost = QCheckBox("race against the ghost")
        self.players = PlayerFields(met, [*settings.get("last_players").split("\n"), "", ""], self)
        self.in_the_middle = QCheckBox("in the middle: of the match, a rack or a run")
        self._film = QLineEdit()
        self._film.setPlaceholderText("none: marks take the clock")
        self._film.editingFinished.connect(self._check_film)
        self._compose()
        self.setMinimumWidth(460)
        self._game.currentIndexChanged.connect(self._follow_game)
        self.players.other.textChanged.connect(self._follow_game)
        self._follow_game()
        self.players.first.setFocus()

    def _compose(self) -> None:
        browse = QPushButton("Browse")
        browse.setAutoDefault(False)
        browse.clicked.connect(self._browse)
        film_row = QHBoxLayout()
        film_row.addWidget(self._film, 1)
        film_row.addWidget(browse)
        self.recent = QPushButton("Recent")
        self.recent.setAutoDefault(False)
        self.recent.setEnabled(bool(recent_films(self._settings)))
        self.recent.clicked.connect(self._offer_recent)
        film_row.addWidget(self.recent)
        self._form = form = QFormLayout()
        form.setSpacing(8)
        for words, field in (
            ("&Title", self._title),
            ("&Game", self._game),
            ("&Race to", self._race),
            ("Tar&get", self._target),
            ("Red&s", self._reds),
            ("&Order of breaks", self._order),
            ("&Breaks first", self.players.first),
            ("Other &player", self.players.other),
            ("G&host", self._ghost),
            ("&Level of play", self._level),
            ("Ta&ble", self._table),
        ):
            field.setAccessibleName(words.replace("&", ""))
            form.addRow(words, field)
        self._film.setAccessibleName("Film")
        form.addRow("&Film", film_row)
        form.labelForField(film_row).setBuddy(self._film)  # type: ignore[union-attr]
        self.in_the_middle.setAccessibleName("It begins in the middle")
        form.addRow("&It begins", self.in_the_middle)
        #: What is asked of one film alone.
        self._of_one_film = (self._title, film_row, self.in_the_middle)
        self._problem = label("", "message", wrap=True)
        self._problem.setProperty("tone", "bad")
        buttons = save_or_cancel(self, "Begin", self._accept)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addLayout(form)
        layout.addWidget(self._problem)
        layout.addWidget(buttons)

    def for_films(self, folder: str, films: int) -> None:
        """Ask only what the sessions of so many films have in common: each has its own title and film."""
        self.setWindowTitle(f"Films of {folder}")
        for row in self._of_one_film:
            self._form.setRowVisible(row, False)
        self._problem.setProperty("tone", "")
        self._problem.setText(
            f"{count(films, 'session')} will begin, each with its film; titles are the names of the files."
        )

    def _follow_game(self) -> None:
        """Show what can be agreed on in the chosen game, and a table that it is played on."""
        game = self._game.currentData()
        alone = not self.players.names()[1]
        self._form.setRowVisible(self._race, game != "straight_pool")
        self._form.setRowVisible(self._target, game in TARGETS)
        self._form.setRowVisible(self._reds, game == "snooker")
        self._form.setRowVisible(self._order, not alone and game != "straight_pool")
        self._form.setRowVisible(self._ghost, alone and game in GHOST_GAMES)
        snooker_table = PRESETS[self._table.currentData()].snooker
        if (game == "snooker") != snooker_table:
            wanted = "snooker_12ft" if game == "snooker" else "pool_9ft"
            self._table.setCurrentIndex(self._table.findData(wanted))
        if game in TARGETS and self._target.value() not in TARGETS.values():
            return
        if game in TARGETS:
            self._target.setValue(TARGETS[game])

    def _rules(self, alone: bool) -> dict[str, object]:
        """What was agreed on; what is the rule anyway is left out."""
        game = self._game.currentData()
        rules: dict[str, object] = {}
        if self._race.value() and game != "straight_pool":
            rules["race_to"] = self._race.value()
        if not alone and game != "straight_pool" and self._order.currentData() != "alternate":
            rules["break_order"] = self._order.currentData()
        if game in TARGETS and self._target.value() != TARGETS[game]:
            rules["target_points"] = self._target.value()
        if game == "snooker" and self._reds.currentData() != "15":
            rules["reds"] = int(self._reds.currentData())
        return rules

    def session(self) -> Session:
        """The session as a record, with nothing in it yet."""
        names = self.players.names()
        ghost = not names[1] and self._ghost.isChecked() and self._game.currentData() in GHOST_GAMES
        alone = "ghost" if ghost else "practice"
        today = date.today().isoformat()
        title = self._title.text().strip() or " – ".join(n for n in names if n) or "Practice"
        data: dict[str, object] = {
            "format": FORMAT,
            "version": VERSION,
            "id": uuid.uuid4().hex,
            "title": title,
            "date": today,
            "kind": "match" if names[1] else alone,
            "game": self._game.currentData(),
            "level": self._level.currentData(),
            "table": {"preset": self._table.currentData()},
            "players": (*_players(names), *(({"id": "ghost", "ghost": True},) if ghost else ())),
            "racks": (),
        }
        rules = self._rules(not names[1])
        if rules:
            data["rules"] = rules
        if self._recording is not None:
            data["recordings"] = (self._recording,)
        return Session.model_validate(data)

    def _browse(self) -> None:
        path = choose_file(self, "Choose the film", self._settings.get("last_folder"), FILM_FILTER)
        if path:
            self.take_film(Path(path))

    def take_film(self, path: Path) -> None:
        """This is the film; it is looked through."""
        self._film.setText(str(path))
        self._check_film()

    def _offer_recent(self) -> None:
        """The films that were opened last, in a list below the button."""
        menu = QMenu(self)
        for number, path in enumerate(recent_films(self._settings), start=1):
            action = menu.addAction(f"&{number}  {path.name.replace('&', '&&')}")
            if action is not None:
                action.setToolTip(str(path))
                action.triggered.connect(lambda _checked=False, one=path: self.take_film(one))
        menu.setToolTipsVisible(True)
        pop_up(menu, self.recent.mapToGlobal(self.recent.rect().bottomLeft()))

    def _check_film(self) -> None:
        """Look through the film that is named, in the background; a sentence says what is wrong with it."""
        text = self._film.text().strip()
        if text == self._looked_at:
            return
        if self._looking is not None:
            self._background.forget(self._looking)
        self._looked_at, self._recording, self._looking = text, None, None
        self._problem.setText("The film is looked through." if text else "")
        if text:
            path = Path(text).expanduser()
            self._looking = self._background.run(
                lambda: recording_of(path), self._take_film, self._refuse_film
            )

    def done(self, result: int) -> None:
        """Closed: what is still looked through is not wanted any more."""
        if self._looking is not None:
            self._background.forget(self._looking)
        super().done(result)

    def _take_film(self, recording: Recording) -> None:
        self._looking, self._recording = None, recording
        self._problem.setText("")
        if recording.file:
            remember_film(self._settings, Path(recording.file))
        if self._begins_then:
            self._accept()

    def _refuse_film(self, error: Exception) -> None:
        self._looking, self._looked_at, self._begins_then = None, "", False
        self._problem.setText(str(error))
        self._film.setFocus()

    def _accept(self) -> None:
        if not self.players.names()[0]:
            self._problem.setText("The name of a player is needed: whose shots shall be counted?")
            self.players.first.setFocus()
            return
        self._check_film()
        self._begins_then = self._looking is not None
        if self._begins_then:
            return  # it begins as soon as the film was looked through
        self._settings.set("last_game", self._game.currentData())
        self._settings.set("last_table", self._table.currentData())
        self._settings.set("last_race", self._race.value())
        self._settings.set("last_order", self._order.currentData())
        self._settings.set("last_target", self._target.value())
        self._settings.set("last_reds", int(self._reds.currentData()))
        self._settings.set("last_level", self._level.currentData())
        self._settings.set("last_players", "\n".join(self.players.names()))
        self.accept()


def _choice(values: tuple[str, ...], chosen: str) -> QComboBox:
    box = QComboBox()
    for value in values:
        box.addItem(sentence(word(value)), value)
    box.setCurrentIndex(max(0, box.findData(chosen)))
    box.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    return box


def _players(names: list[str]) -> tuple[dict[str, str], ...]:
    players: list[dict[str, str]] = []
    for name in names:
        if not name:
            continue
        base = re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-") or "player"
        taken = {player["id"] for player in players}
        players.append({"id": base if base not in taken else f"{base}-2", "name": name})
    return tuple(players)
