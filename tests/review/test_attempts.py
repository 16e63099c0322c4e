"""Sets of attempts in the record: made from a shot, counted, granted, taken back, ranked."""

import unittest

from ripasso.review.document.edits import set_values
from ripasso.review.entry.attempts import (
    NotAChange,
    add_attempt_set,
    amounts_of,
    attempt_set,
    change_words,
    effects_of,
    figures_of,
    ranked,
    read_change,
    remove_attempt_set,
    said_of_attempt,
    set_of_shot,
    toggled_criterion,
    toggled_relaxed,
    with_attempt,
    without_last,
)
from ripasso.review.record.practice import Attempt
from tests.sessions import document_with, played, rack_of, session

SHOT = {
    **played("a"),
    "call": {"ball": "4", "pocket": "foot_left"},
    "before": {"cue": [1.0, 0.5], "4": [2.0, 0.6]},
    "plan": {"zone": {"circle": {"centre": [1.0, 1.0], "radius": 0.1}}},
}


class Attempts(unittest.TestCase):
    def setUp(self):
        self.document = document_with(session(racks=[rack_of(played("a", "1"), SHOT)]))
        self.document.run(add_attempt_set(self.snapshot, self.snapshot.shots[1].key))
        self.key = self.snapshot.attempt_sets[0][0]

    @property
    def snapshot(self):
        return self.document.session("test")

    @property
    def made(self):
        return attempt_set(self.snapshot, self.key)

    def do(self, values):
        self.document.run(set_values(self.snapshot, "attempt_set", self.key, values, "x"))

    def test_a_set_has_the_layout_target_and_criteria_of_its_shot(self):
        self.assertEqual(self.made.title, "4 to foot left, rack 1 shot 2")
        self.assertEqual(self.made.layout["4"], (2.0, 0.6))
        self.assertEqual(self.made.target.pocket, "foot_left")
        self.assertEqual([one.id for one in self.made.criteria], ["pot", "area"])
        self.assertEqual(set_of_shot(self.snapshot, self.snapshot.shots[1].key), self.key)
        self.assertIsNone(set_of_shot(self.snapshot, self.snapshot.shots[0].key))
        # The match itself is as it was.
        self.assertEqual(len(self.snapshot.shots), 2)

    def test_counted_on_film_and_beside_it(self):
        self.do(with_attempt(self.made, False, miss="thick"))
        self.do(with_attempt(self.made, True, ("f", 12.5), [read_change("aim 2 mm")]))
        first, second = self.made.attempts
        self.assertEqual((first.outcome, first.miss, first.on_film), ("failure", "thick", False))
        self.assertEqual((second.outcome, second.t_strike, second.on_film), ("success", 12.5, True))
        self.assertEqual(second.met, {"pot": True, "area": True})
        figures = figures_of(self.made)
        self.assertEqual((figures.rate.made, figures.rate.of, figures.off_film), (1, 2, 1))
        self.assertEqual(effects_of(self.made)[0].what, "aim 2 mm")

    def test_criteria_make_the_outcome_unless_it_was_granted(self):
        self.do(with_attempt(self.made, False))
        self.do(toggled_criterion(self.made, "pot"))
        self.assertEqual(self.made.attempts[0].outcome, "failure")
        self.do(toggled_criterion(self.made, "area"))
        self.assertEqual(self.made.attempts[0].outcome, "success")
        self.do(toggled_criterion(self.made, "area"))
        self.do(toggled_relaxed(self.made))
        self.assertEqual((self.made.attempts[0].outcome, self.made.attempts[0].relaxed), ("success", True))
        self.do(toggled_relaxed(self.made))
        self.assertEqual((self.made.attempts[0].outcome, self.made.attempts[0].relaxed), ("failure", None))
        self.do(without_last(self.made))
        self.assertIsNone(self.made.attempts)
        self.assertEqual((toggled_relaxed(self.made), toggled_criterion(self.made, "pot")), ({}, {}))

    def test_what_was_changed_in_words(self):
        for text, expected in (
            ("aim 2 mm", {"what": "aim", "by": 2.0, "unit": "mm"}),
            ("side 1/4 ball", {"what": "side", "by": 0.25, "unit": "ball"}),
            ("pace 10%", {"what": "pace", "by": 10.0, "unit": "percent"}),
            ("pace 10", {"what": "pace", "by": 10.0, "unit": "percent"}),
            ("pocket-side far jaw", {"what": "pocket_side", "by": "far jaw", "unit": "text"}),
            ("other", {"what": "other"}),
        ):
            self.assertEqual(read_change(text), expected)
        for text in ("", "stance wide", "aim 2 miles"):
            with self.assertRaises(NotAChange):
                read_change(text)
        self.do(
            with_attempt(self.made, True, None, [read_change("aim 2 mm"), read_change("pocket-side far jaw")])
        )
        self.assertEqual(change_words(self.made.attempts[0]), "aim 2 mm, pocket side far jaw")

    def test_results_by_the_amount_of_a_change(self):
        """Changes add up: 2 mm more after 2 mm are 4, and 1 back leaves 3."""
        steps = (
            ("", False),
            ("aim 2 mm", False),
            ("", True),
            ("aim 2 mm; pace 10 %", False),
            ("aim -1 mm", True),
        )
        for words, made in steps:
            changes = [read_change(part) for part in words.split(";") if part]
            self.do(with_attempt(self.made, made, changed=changes))
        found = {
            (one.what, one.amount): (one.rate.made, one.rate.of, one.places) for one in amounts_of(self.made)
        }
        self.assertEqual(
            found,
            {
                ("aim", 0): (0, 1, (0,)),
                ("aim", 2): (1, 2, (1, 2)),
                ("aim", 4): (0, 1, (3,)),
                ("aim", 3): (1, 1, (4,)),
                ("pace", 0): (1, 3, (0, 1, 2)),
                ("pace", 10): (1, 2, (3, 4)),
            },
        )

    def test_causes_however_they_were_written(self):
        self.do(with_attempt(self.made, False))
        self.do(said_of_attempt(self.made, 0, "miscued, by pace note too quick"))
        self.assertEqual(self.made.attempts[0].every_cause, ("miscue", "pace"))
        old = Attempt.model_validate({"number": 1, "cause": "pace", "miscue": True})
        self.assertEqual(old.every_cause, ("pace", "miscue"))

    def test_ranked_the_hardest_first_few_attempts_as_well(self):
        self.document.run(add_attempt_set(self.snapshot, self.snapshot.shots[0].key))
        easy = self.snapshot.attempt_sets[1][0]
        for outcome in (True, False, True, True, True):
            self.do(with_attempt(self.made, not outcome))
            other = attempt_set(self.snapshot, easy)
            self.document.run(
                set_values(self.snapshot, "attempt_set", easy, with_attempt(other, outcome), "x")
            )
        self.assertEqual([line.key for line in ranked(self.snapshot)], [self.key, easy])
        self.do(without_last(self.made))
        lines = ranked(self.snapshot)
        self.assertEqual([line.key for line in lines], [self.key, easy])
        self.assertTrue(lines[0].figures.rate.few)  # the list marks it
        self.document.run(remove_attempt_set(self.snapshot, easy))
        self.assertEqual(len(self.snapshot.attempt_sets), 1)
