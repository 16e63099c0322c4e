"""The Statistics workspace: figures per player with intervals, each leading back to its shots."""
