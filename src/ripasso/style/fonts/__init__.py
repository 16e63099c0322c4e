"""The shipped font, for the window, for charts and for reports."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

FAMILY = "Inter"
#: File to weight.
FONTS = {"Inter-Regular.otf": 400, "Inter-Medium.otf": 500, "Inter-SemiBold.otf": 600}


def font_path(name: str) -> Path:
    """A shipped font file."""
    return Path(str(files("ripasso.style.fonts") / name))
