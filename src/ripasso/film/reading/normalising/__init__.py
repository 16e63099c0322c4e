"""A picture as a camera that stands still in even light would have taken it: moved back, lit alike."""
