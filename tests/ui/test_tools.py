"""The tools of the mouse without a window: what each gesture says of the shot in hand."""

import unittest

from ripasso.drawing import Circle, Line
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.measuring.cache import MeasureCache
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.table.picture_controller import PictureController
from tests.sessions import MemoryStorage, played, rack_of, session

LAYOUT = {"cue": [0.9, 0.45], "1": [1.9, 0.9], "2": [0.4, 0.9], "9": [2.2, 0.3]}


class Tools(unittest.TestCase):
    game, spec = "nine_ball", "pool_9ft"

    def setUp(self):
        self.document = Document(MemoryStorage(), derived_rows)
        shot = {**played("a", "1"), "before": LAYOUT}
        racks = [rack_of(played("a", intent="break"), shot, {"player": "a"})]
        self.document.run(add_session(session(racks=racks, game=self.game, table={"preset": self.spec})))
        self.said = []

        def say(sentence, _tone):
            self.said.append(sentence)

        self.controller = ReviewController(self.document, say)
        self.pictures = PictureController(self.controller, MeasureCache(), say)
        self.controller.open("test")
        self.controller.step(1)

    @property
    def plan(self):
        return self.controller.shot.record.plan

    def drag(self, *places, also=False):
        self.pictures.press(places[0], also=also)
        for place in places[1:]:
            self.pictures.move(place)
        self.pictures.release(places[-1])

    def click(self, *places):
        for place in places:
            self.pictures.press(place)
            self.pictures.release(place)

    def test_a_circle_and_one_more(self):
        self.pictures.take_zone()
        self.drag((1.0, 0.5), (1.1, 0.5))
        self.assertEqual(self.plan.zone.circle.radius, 0.1)
        self.drag((1.5, 0.5), (1.6, 0.5), also=True)
        self.assertEqual([z.circle.centre for z in self.plan.zone.any_of], [(1.0, 0.5), (1.5, 0.5)])

    def test_a_side_of_the_line_needs_the_next_ball(self):
        self.pictures.take("zone_side")
        self.click((0.4, 0.9))  # the 2 is next
        self.assertEqual(self.plan.next_ball, "2")
        self.click((0.02, 1.25))  # its pocket
        self.assertEqual(self.plan.next_pocket, "head_left")
        self.click((0.7, 0.3))
        side = self.plan.zone.side_of_line
        self.assertEqual((side.ball, side.pocket, side.side), ("2", "head_left", "right"))

    def test_a_polygon_is_closed_by_return(self):
        self.pictures.take("zone_polygon")
        self.click((1.0, 0.5), (1.2, 0.5), (1.1, 0.7))
        self.pictures.hover((1.0, 0.7))
        self.assertIsInstance(self.pictures.tool.preview()[0], Line)
        self.assertIsNone(self.plan)
        self.pictures.finish()
        self.assertEqual(len(self.plan.zone.polygon), 3)
        self.click((1.0, 0.5), (1.2, 0.5))
        self.pictures.finish()  # two corners are none
        self.assertEqual(len(self.plan.zone.polygon), 3)

    def test_a_strip_gets_its_width_by_a_second_click(self):
        self.pictures.take("zone_strip")
        self.drag((1.0, 0.5), (1.4, 0.5))
        self.pictures.hover((1.2, 0.56))
        self.click((1.2, 0.56))
        strip = self.plan.zone.strip
        self.assertEqual((strip.from_, strip.to, strip.width), ((1.0, 0.5), (1.4, 0.5), 0.12))

    def test_a_route_begins_at_the_ghost_ball_and_names_its_cushions(self):
        self.pictures.take("route")
        self.click((2.5, 0.7), (1.9, 0.5))
        self.pictures.finish()
        ghost = self.pictures.measures().geometry.ghost
        self.assertAlmostEqual(self.plan.route[0][0], ghost[0], places=3)
        self.assertEqual(self.plan.cushions, ("foot",))
        self.assertAlmostEqual(
            self.plan.route[1][0], 2.54 - 0.028575, places=3
        )  # where a ball's centre meets it
        self.assertEqual(self.plan.aim_point, (1.9, 0.5))

    def test_pens(self):
        self.pictures.take_pen()
        self.drag((1.0, 0.5), (1.1, 0.501), (1.2, 0.5))
        self.pictures.take_pen()
        self.drag((1.0, 0.5), (1.0, 0.8))
        self.pictures.take_pen()
        self.drag((1.0, 0.5), (1.2, 0.5), (1.2, 0.7), (1.0, 0.7))
        self.pictures.take_pen()
        self.pictures.ask_caption = lambda: "stop here"
        self.click((1.0, 0.9))
        drawn = self.controller.shot.record.drawings
        self.assertEqual([one.kind for one in drawn], ["line", "arrow", "area", "caption"])
        self.assertEqual(len(drawn[0].points), 2)  # a shaky line is a straight one
        self.pictures.wipe()
        self.assertEqual(len(self.controller.shot.record.drawings), 3)
        self.pictures.take_pen()
        self.assertTrue(self.pictures.looking)  # behind the last pen the hand is empty

    def test_escape_drops_what_was_begun_first(self):
        self.pictures.take_zone()
        self.pictures.press((1.0, 0.5))
        self.pictures.move((1.1, 0.5))
        self.assertIsInstance(self.pictures.tool.preview()[0], Circle)
        self.pictures.put_down()
        self.assertFalse(self.pictures.looking)
        self.pictures.put_down()
        self.assertTrue(self.pictures.looking)
        self.assertIsNone(self.plan)

    def test_what_was_begun_stays_behind_when_another_shot_is_taken_in_hand(self):
        self.pictures.take("zone_polygon")
        self.click((1.0, 0.5), (1.2, 0.5), (1.1, 0.7))
        self.controller.step(1)
        self.assertEqual(self.pictures.tool.preview(), ())
        self.pictures.finish()
        self.assertIsNone(self.plan)
        self.controller.step(-1)
        self.pictures.take("balls_before")
        self.click((1.3, 0.9))
        self.controller.step(1)
        before = self.controller.shot.record
        self.pictures.nudge(0.001, 0)  # the ball placed last lies in the shot before
        self.assertEqual(self.controller.shot.record, before)

    def test_a_drawn_plan_is_cleared_as_one_step(self):
        self.pictures.take("aim")
        self.click((1.4, 0.9))
        self.pictures.take_zone()
        self.drag((1.4, 0.9), (1.5, 0.9))
        self.pictures.clear_plan()
        self.assertIsNone(self.plan)
        self.controller.undo()
        self.assertEqual(self.plan.aim_point, (1.4, 0.9))

    def test_a_dragged_ball_is_measured_before_it_is_put_down(self):
        before = self.pictures.measures().geometry.cut_deg
        self.assertTrue(self.pictures.grasp((1.9, 0.9)))
        self.pictures.move((1.9, 0.5))
        self.assertNotAlmostEqual(self.pictures.measures().geometry.cut_deg, before, delta=5)
        self.assertEqual(self.controller.shot.record.before["1"], (1.9, 0.9))
        self.pictures.put_down()
        self.assertAlmostEqual(self.pictures.measures().geometry.cut_deg, before)

    def test_what_matters_now_is_drawn_and_can_be_switched(self):
        self.assertIn("window", self.pictures.wanted())
        self.controller.say_values({("after",): {"cue": [1.0, 0.5]}}, "rest")
        self.assertNotIn("window", self.pictures.wanted())
        self.assertIn("result", self.pictures.wanted())
        self.pictures.switch("window", True)
        self.pictures.switch("result", False)
        self.assertIn("window", self.pictures.wanted())
        self.assertNotIn("result", self.pictures.wanted())
        self.pictures.automatic()
        self.assertIn("result", self.pictures.wanted())

    def test_racks_and_spots(self):
        self.pictures.take("balls_before")
        self.pictures.rack_up()
        self.assertEqual(len(self.controller.shot.record.before), 10)
        self.pictures.on_spots()
        self.assertIn("snooker", self.said[-1])

    def test_keys_of_placing_without_a_ball_say_what_to_do(self):
        self.pictures.take_off()
        self.pictures.nudge(0.001, 0)
        self.assertEqual(len(self.said), 2)


class SnookerTools(Tools):
    game, spec = "snooker", "snooker_12ft"

    def test_digits_are_values(self):
        self.pictures.take("balls_before")
        self.pictures.digit("7")
        self.click((3.2, 0.9))
        self.pictures.digit("1")
        self.click((2.7, 0.5))
        placed = self.controller.shot.record.before
        self.assertIn("black", placed)
        self.assertIn("red1", placed)

    def test_racks_and_spots(self):
        self.pictures.take("balls_before")
        self.pictures.on_spots()
        self.assertAlmostEqual(self.controller.shot.record.before["brown"][0], 0.737, places=3)

    def test_a_route_begins_at_the_ghost_ball_and_names_its_cushions(self):
        self.pictures.take("route")
        self.click((3.55, 0.7), (1.9, 0.5))
        self.pictures.finish()
        self.assertEqual(self.plan.cushions, ("foot",))

    def test_a_dragged_ball_is_measured_before_it_is_put_down(self):
        self.assertTrue(self.pictures.grasp((1.9, 0.9)))
        self.pictures.put_down()

    def test_a_side_of_the_line_needs_the_next_ball(self):
        self.pictures.take("zone_side")
        self.click((1.0, 1.5))
        self.assertIsNone(self.plan)
