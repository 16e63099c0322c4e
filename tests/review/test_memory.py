"""What is kept in memory has a bound, and what was let go is there again when it is asked for."""

import unittest
from unittest import mock

from ripasso.core.measures.shots import measure_shots
from ripasso.review.document import document as documents
from ripasso.review.document.document import Document
from ripasso.review.document.edits import add_session, set_values
from ripasso.review.measuring import cache
from ripasso.review.measuring.cache import MeasureCache
from ripasso.statistics.rows.shot_rows import derived_rows
from tests.review.test_measured import measured_session
from tests.sessions import MemoryStorage, document_with, played, rack_of, session


class Sessions(unittest.TestCase):
    def setUp(self):
        self.document = Document(MemoryStorage(), derived_rows)
        for number in range(6):
            self.document.run(add_session(session(id=str(number), racks=[rack_of(played("a", "1"))])))

    def note(self, key, text):
        snapshot = self.document.session(key)
        self.document.run(set_values(snapshot, "shot", snapshot.shots[0].key, {("note",): text}, "x"))

    def test_those_nobody_asked_for_longest_go_and_come_back(self):
        with mock.patch.object(documents, "OPEN_SESSIONS", 3):
            for number in range(6):
                self.note(str(number), f"note {number}")
            self.assertEqual([key for key in "012345" if self.document.known(key)], list("345"))
            self.document.session("3")
            self.document.session("0")
            self.assertEqual([key for key in "012345" if self.document.known(key)], list("035"))
            self.assertEqual(self.document.session("1").shots[0].record.note, "note 1")

    def test_undo_reaches_a_session_that_was_let_go(self):
        with mock.patch.object(documents, "OPEN_SESSIONS", 2):
            self.note("0", "first")
            for number in range(1, 6):
                self.note(str(number), "later")
            for _ in range(6):
                self.document.undo()
            self.assertIsNone(self.document.session("0").shots[0].record.note)
            self.document.redo()
            self.assertEqual(self.document.session("0").shots[0].record.note, "first")


class Measures(unittest.TestCase):
    def test_those_of_longest_ago_go_and_are_made_again(self):
        document, book = document_with(measured_session()), MeasureCache()
        snapshot = document.session("test")
        right = book.rack(snapshot, snapshot.racks[0])
        with mock.patch.object(cache, "MOST_SHOTS", 2), mock.patch.object(cache, "MOST_RACKS", 0):
            for _ in range(3):
                self.assertEqual(book.rack(snapshot, snapshot.racks[0]), right)
            self.assertLessEqual(len(book._kept), 3)
        with mock.patch.object(cache, "measure_shots", wraps=measure_shots) as measured:
            book.rack(snapshot, snapshot.racks[0])
            self.assertEqual(measured.call_count, 0, "within its bounds nothing is measured twice")


if __name__ == "__main__":
    unittest.main()
