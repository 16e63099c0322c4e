"""A report as PDF: the HTML laid out on sheets, with outline, links, page numbers and embedded fonts."""

from __future__ import annotations

from ripasso.report.blocks import Pages
from ripasso.report.html import html_text
from ripasso.style.fonts import FAMILY, FONTS, font_path


def pdf_bytes(report: Pages) -> bytes:
    """The report on A4 or Letter. Nothing outside of it is asked for."""
    # Takes a second to load, and only reports need it.
    from weasyprint import HTML  # type: ignore[import-untyped]

    faces = "".join(
        f"@font-face {{ font-family: {FAMILY}; src: url({font_path(name).as_uri()}); font-weight: {weight} }}"
        for name, weight in FONTS.items()
    )
    size = "letter" if report.letter else "A4"
    html = html_text(report, f"{faces}@page {{ size: {size} }}")
    made: bytes = HTML(string=html).write_pdf()
    return made
