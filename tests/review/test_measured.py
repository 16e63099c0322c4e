"""Measures in words, kept and stored; chances; break places; settings of the table; pots of all balls."""

import tempfile
import unittest
from pathlib import Path

import numpy as np

from ripasso.core.figures.ledger import Look, match_course
from ripasso.core.figures.measure_rows import MEASURE_FIELDS, measure_row
from ripasso.core.measures.break_places import break_off_places, break_places
from ripasso.core.measures.exactness import cut_exactness_deg
from ripasso.core.measures.film_time import LiveFilm
from ripasso.core.table import nine_ball_rack, table_spec
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.present.measure_words import Units, level_words, measure_lines, near_cushion
from ripasso.review.present.pot_table import pot_table
from ripasso.review.scoring.rack_results import session_results
from ripasso.review.table.settings import mouth_words, set_table, settings_of
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.library import open_library
from tests.sessions import document_with, played, rack_of, session

SPEC = table_spec({"preset": "pool_9ft"})
R = SPEC.ball_radius
BEFORE = {"cue": [0.9, 0.45], "1": [1.9, 0.9], "2": [0.4, 0.9], "9": [2.2, 0.3]}
AFTER = {"cue": [1.45, 0.62], "2": [0.4, 0.9], "9": [2.2, 0.3]}


def measured_session():
    plan = {"next_ball": "2", "aim_point": [1.3, 0.5], "angle_wanted_deg": [20, 40]}
    shot = {**played("a", "1"), "before": BEFORE, "after": AFTER, "plan": plan}
    racks = [rack_of(played("a", intent="break"), shot, {**played("a"), "before": AFTER, "after": AFTER})]
    return session(racks=racks, table={"preset": "pool_9ft"})


class Words(unittest.TestCase):
    def setUp(self):
        self.document = document_with(measured_session())
        self.snapshot = self.document.session("test")
        self.book = MeasureCache()

    def lines(self, unit="mm", place_m=None):
        found = self.book.shot(self.snapshot, self.snapshot.shots[1].key)
        units = Units(unit, SPEC, place_m=place_m)
        return {line.name: line for line in measure_lines(found, units)}

    def test_figures_from_a_film_carry_how_exact_they_are(self):
        lines = self.lines(place_m=0.006)
        self.assertEqual(lines["off the aim"].value, "192 ± 5 mm")  # 6 mm in the plane: 4.8 along a line
        self.assertRegex(lines["cut"].value, r"^\d+\.\d ± 0\.\d° (left|right)")
        self.assertRegex(lines["way"].value, r"^\d+ ± 7 mm \+ \d+ ± 5 mm$")
        # No digit below what is known.
        self.assertEqual(self.lines(place_m=0.03)["off the aim"].value, "190 ± 20 mm")
        self.assertEqual(self.lines("inches", 0.03)["off the aim"].value, "7.6 ± 0.9 in")

    def test_the_cut_is_as_exact_as_balls_moved_at_random_say(self):
        random = np.random.default_rng(3)
        cue, ball, pocket = np.array([0.5, 0.4]), np.array([1.1, 0.6]), np.array([2.0, 1.1])
        place_m = 0.01
        spread = place_m / 2.448

        def cut(cue, ball):
            away = (pocket - ball) / np.linalg.norm(pocket - ball)
            aim = ball - 2 * R * away - cue
            return np.degrees(np.arctan2(*away[::-1]) - np.arctan2(*aim[::-1])), np.linalg.norm(aim)

        seen = [
            cut(cue + random.normal(0, spread, 2), ball + random.normal(0, spread, 2))[0] for _ in range(4000)
        ]
        exact, travel = cut(cue, ball)
        stated = cut_exactness_deg(place_m, R, travel, np.linalg.norm(pocket - ball))
        inside = np.mean(np.abs(np.array(seen) - exact) < stated)
        self.assertGreater(inside, 0.92)
        self.assertLess(inside, 0.985)

    def test_lines_have_values_units_and_tips(self):
        lines = self.lines()
        self.assertRegex(lines["cut"].value, r"^\d+\.\d° (left|right), 0\.\d\d full$")
        self.assertRegex(lines["off the aim"].value, r"^192 mm$")  # 150 and 120 mm apart: 192
        self.assertIn("mm short", lines["along, across"].value)
        self.assertTrue(all(line.tip.endswith(".") or "°" in line.tip for line in lines.values()))
        self.assertIn("balls", self.lines("ball_widths")["off the aim"].value)

    def test_nothing_is_measured_twice(self):
        first = self.book.shot(self.snapshot, self.snapshot.shots[1].key)
        self.assertIs(self.book.shot(self.snapshot, self.snapshot.shots[1].key), first)
        self.assertEqual(len(self.book.rack(self.snapshot, self.snapshot.racks[0])), 3)
        self.assertEqual(self.book.request(self.snapshot, self.snapshot.racks).keys, ())

    def test_the_level_is_named_by_what_it_pots(self):
        self.assertRegex(level_words(session()), r"^club player: a straight ball, 1 m and 1 m: \d\d %$")
        self.assertIn("0.5 mrad", level_words(session(level={"aim_spread_mrad": 0.5})))

    def test_near_a_cushion(self):
        self.assertEqual(near_cushion(SPEC, (1.0, R)), "right cushion, touching it")
        self.assertEqual(near_cushion(SPEC, (2.54 - 2 * R, 0.6)), "foot cushion")
        self.assertIsNone(near_cushion(SPEC, (1.0, 0.6)))
        self.assertIsNone(near_cushion(SPEC, None))


class Stored(unittest.TestCase):
    def test_rows_are_written_read_back_and_go_with_their_shot(self):
        with tempfile.TemporaryDirectory() as folder:
            library = open_library(Path(folder) / "a.ripasso")
            document = Document(library, derived_rows)
            document.run(add_session(measured_session()))
            self.assertEqual(library.unmeasured(), ["test"])
            snapshot = document.session("test")
            request = MeasureCache().request(snapshot, snapshot.racks)
            rows = {
                key: (stamp, measure_row(found))
                for key, stamp, found in zip(request.keys, request.stamps(), request.compute(), strict=True)
            }
            library.keep_measures("test", {**rows, "gone": next(iter(rows.values()))})
            self.assertEqual(library.unmeasured(), [])
            self.assertEqual(library.measure_stamps("test"), {k: s for k, (s, _) in rows.items()})
            stored = library.measures("test")[request.keys[1]]
            self.assertEqual({n: stored[n] for n in MEASURE_FIELDS}, rows[request.keys[1]][1])
            self.assertGreater(stored["distance"], 0.19)
            document.undo()
            self.assertEqual(library.measures("test"), {})
            library.close()

    def test_a_stamp_changes_with_what_it_was_computed_from(self):
        document = document_with(measured_session())
        snapshot = document.session("test")
        first = MeasureCache().request(snapshot, snapshot.racks).stamps()
        document.run(set_table(snapshot, settings_of(session(table={"preset": "pool_8ft"}))))
        snapshot = document.session("test")
        second = MeasureCache().request(snapshot, snapshot.racks).stamps()
        self.assertEqual(len({*first, *second}), len(first) + len(second) - 0)


class Chances(unittest.TestCase):
    def test_what_visits_began_with_and_what_came_of_it(self):
        shots = (
            played("a", "1", intent="break"),
            played("a"),
            {**played("b", intent="safety"), "facts": {"potted": [], "cushion_after_contact": True}},
            played("a", "9"),
        )
        document = document_with(session(racks=[rack_of(*shots)]))
        score = document.session("test").score
        looks = {(1, 2): Look(0.3), (1, 3): Look(0.7), (1, 4): Look(0.8, True)}
        results = session_results(document.session("test").session, score, LiveFilm())
        course = match_course(score, {}, results, looks=looks)
        told = [(line.visit.player, line.began, line.chance, line.converted) for line in course.visits]
        self.assertEqual(told[1], ("b", "miss", 0.7, False))
        self.assertEqual(told[2], ("a", "safety_left_open", 0.8, True))
        shut = match_course(score, {}, results, looks={(1, 4): Look(0.4, True)})
        self.assertEqual((shut.visits[2].began, shut.visits[2].converted), ("long_pot", None))


class Breaks(unittest.TestCase):
    def test_places_of_a_nine_ball_break(self):
        before = {"cue": (0.5, 0.4), **nine_ball_rack(SPEC)}
        after = {"cue": (1.3, 0.7), "1": (1.95, 0.6), "5": (0.3, 0.3), "8": (2.1, 0.64)}
        potted = (("4", "foot_left"), ("2", "side_left"), ("9", "foot_right"))
        found = break_places(SPEC, before, after, potted)
        # The wing balls of the diamond are 4 and 5, its second row 2 and 3.
        self.assertTrue(found["outer_ball_down"])
        self.assertTrue(found["second_row_in_side"])
        self.assertFalse(found["head_in_side"])
        self.assertTrue(found["in_box"])
        self.assertTrue(found["central"])
        self.assertEqual(found["left_in_rack"], 2)
        outside = break_places(SPEC, {**before, "cue": (0.5, 0.2)}, None, ())
        self.assertFalse(outside["in_box"])
        self.assertNotIn("left_in_rack", outside)
        self.assertEqual(break_places(SPEC, None, None, ()), {})

    def test_the_break_off_of_snooker(self):
        table = table_spec({"preset": "snooker_12ft"})
        self.assertTrue(break_off_places(table, {"cue": (0.5, 0.9)})["behind_baulk"])
        self.assertFalse(break_off_places(table, {"cue": (0.9, 0.9)})["behind_baulk"])
        self.assertEqual(break_off_places(table, None), {})


class Table(unittest.TestCase):
    def test_only_what_differs_from_the_preset_is_written(self):
        from dataclasses import replace

        document = document_with(session())
        now = settings_of(document.session("test").head)
        tight = replace(now, spec=replace(now.spec, corner_mouth=0.1048), cloth="fast", level=0.8)
        document.run(set_table(document.session("test"), tight))
        head = document.session("test").head
        self.assertEqual(head.table, {"preset": "pool_9ft", "corner_mouth": 0.1048})
        self.assertEqual((head.table_state.cloth, head.level.aim_spread_mrad), ("fast", 0.8))
        self.assertEqual(settings_of(head), tight)
        document.run(set_table(document.session("test"), now))
        self.assertEqual(document.session("test").head.table, {"preset": "pool_9ft"})
        document.undo()
        document.undo()
        self.assertEqual(document.session("test").head, session().model_copy(update={"racks": ()}))

    def test_mouths_in_the_words_of_the_trade(self):
        self.assertEqual(mouth_words(0.1143), "4 1/2 in")  # 4.5 in = 114.3 mm
        self.assertEqual(mouth_words(4.125 * 0.0254), "4 1/8 in")
        self.assertEqual(mouth_words(0.110), "about 4 3/8 in")


class AllPots(unittest.TestCase):
    def test_a_ball_in_the_way_is_named_and_may_be_taken_away(self):
        layout = {"cue": (0.9, 0.6), "1": (1.9, 0.6), "2": (1.4, 0.6)}
        rows = {row[0].ball: row for row in pot_table(SPEC, layout, 0.0015)}
        blocked = [cell for cell in rows["1"] if cell.obstacle == "cue_blocked"]
        self.assertTrue(blocked)
        self.assertEqual(blocked[0].blockers, ("2",))
        self.assertIn("by 2", blocked[0].words)
        free = {row[0].ball: row for row in pot_table(SPEC, layout, 0.0015, gone="2")}
        self.assertNotIn("2", free)
        self.assertTrue(any(cell.obstacle is None for cell in free["1"]))
        self.assertEqual(pot_table(SPEC, layout, 0.0015, gone="cue"), [])

    def test_touching_balls_have_words(self):
        layout = {"cue": (0.9, 0.6), "1": (0.9 + 2 * R, 0.6)}
        self.assertEqual({c.words for c in pot_table(SPEC, layout, 0.0015)[0]}, {"touches the cue ball"})
