"""One frame at its full size, and what a film that cannot be read says."""

import tempfile
import unittest
from pathlib import Path

from ripasso.film import build_index
from ripasso.film.decoding.still import whole_frame
from ripasso.film.errors import FilmError
from tests.films import HEIGHT, WIDTH, read_number, write_film


class Still(unittest.TestCase):
    def test_the_frame_asked_for_at_its_full_size(self):
        with tempfile.TemporaryDirectory() as folder:
            index = build_index(write_film(Path(folder) / "a.mp4", 60, 12))
            for number in (0, 13, 59):
                picture = whole_frame(index, number)
                self.assertEqual(picture.shape, (HEIGHT, WIDTH, 4))
                self.assertEqual(read_number(picture), number)
            with self.assertRaises(FilmError):
                whole_frame(index, 60)
            index.path.unlink()
            with self.assertRaises(FilmError):
                whole_frame(index, 0)
