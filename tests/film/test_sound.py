"""The sound of a film: taken from a time on exactly, its clicks heard, a strike moved to its click."""

import tempfile
import unittest
from pathlib import Path

import numpy as np

from ripasso.demo.filming.sounds import RATE_HZ as MADE_HZ
from ripasso.demo.filming.sounds import Sound, sounds_of, track
from ripasso.demo.library import film_path, film_truth
from ripasso.film.decoding.sound import (
    BYTES_A_SECOND,
    CHANNELS,
    RATE_HZ,
    Click,
    SoundFeed,
    blocks,
    clicks,
    clicks_in,
    has_sound,
)
from ripasso.film.reading.hearing import HEARD, hear, window
from ripasso.film.reading.motion.shots import ReadShot
from tests.film.test_overview import CLICKS_S, write_with_sound
from tests.films import write_film


def shot(strike_s, sure):
    return ReadShot(1, strike_s, strike_s + 3, {}, {}, None, sure={"t_strike": sure})


class Sounds(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_a_click_begins_where_it_begins(self):
        for name, codec, layout in (("a.mp4", "aac", "stereo"), ("a.mkv", "pcm_s16le", "mono")):
            with self.subTest(name):
                path = write_with_sound(self.folder / name, codec, layout)
                heard = clicks(path, 0.2, 4.0)
                self.assertEqual(len(heard), len(CLICKS_S))
                for click, true in zip(heard, CLICKS_S, strict=True):
                    self.assertAlmostEqual(click.time_s, true, delta=0.004)

    def test_sound_from_a_time_on_is_that_of_the_time(self):
        path = write_with_sound(self.folder / "a.mov", "pcm_s16le", "stereo")
        whole = np.concatenate([samples for _, samples in blocks(path)])
        first_s, samples = next(blocks(path, 1.7))
        self.assertAlmostEqual(first_s, 1.7, delta=1 / RATE_HZ)
        at = round(first_s * RATE_HZ)
        np.testing.assert_array_equal(samples, whole[at : at + len(samples)])

    def test_a_film_without_sound_and_a_broken_one_are_silent(self):
        silent = write_film(self.folder / "b.mp4", 24, 12)
        broken = self.folder / "c.mp4"
        broken.write_bytes(b"no film")
        for path in (silent, broken, self.folder / "none.mp4"):
            self.assertFalse(has_sound(path))
            self.assertEqual(list(blocks(path)), [])
            self.assertEqual(clicks(path, 0, 1), ())

    def test_a_hum_and_a_voice_are_no_clicks(self):
        times = np.arange(2 * RATE_HZ) / RATE_HZ
        swelling = 0.4 * np.sin(2 * np.pi * 300 * times) * np.clip(times, 0, 1)
        self.assertEqual(list(clicks_in(swelling, RATE_HZ, 0.0)), [])
        self.assertEqual(list(clicks_in(np.zeros(10), RATE_HZ, 0.0)), [])

    def test_the_feed_gives_all_bytes_and_ends(self):
        path = write_with_sound(self.folder / "a.mkv", "pcm_s16le", "stereo")
        feed = SoundFeed(path, 3.0)
        taken = b""
        while not feed.ended:
            taken += feed.take(10_000)
        taken += feed.take(10**7)
        feed.close()
        self.assertAlmostEqual(len(taken) / BYTES_A_SECOND, 1.0, delta=0.03)
        self.assertEqual(len(taken) % (2 * CHANNELS), 0)

    def test_the_demo_film_is_heard_where_its_truth_says(self):
        for true in film_truth()["shots"]:
            heard = clicks(film_path(), true["t_strike"] - 1, true["t_strike"] + 0.05)
            self.assertAlmostEqual(heard[0].time_s, true["t_strike"], delta=0.002)


class Strikes(unittest.TestCase):
    def test_a_sharp_strike_takes_the_nearest_click(self):
        seen = shot(5.03, 0.97)
        self.assertTrue(hear(seen, [Click(4.5, 1.0), Click(5.012, 0.2), Click(5.3, 1.0)]))
        self.assertEqual(seen.t_strike, 5.012)

    def test_a_hidden_strike_takes_the_first_loud_click(self):
        seen = shot(5.0, 0.5)
        early, late = window(seen)
        self.assertTrue(early < 4.4 < 5.2 < late)
        hear(seen, [Click(4.2, 0.1), Click(4.6, 0.5), Click(4.9, 0.8)])
        self.assertEqual((seen.t_strike, seen.sure["t_strike"]), (4.6, HEARD))

    def test_silence_changes_nothing(self):
        seen = shot(5.0, 0.97)
        self.assertFalse(hear(seen, [Click(6.0, 1.0)]))
        self.assertEqual((seen.t_strike, seen.sure["t_strike"]), (5.0, 0.97))


class Made(unittest.TestCase):
    def test_what_is_heard_in_a_shot(self):
        still = {"cue": (0.5, 0.5), "1": (1.0, 0.5), "2": (2.0, 0.5)}
        met = {**still, "1": (1.1, 0.5)}
        fallen = {"cue": (0.9, 0.5), "2": (2.0, 0.5)}
        heard = sounds_of([{"t_strike": 0.2, "t_rest": 0.5}], [still] * 3 + [met] + [fallen] * 3, 10)
        self.assertEqual([sound.voice for sound in heard], ["tip", "balls", "pocket"])
        self.assertAlmostEqual(heard[1].time_s, 0.25)
        samples = track(heard, 0.7)
        self.assertEqual(len(samples), round(0.7 * MADE_HZ))
        self.assertGreater(np.abs(samples[round(0.2 * MADE_HZ) :]).max(), 20 * np.abs(samples[:9000]).max())

    def test_nothing_is_heard_in_an_empty_room_but_the_room(self):
        self.assertLess(np.abs(track([], 0.2)).max(), 1000)
        self.assertEqual(len(track([Sound(5.0, "tip")], 0.1)), round(0.1 * MADE_HZ))
