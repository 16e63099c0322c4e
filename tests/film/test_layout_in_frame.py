"""The balls that lie in one picture of a film: behind a player, while others run, where none lie."""

import math
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from ripasso.core.table import table_spec
from ripasso.demo.library import film_path, film_truth
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.errors import NoTable
from ripasso.film.reading import layout_in_frame as module
from ripasso.film.reading.layout_in_frame import layout_in_frame
from tests.films import write_film

SPEC = table_spec({"preset": "pool_9ft"})


class DemoFilm(unittest.TestCase):
    def found(self, time_s):
        index = build_index(film_path())
        camera = Camera.from_data(film_truth()["camera"])
        return layout_in_frame(index, index.number_at(time_s), "nine_ball", SPEC, camera)

    def test_whoever_addresses_the_ball_does_not_hide_it_and_what_runs_lies_where_it_lay(self):
        first = film_truth()["shots"][0]
        for time_s in (first["t_strike"] - 0.5, first["t_strike"] + 0.3):
            with self.subTest(time_s):
                found = self.found(time_s)
                self.assertEqual(set(found), set(first["before"]))
                for ball, place in first["before"].items():
                    self.assertLess(math.dist(found[ball], place[:2]), 0.015, ball)


class Nothing(unittest.TestCase):
    def test_a_film_of_no_table(self):
        with tempfile.TemporaryDirectory() as folder:
            index = build_index(write_film(Path(folder) / "x.mp4", 50, 12))
            with self.assertRaises(NoTable):
                layout_in_frame(index, 20, "nine_ball", SPEC, None)

    def test_a_table_without_balls(self):
        index = build_index(film_path())
        camera = Camera.from_data(film_truth()["camera"])
        with (
            patch.object(module.FilmReading, "lying", return_value={"cue": (1.0, 0.5)}),
            self.assertRaises(NoTable) as caught,
        ):
            layout_in_frame(index, 3, "nine_ball", SPEC, camera)
        self.assertIn("No balls were found in this picture", str(caught.exception))


if __name__ == "__main__":
    unittest.main()
