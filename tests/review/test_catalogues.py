"""The catalogues of texts: complete, compiled, and sound English in both traditions."""

import gettext
import re
import unittest

from ripasso.review.language.translation import LANGUAGES, Translator, noop, tr
from ripasso.review.language.vocabulary import count, word
from tests.catalogues import marked_texts, po_path, read_catalogue

#: What a mere exchange of words would make of sentences.
BROKEN = re.compile(
    r"made pocketing|shot the cue ball|shot something|(are|do|all|of|the) pocketing\b|breaks that shot",
    re.IGNORECASE,
)
#: Words of one tradition that the other does not use.
WRONG = {
    "en_US": re.compile(r"\b(pots?|potted|potting|cushions?|in-off|middle (left|right))\b", re.IGNORECASE),
    "en_GB": re.compile(
        r"\b(pocketed|cue balls?|run-outs?|scratch(ed)?|side (left|right|pockets?))\b", re.IGNORECASE
    ),
}


class Catalogues(unittest.TestCase):
    def test_every_marked_text_is_in_every_catalogue_and_no_other(self):
        texts = set(marked_texts())
        self.assertGreater(len(texts), 150)
        for language in LANGUAGES:
            with self.subTest(language):
                known = {message.id for message in read_catalogue(language) if message.id}
                self.assertEqual((texts - known, known - texts), (set(), set()), "run `make catalogues`")

    def test_the_compiled_catalogues_are_those_of_the_texts(self):
        for language in LANGUAGES:
            said = {m.id: m.string for m in read_catalogue(language) if m.id and m.string}
            with self.subTest(language), po_path(language).with_suffix(".mo").open("rb") as file:
                shipped = dict(gettext.GNUTranslations(file)._catalog)
                shipped.pop("", None)
                self.assertEqual(shipped, said, "run `make catalogues`")

    def test_each_speaks_its_own_words_in_whole_sentences(self):
        for language, wrong in WRONG.items():
            translator = Translator()
            translator.use(language)
            said = [translator(text) for text in marked_texts()]
            with self.subTest(language):
                self.assertEqual([text for text in said if wrong.search(text)], [])
                self.assertEqual([text for text in said if BROKEN.search(text)], [])

    def test_a_text_without_a_translation_stays(self):
        translator = Translator()
        for language in ("", "en_US", "xx_XX"):
            translator.use(language)
            self.assertEqual(translator("A text nobody knows"), "A text nobody knows")
            self.assertEqual(translator(""), "")
        self.assertEqual(noop("pot"), "pot")

    def test_words_and_nouns_follow_the_language(self):
        self.addCleanup(tr.use, tr.language)
        tr.use("en_US")
        self.assertEqual((word("error_pot"), word("head_left")), ("missed shot", "head left"))
        tr.use("en_GB")
        self.assertEqual((word("error_pot"), word("head_left")), ("missed pot", "baulk left"))
        self.assertEqual((count(1, "run-out"), count(2, "run-out")), ("1 clearance", "2 clearances"))
        # A name without words of its own shows as itself: a tag of somebody's, say.
        self.assertEqual(word("my_pot_drill"), "my pot drill")


if __name__ == "__main__":
    unittest.main()
