"""Estimates with intervals, tests and their corrections, over counts and numbers of any kind; nothing of
cue sports.
"""
