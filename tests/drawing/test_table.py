"""The table diagram as primitives: true proportions, everything where the rules put it, and on screen too."""

import math
import unittest

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter

from ripasso.core.table import (
    POCKETS,
    PRESETS,
    nine_ball_rack,
    pocket_centres,
    snooker_spots,
    table_spec,
)
from ripasso.core.table.pockets import nose_points
from ripasso.drawing import Circle, Line, Polygon, TableScene, Text, table_drawing
from ripasso.drawing.seats import UPRIGHT, VIEWING_SIDES, viewing_side_of
from ripasso.ui.painting import Fit, paint_drawing
from ripasso.ui.review.state.keys import POCKET_KEYS
from ripasso.ui.theme import Theme
from tests.windows import APP

SPEC = PRESETS["pool_9ft"]
INCH = 0.0254


class Tables(unittest.TestCase):
    def test_published_sizes(self):
        # WPA equipment specification: 9 ft table 100 x 50 in, balls 2 1/4 in; from memory.
        self.assertEqual((SPEC.length, SPEC.width), (100 * INCH, 50 * INCH))
        self.assertAlmostEqual(2 * SPEC.ball_radius, 2.25 * INCH)
        self.assertAlmostEqual(SPEC.corner_mouth, 0.1143)  # 4.5 in
        # Official rules of snooker, section 1: 11 ft 8 1/2 in by 5 ft 10 in, balls 52.5 mm.
        snooker = PRESETS["snooker_12ft"]
        self.assertAlmostEqual(snooker.length, (11 * 12 + 8.5) * INCH, delta=0.001)
        self.assertAlmostEqual(snooker.width, 70 * INCH, delta=0.001)
        self.assertEqual(2 * snooker.ball_radius, 0.0525)

    def test_overrides_and_unknown_presets(self):
        self.assertEqual(table_spec({"preset": "pool_9ft", "corner_mouth": 0.105}).corner_mouth, 0.105)
        self.assertEqual(table_spec({"preset": "billiards_9in", "width": "wide"}), SPEC)
        self.assertEqual(table_spec(None), SPEC)

    def test_nose_points_are_a_mouth_apart(self):
        for pocket in POCKETS:
            mouth = SPEC.side_mouth if pocket.startswith("side") else SPEC.corner_mouth
            self.assertAlmostEqual(math.dist(*nose_points(SPEC, pocket)), mouth)

    def test_the_rack_of_nine(self):
        # WPA rules of nine-ball: a diamond, the 1 at the top on the foot spot, the 9 in the middle.
        places = nine_ball_rack(SPEC)
        self.assertEqual(places["1"], (0.75 * SPEC.length, SPEC.width / 2))
        middle = [sum(p[i] for p in places.values()) / 9 for i in (0, 1)]
        self.assertLess(math.dist(middle, places["9"]), 1e-9)
        nearest = min(math.dist(a, b) for n, a in places.items() for m, b in places.items() if n < m)
        self.assertGreaterEqual(nearest, 2 * SPEC.ball_radius)
        self.assertLess(nearest, 2 * SPEC.ball_radius + 0.0002)


class Diagram(unittest.TestCase):
    def scene(self, **changes):
        balls = {"cue": (0.5, 0.6), "1": (1.9, 0.635), "9": (2.2, 0.3)}
        return TableScene(SPEC, balls, ("1",), "foot_left", (1.0, 0.4), **changes)

    def test_balls_stand_where_they_are(self):
        drawing = table_drawing(self.scene())
        discs = {p.fill: p for p in drawing.primitives if isinstance(p, Circle)}
        self.assertEqual(discs["ball.1"].centre, (1.9, 0.635))
        self.assertEqual(discs["ball.1"].radius, SPEC.ball_radius)
        self.assertEqual(discs["ball.cue"].centre, (0.5, 0.6))
        texts = {p.text: p.at for p in drawing.primitives if isinstance(p, Text)}
        self.assertEqual(texts, {"1": (1.9, 0.635), "9": (2.2, 0.3)})

    def test_nine_to_fifteen_are_striped_at_every_size(self):
        stripes = [
            p for p in table_drawing(self.scene()).primitives if isinstance(p, Polygon) and p.fill == "ball.1"
        ]
        self.assertEqual(len(stripes), 1)  # the 9 wears the colour of the 1
        for x, y in stripes[0].points:
            self.assertLessEqual(math.dist((x, y), (2.2, 0.3)), SPEC.ball_radius + 1e-9)

    def test_larger_balls_never_overlap(self):
        near = TableScene(SPEC, {"1": (1.0, 0.5), "2": (1.07, 0.5)}, ball_scale=3.0)
        self.assertAlmostEqual(near.drawn_radius, 0.035)
        rack = TableScene(SPEC, nine_ball_rack(SPEC), ball_scale=3.0)
        self.assertLess(rack.drawn_radius, SPEC.ball_radius * 1.01)
        alone = TableScene(SPEC, {"1": (1.0, 0.5)}, ball_scale=2.0)
        self.assertEqual(alone.drawn_radius, 2 * SPEC.ball_radius)

    def test_meant_pocket_ball_on_and_rest_are_marked(self):
        roles = [
            getattr(p, "edge", None) or getattr(p, "role", "") for p in table_drawing(self.scene()).primitives
        ]
        for role in ("table.meant", "table.on", "table.rest"):
            self.assertIn(role, roles)

    def test_six_pockets_six_cushions_eighteen_sights(self):
        drawing = table_drawing(TableScene(SPEC))
        fills = [getattr(p, "fill", None) for p in drawing.primitives]
        self.assertEqual(fills.count("table.pocket"), 6)
        self.assertEqual(fills.count("table.cushion"), 6)
        self.assertEqual(fills.count("table.sight"), 18)

    def test_the_colours_of_snooker_carry_letters(self):
        table = PRESETS["snooker_12ft"]
        drawing = table_drawing(TableScene(table, {"red1": (2.0, 0.5), **snooker_spots(table)}))
        self.assertEqual({p.text for p in drawing.primitives if isinstance(p, Text)}, set("YGNBPK"))

    def test_snooker_has_its_baulk_line_and_d(self):
        lines = [
            p for p in table_drawing(TableScene(PRESETS["snooker_12ft"])).primitives if isinstance(p, Line)
        ]
        baulk = next(line for line in lines if len(line.points) == 2)
        self.assertAlmostEqual(baulk.points[0][0], 29 * INCH, delta=0.001)  # 29 in from the face
        arc = next(line for line in lines if len(line.points) > 2)
        self.assertAlmostEqual(math.dist(arc.points[0], arc.points[-1]) / 2, 11.5 * INCH, delta=0.001)

    def test_words_for_those_who_cannot_see_it(self):
        self.assertEqual(table_drawing(self.scene()).words, "Balls on the table: 1, 9. On: 1.")

    def test_equal_scenes_make_equal_drawings(self):
        self.assertEqual(table_drawing(self.scene()), table_drawing(self.scene()))


class OnScreen(unittest.TestCase):
    def paint(self, scene, seat="side"):
        theme = Theme()
        theme.apply(APP)
        drawing = table_drawing(scene)
        image = QImage(600, 600, QImage.Format.Format_RGB32)
        image.fill(0)
        fit = Fit(drawing, QRectF(0, 0, 600, 600), seat=seat)
        painter = QPainter(image)
        paint_drawing(painter, drawing, fit, theme)
        painter.end()
        return theme, image, fit

    def test_places_and_pixels_go_both_ways(self):
        for seat in VIEWING_SIDES:
            _, _, fit = self.paint(TableScene(SPEC), seat)
            for place in ((0.0, 0.0), (2.54, 1.27), (1.1, 0.2)):
                back = fit.place(fit.pixel(place))
                self.assertLess(math.dist(back, place), 1e-9)

    def test_the_picture_shows_the_primitives(self):
        scene = TableScene(SPEC, {"cue": (0.5, 0.6)})
        for seat in VIEWING_SIDES:
            theme, image, fit = self.paint(scene, seat)
            cases = {
                (0.5, 0.6): "ball.cue",
                (1.3, 1.0): "table.cloth",
                pocket_centres(SPEC)["foot_left"]: "table.pocket",
                (0.4, -0.115): "table.rail",
            }
            for place, role in cases.items():
                pixel = fit.pixel(place).toPoint()
                self.assertEqual(image.pixelColor(pixel).name(), theme.hex(role), (place, seat))

    def test_turned_the_head_end_is_below_and_left_stays_left(self):
        _, _, fit = self.paint(TableScene(SPEC), seat="end")
        head_left, foot_right = fit.pixel((0.0, SPEC.width)), fit.pixel((SPEC.length, 0.0))
        self.assertGreater(head_left.y(), foot_right.y())
        self.assertLess(head_left.x(), foot_right.x())

    def test_letters_lie_as_the_pockets_are_seen_from_every_seat(self):
        rows = {"side": ("QWE", "ASD"), "end": ("QW", "AS", "ZX")}
        for seat in VIEWING_SIDES:
            _, _, fit = self.paint(TableScene(SPEC), seat=seat)
            at = {keys[0]: fit.pixel(pocket_centres(SPEC)[p]) for p, keys in POCKET_KEYS[seat].items()}
            shape = rows["end" if seat in UPRIGHT else "side"]
            for row in shape:
                self.assertEqual(sorted(row, key=lambda key: at[key].x()), list(row), seat)
            for column in zip(*shape, strict=True):
                self.assertEqual(sorted(column, key=lambda key: at[key].y()), list(column), seat)

    def test_places_and_pixels_are_inverse_from_every_seat(self):
        for seat in VIEWING_SIDES:
            _, _, fit = self.paint(TableScene(SPEC), seat=seat)
            place = fit.place(fit.pixel((0.7, 1.1)))
            self.assertAlmostEqual(math.dist(place, (0.7, 1.1)), 0, places=9)

    def test_the_seat_of_a_camera(self):
        eyes = {"side": (1.2, -2.0), "end": (-1.5, 0.6), "far_side": (1.2, 3.5), "far_end": (4.0, 0.6)}
        for seat, eye in eyes.items():
            self.assertEqual(viewing_side_of(eye, 2.54, 1.27), seat)


if __name__ == "__main__":
    unittest.main()
