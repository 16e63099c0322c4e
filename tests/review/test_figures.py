"""What a record counts as, and the judged figures, counted by hand."""

import unittest

from ripasso.statistics.report import stats_report
from tests.sessions import played, rack_of, session


def pot(player, ball=None, **more):
    """A pot of the ball on into foot left: made when `ball` is named."""
    shot = played(player, *([ball] if ball else []))
    return {**shot, **more}


def good(position, **result):
    return {"result": {"position": position, **result}}


RACK = rack_of(
    {**played("a", "2", intent="break")},
    pot("a", "1", **good("good"), decision={"verdict": "agree"}),
    pot("a", "3", **good("lost", pace="long"), error={"kind": "position", "unforced": True}),
    pot("a", result={"contact": "thin"}, error={"kind": "pot", "unforced": False, "cause_shot": 3}),
    pot("b", "4", decision={"verdict": "prefer_other"}),  # position not judged
    pot("b", "5", result={"luck": "fluke"}),  # a fluke counts as missed, the visit goes on
    pot("b", "6", cue_potted=None, decision={"verdict": "mistake"})
    | {"facts": {"potted": [{"ball": "6"}], "cue_potted": True}},
    {"player": "a", "intent": "pot"},  # nobody said what happened
    {"player": "a", "intent": "safety", "facts": {"potted": []}},
    {"player": "b", "intent": "two_way", "facts": {"potted": [{"ball": "7"}]}},
)


class HandCount(unittest.TestCase):
    def setUp(self):
        self.report = stats_report([session(racks=[RACK])])
        self.a, self.b = (self.report["players"][p] for p in "ab")

    def test_pot_success(self):
        self.assertEqual((self.a["pot_success"]["made"], self.a["pot_success"]["of"]), (2, 3))
        # 4 made; the fluke and the pot with a scratch are shots of intent pot that were not made
        self.assertEqual((self.b["pot_success"]["made"], self.b["pot_success"]["of"]), (1, 3))
        self.assertEqual((self.b["two_way_success"]["made"], self.b["two_way_success"]["of"]), (1, 1))
        self.assertEqual(self.b["flukes"], [{"rack": 1, "number": 6}])

    def test_position_counts_what_was_judged_of_made_pots(self):
        counts = {name: (rate["made"], rate["of"]) for name, rate in self.a["position_judged"].items()}
        self.assertEqual(counts["good"], (1, 2))
        self.assertEqual(counts["lost"], (1, 2))
        self.assertEqual(counts["long"], (1, 2))
        self.assertEqual(counts["short"], (0, 2))
        self.assertEqual(self.b["position_judged"]["good"]["of"], 0)
        self.assertEqual(self.b["not_judged"]["position"], 2)

    def test_unforced_errors_are_those_judged_so(self):
        self.assertEqual(self.a["errors"]["unforced"], {"position": 1})
        self.assertEqual(self.a["errors"]["per_100_shots"]["count"], 1)
        self.assertAlmostEqual(self.a["errors"]["per_100_shots"]["rate"], 100 / 6)
        self.assertEqual(self.a["errors"]["per_rack"]["per"], 1)
        # A decision that was a mistake needs no layout to be unforced; of the others nothing is known.
        self.assertEqual(self.b["errors"]["unforced"], {"decision": 1})
        kinds = [(e["number"], e["kind"], e["unforced"]) for e in self.b["errors"]["list"]]
        self.assertEqual(kinds, [(6, "pot", None), (7, "foul", None), (7, "decision", True)])
        self.assertEqual(self.b["not_judged"]["errors"], 2)

    def test_decisions(self):
        rate = self.b["decisions"]["agreement"]
        self.assertEqual((rate["made"], rate["of"]), (0, 2))
        self.assertEqual(
            (self.a["decisions"]["agreement"]["made"], self.a["not_judged"]["decisions"]), (1, 5)
        )

    def test_visits_of_a_player(self):
        # Shots 1 to 4; shot 8, of which nothing fell as far as it is recorded; shot 9, out of turn.
        self.assertEqual(self.a["errors"]["per_visit"]["per"], 3)


class People(unittest.TestCase):
    def test_equal_names_are_one_person(self):
        first = session(id="one", racks=[RACK])
        second = session(
            id="two",
            players=[{"id": "x", "name": "  ada   QUILL "}, {"id": "a", "name": "Cleo"}],
            racks=[rack_of(played("x", "2", intent="break"), pot("x", "1"), breaker="x")],
        )
        report = stats_report([first, second])
        self.assertEqual(set(report["players"]), {"a", "b", "a-2"})
        self.assertEqual(report["players"]["a"]["pot_success"]["made"], 3)
        self.assertEqual(set(stats_report([first, second], "cleo")["players"]), {"a-2"})

    def test_a_ghost_has_no_entry(self):
        record = session(kind="ghost", players=[{"id": "a", "name": "Ada"}, {"id": "ghost", "ghost": True}])
        self.assertEqual(list(stats_report([record])["players"]), ["a"])


class WithoutRules(unittest.TestCase):
    def test_tags_alone_make_pot_success(self):
        rack = rack_of(
            {
                "player": "a",
                "intent": "pot",
                "call": {"ball": "5", "pocket": "foot_right"},
                "facts": {"potted": [{"ball": "5", "pocket": "foot_right"}]},
            },
            {
                "player": "a",
                "intent": "pot",
                "call": {"ball": "6", "pocket": "foot_right"},
                "facts": {"potted": [{"ball": "6", "pocket": "foot_left"}]},
            },
            {"player": "a", "intent": "pot", "facts": {"potted": []}},
        )
        found = stats_report([session(game="eight_ball", racks=[rack])])["players"]["a"]
        self.assertEqual((found["pot_success"]["made"], found["pot_success"]["of"]), (1, 3))


if __name__ == "__main__":
    unittest.main()
