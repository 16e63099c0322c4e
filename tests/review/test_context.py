"""What hangs on a shot besides itself: pressure, visits, exchanges, roles, what options promised."""

import unittest

from ripasso.review.scoring.scoring import score_of
from tests.sessions import played, rack_of, session
from tests.slow_facts import contexts_of


def contexts(record):
    return contexts_of(record, score_of(record))


def safe(player, **facts):
    return played(player, intent="safety", first_contact="1", cushion_after_contact=True, **facts)


class Pressure(unittest.TestCase):
    def words(self, before, player="a"):
        racks = [{**rack_of(played(player, "1", first_contact="1")), "score_before": before}]
        return contexts(session(racks=racks, rules={"race_to": 3}))[0][0].pressure

    def test_by_the_racks_that_are_needed(self):
        self.assertEqual(self.words({"a": 2, "b": 2}), "decider")
        self.assertEqual(self.words({"a": 2, "b": 0}), "match_point")
        self.assertEqual(self.words({"a": 1, "b": 2}), "facing_match_point")
        self.assertEqual(self.words({"a": 1, "b": 1}), "")

    def test_a_race_to_points_has_no_deciding_rack(self):
        racks = [{**rack_of(played("a", "1", first_contact="1")), "score_before": {"a": 99, "b": 99}}]
        record = session(game="straight_pool", racks=racks, rules={"target_points": 100})
        self.assertEqual(contexts(record)[0][0].pressure, "")

    def test_the_frame_ball_of_a_break_of_blacks_is_the_tenth_red(self):
        """A fact of the trade: 72 with 75 left; the tenth red leaves the other needing snookers."""
        shots = []
        for red in range(1, 13):
            shots.append(played("a", f"red{red}", first_contact=f"red{red}"))
            black = played("a", "black", first_contact="black")
            shots.append({**black, "call": {"ball": "black"}})
        found = contexts(session(game="snooker", racks=[rack_of(*shots)]))[0]
        self.assertEqual([i for i, c in enumerate(found) if "frame_ball" in c.pressure], [18])
        foul = played("a", first_contact="black")
        later = played("b", "red13", first_contact="red13")
        found = contexts(session(game="snooker", racks=[rack_of(*shots, foul, later)]))[0]
        self.assertEqual(found[-1].pressure, "needs_snookers")


class Visits(unittest.TestCase):
    def test_how_they_began_and_what_they_came_to(self):
        shots = [
            played("a", "3", intent="break", first_contact="1", balls_to_cushion=4),
            played("a", first_contact="1", cushion_after_contact=True),
            *(played("b", str(n), first_contact=str(n)) for n in (1, 2, 4, 5, 6, 7, 8, 9)),
        ]
        found = contexts(session(racks=[rack_of(*shots)]))[0]
        self.assertEqual((found[0].began, found[0].visit_balls, found[0].run), ("own_break", 1, ""))
        self.assertEqual((found[2].began, found[2].visit_balls, found[2].run), ("miss", 8, "run_out"))
        self.assertEqual([c.began for c in found if c.began], ["own_break", "miss"])
        self.assertEqual({c.won for c in found[:2]}, {0})
        self.assertEqual({c.won for c in found[2:]}, {1})
        self.assertEqual((found[0].opponent, found[2].opponent), ("bram oster", "ada quill"))
        # Nine balls: five of them down before the second half begins.
        self.assertEqual([c.late for c in found], [0, 0, 0, 0, 0, 0, 1, 1, 1, 1])

    def test_a_run_from_the_break(self):
        shots = [
            played("a", "3", intent="break", first_contact="1", balls_to_cushion=4),
            *(played("a", str(n), first_contact=str(n)) for n in (1, 2, 4, 5, 6, 7, 8, 9)),
        ]
        self.assertEqual(contexts(session(racks=[rack_of(*shots)]))[0][0].run, "break_and_run")

    def test_a_foul_gives_the_ball_in_hand(self):
        shots = [played("a", first_contact="2"), played("b", "1", first_contact="1")]
        found = contexts(session(racks=[rack_of(*shots)]))[0]
        self.assertEqual([c.in_hand for c in found], [False, True])


class Places(unittest.TestCase):
    def test_where_the_cue_ball_came_to_rest(self):
        """The head string is a quarter of the length from the head cushion (2.54 m: 0.635 m)."""
        for x, behind in ((0.634, 1), (0.636, 0)):
            shot = {**played("a", "1"), "after": {"cue": [x, 0.6]}}
            found = contexts(session(racks=[rack_of(shot)]))[0][0]
            self.assertEqual(found.cue_behind, behind)
            self.assertAlmostEqual(found.to_baulk, x - 0.028575)

    def test_a_frame_won_in_one_visit_and_one_that_was_not(self):
        colours = [
            {**played("a", c, first_contact=c), "call": {"ball": c}}
            for c in ("yellow", "green", "brown", "blue", "pink", "black")
        ]
        red, black = played("a", "red1", first_contact="red1"), played("a", "black", first_contact="black")
        clearance = [red, {**black, "call": {"ball": "black"}}, *colours]
        missed = played("b", first_contact="red1")
        earlier = [red, {**played("a", first_contact="black"), "call": {"ball": "black"}}, missed]
        for shots, expected in ((clearance, 1), ([*earlier, *colours], None)):
            record = session(game="snooker", rules={"reds": 1}, racks=[rack_of(*shots)])
            found = contexts(record)[0]
            won = [c.one_visit for c in found if c.visit_end == "rack_won"]
            self.assertEqual(won, [1] if expected else [0], won)

    def test_a_rack_lasts_from_its_first_strike_to_its_last_rest(self):
        shots = [
            {**played("a"), "t_strike": 10.0, "t_rest": 14.0},
            {**played("b"), "t_strike": 30.0, "t_rest": 35.5},
        ]
        found = contexts(session(racks=[rack_of(*shots)]))[0]
        self.assertEqual([c.rack_s for c in found], [25.5, -1])


class Exchanges(unittest.TestCase):
    def test_safeties_and_escapes_of_both_players_in_a_row(self):
        shots = [
            safe("a"),
            safe("b"),
            played("a", intent="escape", first_contact="1", cushion_after_contact=True),
            played("b", "1", first_contact="1"),
            safe("b"),
            played("a", "2", first_contact="2"),
        ]
        found = contexts(session(racks=[rack_of(*shots)]))[0]
        self.assertEqual([c.exchange for c in found], [1, 2, 3, -1, -1, -1])
        self.assertEqual([c.exchange_of for c in found], [3, 3, 3, -1, -1, -1])


class Said(unittest.TestCase):
    def test_what_the_chosen_option_gave_away(self):
        options = [
            {"id": "x", "chance": 0.9, "leave": 0.8},
            {"id": "y", "chance": 0.8, "leave": 0.5, "chosen": True},
        ]
        shot = {**played("a", "1"), "plan": {"options": options, "changed_from": 1}}
        unknown = {**played("a", "2"), "plan": {"options": options[1:]}}
        found = contexts(session(racks=[rack_of(shot, unknown)]))[0]
        self.assertAlmostEqual(found[0].given_away, 0.72 - 0.40)
        self.assertEqual((found[0].replanned, found[1].replanned), (1, 0))
        self.assertEqual(found[1].given_away, -1)

    def test_roles_of_the_meant_ball_and_the_break_ball(self):
        roles = {"roles": {"1": ["trouble", "cluster"]}}
        shot = played("a", "1", first_contact="1")
        broke = {**played("a", "2", first_contact="2"), "break": {"break_ball": "made", "insurance": True}}
        found = contexts(session(racks=[rack_of(shot, broke, **roles)]))[0]
        self.assertEqual([c.roles for c in found], ["trouble cluster", ""])
        self.assertEqual((found[1].break_ball, found[1].insurance), ("made", 1))


if __name__ == "__main__":
    unittest.main()
