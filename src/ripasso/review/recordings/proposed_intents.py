"""What a shot that was read from a film was meant to be: a pot where its ball ran at a pocket, else a safety.

A guess, stated as one: a ball that fell was most likely meant to; one that only came near a pocket may have
been; of one that did not, a safety is the likeliest thing, and no more.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.table import POCKETS, TableSpec
from ripasso.core.table.places import Place
from ripasso.core.table.pockets import pocket_mouth_middle

#: How far beside the middle of a mouth a missed pot comes there, closely and at most, in mouths of corners.
CLOSE, BESIDE = 0.6, 1.1
#: A ball runs at a pocket when it came this near to it, metres, and from at least so far.
REACHED_M, RAN_M = 0.30, 0.08
#: A way turns where its direction changes by more than this, degrees.
TURNS_DEG = 12.0
#: How sure a pot is that fell (beside the fall itself), that was missed closely, or not so, and a safety.
FELL, MISSED, PERHAPS, SAFETY = 0.97, 0.8, 0.6, 0.5


def proposed_intent(values: JsonMapping, spec: TableSpec) -> tuple[JsonObject, dict[str, float]]:
    """Intent and call for the values of a read shot, and how sure each is; nothing where no ball was met."""
    facts = values.get("facts") or {}
    met, marks = facts.get("first_contact"), values.get("proposed") or {}
    if met is None or met == "cue":
        return {}, {}
    known = float(marks.get("/facts/first_contact", 1.0))
    fell = {one.get("ball"): one.get("pocket") for one in facts.get("potted") or ()}
    if fell:
        ball = met if met in fell else next(iter(fell))
        return _stated("pot", FELL * float(marks.get("/facts/potted", 1.0)), ball, fell[ball])
    pocket, beside = ran_at(_first_leg((values.get("path") or {}).get(met) or ()), spec)
    if pocket is None:
        return _stated("safety", SAFETY * known)
    return _stated("pot", (MISSED if beside < CLOSE else PERHAPS) * known, met, pocket)


def _stated(
    intent: str, sure: float, ball: str | None = None, pocket: str | None = None
) -> tuple[JsonObject, dict[str, float]]:
    marks = {"/intent": round(sure, 3)}
    if ball is None:
        return {"intent": intent}, marks
    call = {"ball": ball, "pocket": pocket} if pocket is not None else {"ball": ball}
    return {"intent": intent, "call": call}, {**marks, "/call": round(sure, 3)}


def ran_at(leg: Sequence[Place], spec: TableSpec) -> tuple[str | None, float]:
    """The pocket that a straight way was played at, and how far beside its middle, in mouths of corners."""
    if len(leg) < 2 or math.dist(leg[0], leg[-1]) < RAN_M:
        return None, math.inf
    (x0, y0), (x1, y1) = leg[0], leg[-1]
    length = math.dist(leg[0], leg[-1])
    along = ((x1 - x0) / length, (y1 - y0) / length)
    best: tuple[str | None, float] = (None, math.inf)
    for pocket in POCKETS:
        x, y = pocket_mouth_middle(spec, pocket)
        ahead = (x - x0) * along[0] + (y - y0) * along[1]
        beside = abs((x - x0) * along[1] - (y - y0) * along[0]) / spec.corner_mouth
        is_reached = math.dist((x1, y1), (x, y)) < REACHED_M
        if ahead > 0 and is_reached and beside < min(BESIDE, best[1]):
            best = pocket, beside
    return best


def _first_leg(way: Sequence[Sequence[float]]) -> list[Place]:
    """The places of a way (time, x, y) up to where it first turns."""
    places: list[Place] = [(float(x), float(y)) for _, x, y in way]
    leg = places[:1]
    for before, here in pairwise(places):
        if len(leg) > 1 and _turn_deg(leg[0], before, here) > TURNS_DEG:
            break
        leg.append(here)
    return leg


def _turn_deg(start: Place, before: Place, here: Place) -> float:
    first = math.atan2(before[1] - start[1], before[0] - start[0])
    second = math.atan2(here[1] - before[1], here[0] - before[0])
    if math.dist(start, before) < 1e-6 or math.dist(before, here) < 1e-6:
        return 0.0
    return math.degrees(abs((second - first + math.pi) % (2 * math.pi) - math.pi))
