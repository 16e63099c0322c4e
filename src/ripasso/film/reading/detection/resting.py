"""Balls at rest in one picture: what is not cloth, taken apart into balls.

A thing as large as one ball is one ball; a larger one is a pack, which is filled with balls: the place that
looks most like a ball first, then the next one that is not inside it, until the pack is covered.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import product

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import POCKETS, TableSpec, pocket_centre
from ripasso.core.table.places import Place
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.snap import Scene, cloth_about, look_of, outline_of, snap_to_ball
from ripasso.film.calibration.views import scaled
from ripasso.film.reading.detection.discs import Discs, Seen
from ripasso.film.reading.detection.gleams import Lamp
from ripasso.film.reading.detection.ground import Ground
from ripasso.film.reading.detection.nearby import settled
from ripasso.film.reading.detection.pack import FEWEST, without_superfluous
from ripasso.film.reading.detection.picture import Bytes

#: The area of one ball with its shadow, in discs: from, to. Less is no ball, more is a pack or a person.
ONE_BALL = (0.45, 1.75)
#: A single ball with a deep shadow, or on a line, is no larger than this.
LONE_BALL = 2.8
#: The most balls that stand together; something larger is a person.
MOST_TOGETHER = 24.0
#: The share of a thing that lies over the rails when it is a person.
OVER_RAIL = 0.1
#: How much of a pack its balls must cover, with their shadows.
PACK_COVERED = 0.75
#: In a pack: steps of the search (ball radii), how close two balls may be, what a ball must add to the cover.
PACK_STEP, CLOSEST, ADDS = 0.15, 1.85, 0.12
#: The weakest look of a ball in a pack.
PACK_LOOK = 0.3
#: A ball whose outline is not found is laid over its blob: how far about, in which steps (radii), how alike
#: at least, and how clear such a ball is at best.
SHAPE_REACH, SHAPE_STEP, SHAPE_LIKE, SHAPE_CLEARNESS = 0.8, 0.2, 0.5, 0.5
#: How much of a ball's disc must be something other than cloth.
FILLED = 0.7
#: A clear outline needs less of it: the shaded side of a ball may be of the cloth's colour.
CLEAR_EDGE, FILLED_CLEARLY = 0.45, 0.35
#: The weakest look of a ball that was stirred in its place, alone and in a pack.
STIRRED_LOOK, PACKED_LOOK = 0.15, 0.35
#: The weakest outline of a ball whose shadow alone is seen to be no cloth.
OUTLINED = 0.25
#: What the gleam of a lamp counts as a look.
GLEAM_LOOK = 1.0
#: A disc is cloth, in a shadow or not, when so much of its core has the cloth's tint (so far off it, of 255)
#: at so much of its light, and nothing of it gleams; so many radii about a ball are that ball's.
CORE, SHADED, TINT, SHADED_SHARE, GLEAMS, CLEAR_OF = 0.8, (0.36, 1.15), 12.0, 0.5, 0.08, 1.15
#: A single ball that is seen no clearer than this may be bare cloth.
FAINT = 0.2
#: Balls nearer than this to one another (radii) touch.
TOUCHING = 2.3
#: A ball lies at least so far inside the noses of the cushions as it is seen (radii), in a pocket's mouth (so
#: near to its centre, metres) no farther beyond them.
INSIDE, BEYOND, MOUTH_M = 0.25, 0.6, 0.11
#: What a covered disc counts beside its look.
FILL_COUNTS = 1.0


def find_resting(
    picture: Bytes,
    other: Bytes,
    ground: Ground,
    discs: Discs,
    spec: TableSpec,
    known: Sequence[Place] = (),
    stirred: Sequence[Place] = (),
    in_packs: Sequence[Place] = (),
    *,
    is_first: bool = False,
) -> list[Seen]:
    """The balls of a large picture (RGB); `other` is the mask (of the box) of what is not cloth.

    Balls at `known` places are taken as there, and not given again. Those that lay at `stirred` places are
    looked for close by before anything else, those `in_packs` when all others are found. At the first look
    nobody knows how many balls there are: packs are held against their outline.
    """
    camera = scaled(discs.camera, 1 / discs.share)
    finder = _Finder(picture, other, ground, discs, camera, is_first=is_first)
    for place in known:
        finder.cover(place)
    near = [seen for seen in (finder.near(place) for place in stirred) if seen is not None]
    for seen in near:
        finder.cover(seen.place)
    # The balls that stand alone first: packs are taken apart by what they show of the lamp.
    blobs = sorted(finder.blobs(), key=lambda blob: blob.area)
    taken, kept = list(known), []
    for seen in [*near, *(seen for blob in blobs for seen in finder.balls(blob))]:
        if _on_table(seen.place, spec) and _is_apart(seen.place, taken, spec.ball_radius):
            kept.append(seen)
            taken.append(seen.place)
    for place in in_packs:
        found = finder.in_pack(place, taken)
        if found is not None and _on_table(found.place, spec):
            kept.append(found)
            taken.append(found.place)
    return kept


def without_doubles(found: Sequence[Seen], most: int, radius_m: float) -> list[Seen]:
    """At most so many balls as the game has: of those that touch another one the faintest go first.

    One ball with its shadow may have been taken for two.
    """
    kept = list(found)
    while len(kept) > most:
        touching = [
            one
            for one in kept
            if any(
                other is not one and np.hypot(*np.subtract(one.place, other.place)) < TOUCHING * radius_m
                for other in kept
            )
        ]
        if not touching:
            break
        kept.remove(min(touching, key=lambda seen: seen.clearness))
    return kept


def _is_apart(place: Place, taken: Sequence[Place], radius_m: float) -> bool:
    """Whether no ball that is taken already lies where one would lie there."""
    apart = min((math.dist(place, other) for other in taken), default=1.0)
    return apart > 0.85 * CLOSEST * radius_m


def _on_table(place: Place, spec: TableSpec) -> bool:
    """A ball can lie there: its centre is not in a cushion, nor far beyond the mouth of a pocket."""
    beside = min(place[0], spec.length - place[0], place[1], spec.width - place[1])
    if beside > INSIDE * spec.ball_radius:
        return True
    mouths = (math.dist(pocket_centre(spec, pocket), place) for pocket in POCKETS)
    return beside > -BEYOND * spec.ball_radius and min(mouths) < MOUTH_M


@dataclass(frozen=True)
class _Blob:
    mask: Bytes
    area: float
    middle: tuple[float, float]
    is_person: bool


class _Finder:
    """Takes one picture apart; remembers what of it is explained."""

    def __init__(
        self, picture: Bytes, other: Bytes, ground: Ground, discs: Discs, camera: Camera, *, is_first: bool
    ) -> None:
        self._is_first = is_first
        self._picture, self._discs, self._camera = picture.astype(np.float32), discs, camera
        self._bytes = picture
        self._origin = (ground.box[1].start, ground.box[0].start)
        self._beyond, self._hidden = ground.beyond, ground.hidden
        self._other = np.where(ground.reach, other, 0).astype(np.uint8)
        self._covered = np.zeros_like(self._other)
        self._lamp = Lamp(camera, discs.radius_m)

    def cover(self, place: Place) -> None:
        """A ball there is known."""
        self._discs.take_out(self._covered, place, self._origin, 255)
        self._learn_lamp(place)

    def _learn_lamp(self, place: Place) -> None:
        self._lamp.learn(self._bytes, place, self._discs.radius_px(place) / self._discs.share)

    def near(self, place: Place) -> Seen | None:
        """The ball that was stirred a little from a place, None where none lies so near."""
        seen = self._stirred(place, STIRRED_LOOK)
        if seen is None:
            return None
        inside = self._visible(seen.place)
        return seen if inside.any() and float((self._covered[inside] == 0).mean()) > ADDS else None

    def in_pack(self, place: Place, taken: Sequence[Place]) -> Seen | None:
        """The ball of a pack that was stirred a little: others and their shadows may leave little of it."""
        seen = self._stirred(place, PACKED_LOOK)
        return seen if seen is not None and _is_apart(seen.place, taken, self._discs.radius_m) else None

    def _stirred(self, place: Place, look: float) -> Seen | None:
        """The ball that a look from a place leads to, within its radius, where something is no cloth."""
        snap = settled(self._picture, self._camera, place, self._discs.radius_m)
        if snap is None or snap.strength < look or self._is_bare(snap.place, []):
            return None
        if math.dist(snap.place, place) > self._discs.radius_m:
            return None
        inside = self._visible(snap.place)
        filled = float((self._other[inside] > 0).mean()) if inside.any() else 0.0
        return Seen(snap.place, min(1.0, snap.strength)) if filled > FILLED else None

    def _visible(self, place: Place) -> npt.NDArray[np.bool_]:
        """A ball's disc, as far as nothing stands before it."""
        disc = np.zeros_like(self._other)
        self._discs.fill(disc, place, self._origin, value=255)
        return np.asarray((disc > 0) & ~self._hidden)

    def blobs(self) -> Iterable[_Blob]:
        """What is left, in connected pieces."""
        left = self._other & ~self._covered
        count, labels, stats, middles = cv2.connectedComponentsWithStats(left, connectivity=8)
        over_rail = np.bincount(labels[self._beyond], minlength=count)
        for i in range(1, count):
            u, v = middles[i][0] + self._origin[0], middles[i][1] + self._origin[1]
            place = self._discs.place(u, v)
            if not np.isfinite(place).all():
                continue
            area = float(stats[i][cv2.CC_STAT_AREA]) / (np.pi * self._discs.radius_px(place) ** 2)
            if ONE_BALL[0] <= area <= MOST_TOGETHER:
                yield _Blob(
                    (labels == i).astype(np.uint8) * 255,
                    area,
                    (u, v),
                    int(over_rail[i]) > OVER_RAIL * stats[i][cv2.CC_STAT_AREA],
                )

    def balls(self, blob: _Blob) -> list[Seen]:
        """The balls that a blob is."""
        if blob.area <= ONE_BALL[1]:
            one = self._one(blob)
            if one is not None:
                self._learn_lamp(one.place)
                return [one]
        if blob.is_person:
            return []
        pack = self._pack(blob)
        if len(pack) > 1 or blob.area > LONE_BALL:
            return pack
        # One ball with its shadow and a piece of a line.
        one = self._one(blob)
        return [one] if one is not None else pack

    def _one(self, blob: _Blob) -> Seen | None:
        """The ball that a blob is, looked for from its middle and from its top: a shadow lies at its foot."""
        best: Seen | None = None
        for start in (self._discs.place(*blob.middle), self._below_top(blob)):
            snap = snap_to_ball(self._picture, self._camera, start, self._discs.radius_m)
            if snap is None:
                continue
            filled = self._filled(blob, snap.place)
            seen = Seen(snap.place, min(1.0, snap.strength * (0.5 + 0.5 * filled)))
            enough = FILLED if snap.strength < CLEAR_EDGE else FILLED_CLEARLY
            if filled <= enough or (seen.clearness < FAINT and self._is_bare(seen.place, [])):
                continue
            if best is None or seen.clearness > best.clearness:
                best = seen
        if best is None and not blob.is_person:
            best = self._by_outline(blob)
        return best or self._by_shape(blob)

    def _by_outline(self, blob: _Blob) -> Seen | None:
        """The clearest outline about a blob that is the shadow of a ball of the cloth's colour."""
        radius = self._discs.radius_m
        x, y = self._below_top(blob)
        best: Seen | None = None
        for dx, dy in product((-radius, 0.0, radius), repeat=2):
            snap = snap_to_ball(self._picture, self._camera, (x + dx, y + dy), radius)
            if snap is None or snap.strength < max(OUTLINED, best.clearness if best else 0.0):
                continue
            if self._filled(blob, snap.place) > FILLED_CLEARLY:
                best = Seen(snap.place, min(1.0, snap.strength), guessed=True)
        return best

    def _by_shape(self, blob: _Blob) -> Seen | None:
        """The place whose disc, as far as it can be seen, is most like a blob."""
        radius = self._discs.radius_m
        best, likeness = None, 0.0
        x, y = self._below_top(blob)
        steps = np.arange(-SHAPE_REACH, SHAPE_REACH + 0.01, SHAPE_STEP) * radius
        shape = (blob.mask | self._covered) > 0
        for place in ((x + dx, y + dy) for dx in steps for dy in steps):
            disc = np.zeros_like(blob.mask)
            self._discs.fill(disc, place, self._origin, value=255)
            inside = (disc > 0) & ~self._hidden
            either = float((inside | (blob.mask > 0)).sum())
            alike = float((inside & shape).sum()) / max(1.0, either)
            if alike > likeness:
                best, likeness = place, alike
        return (
            Seen(best, SHAPE_CLEARNESS * likeness, guessed=True) if best and likeness > SHAPE_LIKE else None
        )

    def _below_top(self, blob: _Blob) -> Place:
        """A ball's radius below the uppermost broad row of a blob."""
        radius = self._discs.radius_px(self._discs.place(*blob.middle))
        widths = (blob.mask > 0).sum(axis=1)
        top = int(np.flatnonzero(widths >= min(radius * 0.6, widths.max()))[0])
        upper = np.nonzero(blob.mask[top : top + max(2, round(radius))])[1]
        return self._discs.place(float(upper.mean()) + self._origin[0], top + self._origin[1] + radius - 0.5)

    def _filled(self, blob: _Blob, place: Place) -> float:
        """How much of a ball's disc the blob, or what is known already, fills."""
        disc = np.zeros_like(blob.mask)
        self._discs.fill(disc, place, self._origin, value=255)
        inside = (disc > 0) & ~self._hidden
        return float(((blob.mask | self._covered)[inside] > 0).mean()) if inside.any() else 0.0

    def _pack(self, blob: _Blob) -> list[Seen]:
        places, looks = self._looks(blob)
        gleaming = np.array(list(self._gleaming(blob)), dtype=np.float64).reshape(-1, 2)
        places = np.concatenate((gleaming, places))
        looks = np.concatenate((np.full(len(gleaming), GLEAM_LOOK), looks))
        if not len(places):
            return []
        radius = self._discs.radius_m
        likely = looks >= PACK_LOOK
        filled = np.zeros(len(places))
        filled[likely] = [self._filled(blob, (float(x), float(y))) for x, y in places[likely]]
        scores = looks + FILL_COUNTS * filled
        scores[~likely | (filled < FILLED)] = -np.inf
        found: list[Seen] = []
        uncovered = blob.mask.copy()
        while np.isfinite(scores).any():
            best = int(np.argmax(scores))
            place, look = (float(places[best][0]), float(places[best][1])), float(looks[best])
            scores[best] = -np.inf
            disc = np.zeros_like(uncovered)
            self._discs.fill(disc, place, self._origin, value=255)
            inside = disc > 0
            if best >= len(gleaming) and float((uncovered[inside] > 0).mean()) < ADDS:
                continue
            if best >= len(gleaming):
                place = self._snapped(blob, place, found)
            if self._is_bare(place, found):
                continue
            found.append(Seen(place, min(1.0, look)))
            self._discs.fill(uncovered, place, self._origin, value=0, grow=0.5)
            scores[np.hypot(*(places - place).T) < CLOSEST * radius] = -np.inf
        if not self._covers(blob, found):
            return []
        # Two may be one ball with its shadow at any time; of more nobody knows the number only at first.
        is_doubtful = blob.area <= LONE_BALL if len(found) == FEWEST else self._is_first
        if not is_doubtful:
            return found
        return without_superfluous(blob.mask, found, self._discs, self._origin)

    def _is_bare(self, place: Place, found: Sequence[Seen]) -> bool:
        """Whether a disc, without those of the balls found, shows cloth: of its tint, in a shadow or not."""
        outline = outline_of(self._camera, place, CORE * self._discs.radius_m)
        left, top = np.maximum(0, np.floor(outline.min(axis=0)).astype(int))
        right, bottom = np.ceil(outline.max(axis=0)).astype(int) + 1
        cut = self._picture[top:bottom, left:right]
        inside = np.zeros(cut.shape[:2], dtype=np.uint8)
        cv2.fillPoly(inside, [np.round(outline - (left, top)).astype(np.int32)], 1)
        for seen in found:
            ball = outline_of(self._camera, seen.place, CLEAR_OF * self._discs.radius_m)
            cv2.fillPoly(inside, [np.round(ball - (left, top)).astype(np.int32)], 0)
        if not inside.any():
            return False
        cloth = cloth_about(self._picture, outline_of(self._camera, place, self._discs.radius_m))
        colours = cut[inside > 0]
        lit = colours @ cloth / max(1.0, float(cloth @ cloth))
        apart = np.linalg.norm(colours - lit[:, None] * cloth, axis=1)
        shaded = (lit > SHADED[0]) & (lit < SHADED[1]) & (apart < TINT)
        # A ball of the cloth's own colour shows a gleam or its number.
        gleams = (apart > 2 * TINT) & (colours.mean(axis=1) > cloth.mean())
        return bool(shaded.mean() > SHADED_SHARE and gleams.mean() < GLEAMS)

    def _snapped(self, blob: _Blob, place: Place, found: Sequence[Seen]) -> Place:
        """The place after a look at its outline, where that leads to no other ball."""
        snap = snap_to_ball(self._picture, self._camera, place, self._discs.radius_m)
        if snap is None or self._filled(blob, snap.place) < FILLED:
            return place
        apart = [np.hypot(snap.place[0] - f.place[0], snap.place[1] - f.place[1]) for f in found]
        return snap.place if min(apart, default=1.0) > CLOSEST * self._discs.radius_m else place

    def _gleaming(self, blob: _Blob) -> Iterable[Place]:
        """Where the gleams in a pack say that balls are."""
        rows, columns = np.nonzero(blob.mask)
        top, left = int(rows.min()) + self._origin[1], int(columns.min()) + self._origin[0]
        bottom, right = int(rows.max()) + self._origin[1] + 1, int(columns.max()) + self._origin[0] + 1
        share = self._discs.share
        first = (round(left / share), round(top / share))
        cut = self._bytes[first[1] : round(bottom / share), first[0] : round(right / share)]
        radius_px = self._discs.radius_px(self._discs.place(*blob.middle)) / share
        return self._lamp.places(np.ascontiguousarray(cut), first, radius_px)

    def _covers(self, blob: _Blob, found: Sequence[Seen]) -> bool:
        """Whether balls are all of a blob, apart from their shadows."""
        left = blob.mask.copy()
        for seen in found:
            grow = 0.3 * self._discs.radius_px(seen.place)
            self._discs.fill(left, seen.place, self._origin, value=0, grow=grow)
        return float(left.sum()) < (1 - PACK_COVERED) * float(blob.mask.sum())

    def _looks(self, blob: _Blob) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
        """A net of places over a blob, and how much each looks like a ball's."""
        radius, step = self._discs.radius_m, PACK_STEP * self._discs.radius_m
        rows, columns = np.nonzero(blob.mask)
        pixels = np.stack((columns + self._origin[0], rows + self._origin[1]), axis=1)
        on_table = self._discs.camera.places(pixels, radius)
        low, high = on_table.min(axis=0), on_table.max(axis=0)
        net = np.stack(
            np.meshgrid(np.arange(low[0], high[0], step), np.arange(low[1], high[1], step), indexing="ij"),
            axis=-1,
        ).reshape(-1, 2)
        seen = np.round(
            self._discs.camera.project(np.column_stack((net, np.full(len(net), radius)))) - self._origin
        ).astype(int)
        height, width = blob.mask.shape
        inside = (seen >= 0).all(axis=1) & (seen[:, 0] < width) & (seen[:, 1] < height)
        net, seen = net[inside], seen[inside]
        net = net[blob.mask[seen[:, 1], seen[:, 0]] > 0]
        looks = np.full(len(net), -np.inf)
        cells = np.floor(net / (2 * radius)).astype(int)
        around = self._discs.place(*blob.middle)
        cloth = cloth_about(self._picture, outline_of(self._camera, around, radius * np.sqrt(blob.area)))
        scene = Scene(self._picture, cloth, self._camera, radius)
        for cell in np.unique(cells, axis=0):
            here = (cells == cell).all(axis=1)
            middle = net[here].mean(axis=0)
            found = look_of(scene, (float(middle[0]), float(middle[1])), net[here], crowd=1.0)
            if found is not None:
                looks[here] = found
        return net, looks
