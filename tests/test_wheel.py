"""The package as others get it: what it imports is declared, and a wheel alone with that runs."""

import ast
import importlib.metadata
import json
import re
import subprocess
import sys
import tempfile
import tomllib
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "ripasso"
#: Imports whose distribution has another name.
NAMES = {"cv2": "opencv-python-headless", "PIL": "pillow"}
RUN = """
import importlib.abc, json, pathlib, pkgutil, sys

ALLOWED = set(json.loads(sys.argv[1]))
class OnlyDeclared(importlib.abc.MetaPathFinder):
    def find_spec(self, name, path, target=None):
        top = name.partition(".")[0]
        if top not in ALLOWED and top not in sys.stdlib_module_names and not top.startswith("_"):
            raise ModuleNotFoundError(f"{name} is not declared", name=name)
        return None

sys.path[:0] = [sys.argv[2]]
sys.meta_path.insert(0, OnlyDeclared())
import ripasso
assert pathlib.Path(ripasso.__file__).is_relative_to(sys.argv[2]), ripasso.__file__
for module in pkgutil.walk_packages(ripasso.__path__, "ripasso."):
    if ".versions." not in module.name and not module.name.endswith(("__main__", "migrations.env")):
        __import__(module.name)
from ripasso.cli import main
sys.exit(main(["check", sys.argv[3]]))
"""


def declared():
    """The distributions that the package names, in their usual form."""
    project = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]
    return {_usual(re.split(r"[<>=\\[; ]", line)[0]) for line in project["dependencies"]}


def _usual(name):
    return re.sub(r"[-_.]+", "-", name).lower()


def closure(names):
    """Distributions with all that they need."""
    found, waiting = set(), list(names)
    while waiting:
        name = waiting.pop()
        if name in found:
            continue
        found.add(name)
        for line in importlib.metadata.requires(name) or ():
            if "extra ==" not in line:
                needed = _usual(re.split(r"[<>=!~\\[; (]", line)[0])
                try:
                    importlib.metadata.distribution(needed)
                except importlib.metadata.PackageNotFoundError:
                    continue  # for another system or an older Python
                waiting.append(needed)
    return found


def top_modules(distributions):
    """What can be imported of distributions."""
    by_module = importlib.metadata.packages_distributions()
    return {top for top, owners in by_module.items() if {_usual(o) for o in owners} & distributions}


class Declared(unittest.TestCase):
    def test_every_import_is_declared(self):
        imported = set()
        for path in SOURCE.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Import):
                    imported |= {name.name.partition(".")[0] for name in node.names}
                elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
                    imported.add(node.module.partition(".")[0])
        foreign = {n for n in imported if n not in sys.stdlib_module_names and n != "ripasso"}
        needed = {_usual(NAMES.get(name, name)) for name in foreign}
        self.assertEqual((needed - declared(), declared() - needed), (set(), set()))


class Wheel(unittest.TestCase):
    def test_a_wheel_runs_with_what_it_declares(self):
        with tempfile.TemporaryDirectory() as folder:
            pip = [sys.executable, "-m", "pip", "--disable-pip-version-check", "--quiet"]
            build = [
                *pip,
                "wheel",
                "--no-build-isolation",
                "--no-deps",
                "--no-index",
                "-w",
                folder,
                str(ROOT),
            ]
            subprocess.run(build, check=True, capture_output=True, text=True)
            (wheel,) = Path(folder).glob("ripasso-*.whl")
            place = Path(folder) / "installed"
            install = [*pip, "install", "--no-deps", "--no-index", "--target", str(place), str(wheel)]
            subprocess.run(install, check=True, capture_output=True, text=True)
            session = Path(folder) / "one.ripasso.json"
            session.write_text('{"format": "ripasso-session", "version": 1, "id": "one", "title": "One"}')

            allowed = json.dumps(sorted({"ripasso", *top_modules(closure(declared()))}))
            done = subprocess.run(
                [sys.executable, "-c", RUN, allowed, str(place), str(session)],
                capture_output=True,
                text=True,
                cwd=folder,
                check=False,
            )
            self.assertEqual((done.returncode, done.stderr[-2000:]), (0, ""))
            shipped = {path.suffix for path in place.rglob("*") if path.is_file()}
            self.assertLessEqual({".py", ".otf", ".svg", ".qss", ".mo", ".mp4"}, shipped)


if __name__ == "__main__":
    unittest.main()
