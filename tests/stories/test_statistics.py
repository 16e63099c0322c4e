"""From a player's habit to the film of each case: Statistics in the real window."""

import csv

from PyQt6.QtWidgets import QApplication
from statsmodels.stats.proportion import confint_proportions_2indep

from ripasso.core.figures.questions import QUESTIONS
from ripasso.demo.library import film_truth
from tests.slow_facts import facts_of_session
from tests.windows import WindowCase, click, press, wait_until


class Habits(WindowCase):
    demo = True

    def open_statistics(self, name="judged"):
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and not self.workspace.background.busy, "the overview")
        self.take_page(page, name)
        return page

    def choose(self, page, row_id, person):
        row = next(i for i, row in enumerate(page.model.rows) if getattr(row, "id", "") == row_id)
        page.figures.setCurrentIndex(page.model.index(row, 1 + page.model.page.persons.index(person)))

    def test_the_latest_game_is_chosen_and_the_habit_shows(self):
        page = self.open_statistics()
        self.assertEqual(page.chooser.sessions.currentText(), "all nine-ball")
        rows = {row.id: row.figures for row in page.model.page.rows}
        long_a, long_b = (rows["long"][p].rate for p in ("lioba trevan", "casimir odel"))
        self.assertGreater(long_a.low, long_b.rate)

    def test_every_figure_opens_exactly_its_shots(self):
        page = self.open_statistics()
        for row in page.model.page.rows:
            for person, figure in row.figures.items():
                self.choose(page, row.id, person)
                self.assertEqual(page.shot_model.rowCount(), len(figure.shots), (row.id, person))
                if figure.rate is not None:
                    behind = (
                        figure.rate.of if row.id in ("pots", "two_way", "agreement") else figure.rate.made
                    )
                    self.assertEqual(len(figure.shots), behind, row.id)

    def test_a_figure_too_wide_for_its_cell_stands_in_full_over_its_shots(self):
        page = self.open_statistics()
        self.take_page(page, "position")
        self.choose(page, "distance_median", "lioba trevan")
        figure = page.model.figure(page.figures.currentIndex())
        self.assertIn(" to ", figure.words)
        self.assertTrue(page._hint.text().startswith(figure.words), page._hint.text())

    def test_two_steps_from_a_habit_to_its_film(self):
        page = self.open_film()
        self.choose(page, "long", "lioba trevan")
        page.shots.setFocus()
        press("Down", "Return")
        wait_until(self.review.isVisible)
        self.assertEqual(self.review.controller.shot.record.number, 11)
        self.assertEqual(self.review.controller.shot.record.result.pace, "long")
        self.wait_for_film()
        self.assertAlmostEqual(self.review.player.time_s, film_truth()["shots"][10]["t_strike"], delta=0.04)

    def test_by_keys_alone_from_a_habit_of_the_overview_to_its_film(self):
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and page.overview.isVisible(), "the overview")
        self.assertTrue(page.overview.questions.hasFocus())
        asked = page._chosen.text()
        press("Down")
        self.assertNotEqual(page._chosen.text(), asked)
        press("Return")
        self.assertTrue(page.shots.hasFocus())
        self.assertGreater(page.shot_model.rowCount(), 0)
        press("Down", "Return")
        wait_until(self.review.isVisible, "Review")
        press("Ctrl+5")
        self.assertTrue(page.overview.questions.hasFocus())
        self.take_page(page, "judged")
        self.assertTrue(page.figures.hasFocus())  # it was on the list, and stays on the one that is seen

    def cells(self, page, row):
        return [
            page.shot_model.data(page.shot_model.index(row, n), 0)
            for n in range(page.shot_model.columnCount())
        ]

    def test_the_list_carries_the_values_and_is_sorted_by_them(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("position")
        self.choose(page, "along", "lioba trevan")
        self.assertEqual(page.shot_model.HEADINGS[3], "Value")
        page._sort(3)
        values = [int(self.cells(page, row)[3].split()[0]) for row in range(page.shot_model.rowCount())]
        self.assertEqual(values, sorted(values))
        page._sort(3)
        self.assertEqual(int(self.cells(page, 0)[3].split()[0]), max(values))
        self.assertIn(self.cells(page, 0)[3], page._row_words.text())
        self.assertIn(self.cells(page, 0)[0], page._row_words.text())  # the title in full
        self.choose(page, "zone", "lioba trevan")
        self.assertEqual(
            {self.cells(page, row)[3] for row in range(page.shot_model.rowCount())}, {"yes", "no"}
        )

    def test_the_list_plays_as_a_film_and_the_way_back_keeps_the_row(self):
        page = self.open_film()
        self.choose(page, "pots", "lioba trevan")
        self.assertGreater(page.shot_model.rowCount(), 2)
        page.shots.selectRow(2)
        wanted, figure = page.shot_model.place(2)[1], page.figures.currentIndex()
        press("Ctrl+P")
        wait_until(lambda: self.review.finding.playing, "the film of the list")
        self.assertEqual(self.review.controller.shot.key, wanted)
        self.assertEqual(len(self.review.finding.found.places), page.shot_model.rowCount())
        self.review.finding.stop()
        press("J")  # something is said of it, so the figures are computed anew
        press("Ctrl+5")
        wait_until(lambda: not page.is_computing and not self.workspace.background.busy, "the figures")
        self.assertEqual(
            (page.figures.currentIndex().row(), page.figures.currentIndex().column()),
            (figure.row(), figure.column()),
        )
        self.assertEqual(page.shot_model.place(page.shots.currentIndex().row())[1], wanted)

    def test_what_is_said_in_review_is_counted_at_once(self):
        page = self.open_statistics()
        before = next(r for r in page.model.page.rows if r.id == "good").figures["lioba trevan"].rate
        press("Ctrl+2")
        self.wait_for_film()
        press("Home", "Down", "Down", "J")  # shot 3: playable becomes good
        page = self.open_statistics()
        wait_until(lambda: not self.workspace.background.busy)
        after = next(r for r in page.model.page.rows if r.id == "good").figures["lioba trevan"].rate
        self.assertEqual((after.made, after.of), (before.made + 1, before.of))

    def test_only_shots_like_this(self):
        page = self.open_statistics()
        every = len(page.model.page.facts)
        page.chooser.line.setText("pace:long made:yes")
        page.chooser.line.returnPressed.emit()
        wait_until(lambda: len(page.model.page.facts) < every, "the slice")
        self.assertEqual(set(page.model.page.facts.texts("pace").tolist()), {"long"})
        games = {
            self.workspace.document.session(key).head.game
            for key in set(page.model.page.facts.texts("session_key"))
        }
        self.assertEqual(games, {"nine_ball"})
        page.chooser.line.setText("pce:long")
        page.chooser.line.returnPressed.emit()
        self.assertIn("did you mean", self.said[-1])

    def open_film(self):
        """The figures of the session that has a film."""
        page = self.open_statistics()
        page.chooser.sessions.setCurrentIndex(page.chooser.sessions.findText("Rack on film, winter ladder"))
        page.chooser.sessions.activated.emit(page.chooser.sessions.currentIndex())
        wait_until(lambda: not self.workspace.background.busy)
        return page

    def take_page(self, page, name):
        page.chooser.pages.setCurrentIndex(page.chooser.pages.findData(name))
        page.chooser.pages.activated.emit(page.chooser.pages.currentIndex())
        wait_until(lambda: not page.is_computing, "the figures")

    def test_every_figure_on_every_page_opens_its_shots(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics()
        page.chooser.sessions.setCurrentIndex(page.chooser.sessions.findData(""))
        figures = marks = 0
        for name, wanted in (
            ("potting", "cut 15-30"),
            ("position", "zone"),
            ("habits", "after_error"),
            ("decisions", "given"),
            ("openings", "trouble_late"),
            ("errors", "per_100"),
            ("breaks", "wet"),
            ("visits", "converted"),
            ("safety", "broke_held"),
            ("time", "pressure match_point"),
            ("crossed", "all"),
        ):
            self.take_page(page, name)
            self.assertIn(wanted, [row.id for row in page.model.page.rows], name)
            for row in page.model.page.rows:
                for key, figure in row.figures.items():
                    self.choose(page, row.id, key)
                    self.assertEqual(page.shot_model.rowCount(), len(figure.shots), (name, row.id, key))
                    if figure.rate is not None:
                        self.assertEqual(figure.rate.of, len(figure.shots), (name, row.id, key))
                    figures += len(figure.shots) > 0
            marks += self.press_every_mark(page, name)
        self.assertGreater(figures, 250)
        self.assertGreater(marks, 60)

    def press_every_mark(self, page, name):
        """Each mark of each chart shows its shots; a mark that is one shot would go to Review."""
        pressed = 0
        for index, chart in enumerate(page.chart.charts):
            page.chart.show_one(index)
            for s, one in enumerate(chart.series):
                self.assertIn(len(one.shots), (0, len(one.x)), (name, chart.id))
                self.assertIn(len(one.tips), (0, len(one.x)), (name, chart.id))
                for m, shots in enumerate(one.shots):
                    self.assertGreater(len(shots), 0)
                    if len(shots) == 1:
                        continue
                    page._choose_mark(one.tips[m], shots)
                    self.assertEqual(page.shot_model.rowCount(), len(shots), (name, chart.id, s, m))
                    pressed += 1
        return pressed

    def test_attempts_have_a_page_and_open_their_session(self):
        page = self.open_statistics()
        page.chooser.sessions.setCurrentIndex(page.chooser.sessions.findData(""))
        self.take_page(page, "attempts")
        rows = {(row.group, row.text): row for row in page.model.page.rows}
        # Counted by hand in demo.practice: 3 of 12, the first at the 4th; 10 of 16, the first at the 3rd.
        hard = rows["Two cushions across to the 7", "Successes"].figures["lioba trevan"].rate
        self.assertEqual((hard.made, hard.of), (3, 12))
        first = rows["Two cushions across to the 7", "Attempts until the first success"]
        self.assertEqual(first.figures["lioba trevan"].words, "4")
        easy = rows["Stop short of the centre line on the 5", "Successes"].figures["lioba trevan"].rate
        self.assertEqual((easy.made, easy.of), (10, 16))
        self.assertEqual(page.model.page.rows[0].group, "Two cushions across to the 7")
        for row in page.model.page.rows:
            figure = row.figures["lioba trevan"]
            self.choose(page, row.id, "lioba trevan")
            self.assertEqual(page.shot_model.rowCount(), len(figure.shots), row.id)
        self.choose(page, page.model.page.rows[0].id, "lioba trevan")
        page.shots.setFocus()
        press("Return")
        wait_until(self.review.isVisible)
        self.assertEqual(self.review.controller.snapshot.key, "demo-ghost")

    def test_a_player_before_and_since_a_date_on_unlike_tables(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("potting")
        page.chooser.sessions.setCurrentIndex(page.chooser.sessions.findData(""))
        page.chooser.second.setCurrentIndex(page.chooser.second.findData("before:2026-10-24"))
        page.chooser.second.activated.emit(0)
        wait_until(lambda: not page.is_computing, "the figures")
        self.assertEqual(page.model.page.persons, ("since", "before"))
        rate = next(r for r in page.model.page.rows if r.id == "pots").figures
        counts = {"since": [0, 0], "before": [0, 0]}
        for line in self.workspace.library.sessions():
            session = self.workspace.document.session(line.key).session
            for fact in facts_of_session(session):
                if fact.person == "lioba trevan" and fact.intent == "pot" and fact.tried:
                    side = counts["since" if line.date >= "2026-10-24" else "before"]
                    side[0] += fact.made
                    side[1] += 1
        for key, (made, of) in counts.items():
            self.assertEqual((rate[key].rate.made, rate[key].rate.of), (made, of), key)
        # The snooker table is among the later ones only.
        self.assertIn("Unlike tables", page._warning.text())
        self.assertIn("357 cm", page._warning.text())

    def test_everybody_together_is_each_player_s_shots_after_another(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("habits")
        page.chooser.second.setCurrentIndex(0)
        each = {}
        for person in ("lioba trevan", "casimir odel", "everybody"):
            page.chooser.first.setCurrentIndex(page.chooser.first.findData(person))
            page.chooser.first.activated.emit(0)
            wait_until(lambda: not page.is_computing, "the figures")
            for row in page.model.page.rows:
                rate = row.figures[person].rate
                if rate is not None:
                    each.setdefault(row.id, []).append((rate.made, rate.of))
                self.choose(page, row.id, person)
                self.assertEqual(page.shot_model.rowCount(), len(row.figures[person].shots))
        for name, (one, other, together) in each.items():
            self.assertEqual((one[0] + other[0], one[1] + other[1]), together, name)
        self.assertGreater(len(each), 4)
        self.take_page(page, "overview")
        self.assertEqual(len(page.overview.model.questions), len(QUESTIONS))

    def test_figures_and_charts_are_copied(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("potting")
        page.figures.setFocus()
        press("Ctrl+C")
        rows = list(csv.reader(QApplication.clipboard().text().splitlines()))
        self.assertEqual(rows[0][:3], ["group", "figure", "Lioba Trevan: value"])
        pots = next(row for row in rows if row[1] == "All pots")
        rate = next(r for r in page.model.page.rows if r.id == "pots").figures["lioba trevan"].rate
        self.assertAlmostEqual(float(pots[2]), rate.rate, 5)
        self.assertEqual(pots[5:7], [str(rate.made), str(rate.of)])
        self.assertEqual(len(rows), 1 + len(page.model.page.rows))
        press("Ctrl+Shift+C")
        wait_until(lambda: QApplication.clipboard().mimeData().hasFormat("image/svg+xml"), "the picture")
        picture = QApplication.clipboard().image()
        self.assertEqual((picture.width(), picture.height()), (1280, 720))

    def test_figures_of_a_month_and_of_a_span_of_days(self):
        page = self.open_statistics()
        boxes, line = page.chooser.sessions, page.chooser.line
        texts = [boxes.itemText(i) for i in range(boxes.count())]
        self.assertIn("2026-10: 4 sessions", texts)
        boxes.setCurrentIndex(boxes.findData("date:2026-10"))
        boxes.activated.emit(boxes.currentIndex())
        months = ("demo-eight", "demo-practice", "demo-snooker", "demo-ten")
        self.assertEqual(sorted(page.chooser.choice().sessions), sorted(months))
        self.take_page(page, "potting")
        shots = [len(self.workspace.document.session(key).shots) for key in months]
        told = f"{sum(shots):,} shots in"
        wait_until(lambda: told in page.chooser.about.text(), told)
        # The same by the search line, over everything.
        boxes.setCurrentIndex(boxes.findData(""))
        boxes.activated.emit(boxes.currentIndex())
        line.setText("date:2026-10..2026-10-31")
        line.returnPressed.emit()
        self.take_page(page, "potting")
        wait_until(lambda: told in page.chooser.about.text(), told)

    def test_the_pages_say_what_the_command_line_says(self):
        """The long match alone: stored columns beside the records themselves."""
        from ripasso.statistics.report import stats_report

        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics()
        page.chooser.sessions.setCurrentIndex(page.chooser.sessions.findData("demo-snooker"))
        report = stats_report([self.workspace.document.session("demo-snooker").session])
        self.take_page(page, "potting")
        rows = {row.id: row.figures for row in page.model.page.rows}
        for player in report["players"].values():
            person = player["name"].casefold()
            for key, expected in player["slices"]["cut"].items():
                found = rows[f"cut {key}"][person].rate
                self.assertEqual((found.made, found.of), (expected["made"], expected["of"]), (person, key))
            long = rows["long"][person].rate
            self.assertEqual((long.made, long.of), (player["long_pots"]["made"], player["long_pots"]["of"]))
            spread = player["aim_spread"]["mrad"]
            words = rows["aim_spread"][person].words
            self.assertTrue(words.startswith("not enough" if spread is None else f"{spread:.2f}"), words)
        self.take_page(page, "position")
        rows = {row.id: row.figures for row in page.model.page.rows}
        for player in report["players"].values():
            zone = rows["zone"][player["name"].casefold()].rate
            expected = player["position"]["zone"]
            self.assertEqual((zone.made, zone.of), (expected["made"], expected["of"]))

    def test_two_players_stand_beside_each_other_with_their_difference(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("potting")
        self.assertEqual(page.model.columnCount(), 4)
        for place, row in enumerate(page.model.rows):
            said = page.model.index(place, 3).data()
            if getattr(row, "id", "") == "pots":
                # Newcombe's interval of these counts, worked out by statsmodels.
                one, other = (row.figures[person].rate for person in page.model.page.persons)
                low, high = confint_proportions_2indep(
                    one.made, one.of, other.made, other.of, method="newcomb", compare="diff"
                )
                value = 100 * (one.made / one.of - other.made / other.of)
                words = f"{value:+.0f} ({100 * low:+.0f} to {100 * high:+.0f})".replace("-", "−")
                self.assertEqual(said, words)
        page.chooser.second.setCurrentIndex(0)
        page.chooser.second.activated.emit(0)
        wait_until(lambda: not page.is_computing, "the figures")
        self.assertEqual(page.model.columnCount(), 2)

    def test_a_dot_opens_its_shot(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("position")
        view = page.chart.view
        self.assertTrue(view.isVisible())
        rows = {row.id: row.figures for row in page.model.page.rows}
        marks = [(s, m) for s, one in enumerate(view.chart.series) for m in range(len(one.shots))]
        self.assertEqual(len(marks), len(rows["along"]["lioba trevan"].shots))
        spot = view.at(*marks[3])
        s, m = view.nearest(spot)
        place = int(view.chart.series[s].shots[m][0])
        facts = page.model.page.facts
        expected = (str(facts.texts("session_key")[place]), facts.key(place))
        click(view.canvas, spot)
        wait_until(self.review.isVisible)
        self.assertEqual((self.review.controller.snapshot.key, self.review.controller.shot.key), expected)
        press("Ctrl+5")
        self.take_page(page, "habits")
        self.assertFalse(page.chart.isVisible())
