"""Two commentators say before each strike what will be played; who was right is read from the screen."""

from ripasso.review.record.model import Prediction
from ripasso.review.scoring.expecting import came_as_expected
from tests.stories.clocked import Clocked
from tests.windows import press, wait_until


class Commentators(Clocked):
    def say(self, text):
        press(";")
        line = self.review.slip.words
        line.line.setText(text)
        press("Return")
        self.assertTrue(line.isHidden(), f"{text}: {line.hint.text()}")

    def test_hits_are_counted_by_person(self):
        self.begin(game="nine_ball")
        self.strike("4", "E")  # the break
        self.strike()
        self.say("expected ida 1 foot left then 2, expected tomas safety")
        press("1", "E", "G")
        self.say("next 2")
        self.strike()
        self.say("expected ida 2 side left, expected tomas 2")
        press("2", "Q", "C")
        self.strike()
        self.say("expected ida escape, expected tomas safety")
        press("H")
        self.assertIn("expected ida escape", self.review.slip._chips.accessibleDescription())
        said = self.figures("said", "ada quill")
        self.assertIn("1 of 2", said["predicted ida"])
        self.assertIn("1 of 2", said["predicted tomas"])
        said = self.figures("said", "bram oster")
        self.assertIn("0 of 1", said["predicted ida"])
        self.assertIn("1 of 1", said["predicted tomas"])
        press("Ctrl+F")
        page = self.review.find_page
        page.line.setText("expected:ida:hit")
        page._ask()
        wait_until(lambda: page.model.found and page.model.found.line == "expected:ida:hit", "the answer")
        self.assertEqual(page.model.rowCount(), 1)

    def test_a_later_word_of_the_same_person_takes_its_place(self):
        self.begin(game="nine_ball")
        self.strike("4", "E")
        self.strike("1", "E", "G")
        self.say("expected ida 1")
        self.say("expected ida safety")
        (only,) = self.review.controller.shot.record.predictions
        self.assertEqual((only.by, only.kind, only.ball), ("ida", "safety", None))

    def test_kind_and_cushions_are_a_prediction_as_well(self):
        """The route: "the bank", "off two cushions"; as an earlier version wrote it, it counts the same."""
        self.begin(game="nine_ball")
        self.strike("4", "E")
        self.strike()
        self.say(
            "bank, off the foot rail, off the left rail, "
            "expected ida bank off 2 cushions, expected tomas 1 off 1 cushion"
        )
        press("1", "E", "G")
        said = self.figures("said", "ada quill")
        self.assertIn("1 of 1", said["predicted ida"])
        self.assertIn("0 of 1", said["predicted tomas"])
        old = Prediction.model_validate({"by": "ida", "intent": "pot", "call": {"ball": "1"}})
        self.assertTrue(came_as_expected(old, self.review.controller.shot.record, "1"))
        self.assertFalse(came_as_expected(old, self.review.controller.shot.record, "2"))
