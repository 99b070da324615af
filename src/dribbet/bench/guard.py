"""An error that nobody expected: written to a file with its trace, told in one sentence, and never the end of the window."""

from __future__ import annotations

import logging
import os
import sys
import tempfile
import threading
import traceback
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QPainter

from dribbet.records import DribbetError
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from collections.abc import Callable
    from types import TracebackType

log = logging.getLogger(__name__)
LOG_BYTES: Final = 1_000_000
IN_A_ROW: Final = 3
"""So many errors on one page, with nothing that worked between them, and the window leaves it for Today."""


def log_file() -> Path:
    """Where errors are written: the person's own log folder, or a temporary one where that cannot be."""
    from platformdirs import user_log_path

    own = f"dribbet-{os.getuid()}.log"  # another person may have left theirs in the temporary folder
    for folder, name in ((user_log_path("dribbet", appauthor=False), "dribbet.log"), (Path(tempfile.gettempdir()), own)):
        try:
            folder.mkdir(parents=True, exist_ok=True)
            path = folder / name
            with path.open("a", encoding="utf-8"):
                return path
        except OSError:
            continue
    return Path("/dev/null")


def write_log() -> Path:
    """Send warnings and errors of the whole program to the log file; returns its path."""
    path = log_file()
    handler = RotatingFileHandler(path, maxBytes=LOG_BYTES, backupCount=2, encoding="utf-8", delay=True)
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    root = logging.getLogger()
    root.addHandler(handler)
    root.setLevel(logging.WARNING)
    logging.raiseExceptions = False  # a full disk must not turn a logged error into another one
    return path


def in_words(error: BaseException, where: Path | None) -> str:
    """One sentence about an error, and the way out."""
    if isinstance(error, DribbetError):
        return str(error)
    if isinstance(error, MemoryError):
        return window_words.MEMORY_IS_FULL
    told = window_words.WRITTEN_IN(where=where) if where is not None else ""
    return window_words.STUMBLED(told=told)


def _end_painters(trace: TracebackType | None) -> None:
    """End painters that an error left at work: Qt ends the program when their widget is painted again or goes."""
    for frame, _ in traceback.walk_tb(trace):
        for held in list(frame.f_locals.values()):
            if isinstance(held, QPainter) and held.isActive():
                held.end()


class Guard(QObject):
    """Hears of every error that nobody expected, in any thread, and tells it in the GUI thread."""

    _heard = pyqtSignal(object)

    def __init__(self, told: Callable[[BaseException], None]) -> None:
        super().__init__()
        self._told = told
        self._telling = False
        self._waits = False
        """Whether an error waits to be told: one press may raise it at every widget that it passes."""
        self._heard.connect(self._tell, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]  # the stubs know one argument only
        self._before: tuple[object, object] | None = None

    def stand(self) -> None:
        """Take errors from now on. PyQt ends the program on an error in a slot unless somebody takes them."""
        self._before = (sys.excepthook, threading.excepthook)
        sys.excepthook = self._hook
        threading.excepthook = self._thread_hook

    def leave(self) -> None:
        """Give errors back to whoever took them before."""
        if self._before is not None:
            sys.excepthook, threading.excepthook = self._before  # type: ignore[assignment]
            self._before = None

    def _hook(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, (KeyboardInterrupt, SystemExit)):
            sys.__excepthook__(kind, error, trace)
            return
        self.take(error, trace)

    def _thread_hook(self, args: threading.ExceptHookArgs) -> None:
        if args.exc_value is not None and not isinstance(args.exc_value, SystemExit):
            self.take(args.exc_value, args.exc_traceback)

    def take(self, error: BaseException, trace: TracebackType | None = None) -> None:
        """Write an error down and have it told."""
        _end_painters(trace or error.__traceback__)
        log.error("unexpected: %s", error, exc_info=(type(error), error, trace or error.__traceback__))
        if not self._waits:
            self._waits = True
            self._heard.emit(error)

    def _tell(self, error: BaseException) -> None:
        self._waits = False
        if self._telling:
            return  # the telling itself stumbled: it is written down, and one sentence is enough
        self._telling = True
        try:
            self._told(error)
        except Exception as another:
            log.error("while telling: %s", another, exc_info=another)
        finally:
            self._telling = False
