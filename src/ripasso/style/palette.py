"""The light colours by role, for the window and for paper; a theme is another table of the same roles."""

from __future__ import annotations

from collections.abc import Mapping

PAPER: Mapping[str, str] = {
    "surface": "#f2f0ea",
    "raised": "#ffffff",
    "sunken": "#e9e6dd",
    "ink": "#22272b",
    "quiet": "#5d6468",
    "line": "#dcd7ca",
    "control": "#8b8a80",
    "accent": "#0b666b",
    "accent_soft": "#dcebea",
    "on_accent": "#ffffff",
    "good": "#1f5fa6",
    "bad": "#b2431a",
    "unsure": "#7a5c00",
    "player_a": "#5a4fa3",
    "player_b": "#96570b",
    "ghost": "#6c7175",
    "side": "#21313a",
    "side_ink": "#b9c6cb",
    "side_chosen": "#32464f",
    "film": "#101518",
    "film_ink": "#e8ecee",
    "table.rail": "#3f322b",
    "table.cloth": "#35606a",
    "table.cushion": "#477680",
    "table.nose": "#2c515a",
    "table.bed": "#3f707b",
    "table.pocket": "#151311",
    "table.mark": "#9bb9be",
    "table.sight": "#e6dfca",
    "table.meant": "#f4ead0",
    "table.on": "#f4ead0",
    "table.rest": "#f4f1e6",
    "table.words": "#eef3f3",
    "mark.line": "#f4ead0",
    "mark.blocked": "#ffb59a",
    "mark.natural": "#c3dde2",
    "mark.next": "#ffe08a",
    "mark.plan": "#d9f2ff",
    "mark.option": "#d8ccff",
    "mark.played": "#ffffff",
    "mark.error": "#ffc2a6",
    "mark.pen": "#fff2a8",
    "mark.frame": "#ffe08a",
    "mark.rim": "#1e3a42",
    "area.window": "#f4ead0",
    "area.side": "#ffe08a",
    "area.wanted": "#ffe08a",
    "area.zone": "#8fd3ff",
    "area.option": "#d8ccff",
    "ball.edge": "#1d1d1d",
    "ball.ivory": "#fbf8ee",
    "ball.number": "#1d1d1d",
    "ball.cue": "#fbf8ee",
    "ball.1": "#e6b220",
    "ball.2": "#2350a0",
    "ball.3": "#c62f2a",
    "ball.4": "#5c3684",
    "ball.5": "#dd6e20",
    "ball.6": "#18704a",
    "ball.7": "#781e2c",
    "ball.8": "#1e1e20",
    "ball.unknown": "#8c8c86",
    "ball.red": "#b3261e",
    "ball.yellow": "#e6b220",
    "ball.green": "#18704a",
    "ball.brown": "#6b4423",
    "ball.blue": "#2350a0",
    "ball.pink": "#e08aa8",
    "ball.black": "#1e1e20",
}

#: How much a soft area covers what is under it, of 1; a wanted angle lies in a shaded side.
SOFT = {"area.wanted": 0.34, "area.side": 0.14, "area.zone": 0.34, "area.window": 0.28}
SOFT_ELSE = 0.3


def soft_share(role: str) -> float:
    """How much a soft area of a role covers, of 1."""
    return SOFT.get(role, SOFT_ELSE)
