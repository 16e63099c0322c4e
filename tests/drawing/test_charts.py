"""A chart is described once: documents draw it from the description, tables hold its marks."""

import unittest
import xml.etree.ElementTree as ElementTree

import cv2
import numpy as np

from ripasso.drawing.chart_document import chart_bytes
from ripasso.drawing.charts import Axis, Chart, Series, table_of
from ripasso.ui.resources import FONTS, font_path
from ripasso.ui.theme import EVENING, PAPER

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
    )
    level = Series("the level", "quiet", "dashed", series.x, series.y - 5)
    axes = Axis("cut, degrees", 0, 40, ((10.0, "full"),)), Axis("per cent", 0, 100)
    return Chart("cut", "pots by cut", "Pots by cut", *axes, (series, level), note="A note.", **more)


class Documents(unittest.TestCase):
    def test_every_form_is_drawn_as_svg_and_always_alike(self):
        for form in ("line", "dots", "hollow", "bars", "cross"):
            with self.subTest(form=form):
                text = chart_bytes(chart(form), PAPER, FILES)
                self.assertEqual(text, chart_bytes(chart(form), PAPER, FILES))
                root = ElementTree.fromstring(text)
                self.assertTrue(root.tag.endswith("svg"))
                self.assertIn(PAPER["player_a"], text.decode())

    def test_a_picture_has_its_size_and_the_theme_s_ground(self):
        for theme in (PAPER, EVENING):
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
