"""Colours by role, the shipped font in three sizes, and the style sheet made of them.

A widget asks for a role ("good", "ball.4"), never for a colour. To add a theme: another table of the
same roles; a test checks the contrast of every pair in `TEXT_ON` and `MARKS_ON`.
"""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QByteArray, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QIcon, QPainter, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

from ripasso.style.fonts import FAMILY, FONTS, font_path
from ripasso.style.palette import PAPER, SOFT, SOFT_ELSE
from ripasso.ui.resources import icon_folder, icon_svg, style_text

TEXT_PX, CAPTION_PX, FIGURE_PX = 13, 11, 20

#: The dark theme: what differs from paper; the table and its marks are the same in both.
EVENING: Mapping[str, str] = {
    **PAPER,
    "surface": "#14191c",
    "raised": "#1c2327",
    "sunken": "#101416",
    "ink": "#e4e7e4",
    "quiet": "#a4aeb1",
    "line": "#323b40",
    "control": "#7f8a8f",
    "accent": "#63c4c2",
    "accent_soft": "#203a3c",
    "on_accent": "#0e1415",
    "good": "#85bdf2",
    "bad": "#ff9d76",
    "unsure": "#e2c05a",
    "player_a": "#b8adf4",
    "player_b": "#e5ab68",
    "ghost": "#9ba5a9",
    "side": "#0b0f11",
    "side_ink": "#b0bcc1",
    "side_chosen": "#243239",
    "film": "#0a0d0f",
}
#: High contrast: black on white, and a darker cloth under the marks.
CONTRAST: Mapping[str, str] = {
    **PAPER,
    "surface": "#ffffff",
    "raised": "#ffffff",
    "sunken": "#ffffff",
    "ink": "#000000",
    "quiet": "#262626",
    "line": "#6b6b6b",
    "control": "#1a1a1a",
    "accent": "#00494d",
    "accent_soft": "#d5f0ee",
    "good": "#0b3f7d",
    "bad": "#7d2200",
    "unsure": "#4f3a00",
    "player_a": "#3b2f86",
    "player_b": "#663600",
    "ghost": "#3d4145",
    "side": "#000000",
    "side_ink": "#ffffff",
    "side_chosen": "#2b3238",
    "film": "#000000",
    "film_ink": "#ffffff",
    "table.cloth": "#123a43",
    "table.cushion": "#235560",
    "table.nose": "#0c2a31",
    "table.bed": "#174851",
    "table.mark": "#c9dfe3",
    "mark.line": "#fff8e0",
    "mark.blocked": "#ffc9b4",
    "mark.natural": "#dff0f3",
    "mark.next": "#ffe999",
    "mark.option": "#e6deff",
    "mark.error": "#ffd2bc",
    "mark.rim": "#001318",
}
THEMES: Mapping[str, Mapping[str, str]] = {"paper": PAPER, "evening": EVENING, "contrast": CONTRAST}

#: Text role on surface role, at least 4.5 : 1 (WCAG 2.1, success criterion 1.4.3).
TEXT_ON = (
    ("ink", "surface"),
    ("ink", "raised"),
    ("ink", "sunken"),
    ("ink", "accent_soft"),
    ("quiet", "surface"),
    ("quiet", "raised"),
    ("quiet", "accent_soft"),
    ("accent", "raised"),
    ("accent", "surface"),
    ("on_accent", "accent"),
    ("on_accent", "ink"),
    ("on_accent", "good"),
    ("on_accent", "bad"),
    ("on_accent", "unsure"),
    ("good", "raised"),
    ("bad", "raised"),
    ("unsure", "raised"),
    ("player_a", "raised"),
    ("player_b", "raised"),
    ("side_ink", "side"),
    ("side_ink", "side_chosen"),
    ("film_ink", "side_chosen"),
    ("film_ink", "film"),
)
#: Mark role on surface role, at least 3 : 1 (success criterion 1.4.11).
MARKS_ON = (
    ("control", "raised"),
    ("control", "surface"),
    ("good", "raised"),
    ("bad", "raised"),
    ("unsure", "raised"),
    ("accent", "raised"),
    ("player_a", "raised"),
    ("player_b", "raised"),
    ("ghost", "raised"),
    ("table.rest", "table.cloth"),
    ("table.on", "table.cloth"),
    ("mark.line", "table.cloth"),
    ("mark.blocked", "table.cloth"),
    ("mark.natural", "table.cloth"),
    ("mark.next", "table.cloth"),
    ("mark.plan", "table.cloth"),
    ("mark.option", "table.cloth"),
    ("mark.played", "table.cloth"),
    ("mark.error", "table.cloth"),
    ("mark.pen", "table.cloth"),
)


class Theme:
    """A table of roles with the fonts and icons drawn from it. `scale` enlarges every text."""

    def __init__(self, roles: Mapping[str, str] = PAPER, scale: float = 1.0) -> None:
        self._roles = roles
        self.scale = scale

    def use(self, name: str) -> None:
        """Take the colours of another theme; what is drawn already changes when it is drawn anew."""
        self._roles = THEMES.get(name, PAPER)

    def hex(self, role: str) -> str:
        """The colour of a role as #rrggbb."""
        return self._roles[role]

    def colour(self, role: str) -> QColor:
        """The colour of a role."""
        return QColor(self._roles[role])

    def soft(self, role: str) -> float:
        """How much a soft area of a role covers, of 1."""
        return SOFT.get(role, SOFT_ELSE)

    def px(self, pixels: float) -> int:
        """A length that grows with the text."""
        return round(pixels * self.scale)

    def font(self, size_px: int = TEXT_PX, *, weight: int = 400) -> QFont:
        """The shipped font with figures of one width, at one of the three sizes."""
        font = QFont(FAMILY)
        font.setPixelSize(self.px(size_px))
        font.setWeight(QFont.Weight(weight))
        font.setFeature(QFont.Tag("tnum"), 1)
        return font

    def font_to_fit(self, text: str, width_px: float, size_px: int = TEXT_PX, *, weight: int = 400) -> QFont:
        """The font at this size, or smaller where the text would not fit, never below the smallest size."""
        font = self.font(size_px, weight=weight)
        wide = QFontMetricsF(font).horizontalAdvance(text)
        if wide > width_px > 0:
            font.setPixelSize(max(CAPTION_PX, int(font.pixelSize() * width_px / wide)))
        return font

    def icon(self, name: str, role: str = "ink", size: int = 20) -> QIcon:
        """A shipped icon in a role's colour."""
        svg = icon_svg(name).replace("currentColor", self.hex(role))
        side = self.px(size) * 2  # twice the size, for screens with fine pixels
        picture = QPixmap(QSize(side, side))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(0, 0, side, side))
        painter.end()
        return QIcon(picture)

    def player_role(self, place: int) -> str:
        """The role of the first or second player of a session."""
        return ("player_a", "player_b")[place] if place in (0, 1) else "ghost"

    def apply(self, app: QApplication) -> None:
        """Load the fonts and dress the whole program."""
        for name in FONTS:
            QFontDatabase.addApplicationFont(str(font_path(name)))
        app.setStyle("Fusion")
        app.setFont(self.font())
        app.setPalette(self._palette())
        app.setStyleSheet(self.style_sheet())

    def style_sheet(self) -> str:
        """The style sheet with the roles' colours and the scaled sizes filled in."""
        text = style_text("window")
        for role in sorted(self._roles, key=len, reverse=True):
            text = text.replace("{" + role + "}", self._roles[role])
        # A style sheet cannot colour a picture: there is a tick for each of the two.
        text = text.replace(
            "{tick}", "tick" if self._roles["on_accent"] == PAPER["on_accent"] else "tick-dark"
        )
        text = text.replace("{icons}", icon_folder())
        for name, size in (("text", TEXT_PX), ("caption", CAPTION_PX), ("figure", FIGURE_PX)):
            text = text.replace(f"{{px.{name}}}", f"{self.px(size)}px")
        return text

    def _palette(self) -> QPalette:
        palette = QPalette()
        for group, role in (
            (QPalette.ColorRole.Window, "surface"),
            (QPalette.ColorRole.Base, "raised"),
            (QPalette.ColorRole.AlternateBase, "surface"),
            (QPalette.ColorRole.Button, "raised"),
            (QPalette.ColorRole.WindowText, "ink"),
            (QPalette.ColorRole.Text, "ink"),
            (QPalette.ColorRole.ButtonText, "ink"),
            (QPalette.ColorRole.PlaceholderText, "quiet"),
            (QPalette.ColorRole.Highlight, "accent_soft"),
            (QPalette.ColorRole.HighlightedText, "ink"),
            (QPalette.ColorRole.ToolTipBase, "raised"),
            (QPalette.ColorRole.ToolTipText, "ink"),
            (QPalette.ColorRole.Link, "accent"),
        ):
            palette.setColor(group, self.colour(role))
        return palette


def contrast(one: str, other: str) -> float:
    """The contrast ratio of two #rrggbb colours (WCAG 2.1, relative luminance)."""

    def luminance(colour: str) -> float:
        parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    lighter, darker = sorted((luminance(one), luminance(other)), reverse=True)
    return (lighter + 0.05) / (darker + 0.05)
