"""The same said of several shots of a session, as one step of undo."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.review.document.command import Command
from ripasso.review.document.edits import set_values, several
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.tagging import Context, NotUnderstood
from ripasso.review.entry.word_values import words_values
from ripasso.review.language.items import Item
from ripasso.review.record.proposals import without_proposals


def tag_shots(snapshot: Snapshot, shots: Sequence[str], items: Sequence[Item]) -> tuple[Command, int]:
    """Say items of shots; with it, how many could not take it (a cause where nothing went wrong)."""
    commands, refused, now = [], 0, snapshot
    for key in shots:
        row = now.shot(key)
        rack = now.rack(row.rack) if row else None
        if row is None or rack is None:
            refused += 1
            continue
        score = now.score.racks[now.rack_index(rack.key)] if now.score else None
        judged = score.shots[rack.place(key)] if score else None
        try:
            values = words_values(Context(without_proposals(row.record), now.head.game, judged), items)
        except NotUnderstood:
            refused += 1
            continue
        if values:
            commands.append(set_values(now, "shot", key, values, "Say it of several shots"))
            now = now.applied(commands[-1].changes) or now
    label = f"Say it of {len(shots) - refused} shots"
    return (several(label, commands) if commands else Command(label, snapshot.key, ())), refused
