"""What full statistics read of a shot, as columns; nothing here knows records, window or library.

Numbers that are not known are NaN, texts "", three-valued answers −1 (not known), 0, 1.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np
import numpy.typing as npt

Texts = npt.NDArray[np.object_]
Floats = npt.NDArray[np.float64]
Flags = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]

UNKNOWN, NO, YES = -1, 0, 1


@dataclass(slots=True)
class Fact:
    """One shot. Lengths in metres, angles in degrees, tolerances in mrad, times in seconds."""

    person: str = ""
    session: int = 0
    rack: int = 0
    number: int = 0
    visit: int = -1
    intent: str = ""
    phase: str = ""
    stroke: str = ""  # kind of stroke
    stroke_pace: str = ""
    luck: str = ""
    root_back: int = UNKNOWN  # how many shots before this failure its cause lies
    cushions: int = UNKNOWN  # that the plan has
    pocket: str = ""  # called, or known from the geometry
    delivery: str = ""
    methods: str = ""
    tried: bool = False
    made: bool = False
    failed: bool = False
    fouled: bool = False
    fluke: bool = False
    down: bool = False  # the meant ball fell where it was meant to, not by fluke; a scratch does not matter
    cut_deg: float = np.nan
    cue_travel: float = np.nan
    object_travel: float = np.nan
    table_length: float = np.nan
    left_mrad: float = np.nan
    right_mrad: float = np.nan
    chance: float = np.nan
    free: bool = False  # with geometry and without an obstacle
    zone: int = UNKNOWN
    distance: float = np.nan
    along: float = np.nan
    across: float = np.nan
    loss: float = np.nan
    side: str = ""
    crossing_deg: float = np.nan  # between the last leg and the line of the next pot
    angle_miss: float = np.nan  # degrees of the angle left beside the one wanted
    travel: float = np.nan  # of the cue ball, after contact
    leave: float = np.nan
    contact: str = ""
    position: str = ""
    pace: str = ""
    said_side: str = ""
    angle: str = ""
    verdict: str = ""
    unforced: str = ""  # kinds of error that were unforced, by the school in use
    goes_to_other: bool = False  # the opponent plays the next shot of the rack
    has_next: bool = False
    answered: bool = False  # something was legally potted on the next shot
    potted: int = 0
    legal_balls: int = 0
    cue_potted: bool = False
    outer: int = UNKNOWN
    second_row: int = UNKNOWN
    head_in_side: int = UNKNOWN
    central: int = UNKNOWN
    left_in_rack: float = np.nan
    since_rest_s: float = np.nan
    to_rest_s: float = np.nan
    after_long_visit: bool = False  # the first shot after a long visit of the opponent
    after_fault: bool = False  # the shot before was the opponent's, and failed or was a foul
    own_break: bool = False  # the rack was broken by the same player
    visit_score: int = UNKNOWN  # balls, or points, of the visit this shot begins
    visit_end: str = ""  # how the visit this shot begins ended
    visit_balls: int = UNKNOWN  # balls of the visit this shot begins
    began: str = ""  # how the visit this shot begins began
    run: str = ""  # "break_and_run" or "run_out": what the visit this shot begins came to
    won: int = UNKNOWN  # the player won this rack
    pressure: str = ""  # words of `review.score_context.PRESSURE`
    standing: str = ""  # ahead, level, behind by the racks (points of a long game) before the rack
    in_hand: bool = False  # the cue ball was placed
    opponent: str = ""  # key of the person played against
    roles: str = ""  # what the meant ball was said to be in its rack
    late: int = UNKNOWN  # half of the rack's balls were down before
    exchange: int = UNKNOWN  # place in a safety exchange, 1 first
    exchange_of: int = UNKNOWN  # how many shots that exchange has
    break_ball: str = ""  # of a break shot in straight pool: natural, made, none
    break_kind: str = ""  # of a break: head_on, cut, box_side, rail
    break_power: float = np.nan  # 0 to 100, as said
    insurance: int = UNKNOWN
    replanned: int = UNKNOWN  # there was a plan: kept 0, changed 1
    given_away: float = np.nan  # pot times leave of the best option, less that of the chosen one
    judge: str = ""  # who judged the decision
    ball: str = ""  # meant
    colour_meant: str = ""  # snooker: what was to be potted next
    cue_behind: int = UNKNOWN  # afterwards the cue ball lay behind the baulk line, or the head string
    to_baulk: float = np.nan  # afterwards, from its edge to the baulk (head) cushion, metres
    one_visit: int = UNKNOWN  # the visit this shot begins won the rack with all its winner's points
    rack_s: float = np.nan  # live seconds of the rack whose first shot this is
    laid: int = UNKNOWN  # the opponent was snookered on the next shot
    causes: str = ""  # several words
    events: str = ""
    tags: str = ""
    spin_cut: str = ""  # outside, inside, none
    spin_rail: str = ""  # running, check, neither, none
    route: str = ""  # natural, fought
    window_deg: float = np.nan  # how wide the pocket stands open for the ball
    ball_to_cushion: float = np.nan
    best_chance: float = np.nan  # of the best pot before the shot
    snookered: int = UNKNOWN
    game: str = ""
    date: str = ""
    table: str = ""  # what the table was, in words


class Facts:
    """Columns of `Fact`s by their names; all of one length."""

    def __init__(self, rows: Sequence[Fact]) -> None:
        kinds = {"str": object, "int": np.int64, "bool": np.bool_, "float": np.float64}
        self._columns: dict[str, npt.NDArray[np.generic]] = {
            one.name: np.array([getattr(row, one.name) for row in rows], dtype=kinds[str(one.type)])
            for one in fields(Fact)
        }
        self._length = len(rows)
        self._codes: dict[str, tuple[Ints, tuple[str, ...]]] = {}
        # Columns of a choice of shots are cut when they are asked for: few of them are.
        self._of: tuple[Facts, Flags | Ints] | None = None

    @classmethod
    def of_columns(cls, columns: Mapping[str, npt.NDArray[Any]], length: int) -> Facts:
        """Facts from columns by name; those that are not given are unknown."""
        made = cls(())
        for one in fields(Fact):
            known = columns.get(one.name)
            kind = made._columns[one.name].dtype
            column = np.full(length, one.default, dtype=kind) if known is None else known.astype(kind)
            made._columns[one.name] = column
        made._length = length
        return made

    def __len__(self) -> int:
        return self._length

    def texts(self, name: str) -> Texts:
        """A column of texts."""
        return self._column(name)  # type: ignore[return-value]

    def coded(self, name: str) -> tuple[Ints, tuple[str, ...]]:
        """A column of texts as numbers and the texts they stand for, in the order of their first shots.

        Comparing numbers is many times as fast as comparing texts. Of a choice of shots all texts of the
        source are given.
        """
        if name not in self._codes:
            if self._of is not None:
                source, keep = self._of
                codes, values = source.coded(name)
                self._codes[name] = (codes[keep], values)
            else:
                known: dict[str, int] = {}
                numbers = [known.setdefault(text, len(known)) for text in self._column(name).tolist()]
                self._codes[name] = (np.array(numbers, dtype=np.int64), tuple(known))
        return self._codes[name]

    def equal(self, name: str, *wanted: str) -> Flags:
        """The shots whose text is one of those wanted."""
        codes, values = self.coded(name)
        return np.array([value in wanted for value in values], dtype=np.bool_)[codes]

    def known(self, name: str) -> Flags:
        """The shots that have a text at all."""
        return ~self.equal(name, "")

    def values(self, name: str) -> dict[str, Flags]:
        """The shots of each text, in the order of their first shots; "" is left out."""
        codes, values = self.coded(name)
        found = {value: codes == code for code, value in enumerate(values) if value}
        return {value: mask for value, mask in found.items() if mask.any()}

    def words(self, name: str) -> dict[str, Flags]:
        """Where each word stands in a column of several words each, in the order they first appear."""
        codes, values = self.coded(name)
        words = [set(value.split()) for value in values]
        known = dict.fromkeys(word for one in words for word in sorted(one))
        found = {word: np.array([word in one for one in words], dtype=np.bool_)[codes] for word in known}
        return {word: mask for word, mask in found.items() if mask.any()}

    def flags(self, name: str) -> Flags:
        """A column of yes and no."""
        return self._column(name)  # type: ignore[return-value]

    def numbers(self, name: str) -> Floats:
        """A column of numbers."""
        return self._column(name).astype(np.float64, copy=False)

    def ints(self, name: str) -> Ints:
        """A column of whole numbers."""
        return self._column(name)  # type: ignore[return-value]

    def where(self, keep: Flags) -> Facts:
        """The shots for which `keep` is true."""
        return self._chosen(keep, int(keep.sum()))

    def by_person(self, keep: Flags) -> tuple[Facts, Ints]:
        """The shots for which `keep` is true, each person's together and in order, and their places.

        A session played by several people counts as one for each of them, so that no shot follows another's.
        """
        places = np.flatnonzero(keep)
        codes, people = self.coded("person")
        own = codes[places]
        if len(places) == 0 or (own == own[0]).all():
            return self.where(keep), places
        places = places[np.argsort(own, kind="stable")]
        made = self._chosen(places, len(places))
        made._columns["session"] = self.ints("session")[places] * len(people) + codes[places]
        return made, places

    def _chosen(self, keep: Flags | Ints, length: int) -> Facts:
        made = Facts.__new__(Facts)
        made._columns, made._codes, made._of, made._length = {}, {}, (self, keep), length
        return made

    def _column(self, name: str) -> npt.NDArray[np.generic]:
        if name not in self._columns and self._of is not None:
            source, keep = self._of
            self._columns[name] = source._column(name)[keep]
        return self._columns[name]
