"""The diagram of Review: tools of the mouse and the dialogs of the table."""
