"""The Review workspace: score line, rack ribbon, film, table, the slip and its keys."""
