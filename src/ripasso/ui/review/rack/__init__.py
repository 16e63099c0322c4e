"""The rack and the match: ribbon, score line, sheets."""
