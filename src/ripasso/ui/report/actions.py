"""What can be done in Report, as data."""

from __future__ import annotations

from ripasso.ui.actions import ActionSpec

GROUP = "Report"
ACTIONS = (
    ActionSpec("new_report", "new report", ("Ctrl+N",), GROUP, "a report of a player, with the usual pages"),
    ActionSpec("delete_report", "delete the report", ("Ctrl+Delete",), GROUP, "take the report away"),
    ActionSpec("add_page", "add a page", ("Ins",), GROUP, "a page more, behind the chosen one"),
    ActionSpec("remove_page", "take it out", ("Delete",), GROUP, "take the chosen page out"),
    ActionSpec("page_up", "up", ("Alt+Up",), GROUP, "the chosen page stands earlier"),
    ActionSpec("page_down", "down", ("Alt+Down",), GROUP, "the chosen page stands later"),
    ActionSpec("renew", "bring up to date", ("F5",), GROUP, "make the page anew from the library"),
    ActionSpec("write", "write", ("Ctrl+E",), GROUP, "PDF, HTML, tables, a teaching film; again: stop"),
    ActionSpec("print", "print", ("Ctrl+P",), GROUP, "print the report"),
)
