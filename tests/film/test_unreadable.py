"""Films that show no table, half of one, or another one: a sentence each, and nothing that seems sure."""

import tempfile
import unittest
from pathlib import Path

import cv2
import numpy as np

from ripasso.core.table import table_spec
from ripasso.demo.filming.camera import SimulatedCamera, Spin
from ripasso.demo.filming.film import encode
from ripasso.demo.filming.recordings import Recipe, render
from ripasso.demo.filming.rooms import ROOMS, side_camera
from ripasso.film import FilmError, build_index
from ripasso.film.reading.reader import FilmReading
from ripasso.reading_command import CannotRead, read_film

SPEC = table_spec({"preset": "pool_9ft"})
SIZE = (640, 360)


def dark(_number):
    return np.zeros((SIZE[1], SIZE[0], 3), np.uint8)


def lawn(number):
    noise = np.random.default_rng(number).normal(0, 15, (SIZE[1], SIZE[0], 1))
    return np.clip(np.array([40.0, 120.0, 50.0]) + noise, 0, 255).astype(np.uint8)


def talk(number):
    """Two people at a desk before a wall."""
    wall = np.linspace(60, 110, SIZE[0])[None, :, None] * np.array([0.8, 0.9, 1.0])
    made = np.broadcast_to(wall, (SIZE[1], SIZE[0], 3)).astype(np.uint8).copy()
    for who, (x, coat) in enumerate(((200, (40, 60, 110)), (440, (90, 40, 40)))):
        sway = round(6 * np.sin(number / 5 + who))
        cv2.ellipse(made, (x + sway, 320), (95, 105), 0, 0, 360, coat, -1)
        cv2.ellipse(made, (x + sway, 165), (42, 55), 0, 0, 360, (205, 160, 135), -1)
    cv2.rectangle(made, (170, 290), (470, 360), (120, 90, 60), -1)
    return made


class NoFilmOfATable(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def film(self, picture, frames=40):
        path = self.folder / "film.mp4"
        encode(iter([picture(number) for number in range(frames)]), path, 25, "23", "veryfast")
        return path

    def refused(self, picture):
        path = self.film(picture)
        with self.assertRaises(FilmError) as caught:
            FilmReading(build_index(path), "nine_ball", SPEC, None)
        with self.assertRaises(CannotRead):
            read_film(path, None, "nine_ball")
        sentence = str(caught.exception)
        self.assertTrue(sentence.endswith("."), sentence)
        return sentence

    def test_a_dark_film(self):
        self.assertEqual(self.refused(dark), "film.mp4 is dark all through: no table can be seen in it.")

    def test_pictures_of_something_else(self):
        for picture in (lawn, talk):
            with self.subTest(picture.__name__):
                self.assertIn("No table was found", self.refused(picture))

    def test_half_a_table(self):
        camera = SimulatedCamera(SPEC, side_camera(SPEC, 1280, 720), ROOMS["teal"], 1)
        places = {"cue": (0.6, 0.6), "1": (1.8, 0.4)}
        still = camera.frame(places, Spin(SPEC.ball_radius).follow(places))
        for half in (still[:, :640], still[:, 640:]):
            picture = np.ascontiguousarray(half[180:540])
            self.assertIn("not wholly in the picture", self.refused(lambda _number, shown=picture: shown))

    def test_balls_too_small_for_the_table(self):
        recipe = Recipe(
            "snooker",
            "end",
            "green",
            shots=3,
            balls=("red1", "red2", "blue", "black"),
            seed=4,
            rate=20,
            size=(960, 540),
        )
        film, _ = render("snooker", recipe, self.folder)
        wrong = read_film(film, None, "eight_ball")
        self.assertIn("say which table it is", wrong.notice)
        values = [sure for shot in wrong.shots for sure in shot.values["proposed"].values()]
        self.assertLessEqual(max(values), 0.5)
        right = read_film(film, None, "snooker")
        self.assertIsNone(right.notice)
        self.assertGreater(
            max(sure for shot in right.shots for sure in shot.values["proposed"].values()), 0.9
        )
