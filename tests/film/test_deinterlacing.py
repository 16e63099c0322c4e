"""A frame of two fields shows one moment."""

import tempfile
import unittest
from pathlib import Path

import numpy as np

from ripasso.demo.filming.film import encode
from ripasso.film import build_index
from ripasso.film.decoding.deinterlacing import progressive
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.decoding.still import whole_frame

SIZE, FRAMES, STEP = (192, 128), 12, 12


def picture(at):
    """A bright bar on dark ground, with a level mark that shows which row is which."""
    made = np.full((SIZE[1], SIZE[0], 3), 40, np.uint8)
    made[:, round(at) : round(at) + 16] = 220
    made[60:64] = (200, 60, 60)
    return made


def woven(number):
    first, second = picture(10 + STEP * number), picture(10 + STEP * (number + 0.5))
    made = first.copy()
    made[1::2] = second[1::2]
    return made


class TwoFields(unittest.TestCase):
    def film(self, pictures, is_interlaced):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "film.mp4"
        encode(iter(pictures), path, 25, "12", "veryfast", is_interlaced=is_interlaced)
        return build_index(path)

    def test_the_bar_stands_where_it_was_at_the_frames_time(self):
        index = self.film([woven(n) for n in range(FRAMES)], True)
        for number in (0, 3, 7):
            shown = whole_frame(index, number)[..., 1].astype(float)
            rows = shown[[10, 11, 30, 31, 100, 101]]
            # Both kinds of rows show the bar at the first field's place, and none has a comb's teeth.
            self.assertLess(float(np.abs(rows[::2] - rows[1::2]).max()), 40)
            lit = np.flatnonzero(rows.mean(axis=0) > 130)
            self.assertAlmostEqual(float(lit.mean()), 10 + STEP * number + 7.5, delta=1.5)
            mark = whole_frame(index, number)
            red = mark[:, 2, 2].astype(float) - mark[:, 2, 1]
            self.assertAlmostEqual(float(np.average(np.arange(SIZE[1]), weights=red > 60)), 61.5, delta=1.1)

    def test_a_film_of_whole_frames_is_left_as_it_is(self):
        index = self.film([picture(10 + STEP * n) for n in range(FRAMES)], False)
        reader = FilmReader(index)
        self.addCleanup(reader.close)
        frame = reader.frame(4)
        self.assertFalse(frame.raw.interlaced_frame)
        self.assertIs(progressive(frame.raw), frame.raw)
