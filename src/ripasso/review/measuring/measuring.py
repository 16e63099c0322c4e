"""From records to the measures of `core.measures.shots`, and their output as `ripasso measure`."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from itertools import pairwise
from typing import Any

from ripasso.core.geometry.zones import AnyOf, Circle, Polygon, Wedge, strip
from ripasso.core.geometry.zones import Zone as CoreZone
from ripasso.core.json_data import JsonMapping, JsonObject
from ripasso.core.measures.levels import DEFAULT_LEVEL, aim_spread_mrad
from ripasso.core.measures.shots import PlanInput, ShotInput, ShotMeasures, measure_shots
from ripasso.core.rules import MatchScore, RackScore
from ripasso.core.table import TableSpec, pocket_mouth_middle, table_spec
from ripasso.core.table.places import Place
from ripasso.review.record.model import Rack, Session, Shot, ShotPlan
from ripasso.review.record.parts import Level, Zone
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.balls_on import balls_on_in
from ripasso.review.scoring.meant import POT_INTENTS
from ripasso.review.scoring.scoring import score_of

#: Methods that make a pot more than a plain one; its geometry is not that of a direct pot.
NOT_PLAIN = frozenset(
    ("combination", "bank", "cross_side", "cross_corner", "kick", "carom", "jump", "swerve")
)
#: What is measured for the window and for statistics; the session format's output is without it.
NOT_PUT_OUT = ("next_pots", "side_spin", "route", "ball_to_cushion")


def spread_of(session: Session) -> float:
    """The reference aim spread of a session in radians: of its level, or stated."""
    if isinstance(session.level, Level):
        return float(session.level.aim_spread_mrad) / 1000
    spread = aim_spread_mrad(session.level or DEFAULT_LEVEL, snooker=session.game == "snooker")
    return spread / 1000


def measure_session(session: Session, score: MatchScore | None = None) -> list[list[ShotMeasures]]:
    """The measures of every shot, rack by rack. Proposed places are no places yet."""
    score = score or score_of(session)
    spec = table_spec(session.table)
    inputs = []
    racks = session.racks or ()
    for index, rack in enumerate(racks):
        inputs.append(rack_inputs(session, rack, score.racks[index] if score else None, spec))
    flat = measure_shots(spec, [shot for rack in inputs for shot in rack], spread_of(session))
    measured, taken = [], 0
    for of_rack in inputs:
        measured.append(flat[taken : taken + len(of_rack)])
        taken += len(of_rack)
    return measured


def rack_inputs(session: Session, rack: Rack, score: RackScore | None, spec: TableSpec) -> list[ShotInput]:
    """What measuring needs of every shot of a rack."""
    shots = [without_proposals(shot) for shot in rack.shots or ()]
    allowed = _allowed(score, len(shots))
    inputs = []
    for place, shot in enumerate(shots):
        later = shots[place + 1] if place + 1 < len(shots) else None
        judged = score.shots[place] if score else None
        outcome = judged.outcome if judged else None
        after = _layout(shot.after)
        before = _layout(shot.before)
        free = bool(later.free_ball) if later else False
        lies = _layout(later.before) if later is not None and later.before is not None else after
        on = balls_on_in(session.game, allowed[place], before, free=bool(shot.free_ball))
        over = outcome is not None and outcome.rack_ends
        inputs.append(
            ShotInput(
                before=before,
                after=after,
                balls_on=on,
                on_next=() if over else balls_on_in(session.game, allowed[place + 1], lies, free=free),
                is_break=shot.intent == "break",
                goes_on=outcome is not None and not outcome.turn_ends and not outcome.rack_ends,
                next_before=_layout(later.before) if later else None,
                has_next=later is not None and not over,
                ball=_plain_pot(shot, on),
                pocket=_pocket(shot, on),
                plan=_plan(shot.plan, after or before or {}, spec),
                path_m=_path_length(shot),
                **_tip(shot),
            )
        )
    return inputs


def _allowed(score: RackScore | None, shots: int) -> list[tuple[str, ...]]:
    """What is on by the rules before each shot of a rack, and after the last one."""
    if score is None:
        return [()] * (shots + 1)
    return [*(judged.balls_on for judged in score.shots), score.balls_on]


def _layout(layout: JsonMapping | None) -> dict[str, Place] | None:
    if layout is None:
        return None
    return {ball: (float(place[0]), float(place[1])) for ball, place in layout.items()}


def _meant(shot: Shot, on: tuple[str, ...]) -> str | None:
    """The meant ball: called, else the only one on, else the one hit first when it is on."""
    if shot.call and shot.call.ball:
        return shot.call.ball
    if len(on) == 1:
        return on[0]
    first = shot.facts.first_contact if shot.facts else None
    return first if first in on else None


def _plain_pot(shot: Shot, on: tuple[str, ...]) -> str | None:
    plain = shot.intent in POT_INTENTS and not NOT_PLAIN & set(shot.methods or ())
    return _meant(shot, on) if plain else None


def _pocket(shot: Shot, on: tuple[str, ...]) -> str | None:
    """The pocket called, else the one the meant ball fell into."""
    if shot.call and shot.call.pocket:
        return shot.call.pocket
    ball = _meant(shot, on)
    fallen = (shot.facts.potted if shot.facts else None) or ()
    return next((pot.pocket for pot in fallen if pot.ball == ball), None)


def _plan(plan: ShotPlan | None, layout: Mapping[str, Place], spec: TableSpec) -> PlanInput:
    if plan is None:
        return PlanInput()
    band = plan.angle_wanted_deg
    return PlanInput(
        next_ball=plan.next_ball,
        next_pocket=plan.next_pocket,
        or_balls=tuple(plan.or_balls or ()),
        angle_wanted_deg=(float(band[0]), float(band[1])) if band is not None else None,
        zone=core_zone(plan.zone, layout, spec) if plan.zone is not None else None,
        aim_point=_point(plan.aim_point) if plan.aim_point is not None else None,
        route=tuple(_point(p) for p in plan.route or ()),
        has_cushions=bool(plan.cushions),
    )


def _point(place: Sequence[Any]) -> Place:
    return float(place[0]), float(place[1])


def core_zone(zone: Zone, layout: Mapping[str, Place], spec: TableSpec) -> CoreZone | None:
    """A zone of the record as geometry; None where it is no area, or needs a ball that does not lie there."""
    if zone.circle is not None:
        return Circle(_point(zone.circle.centre), float(zone.circle.radius))
    if zone.polygon is not None:
        if len(zone.polygon) < 3:
            return None
        return Polygon(tuple(_point(p) for p in zone.polygon))
    if zone.strip is not None:
        return strip(_point(zone.strip.from_), _point(zone.strip.to), float(zone.strip.width))
    if zone.any_of is not None:
        parts = [core_zone(part, layout, spec) for part in zone.any_of]
        known = tuple(part for part in parts if part is not None)
        return AnyOf(known) if known else None
    side = zone.side_of_line
    if side is None or side.ball is None or side.ball not in layout or side.pocket is None:
        return None
    apex, mouth = layout[side.ball], pocket_mouth_middle(spec, side.pocket)
    line = math.atan2(apex[1] - mouth[1], apex[0] - mouth[0])
    span = math.radians(float(side.within_deg) if side.within_deg is not None else 180.0)
    return Wedge(apex, line if side.side == "left" else line - span, span)


def _tip(shot: Shot) -> JsonObject:
    """The tip's offset, and the way of the cue ball on film, which is not needed without it."""
    tip = shot.stroke.tip if shot.stroke else None
    if tip is None:
        return {}
    path = (shot.path or {}).get("cue", ())
    return {"tip_right": float(tip[0]), "followed": tuple((float(p[1]), float(p[2])) for p in path)}


def _path_length(shot: Shot) -> float | None:
    """Metres along the followed path of the cue ball; None where it was not followed."""
    path = (shot.path or {}).get("cue")
    if not path:
        return None
    return sum(math.dist((a[1], a[2]), (b[1], b[2])) for a, b in pairwise(path))


def measure_report(session: Session) -> JsonObject:
    """The output of `measure --json`."""
    shots = []
    for rack, measured in zip(session.racks or (), measure_session(session), strict=True):
        for shot, found in zip(rack.shots or (), measured, strict=True):
            head = {"rack": rack.number, "number": shot.number, "player": shot.player, "intent": shot.intent}
            shots.append({**head, **_measured(found)})
    return {"format": "ripasso-measure", "version": 1, "shots": shots}


def _measured(found: ShotMeasures) -> JsonObject:
    values = asdict(found)
    values["balls_on"] = list(found.balls_on)
    for name in NOT_PUT_OUT:
        del values[name]
    return values
