"""A rack as a story: what was planned and by whom, what was played, what lost or made it, what repeats."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ripasso.core.measures.errors import FAILURES, FoundError
from ripasso.core.rules import RackScore
from ripasso.review.language.vocabulary import ball_word, pocket_word, rack_word, word
from ripasso.review.present.derived import trouble_balls
from ripasso.review.present.describing import player_name
from ripasso.review.record.model import Rack, RackPlan, Session, Stated
from ripasso.review.record.people import PROGRAM
from ripasso.review.scoring.outcome import recorded_errors

#: Roles as they are said of a ball; the others as the vocabulary has them.
ROLE_WORDS = {
    "trouble": "trouble",
    "cluster": "in a cluster",
    "isolated": "far from the rest",
    "key": "key ball",
    "break_ball": "break ball",
    "insurance": "insurance ball",
    "up_table": "up table",
}


@dataclass(frozen=True)
class PlannedLine:
    """A ball of a plan, why so, at which shot it fell, and whether in its turn among those that fell."""

    ball: str
    pocket: str | None
    link: str | None
    reason: str | None
    fell_at: int | None
    in_turn: bool | None


@dataclass(frozen=True)
class PlanSheet:
    """One version of a plan, with what became of it."""

    title: str
    lines: tuple[PlannedLine, ...]


@dataclass(frozen=True)
class Fault:
    """The same error with the same cause in several racks."""

    kind: str
    cause: str
    places: tuple[tuple[int, int], ...]

    @property
    def racks(self) -> int:
        """In how many racks it is."""
        return len({rack for rack, _ in self.places})


@dataclass(frozen=True)
class RackSheet:
    """What a sheet of the rack says."""

    roles: tuple[str, ...]
    plans: tuple[PlanSheet, ...]
    root_shot: int | None
    root_suggested: int | None
    making_shot: int | None
    making_suggested: int | None
    lesson: str
    stated: tuple[str, ...]
    faults: tuple[Fault, ...]


def rack_sheet(
    session: Session, rack: Rack, score: RackScore | None, errors: Sequence[Sequence[FoundError]]
) -> RackSheet:
    """The sheet of one rack; `errors` are those found of each of its shots."""
    return RackSheet(
        tuple(_roles(rack)),
        tuple(plan_sheet(rack, plan, session.game) for plan in rack.plans or ()),
        rack.root_shot,
        suggested_root(rack, errors),
        rack.making_shot,
        suggested_making(rack, score),
        rack.lesson or "",
        tuple(stated_words(session, one) for one in rack.stated or ()),
        repeated_faults(session),
    )


def stated_words(session: Session, one: Stated) -> str:
    """What somebody says of racks that are not shown, such as "Ada, 5 racks in a row, says Ida"."""
    what = {
        "streak": f"{rack_word(session.game)}s in a row",
        "run": "in one visit",
        "break": "points in one visit",
    }
    told = f"{one.value} {what[one.what]}" if one.what and one.value is not None else one.text or "nothing"
    who = f"{player_name(session, one.player)}, " if one.player else ""
    return f"{who}{told}{f', says {one.by}' if one.by else ''}"


def _roles(rack: Rack) -> Iterator[str]:
    solved = trouble_balls(rack, 10**6)
    for ball, roles in (rack.roles or {}).items():
        text = f"{ball_word(ball)}: {', '.join(ROLE_WORDS.get(role) or word(role) for role in roles)}"
        if ball in solved:
            text += f", solved at shot {solved[ball]}" if solved[ball] is not None else ", never solved"
        yield text


def fell_at(rack: Rack) -> dict[str, int]:
    """The shot at which each ball fell first."""
    found: dict[str, int] = {}
    for shot in rack.shots or ():
        for pot in (shot.facts.potted if shot.facts else None) or ():
            found.setdefault(pot.ball, shot.number)
    return found


def plan_sheet(rack: Rack, plan: RackPlan, game: str | None) -> PlanSheet:
    """A plan beside what was played from the shot on at which it was made."""
    since = plan.made_at_shot or 1
    fallen = {ball: number for ball, number in fell_at(rack).items() if number >= since}
    planned = [one.ball for one in plan.order or () if one.ball]
    played = sorted((ball for ball in planned if ball in fallen), key=lambda ball: fallen[ball])
    fell = [ball for ball in planned if ball in fallen]
    lines = []
    for one in plan.order or ():
        ball = one.ball or "?"
        at = fallen.get(ball)
        in_turn = played.index(ball) == fell.index(ball) if at is not None else None
        pocket = pocket_word(one.pocket, game) if one.pocket else None
        lines.append(PlannedLine(ball, pocket, one.link, one.reason, at, in_turn))
    return PlanSheet(_plan_title(plan), tuple(lines))


def _plan_title(plan: RackPlan) -> str:
    parts = [f"Plan {plan.version or 1}"]
    if plan.made_at_shot:
        came = "changed" if (plan.version or 1) > 1 else "made"
        parts.append(f"{came} at shot {plan.made_at_shot}")
    if plan.by:
        parts.append(f"by {plan.by}")
    # The program says what its plan is worth, people say why it is this group.
    is_cause = plan.group is not None and plan.by != PROGRAM
    told = [one for one in (plan.group, plan.reason) if one]
    parts += [" because ".join(told)] if is_cause else told
    for ball, name in ((plan.key_ball, "key ball"), (plan.break_ball, "break ball")):
        if ball:
            parts.append(f"{name} {ball_word(ball)}")
    return ", ".join(parts)


def suggested_root(rack: Rack, errors: Sequence[Sequence[FoundError]]) -> int | None:
    """The shot behind the last failure of the rack; None where nothing failed."""
    for shot, found in zip(reversed(rack.shots or ()), reversed(list(errors)), strict=True):
        for error in found:
            if error.kind in FAILURES:
                return error.cause_shot or error.cause_suggested or shot.number
    return None


def suggested_making(rack: Rack, score: RackScore | None) -> int | None:
    """The shot that made the rack: walking back through the winning visit, the first that opened it."""
    shots = rack.shots or ()
    if score is None or score.winner is None or not score.shots:
        return None
    visit = score.shots[-1].visit
    winning = [shot for shot, judged in zip(shots, score.shots, strict=True) if judged.visit == visit]
    for shot in reversed(winning):
        if shot.events:
            return shot.number
    return winning[0].number if winning and winning[0].player == score.winner else None


def repeated_faults(session: Session) -> tuple[Fault, ...]:
    """Errors with the same cause that stand in two racks and more, the most frequent first."""
    found: dict[tuple[str, str], list[tuple[int, int]]] = defaultdict(list)
    for rack in session.racks or ():
        for shot in rack.shots or ():
            for error in recorded_errors(shot):
                for cause in error.causes or ():
                    found[error.kind, cause].append((rack.number, shot.number))
    faults = [Fault(kind, cause, tuple(places)) for (kind, cause), places in found.items()]
    return tuple(sorted((fault for fault in faults if fault.racks > 1), key=lambda fault: -len(fault.places)))


def fault_words(fault: Fault) -> str:
    """Such as "position by pace in 2 racks: 1.4, 2.3"."""
    places = ", ".join(f"{rack}.{shot}" for rack, shot in fault.places)
    cause = word(fault.cause)
    return f"{word(f'error_{fault.kind}')} by {cause} in {fault.racks} racks: shots {places}"
