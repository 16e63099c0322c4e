"""Proposals: kept apart from what was said, without_proposals by saying; and what the next strike implies."""

import json
import unittest

from ripasso.review.document.edits import REMOVE, set_values
from ripasso.review.entry.marking import Moment, mark_strike
from ripasso.review.record.model import Shot, serialize
from ripasso.review.record.proposals import is_proposed, still_proposed, without_proposals
from ripasso.statistics.rows.shot_rows import shot_rows
from ripasso.ui.review.state.review_controller import ReviewController
from tests.sessions import document_with, played, rack_of, session


def shot_of(**data):
    return Shot.model_validate_json(json.dumps({"number": 1, **data}))


class Apart(unittest.TestCase):
    def test_what_a_person_said_is_what_stays(self):
        shot = shot_of(
            t_strike=2.0,
            t_rest=5.0,
            facts={"first_contact": "3", "potted": [{"ball": "3", "pocket": "foot_left"}, {"ball": "5"}]},
            proposed={"/t_rest": 0.9, "/facts/potted/0/pocket": 0.6, "/facts/potted/1": 0.5},
        )
        said = serialize(without_proposals(shot))
        self.assertEqual(
            said,
            {"number": 1, "t_strike": 2.0, "facts": {"first_contact": "3", "potted": [{"ball": "3"}]}},
        )
        self.assertIs(without_proposals(shot_of()).proposed, None)

    def test_an_object_that_cannot_be_without_it_goes_as_a_whole(self):
        shot = shot_of(
            intent="pot", facts={"potted": [{"ball": "3"}]}, proposed={"/facts/potted/0/ball": 0.4}
        )
        self.assertEqual(serialize(without_proposals(shot)), {"number": 1, "intent": "pot"})

    def test_a_pointer_to_nothing_is_no_error(self):
        shot = shot_of(proposed={"/facts/potted/7": 0.4, "/result/position": 0.2})
        self.assertEqual(serialize(without_proposals(shot)), {"number": 1})

    def test_around_and_inside(self):
        shot = shot_of(facts={"potted": []}, proposed={"/facts/potted": 0.5})
        self.assertTrue(is_proposed(shot, ("facts",)))
        self.assertTrue(is_proposed(shot, ("facts", "potted", 0)))
        self.assertFalse(is_proposed(shot, ("facts", "first_contact")))

    def test_saying_one_value_leaves_the_others_proposed(self):
        shot = shot_of(
            facts={"potted": [], "first_contact": "3", "cue_potted": False},
            t_rest=4.0,
            proposed={"/facts": 0.5, "/t_rest": 0.8},
        )
        left = still_proposed(shot, [("facts", "potted")])
        self.assertEqual(left, {"/facts/first_contact": 0.5, "/facts/cue_potted": 0.5, "/t_rest": 0.8})
        self.assertEqual(still_proposed(shot, [("facts",), ("t_rest",)]), {})

    def test_a_key_with_a_slash_in_it(self):
        shot = shot_of(**{"odd/key": 1}, proposed={"/odd~1key": 0.5})
        self.assertEqual(serialize(without_proposals(shot)), {"number": 1})

    def test_an_edit_settles_what_it_says(self):
        proposed = {"/facts/potted": 0.5, "/intent": 0.5}
        shot = {**played("a", "1"), "proposed": proposed}
        document = document_with(session(racks=[rack_of(shot)]))
        snapshot = document.session("test")
        key = snapshot.shots[0].key
        document.run(set_values(snapshot, "shot", key, {("intent",): "pot"}, "say"))
        self.assertEqual(document.session("test").shots[0].record.proposed, {"/facts/potted": 0.5})
        document.run(
            set_values(document.session("test"), "shot", key, {("facts", "potted"): REMOVE}, "take back")
        )
        self.assertNotIn("proposed", serialize(document.session("test").shots[0].record))
        document.undo()
        document.undo()
        self.assertEqual(document.session("test").shots[0].record.proposed, proposed)


class Implied(unittest.TestCase):
    """Strikes ten seconds apart, and what they say of the shots before them."""

    def begin(self, *shots, **changes):
        racks = [rack_of(*shots)] if shots else []
        self.document = document_with(
            session(racks=racks, recordings=[{"id": "f", "file": "x.mp4"}], **changes)
        )
        self.said = []
        self.controller = ReviewController(self.document, lambda sentence, _tone: self.said.append(sentence))
        self.controller.open("test")
        self.now = 100.0

    def strike(self, *calls):
        self.now += 10
        self.controller.strike(Moment("f", self.now))
        for name, *rest in calls:
            getattr(self.controller, name)(*rest)
        return self.controller.shot.record

    @property
    def shots(self):
        return [shot.record for shot in self.controller.snapshot.shots]

    @property
    def rows(self):
        """Intent, tried, made, failed of each shot as statistics count them."""
        return [(row[6], *row[7:10]) for row in shot_rows(self.controller.snapshot.session)]

    def test_strike_and_pocket_are_enough_in_nine_ball(self):
        self.begin()
        self.strike(("digit", "2"), ("pocket", "foot_left"))
        for pocket in ("head_left", "side_left", "foot_right"):
            self.strike(("pocket", pocket))
        last = self.strike()
        self.assertEqual([s.player for s in self.shots], ["a"] * 5)
        fell = [(p.ball, p.pocket) for s in self.shots[1:4] for p in s.facts.potted]
        self.assertEqual(fell, [("1", "head_left"), ("3", "side_left"), ("4", "foot_right")])
        self.assertEqual(self.controller.shot_score.balls_on, ("5",))
        self.assertEqual(self.shots[1].proposed, {"/facts/potted": 0.7})
        self.assertIsNone(last.proposed)

    def test_no_figure_counts_it_until_it_is_accepted(self):
        self.begin()
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"))
        self.strike(("pocket", "side_left"))
        self.strike()
        self.assertEqual([row[1:] for row in self.rows], [(False, False, False)] * 4)
        self.controller.choose(self.controller.snapshot.shots[1].key)
        self.controller.accept()
        self.assertEqual(self.rows[1], ("pot", True, True, False))
        self.controller.accept_rack()
        self.assertEqual([row[2] for row in self.rows], [False, True, True, False])
        self.controller.accept()
        self.assertIn("Nothing is proposed for this shot.", self.said)
        self.controller.accept_rack()
        self.assertIn("Nothing is proposed in this rack.", self.said)

    def test_strike_and_colour_are_enough_in_snooker(self):
        self.begin(game="snooker")
        self.strike(("tag", "missed"))
        self.strike()
        self.strike(("digit", "7"))
        self.strike()
        self.strike(("digit", "5"))
        self.assertEqual(dict(self.controller.rack_score.score), {"a": 0, "b": 9})
        self.assertEqual(self.shots[1].facts.first_contact, "red1")
        self.assertEqual(self.shots[3].facts.potted[0].ball, "red2")

    def test_the_other_player_says_that_it_was_missed(self):
        self.begin()
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"))
        self.strike(("other_player",))
        self.assertEqual((self.shots[1].facts.potted, self.shots[1].proposed), ((), {"/facts/potted": 0.9}))
        self.assertEqual(self.controller.shot_score.warnings, ("no_facts",))
        self.controller.other_player()
        self.assertEqual(self.shots[1].facts.potted[0].ball, "1")
        self.controller.undo()
        self.controller.undo()
        self.assertEqual((self.shots[2].player, self.shots[1].proposed), ("a", {"/facts/potted": 0.7}))

    def test_a_key_that_agrees_accepts_and_one_that_does_not_wins(self):
        self.begin()
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"))
        self.strike()
        self.controller.step(-1)
        self.assertTrue(self.controller.is_proposed("potted"))
        self.assertFalse(self.controller.is_set("potted"))
        self.controller.tag("potted")
        self.assertTrue(self.controller.is_set("potted"))
        self.assertIsNone(self.shots[1].proposed)
        self.controller.undo()
        self.controller.tag("missed_thin")
        self.assertEqual((self.shots[1].facts.potted, self.shots[1].proposed), ((), None))

    def test_the_implied_ball_follows_the_call(self):
        self.begin(game="eight_ball")
        self.strike(("digit", "3"))
        self.strike(("digit", "5"), ("pocket", "head_left"))
        self.strike()
        self.controller.step(-1)
        self.controller.pocket("side_right")
        self.controller.digit("6")
        pot = self.shots[1].facts.potted[0]
        self.assertEqual((pot.ball, pot.pocket), ("6", "side_right"))
        self.assertEqual(self.shots[1].proposed, {"/facts/potted": 0.7})

    def test_without_a_ball_that_could_be_meant_nothing_is_proposed(self):
        self.begin(game="eight_ball")
        self.strike(("digit", "3"))
        self.strike()
        self.strike()
        self.assertEqual([s.proposed for s in self.shots], [None, None, None])

    def test_what_was_said_is_not_touched(self):
        self.begin()
        self.strike(("digit", "2"))
        self.strike(("tag", "missed"))
        self.strike(("tag", "intent_safety"))
        self.strike(("tag", "foul_no_contact"))
        last = self.strike()
        self.assertEqual([s.proposed for s in self.shots], [None] * 5)
        self.assertEqual(last.player, "b")

    def test_alone_a_player_goes_on_after_a_miss_too(self):
        self.begin(players=[{"id": "a"}], kind="practice")
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"))
        self.strike()
        self.assertIsNone(self.shots[1].proposed)

    def test_against_the_ghost_a_second_strike_means_that_it_fell(self):
        self.begin(players=[{"id": "a"}, {"id": "ghost", "ghost": True}], kind="ghost")
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"))
        self.strike()
        self.assertEqual((len(self.controller.snapshot.racks), self.shots[1].facts.potted[0].ball), (1, "1"))

    def test_the_money_ball_ends_the_rack_and_the_next_strike_begins_one(self):
        layout = {"cue": [0.5, 0.5], "9": [1.5, 0.6]}
        self.begin()
        self.document = document_with(
            session(racks=[{"number": 1, "breaker": "a", "layout": layout, "shots": []}])
        )
        self.controller = ReviewController(self.document, lambda *_: None)
        self.controller.open("test")
        self.strike(("pocket", "head_left"))
        shot = self.strike()
        self.assertEqual((len(self.controller.snapshot.racks), shot.number, shot.intent), (2, 1, "break"))
        self.assertEqual(self.controller.snapshot.score.racks[0].ended_by, "nine_potted")
        self.controller.undo()
        self.assertEqual((len(self.controller.snapshot.racks), self.shots[0].proposed), (1, None))

    def test_when_the_strike_goes_what_it_implied_goes(self):
        self.begin()
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"))
        self.strike()
        self.controller.delete_shot()
        self.assertIsNone(self.shots[1].proposed)
        self.assertIsNone(self.shots[1].facts)
        self.controller.undo()
        self.assertEqual(self.shots[1].proposed, {"/facts/potted": 0.7})

    def test_a_strike_between_two_shots_implies_nothing(self):
        self.begin()
        self.strike(("digit", "2"))
        self.strike(("pocket", "head_left"), ("tag", "missed"))
        self.strike()
        command, _ = mark_strike(self.controller.snapshot, Moment("f", 125.0), None)
        self.document.run(command)
        self.assertEqual([s.proposed for s in self.shots], [None] * 4)

    def test_the_second_rack_of_straight_pool_has_no_break(self):
        self.begin(game="straight_pool")
        self.strike(("tag", "missed"))
        for ball in range(1, 15):
            self.strike(*(("digit", d) for d in str(ball)), ("pocket", "foot_left"))
        shot = self.strike()
        self.assertEqual((len(self.controller.snapshot.racks), shot.intent, shot.player), (2, None, "b"))


if __name__ == "__main__":
    unittest.main()
