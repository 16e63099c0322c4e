"""A report without colour: every colour of drawings and style as the grey that is as bright, pictures too."""

from __future__ import annotations

import re

import cv2
import numpy as np

from ripasso.report.stills import QUALITY

#: A colour in SVG or CSS, not what a link or a pattern refers to.
COLOUR = re.compile(r'(?<!\()(?<!href=")#([0-9a-fA-F]{6})\b')
#: How much red, green and blue count (ITU-R BT.601, 2.5.1).
SHARES = (0.299, 0.587, 0.114)


def grey_text(text: str) -> str:
    """SVG or CSS with each colour as grey."""
    return COLOUR.sub(lambda found: _grey(found[1]), text)


def _grey(colour: str) -> str:
    parts = (int(colour[i : i + 2], 16) for i in (0, 2, 4))
    level = round(sum(share * part for share, part in zip(SHARES, parts, strict=True)))
    return f"#{level:02x}{level:02x}{level:02x}"


def grey_jpeg(data: bytes) -> bytes:
    """A picture without colour."""
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_GRAYSCALE)
    assert picture is not None
    _done, made = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    return bytes(made.tobytes())
