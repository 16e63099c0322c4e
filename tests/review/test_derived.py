"""What follows from a shot without being asked: side, route, luck, recovery, trouble balls."""

import json
import unittest

from ripasso.review.measuring.measuring import measure_session
from ripasso.review.present.derived import (
    derived_lines,
    is_recovery,
    luck_suggested,
    trouble_balls,
)
from ripasso.review.record.model import Rack
from tests.sessions import played, rack_of, session


def measured(**values):
    """One pot of the 1 to foot left, cut to the left, and its measures."""
    shot = {
        **played("a", "1"),
        "intent": "pot",
        "call": {"ball": "1", "pocket": "foot_left"},
        "before": {"cue": [1.2, 0.5], "1": [1.9, 0.7], "2": [0.5, 0.5]},
        "after": {"cue": [2.0, 0.3], "2": [0.5, 0.5]},
        **values,
    }
    made = session(racks=[rack_of(shot)])
    rack = made.racks[0]
    return rack, rack.shots[0], measure_session(made)[0][0]


class Side(unittest.TestCase):
    def test_side_is_told_by_the_cut_and_by_the_cushion(self):
        rack, shot, measures = measured(stroke={"tip": [0.4, 0.0]})
        self.assertGreater(measures.geometry.cut_deg, 0)
        side = measures.side_spin
        self.assertEqual(side.spin_cut, "outside")
        lines = {line.name: line.value for line in derived_lines(rack, shot, measures, made=True)}
        self.assertIn("outside", lines["side"])
        self.assertIn(side.cushion, lines["side"])

    def test_the_way_on_film_counts_before_the_natural_line(self):
        path = {"cue": [[0, 1.2, 0.5], [0.5, 1.85, 0.67], [1.0, 1.0, 1.2]]}
        _, _, measures = measured(stroke={"tip": [0.4, 0.0]}, path=path)
        self.assertEqual(measures.side_spin.cushion, "left")

    def test_without_a_tip_nothing_is_said(self):
        _, _, measures = measured()
        self.assertIsNone(measures.side_spin)


class LuckAndRecovery(unittest.TestCase):
    def test_a_ball_in_another_pocket_asks_for_luck(self):
        other = {"potted": [{"ball": "1", "pocket": "side_left"}]}
        _, shot, _ = measured(facts=other)
        self.assertEqual(luck_suggested(shot), "fluke")
        _, said, _ = measured(facts=other, result={"luck": "none"})
        self.assertIsNone(luck_suggested(said))

    def test_a_hard_ball_after_a_lost_position(self):
        rack = Rack.model_validate_json(
            json.dumps(rack_of({**played("a", "1"), "result": {"position": "lost"}}, played("a", "2")))
        )
        before, shot = rack.shots
        self.assertTrue(is_recovery(shot, before, 0.3, made=True))
        self.assertFalse(is_recovery(shot, before, 0.7, made=True))
        self.assertFalse(is_recovery(shot, before, 0.3, made=False))
        self.assertFalse(is_recovery(shot, None, 0.3, made=True))


class Trouble(unittest.TestCase):
    def rack(self):
        shots = [
            played("a", "1"),
            played("a", "2"),
            {**played("a", "6"), "events": ["role_solved"]},
            played("a", "3"),
        ]
        made = rack_of(*shots)
        made["roles"] = {"6": ["trouble"], "3": ["key"], "9": ["trouble"]}
        return Rack.model_validate_json(json.dumps(made))

    def test_open_and_solved(self):
        rack = self.rack()
        self.assertEqual(trouble_balls(rack, 2), {"6": None, "9": None})
        self.assertEqual(trouble_balls(rack, 4), {"6": 3, "9": None})
