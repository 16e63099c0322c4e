"""The search line: what it reads, how values are compared, and what it says of a line that is wrong."""

import unittest
from pathlib import Path

import numpy as np

from ripasso.core.finding import FIELDS, NotAQuery, matching, parse_query
from ripasso.core.finding.matching import coded
from ripasso.core.finding.query import And, Not, Or, Range, Term, Word


def parsed(line):
    return parse_query(line, FIELDS)


class Reading(unittest.TestCase):
    def test_terms_words_and_signs(self):
        self.assertEqual(parsed("cut:15-30"), Term("cut", (Range(15, 30),)))
        self.assertEqual(parsed("chance:<0.5"), Term("chance", (Range(high=0.5, high_open=True),)))
        self.assertEqual(parsed("leave:>=.4"), Term("leave", (Range(low=0.4),)))
        self.assertEqual(parsed("angle_miss:-10--3"), Term("angle_miss", (Range(-10, -3),)))
        self.assertEqual(parsed('player:"Ada Quill",bram'), Term("player", ("ada quill", "bram")))
        self.assertEqual(parsed("-tag:final"), Not(Term("tag", ("final",))))
        self.assertEqual(parsed("Final"), Word("final"))
        self.assertEqual(parsed("root:none"), Term("root", (None,)))
        self.assertIsNone(parsed("   "))

    def test_and_binds_before_or_and_brackets_before_both(self):
        a, b, c = (Term("position", (word,)) for word in ("lost", "good", "playable"))
        self.assertEqual(parsed("position:lost position:good or position:playable"), Or((And((a, b)), c)))
        self.assertEqual(parsed("position:lost (position:good or position:playable)"), And((a, Or((b, c)))))
        self.assertEqual(parsed("-(position:lost or position:good)"), Not(Or((a, b))))

    def test_what_is_wrong_is_a_sentence(self):
        for line, hint in (
            ("cutt:15-30", "“cut”"),
            ("cut:", "missing"),
            ("(cut:15", "not closed"),
            ("cut:15)", "never opened"),
            ('note:"open', "quotation"),
            ("or cut:15", "beside “or”"),
            ("made:perhaps", "yes or no"),
            ("cut:steep", "number"),
            ("position:<2", "has none"),
        ):
            with self.subTest(line), self.assertRaises(NotAQuery) as caught:
                matching(parsed(line), COLUMNS)
            self.assertIn(hint, str(caught.exception))


COLUMNS = {
    **{name: coded([""] * 4) for name, field in FIELDS.items() if field.kind in ("text", "within", "many")},
    **{name: np.full(4, np.nan) for name, field in FIELDS.items() if field.kind == "number"},
    **{name: np.zeros(4, dtype=bool) for name, field in FIELDS.items() if field.kind == "flag"},
    "position": coded(["lost", "good", "", "lost"]),
    "cut": np.array([15.0, 30.0, np.nan, 45.0]),
    "delivery": coded(["rest reach", "over_ball", "", "reach"]),
    "player": coded(["Ada Quill", "Bram Oster", "Ada Quill", ""]),
    "date": coded(["2026-11-02", "2026-10-02", "2026-11-30", ""]),
    "made": np.array([True, False, True, False]),
    "note": coded(["the long red", "", "", "final"]),
    "session": coded(["", "", "a Long Day", ""]),
}


class Matching(unittest.TestCase):
    def find(self, line):
        return np.flatnonzero(matching(parsed(line), COLUMNS)).tolist()

    def test_each_kind_of_field(self):
        self.assertEqual(self.find("position:lost"), [0, 3])
        self.assertEqual(self.find("position:none"), [2])
        self.assertEqual(self.find("cut:15-30"), [0, 1])
        self.assertEqual(self.find("cut:>15 cut:<45"), [1])
        self.assertEqual(self.find("cut:none"), [2])
        self.assertEqual(self.find("cut:30,45"), [1, 3])
        self.assertEqual(self.find("delivery:reach"), [0, 3])
        self.assertEqual(self.find("player:ada"), [0, 2])
        self.assertEqual(self.find("date:2026-11"), [0, 2])
        # Both ends belong, a month to its last day; a session without a date never does.
        for line, found in (
            ("date:>=2026-11", [0, 2]),
            ("date:>2026-10", [0, 2]),
            ("date:>=2026-10-02", [0, 1, 2]),
            ("date:<2026-11-02", [1]),
            ("date:<=2026-11-02", [0, 1]),
            ("date:<2026-11", [1]),
            ("date:2026-10..2026-11-02", [0, 1]),
            ("date:2026-11-02..2026-10", [0, 1]),  # the other way round means the same
            ("date:2026-11-30..", [2]),
            ("date:..2026-10", [1]),
            ("-date:>=2026-11", [1, 3]),
            ("date:none", [3]),
        ):
            self.assertEqual(self.find(line), found, line)
        for line in ("date:>=last", "date:<26", "date:2026-1..2026-2", "date:.."):
            with self.assertRaisesRegex(NotAQuery, "is no date"):
                self.find(line)
        self.assertEqual(self.find("made:yes position:lost"), [0])
        self.assertEqual(self.find("-made:yes"), [1, 3])
        self.assertEqual(self.find("long"), [0, 2])
        self.assertEqual(self.find(""), [0, 1, 2, 3])

    def test_a_missing_number_is_in_no_range(self):
        self.assertEqual(self.find("cut:>=0 or cut:<0"), [0, 1, 3])
        self.assertEqual(self.find("-cut:>=0"), [2])


class Documented(unittest.TestCase):
    def test_every_field_is_in_the_documents(self):
        text = (Path(__file__).resolve().parents[2] / "docs" / "searching.md").read_text(encoding="utf-8")
        for name, field in FIELDS.items():
            self.assertIn(f"| `{name}` |", text)
            self.assertIn(field.meaning, text)
