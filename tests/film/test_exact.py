"""The frame shown is the frame asked for: its number is coded in the picture."""

import random
import shutil
import tempfile
import threading
import time
import unittest
from pathlib import Path

from ripasso.film import FilmError, FilmReader, FilmWorker, build_index, fingerprint
from ripasso.film.decoding.cache import Picture, PictureCache
from tests.films import read_number, write_film

FRAMES = 520
SEEKS = STEPS = 200
RATE = 25
PATIENCE_S = 20


class Films(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(tempfile.mkdtemp())
        cls.addClassCleanup(shutil.rmtree, cls.folder, ignore_errors=True)
        cls.films = {
            group: write_film(cls.folder / f"group{group}.mp4", FRAMES, group) for group in (12, 250)
        }
        cls.indices = {group: build_index(path) for group, path in cls.films.items()}


class Index(Films):
    def test_every_frame_has_its_number_and_time(self):
        for group, index in self.indices.items():
            self.assertEqual(len(index), FRAMES)
            self.assertAlmostEqual(index.frame_rate, RATE, places=6)
            self.assertAlmostEqual(index.duration_s, FRAMES / RATE, places=6)
            self.assertEqual(index.key_frames.tolist(), list(range(0, FRAMES, group)))
            for number in (0, 1, 77, FRAMES - 1):
                self.assertAlmostEqual(index.time_s(number), number / RATE, places=6)
                self.assertEqual(index.number_at(index.time_s(number)), number)
                self.assertEqual(index.number_at(round(index.time_s(number), 3)), number)
                self.assertEqual(index.number_at(number / RATE + 0.5 / RATE), number)

    def test_times_outside_the_film_are_its_ends(self):
        index = self.indices[12]
        self.assertEqual((index.number_at(-5), index.number_at(1e6)), (0, FRAMES - 1))

    def test_the_films_have_b_frames(self):
        import av

        with av.open(str(self.films[12])) as container:
            packets = [p.pts for p in container.demux(video=0) if p.pts is not None]
        self.assertNotEqual(packets, sorted(packets))


class Reader(Films):
    def test_any_frame_in_any_order(self):
        chance = random.Random(3)
        for group, index in self.indices.items():
            reader = FilmReader(index)
            self.addCleanup(reader.close)
            for _ in range(40):
                number = chance.randrange(FRAMES)
                found = read_number(reader.frame(number).pixels("rgb24"))
                self.assertEqual(found, number, f"group {group}")

    def test_a_search_lands_at_the_key_frame_itself(self):
        index = self.indices[12]
        for number in (12, 36, 47):
            reader = FilmReader(index)
            self.addCleanup(reader.close)
            decoded = [at for at, _ in reader.frames(number, number)]
            self.assertEqual(decoded, list(range(index.key_frame_before(number), number + 1)))

    def test_a_frame_the_film_has_not(self):
        reader = FilmReader(self.indices[12])
        self.addCleanup(reader.close)
        self.assertRaises(FilmError, reader.frame, FRAMES)


class Worker(Films):
    def watch(self, group, budget=64 * 1024 * 1024):
        """A worker, and a function that gives the picture of a frame once it is there."""
        arrived: list[Picture] = []
        bell = threading.Condition()

        def take(picture):
            with bell:
                arrived.append(picture)
                bell.notify()

        problems: list[str] = []
        worker = FilmWorker(self.indices[group], take, problems.append, budget)
        self.addCleanup(worker.close)
        worker.resize(160, 90)

        def show(number):
            with bell:
                arrived.clear()
            picture = worker.want(number)
            if picture is None:
                with bell:
                    self.assertTrue(bell.wait_for(lambda: arrived, PATIENCE_S), problems)
                    picture = arrived[-1]
            return picture

        return worker, show

    def check(self, picture, number):
        self.assertEqual((picture.number, read_number(picture.pixels)), (number, number))
        self.assertAlmostEqual(picture.time_s, number / RATE, places=6)

    def test_two_hundred_seeks(self):
        for group in self.films:
            with self.subTest(group=group):
                chance = random.Random(group)
                _, show = self.watch(group)
                for _ in range(SEEKS):
                    number = chance.randrange(FRAMES)
                    self.check(show(number), number)

    def test_two_hundred_steps_forward_and_back(self):
        for group in self.films:
            with self.subTest(group=group):
                _, show = self.watch(group)
                for number in [*range(150, 150 + STEPS), *range(150 + STEPS, 150, -1)]:
                    self.check(show(number), number)

    def test_the_last_wish_wins(self):
        worker, show = self.watch(250)
        for number in (10, 400, 20, 510):
            worker.want(number)
        self.check(show(249), 249)

    def test_frames_around_are_read_ahead(self):
        worker, show = self.watch(12)
        show(100)
        deadline = time.monotonic() + PATIENCE_S
        while time.monotonic() < deadline and not all(worker.picture(n) for n in range(90, 120)):
            time.sleep(0.01)
        for number in range(90, 120):
            self.check(worker.picture(number), number)

    def test_a_small_budget_still_shows_every_frame(self):
        _, show = self.watch(12, budget=5 * 160 * 90 * 4)
        for number in (0, 300, 299, 298, 301, 519):
            self.check(show(number), number)

    def test_another_size_is_decoded_anew(self):
        worker, show = self.watch(12)
        self.assertEqual(show(5).pixels.shape, (90, 160, 4))
        worker.resize(320, 180)
        self.assertIsNone(worker.picture(5))
        self.assertEqual(show(5).pixels.shape, (180, 320, 4))


class Cache(unittest.TestCase):
    def test_the_farthest_goes_first(self):
        import numpy as np

        cache = PictureCache(budget_bytes=3 * 400)
        for number in (10, 11, 12, 13, 2):
            cache.put(Picture(number, 0.0, np.zeros((10, 10, 4), np.uint8)), centre=12)
        self.assertEqual([n for n in range(20) if n in cache], [11, 12, 13])


class WrongFilms(Films):
    def sentence(self, path):
        with self.assertRaises(FilmError) as caught:
            build_index(path)
        text = str(caught.exception)
        self.assertTrue(text.endswith(".") and "\n" not in text, text)
        return text

    def test_each_gets_a_sentence(self):
        folder = self.folder
        (folder / "empty.mp4").write_bytes(b"")
        (folder / "text.mp4").write_text("This is a letter, renamed.")
        whole = self.films[12].read_bytes()
        (folder / "cut.mp4").write_bytes(whole[: len(whole) // 2])
        self.assertIn("is not there", self.sentence(folder / "nowhere.mp4"))
        self.assertIn("empty", self.sentence(folder / "empty.mp4"))
        self.assertIn("no film", self.sentence(folder / "text.mp4"))
        self.assertIn("cut off", self.sentence(folder / "cut.mp4"))
        self.assertIn("folder", self.sentence(folder))

    def test_a_film_that_breaks_off_is_shown_up_to_there(self):
        data = bytearray(self.films[12].read_bytes())
        middle = len(data) // 2
        data[middle : middle + len(data) // 4] = bytes(len(data) // 4)
        broken = self.folder / "broken.mp4"
        broken.write_bytes(bytes(data))
        # Its table of frames is whole, so it is taken; what cannot be decoded gets a sentence.
        index = build_index(broken)
        told = threading.Event()
        worker = FilmWorker(index, lambda _picture: told.set(), lambda _sentence: told.set())
        self.addCleanup(worker.close)
        for number in (0, 260, 400):
            told.clear()
            self.assertTrue(worker.want(number) is not None or told.wait(PATIENCE_S))

    def test_a_film_taken_away_meanwhile(self):
        path = self.folder / "gone.mp4"
        shutil.copy(self.films[12], path)
        index = build_index(path)
        path.unlink()
        problems = []
        heard = threading.Event()
        worker = FilmWorker(index, lambda _p: None, lambda s: (problems.append(s), heard.set()))
        self.addCleanup(worker.close)
        self.assertTrue(heard.wait(PATIENCE_S))
        self.assertIn("cannot be opened", problems[0])


class Fingerprint(Films):
    def test_same_for_a_copy_other_for_another(self):
        copy = self.folder / "copy.mp4"
        shutil.copy(self.films[12], copy)
        self.assertEqual(fingerprint(copy, 20.8), fingerprint(self.films[12], 20.8))
        self.assertNotEqual(fingerprint(self.films[250], 20.8), fingerprint(self.films[12], 20.8))


if __name__ == "__main__":
    unittest.main()
