"""The window that is seen first and opens Review when it is loaded, whatever is done meanwhile."""

import shutil
import tempfile
import unittest
from pathlib import Path

from ripasso.demo.matches.scenario import FILM_ID
from ripasso.review.language.translation import tr
from ripasso.ui.app import shown_window
from ripasso.ui.workspace import build_workspace
from tests.windows import demo_library, destroy, press, uncaught, wait_until


class Opening(unittest.TestCase):
    def setUp(self):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
        uncaught.clear()
        self.addCleanup(lambda: self.assertEqual(uncaught, []))
        self.addCleanup(tr.use, "")
        workspace = build_workspace(Path(shutil.copy(demo_library(), folder)), folder / "settings.json")
        self.window = shown_window(workspace, demo=True)
        self.addCleanup(destroy, self.window)
        self.begun = []
        begin = self.window._begin_work
        self.window._begin_work = lambda: (self.begun.append(True), begin())
        self.window.activateWindow()

    def is_reviewed(self):
        return "review" in self.window._pages.made and self.window.review.isVisible()

    def test_review_follows_by_itself(self):
        wait_until(self.is_reviewed, "Review")
        self.assertEqual(self.window.review.controller.snapshot.key, FILM_ID)
        wait_until(lambda: self.begun, "the work behind it")

    def test_whoever_went_elsewhere_stays_there(self):
        press("Ctrl+1")
        wait_until(lambda: self.begun, "the work behind it")
        self.assertTrue(self.window.sessions.isVisible())
        self.assertNotIn("review", self.window._pages.made)

    def test_other_words_meanwhile(self):
        self.window.rebuild()
        wait_until(self.is_reviewed, "Review")
        wait_until(lambda: self.begun, "the work behind it")
