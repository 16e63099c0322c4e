"""The shots view, and the context that controllers of Review are given instead of the page."""
