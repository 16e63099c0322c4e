"""Edits of the table of a session and of what lies on it: its numbers, layouts, zones and routes."""
