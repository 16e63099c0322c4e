"""A session in the words and small tables that a person reads; nothing here changes or counts anything."""
