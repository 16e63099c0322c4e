"""A picture moved back and lit alike: what a hand, a pan, a zoom or an exposure did is taken out again."""

import json
import tempfile
import unittest
from functools import cache
from itertools import islice
from pathlib import Path
from types import SimpleNamespace

import cv2
import numpy as np
from scipy.spatial.transform import Rotation

from ripasso.core.table import table_spec
from ripasso.demo.filming.conditions import CONDITIONS, Condition, bent, film_again
from ripasso.demo.library import film_path, film_truth
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.moving import camera_at
from ripasso.film.calibration.views import camera_of, scaled
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.reading.accuracy import compared
from ripasso.film.reading.detection.discs import Discs
from ripasso.film.reading.detection.edges import true_edge
from ripasso.film.reading.detection.ground import Ground, area_of, graphics_in
from ripasso.film.reading.detection.picture import HALF, large, share_of, small
from ripasso.film.reading.detection.scene import Scene, State, Thing
from ripasso.film.reading.normalising.exposure import Exposure, Light
from ripasso.film.reading.normalising.motion import Pinhole, carried
from ripasso.film.reading.normalising.stabiliser import Stabiliser
from ripasso.film.reading.reader import FilmReading
from ripasso.film.reading.view_in_picture import view_checked
from ripasso.review.record.parts import View

POOL = table_spec({"preset": "pool_9ft"})
SIZE = (640, 360)
CORNERS = np.array([[0.0, 0.0], [639.0, 0.0], [0.0, 359.0], [639.0, 359.0]])
#: Turns right, down and about the view (radians), and the logarithm of a zoom.
MOTIONS = {
    "a hand": (0.003, -0.004, 0.002, 0.0),
    "a pan": (0.002, 0.05, 0.0, 0.0),
    "a zoom": (0.0, 0.0, 0.0, 0.18),
    "all of it": (-0.015, 0.03, -0.01, -0.08),
}
#: A piece of the demo film with one shot, seconds.
PIECE_S = (12.4, 21.2)


@cache
def film_picture():
    """A small picture of the demo film."""
    reader = FilmReader(build_index(film_path()))
    try:
        return small(reader.frame(20))
    finally:
        reader.close()


class Motion(unittest.TestCase):
    def test_a_turned_camera_moves_pixels_as_its_rays_turn(self):
        # By scipy's rotations: a ray through a pixel, turned, seen again by the same lens.
        pinhole = Pinhole(600.0, (319.5, 179.5))
        turn = np.array([0.02, -0.03, 0.05])
        rays = np.column_stack(((CORNERS - pinhole.centre) / pinhole.focal_px, np.ones(4)))
        seen = Rotation.from_rotvec(turn).apply(rays)
        expected = seen[:, :2] / seen[:, 2:] * pinhole.focal_px + pinhole.centre
        found = pinhole.moved(CORNERS, np.array([*turn, 0.0]))
        np.testing.assert_allclose(found, expected, atol=1e-9)

    def test_every_motion_is_found_and_taken_out(self):
        picture = film_picture()
        for name, motion in MOTIONS.items():
            with self.subTest(motion=name):
                stabiliser = Stabiliser(picture[..., 0], 600.0)
                matrix = stabiliser.pinhole.matrix(np.array(motion))
                moved = cv2.warpPerspective(picture, matrix, SIZE, borderMode=cv2.BORDER_REPLICATE)
                self.assertTrue(stabiliser.find(moved[..., 0]))
                off = carried(CORNERS, stabiliser.matrix()) - carried(CORNERS, matrix)
                self.assertLess(np.abs(off).max(), 0.5)
                back = stabiliser.back(moved)[100:-100, 150:-150, 0].astype(float)
                still = picture[100:-100, 150:-150, 0]
                self.assertLess(
                    np.abs(back - still).mean(), 0.1 * np.abs(moved[100:-100, 150:-150, 0] - still).mean()
                )

    def test_a_camera_that_stands_leaves_the_picture_as_it_is(self):
        picture = film_picture()
        stabiliser = Stabiliser(picture[..., 0])
        for _ in range(20):
            self.assertTrue(stabiliser.follow(picture[..., 0]))
        self.assertIs(stabiliser.back(picture), picture)

    def test_somebody_before_the_table_is_no_motion(self):
        picture = film_picture()
        hidden = picture.copy()
        hidden[60:, 240:360] = np.random.default_rng(1).integers(40, 90, (300, 120, 3))
        stabiliser = Stabiliser(picture[..., 0])
        self.assertTrue(stabiliser.follow(hidden[..., 0]))
        self.assertFalse(stabiliser.is_moved)

    def test_another_picture_is_not_this_camera(self):
        stabiliser = Stabiliser(film_picture()[..., 0])
        other = np.random.default_rng(2).integers(0, 255, (360, 640), dtype=np.uint8)
        self.assertFalse(stabiliser.find(cv2.GaussianBlur(other, (9, 9), 0)))


class Cuts(unittest.TestCase):
    def test_another_camera_is_noticed_at_the_cut_and_so_is_the_way_back(self):
        here = film_picture()[..., 0]
        there = np.ascontiguousarray(np.roll(here[::-1, ::-1], 90, axis=1))
        stabiliser = Stabiliser(here)
        shown = []
        for light in [here] * 20 + [there] * 10 + [here] * 3:
            stabiliser.follow(light)
            shown.append(stabiliser.is_elsewhere)
        self.assertEqual(shown, [False] * 20 + [True] * 10 + [False] * 3)

    def test_somebody_who_hides_all_is_no_cut(self):
        here = film_picture()[..., 0]
        stabiliser = Stabiliser(here)
        for share in np.linspace(0, 1, 40):
            hidden = here.copy()
            hidden[:, : round(share * here.shape[1])] = 60
            stabiliser.follow(hidden)
            self.assertFalse(stabiliser.is_elsewhere)


class Graphics(unittest.TestCase):
    SURFACE = np.zeros((360, 640), dtype=bool)
    SURFACE[100:260, 60:580] = True

    def found(self, *boxes, discs=()):
        """What is taken for a graphic of upright boxes (left, top, right, bottom) and discs (u, v, r)."""
        strange = np.zeros(self.SURFACE.shape, np.uint8)
        for left, top, right, bottom in boxes:
            strange[top:bottom, left:right] = 1
        for u, v, radius in discs:
            cv2.circle(strange, (u, v), radius, 1, -1)
        return graphics_in((strange > 0) & self.SURFACE, SimpleNamespace(surface=self.SURFACE), POOL)

    def test_a_score_over_the_near_cushion_is_one_and_balls_beside_it_are_not(self):
        radius = round(float(np.sqrt(self.SURFACE.sum() / (POOL.length * POOL.width))) * POOL.ball_radius)
        found = self.found((200, 235, 440, 280), discs=((446, 240, radius), (300, 150, radius)))
        self.assertTrue(found[240:258, 205:435].all())
        self.assertFalse(found[100:230].any())
        self.assertFalse(found[:, 450:].any())

    def test_a_rack_that_never_moved_is_none(self):
        r = 6
        rack = [(400 + round(1.8 * r * i), 180 + r * (2 * j - i), r) for i in range(5) for j in range(i + 1)]
        self.assertFalse(self.found(discs=rack).any())
        # Neither is a row of balls on a cushion.
        self.assertFalse(self.found(discs=[(200 + 2 * r * i, 258, r) for i in range(5)]).any())


class Phantoms(unittest.TestCase):
    def test_light_taken_for_a_ball_goes_with_the_light(self):
        picture, spec = film_picture(), POOL
        camera = scaled(Camera.from_data(film_truth()["camera"]), HALF)
        ground = Ground([picture] * 3, area_of(camera, spec, picture.shape[:2]), spec)
        discs = Discs(camera, spec.ball_radius)
        place = (0.4, 0.9)
        u, v, radius = (round(value) for value in discs.disc(place))
        shadow = picture.copy()
        patch = shadow[v - radius - 2 : v + radius + 2, u - radius - 2 : u + radius + 2].astype(float)
        lit = patch + np.array([0, 0, 9])  # the light that a hand throws back
        shadow[v - radius - 2 : v + radius + 2, u - radius - 2 : u + radius + 2] = lit.astype(np.uint8)
        scene = Scene(ground, discs)
        thing = Thing(1)
        scene.things.append(thing)
        thing.lies(discs, ground, shadow, place, 0.0)
        scene.look(shadow, 0.0)
        self.assertIs(thing.state, State.SAME)
        scene.look(picture, 0.1)
        self.assertIs(thing.state, State.GONE)


class Exposures(unittest.TestCase):
    def setUp(self):
        self.picture = film_picture()
        self.cloth = np.zeros(self.picture.shape[:2], dtype=bool)
        self.cloth[140:260, 140:500] = True
        self.exposure = Exposure(self.picture.astype(np.float32), self.cloth)

    def lit(self, gain, blue=0, red=0):
        value = self.picture.astype(np.float64)
        lit = (value - (16, 128, 128)) * gain + (16, 128 + blue, 128 + red)
        return np.clip(lit + 0.5, 0, 255).astype(np.uint8)

    def test_a_swing_is_measured_and_taken_out(self):
        for gain, blue, red in ((0.82, 0, 0), (1.18, 0, 0), (1.1, 4, -3)):
            with self.subTest(gain=gain, blue=blue, red=red):
                lit = self.lit(gain, blue, red)
                light = self.exposure.of(lit)
                self.assertAlmostEqual(light.gain, gain, delta=0.01)
                off = light.out_of_small(lit).astype(int) - self.picture
                self.assertLess(np.abs(off[self.cloth]).mean(), 1.0)

    def test_even_light_changes_nothing(self):
        self.assertTrue(self.exposure.of(self.picture).is_usual)
        self.assertIs(Light().out_of_small(self.picture), self.picture)

    def test_a_black_picture_is_no_exposure(self):
        self.assertTrue(self.exposure.of(np.full_like(self.picture, 16)).is_usual)

    def test_the_large_picture_is_lit_as_the_small_one(self):
        reader = FilmReader(build_index(film_path()))
        self.addCleanup(reader.close)
        picture = large(reader.frame(20))
        dark = np.clip(picture * 0.8 + 0.5, 0, 255).astype(np.uint8)
        off = Light(0.8).out_of_large(dark).astype(int) - picture
        self.assertLess(np.abs(off).mean(), 1.0)


class Edges(unittest.TestCase):
    def test_an_edge_is_found_to_a_part_of_a_pixel(self):
        # A cloth drawn eight times as large; a limit on its colours would cut it here or there.
        corners = np.array([[60.3, 50.7], [250.6, 58.2], [270.4, 150.9], [40.8, 141.3]])
        fine = np.zeros((1600, 2560), np.uint8)
        cv2.fillPoly(fine, [np.round((corners + 0.5) * 8 - 0.5).astype(int)], 255)
        mask = cv2.resize(fine, (320, 200), interpolation=cv2.INTER_AREA)
        mask = cv2.GaussianBlur(mask, (0, 0), 0.8)
        share = mask[..., None] / 255
        picture = (share * (110, 160, 90) + (1 - share) * (60, 120, 150)).astype(np.uint8)
        for limit in (90, 128, 200):
            contours = cv2.findContours(
                (mask > limit).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE
            )[0]
            found = true_edge(picture, contours[0][:, 0].astype(float))
            off = [
                abs(cv2.pointPolygonTest(corners.astype(np.float32), tuple(map(float, p)), True))
                for p in found
            ]
            self.assertLess(float(np.median(off)), 0.15, limit)


class Sizes(unittest.TestCase):
    def test_every_film_is_looked_at_in_about_the_same_size(self):
        for size in ((640, 360), (854, 480), (1280, 720), (1920, 1080), (1080, 1920), (3840, 2160)):
            longer = max(size) * share_of(size)
            self.assertTrue(600 <= longer <= 1000, size)


class Conditions(unittest.TestCase):
    def test_a_lens_bends_the_truth_as_it_bends_the_picture(self):
        matrix = np.array([[1165.0, 0, 639.5], [0, 1165.0, 359.5], [0, 0, 1]])
        truth = {"camera": {"K": matrix.tolist(), "corners_at_nose_height": {"head_left": [100.0, 80.0]}}}
        told = CONDITIONS["lens"].truth(truth)["camera"]
        # By OpenCV's own model of a lens.
        ray = np.array([[[(100 - 639.5) / 1165, (80 - 359.5) / 1165, 1.0]]])
        expected, _ = cv2.projectPoints(
            ray, np.zeros(3), np.zeros(3), matrix, np.array([told["k1"], 0, 0, 0])
        )
        np.testing.assert_allclose(told["corners_at_nose_height"]["head_left"], expected[0, 0], atol=1e-3)
        np.testing.assert_allclose(bent([[100.0, 80.0]], matrix)[0], expected[0, 0], atol=1e-9)

    def test_every_condition_changes_a_picture_and_tells_its_camera(self):
        pictures = [np.full((90, 160, 3), 90 + 10 * i, np.uint8) for i in range(4)]
        for picture in pictures:
            picture[30:60, 40:120] = (30, 90, 160)
        truth = {
            "fps": 2,
            "n_frames": 4,
            "ball_radius": POOL.ball_radius,
            "shots": [
                {"t_strike": 0.0, "t_all_at_rest": 0.1, "before": {}, "after": {}},
                {"t_strike": 3.0, "t_all_at_rest": 3.1, "before": {"cue": [0.0, 0.0]}, "after": {}},
            ],
            "camera": {
                "R": np.eye(3).tolist(),
                "t": [0.0, 0.0, 5.0],
                "K": [[150.0, 0, 79.5], [0, 150.0, 44.5], [0, 0, 1]],
                "width": 160,
                "height": 90,
                "corners_at_nose_height": {"head_left": [20.0, 10.0]},
            },
        }
        for name, condition in CONDITIONS.items():
            with self.subTest(condition=name):
                made = list(condition.pictures(iter(pictures), truth))
                self.assertEqual(len(made), 4)
                same = [
                    one.shape == old.shape and (one == old).all()
                    for one, old in zip(made, pictures, strict=True)
                ]
                self.assertFalse(all(same))
                camera = condition.truth(truth)["camera"]
                self.assertEqual(made[0].shape[:2], (camera["height"], camera["width"]))


class ATremblingFilm(unittest.TestCase):
    """A shot of the demo film from the hand, read by itself."""

    def test_the_shot_is_read_as_from_a_stand(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        truth = film_truth()
        spec = table_spec(truth["table"])
        focal, (u, v) = truth["camera"]["focal_px"], truth["camera"]["centre"]
        first, last = (round(time_s * truth["frame_rate"]) for time_s in PIECE_S)
        shots = [shot for shot in truth["shots"] if PIECE_S[0] < shot["t_strike"] < PIECE_S[1]]
        self.assertEqual(len(shots), 1)
        moved_s = first / truth["frame_rate"]
        told = {
            "fps": truth["frame_rate"],
            "camera": {"K": [[focal, 0, u], [0, focal, v], [0, 0, 1]]},
            "shots": [
                {**shot, "t_strike": shot["t_strike"] - moved_s, "t_all_at_rest": shot["t_rest"] - moved_s}
                for shot in shots
            ],
        }
        source = folder / "still.mp4"
        source.symlink_to(film_path())
        source.with_suffix(".truth.json").write_text(json.dumps(told), encoding="utf-8")
        hand = CONDITIONS["trembling"]
        piece = Condition(lambda pictures, truth: hand.pictures(islice(pictures, first, last), truth))
        film_again(source, piece, folder / "trembling.mp4")
        reading = FilmReading(build_index(folder / "trembling.mp4"), "nine_ball", spec, None)
        self.addCleanup(reading.close)
        reading.run()
        found = compared([shot.values for shot in reading.shots()], told).as_data()
        self.assertEqual((found["shots_found"], found["shots_false"]), (1.0, 0.0))
        self.assertGreaterEqual(found["balls_found"], 0.95)
        self.assertLess(found["off_median_mm"], 10)
        self.lines_follow(reading, build_index(folder / "trembling.mp4"), spec)

    def lines_follow(self, reading, index, spec):
        """Through the view that was stated lines lie on the table in frames all over the shot."""
        (data,) = reading.stated_views()
        view = View.model_validate_json(json.dumps(data))
        shot = reading.shots()[0].values
        off, still_off = [], []
        for time_s in np.linspace(shot["t_strike"] - 1, shot["t_rest"], 7):
            number = index.number_at(time_s)
            frame_s = index.time_s(number)
            off.append(view_checked(index, number, camera_at(view, frame_s), spec).off_px)
            still_off.append(view_checked(index, number, camera_of(view.camera), spec).off_px)
        self.assertLess(max(off), 1.2)
        self.assertLess(np.mean(off), 0.6 * np.mean(still_off))


if __name__ == "__main__":
    unittest.main()
