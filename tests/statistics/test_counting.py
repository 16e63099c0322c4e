"""What counts and what does not: racks without a visit, gaps, chances, and three places that say the same."""

import random
import unittest

import numpy as np

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.facts import Facts
from ripasso.core.figures.rack_results import RackResult, longest_row_of, longest_streak
from ripasso.core.figures.session_columns import JoinedColumns
from ripasso.core.finding import FIELDS, matching, parse_query
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.present.match_sheet import match_sheet
from ripasso.review.record.people import person_key
from ripasso.statistics.pages.lines import Side, lines_of
from ripasso.statistics.pages.pages import PAGES
from ripasso.statistics.report import stats_report
from ripasso.statistics.rows.measured_session import measured_session
from ripasso.statistics.rows.search_columns import columns_of
from tests.core.games import broke, outcomes, rack, score, shot
from tests.sessions import document_with, played, rack_of, session

WINS = ("9", "2")


def result(number, winner, before, **more):
    """A rack of a and b; `winner` None is a gap."""
    return RackResult(number, ("a", "b"), before, winner=winner, shown=winner is not None, **more)


class Rows(unittest.TestCase):
    def words(self, results, side="a"):
        return longest_streak(results, side).words

    def test_a_row_without_gaps(self):
        row = [result(1, "a", (0, 0)), result(2, "a", (1, 0)), result(3, "b", (2, 0)), result(4, "a", (2, 1))]
        self.assertEqual((self.words(row), self.words(row, "b")), ("2", "1"))

    def test_what_a_gap_leaves_open(self):
        open_end = [result(1, "a", (0, 0)), result(2, None, (1, 0)), result(9, "a", (1, 0))]
        self.assertEqual(self.words(open_end), "at least 1 shown")
        both = [result(1, "a", (0, 0)), result(2, None, (1, 0)), result(9, "a", (4, 4), stated=True)]
        self.assertEqual(self.words(both), "at least 1 shown")
        self.assertEqual(self.words(both, "b"), "at least 0 shown")

    def test_what_the_score_proves(self):
        gap = [result(1, "a", (0, 0)), result(2, None, (1, 0)), result(5, "b", (1, 3), stated=True)]
        self.assertEqual((self.words(gap), self.words(gap, "b")), ("1", "4, by the score"))
        # Of three records that are not shown the last one has it all.
        three = [gap[0], *[result(2 + i, None, (1, 0)) for i in range(3)], gap[2]]
        self.assertEqual(self.words(three, "b"), "4, by the score")

    def test_a_film_that_begins_in_the_middle_of_a_match(self):
        self.assertEqual(self.words([result(4, "a", (3, 0), stated=True)]), "4, by the score")
        self.assertEqual(self.words([result(4, "a", (2, 1), stated=True)]), "at least 1 shown")
        self.assertEqual(self.words([result(4, "a", (0, 3), stated=True)]), "1")

    def test_a_run_never_crosses_a_gap(self):
        runs = [
            result(1, "a", (0, 0), run="break_and_run"),
            result(2, None, (1, 0)),
            result(3, "a", (2, 0), stated=True, run="break_and_run"),
        ]
        self.assertEqual(longest_row_of(runs, "a", "break_and_run").words, "at least 1 shown")
        self.assertEqual(longest_row_of(runs, "b", "break_and_run").words, "0")


class AfterALongVisit(unittest.TestCase):
    """b runs five balls and the rack, breaks again, misses: a has sat through all of it."""

    def test_it_is_seen_when_the_opponent_goes_on_breaking(self):
        run = [played("b", str(n), first_contact=str(n)) for n in (1, 2, 3, 4, 5, 9)]
        racks = [
            {**rack_of(played("b", intent="break", balls_to_cushion=5), *run, breaker="b"), "number": 1},
            {
                **rack_of(played("b", intent="break", balls_to_cushion=5), played("a", "1"), breaker="b"),
                "number": 2,
            },
        ]
        racks[0]["shots"][0]["facts"]["potted"] = [{"ball": "6", "pocket": "foot_left"}]
        found = measured_session(session(racks=racks, rules={"break_order": "winner"})).columns.facts
        marked = found.flags("after_long_visit")
        own = np.flatnonzero(found.equal("person", "ada quill")).tolist()
        self.assertEqual(np.flatnonzero(marked).tolist(), own)


class Rules(unittest.TestCase):
    def test_a_push_out_in_a_ghost_race_warns(self):
        found = outcomes("nine_ball", broke("a"), shot("a", intent="push_out"), players=("a",), ghost="g")
        self.assertIn("push_out_not_allowed", found[1].warnings)

    def test_a_shot_replayed_without_a_called_miss_has_the_same_ball_on(self):
        found = outcomes(
            "snooker",
            shot("a", "red1", first_contact="red1"),
            shot("a", call="black", first_contact="red2"),
            shot("a", "black", call="black", first_contact="black", replaced=True),
        )
        self.assertEqual(found[2].warnings, ("replaced_without_miss",))
        self.assertEqual((found[2].fouls, found[2].points["a"]), ((), 7))

    def test_alone_no_target_ends_the_play(self):
        balls = [shot("a", str(n), call=str(n)) for n in range(1, 15)]
        alone = score("straight_pool", rack(broke("a"), *balls), players=("a",), target_points=5)
        self.assertIsNone(alone.winner)
        self.assertEqual(alone.score, {"a": 14})
        both = score("straight_pool", rack(broke("a"), *balls), target_points=5)
        self.assertEqual(both.winner, "a")
        fifteen = [shot("a", str(n), first_contact=str(n)) for n in range(1, 16)]
        rotation = score("rotation", rack(broke("a"), *fifteen), players=("a",))
        self.assertEqual((rotation.racks[0].ended_by, rotation.racks[0].score["a"]), ("all_potted", 120))


class Answers(unittest.TestCase):
    def test_no_is_said_of_what_was_asked(self):
        shots = [played("a", "1"), played("a"), played("a", intent="safety"), {"player": "a"}]
        _, columns = columns_of([session(racks=[rack_of(*shots)])])

        def found(line):
            return matching(parse_query(line, FIELDS), columns).tolist()

        self.assertEqual(found("made:yes"), [True, False, False, False])
        self.assertEqual(found("made:no"), [False, True, False, False])
        self.assertEqual(found("zone:no"), [False] * 4)
        self.assertEqual(found("fluke:no"), [True, True, False, False])

    def test_a_chance_in_straight_pool_is_taken_by_ten_balls(self):
        columns = {
            "began": np.array(["miss"] * 3, object),
            "best_chance": np.array([0.9, 0.9, 0.9]),
            "game": np.array(["straight_pool", "straight_pool", "nine_ball"], object),
            "visit_score": np.array([10, 9, 12]),
        }
        opened, taken = of.chances(Facts.of_columns(columns, 3))
        self.assertEqual((opened.tolist(), taken.tolist()), ([True] * 3, [True, False, False]))


class ThreePlaces(unittest.TestCase):
    """Match page, Statistics and `ripasso stats` say the same of random records."""

    def record(self, seed):
        """Racks in a row with gaps, some without a stroke of one player, some without any stroke."""
        chance = random.Random(seed)
        alone = chance.random() < 0.2
        sides = ["a"] if alone else ["a", "b"]
        racks, number, counts = [], chance.choice((1, 1, 1, 4)), dict.fromkeys(sides, 0)
        if number == 4 and not alone:
            counts = {"a": chance.randint(0, 3)}
            counts["b"] = 3 - counts["a"]
        stated = number == 4
        for _ in range(chance.randint(2, 9)):
            one = {"number": number}
            if stated:
                one["score_before"] = dict(counts)
            stated = False
            if racks and not alone and chance.random() < 0.2 and not racks[-1].get("not_shown"):
                racks.append({"number": number, "not_shown": True})
                for side in sides:
                    counts[side] += chance.choice((0, 0, 1, 3))
                stated, number = chance.random() < 0.8, number + 1
                continue
            breaker, winner = chance.choice(sides), chance.choice(sides)
            if not alone and chance.random() < 0.2:
                one |= {"breaker": breaker, "conceded_by": next(s for s in sides if s != winner), "shots": []}
            else:
                one |= rack_of(*self.shots(chance, breaker, winner), breaker=breaker) | {"number": number}
                if one.get("score_before") is None and counts and racks and racks[-1].get("not_shown"):
                    one.pop("score_before", None)
            racks.append(one)
            counts[winner] += 1
            number += 1
        players = [{"id": s, "name": {"a": "Ada Pot", "b": "Bram Oster"}[s]} for s in sides]
        return session(id=f"s{seed}", racks=racks, players=players)

    def shots(self, chance, breaker, winner):
        """A rack of nine-ball that the winner wins: by the break, by a run from it, or later."""
        if breaker == winner and chance.random() < 0.3:
            return [played(breaker, "9", intent="break", balls_to_cushion=5)]
        if breaker == winner and chance.random() < 0.5:
            balls = [played(winner, str(n), first_contact=str(n)) for n in (2, 3, 4, 9)]
            return [played(breaker, "1", intent="break", balls_to_cushion=5), *balls]
        first = [played(breaker, intent="break", balls_to_cushion=5)]
        if breaker == winner:
            first.append(played("b" if winner == "a" else "a"))
        if len({breaker, winner}) == 1 and chance.random() < 0.1:
            first = first[:1]
        return [*first, played(winner, "9", first_contact="1")]

    def test_two_hundred_random_records(self):
        kinds = {"gap": 0, "bare": 0, "alone": 0}
        for seed in range(200):
            record = self.record(seed)
            self.compare(record, seed)
            kinds["gap"] += any(one.not_shown for one in record.racks)
            kinds["bare"] += any(not one.shots and not one.not_shown for one in record.racks)
            kinds["alone"] += len(record.players) == 1
        self.assertTrue(all(count >= 20 for count in kinds.values()), kinds)

    def compare(self, record, seed):
        document = document_with(record)
        snapshot = document.session(record.id)
        self.assertIsInstance(snapshot, Snapshot)
        sheet = match_sheet(snapshot)
        report = stats_report([record])["players"]
        facts = Facts(JoinedColumns([measured_session(record).columns]))
        for player in record.players:
            person = person_key(record, player.id)
            side = Side(person, player.name, facts.equal("person", person), person)
            lines = {line[0]: line[3] for line in lines_of(PAGES["visits"], facts, side)}
            told = report[player.id]["racks"]
            with self.subTest(seed=seed, player=player.id):
                won = sum(row.cells[3] == player.name for row in sheet.racks)
                known = sum(bool(row.cells[3]) for row in sheet.racks)
                self.assertEqual((told["won"]["made"], told["won"]["of"]), (won, known))
                words = sheet.summary.partition(f"{player.name}: ")[2].partition(". ")[0]
                self.assertTrue(words.startswith(f"{won} rack"), words)
                if not known:
                    continue
                self.assertEqual((lines["racks"].rate.made, lines["racks"].rate.of), (won, known))
                own = told["held"]
                self.assertEqual(lines["racks_own"].rate.of, own["of"])
                self.assertIn(f"{own['made']} on the own break", words)
                self.assertIn(f"longest row {lines['streak'].words}", words)
                streak = told["streak"]
                self.assertTrue(str(streak["proven"]) in lines["streak"].words)
                self.assertEqual(streak["at_least"], "at least" in lines["streak"].words)
                runs = sum(
                    row.cells[3] == player.name and row.cells[4] == "break and run" for row in sheet.racks
                )
                self.assertEqual(report[player.id]["visits"]["break_and_run"], runs)


if __name__ == "__main__":
    unittest.main()
