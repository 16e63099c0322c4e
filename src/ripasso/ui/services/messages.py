"""The one place for messages: any part of the program says one, one line of the window shows it."""

from __future__ import annotations

import logging
import sys
import threading
from traceback import format_exception
from types import TracebackType

from PyQt6.QtCore import QObject, pyqtSignal

logger = logging.getLogger("ripasso.messages")


def uncaught(error: BaseException) -> tuple[str, str, str]:
    """What is said of an error that nobody caught: sentence, tone, details."""
    words = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
    details = "".join(format_exception(error))
    return f"Something went wrong inside the program: {words.rstrip('.')}.", "bad", details


class Messages(QObject):
    """Sentences for the user, from any thread. Early ones wait until a window listens."""

    #: Sentence, tone, and what a developer would ask for; empty but for an error nobody caught.
    said = pyqtSignal(str, str, str)

    def __init__(self) -> None:
        super().__init__()
        self._early: list[tuple[str, str, str]] = []
        self._heard = False

    def say(self, sentence: str, tone: str = "plain", details: str = "") -> None:
        """Show a sentence; `tone` is plain, good or bad. `details` can be copied beside it."""
        logger.info("%s: %s", tone, sentence)
        if self._heard:
            self.said.emit(sentence, tone, details)
        else:
            self._early.append((sentence, tone, details))

    def open(self) -> None:
        """A window listens from now on; what was said before is said again."""
        self._heard = True
        for early in self._early:
            self.said.emit(*early)
        self._early.clear()

    def catch_all(self) -> None:
        """Let errors that nobody caught, of any thread, arrive here too instead of ending the program."""

        def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
            if issubclass(kind, KeyboardInterrupt):
                sys.__excepthook__(kind, error, trace)
                return
            logger.error("uncaught", exc_info=(kind, error, trace))
            self.say(*uncaught(error))

        def thread_hook(arguments: threading.ExceptHookArgs) -> None:
            error = arguments.exc_value or arguments.exc_type()
            hook(arguments.exc_type, error, arguments.exc_traceback)

        sys.excepthook = hook
        threading.excepthook = thread_hook
