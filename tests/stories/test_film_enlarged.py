"""The film enlarged: the wheel and the keys, lines and tools following, the whole again."""

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from tests.windows import WindowCase, click, on_film, press, wait_until


class Enlarged(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        press("Down", "Down")
        self.wait_for_film()
        self.film = self.review.film

    def turn_wheel(self, at, steps):
        for _ in range(abs(steps)):
            event = QWheelEvent(
                QPointF(at),
                QPointF(self.film.mapToGlobal(at)),
                QPoint(),
                QPoint(0, 120 if steps > 0 else -120),
                Qt.MouseButton.NoButton,
                Qt.KeyboardModifier.NoModifier,
                Qt.ScrollPhase.NoScrollPhase,
                False,
            )
            QApplication.sendEvent(self.film, event)

    def ball_on_film(self, ball):
        """Where a ball of the layout is seen, in the widget."""
        return on_film(self.review, self.review.pictures.layout("before")[ball])

    def test_what_is_under_the_wheel_stays_and_pictures_come_larger(self):
        at = self.ball_on_film("cue")
        before = self.film.film_pixel(QPointF(at))
        small = self.film.picture.pixels.shape[1]
        self.turn_wheel(at, 3)
        self.assertAlmostEqual(self.film.enlarged, 1.25**3)
        after = self.film.film_pixel(QPointF(at))
        self.assertLess((after - before).manhattanLength(), 1.0)
        wait_until(lambda: self.film.picture.pixels.shape[1] > small, "a larger picture")
        area = self.film.picture_area()
        self.assertTrue(area.contains(self.film.rect().toRectF().center()))
        self.turn_wheel(at, -9)
        self.assertEqual(self.film.enlarged, 1.0)
        self.assertEqual(self.film.picture_area(), self.film.whole_area())

    def test_a_ball_is_placed_where_it_is_seen(self):
        layout = dict(self.review.pictures.layout("before"))
        press("Ctrl++", "Ctrl++", "Ctrl++")
        self.turn_wheel(self.ball_on_film("cue"), 4)
        press("[", "0")
        click(self.film, self.ball_on_film("cue"))
        wait_until(
            lambda: self.review.pictures.layout("before")["cue"] != layout["cue"], "the cue ball placed"
        )
        x, y = self.review.pictures.layout("before")["cue"]
        self.assertLess(abs(x - layout["cue"][0]) + abs(y - layout["cue"][1]), 0.012)
        press("[", "Ctrl+0")
        self.assertEqual(self.film.enlarged, 1.0)

    def test_the_middle_button_pushes_and_nothing_leaves_the_place(self):
        self.turn_wheel(self.film.rect().center(), 6)
        middle = Qt.MouseButton.MiddleButton
        start = self.film.rect().center()
        QTest.mousePress(self.film, middle, Qt.KeyboardModifier.NoModifier, start)
        QTest.mouseMove(self.film, start + QPoint(4000, 4000))
        QTest.mouseRelease(self.film, middle, Qt.KeyboardModifier.NoModifier, start + QPoint(4000, 4000))
        area, place = self.film.picture_area(), self.film.rect().toRectF()
        self.assertLessEqual(area.left(), place.left() + 0.5)
        self.assertLessEqual(area.top(), place.top() + 0.5)
        still = self.film.still()
        self.assertEqual(still.size(), self.film.whole_area().size().toSize())
