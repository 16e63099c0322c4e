"""Help in the window: the guide with its pictures and search, every action found by its words and done."""

import ast
import re
from pathlib import Path
from typing import ClassVar
from unittest.mock import patch

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import QToolButton

from ripasso import ui
from ripasso.review.language.running_text import in_words
from ripasso.review.language.translation import tr
from ripasso.ui import app as app_module
from ripasso.ui import pages as pages_module
from ripasso.ui.actions import shown_key
from ripasso.ui.help.action_finder import ActionFinder, matching_entries
from ripasso.ui.help.guide import GUIDE, GuideView, guide_folder
from ripasso.ui.help.tour import STOPS
from tests.windows import WindowCase, in_dialog, press, wait_until, write


class Guide(WindowCase):
    def test_it_is_opened_by_its_key_and_searched(self):
        seen = {}

        def read(sheet):
            guide = sheet.guide
            seen["tab"] = sheet.tabs.tabText(sheet.tabs.currentIndex())
            seen["chapters"] = [guide.chapters.item(n).text() for n in range(guide.chapters.count())]
            guide.chapters.setCurrentRow(seen["chapters"].index("Practise"))
            seen["top"] = guide.text.textCursor().block().text()
            guide.line.setFocus()
            write("presenter")
            seen["found"] = guide.text.textCursor().selectedText()
            write(" of bananas")
            seen["lost"] = guide.told.text()
            press("Esc")

        in_dialog(read)
        press("F1")
        self.assertEqual((seen["tab"], seen["top"], seen["found"]), ("Guide", "Practise", "presenter"))
        self.assertIn("Review a rack", seen["chapters"])
        self.assertEqual(seen["lost"], "Not in the guide.")

    def test_its_pictures_and_links_are_there(self):
        guide = GuideView()
        text = (guide_folder() / GUIDE).read_text(encoding="utf-8")
        pictures = re.findall(r"!\[[^\]]+\]\(([^)]+)\)", text)
        self.assertGreater(len(pictures), 5)
        for name in pictures:
            found = guide.text.loadResource(QTextDocument.ResourceType.ImageResource.value, QUrl(name))
            picture = found.value()
            self.assertFalse(picture.isNull(), name)
            self.assertLessEqual(picture.width(), 900)
        for name in re.findall(r"\]\(([\w-]+\.md)\)", text):
            guide.text.anchorClicked.emit(QUrl(name))
            self.assertEqual(guide.told.text(), "", name)
        self.assertFalse(guide.show_document("nothing.md"))
        self.assertEqual(guide.told.text(), "nothing.md is not there.")


class Places(WindowCase):
    """Every dialog leads to its place in the guide."""

    #: Help itself, and the line of actions, which is left by a key.
    WITHOUT: ClassVar = {"KeySheet", "ActionFinder", "GuidedDialog", "GuideDialog"}

    def test_every_dialog_has_a_place_that_the_guide_holds(self):
        source = Path(ui.__file__).parent
        plain, places = set(), {}
        for path in source.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                bases = {base.id for base in getattr(node, "bases", ()) if isinstance(base, ast.Name)}
                if "QDialog" in bases:
                    plain.add(node.name)
                if "GuidedDialog" in bases:
                    named = [s for s in node.body if isinstance(s, ast.Assign) and s.targets[0].id == "place"]
                    places[node.name] = named[0].value.value if named else ""
        self.assertEqual(plain, self.WITHOUT)
        self.assertGreater(len(places), 20)
        guide = GuideView()
        for name, place in places.items():
            with self.subTest(name):
                self.assertTrue(place and guide.show_place(place))
                self.assertEqual(guide.text.textCursor().selectedText(), place)
        self.assertFalse(guide.show_place("bananas"))

    def test_the_guide_is_read_in_american_words(self):
        text = (guide_folder() / GUIDE).read_text(encoding="utf-8")
        self.assertEqual(in_words(text, "en_GB"), text)
        words = in_words(text, "en_US")
        prose = re.sub(r"`[^`]*`|\]\([^)]*\)", "", words)
        for british in ("colour", "metre", "grey", "cushion", "potted", "the white", "centre", "practise"):
            self.assertEqual(re.findall(rf"\b{british}", prose, re.IGNORECASE), [])
        # What is typed stays as it is typed, and pictures are where they were.
        kept = r"`[^`]*`|\]\([^)]*\)"
        self.assertEqual(re.findall(kept, words), re.findall(kept, text))
        self.assertEqual(in_words("Potted, off two cushions", "en_US"), "Pocketed, off two rails")
        self.addCleanup(tr.use, tr.language)
        tr.use("en_US")
        guide = GuideView()
        self.assertIn("Practice", [guide.chapters.item(n).text() for n in range(guide.chapters.count())])
        for place in ("a kept layout is planned", "Cloth and cushions can be told"):
            self.assertTrue(guide.show_place(place), place)

    def test_the_question_mark_and_its_key(self):
        seen = []

        def read(guide):
            seen.append((guide.windowTitle(), guide.guide.text.textCursor().selectedText()))
            press("Esc")

        def ask(dialog):
            in_dialog(read)
            press("F1")
            mark = dialog.findChild(QToolButton, "ask_guide")
            self.assertTrue(mark.isVisible() and mark.accessibleName())
            in_dialog(read)
            mark.click()
            press("Esc")

        in_dialog(ask)
        press("Ctrl+,")
        self.assertEqual(seen, [("Guide", "Choose words, colours, keys")] * 2)


class Finder(WindowCase):
    def entries(self):
        return self.window._pages.entries(self.window.actions_book, self.window.sessions)

    def test_every_action_of_every_workspace_is_found_by_its_words(self):
        entries = self.entries()
        self.assertGreater(len(entries), 250)
        self.assertEqual(entries[0].where, "Sessions")
        for entry in entries:
            self.assertIn(entry, matching_entries(entries, entry.words))
        self.assertEqual(matching_entries(entries, "undo")[0].spec.id, "undo")
        self.assertEqual(matching_entries(entries, "no such thing at all"), [])

    def test_what_is_typed_is_done_also_in_another_workspace(self):
        def ask(finder):
            self.assertIsInstance(finder, ActionFinder)
            write("new report")
            press("Return")

        in_dialog(ask)
        press("Ctrl+Space")
        wait_until(lambda: self.window.report.controller.report is not None, "the report")
        self.assertIs(self.window._stack.currentWidget(), self.window.report)

        def walk(finder):
            first = finder.list.currentRow()
            press("Down", "Down", "Up")
            self.assertEqual(finder.list.currentRow(), first + 1)
            press("PgDown", "PgUp", "PgUp")
            self.assertEqual(finder.list.currentRow(), 0)
            write("full screen")
            press("Return")

        in_dialog(walk)
        with patch.object(self.window, "_full_screen") as filled:
            self.window.actions_book["full_screen"].triggered.connect(filled)
            press("Ctrl+Space")
        filled.assert_called_once()
        self.window.showNormal()

    def test_the_key_of_the_plus_sign_is_shown(self):
        self.assertEqual(
            [shown_key(key) for key in ("Ctrl++", "+", "Ctrl+Shift+K")], ["Ctrl +", "+", "Ctrl ⇧K"]
        )

    def test_what_is_not_possible_now_is_not_done(self):
        def ask(finder):
            write("back to the shot that the plan came from")
            self.assertEqual(len(finder._found), 1)
            press("Esc")

        in_dialog(ask)
        with patch.object(pages_module, "run_dialog", wraps=pages_module.run_dialog) as ran:
            press("Ctrl+Space")
        finder = ran.call_args[0][0]
        self.assertIsNone(finder.chosen)


class ShownRound(WindowCase):
    @property
    def tour(self):
        return self.window._pages.tour

    def test_eight_steps_by_return_and_left_by_escape(self):
        press("Ctrl+Shift+T")
        seen = []
        for number, stop in enumerate(STOPS, start=1):
            self.assertTrue(self.tour.title.text().startswith(f"{number} of 8"))
            self.assertIs(self.window._stack.currentWidget(), getattr(self.window, stop.page))
            inside = self.window.rect().contains(self.tour.geometry())
            seen.append(inside and self.tour.isVisible())
            press("Return")
        self.assertEqual(seen, [True] * 8)
        self.assertIsNone(self.tour)
        press("Ctrl+Shift+T", "Return")
        self.tour.back.click()
        self.assertTrue(self.tour.title.text().startswith("1 of 8"))
        self.window.resize(1100, 700)
        self.assertTrue(self.window.rect().contains(self.tour.geometry()))
        press("Ctrl+Shift+T")
        self.tour.next.setFocus()
        press("Esc")
        self.assertIsNone(self.tour)

    def test_it_is_offered_once_with_the_demo(self):
        for offered, demo in ((True, True), (False, True), (False, False)):
            self.said.clear()
            with patch.object(app_module, "shown_window"):
                app_module._opened(self.workspace, demo=demo, notice=None)
            self.assertEqual(any("eight steps" in one for one in self.said), offered)


if __name__ == "__main__":
    import unittest

    unittest.main()
