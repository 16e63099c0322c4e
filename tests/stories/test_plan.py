"""From a reviewed shot to Plan and back: a stroke by keys and mouse, options, one kept with its shot."""

import math

import numpy as np
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication, QLabel

from ripasso.core.compiled_folder import is_compiled
from ripasso.core.physics.motion import simulate
from ripasso.core.planning.expected import in_zone
from ripasso.core.table.presets import INCH
from ripasso.demo.filming.strokes import RACK
from ripasso.demo.library import film_path, film_truth
from ripasso.review.document.edits import add_session
from ripasso.review.entry.kept_layouts import keep_layout
from ripasso.review.record.model import serialize
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, click, drag, in_dialog, on_table, press, wait_until, write


class OfAShot(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        for _ in range(9):
            press("Down")
        self.shot = self.review.controller.shot.key
        press("Ctrl+Shift+P")
        wait_until(lambda: self.window.plan.desk is not None, "the simulator")
        self.desk = self.window.plan.desk
        self.to, self.state = self.desk.controller, self.desk.controller.state

    def counted(self):
        wait_until(lambda: self.state.expected is not None, "the repetitions")


class WithoutAShot(WindowCase):
    """A table for Plan from a picture of the film, and from the kept layouts."""

    def setUp(self):
        super().setUp()
        self.truth = film_truth()
        film = {"id": "film", "file": str(film_path()), "views": [{"camera": self.truth["camera"]}]}
        self.workspace.document.run(add_session(session(recordings=[film])))
        self.window.open_session("test")
        self.wait_for_film()

    @property
    def state(self):
        return self.window.plan.desk.controller.state

    def on_the_desk(self):
        """The window shows Plan, its desk built."""
        wait_until(lambda: self.window.plan.isVisible() and self.window.plan.desk is not None, "Plan")

    def test_the_balls_of_a_picture(self):
        self.go_to(self.truth["shots"][0]["t_strike"] - 0.5)
        press("Ctrl+Shift+P")
        self.assertIn("The balls are looked for", self.said[-1])
        self.on_the_desk()
        wait_until(
            lambda: self.state.name.startswith("The film at"), f"the balls: {self.said} {self.state.name}"
        )
        self.assertIsNone(self.state.source)
        true = {ball: place[:2] for ball, place in self.truth["shots"][0]["before"].items()}
        self.assertEqual(set(self.state.problem.layout), set(true))
        for ball, place in self.state.problem.layout.items():
            self.assertLess(math.dist(place, true[ball]), 0.015, ball)
        self.assertEqual(self.state.problem.on, ("1",))
        self.assertIn("The film at", self.window.plan.desk._title.text())
        press("Return")  # there is no shot to keep it with
        self.assertFalse(self.window.plan.desk.actions_book["attach"].isEnabled())

    def test_whoever_went_elsewhere_meanwhile_stays_there(self):
        press("Ctrl+Shift+P", "Ctrl+1")
        wait_until(lambda: not self.workspace.background.busy, "the balls")
        self.assertTrue(self.window.sessions.isVisible())

    def test_a_kept_layout(self):
        press("Ctrl+3")
        self.on_the_desk()
        press("L")
        self.assertIn("No layout is kept yet", self.said[-1])
        snapshot = self.workspace.document.session("test")
        for name, layout in (
            ("Two left", {"cue": (0.6, 0.4), "8": (1.9, 0.9), "9": (2.2, 0.3)}),
            ("Only one", {"9": (2.2, 0.3)}),
        ):
            self.workspace.document.run(keep_layout(snapshot, layout, name, ["late"]))

        def take(word):
            def act(dialog):
                self.assertEqual(dialog.pick.list.count(), 2)
                write("nothing of it")
                self.assertEqual((dialog.chosen, dialog.take.isEnabled()), (None, False))
                press("Return")
                self.assertTrue(dialog.isVisible())
                dialog.pick.line.clear()
                write(word)
                self.assertEqual(dialog.title.text(), dialog.chosen.title)
                press("Return")

            in_dialog(act)
            press("L")

        take("two")
        self.assertEqual(self.window.plan.desk._title.text(), "Two left")
        self.assertEqual(self.state.problem.layout["8"], (1.9, 0.9))
        self.assertEqual((self.state.problem.game, self.state.problem.on), ("nine_ball", ("8",)))
        self.assertEqual(self.state.problem.call[0], "8")
        take("only")
        self.assertIn("this layout has not both", self.said[-1])
        self.assertEqual(self.state.name, "Two left")
        in_dialog(lambda _dialog: press("Esc"))
        press("L")
        self.assertEqual(self.state.name, "Two left")
        press("Ctrl+V")  # whatever is there: a table that came from text has no name
        QApplication.clipboard().setText("cue 0.6 0.4\n9 1.9 0.9")
        press("Ctrl+V")
        self.assertEqual(self.window.plan.desk._title.text(), "A table of one's own")

    def test_a_ball_is_called_otherwise_and_another_taken_away(self):
        press("Ctrl+3")
        self.on_the_desk()
        QApplication.clipboard().setText("cue 0.6 0.4\n1 1.9 0.9\n2 2.2 0.3\n3 1.2 1.0")
        press("Ctrl+V")

        def called(name):
            def act(dialog):
                self.assertIn("The 1 is in truth", dialog.findChild(QLabel).text())
                write(name)
                press("Return")

            in_dialog(act)
            press("N")

        called("9")
        self.assertEqual(self.state.problem.layout["9"], (1.9, 0.9))
        self.assertEqual((self.state.problem.on, self.state.problem.call[0]), (("2",), "2"))
        self.assertIn("The 1 is the 9 now", self.said[-1])
        click_on = self.desk_of_plan.controller
        click_on.balls.rename("2", "3")  # both are on the table: they change places
        self.assertEqual(
            (self.state.problem.layout["2"], self.state.problem.layout["3"]), ((1.2, 1.0), (2.2, 0.3))
        )
        for text, said in (("queen", "There is no ball"), ("cue", "keeps its name")):
            click_on.balls.rename("2", text)
            self.assertIn(said, self.said[-1])
        press("Del")
        self.assertEqual(set(self.state.problem.layout), {"cue", "3", "9"})
        press("Del")
        self.assertEqual((set(self.state.problem.layout), self.state.problem.on), ({"cue", "9"}, ("9",)))
        press("Del")
        self.assertIn("One object ball stays", self.said[-1])
        self.assertEqual(set(self.state.problem.layout), {"cue", "9"})

    @property
    def desk_of_plan(self):
        return self.window.plan.desk


class Planning(OfAShot):
    def test_from_a_shot_to_an_option_of_it(self):
        self.assertTrue(is_compiled())
        self.assertIn("shot 10 · 6 to foot left", self.desk._title.text())
        self.assertEqual(self.state.problem.call, ("6", "foot_left"))
        self.assertEqual(self.state.problem.on, ("6",))
        self.counted()
        self.assertGreater(self.state.expected.pot.rate, 0.1)
        # The film's balls move by the same laws: the stroke that was played is told from their ways.
        wait_until(lambda: self.state.played is not None, "what was played")
        self.assertRegex(self.desk._played.text(), r"^Played: \w+, 3\.2\d ± 0\.\d+ m/s, \d mm off$")
        self.assertAlmostEqual(self.state.played.stroke.speed, RACK[9].stroke.speed, delta=0.03)
        self.turn_by_keys()
        self.find_options()
        self.keep_beside_and_attach()

    def turn_by_keys(self):
        """Each key says what it did, and the balls' ways follow at once."""
        aim, motion = self.state.stroke.phi, self.state.motion
        press("Left")
        self.assertAlmostEqual(math.degrees(self.state.stroke.phi - aim), 0.1)
        self.assertRegex(self.said[-1], r"^Aim 0\.1° to the left: \d+\.\d°\.$")
        self.assertIsNot(self.state.motion, motion)
        press("Shift+Right")
        self.assertAlmostEqual(math.degrees(self.state.stroke.phi - aim), -1.9)
        press("R")  # aimed at the pot again
        self.assertAlmostEqual(self.state.stroke.phi, aim, places=6)
        speed = self.state.stroke.speed
        press("Up", "Up")
        self.assertAlmostEqual(self.state.stroke.speed, speed * 1.05**2)
        press("Down", "W", "D")
        across = 1000 * self.state.stroke.a * self.state.problem.spec.ball_radius
        self.assertAlmostEqual(across, 1.0, places=6)
        self.assertIn("Tip +1 mm across", self.said[-1])
        press("S", "A")

    def find_options(self):
        press("O")
        wait_until(lambda: self.state.options and self.to.share is None, "the options")
        self.assertEqual(self.desk.options.rowCount(), len(self.state.options))
        best = self.state.options[0]
        press("1")
        self.assertEqual(self.state.stroke, best.stroke)
        # What stands in the list is what the stroke in hand promises.
        self.assertEqual(self.state.expected, best.expected)
        shown = self.desk.options.item(0, 2).text()
        self.assertEqual(shown, f"{100 * best.expected.pot.rate:.0f} %" if best.pocket else "–")
        press("P")
        self.assertEqual(self.state.stroke, self.state.played.stroke)
        press("1")
        press("9")  # there are six at most: nothing happens
        self.assertEqual(self.state.stroke, best.stroke)

    def keep_beside_and_attach(self):
        press("K")
        self.assertEqual(self.state.kept[0], self.state.stroke)
        press("2")
        self.assertNotEqual(self.state.kept[0], self.state.stroke)
        self.counted()
        press("Return")
        self.assertIn("Kept as an option", self.said[-1])
        planned = self.state.stroke
        press("Esc")
        self.assertEqual(self.review.controller.shot.key, self.shot)
        (option,) = [one for one in self.review.controller.shot.record.plan.options if one.stroke is not None]
        data = serialize(option)
        self.assertAlmostEqual(data["stroke"]["speed_m_s"], planned.speed, places=3)
        self.assertEqual(data["chance"], round(self.state.expected.pot.rate, 3))
        self.assertEqual(len(data["route"]), len(data["route_s"]))
        # On the film the planned ball runs in time: at each frame where the simulator has it.
        for time_s in (0.3, 1.1, 2.0):
            (_, place), *_ = self.review.pictures.running(time_s)
            wanted = self.state.motion.places("cue", np.array([time_s]))[0]
            self.assertLess(math.dist(place, wanted), 0.02)
        self.assertEqual(self.review.pictures.running(-0.5), [])
        press("Ctrl+Z")
        plan = self.review.controller.shot.record.plan
        self.assertFalse(plan is not None and plan.options)

    def test_the_mouse_moves_balls_turns_the_aim_and_names_a_pot(self):
        table = self.desk.table
        cue = self.state.problem.layout["cue"]
        away = (cue[0] + 0.5, cue[1] + 0.75)
        aim_at = (cue[0] - 0.3, cue[1] + 0.35)
        drag(table, on_table(table, (cue[0] - 0.2, cue[1] - 0.05)), on_table(table, aim_at))
        self.assertAlmostEqual(self.state.stroke.phi, math.atan2(0.35, -0.3), delta=0.03)
        drag(table, on_table(table, cue), on_table(table, away))
        self.assertLess(math.dist(self.state.problem.layout["cue"], away), 0.02)
        click(table, on_table(table, self.state.problem.layout["9"]))
        self.assertEqual(self.state.problem.call[0], "9")
        self.assertEqual(self.state.motion.pockets.get("9"), self.state.problem.call[1])
        before = self.state.stroke
        tip = self.desk.stroke.tip
        click(tip, tip.rect().center() + QPoint(0, 20))
        self.assertLess(self.state.stroke.b, -0.1)
        self.assertNotEqual(self.state.stroke, before)
        self.desk.stroke.pace.setValue(80)
        self.assertAlmostEqual(self.state.stroke.speed, 4.0)

    def test_the_stroke_runs_in_time_and_can_be_sought(self):
        end = self.state.motion.duration
        press("Space")
        wait_until(lambda: (self.to.time_s or 0) > 0.05, "balls that run")
        press("Space")
        self.assertFalse(self.to.playing)
        self.to.seek(end)
        shown = self.desk.table.scene.balls
        for ball, place in self.state.motion.rest().items():
            self.assertLess(math.dist(shown[ball], place), 1e-9)
        press("X")
        self.assertEqual(self.to.speed, 0.5)

    def test_another_table_and_another_player(self):
        self.counted()
        usual = self.state.expected.pot.rate
        self.desk.stroke.mouth.setValue(4.0)
        self.counted()
        self.assertAlmostEqual(self.state.problem.spec.corner_mouth, 4.0 * INCH)
        self.assertLess(self.state.expected.pot.rate, usual)
        level = self.desk.stroke.level
        level.setCurrentIndex(level.findData("professional"))
        level.activated.emit(level.currentIndex())
        self.counted()
        self.assertGreater(self.state.expected.pot.rate, 0.8 * usual)
        runs = self.state.motion.duration
        cloth = self.desk.stroke.cloth
        cloth.setCurrentIndex(cloth.findData("fast"))
        cloth.activated.emit(cloth.currentIndex())
        self.assertGreater(self.state.motion.duration, runs)

    def test_a_layout_as_text(self):
        press("Ctrl+C")
        text = QApplication.clipboard().text()
        self.assertIn("cue ", text)
        QApplication.clipboard().setText("cue 0.6 0.4\n3 1.5 0.7")
        press("Ctrl+V")
        self.assertEqual(set(self.state.problem.layout), {"cue", "3"})
        self.assertIsNone(self.state.source)
        self.assertFalse(self.desk.actions_book["attach"].isEnabled())
        for wrong, words in (("3 1.5 0.7", "needs a cue ball"), ("nonsense", "is not a ball")):
            QApplication.clipboard().setText(wrong)
            press("Ctrl+V")
            self.assertIn(words, self.said[-1])
        # What is drawn is what the simulator says.
        motion = simulate(
            self.state.problem.layout, self.state.stroke, self.state.problem.bed, self.state.problem.physics
        )
        self.assertEqual(motion.rest(), self.state.motion.rest())


class WithoutBalls(WindowCase):
    def test_a_shot_without_its_balls_says_what_is_missing(self):
        self.workspace.document.run(add_session(session(racks=[rack_of(played("a"), played("a"))])))
        self.window.open_session("test")
        press("Ctrl+Shift+P")
        self.assertIn("Place the balls before the shot first", self.said[-1])
        self.assertEqual(self.window.reviewed, "test")

    def test_plan_without_a_shot_is_a_table_of_one_s_own(self):
        press("Ctrl+3")
        self.assertIs(self.window._stack.currentWidget(), self.window.plan)
        wait_until(lambda: self.window.plan.desk is not None, "the simulator")
        desk = self.window.plan.desk
        self.assertEqual(desk._title.text(), "A table of one's own")
        self.assertTrue(desk.controller.state.motion.pockets)
        press("Ctrl+1")


class ZoneAndHand(OfAShot):
    def test_a_zone_a_stroke_beside_and_the_player_s_own_aim(self):
        self.counted()
        press("Z")
        self.assertIn("Zone: 15 cm", self.said[-1])
        zone = self.state.zone
        inside = in_zone(self.state.expected, zone)
        shown = [label.text() for label in self.desk.stroke.findChildren(QLabel)]
        self.assertIn(f"{100 * inside.rate:.0f} % ({100 * inside.low:.0f}–{100 * inside.high:.0f})", shown)
        press("+")
        self.assertGreater(self.state.zone.radius, zone.radius)
        self.assertGreaterEqual(in_zone(self.state.expected, self.state.zone).rate, inside.rate)
        press("K", "Up", "Up")
        self.counted()
        shown = [label.text() for label in self.desk.stroke.findChildren(QLabel)]
        self.assertIn("kept beside", shown)
        press("Z")
        self.assertIsNone(self.state.zone)
        wait_until(lambda: self.state.own is not None, "the player's own aim")
        level = self.desk.stroke.level
        level.setCurrentIndex(level.findData("own"))
        level.activated.emit(level.currentIndex())
        self.assertEqual((self.state.spreads.source, self.state.spreads), ("own", self.state.own))
        self.counted()
        self.assertIn("own aim", level.toolTip())

    def test_a_stroke_kept_before_it_was_counted_is_counted(self):
        press("Up", "K", "Up")
        wait_until(lambda: self.state.kept[2] is not None, "the kept stroke's figures")
        self.assertGreater(self.state.kept[2].repetitions, 100)

    def test_off_a_cushion_beside_the_mirror_s_line(self):
        press("V")
        shot = self.state.cushion_shot
        self.assertRegex(
            self.said[-1], r"^Off the \w+ cushion: .* it meets the ball; in at \d+°, out at \d+°"
        )
        self.assertIsNone(self.state.problem.call)
        drawn = [one for one in self.desk.table.scene.under if getattr(one, "points", None) == shot.line]
        self.assertEqual(len(drawn), 1)
        press("V")
        self.assertNotEqual(self.state.cushion_shot.cushion, shot.cushion)
        press("Left")
        self.assertIsNone(self.state.cushion_shot, "another aim is another stroke")
        press("B")
        self.assertIn("cushion", self.said[-1])

    def test_the_cue_ball_in_hand(self):
        press("I")
        wait_until(lambda: self.state.options and self.to.share is None, "places")
        best = self.state.options[0]
        self.assertGreater(best.expected.pot.rate, 0.9)
        press("1")
        self.assertEqual(self.state.problem.layout["cue"], best.cue_place)
        self.assertEqual(self.desk.table.scene.balls["cue"], best.cue_place)
