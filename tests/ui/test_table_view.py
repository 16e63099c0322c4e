"""The table's widget by mouse and keys: balls and pockets clicked, asked, dragged, walked; the zoom."""

import unittest

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ripasso.core.table import table_spec
from ripasso.drawing import TableScene
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.table_view import TableView
from tests.windows import APP

SPEC = table_spec({"preset": "pool_9ft"})
BALLS = {"cue": (0.6, 0.4), "1": (1.5, 0.7), "9": (2.0, 1.0)}
LEFT, MIDDLE = Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton


class Hand:
    """Notes every gesture; `takes` says whether a drag takes something along."""

    def __init__(self, looking=True, takes=True):
        self.looking, self.takes, self.done = looking, takes, []

    def grasp(self, place, *, reach_m=0.0):
        return self.takes

    def press(self, place, *, also=False, reach_m=0.0):
        self.done.append("press")

    def move(self, place):
        self.done.append("move")

    def release(self, place):
        self.done.append("release")

    def hover(self, place):
        self.done.append("hover")

    def finish(self):
        self.done.append("finish")


class Widget(unittest.TestCase):
    def setUp(self):
        assert APP is not None
        self.view = TableView(Theme())
        self.addCleanup(self.view.deleteLater)
        self.view.resize(640, 360)
        self.view.show()
        self.told = []
        self.view.ball_clicked.connect(self.told.append)
        self.view.pocket_clicked.connect(self.told.append)
        self.view.ball_asked.connect(lambda ball, _at: self.told.append(f"asked {ball}"))

    def show_balls(self, balls=BALLS):
        self.view.show_scene(TableScene(SPEC, balls))

    def at(self, place):
        return self.view.fit().pixel(place).toPoint()

    def drag(self, start, end, button=LEFT):
        QTest.mousePress(self.view, button, pos=start)
        for share in (0.5, 1.0):
            step = start + (end - start) * share
            QTest.mouseMove(self.view, QPoint(round(step.x()), round(step.y())))
            QApplication.processEvents()
        QTest.mouseRelease(self.view, button, pos=end)

    def wheel(self, steps):
        at = QPointF(320, 180)
        event = QWheelEvent(
            at, at, QPoint(), QPoint(0, 120 * steps), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(self.view, event)

    def test_without_a_scene_nothing_happens(self):
        QTest.mouseClick(self.view, LEFT, pos=QPoint(100, 100))
        QTest.mouseMove(self.view, QPoint(120, 100))
        QTest.keyClick(self.view, Qt.Key.Key_Right)
        self.view.contextMenuEvent(None)
        self.view.wheelEvent(None)
        self.view.mouseReleaseEvent(None)
        self.assertEqual(self.told, [])
        self.assertIsNone(self.view.fit())
        self.assertEqual(self.view.drawing().words, "")

    def test_balls_and_pockets_are_clicked_and_asked_for(self):
        self.show_balls()
        for place in (BALLS["1"], (0.0, 0.0), (1.0, 0.3), BALLS["cue"]):
            QTest.mouseClick(self.view, LEFT, pos=self.at(place))
        self.assertEqual(self.told, ["1", "head_right"])
        for place in (BALLS["9"], (1.0, 0.3)):
            at = self.at(place)
            event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, self.view.mapToGlobal(at))
            QApplication.sendEvent(self.view, event)
        self.assertEqual(self.told[2:], ["asked 9"])

    def test_arrows_walk_the_balls_and_say_where_they_lie(self):
        self.show_balls()
        self.view.setFocus()
        QTest.keyClick(self.view, Qt.Key.Key_Right)
        self.assertIn("cue: 0.60 m from the head end", self.view.accessibleDescription())
        QTest.keyClick(self.view, Qt.Key.Key_Right)
        self.assertTrue(self.view.accessibleDescription().startswith("1:"))
        QTest.keyClick(self.view, Qt.Key.Key_Left)
        QTest.keyClick(self.view, Qt.Key.Key_Left)
        self.assertTrue(self.view.accessibleDescription().startswith("9:"))
        QTest.keyClick(self.view, Qt.Key.Key_A)
        self.view.grab()
        self.show_balls({"cue": (1.0, 0.5)})
        self.assertNotIn("9:", self.view.accessibleDescription())

    def test_a_drag_takes_a_ball_along_or_pushes_the_enlarged_table(self):
        self.show_balls()
        self.view.hand = Hand()
        self.drag(self.at(BALLS["1"]), self.at((1.8, 0.9)))
        self.assertEqual(self.view.hand.done[-1], "release")
        self.assertIn("move", self.view.hand.done)
        self.view.hand = Hand(takes=False)
        before = self.at((1.0, 0.5))
        self.drag(QPoint(200, 200), QPoint(260, 230))
        self.assertEqual(self.at((1.0, 0.5)), before)  # the whole table is seen: nothing to push
        self.wheel(2)
        enlarged = self.at((1.0, 0.5))
        for button in (LEFT, MIDDLE):
            self.drag(QPoint(200, 200), QPoint(260, 230), button)
        self.assertNotEqual(self.at((1.0, 0.5)), enlarged)
        QTest.mouseDClick(self.view, LEFT, pos=QPoint(200, 200))
        self.assertEqual(self.at((1.0, 0.5)), before)

    def test_with_a_tool_every_gesture_is_the_hand_s(self):
        self.show_balls()
        self.view.hand = hand = Hand(looking=False)
        QTest.mouseMove(self.view, QPoint(50, 50))
        self.drag(QPoint(100, 100), QPoint(140, 120))
        QTest.mouseDClick(self.view, LEFT, pos=QPoint(100, 100))
        for gesture in ("press", "move", "release", "finish"):
            self.assertIn(gesture, hand.done)
        self.assertEqual(self.told, [])


if __name__ == "__main__":
    unittest.main()
