"""Films that need no film: marks take the clock, which goes ten seconds for each strike."""

import json
from unittest import mock

from ripasso.review.record.model import serialize
from ripasso.statistics.report import stats_report
from tests.sessions import session_data
from tests.windows import WindowCase, in_dialog, press, wait_until


def cells(model):
    """What a table shows, row by row."""
    columns = range(model.columnCount())
    return [[model.data(model.index(row, n), 0) for n in columns] for row in range(model.rowCount())]


class Clocked(WindowCase):
    """A session without a film in the real window, struck and said by keys."""

    def begin(self, **changes):
        path = self.folder / "one.ripasso.json"
        path.write_text(json.dumps(session_data(**changes)))
        self.window.files.import_session(path)
        self.now = 0.0

    def strike(self, *keys):
        """Ten seconds later the next strike, and what is said of it."""
        self.now += 10.0
        with mock.patch(
            "ripasso.ui.review.film.film_controller.time.monotonic", return_value=1000.0 + self.now
        ):
            press("F", *keys)

    def next_rack(self, fill):
        """Say how the next rack begins: `fill` works on the dialog, Return closes it."""

        def work(dialog):
            fill(dialog)
            press("Return")
            self.assertFalse(dialog.isVisible(), dialog._told.text())

        in_dialog(work)
        press("Shift+K")

    @property
    def line(self):
        score = self.review.score_line
        return score._score.text(), score._counts.text(), score._run.text()

    def outcome(self):
        return self.review.controller.shot_score.outcome

    @property
    def snapshot(self):
        return self.review.controller.snapshot

    def match_page(self):
        """The sentence of the match page, its racks and its visits as rows of cells."""
        press("F8")
        page = self.review.match_page
        self.assertTrue(page.isVisible())
        summary, racks, visits = page._summary.text(), cells(page.rack_model), cells(page.visit_model)
        press("F8")
        return summary, racks, visits

    def figures(self, name, person):
        """A page of Statistics by the ids of its rows: what the screen says of a person."""
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and not self.workspace.background.busy, "the overview")
        page.chooser.first.setCurrentIndex(page.chooser.first.findData(person))
        page.chooser.first.activated.emit(page.chooser.first.currentIndex())
        wait_until(lambda: not page.is_computing and not self.workspace.background.busy, "the player")
        page.chooser.pages.setCurrentIndex(page.chooser.pages.findData(name))
        page.chooser.pages.activated.emit(page.chooser.pages.currentIndex())
        wait_until(lambda: not page.is_computing, "the figures")
        model = page.model
        said = {}
        for at, row in enumerate(model.rows):
            if getattr(row, "id", ""):
                said[row.id] = model.data(model.index(at, 1 + model.page.persons.index(person)), 0)
        press("Ctrl+2")
        return said

    def report(self):
        """What `ripasso stats` says of the session, by player."""
        self.assertTrue(serialize(self.snapshot.session))
        return stats_report([self.snapshot.session])["players"]
