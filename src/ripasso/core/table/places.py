"""Places and layouts in the table frame, the one meaning that every room gives these names."""

from __future__ import annotations

from collections.abc import Mapping

#: A place on the table: x along the length, y across, in metres from the head end's corner.
Place = tuple[float, float]
#: Where each ball lies, by its name ("cue", "1" to "15", "red3", "black", …).
Layout = Mapping[str, Place]
