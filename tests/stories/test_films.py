"""Several films in one session: a second camera runs with the first, whose marks stay; parts by turns."""

import shutil

from ripasso.demo.library import film_path
from ripasso.review.recordings.films import film_lines, remove_film, time_in
from tests.windows import WindowCase, click, in_dialog, press, wait_until


class SecondCamera(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.wait_for_film()
        self.second = shutil.copy(film_path(), self.folder / "second.mp4")
        self.add(self.second)

    def add(self, path):
        many = len(self.films())
        self.window.sessions.controller.add_film(self.snapshot.key, self.folder / path)
        wait_until(lambda: len(self.films()) > many or self.said[-1].endswith("already."), "the film")

    @property
    def snapshot(self):
        return self.review.controller.snapshot

    def films(self):
        return film_lines(self.snapshot)

    def dialog(self, *acts):
        told = []

        def act(dialog):
            for one in acts:
                one(dialog)
            told.append(dialog.told.text())

        in_dialog(act)
        press("Alt+F")
        return told[0]

    def run_together(self):
        """The first film at the strike in hand, the second a second and a half before its own."""
        self.review.controller.choose(self.snapshot.shots[1].key)
        press("Home")
        self.wait_for_film()
        self.strike_s = float(self.review.controller.shot.record.t_strike)
        press("Alt+V")
        self.wait_for_film()
        self.assertEqual(self.review.player.index.path.name, "second.mp4")
        self.assertEqual(self.review.player.picture.number, 0)  # nothing is known of its time yet
        self.go_to(self.strike_s - 1.5)
        told = self.dialog(lambda dialog: click(dialog.buttons["same"]))
        self.assertIn("run together now", told)

    def test_a_second_camera_shows_the_same_moment_and_marks_stay_in_the_first(self):
        self.run_together()
        first, second = self.films()
        self.assertEqual((second.runs_with, first.runs_with), (first.id, None))
        frame_s = 1 / self.review.player.index.frame_rate
        self.assertAlmostEqual(second.offset_s, -1.5, delta=2 * frame_s)
        press("Down", "Home")
        self.wait_for_film()
        strike = float(self.review.controller.shot.record.t_strike)
        self.assertEqual(self.review.player.index.path.name, "second.mp4")
        self.assertAlmostEqual(self.review.player.time_s, strike + second.offset_s, delta=frame_s)
        blocks = self.review.transport.strip._blocks
        self.assertAlmostEqual(
            blocks[0].start_s, float(self.snapshot.shots[0].record.t_strike) + second.offset_s
        )
        for _ in range(3):
            press("Shift+Right")
            self.wait_for_film()
        here = self.review.player.time_s
        press("R")
        record = self.review.controller.shot.record
        self.assertEqual(record.recording, first.id)
        self.assertAlmostEqual(float(record.t_rest), here - second.offset_s, places=3)
        press("Ctrl+Z", "Alt+V")
        self.wait_for_film()
        self.assertNotEqual(self.review.player.index.path.name, "second.mp4")
        self.assertAlmostEqual(self.review.player.time_s, here - second.offset_s, delta=frame_s)

    def test_a_film_in_which_shots_are_marked_stays(self):
        self.add(self.second)
        self.assertIn("belongs to the session already", self.said[-1])
        self.dialog(lambda dialog: click(dialog.buttons["remove"]))
        self.assertIn("are marked in this film; it stays", self.said[-1])
        self.run_together()
        first, second = self.films()
        self.review.controller.perform_session(lambda now: remove_film(now, second.id))
        self.assertEqual([one.id for one in self.films()], [first.id])
        press("Ctrl+Z")
        self.assertEqual(self.films(), [first, second])

    def test_a_part_by_itself_is_shown_until_another_shot_is_in_hand(self):
        press("Alt+V")
        self.wait_for_film()
        self.assertEqual(self.review.player.index.path.name, "second.mp4")
        press("Shift+Right")
        self.wait_for_film()
        press("F")  # the strike begins a shot in the second part
        record = self.review.controller.shot.record
        self.assertEqual(record.recording, self.films()[1].id)
        self.assertIsNone(time_in(self.snapshot.head, 1.0, self.films()[0].id, self.films()[1].id))
        press("Up")
        wait_until(
            lambda: self.review.player.index and self.review.player.index.path.name != "second.mp4",
            "the first",
        )
