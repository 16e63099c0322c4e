"""Weak spots of the player in hand, found in the background: shown, opened, made into exercises."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ripasso.core.figures.facts import Facts
from ripasso.core.figures.player_stats import pots
from ripasso.core.figures.slices import groups_of
from ripasso.core.practice.weak_spots import WeakSpot, weak_spots
from ripasso.review.practice.exercises import exercise_of_shot, plain_exercise
from ripasso.review.practice.weak_spot_words import spot_words
from ripasso.review.record.model import Player
from ripasso.review.record.people import person_key
from ripasso.review.record.practice import AttemptSet, Exercise
from ripasso.ui.practice.practice_controller import PracticeController
from ripasso.ui.practice.weak_spots_dialog import WeakSpotsDialog
from ripasso.ui.widgets.basics import run_dialog
from ripasso.ui.workspace import Workspace

Matches = tuple[tuple[int, int], tuple[int, int]]
Show = Callable[[Exercise | None, Sequence[AttemptSet], Matches | None], None]


class WeakSpotWork(QObject):
    """`played` brings the shots of a weak spot, by their keys."""

    played = pyqtSignal(list)

    def __init__(self, workspace: Workspace, controller: PracticeController, parent: QWidget) -> None:
        super().__init__(parent)
        self._workspace, self._controller, self._page = workspace, controller, parent

    def begin(self) -> None:
        """Look for the weak spots of the player in hand; without a plan of the one with most sessions."""
        person, name = self._person()
        if person is None:
            self._workspace.messages.say("No player is in this library yet.", "plain")
            return
        index = self._workspace.index

        def work() -> tuple[Facts, list[WeakSpot]]:
            facts = index.read().facts
            return facts, weak_spots(facts, person)

        self._workspace.messages.say(f"Weak spots of {name} are looked for.", "plain")
        self._workspace.background.run(work, lambda found: self._show(name, *found))

    def _person(self) -> tuple[str | None, str]:
        snapshot = self._controller.snapshot
        head = snapshot.head if snapshot is not None else None
        if head is not None and head.players:
            player = head.players[0]
            return person_key(head, player.id), player.name or player.id
        counted: dict[str, int] = {}
        for line in self._workspace.session_lines():
            for name in line.players:
                counted[name] = counted.get(name, 0) + 1
        most = max(counted, key=lambda name: counted[name], default=None)
        return (" ".join(most.split()).casefold(), most) if most is not None else (None, "")

    def _show(self, name: str, facts: Facts, spots: list[WeakSpot]) -> None:
        dialog = WeakSpotsDialog(self._workspace.theme, name, spots, self._page)
        dialog.played.connect(lambda row: self._play(facts, spots[row]))
        if run_dialog(dialog) and dialog.chosen is not None:
            self._make(name, facts, dialog.chosen)

    def _play(self, facts: Facts, spot: WeakSpot) -> None:
        places = spot.failed if len(spot.failed) else spot.shots
        self.played.emit([facts.key(int(place)) for place in places])

    def _make(self, name: str, facts: Facts, spot: WeakSpot) -> None:
        """An exercise of the first shot that failed with its balls; without one, of the slice alone."""
        sessions = facts.texts("session_key")
        today = self._controller.today
        title = spot_words(spot)
        for place in spot.failed:
            snapshot = self._workspace.document.session(str(sessions[place]))
            row = snapshot.shot(facts.key(int(place))) if snapshot is not None else None
            rack = snapshot.rack(row.rack) if snapshot is not None and row is not None else None
            if snapshot is None or row is None or rack is None or not row.record.before:
                continue
            values = exercise_of_shot(row.record, rack.record.number, snapshot.head, today, spot.slices)
            values["title"] = f"{title}: {values['title']}"
            player = next(one for one in snapshot.head.players or () if one.id == row.record.player)
            self._controller.add(values, player, snapshot.head.game, snapshot.head.table)
            return
        slices = [list(one) for one in spot.slices]
        values = plain_exercise("one_shot", title, today, slices=slices)
        self._controller.add(values, Player.model_validate({"id": name.casefold(), "name": name}))

    def compare(self, show: Show) -> None:
        """Show the exercise's slice in matches before and since its first set, when it is known."""
        exercise, sets, person = self._controller.exercise, self._controller.sets, self._controller.person()
        first = sets[0].date if sets else None
        if exercise is None or not exercise.slices or first is None or person is None:
            return
        slices, index = tuple(exercise.slices), self._workspace.index

        def then(found: Matches) -> None:
            if self._controller.exercise is not None and self._controller.exercise.id == exercise.id:
                show(exercise, sets, found)

        self._workspace.background.run(lambda: matches_of(index.read().facts, person, slices, first), then)


def matches_of(facts: Facts, person: str, slices: Sequence[tuple[str, str]], first: str) -> Matches:
    """Made of pots of a slice in matches, before a day and since it."""
    own, _ = facts.by_person(facts.equal("person", person))
    among = pots(own)
    for way, group in slices:
        among = among & groups_of(own, way).get(group, np.zeros(len(own), dtype=np.bool_))
    made, since = own.flags("made"), own.texts("date").astype(str) >= first
    before, after = among & ~since, among & since
    return (
        (int((before & made).sum()), int(before.sum())),
        (int((after & made).sum()), int(after.sum())),
    )
