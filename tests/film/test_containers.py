"""Other containers, variable frame rates, and files without an index: every frame is the one asked for."""

import random
import tempfile
import unittest
from fractions import Fraction
from pathlib import Path

import av

from ripasso.film import FilmReader, build_index
from tests.films import HEIGHT, WIDTH, coded_picture, read_number

FRAMES, GROUP = 96, 24


def write(
    path: Path, codec: str, *, container: dict[str, str] | None = None, uneven: bool = False
) -> list[float]:
    """A film of coded pictures; returns the time of every frame, in seconds."""
    chance, at_ms, times = random.Random(3), 0, []
    with av.open(str(path), "w", options=container or {}) as target:
        stream = target.add_stream(codec, rate=Fraction(25), options={"g": str(GROUP)})
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        if uneven:
            stream.codec_context.time_base = Fraction(1, 1000)
        for number in range(FRAMES):
            frame = av.VideoFrame.from_ndarray(coded_picture(number), format="rgb24")
            if uneven:
                frame.pts, frame.time_base = at_ms, Fraction(1, 1000)
            times.append(at_ms / 1000)
            at_ms += chance.choice((20, 33, 40, 66, 120)) if uneven else 40
            target.mux(stream.encode(frame))
        target.mux(stream.encode())
    return times


class Containers(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def check(self, path, numbers):
        index = build_index(path)
        reader = FilmReader(index)
        self.addCleanup(reader.close)
        for number in numbers:
            picture = reader.frame(number).pixels("rgb24")
            self.assertEqual(read_number(picture), number, path.name)
        return index

    def test_mkv_mov_webm_and_avi(self):
        chance = random.Random(5)
        for name, codec in (
            ("a.mkv", "libx264"),
            ("a.mov", "libx264"),
            ("a.webm", "libvpx-vp9"),
            ("a.avi", "mpeg4"),
        ):
            with self.subTest(name):
                times = write(self.folder / name, codec)
                index = self.check(self.folder / name, [chance.randrange(FRAMES) for _ in range(15)])
                self.assertEqual(len(index), FRAMES)
                self.assertAlmostEqual(index.time_s(50) - index.time_s(0), times[50], places=3)

    def test_a_variable_frame_rate_keeps_the_time_of_every_frame(self):
        for name in ("uneven.mp4", "uneven.mkv"):
            times = write(self.folder / name, "libx264", uneven=True)
            index = self.check(self.folder / name, (0, 7, 63, FRAMES - 1))
            for number, time_s in enumerate(times):
                self.assertAlmostEqual(index.time_s(number) - index.time_s(0), time_s, places=3)
                self.assertEqual(index.number_at(index.time_s(number)), number)

    def test_files_without_an_index(self):
        streamed = {"live.mkv": {"live": "1"}, "parts.mp4": {"movflags": "frag_keyframe+empty_moov"}}
        for name, container in streamed.items():
            write(self.folder / name, "libx264", container=container)
            self.assertEqual(len(self.check(self.folder / name, (3, 77))), FRAMES)

    def test_a_film_that_ends_early_is_kept_up_to_its_end(self):
        for name, codec in (("a.avi", "mpeg4"), ("a.mkv", "libx264")):
            write(self.folder / name, codec)
            data = (self.folder / name).read_bytes()
            cut = self.folder / f"cut-{name}"
            cut.write_bytes(data[: int(0.7 * len(data))])
            index = self.check(cut, (0, 20, 40))
            self.assertGreater(len(index), 0.5 * FRAMES)
