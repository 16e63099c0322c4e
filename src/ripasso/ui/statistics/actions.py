"""What can be done in Statistics, as data."""

from __future__ import annotations

from ripasso.ui.actions import ActionSpec

ACTIONS = (
    ActionSpec("open", "Open the shot", ("Return",), "Statistics", "show the shot in Review"),
    ActionSpec(
        "play", "Play all as one film", ("Ctrl+P",), "Statistics", "the shots of the list, in its order"
    ),
    ActionSpec(
        "report_page", "Into the report", ("Ctrl+Shift+E",), "Statistics", "this page as one of the report"
    ),
    ActionSpec("copy_table", "Copy the table", ("Ctrl+C",), "Statistics", "copy figures or marks as CSV"),
    ActionSpec(
        "copy_picture", "Copy the picture", ("Ctrl+Shift+C",), "Statistics", "copy the chart, or figures"
    ),
)
