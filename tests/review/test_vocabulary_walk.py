"""What can be said is seen (a chip), found (a field) and counted (a row of Statistics), word by word."""

import json
import unittest

import numpy as np

from ripasso.core.figures.facts import Facts
from ripasso.core.figures.session_columns import JoinedColumns
from ripasso.core.finding import FIELDS, matching, parse_query
from ripasso.review.entry.break_sheet import SHEETS
from ripasso.review.entry.rack_words import ROLES
from ripasso.review.entry.tagging import Context
from ripasso.review.entry.word_values import changed_shot, items_of
from ripasso.review.language.items import Elevation, Feathers, Manner, PacePercent, Predicted, System, Word
from ripasso.review.language.parsing import parse
from ripasso.review.language.terms import TERMS
from ripasso.review.present.describing import chips
from ripasso.review.record.model import Shot, serialize
from ripasso.review.record.values import Role
from ripasso.statistics.pages.lines import Side, lines_of
from ripasso.statistics.pages.pages import PAGES
from ripasso.statistics.rows.measured_session import measured_session
from ripasso.statistics.rows.search_columns import columns_of
from tests.sessions import rack_of, session

#: The search field of each path of the record.
FIELD_OF = {
    "intent": "intent",
    "methods": "method",
    "stroke.kind": "stroke",
    "stroke.pace": "stroke_pace",
    "stroke.side_amount": "amount",
    "stroke.purpose": "purpose",
    "delivery": "delivery",
    "plan.if_missed": "if_missed",
    "plan.cushions": "off",
    "plan.aims": "aim",
    "result.position": "position",
    "result.contact": "contact",
    "result.missed_by": "missed_by",
    "result.pace": "pace",
    "result.side": "side",
    "result.angle": "angle",
    "result.rattled": "rattled",
    "result.luck": "luck",
    "decision.verdict": "verdict",
    "error.kind": "error",
    "error.causes": "cause",
    "events": "event",
}
#: Where a word is counted on another page than that of what was said, and why.
ELSEWHERE = {"error.kind": ("errors", "errors are counted by kind, judged or by chance")}
MISSED = {
    "player": "a",
    "intent": "pot",
    "call": {"ball": "1", "pocket": "foot_left"},
    "facts": {"potted": []},
}


def missed():
    return Shot.model_validate_json(json.dumps({"number": 1, **MISSED}))


def shot_that_says(item):
    """A missed pot of which a thing is said."""
    return changed_shot(Context(missed(), "nine_ball", None), [item])


class EveryWord(unittest.TestCase):
    def check(self, item, query, column=None, game="nine_ball"):
        """The item's shot has another chip, is found by the query, and is in a row of Statistics."""
        said, bare = shot_that_says(item), missed()
        if said != bare:
            self.assertNotEqual(chips(said), chips(bare), f"{item} has no chip: present/describing.py")
        other = {**MISSED, "intent": None, "player": "b"}
        record = session(game=game, racks=[rack_of({**serialize(said), "number": 1}, other)])
        facts, columns = columns_of([record])
        found = matching(parse_query(query, FIELDS), columns).tolist()
        self.assertTrue(found[0], f"{query} does not find it: core/finding/matching.py")
        if column is not None:
            self.counted(record, facts, column)

    def counted(self, record, facts, column):
        page, _, row = column.partition("/")
        side = Side("ada quill", "Ada", facts.equal("person", "ada quill"), "ada quill")
        ids = {line[0] for line in lines_of(PAGES[page], facts, side)}
        self.assertIn(row, ids, f"{column} is in no row: statistics/pages/{page}")

    def test_every_term(self):
        columns = {"error.causes": "causes", "stroke.kind": "stroke", "stroke.pace": "stroke_pace"}
        columns |= {"stroke.side_amount": "side_amount", "stroke.purpose": "purposes", "plan.aims": "aims"}
        columns |= {"plan.cushions": "off", "plan.if_missed": "if_missed", "result.side": "said_side"}
        for term in TERMS:
            path = ".".join(term.path)
            with self.subTest(term.id):
                self.assertIn(path, FIELD_OF, "a group of words without a field: add it here and to FIELDS")
                value = "yes" if term.value is True else term.value
                row = f"said/{columns.get(path, term.path[-1])} {value}"
                if path in ELSEWHERE:
                    row = None
                asked = "no" if value == "none" else value
                self.check(Word(term.id), f"{FIELD_OF[path]}:{asked}", row)

    def test_kinds_of_error_are_counted_among_the_errors(self):
        for term in TERMS:
            if term.path == ("error", "kind"):
                shot = shot_that_says(Word(term.id))
                data = serialize(shot) | {"error": {"kind": term.value, "unforced": True}}
                record = session(racks=[rack_of(data)])
                facts = Facts(JoinedColumns([measured_session(record).columns]))
                self.counted(record, facts, f"errors/unforced_{term.value}")

    def test_numbers_systems_and_predictions(self):
        self.check(PacePercent(60), "percent:60", "said/pace_percent")
        self.check(Elevation(20), "raised:>10", "said/raised")
        self.check(Feathers(4), "feathers:4", "said/feathers")
        self.check(System("plus"), "system:plus", "said/system plus")
        self.check(Predicted("bram", "1"), "expected:bram:hit", "said/predicted bram")
        self.check(Predicted("bram", "2"), "expected:bram:miss", "said/predicted bram")
        self.check(Predicted("bram", None, None, "safety"), "expected:bram:miss", "said/predicted bram")
        self.check(Predicted("bram", kind="bank"), "-expected:bram:hit")  # methods are not known
        self.check(Predicted("bram", ball="1", cushions=2), "expected:bram:hit", "said/predicted bram")

    def test_every_role_of_a_ball(self):
        self.assertEqual(set(ROLES.values()), set(Role.__args__))
        for role in Role.__args__:
            record = session(racks=[rack_of(MISSED, roles={"1": [role]})])
            facts, columns = columns_of([record])
            self.assertTrue(matching(parse_query(f"role:{role}", FIELDS), columns)[0], role)
            self.counted(record, facts, f"said/roles {role}")

    def test_the_key_ball_of_a_plan_is_a_key_ball(self):
        record = session(racks=[rack_of(MISSED, plans=[{"version": 1, "key_ball": "1"}])])
        facts, columns = columns_of([record])
        self.assertTrue(matching(parse_query("role:key", FIELDS), columns)[0])
        self.counted(record, facts, "said/roles key")

    def test_every_line_of_every_break_sheet(self):
        for game, sheet in SHEETS.items():
            for line in sheet:
                for value in line.values:
                    shot = {"player": "a", "intent": "break", "break": {line.name: value}}
                    record = session(game=game, racks=[rack_of(shot)])
                    facts, columns = columns_of([record])
                    word = {True: "yes", False: "no"}.get(value, value) if isinstance(value, bool) else value
                    query = f"sheet:{line.name}_{word}"
                    self.assertTrue(matching(parse_query(query, FIELDS), columns)[0], query)
                    self.counted(record, facts, f"said/sheet {line.name}_{word}")

    def test_every_answer_may_be_said_in_both_traditions(self):
        for tradition in ("american", "british"):
            manner = Manner(tradition)
            for term in TERMS:
                said = Word(term.id).written(manner)
                self.assertEqual(parse(said), (Word(term.id),), said)
            for item in (PacePercent(35.0), Elevation(15.0), Feathers(3), System("plus")):
                shot = shot_that_says(item)
                self.assertIn(item, items_of(shot, "nine_ball"))
                self.assertEqual(parse(item.written(manner)), (item,))

    def test_what_the_trade_calls_it(self):
        for phrase, term in (
            ("undercut", "missed_thick"),
            ("overcut", "missed_thin"),
            ("overhit", "result.pace.long"),
            ("underhit", "result.pace.short"),
            ("hook", "events.snooker_laid"),
            ("shot to nothing", "intent.two_way"),
            ("stop shot", "stroke.kind.stun"),
            ("float", "stroke.kind.roll"),
            ("upside down", "result.side.wrong"),
            ("negative angle", "result.side.wrong"),
            ("deep screw", "stroke.kind.draw"),
            ("stick", "events.stuck"),
            ("feathers 4", None),
        ):
            (item,) = parse(phrase)
            if term is not None:
                self.assertEqual(getattr(item, "id", getattr(item, "name", None)), term, phrase)

    def test_nothing_is_counted_twice(self):
        self.assertEqual(len(FIELD_OF), len(set(FIELD_OF.values())))
        self.assertTrue(np.isin(list(FIELD_OF.values()), list(FIELDS)).all())


if __name__ == "__main__":
    unittest.main()
