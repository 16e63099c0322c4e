"""What a record counts as: a pot tried, made or failed, a foul, a fluke, an error. Nothing else says so."""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.rules import ShotScore
from ripasso.review.record.model import Error, Shot
from ripasso.review.record.proposals import OUTCOME, is_proposed, without_proposals
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball_down


@dataclass(frozen=True, slots=True)
class ShotOutcome:
    """How a shot went, as every figure counts it."""

    tried: bool
    made: bool
    failed: bool
    fouled: bool
    fluke: bool


def shot_outcome(record: Shot, judged: ShotScore | None) -> ShotOutcome:
    """Whether a pot was tried, made, failed, a foul, a fluke.

    A proposal carries the score along, but counts in no figure until it is accepted.
    """
    shot, is_open = without_proposals(record), is_proposed(record, OUTCOME)
    tried = shot.intent in POT_INTENTS and shot.facts is not None and not is_open
    fouled = _is_foul(shot, None if is_proposed(record, ("facts",)) else judged)
    fluke = bool(shot.result and shot.result.luck == "fluke")
    down = tried and meant_ball_down(shot, judged)
    return ShotOutcome(tried, down and not fouled and not fluke, tried and (fluke or not down), fouled, fluke)


def _is_foul(shot: Shot, judged: ShotScore | None) -> bool:
    """By the rules where they are known, else by what is a foul in every game."""
    if judged is not None and judged.outcome is not None:
        return not judged.outcome.legal
    facts = shot.facts
    return bool(facts and (facts.cue_potted or facts.off_table or facts.other_fouls))


def recorded_errors(shot: Shot) -> tuple[Error, ...]:
    """The errors as recorded; one stands for itself, a list for its members."""
    error = shot.error
    if error is None:
        return ()
    return (error,) if isinstance(error, Error) else error


def found_kinds(shot: Shot, *, made: bool, failed: bool, fouled: bool) -> tuple[str, ...]:
    """The kinds of error that follow from the record without any measuring."""
    kinds = []
    if failed:
        kinds.append("pot")
    if made and shot.result and shot.result.position == "lost":
        kinds.append("position")
    if fouled:
        kinds.append("break" if shot.intent == "break" else "foul")
    if shot.decision and shot.decision.verdict == "mistake":
        kinds.append("decision")
    return tuple(kinds)


def is_judged(shot: Shot) -> bool:
    """Whether anything was judged of a shot: its position, the decision, or an error."""
    return bool(
        (shot.result and shot.result.position) or (shot.decision and shot.decision.verdict) or shot.error
    )
