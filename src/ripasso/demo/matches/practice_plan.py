"""Lioba's practice of some weeks: a plan, sets that were played, rolls of the table; invented, seeded."""

from __future__ import annotations

import json
import math
import random
from datetime import date, timedelta

from ripasso.core.json_data import JsonObject
from ripasso.core.practice.due import Goal, after_set, passed
from ripasso.demo.matches import scenario
from ripasso.review.practice.run_words import run_succeeds
from ripasso.review.record.model import FORMAT, VERSION, Session
from ripasso.review.record.practice import Exercise

FIRST = date(2026, 10, 26)
#: Exercises with the chance of a success at first and at last, and the days between which they were played.
EXERCISES: tuple[JsonObject, ...] = (
    {
        "id": "stop-5",
        "title": "Stop short on the 5",
        "kind": "one_shot",
        "layout": {"cue": [1.1, 0.4], "5": [1.7, 0.7], "6": [1.9, 1.2]},
        "target": {"ball": "5", "pocket": "foot_right"},
        "zone": {"circle": {"centre": [1.6, 0.66], "radius": 0.15}},
        "criteria": [
            {"id": "pot", "text": "the ball falls"},
            {
                "id": "area",
                "text": "the cue ball stops in the area",
                "zone": {"circle": {"centre": [1.6, 0.66], "radius": 0.15}},
            },
        ],
        "goal": {"share": 0.6},
        "attempts": 20,
        "minutes": 15,
        "from": {"session": scenario.FILM_ID, "rack": 1, "shot": 9},
    },
    {
        "id": "ladder-stun",
        "title": "Stun ladder",
        "kind": "ladder",
        "goal": {"made": 6, "of": 8},
        "attempts": 20,
        "minutes": 10,
        "rungs": ["two diamonds", "three diamonds", "four diamonds", "five diamonds"],
    },
    {
        "id": "lag",
        "title": "Lag to a hand",
        "kind": "lag",
        "goal": {"share": 0.5},
        "attempts": 10,
        "minutes": 5,
    },
    {
        "id": "ghost-seven",
        "title": "Ghost to seven",
        "kind": "ghost",
        "goal": {"made": 7, "of": 13},
        "attempts": 13,
        "minutes": 25,
    },
    {
        "id": "bank-or-safe",
        "title": "Bank or safe on the 3",
        "kind": "two_ways",
        "layout": {"cue": [0.9, 0.5], "3": [1.6, 1.24], "4": [0.5, 1.0]},
        "ways": ["bank to head right", "safe behind the 4"],
        "goal": {"share": 0.4},
        "attempts": 20,
        "minutes": 15,
    },
    {
        "id": "long-runs",
        "title": "Long runs, rack after rack",
        "kind": "run",
        "goal": {"share": 0.3},
        "attempts": 6,
        "minutes": 30,
    },
)
#: The chance of a success in the first set and in the last one; of a run that of each ball.
CHANCES = {
    "stop-5": (0.4, 0.85),
    "ladder-stun": (0.6, 0.7),
    "lag": (0.55, 0.6),
    "ghost-seven": (0.4, 0.5),
    "bank-or-safe": (0.4, 0.45),
    "long-runs": (0.9, 0.94),
}
SETS = 4
#: How much the table falls to the left (mm per metre); the ways of its rolls, along and across, both ways.
FALL = 2.2
WAYS = (
    ((0.4, 0.3), (2.1, 0.3)),
    ((2.2, 0.45), (0.5, 0.45)),
    ((0.4, 0.6), (2.1, 0.6)),
    ((0.8, 0.2), (0.8, 1.1)),
    ((2.2, 0.75), (0.5, 0.75)),
    ((0.4, 0.95), (2.1, 0.95)),
    ((1.4, 1.1), (1.4, 0.2)),
    ((2.2, 1.1), (0.5, 1.1)),
    ((0.4, 0.15), (2.1, 0.15)),
    ((1.8, 0.2), (1.8, 1.1)),
    ((1.1, 1.1), (1.1, 0.2)),
    ((0.4, 1.15), (2.1, 1.15)),
)


def practice() -> Session:
    """The session, always the same."""
    chance = random.Random("practice of lioba")
    exercises: list[JsonObject] = []
    sets: list[JsonObject] = []
    done: list[JsonObject] = []
    for place, exercise in enumerate(EXERCISES):
        day, level = FIRST + timedelta(days=place), 0
        runs: list[int] = []
        for number in range(1, SETS + 1):
            attempts = _attempts(exercise, number, chance, runs)
            outcomes = [_OUTCOMES[one.get("outcome")] for one in attempts]
            name = f"{exercise['id']}-{number}"
            kept: JsonObject = {
                key: exercise[key] for key in ("layout", "target", "criteria") if key in exercise
            }
            sets.append(
                {
                    "id": name,
                    "title": exercise["title"],
                    "exercise": exercise["id"],
                    "date": day.isoformat(),
                    "attempts": attempts,
                    **kept,
                }
            )
            is_passed = passed(outcomes, Goal(**exercise["goal"]))
            done.append(
                {"exercise": exercise["id"], "date": day.isoformat(), "set": name, "passed": is_passed}
            )
            standing = after_set(level, day, is_passed=is_passed)
            level = standing.level
            day = max(standing.due, day + timedelta(days=3))
        exercises.append({**exercise, "level": level, "due": standing.due.isoformat()})
    return Session.model_validate_json(json.dumps(_session(exercises, sets, done)))


_OUTCOMES = {"success": True, "failure": False, None: None}


def _attempts(exercise: JsonObject, number: int, chance: random.Random, runs: list[int]) -> list[JsonObject]:
    """The attempts of a set; `runs` are those before, where runs are counted."""
    first, last = CHANCES[exercise["id"]]
    share = first + (last - first) * (number - 1) / (SETS - 1)
    if exercise["kind"] == "run":
        return [_run(exercise, n, share, chance, runs) for n in range(1, exercise["attempts"] + 1)]
    attempts = []
    for n in range(1, exercise["attempts"] + 1):
        success = chance.random() < share
        attempt: JsonObject = {"number": n, "outcome": "success" if success else "failure"}
        if exercise["kind"] == "two_ways":
            attempt["way"] = (n - 1) % 2
        if success and "criteria" in exercise:
            attempt["met"] = {one["id"]: True for one in exercise["criteria"]}
        attempts.append(attempt)
    if exercise["id"] == "stop-5" and number == 2:
        attempts[8]["changed"] = [{"what": "height", "by": "a tip lower", "unit": "text"}]
    return attempts


def _run(
    exercise: JsonObject, number: int, ball: float, chance: random.Random, runs: list[int]
) -> JsonObject:
    """A run that ends with the first ball missed."""
    balls = 0
    while chance.random() < ball:
        balls += 1
    attempt: JsonObject = {"number": number, "count": balls}
    outcome = run_succeeds(Exercise.model_validate_json(json.dumps(exercise)), balls, runs)
    if outcome is not None:
        attempt["outcome"] = "success" if outcome else "failure"
    runs.append(balls)
    return attempt


def _session(exercises: list[JsonObject], sets: list[JsonObject], done: list[JsonObject]) -> JsonObject:
    return {
        "format": FORMAT,
        "version": VERSION,
        "id": scenario.PRACTICE_ID,
        "title": f"Practice, {scenario.LIOBA['name']}",
        "date": FIRST.isoformat(),
        "venue": scenario.VENUE,
        "kind": "practice",
        "game": "nine_ball",
        "table": {"preset": "pool_9ft"},
        "players": [scenario.LIOBA],
        "level": "club",
        "table_checks": _rolls(),
        "attempt_sets": sets,
        "practice_plan": {
            "player": "lioba",
            "minutes": 60,
            "days": ["mon", "wed", "fri"],
            "exercises": exercises,
            "done": sorted(done, key=lambda one: one["date"]),
        },
    }


def _rolls() -> list[JsonObject]:
    """Slow rolls on a table that falls a little to the left."""
    chance = random.Random("rolls of the lantern room")
    rolls: list[JsonObject] = []
    for number, (start, aim) in enumerate(WAYS):
        spin = ("none", "none", "left", "none", "right", "none")[number % 6]
        way = math.dist(start, aim)
        unit = ((aim[0] - start[0]) / way, (aim[1] - start[1]) / way)
        left = {"none": 0.0, "left": 2.5, "right": -2.5}[spin] + chance.gauss(0, 0.6)
        # The table falls to the left, seen from the head: along y.
        off = way * (left + FALL * unit[0]) / 1000
        stop = (aim[0] - off * unit[1], aim[1] + off * unit[0])
        rolls.append(
            {
                "kind": "roll",
                "spin": spin,
                "from": list(start),
                "aimed_at": list(aim),
                "stopped_at": [round(stop[0], 4), round(stop[1], 4)],
            }
        )
    return [*rolls, {"kind": "lag", "distance": 2.38, "seconds": 7.1}]
