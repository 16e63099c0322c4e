"""What a page of a report is made of: blocks of words, figures, tables and pictures, for screen and paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Heading:
    """A heading within a page; `anchor` is what a link leads to."""

    text: str
    anchor: str = ""


@dataclass(frozen=True)
class Paragraph:
    """A paragraph: `plain`, `quiet` (a remark), `note` (the analyst's own words), or `missing`."""

    text: str
    tone: str = "plain"


@dataclass(frozen=True)
class Bullets:
    """Sentences, one under another, with a mark before each or without."""

    lines: Sequence[str]
    marked: bool = True


@dataclass(frozen=True)
class Cell:
    """A figure as it is written, of how many, and its rate with interval (shares) where it is drawn."""

    words: str
    of: str = ""
    rate: float | None = None
    low: float | None = None
    high: float | None = None
    few: bool = False


@dataclass(frozen=True)
class FigureLine:
    """A row of figures; `link` is the anchor of a shot behind it that the report shows."""

    group: str
    text: str
    cells: Sequence[Cell]
    link: str = ""


@dataclass(frozen=True)
class Figures:
    """A table of figures: heads of its columns, rows in groups."""

    heads: Sequence[str]
    lines: Sequence[FigureLine]


@dataclass(frozen=True)
class Grid:
    """A plain table."""

    headings: Sequence[str]
    rows: Sequence[Sequence[str]]


@dataclass(frozen=True)
class Picture:
    """A drawing as SVG, its words for those who cannot see it, what stands below; `wide`: as the page."""

    svg: str
    words: str
    caption: str = ""
    wide: bool = True


@dataclass(frozen=True)
class Still:
    """A picture of a film (JPEG) with lines over it (SVG of the same size, "" for none)."""

    jpeg: bytes
    size: tuple[int, int]
    lines: str
    words: str
    caption: str = ""


@dataclass(frozen=True)
class Beside:
    """Two blocks side by side."""

    left: Block
    right: Block


@dataclass(frozen=True)
class Blanks:
    """Lines to write on by hand, under these headings."""

    headings: Sequence[str]
    rows: int


Block = Heading | Paragraph | Bullets | Figures | Grid | Picture | Still | Beside | Blanks


@dataclass(frozen=True)
class Page:
    """A page under its title; a long one goes on over several sheets."""

    title: str
    anchor: str
    blocks: Sequence[Block]


@dataclass(frozen=True)
class Pages:
    """A whole report as it goes out. `figures` are its figures by page and row, for what changes later."""

    title: str
    about: str
    made: str
    pages: Sequence[Page]
    american: bool = False
    letter: bool = False
    grey: bool = False
    figures: dict[str, str] = field(default_factory=dict)
