"""Where machine code is kept: apart for each text of the sources, and not for ever."""

import os
import tempfile
import unittest
from pathlib import Path

from ripasso.core.compiled_folder import READY, compiled_folder, is_compiled
from ripasso.core.physics import compiling
from ripasso.core.planning.warming import warm_up


class Kept(unittest.TestCase):
    def test_what_was_compiled_is_there(self):
        warm_up()
        self.assertTrue(is_compiled())
        self.assertTrue((compiled_folder() / READY).exists())
        self.assertTrue(any(compiled_folder().rglob("*.nbi")))

    def test_code_of_earlier_sources_goes(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for number in range(5):
                (folder / f"old{number}").mkdir()
                os.utime(folder / f"old{number}", (number, number))
            compiling._forget_older(folder / "now")
            self.assertEqual(sorted(path.name for path in folder.iterdir()), ["old3", "old4"])
            compiling._forget_older(Path(name) / "nowhere" / "at" / "all")
