"""Several cameras of one film: told apart, met again, and both ends of the table the same in all of them."""

import json
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

import numpy as np

from ripasso.core.table import table_spec
from ripasso.demo.filming.recordings import Recipe, cameras_of, render
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.reading.accuracy import compared
from ripasso.film.reading.reader import FilmReading
from ripasso.film.reading.viewpoints import Viewpoint

SPEC = table_spec({"preset": "pool_9ft"})
RECIPE = Recipe(
    "nine_ball",
    "side",
    "teal",
    shots=3,
    balls=("1", "3", "6", "9"),
    seed=11,
    rate=20,
    size=(880, 496),
    second="corner",
)


class TwoCameras(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        film, truth = render("two", RECIPE, Path(folder.name))
        cls.index, cls.truth = build_index(film), json.loads(truth.read_text(encoding="utf-8"))

    def read(self):
        reading = FilmReading(self.index, "nine_ball", SPEC, None)
        self.addCleanup(reading.close)
        self.assertTrue(reading.run())
        return reading

    def test_shots_before_and_after_a_cut_are_read_with_the_balls_carried_on(self):
        reading = self.read()
        found = compared([shot.values for shot in reading.shots()], self.truth).as_data()
        self.assertEqual((found["shots_found"], found["shots_false"]), (1.0, 0.0))
        self.assertEqual((found["balls_found"], found["potted"]), (1.0, 1.0))
        self.assertLess(found["off_95_mm"], 25)
        self.assertEqual({shot.rack for shot in reading.shots()}, {1})
        # The cut, the second camera, and the first one met again.
        first, second, third = (view.camera for view in reading.views[:3])
        first_s, second_s, third_s = (view.start_s for view in reading.views[:3])
        rest_s = [shot["t_all_at_rest"] for shot in self.truth["shots"]]
        self.assertEqual(first_s, 0.0)
        self.assertAlmostEqual(second_s, rest_s[0] + 0.7, delta=0.1)
        self.assertAlmostEqual(third_s, rest_s[1] + 0.7, delta=0.1)
        self.assertIs(third, first)
        for seen, true in zip((first, second), cameras_of(RECIPE), strict=True):
            self.assertLess(float(np.hypot(*(seen.eye - true.place)[:2])), 0.12)
        stated = reading.stated_views()
        self.assertNotIn("from", stated[0])
        self.assertEqual([view["from"] for view in stated[1:3]], [round(second_s, 3), round(third_s, 3)])

    def test_a_camera_that_takes_the_foot_for_the_head_is_set_right_by_the_balls(self):
        found, turned = Viewpoint.of.__func__, []

        def wrongly(cls, seen, spec, share, size, known):
            one = found(cls, seen, spec, share, size, known)
            if known is None and not turned:
                turned.append(one)
            elif known is None and len(turned) == 1:
                turned.append(one)
                known = one.camera.from_other_end(spec.length, spec.width)
                return found(cls, seen, spec, share, size, known)
            return one

        with patch.object(Viewpoint, "of", classmethod(wrongly)):
            reading = FilmReading(self.index, "nine_ball", SPEC, None)
            self.addCleanup(reading.close)
            # Up to the second camera is enough.
            reading.run(is_wanted=lambda: len(reading.views) < 2)
        self.assertEqual(len(turned), 2)
        self.assertLess(
            float(np.hypot(*(reading.views[1].camera.eye - cameras_of(RECIPE)[1].place)[:2])), 0.12
        )

    def test_the_other_end_is_the_same_picture(self):
        lens, middle = cameras_of(RECIPE)[0], ((RECIPE.size[0] - 1) / 2, (RECIPE.size[1] - 1) / 2)
        plain = Camera(lens.focal_px, middle, np.array(lens.rotation), np.array(lens.translation))
        turned = plain.from_other_end(SPEC.length, SPEC.width)
        for x, y, z in ((0.3, 0.4, 0.0), (2.1, 1.0, 0.05)):
            there = plain.project([[x, y, z]])
            again = turned.project([[SPEC.length - x, SPEC.width - y, z]])
            self.assertLess(float(np.abs(there - again).max()), 1e-9)
