"""Balls on their way: tracks, the trajectory of each ball, where shots begin and end."""
