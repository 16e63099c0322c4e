"""What a read shot was meant to be, from where its balls ran."""

import unittest

from ripasso.core.table import table_spec
from ripasso.core.table.pockets import pocket_mouth_middle
from ripasso.demo.library import film_session, film_truth
from ripasso.review.document.edits import add_session
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.recordings.proposed_intents import proposed_intent, ran_at
from ripasso.review.recordings.proposed_shots import rename_ball, take_in_shots
from tests.sessions import session

SPEC = table_spec({"preset": "pool_9ft"})


def read(way=(), ball="3", potted=(), **more):
    return {
        "recording": "film",
        "t_strike": 10.0,
        "t_rest": 14.0,
        "facts": {"first_contact": ball, "potted": list(potted)},
        "path": {ball: [[10.0 + i / 5, x, y] for i, (x, y) in enumerate(way)]},
        "proposed": {"/t_strike": 0.9, "/facts/first_contact": 0.9, "/facts/potted": 0.9, "/path": 0.8},
        **more,
    }


class Meant(unittest.TestCase):
    def test_a_ball_that_fell_was_played_there(self):
        values, sure = proposed_intent(read(potted=[{"ball": "3", "pocket": "foot_left"}]), SPEC)
        self.assertEqual(values, {"intent": "pot", "call": {"ball": "3", "pocket": "foot_left"}})
        self.assertLess(sure["/intent"], 0.9)
        # By a combination, or a carom, another one falls.
        values, _ = proposed_intent(read(potted=[{"ball": "9", "pocket": "side_left"}]), SPEC)
        self.assertEqual(values["call"], {"ball": "9", "pocket": "side_left"})

    def test_a_ball_that_came_near_a_pocket_was_a_pot_missed(self):
        x, y = pocket_mouth_middle(SPEC, "foot_left")
        beside = [(1.5, 0.6), (x - 0.02, y - 0.13), (1.9, 0.9)]
        values, close = proposed_intent(read(beside), SPEC)
        self.assertEqual(values, {"intent": "pot", "call": {"ball": "3", "pocket": "foot_left"}})
        self.assertGreater(close["/intent"], 0.5)
        values, _ = proposed_intent(read([(1.5, 0.6), (x - 0.02, y - 0.3)]), SPEC)
        self.assertEqual(values, {"intent": "safety"})

    def test_a_ball_that_ran_at_no_pocket_is_perhaps_a_safety(self):
        for way in ([(1.5, 0.6), (1.5, 1.2), (1.4, 0.3)], [(1.5, 0.6), (1.52, 0.6)], []):
            values, sure = proposed_intent(read(way), SPEC)
            self.assertEqual(values, {"intent": "safety"})
            self.assertLessEqual(sure["/intent"], 0.5)

    def test_without_a_contact_nothing_is_said(self):
        self.assertEqual(proposed_intent(read(ball=None, path={}), SPEC), ({}, {}))

    def test_a_way_away_from_a_pocket_is_not_played_at_it(self):
        x, y = pocket_mouth_middle(SPEC, "head_right")
        self.assertEqual(ran_at([(x + 0.1, y + 0.1), (x + 0.25, y + 0.25)], SPEC)[0], None)

    def test_the_demo_film_by_its_own_ways(self):
        """Of the shots after the break whose pots fell all are right, and most of the others."""
        true = [shot for rack in film_session().racks for shot in rack.shots][1:]
        right = balls = 0
        for shot, seen in zip(true, film_truth()["shots"][1:], strict=True):
            path = {ball: [list(place) for place in way] for ball, way in (seen.get("path") or {}).items()}
            facts = {"first_contact": seen["first_contact"], "potted": seen["potted"]}
            values, _ = proposed_intent({"facts": facts, "path": path, "proposed": {}}, SPEC)
            right += values["intent"] == shot.intent
            balls += shot.intent == "pot" and values.get("call", {}).get("ball") == shot.call.ball
        self.assertGreaterEqual(right, 8)
        self.assertGreaterEqual(balls, 7)


class TakenIn(unittest.TestCase):
    def snapshot(self, **shot):
        racks = [
            {"number": 1, "breaker": "a", "shots": [{"number": 1, "intent": "break", "player": "a", **shot}]}
        ]
        made = session(racks=racks, recordings=[{"id": "film", "file": "x.mp4"}])
        return Snapshot("test", {}).applied(add_session(made).changes)

    def taken(self, snapshot, values):
        return snapshot.applied(take_in_shots(snapshot, "film", [(1, values)]).changes)

    def test_what_a_person_said_stays(self):
        potted = read(potted=[{"ball": "3", "pocket": "foot_left"}])
        said = (
            self.taken(self.snapshot(recording="film", t_strike=10.0, intent="safety"), potted)
            .shots[0]
            .record
        )
        self.assertEqual(said.intent, "safety")
        self.assertIsNone(said.call)
        self.assertNotIn("/intent", said.proposed)

    def test_a_break_has_no_call(self):
        first = self.taken(
            Snapshot("test", {}).applied(
                add_session(session(racks=[], recordings=[{"id": "film", "file": "x.mp4"}])).changes
            ),
            read(potted=[{"ball": "3", "pocket": "foot_left"}]),
        )
        record = first.shots[0].record
        self.assertEqual(record.intent, "break")
        self.assertIsNone(record.call)
        self.assertNotIn("/call", record.proposed)

    def test_another_name_of_the_ball_is_its_name_in_the_call(self):
        base = self.snapshot(recording="film", t_strike=2.0, t_rest=5.0)
        values = read(
            potted=[{"ball": "3", "pocket": "foot_left"}], before={"cue": [0.5, 0.5], "3": [1.5, 0.6]}
        )
        values["proposed"]["/before/3"] = 0.8
        taken = self.taken(base, values)
        shot = taken.shots[1]
        self.assertEqual((shot.record.intent, shot.record.call.ball), ("pot", "3"))
        renamed = taken.applied(rename_ball(taken, shot.key, "3", "7").changes)
        self.assertEqual(renamed.shots[1].record.call.ball, "7")
        self.assertEqual(renamed.shots[1].record.facts.potted[0].ball, "7")
