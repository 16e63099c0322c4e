"""The table in a still picture: the cloth by its colour, its four sides, the camera that sees it so.

The cloth ends where the wood begins: at the outer edge of the cushions. The string line, or the baulk line,
tells which end is which.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.core.table import TableSpec
from ripasso.core.table.known_points import RAIL_TOP_M, string_line
from ripasso.film.calibration.camera import Camera
from ripasso.film.calibration.camera_fit import fit_view
from ripasso.film.errors import NoTable, ViewError
from ripasso.film.reading.detection.edges import true_edge
from ripasso.film.reading.detection.lens import Bent, bent_view, is_believable, outline_residual
from ripasso.film.reading.detection.picture import GREY, Bytes

Array = npt.NDArray[np.float64]

#: From the nose of a cushion to the wood (common practice, no source: two inches).
CUSHION_M = 0.0508
#: How far colours may be from the cloth's in full light (two colours, 0 to 255), and its light (shares of its
#: median).
COLOUR, LIGHT = 11.0, (0.3, 1.7)
#: A cloth with less colour than this is grey: wood and floors are as well, so that only its light tells it.
GREY_CLOTH, GREY_LIGHT = 12.0, (0.6, 1.5)
#: The widest dark face of a cushion in a small picture, pixels.
FACE_PX = 9
#: The least share of the picture that is a table.
SMALLEST = 0.06
#: How far a side of the cloth may be off a straight line, pixels.
STRAIGHT_PX = 3.0
#: How far the outline of the cloth may be off the sides of the table that is found (root mean square).
MOST_RESIDUAL_PX = 3.0
#: How unlike its neighbourhood the string line must be to be seen.
LINE_SEEN = 2.0
#: How sure places are with a view found alone, and when nothing tells which end is which.
SURE, EITHER_END = 0.99, 0.5


#: A lens is taken into a view that was set when its sides lie so many times better on the cloth, and its
#: corners within this share of the picture's width of where they were set.
LENS_GAINS, SET_WITHIN = 1.5, 0.004
#: What reaches over so many edges of the picture is its background, no table.
FILLS = 3


@dataclass(frozen=True)
class FoundTable:
    """The camera of the small picture, how sure its places are, the residual of the sides in pixels."""

    camera: Camera
    sure: float
    residual_px: float


def find_table(picture: Bytes, spec: TableSpec) -> FoundTable:
    """The table in a small picture without people (height, width, 3); raises `NoTable`."""
    outline, corners = _outline_and_corners(_cloth(picture), picture)
    size = (picture.shape[1], picture.shape[0])
    fits = [fit for fit in (_fitted(np.roll(corners, turn, axis=0), spec, size) for turn in range(4)) if fit]
    views = [view for fit in fits if (view := _view(fit.camera, outline, spec, size)) is not None]
    if not views:
        raise NoTable(
            "No camera would see a table of this size as it is in this film: say which table it is, or set "
            "its view by hand."
        )
    residual = min(view.residual_px for view in views)
    if residual > MOST_RESIDUAL_PX:
        raise NoTable(
            f"What was taken for the cloth has not the sides of a table ({residual:.1f} pixels off): set the "
            "view by hand."
        )
    ends = [view for view in views if view.residual_px < residual + 1.5]
    seen = [_string_seen(picture, view.camera, spec) for view in ends]
    best = int(np.argmax(seen))
    rest = max([value for i, value in enumerate(seen) if i != best], default=0.0)
    is_sure = seen[best] > LINE_SEEN and seen[best] > 2 * rest
    return FoundTable(ends[best].camera, SURE if is_sure else EITHER_END, ends[best].residual_px)


def cloth_outline(picture: Bytes) -> Array:
    """The outline (n, 2) of the cloth in a small picture, at its true edge, pixels; raises `NoTable`."""
    return _outline_and_corners(_cloth(picture), picture)[0]


def with_lens(picture: Bytes, known: Camera, spec: TableSpec) -> Camera:
    """A view of a small picture that somebody set, with the lens that the cloth shows where it has none.

    Few clicked points say nothing of a lens; the whole outline does. The view stays where it was set.
    """
    if known.k1 or known.k2:
        return known
    try:
        outline = cloth_outline(picture)
    except NoTable:
        return known
    size = (picture.shape[1], picture.shape[0])
    bent = bent_view(outline, [known], spec, CUSHION_M, size)
    if bent is None or not (bent.camera.k1 or bent.camera.k2):
        return known
    corners = [(x, y, RAIL_TOP_M) for x in (0.0, spec.length) for y in (0.0, spec.width)]
    apart = np.hypot(*(bent.camera.project(corners) - known.project(corners)).T).max()
    off = outline_residual(known, outline, spec, CUSHION_M, size)
    is_better = bent.residual_px * LENS_GAINS < off and apart < SET_WITHIN * size[0]
    return bent.camera if is_better else known


def _view(corner_view: Camera, outline: Array, spec: TableSpec, size: tuple[int, int]) -> Bent | None:
    """The view from four corners, or with the lens that the whole outline shows; None: nobody's camera.

    Corners alone are surer where the lens is straight: an outline is cut by pockets, and frayed.
    """
    bent = bent_view(outline, [corner_view], spec, CUSHION_M, size)
    if bent is not None and (bent.camera.k1 or bent.camera.k2):
        return bent
    if is_believable(corner_view, size):
        return Bent(corner_view, outline_residual(corner_view, outline, spec, CUSHION_M, size))
    return bent


def _cloth(picture: Bytes) -> Bytes:
    """A mask of the cloth: the commonest colour in the middle of the picture, as one piece."""
    height, width = picture.shape[:2]
    middle = picture[height // 4 : -height // 5, width // 4 : -width // 4].reshape(-1, 3).astype(np.int64)
    # Coarse boxes of colour, neighbours counted along: the cloth is lit unevenly, but of one colour.
    counts = np.zeros((32, 64, 64))
    np.add.at(counts, (middle[:, 0] // 8, middle[:, 1] // 4, middle[:, 2] // 4), 1)
    smooth = cv2.blur(counts.sum(axis=0), (3, 3))
    blue, red = np.unravel_index(int(np.argmax(smooth)), smooth.shape)
    near = (np.abs(middle[:, 1] // 4 - blue) <= 1) & (np.abs(middle[:, 2] // 4 - red) <= 1)
    lights = counts[:, max(0, blue - 1) : blue + 2, max(0, red - 1) : red + 2].sum(axis=(1, 2))
    peak = 8 * int(np.argmax(cv2.blur(lights.reshape(1, -1), (3, 1))[0])) + 4
    own = middle[near & (np.abs(middle[:, 0] - peak) < 40)]
    light, b, r = np.median(own, axis=0)
    lit = (picture[..., 0].astype(float) - 16) / max(1.0, light - 16)
    # Colours fade with the light.
    limits = GREY_LIGHT if np.hypot(b - GREY, r - GREY) < GREY_CLOTH else LIGHT
    own_light = np.clip(lit, *limits)
    apart = np.hypot(*(picture[..., i] - GREY - own_light * (value - GREY) for i, value in ((1, b), (2, r))))
    mask = ((apart < COLOUR * np.minimum(1.0, own_light)) & (lit > limits[0]) & (lit < limits[1])).astype(
        np.uint8
    ) * 255
    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)))
    # The dark face of a far cushion must not part its top from the bed.
    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((FACE_PX, FACE_PX), np.uint8)))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask)
    if count < 2:
        raise NoTable("No cloth was found in this film: set its view by hand.")
    largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    if stats[largest, cv2.CC_STAT_AREA] < SMALLEST * height * width:
        raise NoTable("No cloth was found in this film: set its view by hand.")
    return np.asarray((labels == largest).astype(np.uint8) * 255)


def _outline_and_corners(cloth: Bytes, picture: Bytes) -> tuple[Array, Array]:
    """The outline (n, 2) of the cloth, at its true edge, and its four corners (4, 2), pixels.

    The corners go against the clock as seen from above the table.
    """
    contours = cv2.findContours(cloth, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0]
    rough = np.asarray(max(contours, key=cv2.contourArea), dtype=np.int32)
    height, width = cloth.shape
    x, y, w, h = cv2.boundingRect(rough)
    over = sum((x <= 1, y <= 1, x + w >= width - 1, y + h >= height - 1))
    if over >= FILLS:
        raise NoTable(
            "No table was found in this film: nothing in it has the four sides of a cloth. If one is to be "
            "seen, set its view by hand."
        )
    if over:
        raise NoTable(
            "The table is not wholly in the picture: set its view by hand, by points that are seen."
        )
    outline = true_edge(picture, rough[:, 0].astype(np.float64))
    hull = np.asarray(cv2.convexHull(outline.astype(np.float32)), dtype=np.float64)[:, 0]
    sides = _sides(outline, hull)
    crossings = [np.cross(sides[i - 1], sides[i]) for i in range(4)]
    if any(abs(c[2]) < 1e-9 for c in crossings):
        raise NoTable("The cloth has no four sides that can be told apart: set the view by hand.")
    corners = np.array([c[:2] / c[2] for c in crossings])
    # In the picture, where rows grow downward, against the clock from above is a negative area.
    area = 0.5 * float(
        np.sum(corners[:, 0] * np.roll(corners[:, 1], -1) - np.roll(corners[:, 0], -1) * corners[:, 1])
    )
    return outline, corners if area < 0 else corners[::-1]


def _sides(outline: Array, hull: Array) -> list[Array]:
    """The lines (a, b, c) of the four sides of an outline, in the order of its hull; pockets cut corners."""
    corners = cv2.approxPolyDP(hull.astype(np.float32), STRAIGHT_PX, True)[:, 0].astype(np.float64)
    if len(corners) < 4:
        raise NoTable("The cloth has no four sides that can be told apart: set the view by hand.")
    edges = [(corners[i], corners[(i + 1) % len(corners)]) for i in range(len(corners))]
    longest: list[int] = []
    for i in sorted(range(len(edges)), key=lambda i: -float(np.linalg.norm(edges[i][1] - edges[i][0]))):
        if not any(_one_side(edges[i], edges[j]) for j in longest):
            longest.append(i)
    longest = longest[:4]
    if len(longest) < 4:
        raise NoTable("The cloth has no four sides that can be told apart: set the view by hand.")
    return [_line(outline, *edges[i]) for i in sorted(longest)]


def _one_side(edge: tuple[Array, Array], longer: tuple[Array, Array]) -> bool:
    """Whether an edge is a piece of the side that a longer one lies on."""
    along = (longer[1] - longer[0]) / np.linalg.norm(longer[1] - longer[0])
    own = (edge[1] - edge[0]) / max(1e-9, float(np.linalg.norm(edge[1] - edge[0])))
    off = abs(float(((edge[0] + edge[1]) / 2 - longer[0]) @ np.array([-along[1], along[0]])))
    return abs(float(along @ own)) > 0.98 and off < 5 * STRAIGHT_PX


def _line(points: Array, start: Array, end: Array) -> Array:
    """The line (a, b, c) of the points along an edge."""
    length = float(np.linalg.norm(end - start))
    along, middle = (end - start) / length, (start + end) / 2
    share = (points - start) @ along / length
    points = points[(share > -0.3) & (share < 1.3)]
    for reach in (4 * STRAIGHT_PX, 2 * STRAIGHT_PX, STRAIGHT_PX, STRAIGHT_PX / 2):
        # Pocket rims stick out of a side: what most of the outline does counts.
        near = np.abs((points - middle) @ np.array([-along[1], along[0]])) < reach
        vx, vy, x0, y0 = cv2.fitLine(points[near].astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel()
        along, middle = np.array([vx, vy], dtype=np.float64), np.array([x0, y0], dtype=np.float64)
    return np.array([along[1], -along[0], along[0] * middle[1] - along[1] * middle[0]])


def _fitted(corners: Array, spec: TableSpec, size: tuple[int, int]):  # type: ignore[no-untyped-def]
    """The view in which the corners are head right, foot right, foot left, head left; None where none is."""
    c = CUSHION_M
    points = [
        (-c, -c, RAIL_TOP_M),
        (spec.length + c, -c, RAIL_TOP_M),
        (spec.length + c, spec.width + c, RAIL_TOP_M),
        (-c, spec.width + c, RAIL_TOP_M),
    ]
    try:
        return fit_view(points, corners.tolist(), size)
    except ViewError:
        return None


def _string_seen(picture: Bytes, camera: Camera, spec: TableSpec) -> float:
    """How much lighter or darker the string line is than the cloth on both sides of it."""
    (x, y0), (_, y1) = string_line(spec)
    ys = np.linspace(y0 + 0.1 * (y1 - y0), y1 - 0.1 * (y1 - y0), 80)
    values = []
    for off in np.arange(-0.06, 0.061, 0.004):
        pixels = camera.project(np.column_stack((np.full(80, x + off), ys, np.zeros(80))))
        u, v = np.round(pixels).astype(int).T
        inside = (u >= 0) & (v >= 0) & (u < picture.shape[1]) & (v < picture.shape[0])
        if inside.sum() < 40:
            return 0.0
        values.append(float(np.median(picture[v[inside], u[inside], 0])))
    profile = np.array(values)
    return float(np.max(np.abs(profile - np.median(profile))))
