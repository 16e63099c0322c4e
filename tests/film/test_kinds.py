"""What cameras and telephones write: every container frame by frame, upright, in its shape, or refused."""

import os
import random
import tempfile
import unittest
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ripasso.film import FilmError, FilmReader, FilmWorker, build_index
from ripasso.film.decoding.overview import loudness
from ripasso.film.decoding.sound import clicks
from ripasso.film.decoding.still import whole_frame
from ripasso.film.reading.detection.picture import large, small
from tests.films import coded_picture, read_number
from tests.windows import wait_until

FRAMES, GROUP = 72, 24
X265 = {"x265-params": f"log-level=none:keyint={GROUP}"}
#: File, codec, container, form of the pixels, options. Camcorders: mts; broadcast: ts; discs: mpg and vob.
KINDS = (
    ("camcorder.mts", "libx264", "mpegts", "yuv420p", {}),
    ("broadcast.ts", "mpeg2video", "mpegts", "yuv420p", {"bf": "2"}),
    ("hevc.ts", "libx265", "mpegts", "yuv420p", X265),
    ("disc.mpg", "mpeg2video", "mpeg", "yuv420p", {"bf": "2"}),
    ("old.mpg", "mpeg1video", "mpeg", "yuv420p", {"bf": "2"}),
    ("disc.vob", "mpeg2video", "vob", "yuv420p", {"bf": "2"}),
    ("counted.avi", "libx264", "avi", "yuv420p", {}),
    ("plain.avi", "libx264", "avi", "yuv420p", {"bf": "0"}),
    ("packed.avi", "mpeg4", "avi", "yuv420p", {"bf": "2"}),
    ("pictures.avi", "mjpeg", "avi", "yuvj420p", {}),
    ("hevc.mkv", "libx265", "matroska", "yuv420p", X265),
    ("ten-bits.mkv", "libx265", "matroska", "yuv420p10le", X265),
    ("ten-bits.mp4", "libx264", "mp4", "yuv420p10le", {}),
    ("av1.mp4", "libsvtav1", "mp4", "yuv420p", {}),
    ("av1.mkv", "libsvtav1", "matroska", "yuv420p", {}),
    ("vp9.webm", "libvpx-vp9", "webm", "yuv420p", {}),
    ("open-groups.mp4", "libx264", "mp4", "yuv420p", {"x264-params": f"open-gop=1:keyint={GROUP}"}),
    ("studio.mov", "prores_ks", "mov", "yuv422p10le", {}),
)


def write(path, codec, container, form="yuv420p", options=None, *, size=(320, 180), turned=0, shape=1):
    """A film of coded pictures; turned by `turned` degrees counter-clockwise it stands upright."""
    policy, priority = os.sched_getscheduler(0), os.sched_getparam(0)
    with av.open(str(path), "w", format=container) as target:
        given = {"g": str(GROUP), **(options or {})}
        stream = target.add_stream(codec, rate=Fraction(25), options=given)
        stream.width, stream.height, stream.pix_fmt = *size, form
        if codec.startswith("mpeg"):
            stream.bit_rate = 3_000_000
        if shape != 1:
            stream.codec_context.sample_aspect_ratio = Fraction(shape)
        if turned:
            stream.set_display_rotation(turned)
        for number in range(FRAMES):
            upright = coded_picture(number)
            stored = np.ascontiguousarray(np.rot90(upright, -round(turned / 90)))
            frame = av.VideoFrame.from_ndarray(stored, format="rgb24")
            target.mux(stream.encode(frame.reformat(width=size[0], height=size[1], format=form)))
        target.mux(stream.encode())
    # One encoder raises whoever calls it above all other processes, where it may: they would stand still.
    os.sched_setscheduler(0, policy, priority)
    return path


class WithFilms(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def reader(self, path):
        reader = FilmReader(build_index(path))
        self.addCleanup(reader.close)
        return reader

    def refused(self, path):
        with self.assertRaises(FilmError) as caught:
            build_index(path)
        return str(caught.exception)


class EveryKind(WithFilms):
    def test_frames_in_any_order(self):
        for name, codec, container, form, options in KINDS:
            with self.subTest(name):
                reader = self.reader(write(self.folder / name, codec, container, form, options))
                self.assertEqual(len(reader.index), FRAMES)
                chance = random.Random(name)
                for number in (*(chance.randrange(FRAMES) for _ in range(12)), 0, FRAMES - 1, 1):
                    self.assertEqual(read_number(reader.frame(number).pixels("rgb24")), number)

    def test_one_after_the_other(self):
        for name, codec, container, form, options in KINDS[:7]:
            with self.subTest(name):
                reader = self.reader(write(self.folder / name, codec, container, form, options))
                found = [read_number(f.pixels("rgb24")) for _, f in reader.frames(0, FRAMES - 1)]
                self.assertEqual(found, list(range(FRAMES)))

    def test_a_recording_that_begins_in_the_middle_of_a_group(self):
        """A receiver is switched on at any time: what leans on a picture that never came is not counted."""
        whole = write(self.folder / "whole.ts", "mpeg2video", "mpegts", options={"bf": "2"})
        cut = self.folder / "cut.ts"
        data = whole.read_bytes()
        cut.write_bytes(data[188 * 40 :])
        reader = self.reader(cut)
        first = read_number(reader.frame(0).pixels("rgb24"))
        self.assertGreaterEqual(first, GROUP)
        for number in (0, 3, len(reader.index) - 1, 1):
            self.assertEqual(read_number(reader.frame(number).pixels("rgb24")), first + number)

    def test_time_that_begins_anew_is_refused(self):
        late = self.folder / "late.ts"
        with av.open(str(late), "w", format="mpegts") as target:
            stream = target.add_stream("mpeg2video", rate=Fraction(25))
            stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p"
            stream.codec_context.time_base = Fraction(1, 25)
            for number in range(20):
                frame = av.VideoFrame.from_ndarray(coded_picture(number), format="rgb24")
                frame.pts = 1000 + number
                target.mux(stream.encode(frame))
            target.mux(stream.encode())
        both = self.folder / "both.ts"
        again = write(self.folder / "again.ts", "mpeg2video", "mpegts").read_bytes()
        both.write_bytes(late.read_bytes() + again)
        self.assertIn("begins anew", self.refused(both))

    def test_a_film_cut_while_it_is_open(self):
        path = write(self.folder / "a.ts", "mpeg2video", "mpegts", options={"bf": "2"})
        reader = self.reader(path)
        data = path.read_bytes()
        path.write_bytes(data[: len(data) // 2])
        with self.assertRaises(FilmError) as caught:
            reader.frame(FRAMES - 1)
        self.assertIn("a.ts", str(caught.exception))
        self.assertEqual(read_number(reader.frame(5).pixels("rgb24")), 5)


class Upright(WithFilms):
    def test_a_telephone_held_in_any_way(self):
        for turned in (90, 180, -90):
            with self.subTest(turned):
                size = (320, 180) if turned == 180 else (180, 320)
                path = write(self.folder / f"{turned}.mp4", "libx264", "mp4", size=size, turned=turned)
                reader = self.reader(path)
                index = reader.index
                self.assertEqual((index.width, index.height), (320, 180))
                frame = reader.frame(37)
                self.assertEqual(read_number(frame.pixels("rgb24")), 37)
                self.assertEqual(large(frame).shape, (180, 320, 3))
                self.assertEqual(small(frame).shape, (90, 160, 3))
                light = np.repeat(np.repeat(small(frame)[..., :1], 2, axis=0), 2, axis=1)
                self.assertEqual(read_number(light.repeat(3, axis=2)), 37)
                self.assertEqual(read_number(whole_frame(index, 37)), 37)
                self.assertEqual(self.shown(index, 37), (37, (90, 160, 4)))

    def shown(self, index, number):
        """The number in the picture that the window gets, and its shape."""
        brought = []
        worker = FilmWorker(index, brought.append, brought.append)
        self.addCleanup(worker.close)
        worker.resize(160, 90)
        at_once = worker.want(number)
        wait_until(lambda: at_once or brought, "the picture")
        pixels = (at_once or brought[0]).pixels
        return read_number(pixels), pixels.shape

    def test_odd_sizes_and_pixels_that_are_not_square(self):
        odd = self.reader(write(self.folder / "odd.mkv", "ffv1", "matroska", "yuv444p", size=(321, 181)))
        self.assertEqual((odd.index.width, odd.index.height), (321, 181))
        self.assertEqual(read_number(odd.frame(9).pixels("rgb24")), 9)
        wide = Fraction(4, 3)
        path = write(self.folder / "wide.mp4", "libx264", "mp4", size=(240, 180), shape=wide)
        reader = self.reader(path)
        self.assertEqual((reader.index.width, reader.index.height), (320, 180))
        self.assertEqual(reader.frame(9).pixels("rgb24").shape, (180, 320, 3))
        self.assertEqual(read_number(reader.frame(9).pixels("rgb24")), 9)
        self.assertEqual(small(reader.frame(9)).shape, (90, 160, 3))


class OnlyFilmsOfThisMachine(WithFilms):
    def test_a_list_of_films_is_no_film(self):
        inner = write(self.folder / "inner.ts", "mpeg2video", "mpegts")
        for text in (
            f"#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n{inner.name}\n#EXT-X-ENDLIST\n",
            f"ffconcat version 1.0\nfile {inner.name}\n",
        ):
            path = self.folder / "list.mp4"
            path.write_text(text)
            self.assertIn("list.mp4", self.refused(path))

    def test_a_path_is_what_the_file_system_says(self):
        """A folder may be called http:, and a film pipe:0."""
        folder = self.folder / "http:" / "127.0.0.1"
        folder.mkdir(parents=True)
        for name in ("x.mp4", "pipe:0.mp4", "a?b=%20.mp4"):
            path = write(folder / name, "libx264", "mp4")
            self.assertEqual(read_number(self.reader(path).frame(3).pixels("rgb24")), 3)

    def test_only_one_module_opens_films(self):
        root = Path(__file__).resolve().parents[2] / "src" / "ripasso"
        opening = [path.name for path in root.rglob("*.py") if "av.open(" in path.read_text(encoding="utf-8")]
        # The demo's camera writes films, and joins what it wrote.
        self.assertEqual(sorted(opening), ["film.py", "opening.py", "splice.py"])


class Sounds(WithFilms):
    def test_a_click_where_it_is_seen_though_the_container_counts_from_elsewhere(self):
        """A broadcast counts its time from when the sender was switched on."""
        path = self.folder / "a.ts"
        rate, at_s, late = 48000, 1.5, 90
        with av.open(str(path), "w", format="mpegts") as target:
            picture = target.add_stream("mpeg2video", rate=Fraction(25))
            picture.width, picture.height, picture.pix_fmt = 320, 180, "yuv420p"
            picture.codec_context.time_base = Fraction(1, 25)
            sound = target.add_stream("mp2", rate=rate)
            sound.codec_context.layout = "mono"
            samples = np.zeros(3 * rate, dtype=np.int16)
            samples[round(at_s * rate) : round(at_s * rate) + 200] = 20000
            for number in range(75):
                frame = av.VideoFrame.from_ndarray(coded_picture(number), format="rgb24")
                frame.pts = 25 * late + number
                target.mux(picture.encode(frame))
                piece = samples[number * rate // 25 : (number + 1) * rate // 25]
                heard = av.AudioFrame.from_ndarray(piece.reshape(1, -1), format="s16", layout="mono")
                heard.sample_rate, heard.time_base = rate, Fraction(1, rate)
                heard.pts = rate * late + number * rate // 25
                target.mux(sound.encode(heard))
            target.mux(picture.encode())
            target.mux(sound.encode())
        found = clicks(path, 0.5, 2.5)
        self.assertTrue(found)
        self.assertAlmostEqual(found[0].time_s, at_s, delta=0.05)
        loud = loudness(path, build_index(path).duration_s, 300)
        self.assertAlmostEqual(float(np.argmax(loud)) / 300 * 3, at_s, delta=0.1)


if __name__ == "__main__":
    unittest.main()
