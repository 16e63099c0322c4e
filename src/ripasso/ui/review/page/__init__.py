"""The page of Review, and which function each key calls; it composes the rest."""
