"""A slow second opinion on how balls move: small steps, events found by halving a step.

Written from the equations in vector form; it shares nothing with the program.
"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from pathlib import Path

import numpy as np

CASES = 20
#: What this integrator made of them; `python -m tests.core.physics.slow_motion` works them out again.
ANSWERS = Path(__file__).with_name("slow_cases.json")
STEP_S, HALVINGS, LONGEST_S = 0.004, 60, 60.0
UP = np.array([0.0, 0.0, 1.0])
DEFAULT = {
    "R": 0.028575,
    "m": 0.170097,
    "g": 9.81,
    "mu_s": 0.2,
    "mu_r": 0.01,
    "mu_sp": 0.0117,
    "e_b": 0.95,
    "mu_b": [9.951e-3, 0.108, 1.088],
    "e_c": 0.85,
    "mu_c": 0.2,
    "h_ratio": 0.635,
}


@dataclass
class Ball:
    """Centre, velocity and spin as three-vectors; what it does; the slip or the way it set out with."""

    p: np.ndarray
    v: np.ndarray
    w: np.ndarray
    mode: str = "rest"
    begun: np.ndarray | None = None
    pocket: int | None = None


class Slow:
    """Balls of one case."""

    def __init__(self, params, table, balls):
        self.k, self.table, self.t = params, table, 0.0
        self.balls = [Ball(np.array([*b[:2], 0.0]), np.array([*b[2:4], 0.0]), np.array(b[4:])) for b in balls]
        self.events = []
        for ball in self.balls:
            self._set_mode(ball)

    def _slip(self, ball):
        return ball.v + np.cross(ball.w, -self.k["R"] * UP)

    def _set_mode(self, ball):
        slip = self._slip(ball)
        if np.linalg.norm(slip) > 1e-9:
            ball.mode, ball.begun = "slide", slip
        elif np.linalg.norm(ball.v) > 1e-9:
            ball.mode, ball.begun = "roll", ball.v.copy()
            ball.w[:2] = np.cross(UP, ball.v)[:2] / self.k["R"]
        else:
            ball.v[:], ball.w[:2] = 0.0, 0.0
            ball.mode = "spin" if abs(ball.w[2]) > 1e-9 else "rest"

    def _rates(self, ball):
        k = self.k
        decay = 5 * k["mu_sp"] * k["g"] / (2 * k["R"])
        turn = np.array([0.0, 0.0, -decay * np.sign(ball.w[2])])
        if ball.mode == "slide":
            # The slip keeps its direction to its end: followed from step to step it would tremble about 0.
            force = -k["mu_s"] * k["g"] * ball.begun / np.linalg.norm(ball.begun)
            return force, 2.5 / k["R"] ** 2 * np.cross(-k["R"] * UP, force) + turn
        if ball.mode == "roll":
            force = -k["mu_r"] * k["g"] * ball.begun / np.linalg.norm(ball.begun)
            return force, np.cross(UP, force) / k["R"] + turn
        return np.zeros(3), turn

    def _moved(self, ball, h):
        """Position, velocity and spin after a step."""
        if ball.mode == "rest" or ball.pocket is not None:
            return ball.p, ball.v, ball.w
        p, v, w = ball.p, ball.v, ball.w
        a, b = self._rates(ball)  # while a ball does the same they do not change
        spin = w + h * b
        if spin[2] * w[2] <= 0:  # the upright spin ends within the step
            spin[2] = 0.0
        return p + h * v + h * h / 2 * a, v + h * a, spin

    def _due(self, h):
        """What has happened after a step: the first kind of event that is found."""
        after = [self._moved(ball, h) for ball in self.balls]
        for i, ball in enumerate(self.balls):
            due = self._ended(ball, *after[i]) or self._met(ball, *after[i])
            if due is not None:
                return due[0], i, due[1]
        for i, one in enumerate(self.balls):
            for j in range(i + 1, len(self.balls)):
                if one.pocket is not None or self.balls[j].pocket is not None:
                    continue
                apart, speed = after[j][0] - after[i][0], after[j][1] - after[i][1]
                if np.linalg.norm(apart) < 2 * self.k["R"] and apart @ speed < 0:
                    return ("ball_ball", i, j)
        return None

    def _ended(self, ball, _p, v, w):
        if ball.mode == "slide" and (v + np.cross(w, -self.k["R"] * UP)) @ ball.begun <= 0:
            return ("slide_end", None)
        if ball.mode == "roll" and v @ ball.begun <= 0:
            return ("roll_end", None)
        if ball.mode == "spin" and w[2] == 0.0:
            return ("spin_end", None)
        return None

    def _met(self, ball, p, v, _w):
        if ball.pocket is not None or ball.mode == "rest":
            return None
        for number, (x, y, r) in enumerate(self.table["pockets"]):
            if math.hypot(p[0] - x, p[1] - y) < r <= math.hypot(ball.p[0] - x, ball.p[1] - y):
                return ("pocket", number)
        for name, normal, limit in self._walls():
            if p @ normal > limit and v @ normal > 0:
                return ("cushion", (name, normal))
        return None

    def _walls(self):
        if not self.table["cushions"]:
            return ()
        d = self.table["d_c"]
        return (
            ("foot", np.array([1.0, 0, 0]), self.table["L"] - d),
            ("head", np.array([-1.0, 0, 0]), -d),
            ("left", np.array([0, 1.0, 0]), self.table["W"] - d),
            ("right", np.array([0, -1.0, 0]), -d),
        )

    def _go(self, h):
        for ball in self.balls:
            ball.p, ball.v, ball.w = self._moved(ball, h)
        self.t += h

    def run(self):
        """Until all lies still."""
        while any(b.mode != "rest" and b.pocket is None for b in self.balls) and self.t < LONGEST_S:
            due = self._due(STEP_S)
            if due is None:
                self._go(STEP_S)
                continue
            low, high = 0.0, STEP_S
            for _ in range(HALVINGS):
                middle = (low + high) / 2
                found = self._due(middle)
                if found is None:
                    low = middle
                else:
                    high, due = middle, found
            self._go(high)
            self._happen(*due)
        return self

    def _happen(self, kind, i, what):
        ball, k = self.balls[i], self.k
        self.events.append((self.t, kind, i))
        if kind == "pocket":
            ball.pocket, ball.mode = what, "rest"
            return
        if kind == "slide_end":
            ball.w[:2] = np.cross(UP, ball.v)[:2] / k["R"]
        elif kind == "roll_end":
            ball.v[:], ball.w[:2] = 0.0, 0.0
        elif kind == "spin_end":
            ball.w[2] = 0.0
        elif kind == "cushion":
            self._rebound(ball, what[1])
        elif kind == "ball_ball":
            self._collide(ball, self.balls[what])
            self._set_mode(self.balls[what])
        self._set_mode(ball)

    def _collide(self, one, two):
        k = self.k
        n = (two.p - one.p) / np.linalg.norm(two.p - one.p)
        u = one.v - two.v + np.cross(k["R"] * (one.w + two.w), n)
        un = u @ n
        ut = u - un * n
        s = np.linalg.norm(ut)
        pn = k["m"] * max((1 + k["e_b"]) / 2 * un, (un + 1e-4) / 2)
        mu = k["mu_b"][0] + k["mu_b"][1] * math.exp(-k["mu_b"][2] * s)
        jt = -min(k["m"] * s / 7, mu * pn) * ut / s if s > 0 else np.zeros(3)
        one.v, two.v = one.v + (jt - pn * n) / k["m"], two.v - (jt - pn * n) / k["m"]
        one.v[2] = two.v[2] = 0.0
        turn = 2.5 / (k["m"] * k["R"]) * np.cross(n, jt)
        one.w, two.w = one.w + turn, two.w + turn

    def _rebound(self, ball, wall):
        k = self.k
        sine = 2 * k["h_ratio"] - 1
        nose = math.sqrt(1 - sine**2) * wall + sine * UP  # from the centre to the nose
        point = k["R"] * nose
        u = ball.v + np.cross(ball.w, point)
        un = u @ nose
        ut = u - un * nose
        s = np.linalg.norm(ut)
        pn = (1 + k["e_c"]) * k["m"] * un
        jt = -min(2 / 7 * k["m"] * s, k["mu_c"] * pn) * ut / s if s > 0 else np.zeros(3)
        ball.v = ball.v + (jt - pn * nose) / k["m"]
        ball.v[2] = 0.0
        ball.w = ball.w + 2.5 / (k["m"] * k["R"] ** 2) * np.cross(point, jt)


def invented(number):
    """A case from a number: one ball to six, with cushions and pockets or without; constants varied."""
    random = np.random.default_rng(900 + number)
    k = {**DEFAULT, "mu_s": float(random.uniform(0.15, 0.25)), "e_c": float(random.uniform(0.7, 0.95))}
    k["mu_r"] = float(random.uniform(0.008, 0.02))
    length, width, d = 2.54, 1.27, k["R"]
    count = 1 + number % 6
    places = []
    while len(places) < count:
        place = random.uniform([0.15, 0.15], [length - 0.15, width - 0.15])
        if all(np.linalg.norm(place - other) > 0.12 for other in places):
            places.append(place)
    to = places[1] - places[0] if count > 1 else random.normal(size=2)
    phi = math.atan2(to[1], to[0]) + random.uniform(-0.03, 0.03)
    if number % 6 == 2:
        phi = math.atan2(width - places[0][1], length - places[0][0])  # at a pocket
    speed = random.uniform(0.8, 2.5)
    spin = random.uniform(-40, 40, 3) * (number % 6 != 2)
    balls = [[*map(float, place), 0.0, 0.0, 0.0, 0.0, 0.0] for place in places]
    balls[0][2:] = [speed * math.cos(phi), speed * math.sin(phi), *map(float, spin)]
    holes = [[x, y, 0.065 if x != length / 2 else 0.06] for x in (0, length / 2, length) for y in (0, width)]
    with_walls = number % 3 != 0
    table = {"cushions": with_walls, "L": length, "W": width, "d_c": d}
    table["pockets"] = holes if number % 3 == 2 else []
    return {"params": k, "table": table, "states": balls}


def answered(case):
    """The case with where its balls lie at the end and when what happens."""
    slow = Slow(case["params"], case["table"], case["states"]).run()
    final = [
        {"x": float(b.p[0]), "y": float(b.p[1]), "state": "rest" if b.pocket is None else "pocketed"}
        for b in slow.balls
    ]
    events = [[float(t), kind, i] for t, kind, i in slow.events]
    return {**case, "final": final, "events": events}


def kept_answers():
    """The cases with their answers, as they were worked out by `main`."""
    return json.loads(ANSWERS.read_text(encoding="utf-8"))


def main():
    """Work every case out again; it takes some time."""
    cases = [answered(invented(number)) for number in range(CASES)]
    ANSWERS.write_text(json.dumps(cases) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
