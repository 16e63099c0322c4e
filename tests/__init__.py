"""Tests mirror src; stories drive the real window, references hold it against outside values.

Everything here runs offscreen, without network, and with folders of its own instead of the user's.
"""

import atexit
import os
import tempfile
import warnings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.TemporaryDirectory(prefix="ripasso-tests-")
atexit.register(_home.cleanup)
for _name in ("XDG_CONFIG_HOME", "XDG_DATA_HOME"):
    os.environ[_name] = f"{_home.name}/{_name.lower()}"
# What is compiled once serves every process of a run.
os.environ["XDG_CACHE_HOME"] = os.environ.setdefault("RIPASSO_TESTS_CACHE", f"{_home.name}/cache")
os.environ["HOME"] = _home.name
# A warning is a failure: of Python here, of Qt in tests.run.
warnings.simplefilter("error")

from hypothesis import HealthCheck, settings  # noqa: E402

# How long an example takes says something of the machine, nothing of the program.
settings.register_profile("house", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("house")
