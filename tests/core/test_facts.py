"""Columns of facts: texts as numbers, choices of choices, several people's shots together."""

import unittest
import warnings
from itertools import combinations, groupby

import numpy as np
from scipy.stats import norm

from ripasso.core.figures import player_stats as of
from ripasso.core.figures.answers import Asked
from ripasso.core.figures.questions import QUESTIONS
from ripasso.core.inference.estimates import fewer_runs_p
from ripasso.statistics.pages.question_words import answer_sentence
from tests.rows_of_facts import fact
from tests.rows_of_facts import facts as facts_of


def pots(made, **more):
    """Pots of one player in order, made or not."""
    return [fact(person="a", intent="pot", tried=True, made=bool(m), down=bool(m), **more) for m in made]


class Texts(unittest.TestCase):
    def setUp(self):
        chance = np.random.default_rng(11)
        words = ("", "rest", "rest reach", "spider", "reach rest")
        self.texts = [words[i] for i in chance.integers(0, len(words), 200)]
        self.facts = facts_of([fact(delivery=text, number=i) for i, text in enumerate(self.texts)])

    def check(self, facts, texts):
        self.assertEqual(facts.equal("delivery", "rest").tolist(), [t == "rest" for t in texts])
        either = [t in ("spider", "") for t in texts]
        self.assertEqual(facts.equal("delivery", "spider", "").tolist(), either)
        self.assertEqual(facts.known("delivery").tolist(), [bool(t) for t in texts])
        self.assertEqual(facts.equal("delivery", "never said").tolist(), [False] * len(texts))
        for word in ("rest", "reach", "spider"):
            expected = [word in t.split() for t in texts]
            found = facts.words("delivery").get(word)
            self.assertEqual(found.tolist() if found is not None else [False] * len(texts), expected)
        for text, mask in facts.values("delivery").items():
            self.assertEqual(mask.tolist(), [t == text for t in texts])

    def test_as_the_texts_themselves(self):
        self.check(self.facts, self.texts)

    def test_in_a_choice_and_in_a_choice_of_it(self):
        first = np.arange(200) % 3 != 0
        chosen = self.facts.where(first)
        texts = [t for i, t in enumerate(self.texts) if i % 3]
        self.check(chosen, texts)
        second = np.arange(len(texts)) % 2 == 0
        self.check(chosen.where(second), texts[::2])
        self.assertEqual(chosen.where(second).ints("number").tolist(), [i for i in range(200) if i % 3][::2])

    def test_nothing_has_no_texts(self):
        nothing = self.facts.where(np.zeros(200, dtype=bool))
        self.assertEqual((nothing.values("delivery"), nothing.words("delivery")), ({}, {}))


class Together(unittest.TestCase):
    def test_no_shot_follows_another_player_s(self):
        """Two players in turn: an error of one marks the next own shots, never those of the other."""
        rows = [
            fact(
                person="ab"[i % 2],
                session=i // 20,
                intent="pot",
                tried=True,
                unforced="pot" if i == 4 else "",
            )
            for i in range(40)
        ]
        facts = facts_of(rows)
        together, places = facts.by_person(np.ones(40, dtype=bool))
        self.assertEqual([rows[i].person for i in places], ["a"] * 20 + ["b"] * 20)
        marked = of.after_mask(together, together.known("unforced"))
        self.assertEqual(sorted(places[marked].tolist()), [6, 8, 10])
        # At the end of a session, and of a player's shots, nothing is carried on.
        rows[38].unforced = rows[18].unforced = "pot"
        together, places = facts_of(rows).by_person(np.ones(40, dtype=bool))
        marked = of.after_mask(together, together.known("unforced"))
        self.assertEqual(sorted(places[marked].tolist()), [6, 8, 10])

    def test_one_player_stays_in_order(self):
        facts = facts_of(pots((1, 0, 1, 1)))
        own, places = facts.by_person(np.array([True, False, True, True]))
        self.assertEqual((places.tolist(), own.flags("made").tolist()), ([0, 2, 3], [True, True, True]))


class Streaks(unittest.TestCase):
    def test_the_runs_test_is_that_of_statsmodels(self):
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            from statsmodels.sandbox.stats.runs import Runs
        for seed in range(8):
            made = np.random.default_rng(seed).random(120) < 0.7
            made = np.sort(made) if seed == 0 else made  # one player in the worst of streaks
            answer = QUESTIONS["streaks"](Asked(facts_of(pots(made))))
            z, _ = Runs(made.astype(int)).runs_test(correction=False)
            runs = len(list(groupby(made.tolist())))
            ones = int(made.sum())
            expected = 1 + 2 * ones * (120 - ones) / 120
            self.assertAlmostEqual(answer.value, expected - runs, 9)
            # Exact and normal are near at so many pots; half a run is the step between two counts.
            self.assertAlmostEqual(answer.p, norm.cdf(z), delta=0.07)
        self.assertTrue(QUESTIONS["streaks"](Asked(facts_of(pots(np.arange(60) < 40)))).is_finding)

    def test_the_exact_test_is_the_count_of_all_orders(self):
        for text in ("1101", "110001100", "1111000", "10101010", "11111111111110"):
            made = [one == "1" for one in text]
            runs = len(list(groupby(made)))
            orders = [
                [place in chosen for place in range(len(made))]
                for chosen in combinations(range(len(made)), sum(made))
            ]
            few = sum(len(list(groupby(order))) <= runs for order in orders)
            self.assertAlmostEqual(fewer_runs_p(made), few / len(orders), 12)
        # Swed and Eisenhart (1943), table I: ten and ten, six runs or fewer (from memory).
        six = [True] * 4 + [False] * 4 + [True] * 3 + [False] * 3 + [True] * 3 + [False] * 3
        self.assertAlmostEqual(fewer_runs_p(six), 0.019, delta=0.001)

    def test_one_break_with_one_miss_is_no_habit(self):
        answer = QUESTIONS["streaks"](Asked(facts_of(pots(np.arange(15) < 14))))
        self.assertIsNone(answer.p)
        self.assertFalse(answer.is_finding)
        self.assertAlmostEqual(fewer_runs_p([True] * 14 + [False]), 2 / 15, 12)

    def test_the_longest_row_is_that_of_a_loop(self):
        made = np.random.default_rng(5).random(300) < 0.8
        answer = QUESTIONS["longest"](Asked(facts_of(pots(made))))
        rows = [len(list(group)) for one, group in groupby(made.tolist()) if one]
        self.assertEqual(answer.value, max(rows))
        self.assertEqual(int(answer.shots.sum()), max(rows))
        words = answer_sentence("longest", answer, holds=False)
        self.assertEqual(words, f"{max(rows)} pots in a row at the most.")


if __name__ == "__main__":
    unittest.main()
