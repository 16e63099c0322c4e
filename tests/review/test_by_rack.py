"""Work by the rack: what is kept from key to key equals what is computed from nothing, in every game."""

import random
import unittest

from ripasso.demo.matches.sessions import shipped
from ripasso.review.document import edits
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import serialize
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.shot_rows import derived_rows
from tests.review.test_undo import RandomEdits
from tests.sessions import MemoryStorage

KEYS = 40
KINDS = ("set_values", "add_rack", "begin_rack", "remove_rack", "add_shot", "remove_shot")


class Kept(MemoryStorage):
    """Remembers what was derived last."""

    def commit(self, changes, derived):
        super().commit(changes, derived)
        self.derived = derived


class ByRack(unittest.TestCase):
    def from_nothing(self, snapshot):
        return Snapshot(snapshot.key, snapshot.rows)

    def check(self, snapshot, derived):
        fresh = self.from_nothing(snapshot)
        self.assertEqual([r.shots for r in snapshot.racks], [r.shots for r in fresh.racks])
        self.assertEqual([r.record for r in snapshot.racks], [r.record for r in fresh.racks])
        self.assertEqual(snapshot.score, score_of(fresh.session))
        self.assertEqual(derived.rows, derived_rows(fresh).rows)
        self.assertEqual(snapshot.shot_count, len(fresh.shots))

    def test_random_commands_in_every_game(self):
        for number, record in enumerate(shipped()):
            chance = RandomEdits(number)
            storage = Kept()
            document = Document(storage, derived_rows)
            document.run(add_session(record))
            with self.subTest(game=record.game):
                for _ in range(KEYS):
                    kind = chance.random.choice((*KINDS, "undo"))
                    if kind == "undo":
                        document.undo()
                    else:
                        command = chance.build(kind, document.session(record.id))
                        if command is not None:
                            document.run(command)
                    if document.session(record.id) is None:
                        document.redo()
                    self.check(document.session(record.id), storage.derived)

    def test_facts_change_in_every_game(self):
        """The balls that fell decide score, visits and racks: each change is as if it had always been so."""
        chance = random.Random(5)
        for record in shipped():
            storage = Kept()
            document = Document(storage, derived_rows)
            document.run(add_session(record))
            with self.subTest(game=record.game):
                for _ in range(KEYS):
                    snapshot = document.session(record.id)
                    shot, other = chance.choice(snapshot.shots), chance.choice(snapshot.shots)
                    values = {("facts",): other.record.facts and serialize(other.record.facts)}
                    if values[("facts",)] is None:
                        continue
                    command = edits.set_values(snapshot, "shot", shot.key, values, "facts")
                    document.run(command)
                    self.check(document.session(record.id), storage.derived)

    def test_a_tag_leaves_the_other_racks_alone(self):
        record = shipped()[0]
        storage = Kept()
        document = Document(storage, derived_rows)
        document.run(add_session(record))
        before, rows = document.session(record.id), storage.derived.racks
        self.assertIsNotNone(before.score)
        shot = before.racks[0].shots[1]
        document.run(edits.set_values(before, "shot", shot.key, {("note",): "a word"}, "note"))
        after = document.session(record.id)
        for place in range(1, len(after.racks)):
            self.assertIs(after.racks[place], before.racks[place])
            self.assertIs(after.score.racks[place], before.score.racks[place])
        # The rack behind the changed one may depend on its last visit; no other does.
        for place in range(2, len(rows)):
            self.assertIs(storage.derived.racks[place], rows[place])

    def test_steps_across_racks(self):
        record = shipped()[0]
        document = Document(Kept(), derived_rows)
        document.run(add_session(record))
        snapshot = document.session(record.id)
        keys = [shot.key for shot in snapshot.shots]
        for by in (1, -1, 7, -7):
            for place, key in enumerate(keys):
                wanted = keys[place + by] if 0 <= place + by < len(keys) else None
                found = snapshot.beside(key, by)
                self.assertEqual(found.key if found else None, wanted)


if __name__ == "__main__":
    unittest.main()
