"""Cases made by others, where they lie beside the checkout; own tests hold the same rules without them."""

import json
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from ripasso.film import build_index
from ripasso.review.figures import stats_report
from ripasso.review.model import dump
from ripasso.review.reading import read_session

ROOT = Path(__file__).resolve().parents[2]
SHARED = ROOT.parent / "shared"
REFERENCE = SHARED / "reference"
#: Paths of the expected statistics that need no layout.
JUDGED = ("pot_success", "two_way_success", "flukes", "position_judged", "agreement")


@unittest.skipUnless(REFERENCE.is_dir(), "the reference cases are not beside this checkout")
class ReferenceCases(unittest.TestCase):
    def test_rules(self):
        command = f"{sys.executable} -m ripasso score {{file}} --json"
        runner = [sys.executable, str(REFERENCE / "compare_rules.py"), str(REFERENCE / "rules")]
        done = subprocess.run([*runner, "--cmd", command], capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)

    def test_every_session_comes_back_without_loss(self):
        files = list((REFERENCE / "measures").glob("*.ripasso.json"))
        sessions = [json.loads(file.read_text()) for file in files]
        sessions += [json.loads(f.read_text())["session"] for f in (REFERENCE / "rules").glob("*.json")]
        self.assertGreater(len(sessions), 30)
        for data in sessions:
            self.assertEqual(dump(read_session(json.dumps(data))), data)

    def test_judged_statistics_of_the_nine_ball_session(self):
        folder = REFERENCE / "measures"
        session = read_session((folder / "session_nine_ball.ripasso.json").read_bytes())
        report = stats_report([session])
        expected = json.loads((folder / "session_nine_ball.stats.expected.json").read_text())["items"]
        compared = 0
        for item in expected:
            parts = item["path"].split("/")
            if parts[0] != "players" or not any(name in parts for name in JUDGED):
                continue
            found = report
            for part in parts:
                found = _inside(found, part)
            if isinstance(item["value"], float):
                self.assertAlmostEqual(found, item["value"], delta=1e-5, msg=item["path"])
            else:
                self.assertEqual(found, item["value"], item["path"])
            compared += 1
        self.assertGreater(compared, 80)


def _inside(data, part):
    """One step of a path: the length, a place in a list, or a key."""
    if part == "#":
        return len(data)
    return data[int(part)] if isinstance(data, list) else data[part]


@unittest.skipUnless((SHARED / "recordings").is_dir(), "the recordings are not beside this checkout")
class Recordings(unittest.TestCase):
    def test_frames_and_times_are_those_of_the_truth(self):
        for name in ("clip2", "clip4"):
            truth = json.loads((SHARED / "recordings" / f"{name}.truth.json").read_text())
            folder = Path(tempfile.mkdtemp())
            self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
            index = build_index(SHARED / "recordings" / f"{name}.mp4")
            self.assertEqual(len(index), truth["n_frames"])
            self.assertAlmostEqual(index.frame_rate, truth["fps"], places=3)
            for k in (0, 1, 500, len(index) - 1):
                self.assertAlmostEqual(index.time_s(k), k / truth["fps"], places=4)


if __name__ == "__main__":
    unittest.main()
