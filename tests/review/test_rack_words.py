"""A rack in words and as a sheet: roles, plans by version, planned beside played, roots, repeated faults."""

import json
import unittest

from ripasso.core.geometry.zones import Circle as ZoneCircle
from ripasso.core.table import table_spec
from ripasso.drawing.chain import chain
from ripasso.drawing.primitives import Circle, Line, Text
from ripasso.review.document.edits import with_values
from ripasso.review.entry.options import (
    NothingToWeigh,
    better_option,
    chosen_option,
    forgotten_option,
    kept_option,
    option_lines,
)
from ripasso.review.entry.rack_words import CLAUSES, parse_rack, rack_values
from ripasso.review.language.parsing import NotAWord
from ripasso.review.present.rack_sheet import (
    fault_words,
    plan_sheet,
    rack_sheet,
    repeated_faults,
    suggested_making,
)
from ripasso.review.record.model import Rack, Shot, serialize
from ripasso.review.record.values import Role
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.report import stats_report
from tests.sessions import played, rack_of, session

NOTHING_PROVEN = {"proven": 0, "at_least": False, "by_score": False, "stated": None}


def a_rack(*shots, **more):
    return Rack.model_validate_json(json.dumps(rack_of(*shots, **more)))


def said(rack, text, shot=None, by=""):
    return with_values(rack, rack_values(session(), rack, parse_rack(text), shot, by))


class Words(unittest.TestCase):
    def test_everything_of_a_rack_in_one_line(self):
        rack = said(
            a_rack(played("a", "1")),
            "group solids because four are open; order 1 2 side left 3 hard 8; 6 trouble; 1 3 cluster; "
            "key 3; root 2; made 1; lesson stop short of the middle",
            by="ada",
        )
        data = serialize(rack)
        self.assertEqual(data["roles"], {"6": ["trouble"], "1": ["cluster"], "3": ["cluster"]})
        (plan,) = data["plans"]
        self.assertEqual((plan["group"], plan["reason"]), ("solids", "four are open"))
        self.assertEqual(
            plan["order"],
            [
                {"ball": "1"},
                {"ball": "2", "pocket": "side_left"},
                {"ball": "3", "link": "hard"},
                {"ball": "8"},
            ],
        )
        self.assertEqual((plan["version"], plan["by"], plan["key_ball"]), (1, "ada", "3"))
        self.assertEqual((data["root_shot"], data["making_shot"]), (2, 1))
        self.assertEqual(data["lesson"], "stop short of the middle")

    def test_a_later_plan_is_a_new_version_that_keeps_the_group(self):
        rack = said(a_rack(played("a", "1")), "group stripes; order 9 10 8")
        rack = said(rack, "key 10")
        self.assertEqual(len(rack.plans), 1)
        rack = said(rack, "order 10 9 8", shot=4)
        first, second = rack.plans
        self.assertEqual((second.version, second.made_at_shot, second.group), (2, 4, "stripes"))
        self.assertEqual([one.ball for one in first.order], ["9", "10", "8"])
        rack = said(rack, "order 9 8; by bram", shot=4)
        self.assertEqual([plan.by for plan in rack.plans], [None, None, "bram"])

    def test_a_reason_ends_at_the_next_clause_or_ball(self):
        plan = serialize(said(a_rack(), "group solids because four are open, order 1 2 key 2"))["plans"][0]
        self.assertEqual((plan["group"], plan["reason"], plan["key_ball"]), ("solids", "four are open", "2"))
        self.assertEqual([one["ball"] for one in plan["order"]], ["1", "2"])
        plan = serialize(said(a_rack(), "order 1 because it blocks the way 2 side left 8"))["plans"][0]
        self.assertEqual([one["ball"] for one in plan["order"]], ["1", "2", "8"])
        self.assertEqual(plan["order"][0]["reason"], "it blocks the way")
        self.assertEqual(plan["order"][1]["pocket"], "side_left")
        kept = serialize(said(a_rack(), "group solids because the key is by the pocket"))["plans"][0]
        self.assertEqual(kept["reason"], "the key is by the pocket")

    def test_commas_of_a_lesson_stay(self):
        rack = said(a_rack(), "2 key; lesson stop short, not past it")
        self.assertEqual((rack.lesson, rack.roles), ("stop short, not past it", {"2": ("key",)}))

    def test_a_plan_of_the_same_person_at_the_same_shot(self):
        rack = said(a_rack(), "order 1 2 3; by ada", shot=2)
        rack = said(rack, "key 3; by ada", shot=2)  # a word more completes it
        self.assertEqual([plan.version for plan in rack.plans], [1])
        rack = said(rack, "order 1 3 2; by ada", shot=2)  # another order is another plan
        self.assertEqual([plan.version for plan in rack.plans], [1, 2])
        self.assertEqual([one.ball for one in rack.plans[0].order], ["1", "2", "3"])

    def test_a_plan_that_is_typed_later_is_dated_by_what_is_said(self):
        rack = said(a_rack(), "order 1 2; at shot 4", shot=9)
        self.assertEqual(rack.plans[0].made_at_shot, 4)
        self.assertIsNone(said(a_rack(), "order 1 2; at shot 1", shot=9).plans[0].made_at_shot)
        self.assertRaises(NotAWord, parse_rack, "order 1; at shot")

    def test_roles_of_balls_that_begin_like_clauses(self):
        rack = said(a_rack(), "12 break ball; 4 key ball; 9 insurance")
        self.assertEqual(serialize(rack)["roles"], {"12": ["break_ball"], "4": ["key"], "9": ["insurance"]})

    def test_what_is_wrong_is_explained(self):
        for text, hint in (
            ("6 truble", "trouble"),
            ("ordr 1 2", "order"),
            ("order", "order 1 2"),
            ("order 1 blau", "blau"),
            ("group reds", "solids"),
            ("key x", "key 4"),
            ("root", "root 7"),
            ("by", "by ada"),
            ("xyz", "6 trouble"),
        ):
            with self.subTest(text), self.assertRaises(NotAWord) as caught:
                parse_rack(text)
            self.assertIn(hint, str(caught.exception))
        for clause in CLAUSES.values():
            parse_rack(clause.split(":")[0])


class WhatIsNotShown(unittest.TestCase):
    """Somebody's word on racks that the film leaves out is kept apart from what is proven."""

    def test_a_claim_names_the_player_and_who_says_so(self):
        rack = said(a_rack(), "said ada streak 5 by Ida Wren; said Bram Oster run 62")
        self.assertEqual(
            serialize(rack)["stated"],
            [
                {"player": "a", "what": "streak", "value": 5, "by": "Ida Wren"},
                {"player": "b", "what": "run", "value": 62},
            ],
        )
        again = said(rack, "said ada streak 5 by Ida Wren")
        self.assertEqual(len(again.stated), 2)  # said twice it is one claim
        sheet = rack_sheet(session(), rack, None, [])
        self.assertEqual(
            sheet.stated, ("Ada Quill, 5 racks in a row, says Ida Wren", "Bram Oster, 62 in one visit")
        )

    def test_what_is_no_claim(self):
        for text, sentence in (
            ("said ada", "Who made how many"),
            ("said streak 5", "Who made how many"),
            ("said ada streak many", "Who made how many"),
            ("said carl streak 5", "is nobody here; players are Ada Quill, Bram Oster"),
            ("said ada streak 5 perhaps", "“perhaps” has no place here"),
        ):
            with self.subTest(text), self.assertRaises(NotAWord) as caught:
                said(a_rack(), text)
            self.assertIn(sentence, str(caught.exception))

    def test_the_highest_that_is_said_counts_for_its_player_alone(self):
        racks = [
            rack_of(played("a", "1"), stated=[{"player": "a", "what": "streak", "value": 4, "by": "Ida"}]),
            rack_of(played("b", "1"), stated=[{"player": "a", "what": "streak", "value": 7}]),
        ]
        record = session(racks=racks, stated=[{"player": "b", "what": "break", "value": 88}])
        report = stats_report([record])["players"]
        self.assertEqual(report["a"]["racks"]["streak"], NOTHING_PROVEN | {"stated": 7})
        self.assertEqual(report["b"]["racks"]["streak"], NOTHING_PROVEN)
        self.assertEqual(report["b"]["racks"]["stated"], {"run": None, "break": 88})

    def test_every_role_has_words_on_the_sheet(self):
        for role in Role.__args__:
            with self.subTest(role):
                (line,) = rack_sheet(session(), a_rack(roles={"4": [role]}), None, []).roles
                self.assertNotIn("_", line)


class Sheet(unittest.TestCase):
    def test_planned_beside_played(self):
        rack = a_rack(played("a", "9", intent="break"), played("a", "2"), played("a", "1"), played("a"))
        rack = said(rack, "order 1 2 foot left 3")
        sheet = plan_sheet(rack, rack.plans[0], "eight_ball")
        self.assertEqual(
            [(line.ball, line.fell_at, line.in_turn) for line in sheet.lines],
            [("1", 3, False), ("2", 2, False), ("3", None, None)],
        )
        self.assertEqual(sheet.lines[1].pocket, "foot left")
        self.assertEqual(sheet.title, "Plan 1")

    def test_what_made_a_rack_is_found_backwards(self):
        shots = [
            played("a", "5", intent="break"),
            {**played("a", "1"), "events": ["cluster_opened"]},
            played("a", "2"),
            played("a", "9"),
        ]
        made = session(racks=[rack_of(*shots)])
        score = score_of(made)
        self.assertEqual(suggested_making(made.racks[0], score.racks[0]), 2)
        sheet = rack_sheet(made, made.racks[0], score.racks[0], [()] * 4)
        self.assertEqual((sheet.making_suggested, sheet.root_suggested), (2, None))

    def test_the_same_fault_in_several_racks_is_counted(self):
        short = {"error": {"kind": "position", "causes": ["pace"]}}
        once = {"error": {"kind": "pot", "causes": ["aim"]}}
        racks = [
            rack_of({**played("a", "1"), **short}, {**played("a"), **once}),
            {**rack_of({**played("b", "1"), **short}, {**played("b", "2"), **short}), "number": 2},
        ]
        (fault,) = repeated_faults(session(racks=racks))
        self.assertEqual((fault.kind, fault.cause, fault.racks), ("position", "pace", 2))
        self.assertEqual(fault_words(fault), "position by pace in 2 racks: shots 1.1, 2.1, 2.2")


class Chain(unittest.TestCase):
    SPEC = table_spec({"preset": "pool_9ft"})

    def test_balls_in_their_order_and_backwards(self):
        balls = {"1": (0.5, 0.3), "2": (1.0, 0.9), "3": (2.0, 0.3)}
        order = [
            ("1", "foot_left", None),
            ("7", None, None),
            ("2", None, ZoneCircle((1.5, 0.5), 0.1)),
            ("3", None, None),
        ]
        under, over = chain(self.SPEC, balls, order)
        self.assertEqual([part.text for part in over if isinstance(part, Text)], ["1", "2", "3"])
        self.assertEqual(len([part for part in under if isinstance(part, Line) and part.dashed]), 2)
        self.assertEqual(len([part for part in under if isinstance(part, Circle)]), 1)
        _, back = chain(self.SPEC, balls, order, backwards=True)
        self.assertEqual([part.text for part in back], ["3", "2", "1"])


class Weighing(unittest.TestCase):
    def shot(self, **values):
        data = {"number": 1, "intent": "pot", "call": {"ball": "3", "pocket": "foot_left"}, **values}
        return Shot.model_validate_json(json.dumps(data))

    def test_options_are_kept_chosen_preferred_and_forgotten(self):
        shot = self.shot(stroke={"kind": "draw"}, plan={"next_ball": "4", "route": [[1, 0.5], [2, 0.5]]})
        shot = with_values(shot, kept_option(shot, None, "ada", "keeps the angle"))
        shot = with_values(shot, {("call", "pocket"): "side_left"})
        shot = with_values(shot, kept_option(shot, None))
        first, second = shot.plan.options
        self.assertEqual((first.id, second.id), ("o1", "o2"))
        self.assertEqual(len(first.route), 2)
        shot = with_values(shot, chosen_option(shot, "o2"))
        shot = with_values(shot, better_option(shot, "o1", "ada"))
        lines = option_lines(shot, "nine_ball", "british")
        self.assertEqual([(line.chosen, line.better) for line in lines], [(False, True), (True, False)])
        self.assertIn("screw", lines[0].text)
        self.assertIn("(ada): keeps the angle", lines[0].text)
        self.assertEqual((shot.decision.verdict, shot.decision.by), ("prefer_other", "ada"))
        shot = with_values(shot, forgotten_option(shot, "o1"))
        self.assertEqual([one.id for one in shot.plan.options], ["o2"])
        self.assertIsNone(shot.decision.better_option)

    def test_said_again_it_is_taken_back(self):
        shot = self.shot()
        shot = with_values(shot, kept_option(shot, None))
        shot = with_values(shot, better_option(shot, "o1"))
        shot = with_values(shot, better_option(shot, "o1"))
        self.assertIsNone(shot.decision.better_option)
        shot = with_values(with_values(shot, chosen_option(shot, "o1")), {})
        shot = with_values(shot, chosen_option(shot, "o1"))
        self.assertIsNone(shot.plan.options[0].chosen)

    def test_nothing_is_no_option(self):
        with self.assertRaises(NothingToWeigh):
            kept_option(Shot(number=1, intent="pot"), None)

    def test_worth_is_chance_times_leave(self):
        shot = self.shot(
            plan={"options": [{"id": "o1", "chance": 0.8, "leave": 0.5}, {"id": "o2", "chance": 0.8}]}
        )
        first, second = option_lines(shot, None, "american")
        self.assertAlmostEqual(first.worth, 0.4)
        self.assertIsNone(second.worth)
