"""Answers beside reference libraries, and habits that were planted."""

import unittest

import numpy as np
from scipy import stats as scipy_stats
from statsmodels.stats.multitest import multipletests
from statsmodels.stats.proportion import proportions_ztest

from ripasso.core.figures.answers import Answer, Asked, corrected, even_gap, gap, lean, plain, share
from ripasso.core.figures.questions import QUESTIONS
from ripasso.demo.matches.planted import PLANTED, Habits, planted_facts
from ripasso.statistics.pages.question_words import QUESTION_WORDS, answer_sentence, order_for
from tests.planted_study import TRUE, covered, found_in_nobody, found_planted
from tests.rows_of_facts import facts as facts_of


def flags(*counts):
    """True and false in turns: flags(3, 2) is three true ones and two false ones."""
    return np.concatenate([np.full(n, i % 2 == 0) for i, n in enumerate(counts)])


class Tests(unittest.TestCase):
    """Each test beside the function of a library that does the same."""

    def test_two_rates_as_statsmodels_tests_them(self):
        first, success = flags(48, 52), np.concatenate((flags(30, 18), flags(20, 32)))
        answer = gap(first, ~first, success)
        _, p = proportions_ztest([30, 20], [48, 52])
        self.assertAlmostEqual(answer.p, p, 12)
        self.assertAlmostEqual(answer.value, 30 / 48 - 20 / 52, 12)
        self.assertEqual((answer.first.of, answer.second.of), (48, 52))

    def test_a_share_as_statsmodels_tests_it(self):
        among, has = flags(80, 20), flags(50, 50)
        answer = share(among, has)
        _, p = proportions_ztest(50, 80, value=0.5, prop_var=0.5)
        self.assertAlmostEqual(answer.p, p, 12)
        # Wilson's interval is that of the same test: it leaves out a half just when the test finds something.
        self.assertEqual(answer.is_finding, not answer.low <= 0.5 <= answer.high)

    def test_the_interval_of_a_share_and_its_test_agree_everywhere(self):
        self.assertIsNone(share(flags(9), flags(0, 9)).p)  # under ten shots nothing is tested
        for of in (10, 25, 120):
            for made in range(of + 1):
                answer = share(flags(of), flags(made, of - made))
                self.assertEqual(answer.is_finding, not answer.low <= 0.5 <= answer.high, (made, of))

    def test_a_lean_as_scipy_tests_it(self):
        values = np.random.default_rng(3).normal(0.02, 0.1, 60)
        values[7] = np.nan
        answer = lean(values, np.ones(60, dtype=bool))
        self.assertAlmostEqual(answer.p, scipy_stats.ttest_1samp(values[~np.isnan(values)], 0).pvalue, 12)
        self.assertEqual((answer.of, int(answer.shots.sum())), (59, 59))

    def test_several_answers_as_statsmodels_corrects_them(self):
        values = [0.001, 0.2, 0.012, 0.04, 0.03, 0.6, 0.01]
        none = np.zeros(1, dtype=bool)
        answers = [Answer("gap", 0.1, 0.0, 0.2, p, none) for p in values]
        expected = multipletests(values, alpha=0.05, method="fdr_bh")[0].tolist()
        self.assertEqual(corrected([*answers, plain(none, none)]), [*expected, False])

    def test_at_equal_difficulty_a_harder_ball_is_no_worse(self):
        facts = planted_facts(4000, Habits(), 5)
        asked = Asked(facts)
        hard = facts.numbers("chance") < np.median(facts.numbers("chance"))
        plainly, evenly = gap(hard, ~hard, asked.made), even_gap(asked, hard, ~hard)
        self.assertLess(plainly.high, -0.05)
        self.assertLess(evenly.low, 0.01)
        self.assertGreater(evenly.high, -0.01)

    def test_too_few_are_not_tested(self):
        for answer in (
            gap(flags(4, 96), flags(0, 4, 96), flags(50, 50)),
            share(flags(4), flags(4)),
            lean(np.full(4, 0.1), flags(4)),
            lean(np.full(9, 0.1), flags(9)),  # all alike: no spread to test by
        ):
            self.assertIsNone(answer.p)
            self.assertFalse(answer.is_finding)


class Planted(unittest.TestCase):
    """A small part of `make habits`; docs/planted-habits.md has the whole."""

    def test_intervals_cover_what_was_planted(self):
        rows = [covered((1000, seed)) for seed in range(20)]
        for name in (*TRUE, "aim spread"):
            self.assertGreaterEqual(sum(row[name] for row in rows), 16, name)

    def test_nobody_seems_to_have_a_habit(self):
        rows = [found_in_nobody((1000, seed)) for seed in range(20)]
        found = sum(sum(row.values()) for row in rows)
        asked = sum(len(row) for row in rows)
        self.assertGreater(asked, 400)
        self.assertLess(found / asked, 0.09)

    def test_what_was_planted_is_found(self):
        rows = [found_planted((5000, seed)) for seed in range(3)]
        for name in PLANTED:
            self.assertGreaterEqual(sum(row[name] for row in rows), 2, name)


class Words(unittest.TestCase):
    def test_every_question_has_words_and_a_place(self):
        self.assertEqual(set(QUESTIONS), set(QUESTION_WORDS))
        for game in ("snooker", "nine_ball", None):
            self.assertEqual(sorted(order_for(game)), sorted(QUESTIONS))

    def test_sentences_lean_the_way_the_numbers_do(self):
        asked = Asked(planted_facts(3000, Habits(along_m=0.1, thick=0.7, cushions=-0.2), 1))
        said = {name: answer_sentence(name, ask(asked), holds=True) for name, ask in QUESTIONS.items()}
        self.assertRegex(
            said["along"], r"^(9|10)\.\d cm long on average \(\+\d+\.\d to \+\d+\.\d\), \d+ shots\.$"
        )
        self.assertRegex(said["thick_or_thin"], r"^Thick in \d\d % \(\d\d–\d\d\) of those said")
        self.assertRegex(said["cushions"], r"^With two cushions and more: \d+ in a hundred fewer in the zone")
        other = Asked(planted_facts(3000, Habits(along_m=-0.1, thick=0.3), 1))
        self.assertIn("cm short on average", answer_sentence("along", QUESTIONS["along"](other), holds=True))
        sentence = answer_sentence("thick_or_thin", QUESTIONS["thick_or_thin"](other), holds=True)
        self.assertTrue(sentence.startswith("Thin in "), sentence)
        self.assertTrue(
            answer_sentence("along", QUESTIONS["along"](other), holds=False).startswith("Perhaps: ")
        )

    def test_nothing_known_says_so(self):
        asked = Asked(facts_of(()))
        for name, ask in QUESTIONS.items():
            self.assertTrue(
                answer_sentence(name, ask(asked), holds=False).startswith("Not enough to tell"), name
            )
