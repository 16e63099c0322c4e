"""Measuring in the real window: a view is set, balls are clicked, the error is read off the screen."""

import math
import statistics
import tempfile
from pathlib import Path

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication, QPushButton

from ripasso.core.table import table_spec
from ripasso.core.table.known_points import known_points
from ripasso.demo.filming.film import Scene, encode, pictures
from ripasso.demo.filming.rooms import side_camera
from ripasso.film.calibration.camera import Camera
from ripasso.review.document.edits import add_session
from ripasso.review.language.translation import tr
from ripasso.review.table.layouts import read_layout
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, click, drag, in_dialog, on_table, press, wait_until

SPEC = table_spec({"preset": "pool_9ft"})
TRUE = Camera.from_data(side_camera(SPEC).described())
R = SPEC.ball_radius
BEFORE = {
    "cue": (0.9, 0.45),
    "1": (1.9, 0.9),
    "2": (0.4, 0.9),
    "3": (1.25, 1.0),
    "4": (2.2, 0.3),
    "5": (0.25, 0.25),
    "6": (1.6, 0.25),
    "7": (1.1, 0.7),
    "8": (2.35, 0.75),
    "9": (0.7, 1.15),
}
AFTER = {**{ball: place for ball, place in BEFORE.items() if ball != "1"}, "cue": (1.45, 0.62)}
AIM = (1.30, 0.50)


class MeasuredFilm(WindowCase):
    """A film of two still layouts: ten balls, then the 1 is gone and the cue ball rests elsewhere."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.film = Path(folder.name) / "two.mp4"
        scenes = (Scene(BEFORE),) * 50 + (Scene(AFTER),) * 30
        encode(pictures(scenes, SPEC), cls.film)

    def setUp(self):
        super().setUp()
        shot = {
            **played("a", "1"),
            "recording": "side",
            "t_strike": 1.0,
            "t_rest": 2.4,
            "call": {"ball": "1"},
        }
        shot["facts"]["potted"][0]["pocket"] = "foot_left"
        shot["call"]["pocket"] = "foot_left"
        racks = [rack_of(played("a", intent="break"), shot, {"player": "a", "intent": "pot"})]
        recordings = [{"id": "side", "file": str(self.film)}]
        made = session(racks=racks, recordings=recordings, table={"preset": "pool_9ft"})
        self.workspace.document.run(add_session(made))
        self.window.open_session("test")
        press("Down")
        self.wait_for_film()

    def on_film(self, view, place, height=R):
        """Where a place on the table is in a film view, to the nearest pixel of the widget."""
        ((u, v),) = TRUE.project([(*place, height)])
        return view.widget_place(QPointF(u, v)).toPoint()

    def set_view(self):
        def act(dialog):
            wait_until(lambda: dialog.film.picture is not None)
            for point in known_points(SPEC)[:10]:
                click(dialog.film, self.on_film(dialog.film, point.place[:2], point.place[2]))
                wait_until(lambda: not dialog.work.busy, "the camera")
            wait_until(lambda: dialog.state.fitted is not None and not dialog.work.busy, "the camera")
            self.quality = dialog._quality.text()
            click(next(b for b in dialog.findChildren(QPushButton) if b.text() == "Save"))

        in_dialog(act)
        press("Shift+V")
        wait_until(lambda: self.review.film_pointer.camera is not None, "the view")

    def place(self, ball, place, when):
        film, controller = self.review.film, self.review.controller
        click(film, self.on_film(film, place))
        wait_until(lambda: ball in (getattr(controller.shot.record, when) or {}), f"{ball} placed")

    def shown(self, name):
        return self.review.slip.measures.text(name)

    def test_from_the_view_to_the_error(self):
        self.set_view()
        self.assertIn("over 10 points", self.quality)
        self.assertRegex(self.quality, r"within \d+ mm in the middle")
        press("[")
        for ball, place in BEFORE.items():  # the cue ball is expected first, then the ball on
            self.place(ball, place, "before")
        off = [
            1000 * math.dist(self.review.controller.shot.record.before[ball], place)
            for ball, place in BEFORE.items()
        ]
        self.assertLess(statistics.median(off), 5, off)
        self.assertLess(max(off), 15, off)
        table = self.review.table
        press("Shift+X")
        click(table, on_table(table, BEFORE["2"]))  # names the next ball
        click(table, on_table(table, AIM))
        press("Shift+Z")
        drag(table, on_table(table, AIM), on_table(table, (AIM[0] + 0.1, AIM[1])))
        press("]")
        self.wait_for_film()
        self.place("cue", AFTER["cue"], "after")
        press("Esc")
        plan = self.review.controller.shot.record.plan
        self.assertEqual((plan.next_ball, plan.zone.circle is not None), ("2", True))
        truth = math.dist(AIM, AFTER["cue"])
        self.assertAlmostEqual(int(self.shown("off the aim").split()[0]), 1000 * truth, delta=12)
        self.assertAlmostEqual(
            int(self.shown("zone").removeprefix("missed by ").split()[0]), 1000 * (truth - 0.1), delta=16
        )
        # The last leg: from the ghost ball to the aim point, by hand.
        in_from_corner = 0.1143 / math.sqrt(2) / 2  # the middle between two noses, mouth / sqrt 2 from it
        pocket = (2.54 - in_from_corner, 1.27 - in_from_corner)
        way = math.atan2(pocket[1] - BEFORE["1"][1], pocket[0] - BEFORE["1"][0])
        ghost = (BEFORE["1"][0] - 2 * R * math.cos(way), BEFORE["1"][1] - 2 * R * math.sin(way))
        leg = math.atan2(AIM[1] - ghost[1], AIM[0] - ghost[0])
        error = (AFTER["cue"][0] - AIM[0], AFTER["cue"][1] - AIM[1])
        along = error[0] * math.cos(leg) + error[1] * math.sin(leg)
        across = -error[0] * math.sin(leg) + error[1] * math.cos(leg)
        first, second = self.shown("along, across").split(", ")
        self.assertEqual((first.split()[-1], second.split()[-1]), ("short", "right"))
        self.assertAlmostEqual(int(first.split()[0]), -1000 * along, delta=14)
        self.assertAlmostEqual(int(second.split()[0]), -1000 * across, delta=14)
        # The layout after is the next layout before, and the lines lie on the film too.
        third = self.review.controller.snapshot.shots[2].record
        self.assertEqual(set(third.before), set(AFTER))
        self.assertIsNotNone(self.review.film.layers)

    def test_refusals_nudges_and_undo(self):
        press("[")
        table, controller = self.review.table, self.review.controller
        click(table, on_table(table, (0.9, 0.45)))
        click(table, on_table(table, (0.91, 0.45)))  # on the cue ball: it is taken up and put down there
        self.assertEqual(list(controller.shot.record.before), ["cue"])
        click(table, on_table(table, (1.9, 0.9)))
        self.assertEqual(list(controller.shot.record.before), ["cue", "1"])
        lies = controller.shot.record.before["1"]
        press("Ctrl+Right", "Ctrl+Up")
        self.assertAlmostEqual(controller.shot.record.before["1"][0] - lies[0], 0.001, places=6)
        self.assertAlmostEqual(controller.shot.record.before["1"][1] - lies[1], 0.001, places=6)
        press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(controller.shot.record.before["1"], lies)
        drag(table, on_table(table, lies), on_table(table, (0.92, 0.45)))
        self.assertIn("would lie in the cue ball", self.said[-1])
        self.assertEqual(controller.shot.record.before["1"], lies)
        press("7")
        click(table, on_table(table, (1.2, 0.9)))
        self.assertIn("7", controller.shot.record.before)
        press("Delete")
        self.assertNotIn("7", controller.shot.record.before)
        press("Esc")
        drag(table, on_table(table, lies), on_table(table, (2.0, 0.7)))  # without a tool a ball is dragged
        self.assertAlmostEqual(controller.shot.record.before["1"][0], 2.0, delta=0.01)
        self.assertEqual(controller.shot.record.call.ball, "1")

    def test_a_layout_goes_through_the_clipboard_and_pictures_come_out(self):
        press("[")
        table, controller = self.review.table, self.review.controller
        for place in ((0.9, 0.45), (1.9, 0.9)):
            click(table, on_table(table, place))
        before = dict(controller.shot.record.before)
        press("Ctrl+Shift+C")
        self.assertEqual(set(read_layout(QApplication.clipboard().text())), {"cue", "1"})
        press("Ctrl+Z", "Ctrl+Z")
        self.assertIsNone(controller.shot.record.before)
        press("Ctrl+Shift+V")
        self.assertEqual(dict(controller.shot.record.before), before)
        QApplication.clipboard().setText("no layout at all")
        press("Ctrl+Shift+V")
        self.assertIn("not a ball with two numbers", self.said[-1])
        press("Esc", "Shift+C")
        data = QApplication.clipboard().mimeData()
        self.assertTrue(data.hasImage())
        self.assertIn(b"<svg", data.data("image/svg+xml").data())
        path = self.folder / "out.svg"
        self.review.table_controller.save_picture(path)
        self.assertIn("<svg", path.read_text())
        self.review.table_controller.save_picture(self.folder / "out.png")
        self.assertTrue((self.folder / "out.png").stat().st_size > 1000)
        self.review.table_controller.save_picture(self.folder / "missing" / "out.svg")
        self.assertIn("cannot be written", self.said[-1])

    def test_a_click_that_waits_for_its_frame_never_reaches_another_shot(self):
        self.set_view()
        press("[")
        wait_until(lambda: not self.workspace.background.busy, "the frame")
        press("Right")  # another frame, which is not decoded at its full size yet
        self.wait_for_film()
        click(self.review.film, self.on_film(self.review.film, BEFORE["cue"]))
        self.review.controller.step(1)
        wait_until(lambda: not self.workspace.background.busy, "the frame")
        self.assertEqual(
            [row.record.before for row in self.review.controller.snapshot.shots], [None, None, None]
        )
        self.assertTrue(self.review.context.pictures.looking)  # the tool was put down with its shot
        self.review.controller.step(-1)
        press("[")
        self.place("cue", BEFORE["cue"], "before")

    def test_a_click_without_a_view_says_what_to_do(self):
        press("[")
        click(self.review.film)
        self.assertIn("no view yet", self.said[-1])

    def test_the_view_is_kept_for_another_film_and_taken_away(self):
        self.set_view()
        views = self.review.controller.snapshot.head.recordings[0].views
        self.assertEqual(len(views), 1)
        self.assertEqual(len(views[0].points), 10)
        self.assertIsNone(views[0].from_)

        def take_away(dialog):
            wait_until(lambda: dialog.state.fitted is not None)
            click(next(b for b in dialog.findChildren(QPushButton) if b.text() == "Delete"))

        in_dialog(take_away)
        press("Shift+V")
        wait_until(lambda: not self.review.controller.snapshot.head.recordings[0].views)
        press("Ctrl+Z")
        self.assertEqual(self.review.controller.snapshot.head.recordings[0].views, views)

    def test_extreme_layouts_never_show_nonsense(self):
        jaws = (0.015, 0.015)
        cases = {
            "frozen to the cue ball": {"cue": (1.0, 0.5), "1": (1.0 + 2 * R, 0.5)},
            "in the jaws": {"cue": (1.0, 0.5), "1": jaws},
            "behind the ball": {"cue": (2.4, 1.2), "1": (2.3, 1.1)},
            "no way": {
                "cue": (0.3, 0.6),
                "1": (1.5, 0.6),
                "2": (0.42, 0.6),
                "3": (0.42, 0.66),
                "4": (0.42, 0.54),
            },
            "closed": {"cue": (0.2, 0.2), "1": (0.9, R)},
            "only the cue ball": {"cue": (1.0, 0.5)},
            "all in one place": {"cue": (1.0, 0.5), "1": (1.0, 0.5)},
            "off the table": {"cue": (1.0, 0.5), "1": (3.5, 2.0)},
        }
        sentences = {
            "frozen to the cue ball": "the balls touch",
            "behind the ball": "steeper than 85°",
            "no way": tr("the cue ball's way is blocked"),
            "closed": "closed",
        }
        for name, layout in cases.items():
            for pocket in ("foot_left", "side_right"):
                with self.subTest(name, pocket=pocket):
                    values = {
                        ("before",): {ball: list(place) for ball, place in layout.items()},
                        ("after",): {"cue": [1.2, 0.6], "2": [2.0, 0.4]},
                        ("call",): {"ball": "1", "pocket": pocket},
                        ("plan",): {"next_ball": "2", "aim_point": [1.2, 0.6], "zone": {"polygon": []}},
                    }
                    self.review.controller.say_values(values, name)
                    QApplication.processEvents()
                    shown = self.review.slip.measures.accessibleDescription()
                    drawn = repr(self.review.table.drawing().primitives)
                    self.assertNotIn("nan", shown.lower())
                    self.assertNotIn("nan", drawn.lower())
                    self.assertNotIn("inf", drawn.lower().replace("info", ""))
                    self.review.grab()
                    if name in sentences and pocket == ("side_right" if name == "closed" else "foot_left"):
                        self.assertIn(sentences[name], shown)
