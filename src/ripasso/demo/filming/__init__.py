"""The simulated camera: rooms, lenses, motion, pictures and sound of recordings with exact truth."""
