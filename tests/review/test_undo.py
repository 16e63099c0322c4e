"""Undo is exact: after any commands, undoing them all gives the identical export; redo brings all back."""

import json
import random
import unittest
from datetime import date
from typing import ClassVar

from ripasso.film.reading.detection.stretches import Stretch
from ripasso.review.document import edits
from ripasso.review.document.document import Document, ReadOnly
from ripasso.review.document.edits import REMOVE
from ripasso.review.entry import attempts, rack_start, rearranging
from ripasso.review.practice import exercises, table_records
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.record.model import Recording, serialize
from ripasso.review.recordings import carried_balls, film_parts, films
from ripasso.review.recordings import proposed_shots as readings
from ripasso.statistics.rows.shot_rows import derived_rows
from tests.sessions import MemoryStorage, document_with, played, rack_of, session

COMMANDS = 320


def export(document, key):
    snapshot = document.session(key)
    return json.dumps(serialize(snapshot.session), sort_keys=True) if snapshot else None


def read_shot(t_strike, chance):
    """A shot as reading a film tells it."""
    balls = {ball: [round(chance.random(), 3), 0.5] for ball in chance.sample(("cue", "1", "2", "9"), 3)}
    facts = {"first_contact": "1", "potted": [{"ball": "2", "pocket": "foot_left"}], "cue_potted": False}
    sure = {"/t_strike": 0.97, "/t_rest": 0.9, "/facts/first_contact": 0.8, "/facts/potted": 0.95}
    sure |= {"/facts/cue_potted": 0.95, "/recording": 0.97}
    sure |= {f"/{when}/{ball}": 0.9 for when in ("before", "after") for ball in balls}
    return {
        "recording": "f",
        "t_strike": t_strike,
        "t_rest": t_strike + 2.0,
        "before": balls,
        "after": balls,
        "facts": facts,
        "proposed": sure,
    }


class RandomEdits:
    """Builds a random command of a wanted kind on a session; a method for every registered edit."""

    def __init__(self, seed):
        self.random = random.Random(seed)

    def build(self, name, snapshot):
        return getattr(self, name)(snapshot)

    def _rack(self, snapshot):
        return self.random.choice(snapshot.racks)

    def _shot(self, snapshot):
        return self.random.choice(snapshot.shots) if snapshot.shots else None

    def set_values(self, snapshot):
        shot = self._shot(snapshot)
        if shot is None:
            return edits.set_values(snapshot, "session", snapshot.key, {("title",): "T"}, "title")
        path, values = self.random.choice(
            [
                (("note",), ["one", "two", REMOVE]),
                (("result", "position"), ["good", "lost", REMOVE]),
                (("facts", "potted"), [[], [{"ball": "3"}], REMOVE]),
                (("facts", "first_contact"), [None, "4", REMOVE]),
                (("error",), [{"kind": "pot", "cause_shot": 1}, [{"kind": "foul"}, {"kind": "pot"}], REMOVE]),
            ]
        )
        return edits.set_values(snapshot, "shot", shot.key, {path: self.random.choice(values)}, "set")

    def add_rack(self, snapshot):
        return edits.add_rack(snapshot, {"breaker": self.random.choice("ab")})

    def begin_rack(self, snapshot):
        last = snapshot.racks[-1].record.number if snapshot.racks else 0
        number = self.random.choice((None, last + 1, last + 5))
        score = {"a": self.random.randint(0, 9), "b": 0}
        going_on = {"player": "a", "run": 3, "balls": ("1",)} if self.random.random() < 0.3 else {}
        return rack_start.begin_rack(snapshot, rack_start.RackStart(number, score, None, going_on))

    def remove_rack(self, snapshot):
        if len(snapshot.racks) < 2:
            return self.add_rack(snapshot)
        return edits.remove_rack(snapshot, self._rack(snapshot).key)

    def add_shot(self, snapshot):
        if not snapshot.racks:
            return edits.add_rack(snapshot, {})
        rack = self.random.choice([r for r in snapshot.racks if not r.record.not_shown] or snapshot.racks)
        place = self.random.randint(0, len(rack.shots))
        return edits.add_shot(snapshot, rack.key, place, {"player": "a", "t_strike": self.random.random()})

    def remove_shot(self, snapshot):
        shot = self._shot(snapshot)
        return edits.remove_shot(snapshot, shot.key) if shot else self.add_shot(snapshot)

    def several(self, snapshot):
        first = self.add_rack(snapshot)
        then = edits.add_shot(snapshot.applied(first.changes), first.changes[0].key, 0, {"player": "b"})
        return edits.several("both", [first, then])

    def replace_session(self, snapshot):
        other = session(
            racks=[rack_of(played("b", "2")), rack_of(played("a"))], note=str(self.random.random())
        )
        return edits.replace_session(snapshot, other)

    def say_stretch(self, snapshot):
        start = self.random.randint(0, 50)
        shot = self._shot(snapshot)
        saying = self.random.choice([s for s in film_parts.SAYINGS if shot or not s.shows])
        stretch = ("f", float(start), start + self.random.random())
        return film_parts.say_stretch(snapshot, stretch, saying, shot.key if shot else None)

    def forget_stretch(self, snapshot):
        lines = film_parts.stretches(snapshot, "f")
        if not lines:
            return film_parts.say_stretch(snapshot, ("f", 1.0, 2.0), film_parts.SAYINGS[4], None)
        return film_parts.forget_stretch(snapshot, self.random.choice(lines))

    def propose_stretches(self, snapshot):
        start = self.random.randint(0, 50)
        found = Stretch(
            self.random.choice(("paused", "slow", "cut_out")), start, start + 2.0, 0.8, start - 4.0
        )
        return film_parts.propose_stretches(snapshot, "f", [found])

    def accept_stretch(self, snapshot):
        lines = [line for line in film_parts.stretches(snapshot, "f") if line.proposed]
        if not lines:
            return self.propose_stretches(snapshot)
        return film_parts.accept_stretch(snapshot, lines[0])

    def add_attempt_set(self, snapshot):
        shot = self._shot(snapshot)
        return attempts.add_attempt_set(snapshot, shot.key) if shot else self.add_shot(snapshot)

    def add_set_of_layout(self, snapshot):
        kept = KeptLayout(id="k", title="Kept", layout={"cue": (1.0, 0.5)})
        return attempts.add_set_of_layout(snapshot, kept)

    def _exercise(self, snapshot):
        found = exercises.exercises_of(snapshot)
        return self.random.choice(found).id if found else None

    def _of_exercise(self, snapshot, build):
        name = self._exercise(snapshot)
        return build(name) if name else self.add_exercise(snapshot)

    def add_exercise(self, snapshot):
        kind = self.random.choice(["one_shot", "ladder", "two_ways"])
        return exercises.add_exercise(snapshot, exercises.plain_exercise(kind, "Stun", date(2026, 11, 30)))

    def change_exercise(self, snapshot):
        values = {"minutes": self.random.randint(1, 60)}
        return self._of_exercise(
            snapshot, lambda name: exercises.change_exercise(snapshot, name, values, "change")
        )

    def remove_exercise(self, snapshot):
        return self._of_exercise(snapshot, lambda name: exercises.remove_exercise(snapshot, name))

    def set_time(self, snapshot):
        return exercises.set_time(snapshot, self.random.randint(10, 90), ["tue", "sun"])

    def skip(self, snapshot):
        return self._of_exercise(snapshot, lambda name: exercises.skip(snapshot, name, date(2026, 11, 30)))

    def begin_set(self, snapshot):
        key = f"set-{self.random.randint(0, 10**9)}"
        return self._of_exercise(
            snapshot, lambda name: exercises.begin_set(snapshot, name, date(2026, 11, 30), key)
        )

    def end_set(self, snapshot):
        name = self._exercise(snapshot)
        found = exercises.open_set(snapshot, name) if name else None
        if found is None:
            return self.begin_set(snapshot)
        if not found[1].attempts:
            values = attempts.with_attempt(found[1], True)
            return edits.set_values(snapshot, "attempt_set", found[0], values, "count")
        return exercises.end_set(snapshot, name, found[0], date(2026, 12, 1))

    def add_roll(self, snapshot):
        return table_records.add_roll(snapshot, (0.3, 0.5), (2.1, 0.5 + self.random.random() / 100), "none")

    def add_typed_check(self, snapshot):
        typed = self.random.choice(("lag 2.4 5.{}", "cushion 45 4{}", "corner 2.{}", "middle 2.{}"))
        return table_records.add_typed_check(snapshot, typed.format(self.random.randrange(10)))

    def take_back_check(self, snapshot):
        if not snapshot.head.table_checks:
            return self.add_roll(snapshot)
        return table_records.take_back_check(snapshot)

    def use_checks(self, snapshot):
        if all(one.kind == "cushion" for one in snapshot.head.table_checks or ()):
            return self.add_roll(snapshot)
        return table_records.use_checks(snapshot)

    def add_film(self, snapshot):
        name = f"{self.random.randint(0, 10**9)}.mp4"
        return films.add_film(snapshot, Recording(id="film", file=name))

    def remove_film(self, snapshot):
        bare = [line.id for line in films.film_lines(snapshot) if not line.shots]
        return films.remove_film(snapshot, self.random.choice(bare)) if bare else self.add_film(snapshot)

    def set_same_time(self, snapshot):
        lines = films.film_lines(snapshot)
        if len(lines) < 2 or lines[0].runs_with:
            return self.add_film(snapshot)
        return films.set_same_time(snapshot, lines[1].id, self.random.random(), lines[0].id, 1.0)

    def remove_attempt_set(self, snapshot):
        if not snapshot.attempt_sets:
            return self.add_attempt_set(snapshot)
        return attempts.remove_attempt_set(snapshot, snapshot.attempt_sets[0][0])

    def _rearrange(self, snapshot, build):
        shot = self._shot(snapshot)
        if shot is None:
            return self.add_shot(snapshot)
        try:
            return build(snapshot, shot.key)
        except edits.RefusedEdit:
            return rearranging.insert_shot(snapshot, shot.key)

    def split_rack(self, snapshot):
        return self._rearrange(snapshot, rearranging.split_rack)

    def merge_racks(self, snapshot):
        return self._rearrange(snapshot, rearranging.merge_racks)

    def move_boundary(self, snapshot):
        return self._rearrange(snapshot, rearranging.move_boundary)

    def insert_shot(self, snapshot):
        return self._rearrange(snapshot, rearranging.insert_shot)

    def change_visit(self, snapshot):
        return self._rearrange(snapshot, rearranging.change_visit)

    def take_in_shots(self, snapshot):
        start = self.random.randint(0, 90)
        read = [
            (1 + i // 2, read_shot(start + 4.0 * i, self.random)) for i in range(self.random.randint(1, 4))
        ]
        return readings.take_in_shots(snapshot, "f", read)

    def forget_reading(self, snapshot):
        return readings.forget_reading(snapshot, "f")

    def rename_ball(self, snapshot):
        read = [row for row in snapshot.shots if "/before/cue" in (row.record.proposed or {})]
        if not read:
            return self.take_in_shots(snapshot)
        return readings.rename_ball(snapshot, read[0].key, "cue", self.random.choice(("1", "2", "9")))

    def carry_ball(self, snapshot):
        read = [row for row in snapshot.shots if row.record.before is not None]
        if not read:
            return self.take_in_shots(snapshot)
        layouts = carried_balls.later_layouts(snapshot, read[0].key, "before", "13", (0.3, 0.3))
        there = carried_balls.LaterLayout(read[0].key, "before", 0.0)
        return carried_balls.carry_ball(
            snapshot, [(there, 0.5), *((one, 0.9) for one in layouts)], "13", (0.3, 0.3)
        )

    def remove_session(self, snapshot):
        return edits.remove_session(snapshot)

    def add_session(self, _snapshot):
        return edits.add_session(session(racks=[rack_of(played("a", "1"), played("a"))], title="Again"))


class EveryEditUndone(unittest.TestCase):
    #: Adding needs a session that is not there, so it follows a removal. By name: the registry's own order is
    #: that of the imports, which is another one in every selection of tests.
    GENERATED: ClassVar = sorted(set(edits.EDITS) - {"add_session", "remove_session"})

    def test_the_generator_covers_every_registered_edit(self):
        covered = {name for name in dir(RandomEdits) if not name.startswith("_")} - {"build"}
        self.assertEqual(covered, set(edits.EDITS))

    def test_hundreds_of_random_commands(self):
        for seed in range(2):
            with self.subTest(seed=seed):
                self._run(seed)

    def _run(self, seed):
        made = RandomEdits(seed)
        start = session(
            racks=[rack_of(played("a", "2", intent="break"), played("a"), played("b", "1"), root_shot=3)]
        )
        document = document_with(start)
        states = [export(document, "test")]
        done = {"add_session"}
        waiting = []
        while len(states) <= COMMANDS:
            snapshot = document.session("test")
            if snapshot is None:
                name = "add_session"
            elif made.random.random() < 0.03:
                name = "remove_session"
            else:
                # Each once in every round, so that none is left to chance.
                waiting = waiting or made.random.sample(self.GENERATED, len(self.GENERATED))
                name = waiting.pop()
            if document.run(made.build(name, snapshot)):
                done.add(name)
                states.append(export(document, "test"))
        self.assertEqual(done, set(edits.EDITS))
        for state in reversed(states[:-1]):
            self.assertIsNotNone(document.undo())
            self.assertEqual(export(document, "test"), state)
        for state in states[1:]:
            self.assertIsNotNone(document.redo())
            self.assertEqual(export(document, "test"), state)


class ScoreUnderUndo(unittest.TestCase):
    def test_a_new_command_ends_what_could_be_redone(self):
        document = document_with(session(racks=[rack_of(played("a", "1"))]))
        snapshot = document.session("test")
        for note in ("one", "two"):
            values = {("note",): note}
            document.run(edits.set_values(document.session("test"), "session", "test", values, note))
        document.undo()
        self.assertEqual(document.redo_label, "two")
        shot = snapshot.shots[0].key
        document.run(edits.set_values(document.session("test"), "shot", shot, {("note",): "x"}, "note"))
        self.assertIsNone(document.redo_label)
        self.assertIsNone(document.redo())
        self.assertEqual(document.session("test").head.note, "one")

    def test_undo_and_redo_of_facts_give_the_same_score(self):
        from ripasso.demo.matches.sessions import shipped

        chance = random.Random(12)
        for record in shipped():
            with self.subTest(record.game):
                document = document_with(record)
                scores = [document.session(record.id).score]
                for _ in range(12):
                    snapshot = document.session(record.id)
                    shot = chance.choice(snapshot.shots)
                    values = chance.choice([{("facts", "potted"): []}, {("facts", "cue_potted"): True}])
                    if document.run(edits.set_values(snapshot, "shot", shot.key, values, "facts")):
                        scores.append(document.session(record.id).score)
                for score in reversed(scores[:-1]):
                    document.undo()
                    self.assertEqual(document.session(record.id).score, score)
                for score in scores[1:]:
                    document.redo()
                    self.assertEqual(document.session(record.id).score, score)


class OneChange(unittest.TestCase):
    def setUp(self):
        self.document = document_with(
            session(
                racks=[
                    rack_of(
                        played("a", "2", intent="break"),
                        played("a", "1"),
                        {
                            **played("a"),
                            "error": {"kind": "pot", "cause_shot": 2},
                            "plan": {"changed_from": 1},
                        },
                        root_shot=2,
                    )
                ]
            )
        )

    def shots(self):
        return [serialize(s.record) for s in self.document.session("test").shots]

    def test_inserting_moves_numbers_and_what_refers_to_them(self):
        snapshot = self.document.session("test")
        self.document.run(edits.add_shot(snapshot, snapshot.racks[0].key, 1, {"player": "b"}))
        shots = self.shots()
        self.assertEqual([s["number"] for s in shots], [1, 2, 3, 4])
        self.assertEqual(shots[3]["error"]["cause_shot"], 3)
        self.assertEqual(shots[3]["plan"]["changed_from"], 1)
        self.assertEqual(self.document.session("test").racks[0].record.root_shot, 3)

    def test_removing_the_cause_leaves_none(self):
        snapshot = self.document.session("test")
        self.document.run(edits.remove_shot(snapshot, snapshot.shots[1].key))
        self.assertEqual(self.shots()[1]["error"], {"kind": "pot"})

    def test_a_value_that_cannot_stand_is_refused_and_nothing_changes(self):
        snapshot = self.document.session("test")
        key = snapshot.shots[0].key
        with self.assertRaises(edits.RefusedEdit):
            edits.set_values(snapshot, "shot", key, {("result", "position"): "superb"}, "x")
        self.assertIs(self.document.session("test"), snapshot)

    def test_removing_the_last_value_removes_the_object(self):
        snapshot = self.document.session("test")
        key = snapshot.shots[0].key
        path = ("result", "position")
        self.document.run(edits.set_values(snapshot, "shot", key, {path: "good"}, "x"))
        self.document.run(edits.set_values(self.document.session("test"), "shot", key, {path: REMOVE}, "x"))
        self.assertNotIn("result", self.shots()[0])

    def test_what_changes_nothing_is_no_command(self):
        snapshot = self.document.session("test")
        command = edits.set_values(snapshot, "shot", snapshot.shots[0].key, {("note",): REMOVE}, "x")
        self.assertFalse(self.document.run(command))
        self.assertEqual(self.document.undo_label, "Add session A test")

    def test_one_notice_a_change(self):
        heard = []
        leave = self.document.changed.connect(
            lambda change: heard.append((change.cause, change.command.label))
        )
        snapshot = self.document.session("test")
        self.document.run(edits.set_values(snapshot, "shot", snapshot.shots[0].key, {("note",): "n"}, "note"))
        self.document.undo()
        self.document.redo()
        leave()
        self.document.undo()
        self.assertEqual(heard, [("done", "note"), ("undone", "note"), ("redone", "note")])


class FailingStorage(unittest.TestCase):
    def test_what_cannot_be_stored_changes_nothing(self):
        storage = MemoryStorage()
        document = Document(storage, derived_rows)
        document.run(edits.add_session(session(racks=[rack_of(played("a"))])))
        before = export(document, "test")
        storage.fail_with = OSError("disk full")
        snapshot = document.session("test")
        with self.assertRaises(OSError):
            document.run(edits.set_values(snapshot, "shot", snapshot.shots[0].key, {("note",): "n"}, "note"))
        self.assertRaises(OSError, document.undo)
        self.assertEqual(export(document, "test"), before)
        storage.fail_with = None
        self.assertIsNotNone(document.undo())

    def test_a_read_only_library_refuses(self):
        storage = MemoryStorage()
        storage.read_only = True
        with self.assertRaises(ReadOnly):
            Document(storage, derived_rows).run(edits.add_session(session()))


if __name__ == "__main__":
    unittest.main()
