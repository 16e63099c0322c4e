"""The search of Review: the page with its line and results, and its controller."""
