"""Cases made by others, where they lie beside the checkout; own tests hold the same rules without them."""

import importlib.util
import io
import json
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections import Counter
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from unittest import mock

from ripasso.cli import main
from ripasso.film import build_index
from ripasso.review.measuring.errors import rack_errors
from ripasso.review.measuring.measuring import measure_report, measure_session
from ripasso.review.record.model import serialize
from ripasso.review.record.parsing import read_session
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.report import stats_report

ROOT = Path(__file__).resolve().parents[2]
SHARED = ROOT.parent / "shared"
REFERENCE = SHARED / "reference"


@unittest.skipUnless(REFERENCE.is_dir(), "the reference cases are not beside this checkout")
class ReferenceCases(unittest.TestCase):
    def test_rules(self):
        """Every case through the command `score`, compared by their own runner; one also as a process."""
        runner = _runner("compare_rules")

        def run(call, **_options):
            said, wrong = io.StringIO(), io.StringIO()
            with redirect_stdout(said), redirect_stderr(wrong):
                code = main(call[1:])
            return subprocess.CompletedProcess(call, code, said.getvalue(), wrong.getvalue())

        cases = sorted((REFERENCE / "rules").glob("*.json"))
        self.assertGreater(len(cases), 20)
        process = f"{sys.executable} -m ripasso score {{file}} --json"
        self.assertIsNone(runner.run_case(cases[0], process, 60))
        with mock.patch.object(runner.subprocess, "run", run):
            for case in cases:
                self.assertIsNone(runner.run_case(case, "ripasso score {file} --json", 60), case.stem)

    def test_every_session_comes_back_without_loss(self):
        files = list((REFERENCE / "measures").glob("*.ripasso.json"))
        sessions = [json.loads(file.read_text()) for file in files]
        sessions += [json.loads(f.read_text())["session"] for f in (REFERENCE / "rules").glob("*.json")]
        self.assertGreater(len(sessions), 30)
        for data in sessions:
            self.assertEqual(serialize(read_session(json.dumps(data))), data)

    def test_measures(self):
        """Every expected value of `ripasso measure`, compared by the cases' own runner."""
        runner = _runner("compare_measures")
        values = 0
        for path in sorted((REFERENCE / "measures").glob("*.measure.expected.json")):
            expected = json.loads(path.read_text())
            session = read_session((path.parent / expected["session"]).read_bytes())
            found = json.loads(json.dumps(measure_report(session)))
            wrong = [i for i in expected["items"] if not runner.agrees(i, runner.look(found, i["path"]))]
            self.assertEqual(wrong, [], path.name)
            values += len(expected["items"])
        self.assertGreater(values, 5000)

    def test_statistics(self):
        """Every expected value of `ripasso stats`, compared by the cases' own runner."""
        runner = _runner("compare_measures")
        values = 0
        for path in sorted((REFERENCE / "measures").glob("*.stats.expected.json")):
            expected = json.loads(path.read_text())
            session = read_session((path.parent / expected["session"]).read_bytes())
            found = json.loads(json.dumps(stats_report([session])))
            wrong = [i for i in expected["items"] if not runner.agrees(i, runner.look(found, i["path"]))]
            self.assertEqual(wrong, [], path.name)
            values += len(expected["items"])
        self.assertGreater(values, 2600)

    def test_errors_of_both_schools_and_their_suggested_causes(self):
        compared = 0
        for path in sorted((REFERENCE / "measures").glob("session_*.stats.expected.json")):
            expected = json.loads(path.read_text())
            session = read_session((path.parent / expected["session"]).read_bytes())
            found, counts = _errors_found(session)
            for item in expected["items"]:
                player, _, rest = item["path"].removeprefix("players/").partition("/errors/list/")
                if rest == "#":
                    self.assertEqual(counts[player], item["value"], item["path"])
                elif rest.startswith("["):
                    where, field = rest.rsplit("/", 1)
                    self.assertEqual(getattr(found[player + where], field), item["value"], item["path"])
                    compared += 1
        self.assertGreater(compared, 200)


def _runner(name):
    spec = importlib.util.spec_from_file_location(name, REFERENCE / f"{name}.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def _errors_found(session):
    """Errors by player, rack, shot and kind; and how many each player has."""
    score, measured = score_of(session), measure_session(session)
    found, counts = {}, Counter()
    for place, rack in enumerate(session.racks or ()):
        errors = rack_errors(rack, score.racks[place], measured[place])
        for shot, kinds in zip(rack.shots, errors, strict=True):
            for error in kinds:
                found[f"{shot.player}[rack={rack.number},number={shot.number},kind={error.kind}]"] = error
                counts[shot.player] += 1
    return found, counts


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
