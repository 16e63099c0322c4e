"""Colours and fonts: contrast as the accessibility guidelines ask, one shipped font with even figures."""

import unittest

from PyQt6.QtGui import QFont, QFontInfo, QFontMetricsF

from ripasso.style.palette import PAPER
from ripasso.ui.theme import CONTRAST, MARKS_ON, TEXT_ON, THEMES, Theme, contrast
from tests.windows import APP

TEXT_CONTRAST, MARK_CONTRAST = 4.5, 3.0  # WCAG 2.1, success criteria 1.4.3 and 1.4.11
HIGH_TEXT, HIGH_MARK = 7.0, 4.5  # WCAG 2.1, success criterion 1.4.6; for marks common practice, no source


class Contrast(unittest.TestCase):
    def test_the_measure_itself(self):
        # WCAG 2.1, definition of contrast ratio: black on white is 21:1; #767676 on white is 4.54:1.
        self.assertAlmostEqual(contrast("#000000", "#ffffff"), 21.0)
        self.assertAlmostEqual(contrast("#767676", "#ffffff"), 4.54, places=2)

    def test_every_pair(self):
        for name, roles in THEMES.items():
            for pairs, least in ((TEXT_ON, TEXT_CONTRAST), (MARKS_ON, MARK_CONTRAST)):
                for mark, ground in pairs:
                    found = contrast(roles[mark], roles[ground])
                    self.assertGreaterEqual(found, least, f"{name}: {mark} on {ground}: {found:.2f}")

    def test_high_contrast_is_higher(self):
        for pairs, least in ((TEXT_ON, HIGH_TEXT), (MARKS_ON, HIGH_MARK)):
            for mark, ground in pairs:
                found = contrast(CONTRAST[mark], CONTRAST[ground])
                self.assertGreaterEqual(found, least, f"{mark} on {ground}: {found:.2f}")

    def test_all_themes_have_the_same_roles(self):
        for roles in THEMES.values():
            self.assertEqual(set(roles), set(PAPER))


class Fonts(unittest.TestCase):
    def setUp(self):
        self.theme = Theme()
        self.theme.apply(APP)

    def test_the_shipped_font_is_used(self):
        self.assertEqual(QFontInfo(self.theme.font()).family(), "Inter")

    def test_figures_are_of_one_width(self):
        metrics = QFontMetricsF(self.theme.font())
        self.assertEqual(len({metrics.horizontalAdvance(d) for d in "0123456789"}), 1)

    def test_sizes_grow_with_the_scale(self):
        self.assertEqual(Theme(scale=1.5).font().pixelSize(), 20)
        self.assertEqual(QFont(self.theme.font()).pixelSize(), 13)

    def test_every_role_of_the_style_sheet_is_filled_in(self):
        self.assertNotIn("{px", self.theme.style_sheet())
        for role in PAPER:
            self.assertNotIn("{" + role + "}", self.theme.style_sheet())


if __name__ == "__main__":
    unittest.main()
