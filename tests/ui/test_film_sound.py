"""The film's sound in the window: at its own speed only, from the frame on screen."""

from ripasso.film.decoding.sound import BYTES_A_SECOND
from ripasso.ui.review.film.film_sound import find_device
from tests.windows import WindowCase, in_dialog, press, wait_until


class Recorder:
    """A stand-in for a sound device: keeps what it is given."""

    def __init__(self):
        self.bytes, self.open = 0, True

    def room(self):
        return 4096

    def write(self, samples):
        self.bytes += len(samples)

    def close(self):
        self.open = False


class Heard(WindowCase):
    demo = True

    def setUp(self):
        super().setUp()
        self.made = []
        sound = self.review.sound
        sound._device = lambda: self.make
        self.wait_for_film()
        sound.open(self.review.player.index.path)
        wait_until(lambda: sound._path is not None, "the film")
        self.sound = sound

    def make(self):
        self.made.append(Recorder())
        return self.made[-1]

    def test_at_its_own_speed_it_is_heard_and_elsewhere_not(self):
        self.review.player.seek(2.0)
        self.wait_for_film()
        self.assertFalse(self.made)
        press("Space")
        wait_until(lambda: self.made and self.made[0].bytes > BYTES_A_SECOND / 10, "sound")
        self.review.player.set_speed(0.5)
        self.assertFalse(self.made[0].open)
        self.assertFalse(self.sound.heard)
        self.review.player.set_speed(1.0)
        self.assertTrue(self.sound.heard)
        press("Space")
        self.assertFalse(self.sound.heard)
        self.assertFalse(self.made[-1].open)

    def test_the_key_makes_it_silent_and_is_remembered(self):
        press("Space")
        wait_until(lambda: self.sound.heard, "sound")
        press("Ctrl+U")
        self.assertFalse(self.sound.heard)
        self.assertEqual(self.said[-1], "The film is silent.")
        press("Space", "Space")
        self.assertFalse(self.sound.heard)
        self.open_window()
        self.assertFalse(self.review.sound.on)

    def test_the_machine_without_a_device_is_silent(self):
        device = find_device()
        self.assertTrue(device is None or device() is not None)

    def test_the_clips_of_a_shot_are_gone_to(self):
        press("Down")
        self.wait_for_film()
        strike = self.review.controller.shot.record.t_strike
        press("Shift+I", "Shift+Right")
        self.wait_for_film()
        in_dialog(lambda _dialog: press("1"))
        press("Shift+O")
        menu = self.review.film_view_controller.show_clips()
        actions = [a for a in menu.actions() if not a.isSeparator()]
        self.assertEqual(len(actions), 2)
        self.review.player.seek(0.0)
        actions[1].trigger()
        menu.close()
        wait_until(lambda: self.review.player.playing, "the replay to run")
        self.assertGreaterEqual(self.review.player.time_s, strike - 0.1)
        self.review.player.pause()
