"""A film that reads itself: shots, balls and pots as proposals. docs/reading.md says how it works."""
