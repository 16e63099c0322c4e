"""What is asked of the statistics and the page that answers it, without a window; the band that asks."""

import csv
import io
import unittest
from dataclasses import replace

import numpy as np

from ripasso.core.finding import NotAQuery
from ripasso.core.inference.intervals import count_per, rate
from ripasso.review.record.model import Session
from ripasso.review.record.practice import AttemptSet
from ripasso.statistics.answers import BEFORE, EVERYBODY, Choice, sides_of
from ripasso.statistics.answers import Answers as AnswersOf
from ripasso.statistics.library_index import LibraryIndex
from ripasso.statistics.pages.attempt_pages import attempts_page
from ripasso.statistics.pages.figures import Figure, FigurePage, FigureRow
from ripasso.statistics.pages.pages import CROSSED, JUDGED, OVERVIEW, PAGE_WORDS
from ripasso.statistics.pages.ready import READY
from ripasso.statistics.tables import page_csv
from ripasso.store.rows.attempt_rows import StoredAttempts
from ripasso.ui.statistics.chooser import ALONE, GAME, Chooser
from tests.sessions import session_data
from tests.windows import APP, demo_library, open_copy

LIOBA, CASIMIR = "lioba trevan", "casimir odel"


class Answers(unittest.TestCase):
    def setUp(self):
        self.library, self.document = open_copy(self, demo_library())
        self.book = AnswersOf(self.library, LibraryIndex(self.library))

    def test_every_page_answers_every_who(self):
        whos = ((LIOBA, ""), (LIOBA, CASIMIR), (EVERYBODY, ""), (LIOBA, f"{BEFORE}2026-10-24"))
        for page in PAGE_WORDS:
            for first, second in whos:
                with self.subTest(page=page, first=first, second=second):
                    answer = self.book.answer(Choice(page, first, second))
                    if page == OVERVIEW:
                        self.assertTrue(answer.questions)
                    else:
                        self.assertTrue(answer.rows)
                        self.assertLessEqual(set(answer.persons), set(answer.heads))

    def test_a_person_without_shots_breaks_no_page(self):
        for page in PAGE_WORDS:
            with self.subTest(page=page):
                answer = self.book.answer(Choice(page, "nobody at all"))
                figures = [] if page == OVERVIEW else [f for r in answer.rows for f in r.figures.values()]
                self.assertEqual({len(figure.shots) for figure in figures} - {0}, set())

    def test_since_and_before_a_date_part_all_shots_of_a_player(self):
        facts = self.book._index.read().facts
        names = dict(self.library.persons())
        choice = Choice(JUDGED, LIOBA, f"{BEFORE}2026-10-24")
        since, before = sides_of(choice, facts, names)
        self.assertFalse((since.mask & before.mask).any())
        np.testing.assert_array_equal(since.mask | before.mask, facts.equal("person", LIOBA))
        self.assertEqual(set(facts.where(before.mask).values("date")) & {"2026-10-24", "2026-11-07"}, set())

    def test_each_game_has_ten_ready_figures_and_most_of_them_have_shots(self):
        for line in self.library.sessions():
            with self.subTest(game=line.game):
                choice = Choice(OVERVIEW, LIOBA, sessions=(line.key,), game=line.game)
                cards = self.book.answer(choice).cards
                self.assertEqual(len(cards), 10)
                self.assertEqual(len({card.caption for card in cards}), 10)
        for game in READY:
            keys = tuple(line.key for line in self.library.sessions() if line.game == game)
            cards = self.book.answer(Choice(OVERVIEW, LIOBA, sessions=keys, game=game)).cards
            self.assertGreaterEqual(sum(len(card.figure.shots) > 0 for card in cards), 7, game)


class Band(unittest.TestCase):
    def setUp(self):
        self.library, _ = open_copy(self, demo_library())
        self.assertIsNotNone(APP)
        self.chooser = Chooser()
        self.chooser.offer(self.library.sessions(), self.library.persons())

    def choose(self, box, key):
        box.setCurrentIndex(box.findData(key))
        self.assertEqual(box.currentData(), key)

    def test_a_game_means_its_sessions_and_is_known_as_the_game(self):
        self.choose(self.chooser.sessions, f"{GAME}snooker")
        choice = self.chooser.choice()
        self.assertEqual((choice.sessions, choice.game), (("demo-snooker",), "snooker"))
        self.choose(self.chooser.sessions, "")
        self.assertEqual((self.chooser.choice().sessions, self.chooser.choice().game), (None, None))

    def test_choices_are_kept_when_the_library_is_offered_again(self):
        self.choose(self.chooser.first, CASIMIR)
        self.choose(self.chooser.second, f"{BEFORE}2026-11-07")
        self.choose(self.chooser.sessions, "demo-ten")
        before = self.chooser.choice()
        self.chooser.offer(self.library.sessions(), self.library.persons())
        self.assertEqual(self.chooser.choice(), before)

    def test_only_what_a_page_can_use_is_in_sight(self):
        for page in PAGE_WORDS:
            self.choose(self.chooser.pages, page)
            self.chooser._fit()
            self.assertEqual(self.chooser.second.isHidden(), page in ALONE, page)
            self.assertEqual(self.chooser._crossing.isHidden(), page != CROSSED, page)

    def test_what_is_out_of_sight_is_not_asked_for(self):
        """A date chosen for another page must not cut the shots of a page that cannot show it."""
        self.choose(self.chooser.second, f"{BEFORE}2026-11-07")
        for page in PAGE_WORDS:
            self.choose(self.chooser.pages, page)
            hidden = page in ALONE
            self.assertEqual(self.chooser.choice().second, "" if hidden else f"{BEFORE}2026-11-07", page)

    def test_no_date_has_nothing_before_it(self):
        dates = sorted(line.date for line in self.library.sessions())
        self.assertEqual(self.chooser.second.findData(f"{BEFORE}{dates[0]}"), -1)
        self.assertNotEqual(self.chooser.second.findData(f"{BEFORE}{dates[-1]}"), -1)

    def test_a_line_that_cannot_be_read_is_refused_in_a_sentence(self):
        self.chooser.line.setText("pce:long")
        with self.assertRaisesRegex(NotAQuery, "did you mean"):
            self.chooser.choice()


class Attempts(unittest.TestCase):
    def stored(self, key, outcomes, players=("Ada Quill",)):
        people = [{"id": f"p{i}", "name": name} for i, name in enumerate(players)]
        attempts = [
            {"number": i, "outcome": {"1": "success", "0": "failure", "?": None}[one]}
            for i, one in enumerate(outcomes, start=1)
        ]
        head = Session.model_validate(session_data(id=key, players=people) | {"racks": ()}, strict=False)
        record = AttemptSet.model_validate({"id": key, "title": key, "attempts": attempts}, strict=False)
        return StoredAttempts(key, head, record)

    def test_the_hardest_comes_first_and_few_attempts_stand_where_they_belong(self):
        sets = [
            self.stored("easy", "1111101"),
            self.stored("few", "000"),
            self.stored("hard", "0000001"),
        ]
        page = attempts_page(sets, "ada quill", "Ada Quill", {})
        self.assertEqual(list(dict.fromkeys(row.group for row in page.rows)), ["few", "hard", "easy"])
        first = page.rows[0].figures["ada quill"]
        self.assertTrue(first.rate.few)  # and it is marked

    def test_what_was_not_judged_is_in_no_rate_but_counts_as_an_attempt(self):
        page = attempts_page([self.stored("one", "0?1?1")], "ada quill", "Ada Quill", {})
        rows = {row.text: row.figures["ada quill"] for row in page.rows}
        self.assertEqual((rows["Successes"].rate.made, rows["Successes"].rate.of), (2, 3))
        self.assertEqual(rows["Attempts until the first success"].words, "3")
        self.assertEqual(page.charts[0].series[0].y.tolist(), [0.0, 50.0, 100 * 2 / 3])

    def test_a_set_without_a_success_says_so(self):
        page = attempts_page([self.stored("never", "000000")], "ada quill", "Ada Quill", {})
        rows = {row.text: row.figures["ada quill"] for row in page.rows}
        self.assertEqual(rows["Attempts until the first success"].words, "none yet")
        self.assertNotIn("Attempts a success takes", rows)

    def test_everything_that_was_said_of_attempts_is_counted(self):
        """Criteria, misses, causes, rest places, attempts before, and results by the amount of a change."""
        more = [
            {"met": {"pot": True, "area": False}, "rest": [0.5, 0.5]},
            {"miss": "thick", "met": {"pot": False}, "cause": "pace"},
            {"miss": "thick", "miscue": True, "changed": [{"what": "aim", "by": 2.0, "unit": "mm"}]},
            {"miss": "left", "causes": ["pace"]},
            {"met": {"pot": True, "area": True}, "rest": [0.5, 0.7]},
            {"changed": [{"what": "aim", "by": -1.0, "unit": "mm"}, {"what": "other", "by": "a bridge"}]},
        ]
        one = self.stored("all", "100011")
        attempts = [
            {"number": i, "outcome": said.outcome, **extra}
            for i, (said, extra) in enumerate(zip(one.record.attempts, more, strict=True), start=1)
        ]
        criteria = [{"id": "pot", "text": "the ball falls"}, {"id": "area"}]
        data = {"id": "all", "title": "All", "criteria": criteria, "before_count": 3, "attempts": attempts}
        record = AttemptSet.model_validate(data, strict=False)
        page = attempts_page([replace(one, record=record)], "ada quill", "Ada Quill", {})
        rows = {row.text: row.figures["ada quill"] for row in page.rows}
        counted = {text: (one.rate.made, one.rate.of) for text, one in rows.items() if one.rate is not None}
        self.assertEqual(counted["– the ball falls"], (2, 3))
        self.assertEqual(counted["– area"], (1, 2))
        self.assertEqual(counted["– missed thick, of those said"], (2, 3))
        self.assertEqual(counted["– missed left, of those said"], (1, 3))
        self.assertEqual(counted["– pace, of all attempts"], (2, 6))
        self.assertEqual(counted["– miscue, of all attempts"], (1, 6))
        self.assertEqual(rows["Attempts before that nobody counted"].words, "at least 3")
        spread = rows["– where they came to rest, from their middle, median"]
        self.assertEqual((spread.words.split()[0], spread.shots.tolist()), ("100", [0, 4]))
        (aim,) = [chart for chart in page.charts if chart.id.startswith("amounts")]
        (series,) = aim.series
        self.assertEqual(series.x.tolist(), [0.0, 1.0, 2.0])
        np.testing.assert_allclose(series.y, [50.0, 100.0, 100 / 3])
        self.assertEqual([shots.tolist() for shots in series.shots], [[0, 1], [5], [2, 3, 4]])

    def test_sets_are_those_of_who_was_there(self):
        sets = [self.stored("a", "10101"), self.stored("b", "01010", ("Bram Oster", "Ada Quill"))]
        found = {
            person: {row.group for row in attempts_page(sets, person, "", {}).rows}
            for person in ("ada quill", "bram oster", "somebody", None)
        }
        self.assertEqual(
            found, {"ada quill": {"a", "b"}, "bram oster": {"b"}, "somebody": set(), None: {"a", "b"}}
        )


class Tables(unittest.TestCase):
    def test_rates_counts_and_words_are_written_with_their_ends(self):
        shots = np.arange(4)
        rows = [
            FigureRow("r", "Pots", "– long, to the ball", {"a": Figure(shots, rate(3, 4))}),
            FigureRow("c", "Errors", "Per rack", {"a": Figure(shots, count=count_per(6, 4))}),
            FigureRow("w", "Time", "Mean", {"a": Figure(shots, words="12.0 s")}),
        ]
        text = page_csv(FigurePage(None, ("a",), rows, heads={"a": 'Ada "the long" Quill'}))
        table = list(csv.reader(io.StringIO(text)))
        self.assertEqual(table[0][2], 'Ada "the long" Quill: value')
        self.assertEqual(table[1][:3] + table[1][5:], ["Pots", "long, to the ball", "0.75", "3", "4"])
        low, high = float(table[1][3]), float(table[1][4])
        self.assertTrue(low < 0.75 < high)
        self.assertEqual([table[2][2], table[2][5], table[2][6]], ["1.5", "6", "4"])
        self.assertEqual(table[3][2:], ["12.0 s", "", "", "", "4"])

    def test_a_name_is_no_formula(self):
        """Table programs compute what begins with =, +, - or @: common practice, no source."""
        rows = [FigureRow("r", "Pots", "-6 mm", {"a": Figure(np.arange(2), words="-6")})]
        text = page_csv(FigurePage(None, ("a",), rows, heads={"a": "=1+1"}))
        table = list(csv.reader(io.StringIO(text)))
        self.assertEqual(table[0][2], "'=1+1: value")
        self.assertEqual((table[1][1], table[1][2]), ("'-6 mm", "-6"))


if __name__ == "__main__":
    unittest.main()
