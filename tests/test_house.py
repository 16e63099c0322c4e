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
BENCHMARKS = ROOT / "benchmarks"
#: The rooms of each package from the ground floor up: one may use those before it, never those after it.
ROOMS = {
    "": (
        *("style", "core", "film", "drawing", "review", "store", "statistics", "demo", "report", "ui"),
        *("reading_command", "report_lines", "planning_command", "report_command"),
        *("command_input", "convert_command", "cli", "__main__"),
    ),
    "core": (
        *("json_data", "compiled_folder", "table", "geometry", "rules", "inference", "measures"),
        *("physics", "planning", "figures", "practice", "finding"),
    ),
    "film": (
        *("errors", "fingerprint", "finding", "decoding", "encoding", "calibration", "carrying", "reading"),
    ),
    "film/reading": (
        *("motion", "detection", "normalising", "identity"),
        *(
            "sight",
            "followed_camera",
            "viewpoints",
            "view_in_picture",
            "book",
            "explaining",
            "stirred",
            "following",
            "hearing",
            "telling",
            "reader",
            "layout_in_frame",
            "accuracy",
        ),
    ),
    "review": (
        *("record", "language", "scoring", "document", "measuring"),
        *("table", "entry", "recordings", "planner", "practice", "present"),
    ),
    "store": (
        *("errors", "file", "rows", "migrations", "opening", "held_file"),
        *("session_list", "session_file", "layouts_file", "library", "recovering"),
    ),
    "statistics": ("rows", "library_index", "report", "pages", "tables", "answers"),
    "demo": ("seen", "matches", "filming", "film_plans", "library"),
    "ui": (
        *("resources", "theme", "painting", "sheet_picture", "services", "actions", "widgets", "help"),
        *("workspace", "settings_dialog", "layouts", "review", "sessions", "statistics", "recovery"),
        *("plan", "practice", "report", "all_actions", "pages", "window", "app"),
    ),
    "ui/review": (
        *("state", "table", "film", "shot", "rack", "shared"),
        *("controllers", "find", "clips", "again", "page"),
    ),
}
#: What a room may not use although it stands above.
APART = {"store": {"film", "drawing"}, "drawing": {"film"}, "review": {"film"}, "statistics": {"film"}}
WITHOUT_QT = ("style", "core", "review", "film", "store", "drawing", "statistics", "demo", "report")
#: All that may be loaded before the first picture is seen, by the beginning of its name.
FIRST = (
    *("PyQt6.", "platformdirs.", "ripasso.review.language.", "ripasso.core.json_data"),
    *("ripasso.ui.app", "ripasso.ui.window", "ripasso.ui.workspace", "ripasso.ui.sessions.page"),
    *("ripasso.ui.sessions.session_filter", "ripasso.ui.sessions.stills"),
    "ripasso.ui.pages",
    *(
        "ripasso.style.",
        "ripasso.ui.actions",
        "ripasso.ui.resources",
        "ripasso.ui.theme",
        "ripasso.ui.widgets.",
    ),
    *(
        "ripasso.ui.services.background",
        "ripasso.ui.services.collector",
        "ripasso.review.language.localization",
    ),
    *("ripasso.ui.services.log_file", "ripasso.ui.services.memory", "ripasso.ui.services.messages"),
    *("ripasso.ui.services.film_files", "ripasso.ui.services.settings", "ripasso.ui.sessions.incoming"),
    *(
        "ripasso.store.errors",
        "ripasso.store.file.connecting",
        "ripasso.store.file.header",
        "ripasso.store.file.lock",
        "ripasso.store.opening",
    ),
    *("ripasso.store.session_list", "ripasso.demo.matches.scenario"),
)
HEAVY = ("pandas", "scipy", "numba", "matplotlib", "cv2")
LONGEST_MODULE = 500
LONGEST_CLASS = 320
MOST_MODULES = 15
COMPREHENSIONS = (ast.ListComp, ast.SetComp, ast.DictComp, ast.GeneratorExp)


def imports(path):
    """The absolute names of the modules, or of what is in them, that a file imports."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            yield from (f"{node.module}.{name.name}" for name in node.names)
        elif isinstance(node, ast.Import):
            yield from (name.name for name in node.names)


def wrong_arrows(source, package, order, apart):
    """Every import inside a package that points up, comes from a stranger, or goes into a room kept apart."""
    folder = source / package
    prefix = ".".join(("ripasso", *Path(package).parts)) + "."
    found = set()
    for path in sorted(folder.rglob("*.py")):
        own = path.relative_to(folder).with_suffix("").parts[0]
        if own == "__init__":
            continue
        if own not in order:
            found.add(f"{path.relative_to(source)} stands in no room that ROOMS names")
            continue
        for name in imports(path):
            other = name.removeprefix(prefix).split(".")[0] if name.startswith(prefix) else own
            if other == own or other not in order:
                continue
            if order.index(other) > order.index(own) or other in apart.get(own, ()):
                found.add(f"{path.relative_to(source)} imports {name}")
    return sorted(found)


def import_graph(source):
    """Each module of the project with those that it imports."""
    names = {}
    for path in source.rglob("*.py"):
        parts = path.relative_to(source.parent).with_suffix("").parts
        names[".".join(part for part in parts if part != "__init__")] = path
    graph = {}
    for name, path in names.items():
        asked = {one if one in names else one.rpartition(".")[0] for one in imports(path)}
        graph[name] = (asked & set(names)) - {name}
    return graph


def circles(graph):
    """The modules that can be reached from themselves."""

    def reached(start):
        seen, waiting = set(), list(graph[start])
        while waiting:
            one = waiting.pop()
            if one not in seen:
                seen.add(one)
                waiting += graph[one]
        return seen

    return sorted(name for name in graph if name in reached(name))


class Arrows(unittest.TestCase):
    def test_they_point_one_way(self):
        for package, order in ROOMS.items():
            with self.subTest(package=package or "ripasso"):
                apart = APART if not package else {}
                self.assertEqual(wrong_arrows(SOURCE, package, order, apart), [])

    def test_a_wrong_arrow_is_seen(self):
        with tempfile.TemporaryDirectory() as folder:
            for name, line in (
                ("core", "ripasso.ui.theme import Theme"),
                ("cellar", "ripasso.core import x"),
            ):
                room = Path(folder) / name
                room.mkdir()
                (room / "bad.py").write_text(f"from {line}\n")
            found = wrong_arrows(Path(folder), "", ROOMS[""], APART)
        self.assertEqual(
            found,
            [
                "cellar/bad.py stands in no room that ROOMS names",
                "core/bad.py imports ripasso.ui.theme.Theme",
            ],
        )

    def test_no_module_leads_back_to_itself(self):
        self.assertEqual(circles(import_graph(SOURCE)), [])
        self.assertEqual(circles({"a": {"b"}, "b": {"c"}, "c": {"b"}}), ["b", "c"])


class Sizes(unittest.TestCase):
    def test_modules_and_classes_stay_small(self):
        large = []
        for path in SOURCE.rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            if text.count("\n") > LONGEST_MODULE:
                large.append(str(path.relative_to(SOURCE)))
            classes = [node for node in ast.walk(ast.parse(text)) if isinstance(node, ast.ClassDef)]
            long = [node for node in classes if node.end_lineno - node.lineno > LONGEST_CLASS]
            large += [f"{path.relative_to(SOURCE)}: {node.name}" for node in long]
        self.assertEqual(large, [])

    def test_a_package_is_small_and_says_what_belongs_in_it(self):
        for folder in {path.parent for path in SOURCE.rglob("*.py")}:
            modules = [path for path in folder.glob("*.py") if path.name != "__init__.py"]
            with self.subTest(package=str(folder.relative_to(SOURCE))):
                self.assertLessEqual(len(modules), MOST_MODULES)
                says = ast.get_docstring(ast.parse((folder / "__init__.py").read_text(encoding="utf-8")))
                self.assertGreater(len(says or ""), 40, "its docstring says what belongs in it")


def run_python(code):
    """What a fresh Python prints; fails with what it complains of."""
    done = subprocess.run(
        [sys.executable, "-c", textwrap.dedent(code)], capture_output=True, text=True, cwd=ROOT, check=False
    )
    if done.returncode != 0:
        raise AssertionError(done.stderr)
    return done.stdout


class PlainStatements(unittest.TestCase):
    """What the linter has no rule for: it counts branches, and does not see them inside an expression."""

    @staticmethod
    def depth(node):
        """How many loops a comprehension has, those inside it counted."""
        inner = max((PlainStatements.depth(part) for part in ast.iter_child_nodes(node)), default=0)
        return inner + len(node.generators) if isinstance(node, COMPREHENSIONS) else inner

    def test_no_conditional_in_a_conditional_and_no_comprehension_over_two_levels(self):
        dense = []
        for path in (
            path for room in (SOURCE, ROOT / "tests", ROOT / "benchmarks") for path in room.rglob("*.py")
        ):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.IfExp):
                    parts = [part for child in ast.iter_child_nodes(node) for part in ast.walk(child)]
                    if any(isinstance(part, ast.IfExp) for part in parts):
                        dense.append(f"{path}:{node.lineno}: a conditional in a conditional: write an if")
                elif isinstance(node, COMPREHENSIONS) and self.depth(node) > 2:
                    dense.append(f"{path}:{node.lineno}: loops of over two levels: name what is between")
        self.assertEqual(dense, [])


class Loading(unittest.TestCase):
    def test_the_rooms_below_work_without_qt(self):
        modules = []
        for room in WITHOUT_QT:
            for path in (SOURCE / room).rglob("*.py"):
                parts = path.relative_to(SOURCE.parent).with_suffix("").parts
                # What Alembic runs does so inside a migration; the others are plain modules.
                if "versions" not in parts and parts[-2:] != ("migrations", "env"):
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
            from ripasso.ui import window as window_module
            from ripasso.ui.workspace import build_workspace
            window_module.SETTLE_MS = 60_000  # what is loaded afterwards, in the background, is not meant
            app = application()
            folder = tempfile.mkdtemp()
            window = build_window(build_workspace(pathlib.Path(folder) / "x.ripasso", None), demo=True)
            window.open_session("demo-rack-on-film")
            window.show()
            QTest.qWaitForWindowExposed(window)
            app.processEvents()
            print([name for name in {HEAVY!r} if name in sys.modules])
            window.close()
            """
        )
        self.assertEqual(printed.strip(), "[]")

    def test_what_the_first_picture_waits_for(self):
        with tempfile.TemporaryDirectory() as folder:
            library = str(Path(folder) / "x.ripasso")
            run_python(
                f"""
                import pathlib
                from ripasso.ui.app import application, build_window
                from ripasso.ui.workspace import build_workspace
                app = application()
                build_window(build_workspace(pathlib.Path({library!r}), None), demo=True).close()
                """
            )
            for demo in (False, True):
                printed = run_python(
                    f"""
                    import pathlib, sys
                    before = set(sys.modules)
                    from ripasso.ui.app import application, shown_window
                    from ripasso.ui.workspace import build_workspace
                    app = application()
                    window = shown_window(build_workspace(pathlib.Path({library!r}), None), demo={demo})
                    app.processEvents()
                    assert not window.grab().isNull()
                    new = set(sys.modules) - before
                    new = {{name for name in new if name.partition(".")[0] not in sys.stdlib_module_names}}
                    packages = {{name for name in new if any(one.startswith(name) for one in {FIRST!r})}}
                    print(sorted(name for name in new - packages if not name.startswith({FIRST!r})))
                    window.close()
                    """
                )
                with self.subTest(demo=demo):
                    self.assertEqual(printed.strip(), "[]", "this is loaded before the first picture is seen")

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
