"""The Plan workspace: a table, a stroke and what it would do; what else could be played."""
