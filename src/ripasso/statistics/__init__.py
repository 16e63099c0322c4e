"""From stored rows to figures, pages, questions and charts, for window and command line alike; no Qt. Figures
themselves are pure functions of `core.figures`.
"""
