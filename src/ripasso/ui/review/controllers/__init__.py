"""Controllers of Review: each joins one kind of work of the keys to its dialogs and widgets."""
