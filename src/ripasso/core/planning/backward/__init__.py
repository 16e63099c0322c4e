"""The whole rack worked out backwards, from the last ball: the chance to clear from everywhere."""
