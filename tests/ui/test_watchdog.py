"""The watchdog itself: what holds the window's thread is found, what a loop inside does is not counted."""

import time
import unittest

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtTest import QTest

from tests.watchdog import ALLOWED, LIMIT_MS
from tests.windows import WATCHDOG


def work(seconds, looks=0):
    """Keep the processor busy, and until the watchdog has looked so often (it may have to wait)."""
    end, enough = time.thread_time() + seconds, WATCHDOG.looks + looks
    while time.thread_time() < end or (WATCHDOG.looks < enough and time.thread_time() < end + 20):
        pass


class Held(unittest.TestCase):
    def setUp(self):
        WATCHDOG.found.clear()
        self.addCleanup(WATCHDOG.found.clear)
        self.limit_s = WATCHDOG.limit_s

    def test_a_slot_that_works_too_long_is_named(self):
        QTimer.singleShot(0, lambda: work(4 * self.limit_s, looks=3))
        QTest.qWait(10)
        (found,) = WATCHDOG.found
        self.assertIn("tests.ui.test_watchdog:work", found)

    def test_short_work_and_waiting_are_fine(self):
        QTimer.singleShot(0, lambda: work(0.3 * self.limit_s))
        QTimer.singleShot(0, lambda: time.sleep(4 * self.limit_s))
        QTest.qWait(50)
        self.assertEqual(WATCHDOG.found, [])

    def test_what_a_loop_inside_an_event_handles_is_its_own(self):
        def wait_inside():
            loop = QEventLoop()
            for _ in range(4):
                QTimer.singleShot(0, lambda: work(0.4 * self.limit_s))
            QTimer.singleShot(50, loop.quit)
            loop.exec()

        QTimer.singleShot(0, wait_inside)
        QTest.qWait(100)
        self.assertEqual(WATCHDOG.found, [])

    def test_a_test_may_work_as_long_as_it_wants(self):
        def act():
            with WATCHDOG.paused():
                work(4 * self.limit_s)

        QTimer.singleShot(0, act)
        QTest.qWait(10)
        self.assertEqual(WATCHDOG.found, [])

    def test_the_limit_is_that_of_this_machine(self):
        self.assertGreaterEqual(self.limit_s, LIMIT_MS / 1000)
        self.assertTrue(all(len(reason.split()) > 3 for reason in ALLOWED.values()))
