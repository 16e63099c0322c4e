"""A camera that moves on its stand: what it sees at each time, and in how few rows that is said."""

import unittest

import numpy as np

from ripasso.core.table import table_spec
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.moving import (
    MOST_ROWS,
    STILL_PX,
    camera_at,
    kept_rows,
    motion_at,
    moved,
    rebased,
)
from ripasso.film.reading.followed_camera import FollowedCamera
from ripasso.film.reading.normalising.motion import Pinhole
from ripasso.review.record.parts import View

SPEC = table_spec({"preset": "pool_9ft"})
DOWN = np.deg2rad(55)
CAMERA = Camera(
    1400.0,
    (639.5, 359.5),
    np.array([[1, 0, 0], [0, -np.sin(DOWN), -np.cos(DOWN)], [0, np.cos(DOWN), -np.sin(DOWN)]]),
    np.array([-1.27, 0.2, 4.0]),
)
CORNERS = [[x, y, 0.037] for x in (0, SPEC.length) for y in (0, SPEC.width)]
ROWS = [(1.0, 0.0, 0.0, 0.0, 0.0), (2.0, 0.02, -0.01, 0.004, 0.1), (4.0, -0.02, 0.03, 0.0, 0.0)]


class Moving(unittest.TestCase):
    def test_a_moved_camera_sees_what_the_moved_picture_shows(self):
        motion = np.array([0.013, -0.021, 0.008, 0.12])
        seen = Pinhole(CAMERA.focal_px, CAMERA.centre).moved(CAMERA.project(CORNERS), motion)
        np.testing.assert_allclose(moved(CAMERA, motion).project(CORNERS), seen, atol=1e-8)
        np.testing.assert_allclose(moved(CAMERA, motion).eye, CAMERA.eye, atol=1e-12)

    def test_between_rows_it_changes_evenly_and_outside_it_stays(self):
        for time_s, wanted in (
            (0.0, ROWS[0][1:]),
            (1.5, (0.01, -0.005, 0.002, 0.05)),
            (3.0, (0.0, 0.01, 0.002, 0.05)),
            (9.0, ROWS[2][1:]),
        ):
            with self.subTest(time_s=time_s):
                np.testing.assert_allclose(motion_at(ROWS, time_s), wanted, atol=1e-12)

    def test_beside_another_frame_it_is_the_same_camera(self):
        again = rebased(ROWS, 2.0)
        np.testing.assert_allclose(motion_at(again, 2.0), 0, atol=1e-6)
        there = moved(CAMERA, motion_at(ROWS, 2.0))
        for row in (0, 1, 2):
            time_s = ROWS[row][0]
            seen = moved(there, motion_at(again, time_s)).project(CORNERS)
            wanted = moved(CAMERA, motion_at(ROWS, time_s)).project(CORNERS)
            np.testing.assert_allclose(seen, wanted, atol=0.05)

    def test_a_view_without_motion_is_its_camera(self):
        view = View.model_validate({"camera": CAMERA.as_data()})
        np.testing.assert_array_equal(camera_at(view, 7.0).rotation, CAMERA.rotation)
        self.assertIsNone(camera_at(View(), 7.0))
        self.assertIsNone(camera_at(None, 7.0))

    def test_rows_in_any_order_raise_nothing(self):
        for rows in ([ROWS[2], ROWS[0], ROWS[1]], [ROWS[0], ROWS[0]]):
            self.assertTrue(np.isfinite(motion_at(rows, 1.0)).all())


class FewRows(unittest.TestCase):
    def test_a_slow_pan_takes_few_and_every_frame_is_met(self):
        times = np.arange(0, 40, 0.04)
        motions = np.zeros((len(times), 4))
        motions[:, 1] = 0.05 * np.sin(2 * np.pi * times / 16)
        rows = kept_rows(times, motions, CAMERA.focal_px)
        self.assertLess(len(rows), 0.1 * len(times))
        self.off(rows, times, motions, STILL_PX)

    def test_a_hand_takes_about_every_frame(self):
        times = np.arange(0, 40, 0.04)
        motions = np.random.default_rng(5).normal(0, 0.002, (len(times), 4))
        rows = kept_rows(times, motions, CAMERA.focal_px)
        self.assertGreater(len(rows), 0.8 * len(times))
        self.off(rows, times, motions, STILL_PX)

    def test_what_moves_less_than_can_be_seen_takes_none(self):
        self.assertEqual(kept_rows([0, 1, 2], np.full((3, 4), 1e-5), CAMERA.focal_px), [])
        self.assertEqual(kept_rows([], np.zeros((0, 4)), CAMERA.focal_px), [])

    def test_a_long_film_from_the_hand_is_kept_less_exactly(self):
        times = np.arange(3 * MOST_ROWS) / 25
        motions = np.random.default_rng(6).normal(0, 0.002, (len(times), 4))
        rows = kept_rows(times, motions, CAMERA.focal_px)
        self.assertLessEqual(len(rows), MOST_ROWS)
        self.assertGreater(len(rows), MOST_ROWS // 20)

    def test_of_a_camera_only_what_is_about_the_shots_is_stated(self):
        seen = FollowedCamera(0.0, CAMERA, 0.0)
        for number in range(2500):
            seen.add(number / 25, np.array([0.001 * (number % 7), 0, 0, 0]))
        data = seen.as_data([(10.0, 15.0), (60.0, 70.0)])
        times = [row[0] for row in data["motion"]]
        self.assertTrue(all(10 <= t <= 15 or 60 <= t <= 70 for t in times))
        self.assertEqual((data["at"], min(times), max(times)), (0.0, 10.0, 70.0))
        self.assertEqual(View.model_validate(_tuples(data)).motion[0][0], 10.0)

    def off(self, rows, times, motions, within_px):
        found = np.array([motion_at(rows, float(t)) for t in times])
        self.assertLess(float(np.abs(found - motions).max()) * CAMERA.focal_px, within_px + 0.05)


def _tuples(data):
    """As pydantic wants a strict record from Python: lists are tuples."""
    return {**data, "motion": tuple(tuple(row) for row in data["motion"])}


if __name__ == "__main__":
    unittest.main()
