"""Nine-ball, rule by rule. Sections of the World Pool Association's World-Standardized Rules, nine-ball
(part 2) and general rules (part 6 for fouls), from memory."""

import unittest

from ripasso.core.rules import MISSING, NineBall, Pot, RackFacts, SessionFacts, ShotFacts, score_session

PLAYERS = ("a", "b")


def shot(player, *potted, intent="pot", **facts):
    """A stroke; balls fall into foot left."""
    return ShotFacts(player, intent, potted=tuple(Pot(ball, "foot_left") for ball in potted), **facts)


def break_shot(player, *potted, **facts):
    return shot(player, *potted, intent="break", **{"balls_to_cushion": 5, "first_contact": "1", **facts})


def score(*shots, rules=None, breaker="a", **rack):
    """The score of one rack."""
    facts = SessionFacts("nine_ball", PLAYERS, (RackFacts(shots, breaker, **rack),), rules or {})
    return score_session(facts, NineBall(PLAYERS, facts.rules))


def outcomes(*shots, **options):
    return [s.outcome for s in score(*shots, **options).racks[0].shots]


class TheBreak(unittest.TestCase):
    def test_pot_keeps_the_turn(self):  # 2.5 continuing play
        first = outcomes(break_shot("a", "3"))[0]
        self.assertTrue(first.legal)
        self.assertEqual((first.turn_ends, first.next_players, first.counted), (False, ("a",), ("3",)))

    def test_dry_break_passes_the_turn(self):
        first = outcomes(break_shot("a"))[0]
        self.assertEqual((first.legal, first.turn_ends, first.next_players), (True, True, ("b",)))

    def test_too_few_balls_to_a_cushion(self):  # 2.3 break shot
        first = outcomes(break_shot("a", balls_to_cushion=3))[0]
        self.assertEqual(first.fouls, ("bad_break",))
        self.assertEqual((first.next_players, first.ball_in_hand_from), (("b",), "anywhere"))

    def test_a_ball_off_the_table_has_reached_a_cushion(self):
        first = outcomes(break_shot("a", balls_to_cushion=3, off_table=("5",)))[0]
        self.assertEqual(first.fouls, ("ball_off_table",))

    def test_the_one_must_be_hit_first(self):
        self.assertEqual(outcomes(break_shot("a", "4", first_contact="2"))[0].fouls, ("wrong_ball_first",))

    def test_nine_on_the_break_wins(self):  # 2.8 winning
        found = score(break_shot("a", "9")).racks[0]
        self.assertEqual((found.winner, found.ended_by), ("a", "nine_on_break"))

    def test_kitchen_is_an_option(self):
        scratch = break_shot("a", cue_potted=True)
        self.assertEqual(outcomes(scratch)[0].ball_in_hand_from, "anywhere")
        league = {"kitchen_after_scratch_on_break": True}
        self.assertEqual(outcomes(scratch, rules=league)[0].ball_in_hand_from, "kitchen")


class Fouls(unittest.TestCase):
    def fouls(self, **facts):
        return outcomes(break_shot("a", "5"), shot("a", **facts))[1].fouls

    def test_each_by_its_fact(self):  # 6.1 to 6.7
        cases = (
            ({"cue_potted": True}, ("cue_ball_scratch",)),
            ({"off_table": ("cue",)}, ("cue_ball_scratch",)),
            ({"first_contact": "2"}, ("wrong_ball_first",)),
            ({"first_contact": None}, ("no_contact",)),
            ({"cushion_after_contact": False}, ("no_cushion_after_contact",)),
            ({"off_table": ("4",)}, ("ball_off_table",)),
            ({"other_fouls": ("double_hit",)}, ("double_hit",)),
        )
        for facts, expected in cases:
            with self.subTest(facts):
                self.assertEqual(self.fouls(**facts), expected)

    def test_order_of_several(self):
        found = self.fouls(cue_potted=True, first_contact="3", off_table=("4",), other_fouls=("push_stroke",))
        expected = ("cue_ball_scratch", "wrong_ball_first", "ball_off_table", "push_stroke")
        self.assertEqual(found, expected)

    def test_missing_facts_make_none(self):
        self.assertEqual(self.fouls(first_contact=MISSING), ())
        self.assertEqual(outcomes(break_shot("a", "5"), ShotFacts("a", recorded=False))[1].fouls, ())

    def test_pots_of_a_foul_stay_down_but_the_nine(self):
        found = outcomes(break_shot("a", "5"), shot("a", "1", "9", cue_potted=True), shot("b", "2"))
        self.assertEqual((found[1].counted, found[1].spotted), ((), ("9",)))
        self.assertEqual(found[2].fouls, ())

    def test_three_in_a_row_lose(self):  # 2.10 three consecutive fouls
        foul = {"first_contact": None}
        shots = (
            break_shot("a"),
            shot("b", **foul),
            shot("a"),
            shot("b", **foul),
            shot("a"),
            shot("b", **foul),
        )
        found = score(*shots).racks[0]
        self.assertEqual((found.winner, found.ended_by), ("a", "three_fouls"))
        self.assertIsNone(score(*shots, rules={"three_foul": False}).racks[0].winner)

    def test_a_legal_shot_clears_the_count(self):
        foul = {"first_contact": None}
        shots = (break_shot("a"), shot("b", **foul), shot("a"), shot("b"), shot("a"), shot("b", **foul))
        self.assertEqual(outcomes(*shots)[-1].foul_count, {"a": 0, "b": 1})


class PushOut(unittest.TestCase):
    def test_needs_no_contact_and_leaves_the_choice(self):  # 2.4 second shot of the rack
        push = shot("b", intent="push_out", first_contact=None, cushion_after_contact=False)
        found = outcomes(break_shot("a"), push)[1]
        self.assertEqual((found.legal, found.next_players, found.turn_ends), (True, PLAYERS, True))

    def test_the_nine_is_spotted_and_others_stay(self):
        found = outcomes(break_shot("a", "2"), shot("a", "4", "9", intent="push_out"), shot("b", "4"))
        self.assertEqual((found[1].counted, found[1].spotted), ((), ("9",)))
        self.assertEqual(found[2].warnings, ("ball_not_on_table",))

    def test_a_scratch_on_it_is_a_foul(self):
        found = outcomes(break_shot("a", "2"), shot("a", intent="push_out", cue_potted=True))[1]
        self.assertEqual((found.fouls, found.next_players), (("cue_ball_scratch",), ("b",)))

    def test_only_right_after_a_legal_break(self):
        late = outcomes(break_shot("a", "2"), shot("a", "1"), shot("a", intent="push_out"))[2]
        self.assertEqual(late.warnings, ("push_out_not_allowed",))
        fouled = outcomes(break_shot("a", cue_potted=True), shot("b", intent="push_out"))[1]
        self.assertEqual(fouled.warnings, ("push_out_not_allowed",))


class TheRecordIsBelieved(unittest.TestCase):
    def test_out_of_turn(self):
        found = score(break_shot("a"), shot("a", "1")).racks[0].shots[1]
        self.assertEqual((found.warnings, found.outcome.counted), (("out_of_turn",), ("1",)))

    def test_a_ball_twice(self):
        found = outcomes(break_shot("a", "2"), shot("a", "2"))[1]
        self.assertEqual((found.warnings, found.counted), (("ball_not_on_table",), ()))

    def test_after_the_end(self):
        found = score(break_shot("a", "9"), shot("a", "1")).racks[0].shots[1]
        self.assertIsNone(found.outcome)
        self.assertEqual(found.warnings, ("after_rack_end",))

    def test_unknown_ball_and_player(self):
        found = score(break_shot("a", "12"), shot("zed", "1"))
        self.assertEqual(
            [path for path, _ in found.problems],
            ["$.racks[0].shots[0].facts.potted[0].ball", "$.racks[0].shots[1].player"],
        )
        self.assertEqual(found.racks[0].shots[0].outcome.counted, ())
        self.assertIsNone(found.racks[0].shots[1].outcome)

    def test_layout_starts_without_a_break(self):
        found = outcomes(shot("a", "7"), layout=("cue", "7", "9"), breaker=None)[0]
        self.assertEqual(found.counted, ("7",))

    def test_a_rack_that_was_won_already_cannot_be_conceded(self):
        found = score(break_shot("a", "9"), conceded_by="a")
        self.assertEqual((found.racks[0].winner, found.racks[0].ended_by), ("a", "nine_on_break"))

    def test_conceded(self):
        found = score(break_shot("a", "2"), conceded_by="b")
        self.assertEqual((found.racks[0].winner, found.racks[0].ended_by), ("a", "conceded"))
        self.assertEqual(found.visits[-1].ended_by, "rack_won")


class AMatchOnPaper(unittest.TestCase):
    """Race to 2, alternate break; worked out by hand: 1-0, 1-1, then 2-1."""

    RACKS = (
        # a runs out: break with the 2, then 1, 3-4, 5, 6, 7, 8, 9
        RackFacts(
            (
                break_shot("a", "2"),
                shot("a", "1"),
                shot("a", "3", "4"),
                shot("a", "5"),
                shot("a", "6"),
                shot("a", "7"),
                shot("a", "8"),
                shot("a", "9"),
            ),
            "a",
        ),
        # b breaks dry; a combines 1 and 9 but scratches; b wins on the same combination
        RackFacts((break_shot("b"), shot("a", "9", cue_potted=True), shot("b", "9")), "b"),
        # b breaks though it was a's turn to; a safety, a miss, then a wins on a combination
        RackFacts((break_shot("b"), shot("a", intent="safety"), shot("b"), shot("a", "9")), "b"),
    )

    def test_scores_winner_and_visits(self):
        facts = SessionFacts("nine_ball", PLAYERS, self.RACKS, {"race_to": 2})
        found = score_session(facts, NineBall(PLAYERS, facts.rules))
        self.assertEqual([r.winner for r in found.racks], ["a", "b", "a"])
        self.assertEqual(
            [dict(s) for s in found.score_before], [{"a": 0, "b": 0}, {"a": 1, "b": 0}, {"a": 1, "b": 1}]
        )
        self.assertEqual((dict(found.score), found.winner, found.race_to), ({"a": 2, "b": 1}, "a", 2))
        self.assertEqual(found.racks[2].shots[0].warnings, ("wrong_breaker",))
        visits = [(v.player, v.first_shot, v.last_shot, v.balls, v.ended_by) for v in found.visits]
        self.assertEqual(
            visits,
            [
                ("a", 1, 8, 9, "rack_won"),
                ("b", 1, 1, 0, "miss"),
                ("a", 2, 2, 0, "foul"),
                ("b", 3, 3, 1, "rack_won"),
                ("b", 1, 1, 0, "miss"),
                ("a", 2, 2, 0, "safety"),
                ("b", 3, 3, 0, "miss"),
                ("a", 4, 4, 1, "rack_won"),
            ],
        )

    def test_nine_to_five_is_after_fourteen_racks(self):  # arithmetic, no source needed
        winners = "aabbaabaabaaba"
        racks = tuple(RackFacts((break_shot(w, "9"),), w) if w else None for w in winners)
        facts = SessionFacts("nine_ball", PLAYERS, racks, {"race_to": 9, "break_order": "winner"})
        found = score_session(facts, NineBall(PLAYERS, facts.rules))
        self.assertEqual((dict(found.score), len(found.racks)), ({"a": 9, "b": 5}, 14))
        self.assertEqual(found.winner, "a")

    def test_shots_in_a_rack_that_is_not_shown_are_listed_and_not_judged(self):
        odd = RackFacts((break_shot("a", "9"),), "a", not_shown=True)
        found = score_session(SessionFacts("nine_ball", PLAYERS, (odd,), {}), NineBall(PLAYERS, {}))
        self.assertEqual([s.outcome for s in found.racks[0].shots], [None])
        self.assertEqual(dict(found.score), {"a": 0, "b": 0})

    def test_a_gap_believes_the_stated_score(self):
        racks = (
            self.RACKS[1],
            RackFacts(not_shown=True),
            RackFacts((break_shot("a", "9"),), "a", score_before={"a": 4, "b": 3}),
            RackFacts((break_shot("b"),), "b", score_before={"a": 9, "b": 9}),
        )
        found = score_session(SessionFacts("nine_ball", PLAYERS, racks, {}), NineBall(PLAYERS, {}))
        self.assertEqual(dict(found.score_before[3]), {"a": 9, "b": 9})
        self.assertEqual(found.racks[2].shots[0].warnings, ())
        self.assertEqual(found.racks[3].shots[0].warnings, ("score_differs",))


if __name__ == "__main__":
    unittest.main()
