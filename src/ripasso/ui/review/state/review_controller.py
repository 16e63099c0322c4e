"""What Review has in hand, without a window: session, shot, half-typed entry, and the work of the keys.

The controller turns keys into commands of the document and says in a sentence what it cannot understand.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ripasso.core.rules.pool import opponent
from ripasso.review.document.command import Command
from ripasso.review.document.document import Document
from ripasso.review.document.edits import REMOVE, Path, RefusedEdit, remove_shot, set_values, several
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.break_sheet import SheetField, next_value
from ripasso.review.entry.implied import imply_from_player, renew, withdraw
from ripasso.review.entry.marking import Moment, NothingToMark, mark_rest, mark_strike, settled_players
from ripasso.review.entry.rack_start import RackStart, begin_rack
from ripasso.review.entry.tagging import (
    Context,
    Entry,
    NotUnderstood,
    digit_values,
    is_set,
    meant_ball_values,
    pocket_values,
    tag_values,
)
from ripasso.review.entry.word_values import is_said, toggled, words_values
from ripasso.review.language.items import Item, Tip
from ripasso.review.language.terms import BY_ID
from ripasso.review.language.vocabulary import count, rack_word, word
from ripasso.review.record.proposals import without_proposals
from ripasso.review.recordings.film_parts import Saying, StretchLine, forget_stretch, part_at, say_stretch
from ripasso.review.table.layouts import follow_facts
from ripasso.ui.review.state.command_controller import CommandController
from ripasso.ui.review.state.selection import Say

Implies = Callable[[Snapshot], Command | None]


class ReviewController(CommandController):
    """The keys of Review, for what is in hand."""

    def __init__(self, document: Document, say: Say) -> None:
        super().__init__(document, say)
        self._entry = Entry()
        self._typed: list[Command] = []

    def _begin_anew(self) -> None:
        self._entry = Entry()
        self._typed.clear()

    @property
    def waits_for(self) -> str:
        """What a half-typed entry waits for, in words; empty when it waits for nothing."""
        if self._entry.first_contact:
            return "The number of the ball that was hit first"
        return ""

    def is_set(self, tag: str) -> bool:
        """Whether somebody said of the shot in hand what the tag says."""
        shot = self.shot
        if shot is None:
            return False
        if tag == "foul_first":
            return self._entry.first_contact
        return is_set(without_proposals(shot.record), tag)

    def is_proposed(self, tag: str) -> bool:
        """Whether the program proposes for the shot in hand what the tag says."""
        shot = self.shot
        if shot is None or not shot.record.proposed or tag == "foul_first":
            return False
        return is_set(shot.record, tag) and not is_set(without_proposals(shot.record), tag)

    # Keys

    def tag(self, name: str) -> None:
        """One key that says something of the shot in hand."""
        if name == "foul_first":
            self._entry = Entry(first_contact=not self._entry.first_contact)
            self.changed.emit(None)
            return
        context = self._context()
        if context is not None:
            self._tell(lambda: (tag_values(context, name), Entry()), f"Say {word(name)}")

    def digit(self, digit: str) -> None:
        """A digit: a ball."""
        context, entry = self._context(), self._entry
        if context is not None:
            self._tell(lambda: digit_values(context, entry, digit), f"Say ball {digit}")

    def pocket(self, pocket: str) -> None:
        """A pocket's letter."""
        context, entry = self._context(), self._entry
        if context is not None:
            self._tell(lambda: (pocket_values(context, entry, pocket), Entry()), f"Say {word(pocket)}")

    def meant_ball(self, ball: str) -> None:
        """A ball that was pointed at: the one the shot is meant for."""
        context = self._context()
        if context is None:
            return
        if self._entry.first_contact:
            self._tell(lambda: ({("facts", "first_contact"): ball}, Entry()), f"Say ball {ball} hit first")
        else:
            self._tell(lambda: (meant_ball_values(context, ball), Entry()), f"Say ball {ball}")

    def set_note(self, text: str) -> None:
        """The note of the shot in hand; an empty one takes it away."""
        shot = self.shot
        if shot is not None and (shot.record.note or "") != text:
            self._set({("note",): text or REMOVE}, "Write a note")

    def set_note_of(self, key: str, text: str) -> bool:
        """The note of any shot of the session; False when it could not be stored."""
        snapshot = self.snapshot
        row = snapshot.shot(key) if snapshot is not None else None
        if snapshot is None or row is None or (row.record.note or "") == text:
            return row is not None
        return self._run(set_values(snapshot, "shot", key, {("note",): text or REMOVE}, "Write a note"))

    def is_said(self, term: str) -> bool:
        """Whether somebody said of the shot in hand what a term says."""
        shot = self.shot
        return shot is not None and is_said(without_proposals(shot.record), term)

    def toggle_term(self, term: str) -> None:
        """Say a term of the shot in hand, or take it back."""
        context = self._context()
        if context is not None:
            self._tell(lambda: (toggled(context, term), Entry()), f"Say {BY_ID[term].british[0]}")

    def set_tip(self, right: float, up: float) -> None:
        """Where the tip met the cue ball, in widths of the tip."""
        self.say_words((Tip(right, up),))

    def say_words(self, items: Sequence[Item]) -> bool:
        """What a line of words says of the shot in hand, as one step of undo; False when it was refused."""
        context = self._context()
        if context is None or not items:
            return False
        try:
            values = words_values(context, items)
        except NotUnderstood as error:
            self._say(str(error), "plain")
            return False
        if not values:
            self._say("That was said already.", "plain")
            return True
        before = self._document.last_command
        self._tell(lambda: (values, Entry()), "Say it in words")
        return self._document.last_command is not before

    def other_player(self) -> None:
        """The other player struck the shot in hand."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            return
        players = tuple(p.id for p in snapshot.head.players or () if not p.ghost)
        other = opponent(players, shot.record.player)
        if other is None or other == shot.record.player:
            self._say("This session has no other player.", "plain")
            return
        key = shot.key
        self._set({("player",): other}, "Change the player", lambda now: imply_from_player(now, key))

    def accept(self) -> None:
        """Take over what the program proposes for the shot in hand."""
        shot = self.shot
        if shot is None or not shot.record.proposed:
            self._say("Nothing is proposed for this shot.", "plain")
        else:
            self._set({("proposed",): REMOVE}, "Accept what was proposed")

    def accept_rack(self) -> None:
        """Take over everything the program proposes in the rack in hand, as one step of undo."""
        snapshot, rack = self.snapshot, self.rack
        shots = [shot for shot in rack.shots if shot.record.proposed] if rack else []
        if snapshot is None or not shots:
            self._say("Nothing is proposed in this rack.", "plain")
            return
        label = f"Accept what was proposed for {count(len(shots), 'shot')}"
        accepted: dict[Path, object] = {("proposed",): REMOVE}
        commands = [set_values(snapshot, "shot", shot.key, accepted, label) for shot in shots]
        if self._run(several(label, commands)):
            self._say(f"Accepted: {count(len(shots), 'shot')} of this rack.", "good")

    def strike(self, at: Moment) -> None:
        """Mark a strike; the shot it belongs to is taken in hand."""
        snapshot = self.snapshot
        if snapshot is None:
            return
        command, shot = mark_strike(snapshot, at, self._shot)
        if self._run(command):
            self._choose(shot)
            kind = part_at(snapshot.head, at.recording, at.t)
            if kind is not None:
                text = f"Said of this part of the film: {word('part_' + kind)}. Is this strike a new one?"
                self._say(text, "unsure")

    def rest(self, at: Moment) -> None:
        """Mark all balls at rest for the last shot struck before."""
        snapshot = self.snapshot
        if snapshot is None:
            return
        try:
            command, shot = mark_rest(snapshot, at)
        except NothingToMark as error:
            self._say(str(error), "plain")
            return
        if self._run(command):
            self.choose(shot)

    def break_line(self, line: SheetField) -> None:
        """The next value of a line of the break sheet."""
        shot = self.shot
        if shot is not None:
            label = f"Say {word('sheet_' + line.name)}"
            self._set({line.path: next_value(shot.record, line)}, label)

    def begin_rack(self, start: RackStart) -> bool:
        """The next strike begins a rack that begins so; False where that is refused, with a sentence."""
        snapshot = self.snapshot
        if snapshot is None:
            return False
        try:
            command = begin_rack(snapshot, start)
        except RefusedEdit as error:
            self._say(str(error), "plain")
            return False
        done = self._run(command)
        if done:
            what = rack_word(snapshot.head.game)
            self._say(f"The next strike begins the {what} that the film goes on with.", "plain")
        return done

    def say_stretch(self, stretch: tuple[str, float, float], saying: Saying) -> None:
        """Say what a stretch (recording, from, to in seconds) of the film shows."""
        snapshot = self.snapshot
        if snapshot is None:
            return
        try:
            command = say_stretch(snapshot, stretch, saying, self._shot)
        except RefusedEdit as error:
            self._say(str(error), "plain")
            return
        if self._run(command):
            self._say(f"Said of this stretch: {word(saying.name)}.", "good")

    def forget_stretch(self, line: StretchLine) -> None:
        """Take back what was said of a stretch."""
        snapshot = self.snapshot
        if snapshot is not None:
            self._run(forget_stretch(snapshot, line))

    def delete_shot(self) -> None:
        """Take the shot in hand away; the one before is taken in hand."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            return
        keys = [s.key for s in snapshot.shots]
        place = keys.index(shot.key)
        rest = keys[:place] + keys[place + 1 :]
        removal = remove_shot(snapshot, shot.key)
        before = snapshot.shots[place - 1] if place else None
        if before is not None and before.rack == shot.rack:
            removal = _joined(snapshot, removal, lambda now: _withdrawn(now, before.key))
        if self._run(removal):
            self._say(f"Shot {shot.record.number} is gone; Ctrl+Z brings it back.", "plain")
            self._choose(rest[max(0, place - 1)] if rest else None)

    def take_back(self) -> None:
        """Take back the last key that was pressed for this shot."""
        if self._entry != Entry():
            self._entry = Entry()
            self.changed.emit(None)
        while self._typed and self._document.last_command is not self._typed[-1]:
            self._typed.pop()  # undone by Ctrl+Z, or something else was done since
        if not self._typed:
            self._say("Nothing more was typed for this shot; Ctrl+Z goes back further.", "plain")
            return
        self.undo()

    def say_values(self, values: dict[Path, object], label: str) -> None:
        """Set values of the shot in hand, as one step of undo."""
        self._set(values, label)

    # How it is done

    def _context(self) -> Context | None:
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            self._say("No shot is in hand; F marks a strike and begins one.", "plain")
            return None
        # A key says its word to what a person said before it: a proposal it agrees with is accepted.
        return Context(without_proposals(shot.record), snapshot.head.game, self.shot_score)

    def _tell(self, build: Callable[[], tuple[dict[Path, object], Entry]], label: str) -> None:
        try:
            values, entry = build()
        except NotUnderstood as error:
            self._say(str(error), "plain")
            return
        self._set(values, label)
        # The document's notice has shown the change; what is half typed now is told where it differs.
        if entry != self._entry:
            self._entry = entry
            self.changed.emit(None)

    def _set(self, values: dict[Path, object], label: str, implies: Implies | None = None) -> None:
        """Set values of the shot in hand, with what they imply, as one step of undo."""
        snapshot, shot = self.snapshot, self.shot
        if snapshot is None or shot is None:
            return
        try:
            command = set_values(snapshot, "shot", shot.key, values, label)
        except RefusedEdit as error:
            self._say(str(error), "bad")
            return
        if implies is not None:
            command = _joined(snapshot, command, implies)
        elif shot.record.proposed:
            command = _joined(snapshot, command, lambda now: renew(now, shot.key))
        if any(path[0] == "facts" for path in values):
            if shot.record.after is not None:
                command = _joined(snapshot, command, lambda now: follow_facts(now, shot.key))
            command = _joined(snapshot, command, lambda now: settled_players(now, shot.key))
        if self._run(command):
            self._typed.append(command)


def _joined(snapshot: Snapshot, command: Command, implies: Implies) -> Command:
    """The command with what it implies, one step of undo."""
    after = snapshot.applied(command.changes)
    implied = implies(after) if after is not None else None
    return several(command.label, [command, implied]) if implied is not None else command


def _withdrawn(snapshot: Snapshot, shot: str) -> Command | None:
    """What was implied by a strike that is gone, unless another one follows in the rack."""
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    is_last = rack is not None and rack.shots[-1].key == shot
    return withdraw(snapshot, shot) if is_last else None
