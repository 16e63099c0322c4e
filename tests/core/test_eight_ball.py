"""Eight-ball, rule by rule: World Pool Association, World-Standardized Rules, part 1, from memory."""

import unittest

from tests.core.games import broke, outcomes, rack, score, shot

LOW = tuple(map(str, range(1, 8)))
HIGH = tuple(map(str, range(9, 16)))


def eight(*shots, **options):
    return outcomes("eight_ball", *shots, **options)


def ended(*shots, **options):
    found = score("eight_ball", rack(*shots), **options).racks[0]
    return found.winner, found.ended_by


#: b has cleared the low balls, the 8 is on.
CLEARED = (broke("a"), shot("b", *LOW, call="1"))


class TheBreak(unittest.TestCase):  # 1.3
    def test_any_ball_may_be_hit_first_and_the_table_stays_open(self):
        found = eight(broke("a", "3", first_contact="9"), shot("a", "12", call="12", first_contact="1"))
        self.assertEqual((found[0].legal, found[0].next_players), (True, ("a",)))
        self.assertEqual(found[1].counted, ("12",))

    def test_an_illegal_break_gives_the_choice_without_ball_in_hand(self):
        found = eight(broke("a", balls_to_cushion=3))[0]
        self.assertEqual((found.fouls, found.next_players), (("bad_break",), ("a", "b")))
        self.assertIsNone(found.ball_in_hand_from)

    def test_the_eight_on_the_break(self):
        for option, expected in (("spot_or_rerack", None), ("win", "a"), ("ignored_spot", None)):
            with self.subTest(option):
                found = score("eight_ball", rack(broke("a", "8")), eight_on_break=option).racks[0]
                self.assertEqual(found.winner, expected)
        found = eight(broke("a", "8", cue_potted=True))[0]
        self.assertEqual(
            (found.spotted, found.next_players, found.ball_in_hand_from), (("8",), ("b",), "kitchen")
        )

    def test_a_new_rack_is_taken_by_breaking_again(self):
        found = score("eight_ball", rack(broke("a", "8"), broke("a"), shot("b", "8", call="8")))
        self.assertEqual([v.ended_by for v in found.visits], ["rerack", "miss", "rack_lost"])
        without = score("eight_ball", rack(broke("a", "8"), broke("a")), eight_on_break="ignored_spot")
        self.assertEqual(len(without.visits), 1)

    def test_the_eight_off_the_table_comes_back(self):
        found = eight(broke("a", off_table=("8",)))[0]
        self.assertEqual((found.spotted, found.fouls), (("8",), ("ball_off_table",)))


class Groups(unittest.TestCase):  # 1.4, 1.5
    def test_the_called_ball_fixes_them_whatever_falls_with_it(self):
        found = eight(
            broke("a"), shot("b", "3", "11", call="11"), shot("b", "2", call="2", first_contact="2")
        )
        self.assertEqual(found[1].counted, ("11",))
        self.assertEqual(found[2].fouls, ("wrong_ball_first",))

    def test_missed_or_fouled_the_table_stays_open(self):
        missed = eight(broke("a"), shot("b", "3", call="4"), shot("a", "9", call="9"))
        self.assertEqual((missed[1].counted, missed[1].turn_ends, missed[2].counted), ((), True, ("9",)))
        fouled = eight(broke("a"), shot("b", "3", call="3", cue_potted=True), shot("a", "5", call="5"))
        self.assertEqual(fouled[2].counted, ("5",))

    def test_the_pocket_must_be_the_called_one(self):
        found = eight(broke("a"), shot("b", "3", call="3", pocket="side_left"))[1]
        self.assertEqual((found.counted, found.turn_ends, found.legal), ((), True, True))

    def test_the_eight_first_on_an_open_table(self):
        strict = eight(broke("a"), shot("b", "3", call="3", first_contact="8"))[1]
        loose = eight(
            broke("a"), shot("b", "3", call="3", first_contact="8"), eight_first_on_open_is_foul=False
        )[1]
        self.assertEqual((strict.fouls, loose.fouls), (("wrong_ball_first",), ()))

    def test_without_calls_any_own_ball_keeps_the_turn(self):
        found = eight(
            broke("a"),
            shot("b", "3", "12", first_contact="12"),
            shot("b", "9", call="15"),
            shot("b", "1"),
            call_shots=False,
        )
        self.assertEqual([o.counted for o in found[1:]], [("12",), ("9",), ()])
        self.assertEqual([o.turn_ends for o in found[1:]], [False, False, True])

    def test_a_called_safety_ends_the_turn_whatever_falls(self):
        found = eight(broke("a"), shot("b", "3", intent="safety"))[1]
        self.assertEqual((found.counted, found.turn_ends, found.visit_end), ((), True, "safety"))


class TheEight(unittest.TestCase):  # 1.7, 1.8
    def test_it_wins_in_its_pocket_with_the_group_cleared(self):
        self.assertEqual(ended(*CLEARED, shot("b", "8", call="8", pocket="foot_left")), ("b", "eight_potted"))
        self.assertEqual(ended(*CLEARED, shot("b", "8")), ("b", "eight_potted"))

    def test_every_way_to_lose(self):
        cases = {
            "eight_off_table": (*CLEARED, shot("b", call="8", off_table=("8",))),
            "eight_on_foul": (*CLEARED, shot("b", "8", call="8", cue_potted=True)),
            "eight_wrong_pocket": (*CLEARED, shot("b", "8", call="8", pocket="side_left")),
            "eight_early": (broke("a"), shot("b", "1", call="1"), shot("b", "8", call="8")),
        }
        for ending, shots in cases.items():
            with self.subTest(ending):
                self.assertEqual(ended(*shots), ("a", ending))
        self.assertEqual(ended(broke("a"), shot("b", "8", call="8")), ("a", "eight_early"))
        with_last = (broke("a"), shot("b", *LOW[:6], call="1"), shot("b", "7", "8", call="7"))
        self.assertEqual(ended(*with_last), ("a", "eight_early"))
        self.assertEqual(ended(*CLEARED, shot("b", "8", intent="safety")), ("a", "eight_wrong_pocket"))

    def test_a_scratch_without_it_is_an_ordinary_foul(self):
        found = eight(*CLEARED, shot("b", call="8", cue_potted=True))[-1]
        self.assertEqual((found.rack_ends, found.ball_in_hand_from), (False, "anywhere"))

    def test_a_whole_rack_on_paper(self):
        """a breaks a low ball, runs three, misses; b runs all high balls and the 8: 0-1."""
        shots = [broke("a", "1")]
        shots += [shot("a", ball, call=ball) for ball in ("2", "3", "4")]
        shots += [shot("a", call="5")]
        shots += [shot("b", ball, call=ball) for ball in (*HIGH, "8")]
        found = score("eight_ball", rack(*shots), race_to=1)
        self.assertEqual((dict(found.score), found.winner), ({"a": 0, "b": 1}, "b"))
        visits = [(v.player, v.balls, v.ended_by) for v in found.visits]
        self.assertEqual(visits, [("a", 4, "miss"), ("b", 8, "rack_won")])


if __name__ == "__main__":
    unittest.main()
