"""Help in the window: the guide, the sheet of keys, an action found by its words, the history of changes."""
