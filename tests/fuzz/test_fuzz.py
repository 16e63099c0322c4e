"""Damaged input of each kind, three hundred where it is quick; `make fuzz N=10000` tries more."""

import tempfile
import unittest
from pathlib import Path

from tests.fuzz.run import KINDS, Kind

CASES = 300


class Damaged(unittest.TestCase):
    """Used, or refused with one sentence; never a traceback, never a hang. The kinds run side by side."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def tried(self, name):
        kind: Kind = KINDS[name]
        attempt = kind.attempt()
        ended = {"used": 0, "refused": 0}
        for seed in range(max(10, int(CASES * kind.in_tests))):
            with self.subTest(name, seed=seed):
                ended[attempt(seed, self.folder)] += 1
        # Damage that is always refused, or never, tries nothing.
        self.assertGreater(min(ended.values()), 0.05 * sum(ended.values()), ended)


class DamagedSessions(Damaged):
    def test_used_or_refused(self):
        self.tried("session")


class DamagedFilms(Damaged):
    def test_used_or_refused(self):
        self.tried("film")


class DamagedLibraries(Damaged):
    def test_used_or_refused(self):
        self.tried("library")


class DamagedLines(Damaged):
    def test_views_searches_words_and_settings(self):
        self.tried("line")


if __name__ == "__main__":
    unittest.main()
