"""What the next strike implies of the shot before it: the same player plays on, so the ball went in.

An implied outcome is a proposal: it carries the score and the turn along, so that in nine-ball strike and
pocket are enough and in snooker strike and colour; no figure counts it until it is accepted.
"""

from __future__ import annotations

from ripasso.core.rules import ShotScore
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, Path, set_values
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.entry.tagging import Context, NotUnderstood, tag_values
from ripasso.review.record.model import Shot
from ripasso.review.record.proposals import OUTCOME, is_proposed, pointer, without_proposals
from ripasso.review.scoring.meant import POT_INTENTS

#: How sure an implied outcome is: who plays on was said; was taken for granted; not even the shot was named.
PLAYER_SAID, PLAYER_ASSUMED, NOTHING_SAID = 0.9, 0.7, 0.5
_OURS = frozenset(pointer(path) for path in (OUTCOME, ("intent",), ("facts", "first_contact")))
_LABEL = "Propose what the next strike implies"


def is_implied(shot: Shot) -> bool:
    """Whether the shot's outcome was proposed from the strike after it, not read from the film."""
    return pointer(OUTCOME) in (shot.proposed or ()) and set(shot.proposed or ()) <= _OURS


def imply_pot(snapshot: Snapshot, before: str) -> Command | None:
    """A new strike follows the shot `before`: unless more is known, its player plays on and his ball fell."""
    row = snapshot.shot(before)
    if row is None or _plays_alone(snapshot) or not _is_open(row.record, _judged(snapshot, row)):
        return None
    if row.record.player is None:
        return None  # marked only: who struck, and with what, is said later
    said_something = row.record.intent is not None or row.record.call is not None
    return _propose(snapshot, row, PLAYER_ASSUMED if said_something else NOTHING_SAID, fell=True)


def imply_from_player(snapshot: Snapshot, after: str) -> Command | None:
    """Somebody said who struck the shot `after`: what that says of the shot before it in the rack."""
    row = snapshot.shot(after)
    rack = snapshot.rack(row.rack) if row else None
    if row is None or rack is None or _plays_alone(snapshot):
        return None
    place = rack.place(after)
    if place == 0:
        return None
    before = rack.shots[place - 1]
    if not is_implied(before.record) and not _is_open(before.record, _judged(snapshot, before)):
        return None
    return _propose(snapshot, before, PLAYER_SAID, fell=before.record.player == row.record.player)


def renew(snapshot: Snapshot, shot: str) -> Command | None:
    """The shot changed under its implied outcome: the same outcome for the ball and pocket it names now."""
    row = snapshot.shot(shot)
    if row is None or not is_implied(row.record):
        return None
    potted = row.record.facts.potted if row.record.facts else None
    sure = (row.record.proposed or {})[pointer(OUTCOME)]
    command = _propose(snapshot, row, float(sure), fell=bool(potted))
    return command if command and command.changes[0].before != command.changes[0].after else None


def withdraw(snapshot: Snapshot, shot: str) -> Command | None:
    """The strike after the shot is gone: nothing is implied of it any more."""
    row = snapshot.shot(shot)
    if row is None or not is_implied(row.record):
        return None
    values: dict[Path, object] = {_path(text): REMOVE for text in row.record.proposed or ()}
    return set_values(snapshot, "shot", shot, values, _LABEL)


def _path(text: str) -> Path:
    return next(path for path in (OUTCOME, ("intent",), ("facts", "first_contact")) if pointer(path) == text)


def _plays_alone(snapshot: Snapshot) -> bool:
    """A player on his own plays on after a miss too; in a ghost race he does not."""
    players = snapshot.head.players or ()
    return len(players) < 2


def _judged(snapshot: Snapshot, row: ShotRow) -> ShotScore | None:
    rack = snapshot.rack(row.rack)
    if snapshot.score is None or rack is None:
        return None
    place = rack.place(row.key)
    return snapshot.score.racks[snapshot.rack_index(rack.key)].shots[place]


def _is_open(shot: Shot, judged: ShotScore | None) -> bool:
    """A pot of which nobody has said what came of it."""
    facts = shot.facts
    if shot.intent not in (None, *POT_INTENTS) or (facts is not None and facts.potted is not None):
        return False
    return judged is None or judged.outcome is None or judged.outcome.legal


def _propose(snapshot: Snapshot, row: ShotRow, confidence: float, *, fell: bool) -> Command | None:
    context = Context(without_proposals(row.record), snapshot.head.game, _judged(snapshot, row))
    try:
        found = tag_values(context, "potted" if fell else "missed")
    except NotUnderstood:
        return None  # nobody knows which ball it was
    values = {path: value for path, value in found.items() if value is not REMOVE}
    marks: dict[Path, object] = {("proposed", pointer(path)): confidence for path in values}
    gone: dict[Path, object] = {
        path: REMOVE
        for path in (("facts", "first_contact"),)
        if path not in values and is_proposed(row.record, path)
    }
    gone |= {("proposed", pointer(path)): REMOVE for path in gone}
    return set_values(snapshot, "shot", row.key, {**gone, **values, **marks}, _LABEL)
