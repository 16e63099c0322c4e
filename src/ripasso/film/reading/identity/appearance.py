"""What balls look like at rest: by one white for the whole recording, without what nearer balls hide."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ripasso.core.table.places import Place
from ripasso.film.reading.detection.colours import Look, Vector, ball_look, white_of
from ripasso.film.reading.detection.discs import Discs
from ripasso.film.reading.detection.picture import Bytes

#: A ball this much whiter than the whitest so far is the cue ball.
WHITER = 1.1
#: Whites nearer than this share to one another are one.
OTHER_WHITE = 0.12


class Looks:
    """Looks at balls in large pictures; `discs` are those of the small ones."""

    def __init__(self, discs: Discs) -> None:
        self._discs = discs
        self._white: Vector | None = None
        self._how_white = 0.0

    @property
    def knows_white(self) -> bool:
        """Whether a white was seen."""
        return self._white is not None

    def see_white(self, full: Bytes, places: Sequence[Place]) -> bool:
        """Keep the whitest white; True when it is another one than before, so that older looks are void."""
        white, how_white = white_of(full, [self._disc(place) for place in places])
        if self._white is not None and (not places or how_white <= WHITER * self._how_white):
            return False
        self._how_white = how_white
        if self._white is not None and float(np.max(np.abs(white / self._white - 1))) < OTHER_WHITE:
            return False
        self._white = white
        return True

    def of(self, full: Bytes, places: Sequence[Place], others: Sequence[Place] = ()) -> list[Look | None]:
        """The looks of balls; `others` stand about as well. None where too little of a ball is seen."""
        assert self._white is not None
        eye = self._discs.camera.eye[:2]
        everything = [(float(np.hypot(*(eye - p))), self._disc(p)) for p in (*places, *others)]
        looks = []
        for far, disc in everything[: len(places)]:
            nearer = [
                d
                for away, d in everything
                if away < far - 1e-6 and np.hypot(d[0] - disc[0], d[1] - disc[1]) < d[2] + disc[2]
            ]
            looks.append(ball_look(full, disc, self._white, nearer))
        return looks

    def _disc(self, place: Place) -> tuple[float, float, float]:
        """Column, row and radius in the large picture."""
        u, v, radius = self._discs.disc(place)
        share = self._discs.share
        return (u + 0.5) / share - 0.5, (v + 0.5) / share - 0.5, radius / share
