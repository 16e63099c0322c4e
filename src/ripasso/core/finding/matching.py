"""Which shots of columns a query asks for. Every field says how it is compared.

Columns are arrays of one length: text in small letters ("" for nothing), numbers with NaN for nothing, flags,
answers (1, 0, −1 for nothing).
To add a field: a line in `FIELDS`, and its column where columns are made.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt

from ripasso.core.finding.query import And, Days, Not, NotAQuery, Or, Query, Range, Term, Value, Word

Flags = npt.NDArray[np.bool_]
Columns = Mapping[str, npt.NDArray[Any]]
Kind = Literal["text", "within", "day", "many", "number", "flag", "answer"]


@dataclass(frozen=True)
class Field:
    """How a field is compared: `text` as a whole, `within` as a part, `day` also by an order, `many` as one
    of several words."""

    column: str
    kind: Kind
    meaning: str


def _fields(compared: Kind, /, **meanings: str) -> dict[str, Field]:
    return {name: Field(name, compared, meaning) for name, meaning in meanings.items()}


FIELDS: Mapping[str, Field] = {
    **_fields(
        "text",
        game="snooker, nine_ball and so on",
        kind="match, practice, ghost, attempts",
        intent="pot, safety, escape, two_way, push_out, break",
        ball="the ball meant: 4, red, black",
        pocket="the pocket meant: foot_left",
        stroke="roll, stun, run_through, follow, draw, drag, kill",
        stroke_pace="dead, soft, medium, firm, power",
        contact="thick, thin, clean, left, right",
        missed_by="at which jaw: near, far",
        position="perfect, good, playable, poor, lost",
        pace="the cue ball ran short, good, long",
        side="as judged: right, straight, wrong",
        angle="too_straight, good, too_steep",
        luck="no, fluke, kind_leave, unkind_leave",
        verdict="agree, prefer_other, mistake, unsure",
        second_verdict="the same by a second reviewer",
        obstacle="touching, closed, object_blocked, cut, cushion, cue_blocked",
        next_ball="the ball played for",
        next_pocket="and its pocket",
        line_side="measured: right_side, straight, wrong_side",
        crossing="along, across",
        spin="side spin at the cut: outside, inside, no",
        spin_cushion="side spin at the next cushion: running, check, neither, no",
        route="how the planned way starts: natural, fought",
        phase="of the rack: opening, middle, last",
        standing="by the racks before: ahead, level, behind",
        break_ball="of a break shot in straight pool: natural, made, no",
        amount="of side spin: trace, touch, maximum",
        if_missed="what a miss would leave: safe, open, unknown",
        system="by which a bank or an escape was aimed",
        meant="snooker: the colour position was played for",
        run="what the visit this shot begins came to: break_and_run, run_out, won_on_break",
        ended="how the visit this shot begins ended: miss, safety, foul, rack_won",
        began="how the visit this shot begins began: own_break, miss, foul, ball_in_hand, safety",
        outcome="of an attempt: success, failure",
    ),
    **_fields(
        "within",
        player="who struck: a part of the name",
        session="a part of the session's title",
        note="a part of a note or a comment",
        exercise="a part of the title of an exercise or a set of attempts",
    ),
    **_fields("day", date="2026-11, >=2026-10-01, 2026-09..2026-10-15"),
    **_fields(
        "many",
        method="bank, combination, carom, kick, jump, swerve",
        delivery="rest, reach, over_ball and so on",
        cause="aim, pace, spin and so on",
        aim="what position was meant: short_side, one_area and so on",
        purpose="of side spin: kill, run, widen, shorten, swerve, throw, avoid_scratch",
        off="cushions that the plan goes off: head, foot, left, right",
        sheet="of the break sheet: kind_cut, spread_good, next_on_yes and so on",
        taken="snooker: free_ball, replaced",
        changed="before an attempt: aim, side, height, pace, pocket_side, other",
        fouls="by their names: cue_ball_scratch, in_off and so on",
        expected="who expected it, and rightly or not: ada:hit, ada:miss",
        event="cluster_opened, ball_freed, snooker_laid and so on",
        tag="a tag of one's own",
        role="of the ball meant: trouble, cluster, key, break_ball, insurance and so on",
        pressure="decider, match_point, facing_match_point, frame_ball, needs_snookers",
        error="pot, position, safety, escape, foul, decision, missed_chance, break",
        unforced="the kinds judged unforced",
        forced="the kinds judged forced",
    ),
    **_fields(
        "number",
        rack="number of the rack",
        shot="number of the shot",
        visit="running number of the visit",
        root="the shot that caused a failure",
        chance="of the pot, 0 to 1",
        cut="angle of the cut in degrees, without sign",
        fullness="0 to 1",
        way="cue ball and object ball together, metres",
        cue_travel="cue ball to the contact, metres",
        object_travel="object ball to the pocket, metres",
        window="of the pocket in degrees",
        visible="the share of the ball on that is seen",
        leave="chance of the best next pot",
        best="chance of the best pot there was",
        angle_left="on the next ball, degrees",
        angle_miss="degrees too straight (below 0) or too steep",
        distance="rest point to aim point, metres",
        along="long above 0, short below, metres",
        across="left above 0, metres",
        zone_distance="outside the zone by, metres",
        loss="chance lost by position",
        ran="how far the cue ball ran, metres",
        ran_least="how far at least, where its way is not drawn, metres",
        seconds="from the rest before to the strike",
        feathers="how often the cue went back and forth",
        by_choice="value that the choice gave away, worked out; 0 where it is as good",
        by_stroke="value that the stroke gave away, worked out; below 0 where it gained",
        clear="chance to clear the rack before the shot, worked out, 0 to 1",
        clear_choice="what the choice took of the chance to clear",
        clear_stroke="what the stroke took of the chance to clear; below 0 where it gained",
        balls="of a run that was practised",
        percent="pace of the stroke, of the hardest",
        raised="how far the cue was raised, degrees",
    ),
    **_fields(
        "flag",
        tried="a pot of which it is known what happened",
        foul="a foul",
        in_hand="the cue ball was placed",
    ),
    **_fields(
        "answer",
        made="a pot that counts; no: one that was tried and does not",
        failed="a pot that does not count",
        fluke="a pot by luck",
        snookered="no ball on in sight",
        rattled="the ball touched the jaws",
        insurance="there was an insurance ball",
        replanned="there was a plan, and it was changed",
        zone="the zone was hit; no: there was one, and it was missed",
    ),
}

#: Where a word without a field is looked for.
ANYWHERE = ("note", "player", "session", "tag", "exercise")


def matching(query: Query | None, columns: Columns) -> Flags:
    """True for the shots asked for. Raises `NotAQuery` for a value that a field cannot have."""
    length = len(next(iter(columns.values())))
    if query is None:
        return np.ones(length, dtype=np.bool_)
    match query:
        case Word(text):
            anywhere: Flags = np.logical_or.reduce([_within(columns[name], text) for name in ANYWHERE])
            return anywhere
        case Not(part):
            return ~matching(part, columns)
        case And(parts):
            found = matching(parts[0], columns)
            for part in parts[1:]:
                found = found & matching(part, columns)
            return found
        case Or(parts):
            found = matching(parts[0], columns)
            for part in parts[1:]:
                found = found | matching(part, columns)
            return found
        case Term(name, values):
            return _term(FIELDS[name], values, columns)


def _term(field: Field, values: tuple[Value, ...], columns: Columns) -> Flags:
    column = columns[field.column]
    found = np.zeros(len(column), dtype=np.bool_)
    for value in values:
        found |= _value(field, column, value)
    return found


def _value(field: Field, column: npt.NDArray[Any], value: Value) -> Flags:
    if isinstance(value, Days):
        return _by_text(column, value.holds)
    if field.kind == "number":
        return _number(field, column, value)
    if isinstance(value, Range):
        raise NotAQuery(f"“{field.column}” has no order, so it takes no range; it is {field.meaning}.")
    if field.kind in ("flag", "answer"):
        if value not in ("yes", "no"):
            raise NotAQuery(f"“{field.column}” is yes or no.")
        # A flag is yes or no of every shot; an answer is −1 where there is nothing to ask.
        return np.asarray(column == int(value == "yes"))
    if value is None:
        return _by_text(column, lambda text: text == "")
    if field.kind == "text":
        return _by_text(column, lambda text: text == value)
    if field.kind == "many":
        return _by_text(column, lambda text: value in text.split())
    return _within(column, value)


def _number(field: Field, column: npt.NDArray[Any], value: str | Range | None) -> Flags:
    if value is None:
        nothing: Flags = np.isnan(column)
        return nothing
    if isinstance(value, str):
        try:
            return np.asarray(column == float(value))
        except ValueError:
            raise NotAQuery(f"“{field.column}” is a number ({field.meaning}), not “{value}”.") from None
    found: Flags = ~np.isnan(column)
    with np.errstate(invalid="ignore"):
        if value.low is not None:
            found &= column > value.low if value.low_open else column >= value.low
        if value.high is not None:
            found &= column < value.high if value.high_open else column <= value.high
    return found


def _within(column: npt.NDArray[Any], text: str) -> Flags:
    return _by_text(column, lambda one: text in one)


def _by_text(column: npt.NDArray[Any], test: Any) -> Flags:
    """Test each different text once: columns hold few of them, many times."""
    if isinstance(column, Coded):
        answers = np.fromiter((test(text) for text in column.texts), np.bool_, len(column.texts))
        found: Flags = answers[column.codes]
        return found
    return np.fromiter((test(text) for text in column), np.bool_, len(column))


class Coded(np.ndarray[Any, Any]):
    """A column of texts as codes into the different ones; made by `coded`."""

    texts: tuple[str, ...]

    @property
    def codes(self) -> npt.NDArray[np.int32]:
        """The place in `texts` of each value."""
        return self.view(np.ndarray)

    def __array_finalize__(self, made: Any) -> None:
        self.texts = getattr(made, "texts", ())


def recoded(codes: npt.NDArray[np.integer[Any]], values: Sequence[str]) -> Coded:
    """A column of texts from codes into `values`, in small letters."""
    small = coded(list(values))
    return _with_texts(small.codes[codes] if len(values) else np.zeros(0, np.int32), small.texts)


def coded(values: list[str]) -> Coded:
    """A column of texts in small letters, stored once each."""
    places: dict[str, int] = {}
    codes = np.fromiter(
        (places.setdefault(text.casefold(), len(places)) for text in values), np.int32, len(values)
    )
    return _with_texts(codes, tuple(places))


def _with_texts(codes: npt.NDArray[np.int32], texts: tuple[str, ...]) -> Coded:
    made = codes.view(Coded)
    made.texts = texts
    return made
