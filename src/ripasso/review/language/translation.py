"""Texts of the program in the words of a language: a catalogue each for British and American English.

A text is written once in the source, in neutral trade words; `tr` gives it in the language in use where it is
composed or shown. What people typed (names, titles, notes, tags) never goes through `tr`. A text of a table
that is made when its module is loaded is marked with `noop` and goes through `tr` where it is shown.

The catalogues are GNU gettext's, beside this module; `make catalogues` brings them up to date. To add a
language: a folder there, and a line in `LANGUAGES`.
"""

from __future__ import annotations

import gettext
from pathlib import Path

DOMAIN = "ripasso"
CATALOGUES = Path(__file__).parent / "catalogues"
#: Each language with its name in itself.
LANGUAGES = {"en_GB": "British English", "en_US": "American English"}


class Translator:
    """Looks texts up in the catalogue of the language in use; a text that is not there stays as it is.

    A process speaks one language at a time, as with Qt's own translators, so there is one: `tr`.
    """

    def __init__(self) -> None:
        self.language = ""
        self._catalogue = gettext.NullTranslations()

    def use(self, language: str) -> None:
        """Speak a language from now on; what is shown already changes when it is shown anew."""
        self.language = language
        self._catalogue = gettext.translation(DOMAIN, CATALOGUES, [language], fallback=True)

    def __call__(self, text: str) -> str:
        return self._catalogue.gettext(text) if text else text


tr = Translator()


def noop(text: str) -> str:
    """Marks a text for the catalogues without looking it up."""
    return text
