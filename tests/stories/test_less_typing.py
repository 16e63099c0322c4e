"""What need not be typed: outcomes the next strike implies, and offers of the slip; in the real window."""

import json

from tests.sessions import session_data
from tests.stories.clocked import Clocked
from tests.windows import WindowCase, click, in_dialog, press, wait_until, write


class LessTyping(Clocked):
    @property
    def slip(self):
        return self.review.slip

    @property
    def chips(self):
        return self.slip._chips.accessibleDescription()

    def test_a_nine_ball_rack_by_strike_and_pocket(self):
        """Break, eight balls with two keys each, one key that accepts them all."""
        self.begin(game="nine_ball", rules={"race_to": 3})
        self.strike("2", "E")
        for pocket in "QWEASDQ":
            self.strike(pocket)
        self.strike("E")  # the 9
        self.assertIn("on: 9", self.review.score_line._run.text())
        self.assertIn("Dashed: proposed", self.proposal_words(previous=True))
        self.strike()
        self.assertEqual(self.review.score_line._score.text(), "1 – 0")
        press("PgUp", "Shift+Return")
        self.assertIn("Accepted: 8 shots of this rack.", self.said)
        self.assertFalse(any(s.record.proposed for s in self.review.controller.snapshot.shots))
        self.window.show_page("statistics")
        facts = self.workspace.index.read().facts
        self.assertEqual((facts.flags("tried").sum(), facts.flags("made").sum()), (8, 8))

    def proposal_words(self, *, previous):
        if previous:
            press("Up")
        words = "Dashed: proposed" if self.slip._proposal.isVisible() else ""
        self.assertIn("potted, proposed", self.chips)
        if previous:
            press("Down")
        return words

    def test_a_snooker_break_by_strike_and_colour(self):
        self.begin(game="snooker", table={"preset": "snooker_12ft"})
        self.strike("M")
        for colour in "7765":
            self.strike()
            self.strike(colour)
        self.strike("V")
        # 4 reds, 2 blacks, a pink and a blue.
        self.assertEqual(self.review.score_line._score.text(), "0 – 29")
        self.assertEqual(self.review.controller.shot_score.outcome.next_players, ("a",))
        self.strike()
        self.assertIn("Ada Quill", self.review.score_line._now.text())

    def test_the_slip_offers_what_is_allowed_and_a_click_takes_it(self):
        self.begin(game="snooker", table={"preset": "snooker_12ft"})
        self.strike("M")
        self.strike("G")
        self.strike()
        offers = self.slip.offers
        self.assertEqual([b.ball for b in offers.balls][-1], "black")
        click(offers.balls[-1])
        self.assertEqual(self.review.controller.shot.record.call.ball, "black")
        self.assertTrue(offers.balls[-1].isChecked())
        press("0", "M")  # in-off: seven away, and the other player may have a free ball
        self.strike()
        self.assertTrue(offers.choices["free_ball"].isVisible())
        click(offers.choices["free_ball"])
        self.assertTrue(self.review.controller.shot.record.free_ball)
        self.assertEqual(offers.balls[0].ball, "red")

    def test_marked_first_and_tagged_later_the_player_is_open_until_a_fact_settles_it(self):
        self.begin(game="snooker", table={"preset": "snooker_12ft"})
        for _ in range(6):
            self.strike()  # nothing is said of any of them
        players = [row.record.player for row in self.review.controller.snapshot.shots]
        self.assertEqual(players, ["a", None, None, None, None, None])
        press(*["Up"] * 5, "M")  # the break-off, nothing fell
        press("Down", "1", "Q", "G", "Down", "7", "E", "G", "Down", "1", "Q", "C")
        players = [row.record.player for row in self.review.controller.snapshot.shots]
        self.assertEqual(players, ["a", "b", "b", "b", "a", None])
        visits = self.review.controller.snapshot.score.visits
        self.assertEqual([(v.player, v.points) for v in visits][:2], [("a", 0), ("b", 8)])
        press("Ctrl+Z")
        self.assertIsNone(self.review.controller.snapshot.shots[4].record.player)

    def test_a_push_out_is_offered_once(self):
        self.begin(game="nine_ball")
        self.strike("2", "E")
        self.strike()
        choice = self.slip.offers.choices["intent_push_out"]
        self.assertTrue(choice.isVisible())
        self.assertIn("key P", choice.accessibleName())
        press("P")
        self.assertTrue(choice.isChecked())
        self.strike()
        self.assertFalse(choice.isVisible())
        self.assertTrue(self.slip.offers.choices["other_player"].isVisible())

    def test_keys_say_nothing_of_a_shot_behind_the_match_page(self):
        self.begin(game="nine_ball")
        self.strike("2", "E")
        press("F8", "J", "Y")
        self.assertIsNone(self.review.controller.shot.record.result)
        press("F8", "Y")
        self.assertEqual(self.review.controller.shot.record.decision.verdict, "agree")

    def test_return_belongs_to_the_note_while_it_is_written(self):
        self.begin(game="nine_ball")
        self.strike("2", "E")
        self.strike("Q")
        self.strike()
        press("Up", "N")
        write("Thin")
        press("Return")
        record = self.review.controller.shot.record
        self.assertEqual((record.note, record.proposed), ("Thin", {"/facts/potted": 0.7}))
        press("Return")
        self.assertIsNone(self.review.controller.shot.record.proposed)


class NewSessionByKeyboard(WindowCase):
    """A session with everything chosen anew; keys are counted beside the names that are typed."""

    def test_at_most_twenty_five_keys_beside_typed_names(self):
        keys = ["Ctrl+N"]

        def key(*names):
            keys.extend(names)
            press(*names)

        def fill_in(dialog):
            # The last choices are nine-ball, race to 7; wanted is snooker, best of nine, ten reds.
            write("Enna Roake")
            key("Tab")
            write("Caspar Lind")
            key("Alt+G", "S", "N", "Alt+R", "5", "Alt+S", "Down", "Alt+O", "Down", "Alt+L", "Down")
            key("Return")

        in_dialog(fill_in)
        press("Ctrl+N")
        wait_until(lambda: self.review.controller.snapshot is not None, "the session")
        head = self.review.controller.snapshot.head
        self.assertEqual((head.game, head.table["preset"], head.level), ("snooker", "snooker_12ft", "county"))
        self.assertEqual(head.rules, {"race_to": 5, "reds": 10, "break_order": "winner"})
        self.assertEqual([p.name for p in head.players], ["Enna Roake", "Caspar Lind"])
        self.assertLessEqual(len(keys), 25)

    def test_a_known_player_brings_his_last_opponent(self):
        met = [("Ada Quill", "Bram Oster"), ("Enna Roake", "Ada Quill"), ("Caspar Lind",)]
        for number, players in enumerate(met):
            path = self.folder / f"{number}.ripasso.json"
            people = [{"id": f"p{i}", "name": name} for i, name in enumerate(players)]
            date = f"2031-03-0{9 - number}"
            path.write_text(json.dumps(session_data(id=str(number), players=people, date=date)))
            self.window.files.import_session(path)
        self.window.show_page("sessions")
        seen = []

        def look(dialog):
            write("enna")
            press("Tab")
            seen.append([field.text() for field in (dialog.players.first, dialog.players.other)])
            press("Shift+Tab")
            write("caspar lind")
            press("Tab")
            seen.append(dialog.players.other.text())
            write("Ada")
            press("Shift+Tab")
            write("Bram Oster")
            press("Tab")
            seen.append(dialog.players.names())
            dialog.reject()

        in_dialog(look)
        press("Ctrl+N")
        self.assertEqual(seen[0], ["enna Roake", "Ada Quill"])
        self.assertEqual(seen[1], "")
        self.assertEqual(seen[2], ["Bram Oster", "Ada Quill"])


class Stretches(WindowCase):
    demo = True

    def test_a_replay_is_said_listed_and_forgotten(self):
        self.wait_for_film()
        press("Down", "Down")
        self.wait_for_film()
        start = self.review.player.time_s
        press("Shift+I")
        self.assertIn("A stretch begins at", self.said[-1])
        press("Shift+Right")
        self.wait_for_film()
        in_dialog(lambda _dialog: press("1"))
        press("Shift+O")
        part = self.review.controller.snapshot.head.film_parts[0]
        self.assertEqual((part.kind, part.shows.from_shot), ("replay", 3))
        self.assertAlmostEqual(float(part.from_), start, places=3)
        self.assertAlmostEqual(float(part.to - part.from_), 1.0, delta=0.05)
        self.assertEqual(self.review.controller.shot.record.clips[0].kind, "replay")
        strip = self.review.transport.strip
        self.assertIn("Replay of shot 3 of rack 1", strip.accessibleDescription())
        # A strike marked inside it is believed, and asked about.
        press("Left")
        self.wait_for_film()
        press("F")
        self.assertIn("Is this strike a new one?", self.said[-1])
        press("Ctrl+Z")
        seen = []

        def forget(dialog):
            seen.append(dialog.list.item(0).text())
            press("Delete")
            seen.append(dialog.list.count())

        in_dialog(forget)
        press("Shift+O")
        self.assertIn("Replay of shot 3", seen[0])
        self.assertEqual(seen[1], 0)
        self.assertIsNone(self.review.controller.snapshot.head.film_parts)

    def test_without_a_film_there_is_nothing_to_say(self):
        self.window.open_session("demo-winter-ladder")
        press("Shift+I", "Shift+O")
        self.assertEqual(self.said[-1], "There is no film here of which to say something.")
