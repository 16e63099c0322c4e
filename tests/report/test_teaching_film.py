"""Teaching films, read back from the file: what they show when, sound in step, captions, odd films."""

import io
import resource
import signal
import tempfile
import unittest
from fractions import Fraction
from pathlib import Path
from unittest.mock import patch

import av
import cv2
import numpy as np
import webvtt

from ripasso.core.finding import NotAQuery
from ripasso.film import build_index
from ripasso.film.decoding.sound import RATE_HZ, clicks, sound_length_s
from ripasso.film.encoding.copying import copy_parts
from ripasso.film.encoding.film_writer import Cancelled, FilmWriter, Progress
from ripasso.film.errors import FilmError
from ripasso.report.blocks import Beside, Heading, Paragraph
from ripasso.report.teaching.clips import joined_stretches, write_clips
from ripasso.report.teaching.film import still_of, teaching_film, write_teaching_film
from ripasso.report.teaching.timeline import length_s, starts_of
from ripasso.report.writing import write_report
from ripasso.review.document.edits import set_values
from tests.films import HEIGHT, WIDTH, read_number, write_film
from tests.report.libraries import CAMERA, RATE, library_with, material_of, report_of
from tests.report.test_pages import WithLibrary


def place(shot, **more):
    return {"session": "test", "rack": 1, "shot": shot, **more}


def pictures(path):
    """Every picture of a film (blue, green, red)."""
    with av.open(str(path)) as container:
        return [frame.to_ndarray(format="bgr24") for frame in container.decode(video=0)]


def number_in(picture, left=0):
    return read_number(picture[:HEIGHT, left : left + WIDTH])


class Films(WithLibrary):
    def film(self, **page):
        report = report_of({"kind": "film", **page})
        return teaching_film(material_of(self.library, report), report.pages[0], "For Ada")

    def written(self, name="made.mp4", **page):
        film, path = self.film(**page), self.folder / name
        write_teaching_film(film, path)
        return film, pictures(path), path

    def test_five_scenes_are_as_long_as_they_say_and_stop_at_the_frames_they_name(self):
        film, shown, path = self.written(shots=[place(number) for number in range(2, 7)], diagram="beside")
        self.assertEqual(len(shown), sum(film.counts))
        self.assertAlmostEqual(len(shown) / RATE, length_s(film.segments), delta=1 / RATE)
        self.assertAlmostEqual(sound_length_s(path), len(shown) / RATE, delta=0.03)
        ends = np.cumsum(film.counts)
        stops = 0
        for segment, end, count in zip(film.segments, ends, film.counts, strict=True):
            if segment.kind not in ("meant", "came"):
                continue
            stops += 1
            # Half of the colour's places are no loss of the film but of its form: the preview loses them too.
            drawn = av.VideoFrame.from_ndarray(still_of(film, segment), format="bgr24")
            preview = drawn.reformat(format="yuv420p").to_ndarray(format="bgr24")
            for at in (end - count, end - 1):
                off = np.abs(shown[at].astype(int) - preview.astype(int))
                self.assertLess(float(off.mean()), 2.0)
                self.assertLess(float(np.percentile(off, 99)), 25)
            # Shot n is struck at second n and comes to rest 0.6 s later.
            number = stops // 2 + stops % 2 + 1
            wanted = number * RATE + (15 if segment.kind == "came" else 0)
            self.assertEqual(number_in(shown[end - 1]), wanted)
        self.assertEqual(stops, 10)

    def test_a_run_shows_each_frame_in_its_time_and_slowly_each_twice(self):
        for speed, each in ((None, 1), (0.5, 2)):
            film, shown, _path = self.written(shots=[place(3)], stop_s=0, speed=speed)
            first = film.counts[0]
            self.assertEqual([segment.kind for segment in film.segments], ["card", "run", "run"])
            seen = [number_in(picture) for picture in shown[first:]]
            # From 1.5 s before the strike at 3 s to 0.6 s after the rest at 3.6 s.
            self.assertEqual(seen[0], int(1.5 * RATE))
            self.assertEqual(seen[-1], round(4.2 * RATE) - 1)
            self.assertEqual(sorted(set(seen)), list(range(seen[0], seen[-1] + 1)))
            self.assertEqual(seen.count(60), each)

    def test_sound_is_in_step_within_twenty_milliseconds(self):
        film, _shown, path = self.written(shots=[place(2), place(5)], stop_s=1.0)
        starts = starts_of(film.segments)
        struck = [
            start
            for start, segment in zip(starts, film.segments, strict=True)
            if segment.kind == "run" and segment.from_s[0] == segment.scene.shots[0].strike_s
        ]
        # The film is heard from before the strike, so that a click of the shot before may be in it.
        heard = [one.time_s for one in clicks(path, 0.0, 30.0)]
        for wanted in struck:
            self.assertLess(min(abs(one - wanted) for one in heard), 0.020)
        stops = [
            (start, start + segment.length_s)
            for start, segment in zip(starts, film.segments, strict=True)
            if segment.kind in ("meant", "came", "card")
        ]
        for one in heard:
            self.assertFalse(any(begin + 0.05 < one < end - 0.05 for begin, end in stops), one)

    def test_a_spoken_comment_is_heard_while_the_film_stops_for_it(self):
        comment = write_film(self.folder / "said.mp4", 150, 25, clicks=[0.5, 5.5])
        film, _shown, path = self.written(shots=[place(2, comment=str(comment))], stop_s=1.0)
        kinds = [segment.kind for segment in film.segments]
        stop = film.segments[kinds.index("meant")]
        self.assertAlmostEqual(stop.length_s, 6.4, delta=0.05)
        start = starts_of(film.segments)[kinds.index("meant")]
        heard = [one.time_s for one in clicks(path, start + 0.1, start + 6.2)]
        self.assertEqual(len(heard), 2)
        self.assertAlmostEqual(heard[0] - start, 0.5, delta=0.020)
        self.assertAlmostEqual(heard[1] - start, 5.5, delta=0.020)

    def test_captions_say_what_is_seen_when_it_is_seen(self):
        report = report_of({"kind": "film", "shots": [place(2, note="Watch --> <this>"), place(3)]})
        path = self.folder / "told.mp4"
        written = write_report(material_of(self.library, report), path)
        self.assertEqual([file.name for file in written.files], ["told.mp4", "told.vtt"])
        cues = list(webvtt.from_buffer(io.StringIO((self.folder / "told.vtt").read_text())))
        self.assertEqual([cue.start for cue in cues][:2], ["00:00:04.000", "00:00:08.200"])
        self.assertIn("Watch --&gt; &lt;this&gt;", cues[0].raw_text)
        self.assertIn("3 to foot left", cues[2].raw_text)

    def test_two_shots_side_by_side_are_struck_together(self):
        film, shown, _path = self.written(shots=[place(2), place(6, beside=True)], diagram="below")
        self.assertEqual(film.size[0], WIDTH)
        kinds = [segment.kind for segment in film.segments]
        self.assertEqual(kinds, ["card", "run", "meant", "run", "came"])
        at = sum(film.counts[:3]) - 1
        half = HEIGHT // 2
        top = (HEIGHT - half) // 2
        left, right = (shown[at][top : top + half, x : x + WIDTH // 2] for x in (0, WIDTH // 2))
        self.assertEqual([read_number(cv2.resize(one, (WIDTH, HEIGHT))) for one in (left, right)], [50, 150])

    def test_scenes_come_from_a_rack_a_search_or_the_key_shots(self):
        def scenes(*pages, **page):
            report = report_of({"kind": "film", **page}, *pages)
            film = teaching_film(material_of(self.library, report), report.pages[0], "x")
            titles = [segment.scene.title for segment in film.segments if segment.scene is not None]
            return [title.split(" ·")[0] for title in dict.fromkeys(titles)]

        self.assertEqual(len(scenes(session="test", rack=1)), 8)
        self.assertEqual(scenes(search="note:1+1"), ["Rack 1, shot 2"])
        self.assertEqual(scenes({"kind": "shots", "shots": [place(4)]}), ["Rack 1, shot 4"])
        with self.assertRaises(NotAQuery):
            scenes(search="cut:many")
        with self.assertRaisesRegex(FilmError, "no scene"):
            scenes()

    def test_what_cannot_be_shown_is_a_sentence_in_its_place(self):
        film, shown, _path = self.written(shots=[place(2), {"session": "test", "rack": 9, "shot": 1}])
        missing = film.segments[-1]
        self.assertEqual(missing.kind, "card")
        self.assertIn("not in the library any more", missing.words)
        # A card has words on the ground of a film, and nothing else.
        colours = {tuple(colour) for colour in shown[-1].reshape(-1, 3)[::97]}
        self.assertLess(np.mean([sum(map(int, one)) for one in colours]), 400)
        moved = (self.folder / "film.mp4").rename(self.folder / "elsewhere.bin")
        try:
            with self.assertRaisesRegex(FilmError, "is not there"):
                self.film(shots=[place(2)])
        finally:
            moved.rename(self.folder / "film.mp4")

    def test_the_page_on_paper_has_the_pictures_the_film_stops_at(self):
        page = self.pages({"kind": "film", "titles": True, "shots": [place(2), place(9)]}).pages[0]
        self.assertIsInstance(page.blocks[0], Paragraph)
        self.assertRegex(page.blocks[0].text, r"1 scene, 0:1\d, 320 × \d+ pixels")
        heads = [block.text for block in page.blocks if isinstance(block, Heading)]
        self.assertRegex(heads[0], r"^0:06 Rack 1, shot 2")
        beside = next(block for block in page.blocks if isinstance(block, Beside))
        picture = cv2.imdecode(np.frombuffer(beside.left.jpeg, np.uint8), cv2.IMREAD_COLOR)
        self.assertEqual(number_in(picture), 50)
        self.assertTrue(
            any("Rack 1, shot 9" in block.text for block in page.blocks if hasattr(block, "text"))
        )

    def test_the_lines_of_a_shot_lie_in_the_picture_once_there_is_a_view(self):
        bare = still_of(self.film(shots=[place(2)]), self.film(shots=[place(2)]).segments[2])
        snapshot = material_of(self.library, report_of({"kind": "methods"})).snapshot("test")
        values = {("recordings", 0, "views"): [{"camera": CAMERA, "residual_px": 1.0}]}
        self.document.run(set_values(snapshot, "session", snapshot.key, values, "Set the view"))
        try:
            film = self.film(shots=[place(2)])
            drawn = still_of(film, film.segments[2])
        finally:
            self.document.undo()
        # The line from the 2 at 1.8, 0.9 m to its pocket begins where the camera sees the ball.
        u, v = 160 + 300 * (1.8 - 1.27) / 3.0, 90 - 300 * (0.9 - 0.635) / 3.0
        around = (slice(round(v) - 12, round(v) + 12), slice(round(u) - 12, round(u) + 12))
        self.assertGreater(int(np.abs(drawn[around].astype(int) - bare[around].astype(int)).max()), 60)


class Failures(WithLibrary):
    def leaves_nothing(self, wanted, write):
        folder = self.folder / f"out-{self.id().rpartition('.')[2]}"
        folder.mkdir(exist_ok=True)
        with self.assertRaises(wanted) as raised:
            write(folder / "out.mp4")
        self.assertEqual(list(folder.iterdir()), [])
        return raised.exception

    def film(self):
        report = report_of({"kind": "film", "shots": [place(2), place(3)]})
        return teaching_film(material_of(self.library, report), report.pages[0], "For Ada")

    def test_a_film_that_is_stopped_leaves_nothing(self):
        progress = Progress()

        def step(pictures=1):
            progress.done += pictures
            if progress.done > 90:
                raise Cancelled

        with patch.object(progress, "step", step):
            self.leaves_nothing(Cancelled, lambda path: write_teaching_film(self.film(), path, progress))
        self.assertGreater(progress.of, 90)
        progress = Progress()
        progress.stop.set()
        self.leaves_nothing(Cancelled, lambda path: write_teaching_film(self.film(), path, progress))
        index = build_index(self.folder / "film.mp4")
        self.leaves_nothing(Cancelled, lambda path: copy_parts(index, [(1.0, 3.0)], path, progress))

    def test_a_full_disk_is_one_sentence_and_leaves_nothing(self):
        before = resource.getrlimit(resource.RLIMIT_FSIZE)
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        index = build_index(self.folder / "film.mp4")
        for write in (
            lambda path: write_teaching_film(self.film(), path),
            lambda path: copy_parts(index, [(0.0, 11.0)], path),
        ):
            resource.setrlimit(resource.RLIMIT_FSIZE, (30_000, before[1]))
            try:
                error = self.leaves_nothing(FilmError, write)
            finally:
                resource.setrlimit(resource.RLIMIT_FSIZE, before)
            self.assertRegex(str(error), r"^out\.mp4 cannot be written: .+\.$")

    def test_a_folder_that_is_not_there_is_one_sentence(self):
        with self.assertRaisesRegex(FilmError, "cannot be written: No such file"):
            write_teaching_film(self.film(), self.folder / "nowhere" / "out.mp4")
        index = build_index(self.folder / "film.mp4")
        with self.assertRaisesRegex(FilmError, "cannot be written: No such file"):
            copy_parts(index, [(1.0, 2.0)], self.folder / "nowhere" / "out.mp4")


class Clips(WithLibrary):
    def clips(self, way, *shots):
        report = report_of({"kind": "film", "shots": shots})
        material = material_of(self.library, report)
        path = self.folder / f"{way}.mp4"
        return write_clips(material, report.pages[0], "Clips", way, path, Progress())

    def test_an_exact_clip_is_the_film_from_moment_to_moment(self):
        (path,) = self.clips("exact", place(3), place(5))
        seen = [number_in(picture) for picture in pictures(path)]
        # Each from 1.5 s before its strike to 0.6 s after its rest (0.6 s after the strike).
        self.assertEqual(seen, [*range(37, 37 + 68), *range(87, 87 + 67)])
        self.assertEqual(pictures(path)[0].shape, (HEIGHT, WIDTH, 3))
        heard = [one.time_s for one in clicks(path, 1.0, 2.0)]
        self.assertLess(abs(heard[0] - 1.5), 0.020)

    def test_a_copied_clip_begins_at_a_key_frame_and_is_the_same_to_the_bit(self):
        (path,) = self.clips("copied", place(3), place(7))
        shown, whole = pictures(path), pictures(self.folder / "film.mp4")
        seen = [number_in(picture) for picture in shown]
        # Key frames are every 25; asked were 1.5 to 4.2 s and 5.5 to 8.2 s. The last picture of the first
        # hangs on the one behind it, which comes along.
        self.assertEqual(seen, [*range(25, 107), *range(125, 206)])
        for picture, number in zip(shown, seen, strict=True):
            self.assertTrue(np.array_equal(picture, whole[number]))
        heard = [one.time_s for one in clicks(path, 0.0, 7.0)]
        # In the second part the strike at 7 s comes 2 s after its key frame, behind 82 pictures.
        for wanted in (3.0 - 1.0, 82 / RATE + 7.0 - 5.0):
            self.assertLess(min(abs(one - wanted) for one in heard), 0.030)

    def test_stretches_that_meet_are_one(self):
        self.assertEqual(joined_stretches([(1, 3), (2, 4), (5, 6), (1, 2)]), [(1, 4), (5, 6), (1, 2)])

    def test_a_teaching_clip_has_its_title_first(self):
        (path,) = self.clips("teaching", place(3))
        self.assertGreater(len(pictures(path)), 200)

    def test_shots_without_a_film_are_one_sentence(self):
        for way in ("exact", "copied", "teaching"):
            with self.assertRaisesRegex(FilmError, "not in the library"):
                self.clips(way, {"session": "test", "rack": 7, "shot": 1})


class OddFilms(unittest.TestCase):
    """Films of odd sizes, turned films, and such of uneven rate go out upright and in time."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def shown(self, write):
        library, _document = library_with(self.folder)
        self.addCleanup(library.close)
        write(self.folder / "film.mp4")
        report = report_of({"kind": "film", "shots": [place(3)], "stop_s": 1})
        film = teaching_film(material_of(library, report), report.pages[0], "x")
        write_teaching_film(film, self.folder / "out.mp4")
        return film, pictures(self.folder / "out.mp4")

    def written_by(self, path, shape, times, turned=0):
        """A film whose picture is bright in its upper left quarter, a code of time as its brightness."""
        path.unlink(missing_ok=True)
        with av.open(str(path), "w") as container:
            stream = container.add_stream("libx264", rate=Fraction(25), options={"preset": "veryfast"})
            stream.height, stream.width = shape
            stream.pix_fmt = "yuv444p"
            stream.time_base = stream.codec_context.time_base = Fraction(1, 1000)
            if turned:
                stream.set_display_rotation(turned)
            for time_s in times:
                picture = np.full((*shape, 3), 20, np.uint8)
                picture[: shape[0] // 2, : shape[1] // 2] = 60 + round(15 * time_s)
                frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
                frame.pts, frame.time_base = round(1000 * time_s), Fraction(1, 1000)
                container.mux(stream.encode(frame))
            container.mux(stream.encode())

    def test_an_odd_size(self):
        film, shown = self.shown(lambda path: self.written_by(path, (181, 321), np.arange(250) / 25))
        self.assertEqual(film.painter.frame.film.width, 320)
        self.assertEqual([side % 2 for side in film.size], [0, 0])
        self.assertEqual(shown[0].shape[:2], film.size[::-1])

    def test_a_turned_film_stands_upright(self):
        film, shown = self.shown(lambda path: self.written_by(path, (180, 320), np.arange(250) / 25, 90))
        self.assertEqual((film.painter.frame.film.width, film.painter.frame.film.height), (180, 320))
        stop = shown[sum(film.counts[:3]) - 1][:320, :180].mean(axis=2)
        quarters = {"top": stop[:160].mean(axis=0), "low": stop[160:].mean(axis=0)}
        # Turned a quarter counter-clockwise, the upper left corner comes to the lower left.
        self.assertGreater(quarters["low"][:90].mean(), quarters["top"].mean() + 30)

    def test_an_uneven_rate(self):
        # Pictures come slowly to 4 s, then fast; each is on screen until the next one comes.
        times = np.concatenate((np.arange(0, 4, 0.1), np.arange(4, 10, 0.02)))
        film, shown = self.shown(lambda path: self.written_by(path, (180, 320), times))
        first = sum(film.counts[:3])
        for step in (5, 20, 28):
            wanted = times[np.searchsorted(times, 3.0 + step / float(film.rate), side="right") - 1]
            bright = shown[first + step][:90, :160].mean()
            self.assertAlmostEqual(bright, 60 + round(15 * wanted), delta=4)


class Writing(unittest.TestCase):
    def test_a_silent_film_has_no_track_of_sound(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "silent.mp4"
            with FilmWriter(path, (64, 48), Fraction(25), has_sound=False) as writer:
                writer.picture(np.zeros((48, 64, 3), np.uint8), 10)
                writer.sound_to_here(np.zeros((RATE_HZ, 2), np.int16))
                self.assertAlmostEqual(writer.time_s, 0.4)
            with av.open(str(path)) as container:
                self.assertEqual(len(container.streams.audio), 0)
            self.assertEqual(len(pictures(path)), 10)
            self.assertEqual(sound_length_s(path), 0.0)
            self.assertEqual(sound_length_s(Path(folder) / "none.wav"), 0.0)


del WithLibrary

if __name__ == "__main__":
    unittest.main()
