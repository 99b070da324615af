"""Work in a process of its own: what would take turns with the window's thread, such as reading a photograph or laying out pages of paper."""

from __future__ import annotations

import importlib
import logging
import os
import signal
import subprocess
import sys
import threading
from multiprocessing.connection import Connection, Pipe
from typing import TYPE_CHECKING, Any, Concatenate, Final, ParamSpec, TypeVar

from dribbet.records import DribbetError
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.records import Report

log = logging.getLogger(__name__)
P = ParamSpec("P")
T = TypeVar("T")
LOOK_EVERY_S: Final = 0.1
YIELDS: Final = 10  # niceness: as many readings as there are cores leave the window its turn
IDLE_S: Final = 300.0
"""A helper that nobody asked for so long ends, and gives its memory back."""
STOPPED: Final = window_words.WORK_STOPPED


def apart(report: Report, function: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
    """Answer of a function of a module, computed in another process; called in a job, never in the window's thread.

    `report` is asked every tenth of a second whether to go on; where it says no, the process ends at once.

    Raises
    ------
    DribbetError
        If the process ended before its answer, for example for want of memory.
    """
    return _ask(report, False, function, args, kwargs)


def apart_told(report: Report, function: Callable[Concatenate[Report, P], T], *args: P.args, **kwargs: P.kwargs) -> T:
    """Like `apart`, of a function that takes a report first: how far it is, is told here too."""
    return _ask(report, True, function, args, kwargs)


def ready() -> None:
    """Have a helper that has brought what reading a photograph needs, before the first one is asked for; without one, the first waits for it."""
    try:
        helper = _take()
        helper.pipe.send(None)
    except OSError as error:
        log.info("no helper yet: %s", error)
    else:
        _give_back(helper)


class _Helper:
    """One process that answers, one question after the other.

    It is a program of its own that knows nothing of the one that asks but where its modules lie: whatever that one is, it is not begun again.
    """

    def __init__(self) -> None:
        self.pipe, theirs = Pipe()
        ask = [sys.executable, "-m", __name__, str(theirs.fileno())]
        environment = os.environ | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
        try:
            self.process = subprocess.Popen(ask, pass_fds=(theirs.fileno(),), stdin=subprocess.DEVNULL, env=environment)
        finally:
            theirs.close()

    def alive(self) -> bool:
        """Whether it can be asked."""
        return self.process.poll() is None

    def end(self) -> None:
        """Let it go, whatever it does."""
        self.pipe.close()
        self.process.kill()
        self.process.wait()


_idle: list[_Helper] = []
_lock = threading.Lock()


def _take() -> _Helper:
    with _lock:
        while _idle:
            helper = _idle.pop()
            if helper.alive():
                return helper
            helper.end()
    return _Helper()


def _give_back(helper: _Helper) -> None:
    with _lock:
        if not _idle:
            _idle.append(helper)
            return
    helper.end()


def _ask(report: Report, told: bool, function: Callable[..., T], args: tuple[object, ...], kwargs: dict[str, object]) -> T:
    try:
        helper = _take()
    except OSError as error:
        raise DribbetError(STOPPED) from error
    at = (0, 1)
    try:
        helper.pipe.send((told, function, args, kwargs))
        kind, answer = "step", at
        while kind == "step":
            if helper.pipe.poll(LOOK_EVERY_S):
                kind, answer = helper.pipe.recv()
            if kind == "step":
                at = answer
                report(*at)
    except (EOFError, OSError) as error:
        helper.end()
        raise DribbetError(STOPPED) from error
    except BaseException:  # told to stop, or something that cannot be sent: this helper's answer is nobody's
        helper.end()
        raise
    _give_back(helper)
    if kind == "error":
        assert isinstance(answer, Exception)
        raise answer
    return answer  # type: ignore[return-value]


def _serve(pipe: Connection[Any, Any]) -> None:
    """Answer until nobody asks any more, or the window is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the window says when to stop
    os.nice(YIELDS)
    try:
        while pipe.poll(IDLE_S):
            question = pipe.recv()
            if question is None:
                importlib.import_module("dribbet.sight.measure")  # so that the first reading need not wait for it

                continue
            told, function, args, kwargs = question
            try:
                answer = function(_step(pipe), *args, **kwargs) if told else function(*args, **kwargs)
            except Exception as error:
                _send(pipe, "error", error)
            else:
                _send(pipe, "answer", answer)
    except (EOFError, OSError):
        return


def _step(pipe: Connection[Any, Any]) -> Report:
    return lambda done, total: pipe.send(("step", (done, total)))


def _send(pipe: Connection[Any, Any], kind: str, what: object) -> None:
    try:
        pipe.send((kind, what))
    except (OSError, EOFError):
        raise
    except Exception as error:  # an answer that cannot be sent
        pipe.send(("error", DribbetError(window_words.CANNOT_BE_HANDED_OVER(what=f"{what!r:.200}", error=error))))


if __name__ == "__main__":
    _serve(Connection(int(sys.argv[1])))
