"""What a phrase says, as data: terms, balls, pockets, plans, tips; and how each is written."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ripasso.review.language.terms import (
    ANGLE_FORMS,
    BY_ID,
    POCKET_BRITISH,
    POCKET_SNOOKER,
    POCKETS,
    TAG_FORMS,
    Tradition,
)


@dataclass(frozen=True)
class Manner:
    """In whose words: the tradition, and the game (snooker names its pockets otherwise)."""

    tradition: Tradition = "american"
    game: str | None = None

    def pocket(self, pocket: str) -> str:
        """The name of a pocket."""
        if self.game == "snooker":
            return POCKET_SNOOKER[pocket]
        return POCKET_BRITISH[pocket] if self.tradition == "british" else POCKETS[pocket][0]


@dataclass(frozen=True)
class Word:
    """A term of `terms.TERMS` by its id."""

    id: str

    def written(self, manner: Manner) -> str:
        return BY_ID[self.id].form(manner.tradition)


@dataclass(frozen=True)
class TagWord:
    """A tag of `tagging`: what it sets hangs on the shot."""

    name: str

    def written(self, manner: Manner) -> str:
        american, british = TAG_FORMS[self.name]
        return (american if manner.tradition == "american" else british)[0]


@dataclass(frozen=True)
class Ball:
    """The ball the shot is meant for."""

    ball: str

    def written(self, _manner: Manner) -> str:
        return self.ball


@dataclass(frozen=True)
class Into:
    """The pocket it is meant for."""

    pocket: str

    def written(self, manner: Manner) -> str:
        return manner.pocket(self.pocket)


@dataclass(frozen=True)
class Fell:
    """A ball that fell besides, and where."""

    ball: str
    pocket: str | None = None

    def written(self, manner: Manner) -> str:
        return f"fell {self.ball}" + (f" {manner.pocket(self.pocket)}" if self.pocket else "")


@dataclass(frozen=True)
class HitFirst:
    """The ball that was hit first."""

    ball: str

    def written(self, _manner: Manner) -> str:
        return f"hit {self.ball} first"


@dataclass(frozen=True)
class Next:
    """The ball played for, and its pocket."""

    ball: str
    pocket: str | None = None

    def written(self, manner: Manner) -> str:
        return f"next {self.ball}" + (f" {manner.pocket(self.pocket)}" if self.pocket else "")


@dataclass(frozen=True)
class OrNext:
    """Another ball that was played for as well."""

    ball: str

    def written(self, _manner: Manner) -> str:
        return f"or {self.ball}"


@dataclass(frozen=True)
class Wanted:
    """The angle wanted on the next ball: a name of `tagging.ANGLES`."""

    angle: str

    def written(self, _manner: Manner) -> str:
        return ANGLE_FORMS[self.angle][0]


@dataclass(frozen=True)
class Tip:
    """Where the tip met the cue ball, in widths of the tip: right and up are positive."""

    right: float
    up: float

    def written(self, _manner: Manner) -> str:
        parts = [
            f"{abs(value):g} {word}"
            for value, word in (
                (self.right, "right" if self.right > 0 else "left"),
                (self.up, "high" if self.up > 0 else "low"),
            )
            if value
        ]
        return " ".join(["tip", *(parts or ["middle"])])


@dataclass(frozen=True)
class PacePercent:
    """The pace of the stroke, of the player's hardest."""

    percent: float

    def written(self, _manner: Manner) -> str:
        return f"at {self.percent:g} %"


@dataclass(frozen=True)
class Elevation:
    """How far the cue was raised, in degrees."""

    degrees: float

    def written(self, _manner: Manner) -> str:
        return f"raised {self.degrees:g}"


@dataclass(frozen=True)
class Feathers:
    """How often the cue was drawn back and forth before the stroke."""

    count: int

    def written(self, _manner: Manner) -> str:
        return f"feathers {self.count}"


@dataclass(frozen=True)
class System:
    """The system by which a bank or an escape was aimed."""

    name: str

    def written(self, _manner: Manner) -> str:
        return f"system {self.name}"


@dataclass(frozen=True)
class ColourMeant:
    """The colour position was played for, in snooker."""

    ball: str

    def written(self, _manner: Manner) -> str:
        return f"meant {self.ball}"


@dataclass(frozen=True)
class Root:
    """The shot that caused the failure."""

    shot: int

    def written(self, _manner: Manner) -> str:
        return f"root {self.shot}"


@dataclass(frozen=True)
class Predicted:
    """What somebody expected before the strike: ball and pocket, kind of shot, the ball after, cushions.

    `kind` is an intent or a method, `cushions` is the number of them on the cue ball's way.
    """

    name: str
    ball: str | None = None
    pocket: str | None = None
    kind: str | None = None
    next_ball: str | None = None
    cushions: int | None = None

    def written(self, manner: Manner) -> str:
        parts = [f"expected {self.name}"]
        if self.kind:
            term = BY_ID.get(f"intent.{self.kind}") or BY_ID[f"methods.{self.kind}"]
            parts.append(term.form(manner.tradition))
        if self.ball:
            parts.append(self.ball)
        if self.pocket:
            parts.append(manner.pocket(self.pocket))
        if self.next_ball:
            parts.append(f"then {self.next_ball}")
        if self.cushions is not None:
            parts.append(f"off {self.cushions} cushions")
        return " ".join(parts)


@dataclass(frozen=True)
class FreeTag:
    """A tag of one's own."""

    tag: str

    def written(self, _manner: Manner) -> str:
        return f"#{self.tag}"


@dataclass(frozen=True)
class Judge:
    """Who says what the verdict says."""

    name: str

    def written(self, _manner: Manner) -> str:
        return f"says {self.name}"


Item = (
    Word
    | TagWord
    | Ball
    | Into
    | Fell
    | HitFirst
    | Next
    | OrNext
    | Wanted
    | Tip
    | PacePercent
    | Elevation
    | Feathers
    | System
    | ColourMeant
    | Root
    | Predicted
    | FreeTag
    | Judge
)


def written(items: Sequence[Item], manner: Manner) -> str:
    """The items as one line that can be read again."""
    return ", ".join(item.written(manner) for item in items)
