"""Ways that the simulator makes raise no doubt; ways that were pieced together from two balls' do."""

import math
import unittest

import numpy as np

from ripasso.core.physics.motion import Motion, simulate
from ripasso.core.physics.strokes import Stroke
from ripasso.core.planning.problem import Problem
from ripasso.core.table import table_spec
from ripasso.film.reading.identity.names import Named
from ripasso.film.reading.motion.shots import ReadShot, simple_path
from ripasso.film.reading.motion.tracks import Point
from ripasso.film.reading.motion.witness import doubtful, doubts
from ripasso.film.reading.telling import told

SPEC = table_spec({"preset": "pool_9ft"})
RATE, NOISE_M, SHOTS = 30.0, 0.003, 150
#: Of honest shots so many may be doubted.
FALSE_ALARMS = 0.03


def seen(motion: Motion, ball: str, random: np.random.Generator) -> list[tuple[float, float, float]]:
    """The way of a ball as a film shows it: while it is on the table and moves."""
    times = np.arange(0.0, motion.duration, 1 / RATE)
    places = motion.places(ball, times)
    kept = np.isfinite(places).all(axis=1)
    points = [
        Point(i, float(t), tuple(map(float, place + random.normal(0, NOISE_M, 2))), 1.0, (0.0, 0.0, 0.0))
        for i, (t, place) in enumerate(zip(times[kept], places[kept], strict=True))
    ]
    return simple_path(points)


def shot(number: int) -> tuple[Motion, dict[str, list[tuple[float, float, float]]]]:
    """A shot at one of three balls with any pace and tip, and the ways of what moved."""
    random = np.random.default_rng((5, number))
    while True:
        places = [tuple(map(float, random.uniform((0.1, 0.1), (2.4, 1.15)))) for _ in range(4)]
        if min(math.dist(a, b) for i, a in enumerate(places) for b in places[:i]) > 0.12:
            break
    layout = dict(zip(("cue", "1", "2", "3"), places, strict=True))
    problem = Problem("nine_ball", SPEC, layout, ("1",))
    to = math.atan2(places[1][1] - places[0][1], places[1][0] - places[0][0])
    stroke = Stroke(
        to + float(random.uniform(-0.04, 0.04)),
        float(random.uniform(0.6, 6.0)),
        *map(float, random.uniform(-0.33, 0.33, 2)),
    )
    motion = simulate(layout, stroke, problem.bed, problem.physics)
    rest = motion.rest()
    ran = [ball for ball in layout if ball not in rest or math.dist(rest[ball], layout[ball]) > 0.05]
    return motion, {ball: seen(motion, ball, random) for ball in ran}


def against(motion: Motion, ways: dict[str, list[tuple[float, float, float]]]):
    keys = {ball: number for number, ball in enumerate(motion.balls)}
    before = {keys[b]: tuple(map(float, motion.start[keys[b], :2])) for b in motion.balls}
    after = {keys[b]: place for b, place in motion.rest().items()}
    return doubtful({keys[b]: way for b, way in ways.items()}, before, after, motion.duration, SPEC)


class Honest(unittest.TestCase):
    def test_simulated_shots_are_hardly_ever_doubted(self):
        told_of = [against(*shot(number)) for number in range(SHOTS)]
        wrong = [found for found in told_of if found]
        self.assertLessEqual(len(wrong), FALSE_ALARMS * SHOTS, wrong)


class Mixed(unittest.TestCase):
    def test_a_way_that_goes_on_as_another_ball_is_doubted(self):
        """As far as the two balls end far apart: near each other nobody could tell."""
        caught = tried = 0
        for number in range(SHOTS):
            motion, ways = shot(number)
            rest = motion.rest()
            if not {"cue", "1"} <= set(ways) & set(rest) or math.dist(rest["cue"], rest["1"]) < 0.3:
                continue
            half = 0.5 * motion.duration
            swapped = {
                "cue": [p for p in ways["cue"] if p[0] < half] + [p for p in ways["1"] if p[0] >= half],
                "1": [p for p in ways["1"] if p[0] < half] + [p for p in ways["cue"] if p[0] >= half],
            }
            if len(swapped["cue"]) < 3 or len(swapped["1"]) < 3:
                continue
            tried += 1
            caught += bool(against(motion, ways | swapped))
        self.assertGreater(tried, 20)
        self.assertGreaterEqual(caught / tried, 0.95)

    def test_each_doubt_by_itself(self):
        far = [[(2.0, 1.1)]]
        for way, end, wanted in (
            ([(0.0, 0.4, 0.4), (0.1, 2.0, 0.4)], (2.0, 0.4), "fast"),
            ([(0.0, 0.4, 0.6), (1.0, 0.6, 0.6), (1.2, 1.8, 0.6)], (1.8, 0.6), "speeds up"),
            ([(0.0, 0.4, 0.6), (0.5, 1.2, 0.6), (1.0, 1.2, 0.9)], (1.2, 0.9), "turns"),
            ([(0.0, 0.4, 0.6), (1.0, 1.2, 0.6), (2.0, 1.4, 0.6)], (0.9, 0.3), "ends elsewhere"),
        ):
            with self.subTest(wanted):
                self.assertEqual([doubt for _, doubt in doubts(way, end, 2.0, far, SPEC)], [wanted])

    def test_a_cushion_a_ball_and_a_pocket_are_reasons_to_turn(self):
        for place in ((1.2, 1.235), (2.5, 0.05), (1.0, 0.6)):
            way = [(0.0, place[0] - 0.4, 0.6), (0.5, *place), (1.2, place[0] - 0.3, 0.75)]
            found = doubts(way, way[-1][1:], 1.2, [[(1.0, 0.66)]], SPEC)
            self.assertEqual(found, [], place)


class Told(unittest.TestCase):
    def read(self, end):
        way = [(1.0, 0.4, 0.6), (2.0, 1.2, 0.6), (3.0, 1.4, 0.6)]
        read = ReadShot(0, 1.0, 3.0, {1: (0.4, 0.6)}, {1: end}, 1, path={1: way})
        read.sure |= {"t_strike": 0.9, "t_rest": 0.9, "first_contact": 0.9}
        return told(read, {1: Named("cue", 1.0)}, "film", SPEC)["proposed"]

    def test_a_doubted_way_is_told_with_little_confidence(self):
        right, wrong = self.read((1.4, 0.6)), self.read((0.5, 0.2))
        self.assertEqual(right["/path"], 0.9)
        self.assertLess(wrong["/path"], 0.5)
        self.assertLess(wrong["/facts/first_contact"], right["/facts/first_contact"])


if __name__ == "__main__":
    unittest.main()
