"""The program for a long time: random steps, starts with keys pressed, kills at any moment."""
