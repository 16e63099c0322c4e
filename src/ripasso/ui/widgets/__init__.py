"""Widgets that more than one workspace uses."""
