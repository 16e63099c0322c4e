"""A folder of films becomes sessions: asked once, known films left out, broken ones named; driven by keys."""

import os
import shutil
import tempfile
from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QLineEdit

from tests.films import write_film
from tests.windows import WindowCase, in_dialog, press, wait_until, write

DAY = date(2026, 3, 14)


class FilmFolder(WindowCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.films = Path(tempfile.mkdtemp())
        cls.addClassCleanup(shutil.rmtree, cls.films, ignore_errors=True)
        for number, name in enumerate(("b first night", "a second night")):
            write_film(cls.films / f"{name}.mp4", 25 + number, 12)
        shutil.copy(cls.films / "b first night.mp4", cls.films / "c copy.MP4")
        (cls.films / "broken.mkv").write_bytes(b"no film")
        (cls.films / "notes.txt").write_text("not a film")
        noon = (DAY - date(1970, 1, 1)).days * 86400 + 43200
        os.utime(cls.films / "a second night.mp4", (noon, noon))

    def choose(self, folder, then):
        def name_folder(dialog):
            self.assertIsInstance(dialog, QFileDialog)
            dialog.findChild(QLineEdit, "fileNameEdit").setText(str(folder))
            in_dialog(then)
            press("Return")

        in_dialog(name_folder)
        press("Ctrl+1", "Ctrl+Shift+I")

    def fill_in(self, dialog):
        self.assertEqual(dialog.windowTitle(), f"Films of {self.films.name}")
        self.assertIn("2 sessions will begin", dialog._problem.text())
        self.assertFalse(dialog._title.isVisible() or dialog._film.isVisible())
        write("Ada Pot")
        press("Return")

    def test_each_film_has_its_session_and_none_a_second_one(self):
        self.choose(self.films, self.fill_in)
        sessions = self.window.sessions
        wait_until(lambda: len(sessions.model.lines) == 2, "the sessions")
        lines = {line.title: line for line in sessions.model.lines}
        self.assertEqual(set(lines), {"a second night", "b first night"})
        self.assertEqual(lines["a second night"].date, DAY.isoformat())
        self.assertEqual({line.players for line in lines.values()}, {("Ada Pot",)})
        self.assertTrue(any("broken.mkv" in said for said in self.said), self.said)
        self.assertIn("2 sessions begun", self.said[-1])
        self.assertIn("1 film had one already", self.said[-1])
        for line in lines.values():
            (film,) = self.workspace.document.session(line.key).head.recordings
            self.assertEqual(Path(film.file).stem, line.title)
        # Once more: everything is there.
        self.window.files.take([self.films])
        wait_until(lambda: "has its session already" in self.said[-1], "the folder looked through")
        sessions.take_focus()
        press("Ctrl+Z")
        self.assertEqual(len(sessions.model.lines), 1, self.said[-3:])

    def test_a_folder_without_films_and_one_that_is_not_there(self):
        empty = self.folder / "nothing"
        empty.mkdir()
        controller = self.window.sessions.controller
        controller.films.take(empty)
        self.assertEqual(self.said[-1], "There is no film in nothing.")
        controller.films.take(self.folder / "gone")
        self.assertEqual(self.said[-1], "gone cannot be read.")
        self.assertEqual(self.workspace.library.films(), [])
