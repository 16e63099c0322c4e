"""What can be wrong with a film, as sentences."""


class FilmError(RuntimeError):
    """The film cannot be used so; the message is one sentence for the user."""
