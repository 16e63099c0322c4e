"""Searching in Review: asks the book, walks what was found while tagging, and plays it as one film."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QTimer

from ripasso.review.entry.bulk import tag_shots
from ripasso.review.language.parsing import NotAWord, parse
from ripasso.review.language.vocabulary import count
from ripasso.review.record.report import ReportShot
from ripasso.ui.review.find.find_page import FindPage, found_words
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.services.search import Found, Search

LOOK_MS = 60
#: Seconds before each strike, after each rest, and of a shot without an end.
BEFORE_S, AFTER_S, UNENDED_S = 0.5, 0.7, 4.0
#: A shot without film is shown for so long, milliseconds.
STILL_MS = 1500


class FindController:
    """Works for the page whose parts it has; `show` takes a session and a shot."""

    def __init__(self, context: ReviewContext, page: FindPage, show: Callable[[str, str], None]) -> None:
        self._context, self._page, self._show = context, page, show
        self._search = Search(context.workspace.index, context.background)
        self._found: Found | None = None
        self._row = -1
        self._waited_ms = 0
        self._timer = QTimer(page)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self._watch)
        page.asked.connect(self._ask)
        page.opened.connect(self.go)
        page.played.connect(self.play_all)
        page.said_of.connect(self.say_of)

    @property
    def found(self) -> Found | None:
        """What was found last."""
        return self._found

    @property
    def is_seen(self) -> bool:
        """The search is on screen."""
        return self._page.isVisible()

    def shots(self, most: int) -> list[ReportShot]:
        """Those found last, the first so many, as a report names them."""
        found, made = self._found, list[ReportShot]()
        document = self._context.workspace.document
        for row in range(min(most, len(found)) if found is not None else 0):
            assert found is not None
            session, key = found.place(row)
            snapshot = document.session(session)
            shot = snapshot.shot(key) if snapshot is not None else None
            rack = snapshot.rack(shot.rack) if snapshot is not None and shot is not None else None
            if shot is not None and rack is not None:
                made.append(ReportShot(session=session, rack=rack.record.number, shot=shot.record.number))
        return made

    @property
    def playing(self) -> bool:
        """What was found runs as one film."""
        return self._timer.isActive()

    def _ask(self, line: str) -> None:
        def ready(found: Found) -> None:
            self._found, self._row = found, -1
            self._page.show_found(found)

        self._search.ask(line, ready, self._page.refuse)

    def go(self, row: int) -> None:
        """Show one of those found."""
        if self._found is None or not 0 <= row < len(self._found):
            return
        self._row = row
        self._show(*self._found.place(row))
        snapshot = self._context.controller.snapshot
        self._context.say(found_words(self._found, row, snapshot.head.game if snapshot else None))

    def say_of(self, rows: list[int], text: str) -> None:
        """Say a line of words of several shots; what one session holds of them is one step of undo."""
        if self._found is None:
            return
        try:
            items = parse(text)
        except NotAWord as error:
            self._page.refuse(str(error))
            return
        by_session: dict[str, list[str]] = {}
        for row in rows:
            session, shot = self._found.place(row)
            by_session.setdefault(session, []).append(shot)
        document, refused = self._context.workspace.document, 0
        for session, shots in by_session.items():
            snapshot = document.session(session)
            if snapshot is None:
                continue
            command, left_out = tag_shots(snapshot, shots, items)
            refused += left_out
            if command.changes:
                self._context.controller.perform_other(command)
        told = f"Said of {count(len(rows) - refused, 'shot')}"
        more = f"; {refused} could not take it" if refused else ""
        self._context.say(f"{told}{more}; Ctrl Z takes it back, a session at a time.", "good")
        self._page.words.clear()
        self._ask(self._page.line.text())

    def step(self, by: int) -> None:
        """The next of those found (1), or the one before (-1)."""
        self.stop()
        if self._found is None or not len(self._found):
            self._context.say("Nothing was searched for yet; Ctrl F finds shots.")
            return
        row = self._row + by
        if not 0 <= row < len(self._found):
            self._context.say("There is no further one among those found.")
            return
        self.go(row)

    def play_all(self) -> None:
        """Play what was found from the first on, each shot with a little before and after."""
        if self._found is None or not len(self._found):
            return
        self._row = -1
        self._timer.start()
        self._next()

    def play_shots(self, shots: Sequence[str]) -> None:
        """Play shots by their keys; they take the place of what was searched for."""

        def ready(found: Found) -> None:
            self._found = found
            self._page.show_found(found)
            self.play_all()

        self._search.take(shots, ready)

    def stop(self) -> None:
        """The film of what was found ends here."""
        self._timer.stop()

    def _next(self) -> None:
        assert self._found is not None
        if self._row + 1 >= len(self._found):
            self.stop()
            self._context.player.pause()
            self._context.say("That was the last one found.", "good")
            return
        self._waited_ms = 0
        self.go(self._row + 1)
        shot = self._context.controller.shot
        strike = self._context.film_controller.marks(shot.record)[0] if shot is not None else None
        if strike is not None:
            self._context.player.seek(max(0.0, strike - BEFORE_S))
            self._context.player.play()

    def _watch(self) -> None:
        """Go on to the next shot when this one has come to its end."""
        shot, player = self._context.controller.shot, self._context.player
        self._waited_ms += LOOK_MS
        wanted = self._found.place(self._row)[1] if self._found is not None else None
        if shot is None or shot.key != wanted:
            self.stop()  # somebody went elsewhere
            return
        strike, rest = self._context.film_controller.marks(shot.record)
        if player.index is None or strike is None:
            if self._waited_ms > STILL_MS:
                self._next()
            return
        end = rest if rest is not None else strike + UNENDED_S
        if not player.playing and not player.late:
            player.seek(max(0.0, strike - BEFORE_S))
            player.play()  # the film was opened only now
        if player.time_s is not None and player.time_s >= end + AFTER_S:
            self._next()
