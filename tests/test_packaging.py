"""What a desktop and a packager are given: entry, icon, file types, man page, licences, wheels."""

import contextlib
import hashlib
import io
import os
import subprocess
import sys
import tarfile
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest.mock import patch
from xml.etree import ElementTree

from ripasso import __version__
from ripasso.cli import COMMANDS, main
from tests.licences import document
from tests.test_wheel import closure, declared

ROOT = Path(__file__).resolve().parents[1]
PACKAGING = ROOT / "packaging"
#: What Qt's own reading of the shared MIME database says of three names.
ASKED = """
from PyQt6.QtCore import QMimeDatabase
book = QMimeDatabase()
for name in ("a.ripasso", "a.ripasso.json", "a.json"):
    print(book.mimeTypeForFile(name, QMimeDatabase.MatchMode.MatchExtension).name())
"""


def run(*command, **more):
    done = subprocess.run(list(map(str, command)), capture_output=True, text=True, check=False, **more)
    return done.returncode, done.stdout + done.stderr


class Desktop(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_the_platform_s_own_tools_find_nothing_wrong(self):
        self.assertEqual(run("desktop-file-validate", PACKAGING / "ripasso.desktop"), (0, ""))
        code, said = run("appstreamcli", "validate", "--no-net", PACKAGING / "ripasso.metainfo.xml")
        self.assertEqual(code, 0, said)
        self.assertEqual(run("mandoc", "-T", "lint", "-W", "warning", PACKAGING / "ripasso.1"), (0, ""))

    def test_it_is_put_in_its_places_and_taken_away_again(self):
        given = (f"DESTDIR={self.folder}", "PREFIX=/usr")
        code, said = run("make", "-s", "install-data", *given, cwd=ROOT)
        self.assertEqual(code, 0, said)
        share = self.folder / "usr/share"
        wanted = {
            "applications/ripasso.desktop",
            "icons/hicolor/scalable/apps/ripasso.svg",
            "mime/packages/ripasso.xml",
            "metainfo/invalid.ripasso.Ripasso.metainfo.xml",
            "man/man1/ripasso.1",
        }
        there = {str(path.relative_to(share)) for path in share.rglob("*") if path.is_file()}
        self.assertLessEqual(wanted, there)
        # Files are told by their names once the desktop has read what was put there.
        found = self.types_told_by(share)
        self.assertEqual(
            found, ["application/x-ripasso-library", "application/x-ripasso-session+json", "application/json"]
        )
        self.assertEqual(run("make", "-s", "uninstall", *given, cwd=ROOT)[0], 0)
        left = {str(path.relative_to(share)) for path in share.rglob("*") if path.is_file()}
        self.assertEqual(left & wanted, set())

    def types_told_by(self, share):
        environment = {
            **os.environ,
            "XDG_DATA_HOME": str(self.folder / "nobody"),
            "XDG_DATA_DIRS": f"{share}:/usr/share",
        }
        _code, said = run(sys.executable, "-c", ASKED, env=environment)
        return said.split()

    def test_the_entry_names_what_is_installed(self):
        entry = (PACKAGING / "ripasso.desktop").read_text()
        types = {one.get("type") for one in ElementTree.parse(PACKAGING / "ripasso-mime.xml").getroot()}
        self.assertEqual(set(entry.split("MimeType=")[1].splitlines()[0].strip(";").split(";")), types)
        told = ElementTree.parse(PACKAGING / "ripasso.metainfo.xml").getroot()
        self.assertEqual({one.text for one in told.iter("mediatype")}, types)
        self.assertEqual(told.find("releases/release").get("version"), __version__)
        manual = (PACKAGING / "ripasso.1").read_text()
        for command in COMMANDS:
            self.assertRegex(manual, rf"(?m)^\.It Ic .*\b{command}\b")

    def test_every_package_has_its_licence(self):
        text = (ROOT / "docs" / "licences.md").read_text()
        for name in closure(declared()):
            self.assertRegex(text, rf"(?m)^\| {name} \| (?!see the package)\S")
        self.assertEqual(text, document())


class CommandLine(unittest.TestCase):
    def test_the_version(self):
        out = io.StringIO()
        with contextlib.redirect_stdout(out), self.assertRaises(SystemExit) as left:
            main(["--version"])
        self.assertEqual((left.exception.code, out.getvalue().strip()), (0, f"ripasso {__version__}"))

    def test_a_file_of_the_desktop_is_opened_as_what_it_is(self):
        with tempfile.TemporaryDirectory() as folder, patch("ripasso.ui.app.run", return_value=0) as opened:
            library, session = Path(folder) / "a.ripasso", Path(folder) / "a.ripasso.json"
            library.touch()
            self.assertEqual([main([str(library)]), main([str(session)])], [0, 0])
            err = io.StringIO()
            with contextlib.redirect_stderr(err):
                self.assertEqual(main([str(Path(folder) / "b.ripasso")]), 2)
            self.assertIn("b.ripasso is not there.", err.getvalue())
        self.assertEqual([call.args for call in opened.call_args_list], [(library, None), (None, session)])


class Built(unittest.TestCase):
    """Wheels are the same to the byte, also from the source archive, which holds all that is needed."""

    def built(self, source, folder):
        folder.mkdir()
        pip = [sys.executable, "-m", "pip", "--disable-pip-version-check", "--quiet", "wheel"]
        given = ["--no-build-isolation", "--no-deps", "--no-index", "-w", str(folder), str(source)]
        environment = {**os.environ, "SOURCE_DATE_EPOCH": "1790000000"}
        code, said = run(*pip, *given, env=environment)
        self.assertEqual(code, 0, said)
        (wheel,) = folder.glob("*.whl")
        return wheel

    def test_twice_and_from_the_archive(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            code, said = run(
                sys.executable, "-m", "hatchling", "build", "-t", "sdist", "-d", folder, cwd=ROOT
            )
            self.assertEqual(code, 0, said)
            (archive,) = folder.glob("*.tar.gz")
            with tarfile.open(archive) as opened:
                # Python 3.11 knows the filter from 3.11.4 on; Debian 12 has 3.11.2.
                safely = {"filter": "data"} if hasattr(tarfile, "data_filter") else {}
                opened.extractall(folder / "source", **safely)
            (source,) = (folder / "source").iterdir()
            self.assertTrue((source / "packaging/ripasso.desktop").is_file())
            wheels = [self.built(one, folder / str(n)) for n, one in enumerate((ROOT, ROOT, source))]
            sums = {hashlib.sha256(wheel.read_bytes()).hexdigest() for wheel in wheels[:2]}
            self.assertEqual(len(sums), 1)
            names = [set(zipfile.ZipFile(wheel).namelist()) for wheel in wheels]
            self.assertEqual(names[0] ^ names[2], set())
            self.assertLessEqual(
                {"ripasso/guide/user-guide.md", "ripasso/guide/screenshots/review.png"}, names[0]
            )


if __name__ == "__main__":
    unittest.main()
