"""Words: a shot said in a short language, in American or British terms, and read back from the record."""
