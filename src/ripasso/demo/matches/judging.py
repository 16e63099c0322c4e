"""What the demo's analyst writes beside a shot that was played: stroke, plan, position, error, decision.

It is read off the motion that was wanted and the one that came of it, with an analyst's eye.
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.json_data import JsonObject
from ripasso.core.physics.motion import Motion
from ripasso.core.physics.players import Spreads
from ripasso.core.physics.strokes import Stroke, pace_of
from ripasso.core.planning.problem import Problem
from ripasso.core.table.places import Place
from ripasso.demo.matches.choosing import Choice

#: The zone of a plan, and how far off an aim point it is still good, metres.
ZONE_M, NEAR_M = 0.15, 0.15
#: A next pot of this chance is good whatever was aimed at; below the second one position is lost.
GOOD, LOST = 0.8, 0.45
#: A pot of this chance is missed unforced; of a position whose stroke is soft as well.
FAIR = 0.7
#: A pot is straight below this cut, degrees.
STRAIGHT_DEG = 4.0
#: How often the analyst says something of a decision, and what is worth saying of it.
SAYS, WORTH_SAYING = 0.85, 0.06
#: The roll of the cue ball when it meets the ball, as a share of rolling, by the name of the stroke.
KINDS = ((0.85, "roll"), (0.35, "run_through"), (-0.15, "stun"))


@dataclass(frozen=True)
class Seen:
    """One shot as the analyst sees it: what was thought of, what was chosen, wanted, and what came of it."""

    choices: Sequence[Choice]
    choice: Choice
    exact: Motion
    came: Motion
    spreads: Spreads


def judge(shot: JsonObject, seen: Seen, chance: random.Random) -> None:
    """Put into a shot what was meant and how it came out."""
    _decision(shot, seen, chance)
    choice = seen.choice
    if shot["intent"] != "pot" or choice.ball is None:
        return
    cut = signed_cut_deg(seen.exact)
    if cut is not None and abs(cut) >= STRAIGHT_DEG:
        shot["tags"] = ["cut_left" if cut > 0 else "cut_right"]
    shot["stroke"] = stroke_of(choice.stroke, seen.exact)
    made = any(pot["ball"] == choice.ball for pot in shot["facts"]["potted"])
    aim, wanted = seen.exact.rest().get("cue"), seen.exact.rest()
    after = choice.problem.after([choice.ball])
    goal = best_pot(choice.problem, wanted, after, seen.spreads) if after else None
    if goal is not None and aim is not None:
        centre = [round(aim[0], 4), round(aim[1], 4)]
        shot["plan"] = {
            "next_ball": goal[0],
            "aim_point": centre,
            "zone": {"circle": {"centre": centre, "radius": ZONE_M}},
        }
        options = _options(seen)
        if options and (shot.get("decision", {}).get("verdict") == "prefer_other" or chance.random() < 0.4):
            shot["plan"]["options"] = options
    if not made:
        _missed(shot, seen, chance)
    elif not choice.problem.wins([choice.ball]) and goal is not None and "cue" in seen.came.rest():
        _position(shot, seen, goal, after, chance)


def _missed(shot: JsonObject, seen: Seen, chance: random.Random) -> None:
    wanted, came = signed_cut_deg(seen.exact), signed_cut_deg(seen.came)
    if wanted is not None and came is not None:
        shot["result"] = {"contact": "thin" if abs(came) > abs(wanted) else "thick"}
    shot["error"] = {"kind": "pot", "unforced": seen.choice.chance + chance.gauss(0, 0.05) >= FAIR}


def _position(
    shot: JsonObject, seen: Seen, goal: tuple[str, float], after: Sequence[str], chance: random.Random
) -> None:
    """How good the position came out, and in which way it did not."""
    lies = seen.came.rest()
    found = best_pot(seen.choice.problem, lies, [ball for ball in after if ball in lies], seen.spreads)
    left, off = found[1] if found else 0.0, miss_of_aim(seen.exact, seen.came)
    along, across = off or (0.0, 0.0)
    is_near = math.hypot(along, across) <= NEAR_M
    if left >= min(GOOD, goal[1] - 0.05) or (is_near and left >= LOST):
        position = "good"
    else:
        position = "playable" if left >= LOST else "lost"
    result: JsonObject = {"position": position}
    if not is_near and abs(along) >= abs(across):
        result["pace"] = "long" if along > 0 else "short"
    elif not is_near and position != "good":
        result["side"] = "wrong"
    shot["result"] = result
    if position == "lost":
        shot["error"] = {"kind": "position", "unforced": goal[1] >= FAIR and chance.random() < 0.9}


def _decision(shot: JsonObject, seen: Seen, chance: random.Random) -> None:
    """What the analyst would rather have seen, with the two best ideas where he says so."""
    if shot["intent"] not in ("pot", "safety") or chance.random() > SAYS:
        return
    best = max(seen.choices, key=lambda one: one.value, default=None)
    if shot["intent"] == "safety" or best is None:
        shot["decision"] = {"verdict": "agree", "by": "analyst"}
        return
    given_away = best.value - seen.choice.value
    verdict = "prefer_other" if given_away >= WORTH_SAYING else "agree"
    shot["decision"] = {"verdict": verdict, "by": "analyst"}


def _options(seen: Seen) -> list[JsonObject]:
    """The stroke that was played and the best other one, as options of a plan."""
    others = [one for one in seen.choices if (one.ball, one.pocket) != (seen.choice.ball, seen.choice.pocket)]
    if not others or seen.choice.promise is None:
        return []
    other = max(others, key=lambda one: one.value)
    return [
        _option("played", seen.choice, chosen=True),
        _option("other", other, chosen=False),
    ]


def _option(name: str, choice: Choice, *, chosen: bool) -> JsonObject:
    assert choice.promise is not None
    leave = choice.promise.leave.value or 0.0
    title = f"The {choice.ball} into the {(choice.pocket or '').replace('_', ' ')} pocket"
    option = {"id": name, "title": title, "chance": round(choice.chance, 2), "leave": round(leave, 2)}
    return option | ({"chosen": True} if chosen else {})


def stroke_of(stroke: Stroke, exact: Motion) -> JsonObject:
    """The stroke in words: its kind by the roll with which the cue ball meets the ball, pace, tip."""
    kind = "roll"
    met = next((event for event in exact.events if event.kind == "ball_ball" and "cue" in event.balls), None)
    if met is not None:
        _, _, vx, vy, wx, wy, _ = met.before[met.balls.index("cue")]
        speed = math.hypot(vx, vy)
        roll = exact.physics.radius * (wy * vx - wx * vy) / max(speed * speed, 1e-9)
        kind = next((name for least, name in KINDS if roll > least), "draw")
        if kind == "roll" and stroke.b > 0.2:
            kind = "follow"
        elif kind in ("roll", "run_through") and stroke.b < -0.1:
            kind = "drag"
    pace = pace_of(stroke.speed)
    return {
        "kind": kind,
        "pace": "soft" if pace == "dead" else pace,
        "tip": [round(stroke.a, 2), round(stroke.b, 2)],
    }


def signed_cut_deg(motion: Motion) -> float | None:
    """How far the ball that is met first leaves the way the cue ball came (degrees, positive to the left)."""
    met = next((event for event in motion.events if event.kind == "ball_ball" and "cue" in event.balls), None)
    if met is None:
        return None
    cue = met.balls.index("cue")
    before, after = met.before[cue], met.after[1 - cue]
    turn = math.atan2(after[3], after[2]) - math.atan2(before[3], before[2])
    return math.degrees(math.remainder(turn, 2 * math.pi))


def best_pot(
    problem: Problem, lies: dict[str, Place], on: Sequence[str], spreads: Spreads
) -> tuple[str, float] | None:
    """The likeliest pot of a layout: its ball and chance."""
    if "cue" not in lies:
        return None
    book = PotBook(problem.spec)
    question = book.ask(lies["cue"], lies, on)
    book.solve(spreads.aim_mrad / 1000)
    best = question.best()
    return (best.ball, best.chance) if best is not None else None


def miss_of_aim(exact: Motion, came: Motion) -> tuple[float, float] | None:
    """How far the cue ball stopped from where it was to (m): along the last leg of its way, and across it."""
    aim, rest = exact.rest().get("cue"), came.rest().get("cue")
    if aim is None or rest is None:
        return None
    turns = [
        event
        for event in exact.events
        if "cue" in event.balls and event.kind in ("ball_ball", "cushion", "jaw")
    ]
    if not turns:
        return None
    state = turns[-1].after[turns[-1].balls.index("cue")]
    leg = (aim[0] - float(state[0]), aim[1] - float(state[1]))
    size = math.hypot(*leg)
    if size < 1e-3:
        return None
    off = (rest[0] - aim[0], rest[1] - aim[1])
    along = (off[0] * leg[0] + off[1] * leg[1]) / size
    across = (off[1] * leg[0] - off[0] * leg[1]) / size
    return along, across


def forget_judgement(shot: JsonObject) -> None:
    """What happened stays; what the analyst would say is not said yet."""
    shot.pop("error", None)
    shot.pop("decision", None)
    shot.get("plan", {}).pop("options", None)
    result = shot.get("result", {})
    for key in ("position", "pace", "side", "angle"):
        result.pop(key, None)
    if not result:
        shot.pop("result", None)
