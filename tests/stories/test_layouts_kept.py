"""The guide's own order, by keys and clicks: mark, say, place what lies afterwards, mark the next."""

from tests.stories.clocked import Clocked
from tests.windows import click, on_table, press, wait_until

PLACES = {"cue": (1.9, 0.4), "1": (1.2, 0.5), "2": (0.8, 0.9)}


class GuidesOrder(Clocked):
    def place(self, ball, when):
        view = self.review.table
        click(view, on_table(view, PLACES[ball]))
        record = self.review.controller.shot.record
        self.assertIn(ball, getattr(record, when), f"{ball} {when}")

    def test_the_new_shot_starts_from_what_was_placed(self):
        self.begin(game="nine_ball")
        self.strike("4", "E")  # the break: the 4 falls
        press("]")
        self.assertEqual(self.review.context.pictures.layout("after"), {})  # never the rack
        for ball in ("cue", "1", "2"):
            press({"cue": "0", "1": "1", "2": "2"}[ball])
            self.place(ball, "after")
        self.strike("1", "Q")
        record = self.review.controller.shot.record
        self.assertEqual(set(record.before), {"cue", "1", "2"})
        self.assertTrue(self.review.context.pictures.looking)  # no click is filed after the wrong shot
        press("]")
        press("0")
        self.place("cue", "after")
        self.strike()  # the same player goes on, so the 1 fell
        third = self.review.controller.shot.record
        self.assertEqual((third.number, set(third.before)), (3, {"cue", "2"}))
        self.assertEqual(set(self.snapshot.shots[1].record.after), {"cue", "2"})

    def test_a_potted_colour_returns_to_its_spot(self):
        self.begin(game="snooker", table={"preset": "snooker_12ft"})
        self.strike("M")
        self.strike("1", "Q", "G")
        self.strike("5", "W", "G")  # the blue
        press("]")
        view = self.review.table
        press("0")
        click(view, on_table(view, (1.0, 0.5)))
        wait_until(lambda: self.review.controller.shot.record.after, "the cue ball placed")
        lies = dict(self.review.controller.shot.record.after)
        self.assertEqual(set(lies), {"cue", "blue"})
