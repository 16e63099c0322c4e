"""Errors of a rack's shots by both schools, and the shot a failure may have come from.

School "judged": the analyst's yes or no. School "by chance": what the measures say. Where both speak the
analyst wins. Definitions and thresholds are in docs/measures.md.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from ripasso.core.measures.shots import ShotMeasures
from ripasso.core.rules import VisitStart

KINDS = ("pot", "position", "safety", "escape", "foul", "decision", "missed_chance", "break")
#: Kinds that are failures: their cause may lie in an earlier shot.
FAILURES = ("pot", "foul", "safety", "escape")


@dataclass(frozen=True, slots=True)
class Thresholds:
    """Settings: a chance fair to expect, an open one, hardly one, and a loss that counts."""

    fair: float = 0.75
    open: float = 0.60
    hardly: float = 0.40
    loss: float = 0.15


@dataclass(frozen=True, slots=True)
class RecordedError:
    """An error as the analyst recorded it; `unforced` None where that was left open."""

    kind: str
    unforced: bool | None = None
    cause_shot: int | None = None


@dataclass(frozen=True, slots=True)
class Played:
    """What is known of one shot: how it went, what was judged, and what was measured."""

    number: int
    visit: VisitStart | None
    intent: str | None
    made: bool
    failed: bool
    fouled: bool
    awkward: bool = False
    judged_lost: bool = False
    #: The opponent plays the next shot of the rack.
    leaves_to_other: bool = False
    mistake: bool = False
    recorded: tuple[RecordedError, ...] = ()
    measures: ShotMeasures = field(default_factory=lambda: ShotMeasures(()))


@dataclass(frozen=True, slots=True)
class FoundError:
    """An error with its school; `cause_shot` is recorded, `cause_suggested` proposed (None: itself)."""

    kind: str
    unforced: bool | None
    school: str
    cause_shot: int | None = None
    cause_suggested: int | None = None


def errors_of(rack: Sequence[Played], limits: Thresholds | None = None) -> list[tuple[FoundError, ...]]:
    """The errors of each shot of a rack, in the order of `KINDS`."""
    limits = limits or Thresholds()
    found: list[tuple[FoundError, ...]] = []
    for place, shot in enumerate(rack):
        recorded = {error.kind: error for error in shot.recorded}
        kinds = [kind for kind in KINDS if kind in recorded or kind in _kinds(shot, limits)]
        errors = []
        for kind in kinds:
            said = recorded.get(kind)
            judged = said.unforced if said else None
            errors.append(
                FoundError(
                    kind,
                    judged if judged is not None else _by_chance(kind, shot, limits),
                    "judged" if judged is not None else "by_chance",
                    said.cause_shot if said else None,
                    suggested_cause(rack, place, limits) if kind in FAILURES else None,
                )
            )
        found.append(tuple(errors))
    return found


def _kinds(shot: Played, limits: Thresholds) -> set[str]:
    """The kinds that follow from the record and the measures."""
    kinds = set()
    if shot.failed:
        kinds.add("pot")
    if shot.fouled:
        kinds.add("break" if shot.intent == "break" else "foul")
    if shot.made and (shot.judged_lost or _fell(shot, limits)):
        kinds.add("position")
    leave = shot.measures.leave if shot.leaves_to_other else None
    if shot.intent == "safety" and not shot.fouled and leave is not None and leave >= limits.open:
        kinds.add("safety")
    if shot.mistake:
        kinds.add("decision")
    return kinds


def _fell(shot: Played, limits: Thresholds) -> bool:
    """The next pot was open from the aim point, and hardly one from where the cue ball stopped."""
    position = shot.measures.position
    if position is None or position.chance_aim is None or position.chance_rest is None:
        return False
    return position.chance_aim >= limits.open and position.chance_rest < limits.hardly


def _by_chance(kind: str, shot: Played, limits: Thresholds) -> bool | None:
    """Whether an error was unforced by what was measured; None where that cannot be decided."""
    measures = shot.measures
    if kind in ("decision", "missed_chance"):
        return True
    if kind == "break":
        return shot.fouled or None
    if kind == "pot":
        chance = measures.geometry.chance if measures.geometry else None
        if shot.awkward:
            return False
        return None if chance is None else chance >= limits.fair
    if kind == "foul":
        return None if measures.snookered is None else not measures.snookered
    if kind == "position":
        position = measures.position
        known = position is not None and position.chance_aim is not None and position.chance_rest is not None
        return _fell(shot, limits) if known else None
    if kind == "safety":
        return _free_safety(measures, limits)
    return None  # an escape


def _free_safety(measures: ShotMeasures, limits: Thresholds) -> bool | None:
    """A safety that left an open chance although another shot could have been chosen."""
    if measures.leave is None or measures.best is None or measures.snookered is None:
        return None
    free = measures.best.chance >= limits.open or not measures.snookered
    return measures.leave >= limits.open and free


def suggested_cause(rack: Sequence[Played], place: int, limits: Thresholds | None = None) -> int | None:
    """The first shot of the chain that leads to a failure, None when it is the failure itself.

    Backwards from the failure as long as the shot before, of the same visit, was off in its position.
    """
    limits = limits or Thresholds()
    visit = rack[place].visit
    found = None
    for shot in reversed(rack[:place]):
        if shot.visit is None or shot.visit != visit or not _off(shot, limits):
            break
        found = shot.number
    return found


def _off(shot: Played, limits: Thresholds) -> bool:
    """The cue ball came to a place that made the next shot harder."""
    position = shot.measures.position
    recorded = any(error.kind == "position" for error in shot.recorded)
    if recorded or "position" in _kinds(shot, limits):
        return True
    if position is None:
        return False
    loss = position.position_loss
    return position.side == "wrong_side" or (loss is not None and loss >= limits.loss)
