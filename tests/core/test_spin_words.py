"""Side in the trade's words. Checked against gears and friction, not against the formula's own signs.

Facts of the trade (common practice, no source): outside side is that of the cut's outer edge, it throws
the object ball less; running side opens the angle off a cushion, check side closes it.
"""

import itertools
import math
import unittest

from ripasso.core.measures.spin_words import INTO, angle_kind, next_cushion, side_at_cushion, side_of_cut


def rubs_forward(tip_right, direction, cushion):
    """Whether the ball's face at the cushion, turning, runs ahead of the ball: friction then holds it back.

    Independent of the module: the spin vector and the face's velocity are written out in three dimensions.
    """
    spin = (0.0, 0.0, math.copysign(1.0, tip_right))
    face = (*INTO[cushion], 0.0)
    turned = (
        spin[1] * face[2] - spin[2] * face[1],
        spin[2] * face[0] - spin[0] * face[2],
    )
    return turned[0] * direction[0] + turned[1] * direction[1] > 0


class CutSide(unittest.TestCase):
    def test_every_combination_and_its_mirror(self):
        for tip, cut in itertools.product((-0.5, -0.06, 0.06, 0.5), (-60.0, -10.0, 10.0, 60.0)):
            with self.subTest(tip=tip, cut=cut):
                said = side_of_cut(tip, cut)
                # Cut to the left the cue ball meets the ball on its right; right side is outside.
                right_is_outside = cut > 0
                self.assertEqual(said == "outside", (tip > 0) == right_is_outside)
                self.assertEqual(side_of_cut(-tip, -cut), said)
                self.assertNotEqual(side_of_cut(-tip, cut), said)

    def test_no_side_and_no_cut(self):
        for tip, cut in ((0.0, 30.0), (0.05, 30.0), (-0.05, -30.0), (0.5, 0.0)):
            self.assertEqual(side_of_cut(tip, cut), "none")


class CushionSide(unittest.TestCase):
    def test_every_cushion_side_and_slant_and_mirrored(self):
        for cushion, tip, slant in itertools.product(INTO, (-0.4, 0.4), (-70, -40, -5, 5, 40, 70)):
            normal = math.atan2(INTO[cushion][1], INTO[cushion][0])
            way = (math.cos(normal + math.radians(slant)), math.sin(normal + math.radians(slant)))
            with self.subTest(cushion=cushion, tip=tip, slant=slant):
                said = side_at_cushion(tip, way, cushion)
                self.assertEqual(said, "check" if rubs_forward(tip, way, cushion) else "running")
                # Seen in a mirror along the table's length the spin turns the other way.
                mirrored = {"left": "right", "right": "left"}.get(cushion, cushion)
                self.assertEqual(side_at_cushion(-tip, (way[0], -way[1]), mirrored), said)

    def test_a_known_shot(self):
        """Up the table to the right with right side: it widens off the foot cushion (running)."""
        self.assertEqual(side_at_cushion(0.4, (1.0, -0.6), "foot"), "running")
        self.assertEqual(side_at_cushion(-0.4, (1.0, -0.6), "foot"), "check")

    def test_square_and_no_side(self):
        self.assertEqual(side_at_cushion(0.5, (1.0, 0.05), "foot"), "neither")
        self.assertEqual(side_at_cushion(0.5, (1.0, 0.06), "foot"), "check")
        self.assertEqual(side_at_cushion(0.03, (1.0, 0.5), "foot"), "none")


class Ways(unittest.TestCase):
    def test_the_next_cushion(self):
        for way, cushion in (
            ((1, 0.1), "foot"),
            ((-1, 0.1), "head"),
            ((0.1, 1), "left"),
            ((0.1, -1), "right"),
        ):
            self.assertEqual(next_cushion((1.27, 0.635), way, 2.54, 1.27), cushion)
        self.assertIsNone(next_cushion((1.0, 0.5), (0.0, 0.0), 2.54, 1.27))

    def test_natural_or_fought(self):
        self.assertEqual(angle_kind(50.0, 34.0, 90.0), "natural")
        self.assertEqual(angle_kind(-175.0, 170.0, None), "natural")
        self.assertEqual(angle_kind(60.0, 34.0, 90.0), "fought")
        self.assertIsNone(angle_kind(0.0, None, None))
