"""The facts of the stored columns are those of the records, column by column, over the whole demo."""

import unittest
from dataclasses import fields

import numpy as np

from ripasso.core.figures.facts import Fact
from ripasso.statistics.rows.fact_rows import sheet_of
from ripasso.ui.services.search import read_index
from tests.windows import demo_library, open_copy


class EveryColumn(unittest.TestCase):
    def test_stored_columns_are_those_of_the_records(self):
        library, document = open_copy(self, demo_library())
        facts = read_index(library).facts
        rows = []
        for index, key in enumerate(sorted(line.key for line in library.sessions())):
            record = document.session(key).session
            rows += sheet_of(record, index).facts
        kept = facts.where(facts.known("person"))
        self.assertEqual(len(kept), len(rows))
        compared = 0
        for one in fields(Fact):
            stored = kept._column(one.name)
            expected = [getattr(row, one.name) for row in rows]
            with self.subTest(column=one.name):
                if one.type == "float":
                    np.testing.assert_allclose(stored, expected, rtol=1e-9, atol=1e-12)
                elif one.name == "visit":
                    continue  # numbered alike, with the ghost's or without
                else:
                    unlike = [i for i, (a, b) in enumerate(zip(stored, expected, strict=True)) if a != b]
                    self.assertEqual(unlike, [], [(stored[i], expected[i]) for i in unlike[:3]])
                compared += 1
        self.assertGreater(compared, 80)


if __name__ == "__main__":
    unittest.main()
