"""A killed process loses at most the command in hand, and never half of one."""

import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

from ripasso.review.document.document import Document
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import open_library

KILLS = 20


class Kills(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.path = self.folder / "killed.ripasso"

    def test_twenty_kills_of_a_writer(self):
        chance = random.Random(7)
        written = 0
        command = [sys.executable, "-m", "tests.store.writer", str(self.path)]
        with subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, bufsize=1
        ) as writers:
            for kill in range(KILLS):
                with self.subTest(kill=kill):
                    printed = self._write_and_kill(writers, chance.uniform(0.0, 0.12))
                    stored = self._stored_number()
                    # What was announced is there; the one command in hand may be there too.
                    self.assertIn(stored - printed, (0, 1))
                    written += printed
            writers.stdin.close()
        self.assertEqual(writers.returncode, 0)
        self.assertGreaterEqual(written, KILLS, "the writer must have been at work")

    def _write_and_kill(self, writers, seconds):
        """Kill a writer some time after its first command; returns the last one that it told of."""
        writers.stdin.write("write\n")
        process = int(writers.stdout.readline())
        told = [writers.stdout.readline()]
        time.sleep(seconds)
        os.kill(process, signal.SIGKILL)
        while (line := writers.stdout.readline()) != "gone\n":
            told.append(line)
        return int(told[-1])

    def _stored_number(self):
        library = open_library(self.path)
        try:
            self.assertFalse(library.read_only)
            notes = {s.record.note for s in Document(library, derived_rows).session("test").shots}
        finally:
            library.close()
        self.assertEqual(len(notes), 1, "half a command was stored")
        return int(notes.pop())


if __name__ == "__main__":
    unittest.main()
