"""The camera's view of the table: fitted to known points, used to bring balls in the picture to the table."""
