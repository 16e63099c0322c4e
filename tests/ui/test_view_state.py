"""A film's view while it is set, without a window: what is asked for, clicked, and drawn back."""

import unittest

import numpy as np

from ripasso.core.table import table_spec
from ripasso.core.table.known_points import known_points, nose_height
from ripasso.drawing import Circle, Line, Text
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.camera_fit import fit_view
from ripasso.ui.review.film.view_state import ViewState
from tests.film.test_view import SIZE, SPEC, camera

SNOOKER = table_spec({"preset": "snooker_12ft"})


def pixel_of(point):
    ((u, v),) = camera().project([point.place])
    return (float(u), float(v))


class Setting(unittest.TestCase):
    def setUp(self):
        self.state = ViewState(SPEC, SIZE)

    def click(self, count):
        for point in self.state.points[:count]:
            self.assertEqual(self.state.current, point.name)
            self.state.put(pixel_of(point))

    def fit(self):
        self.state.fitted = fit_view(*self.state.given(), SIZE)

    def test_points_are_asked_for_one_after_the_other(self):
        self.click(4)
        self.assertEqual(self.state.current, "foot spot")
        self.state.skip()
        self.assertEqual(self.state.current, "middle of the head string")
        self.state.put((1.0, 2.0))
        # What was skipped is asked for again when the others are there.
        for point in self.state.points[6:]:
            self.state.put(pixel_of(point))
        self.assertEqual(self.state.current, "foot spot")

    def test_a_forgotten_point_is_asked_for_again(self):
        self.click(5)
        name = "foot left, where the noses meet"
        self.state.forget(name)
        self.assertEqual(self.state.current, name)
        self.assertNotIn(name, self.state.clicked)

    def test_the_camera_draws_the_table_back(self):
        self.click(6)
        before = self.state.drawing().primitives
        self.assertTrue(all(isinstance(one, Line) for one in before))  # crosses only
        self.fit()
        drawn = self.state.drawing().primitives
        self.assertGreater(len(drawn), len(before) + 10)
        self.assertTrue(any(isinstance(one, Text) and "sight" in one.text for one in drawn))
        expected = next(one for one in drawn if isinstance(one, Circle))
        u, v = pixel_of(self.state.points[6])
        np.testing.assert_allclose(expected.centre, (u, -v), atol=0.5)

    def test_a_press_near_two_points_means_the_one_that_is_nearer(self):
        self.click(6)
        corner = self.state.points[0]
        pocket = next(point for point in self.state.points if point.name == "head left pocket")
        self.state.forget(pocket.name)  # it is the one that is asked for
        self.assertEqual(self.state.near(pixel_of(pocket), 30.0), corner.name)  # nothing is expected yet
        self.fit()
        self.assertIsNone(self.state.near(pixel_of(pocket), 30.0))
        self.assertEqual(self.state.near(pixel_of(corner), 30.0), corner.name)
        self.assertIsNone(self.state.near((5.0, 5.0), 30.0))

    def test_a_stored_view_is_taken_up_again(self):
        self.click(8)
        self.fit()
        record = self.state.record(2.5, None)
        self.assertEqual((record["from"], "to" in record, len(record["points"])), (2.5, False, 8))
        again = ViewState(SPEC, SIZE)
        again.load(record["points"])
        self.assertEqual(set(again.clicked), set(self.state.clicked))
        self.assertEqual(again.current, self.state.points[8].name)
        again.load([{"table": [9, 9, 9], "image": [1, 1]}, {"table": None, "image": None}])
        self.assertEqual(len(again.clicked), 8)
        self.assertAlmostEqual(Camera.from_data(record["camera"]).focal_px, 1150, delta=1)

    def test_quality_is_said_by_point_and_by_place(self):
        self.assertIsNone(self.state.uncertainty_mm())
        self.assertEqual(self.state.residuals(), {})
        self.click(10)
        wrong = self.state.points[3].name
        u, v = self.state.clicked[wrong]
        self.state.clicked[wrong] = (u + 15, v)
        self.fit()
        residuals = self.state.residuals()
        self.assertEqual(max(residuals, key=lambda name: residuals[name]), wrong)
        middle, far = self.state.uncertainty_mm()
        self.assertGreater(far, middle)


class KnownPoints(unittest.TestCase):
    def test_each_has_a_name_of_its_own_and_the_height_at_which_it_is_seen(self):
        for spec in (SPEC, SNOOKER):
            points = known_points(spec)
            self.assertEqual(len({point.name for point in points}), len(points))
            heights = {kind: {p.place[2] for p in points if p.kind == kind} for kind in ("spot", "corner")}
            self.assertEqual(heights, {"spot": {0.0}, "corner": {nose_height(spec)}})

    def test_the_nose_of_a_pool_table(self):
        # WPA equipment specification, from memory: 63.5 % of 2 1/4 in is 1.43 in.
        self.assertAlmostEqual(nose_height(SPEC) / 0.0254, 1.43, delta=0.005)

    def test_snooker_has_its_six_spots(self):
        spots = [point for point in known_points(SNOOKER) if point.kind == "spot"]
        self.assertEqual(len(spots), 6)
