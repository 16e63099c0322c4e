"""What the demo's analyst said of strokes, spin, roles, options and time: invented, seeded.

It fits the outcome, and two more habits are planted: Casimir misses more with side, and what Lioba plays with
draw runs long.
"""

from __future__ import annotations

import json
import random

from ripasso.core.json_data import JsonObject
from ripasso.core.rules import RackScore
from ripasso.review.record.model import Rack, Session, serialize
from ripasso.review.scoring.meant import meant_ball
from ripasso.review.scoring.scoring import score_of

KINDS = ("roll", "stun", "run_through", "follow", "draw", "drag")
PACES = ("soft", "medium", "firm", "power")
#: Seconds before a stroke and until all is at rest; the longest anybody thinks.
THINKS_S, RUNS_S, LONGEST_S = 19.0, 4.5, 90.0
#: The sessions that were marked by the clock, at the venue.
TIMED = ("demo-snooker",)


def with_words(session: Session) -> Session:
    """The session with what was said beside its results."""
    score = score_of(session)
    if score is None:
        return session
    chance, further = random.Random(f"words of {session.id}"), random.Random(f"more words of {session.id}")
    clock = _Clock(chance)
    racks = [
        _rack(session, rack, judged, chance, clock)
        for rack, judged in zip(session.racks or (), score.racks, strict=True)
    ]
    for shot in (shot for rack in racks for shot in rack["shots"]):
        _say_further(shot, further)
    return Session.model_validate_json(json.dumps({**serialize(session), "racks": racks}))


class _Clock:
    """Marks strikes and rests, one after the other."""

    def __init__(self, chance: random.Random) -> None:
        self._chance, self.now_s = chance, 12.0

    def mark(self, shot: JsonObject) -> None:
        """Put strike and rest into a shot."""
        self.now_s += min(LONGEST_S, 4.0 + self._chance.expovariate(1 / (THINKS_S - 4.0)))
        shot["t_strike"] = round(self.now_s, 1)
        self.now_s += self._chance.uniform(0.6, 1.4) * RUNS_S
        shot["t_rest"] = round(self.now_s, 1)


def _rack(
    session: Session, rack: Rack, judged: RackScore, chance: random.Random, clock: _Clock
) -> JsonObject:
    data = serialize(rack)
    shots = data["shots"]
    balls = [meant_ball(shot, own) for shot, own in zip(rack.shots or (), judged.shots, strict=True)]
    wanted = [ball for ball in dict.fromkeys(balls) if ball is not None and not ball.startswith("red")]
    trouble = chance.choice(wanted) if len(wanted) > 2 and chance.random() < 0.6 else None
    if trouble is not None:
        data["roles"] = {trouble: ["trouble"]}
    elif len(wanted) > 2:
        data["roles"] = {wanted[-2]: ["key"]}
    for shot, ball in zip(shots, balls, strict=True):
        if session.id in TIMED:
            clock.mark(shot)
        if shot.get("intent") == "pot":
            _say_of_pot(shot, chance, snooker=session.game == "snooker")
        if trouble is not None and ball == trouble and shot["facts"]["potted"] and chance.random() < 0.7:
            shot["events"] = ["role_solved"]
        _options(shot, chance)
        if shot.get("intent") == "break" and session.game not in ("straight_pool", "snooker"):
            _say_of_break(shot, chance)
        if session.game == "straight_pool" and shot["number"] == 1 and rack.number > 1:
            shot["break"] = {
                "break_ball": chance.choice(("natural", "made", "none")),
                "insurance": chance.random() < 0.5,
            }
    clock.now_s += 60.0
    return data


def _say_of_break(shot: JsonObject, chance: random.Random) -> None:
    hard = chance.random() < (0.75 if shot["facts"]["potted"] else 0.5)
    shot["break"] = {
        "kind": chance.choice(("head_on", "cut")),
        "power": chance.randint(75, 95) if hard else chance.randint(45, 70),
    }


def _say_of_pot(shot: JsonObject, chance: random.Random, *, snooker: bool) -> None:
    missed, careful = not shot["facts"]["potted"], shot["player"] == "casimir"
    long = shot.get("result", {}).get("pace") == "long"
    kinds = ("draw", "draw", "drag", "stun") if long and not careful and chance.random() < 0.6 else KINDS
    shot["stroke"] = {"kind": chance.choice(kinds), "pace": chance.choice(PACES)}
    sided = chance.random() < (0.55 if missed and careful else 0.3)
    right = chance.choice((-0.4, -0.25, 0.25, 0.4)) if sided else 0.0
    shot["stroke"]["tip"] = [right, round(chance.uniform(-0.3, 0.3), 2)]
    if chance.random() < (0.14 if snooker else 0.05):
        shot["delivery"] = ["rest" if snooker else "reach"]
    if missed and isinstance(shot.get("error"), dict):
        shot["error"] = {**shot["error"], "causes": [chance.choice(("aim", "aim", "pace", "spin", "miscue"))]}
    plan = shot.get("plan")
    if plan is not None and chance.random() < 0.12:
        plan["changed_from"] = max(1, shot["number"] - 1)
    if not missed and chance.random() < 0.05:
        shot["result"] = {**shot.get("result", {}), "luck": chance.choice(("kind_leave", "unkind_leave"))}


def _say_further(shot: JsonObject, chance: random.Random) -> None:
    """Rarer words: what the side was for, what position was meant, what a commentator expected."""
    if shot.get("intent") != "pot" or "stroke" not in shot:
        return
    stroke, missed = shot["stroke"], not shot["facts"]["potted"]
    if stroke["tip"][0] and chance.random() < 0.3:
        stroke["side_amount"] = chance.choice(("trace", "touch", "maximum"))
        stroke["purpose"] = [chance.choice(("kill", "run", "widen", "shorten"))]
    if shot.get("plan") is not None and chance.random() < 0.06:
        shot["plan"]["aims"] = [chance.choice(("one_area", "short_side", "straight_on_purpose"))]
    if shot.get("plan") is not None and chance.random() < 0.06:
        shot["plan"]["if_missed"] = chance.choice(("safe", "open"))
    if chance.random() < 0.05:
        said = [*shot.get("delivery", ()), "stood_up_again" if missed else "stayed_down"]
        shot["delivery"] = list(dict.fromkeys(said))
    call = shot.get("call", {})
    if call.get("ball") and chance.random() < 0.08:
        other = chance.random() < 0.25
        shot["predictions"] = [{"by": "ida", **({"kind": "safety"} if other else call)}]


def _options(shot: JsonObject, chance: random.Random) -> None:
    """Two options where the analyst said more than that he agreed."""
    verdict = shot.get("decision", {}).get("verdict")
    plan = shot.get("plan")
    if plan is None or verdict not in ("agree", "prefer_other"):
        return
    worse, better = round(chance.uniform(0.35, 0.6), 2), round(chance.uniform(0.62, 0.9), 2)
    mine, other = (worse, better) if verdict == "prefer_other" else (better, worse)
    plan["options"] = [
        {"id": "played", "title": "As played", "chance": mine, "leave": 0.6, "chosen": True},
        {"id": "other", "title": "The other way round", "chance": other, "leave": 0.6},
    ]
