"""`ripasso read`: a recording in, a session of proposals out; what cannot be read gets one sentence."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from ripasso.cli import main
from ripasso.demo.library import film_path, film_truth
from ripasso.review.record.parsing import read_session


def run(*arguments):
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(["read", *map(str, arguments)])
    return code, out.getvalue(), err.getvalue()


class Read(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def write(self, name, content):
        path = self.folder / name
        path.write_bytes(content if isinstance(content, bytes) else json.dumps(content).encode())
        return path

    def test_a_film_that_ends_early_gives_its_session_and_a_sentence(self):
        whole = film_path().read_bytes()
        film = self.write("cut.mp4", whole[: len(whole) * 2 // 9])
        view = self.write("view.json", {"camera": film_truth()["camera"], "game": "nine_ball"})
        code, out, err = run(film, "--view", view, "--json")
        self.assertEqual(code, 1)
        self.assertIn("it was read up to", err)
        session = read_session(out)
        self.assertEqual(session.game, "nine_ball")
        (rack,) = session.racks
        self.assertEqual(rack.shots[0].intent, "break")
        self.assertAlmostEqual(rack.shots[0].t_strike, film_truth()["shots"][0]["t_strike"], delta=0.25)
        # One ball of the rack stands behind others.
        self.assertLessEqual(set(rack.shots[0].before), {"cue", *map(str, range(1, 10))})
        self.assertGreaterEqual(len(rack.shots[0].before), 9)
        self.assertIn("/before/9", rack.shots[0].proposed)

    def test_what_cannot_be_read_is_one_sentence(self):
        nothing = self.write("nothing.mp4", b"")
        for arguments, words in (
            ((self.folder / "none.mp4", "--game", "snooker"), "is not there"),
            ((nothing, "--game", "snooker"), "is empty"),
            ((nothing, "--game", "curling"), "There is no game curling"),
            ((nothing,), "Which game?"),
            ((nothing, "--view", self.write("v.json", b"[]")), "does not hold a JSON object"),
        ):
            code, out, err = run(*arguments)
            self.assertEqual((code, out), (2, ""))
            self.assertIn(words, err)
            self.assertEqual(err.count("\n"), 1)
