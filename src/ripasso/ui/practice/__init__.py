"""The Practice workspace: what is due, the running exercise, progress, the timetable, checks of the table."""
