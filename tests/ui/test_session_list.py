"""The list of sessions by words, by what is left to do, and by favourites; driven by keys."""

from PyQt6.QtCore import Qt

from ripasso.demo.matches.scenario import FILM_ID
from ripasso.review.document.edits import add_session
from tests.sessions import played, rack_of, session
from tests.windows import WindowCase, press, wait_until, write

PLAYERS = [{"id": "a", "name": "Ada Pot"}, {"id": "b", "name": "Bo Break"}]


class SessionList(WindowCase):
    def setUp(self):
        super().setUp()
        judged = {**played("a", "1"), "result": {"position": "good"}}
        for key, title, more in (
            ("one", "League night", {"racks": [rack_of(judged)], "players": PLAYERS, "date": "2026-11-03"}),
            ("two", "League night, second", {"racks": [rack_of(judged, played("a"))]}),
            ("three", "Nothing yet", {"game": "snooker", "racks": []}),
        ):
            made = session(**more).model_copy(update={"id": key, "title": title})
            self.workspace.document.run(add_session(made))
        press("Ctrl+1")
        self.page = self.window.sessions

    @property
    def shown(self):
        return {line.key for line in self.page.model.lines}

    def find(self, words):
        press("/")
        self.assertTrue(self.page.filter.line.hasFocus())
        write(words)

    def test_words_find_titles_players_games_and_dates(self):
        for words, wanted in (
            ("league second", {"two"}),
            ("ADA pot", {"one"}),
            ("2026-11", {"one"}),
            ("snooker", {"three"}),
            ("nothing of it", set()),
        ):
            with self.subTest(words):
                self.page.table.setFocus()
                self.find(words)
                self.assertEqual(self.shown, wanted)
                self.assertIn(f"{len(wanted)} of 3 sessions", self.page._about.text())
                self.assertEqual(self.page._buttons["export"].isEnabled(), bool(wanted))
        press("Ctrl+A", "Delete")  # of words, not of a session
        self.assertEqual(self.shown, {"one", "two", "three"})
        write("second")
        press("Return", "Return")  # to the list, and into the session
        self.assertEqual(self.review.controller.snapshot.key, "two")

    def test_what_is_left_to_do(self):
        self.page.filter.state.setCurrentIndex(1)
        self.assertEqual(self.shown, {"two", "three"})

    def test_favourites_have_a_star_are_found_and_remembered(self):
        self.page.choose("three")
        self.page.table.setFocus()
        press("Ctrl+D")
        self.assertEqual(self.said[-1], "“Nothing yet” is a favourite.")
        self.assertEqual(self.page.chosen, "three")
        self.page.filter.state.setCurrentIndex(2)
        self.assertEqual(self.shown, {"three"})
        title = self.page.model.data(self.page.model.index(0, 0), 0)
        self.assertEqual(title, "★ Nothing yet")
        self.open_window()
        press("Ctrl+1")
        page = self.window.sessions
        self.assertEqual(self.workspace.settings.get("favourites"), ["three"])
        page.choose("three")
        page.table.setFocus()
        press("Ctrl+D")
        self.assertEqual(self.workspace.settings.get("favourites"), [])
        page.filter.state.setCurrentIndex(2)
        self.assertEqual(page.model.lines, [])
        press("Ctrl+D")  # nothing is chosen
        self.assertEqual(self.workspace.settings.get("favourites"), [])

    def test_what_comes_in_is_shown_whatever_was_asked(self):
        self.find("second")
        self.page._show_imported("three")
        self.assertEqual((self.page.chosen, self.page.filter.is_set), ("three", False))


if __name__ == "__main__":
    import unittest

    unittest.main()


class Stills(WindowCase):
    """Small pictures of films in the list."""

    demo = True

    def decoration(self, key):
        model = self.page.model
        row = next(i for i, line in enumerate(model.lines) if line.key == key)
        return model.data(model.index(row, 0), Qt.ItemDataRole.DecorationRole)

    def setUp(self):
        super().setUp()
        press("Ctrl+1")
        self.page = self.window.sessions

    def test_a_film_is_seen_and_a_session_without_one_has_a_table(self):
        empty = self.decoration("demo-ghost")
        self.assertFalse(empty.isNull())
        before = self.decoration(FILM_ID)
        wait_until(lambda: self.decoration(FILM_ID) is not before, "the picture")
        seen = self.decoration(FILM_ID).toImage()
        self.assertEqual(self.decoration(FILM_ID).size(), empty.size())
        # Cloth is in its middle: more green and blue than red (the demo's cloth).
        colour = seen.pixelColor(seen.width() // 2, seen.height() // 2)
        self.assertGreater(min(colour.green(), colour.blue()), colour.red())

    def test_a_film_that_is_gone_has_no_picture_and_the_next_one_is_made(self):
        lost = session(recordings=[{"id": "film", "file": "/nowhere/lost.mp4"}])
        self.workspace.document.run(add_session(lost))
        wait_until(lambda: "test" in {line.key for line in self.page.model.lines}, "the session")
        before = self.decoration("test")
        wait_until(lambda: self.decoration(FILM_ID) is not self.page.model._nothing, "the other picture")
        wait_until(lambda: not self.workspace.background.busy, "nothing more to be made")
        self.assertIs(self.decoration("test"), before)
        self.assertEqual(self.uncaught_here(), [])

    def uncaught_here(self):
        return [said for said in self.said if "lost.mp4" in said]
