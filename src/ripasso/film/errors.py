"""What can be wrong with a film, as sentences."""


class ViewError(ValueError):
    """A view cannot be used, or its points give no camera; the message is one sentence for the user."""


class FilmError(RuntimeError):
    """The film cannot be used so; the message is one sentence for the user."""


class NoTable(FilmError):
    """There is no table to be found; the message is one sentence for the user."""
