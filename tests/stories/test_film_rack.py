"""A recorded rack from film to statistics, by the window's own dialogs and keys."""

import json
import time
from itertools import pairwise

from PyQt6.QtWidgets import QFileDialog, QLineEdit, QPushButton

from ripasso.demo.library import film_path, film_truth
from ripasso.review.record.model import serialize
from ripasso.review.record.parsing import read_session
from ripasso.review.scoring.scoring import score_of
from ripasso.store.library import open_library
from tests.windows import PATIENCE_S, WindowCase, click, in_dialog, press, wait_until, write

POCKET_KEY = {
    "head_left": "Q",
    "side_left": "W",
    "foot_left": "E",
    "head_right": "A",
    "side_right": "S",
    "foot_right": "D",
}
#: What an analyst types at each shot of the demo film after its marks, in the order of the shots.
KEYS = (
    ("7", "S", "8", "E"),  # the break: 7 side right, 8 foot left
    ("S", "G", "J", "Y"),
    ("D", "G", "K", "O", "Y"),
    ("Q", "C", "U", "Y"),
    ("A", "G", "L", "I", "U", "Y"),
    ("H", "M", "Y"),
    ("Shift+H", "M", "F2", "6", "Shift+U"),
    ("E", "G", "J", "Y"),
    ("D", "G", "L", "O", ".", "U", "T"),
    ("E", "V", "U"),
    ("D", "G", "K", "O", "Y"),
    ("E", "G", "Y"),
)


class FilmToStatistics(WindowCase):
    def test_the_whole_way(self):
        self.begin_session()
        self.mark_and_tag()
        before = self.check_record()
        self.open_window()
        self.check_after_reopening(before)
        self.check_statistics()
        self.check_export(before)

    def begin_session(self):
        self.assertEqual(self.window.sessions.model.lines, [])

        def choose_film(dialog):
            self.assertIsInstance(dialog, QFileDialog)
            dialog.findChild(QLineEdit, "fileNameEdit").setText(str(film_path()))
            press("Return")

        def fill_in(dialog):
            write("Lioba Trevan")
            press("Tab")
            write("Casimir Odel")
            in_dialog(choose_film)
            click(next(b for b in dialog.findChildren(QPushButton) if b.text() == "Browse"))
            wait_until(lambda: dialog._recording is not None, "the film to be read")
            press("Return")

        in_dialog(fill_in)
        press("Ctrl+N")
        wait_until(lambda: self.review.controller.snapshot is not None, "the session")
        self.key = self.review.controller.snapshot.key
        self.wait_for_film()

    def mark_and_tag(self):
        for seen, keys in zip(film_truth()["shots"], KEYS, strict=True):
            self.go_to(seen["t_strike"])
            press("F")
            self.go_to(seen["t_rest"])
            press("R", *keys)
            self.assertEqual(self.review.controller.shot.record.number, seen["number"], self.said[-3:])

    def check_record(self):
        snapshot = self.review.controller.snapshot
        truth = film_truth()
        frame = 1 / truth["frame_rate"]
        for shot, seen in zip(snapshot.shots, truth["shots"], strict=True):
            record = shot.record
            self.assertEqual(record.player, "lioba-trevan" if seen["player"] == "lioba" else "casimir-odel")
            self.assertLessEqual(abs(record.t_strike - seen["t_strike"]), frame)
            self.assertLessEqual(abs(record.t_rest - seen["t_rest"]), frame)
            fallen = {(p.ball, p.pocket) for p in record.facts.potted}
            self.assertEqual(fallen, {(p["ball"], p["pocket"]) for p in seen["potted"]}, seen["number"])
        score = score_of(snapshot.session)
        rack = score.racks[0]
        self.assertEqual((rack.winner, rack.ended_by), ("lioba-trevan", "nine_potted"))
        self.assertEqual(rack.shots[6].outcome.fouls, ("wrong_ball_first",))
        self.assertEqual([s.warnings for s in rack.shots if s.warnings], [])
        visits = [(v.first_shot, v.last_shot, v.ended_by) for v in score.visits]
        expected = [(1, 4, "miss"), (5, 6, "safety"), (7, 7, "foul"), (8, 10, "miss"), (11, 12, "rack_won")]
        self.assertEqual(visits, expected)
        return serialize(snapshot.session)

    def check_after_reopening(self, before):
        line = self.window.sessions.model.lines[0]
        self.assertEqual((line.title, line.shots), ("Lioba Trevan – Casimir Odel", 12))
        press("Return")
        wait_until(lambda: self.review.controller.snapshot is not None, "the session")
        self.assertEqual(serialize(self.review.controller.snapshot.session), before)
        self.wait_for_film()
        self.assertEqual(self.review.score_line._score.text(), "0 – 0")

    def check_statistics(self):
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: page.overview.model.questions, "the overview")
        page.chooser.pages.setCurrentIndex(page.chooser.pages.findData("judged"))
        page.chooser.pages.activated.emit(page.chooser.pages.currentIndex())
        wait_until(lambda: page.model.page is not None, "the figures")
        rows = {row.id: row.figures for row in page.model.page.rows}
        # Counted by hand from KEYS: Lioba pots 1, 2, 6 and the 9 of five tries; Casimir 3, 4, 5 of four.
        counts = {
            ("pots", "lioba trevan"): (4, 5),
            ("pots", "casimir odel"): (3, 4),
            ("good", "lioba trevan"): (1, 3),
            ("long", "lioba trevan"): (2, 3),
            ("lost", "casimir odel"): (2, 3),
            ("short", "casimir odel"): (1, 3),
            ("too_steep", "casimir odel"): (1, 3),
            ("agreement", "casimir odel"): (3, 4),
        }
        for (row, person), (made, of) in counts.items():
            rate = rows[row][person].rate
            self.assertEqual((rate.made, rate.of), (made, of), (row, person))
        self.assertEqual(rows["per_100"]["casimir odel"].count.count, 3)
        self.assertAlmostEqual(rows["per_100"]["casimir odel"].count.rate, 100 * 3 / 5)
        self.assertEqual(rows["per_100"]["lioba trevan"].count.count, 1)
        self.assertEqual(len(rows["errors_not_judged"]["lioba trevan"].shots), 0)
        self.open_a_shot_from(page)

    def open_a_shot_from(self, page):
        """From "ran long" of Casimir to the film of the shot: choose the cell, Return on its shot."""
        place = next(i for i, row in enumerate(page.model.rows) if getattr(row, "id", "") == "unforced_pot")
        column = 1 + page.model.page.persons.index("casimir odel")
        page.figures.setCurrentIndex(page.model.index(place, column))
        self.assertEqual(page.shot_model.rowCount(), 1)
        page.shots.setFocus()
        press("Return")
        wait_until(
            lambda: (
                self.review.controller.shot is not None and self.review.controller.shot.record.number == 10
            )
        )
        self.wait_for_film()
        self.assertAlmostEqual(self.review.player.time_s, film_truth()["shots"][9]["t_strike"], delta=0.04)

    def check_export(self, before):
        press("Ctrl+1")
        target = self.folder / "rack.ripasso.json"

        def name_file(dialog):
            dialog.findChild(QLineEdit, "fileNameEdit").setText(str(target))
            press("Return")

        in_dialog(name_file)
        press("Ctrl+E")
        wait_until(target.exists, "the file")
        self.assertEqual(json.loads(target.read_text(encoding="utf-8")), before)
        self.library = self.folder / "other.ripasso"
        self.open_window()

        def choose(dialog):
            dialog.findChild(QLineEdit, "fileNameEdit").setText(str(target))
            press("Return")

        in_dialog(choose)
        press("Ctrl+I")
        wait_until(lambda: self.window.sessions.model.lines, "the import")
        self.close_window()
        library = open_library(self.library)
        self.addCleanup(library.close)
        from ripasso.review.document.document import Document
        from ripasso.statistics.rows.shot_rows import derived_rows

        self.assertEqual(serialize(Document(library, derived_rows).session(self.key).session), before)
        self.assertEqual(serialize(read_session(target.read_bytes())), before)


class KeysOfOneShot(WindowCase):
    demo = True

    def test_a_routine_pot_costs_at_most_five_keys(self):
        controller = self.review.controller
        self.wait_for_film()
        snapshot = controller.snapshot
        shot = snapshot.shots[1]
        # The same shot untold: only its marks and its player are left.
        from ripasso.review.document.edits import REMOVE, set_values

        untold = {(k,): REMOVE for k in ("intent", "call", "facts", "result", "decision")}
        self.workspace.document.run(set_values(snapshot, "shot", shot.key, untold, "forget"))
        controller.choose(shot.key)
        keys = ("S", "G", "J", "Y")
        press(*keys)
        record = controller.shot.record
        self.assertLessEqual(len(keys), 5)
        self.assertEqual(
            (record.intent, record.call.pocket, record.result.position), ("pot", "side_right", "good")
        )
        self.assertEqual(record.facts.potted[0].ball, "1")
        self.assertEqual(record.decision.verdict, "agree")
        self.assertEqual(controller.shot_score.outcome.counted, ("1",))
        press(*["Backspace"] * len(keys))
        self.assertIsNone(controller.shot.record.intent)
        press("Backspace")
        self.assertIn("Nothing more was typed", self.said[-1])

    def test_playing_goes_on_while_tags_are_typed(self):
        self.wait_for_film()
        press("Home", "Space")
        start = self.review.player.time_s
        deadline = time.monotonic() + PATIENCE_S
        while self.review.player.time_s < start + 0.4 and time.monotonic() < deadline:
            press("J")
        self.assertTrue(self.review.player.playing)
        press("Space")
        self.assertFalse(self.review.player.playing)
        self.assertGreaterEqual(self.review.player.time_s, start + 0.4)


class Loop(WindowCase):
    demo = True

    def test_a_shot_is_played_again_and_again_until_it_is_enough(self):
        self.wait_for_film()
        press("Down", "Shift+Space")
        player, shot = self.review.player, self.review.controller.shot.record
        start, end = player.loop
        self.assertAlmostEqual(start, shot.t_strike - 0.5)
        self.assertAlmostEqual(end, shot.t_rest + 0.5)
        self.assertTrue(player.playing)
        self.review.transport.speed_chosen.emit(4.0)
        seen = []
        player.shown.connect(lambda picture: seen.append(picture.time_s))
        # It comes back to its beginning: a time after an earlier one that was later.
        wait_until(lambda: any(b < a - 0.5 for a, b in pairwise(seen)), "the film to turn")
        self.assertLessEqual(max(seen), end + 0.2)
        press("Down")
        later = self.review.controller.shot.record
        self.assertAlmostEqual(player.loop[0], later.t_strike - 0.5)
        press("Shift+Space")
        self.assertIsNone(player.loop)
        press("Space")
        self.assertFalse(player.playing)


class TwoShots(WindowCase):
    demo = True

    def test_a_shot_is_kept_beside_another_and_both_are_stepped_together(self):
        self.wait_for_film()
        press("Down", "Ctrl+B")
        beside, controller = self.review.beside, self.review.controller
        first = controller.shot.record.t_strike
        wait_until(lambda: beside.player.picture is not None, "the film beside")
        press("Down", "Down")
        self.wait_for_film()
        other = controller.shot.record.t_strike

        def together():
            picture, mine = beside.player.picture, self.review.player.picture
            if picture is None or mine is None or beside.player.late or self.review.player.late:
                return False
            return abs((picture.time_s - first) - (mine.time_s - other)) < 0.021

        wait_until(together, "both strikes")
        press("Shift+Right", "Right", "Right")
        self.wait_for_film()
        self.assertAlmostEqual(self.review.player.time_s, other + 1.08, delta=0.021)
        wait_until(together, "both a second on")
        self.assertAlmostEqual(beside.player.time_s, first + 1.08, delta=0.021)
        press("Ctrl+B")
        self.assertIsNone(beside.pinned)
        self.assertFalse(beside.isVisible())
