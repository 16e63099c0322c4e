"""Kept layouts: a list of them, the store in which they are kept and played from, and choosing one."""
