"""From records to the rule engines, and what a record counts as. The rules themselves are in `core.rules`."""
