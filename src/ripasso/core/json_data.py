"""What JSON holds, once it is read: the one place where anything may stand below a name."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

JsonObject = dict[str, Any]
JsonMapping = Mapping[str, Any]
