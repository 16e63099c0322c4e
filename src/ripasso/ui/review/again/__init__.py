"""A shot played again: the page of its attempts, and its controller."""
