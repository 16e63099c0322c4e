"""A ball under a click: its outline in the picture, found by its edge.

The camera says how large the outline of a ball of known size is at every place, so only the place is
searched: first where the edge along the whole outline is strongest, then by the edge on each of its rays.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ripasso.film.calibration.camera import Array, Camera

RAYS = 48
#: How far from the click a ball is searched and in which steps, then about the place found (ball radii).
NETS = ((0.7, 0.1), (0.1, 0.025))
#: What a ball radius of distance from the click costs, squared.
NEARNESS = 0.25
#: How far from the outline an edge is looked for when its place is refined, in radii of the outline.
REFINE_RADII = (0.3, 0.2, 0.15)
#: Rays that point down by more than FLANK (sine) lose trust, at FOOT they have the least.
FLANK, FOOT, LEAST_TRUST = 0.2, 0.7, 0.1
#: A shadow takes this much of the cloth's light, a lamp adds so much; how far apart colours are (of 255).
SHADOWS, CLOTH_SPREAD = (0.5, 1.25), 50.0
#: What an edge counts that is not one from ball to cloth, as between two balls.
OTHER_EDGES = 0.3
#: Where on a ray the ball's own colour is taken, in radii inside its outline.
CORE_RADII = (0.15, 0.25, 0.35)
#: Rings about an outline, in its radii outside it: for the cloth's light near by, and for its colour.
NEAR_RINGS, FAR_RINGS = (0.5, 0.9, 1.4, 2.0), (3.0, 4.5, 6.0, 8.0, 10.0)
#: Shares of the way from the middle of a ball to its outline at which its light is looked at.
DISC_SHARES = (0.15, 0.35, 0.55, 0.75, 0.92)
#: What counts beside edges from ball to cloth: edges to something darker, and the light of a round thing.
SHADING = 0.3
#: What the gleam of a lamp counts for a ball in a crowd, where it is looked at (radii of the outline), and a
#: full one (of 255). Alone a ball shows its whole edge, which is surer: a stripe may look like a gleam.
GLEAM, GLEAM_RADII, GLEAM_RANGE = 1.0, 0.1, 200.0
#: The share of the way from the middle of a ball to its outline at which the rest of its light is looked at.
BODY_SHARE = 0.7
#: How much of the ring about a start must be balls for a crowd to begin, and for it to be one; how far out.
CROWD, CROWD_RADII = (0.2, 0.45), 0.6
#: What counts as a clear edge from ball to cloth, and on how much of the outline one is needed to refine.
CLEAR_EDGE, CLEAR_RAYS = 0.4, 0.5
#: How firmly the blur of an edge is held near 0, in rays of ordinary weight.
BLUR_HOLD = 5.0
#: A mean edge weaker than this (ball to cloth is 1) is no ball.
WEAKEST_EDGE = 0.08


@dataclass(frozen=True)
class Snap:
    """The centre of a ball on the table (metres), and the mean strength of its edge."""

    place: tuple[float, float]
    strength: float


@dataclass(frozen=True)
class Scene:
    """A picture of floats, the colour of the cloth about the click, the camera, and a ball's radius."""

    image: npt.NDArray[np.float32]
    cloth: npt.NDArray[np.float32]
    camera: Camera
    radius: float


def snap_to_ball(
    picture: npt.NDArray[np.uint8] | npt.NDArray[np.float32],
    camera: Camera,
    start: tuple[float, float],
    radius: float,
) -> Snap | None:
    """The ball near `start` (metres) in a picture (height, width, 3); None where there is no such edge."""
    image = np.asarray(picture, dtype=np.float32)
    around = outline_of(camera, start, radius)
    if not _in_picture(image, around):
        return None
    scene = Scene(image, cloth_about(image, around), camera, radius)
    place, strength = np.asarray(start), 0.0
    for reach, step in NETS:
        best = _search(scene, start, place, (reach, step))
        if best is None:
            return None
        place, strength = best
    for reach in REFINE_RADII:
        refined = _refined(scene, place, reach)
        if refined is None:
            break
        place = refined
    if np.hypot(place[0] - start[0], place[1] - start[1]) > 1.5 * radius or strength < WEAKEST_EDGE:
        return None
    return Snap((float(place[0]), float(place[1])), strength)


def _ring(
    camera: Camera, place: npt.ArrayLike, radius: float, rays: int
) -> tuple[Array, Array, Array, float]:
    """Centre of a ball, unit vector to the eye, unit vectors (rays, 3) square to it, distance to the eye."""
    x, y = np.asarray(place, dtype=np.float64)
    centre = np.array([x, y, radius])
    to_eye = camera.eye - centre
    distance = float(np.linalg.norm(to_eye))
    axis = to_eye / distance
    side = np.cross(axis, (0.0, 0.0, 1.0))
    length = float(np.linalg.norm(side))
    side = side / length if length > 1e-9 else np.array([1.0, 0.0, 0.0])
    up = np.cross(side, axis)
    turns = 2 * np.pi * np.arange(rays) / rays
    return centre, axis, np.outer(np.cos(turns), side) + np.outer(np.sin(turns), up), distance


def _heights(camera: Camera, place: npt.ArrayLike, radius: float) -> Array:
    """How far the surface of a ball looks up (shares, rays), from its middle to its outline."""
    _, axis, ring, _ = _ring(camera, place, radius, RAYS)
    shares = np.array(DISC_SHARES)[:, None]
    return np.asarray(shares * ring[None, :, 2] + np.sqrt(1 - shares**2) * axis[2])


def outline_of(camera: Camera, place: npt.ArrayLike, radius: float, rays: int = RAYS) -> Array:
    """The outline (rays, 2) in pixels of a ball at rest at a place: where the line of sight grazes it."""
    centre, axis, ring, distance = _ring(camera, place, radius, rays)
    grazing = centre + axis * radius**2 / distance + ring * radius * np.sqrt(1 - (radius / distance) ** 2)
    return camera.project(grazing)


def cloth_about(image: npt.NDArray[np.float32], outline: Array) -> npt.NDArray[np.float32]:
    """The colour of the cloth about an outline: what is commonest farther out, as it is lit near by."""
    normal, size = _normals(outline)
    near = _sample(image, np.concatenate([outline + share * size * normal for share in NEAR_RINGS]))
    far = _sample(image, np.concatenate([outline + share * size * normal for share in FAR_RINGS]))
    commonest = np.median(far, axis=0)
    alike = near[np.linalg.norm(near - commonest, axis=1) < 2 * CLOTH_SPREAD]
    return np.asarray(np.median(alike, axis=0) if len(alike) > len(near) / 12 else commonest)


def _ballness(colours: npt.NDArray[np.float32], cloth: npt.NDArray[np.float32]) -> npt.NDArray[np.float32]:
    """How little colours (..., 3) are those of the cloth, 0 to 1; cloth in a shadow is cloth still."""
    lit = (colours @ cloth) / max(1.0, float(cloth @ cloth))
    lit = np.clip(lit, *SHADOWS)
    apart = np.linalg.norm(colours - lit[..., None] * cloth, axis=-1)
    return np.asarray(1 - np.exp(-((apart / CLOTH_SPREAD) ** 2)))


def _search(
    scene: Scene, start: tuple[float, float], about: Array, net: tuple[float, float]
) -> tuple[Array, float] | None:
    """The place on a net about a place that looks most like a ball, and how much it does."""
    reach, step = net
    steps = np.arange(-reach, reach + step / 2, step) * scene.radius
    offsets = np.array([(x, y) for x in steps for y in steps])
    places = about + offsets[np.hypot(offsets[:, 0], offsets[:, 1]) <= reach * scene.radius * 1.01]
    scores = look_of(scene, start, places)
    if scores is None:
        return None
    # A click is near the middle of its ball: a place farther off must be better to be taken.
    away = np.hypot(*(places - np.asarray(start)).T) / scene.radius
    best = int(np.argmax(scores - NEARNESS * away**2))
    return places[best], float(scores[best])


def look_of(
    scene: Scene, start: tuple[float, float], places: Array, crowd: float | None = None
) -> npt.NDArray[np.float64] | None:
    """How much each of some places (n, 2) near `start` looks like a ball's; None outside the picture.

    `crowd` says how closely balls stand; None: it is looked at about the start.
    """
    image, camera, radius = scene.image, scene.camera, scene.radius
    # Over so small a way the outline keeps its shape; only its place in the picture changes.
    centres = camera.project(np.column_stack((places, np.full(len(places), radius))))
    outline = outline_of(camera, start, radius)
    middle = camera.project(np.append(np.asarray(start), radius))
    outlines = outline[None] + (centres - middle)[:, None]
    if not _in_picture(image, outlines.reshape(-1, 2)):
        return None
    normal, size = _normals(outline)
    scores = _edge_strength(scene, outlines, normal, size)
    heights = _heights(camera, start, radius)
    scores = scores + SHADING * _shading(image, outlines, heights, _trust(normal))
    if crowd is None:
        crowd = _crowd(scene, outline, normal, size)
    if crowd > 0:
        gleam = camera.project(_gleam(camera, start, radius)[None])[0] - middle[0]
        scores = scores + crowd * GLEAM * _gleaming(image, centres + gleam, outlines, size)
    return np.asarray(scores)


def _edge_strength(scene: Scene, outlines: Array, normal: Array, size: float) -> Array:
    """How strong the edge along outlines (k, rays, 2) is: from ball to cloth above all."""
    image, cloth = scene.image, scene.cloth
    step = max(0.8, 0.08 * size)
    inside = _sample(image, outlines - step * normal)
    outside = _sample(image, outlines + step * normal)
    to_cloth = np.clip(_ballness(inside, cloth) - _ballness(outside, cloth), 0, None)
    # The square root keeps one strong part of an outline from deciding alone.
    any_edge = np.sqrt(np.clip((inside - outside).mean(axis=2), 0, None) / 255)
    return np.asarray(np.average(to_cloth + OTHER_EDGES * any_edge, axis=1, weights=_trust(normal)))


def _shading(image: npt.NDArray[np.float32], outlines: Array, heights: Array, trust: Array) -> Array:
    """How well the light inside outlines (k, rays, 2) is that of a ball lit from above: a correlation.

    `heights` (shares, rays) is how far the surface looks up at each share of the way from middle to outline,
    `trust` (rays,) what each ray is worth.
    """
    middles = outlines.mean(axis=1)[:, None, None]
    spokes = outlines[:, None] - middles
    inside = middles + np.array(DISC_SHARES)[None, :, None, None] * spokes
    weight = np.tile(trust / trust.sum() / len(DISC_SHARES), len(DISC_SHARES))
    light = _sample(image, inside).mean(axis=3).reshape(len(outlines), -1)
    light = light - (light * weight).sum(axis=1, keepdims=True)
    looks_up = heights.ravel() - float(heights.ravel() @ weight)
    scale = np.sqrt((light**2 * weight).sum(axis=1) * float(looks_up**2 @ weight))
    return np.asarray((light * looks_up * weight).sum(axis=1) / np.maximum(scale, 1e-6))


def _crowd(scene: Scene, outline: Array, normal: Array, size: float) -> float:
    """How much other balls stand about a start, 0 to 1."""
    around = _ballness(_sample(scene.image, outline + CROWD_RADII * size * normal), scene.cloth)
    share = float(np.average(around, weights=_trust(normal)))
    return float(np.clip((share - CROWD[0]) / (CROWD[1] - CROWD[0]), 0, 1))


def _gleam(camera: Camera, place: tuple[float, float], radius: float) -> Array:
    """Where a polished ball mirrors a lamp above it to the camera: halfway between the two directions."""
    centre = np.array([*place, radius])
    to_eye = camera.eye - centre
    halfway = to_eye / np.linalg.norm(to_eye) + (0.0, 0.0, 1.0)
    return np.asarray(centre + radius * halfway / np.linalg.norm(halfway))


def _gleaming(image: npt.NDArray[np.float32], spots: Array, outlines: Array, size: float) -> Array:
    """How much whiter each spot (k, 2) is than the rest of its ball, 0 to 1: one lamp, one gleam a ball."""
    step = GLEAM_RADII * size
    around = spots[:, None] + step * np.array([(0, 0), (1, 0), (-1, 0), (0, 1), (0, -1)])
    middles = outlines.mean(axis=1)[:, None]
    body = middles + BODY_SHARE * (outlines[:, ::4] - middles)
    # The least of the three channels: a gleam has the lamp's white in all of them.
    spot = _sample(image, around).min(axis=2).mean(axis=1)
    rest = np.median(_sample(image, body).min(axis=2), axis=1)
    return np.asarray(np.clip((spot - rest) / GLEAM_RANGE, 0, 1))


def _trust(normal: Array) -> Array:
    """How much each ray says: little at the foot, where the shadow lies and nearer balls hide it."""
    down = normal[:, 1]
    return np.clip((FOOT - down) / (FOOT - FLANK), LEAST_TRUST, 1.0)


def _refined(scene: Scene, place: Array, reach: float) -> Array | None:
    """The place after moving the outline onto the edges its rays find, outliers set aside.

    None where too little of the outline stands before the cloth.
    """
    camera, radius = scene.camera, scene.radius
    outline = outline_of(camera, place, radius)
    if not _in_picture(scene.image, outline):
        return place
    normal, size = _normals(outline)
    edges = _edges_on_rays(scene, outline, normal, size, reach)
    if edges is None:
        return None
    # From pixels to the table: where the picture of the centre moves by that much.
    middle = camera.project(np.array([[place[0], place[1], radius]]))
    moved: Array = camera.places(middle + _shift_onto(normal, *edges), radius)[0]
    return moved if np.isfinite(moved).all() else place


def _edges_on_rays(
    scene: Scene, outline: Array, normal: Array, size: float, reach: float
) -> tuple[Array, Array] | None:
    """How far out of the outline each ray finds its edge (pixels), and what each is worth.

    None in a pack, where the edges of the neighbours would pull it away.
    """
    image, cloth = scene.image, scene.cloth
    way = np.arange(-reach * size, reach * size + 0.2, 0.25)
    step = max(0.7, 0.06 * size)
    lines = outline[:, None] + way[None, :, None] * normal[:, None]
    outer, inner = (_sample(image, lines + side * step * normal[:, None]) for side in (1, -1))
    own = _sample(image, outline[:, None] - np.array(CORE_RADII)[None, :, None] * size * normal[:, None])
    share = _share_of_ball(inner, own, cloth) - _share_of_ball(outer, own, cloth)
    edge = np.clip(share, 0, None) + OTHER_EDGES * np.clip((inner - outer).mean(axis=2), 0, None) / 255
    to_cloth = np.clip(share, 0, None).max(axis=1) > CLEAR_EDGE
    if np.average(to_cloth, weights=_trust(normal)) < CLEAR_RAYS:
        return None
    # The centre of gravity of the strong part of the edge: finer than its highest sample.
    strong = np.clip(edge - 0.6 * edge.max(axis=1, keepdims=True), 0, None)
    found = (strong * way).sum(axis=1) / np.maximum(strong.sum(axis=1), 1e-6)
    return found, np.sqrt(edge.max(axis=1)) * _trust(normal)


def _shift_onto(normal: Array, found: Array, weight: Array) -> Array:
    """The shift (2,) in pixels that brings an outline onto the edges found, outliers set aside.

    Blurred pictures show an edge a little outside or inside of where it is, alike on all sides: the third
    unknown, held near 0 by a row of its own.
    """
    rays = np.column_stack((normal, np.ones(len(normal))))
    shift = np.zeros(3)
    for _ in range(6):
        off = found - rays @ shift
        scale = max(0.3, 1.5 * float(np.median(np.abs(off))))
        trust = np.sqrt(weight * np.clip(1 - (off / (2.5 * scale)) ** 2, 0, None) ** 2)
        if trust.sum() < 1e-6:
            break
        held = np.vstack((rays * trust[:, None], [0.0, 0.0, BLUR_HOLD * trust.sum() / len(trust)]))
        shift = np.linalg.lstsq(held, np.append(found * trust, 0.0), rcond=None)[0]
    return shift[:2]


def _share_of_ball(
    colours: npt.NDArray[np.float32], core: npt.NDArray[np.float32], cloth: npt.NDArray[np.float32]
) -> npt.NDArray[np.float32]:
    """How much of a ball is mixed into the cloth, for each ray (rays, n): a half is the edge.

    `core` (rays, m, 3) are colours a little inside the outline on the same ray, stripe or not.
    """
    own = np.linalg.norm(core - cloth, axis=2).mean(axis=1)
    share = np.linalg.norm(colours - cloth, axis=2) / np.maximum(own, 1.0)[:, None]
    # Rays on which ball and cloth are nearly of one colour say little.
    clear = np.clip(own / CLOTH_SPREAD, 0, 1)
    return np.asarray(np.clip(share, 0, 1) * clear[:, None])


def _normals(outline: Array) -> tuple[Array, float]:
    """Unit vectors (n, 2) out of an outline, and its mean radius in pixels."""
    before, after = np.roll(outline, 1, axis=0), np.roll(outline, -1, axis=0)
    along = after - before
    normal = np.stack((along[:, 1], -along[:, 0]), axis=-1)
    normal /= np.maximum(np.hypot(normal[:, 0], normal[:, 1]), 1e-9)[:, None]
    outward = outline - outline.mean(axis=0)
    if float((normal * outward).sum()) < 0:
        normal = -normal
    return normal, float(np.hypot(outward[:, 0], outward[:, 1]).mean())


def _in_picture(image: npt.NDArray[np.float32], outline: Array) -> bool:
    height, width = image.shape[:2]
    if not np.isfinite(outline).all():
        return False
    inside = (outline >= 2).all() and (outline[:, 0] < width - 3).all() and (outline[:, 1] < height - 3).all()
    return bool(inside)


def _sample(image: npt.NDArray[np.float32], pixels: Array) -> npt.NDArray[np.float32]:
    """The colours (..., 3) at places between the pixels, by their four neighbours."""
    height, width = image.shape[:2]
    x = np.clip(pixels[..., 0], 0, width - 1.001)
    y = np.clip(pixels[..., 1], 0, height - 1.001)
    left, top = x.astype(np.int64), y.astype(np.int64)
    across, down = (x - left)[..., None].astype(np.float32), (y - top)[..., None].astype(np.float32)
    upper = image[top, left] * (1 - across) + image[top, left + 1] * across
    lower = image[top + 1, left] * (1 - across) + image[top + 1, left + 1] * across
    return np.asarray(upper * (1 - down) + lower * down)
