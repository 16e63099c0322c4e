"""The kinds of pages: each makes blocks from the material. A new kind: a function, and a line in `making`."""
