"""The Report workspace: pages chosen and ordered, the true page beside them, and what goes out."""
