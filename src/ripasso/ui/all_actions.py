"""The actions of every workspace, for the sheet of keys and for finding one by its words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ripasso.ui.actions import ActionSpec
from ripasso.ui.plan.actions import ACTIONS as PLAN
from ripasso.ui.practice.actions import ACTIONS as PRACTICE
from ripasso.ui.report.actions import ACTIONS as REPORT
from ripasso.ui.review.state.keys import SHEET
from ripasso.ui.sessions.page import ACTIONS as SESSIONS
from ripasso.ui.statistics.actions import ACTIONS as STATISTICS

#: Those of each workspace, in the order of the side bar.
ACTIONS_OF: Mapping[str, Sequence[ActionSpec]] = {
    "sessions": SESSIONS,
    "review": SHEET,
    "plan": PLAN,
    "practice": PRACTICE,
    "statistics": STATISTICS,
    "report": REPORT,
}


def every_action(window: Sequence[ActionSpec]) -> tuple[ActionSpec, ...]:
    """Those of the window first, then workspace by workspace."""
    return (*window, *SHEET, *PLAN, *PRACTICE, *SESSIONS, *STATISTICS, *REPORT)
