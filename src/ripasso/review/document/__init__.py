"""Sessions in memory, changed only by commands with exact undo; the signal that announces a change. What a
key or a click means is in `review.entry`.
"""
