"""Work in a process of its own."""

import os
import time

import pytest

from dribbet.bench.apart import apart
from dribbet.records import Cancelled, DribbetError, silent


def test_answer_comes_from_another_process():
    assert apart(silent, os.getpid) != os.getpid()


def test_what_goes_wrong_there_is_said_here():
    with pytest.raises(ZeroDivisionError):
        apart(silent, divmod, 1, 0)


def test_process_that_ends_without_an_answer_says_what_to_do():
    with pytest.raises(DribbetError, match="Close other programs"):
        apart(silent, os._exit, 3)


def test_work_stops_where_its_report_says_so():
    def stop(done: int, total: int) -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        apart(stop, time.sleep, 0.5)
