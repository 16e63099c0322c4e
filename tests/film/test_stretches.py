"""What of a film is not the match as it ran: replays at speed and slowed, stops."""

import tempfile
import unittest
from pathlib import Path

import numpy as np

from ripasso.core.table import table_spec
from ripasso.demo.filming.splice import splice
from ripasso.demo.library import film_path, film_truth
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.reading.detection.stretches import StandingPictures, shown_before, without_risen
from ripasso.film.reading.motion.shots import ReadShot
from ripasso.film.reading.reader import FilmReading
from tests.films import read_number, write_film

#: The second shot of the demo film at speed, then the film, then that shot at half its speed, then the film.
PARTS = ((0, 22, 1), (12, 22, 1), (22, 30, 1), (12, 22, 2), (30, 42, 1))
TIME_S = 0.3


def shot(strike_s, before, after, rest_s=3.0, **values):
    return ReadShot(1, strike_s, strike_s + rest_s, before, after, 0, **values)


class ShownAgain(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        cls.film = Path(cls.folder.name) / "broadcast.mp4"
        splice(film_path(), cls.film, PARTS)
        camera = Camera.from_data(film_truth()["camera"])
        reading = FilmReading(build_index(cls.film), "nine_ball", table_spec({"preset": "pool_9ft"}), camera)
        try:
            reading.run()
            cls.shots, cls.stretches = reading.shots(), reading.stretches()
        finally:
            reading.close()

    def test_replays_are_stretches_and_no_shots(self):
        second = film_truth()["shots"][1]
        kinds = [(stretch.kind, stretch.shows_s is not None) for stretch in self.stretches]
        self.assertEqual(kinds, [("replay", True), ("slow", True)])
        for stretch in self.stretches:
            self.assertAlmostEqual(stretch.shows_s, second["t_strike"], delta=TIME_S)
        # At 22 s the part from 12 s on begins; at 40 s the same again, each second lasting two.
        self.assertAlmostEqual(self.stretches[0].start_s + 0.5, 22 + second["t_strike"] - 12, delta=TIME_S)
        self.assertAlmostEqual(
            self.stretches[1].start_s + 0.5, 40 + 2 * (second["t_strike"] - 12), delta=TIME_S
        )

    def test_the_shots_are_those_that_were_played(self):
        true = film_truth()["shots"][:4]
        later = (0, 0, 10, 30)
        struck = [shot["t_strike"] + more for shot, more in zip(true, later, strict=True)]
        self.assertEqual(len(self.shots), 4)
        for read, at in zip(self.shots, struck, strict=True):
            self.assertAlmostEqual(read.values["t_strike"], at, delta=TIME_S)
        # The 2 was seen again in the slow replay after it had fallen; it does not fall a second time.
        self.assertEqual(self.shots[3].values["facts"]["potted"], [])
        self.assertNotIn("2", self.shots[3].values["before"])


class Alike(unittest.TestCase):
    BEFORE, AFTER = {0: (0.5, 0.5), 1: (1.0, 0.5), 2: (2.0, 0.3)}, {0: (0.9, 0.5), 2: (2.0, 0.3)}

    def test_the_same_balls_to_the_same_end(self):
        first = shot(10, self.BEFORE, self.AFTER)
        again = shot(20, {7: (0.5, 0.505), 8: (1.0, 0.5), 9: (2.0, 0.3)}, {7: (0.9, 0.5), 9: (2.0, 0.3)})
        self.assertEqual(shown_before(again, [first]).kind, "replay")
        slow = shot(20, again.before, again.after, rest_s=6.0)
        self.assertEqual(shown_before(slow, [first]).kind, "slow")

    def test_set_up_again_by_hand_it_ends_elsewhere(self):
        first = shot(10, self.BEFORE, self.AFTER)
        attempt = shot(20, self.BEFORE, {0: (0.8, 0.45), 2: (2.0, 0.3)})
        self.assertIsNone(shown_before(attempt, [first]))
        self.assertIsNone(shown_before(first, []))

    def test_a_ball_that_rose_does_not_fall_again(self):
        places = dict(self.BEFORE)
        second = shot(
            20,
            places,
            {},
            potted=[(1, "foot_left", 21.0)],
            first_contact=1,
            sure={"first_contact": 0.9, "t_strike": 0.9},
        )
        without_risen(second, {1})
        self.assertEqual((second.potted, second.first_contact), ([], None))
        self.assertNotIn(1, second.before)


class Stops(unittest.TestCase):
    def run_film(self, stands):
        """Ten seconds of noise at 25 a second; pictures stand where `stands` says."""
        random, watched = np.random.default_rng(3), StandingPictures()
        picture = None
        for number in range(250):
            if picture is None or not stands(number / 25):
                picture = random.integers(0, 255, (90, 160, 3)).astype(np.uint8)
            watched.add(number / 25, picture)
        return watched.stretches()

    def test_a_stop_is_found(self):
        (stop,) = self.run_film(lambda s: 4.0 < s < 5.4)
        self.assertEqual(stop.kind, "paused")
        self.assertAlmostEqual(stop.start_s, 4.0, delta=0.05)
        self.assertAlmostEqual(stop.end_s, 5.4, delta=0.05)

    def test_a_film_that_always_stands_says_nothing(self):
        self.assertEqual(self.run_film(lambda s: s % 4 > 1), [])
        self.assertEqual(self.run_film(lambda s: False), [])


class Spliced(unittest.TestCase):
    def test_parts_stand_one_after_the_other_frame_by_frame(self):
        with tempfile.TemporaryDirectory() as folder:
            source, target = write_film(Path(folder) / "a.mp4", 100, 25), Path(folder) / "b.mp4"
            splice(source, target, [(1, 2, 1), (0, 1, 2), (3, 4, 1)])
            index, reader = build_index(target), None
            reader = FilmReader(index)
            numbers = [read_number(frame.pixels("rgb24")) for _, frame in reader.frames(0, len(index) - 1)]
            reader.close()
        self.assertEqual(numbers, [*range(25, 50), *range(25), *range(75, 100)])
        self.assertAlmostEqual(index.time_s(25), 1.0, places=3)
        self.assertAlmostEqual(index.time_s(26) - index.time_s(25), 0.08, places=3)
        self.assertAlmostEqual(index.time_s(50), 3.0, places=3)
