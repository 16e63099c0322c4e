"""A chart is described once: documents draw it from the description, tables hold its marks."""

import unittest
import xml.etree.ElementTree as ElementTree
from dataclasses import replace

import cv2
import numpy as np

from ripasso.drawing.chart_document import chart_bytes
from ripasso.drawing.charts import Axis, Chart, Series, shade_of, table_of
from ripasso.style.fonts import FONTS, font_path
from ripasso.style.palette import PAPER
from ripasso.ui.theme import THEMES, contrast

FILES = [font_path(name) for name in FONTS]


def chart(form="line", **more):
    series = Series(
        "Ada Quill",
        "player_a",
        form,
        np.array([10.0, 20.0, 30.0]),
        np.array([80.0, 60.0, 40.0]),
        np.array([70.0, 50.0, 10.0]),
        np.array([90.0, 70.0, 80.0]),
        np.array([False, False, True]),
        [np.arange(9), np.arange(7), np.arange(3)],
        ["a", "b", "c"],
        width=4.0,
        filled=np.array([0.8, 0.6, 0.4]),
        words=("80 %", "60 %", "40 %"),
    )
    level = Series("the level", "quiet", "dashed", series.x, series.y - 5)
    axes = Axis("cut, degrees", 0, 40, ((10.0, "full"),)), Axis("per cent", 0, 100)
    return Chart("cut", "pots by cut", "Pots by cut", *axes, (series, level), note="A note.", **more)


class Documents(unittest.TestCase):
    def test_every_form_is_drawn_as_svg_and_always_alike(self):
        for form in ("line", "dots", "hollow", "bars", "cells", "cross"):
            with self.subTest(form=form):
                text = chart_bytes(chart(form), PAPER, FILES)
                self.assertEqual(text, chart_bytes(chart(form), PAPER, FILES))
                root = ElementTree.fromstring(text)
                self.assertTrue(root.tag.endswith("svg"))
                drawn = (
                    shade_of(PAPER["player_a"], PAPER["raised"], 0.8)
                    if form == "cells"
                    else PAPER["player_a"]
                )
                self.assertIn(drawn, text.decode())

    def test_a_title_is_no_formula(self):
        """Two dollars in a title would begin and end mathematics, and an open brace in them would raise."""
        for title in ("a $5 open, a $6 entry", "$\\frac{$", "<b>&"):
            named = replace(chart("line"), title=title)
            self.assertTrue(ElementTree.fromstring(chart_bytes(named, PAPER, FILES)).tag.endswith("svg"))

    def test_words_in_every_cell_can_be_read(self):
        """WCAG 2.1, success criterion 1.4.3: 4.5 : 1 for text."""
        for theme in THEMES.values():
            for role in ("player_a", "player_b", "ghost"):
                for filled in (0.0, 0.5, 1.0):
                    shade = shade_of(theme[role], theme["raised"], filled, few=role == "ghost")
                    self.assertGreaterEqual(contrast(theme["ink"], shade), 4.5, (role, filled))

    def test_a_picture_has_its_size_and_the_theme_s_ground(self):
        for theme in THEMES.values():
            data = np.frombuffer(chart_bytes(chart(), theme, FILES, "png"), np.uint8)
            picture = cv2.imdecode(data, cv2.IMREAD_COLOR)
            self.assertEqual(picture.shape, (720, 1280, 3))
            blue, green, red = picture[3, 3].tolist()
            self.assertEqual(f"#{red:02x}{green:02x}{blue:02x}", theme["raised"])

    def test_equal_and_reversed_axes(self):
        one = chart(equal=True)
        one = Chart(**{**vars(one), "x": Axis("x", -40, 40, reversed=True)})
        self.assertTrue(chart_bytes(one, PAPER, FILES).startswith(b"<?xml"))


class Tables(unittest.TestCase):
    def test_only_marks_with_shots_are_in_the_table(self):
        rows = table_of(chart())
        self.assertEqual(rows[0][1:3], ["cut, degrees", "per cent"])
        self.assertEqual(rows[1], ["Ada Quill", "full", "80", "70", "90", "9"])
        self.assertEqual([row[5] for row in rows[1:]], ["9", "7", "3"])


if __name__ == "__main__":
    unittest.main()
