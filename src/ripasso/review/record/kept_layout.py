"""A layout kept for use in any session: practice patterns, positions worth a second look, their variants."""

from __future__ import annotations

from pydantic import Field

from ripasso.core.json_data import JsonObject
from ripasso.review.record.parts import Record
from ripasso.review.record.practice import FromShot
from ripasso.review.record.values import Few, Game, Layout, Name

FORMAT = "ripasso-layouts"


class KeptLayout(Record):
    """Where the balls lie, under a name; `variant_of` is the id of the layout it is another form of."""

    id: Name
    title: str
    tags: Few[str] | None = None
    game: Game | None = None
    table: JsonObject | None = None
    layout: Layout
    from_: FromShot | None = Field(default=None, alias="from")
    variant_of: str | None = None
    note: str | None = None
