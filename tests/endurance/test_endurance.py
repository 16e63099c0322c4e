"""A little of each: random steps, starts with keys pressed, kills. `make endurance` does it for long."""

import re
import subprocess
import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
STEPS, STARTS, KILLS = 500, 1, 4
#: By how much memory may grow over the steps, after warming up.
MOST_GROWTH_PERCENT = 10.0


class Endurance(unittest.TestCase):
    def test_random_steps_raise_nothing_and_memory_stays(self):
        """In a process of its own: what other tests left behind would be counted as well."""
        found = re.search(r"(\d+) raised.* grown by (-?[\d.]+) %", self.run_module("steps", STEPS))
        self.assertIsNotNone(found)
        self.assertEqual(found[1], "0")
        self.assertLessEqual(float(found[2]), MOST_GROWTH_PERCENT, found[0])

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
