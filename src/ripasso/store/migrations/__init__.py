"""The library's versions, one step a file, and `migrate`, which brings a library up to date."""
