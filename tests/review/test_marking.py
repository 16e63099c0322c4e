"""Marks on the film: a strike begins a shot, rest ends one, and a slip of the finger inverts nothing."""

import unittest

from ripasso.review.entry.marking import Moment, NothingToMark, mark_rest, mark_strike
from ripasso.review.entry.rack_start import RackStart, begin_rack
from ripasso.review.record.model import serialize
from tests.sessions import document_with, played, rack_of, session


class Marks(unittest.TestCase):
    def begin(self, *shots, **changes):
        racks = [rack_of(*shots)] if shots else []
        self.document = document_with(
            session(racks=racks, recordings=[{"id": "f", "file": "x.mp4"}], **changes)
        )
        self.selected = None

    @property
    def snapshot(self):
        return self.document.session("test")

    def strike(self, t, selected=None):
        command, key = mark_strike(self.snapshot, Moment("f", t), selected)
        self.document.run(command)
        self.selected = key
        return self.snapshot.shot(key).record

    def rest(self, t):
        command, key = mark_rest(self.snapshot, Moment("f", t))
        self.document.run(command)
        return self.snapshot.shot(key).record

    def test_the_first_strike_begins_the_rack_with_its_break(self):
        self.begin()
        shot = self.strike(2.0)
        self.assertEqual((shot.number, shot.intent, shot.player, shot.t_strike), (1, "break", "a", 2.0))
        self.assertEqual(self.snapshot.racks[0].record.breaker, "a")

    def test_the_next_player_follows_from_the_rules(self):
        self.begin(played("a", "2", intent="break", **{}), played("a"))
        self.begin({**played("a", "2", intent="break"), "recording": "f", "t_strike": 1.0})
        self.assertEqual(self.strike(5.0).player, "a")
        self.begin({**played("a", intent="break"), "recording": "f", "t_strike": 1.0})
        self.assertEqual(self.strike(5.0).player, "b")

    def test_after_the_end_of_a_rack_a_new_one_begins(self):
        self.begin({**played("a", "9", intent="break"), "recording": "f", "t_strike": 1.0})
        shot = self.strike(30.0)
        self.assertEqual(
            (len(self.snapshot.racks), shot.number, shot.player, shot.intent), (2, 1, "b", "break")
        )
        self.document.undo()
        self.assertEqual(len(self.snapshot.racks), 1)

    def test_the_winner_breaks_where_that_is_agreed(self):
        rules = {"break_order": "winner"}
        self.begin({**played("a", "9", intent="break"), "recording": "f", "t_strike": 1.0}, rules=rules)
        self.assertEqual(self.strike(30.0).player, "a")

    def test_a_strike_between_two_shots_goes_between_them(self):
        self.begin()
        self.strike(2.0)
        self.strike(20.0)
        shot = self.strike(11.0)
        self.assertEqual(shot.number, 2)
        self.assertEqual([s.record.t_strike for s in self.snapshot.shots], [2.0, 11.0, 20.0])

    def test_the_same_strike_twice_moves_its_mark(self):
        self.begin()
        self.strike(2.0)
        self.assertEqual(self.strike(2.3).t_strike, 2.3)
        self.assertEqual(len(self.snapshot.shots), 1)

    def test_a_selected_shot_without_a_mark_gets_it(self):
        self.begin(played("a", "2", intent="break"), played("a", "1"))
        key = self.snapshot.shots[1].key
        self.assertEqual((self.strike(7.5, key).number, self.selected), (2, key))

    def test_rest_ends_the_last_shot_struck_before(self):
        self.begin()
        self.strike(2.0)
        self.strike(20.0)
        self.assertEqual((self.rest(9.0).number, self.rest(27.0).number), (1, 2))

    def test_rest_before_any_strike(self):
        self.begin()
        self.assertRaises(NothingToMark, self.rest, 1.0)
        self.strike(2.0)
        self.assertRaises(NothingToMark, self.rest, 1.0)

    def test_a_rack_from_the_middle_has_no_break(self):
        self.begin()
        self.document = document_with(
            session(racks=[{"number": 1, "layout": {"cue": [1, 1], "9": [2, 1]}, "shots": []}])
        )
        self.assertIsNone(self.strike(3.0).intent)

    def test_after_racks_that_are_not_shown(self):
        self.begin({**played("a", intent="break"), "recording": "f", "t_strike": 1.0})
        self.document.run(begin_rack(self.snapshot, RackStart(7, {"a": 4, "b": 2})))
        shot = self.strike(60.0)
        # Rack 1 was a's break, and the breaks go by turns: 7 is a's as well.
        self.assertEqual(
            (len(self.snapshot.racks), shot.number, shot.intent, shot.player), (3, 1, "break", "a")
        )
        self.assertEqual([row.record.number for row in self.snapshot.racks], [1, 2, 7])
        self.assertEqual(dict(self.snapshot.score.score_before[2]), {"a": 4, "b": 2})
        self.assertNotIn("shots", serialize(self.snapshot.session)["racks"][1])
        self.assertEqual([s.warnings for s in self.snapshot.score.racks[2].shots], [("no_facts",)])

    def test_a_game_without_rules_goes_on_with_the_same_player(self):
        self.begin(game=None)
        self.strike(2.0)
        self.assertEqual(self.strike(12.0).player, "a")


if __name__ == "__main__":
    unittest.main()
