"""Frames and sound by exact time: the index of a film, its readers, the worker that reads ahead."""
