"""Views of recordings by time, and what a mouse says of a plan, as values."""

import math
import unittest
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from ripasso.core.table import table_spec
from ripasso.film.calibration.views import camera_of, scaled
from ripasso.review.document.edits import RefusedEdit
from ripasso.review.recordings.views import (
    copy_view,
    first_view,
    follow_camera,
    forget_view,
    recording_of,
    set_camera,
    set_view,
    view_at,
)
from ripasso.review.table.planning import (
    at_cushion,
    circle_zone,
    clear_values,
    cushion_at,
    polygon_zone,
    route_values,
    simplified,
    strip_zone,
    wiped_values,
    zones_of_rack_plans,
)
from tests.film.test_view import camera
from tests.sessions import document_with, session

SPEC = table_spec({"preset": "pool_9ft"})
R = SPEC.ball_radius


class Views(unittest.TestCase):
    def setUp(self):
        recordings = [{"id": "one", "file": "1.mp4"}, {"id": "two", "file": "2.mp4"}]
        self.document = document_with(session(recordings=recordings))

    def add(self, recording="one", replaces=None, **view):
        self.document.run(set_view(self.document.session("test"), recording, view, replaces))

    def at(self, time_s, recording="one"):
        head = self.document.session("test").head
        return view_at(recording_of(head, recording), time_s)

    def test_a_view_holds_for_its_stretch_and_the_later_one_wins(self):
        self.assertIsNone(self.at(1.0))
        self.add(camera={"focal_px": 1})
        self.add(**{"from": 10.0, "to": 20.0, "camera": {"focal_px": 2}})
        self.assertEqual(
            [self.at(t).camera["focal_px"] for t in (0.0, 10.0, 15.0, 20.0, 21.0)], [1, 2, 2, 2, 1]
        )
        self.assertIsNone(self.at(1.0, "two"))
        self.assertIsNone(view_at(None, 1.0))

    def test_replaced_copied_forgotten_and_undone(self):
        self.add(**{"from": 3.0, "camera": {"focal_px": 1}})
        self.add(replaces=0, **{"from": 3.0, "camera": {"focal_px": 5}})
        source = self.at(4.0)
        self.assertEqual(source.camera["focal_px"], 5)
        self.document.run(copy_view(self.document.session("test"), "two", source))
        self.assertEqual((self.at(0.0, "two").camera["focal_px"], self.at(0.0, "two").from_), (5, None))
        self.document.run(forget_view(self.document.session("test"), "one", 0))
        self.assertIsNone(self.at(4.0))
        self.document.undo()
        self.assertEqual(self.at(4.0), source)

    def run_command(self, command):
        return command is not None and self.document.run(command)

    def test_what_a_reading_finds_goes_into_the_views_that_are_there(self):
        now = self.document.session
        self.assertTrue(self.run_command(first_view(now("test"), "one", {"focal_px": 1})))
        self.assertIsNone(first_view(now("test"), "one", {"focal_px": 2}), "there is one")
        self.assertIsNone(first_view(now("test"), "three", {"focal_px": 2}), "there is no such film")
        self.assertTrue(self.run_command(set_camera(now("test"), "one", 5.0, {"focal_px": 3})))
        self.assertEqual(self.at(0.0).camera, {"focal_px": 3})
        self.assertIsNone(set_camera(now("test"), "two", 5.0, {"focal_px": 3}), "it has no view")

    def test_the_camera_is_followed_and_a_later_reading_goes_on(self):
        now = self.document.session
        self.add(camera={"focal_px": 1})
        self.add(**{"from": 30.0, "camera": {"focal_px": 2}})

        def followed(start_s, *seen):
            return self.run_command(follow_camera(now("test"), "one", start_s, seen))

        one, two, three = ([t, 0.1, 0.0, 0.0, 0.0] for t in (1.0, 2.0, 3.0))
        first = {"camera": {}, "at": 0.0, "motion": [one, two]}
        cut = {"camera": {}, "from": 30.0, "at": 31.0, "motion": [[31.0, 0, 0.2, 0, 0]]}
        self.assertTrue(followed(0.0, first, cut))
        self.assertEqual([row[0] for row in self.at(0.0).motion], [1.0, 2.0])
        self.assertEqual((self.at(40.0).at, self.at(40.0).motion[0][2]), (31.0, 0.2))
        # A reading that goes on keeps what was seen before it, and counts from the same frame.
        self.assertTrue(followed(1.5, {**first, "motion": [two, three]}))
        self.assertEqual([row[0] for row in self.at(0.0).motion], [1.0, 2.0, 3.0])
        self.assertFalse(followed(0.0, {**first, "at": 9.0}), "the view was set anew, on another frame")
        self.assertFalse(followed(0.0, {"camera": {}}), "it stands still")
        self.document.undo()
        self.assertEqual([row[0] for row in self.at(0.0).motion], [1.0, 2.0])
        # Of another film it is another motion.
        self.document.run(copy_view(now("test"), "two", self.at(0.0)))
        self.assertIsNone(self.at(0.0, "two").motion)

    def test_an_unknown_recording_is_refused(self):
        with self.assertRaises(RefusedEdit):
            self.add("three")

    def test_cameras_are_read_or_there_is_none(self):
        data = camera().as_data()
        self.assertEqual(camera_of(data).focal_px, 1150)
        for broken in (None, {}, {**data, "R": [1, 2]}, {**data, "focal_px": "far"}, {**data, "t": None}):
            self.assertIsNone(camera_of(broken))

    def test_a_scaled_camera_sees_the_same_places(self):
        small = scaled(camera(), 0.5)
        ((u, v),) = camera().project([(1.0, 0.5, R)])
        ((x, y),) = small.project([(1.0, 0.5, R)])
        self.assertAlmostEqual(x, (u + 0.5) / 2 - 0.5)
        self.assertAlmostEqual(y, (v + 0.5) / 2 - 0.5)


class Plans(unittest.TestCase):
    def test_a_slip_of_the_hand_draws_no_zone(self):
        self.assertIsNone(circle_zone((1, 0.5), (1.001, 0.5)))
        self.assertIsNone(strip_zone((1, 0.5), (1.001, 0.5), 0.2))
        self.assertIsNone(strip_zone((1, 0.5), (1.5, 0.5), 0.001))
        self.assertIsNone(polygon_zone([(1, 0.5), (1.2, 0.5)]))
        self.assertIsNone(polygon_zone([(1, 0.5), (1.2, 0.5), (1.2, 0.5)]))

    def test_cushions_of_a_route(self):
        self.assertEqual(cushion_at(SPEC, (0.05, 0.6)), "head")
        self.assertEqual(cushion_at(SPEC, (1.0, 1.2)), "left")
        self.assertIsNone(cushion_at(SPEC, (1.0, 0.6)))
        self.assertEqual(at_cushion(SPEC, (1.0, 1.2)), (1.0, SPEC.width - R))
        self.assertEqual(at_cushion(SPEC, (0.0, 0.6)), (R, 0.6))
        self.assertEqual(at_cushion(SPEC, (1.0, 0.6)), (1.0, 0.6))
        values = route_values(SPEC, [(1.0, 0.6), (1.5, R), (2.5, 0.7), (2.0, 0.9)])
        self.assertEqual(values["plan", "cushions"], ["right", "foot"])
        self.assertEqual(values["plan", "aim_point"], [2.0, 0.9])
        self.assertEqual(route_values(SPEC, [(1.0, 0.6)]), {})

    def test_nothing_is_cleared_where_nothing_is(self):
        from ripasso.review.record.model import Shot

        bare = Shot.model_validate({"number": 1})
        self.assertEqual((clear_values(bare), wiped_values(bare)), ({}, {}))

    def test_the_zone_of_a_shot_in_each_person_s_last_plan_of_the_rack(self):
        near, far = (circle_zone((x, 0.5), (x + 0.1, 0.5)) for x in (1.0, 2.0))
        plans = [
            {"by": "ida", "order": [{"ball": "1", "zone": near}, {"ball": "2", "zone": near}]},
            {"by": "Ripasso", "order": [{"ball": "1", "zone": far}, {"ball": "2"}]},
            {"by": "ida", "order": [{"ball": "1", "zone": far}], "made_at_shot": 3},
        ]
        rack = session(racks=[{"number": 1, "shots": [], "plans": plans}]).racks[0]

        def told(number, ball):
            return [(by, zone.circle.centre) for by, zone in zones_of_rack_plans(rack, number, ball)]

        self.assertEqual(told(1, "1"), [("ida", (1.0, 0.5)), ("Ripasso", (2.0, 0.5))])
        self.assertEqual(told(3, "1"), [("ida", (2.0, 0.5)), ("Ripasso", (2.0, 0.5))])
        self.assertEqual(told(1, "2"), [("ida", (1.0, 0.5))])
        self.assertEqual(told(1, None), [])

    @given(st.lists(st.tuples(st.floats(0, 2.5), st.floats(0, 1.2)), min_size=2, max_size=40))
    def test_a_simpler_line_stays_near_the_drawn_one(self, points):
        few = simplified(points, 0.01)
        self.assertEqual((few[0], few[-1]), (points[0], points[-1]))
        self.assertTrue(set(few) <= set(points))
        for place in points:
            near = min(_distance(a, b, place) for a, b in pairwise(few))
            self.assertLessEqual(near, 0.01 + 1e-9)


def _distance(start, end, place):
    """From a place to a line through two points (to the point, where they are one)."""
    length = math.dist(start, end)
    if length < 1e-9:
        return math.dist(start, place)
    cross = (end[0] - start[0]) * (place[1] - start[1]) - (end[1] - start[1]) * (place[0] - start[0])
    return abs(cross) / length
