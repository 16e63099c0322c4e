"""The record: what is set, what is missing, what is unknown; in and out without loss."""

import json
import unittest
from pathlib import Path

import jsonschema
from hypothesis import given, settings
from hypothesis import strategies as st

from ripasso.review.record.model import Session, serialize
from ripasso.review.record.parsing import (
    InvalidSession,
    UnreadableSession,
    is_newer,
    read_session,
    session_schema,
)
from tests.sessions import rack_of, session_data

SCHEMA_FILE = Path(__file__).resolve().parents[2] / "docs" / "ripasso-session.schema.json"

EVERYTHING = session_data(
    date="2026-01-02",
    venue="The back room",
    rules={"race_to": 3, "house": {"own": True}},
    table={"preset": "pool_9ft", "corner_mouth": 0.11, "maker": None},
    level={"aim_spread_mrad": 1.2},
    table_state={"cloth": "fast", "level": [0.1, -0.2]},
    table_checks=[{"kind": "roll", "from": [0, 0], "stopped_at": [1.5, 0.01]}],
    recordings=[{"id": "r", "file": "x.mp4", "views": [{"from": 0, "to": 2.5, "camera": {"k1": 0}}]}],
    film_parts=[{"recording": "r", "from": 1, "to": 2, "kind": "slow", "shows": {"rack": 1}}],
    racks=[
        rack_of(
            {
                "player": "a",
                "intent": "break",
                "break": {"kind": "cut", "power": 80, "own": 1},
                "facts": {"first_contact": None, "potted": [{"ball": "2", "pocket": None}]},
                "before": {"cue": [0.5, 0.6], "1": [1.9, 0.635]},
                "path": {"cue": [[0, 0.5, 0.6], [0.1, 0.9, 0.61]]},
                "plan": {"zone": {"any_of": [{"circle": {"centre": [1, 1], "radius": 0.2, "why": "x"}}]}},
                "error": [{"kind": "break", "unforced": None, "causes": ["pace"]}],
                "decision": {"verdict": "agree", "by": "me", "sure": 0.5},
                "others": [{"by": "you", "error": {"kind": "foul"}}],
                "proposed": {"/t_strike": 0.8},
                "mine": [1, {"deep": None}],
            },
            roles={"6": ["trouble"]},
            plans=[{"version": 1, "order": [{"ball": "1", "link": "easy"}]}],
        )
    ],
    attempt_sets=[
        {"id": "s", "attempts": [{"number": 1, "changed": [{"what": "aim", "by": 1, "unit": "mm"}]}]}
    ],
    future={"key": "kept"},
)


class RoundTrip(unittest.TestCase):
    def test_every_key_known_or_not_comes_back(self):
        self.assertEqual(serialize(read_session(json.dumps(EVERYTHING))), EVERYTHING)

    def test_whole_numbers_stay_whole(self):
        text = json.dumps(EVERYTHING)
        self.assertEqual(
            json.dumps(serialize(read_session(text)), sort_keys=True), json.dumps(EVERYTHING, sort_keys=True)
        )

    def test_missing_and_null_differ(self):
        data = session_data(racks=[rack_of({"facts": {}}, {"facts": {"first_contact": None}}, {})])
        shots = read_session(json.dumps(data)).racks[0].shots
        self.assertNotIn("first_contact", shots[0].facts.model_fields_set)
        self.assertIn("first_contact", shots[1].facts.model_fields_set)
        self.assertEqual([serialize(s) for s in shots], data["racks"][0]["shots"])

    def test_no_racks_and_empty_racks_differ(self):
        with_none = {k: v for k, v in session_data().items() if k != "racks"}
        for data in (with_none, session_data(racks=[])):
            self.assertEqual(serialize(read_session(json.dumps(data))), data)

    @settings(max_examples=60, deadline=None)
    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers(-9, 9) | st.text(max_size=5),
            lambda inner: (
                st.lists(inner, max_size=3)
                | st.dictionaries(st.text(min_size=1, max_size=4), inner, max_size=3)
            ),
            max_leaves=8,
        )
    )
    def test_unknown_values_of_any_shape_come_back(self, value):
        data = session_data(racks=[rack_of({"x_note": value, "facts": {"x_more": value}})], x_own=value)
        self.assertEqual(serialize(read_session(json.dumps(data))), data)

    def test_frozen(self):
        record = read_session(json.dumps(EVERYTHING))
        with self.assertRaises(ValueError):
            record.title = "other"


class Problems(unittest.TestCase):
    def problems(self, **changes):
        with self.assertRaises(InvalidSession) as caught:
            read_session(json.dumps(session_data(**changes)))
        return {p.path: p.text for p in caught.exception.problems}

    def test_a_wrong_type_deep_inside_is_named_by_its_path(self):
        shot = {"t_strike": "soon", "facts": {"potted": [{"ball": 3}]}, "error": {"kind": "laziness"}}
        found = self.problems(racks=[rack_of(shot)])
        self.assertEqual(
            set(found),
            {
                "$.racks[0].shots[0].t_strike",
                "$.racks[0].shots[0].facts.potted[0].ball",
                "$.racks[0].shots[0].error.kind",
            },
        )
        self.assertEqual(found["$.racks[0].shots[0].t_strike"], "should be a number")

    def test_a_missing_key_is_named(self):
        self.assertIn("$.racks[0].number", self.problems(racks=[{"shots": []}]))

    def test_an_id_twice(self):
        players = [{"id": "a"}, {"id": "a"}]
        self.assertIn("$.players[1].id", self.problems(players=players))

    def test_what_is_no_session(self):
        for text in ("", "  ", "{", "[]", '{"format": "other"}', "[" * 100_000, b"\xff\xfe\x00"):
            with self.subTest(text[:10]), self.assertRaises(UnreadableSession) as caught:
                read_session(text)
            self.assertTrue(str(caught.exception).endswith("."))

    def test_numbers_that_are_none(self):
        with self.assertRaises(InvalidSession):
            read_session(json.dumps(session_data(racks=[rack_of({"t_strike": float("nan")})])))

    def test_as_many_reds_as_there_are(self):
        """A small file that asks for a thousand million reds would eat all memory when it is scored."""
        for rules, path in (
            ({"reds": 10**9}, "$.rules.reds"),
            ({"reds": 0}, "$.rules.reds"),
            ({"race_to": -1}, "$.rules.race_to"),
            ({"target_points": 10**12}, "$.rules.target_points"),
        ):
            with self.assertRaises(InvalidSession) as caught:
                read_session(json.dumps(session_data(game="snooker", rules=rules)))
            self.assertEqual([problem.path for problem in caught.exception.problems], [path])
        read_session(json.dumps(session_data(game="snooker", rules={"reds": 6, "race_to": 18})))

    def test_many_problems_are_found_in_one_go(self):
        """The work grows with their number, not with its square."""
        with self.assertRaises(InvalidSession) as caught:
            read_session(json.dumps(session_data(racks=[1] * 20_000)))
        self.assertEqual(len(caught.exception.problems), 20_000)

    def test_a_number_of_thousands_of_digits(self):
        text = json.dumps(session_data()).replace('"racks": []', f'"racks": [], "note": {"9" * 5000}')
        with self.assertRaises(UnreadableSession) as caught:
            read_session(text)
        self.assertIn("thousands of digits", str(caught.exception))

    def test_a_newer_version_is_read_and_said(self):
        newer = read_session(json.dumps(session_data(version=2, news=1)))
        self.assertTrue(is_newer(newer))
        self.assertEqual(serialize(newer)["news"], 1)
        for version in (0, "1", True, None):
            self.assertIn("$.version", self.problems(version=version))


class Schema(unittest.TestCase):
    def test_the_shipped_schema_is_the_generated_one(self):
        self.assertEqual(json.loads(SCHEMA_FILE.read_text(encoding="utf-8")), session_schema())

    def test_it_is_a_schema_and_takes_a_full_session(self):
        schema = session_schema()
        jsonschema.Draft202012Validator.check_schema(schema)
        validator = jsonschema.Draft202012Validator(schema)
        self.assertEqual([e.message for e in validator.iter_errors(EVERYTHING)], [])
        wrong = session_data(racks=[rack_of({"t_strike": "soon"})])
        self.assertFalse(validator.is_valid(wrong))

    def test_the_model_keeps_python_names_out_of_files(self):
        self.assertNotIn("from_", json.dumps(serialize(Session.model_validate_json(json.dumps(EVERYTHING)))))


if __name__ == "__main__":
    unittest.main()
