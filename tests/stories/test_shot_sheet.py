"""The sheet of shots: every shot of a rack on a small table, read back from the picture that is saved."""

from xml.etree import ElementTree

from PyQt6.QtGui import QImage

from ripasso.core.table import PRESETS, starting_layout
from tests.sessions import rack_of
from tests.stories.clocked import Clocked
from tests.windows import in_dialog, press, wait_until

SPEC = PRESETS["pool_9ft"]


def fifteen_balls():
    """A rack of rotation, the balls in their order, each shot with layout and zone; tips are said later."""
    layout = {ball: list(place) for ball, place in starting_layout("rotation", SPEC, 15).items()}
    layout["cue"] = [0.6, 0.6]
    shots = []
    for number in range(1, 16):
        left = {ball: place for ball, place in layout.items() if ball == "cue" or int(ball) >= number}
        after = {ball: place for ball, place in left.items() if ball != str(number)}
        pot = {"ball": str(number), "pocket": "foot_left"}
        shots.append(
            {
                "player": "a",
                "intent": "pot",
                "call": pot,
                "before": left,
                "after": {**after, "cue": [0.5 + 0.05 * number, 0.7]},
                "facts": {
                    "first_contact": str(number),
                    "potted": [{"ball": str(number), "pocket": "foot_left"}],
                },
                "plan": {"zone": {"circle": {"centre": [0.9, 0.7], "radius": 0.15}}},
            }
        )
    return {**rack_of(*shots), "layout": layout}


class FifteenBalls(Clocked):
    def sheet(self, work):
        wait_until(lambda: not self.workspace.measuring.busy, "the measures")
        in_dialog(work)
        press("Alt+T")

    def texts(self, path):
        root = ElementTree.parse(path).getroot()
        return [element.text for element in root.iter() if element.tag.endswith("text")]

    def test_a_sheet_of_fifteen_with_tips_and_zones(self):
        self.begin(game="rotation", racks=[fifteen_balls()])
        press("PgUp")
        words = self.review.slip.words
        for number in range(1, 16):
            press(";")
            words.line.setText(f"draw, tip 1 {'right' if number % 2 else 'left'} 1/2 low")
            press("Return")
            press("Down")
        seen = {}

        def work(dialog):
            dialog.save(self.folder / "shots.svg")
            dialog.save(self.folder / "shots.png")
            dialog.save(self.folder / "nowhere" / "shots.svg")
            seen["words"] = dialog.picture.accessibleName()
            dialog.reject()

        self.sheet(work)
        texts = self.texts(self.folder / "shots.svg")
        for number in range(1, 16):
            self.assertIn(f"{number} · {number} to foot left", texts)
        self.assertIn("A test: Rack 1", texts)
        picture = QImage(str(self.folder / "shots.png"))
        self.assertEqual(picture.width(), 2400)
        self.assertGreater(len({picture.pixel(x, 700) for x in range(0, 2400, 7)}), 5)  # not one colour
        self.assertIn("cannot be written", self.said[-1])
        self.assertIn("15 · 15 to foot left", seen["words"])
        self.assertEqual(
            len([text for text in texts if (text and "outside" in text) or "off" in (text or "")]) > 0, True
        )

    def test_what_is_not_placed_is_on_the_sheet_as_well(self):
        self.begin(game="nine_ball")
        self.strike("2", "E")
        self.strike("1", "Q", "C", "O")

        def work(dialog):
            dialog.save(self.folder / "bare.svg")
            dialog.reject()

        self.sheet(work)
        texts = self.texts(self.folder / "bare.svg")
        self.assertIn("2 · 1 to baulk left", texts)
        self.assertIn("missed thick · long", texts)

    def test_without_a_shot_there_is_no_sheet(self):
        self.begin(game="nine_ball")
        press("Alt+T")
        self.assertIn("No shot is in hand", self.said[-1])
