"""The facts of a library are those of the records, column by column; what is kept is what was made."""

import dataclasses
import gc
import hashlib
import unittest
import weakref
from pathlib import Path

import numpy as np

from ripasso.core.figures.facts import Facts
from ripasso.core.figures.schema import COLUMNS, MEASURES, RECORD, SHOT_FIELDS, unknown_of
from ripasso.core.figures.session_columns import JoinedColumns, SessionColumns, SessionConstants
from ripasso.core.measures.shots import Geometry, Position, ShotMeasures
from ripasso.review.document import edits
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.rows.measured_session import measured_session
from ripasso.statistics.rows.shot_rows import FIGURES_VERSION
from ripasso.store.rows import tables
from tests.facts_document import document
from tests.sessions import played, rack_of, session
from tests.slow_facts import facts_of_session
from tests.windows import demo_library, open_copy

#: What the slow facts do not say, or say in another way.
NOT_COMPARED = {
    *("key", "session_key", "judged", "errors", "pocket", "root", "words"),
    *("measured_ball", "measured_pocket", "obstacle", "best_ball", "best_pocket", "next_ball", "next_pocket"),
    *("crossing", "fullness", "window_full_deg", "visible", "angle_left_deg", "zone_distance"),
    *("chance_rest", "chance_aim", "side_deg"),
}


#: The version of the figures, and the columns that it has.
FIGURES = (11, "c21a741664db")
#: Parts of the measures that are drawings, or are kept in other columns.
NOT_STORED = {
    *("balls_on", "geometry", "best", "position", "next_pots", "side_spin", "target", "ghost"),
    *("tolerance_mrad", "object_blockers", "cue_blockers", "tangent_deg", "natural_roll_deg"),
}
#: Measures that are drawn, or that stand behind another that is said.
NOT_IN_WORDS = {
    *("balls_on", "next_pots", "ball_to_cushion", "target", "ghost", "tangent_deg", "natural_roll_deg"),
    *("tolerance_left_mrad", "tolerance_right_mrad", "next_ball", "next_pocket"),
}


class EveryColumn(unittest.TestCase):
    def test_columns_are_those_of_the_records(self):
        library, document = open_copy(self, demo_library())
        facts = LibraryIndex(library).read().facts
        rows = []
        for index, key in enumerate(sorted(line.key for line in library.sessions() if line.shots)):
            rows += facts_of_session(document.session(key).session, index)
        kept = facts.where(facts.known("person"))
        self.assertEqual(len(kept), len(rows))
        compared = 0
        for name, column in COLUMNS.items():
            if name in NOT_COMPARED:
                continue
            with self.subTest(column=name):
                expected = [getattr(row, name) for row in rows]
                if column.kind == "number":
                    np.testing.assert_allclose(kept.numbers(name), expected, rtol=1e-9, atol=1e-12)
                else:
                    stored = kept.texts(name) if column.kind in ("text", "words") else kept.ints(name)
                    unlike = [i for i, (a, b) in enumerate(zip(stored, expected, strict=True)) if a != b]
                    self.assertEqual(unlike, [], [(stored[i], expected[i]) for i in unlike[:3]])
                compared += 1
        self.assertGreater(compared, 80)

    def test_a_decision_called_a_mistake_is_an_unforced_error(self):
        shot = {**played("a", "1"), "decision": {"verdict": "mistake"}}
        made = measured_session(session(racks=[rack_of(shot, played("a", "2"))]))
        self.assertEqual(made.columns.facts.texts("unforced").tolist(), ["decision", ""])

    def test_one_schema_names_rows_tables_and_columns(self):
        self.assertEqual(len(COLUMNS), len({column.name for column in COLUMNS.values()}))
        self.assertEqual([c.name for c in tables.shot_figure.columns], [*SHOT_FIELDS, "place", "version"])
        stored = [column.name for column in tables.shot_measure.columns]
        self.assertEqual(stored, ["key", "session", "stamp", *(column.stored for column in MEASURES)])
        self.assertTrue(all(column.meaning for column in (*RECORD, *MEASURES)))

    def test_every_column_is_filled(self):
        """In the demo, or in a shot of which the demo says nothing."""
        library, _ = open_copy(self, demo_library())
        rare = {**played("a", "1"), "methods": ["bank"]}
        rare |= {
            "result": {"luck": "fluke", "colour_meant": "black", "rattled": True, "missed_by": "far"},
            "free_ball": True,
        }
        rare |= {
            "stroke": {"pace_percent": 60, "feathers": 3, "elevation_deg": 15},
            "plan": {"system": "plus"},
        }
        worth = {"value": 0.5, "low": 0.45, "high": 0.55}
        clear = {"before": 0.5, "chosen": 0.4, "after": 0.3, "rest": [1, 0.5], "hard": 1, "clusters": 0}
        weighed = {"best": worth, "chosen": worth, "reached": 0.3, "clear": clear}
        rare |= {"decision": {"weighed": weighed}, "call": {"ball": "1", "pocket": "foot_left"}}
        rare |= {"others": [{"by": "Bo", "decision": {"verdict": "agree"}}]}
        rare |= {"before": {"cue": [1, 1], "1": [2, 1]}, "after": {"cue": [1.5, 0.8]}}
        blocked = {**played("a"), "call": {"ball": "2", "pocket": "foot_left"}}
        blocked |= {"before": {"cue": [1, 1], "2": [2, 1], "3": [2.3, 1.15]}}
        broken = {**played("a", intent="break"), "break": {"power": 80}}
        shots = [broken, rare, blocked, played("b", cue_potted=True)]
        racks = [{"number": 1, "not_shown": True}, rack_of(*shots)]
        made = measured_session(session(racks=racks)).columns.facts
        demo = LibraryIndex(library).read().facts
        empty = [name for name in COLUMNS if not (self.is_known(demo, name) or self.is_known(made, name))]
        self.assertEqual(empty, [], "no shot has a value there: fill it in statistics/rows/")

    def is_known(self, facts, name):
        """Whether a column says something of some shot."""
        kind = COLUMNS[name].kind
        if kind == "number":
            return not np.isnan(facts.numbers(name)).all()
        if kind == "flag":
            return facts.flags(name).any()
        if kind in ("text", "words"):
            return name == "key" or facts.known(name).any()
        return (facts.ints(name) != unknown_of(kind)).any()

    def test_a_column_more_is_another_version_of_the_figures(self):
        found = hashlib.sha256(" ".join(SHOT_FIELDS).encode()).hexdigest()[:12]
        self.assertEqual(
            (FIGURES_VERSION, found),
            FIGURES,
            "the columns changed: step FIGURES_VERSION, so that old rows are computed anew, and say so here",
        )

    def test_every_measure_is_stored_and_described(self):
        parts = (ShotMeasures, Geometry, Position)
        fields = {field.name for part in parts for field in dataclasses.fields(part)}
        missing = fields - {column.stored for column in MEASURES} - NOT_STORED
        self.assertEqual(missing, set(), "measured, but in no line of MEASURES (core/figures/schema.py)")
        source = Path(__file__).resolve().parents[2] / "src" / "ripasso" / "review" / "present"
        words = "".join(path.read_text(encoding="utf-8") for path in source.glob("*.py"))
        unsaid = {name for name in fields if f".{name}" not in words} - NOT_IN_WORDS
        self.assertEqual(unsaid, set(), "measured, but no line says it: see review/present/measure_words.py")

    def test_the_page_of_facts_is_that_of_the_schema(self):
        page = Path(__file__).resolve().parents[2] / "docs" / "facts.md"
        self.assertEqual(page.read_text(encoding="utf-8"), document(), "run `make facts`")


class Kept(unittest.TestCase):
    def setUp(self):
        self.library, self.document = open_copy(self, demo_library())
        self.index = LibraryIndex(self.library)

    def alike(self, one, other):
        self.assertEqual(len(one), len(other))
        for name, column in COLUMNS.items():
            with self.subTest(column=name):
                if name == "key":
                    self.assertEqual(
                        [one.key(i) for i in range(len(one))], [other.key(i) for i in range(len(other))]
                    )
                elif column.kind in ("text", "words"):
                    self.assertEqual(one.texts(name).tolist(), other.texts(name).tolist())
                elif column.kind == "number":
                    np.testing.assert_array_equal(one.numbers(name), other.numbers(name))
                else:
                    np.testing.assert_array_equal(one.ints(name), other.ints(name))

    def test_what_is_kept_is_read_as_it_was_made(self):
        made = self.index.read().facts
        rows = self.library.shot_rows
        self.library.shot_rows = None  # everything is kept by now
        kept = LibraryIndex(self.library).read().facts
        self.library.shot_rows = rows
        self.alike(kept, made)

    def test_a_shot_less_lets_go_of_all_that_was_joined_before(self):
        before = weakref.ref(self.index.read().facts.numbers("leave").base)
        key = self.library.sessions()[0].key
        snapshot = self.document.session(key)
        self.document.run(edits.remove_shot(snapshot, snapshot.shots[0].key))
        self.index.read()
        gc.collect()
        self.assertIsNone(before())

    def test_a_tag_renews_its_session_and_equals_reading_anew(self):
        before = self.index.read()
        before.facts.texts("pace"), before.facts.flags("made"), before.facts.numbers("leave")
        asked, rows = [], self.library.shot_rows
        self.library.shot_rows = lambda session: (asked.append(session), rows(session))[1]
        key = self.library.sessions()[0].key
        snapshot = self.document.session(key)
        values = {("result", "pace"): "short", ("tags",): ["a word of its own"]}
        shot = snapshot.shots[0].key
        self.document.run(edits.set_values(snapshot, "shot", shot, values, "tag"))
        after = self.index.read()
        self.assertEqual(asked, [key])
        self.assertIs(self.index.read(), after)
        self.assertIn("a_word_of_its_own", after.facts.words("tags"))
        self.alike(after.facts, LibraryIndex(self.library).read().facts)
        # A shot less, and the title.
        snapshot = self.document.session(key)
        self.document.run(edits.remove_shot(snapshot, shot))
        self.document.run(
            edits.set_values(self.document.session(key), "session", key, {("title",): "Other"}, "t")
        )
        later = self.index.read()
        self.assertEqual((len(later.facts), later.titles[key]), (len(after.facts) - 1, "Other"))
        self.alike(later.facts, LibraryIndex(self.library).read().facts)
        self.document.run(edits.remove_session(self.document.session(key)))
        self.assertNotIn(key, self.index.read().facts.values("session_key"))

    def test_a_change_while_columns_are_made_is_not_missed(self):
        """Columns of rows that were changed before they could be kept are not kept."""
        key = self.library.sessions()[0].key
        rows = self.library.shot_rows

        def reading(session):
            found = rows(session)
            if session == key:
                snapshot = self.document.session(key)
                shot = snapshot.shots[0].key
                self.document.run(edits.set_values(snapshot, "shot", shot, {("tags",): ["late"]}, "tag"))
                self.library.shot_rows = rows
            return found

        self.library.keep_columns({key: (self.library.changes(key), b"old")})
        self.library.shot_rows = reading
        self.index.read()
        self.assertNotIn(key, self.library.kept_columns([key]))
        self.assertIn("late", self.index.read().facts.words("tags"))

    def test_columns_of_another_schema_are_made_anew(self):
        self.index.read()
        key = self.library.sessions()[0].key
        for data in (b"", b"no columns", b"{}\n", b'{"stamp": "other"}\n123'):
            self.library.keep_columns({key: (self.library.changes(key), data)})
            self.alike(LibraryIndex(self.library).read().facts, self.index.read().facts)


class Plain(unittest.TestCase):
    def columns(self, count):
        columns = {column.name: [""] * count for column in COLUMNS.values()}
        for column in COLUMNS.values():
            if column.kind in ("answer", "count", "number"):
                columns[column.name] = [-1] * count
            elif column.kind == "flag":
                columns[column.name] = [False] * count
        return columns

    def test_a_session_without_shots(self):
        made = SessionColumns.of(SessionConstants("s"), self.columns(0))
        again = SessionColumns.from_bytes(made.to_bytes(), made.constants)
        self.assertEqual((len(made), len(again)), (0, 0))
        self.assertEqual(len(Facts(JoinedColumns([made]))), 0)
        self.assertEqual(Facts(JoinedColumns([])).texts("pace").tolist(), [])

    def test_more_texts_than_two_bytes_can_tell_apart(self):
        count = 2**16 + 3
        columns = self.columns(count) | {"words": [f"note {i}" for i in range(count)]}
        made = SessionColumns.of(SessionConstants("s"), columns)
        again = SessionColumns.from_bytes(made.to_bytes(), made.constants)
        self.assertEqual(again.facts.texts("words")[-1], f"note {count - 1}")

    def test_a_key_that_is_too_long_is_refused(self):
        with self.assertRaises(ValueError):
            SessionColumns.of(SessionConstants("s"), self.columns(1) | {"key": ["k" * 41]})

    def test_a_stranger_among_columns_is_refused(self):
        with self.assertRaises(KeyError) as caught:
            Facts.of_columns({"made_up": np.zeros(1)}, 1)
        self.assertIn("made_up", str(caught.exception))


if __name__ == "__main__":
    unittest.main()
