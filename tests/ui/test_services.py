"""The window's services: one door to background work, one place for messages, remembered choices."""

import json
import os
import shutil
import sys
import tempfile
import threading
import unittest
from pathlib import Path

from ripasso.ui.actions import ActionRegistry, ActionSpec
from ripasso.ui.services.background import GIVES_WAY, Background
from ripasso.ui.services.messages import Messages
from ripasso.ui.services.settings import SETTINGS, Settings
from tests.windows import destroy, wait_until


class BackgroundWork(unittest.TestCase):
    def setUp(self):
        self.messages = Messages()
        self.said = []
        self.messages.said.connect(lambda sentence, tone: self.said.append((sentence, tone)))
        self.messages.open()
        self.background = Background(self.messages)
        self.addCleanup(self.background.close)

    def test_work_is_done_elsewhere_and_its_answer_comes_back_here(self):
        threads = []
        answers = []

        def work():
            threads.append(threading.current_thread())
            return 6 * 7

        def take(answer):
            threads.append(threading.current_thread())
            answers.append(answer)

        self.background.run(work, take)
        self.assertTrue(self.background.busy)
        wait_until(lambda: answers)
        self.assertEqual(answers, [42])
        self.assertIsNot(threads[0], threading.main_thread())
        self.assertIs(threads[1], threading.main_thread())
        self.assertFalse(self.background.busy)

    def test_work_of_minutes_gives_way_and_holds_no_short_work_up(self):
        begun, end, answers = threading.Event(), threading.Event(), []
        own = os.getpriority(os.PRIO_PROCESS, threading.get_native_id())

        def work():
            begun.set()
            end.wait(20)
            return os.getpriority(os.PRIO_PROCESS, threading.get_native_id())

        for _ in range(2):
            self.background.run(work, answers.append, takes_minutes=True)
        self.assertTrue(begun.wait(20))
        short = []
        for _ in range(4):
            self.background.run(
                lambda: os.getpriority(os.PRIO_PROCESS, threading.get_native_id()), short.append
            )
        wait_until(lambda: len(short) == 4)
        self.assertEqual((set(short), answers), ({own}, []))
        end.set()
        wait_until(lambda: len(answers) == 2)
        self.assertEqual(set(answers), {min(19, max(own, GIVES_WAY))})

    def test_an_error_is_said_or_goes_to_its_caller(self):
        def fail():
            raise ValueError("The disk is full.")

        self.background.run(fail, lambda _answer: None)
        wait_until(lambda: self.said)
        self.assertEqual(self.said, [("The disk is full.", "bad")])
        errors = []
        self.background.run(fail, lambda _answer: None, errors.append)
        wait_until(lambda: errors)
        self.assertEqual(len(self.said), 1)

    def test_what_is_forgotten_never_comes(self):
        gate = threading.Event()
        answers = []
        number = self.background.run(lambda: gate.wait(5), answers.append)
        self.background.forget(number)
        gate.set()
        done = []
        self.background.run(lambda: "last", done.append)
        wait_until(lambda: done)
        self.assertEqual(answers, [])


class MessagesInOnePlace(unittest.TestCase):
    def test_early_ones_wait_for_a_window(self):
        messages, said = Messages(), []
        messages.say("Early.", "bad")
        messages.said.connect(lambda sentence, tone: said.append((sentence, tone)))
        self.assertEqual(said, [])
        messages.open()
        messages.say("Late.")
        self.assertEqual(said, [("Early.", "bad"), ("Late.", "plain")])

    def test_errors_nobody_caught_arrive_too(self):
        hooks = sys.excepthook, threading.excepthook
        self.addCleanup(lambda: setattr(sys, "excepthook", hooks[0]))
        self.addCleanup(lambda: setattr(threading, "excepthook", hooks[1]))
        messages, said = Messages(), []
        messages.said.connect(lambda sentence, _tone: said.append(sentence))
        messages.open()
        messages.catch_all()

        def fail():
            raise RuntimeError("no ball")

        with self.assertLogs("ripasso.messages", "ERROR"):
            thread = threading.Thread(target=fail)
            thread.start()
            thread.join()
            try:
                fail()
            except RuntimeError:
                sys.excepthook(*sys.exc_info())
        wait_until(lambda: len(said) == 2)
        self.assertIn("no ball", said[0])


class RememberedChoices(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.path = self.folder / "deep" / "settings.json"

    def test_they_come_back(self):
        Settings(self.path).set("last_race", 11)
        self.assertEqual(Settings(self.path).get("last_race"), 11)
        self.assertEqual(json.loads(self.path.read_text())["version"], 1)
        self.assertEqual(Settings(self.path).get("last_game"), "nine_ball")

    def test_values_outside_their_bounds_are_refused(self):
        settings = Settings(self.path)
        for name, value in (("text_scale", 9.0), ("last_race", -1), ("last_race", True), ("last_game", 3)):
            self.assertRaises(ValueError, settings.set, name, value)

    def test_what_is_handed_on_is_taken_over_without_what_belongs_to_a_machine(self):
        settings = Settings(self.path)
        for name, value in (("words", "american"), ("keys", {"play": "F7"}), ("last_folder", "/home/ida")):
            settings.set(name, value)
        stored = json.loads(json.dumps(settings.shared()))
        self.assertEqual(stored["settings"], {"words": "american", "keys": {"play": "F7"}})
        other = Settings(self.folder / "other.json")
        other.set("theme", "evening")
        self.assertEqual(other.take_over(stored), 2)
        self.assertEqual((other.get("words"), other.get("theme")), ("american", "evening"))
        self.assertEqual(Settings(self.folder / "other.json").get("keys"), {"play": "F7"})
        # What nobody knows, cannot be, or belongs to that machine is left.
        odd = {**stored, "settings": {"last_race": "many", "unknown": 1, "last_folder": "/x", "unit": "in"}}
        self.assertEqual(other.take_over(odd), 1)
        self.assertEqual((other.get("unit"), other.get("last_folder")), ("in", ""))
        for wrong in ([], {}, {"format": "ripasso-session"}, {"format": "ripasso-settings", "settings": 3}):
            self.assertRaisesRegex(ValueError, "holds no settings", other.take_over, wrong)

    def test_a_broken_or_foreign_file_is_as_good_as_none(self):
        self.path.parent.mkdir()
        for text in ("", "{", "[]", '{"last_race": "many", "unknown": 1, "text_scale": 1.2}'):
            self.path.write_text(text)
            settings = Settings(self.path)
            self.assertEqual(settings.get("last_race"), SETTINGS["last_race"].default)
        self.assertEqual(settings.get("text_scale"), 1.2)

    def test_a_damaged_file_is_set_aside_and_said(self):
        Settings(self.path).set("last_race", 11)
        for text in ("", "{", "[]"):
            self.path.write_text(text)
            settings = Settings(self.path)
            self.assertIn("set aside", settings.notice)
            self.assertEqual(self.path.with_name("settings.json.broken").read_text(), text)
            self.assertFalse(self.path.exists())
        self.assertIsNone(Settings(self.path).notice)

    def test_a_write_that_fails_leaves_the_old_file_whole(self):
        settings = Settings(self.path)
        settings.set("last_race", 11)
        self.path.with_name("settings.json.new").mkdir()  # nothing can be written there
        settings.set("last_race", 12)
        self.assertEqual(Settings(self.path).get("last_race"), 11)

    def test_a_disk_that_takes_nothing_does_not_stop_the_work(self):
        blocked = self.folder / "file"
        blocked.write_text("")
        settings = Settings(blocked / "settings.json")
        settings.set("last_race", 5)
        self.assertEqual(settings.get("last_race"), 5)

    def test_every_default_is_a_value(self):
        for setting in SETTINGS.values():
            self.assertTrue(setting.accepts(setting.default), setting.name)
            self.assertTrue(setting.meaning.endswith("."))


class Actions(unittest.TestCase):
    def test_an_action_without_a_function_is_an_error_at_start(self):
        from PyQt6.QtWidgets import QWidget

        widget = QWidget()
        spec = ActionSpec("jump", "jump", ("Ctrl+J",), "Test")
        with self.assertRaises(ValueError) as caught:
            ActionRegistry(widget, [spec]).bind({})
        self.assertIn("jump", str(caught.exception))
        calls = []
        book = ActionRegistry(widget, [spec])
        book.bind({"jump": lambda: calls.append(1)})
        book["jump"].trigger()
        self.assertEqual(calls, [1])
        self.assertIn("Ctrl J", book["jump"].toolTip())
        destroy(widget)


if __name__ == "__main__":
    unittest.main()
