"""How the next rack begins when it is not with its break after the one before: not shown racks, the middle of
a rack, a layout. One step of undo.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ripasso.core.rules import GAMES
from ripasso.core.rules.pool import in_ball_order
from ripasso.review.document.command import Change, Command, Entry
from ripasso.review.document.edits import RefusedEdit, add_rack, edit, remove_rack, several
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.parsing import NotAWord
from ripasso.review.language.vocabulary import rack_word
from ripasso.review.record.model import Rack, Session, serialize

_WORDS = (
    "no one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen"  # by value
)
#: Numbers as words, as they are said of reds.
COUNTS = {word: number for number, word in enumerate(_WORDS.split())}
_REDS = re.compile(r"(\w+) reds?\b|\breds? (\d+)\b")


@dataclass(frozen=True)
class RackStart:
    """A rack and how it begins.

    `number` is that of the match (None: the next one), `score` the match's score before it (None: as
    counted). `layout` are the places of its balls, `in_progress` what the record says of a rack that is
    going on, see `record.model.RackInProgress`, `stated` what is said of the racks that are not shown,
    `from_layout` the id of the kept layout that it begins with.
    """

    number: int | None = None
    score: Mapping[str, int] | None = None
    layout: Mapping[str, Sequence[float]] | None = None
    in_progress: Mapping[str, object] = field(default_factory=dict)
    stated: Sequence[Mapping[str, object]] = ()
    from_layout: str = ""


@edit
def begin_rack(snapshot: Snapshot, start: RackStart) -> Command:
    """Begin a rack; what lies between it and the one before is a gap. Raises `RefusedEdit`.

    An empty rack that waits at the end gives its place.
    """
    commands: list[Command] = []
    now = snapshot
    waiting = now.racks[-1] if now.racks else None
    if waiting is not None and not waiting.shots and not waiting.record.not_shown:
        commands.append(remove_rack(now, waiting.key))
        now = now.applied(commands[-1].changes) or now
    last = now.racks[-1].record.number if now.racks else 0
    counted = dict(now.score.score) if now.score is not None else {}
    score = dict(start.score) if start.score is not None else counted
    number = start.number or last + 1
    what = rack_word(snapshot.head.game)
    if number <= last:
        raise RefusedEdit(f"{what.capitalize()} {number} cannot come after {what} {last}.")
    # A match's number says that the rack is the very next one; in one long game no rack is won.
    follows = start.number == last + 1 and snapshot.head.game != "straight_pool"
    left_out = number > last + 1 or (score != counted and not follows)
    if now.racks and left_out and not now.racks[-1].record.not_shown:
        commands.append(_hidden(now))
        now = now.applied(commands[-1].changes) or now
        # A score is no proof of the number: the rack after a gap comes behind the gap's own at least.
        number = max(number, last + 2)
    values: dict[str, object] = {"number": number}
    if score != counted or any(row.record.not_shown for row in now.racks[-1:]):
        values["score_before"] = score
    if start.layout is not None:
        values["layout"] = {ball: tuple(place) for ball, place in start.layout.items()}
        if start.from_layout:
            values["from_layout"] = start.from_layout
    if start.in_progress:
        values["in_progress"] = dict(start.in_progress)
    if start.stated:
        values["stated"] = tuple(dict(one) for one in start.stated)
    commands.append(add_rack(now, values))
    return several(f"Begin {what} {number}", commands)


def _hidden(snapshot: Snapshot) -> Command:
    """A gap: it has no shots, not an empty list of them."""
    added = add_rack(snapshot, {"not_shown": True})
    after = added.changes[0].after
    assert after is not None
    data = {key: value for key, value in serialize(after.record).items() if key != "shots"}
    entry = Entry(Rack.model_validate(data), after.parent, after.position)
    return Command("Racks not shown", snapshot.key, (Change("rack", added.changes[0].key, None, entry),))


def parse_balls(text: str, session: Session) -> tuple[str, ...]:
    """The balls on the table as they are said, in ball order; raises `NotAWord`.

    Such as "six reds, all colours", "blue pink black", "1 3 5 9", "all but 2 7"; nothing said is all of them.
    """
    build = GAMES.get(session.game or "")
    if build is None:
        raise NotAWord("The balls of this game are not known.")
    balls = build((), session.rules or {}).balls
    said = " ".join(text.casefold().replace(",", " ").replace(" and ", " ").split())
    if not said:
        return balls
    if said.startswith("all but "):
        gone = _named(said.removeprefix("all but "), balls)
        return tuple(ball for ball in balls if ball not in gone)
    return in_ball_order(_named(said, balls), balls)


def _named(said: str, balls: Sequence[str]) -> set[str]:
    """The balls that are named, reds by their number."""
    reds = [ball for ball in balls if ball.startswith("red")]
    found: set[str] = set()
    match = _REDS.search(said) if reds else None
    if match is not None:
        word = match.group(1) or match.group(2)
        many = int(word) if word.isdecimal() else {"all": len(reds), **COUNTS}.get(word, -1)
        if not 0 <= many <= len(reds):
            raise NotAWord(f"“{match.group(0)}”: there are no more than {len(reds)} reds.")
        found.update(reds[:many])
        said = f"{said[: match.start()]} {said[match.end() :]}"
    for word in said.replace("all colours", "colours").replace("all colors", "colours").split():
        if word in ("all", "colours", "colors", "balls", "the"):
            found.update(ball for ball in balls if word == "all" or not ball.startswith("red"))
        elif word in balls:
            found.add(word)
        else:
            raise NotAWord(f"“{word}” is no ball of this game; say such as {_example(reds)}.")
    return found


def _example(reds: Sequence[str]) -> str:
    return "“six reds, all colours”" if reds else "“1 3 5 9” or “all but 2 7”"
