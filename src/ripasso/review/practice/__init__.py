"""Exercises and practice plans of the document: commands with exact undo, what is due, and their words.

Numbers and rules come from `core.practice`; how it looks belongs to `ui.practice`.
"""
