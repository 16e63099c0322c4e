"""The layers of a shot as primitives: on the table, through a view, as SVG, and on screen alike."""

import math
import unittest
from dataclasses import replace
from xml.etree import ElementTree

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF

from ripasso.core.geometry.zones import AnyOf, Wedge
from ripasso.core.geometry.zones import Circle as ZoneCircle
from ripasso.core.geometry.zones import Polygon as ZonePolygon
from ripasso.core.measures.shots import PlanInput, ShotInput, measure_shots
from ripasso.core.measures.units import UNITS, length_words
from ripasso.core.table import table_spec
from ripasso.drawing import Circle, Line, Polygon, TableScene, Text, table_drawing
from ripasso.drawing.layers import LAYERS, Route, Stroke, draw_layers, zone_primitives
from ripasso.drawing.seats import VIEWING_SIDES
from ripasso.drawing.shot import Said, shot_picture
from ripasso.drawing.svg import svg_text
from ripasso.drawing.through import through_view
from ripasso.ui.painting import Fit, Zoom, picture_of
from ripasso.ui.theme import Theme
from tests.film.test_view import camera
from tests.windows import APP

SPEC = table_spec({"preset": "pool_9ft"})
R = SPEC.ball_radius
BEFORE = {"cue": (0.9, 0.45), "1": (1.9, 0.9), "2": (0.4, 0.9)}
AFTER = {"cue": (1.45, 0.62), "2": (0.4, 0.9)}


def picture(**plan):
    given_shot = ShotInput(
        before=BEFORE,
        after=AFTER,
        balls_on=("1",),
        on_next=("2",),
        is_break=False,
        goes_on=True,
        next_before=None,
        has_next=True,
        ball="1",
        pocket="foot_left",
        plan=PlanInput(**{"next_ball": "2", "aim_point": (1.3, 0.5), **plan}),
    )
    measures = measure_shots(SPEC, [given_shot], 0.0015)[0]
    said = Said(
        (Route("stay", ((1.8, 0.8), (1.0, 1.0))),),
        ((0.9, 0.45), (1.4, 0.6)),
        (Stroke("area", ((1, 1), (1.1, 1), (1, 1.1))),),
    )
    return shot_picture(SPEC, given_shot, measures, "mm", said)


class Layers(unittest.TestCase):
    def test_each_layer_draws_something_and_only_when_it_is_wanted(self):
        whole = picture(angle_wanted_deg=(5.0, 20.0), zone=ZoneCircle((1.3, 0.5), 0.1))
        for layer in LAYERS:
            drawn = draw_layers(whole, [layer])
            self.assertTrue(drawn.under or drawn.over, layer)
        self.assertEqual(draw_layers(whole, []).under, ())

    def test_a_zone_without_a_way_says_whose_it_is(self):
        zone = ZonePolygon(((1.0, 0.4), (1.2, 0.4), (1.1, 0.6)))
        whole = replace(picture(), options=(Route("Ida", (), zone),))
        area, name = draw_layers(whole, ["options"]).under
        self.assertEqual((area.points, name.text), (zone.corners, "Ida"))
        self.assertGreater(name.at[1], 0.6)

    def test_the_ghost_ball_touches_the_object_ball_on_the_line_to_the_pocket(self):
        drawn = draw_layers(picture(), ["pot"]).under
        ghost = next(p for p in drawn if isinstance(p, Circle))
        self.assertAlmostEqual(math.dist(ghost.centre, BEFORE["1"]), 2 * R)
        line = [p for p in drawn if isinstance(p, Line)][1]
        way = (line.points[1][0] - line.points[0][0], line.points[1][1] - line.points[0][1])
        back = (BEFORE["1"][0] - ghost.centre[0], BEFORE["1"][1] - ghost.centre[1])
        self.assertAlmostEqual(way[0] * back[1] - way[1] * back[0], 0, places=9)

    def test_planned_is_dashed_and_played_is_solid(self):
        whole = picture(route=((1.85, 0.87), (1.3, 0.5)))
        plan = [p for p in draw_layers(whole, ["plan"]).under if isinstance(p, Line)]
        path = [p for p in draw_layers(whole, ["path"]).under if isinstance(p, Line)]
        self.assertTrue(all(p.dashed for p in plan))
        self.assertFalse(any(p.dashed for p in path))

    def test_the_error_arrow_ends_at_the_rest_point_and_says_its_parts(self):
        over = draw_layers(picture(aim_point=(1.3, 0.8)), ["result"]).over
        arrow = next(p for p in over if isinstance(p, Line))
        self.assertEqual(arrow.points, ((1.3, 0.8), (1.45, 0.62)))
        words = [p.text for p in over if isinstance(p, Text)]
        self.assertTrue(any("short" in text for text in words), words)
        self.assertTrue(any("right" in text or "left" in text for text in words), words)

    def test_the_shaded_side_is_that_of_the_aim_point_and_stays_on_the_bed(self):
        for place in ((0.9, 0.3), (0.9, 1.2)):
            whole = picture(aim_point=place)
            side = next(p for p in draw_layers(whole, ["next"]).under if isinstance(p, Polygon))
            for x, y in side.points:
                self.assertTrue(-1e-9 <= x <= SPEC.length + 1e-9 and -1e-9 <= y <= SPEC.width + 1e-9)
            middle = np.mean(side.points, axis=0)
            line = next(p for p in draw_layers(whole, ["next"]).under if isinstance(p, Line))
            (x0, y0), (x1, y1) = line.points
            turns = [(x1 - x0) * (y - y0) - (y1 - y0) * (x - x0) for x, y in (middle, place)]
            self.assertGreater(turns[0] * turns[1], 0)

    def test_zones_of_every_shape(self):
        zones = (
            ZoneCircle((1, 0.5), 0.1),
            ZonePolygon(((1, 0.5), (1.1, 0.5), (1, 0.6))),
            Wedge((1, 0.5), 0.2, 1.0),
            AnyOf((ZoneCircle((1, 0.5), 0.1), ZoneCircle((2, 0.5), 0.1))),
        )
        self.assertEqual([len(zone_primitives(SPEC, zone)) for zone in zones], [1, 1, 1, 2])

    @given(
        st.tuples(st.floats(0, 2.54), st.floats(0, 1.27)), st.tuples(st.floats(0, 2.54), st.floats(0, 1.27))
    )
    def test_any_two_places_give_finite_lines(self, aim, zone):
        whole = picture(aim_point=aim, zone=ZoneCircle(zone, 0.1), angle_wanted_deg=(0.0, 5.0))
        drawn = draw_layers(whole, LAYERS)
        self.assertNotIn("nan", repr(drawn))


class ThroughTheView(unittest.TestCase):
    def test_lines_lie_where_the_camera_sees_them(self):
        seen = through_view([Line(((0.5, 0.5), (1.5, 0.5)), "mark.line")], camera().project, (1280, 720), R)
        line = seen.primitives[0]
        ends = camera().project([(0.5, 0.5, R), (1.5, 0.5, R)])
        np.testing.assert_allclose(line.points[0], (ends[0][0], -ends[0][1]))
        np.testing.assert_allclose(line.points[-1], (ends[1][0], -ends[1][1]))
        self.assertGreater(len(line.points), 10)  # a lens may bend it

    def test_what_is_behind_the_camera_is_not_drawn(self):
        behind = [Line(((0.6, -9.0), (0.6, -8.0)), "mark.line"), Text((0.6, -9.0), "x", "mark.line", 0.1)]
        self.assertEqual(through_view(behind, camera().project, (1280, 720), 1.6).primitives, ())

    def test_a_circle_keeps_fill_and_edge(self):
        disc = Circle((1.0, 0.5), R, "area.zone", "mark.plan", soft=True)
        area, edge = through_view([disc], camera().project, (1280, 720), R).primitives
        self.assertIsInstance(area, Polygon)
        self.assertTrue(area.soft)
        self.assertIsInstance(edge, Line)


class Exported(unittest.TestCase):
    def setUp(self):
        layers = draw_layers(picture(zone=ZoneCircle((1.3, 0.5), 0.1)), LAYERS)
        self.drawing = table_drawing(TableScene(SPEC, BEFORE, under=layers.under, over=layers.over))
        self.theme = Theme()

    def test_control_characters_leave_the_svg_well_formed(self):
        scene = TableScene(SPEC, {"\x00\x01": (0.5, 0.5), "<b>": (1.0, 0.5)}, note="a\x0bb & <c>")
        text = svg_text(table_drawing(scene), self.theme.hex, self.theme.soft)
        self.assertIn("ab & <c>", ElementTree.fromstring(text).findtext("{http://www.w3.org/2000/svg}title"))

    def test_the_svg_holds_every_primitive_in_order_and_place(self):
        kinds = {Line: "polyline", Polygon: "polygon", Circle: "circle", Text: "text"}
        for seat in VIEWING_SIDES:
            text = svg_text(self.drawing, self.theme.hex, self.theme.soft, width_px=1000, seat=seat)
            root = ElementTree.fromstring(text)
            found = [child for child in root if not child.tag.endswith("title")]
            self.assertEqual(len(found), len(self.drawing.primitives))
            width, height = float(root.get("width")), float(root.get("height"))
            fit = Fit(self.drawing, QRectF(0, 0, width, height), seat=seat)
            for primitive, element in zip(self.drawing.primitives, found, strict=True):
                self.assertEqual(element.tag.split("}")[1], kinds[type(primitive)])
                if isinstance(primitive, Circle):
                    at = fit.pixel(primitive.centre)
                    self.assertAlmostEqual(float(element.get("cx")), at.x(), delta=0.05)
                    self.assertAlmostEqual(float(element.get("cy")), at.y(), delta=0.05)
                    self.assertAlmostEqual(float(element.get("r")), primitive.radius * fit.scale, delta=0.01)
                elif not isinstance(primitive, Text):
                    first = [float(v) for v in element.get("points").split()[0].split(",")]
                    at = fit.pixel(primitive.points[0])
                    self.assertAlmostEqual(first[0], at.x(), delta=0.05)
                    self.assertAlmostEqual(first[1], at.y(), delta=0.05)

    def test_the_picture_has_the_colours_of_the_screen_at_their_places(self):
        image = picture_of(self.drawing, self.theme, 1200)
        self.assertEqual(image.width(), 1200)
        fit = Fit(self.drawing, QRectF(image.rect()))
        for place, role in (((0.9, 0.45), "ball.cue"), ((1.0, 1.15), "table.cloth")):
            at = fit.pixel(place).toPoint()
            self.assertEqual(image.pixelColor(at).name(), self.theme.hex(role), role)

    def test_zoom_keeps_what_is_under_the_mouse(self):
        area, at = QRectF(0, 0, 800, 400), QPointF(300, 120)
        before = Fit(self.drawing, area).place(at)
        zoom = Zoom().about(2.0, at, area.center())
        after = Fit(self.drawing, area, zoom=zoom).place(at)
        self.assertAlmostEqual(before[0], after[0])
        self.assertAlmostEqual(before[1], after[1])
        self.assertEqual(zoom.about(0.1, at, area.center()), Zoom())
        self.assertEqual(Zoom().moved(10, 10), Zoom())


class Units(unittest.TestCase):
    def test_one_diamond_in_every_unit(self):
        # A 9-ft bed is 100 in long (WPA): a diamond is 12.5 in, 317.5 mm, 5.56 balls of 2 1/4 in.
        said = [length_words(2.54 / 8, unit, SPEC) for unit in UNITS]
        self.assertEqual(said, ["318 mm", "12.5 in", "5.6 balls", "1.00 diamonds"])
        self.assertEqual(length_words(-0.01, "mm", SPEC, signed=True), "−10 mm")


assert APP is not None
