"""The overview: questions on the demo library beside loops over the records, and the shots of each answer."""

import math
from statistics import fmean

from ripasso.core.figures.answers import Asked
from ripasso.core.figures.questions import QUESTIONS
from tests.slow_facts import facts_of_session
from tests.windows import WindowCase, press, wait_until


def tried(fact):
    return fact.intent == "pot" and fact.tried


def known(*values):
    return not any(math.isnan(value) for value in values)


def is_long(fact):
    length, ball, pocket = fact.table_length, fact.cue_travel, fact.object_travel
    return known(ball, pocket) and ball + pocket >= 2 / 3 * length and max(ball, pocket) >= 0.4 * length


def after(rows, starts, first):
    """The places of the three own shots from `first` on after each start, in its session."""
    found = set()
    for i in starts:
        for j in range(i + first, i + first + 3):
            if j < len(rows) and rows[j].session == rows[i].session:
                found.add(j)
    return found


def counted(rows, among, success):
    chosen = [f for f in rows if among(f)]
    return sum(bool(success(f)) for f in chosen), len(chosen)


def even(fact):
    """A pot of which the chance is known: those that are compared at equal difficulty."""
    return tried(fact) and fact.free


class Overview(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        wait_until(lambda: not self.workspace.measuring.busy, "everything to be measured")

    def rows(self):
        """The facts of each person from the records themselves, in the order of the library."""
        keys = sorted(line.key for line in self.workspace.library.sessions())
        found = {}
        for index, key in enumerate(keys):
            for fact in facts_of_session(self.workspace.document.session(key).session, index):
                found.setdefault(fact.person, []).append(fact)
        return found

    def test_twenty_questions_equal_a_loop_over_the_records(self):
        everything = self.workspace.index.read()
        for person, rows in self.rows().items():
            asked = Asked(everything.facts.where(everything.facts.texts("person") == person))
            answers = {name: ask(asked) for name, ask in QUESTIONS.items()}
            pairs, rates, means = self.expected(rows)
            self.assertGreaterEqual(len(pairs) + len(rates) + len(means), 40)
            for name, (first, second) in pairs.items():
                got = answers[name]
                self.assertEqual((got.first.made, got.first.of), first, (person, name))
                self.assertEqual((got.second.made, got.second.of), second, (person, name))
                self.assertEqual(int(got.shots.sum()), first[1], (person, name))
            for name, (made, of) in rates.items():
                self.assertEqual(
                    (answers[name].first.made, answers[name].first.of), (made, of), (person, name)
                )
            for name, values in means.items():
                self.assertEqual(answers[name].of, len(values), (person, name))
                if values:
                    self.assertAlmostEqual(answers[name].value, fmean(values), 9, (person, name))

    @staticmethod
    def expected(rows):
        def made(f):
            return f.made

        def gap(first, second, success=made):
            return counted(rows, first, success), counted(rows, second, success)

        def zone(f):
            return f.made and f.zone != -1

        def missed(f):
            return tried(f) and f.failed and f.contact in ("thick", "thin")

        errors = after(rows, [i for i, f in enumerate(rows) if f.unforced], 1)
        visits = after(rows, [i for i, f in enumerate(rows) if f.after_long_visit], 0)
        at = {id(f): i for i, f in enumerate(rows)}

        def followed(f):
            return f.has_next and (f.goes_to_other or f.fouled)

        pairs = {
            "thin_cuts": gap(
                lambda f: even(f) and abs(f.cut_deg) >= 45, lambda f: even(f) and abs(f.cut_deg) < 45
            ),
            "cut_side": gap(lambda f: even(f) and f.cut_deg >= 5, lambda f: even(f) and f.cut_deg < -5),
            "long_pots": gap(lambda f: even(f) and is_long(f), lambda f: even(f) and not is_long(f)),
            "side_pockets": gap(
                lambda f: even(f) and f.target in ("side_left", "side_right"),
                lambda f: even(f) and f.target not in ("side_left", "side_right", ""),
            ),
            "awkward": gap(lambda f: even(f) and f.delivery, lambda f: even(f) and not f.delivery),
            "cushions": gap(
                lambda f: zone(f) and f.cushions >= 2,
                lambda f: zone(f) and f.cushions == 0,
                lambda f: f.zone == 1,
            ),
            "crossing": gap(
                lambda f: f.made and f.side and f.crossing_deg >= 50,
                lambda f: f.made and f.side and f.crossing_deg < 20,
                lambda f: f.side != "wrong_side",
            ),
            "after_error": gap(
                lambda f: tried(f) and at[id(f)] in errors, lambda f: tried(f) and at[id(f)] not in errors
            ),
            "after_long_visit": gap(
                lambda f: tried(f) and at[id(f)] in visits, lambda f: tried(f) and at[id(f)] not in visits
            ),
            "last_balls": gap(
                lambda f: even(f) and f.phase == "last",
                lambda f: even(f) and f.phase in ("opening", "middle"),
            ),
            "runs_after_fault": gap(
                lambda f: f.visit_score >= 0 and f.after_fault,
                lambda f: f.visit_score >= 0 and not f.after_fault,
                lambda f: f.visit_end == "rack_won",
            ),
        }
        opened = {
            id(f)
            for f in rows
            if f.break_ball
            or {"cluster_opened", "ball_freed"} & set(f.events.split())
            or "cannon_split" in f.methods.split()
        }
        miscues = after(rows, [i for i, f in enumerate(rows) if "miscue" in f.causes.split()], 1)

        def trouble(f):
            return even(f) and "trouble" in f.roles.split()

        def begins(f):
            return f.visit_score >= 0

        def won(f):
            return f.visit_end == "rack_won"

        def broke(f):
            return f.intent == "break" and known(f.break_power)

        pairs |= {
            "inside": gap(
                lambda f: even(f) and f.spin_cut == "inside", lambda f: even(f) and f.spin_cut == "outside"
            ),
            "any_side": gap(
                lambda f: even(f) and f.spin_cut in ("inside", "outside"),
                lambda f: even(f) and f.spin_cut == "none",
            ),
            "check_side": gap(
                lambda f: even(f) and f.spin_rail == "check", lambda f: even(f) and f.spin_rail == "running"
            ),
            "next_to_cushion": gap(
                lambda f: even(f) and f.ball_to_cushion < 0.028575,
                lambda f: even(f) and f.ball_to_cushion >= 0.028575,
            ),
            "pressure": gap(lambda f: even(f) and f.pressure, lambda f: even(f) and not f.pressure),
            "behind": gap(
                lambda f: even(f) and f.standing == "behind", lambda f: even(f) and f.standing == "ahead"
            ),
            "after_miscue": gap(
                lambda f: even(f) and at[id(f)] in miscues, lambda f: even(f) and at[id(f)] not in miscues
            ),
            "plan_changed": gap(
                lambda f: even(f) and f.replanned == 1, lambda f: even(f) and f.replanned == 0
            ),
            "trouble_late": gap(lambda f: trouble(f) and f.late == 1, lambda f: trouble(f) and f.late == 0),
            "fought": gap(
                lambda f: zone(f) and f.route == "fought",
                lambda f: zone(f) and f.route == "natural",
                lambda f: f.zone == 1,
            ),
            "break_power": gap(
                lambda f: broke(f) and f.break_power >= 75,
                lambda f: broke(f) and f.break_power < 75,
                lambda f: f.potted > 0,
            ),
            "break_scratch_power": gap(
                lambda f: broke(f) and f.break_power >= 75,
                lambda f: broke(f) and f.break_power < 75,
                lambda f: f.cue_potted,
            ),
            "break_kind": gap(
                lambda f: f.intent == "break" and f.break_kind == "cut",
                lambda f: f.intent == "break" and f.break_kind == "head_on",
                lambda f: f.potted > 0,
            ),
            "break_ball": gap(lambda f: f.break_ball == "natural", lambda f: f.break_ball == "made"),
            "insurance": gap(
                lambda f: id(f) in opened and known(f.leave) and f.insurance == 1,
                lambda f: id(f) in opened and known(f.leave) and f.insurance == 0,
                lambda f: f.leave >= 0.4,
            ),
            "runs_on_own_break": gap(
                lambda f: begins(f) and f.began == "own_break",
                lambda f: begins(f) and f.began != "own_break",
                won,
            ),
            "runs_in_hand": gap(
                lambda f: begins(f) and f.began == "ball_in_hand",
                lambda f: begins(f) and f.began != "ball_in_hand",
                won,
            ),
        }
        rates = {
            "openings": counted(rows, lambda f: id(f) in opened and known(f.leave), lambda f: f.leave >= 0.4),
            "chances": counted(
                rows,
                lambda f: f.began and f.best_chance >= 0.6,
                lambda f: won(f) or f.visit_score >= {"snooker": 30, "straight_pool": 10}.get(f.game, 99),
            ),
            "key_balls": counted(
                rows,
                lambda f: tried(f) and "key" in f.roles.split(),
                lambda f: f.made and f.position == "good",
            ),
            "kind_luck": counted(
                rows,
                lambda f: f.made and f.luck in ("kind_leave", "unkind_leave"),
                lambda f: f.luck == "kind_leave",
            ),
            "thick_or_thin": counted(rows, missed, lambda f: f.contact == "thick"),
            "judged_pace": counted(
                rows, lambda f: f.made and f.pace in ("long", "short"), lambda f: f.pace == "long"
            ),
            "lost_position": counted(rows, lambda f: f.made and f.position, lambda f: f.position == "lost"),
            "break_wet": counted(rows, lambda f: f.intent == "break", lambda f: f.potted > 0),
            "break_scratch": counted(rows, lambda f: f.intent == "break", lambda f: f.cue_potted),
            "safeties": counted(
                rows,
                lambda f: f.intent == "safety" and followed(f),
                lambda f: not f.fouled and not f.answered,
            ),
            "escapes": counted(rows, lambda f: f.intent == "escape", lambda f: not f.fouled),
            "roots": counted(rows, lambda f: f.failed, lambda f: f.root_back > 0),
            "agreement": counted(
                rows,
                lambda f: f.verdict in ("agree", "prefer_other", "mistake"),
                lambda f: f.verdict == "agree",
            ),
        }
        means = {
            "along": [f.along for f in rows if f.made and known(f.along)],
            "across": [f.across for f in rows if f.made and known(f.across)],
            "visit_balls": [f.visit_score for f in rows if f.visit_score >= 0],
            "given_away": [f.given_away for f in rows if known(f.given_away)],
        }
        return pairs, rates, means

    def test_every_card_and_question_opens_its_shots(self):
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and page.overview.model.questions, "the overview")
        for game in ("game:nine_ball", "game:snooker"):
            page.chooser.sessions.setCurrentIndex(page.chooser.sessions.findData(game))
            page.chooser.sessions.activated.emit(0)
            wait_until(lambda: not page.is_computing, "the overview")
            panel = page.overview
            for card in panel.cards:
                card.click()
                self.assertEqual(page.shot_model.rowCount(), len(card.card.figure.shots), card.card.caption)
                self.assertEqual(page._chosen.text(), card.card.caption)
            for row, one in enumerate(panel.model.questions):
                panel.questions.setCurrentIndex(panel.model.index(row, 0))
                self.assertEqual(page.shot_model.rowCount(), len(one.shots), one.id)
                self.assertFalse(any(card.isChecked() for card in panel.cards))
        self.assertFalse(page.chooser.second.isVisible())

    def test_a_question_is_found_by_its_words(self):
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and page.overview.model.questions, "the overview")
        every = len(page.overview.model.questions)
        self.assertEqual(every, len(QUESTIONS))
        page.overview.finder.setText("break pot")
        found = page.overview.model.questions
        self.assertTrue(0 < len(found) < every)
        self.assertTrue(all("break" in f"{one.question} {one.sentence}".lower() for one in found))
        page.overview.finder.setText("")
        self.assertEqual(len(page.overview.model.questions), every)

    def test_a_habit_is_two_steps_from_its_film(self):
        press("Ctrl+5")
        page = self.window.statistics
        wait_until(lambda: not page.is_computing and page.overview.model.questions, "the overview")
        first = page.overview.model.questions[0]
        self.assertEqual(first.state, "finding")
        page.overview.questions.setFocus()
        press("Return")
        self.assertTrue(page.shots.hasFocus())
        place = page.shot_model.place(0)
        press("Return")
        wait_until(self.review.isVisible)
        controller = self.review.controller
        self.assertEqual((controller.snapshot.key, controller.shot.key), place)
