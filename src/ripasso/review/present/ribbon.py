"""The rack ribbon: every shot of a rack as a token, visits as bands, errors leading back to their cause."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from ripasso.core.rules import ShotScore
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.present.describing import meant_label
from ripasso.review.record.model import Shot
from ripasso.review.record.proposals import is_proposed
from ripasso.review.recordings.film_parts import live_film
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball_down
from ripasso.review.scoring.outcome import recorded_errors
from ripasso.review.scoring.weighed import chance_to_clear

Outcome = Literal["potted", "missed", "safety", "foul", "open"]


@dataclass(frozen=True)
class Token:
    """One shot: its ball, its result by shape, how the position was off, and the shot that caused it."""

    key: str
    number: int
    player: str | None
    label: str
    is_break: bool
    outcome: Outcome
    pace: Literal["long", "short", ""]
    lost: bool
    cause: int | None
    warned: bool
    proposed: bool = False
    #: The chance to clear the rack before it, where that was worked out.
    clear: float | None = None


@dataclass(frozen=True)
class Band:
    """A visit: the tokens from `first` to `last` (places in the ribbon), and whose it was."""

    first: int
    last: int
    player: str | None


@dataclass(frozen=True)
class Ribbon:
    """The tokens of a rack with their visits."""

    tokens: tuple[Token, ...]
    bands: tuple[Band, ...]
    #: Places of tokens behind which film is missing: there may be shots that nobody saw.
    gaps: tuple[int, ...] = ()


def ribbon_of(snapshot: Snapshot, rack: RackRow) -> Ribbon:
    """The ribbon of one rack as it stands."""
    score = snapshot.score.racks[snapshot.rack_index(rack.key)] if snapshot.score else None
    judged = score.shots if score else (None,) * len(rack.shots)
    game = snapshot.head.game
    tokens = tuple(_token(s.key, s.record, j, game) for s, j in zip(rack.shots, judged, strict=True))
    bands: list[Band] = []
    before: object = None
    for place, (token, scored) in enumerate(zip(tokens, judged, strict=True)):
        visit: object = scored.visit if scored and scored.visit is not None else ("player", token.player)
        if bands and visit == before:
            bands[-1] = Band(bands[-1].first, place, token.player)
        else:
            bands.append(Band(place, place, token.player))
        before = visit
    return Ribbon(tokens, tuple(bands), _gaps(snapshot, rack))


def _gaps(snapshot: Snapshot, rack: RackRow) -> tuple[int, ...]:
    """Between which shots film is missing."""
    film = live_film(snapshot.head)
    places = []
    for place, (shot, after) in enumerate(pairwise(s.record for s in rack.shots)):
        start, end = shot.t_strike, after.t_strike
        if start is None or end is None or shot.recording != after.recording:
            continue
        if film.is_cut(shot.recording, float(start), float(end)):
            places.append(place)
    return tuple(places)


def _token(key: str, shot: Shot, judged: ShotScore | None, game: str | None) -> Token:
    result = shot.result
    pace = (result and result.pace) or ""
    causes = [error.cause_shot for error in recorded_errors(shot) if error.cause_shot is not None]
    return Token(
        key=key,
        number=shot.number,
        player=shot.player,
        label=_label(shot, judged, game),
        is_break=shot.intent == "break",
        outcome=_outcome(shot, judged, game),
        pace=pace if pace in ("long", "short") else "",
        lost=bool(result and result.position == "lost"),
        cause=causes[0] if causes and causes[0] != shot.number else None,
        warned=bool(judged and set(judged.warnings) - {"no_facts"}),
        proposed=is_proposed(shot, ("facts",)),
        clear=chance_to_clear(shot),
    )


def _label(shot: Shot, judged: ShotScore | None, game: str | None) -> str:
    if shot.intent == "break":
        return "off" if game == "snooker" else "break"
    return meant_label(shot, judged) or ""


def _outcome(shot: Shot, judged: ShotScore | None, game: str | None) -> Outcome:
    if judged and judged.outcome and not judged.outcome.legal:
        return "foul"
    facts = shot.facts
    if not (judged and judged.outcome) and facts and (facts.cue_potted or facts.other_fouls):
        return "foul"
    if shot.intent in ("safety", "push_out"):
        return "safety"
    if facts is None or facts.potted is None:
        return "open"
    if shot.intent in POT_INTENTS:
        return "potted" if meant_ball_down(shot, judged) else "missed"
    if game == "snooker" and shot.intent == "break" and not facts.potted:
        return "safety"  # nothing is meant to fall on a break-off
    return "potted" if facts.potted else "missed"
