"""What is drawn on a table is explained: every mark of every layer has a meaning, and a sample of it."""

import unittest

from ripasso.core.geometry.zones import Circle as ZoneCircle
from ripasso.core.table import table_spec
from ripasso.drawing import TableScene
from ripasso.drawing.layers import LAYERS, draw_layers
from ripasso.drawing.legend import MEANINGS, legend
from ripasso.drawing.primitives import Line, Polygon, Text
from ripasso.drawing.table import table_drawing
from ripasso.review.language.vocabulary import word
from tests.drawing.test_layers import picture

SPEC = table_spec({"preset": "pool_9ft"})


class Legend(unittest.TestCase):
    def full(self):
        """A shot of which everything is known."""
        zone = ZoneCircle((1.3, 0.5), 0.1)
        return picture(angle_wanted_deg=(5.0, 20.0), zone=zone, route=((1.85, 0.87), (1.3, 0.5)))

    def test_every_mark_of_every_layer_has_a_meaning(self):
        for layer in LAYERS:
            drawn = draw_layers(self.full(), (layer,))
            marks = [p for p in (*drawn.under, *drawn.over) if not isinstance(p, Text)]
            with self.subTest(layer):
                self.assertTrue(marks)
                self.assertTrue(legend(marks))
                for mark in marks:
                    if (
                        isinstance(mark, Polygon)
                        and mark.fill.startswith("mark.")
                        and mark.fill != "mark.pen"
                    ):
                        continue  # the head of an arrow
                    self.assertTrue(legend([mark]), mark)

    def test_each_meaning_once_with_a_sample_as_it_is_drawn(self):
        layers = draw_layers(self.full(), LAYERS)
        marks = legend([*layers.under, *layers.over])
        words = [mark.word for mark in marks]
        self.assertEqual(len(words), len(set(words)))
        for mark in marks:
            shape = mark.sample.primitives[-1]
            dashed = getattr(shape, "dashed", False)
            role = shape.role if isinstance(shape, Line) else shape.fill or shape.edge
            self.assertEqual(MEANINGS[(type(shape), role, dashed)], mark.word)
            self.assertNotEqual(word(mark.word), mark.word, "it has words")

    def test_balls_and_pockets_of_the_table(self):
        balls = {"cue": (0.5, 0.5), "3": (1.0, 0.4)}
        scene = TableScene(SPEC, balls, ("3",), "foot_left", proposed=frozenset({"cue"}))
        words = [mark.word for mark in legend(table_drawing(scene).primitives)]
        self.assertEqual(words, ["legend_proposed", "legend_on", "legend_called"])
        self.assertEqual(legend(table_drawing(TableScene(SPEC, balls)).primitives), [])


if __name__ == "__main__":
    unittest.main()
