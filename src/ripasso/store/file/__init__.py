"""The file of a library: connections, its lock, copies and backups; what its rows mean is not known here."""
