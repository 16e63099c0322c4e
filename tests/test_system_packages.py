"""The Makefile installs every system library that the Qt, film and vision libraries link to."""

import importlib.util
import re
import shutil
import subprocess
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: What links to libraries of the system: Qt with the two platforms it is used on, films, vision.
LINKED = {
    "PyQt6": (
        "*.so",
        "Qt6/lib/libQt6Core.so*",
        "Qt6/lib/libQt6Gui.so*",
        "Qt6/lib/libQt6Widgets.so*",
        "Qt6/lib/libQt6Svg.so*",
        "Qt6/lib/libQt6XcbQpa.so*",
        "Qt6/lib/libQt6DBus.so*",
        "Qt6/lib/libQt6Multimedia.so*",
        "Qt6/plugins/platforms/libqxcb.so",
        "Qt6/plugins/platforms/libqoffscreen.so",
    ),
    "av": ("**/*.so",),
    "cv2": ("*.so",),
}
#: Of PyQt6 only the modules that the program imports.
QT_MODULES = re.compile(r"(QtCore|QtGui|QtWidgets|QtSvg|QtTest|QtMultimedia|sip)\.")


def listed_packages():
    text = (ROOT / "Makefile").read_text(encoding="utf-8")
    block = re.search(r"SYSTEM_PACKAGES := (.*?)\n\n", text, re.S).group(1)
    return set(block.replace("\\", " ").split())


def run(*command):
    return subprocess.run(command, capture_output=True, text=True, check=False).stdout


def linked_files():
    """The system's libraries that ours need, as ldd finds them."""
    needed, missing = set(), set()
    for package, patterns in LINKED.items():
        folder = Path(importlib.util.find_spec(package).submodule_search_locations[0])
        files = {f for pattern in patterns for f in folder.glob(pattern)}
        for file in files:
            if file.parent == folder and package == "PyQt6" and not QT_MODULES.match(file.name):
                continue
            for line in run("ldd", str(file)).splitlines():
                name, _, target = line.strip().partition(" => ")
                if "not found" in target:
                    missing.add(name)
                elif target.startswith(("/lib", "/usr/lib")):
                    needed.add(target.split(" (")[0])
    return needed, missing


def owners_of(files):
    """File to the package that owns it. Debian 12 files a library under /lib or /usr/lib, as it was once."""
    names = {}
    for file in files:
        real = str(Path(file).resolve())
        for path in (file, real, file.removeprefix("/usr"), real.removeprefix("/usr")):
            names[path] = file
    owners = {}
    for line in run("dpkg-query", "-S", *names).splitlines():
        package, _, path = line.partition(": ")
        if path.strip() in names:
            owners[names[path.strip()]] = package.split(":")[0].split(",")[0]
    return owners


def installed_dependencies():
    """Package to the packages it depends on, for everything installed."""
    found = {}
    for line in run(
        "dpkg-query", "-W", "-f", "${Package}\t${Provides}\t${Pre-Depends},${Depends}\n"
    ).splitlines():
        package, provides, depends = line.split("\t")
        names = set(re.findall(r"[a-z0-9][a-z0-9.+-]+", re.sub(r"\([^)]*\)", "", depends)))
        found[package] = names
        for name in re.findall(r"[a-z0-9][a-z0-9.+-]+", re.sub(r"\([^)]*\)", "", provides)):
            found.setdefault(name, {package})
    return found


def closure(packages, depends):
    reached, front = set(), set(packages)
    while front:
        package = front.pop()
        if package not in reached:
            reached.add(package)
            front |= depends.get(package, set())
    return reached


@unittest.skipUnless(
    shutil.which("dpkg-query") and shutil.which("ldd"), "only where dpkg knows the libraries"
)
class SystemPackages(unittest.TestCase):
    def test_all_libraries_come_with_the_listed_packages(self):
        needed, missing = linked_files()
        self.assertEqual(missing, set(), "libraries that this machine lacks")
        self.assertGreater(len(needed), 20)
        owners = owners_of(needed)
        self.assertEqual(needed - set(owners), set(), "files that no package owns")
        reached = closure({*listed_packages(), "libc6"}, installed_dependencies())
        self.assertEqual({f: o for f, o in owners.items() if o not in reached}, {})

    def test_every_listed_package_is_installed(self):
        listed = listed_packages()
        self.assertGreater(len(listed), 10)
        states = {p: run("dpkg-query", "-W", "-f", "${Status}", p) for p in listed}
        self.assertEqual({p for p, s in states.items() if "install ok installed" not in s}, set())


if __name__ == "__main__":
    unittest.main()
