"""Three hundred pieces of damaged input of each kind; `make fuzz N=10000` tries more."""

import tempfile
import unittest
from pathlib import Path

from tests.fuzz.run import KINDS, Kind

CASES = 300


class DamagedInput(unittest.TestCase):
    """Used, or refused with one sentence; never a traceback, never a hang."""

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

    def test_sessions(self):
        self.tried("session")

    def test_films(self):
        self.tried("film")

    def test_libraries(self):
        self.tried("library")

    def test_lines_views_and_settings(self):
        self.tried("line")


if __name__ == "__main__":
    unittest.main()
