"""From an empty library to Statistics with the film of a telephone held upright in a hand, by keys."""

import json
import shutil
import tempfile
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from ripasso.demo.filming.conditions import CONDITIONS, film_again
from ripasso.demo.filming.recordings import Recipe, render
from tests.windows import WindowCase, in_dialog, press, wait_until, write

RECIPE = Recipe(
    "nine_ball",
    "phone",
    "teal",
    shots=3,
    balls=("1", "2", "5", "9"),
    seed=4,
    rate=20,
    size=(608, 1080),
)
#: Times and places of what was read may be off the truth by this.
STRIKE_S, PLACE_M = 0.3, 0.05


class PhoneFilm(WindowCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.films = Path(tempfile.mkdtemp())
        cls.addClassCleanup(shutil.rmtree, cls.films, ignore_errors=True)
        steady, _ = render("steady", RECIPE, cls.films)
        cls.film = cls.films / "phone.mp4"
        film_again(steady, CONDITIONS["trembling"], cls.film)
        cls.truth = json.loads(cls.film.with_suffix(".truth.json").read_text(encoding="utf-8"))

    def begin(self, dialog):
        dialog.players.first.setFocus()
        write("Ada Pot")
        dialog._film.setFocus()
        write(str(self.film))
        press("Tab")
        wait_until(lambda: dialog._recording is not None, "the film looked through")
        press("Return")

    def test_from_an_empty_library_to_the_figures(self):
        in_dialog(self.begin)
        press("Ctrl+N")
        wait_until(lambda: self.review.player.index is not None, "the film in Review")
        self.assertEqual((self.review.player.index.width, self.review.player.index.height), RECIPE.size)
        press("Ctrl+L")
        wait_until(lambda: not self.review.reading.busy, "the film read", 240)
        shots = self.review.controller.snapshot.shots
        true = self.truth["shots"]
        self.assertEqual(len(shots), len(true), self.said[-3:])
        for row, seen in zip(shots, true, strict=True):
            self.assertAlmostEqual(float(row.record.t_strike), seen["t_strike"], delta=STRIKE_S)
            potted = {(p.ball, p.pocket) for p in row.record.facts.potted or ()}
            self.assertEqual(potted, {(p["ball"], p["pocket"]) for p in seen["potted"]})
        # What fell was meant to: nobody practises a break with four balls.
        self.assertEqual([shots[place].record.intent for place in (0, 2)], ["pot", "pot"])
        self.review.controller.choose(shots[0].key)
        QApplication.processEvents()
        press("Shift+Return")
        wait_until(
            lambda: not any(r.record.proposed for r in self.review.controller.snapshot.shots), "all accepted"
        )
        press("Ctrl+3")
        statistics = self.window.statistics
        wait_until(lambda: not statistics.is_computing and not self.workspace.background.busy, "the figures")
        self.assertIn(
            "Ada Pot", [statistics.chooser.first.itemText(i) for i in range(statistics.chooser.first.count())]
        )
        self.assertEqual(len(statistics._page.facts), len(true))
