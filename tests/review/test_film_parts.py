"""What is said of stretches of film: parts and clips, their list, and what they do to time and runs."""

import unittest

from ripasso.film.reading.detection.stretches import Stretch
from ripasso.review.document.edits import RefusedEdit, remove_rack, remove_shot
from ripasso.review.present.match_sheet import match_sheet
from ripasso.review.present.ribbon import ribbon_of
from ripasso.review.record.model import serialize
from ripasso.review.recordings.film_parts import (
    SAYINGS,
    accept_stretch,
    clips_of,
    forget_stretch,
    line_words,
    live_film,
    part_at,
    propose_stretches,
    say_stretch,
    stretches,
)
from tests.sessions import document_with, played, rack_of, session

BY_NAME = {saying.name: saying for saying in SAYINGS}


def timed(shot, strike, rest=None):
    return {**shot, "recording": "f", "t_strike": strike, "t_rest": rest if rest is not None else strike + 5}


class Said(unittest.TestCase):
    def setUp(self):
        """Two racks; a wins the first from the break in one visit, four strokes ten seconds apart."""
        run = [
            played("a", "1", "2", intent="break"),
            played("a", "3", "4"),
            played("a", "5"),
            played("a", "9"),
        ]
        racks = [
            rack_of(*(timed(shot, 10.0 * i) for i, shot in enumerate(run, start=1))),
            {**rack_of(timed(played("b", intent="break"), 60.0), breaker="b"), "number": 2},
        ]
        self.document = document_with(session(racks=racks, recordings=[{"id": "f", "file": "x.mp4"}]))

    @property
    def snapshot(self):
        return self.document.session("test")

    def say(self, name, start, end, place=0):
        shot = self.snapshot.shots[place].key
        self.document.run(say_stretch(self.snapshot, ("f", start, end), BY_NAME[name], shot))

    def test_a_replay_is_a_part_of_the_film_and_a_clip_of_the_shot(self):
        self.say("replay_of_shot", 26.0, 24.0, place=1)
        shows = {"rack": 1, "from_shot": 2, "to_shot": 2}
        part = {"recording": "f", "from": 24.0, "to": 26.0, "kind": "replay", "shows": shows}
        self.assertEqual([serialize(p) for p in self.snapshot.head.film_parts], [part])
        clip = {"recording": "f", "from": 24.0, "to": 26.0, "kind": "replay"}
        self.assertEqual([serialize(c) for c in self.snapshot.shots[1].record.clips], [clip])
        lines = stretches(self.snapshot, "f")
        self.assertEqual(
            [line_words(line) for line in lines],
            ["00:00:24.00 to 00:00:26.00 · Replay of shot 2 of rack 1"],
        )
        self.document.undo()
        self.assertIsNone(self.snapshot.head.film_parts)
        self.assertIsNone(self.snapshot.shots[1].record.clips)

    def test_another_view_is_only_a_clip_and_a_cut_only_a_part(self):
        self.say("view_of_shot", 11.0, 12.0)
        self.say("film_cut", 45.0, 45.0)
        self.say("replay_of_rack", 70.0, 80.0)
        words = [line_words(line) for line in stretches(self.snapshot, "f")]
        self.assertEqual(
            words,
            [
                "00:00:11.00 to 00:00:12.00 · Another view of shot 1 of rack 1",
                "00:00:45.00 · Film is missing",
                "00:01:10.00 to 00:01:20.00 · Replay of rack 1",
            ],
        )
        for _ in range(3):
            self.document.run(forget_stretch(self.snapshot, stretches(self.snapshot, "f")[0]))
        self.assertEqual(stretches(self.snapshot, "f"), ())
        self.assertNotIn("film_parts", serialize(self.snapshot.head))
        self.assertNotIn("clips", serialize(self.snapshot.shots[0].record))

    def test_a_shot_must_be_there_to_be_shown_again(self):
        with self.assertRaisesRegex(RefusedEdit, "no shot"):
            say_stretch(self.snapshot, ("f", 1.0, 2.0), BY_NAME["replay_of_shot"], None)

    def test_what_runs_at_a_place(self):
        self.say("film_paused", 24.0, 26.0)
        self.say("film_live", 0.0, 24.0)
        head = self.snapshot.head
        self.assertEqual(
            [part_at(head, "f", t) for t in (23.0, 24.0, 25.9, 26.0)], [None, "paused", "paused", None]
        )
        self.assertIsNone(part_at(head, "g", 25.0))

    def test_pace_leaves_out_what_was_not_live(self):
        self.assertEqual(match_sheet(self.snapshot).visits[0].cells[7:], ("0:35", "9 s"))
        self.say("replay_of_shot", 26.0, 29.0, place=1)
        self.say("film_paused", 27.0, 31.0)
        self.assertEqual(match_sheet(self.snapshot).visits[0].cells[7:], ("0:30", "8 s"))

    def test_across_a_cut_no_time_and_no_run_is_claimed_and_the_place_says_so(self):
        sheet = match_sheet(self.snapshot)
        self.assertIn("1 break-and-run", sheet.summary)
        self.say("film_cut", 25.5, 26.0)
        sheet = match_sheet(self.snapshot)
        self.assertIn("0 break-and-runs", sheet.summary)
        self.assertEqual(sheet.racks[0].cells[4:8], ("the 9 was potted, film missing", "", "4", ""))
        self.assertEqual(sheet.visits[0].cells[4], "the rack won, film missing")
        self.assertEqual(sheet.visits[0].cells[7:], ("", ""))
        self.assertEqual(ribbon_of(self.snapshot, self.snapshot.racks[0]).gaps, (1,))
        self.assertEqual(ribbon_of(self.snapshot, self.snapshot.racks[1]).gaps, ())

    def test_parts_follow_the_shots_and_racks_they_show(self):
        self.say("replay_of_shot", 46.0, 47.0, place=3)
        self.say("replay_of_shot", 48.0, 49.0, place=1)
        self.say("replay_of_rack", 66.0, 68.0, place=4)
        before = [serialize(p) for p in self.snapshot.head.film_parts]

        def shown():
            return [serialize(p).get("shows") for p in self.snapshot.head.film_parts]

        self.document.run(remove_shot(self.snapshot, self.snapshot.shots[1].key))
        self.assertEqual(shown(), [{"rack": 1, "from_shot": 3, "to_shot": 3}, {"rack": 1}, {"rack": 2}])
        self.document.run(remove_rack(self.snapshot, self.snapshot.racks[0].key))
        self.assertEqual(shown(), [None, None, {"rack": 1}])
        self.document.undo()
        self.document.undo()
        self.assertEqual([serialize(p) for p in self.snapshot.head.film_parts], before)


if __name__ == "__main__":
    unittest.main()


class Proposed(Said):
    def propose(self, *found):
        self.document.run(propose_stretches(self.snapshot, "f", found))

    def test_what_was_found_counts_only_when_it_is_accepted(self):
        self.propose(Stretch("paused", 12.0, 14.0, 0.8), Stretch("replay", 26.0, 29.0, 0.85, 20.1))
        lines = stretches(self.snapshot, "f")
        self.assertEqual([line.proposed for line in lines], [True, True])
        self.assertIn("of shot 2 of rack 1, proposed", lines[1].text)
        self.assertIsNone(part_at(self.snapshot.head, "f", 13.0))
        self.assertEqual(live_film(self.snapshot.session).seconds("f", 10.0, 20.0), 10.0)
        self.document.run(accept_stretch(self.snapshot, lines[0]))
        self.assertEqual(part_at(self.snapshot.head, "f", 13.0), "paused")
        self.assertEqual(live_film(self.snapshot.session).seconds("f", 10.0, 20.0), 8.0)

    def test_found_again_only_proposals_are_replaced(self):
        self.say("film_paused", 12.0, 13.0)
        self.propose(Stretch("paused", 12.5, 14.0, 0.8), Stretch("cut_out", 40.0, 44.0, 0.8))
        self.assertEqual(
            [(line.kind, line.proposed) for line in stretches(self.snapshot, "f")],
            [("paused", False), ("cut_out", True)],
        )
        self.propose(Stretch("cut_out", 41.0, 44.0, 0.8))
        self.assertEqual([line.start_s for line in stretches(self.snapshot, "f")], [12.0, 41.0])
        self.propose()
        self.assertEqual(len(stretches(self.snapshot, "f")), 1)

    def test_the_clips_of_a_shot_are_itself_and_all_that_shows_it_again(self):
        self.say("view_of_shot", 70.0, 73.0, place=1)
        self.say("replay_of_shot", 26.0, 29.0, place=1)
        self.say("replay_of_rack", 80.0, 95.0, place=1)
        clips = clips_of(self.snapshot, self.snapshot.shots[1].key)
        self.assertEqual([clip.start_s for clip in clips], [20.0, 70.0, 26.0, 80.0])
        self.assertIn("as it was played", clips[0].text)
        self.assertEqual(len(clips_of(self.snapshot, self.snapshot.shots[4].key)), 1)
