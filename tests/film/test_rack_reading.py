"""A rack that is set up, and the shadow at a ball's foot, in masks that are drawn."""

import unittest

import cv2
import numpy as np

from ripasso.core.table import table_spec
from ripasso.core.table.layouts import starting_layout
from ripasso.film.calibration.camera import Camera
from ripasso.film.reading.detection.discs import Discs
from ripasso.film.reading.detection.rack import find_rack, rack_places
from ripasso.film.reading.detection.shadows import Pieces, join_shadows

SPEC = table_spec({"preset": "pool_9ft"})
SHAPE = (360, 640)


def camera():
    """From the side, a little above, as a small picture sees the table."""
    eye = np.array([1.27, -2.2, 2.2])
    ahead = np.array([1.27, 0.6, 0.0]) - eye
    ahead = ahead / np.linalg.norm(ahead)
    right = np.array([1.0, 0.0, 0.0])
    rotation = np.stack((right, np.cross(ahead, right), ahead))
    return Camera(620.0, (319.5, 179.5), rotation, -rotation @ eye)


class Racks(unittest.TestCase):
    def setUp(self):
        self.discs = Discs(camera(), SPEC.ball_radius)
        self.places = rack_places("nine_ball", SPEC)

    def drawn(self, places):
        mask = np.zeros(SHAPE, dtype=np.uint8)
        for place in places:
            self.discs.fill(mask, place, (0, 0), value=255, grow=0.5)
        return mask

    def test_a_rack_a_little_off_its_spot(self):
        for dx, dy in ((0.0, 0.0), (0.006, -0.004), (-0.01, 0.008)):
            moved = [(x + dx, y + dy) for x, y in self.places]
            found = find_rack(self.drawn(moved), self.discs, (0, 0), self.places)
            self.assertEqual(len(found), 9)
            off = max(np.hypot(*np.subtract(s.place, p)) for s, p in zip(found, moved, strict=True))
            self.assertLess(off, 0.009, (dx, dy))

    def test_what_is_no_rack(self):
        spread = [(x + 0.5 * (x - 1.9), y + 0.6 * (y - 0.635)) for x, y in self.places]
        without_three = [p for i, p in enumerate(self.places) if i not in (0, 5, 6)]
        elsewhere = [(x - 1.2, y) for x, y in self.places]
        for places in (spread, without_three, elsewhere, []):
            self.assertEqual(find_rack(self.drawn(places), self.discs, (0, 0), self.places), [])

    def test_a_rack_out_of_the_picture(self):
        mask = np.full(SHAPE, 255, dtype=np.uint8)
        self.assertEqual(find_rack(mask[:, :60], self.discs, (0, 0), self.places), [])

    def test_who_stands_in_a_rack(self):
        self.assertEqual(
            [len(rack_places(game, SPEC)) for game in ("eight_ball", "nine_ball", "x")], [15, 9, 0]
        )
        table = table_spec({"preset": "snooker_12ft"})
        spots = starting_layout("snooker", table)
        together = rack_places("snooker", table)
        # The pink touches the pack; the other colours stand alone.
        self.assertEqual(len(together), 16)
        self.assertIn(spots["pink"], together)
        self.assertNotIn(spots["black"], together)


class Shadows(unittest.TestCase):
    """A grey cloth of light 110; a ball's lit top above the shadow at its foot, six rows between."""

    def join(self, shadow_light=70, top_rows=(20, 26), aside=0):
        cloth = np.full((60, 80, 3), (110, 128, 128), dtype=np.float32)
        seen = cloth.astype(np.uint8)
        other = np.zeros((60, 80), dtype=np.uint8)
        for rows, columns, light in (
            (top_rows, (34 + aside, 46 + aside), 200),
            ((32, 38), (33, 47), shadow_light),
        ):
            other[rows[0] : rows[1], columns[0] : columns[1]] = 255
            seen[rows[0] : rows[1], columns[0] : columns[1], 0] = light
        _, labels, stats, middles = cv2.connectedComponentsWithStats(other, connectivity=8)
        pieces = Pieces(labels.astype(np.int32), stats.astype(np.int32), middles)
        join_shadows(pieces, seen, cloth, other, lambda u, v: 8.0)
        return pieces, other

    def test_top_and_shadow_are_one_thing(self):
        pieces, other = self.join()
        left = [s for s in pieces.stats[1:].tolist() if s[4]]
        self.assertEqual(len(left), 1)
        self.assertEqual(left[0][:4], [33, 20, 14, 18])
        self.assertEqual(int(other[29, 40]), 255)  # what lies between them is the ball's flank

    def test_what_is_not_a_shadow_stays_alone(self):
        for values in ({"shadow_light": 20}, {"aside": 25}, {"top_rows": (2, 6)}):
            pieces, other = self.join(**values)
            self.assertEqual(sum(1 for s in pieces.stats[1:].tolist() if s[4]), 2, values)
            self.assertEqual(int(other[29, 40]), 0)
