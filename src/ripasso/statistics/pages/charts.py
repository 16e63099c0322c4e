"""The charts of each page, as descriptions: what is drawn, its intervals, and the shots behind every mark.

To add one: a function from facts and sides to a `Chart`, and a line in `CHARTS`. Sides are the columns of the
page: their words, and which shots are theirs.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import pairwise

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import UNKNOWN, Facts, Flags
from ripasso.core.figures.rest_points import RestPoints, region_outline, rest_points
from ripasso.core.figures.slices import CUT_BANDS, DISTANCE_BANDS, band_word, groups_of, signed_cuts
from ripasso.core.inference.intervals import FEW, Rate, rate
from ripasso.drawing.charts import Axis, Chart, Series
from ripasso.review.language.translation import tr
from ripasso.statistics.pages.lines import group_words

Side = tuple[str, Flags]
ROLES = ("player_a", "player_b")
#: Two sides stand this far apart on an axis, so that both intervals are seen.
APART = 0.006
#: Rings about the aim point, metres; the share of points that may lie outside the picture.
RINGS_M, OUTSIDE = (0.1, 0.2, 0.3, 0.5, 1.0), 0.02


def _centre(low: float, high: float, width: float) -> float:
    return low + width / 2 if np.isinf(high) else (low + high) / 2


def _rates(
    words: str,
    role: str,
    marks: Sequence[tuple[float, str, Flags]],
    made: Flags,
    places: np.ndarray,
    off: float = 0.0,
) -> Series:
    """A line of rates in per cent, each with its interval and shots; `marks`: where, words, among."""
    found = [rate(int((made & among).sum()), int(among.sum())) for _, _, among in marks]
    tips = [f"{words}, {band}: {_tip(one)}" for (_, band, _), one in zip(marks, found, strict=True)]
    return Series(
        words,
        role,
        "line",
        np.array([where + off for where, _, _ in marks]),
        np.array([100 * (one.rate or 0) for one in found]),
        np.array([100 * (one.low or 0) for one in found]),
        np.array([100 * (one.high or 0) for one in found]),
        np.array([one.of < FEW for one in found], dtype=np.bool_),
        [places[among] for _, _, among in marks],
        tips,
    )


def _tip(found: Rate) -> str:
    ends = f"{100 * (found.low or 0):.0f}–{100 * (found.high or 0):.0f}"
    return f"{100 * (found.rate or 0):.0f} % ({ends}), {found.made} of {found.of}"


def _curve(
    title: str,
    id_: str,
    x: Axis,
    facts: Facts,
    sides: Sequence[Side],
    bands: Callable[[Facts], Sequence[tuple[float, str, Flags]]],
    *,
    level: bool = False,
) -> Chart:
    """Pot success along something, a line a side; `level`: beside what the first side's level expects."""
    series: list[Series] = []
    for (words, mask), role in zip(sides, ROLES, strict=False):
        own, places = facts.where(mask), np.flatnonzero(mask)
        tried, made = of.pots(own), own.flags("made")
        marks = [(x0, band, tried & among) for x0, band, among in bands(own)]
        marks = [one for one in marks if one[2].any()]
        if marks:
            off = APART * (x.high - x.low) * len(series) if len(sides) > 1 else 0.0
            series.append(_rates(words, role, marks, made, places, off))
        if level and not any(one.form == "dashed" for one in series):
            series += _expected(own, marks)
    note = "Lines: 95 % intervals (Wilson). Grey: under 5 shots. A mark shows its shots."
    if level:
        note = tr("Dashed: what a player of the session's level makes of the same pots. ") + note
    return Chart(id_, title, title, x, Axis(tr("pots made, per cent"), 0, 100), tuple(series), note=note)


def _expected(own: Facts, marks: Sequence[tuple[float, str, Flags]]) -> Iterator[Series]:
    chance, free = own.numbers("chance"), own.flags("free")
    known = [(x, among & free & ~np.isnan(chance)) for x, _, among in marks]
    known = [(x, among) for x, among in known if among.any()]
    if known:
        yield Series(
            "the level",
            "quiet",
            "dashed",
            np.array([x for x, _ in known]),
            np.array([100 * float(chance[among].mean()) for _, among in known]),
        )


def _by_cut(facts: Facts, sides: Sequence[Side]) -> Chart:
    def bands(own: Facts) -> list[tuple[float, str, Flags]]:
        cut = np.abs(own.numbers("cut_deg"))
        groups = groups_of(own, "cut")
        centres = [_centre(low, high, 15) for low, high in CUT_BANDS]
        words = [f"{band_word(low, high).replace('-', '–')}°" for low, high in CUT_BANDS]
        masks = [groups.get(key, cut < 0) for key in ("0-15", "15-30", "30-45", "45-60", "60+")]
        return list(zip(centres, words, masks, strict=True))

    x = Axis("cut, degrees", 0, 75)
    return _curve(tr("Pots by cut"), "cut", x, facts, sides, bands, level=True)


def _by_signed_cut(facts: Facts, sides: Sequence[Side]) -> Chart:
    def bands(own: Facts) -> list[tuple[float, str, Flags]]:
        found = []
        for key, mask in signed_cuts(own).items():
            numbers = key.lstrip("-").rstrip("+").split("-")
            centre = 0.0 if key == "0" else float(numbers[0]) + 7.5
            side = -1 if key.startswith("-") else 1
            where = "to the right" if side < 0 else "to the left"
            words = "near straight" if key == "0" else f"{key.lstrip('-')}° {where}"
            found.append((side * centre, words, mask))
        return found

    x = Axis("cut, degrees: to the left, to the right", -75, 75, reversed=True)
    return _curve(tr("Pots by cut and side"), "cut_side", x, facts, sides, bands)


def _by_distance(facts: Facts, sides: Sequence[Side]) -> Chart:
    def bands(own: Facts) -> list[tuple[float, str, Flags]]:
        way = own.numbers("cue_travel") + own.numbers("object_travel")
        share = way / own.numbers("table_length")
        found = []
        for low, high in DISTANCE_BANDS:
            with np.errstate(invalid="ignore"):
                among = (share >= low) & (share < high)
            words = f"{100 * low:.0f} % and more" if np.isinf(high) else f"{100 * low:.0f}–{100 * high:.0f} %"
            found.append((100 * _centre(low, high, 0.25), words, among))
        return found

    x = Axis("both ways together, per cent of the table's length", 0, 125)
    return _curve(tr("Pots by distance"), "distance", x, facts, sides, bands, level=True)


def _by_time(facts: Facts, sides: Sequence[Side]) -> Chart | None:
    since = facts.numbers("since_rest_s")
    known = ~np.isnan(since)
    if known.sum() < 2 * FEW:
        return None
    edges = np.quantile(since[known], [0, 0.2, 0.4, 0.6, 0.8, 1])

    def bands(own: Facts) -> list[tuple[float, str, Flags]]:
        seconds, found = own.numbers("since_rest_s"), []
        for low, high in pairwise(edges.tolist()):
            with np.errstate(invalid="ignore"):
                among = (seconds >= low) & (seconds <= high if high == edges[-1] else seconds < high)
            found.append((float(low + high) / 2, f"{low:.0f}–{high:.0f} s", among))
        return found

    x = Axis("seconds from the rest before to the strike", 0, float(edges[-1]) * 1.05)
    return _curve(tr("Pots by the time taken"), "time", x, facts, sides, bands)


def _rest_of(words: str, role: str, facts: Facts, mask: Flags) -> Chart | None:
    own, places = facts.where(mask), np.flatnonzero(mask)
    found = rest_points(own)
    if not len(found.points):
        return None
    points = 100 * found.points
    reach = max(20.0, float(np.quantile(np.abs(points).max(axis=1), 1 - OUTSIDE)) * 1.1)
    step = next((100 * one for one in RINGS_M if 300 * one >= reach), 100 * RINGS_M[-1])
    series = [*_rings(step), *_dots(found, points, places[found.places], role)]
    outline = 100 * region_outline(found)
    if len(outline):
        outline = np.vstack((outline, outline[:1]))
        series.append(Series("", role, "dashed", outline[:, 0], outline[:, 1]))
    across, along = (100 * value for value in found.middle)
    series.append(Series("", "ink", "cross", np.array([across]), np.array([along])))
    sentence = (
        f"median {abs(along):.0f} cm {'long' if along >= 0 else 'short'}, "
        f"{abs(across):.0f} cm {'left' if across >= 0 else 'right'}; {len(points)} shots"
    )
    return Chart(
        "rest",
        f"rest points, {words}",
        f"{words}, about the aim point: {sentence}",
        Axis("left  ·  across the last leg, cm  ·  right", -reach, reach, _ticks(reach, step), reversed=True),
        Axis("short  ·  along it, cm  ·  long", -reach, reach, _ticks(reach, step)),
        tuple(series),
        equal=True,
        note="Filled: in the zone; hollow: outside; grey: no zone. Cross: median; dashed: nine in ten.",
        sentence=sentence,
    )


def _ticks(reach: float, step: float) -> tuple[tuple[float, str], ...]:
    """At the rings, without signs: the words of the axes say which way."""
    most = int(2 * reach // step)
    return tuple((ring * step, f"{abs(ring) * step:.0f}") for ring in range(-most, most + 1))


def _rings(step: float) -> Iterator[Series]:
    turns = np.linspace(0, 2 * np.pi, 73)
    for ring in (1, 2, 3):
        radius = ring * step
        yield Series("", "line", "hair", radius * np.cos(turns), radius * np.sin(turns))


def _dots(found: RestPoints, points: np.ndarray, places: np.ndarray, role: str) -> Iterator[Series]:
    for hit, form, colour, words in (
        (1, "dots", role, "in the zone"),
        (0, "hollow", "bad", "outside the zone"),
        (-1, "dots", "ghost", "no zone planned"),
    ):
        chosen = np.flatnonzero(found.hit == hit)
        if len(chosen):
            yield Series(
                "",
                colour,
                "hollow" if form == "hollow" else "dots",
                points[chosen, 0],
                points[chosen, 1],
                shots=[places[i : i + 1] for i in chosen.tolist()],
                tips=[
                    f"{words}: {points[i, 1]:+.0f} cm along, {points[i, 0]:+.0f} cm across"
                    for i in chosen.tolist()
                ],
            )


def _visit_sizes(facts: Facts, sides: Sequence[Side]) -> Chart | None:
    scores = facts.ints("visit_score")
    known = scores != UNKNOWN
    if not known.any():
        return None
    most = int(scores[known].max())
    width = next(one for one in (1, 2, 5, 10, 20, 50) if most / one <= 20)
    series, highest = [], 1.0
    share = 0.8 / len(sides)
    for n, ((words, mask), role) in enumerate(zip(sides, ROLES, strict=False)):
        marks, own = [], known & mask
        for low in range(0, most + 1, width):
            among = own & (scores >= low) & (scores < low + width)
            if among.any():
                marks.append((low, among))
        if not marks:
            continue
        of_all = float(own.sum())
        height = np.array([100 * among.sum() / of_all for _, among in marks])
        highest = max(highest, float(height.max()))
        centre = np.array([low + width * (0.1 + share * (n + 0.5)) for low, _ in marks], dtype=np.float64)
        ends = [str(low) if width == 1 else f"{low}–{low + width - 1}" for low, _ in marks]
        tips = [
            f"{words}: {end}, {among.sum()} of {of_all:.0f} visits"
            for end, (_, among) in zip(ends, marks, strict=True)
        ]
        shots = [np.flatnonzero(among) for _, among in marks]
        series.append(
            Series(words, role, "bars", centre, height, shots=shots, tips=tips, width=width * share)
        )
    if not series:
        return None
    ticks = tuple((low + width / 2, str(low)) for low in range(0, most + 1, width))
    return Chart(
        "visits",
        "visits by their size",
        "Visits by their balls (snooker, rotation: points)",
        Axis("balls or points, from", 0, most + width, ticks),
        Axis("per cent of the visits", 0, highest * 1.15),
        tuple(series),
        note="A bar shows the visits' first shots.",
    )


def _by_session(facts: Facts, sides: Sequence[Side]) -> Chart | None:
    """The share of shots with an unforced error, session by session in the order of their dates."""
    dates = sorted(facts.values("date"))
    if len(dates) < 2:
        return None
    marked = facts.known("unforced")
    series: list[Series] = []
    highest = 1.0
    for (words, mask), role in zip(sides, ROLES, strict=False):
        own, places = facts.where(mask), np.flatnonzero(mask)
        marks = [
            (float(i), date, own.equal("date", date))
            for i, date in enumerate(dates)
            if (own.equal("date", date)).any()
        ]
        if marks:
            series.append(_rates(words, role, marks, marked[mask], places, APART * len(dates) * len(series)))
            assert series[-1].high is not None
            highest = max(highest, float(series[-1].high.max()))
    ticks = tuple((float(i), date) for i, date in enumerate(dates))
    return Chart(
        "sessions",
        "session by session",
        "Shots with an unforced error, session by session",
        Axis("date", -0.5, len(dates) - 0.3, ticks),
        Axis("per cent of the shots", 0, min(100.0, highest * 1.1)),
        tuple(series),
        note="Lines: 95 % intervals (Wilson).",
    )


#: A cell of a grid is this wide, its places one apart.
CELL = 0.94


def grid_chart(
    id_: str,
    name: str,
    title: str,
    own: Facts,
    places: np.ndarray,
    ways: tuple[str, str],
    among: Flags,
    success: Flags,
) -> Chart:
    """The rate in every group of one way to cut (down) by those of another (across)."""
    down, across = (_groups_among(own, way, among) for way in ways)
    cells = [
        (float(i), -float(j), first & second, f"{group_words(ways[0], row)}, {group_words(ways[1], head)}")
        for j, (row, first) in enumerate(down)
        for i, (head, second) in enumerate(across)
        if (first & second).any()
    ]
    found = [rate(int((success & mask).sum()), int(mask.sum())) for _, _, mask, _ in cells]
    series = Series(
        "",
        "player_a",
        "cells",
        np.array([x for x, _, _, _ in cells]),
        np.array([y for _, y, _, _ in cells]),
        np.array([one.low or 0.0 for one in found]),
        np.array([one.high or 0.0 for one in found]),
        np.array([one.few for one in found], dtype=np.bool_),
        [places[mask] for _, _, mask, _ in cells],
        [f"{words}: {_tip(one)}" for (_, _, _, words), one in zip(cells, found, strict=True)],
        CELL,
        np.array([one.rate or 0.0 for one in found]),
        [f"{100 * (one.rate or 0):.0f} %  of {one.of}" for one in found],
    )
    return Chart(
        id_,
        name,
        title,
        Axis("", -0.5, max(len(across), 1) - 0.5, _words_at(ways[1], [key for key, _ in across])),
        Axis("", 0.5 - max(len(down), 1), 0.5, _words_at(ways[0], [key for key, _ in down], -1)),
        (series,) if cells else (),
        note="The fuller the colour, the higher the rate; grey: under 5 shots. A cell shows its shots.",
    )


def _groups_among(own: Facts, way: str, among: Flags) -> list[tuple[str, Flags]]:
    """The groups of a way to cut that hold something of `among`."""
    inside = {key: mask & among for key, mask in groups_of(own, way).items()}
    return [(key, mask) for key, mask in inside.items() if mask.any()]


def _words_at(way: str, keys: Sequence[str], step: int = 1) -> tuple[tuple[float, str], ...]:
    return tuple((float(step * i), group_words(way, key)) for i, key in enumerate(keys))


def _cut_by_distance(facts: Facts, sides: Sequence[Side]) -> Iterator[Chart]:
    """Pots by cut and distance, a grid a side."""
    for words, mask in sides:
        own = facts.where(mask)
        title = f"{words}: pots by cut (down) and distance, of the table's length (across)"
        yield grid_chart(
            "grid",
            f"cut by distance, {words}",
            title,
            own,
            np.flatnonzero(mask),
            ("cut", "distance"),
            of.pots(own),
            own.flags("made"),
        )


def _of_position(facts: Facts, sides: Sequence[Side]) -> Iterator[Chart | None]:
    for (words, mask), role in zip(sides, ROLES, strict=False):
        yield _rest_of(words, role, facts, mask)


CHARTS: Mapping[str, Callable[[Facts, Sequence[Side]], Iterator[Chart | None]]] = {
    "potting": lambda facts, sides: iter(
        (
            _by_cut(facts, sides),
            _by_signed_cut(facts, sides),
            _by_distance(facts, sides),
            *_cut_by_distance(facts, sides),
        )
    ),
    "position": _of_position,
    "errors": lambda facts, sides: iter((_by_session(facts, sides),)),
    "visits": lambda facts, sides: iter((_visit_sizes(facts, sides),)),
    "time": lambda facts, sides: iter((_by_time(facts, sides),)),
}


def charts_of(page: str, facts: Facts, sides: Sequence[Side]) -> tuple[Chart, ...]:
    """The charts of a page; those without a mark are left out."""
    if page not in CHARTS:
        return ()
    found = [chart for chart in CHARTS[page](facts, sides) if chart is not None]
    return tuple(chart for chart in found if any(one.has_marks for one in chart.series))
