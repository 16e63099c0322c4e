"""The rows of every page beside loops over single shots, and a chart's marks under the mouse."""

import math
import unittest

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QHelpEvent, QMouseEvent
from PyQt6.QtTest import QTest

from ripasso.core.figures.schema import COLUMNS
from ripasso.drawing.charts import Axis, Chart, Series
from ripasso.review.language.translation import tr
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.pages.pages import COUNTED, PAGES, Side, crossed_page, page_of, unlike_words
from ripasso.statistics.tables import chart_csv
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.chart_view import ChartView
from tests.windows import APP, demo_library, destroy, open_copy

PLAYERS = ("lioba trevan", "casimir odel")


def known(value):
    return not math.isnan(value)


def followed(row):
    return row.has_next and (row.goes_to_other or row.fouled)


class Row:
    """A shot by the names of its columns."""

    def __init__(self, facts, place):
        self._facts, self._place = facts, place

    def __getattr__(self, name):
        facts = self._facts
        readers = {"text": facts.texts, "words": facts.texts, "number": facts.numbers}
        return readers.get(COLUMNS[name].kind, facts.ints)(name)[self._place]


class Rows(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        holder = cls("runTest")
        library, _ = open_copy(holder, demo_library())
        cls.facts = LibraryIndex(library).read().facts
        holder.doCleanups()
        cls.rows = [Row(cls.facts, i) for i in range(len(cls.facts))]
        cls.sides = [Side(name, name, cls.facts.equal("person", name)) for name in PLAYERS]

    def runTest(self):
        """Not a test: what `setUpClass` opens a library with."""

    def check(self, page, rates):
        """Each rate of a page is that of a loop, and so are the shots behind it."""
        found = {row.id: row.figures for row in page_of(page, self.facts, self.sides).rows}
        seen = 0
        for name, (among, success) in rates.items():
            for person in PLAYERS:
                places = [i for i, row in enumerate(self.rows) if row.person == person and among(row)]
                made = sum(bool(success(self.rows[i])) for i in places)
                with self.subTest(page=page, row=name, person=person):
                    figure = found[name][person]
                    self.assertEqual((figure.rate.made, figure.rate.of), (made, len(places)))
                    self.assertEqual(figure.shots.tolist(), places)
                    seen += len(places) > 0
        self.assertGreater(seen, len(rates) / 2)

    def test_potting(self):
        def tried(row):
            return row.intent == "pot" and row.tried

        def made(row):
            return row.made

        self.check(
            "potting",
            {
                "pots": (tried, made),
                "cut_side left": (lambda r: tried(r) and r.cut_deg >= 5, made),
                "cut_side right": (lambda r: tried(r) and r.cut_deg <= -5, made),
                "spin_cut inside": (lambda r: tried(r) and r.spin_cut == "inside", made),
                "spin_rail running": (lambda r: tried(r) and r.spin_rail == "running", made),
                "stroke_pace firm": (lambda r: tried(r) and r.stroke_pace == "firm", made),
                "cushion next_to_cushion": (lambda r: tried(r) and r.ball_to_cushion < 0.028575, made),
                "thick_cut_side left": (
                    lambda r: tried(r) and r.failed and r.contact in ("thick", "thin") and r.cut_deg >= 5,
                    lambda r: r.contact == "thick",
                ),
            },
        )

    def test_position(self):
        def zone(row):
            return row.made and row.zone != -1

        def hit(row):
            return row.zone == 1

        def wanted(row):
            return row.made and known(row.angle_miss)

        self.check(
            "position",
            {
                "zone": (zone, hit),
                "stroke draw": (lambda r: zone(r) and r.stroke == "draw", hit),
                "crossing across": (
                    lambda r: r.made and r.side and r.crossing_deg >= 50,
                    lambda r: r.side != "wrong_side",
                ),
                "side_wrong_side": (lambda r: r.made and r.side, lambda r: r.side == "wrong_side"),
                **(
                    {
                        "angle_kept": (wanted, lambda r: r.angle_miss == 0),
                        "angle_steep": (wanted, lambda r: r.angle_miss > 0),
                    }
                    if any(wanted(row) for row in self.rows)
                    else {}
                ),
            },
        )

    def test_decisions_and_openings(self):
        judged = ("agree", "prefer_other", "mistake")
        self.check(
            "decisions",
            {
                "agreement": (lambda r: r.verdict in judged, lambda r: r.verdict == "agree"),
                "standing behind": (
                    lambda r: r.verdict in judged and r.standing == "behind",
                    lambda r: r.verdict == "agree",
                ),
                "best": (lambda r: known(r.given_away), lambda r: r.given_away == 0),
                "plan_changed": (
                    lambda r: r.intent == "pot" and r.tried and r.replanned == 1,
                    lambda r: r.made,
                ),
            },
        )

        def trouble(row):
            return row.intent == "pot" and row.tried and "trouble" in row.roles.split()

        self.check(
            "openings",
            {
                "trouble_early": (lambda r: trouble(r) and r.late == 0, lambda r: r.made),
                "trouble_late": (lambda r: trouble(r) and r.late == 1, lambda r: r.made),
                "break_ball natural": (lambda r: r.break_ball == "natural" and r.tried, lambda r: r.made),
            },
        )

    def test_errors_breaks_and_time(self):
        def unforced(row):
            return row.unforced

        def pot(row):
            return row.intent == "pot" and row.tried

        self.check(
            "errors",
            {
                "phase_last": (lambda r: r.phase == "last", unforced),
                "standing ahead": (lambda r: r.standing == "ahead", unforced),
                "rooted": (lambda r: r.failed, lambda r: r.root_back > 0),
            },
        )
        self.check(
            "breaks",
            {
                "wet": (lambda r: r.intent == "break", lambda r: r.potted > 0),
                "dry": (lambda r: r.intent == "break", lambda r: not r.fouled and r.potted == 0),
                "outer": (
                    lambda r: r.intent == "break" and r.game != "snooker" and r.outer != -1,
                    lambda r: r.outer == 1,
                ),
                "off_behind": (
                    lambda r: r.intent == "break" and r.game == "snooker" and r.cue_behind != -1,
                    lambda r: r.cue_behind == 1,
                ),
            },
        )
        self.check(
            "time",
            {
                "pressure decider": (lambda r: pot(r) and "decider" in r.pressure.split(), lambda r: r.made),
                "pressure frame_ball": (lambda r: pot(r) and "frame_ball" in r.pressure, lambda r: r.made),
                "standing level": (lambda r: pot(r) and r.standing == "level", lambda r: r.made),
            },
        )

    def test_visits_and_safeties(self):
        def begins(row):
            return row.visit_score != -1

        def won(row):
            return row.visit_end == "rack_won"

        def colour(row):
            later = ("yellow", "green", "brown", "blue", "pink", "black")
            return row.made and row.ball in later and row.phase != "last"

        def safe(row):
            return row.intent == "safety" and followed(row)

        self.check(
            "visits",
            {
                "began own_break": (lambda r: begins(r) and r.began == "own_break", won),
                "converted": (
                    lambda r: begins(r) and r.began and r.best_chance >= 0.6,
                    lambda r: won(r) or r.visit_score >= {"snooker": 30, "straight_pool": 10}.get(r.game, 99),
                ),
                "run run_out": (
                    lambda r: begins(r) and r.began != "own_break",
                    lambda r: r.run == "run_out",
                ),
                "run break_and_run": (
                    lambda r: begins(r) and r.began == "own_break",
                    lambda r: r.run == "break_and_run",
                ),
                "run 20": (begins, lambda r: r.visit_score >= 20),
                "one_visit": (lambda r: r.one_visit != -1, lambda r: r.one_visit == 1),
                "colour black": (colour, lambda r: r.ball == "black"),
            },
        )
        self.check(
            "safety",
            {
                "result": (safe, lambda r: not r.fouled and not r.answered),
                "behind": (lambda r: safe(r) and r.cue_behind != -1, lambda r: r.cue_behind == 1),
                "laid": (lambda r: safe(r) and r.laid != -1, lambda r: r.laid == 1),
                "left_easy": (lambda r: safe(r) and known(r.leave), lambda r: r.leave >= 0.6),
                "left_nothing": (lambda r: safe(r) and known(r.leave), lambda r: r.leave < 0.4),
            },
        )

    def test_crossed_cells_are_those_of_a_loop(self):
        page = crossed_page(self.facts, self.sides[0], "phase", "spin_cut", "pots")
        for row in page.rows:
            for head, figure in row.figures.items():
                phase = row.id.removeprefix("phase ")
                own = [
                    r
                    for r in self.rows
                    if r.person == PLAYERS[0]
                    and r.intent == "pot"
                    and r.tried
                    and (row.id == "all" or r.phase == phase)
                    and head in ("all", r.spin_cut)
                ]
                made = sum(bool(r.made) for r in own)
                self.assertEqual((figure.rate.made, figure.rate.of), (made, len(own)), (row.id, head))

    def test_everything_that_can_be_counted_is_of_shots_that_it_is_counted_among(self):
        for name, what in COUNTED.items():
            among = what.among(self.facts)
            self.assertGreater(int(among.sum()), 20, name)
            self.assertGreater(int((among & what.success(self.facts)).sum()), 0, name)

    def test_unlike_tables_are_said_only_where_they_are_unlike(self):
        words = unlike_words(self.facts, self.sides)
        self.assertEqual(words, "")
        snooker = self.facts.equal("game", "snooker")
        halves = [Side("a", "at snooker", snooker), Side("b", "at pool", ~snooker)]
        self.assertIn("at snooker on 357 cm", unlike_words(self.facts, halves))

    def test_every_group_of_a_page_is_in_its_order(self):
        for name, kind in PAGES.items():
            rows = page_of(name, self.facts, self.sides).rows
            groups = [tr(group) for group in kind.groups]
            order = [groups.index(row.group) for row in rows]
            self.assertEqual(order, sorted(order), name)
            self.assertEqual(len({row.id for row in rows}), len(rows), name)


class Marks(unittest.TestCase):
    def setUp(self):
        theme = Theme()
        theme.apply(APP)
        self.view = ChartView(theme)
        self.view.resize(500, 320)
        self.view.show()
        self.chosen = []
        self.view.chosen.connect(lambda words, shots: self.chosen.append((words, shots.tolist())))
        self.addCleanup(destroy, self.view)

    def show(self, form, **more):
        series = Series(
            "pots",
            "player_a",
            form,
            np.array([0.0, 1.0]),
            np.array([30.0, 70.0]) if form != "cells" else np.array([0.0, -1.0]),
            shots=[np.array([4, 5]), np.array([7])],
            tips=["the first", "the second"],
            width=0.8,
            filled=np.array([0.2, 0.9]),
            words=("20 %", "90 %"),
        )
        y = Axis("per cent", 0, 100) if form != "cells" else Axis("", -1.5, 0.5)
        chart = Chart("c", "c", "Pots", Axis("x", -0.5, 1.5, **more), y, (series,), sentence="two marks")
        self.view.show_chart(chart)
        QTest.qWait(30)
        return chart

    def press(self, place):
        local = QPointF(place)
        event = QMouseEvent(
            QEvent.Type.MouseButtonPress,
            local,
            QPointF(self.view.canvas.mapToGlobal(place)),
            Qt.MouseButton.LeftButton,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        APP.sendEvent(self.view.canvas, event)

    def test_a_press_on_each_mark_of_each_form_gives_its_shots(self):
        for form in ("line", "dots", "hollow", "bars", "cells", "cross"):
            for turned in (False, True):
                with self.subTest(form=form, turned=turned):
                    self.show(form, reversed=turned)
                    self.chosen.clear()
                    for mark in (0, 1):
                        self.press(self.view.at(0, mark))
                    self.assertEqual(self.chosen, [("the first", [4, 5]), ("the second", [7])])

    def test_beside_the_marks_nothing_is_chosen(self):
        self.show("dots")
        self.assertIsNone(self.view.nearest(self.view.at(0, 0) + QPoint(60, -40)))
        self.press(self.view.at(0, 0) + QPoint(60, -40))
        self.assertEqual(self.chosen, [])

    def test_a_mark_tells_its_tip_and_the_chart_its_sentence(self):
        self.show("line")
        place = self.view.at(0, 1)
        help_event = QHelpEvent(QEvent.Type.ToolTip, place, self.view.canvas.mapToGlobal(place))
        self.assertTrue(self.view.eventFilter(self.view.canvas, help_event))
        away = QHelpEvent(QEvent.Type.ToolTip, QPoint(2, 2), QPoint(2, 2))
        self.assertFalse(self.view.eventFilter(self.view.canvas, away))
        self.assertEqual(self.view.accessibleDescription(), "Pots. two marks")

    def test_the_table_of_a_grid_has_its_words(self):
        text = chart_csv(self.show("cells"))
        self.assertEqual(text.splitlines()[1].split(",")[0], "20 %")
        self.assertEqual(len(text.splitlines()), 3)


if __name__ == "__main__":
    unittest.main()
