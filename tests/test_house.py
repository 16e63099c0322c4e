"""The house: imports point one way, the window stays out of the rooms below, nothing heavy at start."""

import ast
import subprocess
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "ripasso"
#: From the ground floor up; a room may use those before it.
ROOMS = ("core", "review", "film", "store", "drawing", "demo", "ui", "reading_command", "cli")
#: Within the core, likewise.
CORE_ROOMS = ("table", "geometry", "rules", "measures")
#: What a room may not use although it stands above.
APART = {"store": {"film"}, "drawing": {"film", "store", "review"}, "film": {"review"}}
WITHOUT_QT = ("core", "review", "film", "store", "drawing", "demo")
HEAVY = ("pandas", "scipy", "numba", "matplotlib", "cv2")
LONGEST_MODULE = 500
LONGEST_CLASS = 320


def imports(path):
    """The absolute names of the project's modules that a file imports."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
        elif isinstance(node, ast.Import):
            yield from (name.name for name in node.names)


def room_of(module):
    parts = module.split(".")
    return parts[1] if parts[0] == "ripasso" and len(parts) > 1 else None


def wrong_arrows(source, rooms, apart, depth=1):
    """Every import that points up, or into a room that is kept apart."""
    found = []
    for path in sorted(source.rglob("*.py")):
        own = path.relative_to(source).with_suffix("").parts[0]
        if own not in rooms:
            continue
        for module in imports(path):
            parts = module.split(".")
            other = parts[depth] if parts[0] == "ripasso" and len(parts) > depth else None
            if depth == 2 and parts[:2] != ["ripasso", "core"]:
                continue
            if other not in rooms or other == own:
                continue
            if rooms.index(other) > rooms.index(own) or other in apart.get(own, ()):
                found.append(f"{path.relative_to(source)} imports {module}")
    return found


class Arrows(unittest.TestCase):
    def test_they_point_one_way(self):
        self.assertEqual(wrong_arrows(SOURCE, ROOMS, APART), [])
        self.assertEqual(wrong_arrows(SOURCE / "core", CORE_ROOMS, {}, depth=2), [])

    def test_a_wrong_arrow_is_seen(self):
        with tempfile.TemporaryDirectory() as folder:
            room = Path(folder) / "core"
            room.mkdir()
            (room / "bad.py").write_text("from ripasso.ui.theme import Theme\n")
            found = wrong_arrows(Path(folder), ROOMS, APART)
        self.assertEqual(found, ["core/bad.py imports ripasso.ui.theme"])

    def test_every_module_stands_in_a_room(self):
        known = {*ROOMS, "__init__", "__main__"}
        strangers = {p.relative_to(SOURCE).with_suffix("").parts[0] for p in SOURCE.rglob("*.py")} - known
        self.assertEqual(strangers, set())


class Sizes(unittest.TestCase):
    def test_modules_and_classes_stay_small(self):
        large = []
        for path in SOURCE.rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            if text.count("\n") > LONGEST_MODULE:
                large.append(str(path.relative_to(SOURCE)))
            for node in ast.walk(ast.parse(text)):
                if isinstance(node, ast.ClassDef) and node.end_lineno - node.lineno > LONGEST_CLASS:
                    large.append(f"{path.relative_to(SOURCE)}: {node.name}")
        self.assertEqual(large, [])


def run_python(code):
    """What a fresh Python prints; fails with what it complains of."""
    done = subprocess.run(
        [sys.executable, "-c", textwrap.dedent(code)], capture_output=True, text=True, cwd=ROOT, check=False
    )
    if done.returncode != 0:
        raise AssertionError(done.stderr)
    return done.stdout


class Loading(unittest.TestCase):
    def test_the_rooms_below_work_without_qt(self):
        modules = []
        for room in WITHOUT_QT:
            for path in (SOURCE / room).rglob("*.py"):
                parts = path.relative_to(SOURCE.parent).with_suffix("").parts
                # A migration runs inside its migration; the others are plain modules.
                if "versions" not in parts:
                    modules.append(".".join(p for p in parts if p != "__init__"))
        run_python(
            f"""
            import importlib, sys
            for name in ("PyQt6", "PyQt6.QtCore", "PyQt6.QtGui", "PyQt6.QtWidgets"):
                sys.modules[name] = None
            for module in {sorted(set(modules))!r}:
                importlib.import_module(module)
            """
        )

    def test_nothing_heavy_before_the_first_paint(self):
        printed = run_python(
            f"""
            import sys, tempfile, pathlib
            from PyQt6.QtTest import QTest
            from ripasso.ui.app import application, build_window
            from ripasso.ui.workspace import build_workspace
            app = application()
            folder = tempfile.mkdtemp()
            window = build_window(build_workspace(pathlib.Path(folder) / "x.ripasso", None), demo=True)
            window.show()
            QTest.qWaitForWindowExposed(window)
            app.processEvents()
            print([name for name in {HEAVY!r} if name in sys.modules])
            window.close()
            """
        )
        self.assertEqual(printed.strip(), "[]")

    def test_a_command_loads_only_what_it_needs(self):
        printed = run_python(
            """
            import sys, io, contextlib
            from ripasso.cli import main
            with contextlib.redirect_stdout(io.StringIO()):
                main(["schema"])
            print([n for n in ("PyQt6", "av", "sqlalchemy", "alembic", "numpy.random") if n in sys.modules])
            """
        )
        self.assertEqual(printed.strip(), "[]")

    def test_sockets_are_refused(self):
        with self.assertRaises(AssertionError) as caught:
            run_python("import socket; socket.create_connection(('127.0.0.1', 9))")
        self.assertIn("no network", str(caught.exception))


if __name__ == "__main__":
    unittest.main()
