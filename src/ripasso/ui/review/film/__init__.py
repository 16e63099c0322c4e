"""The film of Review: player, sound, view, pointer and transport."""
