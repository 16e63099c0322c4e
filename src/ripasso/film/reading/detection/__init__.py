"""What is seen in one frame: the table, balls at rest, shadows, and stretches that are not live."""
