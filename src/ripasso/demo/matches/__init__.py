"""Invented players and matches, drawn by a seeded generator; nothing here makes a picture."""
