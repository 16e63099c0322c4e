"""Zones and errors of position: how far outside, sides and parts, by closed forms and by sampling."""

import math
import random
import unittest

from ripasso.core.geometry.position import angle_from_line, crossing_angle, miss_from, side_of_line
from ripasso.core.geometry.zones import AnyOf, Circle, Polygon, Wedge, distance_outside, strip

SQUARE = Polygon(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)))


class Zones(unittest.TestCase):
    def test_inside_on_the_edge_and_outside(self):
        circle = Circle((1.0, 1.0), 0.5)
        for zone, place, outside in (
            (circle, (1.2, 1.0), 0.0),
            (circle, (1.5, 1.0), 0.0),
            (circle, (2.0, 1.0), 0.5),
            (SQUARE, (0.5, 0.5), 0.0),
            (SQUARE, (1.0, 0.5), 0.0),
            (SQUARE, (1.3, 1.4), 0.5),
            (strip((0.0, 0.0), (1.0, 0.0), 0.2), (0.5, 0.3), 0.2),
            (strip((0.0, 0.0), (1.0, 0.0), 0.2), (1.4, 0.0), 0.4),
            (AnyOf((circle, SQUARE)), (0.5, 0.5), 0.0),
            (AnyOf((circle, SQUARE)), (2.0, 1.0), 0.5),
            (Wedge((0.0, 0.0), 0.0, math.pi / 2), (1.0, 1.0), 0.0),
            (Wedge((0.0, 0.0), 0.0, math.pi / 2), (1.0, -0.25), 0.25),
            (Wedge((0.0, 0.0), 0.0, math.pi / 2), (-3.0, -4.0), 5.0),
        ):
            self.assertAlmostEqual(distance_outside(zone, place), outside, places=12)

    def test_against_the_nearest_of_many_points(self):
        """A concave polygon: the distance is that to the nearest of the grid points inside."""
        corners = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.5, 0.4), (0.0, 1.0))
        zone = Polygon(corners)
        grid = [(x / 100, y / 100) for x in range(101) for y in range(101)]
        inside = [p for p in grid if distance_outside(zone, p) == 0.0]
        # Its area is that of the square less a triangle of half of 1 x 0.6.
        self.assertAlmostEqual(len(inside) / len(grid), 0.7, delta=0.02)
        chance = random.Random(2)
        for _ in range(60):
            place = (chance.uniform(-0.5, 1.5), chance.uniform(-0.5, 1.5))
            nearest = min(math.dist(place, p) for p in inside)
            self.assertAlmostEqual(distance_outside(zone, place), nearest, delta=0.011)


class Misses(unittest.TestCase):
    def test_long_and_left_are_positive(self):
        leg = ((0.0, 0.0), (1.0, 0.0))
        miss = miss_from((1.0, 0.0), (1.3, 0.4), leg)
        self.assertAlmostEqual(miss.distance, 0.5)
        self.assertAlmostEqual(miss.along, 0.3)
        self.assertAlmostEqual(miss.across, 0.4)
        turned = miss_from((0.0, 1.0), (-0.4, 1.3), ((0.0, 0.0), (0.0, 1.0)))
        self.assertAlmostEqual(turned.along, 0.3)
        self.assertAlmostEqual(turned.across, 0.4)

    def test_without_a_leg_only_the_distance(self):
        miss = miss_from((1.0, 0.0), (1.3, 0.4), None)
        self.assertEqual((round(miss.distance, 9), miss.along, miss.across), (0.5, None, None))

    def test_sides_of_the_line(self):
        ball, target = (1.0, 0.0), (2.0, 0.0)  # the line goes on towards -x
        left = angle_from_line(ball, target, (0.5, -0.1))
        right = angle_from_line(ball, target, (0.5, 0.1))
        self.assertGreater(left, 0)
        self.assertLess(right, 0)
        straight = angle_from_line(ball, target, (0.5, 0.01))
        for aim, rest, side in (
            (left, left, "right_side"),
            (left, right, "wrong_side"),
            (left, straight, "straight"),
            (straight, right, None),
            (straight, straight, "straight"),
        ):
            self.assertEqual(side_of_line(aim, rest), side)

    def test_crossing_is_a_right_angle_at_most(self):
        ball, target = (1.0, 0.0), (2.0, 0.0)
        for leg, degrees in (
            (((0.5, 0.0), (0.5, 1.0)), 90.0),
            (((0.5, 0.0), (0.9, 0.0)), 0.0),
            (((0.9, 0.0), (0.5, 0.0)), 0.0),
            (((0.0, 0.0), (0.5, 0.5)), 45.0),
        ):
            self.assertAlmostEqual(math.degrees(crossing_angle(leg, ball, target)), degrees)


if __name__ == "__main__":
    unittest.main()
