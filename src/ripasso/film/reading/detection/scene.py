"""What one frame shows: which balls lie where they lay, what else of a ball's size there is, people."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import Enum

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table.places import Place
from ripasso.film.reading.detection.colours import Look
from ripasso.film.reading.detection.discs import Discs
from ripasso.film.reading.detection.ground import Ground, difference
from ripasso.film.reading.detection.picture import WHITE, Bytes, Floats, median, medians
from ripasso.film.reading.detection.resting import OVER_RAIL
from ripasso.film.reading.detection.shadows import SPECK, Ints, Labels, Pieces, join_shadows
from ripasso.film.reading.motion.tracks import Blob

#: A resting ball's picture may change by this much (mean of light and colours, 0 to 255) and be the same.
SAME = 9.0
#: A ball whose place was bare lies there again when it was seen there for so long, seconds.
BACK_S = 0.5
#: How much of a ball's disc must show cloth when the ball is gone.
BARE = 0.65
#: How much more of it than when the ball came to lie there, where a ball has the cloth's own colour.
BARER = 0.3
#: What moves is of a ball's size from and to these many discs; how full its box is; how wide a streak is, in
#: radii.
MOVER, FULL, STREAK = (0.3, 2.3), 0.45, (1.0, 3.2)
LONGEST_STREAK = 9.0  # discs
#: What is larger than this (discs) and no pack at rest is a person.
PERSON = 3.0
#: How the mask of people tells those who reach over the rail from large things in the middle of the table.
OVER, LARGE = 255, 128
#: A ball with more than so many others this near (radii) stands in a pack.
PACK_RADII, PACKED = 5.0, 4
#: Balls lie so near to one another (radii) where one pushes the other; a ball with its shadow, in discs.
MET_RADII, WITH_SHADOW = 4.0, 2.2
#: What lies within this many ball radii of somebody may be a hand or a cue.
ARM_RADII = 5.0
#: A ball's colour is taken from its upper side, this many radii down: its foot lies in its shadow.
LIT_SHARE = 1.5
#: Pictures of fewer pixels have fewer pieces than two bytes count.
MOST_SMALL = 4 * 2**16
SAME_CEILING = 4.0  # ceilings so near to one another are the same
CORE = 0.8  # the share of a disc's radius that is compared


class State(Enum):
    """What a frame shows of a ball that rested."""

    SAME = "same"
    GONE = "gone"
    COVERED = "covered"


@dataclass
class Thing:
    """One ball of the recording, whichever it is; `place` is None while it is off the table or lost."""

    key: int
    place: Place | None = None
    clearness: float = 0.0
    looks: list[Look] = field(default_factory=list)
    pixels: tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]] | None = None
    patch: Floats | None = None
    ceiling: float = WHITE  # the most light that its picture could show
    state: State = State.SAME
    same_s: float = 0.0  # when it was last seen to lie there
    left_s: float | None = None  # when it was first seen to lie there no more, nobody before it
    bare: float | None = None  # how much of its disc looked like cloth when it came to lie there
    bare_s: float | None = None  # when cloth was first seen in its place
    back_s: float | None = None  # since when it seems to lie there again
    behind_person: bool = False
    was_hidden: bool = False  # somebody stood before it since it was last seen to lie there
    struck: int = 0  # how often it was seen to move first, less how often it did not: a cue ball's mark

    def lies(
        self,
        scene_discs: Discs,
        ground: Ground,
        picture: Bytes,
        place: Place,
        time_s: float,
        ceiling: float = WHITE,
    ) -> None:
        """It lies at a place now, and looks there as this picture shows; light above `ceiling` is cut off."""
        self.place, self.state, self.same_s, self.left_s = place, State.SAME, time_s, None
        self.behind_person = self.was_hidden = False
        self.bare = self.bare_s = self.back_s = None
        u, v, radius = scene_discs.disc(place)
        top, left = ground.box[0].start, ground.box[1].start
        height, width = ground.reach.shape
        rows, columns = np.mgrid[
            max(0, int(v - radius) - top) : min(height, int(v + radius) + 2 - top),
            max(0, int(u - radius) - left) : min(width, int(u + radius) + 2 - left),
        ]
        inside = np.hypot(columns + left - u, rows + top - v) < max(1.0, CORE * radius)
        self.pixels = (rows[inside], columns[inside])
        self.patch = picture[ground.box][self.pixels].astype(np.float32)
        self.ceiling = ceiling


@dataclass(frozen=True)
class View:
    """One frame: blobs of a ball's size, a mask of people, what else there is, the share of cloth."""

    blobs: tuple[Blob, ...]
    people: Bytes
    packs: tuple[tuple[float, float, float], ...]
    seen: float
    other: Bytes


class Scene:
    """The balls that lie on the table, and what frames show of them."""

    def __init__(self, ground: Ground, discs: Discs) -> None:
        self.things: list[Thing] = []
        self._set(ground, discs)

    def _set(self, ground: Ground, discs: Discs) -> None:
        self.ground, self.discs = ground, discs
        self._origin = (ground.box[1].start, ground.box[0].start)
        # Nothing smaller than this is a part of a ball, wherever it lies.
        radii = [discs.radius_px(place) for place in _far_corners(ground)]
        self._least = max(SPECK, int(MOVER[0] * np.pi * min(radii, default=1.0) ** 2))
        self._beyond = np.flatnonzero(ground.beyond)
        self._graphics = np.where(ground.graphics, np.uint8(LARGE), np.uint8(0))
        self._surface = int(ground.area.surface[ground.box].sum())

    def see_from(self, ground: Ground, discs: Discs, picture: Bytes, time_s: float) -> None:
        """Another camera shows the table: what lies there looks as this small picture shows it.

        What somebody stands before, or what is not there any more, is known by its colour alone.
        """
        self._set(ground, discs)
        other = ground.other(picture)
        view = self._sorted_out(other.copy(), picture[ground.box], other)
        for thing in self.resting():
            assert thing.place is not None and thing.patch is not None
            since, colour = thing.left_s, np.median(thing.patch, axis=0) if len(thing.patch) else None
            thing.lies(discs, ground, picture, thing.place, time_s, thing.ceiling)
            assert thing.pixels is not None and thing.patch is not None
            is_seen = len(thing.patch) and float((other[thing.pixels] > 0).mean()) >= 1 - BARE
            is_hidden = len(thing.patch) and bool((view.people[thing.pixels] > 0).any())
            if colour is not None and (is_hidden or not is_seen):
                thing.patch[:] = colour
                thing.left_s = since

    def resting(self) -> list[Thing]:
        """The things that have a place."""
        return [thing for thing in self.things if thing.place is not None]

    def just_left(self, time_s: float, within_s: float) -> bool:
        """Whether a ball was just seen to be gone: struck hard it is far off in the next frame already."""
        return any(
            thing.state is State.GONE and thing.left_s is not None and time_s - thing.left_s < within_s
            for thing in self.resting()
        )

    def clear(self, view: View) -> list[Thing]:
        """The things that lie where they lay, with nobody near them."""
        return [
            thing
            for thing in self.resting()
            if thing.state is State.SAME
            and thing.place is not None
            and not near_people(view.people, self.discs, self.ground, thing.place)
        ]

    def look(self, picture: Bytes, time_s: float, ceiling: float = WHITE) -> View:
        """Take in one small picture, whose light is cut off above `ceiling`."""
        other = self.ground.other(picture)
        seen = picture[self.ground.box]
        rest = other.copy()
        for thing in self.resting():
            self._state_of(thing, seen, other, time_s, ceiling)
            if thing.state is State.SAME and thing.place is not None:
                self.discs.take_out(rest, thing.place, self._origin)
        view = self._sorted_out(rest, seen, other)
        for thing in self.resting():
            covered = thing.state is State.COVERED
            assert thing.pixels is not None
            # What is large in the middle of a pack is the pack, stirred.
            is_stirred = covered and (self._in_pack(thing) or self._is_only_balls(thing, view))
            least = OVER if is_stirred else LARGE
            thing.behind_person = covered and bool((view.people[thing.pixels] >= least).mean() > 0.25)
            thing.was_hidden |= thing.behind_person
            if thing.state is not State.SAME and not thing.behind_person and thing.left_s is None:
                thing.left_s = time_s
        return view

    def _in_pack(self, thing: Thing) -> bool:
        assert thing.place is not None
        near = PACK_RADII * self.discs.radius_m
        return len(_within(self.resting(), thing.place, near)) > PACKED

    def _is_only_balls(self, thing: Thing, view: View) -> bool:
        """Whether what is large here is no more than the balls that lay here and one that met them."""
        assert thing.place is not None
        covered = [other for other in self.resting() if other.state is State.COVERED]
        balls = _within(covered, thing.place, MET_RADII * self.discs.radius_m)
        u, v, radius = self.discs.disc(thing.place)
        here = (u - self._origin[0], v - self._origin[1])
        near = [
            size for *middle, size in view.packs if np.hypot(*np.subtract(middle, here)) < MET_RADII * radius
        ]
        return bool(near) and max(near) < WITH_SHADOW * (len(balls) + 1)

    def _state_of(self, thing: Thing, seen: Bytes, other: Bytes, time_s: float, ceiling: float) -> None:
        assert thing.pixels is not None and thing.patch is not None
        off = _unlike(seen[thing.pixels].astype(np.float32), thing.patch, min(ceiling, thing.ceiling))
        bare = 1 - np.count_nonzero(other[thing.pixels]) / len(thing.patch) if len(thing.patch) else 0.0
        if thing.bare is None:
            thing.bare = bare
        if bare > max(BARE, thing.bare + BARER):
            off = max(off, SAME)  # a shadow was taken for a ball: it looks like cloth, and cloth is there
        if off < SAME and thing.bare_s is not None and time_s - (thing.back_s or time_s) < BACK_S:
            # Another ball on its way may look the same for a moment.
            thing.back_s = thing.back_s or time_s
            thing.state = State.COVERED
            return
        if off < SAME:
            thing.state, thing.same_s, thing.left_s = State.SAME, time_s, None
            thing.was_hidden, thing.bare_s, thing.back_s = False, None, None
            # Light changes slowly: the picture of a ball at rest goes with it.
            if ceiling >= thing.ceiling - SAME_CEILING:
                thing.patch += 0.02 * (seen[thing.pixels] - thing.patch)
            return
        thing.state = State.GONE if bare > BARE else State.COVERED
        thing.back_s = None
        if thing.state is State.GONE:
            thing.bare_s = thing.bare_s if thing.bare_s is not None else time_s

    def _sorted_out(self, rest: Bytes, seen: Bytes, other: Bytes) -> View:
        # Small numbers are found in half the time; there cannot be more pieces than a quarter of the pixels.
        depth = cv2.CV_16U if rest.size < MOST_SMALL else cv2.CV_32S
        count, found, sizes, centres = cv2.connectedComponentsWithStats(rest, connectivity=8, ltype=depth)
        labels: Labels = np.asarray(found, dtype=np.uint16 if depth == cv2.CV_16U else np.int32)
        stats = np.asarray(sizes, dtype=np.int32)
        middles = np.asarray(centres, dtype=np.float64)
        cloth = self.ground.picture[self.ground.box]
        join_shadows(Pieces(labels, stats, middles), seen, cloth, other, self._radius_at)
        blobs: list[Blob] = []
        packs: list[tuple[float, float, float]] = []
        is_person = np.zeros(count, dtype=np.uint8)
        sized = np.flatnonzero(stats[1:, cv2.CC_STAT_AREA] >= self._least) + 1
        over_rail = np.bincount(labels.ravel()[self._beyond], minlength=count) if len(sized) else sized
        for i, (x, y) in zip(sized.tolist(), self.discs.places(middles[sized] + self._origin), strict=True):
            pixels = int(stats[i][cv2.CC_STAT_AREA])
            if not (math.isfinite(x) and math.isfinite(y)):
                continue
            radius = self.discs.radius_px((x, y))
            size = pixels / (np.pi * radius**2)
            if over_rail[i] > OVER_RAIL * pixels and size >= MOVER[0] and _thickness(stats[i]) > radius:
                is_person[i] = OVER
            elif self._is_ball(stats[i], labels, i, size, radius):
                blobs.append(self._blob(stats[i], labels, i, seen, size))
            elif size > PERSON / 2:
                packs.append((float(middles[i][0]), float(middles[i][1]), size))
                if size > PERSON:
                    is_person[i] = LARGE
        # Who is behind a graphic is seen as little as who is behind a person.
        people = np.maximum(is_person[labels], self._graphics) if is_person.any() else self._graphics
        share = 1 - cv2.countNonZero(other) / max(1, self._surface)
        return View(tuple(blobs), people, tuple(packs), share, other)

    def _is_ball(self, stat: Ints, labels: Labels, i: int, size: float, radius: float) -> bool:
        if not MOVER[0] <= size <= LONGEST_STREAK:
            return False
        width, height = int(stat[cv2.CC_STAT_WIDTH]), int(stat[cv2.CC_STAT_HEIGHT])
        if size <= MOVER[1] and max(width, height) <= 4.5 * radius:
            return bool(stat[cv2.CC_STAT_AREA] >= FULL * width * height)
        rows, columns = np.nonzero(self._cut(stat, labels) == i)
        _, sides, _ = cv2.minAreaRect(np.stack((columns, rows), axis=1).astype(np.float32))
        short, long = min(sides) + 1, max(sides) + 1
        full = stat[cv2.CC_STAT_AREA] / (short * long)
        return bool(STREAK[0] * radius <= short <= STREAK[1] * radius and full > 0.6)

    @staticmethod
    def _cut(stat: Ints, labels: Labels) -> Labels:
        left, top = int(stat[cv2.CC_STAT_LEFT]), int(stat[cv2.CC_STAT_TOP])
        return labels[top : top + int(stat[cv2.CC_STAT_HEIGHT]), left : left + int(stat[cv2.CC_STAT_WIDTH])]

    def _radius_at(self, u: float, v: float) -> float:
        """The radius of a ball's disc whose middle is seen at a pixel of the box."""
        return self.discs.radius_px(self.discs.place(u + self._origin[0], v + self._origin[1]))

    def _blob(self, stat: Ints, labels: Labels, i: int, seen: Bytes, size: float) -> Blob:
        """A blob's ball: its middle from the upper part, since a shadow lies at its foot."""
        left, top = int(stat[cv2.CC_STAT_LEFT]), int(stat[cv2.CC_STAT_TOP])
        mask = self._cut(stat, labels) == i
        rows, columns = np.nonzero(mask)
        u, v = float(columns.mean()), float(rows.mean())
        radius = self._radius_at(u + left, v + top)
        lit = mask & (np.arange(mask.shape[0]) < rows.min() + LIT_SHARE * radius)[:, None]
        here = (slice(top, top + mask.shape[0]), slice(left, left + mask.shape[1]))
        own = seen[here][lit]
        # A ball's edge is smeared with cloth: what is least like cloth is the ball.
        off = difference(own, self.ground.picture[self.ground.box][here][lit])
        colour = medians(own[off >= median(off)])
        if size <= MOVER[1]:
            upper = rows < rows.min() + 2 * radius
            u, v = float(columns[upper].mean()), float(rows[upper].mean())
        place = self.discs.place(u + left + self._origin[0], v + top + self._origin[1])
        return Blob(place, (float(colour[0]), 2 * float(colour[1]), 2 * float(colour[2])), size)


def _unlike(seen: Floats, patch: Floats, ceiling: float) -> float:
    """How unlike pixels (n, 3) are on average; light above a ceiling is not told apart."""
    if not len(patch):
        return 0.0
    if ceiling < WHITE:
        seen, patch = seen.copy(), patch.copy()
        seen[:, 0], patch[:, 0] = (np.minimum(values[:, 0], ceiling) for values in (seen, patch))
    return float(np.abs(seen - patch).mean())


def _far_corners(ground: Ground) -> list[Place]:
    """Places at the ends of the surface that is seen."""
    places = ground.area.places[ground.area.surface]
    if not len(places):
        return []
    (x0, y0), (x1, y1) = places.min(axis=0), places.max(axis=0)
    return [(float(x), float(y)) for x in (x0, x1) for y in (y0, y1)]


def _within(things: list[Thing], place: Place, near_m: float) -> list[Thing]:
    return [t for t in things if t.place and np.hypot(*np.subtract(t.place, place)) < near_m]


def _thickness(stat: Ints) -> int:
    """The shorter side of a blob's box, pixels: a cushion's edge that flickers is a line, nobody's arm."""
    return int(min(stat[cv2.CC_STAT_WIDTH], stat[cv2.CC_STAT_HEIGHT]))


def hidden_by(people: Bytes, discs: Discs, ground: Ground, place: Place) -> bool:
    """Whether people stand before a place."""
    u, v, _ = discs.disc(place)
    row, column = round(v - ground.box[0].start), round(u - ground.box[1].start)
    height, width = people.shape
    return bool(0 <= row < height and 0 <= column < width and people[row, column] > 0)


def near_people(people: Bytes, discs: Discs, ground: Ground, place: Place) -> bool:
    """Whether somebody is so near that what lies there may be theirs: a hand, a cue."""
    u, v, radius = discs.disc(place)
    reach = round(ARM_RADII * radius)
    row, column = round(v) - ground.box[0].start, round(u) - ground.box[1].start
    around = people[max(0, row - reach) : row + reach, max(0, column - reach) : column + reach]
    return bool((around == OVER).any())
