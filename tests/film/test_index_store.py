"""Indexes of long films are kept: opened at once when known, made anew when the film or the file changed."""

import shutil
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

import numpy as np

from ripasso.demo.library import film_path
from ripasso.film import FilmError, FilmReader, build_index, known_index
from ripasso.film.decoding import index_store
from tests.films import read_number, write_film


class KnownFilms(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.film, self.kept = self.folder / "film.mp4", self.folder / "kept"
        write_film(self.film, 120, 25)

    def known(self):
        return known_index(self.film, self.kept, least=50)

    def test_a_kept_index_is_the_one_that_was_built(self):
        built = self.known()
        self.assertEqual(len(list(self.kept.glob("*.npz"))), 1)
        with patch.object(index_store, "build_index", side_effect=AssertionError("built again")):
            kept = self.known()
        for name in ("width", "height", "time_base", "stated_s", "turns", "is_counted"):
            self.assertEqual(getattr(kept, name), getattr(built, name), name)
        for name in ("pts", "key_frames", "seeks"):
            np.testing.assert_array_equal(getattr(kept, name), getattr(built, name))
        reader = FilmReader(kept)
        self.addCleanup(reader.close)
        for number in (0, 24, 25, 99, 7):
            self.assertEqual(read_number(reader.frame(number).pixels("rgb24")), number)

    def test_another_film_at_its_place_is_indexed_anew(self):
        self.known()
        shutil.copy(film_path(), self.film)
        self.assertEqual(len(self.known()), len(build_index(film_path())))

    def test_a_broken_file_and_a_folder_that_cannot_be_written_are_no_harm(self):
        built = self.known()
        (file,) = self.kept.glob("*.npz")
        for content in (b"", b"nothing", file.read_bytes()[:200]):
            file.write_bytes(content)
            self.assertEqual(len(self.known()), len(built))
        with file.open("wb") as target:
            np.savez(
                target, pts=np.array([3, 2, 1]), key_frames=[0], seeks=[0], numbers=[1] * 6, stated_s=1.0
            )
        self.assertEqual(len(self.known()), len(built))
        self.kept = self.folder / "film.mp4" / "below a file"
        self.assertEqual(len(self.known()), len(built))

    def test_short_films_are_not_kept_and_old_indexes_go(self):
        known_index(self.film, self.kept)
        self.assertFalse(self.kept.exists())
        with patch.object(index_store, "KEPT", 2):
            for number in range(4):
                other = self.folder / f"{number}.mp4"
                shutil.copy(self.film, other)
                known_index(other, self.kept, least=50)
        self.assertEqual(len(list(self.kept.iterdir())), 2)

    def test_a_missing_film_is_said_as_ever(self):
        with self.assertRaisesRegex(FilmError, "is not there"):
            known_index(self.folder / "no.mp4", self.kept)
