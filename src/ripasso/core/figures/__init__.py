"""Figures over columns of shots: each is one pure function with a name, used by window, command line and
questions alike. What one shot measures is in `core.measures`; how a figure is shown is in `statistics`.
"""
