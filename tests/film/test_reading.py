"""Reading a film, part by part: what differs from the cloth, what balls are, when they left and stopped."""

import json
import math
import tempfile
import unittest
from pathlib import Path
from typing import ClassVar

import numpy as np

from ripasso.core.table import POCKETS, pocket_centre, table_spec
from ripasso.demo.filming.recordings import Recipe, invent, truth_of
from ripasso.demo.filming.rooms import side_camera
from ripasso.demo.library import film_path, film_truth
from ripasso.film import build_index
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.views import scaled
from ripasso.film.decoding.reader import FilmReader
from ripasso.film.errors import FilmError
from ripasso.film.reading.accuracy import compared
from ripasso.film.reading.detection.colours import POOL, SNOOKER, Look, Palette, lab_of
from ripasso.film.reading.detection.discs import Seen
from ripasso.film.reading.detection.ground import difference
from ripasso.film.reading.detection.picture import small
from ripasso.film.reading.detection.resting import _on_table
from ripasso.film.reading.detection.scene import Thing
from ripasso.film.reading.detection.table import NoTable, find_table
from ripasso.film.reading.explaining import credit_strike
from ripasso.film.reading.identity import names
from ripasso.film.reading.identity.matching import matched
from ripasso.film.reading.identity.naming import Naming
from ripasso.film.reading.motion import shots
from ripasso.film.reading.motion.pockets import pocket_near
from ripasso.film.reading.motion.shots import Left
from ripasso.film.reading.motion.tracks import Blob, Point, Track, Tracker
from ripasso.film.reading.motion.trajectories import Mover, ways
from ripasso.film.reading.reader import FilmReading, balls_of

SPEC = table_spec({"preset": "pool_9ft"})
RATE = 30
WHITE, ORANGE = (150.0, 250.0, 255.0), (90.0, 225.0, 300.0)
COLOUR = (120.0, 240.0, 270.0)
SHARED = Path(__file__).resolve().parents[3] / "shared" / "recordings"


def rolling(start, end, seconds, begin_s=0.0):
    """A ball that rolls out along a line: even loss of speed, as on a cloth (rolling resistance)."""
    points = []
    for i in range(int(seconds * RATE) + 15):
        gone = min(1.0, i / RATE / seconds)
        share = 1 - (1 - gone) ** 2
        place = tuple(a + (b - a) * share for a, b in zip(start, end, strict=True))
        points.append(Point(i, begin_s + i / RATE, place, 1.0, COLOUR))
    return points


class Cloth(unittest.TestCase):
    GROUND = np.array([[110.0, 118.0, 112.0]], dtype=np.float32)

    def off(self, light, blue, red):
        return float(difference(np.array([[light, blue, red]], dtype=np.uint8), self.GROUND)[0])

    def test_cloth_and_its_shadow_are_no_difference(self):
        self.assertLess(self.off(110, 118, 112), 1.5)
        # Nine tenths of the light, and of the colours with it.
        self.assertLess(self.off(101, 119, 114), 3)

    def test_balls_differ(self):
        for colour in ((200, 128, 128), (40, 128, 128), (110, 100, 160), (95, 110, 118)):
            self.assertGreater(self.off(*colour), 14, colour)


class OnTheWay(unittest.TestCase):
    def test_two_balls_that_cross_keep_their_colours(self):
        tracker = Tracker(SPEC.ball_radius)
        for i in range(30):
            x = 0.5 + 0.03 * i
            white, orange = Blob((x, 0.4 + 0.01 * i), WHITE, 1.0), Blob((x, 0.7 - 0.01 * i), ORANGE, 1.0)
            tracker.add(i, i / RATE, (white, orange) if i % 2 else (orange, white))
        self.assertEqual(len(tracker.active), 2)
        for track in tracker.active:
            rises = track.last.place[1] > track.first.place[1]
            self.assertEqual(rises, track.colour[0] > 120)

    def test_a_ball_out_of_sight_ends(self):
        tracker = Tracker(SPEC.ball_radius)
        tracker.add(0, 0.0, (Blob((1.0, 0.5), WHITE, 1.0),))
        tracker.add(20, 20 / RATE, ())
        self.assertEqual((len(tracker.active), len(tracker.ended)), (0, 1))

    def test_pieces_of_a_way_are_put_together_by_place_and_colour(self):
        first = Track(rolling((1.0, 0.5), (1.4, 0.5), 0.5)[:10], WHITE, origin=1)
        other = Track(rolling((1.5, 0.5), (2.0, 0.9), 1.0, begin_s=0.4), ORANGE)
        onward = Track(rolling((1.42, 0.5), (1.5, 0.3), 1.0, begin_s=0.5), WHITE)
        movers = [
            Mover(1, WHITE, (1.0, 0.5), 0.0, (1.5, 0.3), False),
            Mover(2, ORANGE, (1.5, 0.5), 0.38, (2.0, 0.9), False),
        ]
        found = ways(movers, [onward, other, first])
        self.assertEqual(found[1].last.place, onward.last.place)
        self.assertEqual(found[2].first.place, other.first.place)

    def test_a_ball_seen_to_leave_begins_its_way_there(self):
        # The cue ball comes out of a hand beside the ball it meets, a moment before that one is seen to run.
        cue = Track(rolling((0.52, 0.42), (0.1, 0.2), 1.0, begin_s=4.77), WHITE)
        met = Track(rolling((0.48, 0.5), (0.04, 1.26), 1.5, begin_s=4.87), WHITE, origin=5)
        movers = [
            Mover(7, WHITE, (0.69, 0.4), 4.67, (2.28, 0.78), True),
            Mover(5, WHITE, (0.51, 0.46), 4.77, None, False),
        ]
        found = ways(movers, [cue, met])
        self.assertEqual((found[7].first.place, found[5].first.place), ((0.52, 0.42), (0.48, 0.5)))

    def test_a_ball_that_fell_takes_no_other_way(self):
        into = Track(rolling((1.5, 0.28), (1.28, -0.04), 0.5), ORANGE, origin=1)
        later = Track(rolling((1.6, 0.3), (2.1, 0.5), 1.0, begin_s=1.5), ORANGE)
        gone, there = (Mover(1, ORANGE, (1.52, 0.3), 0.0, end, False) for end in (None, (2.1, 0.5)))
        self.assertEqual(ways([gone], [into, later], SPEC)[1].last.place, into.last.place)
        self.assertEqual(ways([there], [into, later], SPEC)[1].last.place, later.last.place)

    def test_grain_makes_no_ball_move_and_hides_no_slow_one(self):
        random = np.random.default_rng(5)
        for speed, moves in ((0.0, False), (0.08, True)):
            points = [
                Point(i, i / RATE, (1 + speed * i / RATE + float(random.normal(0, 0.0025)), 0.5), 1.0, COLOUR)
                for i in range(60)
            ]
            said = [Track(points[:last], WHITE).moves(SPEC.ball_radius) for last in range(20, 60)]
            share = sum(said) / len(said)
            self.assertTrue(share > 0.9 if moves else share < 0.1, (speed, share))

    def test_two_balls_in_one_blob_do_not_mix_their_colours(self):
        tracker = Tracker(SPEC.ball_radius)
        for i in range(20):
            is_one = i < 10
            blob = Blob((0.5 + 0.01 * i, 0.4), WHITE if is_one else COLOUR, 1.0 if is_one else 2.2)
            tracker.add(i, i / RATE, (blob,))
        (track,) = tracker.active
        self.assertEqual(track.colour, WHITE)
        self.assertEqual(track.first_colour, WHITE)


class Times(unittest.TestCase):
    def left(self, key, place, same_s, gone_s, points=None, end=None):
        return Left(key, place, same_s, gone_s, Track(points, WHITE) if points else None, end)

    def test_a_strike_in_sight_is_sharp(self):
        cue = self.left(0, (1.0, 0.5), 4.98, 5.02, rolling((1.0, 0.5), (2.0, 0.5), 3.0, 5.0), (2.0, 0.5))
        time_s, sure = shots.strike_of(cue, (), 5.05)
        self.assertAlmostEqual(time_s, 5.0, delta=0.05)
        self.assertGreater(sure, 0.9)

    def test_a_hidden_strike_is_rolled_back(self):
        way = rolling((0.5, 0.5), (2.5, 0.5), 4.0, 5.0)[15:]  # half a second behind somebody
        cue = self.left(0, (0.5, 0.5), 2.0, 5.5, way, (2.5, 0.5))
        time_s, sure = shots.strike_of(cue, (), 5.5)
        self.assertAlmostEqual(time_s, 5.0, delta=0.15)
        self.assertLess(sure, 0.97)

    def test_a_ball_stops_where_its_way_ends(self):
        for seconds in (1.0, 2.5, 4.0):
            points = rolling((0.5, 0.5), (2.0, 0.9), seconds, 5.0)
            ball = self.left(0, (0.5, 0.5), 5.0, 5.0, points, (2.0, 0.9))
            time_s, _ = shots.rest_of((ball,), (), 5.0)
            self.assertAlmostEqual(time_s, 5.0 + seconds, delta=0.1)

    def test_the_first_ball_to_leave_was_met_first(self):
        cue = self.left(0, (0.5, 0.5), 5.0, 5.0, rolling((0.5, 0.5), (1.5, 0.5), 2.0, 5.0))
        early, late = self.left(3, (1.0, 0.5), 5.4, 5.43), self.left(4, (1.4, 0.5), 5.9, 5.93)
        self.assertEqual(shots.first_contact(cue, (late, early))[0], 3)
        self.assertEqual(shots.first_contact(cue, ())[0], None)

    def test_of_balls_that_left_together_the_nearest_was_met(self):
        cue = self.left(0, (0.5, 0.5), 5.0, 5.0)
        near, far = self.left(3, (1.0, 0.5), 5.4, 5.44), self.left(4, (1.1, 0.5), 5.4, 5.42)
        self.assertEqual(shots.first_contact(cue, (far, near))[0], 3)

    def test_what_moved_first_was_struck(self):
        cue, ball = self.left(0, (0.5, 0.5), 5.0, 5.04), self.left(3, (1.0, 0.5), 5.4, 5.44)
        self.assertEqual(shots.struck_first((ball, cue)), 0)
        self.assertEqual(shots.struck_first((cue,)), 0)
        # Behind somebody nobody saw who went first.
        hidden = self.left(0, (0.5, 0.5), 3.0, 5.3)
        self.assertIsNone(shots.struck_first((hidden, ball)))
        self.assertIsNone(shots.struck_first(()))
        things = [Thing(0), Thing(3), Thing(4)]
        for _ in range(2):
            credit_strike(things, (cue, ball))
        self.assertEqual([thing.struck for thing in things], [2, -2, 0])

    def test_cushions_that_a_ball_came_back_from(self):
        radius = SPEC.ball_radius
        down = rolling((1.0, 0.6), (1.3, radius), 1.0)[:28]
        up = [
            Point(p.number + 28, p.time_s + 28 / RATE, (p.place[0], p.place[1]), 1.0, COLOUR)
            for p in rolling((1.3, radius), (1.6, 0.5), 1.0)
        ]
        self.assertEqual([name for name, _ in shots.cushions_touched(SPEC, down + up)], ["right"])
        self.assertEqual(shots.cushions_touched(SPEC, down), [])

    def test_a_ball_in_a_pocket_is_near_it(self):
        for pocket in POCKETS:
            self.assertEqual(pocket_near(SPEC, pocket_centre(SPEC, pocket))[0], pocket)

    def test_a_simple_path_is_near_the_whole_one(self):
        points = [
            Point(i, i / RATE, (1 + 0.02 * i, 0.5 + 0.1 * math.sin(i / 9)), 1.0, COLOUR) for i in range(60)
        ]
        path = shots.simple_path(points)
        self.assertLess(len(path), 30)
        times, xs, ys = zip(*path, strict=True)
        for p in points:
            here = np.interp(p.time_s, times, xs), np.interp(p.time_s, times, ys)
            self.assertLess(math.dist(here, p.place), 0.005)


class Names(unittest.TestCase):
    def things(self, looks):
        return [Thing(key, looks=[look]) for key, look in enumerate(looks)]

    def test_every_ball_of_pool_by_its_paint_and_its_white(self):
        balls = balls_of("eight_ball")
        looks = [Look(tuple(lab_of(POOL["cue"])), 0.97)]
        looks += [Look(tuple(lab_of(POOL[str(n)])), 0.1) for n in range(1, 9)]
        looks += [Look(tuple(lab_of(POOL[str(n)])), 0.5) for n in range(1, 8)]
        found = names.named(self.things(looks), Palette.of_game(balls), balls)
        self.assertEqual([found[key].ball for key in range(16)], list(balls))

    def test_reds_are_numbered_and_colours_are_one_each(self):
        balls = balls_of("snooker")
        kinds = ("red", "pink", "red", "black", "cue", "red")
        looks = [Look(tuple(lab_of(SNOOKER[kind])), 0.97 if kind == "cue" else 0.03) for kind in kinds]
        found = names.named(self.things(looks), Palette.of_game(balls), balls)
        self.assertEqual([found[k].ball for k in range(6)], ["red1", "pink", "red2", "black", "cue", "red3"])

    def test_what_a_person_says_wins_and_teaches(self):
        balls = balls_of("nine_ball")
        palette = Palette.of_game(balls)
        odd = Look((60.0, 60.0, 0.0), 0.1)
        found = names.named(self.things([odd]), palette, balls, {0: "6"})
        self.assertEqual(found[0], names.Named("6", 1.0))
        before = palette.cost(odd, "6")
        palette.learn("6", odd, 0.5)
        self.assertLess(palette.cost(odd, "6"), before / 2)

    def test_what_is_struck_is_the_cue_ball_though_it_looks_like_another(self):
        balls = balls_of("nine_ball")
        violet, white = Look(tuple(lab_of(POOL["4"])), 0.1), Look(tuple(lab_of(POOL["cue"])), 0.9)
        things = self.things([violet, white])
        self.assertEqual(names.named(things, Palette.of_game(balls), balls)[0].ball, "4")
        things[0].looks = [Look((60.0, 8.0, -12.0), 0.4)]  # a white one, small, its colour smeared with cloth
        things[1].looks = [Look((70.0, 4.0, 0.0), 0.7)]
        things[0].struck, things[1].struck = 3, -3
        self.assertEqual(names.named(things, Palette.of_game(balls), balls)[0].ball, "cue")

    def test_a_film_of_pale_colours_is_told_by_all_balls_together(self):
        balls = balls_of("eight_ball")
        palette = Palette.of_game(balls)

        def pale(ball, white):
            light, *colours = lab_of(POOL[ball])
            return Look((light, 0.62 * colours[0], 0.62 * colours[1]), white)

        looks = [Look(tuple(lab_of(POOL["cue"])), 0.97)]
        looks += [pale(str(n), 0.1) for n in range(1, 9)] + [pale(str(n), 0.5) for n in range(1, 8)]
        things = self.things(looks)
        self.assertEqual(names.faded(things, palette, balls), 0.6)
        sure = [name.sure for name in names.named(things, palette, balls).values()]
        palette.fade = 0.6
        found = names.named(things, palette, balls)
        self.assertEqual([found[key].ball for key in range(16)], list(balls))
        self.assertGreater(np.mean([name.sure for name in found.values()]), np.mean(sure))
        # What is taught is what white light would show.
        palette.learn("3", looks[3], 1.0)
        self.assertLess(float(np.abs(palette.colours["3"] - lab_of(POOL["3"]))[1:].max()), 4.0)
        # Of few things nothing is told.
        self.assertEqual(names.faded(things[:3], palette, balls), 0.6)

    def test_a_ball_that_lies_long_teaches_no_more_than_others(self):
        balls = balls_of("nine_ball")
        palette = Palette.of_game(balls)
        naming, dull = Naming(palette, balls), Look((30.0, -25.0, 8.0), 0.1)
        (thing,) = self.things([dull])
        for _ in range(40):
            naming.learn([thing])
        once = palette.colours["6"].copy()
        self.assertLess(float(np.abs(once - lab_of(POOL["6"])).max()), 3.0)
        for _ in range(40):
            thing.looks.append(Look((30.0, -25.0, 8.0), 0.1))
            naming.learn([thing])
        self.assertLess(float(np.abs(palette.colours["6"] - lab_of(POOL["6"])).max()), 6.0)

    def test_what_lay_there_while_a_higher_ball_was_met_first_is_no_lower_one(self):
        """A yellow ball of which hardly any white is seen: the 1, unless the 2 was met first beside it."""
        balls = balls_of("ten_ball")
        looks = [Look(tuple(lab_of(POOL["cue"])), 0.97), Look(tuple(lab_of(POOL["2"])), 0.1)]
        looks += [Look(tuple(lab_of(POOL["1"])), 0.22)]
        things, palette = self.things(looks), Palette.of_game(balls)
        self.assertEqual(names.named(things, palette, balls)[2].ball, "1")
        met = [(1, frozenset({2}))] * 3
        found = names.named(things, palette, balls, met=met)
        self.assertEqual([found[key].ball for key in range(3)], ["cue", "2", "9"])
        # A foul now and then does not outweigh paint that is well seen.
        things[2].looks = [Look(tuple(lab_of(POOL["1"])), 0.03)]
        self.assertEqual(names.named(things, palette, balls, met=met[:1])[2].ball, "1")
        # Only where the lowest is met first.
        for lowest_first, ball in ((True, "9"), (False, "1")):
            things[2].looks = [Look(tuple(lab_of(POOL["1"])), 0.22)]
            naming = Naming(palette, balls, lowest_first=lowest_first)
            self.assertEqual(naming.named(things, met)[2].ball, ball)

    def test_a_pushed_ball_is_that_ball_though_it_turned(self):
        """Balls do not come from nowhere: what lies near to where one is gone is that one, however unlike."""
        spec = table_spec({"preset": "pool_9ft"})
        striped, plain = Look((70.0, 5.0, 60.0), 0.5), Look((35.0, 50.0, 30.0), 0.0)
        lay = Thing(7, place=(1.2, 0.6), looks=[striped])
        for away, wanted in ((0.1, {0: lay}), (0.8, {})):
            seen = Seen((1.2 + away, 0.6), 1.0)
            self.assertEqual(matched([seen], [plain], [lay], {}, spec), wanted)

    def test_no_ball_lies_in_a_cushion(self):
        spec = table_spec({"preset": "pool_9ft"})
        for place, there in (
            ((0.04, 0.12), True),  # at the cushion
            ((0.0, 0.12), False),  # half in it
            ((0.01, 0.02), True),  # in the mouth of a corner pocket
            ((1.27, -0.01), True),  # in that of a side pocket
            ((1.0, -0.01), False),
        ):
            self.assertEqual(_on_table(place, spec), there, place)

    def test_two_alike_are_not_sure(self):
        balls = balls_of("nine_ball")
        between = Look(tuple((lab_of(POOL["3"]) + lab_of(POOL["7"])) / 2), 0.1)
        found = names.named(self.things([between]), Palette.of_game(balls), balls)
        self.assertLess(found[0].sure, 0.9)


class TheTable(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        reader = FilmReader(build_index(film_path()))
        cls.addClassCleanup(reader.close)
        cls.picture = small(reader.frame(20))

    def test_it_is_found_with_its_ends(self):
        found = find_table(self.picture, SPEC)
        true = Camera.from_data(film_truth()["camera"])
        grid = [(x, y, SPEC.ball_radius) for x in np.linspace(0.1, 2.4, 9) for y in np.linspace(0.1, 1.2, 5)]
        places = scaled(found.camera, 2).places(true.project(grid), SPEC.ball_radius)
        off = 1000 * np.hypot(*(places - np.array(grid)[:, :2]).T)
        self.assertLess(float(np.median(off)), 10)
        self.assertLess(float(np.percentile(off, 95)), 30)
        self.assertGreater(found.sure, 0.9)

    def test_half_a_table_is_none(self):
        cut = self.picture[:, : self.picture.shape[1] // 2]
        with self.assertRaises(NoTable):
            find_table(np.ascontiguousarray(cut), SPEC)

    def test_a_picture_without_a_table_is_refused_with_a_sentence(self):
        noise = np.random.default_rng(1).integers(0, 255, (180, 320, 3), dtype=np.uint8)
        with self.assertRaisesRegex(NoTable, r"set .* by hand\.$"):
            find_table(noise, SPEC)


class HowRight(unittest.TestCase):
    TRUE: ClassVar = {
        "t_strike": 5.0,
        "t_all_at_rest": 8.0,
        "before": {"cue": [1.0, 0.5], "red3": [2.0, 0.5], "blue": [1.5, 0.9]},
        "after": {"cue": [1.2, 0.5], "blue": [1.5, 0.9]},
        "potted": [{"ball": "red3", "pocket": "foot_left", "t": 6.0}],
        "first_contact": "red3",
    }
    READ: ClassVar = {
        "t_strike": 5.1,
        "t_rest": 7.9,
        "before": {"cue": [1.0, 0.501], "red1": [2.0, 0.5], "green": [1.5, 0.9]},
        "after": {"cue": [1.2, 0.5], "blue": [0.3, 0.3]},
        "facts": {"first_contact": "red1", "potted": [{"ball": "red1", "pocket": "foot_left"}]},
        "proposed": {"/t_strike": 0.95, "/before/green": 0.95, "/after/blue": 0.5, "/facts/potted": 0.92},
    }

    def test_counts_by_hand(self):
        found = compared([self.READ, {**self.READ, "t_strike": 30.0}], {"shots": [self.TRUE]})
        self.assertEqual((found.shots, found.found, found.false), (1, 1, 1))
        self.assertEqual((found.balls, found.balls_found, found.invented), (5, 4, 1))
        self.assertEqual((found.named, found.pots, found.pots_right), (3, 1, 1))
        # Two strikes, a green that is a blue, one pot: three right of four... and the false strike.
        self.assertEqual((found.sure, found.sure_right), (4, 2))
        self.assertEqual(found.as_data()["potted"], 1.0)

    def test_what_people_hide_need_not_be_found(self):
        hidden = [{"ball": "blue", "t0": 4.0, "t1": 9.0, "min_visible": 0.0}]
        found = compared([self.READ], {"shots": [self.TRUE], "occlusion_notes": hidden})
        self.assertEqual(found.balls, 3)


class Recordings(unittest.TestCase):
    RECIPE = Recipe(
        "nine_ball", "side", "teal", shots=2, balls=("1", "4", "9"), size=(320, 180), rate=10, seed=3
    )

    @classmethod
    def setUpClass(cls):
        cls.show = invent(cls.RECIPE)

    def test_a_recipe_gives_the_same_play_with_its_truth(self):
        show = self.show
        self.assertEqual(show.shots, invent(self.RECIPE).shots)
        truth = truth_of("small", self.RECIPE, show)
        self.assertEqual(truth["n_frames"], len(show.moments))
        for shot in truth["shots"]:
            fallen = {p["ball"] for p in shot["potted"]}
            self.assertEqual(set(shot["before"]) - fallen, set(shot["after"]))
            self.assertLess(shot["t_strike"], shot["t_all_at_rest"])
        json.dumps(truth)

    def test_the_camera_sees_the_table_where_the_truth_says(self):
        truth = truth_of("small", self.RECIPE, self.show)
        seen = truth["camera"]["corners_at_nose_height"]["foot_left"]
        true = side_camera(SPEC, 320, 180).project([[SPEC.length, SPEC.width, truth["nose_height"]]])[0]
        self.assertLess(float(np.hypot(*(np.array(seen) - true))), 0.01)


class BadFilms(unittest.TestCase):
    def test_a_film_that_is_none_is_refused(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "no.mp4"
            path.write_bytes(b"nothing")
            with self.assertRaises(FilmError):
                build_index(path)

    def test_a_film_that_ends_early_is_read_to_its_end(self):
        whole = film_path().read_bytes()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "cut.mp4"
            path.write_bytes(whole[: len(whole) * 2 // 9])
            camera = Camera.from_data(film_truth()["camera"])
            reading = FilmReading(build_index(path), "nine_ball", SPEC, camera)
            try:
                self.assertTrue(reading.run())
            finally:
                reading.close()
        self.assertIn("read up to", reading.ended_early)
        self.assertGreaterEqual(len(reading.shots()), 1)

    def test_a_film_read_on_from_its_last_shot_says_that_nothing_more_came(self):
        index = build_index(film_path())
        end_s = index.time_s(len(index) - 1)
        reading = FilmReading(
            index, "nine_ball", SPEC, Camera.from_data(film_truth()["camera"]), "f", end_s - 1
        )
        try:
            self.assertTrue(reading.run())
        finally:
            reading.close()
        self.assertEqual(
            reading.notice,
            f"No further shot was found in this film after {end_s - 1:.0f} s, where it was read from.",
        )


@unittest.skipUnless(SHARED.is_dir(), "the shared recordings are not there")
class OtherRenderer(unittest.TestCase):
    """Rendered by a path tracer, with exact truth: the targets of docs/reading.md."""

    def read(self, name, game, table):
        truth = json.loads((SHARED / f"{name}.truth.json").read_text(encoding="utf-8"))
        reading = FilmReading(build_index(SHARED / f"{name}.mp4"), game, table_spec({"preset": table}), None)
        try:
            reading.run()
        finally:
            reading.close()
        return compared([shot.values for shot in reading.shots()], truth).as_data()

    def check(self, found):
        self.assertGreaterEqual(found["shots_found"], 0.95)
        self.assertLessEqual(found["shots_false"], 0.05)
        self.assertLessEqual(found["off_median_mm"], 10)
        self.assertLessEqual(found["off_95_mm"], 30)
        self.assertGreaterEqual(found["balls_found"], 0.95)
        self.assertLessEqual(found["balls_invented"], 0.03)
        self.assertGreaterEqual(found["identity"], 0.95)
        self.assertGreaterEqual(found["potted"], 0.9)
        self.assertGreaterEqual(found["values_sure"], 0.5)
        self.assertGreaterEqual(found["sure_right"], 0.97)

    def test_eight_ball_from_the_side(self):
        self.check(self.read("clip2", "eight_ball", "pool_9ft"))

    def test_snooker_from_the_end(self):
        self.check(self.read("clip4", "snooker", "snooker_12ft"))
