"""One story for each kind of work: the whole judgement entered by keys and words, then looked up again."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel

from ripasso.review.document.edits import add_session
from ripasso.review.record.model import serialize
from tests.sessions import rack_of, session
from tests.windows import WindowCase, in_dialog, press, wait_until


def struck(count, player="a", seconds=20.0, start=10.0, **more):
    """Shots that are marked and not judged: one each so many seconds, four seconds long."""
    return [
        {
            "player": player,
            "recording": "clock",
            "t_strike": start + seconds * i,
            "t_rest": start + seconds * i + 4,
            **more,
        }
        for i in range(count)
    ]


class Kind(WindowCase):
    """Helpers: words for a shot, words for the rack, what stands where."""

    def begin(self, game, racks, **more):
        recordings = [{"id": "clock"}]
        made = session(game=game, racks=racks, recordings=recordings, **more)
        self.workspace.document.run(add_session(made))
        self.window.open_session("test")

    def say(self, text):
        press(";")
        line = self.review.slip.words
        wait_until(line.line.hasFocus, "the line")
        QTest.keyClicks(line.line, text)
        press("Return")
        self.assertTrue(line.isHidden(), f"{text}: {line.hint.text()}")

    def rack_says(self, *lines):
        seen = {}

        def work(dialog):
            for text in lines:
                dialog.line.setText(text)
                QTest.keyClick(dialog.line, Qt.Key.Key_Return)
                self.assertEqual(dialog.line.text(), "", dialog.told.text())
            seen["text"] = "\n".join(part.text() for part in dialog.findChildren(QLabel))
            seen["sheet"] = dialog.sheet
            dialog.reject()

        in_dialog(work)
        press("Alt+K")
        return seen

    def find(self, line):
        press("Ctrl+F")
        page = self.review.find_page
        page.line.setText(line)
        page._ask()
        wait_until(lambda: page.model.found and page.model.found.line == line, "the answer")
        shots = [
            (page.model.data(page.model.index(row, 1)), page.model.data(page.model.index(row, 2)))
            for row in range(page.model.rowCount())
        ]
        press("Ctrl+F")
        return shots

    @property
    def record(self):
        return self.review.controller.shot.record

    @property
    def rack(self):
        return self.review.controller.rack.record


class BreakBuilding(Kind):
    """A frame of snooker stroke by stroke: total, time, what freed the colour, the errors at its end."""

    def test_a_break_is_looked_up(self):
        self.begin("snooker", [rack_of(*struck(1, "b", intent="break"), *struck(7, "a", start=40.0))])
        self.say("missed")
        press("Down", "1", "Q", "G", "J")  # red, top left, down, good
        press("Down", "7", "E", "G", "K")  # black
        press("Down", "1", "Q", "G")
        self.say("good, opened a cluster, freed a ball, screw, firm")
        press("Down", "6", "E", "G", "J")  # the pink that was freed
        press("Down", "1", "Q", "G", "L", "O", "Alt+P")  # the last red: ran long, by pace
        press("Down", "7", "E", "G", "L", "B")  # the black is made, on the wrong side
        press("Down", "1", "Q", "C", "U")  # and the next red is missed thick
        press("Shift+J")
        # Total and time of the break.
        line = self.review.score_line
        self.assertIn("23", " ".join(part.text() for part in line.findChildren(QLabel)))
        press("F8")
        visits = self.review.match_page.visit_model
        rows = [
            [visits.data(visits.index(row, column)) for column in range(visits.columnCount())]
            for row in range(visits.rowCount())
        ]
        mine = next(row for row in rows if "23" in row)
        self.assertTrue(any(cell.endswith(" s") and cell != "0 s" for cell in mine), mine)
        press("F8")
        # Which stroke freed the colour, and the chain of errors at the end.
        self.assertEqual(self.find("event:ball_freed"), [("1", "4")])
        self.assertEqual(self.record.error.cause_shot, 6)
        self.assertEqual(self.find("root:>0"), [("1", "8")])
        self.assertEqual(self.find("position:lost"), [("1", "6"), ("1", "7")])
        self.assertEqual(self.find("cause:pace"), [("1", "6")])
        seen = self.rack_says("lesson stop for the black, not past it")
        self.assertIn("Suggested: shot 6.", seen["text"])


LAYOUT = {"cue": [0.6, 0.6], **{str(n): [0.9 + 0.1 * n, 0.25 + 0.11 * (n % 8)] for n in range(1, 16)}}


class EightBall(Kind):
    """Group choice, a trouble ball, two routes weighed, and a change of plan."""

    def test_a_rack_is_planned_and_planned_anew(self):
        shots = struck(1, intent="break") + struck(5, start=30.0)
        shots[1]["before"] = LAYOUT
        self.begin("eight_ball", [rack_of(*shots)])
        press("3", "E", "J")
        press("Down")
        seen = self.rack_says(
            "group solids because four are open; order 1 2 5 4 6 7 8; key 7", "6 trouble; 4 7 cluster"
        )
        self.assertIn("solids because four are open", seen["text"])
        press("1", "E")

        def weigh(dialog):
            dialog.by.setText("ada")
            QTest.keyClicks(dialog.reason, "the straight one")
            QTest.keyClick(dialog.reason, Qt.Key.Key_Return)
            self.review.controller.pocket("side_left")
            QTest.keyClicks(dialog.reason, "opens the cluster")
            QTest.keyClick(dialog.reason, Qt.Key.Key_Return)
            self.assertEqual(len(dialog.lines), 2)
            self.assertTrue(all(line.chance is not None for line in dialog.lines))
            dialog.table.selectRow(0)
            dialog.choose()
            dialog.table.selectRow(1)
            dialog.prefer()
            dialog.accept()

        in_dialog(weigh)
        press("Alt+W", "E", "G", "J")
        press("Down", "2", "E", "G", "J", "Down", "6", "E", "G")
        self.say("solved the trouble ball, good")
        press("Down")
        seen = self.rack_says("order 4 7 5 8 because the 7 came free")
        press("4", "E", "G", "J", "Down", "7", "E", "G", "J")
        # Looked up: two versions of the plan, what was played of each, the trouble ball and when.
        seen = self.rack_says()
        first, second = seen["sheet"].plans
        self.assertEqual((self.rack.plans[1].made_at_shot, self.rack.plans[1].group), (5, "solids"))
        self.assertEqual([line.fell_at for line in second.lines], [5, 6, None, None])
        self.assertIn("out of turn", seen["text"])
        self.assertIn("6: trouble, solved at shot 4", seen["text"])
        self.assertEqual(len(first.lines), 7)
        options = self.review.controller.snapshot.shots[1].record.plan.options
        self.assertEqual(
            [(o.by, o.reason) for o in options], [("ada", "the straight one"), ("ada", "opens the cluster")]
        )
        self.assertEqual(self.find("verdict:prefer_other"), [("1", "2")])
        self.assertEqual(self.find("event:role_solved"), [("1", "4")])


class NineBall(Kind):
    """A late failure traced back over three shots."""

    def test_the_root_is_three_shots_before(self):
        self.begin("nine_ball", [rack_of(*struck(1, intent="break"), *struck(6, start=30.0))])
        press("7", "E", "8", "Q", "J")
        for ball in ("1", "2"):
            press("Down", ball, "E", "G", "J")
        press("Down", "3", "E", "G", "L", "O", "Alt+P")  # where it began: ran long
        press("Down", "4", "E", "G", "L", "B")
        press("Down", "5", "E", "G", "L", ",")
        press("Down", "6", "Q", "V", "U")  # missed thin
        self.assertEqual(self.record.number, 7)
        press("Shift+J")
        self.assertEqual(self.record.error.cause_shot, 4)
        token = self.review.ribbon._ribbon.tokens[6]
        self.assertEqual(token.cause, 4)
        seen = self.rack_says("root 4; lesson play the 3 softer")
        self.assertIn("At shot 4, as said.", seen["text"])
        self.assertIn("Lesson: play the 3 softer", self.review.shots._story.text())
        self.assertEqual(self.find("root:4 unforced:pot"), [("1", "7")])


class StraightPool(Kind):
    """Break ball, key ball, insurance, and a cluster that was opened."""

    def test_the_end_of_a_rack_is_planned_from_behind(self):
        self.begin("straight_pool", [rack_of(*struck(5))])
        self.rack_says(
            "order 3 9 12 7; key 12; break 7", "5 6 cluster; 9 insurance; 7 break ball; 12 key ball"
        )
        press("3", "E", "G")
        self.say("opened a cluster, good, next 9 foot right or 12, want a little angle")
        press("Down", "9", "D", "G", "J")
        press("Down", "1", "2", "E", "G", "J")
        press("Down", "7", "E", "G")
        self.say("good, follow, power")
        seen = self.rack_says()
        (plan,) = seen["sheet"].plans
        self.assertIn("key ball 12", plan.title)
        self.assertIn("break ball 7", plan.title)
        self.assertEqual([line.fell_at for line in plan.lines], [1, 2, 3, 4])
        self.assertTrue(all(line.in_turn for line in plan.lines))
        for words in ("9: insurance ball", "7: break ball", "12: key ball", "5: in a cluster"):
            self.assertIn(words, seen["text"])
        self.assertEqual(self.find("event:cluster_opened"), [("1", "1")])
        first = self.review.controller.snapshot.shots[0].record.plan
        self.assertEqual((first.next_ball, first.next_pocket, first.or_balls), ("9", "foot_right", ("12",)))


class RepeatedFault(Kind):
    """Two racks with the same fault: found in both, counted, and shown one after the other."""

    def test_the_fault_is_counted_over_both_racks(self):
        racks = [rack_of(*struck(1, intent="break"), *struck(2, start=30.0))]
        racks.append(
            {**rack_of(*struck(1, intent="break", start=200.0), *struck(2, start=230.0)), "number": 2}
        )
        self.begin("nine_ball", racks)
        for _ in range(2):
            press(
                "5",
                "E",
                "J",
                "Down",
                "1",
                "E",
                "G",
                "L",
                "O",
                "Alt+P",
                "Down",
                "2",
                "Q",
                "C",
                "Alt+A",
                "Down",
            )
        seen = self.rack_says()
        self.assertIn("Position by pace in 2 racks: shots 1.2, 2.2", seen["text"])
        self.assertIn("Missed pot by aim in 2 racks: shots 1.3, 2.3", seen["text"])
        self.assertEqual(self.find("cause:pace pace:long"), [("1", "2"), ("2", "2")])
        press("Ctrl+G")
        first = self.review.controller.shot.key
        press("Ctrl+G")
        self.assertNotEqual(self.review.controller.shot.key, first)
        self.assertEqual(self.record.result.pace, "long")


class KeyCounts(Kind):
    """How many keys a judgement costs; each press counts, one with Shift or Alt as one."""

    def pressed(self, *keys):
        press(*keys)
        return len(keys)

    def setUp(self):
        super().setUp()
        self.begin("nine_ball", [rack_of(*struck(1, intent="break"), *struck(3, start=30.0))])
        press("5", "E", "Down")

    def test_a_routine_pot_costs_at_most_five(self):
        self.assertLessEqual(self.pressed("1", "E", "G", "J", "Y"), 5)
        data = serialize(self.record)
        self.assertEqual(data["facts"]["potted"], [{"ball": "1", "pocket": "foot_left"}])
        self.assertEqual((data["result"]["position"], data["decision"]["verdict"]), ("good", "agree"))

    def test_a_missed_pot_thick_with_pace_and_cause_costs_at_most_eight(self):
        keys = self.pressed("1", "E", "C", "I", "Alt+P", "U")
        self.assertLessEqual(keys, 8)
        error = self.record.error
        self.assertEqual((error.kind, error.causes, error.unforced), ("pot", ("pace",), True))
        self.assertEqual((self.record.result.contact, self.record.result.pace), ("thick", "short"))

    def test_a_position_error_and_its_root_cost_at_most_three_each(self):
        press("1", "E", "G")
        self.assertLessEqual(self.pressed("L", "O", "U"), 3)
        self.assertEqual(self.record.error.kind, "position")
        press("Down", "2", "E", "C")
        self.assertLessEqual(self.pressed("Shift+J"), 3)
        self.assertEqual(self.record.error.cause_shot, 2)

    def test_an_attempt_costs_one(self):
        press("Ctrl+A")
        wait_until(self.review.again_page.hasFocus, "the counter")
        self.assertLessEqual(self.pressed("G"), 2)
        self.assertEqual(len(self.review.again.made.attempts), 1)
