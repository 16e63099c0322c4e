"""Films written: pictures and sound encoded anew, or parts of a film copied as they are."""
