"""Session files: written whole or not at all, and one sentence for every wrong one."""

import json
import shutil
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from ripasso.review.record.model import serialize
from ripasso.review.record.parsing import read_session
from ripasso.store.session_file import SessionFileError, load_session, save_session
from tests.review.test_model import EVERYTHING
from tests.sessions import rack_of, session_data


class Files(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.path = self.folder / "one.ripasso.json"

    def sentence(self, data):
        self.path.write_bytes(data)
        with self.assertRaises(SessionFileError) as caught:
            load_session(self.path)
        text = str(caught.exception)
        self.assertTrue(text.endswith(".") and "\n" not in text, text)
        return caught.exception

    def test_there_and_back(self):
        record = read_session(json.dumps(EVERYTHING))
        save_session(record, self.path)
        self.assertEqual(json.loads(self.path.read_text(encoding="utf-8")), EVERYTHING)
        self.assertEqual(serialize(load_session(self.path)), EVERYTHING)

    def test_wrong_files(self):
        self.assertIn("empty", str(self.sentence(b"")))
        self.assertIn("not valid JSON", str(self.sentence(b'{"format": "ripasso-session"')))
        self.assertIn("not a Ripasso session", str(self.sentence(b'{"format": "diary"}')))
        self.assertIn("UTF-8", str(self.sentence("é".encode("utf-16"))))
        deep = session_data(racks=[rack_of({"facts": {"potted": [{"ball": 7}]}})])
        error = self.sentence(json.dumps(deep).encode())
        self.assertEqual(error.problems[0].path, "$.racks[0].shots[0].facts.potted[0].ball")

    def test_a_missing_file_and_a_folder(self):
        for path in (self.folder / "nowhere.ripasso.json", self.folder):
            with self.assertRaises(SessionFileError):
                load_session(path)

    def test_a_failed_write_leaves_the_old_file(self):
        record = read_session(json.dumps(session_data()))
        save_session(record, self.path)
        before = self.path.read_bytes()
        with (
            mock.patch(
                "ripasso.store.session_file.os.fsync", side_effect=OSError(28, "No space left on device")
            ),
            self.assertRaises(SessionFileError) as caught,
        ):
            save_session(record.model_copy(update={"title": "new"}), self.path)
        self.assertIn("No space left", str(caught.exception))
        self.assertEqual(self.path.read_bytes(), before)
        self.assertEqual([p.name for p in self.folder.iterdir()], [self.path.name])


if __name__ == "__main__":
    unittest.main()
