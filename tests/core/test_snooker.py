"""Snooker, rule by rule: WPBSA, Official Rules of the Game of Snooker, section 3, from memory."""

import unittest

from ripasso.core.rules.snooker import COLOURS, VALUES
from tests.core.games import outcomes, rack, score, shot

REDS = tuple(f"red{n}" for n in range(1, 16))


def frame(*shots, layout=None, **rules):
    return outcomes("snooker", *shots, layout=layout, **rules)


def pot(player, ball, **facts):
    call = ball if ball in COLOURS else None
    return shot(player, ball, call=call, first_contact=ball, **facts)


def maximum(player="a", reds=REDS):
    """Every red with a black, then the colours."""
    strokes = []
    for red in reds:
        strokes += [pot(player, red), pot(player, "black")]
    return strokes + [pot(player, colour) for colour in COLOURS]


class Arithmetic(unittest.TestCase):
    def test_fifteen_reds_with_blacks_and_the_colours_are_147(self):  # a fact of the trade
        found = score("snooker", rack(*maximum()))
        self.assertEqual(dict(found.racks[0].score), {"a": 147, "b": 0})
        self.assertEqual((found.visits[0].points, found.racks[0].ended_by), (147, "black_potted"))

    def test_155_with_a_free_ball_first(self):  # a fact of the trade: a free ball, a black, then 147
        free = shot("a", "green", call="green", first_contact="green", free_ball=True)
        found = score(
            "snooker", rack(shot("b", first_contact=None), free, pot("a", "black"), *maximum(), breaker="b")
        )
        self.assertEqual(found.visits[1].points, 155)

    def test_fewer_reds(self):  # 75 with six reds, 107 with ten
        for reds, most in ((6, 75), (10, 107)):
            found = score("snooker", rack(*maximum(reds=REDS[:reds])), reds=reds)
            self.assertEqual(found.visits[0].points, most)

    def test_points_remaining_run_down_from_147(self):
        found = [
            s.outcome.snooker.remaining_points for s in score("snooker", rack(*maximum())).racks[0].shots
        ]
        self.assertEqual(found[:3], [146, 139, 138])
        self.assertEqual(found[-7:], [27, 25, 22, 18, 13, 7, 0])


class RedsAndColours(unittest.TestCase):  # 3.3
    def test_a_red_then_a_colour_then_a_red(self):
        found = frame(pot("a", "red1"), pot("a", "pink"), pot("a", "red2"))
        self.assertEqual([o.snooker.next_on for o in found], ["colour", "red", "colour"])
        self.assertEqual((found[1].spotted, found[1].points["a"]), (("pink",), 6))

    def test_several_reds_count_each(self):
        self.assertEqual(frame(shot("a", "red1", "red2", "red3", first_contact="red1"))[0].points["a"], 3)

    def test_the_colour_after_the_last_red_is_free_and_comes_back(self):
        found = frame(
            pot("a", "red1"), pot("a", "black"), pot("a", "yellow"), layout=("cue", "red1", *COLOURS)
        )
        self.assertEqual(found[1].spotted, ("black",))
        self.assertEqual((found[2].spotted, found[2].snooker.next_on), ((), "green"))

    def test_missing_it_puts_yellow_on(self):
        found = frame(pot("a", "red1"), shot("a", first_contact="black"), layout=("cue", "red1", *COLOURS))
        self.assertEqual((found[1].legal, found[1].snooker.next_on), (True, "yellow"))

    def test_a_colour_hit_first_counts_as_named(self):
        found = frame(pot("a", "red1"), shot("a", "blue", first_contact="blue"))[1]
        self.assertEqual((found.points["a"], found.warnings), (5, ()))


class Fouls(unittest.TestCase):  # 3.9 to 3.11
    def value(self, *shots, layout=None):
        return frame(*shots, layout=layout)[-1].points["b"]

    def test_the_least_is_four(self):
        self.assertEqual(self.value(shot("a", first_contact=None)), 4)
        self.assertEqual(self.value(shot("a", first_contact="red1", cue_potted=True)), 4)

    def test_the_highest_ball_concerned_counts(self):
        red = pot("a", "red1")
        self.assertEqual(self.value(shot("a", first_contact="black")), 7)  # hit first
        self.assertEqual(self.value(red, shot("a", call="pink", first_contact=None)), 6)  # on
        self.assertEqual(self.value(shot("a", "blue", first_contact="red1")), 5)  # wrongly potted
        self.assertEqual(self.value(shot("a", first_contact="red1", off_table=("pink",))), 6)
        self.assertEqual(self.value(red, shot("a", call="yellow", first_contact="red2")), 4)

    def test_not_nominated_is_seven(self):
        named = frame(pot("a", "red1"), shot("a", first_contact="red2"))[1]
        self.assertEqual((named.points["b"], named.warnings), (7, ("no_nomination",)))
        said = self.value(pot("a", "red1"), shot("a", first_contact="blue", other_fouls=("not_nominated",)))
        self.assertEqual(said, 7)

    def test_reds_stay_down_and_colours_come_back(self):
        found = frame(shot("a", "red1", "green", first_contact="red1"))[0]
        self.assertEqual((found.counted, found.spotted, found.points), ((), ("green",), {"a": 0, "b": 4}))
        self.assertEqual(found.snooker.remaining_points, 14 * 8 + 27)

    def test_the_other_player_chooses_who_plays(self):
        found = frame(shot("a", first_contact=None, cue_potted=True))[0]
        self.assertEqual((found.next_players, found.ball_in_hand_from), (("a", "b"), "d"))

    def test_order_of_several(self):
        found = frame(shot("a", "blue", first_contact="pink", cue_potted=True, off_table=("green",)))[0]
        self.assertEqual(found.fouls, ("in_off", "wrong_ball_first", "wrong_ball_potted", "ball_off_table"))

    def test_alone_they_go_to_nobody(self):
        found = outcomes("snooker", shot("a", first_contact=None), players=("a",))[0]
        self.assertEqual((found.points, found.next_players), ({"a": 0}, ("a",)))


class MissAndFreeBall(unittest.TestCase):  # 3.12, 3.14
    def test_balls_put_back_after_a_miss(self):
        missed = shot("a", "red3", first_contact="blue", miss=True)
        found = score(
            "snooker", rack(pot("a", "red1"), pot("a", "blue"), missed, pot("a", "red3", replaced=True))
        )
        outcome = found.racks[0].shots[3].outcome
        self.assertEqual((outcome.counted, outcome.warnings), (("red3",), ()))
        self.assertEqual(dict(found.racks[0].score), {"a": 7, "b": 5})
        unasked = frame(shot("a", first_contact=None), pot("a", "red1", replaced=True))[1]
        self.assertEqual(unasked.warnings, ("replaced_without_miss",))

    def test_a_free_ball_for_a_red(self):
        free = shot("b", "brown", "red1", call="brown", first_contact="brown", free_ball=True)
        found = frame(shot("a", first_contact=None), free)[1]
        self.assertEqual(
            (found.points["b"], found.counted, found.spotted), (2, ("red1", "brown"), ("brown",))
        )
        self.assertEqual(found.snooker.next_on, "colour")

    def test_a_free_ball_for_a_colour_has_its_value(self):
        balls = ("cue", "blue", "pink", "black")
        free = shot("b", "black", call="black", first_contact="black", free_ball=True)
        found = frame(shot("a", first_contact=None), free, layout=balls)[1]
        self.assertEqual((found.points["b"], found.spotted, found.snooker.next_on), (5, ("black",), "blue"))
        both = shot("b", "black", "blue", call="black", first_contact="black", free_ball=True)
        found = frame(shot("a", first_contact=None), both, layout=balls)[1]
        self.assertEqual((found.points["b"], found.counted, found.snooker.next_on), (5, ("blue",), "pink"))

    def test_a_free_ball_needs_a_foul_of_the_other_before_it(self):  # 3.12
        free = shot("b", "green", call="green", first_contact="green", free_ball=True)
        after_foul, without = (
            outcomes("snooker", shot("a", first_contact=None), free),
            outcomes("snooker", shot("a"), free),
        )
        self.assertEqual(after_foul[1].warnings, ())
        self.assertEqual(without[1].warnings, ("free_ball_not_allowed",))
        again = outcomes("snooker", shot("b", first_contact=None), free)
        self.assertEqual(again[1].warnings, ("free_ball_not_allowed",))

    def test_another_ball_first_is_a_foul(self):
        free = shot("b", call="brown", first_contact="red1", free_ball=True)
        self.assertEqual(frame(shot("a", first_contact=None), free)[1].fouls, ("wrong_ball_first",))


class TheEnd(unittest.TestCase):  # 3.4 and section 4
    BLACK = ("cue", "black")

    def test_snookers_required_worked_by_hand(self):
        """Three positions: 13 behind with 22 on, 22 behind with 13 on, 28 behind with the black."""
        # a leads by 13 with brown, blue, pink and black left: 22 remain, none is needed.
        lead = [pot("a", "red1"), pot("a", "black"), pot("a", "yellow"), pot("a", "green")]
        table = ("cue", "red1", *COLOURS)
        found = frame(*lead, layout=table)
        self.assertEqual([o.snooker.lead["a"] for o in found], [1, 8, 10, 13])
        self.assertEqual([o.snooker.remaining_points for o in found], [34, 27, 25, 22])
        self.assertEqual(found[-1].snooker.snookers_required, 0)
        more = frame(*lead, pot("a", "brown"), layout=table)[-1].snooker  # 17 ahead, 18 remain
        self.assertEqual((more.lead["b"], more.remaining_points, more.snookers_required), (-17, 18, 0))
        blue = frame(*lead, pot("a", "brown"), pot("a", "blue"), layout=table)[-1].snooker
        # 22 ahead with pink and black: 9 too many, a foul on the pink gives six: two are needed.
        self.assertEqual((blue.remaining_points, blue.snookers_required), (13, 2))
        pink = frame(*lead, pot("a", "brown"), pot("a", "blue"), pot("a", "pink"), layout=table)[-1].snooker
        # 28 ahead with only the black left: no foul could bring it back.
        self.assertEqual((pink.remaining_points, pink.snookers_required), (7, None))

    def test_as_many_points_as_are_left_need_no_snooker(self):
        """7 behind with the black on the table: a draw is possible; 7 and a point more are lost."""
        green, brown = pot("a", "green"), pot("a", "brown")
        found = frame(green, brown, layout=("cue", "green", "brown", "black"))[-1].snooker
        self.assertEqual((found.lead["a"], found.remaining_points, found.snookers_required), (7, 7, 0))
        found = frame(pot("a", "yellow"), pot("a", "pink"), layout=("cue", "yellow", "pink", "black"))[
            -1
        ].snooker
        self.assertEqual((found.lead["a"], found.remaining_points, found.snookers_required), (8, 7, None))

    def test_a_free_ball_that_is_the_ball_on_stays_down(self):
        """Nominated though it was on anyway: it is potted as such, and not spotted."""
        shot_ = shot("a", "yellow", call="yellow", first_contact="yellow", free_ball=True)
        found = frame(shot_, layout=("cue", *COLOURS))[0]
        self.assertEqual((found.spotted, found.points["a"], found.snooker.next_on), ((), 2, "green"))

    def test_a_foul_on_the_last_black_ends_the_frame(self):
        found = score("snooker", rack(shot("a", first_contact=None), layout=self.BLACK, breaker=None)).racks[
            0
        ]
        self.assertEqual(
            (found.winner, found.ended_by, dict(found.score)), ("b", "black_foul", {"a": 0, "b": 7})
        )

    def test_a_miss_on_it_does_not(self):
        self.assertFalse(frame(shot("a", first_contact="black"), layout=self.BLACK)[0].rack_ends)

    def test_frames_and_their_winner(self):
        one = rack(pot("a", "black"), layout=self.BLACK, breaker=None)
        found = score("snooker", one, one, race_to=2)
        self.assertEqual((dict(found.score), found.winner), ({"a": 2, "b": 0}, "a"))

    def test_conceded(self):
        found = score(
            "snooker", rack(pot("a", "red1"), shot("a", first_contact="pink"), conceded_by="b")
        ).racks[0]
        self.assertEqual((found.winner, found.ended_by), ("a", "conceded"))

    def test_a_whole_frame_on_paper(self):
        """a: red, black, miss. b: red, pink, red, in-off. a clears twelve reds with yellows and the rest."""
        strokes = [pot("a", "red1"), pot("a", "black"), shot("a", first_contact="red2")]
        strokes += [
            pot("b", "red2"),
            pot("b", "pink"),
            pot("b", "red3"),
            shot("b", call="yellow", first_contact="yellow", cue_potted=True),
        ]
        for n in range(4, 16):
            strokes += [pot("a", f"red{n}"), pot("a", "yellow")]
        strokes += [pot("a", colour) for colour in COLOURS]
        found = score("snooker", rack(*strokes))
        # 8 + 4 + 12 x 3 + 27 = 75 against 8
        self.assertEqual(dict(found.racks[0].score), {"a": 75, "b": 8})
        visits = [(v.player, v.points, v.ended_by) for v in found.visits]
        self.assertEqual(visits, [("a", 8, "miss"), ("b", 8, "foul"), ("a", 63, "rack_won")])
        self.assertEqual(sum(VALUES.values()), 27)


if __name__ == "__main__":
    unittest.main()
