"""One row of facts a shot: from a record as it changes, and from the library's columns."""
