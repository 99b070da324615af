"""Work in a process of its own: what would take turns with the window's thread, such as reading a photograph or laying out pages of paper."""

from __future__ import annotations

import importlib
import signal
import threading
from multiprocessing import get_context
from typing import TYPE_CHECKING, Any, Concatenate, Final, ParamSpec, TypeVar

from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Callable
    from multiprocessing.connection import Connection

    from dribbet.records import Report

P = ParamSpec("P")
T = TypeVar("T")
LOOK_EVERY_S: Final = 0.1
IDLE_S: Final = 300.0
"""A helper that nobody asked for so long ends, and gives its memory back."""
STOPPED: Final = "The work stopped before it was done; the memory may be full. Close other programs and try again."


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
    """Have a helper that has brought what reading a photograph needs, before the first one is asked for."""
    helper = _take()
    helper.pipe.send(None)
    _give_back(helper)


class _Helper:
    """One process that answers, one question after the other."""

    def __init__(self) -> None:
        context = get_context("spawn")
        self.pipe, theirs = context.Pipe()
        self.process = context.Process(target=_serve, args=(theirs,), name="dribbet-helper", daemon=True)
        self.process.start()
        theirs.close()

    def end(self) -> None:
        self.pipe.close()
        self.process.terminate()
        self.process.join(1.0)


_idle: list[_Helper] = []
_lock = threading.Lock()


def _take() -> _Helper:
    with _lock:
        while _idle:
            helper = _idle.pop()
            if helper.process.is_alive():
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
    helper = _take()
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
        pipe.send(("error", DribbetError(f"{what!r:.200} cannot be handed over: {error}")))
