"""From a player's habit to the film of each case: Statistics in the real window."""

from statsmodels.stats.proportion import confint_proportions_2indep

from tests.windows import WindowCase, click, press, wait_until


class Habits(WindowCase):
    demo = True

    def open_statistics(self, name="judged"):
        press("Ctrl+3")
        page = self.window.statistics
        wait_until(lambda: page._request is None and not self.workspace.background.busy, "the overview")
        self.take_page(page, name)
        return page

    def choose(self, page, row_id, person):
        row = next(i for i, row in enumerate(page.model.rows) if getattr(row, "id", "") == row_id)
        page.figures.setCurrentIndex(page.model.index(row, 1 + page.model.page.persons.index(person)))

    def test_the_latest_game_is_chosen_and_the_habit_shows(self):
        page = self.open_statistics()
        self.assertEqual(page.sessions.currentText(), "all nine-ball")
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

    def test_two_steps_from_a_habit_to_its_film(self):
        page = self.open_statistics()
        page.sessions.setCurrentIndex(page.sessions.findText("Rack on film, winter ladder"))
        page.sessions.activated.emit(page.sessions.currentIndex())
        wait_until(lambda: not self.workspace.background.busy)
        self.choose(page, "long", "lioba trevan")
        page.shots.setFocus()
        press("Down", "Return")
        wait_until(self.review.isVisible)
        self.assertEqual(self.review.desk.shot.record.number, 11)
        self.assertEqual(self.review.desk.shot.record.result.pace, "long")
        self.wait_for_film()
        self.assertAlmostEqual(self.review.player.time_s, 94.88, delta=0.04)

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
        every = len(page.model.page.columns)
        page.line.setText("pace:long made:yes")
        page.line.returnPressed.emit()
        wait_until(lambda: len(page.model.page.columns) < every, "the slice")
        self.assertEqual(set(page.model.page.columns.pace.tolist()), {"long"})
        games = {
            self.workspace.document.session(key).head.game for key in set(page.model.page.columns.session)
        }
        self.assertEqual(games, {"nine_ball"})
        page.line.setText("pce:long")
        page.line.returnPressed.emit()
        self.assertIn("did you mean", self.said[-1])

    def take_page(self, page, name):
        page.pages.setCurrentIndex(page.pages.findData(name))
        page.pages.activated.emit(page.pages.currentIndex())
        wait_until(lambda: page._request is None, "the figures")

    def test_every_measured_figure_opens_its_shots(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics()
        counted = 0
        for name, wanted in (
            ("potting", "cut 15-30"),
            ("position", "zone"),
            ("habits", "after_error"),
            ("errors", "per_100"),
            ("breaks", "wet"),
            ("visits", "mean"),
            ("safety", "result"),
            ("time", "mean"),
        ):
            self.take_page(page, name)
            self.assertIn(wanted, [row.id for row in page.model.page.rows], name)
            for row in page.model.page.rows:
                for person, figure in row.figures.items():
                    self.choose(page, row.id, person)
                    self.assertEqual(page.shot_model.rowCount(), len(figure.shots), (name, row.id, person))
                    if figure.rate is not None:
                        self.assertEqual(figure.rate.of, len(figure.shots), (name, row.id, person))
                    counted += len(figure.shots) > 0
        self.assertGreater(counted, 60)

    def test_the_pages_say_what_the_command_line_says(self):
        """The long match alone: stored columns beside the records themselves."""
        from ripasso.review.statistics import stats_report

        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics()
        page.sessions.setCurrentIndex(page.sessions.findData("demo-snooker"))
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
        page.second.setCurrentIndex(0)
        page.second.activated.emit(0)
        wait_until(lambda: page._request is None, "the figures")
        self.assertEqual(page.model.columnCount(), 2)

    def test_a_dot_opens_its_shot(self):
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")
        page = self.open_statistics("position")
        chart = page.chart
        self.assertTrue(chart.isVisible())
        rows = {row.id: row.figures for row in page.model.page.rows}
        self.assertEqual(len(chart.found.points), len(rows["along"]["lioba trevan"].shots))
        spot = chart.at(3)
        place = int(chart.found.places[chart.nearest(spot)])
        columns = page._columns
        expected = (str(columns.session[place]), str(columns.key[place]))
        click(chart, spot.toPoint())
        wait_until(self.review.isVisible)
        self.assertEqual((self.review.desk.snapshot.key, self.review.desk.shot.key), expected)
        press("Ctrl+3")
        self.take_page(page, "potting")
        self.assertFalse(chart.isVisible())
