"""The dialogs of the table in the real window: pots of all balls, the table's numbers, layers, units."""

from PyQt6.QtWidgets import QMenu

from ripasso.review.record.model import serialize
from tests.windows import WindowCase, in_dialog, press, wait_until


class TableDialogs(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        press("Down")

    def test_pots_of_all_balls_and_without_one(self):
        seen = {}

        def read(dialog):
            seen["rows"] = dialog.table.rowCount()
            seen["texts"] = {dialog.table.item(i, j).text() for i in range(seen["rows"]) for j in range(6)}
            dialog.gone.setCurrentIndex(1)
            seen["fewer"] = dialog.table.rowCount()

        in_dialog(read)
        press("Shift+A")
        balls = len(self.review.controller.shot.record.before) - 1
        self.assertEqual((seen["rows"], seen["fewer"]), (balls, balls - 1))
        self.assertTrue(any("%" in text for text in seen["texts"]))
        self.assertFalse(any("nan" in text for text in seen["texts"]))

    def test_tighter_pockets_change_the_chance_at_once(self):
        before = serialize(self.review.controller.snapshot.head)
        window = self.review.slip.measures.text("window")

        def tighten(dialog):
            self.assertIn("4 1/2 in", dialog._mouths.text())
            dialog.fields["corner_mouth"].setValue(100.0)
            dialog.fields["side_mouth"].setValue(100.0)
            dialog._keep()

        in_dialog(tighten)
        press("Ctrl+T")
        self.assertEqual(self.review.controller.snapshot.head.table["corner_mouth"], 0.1)
        self.assertNotEqual(self.review.slip.measures.text("window"), window)
        press("Ctrl+Z")
        self.assertEqual(serialize(self.review.controller.snapshot.head), before)
        self.assertEqual(self.review.slip.measures.text("window"), window)

    def test_units_go_round_and_are_remembered(self):
        self.assertIn("mm", self.review.slip.measures.text("way"))
        press("Shift+Y")
        self.assertIn(" in", self.review.slip.measures.text("way"))
        self.open_window()
        self.wait_for_film()
        press("Down")
        self.assertIn(" in", self.review.slip.measures.text("way"))
        press("Shift+Y", "Shift+Y", "Shift+Y")
        self.assertIn("mm", self.review.slip.measures.text("way"))

    def test_layers_are_switched_in_a_menu(self):
        drawn = len(self.review.table.drawing().primitives)
        press("Shift+L")
        menu = self.review.findChildren(QMenu)[-1]
        next(a for a in menu.actions() if "ghost ball" in a.text()).trigger()
        menu.close()
        self.assertLess(len(self.review.table.drawing().primitives), drawn)
        press("Shift+L")
        menu = self.review.findChildren(QMenu)[-1]
        next(a for a in menu.actions() if a.text() == "What matters now").trigger()
        menu.close()
        self.assertEqual(len(self.review.table.drawing().primitives), drawn)
        press("Shift+L")
        menu = self.review.findChildren(QMenu)[-1]
        next(a for a in menu.actions() if a.text() == "On the film too").trigger()
        menu.close()
        self.assertIsNone(self.review.film.layers)

    def test_measures_are_stored_in_the_background(self):
        wait_until(lambda: not self.workspace.library.unmeasured(), "everything to be measured")
        self.assertEqual(self.workspace.library.unmeasured(), [])
        key = self.review.controller.shot.key
        session = self.review.controller.snapshot.key
        self.assertGreater(self.workspace.library.measures(session)[key]["chance"], 0)
        press("Alt+2")
        wait_until(lambda: not self.workspace.measuring.busy)
        self.assertEqual(self.review.controller.shot.record.plan.angle_wanted_deg, (5, 20))
        self.assertIsNotNone(self.workspace.library.measures(session)[key]["angle_miss_deg"])

    def test_the_break_sheet_shows_what_was_measured(self):
        press("Up")
        seen = {}

        def read(dialog):
            seen["values"] = [value.text() for value in dialog._values]

        in_dialog(read)
        press("Shift+E")
        self.assertTrue(any(text.endswith(", measured") for text in seen["values"]), seen)
