"""Going about in a session by keys: marks, the next shot with its film, playing, the lines to type in."""

from __future__ import annotations

from collections.abc import Callable

from ripasso.ui.review.shared.context import ReviewContext


class Navigation:
    """Works for the page whose context it has."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context

    def mark_strike(self) -> None:
        """The strike is at the frame on screen."""
        moment = self._context.film_controller.moment()
        if moment is not None:
            self._context.controller.strike(moment)

    def mark_rest(self) -> None:
        """All balls are at rest at the frame on screen."""
        moment = self._context.film_controller.moment()
        if moment is not None:
            self._context.controller.rest(moment)

    def go_to(self, shot: str) -> None:
        """Take a shot in hand, with its film."""
        self.walk(lambda: self._context.controller.choose(shot))

    def walk(self, move: Callable[[], object]) -> None:
        """Go to another shot; the film goes to its strike, or its loop goes along."""
        controller, film, player = (
            self._context.controller,
            self._context.film_controller,
            self._context.player,
        )
        before = controller.shot_key
        move()
        if controller.shot_key != before:
            if player.loop is not None:
                film.follow_loop()
            else:
                film.to_mark(rest=False)
        self._context.shots.transport.strip.show_loop(player.loop)

    def toggle_play(self) -> None:
        """Play, or pause."""
        if self._context.player.index is None:
            self._context.say("There is no film to play here.")
        self._context.player.toggle()

    def write_note(self) -> None:
        """Begin to write the note of the shot in hand."""
        note = self._context.shots.slip.note
        if self._context.controller.shot is not None:
            note.setFocus()
            note.selectAll()

    def write_words(self) -> None:
        """Begin to say the shot in hand in words."""
        if self._context.controller.shot is None:
            self._context.say("No shot is in hand; F marks a strike and begins one.")
        else:
            self._context.shots.slip.words.open_line()

    def digit(self, digit: str) -> None:
        """A digit is a ball; while balls are placed it is the one that the next click places."""
        if self._context.pictures.placing:
            self._context.pictures.digit(digit)
        else:
            self._context.controller.digit(digit)

    def delete(self) -> None:
        """Take a ball off while balls are placed, else delete the shot in hand."""
        if self._context.pictures.placing:
            self._context.pictures.take_off()
        else:
            self._context.controller.delete_shot()
