"""What the demo's analyst said besides, of roles, causes, purposes and time: invented, seeded."""

from __future__ import annotations

import json
import random

from ripasso.core.json_data import JsonObject
from ripasso.core.rules import RackScore
from ripasso.review.record.model import Rack, Session, serialize
from ripasso.review.scoring.meant import meant_ball
from ripasso.review.scoring.scoring import score_of

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
        if session.game == "straight_pool" and shot["number"] == 1 and rack.number > 1:
            shot["break"] = _break_shot(shot, chance)
    clock.now_s += 60.0
    return data


def _break_shot(shot: JsonObject, chance: random.Random) -> JsonObject:
    """What was there to open a rack with: the pot that was tried, found or made, or nothing."""
    if shot.get("intent") != "pot":
        return {"break_ball": "none", "insurance": False}
    return {"break_ball": chance.choice(("natural", "natural", "made")), "insurance": chance.random() < 0.5}


def _say_of_pot(shot: JsonObject, chance: random.Random, *, snooker: bool) -> None:
    missed = not shot["facts"]["potted"]
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
