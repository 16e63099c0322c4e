"""The document: sessions, racks, shots and findings as records; commands with exact undo; no window."""
