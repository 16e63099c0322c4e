"""Lines about a rack, options, attempts: what is understood, and what is refused with which sentence."""

import json
import unittest
from types import SimpleNamespace
from typing import ClassVar

from ripasso.review.document.edits import REMOVE, with_values
from ripasso.review.entry.attempts import (
    NotAChange,
    amounts_of,
    corrected_attempt,
    rested_at,
    said_of_attempt,
    toggled_criterion,
    toggled_relaxed,
    with_attempt,
    without_last,
)
from ripasso.review.entry.options import (
    NothingToWeigh,
    better_option,
    chosen_option,
    forgotten_option,
    kept_option,
    option_lines,
)
from ripasso.review.entry.rack_words import parse_rack, parse_stated, rack_values, with_player
from ripasso.review.language.parsing import NotAWord
from ripasso.review.record.model import Shot
from tests.sessions import played, rack_of, session


class Understood(unittest.TestCase):
    def test_an_order_with_pockets_links_reasons_and_a_clause_behind(self):
        said = parse_rack("order 1 2 side left 3 hard because the 2 lies well key 4")
        order = said.plan["order"]
        self.assertEqual([one["ball"] for one in order], ["1", "2", "3"])
        self.assertEqual((order[1]["pocket"], order[2]["link"]), ("side_left", "hard"))
        self.assertEqual(order[2]["reason"], "the 2 lies well")
        self.assertEqual(said.plan["key_ball"], "4")

    def test_a_reason_ends_where_another_ball_begins(self):
        order = parse_rack("order 1 because it is near 5 6 easy").plan["order"]
        self.assertEqual([one["ball"] for one in order], ["1", "5", "6"])
        self.assertEqual(order[0]["reason"], "it is near")

    def test_groups_roles_roots_and_a_lesson_with_commas(self):
        said = parse_rack(
            "group spots because four are open; 6 7 trouble; 9 key ball; break 12; by ada quill; at shot 3"
        )
        self.assertEqual((said.plan["group"], said.plan["reason"]), ("solids", "four are open"))
        self.assertEqual(said.roles, {"6": ["trouble"], "7": ["trouble"], "9": ["key"]})
        plan = said.plan
        self.assertEqual((plan["break_ball"], plan["by"], plan["made_at_shot"]), ("12", "ada quill", 3))
        said = parse_rack("root shot 7; made 5; lesson stop short, always; said ada streak 5 by ida")
        self.assertEqual((said.root, said.made, said.lesson), (7, 5, "stop short, always"))
        self.assertEqual(said.stated, [{"player": "ada", "what": "streak", "value": 5, "by": "ida"}])
        self.assertEqual(parse_rack("; ").roles, {})

    def test_what_is_refused_says_how_to_say_it(self):
        for text, sentence in (
            ("order", "Which balls?"),
            ("order 1 whence", "“whence” has no place in an order"),
            ("group reds", "A group is solids or stripes"),
            ("key", "A ball is missing"),
            ("break x", "A ball is missing"),
            ("by", "A name is missing"),
            ("root seven", "The number of a shot is missing"),
            ("at 3", "The number of a shot is missing"),
            ("ordr 1 2", "did you mean “order”?"),
            ("xyz", "say it so"),
            ("6 troubel", "did you mean “trouble”?"),
            ("6 qqqq", "roles are"),
            ("said ada streak", "Who made how many?"),
            ("said streak 5", "Who made how many?"),
            ("said ada run 5 of", "“of” has no place here"),
            ("x" * 100_000, ""),
        ):
            with self.subTest(text[:30]), self.assertRaises(NotAWord) as caught:
                parse_rack(text)
            self.assertIn(sentence, str(caught.exception))

    def test_whose_run_it_was(self):
        head = session()
        stated = parse_stated(["ada", "quill", "run", "6"])
        self.assertEqual(with_player(stated, head)["player"], "a")
        self.assertEqual(with_player({"player": "ad"}, head)["player"], "a")
        with self.assertRaises(NotAWord):
            with_player({"player": "zoe"}, head)


class Values(unittest.TestCase):
    def changed(self, text, rack=None, shot=1, by=""):
        head = session(racks=[rack or rack_of(played("a", "1"))])
        return rack_values(head, head.racks[0], parse_rack(text), shot, by)

    def test_a_plan_is_completed_or_a_new_version(self):
        first = self.changed("order 1 2 3", by="ada")
        order = [{"ball": "1"}, {"ball": "2"}, {"ball": "3"}]
        self.assertEqual(first[("plans",)][0], {"version": 1, "order": order, "by": "ada"})
        rack = rack_of(played("a", "1"), plans=first[("plans",)])
        more = self.changed("key 2", rack, by="ada")[("plans",)]
        self.assertEqual((len(more), more[0]["key_ball"]), (1, "2"))
        rack = rack_of(played("a", "1"), plans=more)
        other = self.changed("order 3 2 1", rack, by="ada")[("plans",)]
        self.assertEqual((len(other), other[1]["version"], other[1]["key_ball"]), (2, 2, "2"))
        group = self.changed("group stripes", rack, shot=4)[("plans",)]
        self.assertNotIn("key_ball", group[1])
        self.assertEqual(group[1]["made_at_shot"], 4)

    def test_roles_add_up_and_a_lesson_goes(self):
        rack = rack_of(played("a", "1"), roles={"6": ["trouble"]})
        found = self.changed("6 cluster; 7 key; root 2; made 3; lesson; said ada run 4", rack)
        self.assertEqual(found[("roles",)], {"6": ["trouble", "cluster"], "7": ["key"]})
        self.assertEqual((found[("root_shot",)], found[("making_shot",)]), (2, 3))
        self.assertIs(found[("lesson",)], REMOVE)
        self.assertEqual(found[("stated",)][0]["value"], 4)


def shot(**values):
    return Shot.model_validate_json(json.dumps({"number": 1, "player": "a", **values}))


class Options(unittest.TestCase):
    CALL: ClassVar = {"ball": "4", "pocket": "foot_left"}
    STROKE: ClassVar = {"kind": "draw", "pace": "firm"}

    def test_kept_chosen_better_forgotten(self):
        with self.assertRaises(NothingToWeigh):
            kept_option(shot(intent="pot"), None)
        measures = SimpleNamespace(
            geometry=SimpleNamespace(chance=0.71239), position=SimpleNamespace(chance_aim=0.5)
        )
        record = shot(intent="pot", call=self.CALL, stroke=self.STROKE, plan={"next_ball": "5"})
        record = with_values(record, kept_option(record, measures, "ada", "nearer"))
        record = with_values(record, kept_option(record, None))
        first, second = option_lines(record, "nine_ball", "british")
        self.assertEqual((first.id, second.id), ("o1", "o2"))
        self.assertAlmostEqual(first.worth, 0.356)
        self.assertIsNone(second.worth)
        self.assertTrue(first.text.endswith("next 5 (ada): nearer"))
        record = with_values(record, chosen_option(record, "o2"))
        self.assertEqual([one.chosen for one in option_lines(record, None, "british")], [False, True])
        nobody = with_values(record, chosen_option(record, "o2"))
        self.assertEqual([one.chosen for one in option_lines(nobody, None, "british")], [False, False])
        record = with_values(record, better_option(record, "o1", "ida"))
        self.assertEqual((record.decision.verdict, record.decision.by), ("prefer_other", "ida"))
        self.assertTrue(option_lines(record, None, "american")[0].better)
        again = with_values(record, better_option(record, "o1"))
        self.assertIsNone(again.decision.better_option)
        record = with_values(record, forgotten_option(record, "o1"))
        self.assertIsNone(record.decision.better_option)
        record = with_values(record, forgotten_option(record, "o2"))
        self.assertIsNone(record.plan.options)

    def test_a_safety_with_a_title(self):
        plan = {"options": [{"id": "s", "title": "Hide", "intent": "safety"}]}
        (line,) = option_lines(shot(plan=plan), None, "british")
        self.assertEqual(line.text, "Hide, safety")


class Attempts(unittest.TestCase):
    def made(self, *attempts, criteria=("pot", "area")):
        data = {
            "id": "s",
            "criteria": [{"id": name, "text": name} for name in criteria],
            "attempts": [{"number": n, **one} for n, one in enumerate(attempts, 1)],
        }
        return session(attempt_sets=[data]).attempt_sets[0]

    def last(self, values):
        return values[("attempts",)][-1]

    def test_counted_corrected_granted_and_taken_back(self):
        made = self.made()
        one = self.last(with_attempt(made, False, ("f", 3.0), [{"what": "aim"}], "thick", 1))
        self.assertEqual(
            (one["miss"], one["met"], one["way"], one["on_film"]), ("thick", {"pot": False}, 1, True)
        )
        made = self.made({"outcome": "failure", "miss": "thin"})
        self.assertNotIn("miss", self.last(corrected_attempt(made, 0, True)))
        self.assertEqual(self.last(corrected_attempt(made, 0, False, "thick"))["miss"], "thick")
        granted = self.last(toggled_relaxed(made))
        self.assertEqual((granted["relaxed"], granted["outcome"]), (True, "success"))
        made = self.made({"outcome": "success", "relaxed": True, "met": {"pot": True}})
        self.assertEqual(self.last(toggled_relaxed(made))["outcome"], "failure")
        self.assertEqual(self.last(toggled_criterion(made, "area"))["outcome"], "success")
        self.assertIs(without_last(made)[("attempts",)], REMOVE)
        self.assertEqual((toggled_relaxed(self.made()), toggled_criterion(self.made(), "pot")), ({}, {}))

    def test_words_rests_and_amounts(self):
        made = self.made({"outcome": "failure", "met": {"pot": True}})
        self.assertEqual(self.last(said_of_attempt(made, 0, "miscued note too quick"))["note"], "too quick")
        self.assertEqual(self.last(said_of_attempt(made, 0, "by pace"))["causes"], ["pace"])
        self.assertEqual(said_of_attempt(made, 0, "  "), {})
        for text in ("missed thick", "qqqq"):
            with self.assertRaises(NotAChange):
                said_of_attempt(made, 0, text)
        rested = self.last(rested_at(made, 0, (1.0, 0.5), {"area": True}))
        self.assertEqual((rested["rest"], rested["outcome"]), ([1.0, 0.5], "success"))
        self.assertNotIn("met", self.last(rested_at(self.made({}), 0, (1.0, 0.5), {})))
        changed = self.made(
            {"outcome": "failure"},
            {
                "outcome": "success",
                "changed": [{"what": "aim", "by": 2, "unit": "mm"}, {"what": "other", "by": "grip"}],
            },
        )
        self.assertEqual(
            [(one.what, one.amount) for one in amounts_of(changed)], [("aim", 0.0), ("aim", 2.0)]
        )


if __name__ == "__main__":
    unittest.main()
