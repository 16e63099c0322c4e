"""What comes in is checked once, with its place and a sentence: sizes, counts, numbers, names."""

import json
import unittest

from ripasso.review.record.names import unknown_names
from ripasso.review.record.parsing import InvalidSession, UnreadableSession, read_session
from ripasso.statistics.report import stats_report
from ripasso.statistics.rows.search_columns import columns_of
from tests.sessions import rack_of, session, session_data


def with_shot(**values):
    """A session of one shot."""
    return session_data(racks=[rack_of({"player": "a", **values})])


SHOT = "$.racks[0].shots[0]"


class Refused(unittest.TestCase):
    def refused(self, data):
        text = data if isinstance(data, str) else json.dumps(data)
        with self.assertRaises(InvalidSession) as caught:
            read_session(text)
        return {problem.path: problem.text for problem in caught.exception.problems}

    def test_numbers_that_no_table_and_no_film_has(self):
        for values, where, said in (
            ({"t_strike": 1e12}, ".t_strike", "less than or equal to 1000000000"),
            ({"before": {"cue": [1e5, 0]}}, ".before.cue[0]", "less than or equal to 10000"),
            ({"stroke": {"speed_m_s": -1e300}}, ".stroke.speed_m_s", "greater than or equal"),
            ({"error": {"kind": "pot", "cause_shot": 2**63}}, ".error.cause_shot", "more digits"),
            ({"number": 2**31}, ".number", "less than or equal to 1000000000"),
            ({"before": {f"b{i}": [1, 1] for i in range(65)}}, ".before", "should hold 64 at most"),
            (
                {"plan": {"zone": {"polygon": [[0, 0]] * 501}}},
                ".plan.zone.polygon",
                "should hold 500 at most",
            ),
            ({"own": {"deep": [1, 10**400]}}, ".own.deep[1]", "more digits"),
            ({"call": {"ball": "9" * 101}}, ".call.ball", "at most 100 characters"),
        ):
            with self.subTest(where):
                self.assertIn(said, self.refused(with_shot(**values))[SHOT + where])

    def test_numbers_that_only_some_readers_of_json_know(self):
        """RFC 8259, section 6: NaN and Infinity are no numbers, 1e400 is none that can be kept."""
        whole = json.dumps(with_shot(own=[0.25, {"x": 1}]))
        for text in ("NaN", "Infinity", "-Infinity", "1e400"):
            with self.subTest(text):
                found = self.refused(whole.replace("0.25", text))
                self.assertEqual(found, {f"{SHOT}.own[0]": "should be a finite number"})

    def test_half_a_character(self):
        """RFC 8259, section 8.2: a lone surrogate is no text that can be written."""
        for part, where in (('"A test"', "$.title"), ('"Ada Quill"', "$.players[0].name")):
            text = json.dumps(session_data()).replace(part, '"a\\ud800"')
            self.assertEqual(self.refused(text), {where: "holds half a character"})

    def test_a_session_without_a_name_of_its_own(self):
        self.assertEqual(self.refused(session_data(id="")), {"$.id": "should not be empty"})

    def test_tables_and_levels_that_cannot_be(self):
        for changes, where in (
            ({"table": {"length": 1e200}}, "$.table.length"),
            ({"table": {"ball_radius": 0}}, "$.table.ball_radius"),
            ({"table": {"corner_mouth": "wide"}}, "$.table.corner_mouth"),
            ({"level": {"aim_spread_mrad": 0}}, "$.level.aim_spread_mrad"),
        ):
            with self.subTest(where):
                self.assertIn(where, self.refused(session_data(**changes)))

    def test_more_records_than_anybody_has_are_told_before_each_is_looked_at(self):
        self.assertEqual(
            self.refused(session_data(racks=[1] * 20_001)), {"$.racks": "should hold 20000 at most"}
        )
        rack = {"number": 1, "shots": [1] * 20_001}
        self.assertEqual(list(self.refused(session_data(racks=[rack]))), ["$.racks[0].shots"])
        racks = [{"number": 1, "shots": [1] * 20_000}] * 3
        self.assertEqual(list(self.refused(session_data(racks=racks))), ["$.racks[2].shots"])
        with self.assertRaises(UnreadableSession) as caught:
            read_session(json.dumps(session_data(own=[])).replace("[]", f"[{'0,' * 2_000_001}0]"))
        self.assertIn("more than 2,000,000 values", str(caught.exception))

    def test_a_long_list_is_told_wherever_it_stands(self):
        """Without a look at each of its records, which took 8 s and 600 MB for 30 MB."""
        many = [{"number": 1}] * 20_001
        sets = [{"id": f"{i}", "attempts": many[:100]} for i in range(501)]
        for change, place in (
            ({"attempt_sets": [{"id": "s", "attempts": many}]}, "attempt_sets[0].attempts"),
            ({"attempt_sets": sets}, "attempt_sets[500].attempts"),
            ({"recordings": [{"id": f"r{i}"} for i in range(501)]}, "$.recordings: should hold 500"),
            ({"stated": [{"by": "a"}] * 501}, "$.stated: should hold 500"),
            ({"racks": [rack_of({"comments": [{"text": "t"}] * 20_001})]}, "[0].comments: should hold 20000"),
        ):
            with self.subTest(place), self.assertRaises(InvalidSession) as caught:
                read_session(json.dumps(session_data(**change)))
            self.assertIn(place, str(caught.exception))
            self.assertEqual(len(caught.exception.problems), 1)

    def test_many_faults_take_no_longer_than_they_are_many(self):
        """Twenty thousand are listed: a quadratic search would take minutes."""
        self.assertEqual(len(self.refused(session_data(racks=[1] * 20_000))), 20_000)

    def test_a_key_that_nobody_would_read_is_cut_short_in_the_sentence(self):
        for key in ("9" * 5000, "a\nb\x1b[31m"):
            (path,) = self.refused(with_shot(own={key: 10**30}))
            self.assertTrue(path.startswith(f"{SHOT}.own."))
            self.assertLess(len(path), 120)
            self.assertTrue(path.isprintable())

    def test_what_is_nested_too_deeply(self):
        deep = json.dumps(session_data()).replace('"A test"', "[" * 300 + "]" * 300)
        found = self.refused(deep.replace('"title"', '"title": "A", "own"'))
        self.assertEqual(found, {"$": "is nested too deeply, or no JSON"})
        with self.assertRaises(UnreadableSession):
            read_session("[" * 100_000)


class Kept(unittest.TestCase):
    def test_long_decimals_and_large_sizes_of_files(self):
        data = with_shot(t_strike=0.12345678901234567, own=1.5e15)
        data["recordings"] = [{"id": "r", "fingerprint": {"size": 2**40}}]
        self.assertEqual(read_session(json.dumps(data)).racks[0].shots[0].t_strike, 0.12345678901234567)

    def test_a_pair_of_halves_is_one_character(self):
        text = json.dumps(session_data(title="\U0001f3b1"))
        self.assertIn("\\ud83c", text)
        self.assertEqual(read_session(text).title, "\U0001f3b1")


class UnknownNames(unittest.TestCase):
    """They are read, and listed by `check`."""

    def test_each_place_where_a_ball_or_a_player_is_named(self):
        rack = rack_of(
            {
                "player": "a",
                "call": {"ball": "Cue"},
                "before": {"white": [1, 0.5], "cue": [1, 1]},
                "path": {"12": [[0, 0, 0]]},
                "plan": {
                    "next_ball": "10",
                    "or_balls": ["3", "blue2"],
                    "zone": {"any_of": [{"side_of_line": {"ball": "red1"}}]},
                    "options": [{"call": {"ball": ""}, "next_ball": "black"}],
                },
            },
            breaker="c",
            roles={"yellow": ["key"]},
            plans=[{"order": [{"ball": "15"}], "key_ball": "x", "break_ball": "9"}],
            layout={"11": [0, 0]},
            score_before={"d": 1},
            conceded_by="e",
        )
        attempts = [{"id": "s", "layout": {"pink": [0, 0]}, "target": {"ball": "14"}}]
        found = {p.path: p.text for p in unknown_names(session(racks=[rack], attempt_sets=attempts))}
        rack_at, shot, sets = "$.racks[0]", SHOT, "$.attempt_sets[0]"
        self.assertEqual(
            set(found),
            {
                *(f"{rack_at}.breaker", f"{rack_at}.conceded_by", f"{rack_at}.score_before.d"),
                *(f"{rack_at}.layout.11", f"{rack_at}.roles.yellow"),
                *(f"{rack_at}.plans[0].order[0].ball", f"{rack_at}.plans[0].key_ball"),
                *(f"{shot}.call.ball", f"{shot}.before.white", f"{shot}.path.12", f"{shot}.plan.next_ball"),
                *(f"{shot}.plan.or_balls[1]", f"{shot}.plan.zone.any_of[0].side_of_line.ball"),
                *(f"{shot}.plan.options[0].call.ball", f"{shot}.plan.options[0].next_ball"),
                *(f"{sets}.layout.pink", f"{sets}.target.ball"),
            },
        )
        self.assertEqual(found[f"{shot}.before.white"], "The game has no ball 'white'.")
        self.assertEqual(found[f"{rack_at}.breaker"], "The session has no player 'c'.")

    def test_a_session_in_order_has_none(self):
        rack = rack_of({"player": "b", "call": {"ball": "9"}, "before": {"cue": [0, 0]}})
        self.assertEqual(unknown_names(session(racks=[rack])), [])

    def test_without_a_game_every_ball_may_be(self):
        rack = rack_of({"player": "b", "before": {"red1": [0, 0], "9": [1, 1]}})
        self.assertEqual(unknown_names(session(game=None, racks=[rack])), [])


class OddBallsInAFrame(unittest.TestCase):
    """Balls of another game in a frame of snooker: scored, counted and searched all the same."""

    def test_they_are_worth_nothing_and_raise_nothing(self):
        for ball in ("9", "Cue", "", "red99", "$x$"):
            shot = {
                "player": "a",
                "intent": "pot",
                "call": {"ball": ball},
                "facts": {"first_contact": "red1"},
            }
            shot |= {"before": {"cue": [1, 0.5], ball: [2, 0.5]}, "plan": {"next_ball": ball}}
            layout = {"cue": [1, 0.5], "black": [3, 0.9], ball: [2, 0.5]}
            racks = [rack_of(shot, shot), rack_of(shot, layout=layout)]
            frame = session(game="snooker", racks=racks, table={"preset": "snooker_12ft"})
            with self.subTest(ball):
                self.assertEqual(len(columns_of([frame])[0]), 3)
                players = stats_report([frame])["players"].values()
                self.assertEqual(sum(player["shots"] for player in players), 3)


class Proposals(unittest.TestCase):
    def test_pointers_that_point_nowhere_or_at_the_number_change_nothing(self):
        from ripasso.review.record.proposals import without_proposals

        shot = session(racks=[rack_of({"player": "a", "note": "x"})]).racks[0].shots[0]
        for pointer in ("", "8", "/number", "/facts/potted/²", "/note/0", "/nothing"):
            with self.subTest(pointer):
                proposed = shot.model_copy(update={"proposed": {pointer: 0.5}})
                self.assertEqual(without_proposals(proposed), shot)
