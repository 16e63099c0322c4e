"""Other games than nine-ball by keys in the real window, the score line read back."""

from PyQt6.QtWidgets import QComboBox

from tests.stories.clocked import Clocked
from tests.windows import WindowCase, in_dialog, press, wait_until, write


class ByKeys(Clocked):
    def test_a_snooker_frame_of_six_reds(self):
        """a breaks off; b makes 15 and misses; a makes 6 and goes in-off; b clears the table."""
        self.begin(game="snooker", table={"preset": "snooker_12ft"}, rules={"reds": 6, "race_to": 2})
        self.strike("M")
        for keys in (("1", "D", "G"), ("7", "E", "G"), ("1", "D", "G"), ("6", "W", "G"), ("1", "A", "V")):
            self.strike(*keys)
        self.assertEqual(self.outcome().snooker.lead, {"a": -15, "b": 15})
        self.strike("1", "Q", "G")
        self.strike("5", "W", "G")
        self.strike("1", "0", "M")
        self.assertEqual(self.outcome().fouls, ("in_off",))
        # The foul is four to b; he is in hand in the D.
        self.assertEqual((self.outcome().points, self.outcome().ball_in_hand_from), ({"a": 0, "b": 4}, "d"))
        for _ in range(3):
            self.strike("1", "E", "G")
            self.strike("7", "D", "G")
        self.assertEqual(self.line[:2], ("6 – 36", "frames 0 – 0"))
        self.assertIn("break 17", self.line[2])
        self.assertIn("30 ahead", self.line[2])
        for value in "234567":
            self.strike(value, "E", "G")
        self.assertIn("on: black", self.line[2])
        self.assertIn("Bram Oster wins the frame: the black was potted", self.review.slip._outcome.text())
        self.strike("M")  # the next frame
        self.assertEqual(self.line[:2], ("0 – 0", "frames 0 – 1"))
        self.assertEqual(self.review.controller.shot.record.player, "b")

    def test_an_eight_ball_rack(self):
        self.begin(game="eight_ball", rules={"race_to": 3})
        self.strike("3", "E", "1", "1", "D")
        self.assertEqual([p.ball for p in self.review.controller.shot.record.facts.potted], ["3", "11"])
        self.strike("2", "S", "G")
        self.assertIn("open table", self.line[2])
        self.strike("5", "D", "G")
        self.assertIn("solids", self.line[2])
        self.strike("7", "Q", "V")
        self.strike("9", "A", "G")
        self.assertIn("stripes", self.line[2])
        for ball in (("1", "0"), ("1", "2"), ("1", "3"), ("1", "4"), ("1", "5")):
            self.strike(*ball, "E", "G")
        self.strike("8", "E", "G")
        self.assertIn("the 8", self.line[2])
        self.assertIn("Bram Oster wins the rack: the 8 was potted", self.review.slip._outcome.text())
        self.strike("M")
        self.assertEqual(self.line[:2], ("0 – 1", "racks"))

    def test_straight_pool_counts_through_the_racks(self):
        self.begin(game="straight_pool", rules={"target_points": 50})
        self.strike("M")
        for n in range(1, 15):
            self.strike(*str(n), "E", "G")
        self.assertIn("racked again", self.review.slip._outcome.text())
        self.strike("1", "5", "E", "G")
        self.assertEqual(self.line[:2], ("0 – 14", "of 50"))
        self.assertEqual(
            (self.review.controller.rack.record.number, self.review.controller.shot.record.player), (2, "b")
        )

    def test_the_break_sheet_by_keys(self):
        self.begin(game="nine_ball")
        self.strike("2", "E")
        in_dialog(lambda _dialog: press("1", "1", "3", "3", "5", "7", "7", "7", "0", "Return"))
        press("Shift+E")
        sheet = self.review.controller.shot.record.break_
        said = (sheet.kind, sheet.power, sheet.in_box, sheet.outer_ball_down, sheet.spread)
        self.assertEqual(said, ("cut", 60, True, None, "good"))
        press("Ctrl+Z")
        self.assertIsNone(self.review.controller.shot.record.break_.spread)
        self.strike("E")
        press("Shift+E")
        self.assertIn("belongs to a break", self.said[-1])

    def test_a_digit_that_says_nothing_in_snooker(self):
        self.begin(game="snooker")
        self.strike("M")
        self.strike("9")
        self.assertIn("a digit is a value", self.said[-1])


class NewSessions(WindowCase):
    def test_with_the_last_choices_two_keys_are_enough(self):
        def first(dialog):
            write("Ada")
            press("Tab")
            write("Bram")
            dialog.findChildren(QComboBox)[0].setFocus()
            write("Snooker")
            press("Return")

        in_dialog(first)
        press("Ctrl+N")
        wait_until(lambda: self.review.controller.snapshot is not None)
        head = self.review.controller.snapshot.head
        self.assertEqual((head.game, head.table["preset"], head.kind), ("snooker", "snooker_12ft", "match"))
        self.window.show_page("sessions")
        keys = []

        def again(_dialog):
            keys.append("Return")
            press("Return")

        in_dialog(again)
        keys.append("Ctrl+N")
        press("Ctrl+N")
        wait_until(lambda: len(self.window.sessions.model.lines) == 2)
        second = self.review.controller.snapshot.head
        self.assertLessEqual(len(keys), 3)
        self.assertEqual((second.game, [p.name for p in second.players]), ("snooker", ["Ada", "Bram"]))
        self.assertNotEqual(second.id, head.id)

    def test_what_is_agreed_on_depends_on_the_game(self):
        from ripasso.ui.sessions.new_session import NewSessionDialog
        from tests.windows import destroy

        dialog = NewSessionDialog(self.workspace.settings, self.workspace.background)
        self.addCleanup(destroy, dialog)
        dialog.players.first.setText("Ada")
        shown = {}
        for game in ("nine_ball", "straight_pool", "snooker"):
            dialog._game.setCurrentIndex(dialog._game.findData(game))
            fields = {
                "race": dialog._race,
                "target": dialog._target,
                "reds": dialog._reds,
                "ghost": dialog._ghost,
            }
            shown[game] = {name for name, field in fields.items() if dialog._form.isRowVisible(field)}
        self.assertEqual(shown["nine_ball"], {"race", "ghost"})
        self.assertEqual(shown["straight_pool"], {"target"})
        self.assertEqual(shown["snooker"], {"race", "reds"})
        dialog._game.setCurrentIndex(dialog._game.findData("nine_ball"))
        dialog._ghost.setChecked(True)
        session = dialog.session()
        self.assertEqual((session.kind, [p.id for p in session.players]), ("ghost", ["ada", "ghost"]))
