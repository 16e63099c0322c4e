"""From where a film shows the table: one camera, or several that are cut between and met again later."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.views import scaled
from ripasso.film.errors import NoTable
from ripasso.film.reading.detection.discs import Discs
from ripasso.film.reading.detection.ground import Ground, area_of
from ripasso.film.reading.detection.picture import Bytes
from ripasso.film.reading.identity.appearance import Looks
from ripasso.film.reading.normalising.exposure import lit_alike
from ripasso.film.reading.normalising.normaliser import Normaliser
from ripasso.film.reading.normalising.stabiliser import Stabiliser, aligned, any_moved

#: A camera is met when so many samples were taken through it, and so many cameras are told apart.
LEAST_SAMPLES, MOST_VIEWPOINTS = 4, 4
#: While the table is not seen from where it was, the others are tried every so many frames.
SEARCH_EVERY = 8
#: So many balls tell which end a camera sees, when so much more of them is seen from one than from the other.
LEAST_BALLS, CLEARLY = 3, 0.3
#: Two cameras that show the table's corners this near, in shares of the picture's width, are one.
ALIKE = 0.02


@dataclass(frozen=True, eq=False)
class Viewpoint:
    """One camera: how it sees the whole picture and how surely, and what reading needs of small pictures.

    `covered` is the share of the table's surface that lies in its picture.
    """

    camera: Camera
    sure: float
    covered: float
    normaliser: Normaliser
    ground: Ground
    discs: Discs
    looks: Looks

    @classmethod
    def of(
        cls, seen: Sequence[Bytes], spec: TableSpec, share: float, size: tuple[int, int], known: Camera | None
    ) -> Viewpoint:
        """From small pictures taken through it; `known` is the camera of the full picture (of `size`).

        Raises `NoTable` where it has to be found and is not.
        """
        if known is None:
            camera, sure, stabiliser, samples = _found(seen, spec)
        else:
            camera, sure, stabiliser, samples = _set_right(seen, scaled(known, share), spec)
            known = None if camera.k1 != known.k1 else known
        area = area_of(camera, spec, samples[0].shape[:2])
        samples = lit_alike(samples, area.surface)
        discs = Discs(camera, spec.ball_radius, share)
        full = known or scaled(camera, 1 / share)
        return cls(
            full,
            sure,
            _covered(full, spec, size),
            Normaliser(stabiliser, samples, area.surface),
            Ground(samples, area, spec),
            discs,
            Looks(discs),
        )


class Viewpoints:
    """The cameras of a film, and which of them shows the frame that was taken in last."""

    def __init__(
        self,
        seen: Sequence[Bytes],
        spec: TableSpec,
        share: float,
        size: tuple[int, int],
        known: Camera | None,
    ) -> None:
        """`seen` are small pictures from all over the film; `known` is the camera of the first of them.

        Raises `NoTable` where no camera shows one.
        """
        self._spec, self._share, self._size = spec, share, size
        self._seen = _all(seen, spec, share, size, known)
        self.all = list(self._seen)
        self.main = self.now = self.all[0]
        self.used, self._sure_of_end = [self.main], {self.main}
        self._missed = 0

    def choose_end(self, places: Sequence[Place], picture: Bytes) -> None:
        """Which end is the head in a camera met for the first time: balls lie where others showed them.

        `picture` is a small one, as `take` made it.
        """
        if self.now in self._sure_of_end or len(places) < LEAST_BALLS:
            return
        self._sure_of_end.add(self.now)
        seen, camera = (
            self._seen[self.now],
            self.now.camera.from_other_end(self._spec.length, self._spec.width),
        )
        other = Viewpoint.of(seen, self._spec, self._share, self._size, camera)
        if _shown(other, places, picture) > _shown(self.now, places, picture) + CLEARLY:
            other = replace(other, sure=self.now.sure, normaliser=self.now.normaliser)
            self.all[self.all.index(self.now)] = self.used[self.used.index(self.now)] = self.now = other
            self._seen[other] = seen
            self._sure_of_end.add(other)

    def take(self, picture: Bytes) -> Bytes | None:
        """The next small picture as its camera shows it standing in even light; None where none does."""
        made = self.now.normaliser.take(picture)
        if not self.now.normaliser.is_lost:
            self._missed = 0
            return made
        self._missed += 1
        if self._missed % SEARCH_EVERY == 1:
            for other in self.all:
                if other is not self.now and other.normaliser.finds(picture):
                    self.now, self._missed = other, 0
                    if other not in self.used:
                        self.used.append(other)
                    return other.normaliser.take(picture)
        return None if self.now.normaliser.is_elsewhere else made

    def first_seen(self, viewpoint: Viewpoint) -> Bytes:
        """The picture of those it was made from that its camera took as stated: the first."""
        return self._seen[viewpoint][0]

    @property
    def sure(self) -> float:
        """How sure the places are that were seen through the cameras that were used."""
        return min(one.sure for one in self.used)

    @property
    def covered(self) -> float:
        """The least share of the table's surface that one of them shows."""
        return min(one.covered for one in self.used)


def _all(
    seen: Sequence[Bytes], spec: TableSpec, share: float, size: tuple[int, int], known: Camera | None
) -> dict[Viewpoint, Sequence[Bytes]]:
    """The known camera or the one that is shown most, then the others, and the pictures they took."""
    groups = _groups(seen)
    if known is None:
        groups.sort(key=len, reverse=True)
    found: dict[Viewpoint, Sequence[Bytes]] = {}
    reason: NoTable | None = None
    for group in groups:
        is_first = not found
        if not is_first and len(group) < LEAST_SAMPLES:
            continue
        try:
            one = Viewpoint.of(group, spec, share, size, known if group is groups[0] else None)
        except NoTable as error:
            reason = reason or error
            continue
        if not any(_alike(one.camera, other.camera, spec, size[0]) for other in found):
            found[one] = group
    if not found:
        raise reason or NoTable("No table was found in this film.")
    return found


def _groups(seen: Sequence[Bytes]) -> list[list[Bytes]]:
    """Pictures that were taken through the same camera, that of the first picture first."""
    groups: list[list[Bytes]] = []
    rest = list(seen)
    while rest and len(groups) < MOST_VIEWPOINTS:
        stabiliser = Stabiliser(rest[0][..., 0])
        is_same = [i == 0 or stabiliser.find(picture[..., 0]) for i, picture in enumerate(rest)]
        groups.append([picture for picture, same in zip(rest, is_same, strict=True) if same])
        rest = [picture for picture, same in zip(rest, is_same, strict=True) if not same]
    # Where one camera alone is met, what does not look like its first picture is seen through it as well.
    return groups if sum(len(group) >= LEAST_SAMPLES for group in groups) > 1 else [list(seen)]


def _shown(viewpoint: Viewpoint, places: Sequence[Place], picture: Bytes) -> float:
    """At how many of the places a camera's small picture shows something else than cloth, as a share."""
    other, (rows, columns) = viewpoint.ground.other(picture), viewpoint.ground.box
    shown = 0
    for place in places:
        u, v, _ = viewpoint.discs.disc(place)
        row, column = round(v) - rows.start, round(u) - columns.start
        inside = 0 <= row < other.shape[0] and 0 <= column < other.shape[1]
        shown += bool(inside and other[row, column])
    return shown / len(places)


def _alike(one: Camera, other: Camera, spec: TableSpec, width: int) -> bool:
    corners = [[x, y, 0.0] for x in (0.0, spec.length) for y in (0.0, spec.width)]
    away = np.hypot(*(one.project(corners) - other.project(corners)).T)
    return bool(away.max() < ALIKE * width)


def _found(seen: Sequence[Bytes], spec: TableSpec) -> tuple[Camera, float, Stabiliser, list[Bytes]]:
    """The camera of small pictures (n, height, width, 3), how sure it is, and the pictures moved alike."""
    from ripasso.film.reading.detection.table import find_table

    stabiliser, samples = aligned(seen)
    found = find_table(np.median(np.stack(samples), axis=0).astype(np.uint8), spec)
    if any_moved(samples, seen):
        # How a picture moves when its camera turns hangs on the lens: now that is known.
        stabiliser, samples = aligned(seen, found.camera.focal_px)
        found = find_table(np.median(np.stack(samples), axis=0).astype(np.uint8), spec)
    return found.camera, found.sure, stabiliser, samples


def _set_right(
    seen: Sequence[Bytes], known: Camera, spec: TableSpec
) -> tuple[Camera, float, Stabiliser, list[Bytes]]:
    """A known camera of small pictures, with its lens where they show one; else as `_found`."""
    from ripasso.film.reading.detection.table import with_lens

    stabiliser, samples = aligned(seen, known.focal_px)
    camera = with_lens(np.median(np.stack(samples), axis=0).astype(np.uint8), known, spec)
    return camera, 1.0, stabiliser, samples


def _covered(camera: Camera, spec: TableSpec, size: tuple[int, int]) -> float:
    """The share of the table's surface that lies in the picture."""
    x, y = np.meshgrid(np.linspace(0, spec.length, 24), np.linspace(0, spec.width, 12))
    pixels = camera.project(np.column_stack((x.ravel(), y.ravel(), np.zeros(x.size))))
    inside = (pixels >= 0).all(axis=1) & (pixels[:, 0] < size[0]) & (pixels[:, 1] < size[1])
    return float(inside.mean())
