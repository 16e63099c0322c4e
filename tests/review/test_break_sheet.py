"""The break sheet: every line goes through its values and back to nothing, and every word is there."""

import json
import unittest

from ripasso.review.document.edits import REMOVE, with_values
from ripasso.review.entry.break_sheet import SHEETS, digit_of, next_value, sheet_for, value_of
from ripasso.review.language.items import Manner
from ripasso.review.language.vocabulary import WORDS
from ripasso.review.present.describing import chips
from ripasso.review.record.model import Shot, serialize


def shot(**more):
    return Shot.model_validate_json(json.dumps({"number": 1, "intent": "break", **more}))


class Sheet(unittest.TestCase):
    def test_every_line_goes_round(self):
        for game, lines in SHEETS.items():
            for line in lines:
                with self.subTest(game=game, line=line.name):
                    record = shot()
                    seen = []
                    for _ in line.values:
                        record = with_values(record, {line.path: next_value(record, line)})
                        seen.append(value_of(record, line))
                    self.assertEqual(seen, list(line.values))
                    self.assertIs(next_value(record, line), REMOVE)
                    self.assertEqual(serialize(with_values(record, {line.path: REMOVE})), serialize(shot()))

    def test_every_line_and_value_has_its_word(self):
        for lines in SHEETS.values():
            self.assertLessEqual(len(lines), 10)
            self.assertEqual(len({digit_of(i) for i in range(len(lines))}), len(lines))
            for line in lines:
                self.assertIn(f"sheet_{line.name}", WORDS)
                for value in line.values:
                    if isinstance(value, str):
                        self.assertIn(f"break_{value}", WORDS)

    def test_whose_shots_have_one(self):
        self.assertTrue(sheet_for("nine_ball", shot()))
        self.assertFalse(sheet_for("nine_ball", shot(intent="pot")))
        self.assertTrue(sheet_for("straight_pool", shot(intent="pot")))
        self.assertFalse(sheet_for("straight_pool", shot(intent="pot", number=2)))
        self.assertFalse(sheet_for(None, shot()))

    def test_a_value_of_another_program_is_kept_until_it_is_said_anew(self):
        record = shot(**{"break": {"kind": "own", "power": 75}})
        lines = {line.name: line for line in SHEETS["nine_ball"]}
        self.assertEqual(value_of(record, lines["power"]), 75)
        self.assertEqual(next_value(record, lines["power"]), 40)

    def test_chips(self):
        record = shot(**{"break": {"kind": "cut", "power": 80, "in_box": True, "next_on": False}})
        texts = [chip.text for chip in chips(record, Manner(game="nine_ball"))]
        self.assertEqual(texts, ["break", "cut break", "80 %", "cue ball in the box", "no next ball on"])


if __name__ == "__main__":
    unittest.main()
