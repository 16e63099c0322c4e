"""A whole film at a glance: its small pictures, and its loudness where a ball clicks."""

import tempfile
import unittest
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ripasso.film import build_index
from ripasso.film.decoding.overview import HEIGHT_PX, PICTURES, OverviewCache, loudness, overview
from tests.films import HEIGHT, WIDTH, coded_picture, read_number, write_film

RATE = 48000
CLICKS_S = (0.5, 2.25, 3.1)


def write_with_sound(path: Path, codec: str, layout: str, seconds: float = 4.0) -> Path:
    """A film with three clicks, the last the loudest, on a quiet hum."""
    times = np.arange(int(seconds * RATE)) / RATE
    sound = 0.01 * np.sin(2 * np.pi * 100 * times)
    for at, strength in zip(CLICKS_S, (0.5, 0.6, 0.9), strict=True):
        since = times - at
        ring = np.exp(-np.maximum(since, 0) / 0.004) * np.sin(2 * np.pi * 3000 * since)
        sound += np.where(since >= 0, strength * ring, 0)
    samples = np.int16(sound * 32000)
    with av.open(str(path), "w") as target:
        video = target.add_stream("libx264", rate=Fraction(25))
        video.width, video.height, video.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        audio = target.add_stream(codec, rate=RATE, layout=layout)
        for number in range(int(seconds * 25)):
            picture = av.VideoFrame.from_ndarray(coded_picture(number), format="rgb24")
            target.mux(video.encode(picture))
        target.mux(video.encode())
        channels = 2 if layout == "stereo" else 1
        for start in range(0, len(samples), 1024):
            part = np.repeat(samples[start : start + 1024], channels)[None]
            frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(part), format="s16", layout=layout)
            frame.sample_rate, frame.pts, frame.time_base = RATE, start, Fraction(1, RATE)
            target.mux(audio.encode(frame))
        target.mux(audio.encode())
    return path


class AtAGlance(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_pictures_lie_along_the_film_and_are_of_their_times(self):
        index = build_index(write_film(self.folder / "a.mp4", 480, 12))
        found = overview(index)
        self.assertEqual(len(found.pictures), PICTURES)
        self.assertEqual(found.pictures[0].shape[0], HEIGHT_PX)
        self.assertEqual(list(found.times_s), sorted(found.times_s))
        for time_s, picture in zip(found.times_s, found.pictures, strict=True):
            self.assertEqual(read_number(picture), index.number_at(time_s))
        self.assertIsNone(found.loudness)

    def test_nobody_wants_it_any_more(self):
        index = build_index(write_film(self.folder / "a.mp4", 48, 12))
        self.assertEqual(overview(index, lambda: False).pictures, ())

    def test_a_film_is_looked_through_once_and_a_changed_one_again(self):
        cache = OverviewCache(most=1)
        path = write_film(self.folder / "a.mp4", 48, 12)
        self.assertEqual(cache.of(build_index(path), lambda: False).pictures, ())  # and is not remembered
        found = cache.of(build_index(path))
        self.assertIs(cache.of(build_index(path)), found)
        self.assertIsNot(cache.of(build_index(write_film(path, 96, 12))), found)
        other = cache.of(build_index(write_film(self.folder / "b.mp4", 48, 12)))
        self.assertIs(cache.of(build_index(self.folder / "b.mp4")), other)
        again = cache.of(build_index(path))
        self.assertEqual(read_number(again.pictures[-1]), 84)

    def test_clicks_are_heard_where_they_are(self):
        for name, codec, layout in (("a.mp4", "aac", "stereo"), ("a.mkv", "pcm_s16le", "mono")):
            with self.subTest(name):
                path = write_with_sound(self.folder / name, codec, layout)
                heard = loudness(path, 4.0, parts=400)
                self.assertAlmostEqual(float(heard.max()), 1.0)
                for at in CLICKS_S:
                    near = heard[round(at * 100) - 4 : round(at * 100) + 5].max()
                    self.assertGreater(near, 0.4, at)
                quiet = np.concatenate((heard[100:200], heard[350:390]))
                self.assertLess(float(quiet.max()), 0.1)
                self.assertLess(abs(int(np.argmax(heard)) - 310), 4)

    def test_silence_and_broken_sound(self):
        self.assertIsNone(loudness(write_film(self.folder / "a.mp4", 24, 12), 1.0))
        self.assertIsNone(loudness(self.folder / "gone.mp4", 1.0))
        self.assertIsNone(loudness(self.folder / "gone.mp4", 0.0))
