"""Errors of a rack's shots by both schools, and the shot a failure may have come from.

School "judged": the analyst's yes or no. School "by chance": what the measures say. Where both speak the
analyst wins. Definitions and thresholds are in docs/measures.md.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from ripasso.core.measures.shots import ShotMeasures
from ripasso.core.rules import VisitStart

KINDS = ("pot", "position", "safety", "escape", "foul", "decision", "missed_chance", "break")
#: Kinds that are failures: their cause may lie in an earlier shot.
FAILURES = ("pot", "foul", "safety", "escape")
#: What makes a pot awkward: its failure is no unforced error by chance.
AWKWARD_DELIVERY = frozenset(
    ("rest", "spider", "off_hand", "reach", "elevated", "over_ball", "frozen_cushion")
)
AWKWARD_METHODS = frozenset(("jump", "swerve"))
AWKWARD_CAUSE = "awkward_cueing"


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
class Seen:
    """What was measured of a shot as far as errors hang on it; None where it is not known.

    Chances are 0 to 1: of the pot, of the next pot from the aim point and from where the cue ball rests, of
    the best next pot, and of the best pot there was.
    """

    chance: float | None = None
    chance_aim: float | None = None
    chance_rest: float | None = None
    leave: float | None = None
    best_chance: float | None = None
    snookered: bool | None = None
    wrong_side: bool = False
    position_loss: float | None = None

    @classmethod
    def of(cls, measures: ShotMeasures) -> Seen:
        """From the measures of a shot."""
        geometry, position, best = measures.geometry, measures.position, measures.best
        return cls(
            chance=geometry.chance if geometry else None,
            chance_aim=position.chance_aim if position else None,
            chance_rest=position.chance_rest if position else None,
            leave=measures.leave,
            best_chance=best.chance if best else None,
            snookered=measures.snookered,
            wrong_side=position is not None and position.side == "wrong_side",
            position_loss=position.position_loss if position else None,
        )


NOTHING_SEEN = Seen()


def is_awkward(delivery: Collection[str], methods: Collection[str], causes: Collection[str]) -> bool:
    """Whether a pot was awkward to strike, by what was said of it."""
    return bool(
        AWKWARD_DELIVERY.intersection(delivery)
        or AWKWARD_METHODS.intersection(methods)
        or AWKWARD_CAUSE in causes
    )


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
    seen: Seen = NOTHING_SEEN


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
    return [
        tuple(_with_cause(error, rack, place, limits) for error in shot_errors(shot, limits))
        for place, shot in enumerate(rack)
    ]


def shot_errors(shot: Played, limits: Thresholds | None = None) -> list[FoundError]:
    """The errors of one shot, in the order of `KINDS`, without the causes that other shots suggest."""
    limits = limits or Thresholds()
    recorded = {error.kind: error for error in shot.recorded}
    found = _kinds(shot, limits)
    errors = []
    for kind in KINDS:
        if kind not in recorded and kind not in found:
            continue
        said = recorded.get(kind)
        judged = said.unforced if said is not None else None
        cause = said.cause_shot if said is not None else None
        if judged is not None:
            errors.append(FoundError(kind, judged, "judged", cause))
        else:
            errors.append(FoundError(kind, _by_chance(kind, shot, limits), "by_chance", cause))
    return errors


def _with_cause(error: FoundError, rack: Sequence[Played], place: int, limits: Thresholds) -> FoundError:
    if error.kind not in FAILURES:
        return error
    return replace(error, cause_suggested=suggested_cause(rack, place, limits))


def _kinds(shot: Played, limits: Thresholds) -> set[str]:
    """The kinds that follow from the record and the measures."""
    kinds = set()
    if shot.failed:
        kinds.add("pot")
    if shot.fouled:
        kinds.add("break" if shot.intent == "break" else "foul")
    if shot.made and (shot.judged_lost or _fell(shot, limits)):
        kinds.add("position")
    leave = shot.seen.leave if shot.leaves_to_other else None
    if shot.intent == "safety" and not shot.fouled and leave is not None and leave >= limits.open:
        kinds.add("safety")
    if shot.mistake:
        kinds.add("decision")
    return kinds


def _fell(shot: Played, limits: Thresholds) -> bool:
    """The next pot was open from the aim point, and hardly one from where the cue ball stopped."""
    aim, rest = shot.seen.chance_aim, shot.seen.chance_rest
    return aim is not None and rest is not None and aim >= limits.open and rest < limits.hardly


def _by_chance(kind: str, shot: Played, limits: Thresholds) -> bool | None:
    """Whether an error was unforced by what was measured; None where that cannot be decided."""
    seen = shot.seen
    match kind:
        case "decision" | "missed_chance":
            return True
        case "break":
            return shot.fouled or None
        case "pot":
            return _fair_pot(shot, limits)
        case "foul":
            return None if seen.snookered is None else not seen.snookered
        case "position":
            is_known = seen.chance_aim is not None and seen.chance_rest is not None
            return _fell(shot, limits) if is_known else None
        case "safety":
            return _free_safety(seen, limits)
    return None  # an escape


def _fair_pot(shot: Played, limits: Thresholds) -> bool | None:
    if shot.awkward:
        return False
    return None if shot.seen.chance is None else shot.seen.chance >= limits.fair


def _free_safety(seen: Seen, limits: Thresholds) -> bool | None:
    """A safety that left an open chance although another shot could have been chosen."""
    if seen.leave is None or seen.best_chance is None or seen.snookered is None:
        return None
    free = seen.best_chance >= limits.open or not seen.snookered
    return seen.leave >= limits.open and free


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
    recorded = any(error.kind == "position" for error in shot.recorded)
    if recorded or "position" in _kinds(shot, limits):
        return True
    loss = shot.seen.position_loss
    return shot.seen.wrong_side or (loss is not None and loss >= limits.loss)
