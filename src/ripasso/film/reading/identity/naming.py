"""Which ball a thing is, by its looks and by what a person said; both teach the colours of the recording."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.film.reading.detection.colours import Look, Palette
from ripasso.film.reading.detection.scene import Thing
from ripasso.film.reading.identity import names

#: Names surer than this teach the palette, by this share of a look; what a person says teaches more.
LEARNS, LEARN_SHARE, SAID_SHARE = 0.95, 0.1, 0.3
#: So many looks of one ball teach.
LESSONS = 3


class Naming:
    """Names things; `balls` are those the game has, `lowest_first` where the lowest must be met first."""

    def __init__(self, palette: Palette, balls: Sequence[str], *, lowest_first: bool = False) -> None:
        self._palette, self._balls, self._lowest_first = palette, tuple(balls), lowest_first
        self._said: dict[int, str] = {}
        self._learned: dict[int, list[Look]] = {}

    @property
    def most(self) -> int:
        """How many balls the game has."""
        return len(self._balls)

    def named(self, things: Sequence[Thing], met: Sequence[names.Met] = ()) -> dict[int, names.Named]:
        """The names of the things of a rack, as far as they are known now; `met` first contacts in it."""
        met = met if self._lowest_first else ()
        return names.named(things, self._palette, self._balls, self._said, met)

    def say(self, key: int, ball: str, things: Sequence[Thing]) -> None:
        """A person says which ball a thing is: it has that name from now on, and nothing else has it."""
        self._said = {other: name for other, name in self._said.items() if name != ball} | {key: ball}
        for thing in things:
            if thing.key == key and ball != "cue":
                for look in thing.looks:
                    self._palette.learn(names.kind_of(ball), look, SAID_SHARE)

    def learn(self, things: Sequence[Thing]) -> None:
        """What is sure teaches the colours of this recording."""
        self._palette.fade = names.faded(things, self._palette, self._balls)
        called = self.named(things)
        for thing in things:
            name = called.get(thing.key)
            last = thing.looks[-1] if thing.looks else None
            taught = self._learned.setdefault(thing.key, [])
            # A look teaches once, and no ball teaches more than others, however long it lies there.
            if name is None or last is None or len(taught) >= LESSONS or any(one is last for one in taught):
                continue
            if name.sure > LEARNS and name.ball != "cue":
                taught.append(last)
                self._palette.learn(names.kind_of(name.ball), last, LEARN_SHARE)
