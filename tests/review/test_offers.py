"""What the slip offers for a shot: balls to choose from and the choices the rules give."""

import unittest

from ripasso.review.present.offers import Offers, offers_for
from tests.sessions import document_with, played, rack_of, session


def offers(place, *shots, **changes):
    snapshot = document_with(session(racks=[rack_of(*shots)], **changes)).session("test")
    judged = snapshot.score.racks[0].shots[place]
    return offers_for(snapshot.head, snapshot.shots[place].record, judged)


BROKE = played("a", "2", intent="break")


class Balls(unittest.TestCase):
    def test_nine_ball_has_one_and_it_is_meant(self):
        found = offers(1, BROKE, {"player": "a"})
        self.assertEqual((found.lead, found.balls, found.chosen), ("On", ("1",), "1"))

    def test_eight_ball_from_the_open_table_to_the_eight(self):
        game = {"game": "eight_ball"}
        found = offers(1, BROKE, {"player": "a"}, **game)
        self.assertEqual((found.lead, len(found.balls), found.chosen), ("Open table", 13, None))
        self.assertEqual(found.hint, "call ball and pocket")
        low = played("a", "1", call={"ball": "1"})
        found = offers(2, BROKE, low, {"player": "a", "call": {"ball": "4"}}, **game)
        self.assertEqual((found.lead, found.balls, found.chosen), ("Solids", ("3", "4", "5", "6", "7"), "4"))
        rest = [played("a", ball) for ball in "34567"]
        found = offers(7, BROKE, low, *rest, {"player": "a"}, **game)
        self.assertEqual((found.lead, found.balls, found.chosen), ("The 8", ("8",), "8"))
        uncalled = offers(1, BROKE, {"player": "a"}, **game, rules={"call_shots": False})
        self.assertEqual(uncalled.hint, "")

    def test_snooker_reds_are_one_and_the_colour_is_named(self):
        game = {"game": "snooker"}
        off = played("a", intent="break")
        found = offers(1, off, {"player": "b"}, **game)
        self.assertEqual((found.lead, found.balls, found.chosen), ("On", ("red",), "red"))
        red = played("b", "red1", first_contact="red1")
        found = offers(2, off, red, {"player": "b", "call": {"ball": "pink"}}, **game)
        self.assertEqual(found.lead, "Name the colour")
        self.assertEqual(found.balls, ("yellow", "green", "brown", "blue", "pink", "black"))
        self.assertEqual(found.chosen, "pink")

    def test_called_games_say_what_a_call_needs(self):
        self.assertEqual(offers(1, BROKE, {"player": "a"}, game="ten_ball").hint, "any ball may be called")
        straight = offers(1, played("a", intent="break"), {"player": "b"}, game="straight_pool")
        self.assertEqual((straight.lead, len(straight.balls)), ("Call", 15))

    def test_a_break_offers_no_ball_and_an_unknown_game_nothing(self):
        self.assertEqual(offers(0, BROKE), Offers())
        snapshot = document_with(session(game=None, racks=[rack_of(BROKE)])).session("test")
        self.assertEqual(offers_for(snapshot.head, snapshot.shots[0].record, None), Offers())


class Choices(unittest.TestCase):
    def test_a_push_out_only_after_the_break(self):
        self.assertEqual(offers(1, BROKE, {"player": "a"}).actions, ("intent_push_out",))
        self.assertEqual(offers(2, BROKE, played("a", "1"), {"player": "a"}).actions, ())

    def test_after_a_push_out_either_may_play(self):
        found = offers(2, BROKE, {"player": "a", "intent": "push_out", "facts": {}}, {"player": "b"})
        self.assertEqual(found.actions, ("other_player",))

    def test_a_new_rack_after_an_illegal_break(self):
        bad = played("a", intent="break", balls_to_cushion=2)
        found = offers(1, bad, {"player": "b"}, game="eight_ball")
        self.assertEqual(found.actions, ("intent_break", "other_player"))
        taken = offers(1, bad, {"player": "b", "intent": "break"}, game="eight_ball")
        self.assertIn("intent_break", taken.actions)

    def test_after_a_foul_in_snooker(self):
        foul = played("a", intent="break", cue_potted=True, miss=True)
        found = offers(1, foul, {"player": "b"}, game="snooker")
        self.assertEqual(found.actions, ("free_ball", "other_player"))
        found = offers(1, foul, {"player": "a"}, game="snooker")
        self.assertEqual(found.actions, ("replaced", "other_player"))
        free = offers(1, foul, {"player": "b", "free_ball": True}, game="snooker")
        self.assertEqual((free.lead, free.balls[0], len(free.balls)), ("Free ball: name it", "red", 7))


if __name__ == "__main__":
    unittest.main()
