"""The film as a place to work: a window of its own, its light, borders that move, files that are dropped."""

import json
import shutil

from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ripasso.demo.library import film_path
from ripasso.ui.review.film.light import Light
from tests.sessions import session_data
from tests.windows import WindowCase, click, in_dialog, press, wait_until


class FilmOnTwoScreens(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        self.shots = self.review.shots

    def test_the_film_has_a_window_of_its_own_in_which_every_key_works(self):
        press("Down", "Alt+F9")
        film_window = self.shots.film_window
        wait_until(film_window.isVisible, "the film's window")
        self.assertIs(self.review.film.window(), film_window)
        self.assertIs(self.review.table.window(), self.window)
        self.assertGreater(self.review.table.width(), 600)
        self.assertIn("winter ladder", film_window.windowTitle())
        film_window.activateWindow()
        wait_until(lambda: QApplication.activeWindow() is film_window, "the film's window in front")
        before = self.review.controller.shot_key
        press("Down")
        self.assertNotEqual(self.review.controller.shot_key, before)
        press("Backspace", "Ctrl+Z", "Alt+F9")
        wait_until(lambda: self.review.film.window() is self.window, "the film back")
        self.assertIsNone(self.shots.film_window)
        self.assertTrue(self.review.film.isVisible())
        self.assertLess(self.review.table.width(), 600)

    def test_closing_brings_the_film_back_and_a_session_without_film_needs_no_window(self):
        press("Alt+F9")
        self.shots.film_window.close()
        wait_until(lambda: self.review.film.window() is self.window, "the film back")
        press("Alt+F9")
        other = next(line for line in self.lines() if "Harbour" in line.title)
        self.window.open_session(other.key)
        wait_until(lambda: self.shots.film_window is None, "no window for no film")
        self.assertFalse(self.review.film.isVisible())
        press("Alt+F9")
        self.assertIn("no film here", self.window.message.text())

    def lines(self):
        return self.window._workspace.session_lines()

    def test_the_whole_screen_and_back(self):
        press("Alt+Return")
        wait_until(self.window.isFullScreen, "the whole screen")
        self.assertFalse(self.window._side.isVisible())
        press("Alt+Return")
        wait_until(lambda: not self.window.isFullScreen(), "a window again")
        self.assertTrue(self.window._side.isVisible())

    def test_a_dim_picture_is_looked_at_brighter_and_escape_takes_it_back(self):
        film = self.review.film

        def level():
            shown = film.still().scaled(32, 18)
            return sum(shown.pixelColor(x, y).lightness() for x in range(32) for y in range(18))

        before = level()

        def brighter(dialog):
            dialog.brightness.setValue(40)

        in_dialog(lambda dialog: (brighter(dialog), press("Return")))
        press("Ctrl+I")
        bright = level()
        self.assertGreater(bright, 1.2 * before)
        in_dialog(lambda dialog: (dialog.brightness.setValue(-80), press("Esc")))
        press("Ctrl+I")
        self.assertEqual(level(), bright)
        in_dialog(lambda dialog: (click(dialog.reset), press("Return")))
        press("Ctrl+I")
        self.assertEqual(level(), before)

    def test_light_moves_no_level_past_another(self):
        for light in (Light(), Light(30, -60), Light(-50, 80), Light(100, 100)):
            levels = light.table.astype(int)
            self.assertTrue((levels[1:] >= levels[:-1]).all())
        self.assertEqual(Light().table.tolist(), list(range(256)))
        # Twice the contrast about the middle.
        self.assertEqual(int(Light(0, 50).table[140]) - int(Light(0, 50).table[130]), 20)

    def test_what_is_drawn_is_explained_by_a_key(self):
        press("Down", "Down", "Down", "Shift+F1")
        shown = QApplication.activePopupWidget()
        self.assertIn("where the white came to rest", shown.words)
        self.assertIn("a ball that is on", shown.words)
        self.assertEqual(shown.accessibleDescription(), "; ".join(shown.words))
        words = shown.words
        QTest.keyClick(shown, Qt.Key.Key_Escape)
        wait_until(lambda: QApplication.activePopupWidget() is None, "the legend closed")
        press("Shift+L")
        menu = QApplication.activePopupWidget()
        meaning = next(one for one in menu.actions() if one.text().startswith("What the marks mean"))
        menu.close()
        meaning.trigger()
        again = QApplication.activePopupWidget()
        self.assertEqual(again.words, words)
        again.close()

    def test_a_table_seen_from_its_end_has_its_column_alone(self):
        self.window.resize(1280, 800)
        QTest.qWait(50)
        review = self.review
        ribbon = review.shots.ribbon

        def left_of(part):
            return part.mapTo(self.window, part.rect().topLeft()).x()

        self.assertLess(abs(left_of(review.slip) - left_of(review.table)), 30)
        press("Shift+T")
        QTest.qWait(50)
        drawing, fit = review.table.drawing(), review.table.fit()
        short_m = min(drawing.right - drawing.left, drawing.top - drawing.bottom)
        self.assertGreaterEqual(short_m * fit.scale, 320)
        self.assertLess(left_of(review.film), left_of(review.slip))
        self.assertLess(left_of(review.slip), left_of(review.table))
        self.assertGreaterEqual(review.transport.strip.width(), 80)
        width = review.film.width()
        press("Alt+Up")
        self.assertLess(review.film.width(), width)
        press("F9")
        self.assertEqual([p.isVisible() for p in (review.slip, review.table, ribbon)], [False] * 3)
        press("F9", "F10")
        self.assertEqual([p.isVisible() for p in (review.slip, review.film, ribbon)], [False] * 3)
        press("F10")
        self.assertEqual([p.isVisible() for p in (review.slip, review.film, ribbon)], [True] * 3)
        press("Shift+T", "Shift+T", "Shift+T")
        QTest.qWait(50)
        self.assertLess(abs(left_of(review.slip) - left_of(review.table)), 30)

    def test_borders_move_by_keys_and_stay(self):
        self.window.resize(1680, 1050)
        QTest.qWait(50)
        before = self.review.film.width()
        press("Alt+Left", "Alt+Left", "Alt+Left")
        moved = self.review.film.width()
        self.assertLess(moved, before - 80)
        height = self.review.table.height()
        press("Alt+Down", "Alt+Down")
        self.assertGreater(self.review.table.height(), height + 30)
        press("Shift+T")
        self.assertGreaterEqual(self.review.table.height(), 640)
        self.assertGreaterEqual(self.review.table.width(), 320)
        press("Shift+T", "Shift+T", "Shift+T")
        self.close_window()
        kept = json.loads(self.settings.read_text(encoding="utf-8"))["borders"]
        self.assertEqual(set(kept), {"columns", "table"})
        self.open_window()
        self.window.resize(1680, 1050)
        self.window.open_session(next(line for line in self.lines() if "Rack on" in line.title).key)
        QTest.qWait(50)
        self.assertAlmostEqual(self.review.film.width(), moved, delta=3)


class Dropped(WindowCase):
    def drop(self, *paths):
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        place, copy = QPointF(self.window.rect().center()), Qt.DropAction.CopyAction
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        enter = QDragEnterEvent(place.toPoint(), copy, data, left, none)
        enter.ignore()
        QApplication.sendEvent(self.window, enter)
        if enter.isAccepted():
            QApplication.sendEvent(self.window, QDropEvent(place, copy, data, left, none))
        return enter.isAccepted()

    def test_a_session_file_is_imported_and_anything_else_is_not_taken(self):
        session = session_data(title="From the desk")
        path = self.folder / "desk.ripasso.json"
        path.write_text(json.dumps(session), encoding="utf-8")
        letter = self.folder / "letter.odt"
        letter.write_text("no film")
        self.assertFalse(self.drop(letter))
        self.assertTrue(self.drop(letter, path))
        self.assertEqual(self.review.controller.snapshot.head.title, "From the desk")

    def test_a_film_begins_a_session_and_a_second_one_belongs_to_it(self):
        first, second = self.folder / "first.mp4", self.folder / "second.MP4"
        for path in (first, second):
            shutil.copy(film_path(), path)

        def begin(dialog):
            self.assertEqual(dialog._film.text(), str(first))
            self.assertFalse(dialog.recent.isEnabled())
            dialog.players.first.setText("Ada Pot")
            wait_until(lambda: dialog._recording is not None, "the film looked through")
            press("Return")

        in_dialog(begin)
        self.assertTrue(self.drop(first))
        wait_until(lambda: self.window.reviewed is not None, "the session")
        self.assertTrue(self.drop(second))
        recordings = lambda: self.review.controller.snapshot.head.recordings  # noqa: E731
        wait_until(lambda: len(recordings()) == 2, "the second film")
        self.assertEqual([r.file for r in recordings()], [str(first), str(second)])
        # Both are offered for the next session, the last one first; one that is gone is not.
        first.unlink()
        press("Ctrl+1")

        def look(dialog):
            self.assertTrue(dialog.recent.isEnabled())
            dialog._offer_recent()

        shown = []

        def take(dialog):
            menu = QApplication.activePopupWidget()
            shown.extend(action.text() for action in menu.actions())
            menu.actions()[0].trigger()
            menu.close()
            shown.append(dialog._film.text())

        in_dialog(lambda dialog: (click(dialog.recent), take(dialog)))
        press("Ctrl+N")
        self.assertEqual(shown, ["&1  second.MP4", str(second)])
