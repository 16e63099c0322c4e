"""The slip of one shot, the buttons of its keys, and its dialogs."""
