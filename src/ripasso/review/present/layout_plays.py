"""What was played from a kept layout: what was chosen, what came of it, where the cue ball ended."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from ripasso.core.table.places import Place
from ripasso.review.document.command import Table
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.entry.attempts import figures_of
from ripasso.review.language.vocabulary import count, rack_word
from ripasso.review.present.describing import chips, player_name, shot_title
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.scoring.outcome import shot_outcome
from ripasso.review.table.layouts import score_of_shot

#: So many of the findings of a shot stand in a line.
FINDINGS = 4


@dataclass(frozen=True)
class Play:
    """One stroke from a layout, or a set of attempts at it; `rests` are where the cue ball stopped."""

    where: str
    who: str
    chosen: str
    came: str
    session: str
    shot: str | None
    rests: tuple[tuple[Place, bool], ...]


Open = Callable[[str], Snapshot | None]


def plays_of(
    forms: Sequence[tuple[str, KeptLayout]], played: Sequence[tuple[str, Table, str]], session: Open
) -> list[Play]:
    """Everything that was played from the forms of a layout: the shots they were met at come first.

    `played` are session, table and key of the racks and sets that began from them.
    """
    met = [play for _, one in forms for play in _met_at(one, session)]
    # Several forms may have been kept at one shot.
    found = list({(play.session, play.shot): play for play in reversed(met)}.values())[::-1]
    for key, table, row in played:
        snapshot = session(key)
        if snapshot is None:
            continue
        found += _of_rack(snapshot, row) if table == "rack" else _of_set(snapshot, row)
    return found


def _met_at(one: KeptLayout, session: Open) -> Iterator[Play]:
    met = one.from_
    snapshot = session(met.session) if met is not None and met.session else None
    if met is None or snapshot is None:
        return
    for rack in snapshot.racks:
        for row in rack.shots:
            if (rack.record.number, row.record.number) == (met.rack, met.shot):
                yield _play(snapshot, row, f"{one.title}: ")


def _of_rack(snapshot: Snapshot, key: str) -> Iterator[Play]:
    rack = snapshot.rack(key)
    if rack is not None and rack.shots:
        yield _play(snapshot, rack.shots[0], "")


def _play(snapshot: Snapshot, row: ShotRow, before: str) -> Play:
    head, record = snapshot.head, row.record
    rack = snapshot.rack(row.rack)
    number = rack.record.number if rack is not None else 0
    judged = score_of_shot(snapshot, row)
    went = shot_outcome(record, judged)
    told = [chip.text for chip in chips(record) if chip.tone != "plain"][:FINDINGS]
    rest = record.after.get("cue") if record.after else None
    at = (((float(rest[0]), float(rest[1])), not went.failed),) if rest is not None else ()
    return Play(
        f"{before}{head.title}, {rack_word(head.game)} {number}, shot {record.number}",
        player_name(head, record.player) if record.player else "",
        shot_title(record, judged, head.game).partition(" · ")[2],
        ", ".join(told),
        snapshot.key,
        row.key,
        at,
    )


def _of_set(snapshot: Snapshot, key: str) -> Iterator[Play]:
    made = dict(snapshot.attempt_sets).get(key)
    if made is None:
        return
    figures = figures_of(made)
    rests = [
        ((float(one.rest[0]), float(one.rest[1])), one.outcome == "success")
        for one in made.attempts or ()
        if one.rest is not None
    ]
    names = ", ".join(player.name or player.id for player in snapshot.head.players or () if not player.ghost)
    yield Play(
        f"{snapshot.head.title}, {made.title or made.id}",
        names,
        "attempts",
        f"{figures.rate.made} of {count(figures.rate.of, 'attempt')}",
        snapshot.key,
        None,
        tuple(rests),
    )
