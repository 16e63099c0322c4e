"""The command line: what it prints, its exit codes, and one clear line for what it cannot use."""

import contextlib
import io
import json
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import av

from ripasso.cli import main
from tests.films import write_film
from tests.sessions import played, rack_of, session_data

RACK = rack_of(played("a", "2", intent="break"), played("a", "9"))


class CommandLine(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.file = self.write("one.ripasso.json", session_data(racks=[RACK]))

    def write(self, name, data):
        path = self.folder / name
        path.write_text(data if isinstance(data, str) else json.dumps(data), encoding="utf-8")
        return path

    def run_ripasso(self, *words, code=0):
        """What a command prints, called in this process; its exit code is as expected."""
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                found = main([str(word) for word in words])
            except SystemExit as stop:  # argparse ends so
                found = stop.code
        self.assertEqual(found, code, err.getvalue())
        if code == 2:
            self.assertEqual(out.getvalue(), "")
            self.assertEqual(len(err.getvalue().strip().splitlines()), 1, err.getvalue())
        return err.getvalue() if code == 2 else out.getvalue()

    def test_as_a_process(self):
        """The same from outside: output, exit codes, no traceback."""
        cases = ((self.file, 0, ""), (self.write("e.ripasso.json", ""), 2, "empty"))
        for file, code, said in cases:
            command = [sys.executable, "-m", "ripasso", "score", str(file), "--json"]
            done = subprocess.run(command, capture_output=True, text=True, check=False)
            self.assertEqual(done.returncode, code)
            self.assertIn(said, done.stderr)
            self.assertNotIn("Traceback", done.stderr)
            self.assertEqual(bool(done.stdout), code == 0)

    def test_report_of_session_files(self):
        out = self.folder / "report.html"
        pages = "summary,figures:potting,rack:1,methods"
        said = self.run_ripasso("report", self.file, out, "--pages", pages, "--title", "For Ada")
        self.assertIn("report.html", said)
        text = out.read_text(encoding="utf-8")
        for wanted in ("For Ada", "Story of rack 1", "All pots", "Schools of the trade"):
            self.assertIn(wanted, text)
        files = json.loads(self.run_ripasso("report", self.file, self.folder / "t.csv", "--json"))["files"]
        self.assertEqual(len(files), 3)
        for wrong, why in (
            (("--pages", "nothing"), "There is no page"),
            (("--pages", "figures:luck"), "There are no figures"),
            (("--player", "nobody"), "Nobody in these sessions"),
        ):
            self.assertIn(why, self.run_ripasso("report", self.file, out, *wrong, code=2))
        self.assertIn("ends with one of", self.run_ripasso("report", self.file, "x.doc", code=2))
        self.assertIn("cannot be written", self.run_ripasso("report", self.file, "/nowhere/x.html", code=2))

    def test_a_teaching_film_of_session_files(self):
        film = write_film(self.folder / "film.mp4", 75, 25)
        shot = {**played("a", "1"), "recording": "film", "t_strike": 1.0, "t_rest": 1.4}
        recording = {"id": "film", "file": str(film)}
        told = session_data(racks=[rack_of(shot)], recordings=[recording])
        file, out = self.write("filmed.ripasso.json", told), self.folder / "taught.mp4"
        said = self.run_ripasso("report", file, out, "--pages", "film:1", "--title", "For Ada")
        self.assertIn("taught.mp4, taught.vtt", said)
        with av.open(str(out)) as container:
            # A card, a second before the strike, a stop, a second after it, a stop: 25 pictures a second.
            shown = sum(1 for _ in container.decode(video=0))
        self.assertAlmostEqual(shown / 25, 2.5 + 1.0 + 3.0 + 1.0 + 3.0, delta=0.1)
        why = self.run_ripasso("report", file, out, "--pages", "film:note:nothing", code=2)
        self.assertIn("no scene", why)

    def test_report_of_a_library(self):
        library = self.folder / "own.ripasso"
        self.run_ripasso("convert", self.file, library)
        out = self.folder / "report.pdf"
        for asked in (("--report", "Monthly"), ()):
            said = self.run_ripasso("report", library, out, *asked, code=2)
            self.assertIn("keeps no report", said)
        self.assertFalse(out.exists())

    def test_score(self):
        report = json.loads(self.run_ripasso("score", self.file, "--json"))
        self.assertEqual(report["match"]["score"], {"a": 1, "b": 0})
        self.assertEqual(report["racks"][0]["ended_by"], "nine_potted")
        table = self.run_ripasso("score", self.file)
        self.assertIn("Rack 1: won by a, the 9 was potted", table)

    def test_score_with_problems(self):
        wrong = self.write("w.ripasso.json", session_data(racks=[rack_of(played("zed", "2"))]))
        report = json.loads(self.run_ripasso("score", wrong, "--json", code=1))
        self.assertEqual(report["problems"][0]["path"], "$.racks[0].shots[0].player")

    def test_score_of_a_game_without_rules(self):
        other = self.write("o.ripasso.json", session_data(game=None))
        self.assertIn("no game", self.run_ripasso("score", other, code=2))

    def test_stats(self):
        report = json.loads(self.run_ripasso("stats", self.file, "--json"))
        self.assertEqual(report["players"]["a"]["pot_success"]["made"], 0)  # the 9 was not the ball on
        one = json.loads(self.run_ripasso("stats", self.file, "--player", "bram oster", "--json"))
        self.assertEqual(list(one["players"]), ["b"])
        self.assertIn("Ada Quill: 2 shots", self.run_ripasso("stats", self.file))
        self.assertIn("nobody", self.run_ripasso("stats", self.file, "--player", "zed", code=2))

    def test_find_and_filtered_stats(self):
        found = json.loads(self.run_ripasso("find", "shot:>1", self.file, "--json"))["shots"]
        self.assertEqual(found, [{"session": "test", "rack": 1, "number": 2}])
        self.assertIn("2 of 2 shots", self.run_ripasso("find", "player:ada", self.file))
        report = json.loads(self.run_ripasso("stats", self.file, "--filter", "intent:break", "--json"))
        self.assertEqual(report["players"]["a"]["shots"], 1)
        self.assertIn("did you mean", self.run_ripasso("find", "positon:lost", self.file, code=2))
        self.assertIn("number", self.run_ripasso("stats", self.file, "--filter", "cut:steep", code=2))

    def test_check(self):
        self.assertIn("in order", self.run_ripasso("check", self.file))
        twice = session_data(racks=[rack_of({"t_strike": "x", "call": {"pocket": "middle"}})])
        wrong = self.write("w.ripasso.json", twice)
        found = json.loads(self.run_ripasso("check", wrong, "--json", code=1))
        paths = {problem["path"] for problem in found["problems"]}
        self.assertEqual(paths, {"$.racks[0].shots[0].t_strike", "$.racks[0].shots[0].call.pocket"})

    def test_check_of_records_that_contradict_the_rules(self):
        """The wrong player, an impossible ball, a ball potted twice, sixteen reds: each with its place."""
        shots = (played("a", "2", intent="break"), played("b", "1"), played("b", "2"), played("b", "12"))
        wrong = self.write("w.ripasso.json", session_data(racks=[rack_of(*shots)]))
        found = json.loads(self.run_ripasso("check", wrong, "--json", code=1))
        warned = {(w["path"], w["warning"]) for w in found["warnings"]}
        self.assertEqual(
            warned,
            {
                ("$.racks[0].shots[1]", "out_of_turn"),
                ("$.racks[0].shots[2]", "ball_not_on_table"),
                ("$.racks[0].shots[3]", "out_of_turn"),  # for nothing that counts fell before
            },
        )
        self.assertEqual([p["path"] for p in found["problems"]], ["$.racks[0].shots[3].facts.potted[0].ball"])
        frame = rack_of({"player": "a", "intent": "pot", "facts": {"potted": [{"ball": "red16"}]}})
        reds = self.write("r.ripasso.json", session_data(game="snooker", racks=[frame]))
        self.assertIn("red16", self.run_ripasso("check", reds, code=1))

    def test_layouts_there_and_back(self):
        kept = {
            "format": "ripasso-layouts",
            "version": 1,
            "layouts": [
                {
                    "id": "k1",
                    "title": "Three on the rail",
                    "tags": ["pattern"],
                    "layout": {"cue": [1.0, 0.5]},
                },
                {"id": "k2", "title": "The same, tighter", "layout": {"3": [0.4, 0.5]}, "variant_of": "k1"},
            ],
        }
        file, library = self.write("a.ripasso-layouts.json", kept), self.folder / "all.ripasso"
        self.assertIn("2 of 2 layouts are new", self.run_ripasso("convert", file, library))
        self.assertIn("0 of 2 layouts are new", self.run_ripasso("convert", file, library))
        out = self.folder / "out.ripasso-layouts.json"
        self.run_ripasso("convert", library, out)
        written = json.loads(out.read_text())
        self.assertEqual(sorted(written["layouts"], key=lambda one: one["id"]), kept["layouts"])
        for wrong, words in (
            ({"format": "ripasso-session"}, "is no file of layouts"),
            ({**kept, "layouts": [{"id": "k", "title": "t"}]}, "wrong value at layouts.0.layout"),
            ({**kept, "layouts": 7}, "wrong value at layouts"),
            ({**kept, "layouts": [{"id": "k", "title": "t", "layout": {"3": [1]}}]}, "layouts.0.layout"),
        ):
            bad = self.write("b.ripasso-layouts.json", wrong)
            self.assertIn(words, self.run_ripasso("convert", bad, library, code=2))

    def test_convert_there_and_back(self):
        library = self.folder / "all.ripasso"
        self.run_ripasso("convert", self.file, library)
        self.assertIn("equal", self.run_ripasso("convert", self.file, library))
        out = self.folder / "out.ripasso.json"
        self.run_ripasso("convert", library, out)
        self.assertEqual(json.loads(out.read_text()), json.loads(self.file.read_text()))
        changed = self.write("c.ripasso.json", session_data(racks=[RACK], note="changed"))
        self.run_ripasso("convert", changed, library, code=1)
        self.run_ripasso("convert", changed, library, "--replace")
        self.run_ripasso("convert", library, out)
        self.assertEqual(json.loads(out.read_text())["note"], "changed")
        self.run_ripasso("convert", self.write("2.ripasso.json", session_data(id="2", title="Two")), library)
        self.assertIn("“Two”", self.run_ripasso("convert", library, out, code=2))
        self.run_ripasso("convert", library, out, "--session", "Two")
        self.assertEqual(json.loads(out.read_text())["id"], "2")

    def test_schema(self):
        self.assertEqual(json.loads(self.run_ripasso("schema"))["title"], "Ripasso session")

    def test_broken_input(self):
        """Empty, renamed, cut off, wrong inside, from the future: a line each, exit code 1 or 2."""
        text = self.write("text.mp4", "A letter.")
        for command in ("score", "stats", "check"):
            self.assertIn("empty", self.run_ripasso(command, self.write("e.ripasso.json", ""), code=2))
            self.assertIn("not valid JSON", self.run_ripasso(command, text, code=2))
            cut = self.write("cut.ripasso.json", json.dumps(session_data())[:40])
            self.assertIn("not valid JSON", self.run_ripasso(command, cut, code=2))
            self.assertIn("No such file", self.run_ripasso(command, self.folder / "no.json", code=2))
        deep = self.write("d.ripasso.json", session_data(racks=[rack_of({"facts": {"potted": 7}})]))
        self.assertIn("$.racks[0].shots[0].facts.potted", self.run_ripasso("score", deep, code=2))
        self.assertIn("$.racks[0].shots[0].facts.potted", self.run_ripasso("check", deep, code=1))
        newer = self.write("n.ripasso.json", session_data(version=9, racks=[RACK]))
        self.run_ripasso("score", newer)
        self.assertIn("not a Ripasso library", self.run_ripasso("convert", text, newer, code=2))
        self.run_ripasso("convert", text, text, code=2)

    def test_wrong_arguments(self):
        self.assertIn("unrecognized", self.run_ripasso("score", self.file, "--loud", code=2))
        self.run_ripasso("score", code=2)
        self.assertIn("is a folder", self.run_ripasso("--library", self.folder, code=2))


if __name__ == "__main__":
    unittest.main()
