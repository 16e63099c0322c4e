"""What is in hand in Practice: whose plan, which exercise, what will have been changed; no window."""

from __future__ import annotations

from dataclasses import dataclass, field

from ripasso.core.json_data import JsonObject


@dataclass
class PracticeState:
    """The session of the plan and the exercise by their names; changes wait for the next attempt."""

    session: str | None = None
    exercise: str | None = None
    changes: list[JsonObject] = field(default_factory=list)
