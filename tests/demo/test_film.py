"""The demo film is what its strokes and its truth say; the match is legal and has its habits."""

import unittest

import av
import numpy as np

from ripasso.core.planning.explaining import Sighting, explain
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec
from ripasso.demo.filming.camera import Spin
from ripasso.demo.filming.film import FRAMES_A_SECOND, Scene, pictures, scenes_from_truth
from ripasso.demo.filming.motion import play
from ripasso.demo.filming.rooms import side_camera
from ripasso.demo.filming.strokes import RACK
from ripasso.demo.library import film_path, film_session, film_truth
from ripasso.demo.matches import scenario
from ripasso.review.scoring.scoring import score_report

LARGEST_BYTES = 6 * 1024 * 1024
FIRST, SECONDS = 1575, 2  # the end of the escape, and the balls at rest after it
PEAK_DB = 34.0  # x264 at this quality differs from its source by noise of about 38 dB
REPLAY_TOLERANCE_M = 0.002


class Rendering(unittest.TestCase):
    def test_two_seconds_rendered_again(self):
        truth = film_truth()
        scenes = tuple(Scene(places) for places in scenes_from_truth(truth))
        last = FIRST + SECONDS * FRAMES_A_SECOND
        again = list(pictures(scenes, table_spec(truth["table"]), FIRST, last))
        worst = 99.0
        with av.open(str(film_path())) as container:
            for number, frame in enumerate(container.decode(video=0)):
                if number >= last:
                    break
                if number < FIRST:
                    continue
                shown = frame.to_ndarray(format="rgb24").astype(float)
                error = np.mean((shown - again[number - FIRST].astype(float)) ** 2)
                worst = min(worst, 10 * np.log10(255**2 / error))
        self.assertGreater(worst, PEAK_DB)

    def test_a_ball_elsewhere_would_be_seen(self):
        truth = film_truth()
        scene = next(iter(scenes_from_truth(truth)))
        moved = {**scene, "cue": (scene["cue"][0] + 0.05, scene["cue"][1])}
        spec = table_spec(truth["table"])
        one, other = (next(pictures((Scene(s),), spec)).astype(float) for s in (scene, moved))
        self.assertGreater(np.abs(one - other).max(), 80)

    def test_size_and_length(self):
        self.assertLess(film_path().stat().st_size, LARGEST_BYTES)
        truth = film_truth()
        with av.open(str(film_path())) as container:
            self.assertEqual(container.streams.video[0].frames, truth["frames"])

    def test_a_stroke_played_again_ends_at_the_same_place(self):
        truth = film_truth()["shots"]
        spec = table_spec(film_truth()["table"])
        for number in range(2, 13):  # not the break: with so many contacts the last digit decides
            seen = truth[number - 1]
            before = {name: tuple(place) for name, place in seen["before"].items()}
            motion = play(spec, before, RACK[number - 1].stroke, 0.04)
            for name, place in seen["after"].items():
                away = np.hypot(*(np.array(motion.after[name]) - place))
                self.assertLess(away, REPLAY_TOLERANCE_M, f"shot {number}, {name}")

    def test_strokes_are_told_from_the_ways_of_their_cue_balls(self):
        """The reverse: from what the film's session holds to the stroke that was played."""
        shots = film_session().racks[0].shots
        spec = table_spec(film_truth()["table"])
        for number in (2, 5, 10):
            shot, true = shots[number - 1], RACK[number - 1].stroke
            layout = {ball: tuple(place) for ball, place in shot.before.items()}
            on = min((ball for ball in layout if ball != "cue"), key=int)
            seen = [Sighting(t - shot.t_strike, "cue", x, y) for t, x, y in shot.path["cue"]]
            found = explain(Problem("nine_ball", spec, layout, (on,)), seen)
            with self.subTest(number):
                self.assertLess(found.residual_m, 0.004)
                self.assertAlmostEqual(found.stroke.speed / true.speed, 1.0, delta=0.02)
                self.assertAlmostEqual(found.stroke.b, true.b, delta=0.05)

    def test_the_camera_projects_and_looks_back(self):
        camera = side_camera(table_spec({}))
        points = np.array([[0.0, 0.0, 0.0], [2.54, 1.27, 0.0], [1.27, 0.6, 0.03]])
        pixels = camera.project(points)
        self.assertTrue(((pixels >= 0) & (pixels < [camera.width, camera.height])).all())
        rays = camera.rays(pixels)
        reach = (points[:, 2] - camera.place[2]) / rays[:, 2]
        self.assertLess(np.abs(camera.place + rays * reach[:, None] - points).max(), 1e-9)

    def test_a_rolling_ball_turns_by_its_way(self):
        spin = Spin(radius=0.1)
        start = spin.follow({"1": (0.0, 0.0)})["1"]
        quarter = spin.follow({"1": (0.1 * np.pi / 2, 0.0)})["1"]
        turned = quarter @ start.T
        # Rolled by a quarter along x: what was on top now faces x.
        self.assertLess(np.abs(turned @ [0, 0, 1] - [1, 0, 0]).max(), 1e-9)


class DemoSessions(unittest.TestCase):
    def test_the_rack_is_legal_and_lost_where_it_is_said(self):
        session = film_session()
        report = score_report(session)
        self.assertEqual(report["problems"], [])
        rack = report["racks"][0]
        self.assertEqual((rack["winner"], rack["ended_by"]), ("lioba", "nine_potted"))
        self.assertEqual([s["warnings"] for s in rack["shots"] if s["warnings"]], [])
        self.assertEqual(session.racks[0].shots[9].error.cause_shot, 9)

    def test_names_are_the_scenario_s_own(self):
        self.assertEqual(
            {p.name for p in film_session().players}, {scenario.LIOBA["name"], scenario.CASIMIR["name"]}
        )


if __name__ == "__main__":
    unittest.main()
