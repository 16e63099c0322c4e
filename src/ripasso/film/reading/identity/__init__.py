"""Which ball is which: appearance, names, and matching before with after."""
