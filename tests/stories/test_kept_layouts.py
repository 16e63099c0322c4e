"""Positions kept under names: kept, found again, played from in both groups and again and again, undone."""

from PyQt6.QtWidgets import QApplication

from ripasso.review.entry.kept_layouts import forms_of
from tests.stories.clocked import Clocked
from tests.windows import click, in_dialog, on_table, press, write

PLACES = {"cue": (1.9, 0.4), "1": (1.2, 0.5), "9": (0.8, 0.9), "8": (0.6, 0.3)}


class KeptLayouts(Clocked):
    def setUp(self):
        super().setUp()
        self.begin(game="eight_ball")
        self.strike()  # the break
        self.strike()
        press("[")
        for ball in PLACES:
            press(*{"cue": "0"}.get(ball, ball))
            if ball == "1":
                press("Return")
            view = self.review.table
            click(view, on_table(view, PLACES[ball]))
        press("[")
        self.assertEqual(set(self.review.controller.shot.record.before), set(PLACES))

    def layouts(self, *acts):
        """Do things in the dialog; a sentence of it after each is returned."""
        told = []

        def act(dialog):
            for one in acts:
                one(dialog)
                QApplication.processEvents()
                told.append(dialog.told.text())

        in_dialog(act)
        press("Alt+L")
        return told

    @staticmethod
    def name(text):
        def act(dialog):
            dialog.name.setFocus()
            dialog.name.selectAll()
            write(text)
            press("Return")

        return act

    @property
    def kept(self):
        return [one for _, one in self.workspace.library.layouts()]

    def test_a_position_is_kept_found_and_taken_back(self):
        told = self.layouts(self.name("Three on the long rail"))
        self.assertIn("Kept as “Three on the long rail”", told[0])
        (one,) = self.kept
        self.assertEqual(
            (one.title, one.game, set(one.layout)), ("Three on the long rail", "eight_ball", set(PLACES))
        )
        self.assertEqual((one.from_.rack, one.from_.shot), (1, 2))

        def find(dialog):
            dialog.line.setFocus()
            write("long rail")
            self.assertEqual(dialog.list.count(), 1)
            write(" nothing")
            self.assertEqual(dialog.list.count(), 0)
            self.assertEqual(dialog.title.text(), "None has these words")
            dialog.line.clear()
            click(dialog.buttons["delete"])

        told = self.layouts(find)
        self.assertEqual(self.kept, [])
        press("Ctrl+Z")
        self.assertEqual(self.said[-1], "Undone: delete the layout Three on the long rail.")
        self.assertEqual([one.title for one in self.kept], ["Three on the long rail"])
        press("Ctrl+Z")
        self.assertEqual(self.kept, [])
        press("Ctrl+Shift+Z")
        self.assertEqual([one.title for one in self.kept], ["Three on the long rail"])

    def test_one_layout_once_for_each_group_and_again_and_again(self):
        self.layouts(self.name("Both groups"))
        for low in (True, False):
            self.layouts(lambda dialog: click(dialog.buttons["rack"]))
            self.strike("1" if low else "9", "Return", "E", "G")
            rack = self.snapshot.racks[-1].record
            self.assertEqual(set(rack.layout), set(PLACES))
            self.assertEqual(rack.from_layout, self.kept[0].id)
            self.assertEqual(set(self.review.controller.shot.record.before), set(PLACES))
        self.layouts(lambda dialog: click(dialog.buttons["again"]))
        press("G", "M", "G")
        made = self.snapshot.attempt_sets[-1][1]
        self.assertEqual(
            (made.title, len(made.attempts), made.from_layout), ("Both groups", 3, self.kept[0].id)
        )
        rows = []

        def read(dialog):
            model = dialog.model
            rows.extend(
                [model.data(model.index(row, column)) for column in range(model.columnCount())]
                for row in range(model.rowCount())
            )

        press("Esc")
        self.review.views.back_to_shots()
        self.layouts(read)
        self.assertEqual([row[0] for row in rows], list("ABCD"))
        self.assertIn("Both groups: ", rows[0][1])
        self.assertIn("1 to foot left", rows[1][3])
        self.assertIn("9 to foot left", rows[2][3])
        self.assertEqual(rows[3][4], "2 of 3 attempts")

    def test_variants_of_one_position_belong_together(self):
        self.layouts(self.name("First form"), lambda dialog: click(dialog.buttons["variant"]))
        first, second = sorted(self.kept, key=lambda one: one.variant_of or "")
        self.assertEqual((second.title, second.variant_of), ("First form, variant", first.id))
        kept = self.workspace.library.layouts()
        self.assertEqual(
            [one.title for _, one in forms_of(kept, second.id)], ["First form", "First form, variant"]
        )
