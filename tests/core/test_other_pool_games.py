"""Ten-ball, rotation, straight pool and the ghost race: WPA rules, parts 3 and 4, from memory; rotation and
the ghost race are common practice without a published source at hand."""

import unittest

from tests.core.games import broke, outcomes, rack, score, shot


class TenBall(unittest.TestCase):
    def ten(self, *shots, **options):
        return outcomes("ten_ball", broke("a", "2", first_contact="1"), *shots, **options)[1:]

    def test_the_called_ball_keeps_the_turn_and_what_falls_with_it_counts(self):
        found = self.ten(shot("a", "1", "5", "10", call="1"))[0]
        self.assertEqual((found.counted, found.spotted, found.next_players), (("1", "5"), ("10",), ("a",)))

    def test_an_uncalled_pot_may_be_handed_back(self):
        found = self.ten(shot("a", "5", call="1"))[0]
        self.assertEqual((found.counted, found.next_players, found.turn_ends), ((), ("a", "b"), True))
        nothing = self.ten(shot("a", call="1"))[0]
        self.assertEqual(nothing.next_players, ("b",))

    def test_the_ten_wins_only_when_called(self):
        called = score("ten_ball", rack(broke("a", "2", first_contact="1"), shot("a", "10", call="10")))
        self.assertEqual((called.racks[0].winner, called.racks[0].ended_by), ("a", "ten_potted"))
        late = self.ten(shot("a", "10", call="10"), ten_last=True)[0]
        self.assertEqual((late.rack_ends, late.spotted, late.next_players), (False, ("10",), ("a",)))

    def test_the_ten_on_the_break_is_spotted_and_the_breaker_goes_on(self):
        found = outcomes("ten_ball", broke("a", "10", first_contact="1"))[0]
        self.assertEqual((found.spotted, found.counted, found.next_players), (("10",), (), ("a",)))

    def test_a_ball_potted_on_a_called_safety_may_be_handed_back(self):
        found = self.ten(shot("a", "1", intent="safety"))[0]
        self.assertEqual((found.next_players, found.visit_end), (("a", "b"), "safety"))

    def test_push_out_and_three_fouls_are_nine_balls(self):
        self.assertEqual(self.ten(shot("a", intent="push_out", first_contact=None))[0].fouls, ())
        foul = {"first_contact": None}
        shots = (
            broke("a", first_contact="1"),
            shot("b", **foul),
            shot("a"),
            shot("b", **foul),
            shot("a"),
            shot("b", **foul),
        )
        self.assertEqual(score("ten_ball", rack(*shots)).racks[0].ended_by, "three_fouls")


class Rotation(unittest.TestCase):
    def test_balls_score_their_numbers_and_all_make_120(self):
        run = rack(broke("a", "15"), *(shot("a", str(n)) for n in range(1, 15)))
        found = score("rotation", run, target_points=120)
        self.assertEqual(dict(found.racks[0].score), {"a": 120, "b": 0})
        self.assertEqual(found.racks[0].ended_by, "target_reached")

    def test_61_are_enough(self):
        run = rack(broke("a", "15"), *(shot("a", str(n)) for n in range(1, 15)))
        found = score("rotation", run).racks[0]
        # 15 + 1 + 2 + ... + 9 = 60, the 10 makes 70
        self.assertEqual(found.shots[10].outcome.points["a"], 10)
        self.assertTrue(found.shots[10].outcome.rack_ends)
        self.assertEqual(found.shots[11].warnings, ("after_rack_end",))

    def test_pots_on_a_foul_and_balls_off_the_table_come_back(self):
        found = outcomes(
            "rotation", broke("a"), shot("b", "1", cue_potted=True, off_table=("7",)), shot("a", "1")
        )
        self.assertEqual((found[1].spotted, found[1].points), (("1", "7"), {"a": 0, "b": 0}))
        self.assertEqual(found[2].points["a"], 1)

    def test_level_at_the_end_nobody_wins(self):
        a, b = ("15", "14", "13", "12", "6"), ("1", "2", "3", "4", "5", "7", "8", "9", "10", "11")
        shots = [broke("a", *a), shot("a"), shot("b", *b)]
        found = score("rotation", rack(*shots), target_points=200).racks[0]
        self.assertEqual(
            (found.winner, found.ended_by, dict(found.score)), (None, "all_potted", {"a": 60, "b": 60})
        )


class StraightPool(unittest.TestCase):
    OPENING = broke("a", balls_to_cushion=2, cue_to_cushion=True)

    def straight(self, *shots, **options):
        return outcomes("straight_pool", *shots, **options)

    def run_out(self, player, first=1):
        return [shot(player, str(n), call=str(n)) for n in range(first, 15)]

    def test_opening_break(self):  # 4.4
        legal = self.straight(self.OPENING)[0]
        self.assertEqual((legal.fouls, legal.next_players), ((), ("b",)))
        bad = self.straight(broke("a", balls_to_cushion=1, cue_potted=True))[0]
        self.assertEqual((bad.fouls, bad.points["a"]), (("cue_ball_scratch", "bad_break"), -2))
        scratch = self.straight(broke("a", balls_to_cushion=2, cue_potted=True))[0]
        self.assertEqual((scratch.points["a"], scratch.ball_in_hand_from), (-1, "kitchen"))

    def test_a_called_ball_and_each_that_falls_with_it(self):  # 4.6
        found = self.straight(self.OPENING, shot("b", "3", "7", call="3"), shot("b", "9", call="10"))
        self.assertEqual((found[1].points["b"], found[1].counted), (2, ("3", "7")))
        self.assertEqual((found[2].spotted, found[2].turn_ends), (("9",), True))

    def test_a_safety_costs_nothing_and_spots_what_falls(self):
        found = self.straight(self.OPENING, shot("b", "9", intent="safety"))[1]
        self.assertEqual((found.points["b"], found.spotted, found.visit_end), (0, ("9",), "safety"))

    def test_a_foul_costs_one_and_the_cue_ball_stays(self):  # 4.11
        found = self.straight(self.OPENING, shot("b", cushion_after_contact=False))[1]
        self.assertEqual((found.points["b"], found.ball_in_hand_from), (-1, None))

    def test_three_fouls_cost_fifteen_more_and_the_offender_breaks(self):  # 4.13
        foul = {"cushion_after_contact": False}
        shots = [self.OPENING]
        for _ in range(3):
            shots += [shot("b", **foul), shot("a")]
        found = score("straight_pool", rack(*shots[:-1]), rack(broke("b", balls_to_cushion=2), breaker=None))
        third = found.racks[0].shots[-1].outcome
        self.assertEqual((third.points["b"], third.next_players, third.rack_ends), (-16, ("b",), True))
        self.assertEqual(dict(found.score), {"a": 0, "b": -18})
        self.assertEqual(found.racks[1].shots[0].warnings, ())

    def test_three_racks_on_paper(self):
        """a breaks safe; b runs 14, 14 and 3 more, 31 in one visit over three racks; a makes 2."""
        first = rack(self.OPENING, *self.run_out("b"))
        second = rack(shot("b", "15", call="15"), *self.run_out("b", first=2), breaker=None)
        third = rack(
            *(shot("b", str(n), call=str(n)) for n in (1, 2, 3)),
            shot("b", call="4"),
            shot("a", "5", call="5"),
            shot("a", "6", call="6"),
            breaker=None,
        )
        found = score("straight_pool", first, second, third)
        self.assertEqual([r.ended_by for r in found.racks], ["reracked", "reracked", None])
        self.assertEqual(dict(found.score), {"a": 2, "b": 31})
        run = found.visits[1]
        self.assertEqual((run.points, run.rack, run.last_rack, run.ended_by), (31, 1, 3, "miss"))

    def test_twenty_racks_and_nine_balls_unbroken_are_289(self):
        racks = [rack(self.OPENING, *self.run_out("b"))]
        racks += [
            rack(shot("b", "15", call="15"), *self.run_out("b", first=2), breaker=None) for _ in range(19)
        ]
        racks.append(rack(*(shot("b", str(n), call=str(n)) for n in range(1, 10)), breaker=None))
        found = score("straight_pool", *racks, target_points=500)
        self.assertEqual(found.visits[1].points, 289)

    def test_the_target_ends_it(self):
        found = score("straight_pool", rack(self.OPENING, *self.run_out("b")), target_points=10)
        self.assertEqual((found.winner, found.racks[0].ended_by, found.race_to), ("b", "target_reached", 10))

    def test_a_rack_left_unfinished_is_said(self):
        found = score(
            "straight_pool",
            rack(self.OPENING, shot("b", "1", call="1")),
            rack(shot("b", "2", call="2"), breaker=None),
        )
        self.assertEqual(found.racks[1].shots[0].warnings, ("rack_not_finished",))


class GhostRace(unittest.TestCase):
    def race(self, *shots, game="nine_ball", **rules):
        return score(game, rack(*shots), players=("a",), ghost="ghost", **rules)

    def test_ball_in_hand_after_the_break_whatever_fell(self):
        found = self.race(broke("a")).racks[0].shots[0].outcome
        self.assertEqual(
            (found.turn_ends, found.next_players, found.ball_in_hand_from), (False, ("a",), "anywhere")
        )

    def test_the_first_end_of_the_turn_gives_the_rack_away(self):
        missed = self.race(broke("a"), shot("a", "1"), shot("a"))
        self.assertEqual((missed.racks[0].winner, missed.racks[0].ended_by), ("ghost", "missed"))
        fouled = self.race(broke("a"), shot("a", cue_potted=True))
        self.assertEqual((fouled.racks[0].ended_by, dict(fouled.score)), ("foul", {"a": 0, "ghost": 1}))

    def test_a_foul_on_the_break(self):
        self.assertEqual(self.race(broke("a", cue_potted=True)).racks[0].ended_by, "foul")
        kept = self.race(broke("a", "9", cue_potted=True), ghost_break="any").racks[0].shots[0].outcome
        self.assertEqual((kept.counted, kept.spotted, kept.rack_ends), ((), ("9",), False))

    def test_a_loss_by_the_eight_keeps_its_name(self):
        found = self.race(broke("a"), shot("a", "8", call="8"), game="eight_ball").racks[0]
        self.assertEqual((found.winner, found.ended_by), ("ghost", "eight_early"))

    def test_nine_racks_to_two(self):
        won, lost = rack(broke("a"), shot("a", "9")), rack(broke("a"), shot("a"))
        found = score("nine_ball", *[won, lost, won, won], players=("a",), ghost="ghost", race_to=3)
        self.assertEqual((dict(found.score), found.winner), ({"a": 3, "ghost": 1}, "a"))


if __name__ == "__main__":
    unittest.main()
