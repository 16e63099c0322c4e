"""Layouts of shots: placing balls, and what follows from it for the shots beside.

The layout after a shot is the layout before the next one of the rack: what is placed in one stands in the
other, except for balls that were put somewhere else in between. A potted ball leaves, a spotted one returns.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from typing import Literal

from ripasso.core.rules import ShotScore
from ripasso.core.table import starting_layout, table_spec
from ripasso.core.table.places import Place
from ripasso.core.table.placing import settle, spot_for
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, Path, set_values, several
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.record.model import Shot

When = Literal["before", "after"]
Layout = dict[str, Place]

#: Places are kept to a tenth of a millimetre.
DIGITS = 4
_BALL = re.compile(r"cue|\d{1,2}|red\d{1,2}|yellow|green|brown|blue|pink|black")


class NoLayout(ValueError):
    """The text is no layout; the message is one sentence for the user."""


def recorded(row: ShotRow, when: When) -> Layout | None:
    """The layout that is recorded before or after a shot."""
    layout = row.record.before if when == "before" else row.record.after
    return balls_of(layout) if layout is not None else None


def seen_ways(shot: Shot) -> tuple[tuple[float, str, float, float], ...]:
    """The ways of balls on film from the strike on: seconds after it, ball, metres."""
    if shot.t_strike is None:
        return ()
    strike = float(shot.t_strike)
    ways = (shot.path or {}).items()
    found = [(float(t) - strike, ball, float(x), float(y)) for ball, way in ways for t, x, y in way]
    return tuple(one for one in found if one[0] >= 0)


def balls_of(layout: Mapping[str, Sequence[float]]) -> Layout:
    """The balls of a layout as a record has it."""
    return {ball: (float(place[0]), float(place[1])) for ball, place in layout.items()}


def expected(snapshot: Snapshot, row: ShotRow, when: When) -> Layout:
    """What is known of a layout that nobody placed: the rack, or what the layout beside it leaves."""
    judged = score_of_shot(snapshot, row)
    if when == "after":
        if row.record.intent == "break":
            return {}  # the rack is no sign of where its balls went
        before = recorded(row, "before") or expected(snapshot, row, "before")
        left = {ball: place for ball, place in before.items() if ball != "cue"}
        return _after_facts(snapshot, row, judged, left)
    earlier = _beside(snapshot, row, -1)
    if earlier is not None:
        return recorded(earlier, "after") or {}
    if row.record.intent == "break":
        reds = (snapshot.head.rules or {}).get("reds", 15)
        return dict(starting_layout(snapshot.head.game, table_spec(snapshot.head.table), reds))
    return {}


def shown(snapshot: Snapshot, row: ShotRow, when: When) -> Layout:
    """The layout recorded, else the one that can be expected."""
    found = recorded(row, when)
    return found if found is not None else expected(snapshot, row, when)


def balls_to_place(snapshot: Snapshot, row: ShotRow, when: When) -> tuple[str, ...]:
    """Balls that lie there by the rules and have no place yet, the cue ball first."""
    judged = score_of_shot(snapshot, row)
    there = shown(snapshot, row, when)
    on_table = set(judged.on_table) if judged else set()
    if when == "after" and judged is not None:
        on_table -= _gone(row, judged)
    facts = row.record.facts
    cue_lies = when == "before" or not (facts and facts.cue_potted)
    order = ["cue"] if cue_lies else []
    on = judged.balls_on if judged and when == "before" else ()
    order += [ball for ball in on if ball in on_table]
    order += sorted((ball for ball in on_table if ball not in on), key=_order)
    return tuple(ball for ball in order if ball not in there)


def place_ball(snapshot: Snapshot, row: ShotRow, when: When, ball: str, place: Place) -> Command:
    """Put a ball at a place; raises `ImpossiblePlace` where none can lie."""
    layout = shown(snapshot, row, when)
    spec = table_spec(snapshot.head.table)
    others = {name: other for name, other in layout.items() if name != ball}
    found = settle(spec, others, ball, place)
    return set_layout(snapshot, row, when, {**layout, ball: _rounded(found.place)}, f"Place ball {ball}")


def take_ball(snapshot: Snapshot, row: ShotRow, when: When, ball: str) -> Command:
    """Take a ball off a layout."""
    layout = {name: place for name, place in shown(snapshot, row, when).items() if name != ball}
    return set_layout(snapshot, row, when, layout, f"Take ball {ball} off the layout")


def set_layout(
    snapshot: Snapshot, row: ShotRow, when: When, layout: Layout, label: str = "Set the layout"
) -> Command:
    """A shot's layout, and what of it stands in the layout beside it; one step of undo."""
    old = recorded(row, when) or {}
    commands = [_set(snapshot, row, when, layout, label)]
    beside = _beside(snapshot, row, 1 if when == "after" else -1)
    if beside is not None:
        other: When = "before" if when == "after" else "after"
        moved = _mirrored(snapshot, beside, other, old, layout)
        if moved is not None:
            commands.append(_set(snapshot, beside, other, moved, label))
    return several(label, commands)


def follow_facts(snapshot: Snapshot, shot: str) -> Command | None:
    """After the facts of a shot changed: potted balls leave the layout after it, spotted ones return."""
    row = snapshot.shot(shot)
    after = recorded(row, "after") if row else None
    if row is None or after is None:
        return None
    judged = score_of_shot(snapshot, row)
    before = recorded(row, "before") or {}
    # A ball that left by the record of a pot that was taken back lies where it lay.
    layout = {ball: after.get(ball, place) for ball, place in before.items() if ball != "cue"}
    layout |= {ball: place for ball, place in after.items() if ball not in layout}
    layout = _after_facts(snapshot, row, judged, layout)
    return set_layout(snapshot, row, "after", layout) if layout != after else None


def carried(snapshot: Snapshot, row: ShotRow) -> Layout | None:
    """What the layout after a shot is for the next shot of its rack; None where nobody placed it."""
    after = recorded(row, "after")
    if after is None:
        return None
    away = _moved_by_hand(snapshot, row)
    return {ball: place for ball, place in after.items() if ball not in away} or None


def layout_text(layout: Mapping[str, Place]) -> str:
    """A layout as lines of text, a ball a line, metres from the head end and from the right."""
    return "\n".join(f"{ball} {place[0]!r} {place[1]!r}" for ball, place in layout.items())


def read_layout(text: str) -> Layout:
    """A layout from lines of text (ball, x, y) or from a JSON object; raises `NoLayout`."""
    text = text.strip()
    if text.startswith("{"):
        return _from_json(text)
    layout: Layout = {}
    for line in text.splitlines():
        parts = line.replace(":", " ").replace(",", " ").replace(";", " ").split()
        if not parts:
            continue
        if len(parts) != 3:
            raise NoLayout(f"“{line.strip()[:40]}” is not a ball with two numbers.")
        layout[ball_name(parts[0])] = _numbers(parts[1:], line)
    if not layout:
        raise NoLayout("There is no layout to paste; a line a ball, such as “4 1.25 0.6”.")
    return layout


def _from_json(text: str) -> Layout:
    try:
        data = json.loads(text)
        return {ball_name(str(ball)): (float(place[0]), float(place[1])) for ball, place in data.items()}
    except NoLayout:
        raise
    except (ValueError, TypeError, AttributeError, IndexError, KeyError):
        raise NoLayout("This is not a layout: an object from balls to pairs of metres.") from None


def ball_name(word: str) -> str:
    """The name of a ball as somebody writes it; raises `NoLayout`."""
    name = word.lower()
    if not _BALL.fullmatch(name):
        raise NoLayout(f"There is no ball “{word[:20]}”.")
    return name


def _numbers(parts: list[str], line: str) -> Place:
    try:
        return (float(parts[0]), float(parts[1]))
    except ValueError:
        raise NoLayout(f"“{line.strip()[:40]}” should have two numbers of metres.") from None


def score_of_shot(snapshot: Snapshot, row: ShotRow) -> ShotScore | None:
    """A shot by the rules."""
    rack = snapshot.rack(row.rack)
    if snapshot.score is None or rack is None:
        return None
    place = rack.place(row.key)
    return snapshot.score.racks[snapshot.rack_index(rack.key)].shots[place]


def _beside(snapshot: Snapshot, row: ShotRow, by: int) -> ShotRow | None:
    """The shot before (-1) or after (1) in the same rack."""
    rack = snapshot.rack(row.rack)
    if rack is None:
        return None
    place = rack.place(row.key) + by
    return rack.shots[place] if 0 <= place < len(rack.shots) else None


def _gone(row: ShotRow, judged: ShotScore | None) -> set[str]:
    """Object balls that a shot takes off the table for good."""
    facts = row.record.facts
    fallen = {pot.ball for pot in (facts.potted if facts else None) or ()}
    fallen |= set((facts.off_table if facts else None) or ())
    return fallen - set(judged.outcome.spotted if judged and judged.outcome else ())


def _after_facts(snapshot: Snapshot, row: ShotRow, judged: ShotScore | None, layout: Layout) -> Layout:
    """A layout without the balls that fell, with those that were spotted on their spots."""
    facts = row.record.facts
    gone = _gone(row, judged)
    spotted = judged.outcome.spotted if judged and judged.outcome else ()
    left = {ball: place for ball, place in layout.items() if ball not in gone}
    fallen = {pot.ball for pot in (facts.potted if facts else None) or ()}
    spec, before = table_spec(snapshot.head.table), recorded(row, "before") or {}
    for ball in spotted:
        if ball in fallen and left.get(ball, before.get(ball)) == before.get(ball):
            others = {name: place for name, place in left.items() if name != ball}
            left[ball] = _rounded(spot_for(spec, ball, others))
    if facts is not None and facts.cue_potted:
        left.pop("cue", None)
    return left


def _mirrored(snapshot: Snapshot, beside: ShotRow, when: When, old: Layout, new: Layout) -> Layout | None:
    """The layout beside a changed one; None where nothing of it changes."""
    there = recorded(beside, when)
    if there is None:
        made = dict(new)
        if when == "after":
            for ball in _moved_by_hand(snapshot, beside):
                made.pop(ball, None)
        return made
    changed = {ball for ball in {*old, *new} if old.get(ball) != new.get(ball)}
    if when == "after":
        changed -= _moved_by_hand(snapshot, beside)
    result = dict(there)
    for ball in changed:
        if there.get(ball) != old.get(ball):
            continue  # it was put somewhere else in between
        if ball in new:
            result[ball] = new[ball]
        else:
            result.pop(ball, None)
    return result if result != there else None


def _moved_by_hand(snapshot: Snapshot, row: ShotRow) -> set[str]:
    """Balls whose place after a shot says nothing of the next one: fallen ones, a cue ball in hand."""
    judged = score_of_shot(snapshot, row)
    facts = row.record.facts
    away = _gone(row, judged)
    in_hand = judged is not None and judged.outcome is not None and judged.outcome.ball_in_hand_from
    if in_hand or (facts is not None and facts.cue_potted):
        away.add("cue")
    return away


def _set(snapshot: Snapshot, row: ShotRow, when: When, layout: Layout, label: str) -> Command:
    values: dict[Path, object] = {
        (when,): {ball: list(place) for ball, place in layout.items()} if layout else REMOVE
    }
    return set_values(snapshot, "shot", row.key, values, label)


def _rounded(place: Place) -> Place:
    return (round(place[0], DIGITS), round(place[1], DIGITS))


def _order(ball: str) -> tuple[int, str]:
    digits = "".join(c for c in ball if c.isdecimal())
    return (int(digits) if digits else 99, ball)
