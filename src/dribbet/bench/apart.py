"""Work in a process of its own: pure Python that would take turns with the window's thread, such as laying out pages of paper."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor
from concurrent.futures import TimeoutError as NotYet
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from typing import TYPE_CHECKING, Final, ParamSpec, TypeVar

from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.records import Report

P = ParamSpec("P")
T = TypeVar("T")
LOOK_EVERY_S: Final = 0.1


def apart(report: Report, function: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
    """Answer of a function of a module, computed in a new process; called in a job, never in the window's thread.

    `report` is asked every tenth of a second whether to go on.

    Raises
    ------
    DribbetError
        If the process ended before its answer, for example for want of memory.
    """
    with ProcessPoolExecutor(1, mp_context=get_context("spawn")) as pool:
        answer = pool.submit(function, *args, **kwargs)
        while True:
            try:
                return answer.result(timeout=LOOK_EVERY_S)
            except NotYet:
                report(0, 1)
            except BrokenProcessPool as error:
                raise DribbetError("The work stopped before it was done; the memory may be full. Close other programs and try again.") from error
