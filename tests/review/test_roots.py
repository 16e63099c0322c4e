"""The shot that caused a failure: suggested, taken over, walked back, taken away."""

import unittest

from ripasso.core.measures.errors import FoundError
from ripasso.review.document.edits import REMOVE
from ripasso.review.entry.roots import NoRoot, root_values
from ripasso.review.record.model import Shot


def shot(**values):
    return Shot.model_validate({"number": 4, "player": "a", "intent": "pot", **values})


class Roots(unittest.TestCase):
    def test_the_suggestion_first_then_earlier_shots_then_none(self):
        found = [FoundError("pot", True, "by_chance", None, 2)]
        self.assertEqual(root_values(shot(), found), {("error",): {"kind": "pot", "cause_shot": 2}})
        told = shot(error={"kind": "pot", "unforced": True, "cause_shot": 2})
        values = root_values(told, [FoundError("pot", True, "judged", 2, 2)])
        self.assertEqual(values[("error",)]["cause_shot"], 1)
        first = shot(error={"kind": "pot", "unforced": True, "cause_shot": 1})
        values = root_values(first, [FoundError("pot", True, "judged", 1, 2)])
        self.assertEqual(values, {("error",): {"kind": "pot", "unforced": True}})
        bare = shot(error={"kind": "pot", "cause_shot": 1})
        self.assertIs(root_values(bare, [FoundError("pot", True, "judged", 1, 2)])[("error",)], REMOVE)

    def test_without_a_suggestion_the_shot_before(self):
        self.assertEqual(
            root_values(shot(), [FoundError("pot", True, "by_chance")])[("error",)]["cause_shot"], 3
        )

    def test_other_errors_stay(self):
        record = shot(error=({"kind": "decision", "unforced": True},))
        values = root_values(
            record, [FoundError("decision", True, "judged"), FoundError("pot", None, "by_chance", None, 3)]
        )
        self.assertEqual([e["kind"] for e in values[("error",)]], ["decision", "pot"])

    def test_nothing_to_say(self):
        for record, found in ((shot(), []), (shot(number=1), [FoundError("pot", True, "by_chance")])):
            with self.assertRaises(NoRoot):
                root_values(record, found)
