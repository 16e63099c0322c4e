"""Which ball passes into which pocket: every direct pot of a layout, also after one ball is gone."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ripasso.core.geometry import OBSTACLES
from ripasso.core.geometry.layouts import PotBook
from ripasso.core.table import POCKETS, TableSpec
from ripasso.core.table.places import Place
from ripasso.review.language.translation import noop

SHORT = {
    "touching": noop("touches the cue ball"),
    "closed": "closed",
    "object_blocked": "blocked",
    "cut": "too thin",
    "cushion": noop("cushion in the way"),
    "cue_blocked": "not in sight",
}


@dataclass(frozen=True, slots=True)
class PotCell:
    """One pot: its chance (None: touching), what makes it impossible, and the balls in its way."""

    ball: str
    pocket: str
    chance: float | None
    obstacle: str | None
    blockers: tuple[str, ...]
    cut_deg: float

    @property
    def words(self) -> str:
        """The cell in words."""
        if self.obstacle is None and self.chance is not None:
            return f"{100 * self.chance:.0f} %, {abs(self.cut_deg):.0f}°"
        who = (
            f" by {', '.join(self.blockers)}" if self.blockers and "blocked" in (self.obstacle or "") else ""
        )
        return f"{SHORT[self.obstacle or 'touching']}{who}"


def pot_table(
    spec: TableSpec, layout: Mapping[str, Place], spread: float, gone: str | None = None
) -> list[list[PotCell]]:
    """A row a ball, a cell a pocket, in the order of `POCKETS`; `gone` is left out of the layout."""
    lies = {ball: place for ball, place in layout.items() if ball != gone}
    if "cue" not in lies:
        return []
    balls = [ball for ball in lies if ball != "cue"]
    book = PotBook(spec)
    asked = book.ask(lies["cue"], lies, balls)
    book.solve(spread)
    rows: dict[str, list[PotCell]] = {ball: [] for ball in balls}
    found = book.found
    for pot in asked.pots():
        obstacle = OBSTACLES[int(found.obstacle[pot.index])]
        flags = found.object_blockers if obstacle == "object_blocked" else found.cue_blockers
        named = zip(asked.others, flags[pot.index].tolist(), strict=False)
        blockers = tuple(name for name, blocks in named if blocks)
        chance = None if math.isnan(pot.chance) else pot.chance
        cut_deg = math.degrees(found.cut[pot.index])
        rows[pot.ball].append(PotCell(pot.ball, pot.pocket, chance, obstacle, blockers, cut_deg))
    assert all(len(row) == len(POCKETS) for row in rows.values())
    return list(rows.values())
