"""Films that show a part: racks left out, a frame and a run that go on, a layout; every figure read back."""

from ripasso.ui.review.rack.rack_start_dialog import MIDDLE
from tests.stories.clocked import Clocked
from tests.windows import click, in_dialog, on_table, press, write


def score(a, b, number=None):
    """Type the score, and the number where it does not follow from it."""

    def fill(dialog):
        write(str(a))
        press("Tab")
        write(str(b))
        if number is not None:
            press("Tab")
            write(str(number))

    return fill


class PartOfAMatch(Clocked):
    """Racks 3 to 5, 13, 14 and 18 of a race to 20; every rack but 13 is won by the 9 on the break."""

    def enter(self):
        self.begin(game="nine_ball", rules={"race_to": 20})
        self.next_rack(score(1, 1))
        self.strike("9", "E")  # rack 3, a
        self.strike("9", "E")  # rack 4, b
        self.strike("9", "E")  # rack 5, a
        self.next_rack(score(3, 9))
        self.strike("M")  # rack 13: a breaks, nothing falls
        self.strike("9", "E", "G")  # b wins it
        self.strike("9", "E")  # rack 14, b
        self.next_rack(score(5, 12))
        self.strike("9", "E")  # rack 18, b

    def test_racks_keep_their_numbers_and_no_row_crosses_a_gap(self):
        self.enter()
        numbers = [row.record.number for row in self.snapshot.racks if not row.record.not_shown]
        self.assertEqual(numbers, [3, 4, 5, 13, 14, 18])
        self.assertEqual(
            [row.record.breaker for row in self.snapshot.racks if row.shots][3:], [None, "b", None]
        )
        summary, racks, _visits = self.match_page()
        self.assertEqual(
            [row[0] for row in racks if row[4] != "not shown"], ["3", "4", "5", "13", "14", "18"]
        )
        self.assertEqual(racks[-1][1], "5 – 13")
        ada, bram = summary.split("Bram Oster: ")
        self.assertIn("2 racks won", ada)
        self.assertIn("longest row at least 1 shown", ada)
        self.assertIn("2 won on the break", ada)
        # From 3–2 to 3–9 and on to rack 14: seven that are not shown and two that are.
        self.assertIn("longest row at least 9, by the score", bram)
        self.assertIn("0 break-and-runs", bram)

    def test_statistics_and_the_command_line_say_the_same(self):
        self.enter()
        said = self.figures("visits", "ada quill")
        self.assertIn("2 of 6", said["racks"])
        self.assertIn("3 of 4", said["racks_bare"])
        self.assertIn("at least 1 shown", said["streak"])
        self.assertIn("2: no row", said["gaps"])
        said = self.figures("visits", "bram oster")
        self.assertIn("4 of 6", said["racks"])
        self.assertIn("at least 9, by the score", said["streak"])
        ada, bram = (self.report()[key]["racks"] for key in "ab")
        self.assertEqual((ada["won"]["made"], ada["won"]["of"], ada["lost_without_a_stroke"]), (2, 6, 3))
        self.assertEqual(bram["streak"], {"proven": 9, "at_least": True, "by_score": True, "stated": None})

    def test_the_list_behind_racks_lost_without_a_stroke_shows_the_others_shots(self):
        self.enter()
        self.figures("visits", "ada quill")
        press("Ctrl+5")
        page = self.window.statistics
        row = next(i for i, one in enumerate(page.model.rows) if getattr(one, "id", "") == "racks")
        page.figures.setCurrentIndex(page.model.index(row, 1 + page.model.page.persons.index("ada quill")))
        self.assertEqual(page.shot_model.rowCount(), 6)

    def test_a_rack_cannot_come_before_the_last(self):
        self.begin(game="nine_ball", rules={"race_to": 20})
        self.next_rack(score(1, 1))
        self.strike("9", "E")
        in_dialog(lambda _dialog: (score(2, 1, 2)(_dialog), press("Return"), press("Escape")))
        press("Shift+K")
        self.assertIn("Rack 2 cannot come after rack 3.", self.said)
        self.assertEqual(len(self.snapshot.racks), 1)


class MiddleOfAFrame(Clocked):
    """A frame from the middle: 31–18, six reds, b is on a break of 24 and a colour is asked for."""

    def enter(self):
        self.begin(game="snooker", table={"preset": "snooker_12ft"}, rules={"race_to": 5})

        def fill(dialog):
            score(2, 3)(dialog)
            dialog.kind.setCurrentIndex(dialog.kind.findData("middle"))
            points = iter((31, 18))
            for field in dialog._points.values():
                field.setValue(next(points))
            dialog.player.setCurrentIndex(dialog.player.findData("b"))
            dialog.run.setValue(24)
            dialog.balls.setText("six reds, all colours")
            self.assertIn("12 on the table", dialog._told.text())
            dialog.asks.setCurrentIndex(1)

        self.next_rack(fill)

    def test_score_remaining_and_what_is_on_follow(self):
        self.enter()
        self.strike("7", "E", "G")
        self.assertEqual(self.line[:2], ("31 – 18", "frames 2 – 3"))
        self.assertIn("break 24", self.line[2])
        shot = self.review.controller.shot.record
        self.assertEqual((shot.player, shot.intent), ("b", "pot"))
        state = self.outcome().snooker
        self.assertEqual((state.next_on, state.remaining_points, state.lead["b"]), ("red", 6 * 8 + 27, -6))
        for _ in range(6):
            self.strike("1", "E", "G")
            self.strike("7", "D", "G")
        for value in "234567":
            self.strike(value, "E", "G")
        # 18 + 7 + 6 × 8 + 27 = 100 beside 31.
        _, racks, visits = self.match_page()
        self.assertEqual((racks[-1][0], racks[-1][1], racks[-1][3]), ("6", "2 – 4", "Bram Oster"))
        self.assertEqual(visits[-1][5], "106 (24 carried in)")
        self.assertIn("106", self.figures("visits", "bram oster")["best"])
        self.assertEqual(self.report()["b"]["visits"]["highest"], 106)

    def test_the_first_strike_is_no_break_and_an_empty_rack_gives_its_place(self):
        self.enter()
        self.assertEqual([row.record.number for row in self.snapshot.racks], [6])
        self.next_rack(score(3, 3))
        self.assertEqual([row.record.number for row in self.snapshot.racks], [7])
        press("Ctrl+Z")
        self.assertEqual([row.record.number for row in self.snapshot.racks], [6])


class ARackWithoutAWinner(Clocked):
    """The film ends within rack 2; the next one begins with rack 3, and its score says who won rack 2."""

    def test_the_very_next_number_is_kept_and_nothing_is_left_out(self):
        self.begin(game="nine_ball", rules={"race_to": 5})
        self.strike("9", "E")  # rack 1, a
        self.strike("M")  # rack 2, nobody
        self.next_rack(score(1, 1))
        records = [row.record for row in self.snapshot.racks]
        self.assertEqual([rack.number for rack in records], [1, 2, 3])
        self.assertFalse(any(rack.not_shown for rack in records))
        self.assertEqual(records[-1].score_before, {"a": 1, "b": 1})
        self.strike("9", "E")  # rack 3, a
        self.assertEqual(self.snapshot.score.score, {"a": 2, "b": 1})

    def test_a_number_further_on_leaves_racks_out(self):
        self.begin(game="nine_ball", rules={"race_to": 5})
        self.strike("9", "E")
        self.strike("M")
        self.next_rack(score(1, 2))
        self.assertEqual([row.record.not_shown for row in self.snapshot.racks], [None, None, True, None])
        self.assertEqual(self.snapshot.racks[-1].record.number, 4)


class RunOfStraightPool(Clocked):
    """A run alone, carried in at 304 and ended at 308; no target ends it."""

    def test_a_run_is_carried_in(self):
        self.begin(game="straight_pool", players=[{"id": "a", "name": "Ada Kern"}], kind="practice")

        def fill(dialog):
            write("304")
            dialog.kind.setCurrentIndex(dialog.kind.findData("middle"))
            dialog.run.setValue(304)
            dialog.balls.setText("3 9 12")

        self.next_rack(fill)
        self.strike("3", "E", "G")
        self.assertEqual(self.line[0], "304")
        self.assertIn("run 304 (21 racks and 10)", self.line[2])
        self.assertIn("3 balls up", self.line[2])
        self.strike("9", "E", "G")  # one is left: the others are racked
        self.assertEqual(self.outcome().ended_by, "reracked")
        self.strike("1", "E", "G")
        self.strike("2", "E", "G")
        self.strike("5", "E", "C")
        self.assertEqual(self.line[0], "308")
        self.strike("6", "E", "G")
        _, _, visits = self.match_page()
        self.assertEqual([row[5] for row in visits], ["308 (22 racks, 304 carried in)", "1"])
        self.assertEqual(visits[1][2], "again, nobody else plays")
        self.assertIn("308", self.figures("visits", "ada kern")["best"])
        self.assertEqual(self.report()["a"]["visits"]["highest"], 308)


LAYOUT = {"cue": [0.7, 0.6], "2": [1.2, 0.3], "10": [1.6, 0.9], "8": [2.2, 0.8]}


class OneLayoutTwice(Clocked):
    """A layout cleared twice, once for each group; the second rack begins from the layout in hand."""

    def test_the_same_layout_for_both_groups(self):
        shot = {"player": "a", "recording": "clock", "t_strike": 1.0, "before": LAYOUT}
        rack = {"number": 1, "layout": LAYOUT, "shots": [{"number": 1, **shot}]}
        self.begin(
            game="eight_ball",
            players=[{"id": "a", "name": "Ada Kern"}],
            kind="practice",
            recordings=[{"id": "clock"}],
            racks=[rack],
        )
        press("2", "E", "G")
        self.now = 100.0
        self.strike("8", "D", "G")
        self.assertEqual(self.review.controller.rack_score.winner, "a")
        press("Up")
        self.next_rack(lambda dialog: dialog.kind.setCurrentIndex(dialog.kind.findData("layout")))
        self.strike("1", "0", "E", "G")
        second = self.review.controller.shot.record
        self.assertEqual((second.intent, {**second.before}.keys()), ("pot", LAYOUT.keys()))
        self.assertIn("open table", self.line[2])
        self.strike("8", "D", "G")
        self.assertEqual(self.review.controller.rack_score.winner, "a")
        self.assertEqual(self.report()["a"]["racks"]["won"]["made"], 2)


class SaidOfWhatIsNotShown(Clocked):
    """A frame in progress, its balls placed by clicks, and what a commentator says of the frames before."""

    def test_a_claim_stands_apart_and_the_balls_lie_where_they_were_clicked(self):
        self.begin(game="snooker", table={"preset": "snooker_12ft"})

        def place(dialog):
            for at in ((0.6, 0.9), (2.5, 0.8), (2.7, 1.0), (2.9, 1.1)):
                click(dialog.table, on_table(dialog.table, at))
            press("Backspace")  # the third red lies elsewhere
            self.assertEqual(dialog.ball, "red3")
            click(dialog.table, on_table(dialog.table, (3.0, 0.6)))
            click(dialog.buttons["black"])
            click(dialog.table, on_table(dialog.table, (3.25, 0.889)))
            self.assertIn("5 placed", dialog.told.text())
            press("Return")

        def fill(dialog):
            dialog.kind.setCurrentIndex(dialog.kind.findData(MIDDLE))
            dialog.said.setText("carl streak 5")
            press("Return")
            self.assertIn("is nobody here", dialog._told.text())
            self.assertTrue(dialog.isVisible())
            dialog.said.setText("ada streak 5 by ida; bram break 88")
            in_dialog(place)
            click(dialog.by_clicks)
            self.assertEqual(dialog.balls.text(), "red1 red2 red3 black")
            dialog.setFocus()

        self.next_rack(fill)
        self.strike("1", "Q", "G")
        lies = self.review.controller.shot.record.before
        self.assertEqual(set(lies), {"cue", "red1", "red2", "red3", "black"})
        self.assertIn("on: a red", self.line[2])
        summary = self.match_page()[0]
        self.assertIn("a row of 5, says ida, of what is not shown. Bram", summary)
        self.assertIn("a visit of 88, as said, of what is not shown", summary)
        said = self.figures("visits", "ada quill")
        self.assertIn("5, says ida", said["stated_streak"])
        self.assertIn("88, as said", self.figures("visits", "bram oster")["stated_break"])
        ada, bram = (self.report()[key]["racks"] for key in "ab")
        self.assertEqual((ada["streak"]["proven"], ada["streak"]["stated"]), (0, 5))
        self.assertEqual((bram["streak"]["stated"], bram["stated"]["break"]), (None, 88))
