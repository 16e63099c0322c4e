"""The table sizes the program knows, each with the source of its numbers.

To add one: a line in `PRESETS`; every number can be overridden per session.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

INCH = 0.0254


@dataclass(frozen=True, slots=True)
class TableSpec:
    """A table and its balls; every length in metres."""

    length: float
    width: float
    ball_radius: float
    corner_mouth: float
    side_mouth: float
    snooker: bool = False

    @property
    def diamond(self) -> float:
        """The distance between two sights: an eighth of the length."""
        return self.length / 8


# Pool mouths: World Pool Association equipment specification, corner 4.5-4.625 in, side 5-5.125 in
# (from memory). Pool balls 2 1/4 in. Snooker ball 52.5 mm (official rules of the game, section 1).
# Snooker mouths: the templates are not public, common practice 3.5 in and 4 in.
_POOL_BALL = 57.15e-3 / 2
_SNOOKER_BALL = 52.5e-3 / 2


def _pool(length: float, width: float) -> TableSpec:
    return TableSpec(length, width, _POOL_BALL, 4.5 * INCH, 5.0 * INCH)


def _snooker(length: float, width: float) -> TableSpec:
    return TableSpec(length, width, _SNOOKER_BALL, 3.5 * INCH, 4.0 * INCH, snooker=True)


PRESETS: Mapping[str, TableSpec] = {
    # WPA specification: 100 x 50 in and 88 x 44 in; the 7 ft size is common practice, 78 x 39 in.
    "pool_9ft": _pool(2.54, 1.27),
    "pool_8ft": _pool(2.235, 1.118),
    "pool_7ft": _pool(1.98, 0.99),
    # Official rules of snooker, section 1: 11 ft 8 1/2 in x 5 ft 10 in.
    "snooker_12ft": _snooker(3.569, 1.778),
    # From memory, no published source found for the smaller sizes.
    "snooker_10ft": _snooker(2.97, 1.48),
    "snooker_9ft": _snooker(2.69, 1.34),
    "english_7ft": TableSpec(1.83, 0.91, 50.8e-3 / 2, 3.5 * INCH, 3.5 * INCH),
}

DEFAULT_PRESET = "pool_9ft"
#: The smallest and the largest each size may be, in metres: from a toy to a hall's floor.
SIZES: Mapping[str, tuple[float, float]] = {
    **{"length": (0.3, 20.0), "width": (0.2, 10.0), "ball_radius": (0.002, 0.2)},
    **{"corner_mouth": (0.005, 1.0), "side_mouth": (0.005, 1.0)},
}


def table_spec(table: Mapping[str, object] | None) -> TableSpec:
    """The table that a session's `table` object describes.

    `table` holds a preset's name under "preset" and any overrides in metres; an unknown preset
    gives the 9 ft pool table, so that an old record can always be drawn. So does a size that no table has.
    """
    table = table or {}
    spec = PRESETS.get(str(table.get("preset", DEFAULT_PRESET)), PRESETS[DEFAULT_PRESET])
    overrides: dict[str, float] = {}
    for key, (least, most) in SIZES.items():
        value = table.get(key)
        if isinstance(value, int | float) and not isinstance(value, bool) and least <= value <= most:
            overrides[key] = float(value)
    return replace(spec, **overrides) if overrides else spec  # type: ignore[arg-type]


def wrong_sizes(table: Mapping[str, object]) -> Iterator[tuple[str, str]]:
    """Name and complaint of every stated size that no table has."""
    for name, (least, most) in SIZES.items():
        value = table.get(name)
        if value is None:
            continue
        if isinstance(value, bool) or not isinstance(value, int | float):
            yield name, "should be a number of metres"
        elif not least <= value <= most:
            yield name, f"should be from {least} to {most} m"
