"""A little of each: random steps, starts with keys pressed, kills. `make endurance` does it for long."""

import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from ripasso.review.language.translation import tr
from tests.endurance.steps import EVERY, copies, walk
from tests.windows import demo_library

ROOT = Path(__file__).resolve().parents[2]
STEPS, WARMING, STARTS, KILLS = 5000, 2000, 2, 8
#: The share by which memory may grow over the steps, after warming up.
MOST_GROWTH = 0.10


class Endurance(unittest.TestCase):
    def test_random_steps_raise_nothing_and_memory_stays(self):
        self.addCleanup(tr.use, "")  # a window speaks for the whole process
        with tempfile.TemporaryDirectory() as folder:
            outcome = walk(STEPS, 11, next(copies(demo_library(), Path(folder))), WARMING)
        self.assertEqual(outcome.raised, [])
        self.assertEqual(len(outcome.memory_mb), STEPS // EVERY)
        self.assertLessEqual(outcome.growth, MOST_GROWTH, [round(value) for value in outcome.memory_mb])

    def run_module(self, name, many):
        command = [sys.executable, "-m", f"tests.endurance.{name}", str(many)]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr[-3000:])
        return done.stdout

    def test_starts_with_keys_pressed(self):
        self.assertIn(f"{STARTS} of {STARTS} starts: well", self.run_module("starts", STARTS))

    def test_kills_lose_nothing_that_was_announced(self):
        self.assertIn(f"0 of {KILLS} kills lost something", self.run_module("kills", KILLS))


if __name__ == "__main__":
    unittest.main()
