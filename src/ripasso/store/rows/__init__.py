"""The tables of a library and their rows: each module reads and writes one kind; nothing opens a file."""
