"""The search for the moment two balls meet, against roots of the polynomial and fine sampling."""

import math
import unittest

import numpy as np

from ripasso.core.physics.contacts import line_meeting, meeting

R = 0.028575
REACH = 2 * R
#: Gaps nearer to nothing than this are neither hit nor miss (square metres).
GRAZING = 2e-13


def pairs(count, seed):
    """Relative places, speeds, accelerations and ends of ways: aimed, random, grazing, touching."""
    random = np.random.default_rng(seed)
    for number in range(count):
        turn = random.uniform(0, 2 * math.pi)
        far = REACH if number % 4 == 3 else random.uniform(REACH, 1.5)
        d = far * np.array([math.cos(turn), math.sin(turn)])
        speed = 10 ** random.uniform(-3, 1)
        if number % 4 == 0:  # straight at it
            way = turn + math.pi + random.normal(0, 0.02)
        elif number % 4 == 1:  # grazing it
            way = turn + math.pi + random.choice((-1, 1)) * math.asin(min(1.0, REACH / far))
            way += random.normal(0, 1e-5)
        else:
            way = random.uniform(0, 2 * math.pi)
        v = speed * np.array([math.cos(way), math.sin(way)])
        push, to = random.uniform(0, 4), random.uniform(0, 2 * math.pi)
        a = push * np.array([math.cos(to), math.sin(to)]) * (random.random() < 0.8)
        yield d, v, a, random.uniform(0.01, 1.5)


def by_roots(d, v, a, end):
    """The first real root of the quartic in the way at which the gap falls; infinite where there is none."""
    c = [0.25 * (a @ a), v @ a, v @ v + d @ a, 2 * (d @ v), d @ d - REACH**2]
    roots = np.roots(np.trim_zeros(c, "f")) if any(abs(x) > 0 for x in c[:-1]) else np.array([])
    real = np.sort(roots[np.abs(roots.imag) < 1e-7 * (1 + np.abs(roots))].real)
    for t in real[(real > 1e-9) & (real <= end)]:
        place, speed = d + v * t + a * t * t / 2, v + a * t
        if place @ speed < 0:
            return float(t)
    return math.inf


def by_sampling(d, v, a, end, steps=4000):
    """The least gap on a fine net."""
    t = np.linspace(0, end, steps)[:, None]
    place = d + v * t + a * t * t / 2
    return float(((place**2).sum(axis=1) - REACH**2).min())


class Meetings(unittest.TestCase):
    def test_ten_thousand_pairs(self):
        met = grazed = 0
        for d, v, a, end in pairs(10_000, 11):
            mine = meeting(*d, *v, *a, REACH, end)
            if abs(d @ d - REACH**2) < 1e-12:
                # Touching: at once where they approach, never at once where they part.
                approach = d @ v
                if approach < -1e-9:
                    self.assertEqual(mine, 0.0)
                elif approach > 1e-9:
                    self.assertGreater(mine, 0.0)
                continue
            other = by_roots(d, v, a, end)
            if math.isinf(mine) != math.isinf(other):
                # Only where they touch by less than rounding may two opinions differ.
                t = min(mine, other)
                near = np.linspace(max(0, t - 1e-3), min(end, t + 1e-3), 2001)[:, None]
                place = d + v * near + a * near**2 / 2
                least = float(((place**2).sum(axis=1) - REACH**2).min())
                self.assertGreater(least, -1e-9)
                grazed += 1
                continue
            if math.isinf(mine):
                self.assertGreater(by_sampling(d, v, a, end), -1e-9)
                continue
            met += 1
            place, speed = d + v * mine + a * mine**2 / 2, v + a * mine
            self.assertLess(abs(place @ place - REACH**2), 1e-13)
            # A thin contact moves in time by the root of the rounding.
            steep = abs(2 * (place @ speed))
            self.assertLess(abs(mine - other), 1e-10 + 1e-12 / max(steep, 1e-7))
        self.assertGreater(met, 800)
        self.assertLess(grazed, 20)

    def test_a_line_is_met_from_before_it(self):
        self.assertAlmostEqual(line_meeting(1.0, -2.0, 0.0, 10.0), 0.5)
        self.assertEqual(line_meeting(1.0, -2.0, 0.0, 0.4), math.inf)
        self.assertEqual(line_meeting(1.0, 2.0, 0.0, 10.0), math.inf)
        # Pushed back before it gets there, and drawn there after it went away.
        self.assertEqual(line_meeting(1.0, -1.0, 1.0, 10.0), math.inf)
        self.assertAlmostEqual(line_meeting(1.0, 1.0, -1.0, 10.0), 1 + math.sqrt(3))
        self.assertEqual(line_meeting(0.0, -1.0, 0.0, 10.0), 0.0)
