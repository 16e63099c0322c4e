"""What Review has in hand, without a widget: selection, commands, and the list of keys."""
