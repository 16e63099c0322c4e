"""The one place for messages: any part of the program says one, one line of the window shows it."""

from __future__ import annotations

import logging
import sys
import threading
from types import TracebackType

from PyQt6.QtCore import QObject, pyqtSignal

logger = logging.getLogger("ripasso.messages")


class Messages(QObject):
    """Sentences for the user, from any thread. Early ones wait until a window listens."""

    said = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self._early: list[tuple[str, str]] = []
        self._heard = False

    def say(self, sentence: str, tone: str = "plain") -> None:
        """Show a sentence; `tone` is plain, good or bad."""
        logger.info("%s: %s", tone, sentence)
        if self._heard:
            self.said.emit(sentence, tone)
        else:
            self._early.append((sentence, tone))

    def open(self) -> None:
        """A window listens from now on; what was said before is said again."""
        self._heard = True
        for sentence, tone in self._early:
            self.said.emit(sentence, tone)
        self._early.clear()

    def catch_all(self) -> None:
        """Let errors that nobody caught, of any thread, arrive here too instead of ending the program."""

        def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
            if issubclass(kind, KeyboardInterrupt):
                sys.__excepthook__(kind, error, trace)
                return
            logger.error("uncaught", exc_info=(kind, error, trace))
            self.say(f"Something went wrong inside the program: {error or kind.__name__}.", "bad")

        def thread_hook(arguments: threading.ExceptHookArgs) -> None:
            error = arguments.exc_value or arguments.exc_type()
            hook(arguments.exc_type, error, arguments.exc_traceback)

        sys.excepthook = hook
        threading.excepthook = thread_hook
