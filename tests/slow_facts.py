"""The facts of shots straight from records, one by one: the slow way that columns are held against."""

from __future__ import annotations

from types import SimpleNamespace

from ripasso.core.figures.facts import NO, UNKNOWN, YES
from ripasso.core.figures.schema import COLUMNS, RECORD, UNKNOWN_NUMBER
from ripasso.core.table import table_spec
from ripasso.review.measuring.errors import rack_errors
from ripasso.review.measuring.measuring import measure_session
from ripasso.review.record.model import serialize
from ripasso.review.record.people import person_key
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.meant import meant_at_all, meant_ball, meant_ball_down
from ripasso.review.scoring.outcome import recorded_errors, shot_outcome
from ripasso.review.scoring.scoring import score_of
from ripasso.review.table.settings import table_words
from ripasso.statistics.rows.contexts import Setting, rack_contexts, scored_rack
from ripasso.statistics.rows.shot_rows import visit_code

#: Filled by the records themselves, not by the shots about a shot.
SAID = {
    *("key", "session", "rack", "number", "person", "visit", "intent", "tried", "made", "failed", "fouled"),
    *("fluke", "judged", "position", "pace", "said_side", "angle", "verdict", "errors", "ball", "pocket"),
    *("contact", "luck", "stroke", "stroke_pace", "methods", "delivery", "causes", "events", "tags", "root"),
    "missed_by",
    *("words", "down", "aims", "system", "side_amount", "purposes", "off", "if_missed", "sheet"),
    *("rattled", "feathers", "pace_percent", "raised", "taken", "fouls", "predicted", "stretch"),
}


def contexts_of(session, score):
    """The contexts of all shots, by rack."""
    setting, racks = Setting.of(session), session.racks or ()
    return [
        rack_contexts(
            setting, rack, None if score is None else scored_rack(racks, score, place, setting.film)
        )
        for place, rack in enumerate(racks)
    ]


def facts_of_session(session, index=0):
    """One object a shot with a value for each column that figures read; shots of a ghost are left out."""
    score, measured = score_of(session), measure_session(session)
    spec, contexts = table_spec(session.table), contexts_of(session, score)
    ghosts = {player.id for player in session.players or () if player.ghost}
    facts = []
    for i, rack in enumerate(session.racks or ()):
        rack_score = score.racks[i] if score else None
        found = rack_errors(rack, rack_score, measured[i])
        shots = rack.shots or ()
        for j, shot in enumerate(shots):
            if shot.player in ghosts:
                continue
            judged = rack_score.shots[j] if rack_score else None
            fact = _fact(shot, judged, measured[i][j], spec)
            _in_context(fact, contexts[i][j])
            fact.game = session.game or ""
            state = serialize(session.table_state) if session.table_state else None
            fact.date, fact.table = session.date or "", table_words(session.table, state)
            fact.session, fact.rack, fact.number = index, rack.number, shot.number
            fact.person = person_key(session, shot.player)
            later = measured[i][j + 1] if j + 1 < len(shots) and fact.goes_to_other else None
            fact.laid = _answer(later.snookered if later is not None else None)
            if meant_at_all(shot):
                fact.ball = meant_ball(without_proposals(shot), judged) or ""
            fact.unforced = " ".join(error.kind for error in found[j] if error.unforced)
            facts.append(fact)
    return facts


def _fact(record, judged, measures, spec):
    shot, went = without_proposals(record), shot_outcome(record, judged)
    result = shot.result
    pot, place = measures.geometry, measures.position
    fact = SimpleNamespace(**{name: _nothing(column.kind) for name, column in COLUMNS.items()})
    fact.__dict__.update(
        visit=visit_code(judged),
        intent=shot.intent or "",
        target=(shot.call.pocket if shot.call and shot.call.pocket else None) or (pot.pocket if pot else ""),
        delivery=" ".join(shot.delivery or ()),
        methods=" ".join(shot.methods or ()),
        tried=went.tried,
        made=went.made,
        failed=went.failed,
        fouled=went.fouled,
        fluke=went.fluke,
        down=went.tried and not went.fluke and meant_ball_down(shot, judged),
        table_length=spec.length,
        leave=_number(measures.leave),
        contact=(result and result.contact) or "",
        missed_by=(result and result.missed_by) or "",
        position=(result and result.position) or "",
        pace=(result and result.pace) or "",
        said_side=(result and result.side) or "",
        angle=(result and result.angle) or "",
        verdict=(shot.decision and shot.decision.verdict) or "",
        stroke=(shot.stroke and shot.stroke.kind) or "",
        stroke_pace=(shot.stroke and shot.stroke.pace) or "",
        luck=(result and result.luck) or "",
        root_back=_root_back(shot),
        angle_miss=_number(measures.angle_miss_deg),
        travel=_number(measures.cue_travelled),
        travel_least=_number(measures.cue_travelled_least),
        causes=" ".join(
            dict.fromkeys(
                [
                    *(c for error in recorded_errors(shot) for c in error.causes or ()),
                    *((result and result.causes) or ()),
                ]
            )
        ),
        events=" ".join(shot.events or ()),
        tags=" ".join(tag.replace(" ", "_") for tag in shot.tags or ()),
        route=measures.route or "",
        ball_to_cushion=_number(measures.ball_to_cushion),
        best_chance=_number(measures.best.chance if measures.best is not None else None),
        snookered=_answer(measures.snookered),
    )
    _said(fact, shot, judged)
    if measures.side_spin is not None:
        fact.spin_cut, fact.spin_rail = measures.side_spin.spin_cut, measures.side_spin.spin_rail
    if pot is not None:
        fact.cut_deg, fact.cue_travel, fact.object_travel = pot.cut_deg, pot.cue_travel, pot.object_travel
        fact.left_mrad, fact.right_mrad = _number(pot.tolerance_left_mrad), _number(pot.tolerance_right_mrad)
        fact.chance, fact.window_deg = _number(pot.chance), pot.window_deg
        fact.free = pot.obstacle is None and pot.tolerance_mrad is not None
    if place is not None:
        fact.zone = _answer(place.zone_hit)
        fact.distance, fact.along, fact.across = map(_number, (place.distance, place.along, place.across))
        fact.loss, fact.side = _number(place.position_loss), place.side or ""
        fact.crossing_deg = _number(place.crossing_deg)
    return fact


def _said(fact, shot, judged):
    """Words of plan, stroke, break sheet and rules, one by one."""
    plan, stroke, sheet = shot.plan, shot.stroke, shot.break_
    fact.stretch = 0
    if plan:
        fact.aims, fact.off = " ".join(plan.aims or ()), " ".join(plan.cushions or ())
        fact.if_missed = plan.if_missed or ""
    if stroke:
        fact.side_amount, fact.purposes = stroke.side_amount or "", " ".join(stroke.purpose or ())
    fact.fouls = " ".join(judged.outcome.fouls if judged and judged.outcome else ())
    if sheet:
        names = {True: "yes", False: "no"}
        said = sheet.model_dump(exclude_none=True).items()
        fact.sheet = " ".join(f"{n}_{names[v] if isinstance(v, bool) else v}" for n, v in said)
    ball = meant_ball(shot, judged)
    for one in shot.predictions or ():
        right = one.ball == ball if one.ball else one.kind == shot.intent
        fact.predicted = f"{one.by}:{'hit' if right else 'miss'}"


def _in_context(fact, context):
    """Numbers that are not known are NaN in facts."""
    for column in RECORD:
        if column.stored in SAID:
            continue
        value = getattr(context, column.stored)
        unknown = column.kind == "number" and value == UNKNOWN_NUMBER
        setattr(fact, column.name, float("nan") if unknown else value)


def _nothing(kind):
    return {"text": "", "words": "", "flag": False, "number": float("nan")}.get(kind, UNKNOWN)


def _root_back(shot):
    roots = [error.cause_shot for error in recorded_errors(shot) if error.cause_shot is not None]
    return shot.number - roots[0] if roots else UNKNOWN


def _number(value):
    return float("nan") if value is None else float(value)


def _answer(value):
    if value is None:
        return UNKNOWN
    return YES if value else NO
