"""Joins keys and widgets of Practice to commands of the document."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date

from ripasso.core.json_data import JsonObject
from ripasso.review.document.command import Command
from ripasso.review.document.document import Changed
from ripasso.review.document.edits import RefusedEdit, add_session, new_key, set_values
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.attempts import (
    NotAChange,
    attempt_set,
    read_change,
    toggled_criterion,
    toggled_relaxed,
    with_attempt,
    without_last,
)
from ripasso.review.practice.exercises import (
    add_exercise,
    begin_set,
    change_exercise,
    due_on,
    end_set,
    exercise_of,
    exercises_of,
    open_set,
    practice_session,
    remove_exercise,
    set_time,
    sets_of,
    skip,
)
from ripasso.review.practice.film_attempts import attempts_on_film
from ripasso.review.practice.run_words import run_succeeds, runs_of
from ripasso.review.practice.words import due_words, ended_words
from ripasso.review.record.model import Player
from ripasso.review.record.people import person_key
from ripasso.review.record.practice import AttemptSet, Exercise
from ripasso.store.errors import LibraryError
from ripasso.ui.workspace import Workspace

KIND = "practice"
#: No run is longer.
MOST_BALLS = 1000
COUNTED = {True: "Count a success", False: "Count a failure", None: "Count an attempt"}


@dataclass
class PracticeState:
    """The session of the plan and the exercise by their names; changes wait for the next attempt."""

    session: str | None = None
    exercise: str | None = None
    changes: list[JsonObject] = field(default_factory=list)


class PracticeController:
    """Works on one player's plan; `changed` is told after everything that changes what is seen."""

    def __init__(self, workspace: Workspace, today: Callable[[], date] = date.today) -> None:
        self._workspace, self._today = workspace, today
        self.state = PracticeState()
        self.changed: Signal[None] = Signal()
        # The list of sessions is read again only when one came or went: keys count attempts.
        self._plans: list[tuple[str, str]] | None = None
        workspace.document.changed.connect(self._follow)

    # What is there

    @property
    def today(self) -> date:
        """The day on which is practised."""
        return self._today()

    def plans(self) -> list[tuple[str, str]]:
        """Key and title of every session that holds a practice plan, the latest first."""
        if self._plans is None:
            lines = self._workspace.session_lines()
            self._plans = [(line.key, line.title) for line in lines if line.kind == KIND]
        return self._plans

    @property
    def snapshot(self) -> Snapshot | None:
        """The session of the plan in hand."""
        key = self.state.session
        return self._workspace.document.session(key) if key is not None else None

    @property
    def exercises(self) -> tuple[Exercise, ...]:
        """The exercises of the plan, what is due first at the front."""
        snapshot = self.snapshot
        return exercises_of(snapshot) if snapshot is not None else ()

    @property
    def exercise(self) -> Exercise | None:
        """The exercise in hand."""
        snapshot, name = self.snapshot, self.state.exercise
        return exercise_of(snapshot, name) if snapshot is not None and name is not None else None

    @property
    def running(self) -> AttemptSet | None:
        """The set that is being played: begun and not ended."""
        found = self._open_set()
        return found[1] if found is not None else None

    @property
    def sets(self) -> list[AttemptSet]:
        """The sets of the exercise in hand, in order."""
        snapshot, name = self.snapshot, self.state.exercise
        return sets_of(snapshot, name) if snapshot is not None and name is not None else []

    def _open_set(self) -> tuple[str, AttemptSet] | None:
        snapshot, name = self.snapshot, self.state.exercise
        return open_set(snapshot, name) if snapshot is not None and name is not None else None

    def person(self) -> str | None:
        """Who practises, across sessions."""
        head = self.snapshot.head if self.snapshot is not None else None
        player = head.players[0] if head is not None and head.players else None
        return person_key(head, player.id) if head is not None and player is not None else None

    # What is in hand

    def _follow(self, change: Changed) -> None:
        """What was changed, here or elsewhere, by a command or by taking one back."""
        sessions = [one for one in change.command.changes if one.table == "session"]
        if any(one.before is None or one.after is None for one in sessions):
            self._plans = None
        if self._plans is None or change.command.session == self.state.session:
            self.refresh()

    def look_again(self) -> None:
        """Look at the library anew, as when the page is shown."""
        self._plans = None
        self.refresh()

    def refresh(self) -> None:
        """Look again at what is in hand: it may have gone, or never been."""
        keys = [key for key, _ in self.plans()]
        if self.state.session not in keys:
            self.state.session = keys[0] if keys else None
        names = [one.id for one in self.exercises]
        if self.state.exercise not in names:
            self.state.exercise = names[0] if names else None
        self.changed.emit(None)

    def choose_plan(self, key: str) -> None:
        """Take another player's plan in hand."""
        self.state = PracticeState(session=key)
        self.refresh()

    def choose(self, name: str) -> None:
        """Take an exercise in hand; a set that was begun goes on where it was."""
        if name != self.state.exercise:
            self.state.exercise, self.state.changes = name, []
        self.changed.emit(None)

    def step(self, by: int) -> None:
        """The next exercise, or the one before."""
        names = [one.id for one in self.exercises]
        if names:
            here = names.index(self.state.exercise) if self.state.exercise in names else 0
            self.choose(names[max(0, min(len(names) - 1, here + by))])

    # Commands

    def run(self, make: Callable[[Snapshot], Command], done: str = "") -> bool:
        """Carry out a command on the plan's session; what refuses it is said."""
        snapshot = self.snapshot
        if snapshot is None:
            self._say("There is no practice plan yet: N makes an exercise.", "plain")
            return False
        return self._run(lambda: make(snapshot), done)

    def _run(self, make: Callable[[], Command], done: str) -> bool:
        try:
            self._workspace.document.run(make())
        except (RefusedEdit, LibraryError) as error:
            self._say(str(error), "bad")
            return False
        if done:
            self._say(done, "good")
        return True

    def _say(self, sentence: str, tone: str) -> None:
        self._workspace.messages.say(sentence, tone)

    def add(
        self, values: JsonObject, player: Player, game: str | None = None, table: JsonObject | None = None
    ) -> bool:
        """A new exercise in the plan of a player; the first one makes the plan."""
        values = {"id": new_key(), **values}
        title, due = values["title"], date.fromisoformat(values["due"])
        when = due_words(due, self.today)
        known = self._plan_of(player)
        if known is not None:
            self.state.session = known
            done = self.run(lambda now: add_exercise(now, values), f"{title} is an exercise now, due {when}.")
        else:
            made = practice_session(player, game, table, self.today, [values])
            self.state.session = made.id
            done = self._run(
                lambda: add_session(made), f"{title} is the first exercise of {made.title}, due {when}."
            )
        if done:
            self.choose(values["id"])
        return done

    def _plan_of(self, player: Player) -> str | None:
        """The session with the plan of a player, by the name."""
        wanted = " ".join((player.name or player.id).split()).casefold()
        for line in self._workspace.session_lines():
            if line.kind == KIND and wanted in {" ".join(name.split()).casefold() for name in line.players}:
                return line.key
        return None

    def edit(self, values: JsonObject) -> None:
        """Other values of the exercise in hand."""
        name = self.state.exercise
        if name is not None:
            self.run(lambda now: change_exercise(now, name, values, "Change an exercise"))

    def delete(self) -> None:
        """Take the exercise in hand away."""
        exercise = self.exercise
        if exercise is not None:
            self.run(
                lambda now: remove_exercise(now, exercise.id),
                f"{exercise.title} is deleted; Ctrl Z brings it back. Its sets stay.",
            )

    def put_off(self) -> None:
        """Not today."""
        exercise = self.exercise
        if exercise is not None and self.run(lambda now: skip(now, exercise.id, self.today)):
            self._say(f"{exercise.title} is due tomorrow, on the same level.", "good")

    def move_to(self, name: str, day: date) -> None:
        """An exercise is due on another day, as it was dragged there."""
        values = {"due": day.isoformat()}
        self.run(lambda now: change_exercise(now, name, values, "Move an exercise to another day"))

    def set_time(self, minutes: int, days: tuple[str, ...]) -> None:
        """How much time there is."""
        self.run(lambda now: set_time(now, minutes, days))

    # Counting

    def count(
        self,
        success: bool | None,
        film: tuple[str, float] | None = None,
        met: Mapping[str, bool] | None = None,
        balls: int | None = None,
    ) -> None:
        """One attempt more; the first one begins the set. `met` says which criteria it met, where known.

        `balls` are those of a run.
        """
        name = self.state.exercise
        if name is None:
            self._say("There is no exercise yet: N makes one, W finds weak spots.", "plain")
            return
        if self._open_set() is None:
            key = new_key()
            if not self.run(lambda now: begin_set(now, name, self.today, key)):
                return
        changes, exercise = list(self.state.changes), self.exercise
        self.state.changes = []
        self._change_set(
            lambda made: with_attempt(
                made, success, film, changed=changes, way=_way(exercise, made), met=met, balls=balls
            ),
            COUNTED[success],
        )

    def count_run(self, text: str) -> bool:
        """Count a run by its balls, as typed; whether it succeeds follows from them."""
        exercise = self.exercise
        if exercise is None or exercise.kind != "run":
            self._say("Balls are counted of a run; this exercise is none.", "plain")
            return False
        if not text.strip().isdecimal() or int(text) > MOST_BALLS:
            self._say(f"A run is a number of balls up to {MOST_BALLS}, such as 23.", "unsure")
            return False
        run = int(text)
        earlier = runs_of(one for made in self.sets for one in made.attempts or ())
        self.count(run_succeeds(exercise, run, earlier), balls=run)
        return True

    def count_on_film(self) -> None:
        """Count the next shot of this session that begins from the exercise's layout, as the film has it."""
        snapshot, exercise = self.snapshot, self.exercise
        if snapshot is None or exercise is None:
            return
        found = attempts_on_film(snapshot, exercise, self.running)
        if not found:
            self._say(
                "No further shot of this session begins from this layout; Ctrl L in Review reads its film.",
                "plain",
            )
            return
        one = found[0]
        self.count(one.success, (one.recording, one.t_strike), one.met)
        self._say(
            f"{'Made' if one.success else 'Missed'} at {one.t_strike:.1f} s by the film; "
            f"{len(found) - 1} more. Ctrl Z takes it back.",
            "good",
        )

    def grant(self) -> None:
        """The last attempt counts against the criteria, marked so."""
        self._change_set(toggled_relaxed, "Grant an attempt")

    def say_criterion(self, place: int) -> None:
        """The last attempt met the criterion at a place, or did not; a success meets them all."""
        made = self.running
        criteria = (made.criteria if made is not None else None) or ()
        if made is None or not made.attempts or place >= len(criteria):
            self._say("There is no such criterion, or no attempt yet.", "plain")
            return
        name = criteria[place].id
        self._change_set(lambda one: toggled_criterion(one, name), "Say a criterion")

    def take_back(self) -> None:
        """The last attempt was none."""
        made = self.running
        if made is not None and made.attempts:
            self._change_set(without_last, "Take an attempt back")

    def change(self, text: str) -> None:
        """What is changed before the next attempt: one thing at a time."""
        if not text.strip():
            return
        try:
            self.state.changes = [read_change(text)]
        except NotAChange as error:
            self._say(str(error), "unsure")
            return
        self.changed.emit(None)

    def _change_set(
        self, values: Callable[[AttemptSet], dict[tuple[str | int, ...], object]], label: str
    ) -> None:
        found = self._open_set()
        if found is None:
            return
        key, _ = found

        def make(now: Snapshot) -> Command:
            made = attempt_set(now, key)
            if made is None:
                raise RefusedEdit("This set is not there any more.")
            return set_values(now, "attempt_set", key, values(made), label)

        self.run(make)

    def end(self) -> None:
        """End the set: whether it passed moves level and date."""
        found, name = self._open_set(), self.state.exercise
        if found is None or name is None:
            self._say("No set is being played: G and M count.", "plain")
            return
        if not self.run(lambda now: end_set(now, name, found[0], self.today)):
            return
        snapshot, exercise = self.snapshot, self.exercise
        done = (
            snapshot.head.practice_plan.done if snapshot is not None and snapshot.head.practice_plan else None
        )
        if exercise is not None and done:
            due = due_on(exercise, self.today)
            self._say(ended_words(exercise, bool(done[-1].passed), self.today, due), "good")


def _way(exercise: Exercise | None, made: AttemptSet) -> int | None:
    """Which of two ways the next attempt is played: in turns."""
    if exercise is None or exercise.kind != "two_ways":
        return None
    return len(made.attempts or ()) % 2
