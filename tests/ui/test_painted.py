"""Painting never raises and never leaves a painter open: unknown balls are grey, an error is one sentence."""

import unittest

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QApplication, QLabel, QWidget

from ripasso.core.table import table_spec
from ripasso.drawing import TableScene
from ripasso.drawing.table import paint_of, sign_of
from ripasso.review.document import edits
from ripasso.review.present.measure_words import MeasureLine
from ripasso.ui.review.shot.measure_grid import MeasureGrid
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.ball_paint import paint_ball
from ripasso.ui.widgets.painted import SENTENCE, painted
from ripasso.ui.widgets.table_view import TableView
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, note_uncaught, uncaught, wait_until

#: Names of balls that no game has, as a damaged or foreign file may hold them.
STRANGERS = (
    "white",
    "Cue",
    "blue2",
    "",
    "99",
    "0",
    "-1",
    "²",
    "٣",
    "ball.red",
    "{}",
    "a" * 300,
    "\x00",
    "red\n",
)


class Balls(unittest.TestCase):
    def test_every_known_ball_has_its_colour_and_others_are_grey(self):
        theme = Theme()
        for name in ("cue", "1", "8", "9", "15", "red", "red12", "yellow", "black"):
            self.assertNotEqual(paint_of(name)[0], "ball.unknown", name)
            theme.colour(paint_of(name)[0])
        for name in STRANGERS:
            if not name.startswith("red"):
                self.assertEqual(paint_of(name), ("ball.unknown", False), name)
            self.assertLessEqual(len(sign_of(name)), 3)

    def test_tokens_of_strangers_are_painted(self):
        image, theme = QImage(40, 40, QImage.Format.Format_RGB32), Theme()
        painter = QPainter(image)
        for name in STRANGERS:
            paint_ball(painter, theme, QPointF(20, 20), 12, name)
        painter.end()

    def test_a_table_with_strangers_is_painted_at_every_size(self):
        view = TableView(Theme())
        balls = {name: (0.1 * i + 0.1, 0.5) for i, name in enumerate(STRANGERS)}
        view.show_scene(TableScene(table_spec({"preset": "pool_9ft"}), balls))
        for size in ((300, 200), (900, 500), (60, 40)):
            view.resize(*size)
            self.assertFalse(view.grab().isNull())


class Failing(QWidget):
    """A widget whose painting raises while the painter is clipped and turned."""

    @painted
    def paintEvent(self, painter, _event):
        painter.translate(1000, 1000)
        painter.setClipRect(0, 0, 1, 1)
        raise KeyError("ball.white")


class Errors(unittest.TestCase):
    def test_an_error_in_painting_is_told_and_its_place_says_so(self):
        widget = Failing()
        widget.resize(300, 60)
        note_uncaught()
        uncaught.clear()
        picture = widget.grab().toImage()
        self.assertIn("ball.white", uncaught.pop(0))
        uncaught.clear()
        ground = picture.pixelColor(0, 0)
        inked = any(picture.pixelColor(x, y) != ground for x in range(300) for y in range(60))
        self.assertTrue(inked, f"“{SENTENCE}” is not seen")
        self.assertFalse(widget.grab().isNull())  # and again: no painter was left open
        uncaught.clear()
        self.assertEqual(QColor(ground), ground)


class Strangers(WindowCase):
    """A session whose layout holds balls that there are not, looked at and resized."""

    def test_it_is_seen_and_resized(self):
        layout = {name: [0.1 + 0.1 * i, 0.5] for i, name in enumerate(("white", "Cue", "blue2", ""))}
        shot = {**played("a", "1"), "before": {"cue": [0.3, 0.3], **layout}, "after": layout}
        self.workspace.document.run(edits.add_session(session(racks=[rack_of(shot, shot)])))
        self.window.open_session("test")
        for size in ((1000, 640), (1280, 800), (1000, 700)):
            self.window.resize(*size)
            wait_until(lambda: self.window.grab().toImage().width() > 0)
        self.assertEqual(uncaught, [])


class Measures(WindowCase):
    def test_lines_that_change_at_once_leave_no_window_of_their_own(self):
        """A layout shows its widgets a moment later: those taken out by then were shown as windows."""
        grid = MeasureGrid(self.workspace.theme)
        self.addCleanup(grid.deleteLater)
        grid.resize(600, 200)
        grid.show()
        QApplication.processEvents()
        for number in range(6):
            grid.show_lines([MeasureLine("cut", f"{number}°", "")] * (1 + number % 3))
            grid.resize(300 if number % 2 else 600, 200)
        QApplication.processEvents()
        seen = [one for one in QApplication.topLevelWidgets() if isinstance(one, QLabel) and one.isVisible()]
        self.assertEqual(seen, [])
