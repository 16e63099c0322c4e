"""The computing core: tables, rules and measures as plain values; no window, no files."""
