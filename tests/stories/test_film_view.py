"""A view that a reading found, or that is a little off, looked at and mended in its dialog."""

import re

import numpy as np
from PyQt6.QtCore import QPointF
from scipy.spatial.transform import Rotation

from ripasso.core.table import table_spec
from ripasso.core.table.known_points import known_points
from ripasso.demo.library import film_path
from ripasso.film.calibration.camera import Camera
from ripasso.review.document.edits import add_session
from tests.sessions import session
from tests.windows import WindowCase, drag, in_dialog, press, wait_until

SPEC = table_spec({"preset": "pool_9ft"})
POINTS = known_points(SPEC)
#: Beds' corners, where two views are compared.
CORNERS = [(x, y, 0.0) for x in (0.0, SPEC.length) for y in (0.0, SPEC.width)]


class FilmViewDialog(WindowCase):
    def open_with(self, views):
        recordings = [{"id": "film", "file": str(film_path()), **({"views": views} if views else {})}]
        made = session(game="nine_ball", racks=[], recordings=recordings, table={"preset": "pool_9ft"})
        self.workspace.document.run(add_session(made))
        self.window.open_session("test")
        self.wait_for_film()

    def in_the_dialog(self, act):
        in_dialog(act)
        press("Shift+V")

    def settle(self, dialog):
        wait_until(lambda: not dialog.work.busy and dialog.film.picture is not None, "the view")

    def kept(self):
        (view,) = self.review.controller.snapshot.head.recordings[0].views
        return view

    def test_a_picture_shows_its_view_and_return_keeps_it(self):
        self.open_with(None)

        def act(dialog):
            self.settle(dialog)
            self.assertEqual(dialog._ask.text(), "Do the lines lie on the table?")
            self.assertRegex(dialog._quality.text(), r"lines lie on the cloth \(\d\.\d px\)")
            press("Return")

        self.in_the_dialog(act)
        self.assertIsNone(self.kept().points)
        self.assertIsNotNone(self.kept().camera)

    def test_one_drag_mends_a_view_that_is_off(self):
        self.open_with(None)
        self.in_the_dialog(lambda dialog: (self.settle(dialog), press("Return")))
        right = Camera.from_data(self.kept().camera)
        turn = Rotation.from_rotvec([0.012, -0.02, 0.01]).as_matrix()
        wrong = Camera(right.focal_px, right.centre, turn @ right.rotation, right.translation)
        press("Ctrl+Z")
        data = {"views": [{"camera": wrong.as_data()}]}
        self.workspace.document.run(
            add_session(
                session(
                    id="off",
                    game="nine_ball",
                    racks=[],
                    table={"preset": "pool_9ft"},
                    recordings=[{"id": "film", "file": str(film_path()), **data}],
                )
            )
        )
        self.window.open_session("off")
        self.wait_for_film()

        def act(dialog):
            self.settle(dialog)
            off = float(re.search(r"([\d.]+) px off the cloth", dialog._quality.text())[1])
            self.assertGreater(off, 3)
            name = "foot right, where the noses meet"
            place = [next(point.place for point in POINTS if point.name == name)]
            start, end = (
                dialog.film.widget_place(QPointF(*map(float, camera.project(place)[0]))).toPoint()
                for camera in (wrong, right)
            )
            self.assertGreater((end - start).manhattanLength(), 5)
            drag(dialog.film, start, end)
            wait_until(lambda: "lie on the cloth" in dialog._quality.text(), "the view mended")
            press("Return")

        self.in_the_dialog(act)
        mended = Camera.from_data(self.kept().camera)
        self.assertLess(np.abs(mended.project(CORNERS) - right.project(CORNERS)).max(), 1.5)
        self.assertGreater(np.abs(wrong.project(CORNERS) - right.project(CORNERS)).max(), 5)
