"""How well a recording was read, by the exact truth of a rendered one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ripasso.core.json_data import JsonMapping
from ripasso.film.reading.identity.names import kind_of

#: A shot is found when its strike is this near, seconds.
STRIKE_S = 0.25
#: A ball is the one that lies there within this, metres; a value of a place is right within this.
FOUND_M, RIGHT_M = 0.05, 0.03
#: Values above this confidence are stated as sure.
SURE = 0.9


@dataclass
class Accuracy:
    """Counts over one recording; places in metres, times in seconds."""

    shots: int = 0
    found: int = 0
    false: int = 0
    strikes_s: list[float] = field(default_factory=list)
    rests_s: list[float] = field(default_factory=list)
    off_m: list[float] = field(default_factory=list)
    balls: int = 0
    balls_found: int = 0
    invented: int = 0
    named: int = 0
    pots: int = 0
    pots_right: int = 0
    pots_false: int = 0
    contacts: int = 0
    contacts_right: int = 0
    values: int = 0
    sure: int = 0
    sure_right: int = 0
    wrong: list[str] = field(default_factory=list)

    def as_data(self) -> dict[str, float | int | None]:
        """The figures of the report; None where nothing was to be found."""
        return {
            "shots": self.shots,
            "shots_found": _share(self.found, self.shots),
            "shots_false": _share(self.false, self.shots),
            "strike_median_s": _middle(self.strikes_s),
            "rest_within": _share(sum(abs(r) <= STRIKE_S for r in self.rests_s), len(self.rests_s)),
            "rest_median_s": _middle(self.rests_s),
            "off_median_mm": _part(self.off_m, 50),
            "off_95_mm": _part(self.off_m, 95),
            "balls_found": _share(self.balls_found, self.balls),
            "balls_invented": _share(self.invented, self.balls),
            "identity": _share(self.named, self.balls_found),
            "potted": _share(self.pots_right, self.pots),
            "potted_false": self.pots_false,
            "first_contact": _share(self.contacts_right, self.contacts),
            "values_sure": _share(self.sure, self.values),
            "sure_right": _share(self.sure_right, self.sure),
        }


def compared(shots: Sequence[JsonMapping], truth: JsonMapping) -> Accuracy:
    """Shots as a session file says them beside the truth of a recording (its form: docs/formats.md)."""
    result = Accuracy(shots=len(truth["shots"]))
    hidden = [
        (n["ball"], n["t0"], n["t1"]) for n in truth.get("occlusion_notes", ()) if n["min_visible"] < 0.5
    ]
    left = list(truth["shots"])
    for shot in shots:
        best = min(left, key=lambda t: abs(t["t_strike"] - shot["t_strike"]), default=None)
        if best is None or abs(best["t_strike"] - shot["t_strike"]) > STRIKE_S:
            result.false += 1
            _count_sure(result, shot, "/t_strike", right=False)
            continue
        left.remove(best)
        result.found += 1
        _compare(result, shot, best, hidden)
    return result


def _compare(
    result: Accuracy,
    shot: JsonMapping,
    true: JsonMapping,
    hidden: Sequence[tuple[str, float, float]],
) -> None:
    result.strikes_s.append(shot["t_strike"] - true["t_strike"])
    result.rests_s.append(shot["t_rest"] - true["t_all_at_rest"])
    _count_sure(result, shot, "/t_strike", right=True)
    _count_sure(result, shot, "/t_rest", right=abs(result.rests_s[-1]) <= STRIKE_S)
    for key, time_s in (("before", true["t_strike"]), ("after", true["t_all_at_rest"])):
        unseen = {ball for ball, t0, t1 in hidden if t0 <= time_s <= t1}
        _compare_layout(result, shot, key, true[key], unseen)
    facts = shot.get("facts", {})
    if "first_contact" in facts:
        result.contacts += 1
        right = _same(facts["first_contact"], true["first_contact"])
        result.contacts_right += right
        _count_sure(result, shot, "/facts/first_contact", right=right)
    _compare_pots(result, shot, facts, true)


def _compare_layout(
    result: Accuracy, shot: JsonMapping, key: str, true: Mapping[str, Sequence[float]], unseen: set[str]
) -> None:
    left = {ball: np.asarray(place) for ball, place in true.items()}
    result.balls += sum(ball not in unseen for ball in left)
    pairs = sorted(
        (float(np.hypot(*(there - place))), ball, name)
        for name, place in shot[key].items()
        for ball, there in left.items()
    )
    matched: dict[str, str] = {}
    for off, ball, name in pairs:
        if off > FOUND_M or name in matched or ball not in left:
            continue
        del left[ball]
        matched[name] = ball
        right_name = _same(name, ball)
        if ball not in unseen:
            result.balls_found += 1
            result.off_m.append(off)
            result.named += right_name
        _count_sure(result, shot, f"/{key}/{name}", right=right_name and off <= RIGHT_M)
    for name in shot[key]:
        if name not in matched:
            result.invented += 1
            _count_sure(result, shot, f"/{key}/{name}", right=False)


def _compare_pots(result: Accuracy, shot: JsonMapping, facts: JsonMapping, true: JsonMapping) -> None:
    told = [(p["ball"], p.get("pocket")) for p in facts.get("potted", ())]
    told += [("cue", None)] if facts.get("cue_potted") else []
    wanted = [(p["ball"], p["pocket"] if p["ball"] != "cue" else None) for p in true["potted"]]
    result.pots += len(wanted)
    rest = list(told)
    for ball, pocket in wanted:
        same = next((t for t in rest if _same(t[0], ball) and t[1] == pocket), None)
        if same is not None:
            rest.remove(same)
            result.pots_right += 1
    result.pots_false += len(rest)
    _count_sure(result, shot, "/facts/potted", right=not rest and len(told) == len(wanted))


def _same(name: str | None, ball: str | None) -> bool:
    """The same ball; one red is as good as another."""
    if name is None or ball is None:
        return name is ball
    return kind_of(name) == kind_of(ball)


def _count_sure(result: Accuracy, shot: JsonMapping, pointer: str, *, right: bool) -> None:
    share = shot.get("proposed", {}).get(pointer)
    if share is None:
        return
    result.values += 1
    if share > SURE:
        result.sure += 1
        result.sure_right += right
        if not right:
            result.wrong.append(f"{shot['t_strike']:.2f} s {pointer} ({share:.2f})")


def _share(part: int, whole: int) -> float | None:
    return round(part / whole, 4) if whole else None


def _middle(values: Sequence[float]) -> float | None:
    return round(float(np.median(np.abs(values))), 4) if values else None


def _part(values: Sequence[float], percent: float) -> float | None:
    return round(1e3 * float(np.percentile(values, percent)), 2) if values else None
