"""`make catalogues`: brings the catalogues of texts up to date with the source, and compiles them.

Texts are the constants in `tr(...)`, `noop(...)` and `count(..., "noun")` of the source. A text that is new
has no translation yet: it is shown as it is written until somebody gives it one in the .po file.
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from ripasso.review.language.translation import CATALOGUES, DOMAIN, LANGUAGES

SOURCE = Path(__file__).resolve().parents[1] / "src" / "ripasso"
MARKS = ("tr", "noop")


def marked_texts() -> list[str]:
    """Every text of the source that is marked for the catalogues, once each."""
    found: dict[str, None] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        for text in _texts_of(ast.parse(path.read_text(encoding="utf-8"))):
            found.setdefault(text)
    return sorted(found)


def _texts_of(tree: ast.AST) -> Iterator[str]:
    for node in ast.walk(tree):
        if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
            continue
        if node.func.id in MARKS:
            yield from (one.value for one in node.args if isinstance(one, ast.Constant))
        elif node.func.id == "count":
            nouns = [one.value for one in node.args[1:] if isinstance(one, ast.Constant)]
            yield from nouns
            if len(nouns) == 1:
                yield f"{nouns[0]}s"


def po_path(language: str) -> Path:
    """The catalogue that people edit."""
    return CATALOGUES / language / "LC_MESSAGES" / f"{DOMAIN}.po"


def read_catalogue(language: str) -> Catalog:
    """The catalogue of a language as it stands; an empty one where there is none."""
    path = po_path(language)
    if not path.exists():
        return Catalog(locale=language, domain=DOMAIN, project="Ripasso", fuzzy=False)
    with path.open("rb") as file:
        return read_po(file, locale=language, domain=DOMAIN)


def update(language: str) -> tuple[int, int]:
    """Write both files of a language; how many texts were added, and how many are gone."""
    old, texts = read_catalogue(language), marked_texts()
    fresh = Catalog(locale=language, domain=DOMAIN, project="Ripasso", fuzzy=False)
    known = {message.id: message.string for message in old if message.id}
    for text in texts:
        fresh.add(text, known.get(text, ""))
    path = po_path(language)
    path.parent.mkdir(parents=True, exist_ok=True)
    with path.open("wb") as file:
        write_po(file, fresh, width=110, omit_header=True, sort_output=True)
    with path.with_suffix(".mo").open("wb") as file:
        write_mo(file, fresh)
    return len(set(texts) - set(known)), len(set(known) - set(texts))


def main() -> None:
    for language in LANGUAGES:
        added, gone = update(language)
        sys.stdout.write(f"{language}: {added} texts added, {gone} gone\n")


if __name__ == "__main__":
    main()
