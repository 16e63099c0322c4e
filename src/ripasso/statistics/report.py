"""The output of `ripasso stats`: every measure of each player over sessions pooled in order.

The session format (docs/session-format.md) says what the keys mean; docs/measures.md how each is counted.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import Facts, Flags
from ripasso.core.figures.judged import DECISIONS, POSITION_FINDINGS
from ripasso.core.figures.ledger import run_of
from ripasso.core.figures.racks import PlacedRack, claim_of, racks_of, runs_in_a_row, streak_of
from ripasso.core.figures.session_columns import JoinedColumns
from ripasso.core.inference.estimates import Difference, Mean, difference, rate_of
from ripasso.core.inference.intervals import CONFIDENCE, FEW, Count, Rate, count_per, rate
from ripasso.core.json_data import JsonObject
from ripasso.core.measures.attempts import attempt_figures
from ripasso.core.measures.errors import Thresholds
from ripasso.core.rules import Visit
from ripasso.review.record.model import Session
from ripasso.review.record.people import person_key
from ripasso.review.record.practice import AttemptSet
from ripasso.review.recordings.film_parts import live_film
from ripasso.review.scoring.rack_results import is_cut
from ripasso.statistics.rows.contexts import rack_seconds
from ripasso.statistics.rows.measured_session import MeasuredSession, measured_session

#: A shot by the id of its session, its rack and its number.
Place = tuple[str, int, int]


@dataclass(frozen=True)
class _Player:
    """One person over all sheets: the key of the output, the key of the person, the shown name."""

    key: str
    person: str
    name: str


def stats_report(
    sessions: Sequence[Session], player: str | None = None, keep: Collection[Place] | None = None
) -> JsonObject:
    """Every measure of each player (or of one, by name or id); `keep`: the shots that count (None: all)."""
    sheets = [measured_session(session) for session in sessions]
    facts = Facts(JoinedColumns([sheet.columns for sheet in sheets]))
    if keep is not None:
        facts = facts.where(_among(facts, sessions, set(keep)))
    people = _people(sessions)
    asked = [
        one
        for one in people
        if player is None or player.casefold() in (one.person, one.name.casefold(), one.key.casefold())
    ]
    reports = {one.key: _player_report(one, facts, sheets) for one in asked}
    report: JsonObject = {
        "format": "ripasso-stats",
        "version": 1,
        "settings": _settings(),
        "players": reports,
        "pairs": _pairs(asked, facts),
        "racks": [line for sheet in sheets for line in _rack_times(sheet)],
    }
    sets = [attempts_report(one) for session in sessions for one in session.attempt_sets or ()]
    return {**report, "attempts": sets} if sets else report


def _among(facts: Facts, sessions: Sequence[Session], wanted: Collection[Place]) -> Flags:
    """Which shots are among the places."""
    columns = (facts.ints(name).tolist() for name in ("session", "rack", "number"))
    places = ((sessions[at].id, rack, number) for at, rack, number in zip(*columns, strict=True))
    return np.fromiter((place in wanted for place in places), np.bool_, len(facts))


def _settings() -> JsonObject:
    limits = Thresholds()
    return {
        "school": "judged where judged, by chance elsewhere",
        "interval": CONFIDENCE,
        "few": FEW,
        "fair_chance": limits.fair,
        "open_chance": limits.open,
        "hardly_one": limits.hardly,
        "position_loss": limits.loss,
    }


def _people(sessions: Sequence[Session]) -> list[_Player]:
    """Everybody but ghosts; a person's output key is that of the first session, made unique."""
    found: list[_Player] = []
    keys: set[str] = set()
    for session in sessions:
        for player in session.players or ():
            person = person_key(session, player.id)
            if player.ghost or any(one.person == person for one in found):
                continue
            key, copy = player.id, 2
            while key in keys:
                key, copy = f"{player.id}-{copy}", copy + 1
            keys.add(key)
            found.append(_Player(key, person, player.name or player.id))
    return found


def _player_report(one: _Player, facts: Facts, sheets: Sequence[MeasuredSession]) -> JsonObject:
    own = facts.where(facts.equal("person", one.person))
    pots, two_way = of.pots(own), (own.equal("intent", "two_way")) & own.flags("tried")
    long, to_ball, to_pocket = of.long_pots(own)
    spread, beside = of.potting(own)
    after, visit = of.after_error(own), of.after_long_visit(own)
    test, errors = of.streaks(own), _errors(one, own, sheets)
    return {
        "name": one.name,
        "shots": len(own),
        "racks": _racks(racks_of(facts, one.person)),
        "pot_success": rate_report(of.success(own, pots)),
        "two_way_success": rate_report(of.success(own, two_way)),
        "flukes": _places(own, own.flags("fluke")),
        "long_pots": rate_report(long),
        "long_to_ball": rate_report(to_ball),
        "long_to_pocket": rate_report(to_pocket),
        "slices": {
            name: {value: rate_report(rate) for value, rate in rates.items()}
            for name, rates in of.slices(own).items()
        },
        "aim_spread": {
            "mrad": spread.mrad,
            "low_mrad": spread.low_mrad,
            "high_mrad": spread.high_mrad,
            "made": spread.made,
            "of": spread.of,
        },
        "expected_pots": {
            "made": beside.made,
            "of": beside.of,
            "expected": beside.expected,
            "above": beside.above,
            "low": beside.low,
            "high": beside.high,
        },
        "position": {
            name: rate_report(value) if isinstance(value, Rate) else mean_report(value)
            for name, value in of.position(own).items()
        },
        "position_judged": _judged(own),
        "leave_after_pots": mean_report(of.leave_after_pots(own)),
        "decisions": {"agreement": _agreement(own)},
        "errors": errors,
        "visits": _visits(one, sheets),
        "breaks": _report_of(of.breaks(own)),
        "safety": _report_of(of.safeties(own)),
        "escape": _report_of(of.escapes(own)),
        "time": of.times(own),
        "after_error": _compared(after),
        "after_long_visit": _compared(visit),
        "runs_test": {
            "made": test.made,
            "of": test.of,
            "runs": test.runs,
            "expected": test.expected,
            "z": test.z,
            "p": test.p,
            "streaky": test.streaky,
        },
        "not_judged": {
            "position": int((own.flags("made") & (own.equal("position", ""))).sum()),
            "decisions": int((~np.isin(own.texts("verdict").astype(str), DECISIONS)).sum()),
            "errors": len({(e["rack"], e["number"]) for e in errors["list"] if e["school"] != "judged"}),
        },
    }


def _judged(own: Facts) -> JsonObject:
    among = own.flags("made") & (own.known("position"))
    return {
        name: rate_report(rate_of(own.equal(column, word)[among]))
        for name, (column, word) in POSITION_FINDINGS.items()
    }


def _agreement(own: Facts) -> JsonObject:
    verdicts = own.texts("verdict")
    among = np.isin(verdicts.astype(str), DECISIONS)
    return rate_report(rate_of((own.equal("verdict", "agree"))[among]))


def _errors(one: _Player, own: Facts, sheets: Sequence[MeasuredSession]) -> JsonObject:
    counted = set(
        zip(own.ints("session").tolist(), own.ints("rack").tolist(), own.ints("number").tolist(), strict=True)
    )
    listed = []
    for index, sheet in enumerate(sheets):
        for rack, errors in zip(sheet.session.racks or (), sheet.errors, strict=True):
            for shot, found in zip(rack.shots or (), errors, strict=True):
                if (index, rack.number, shot.number) not in counted:
                    continue
                listed += [
                    {
                        "rack": rack.number,
                        "number": shot.number,
                        "kind": error.kind,
                        "unforced": error.unforced,
                        "school": error.school,
                        "cause_shot": error.cause_shot,
                        "cause_suggested": error.cause_suggested,
                    }
                    for error in found
                ]
    kinds = of.unforced_by_kind(own)
    total = sum(kinds.values())
    visits = {
        pair
        for pair in zip(own.ints("session").tolist(), own.ints("visit").tolist(), strict=True)
        if pair[1] >= 0
    }
    racks = set(zip(own.ints("session").tolist(), own.ints("rack").tolist(), strict=True))
    return {
        "list": listed,
        "unforced": dict(kinds),
        "unforced_total": total,
        "per_100_shots": count_report(count_per(total, len(own) / 100)),
        "per_visit": count_report(count_per(total, len(visits))),
        "per_rack": count_report(count_per(total, len(racks))),
    }


def _racks(racks: Sequence[PlacedRack]) -> JsonObject:
    """Racks won, on whose break, lost without a stroke, and the longest rows that are proven."""
    known = [rack for rack in racks if rack.known]

    def won(some: Sequence[PlacedRack]) -> JsonObject:
        return rate_report(rate(sum(rack.won for rack in some), len(some)))

    streak, runs = streak_of(racks)[0], runs_in_a_row(racks)[0]
    claims = {what: claim_of(racks, what) for what in ("streak", "run", "break")}
    said = {what: claim.value if claim is not None else None for what, claim in claims.items()}
    return {
        "won": won(known),
        "held": won([rack for rack in known if rack.own_break]),
        "stolen": won([r for r in known if r.result.breaker is not None and not r.own_break]),
        "lost_without_a_stroke": sum(not rack.won and rack.without_stroke for rack in known),
        "streak": {
            "proven": streak.length,
            "at_least": streak.at_least,
            "by_score": streak.by_score,
            "stated": said["streak"],
        },
        "break_and_run_streak": runs.length,
        "break_and_run_streak_at_least": runs.at_least,
        "stated": {"run": said["run"], "break": said["break"]},
    }


def _visits(one: _Player, sheets: Sequence[MeasuredSession]) -> JsonObject:
    """Balls (snooker, rotation: points) a visit, and what came of the racks."""
    scores: list[int] = []
    run_outs = runs_after_error = break_and_runs = fifties = centuries = 0
    for sheet in sheets:
        if sheet.score is None:
            continue
        by_points = sheet.session.game in ("snooker", "rotation")
        for visit in sheet.score.visits:
            if person_key(sheet.session, visit.player) != one.person:
                continue
            scores.append(visit.points if by_points else visit.balls)
            if sheet.session.game == "snooker":
                fifties += visit.points >= 50
                centuries += visit.points >= 100
            run = _run_of(sheet, visit)
            break_and_runs += run == "break_and_run"
            run_outs += run == "run_out"
            runs_after_error += run == "run_out" and _after_an_error(sheet, visit)
    values = np.array(scores, dtype=np.float64)
    return {
        "count": len(scores),
        "list": scores,
        "mean": float(values.mean()) if scores else None,
        "spread": float(values.std(ddof=1)) if len(scores) > 1 else None,
        "highest": max(scores) if scores else None,
        "run_outs": run_outs,
        "break_and_run": break_and_runs,
        "run_after_error": runs_after_error,
        "breaks_50": fifties,
        "breaks_100": centuries,
    }


def _run_of(sheet: MeasuredSession, visit: Visit) -> str | None:
    """What a visit that won a rack was; the rack it ended in decides."""
    end = (sheet.session.racks or ())[visit.last_rack - 1].shots or ()
    assert sheet.score is not None
    if is_cut(end, live_film(sheet.session)):
        return None
    return run_of(sheet.score.racks[visit.last_rack - 1], visit, end[0].intent if end else None)


def _after_an_error(sheet: MeasuredSession, visit: Visit) -> bool:
    """The shot before the visit was the opponent's, and there was an error in it."""
    place = visit.first_shot - 2
    if place < 0:
        return False
    rack = (sheet.session.racks or ())[visit.rack - 1]
    before = (rack.shots or ())[place]
    return before.player != visit.player and bool(sheet.errors[visit.rack - 1][place])


def _rack_times(sheet: MeasuredSession) -> list[JsonObject]:
    """The live seconds of each rack from its first strike to its last rest."""
    film = live_film(sheet.session)
    return [
        {"number": rack.number, "seconds": rack_seconds(rack.shots or (), film)}
        for rack in sheet.session.racks or ()
    ]


def _pairs(people: Sequence[_Player], facts: Facts) -> list[JsonObject]:
    """The difference in pot success of every two players."""
    rates = []
    for one in people:
        own = facts.where(facts.equal("person", one.person))
        rates.append(of.success(own, of.pots(own)))
    return [
        {"players": [a.key, b.key], "pot_success": difference_report(difference(rates[i], rates[j]))}
        for i, a in enumerate(people)
        for j, b in enumerate(people)
        if i < j
    ]


def attempts_report(made: AttemptSet) -> JsonObject:
    """The figures of one set of attempts."""
    outcomes = [None if one.outcome is None else one.outcome == "success" for one in made.attempts or ()]
    figures = attempt_figures(outcomes)
    tries = figures.tries
    return {
        "id": made.id,
        "until_first_success": figures.until_first_success,
        "rate": rate_report(figures.rate),
        "tries_per_success": {"value": tries.value, "low": tries.low, "high": tries.high},
    }


def _places(facts: Facts, keep: Any) -> list[dict[str, int]]:
    racks, numbers = facts.ints("rack")[keep].tolist(), facts.ints("number")[keep].tolist()
    return [{"rack": rack, "number": number} for rack, number in zip(racks, numbers, strict=True)]


def _report_of(values: Mapping[str, Rate | float | None]) -> JsonObject:
    return {name: rate_report(v) if isinstance(v, Rate) else v for name, v in values.items()}


def _compared(found: tuple[Rate, Rate, Difference]) -> JsonObject:
    after, rest, gap = found
    return {"after": rate_report(after), "rest": rate_report(rest), **difference_report(gap)}


def rate_report(rate: Rate) -> JsonObject:
    """A rate in the shape of the output."""
    return {"made": rate.made, "of": rate.of, "rate": rate.rate, "low": rate.low, "high": rate.high}


def mean_report(mean: Mean) -> JsonObject:
    """A mean in the shape of the output."""
    return {"value": mean.value, "low": mean.low, "high": mean.high, "of": mean.of}


def count_report(count: Count) -> JsonObject:
    """A count in the shape of the output."""
    return {
        "count": count.count,
        "per": count.per,
        "rate": count.rate,
        "low": count.low,
        "high": count.high,
    }


def difference_report(gap: Difference) -> JsonObject:
    """A difference in the shape of the output."""
    return {"difference": gap.difference, "low": gap.low, "high": gap.high}
