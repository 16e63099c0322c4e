"""Where the cloth truly ends: between its colour and that of the wood, to a part of a pixel.

A mask of the cloth ends where a limit puts it, which hangs on colours and on compression; halfway between
what lies inside and what lies outside does not.
"""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt

from ripasso.film.reading.detection.picture import Bytes

Array = npt.NDArray[np.float64]

#: How far across an edge is looked, from where to where its two sides begin, in which steps, pixels.
REACH, SIDES, STEP = 5.0, 2.5, 0.25
#: Inside and outside differ by this much at least, of 255.
DIFFERENT = 12.0
#: Over so many points an outline's direction is taken.
ALONG = 6
#: From the middle of an outermost pixel to its edge.
HALF_PIXEL = 0.5


def true_edge(picture: Bytes, outline: Array) -> Array:
    """The points (n, 2) of a closed outline of pixels moved to the edge that the picture shows there."""
    smooth = _smoothed(outline)
    way = np.roll(smooth, -ALONG, axis=0) - np.roll(smooth, ALONG, axis=0)
    way /= np.maximum(1e-9, np.linalg.norm(way, axis=1, keepdims=True))
    outward = np.column_stack((way[:, 1], -way[:, 0]))
    if float(((outline - outline.mean(axis=0)) * outward).sum()) < 0:
        outward = -outward
    offsets = np.arange(-REACH, REACH + STEP / 2, STEP)
    places = (outline[:, None, :] + offsets[None, :, None] * outward[:, None, :]).astype(np.float32)
    # A picture can be sampled in rows of 32,767 at most: outlines are a few thousand points.
    seen = cv2.remap(
        picture, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    ).astype(np.float64)
    inside = np.median(seen[:, offsets < -SIDES], axis=1)
    outside = np.median(seen[:, offsets > SIDES], axis=1)
    apart = outside - inside
    size = (apart**2).sum(axis=1)
    share = ((seen - inside[:, None]) * apart[:, None]).sum(axis=2) / np.maximum(1e-9, size)[:, None]
    found = _crossing(share, offsets)
    found = np.where((size > DIFFERENT**2) & np.isfinite(found), found, HALF_PIXEL)
    return np.asarray(outline + found[:, None] * outward)


def _smoothed(outline: Array) -> Array:
    """A closed outline without the steps of its pixels."""
    kernel = np.ones(ALONG + 1) / (ALONG + 1)
    padded = np.concatenate((outline[-ALONG:], outline, outline[:ALONG]))
    return np.stack([np.convolve(padded[:, i], kernel, "same")[ALONG:-ALONG] for i in (0, 1)], axis=1)


def _crossing(share: Array, offsets: Array) -> Array:
    """Where rows (n, m) of what is outside (0 to 1) pass a half, nearest to the middle; NaN where never."""
    below = share < 0.5
    passes = below[:, :-1] & ~below[:, 1:]
    before, after = share[:, :-1], share[:, 1:]
    with np.errstate(invalid="ignore", divide="ignore"):
        at = offsets[:-1] + (0.5 - before) / (after - before) * np.diff(offsets)
    at = np.where(passes, at, np.nan)
    away = np.where(passes, np.abs(at), np.inf)
    nearest = away.argmin(axis=1)
    return np.asarray(np.take_along_axis(at, nearest[:, None], axis=1)[:, 0])
