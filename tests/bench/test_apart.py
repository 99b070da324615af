"""Work in a process of its own."""

import os
import subprocess
import sys
import threading
import time

import pytest

from dribbet.bench.apart import LOOK_EVERY_S, apart, apart_told
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


def count(report, upto):
    for done in range(upto):
        report(done, upto)
    return upto


def test_steps_done_there_are_told_here():
    heard = []
    assert apart_told(lambda *step: heard.append(step), count, 3) == 3
    assert heard[-3:] == [(0, 3), (1, 3), (2, 3)]


def test_helper_yields_to_the_window():
    assert apart(silent, os.nice, 0) >= min(os.nice(0) + 10, 19)


def test_helper_that_answered_is_asked_again():
    assert apart(silent, os.getpid) == apart(silent, os.getpid)


def test_work_told_to_stop_ends_at_once_and_the_next_is_answered():
    def stop(done: int, total: int) -> None:
        raise Cancelled

    before = apart(silent, os.getpid)
    with pytest.raises(Cancelled):
        apart(stop, time.sleep, 3600.0)
    with pytest.raises(ProcessLookupError):
        os.kill(before, 0)  # it does not sleep on
    assert LOOK_EVERY_S <= 0.2
    assert apart(silent, os.getpid) != before


def test_answer_that_cannot_be_handed_over_is_said():
    with pytest.raises(DribbetError, match="handed over"):
        apart(silent, threading.Lock)
    assert apart(silent, divmod, 7, 2) == (3, 1)


def test_program_that_asks_is_not_begun_again(tmp_path):
    """A script without a guard round its beginning once began itself again in its helper."""
    script = tmp_path / "asks.py"
    script.write_text(
        "print('begun')\nfrom dribbet.bench.apart import apart\nfrom dribbet.records import silent\nprint(apart(silent, divmod, 7, 2))\n"
    )
    said = subprocess.run([sys.executable, script], capture_output=True, text=True, check=True, timeout=120)
    assert said.stdout.split("\n") == ["begun", "(3, 1)", ""]


def test_helper_ends_with_the_program_that_asked(tmp_path):
    script = tmp_path / "dies.py"
    script.write_text(
        "import os\nfrom dribbet.bench.apart import apart\nfrom dribbet.records import silent\n"
        "print(apart(silent, os.getpid), flush=True)\nos.kill(os.getpid(), 9)\n"
    )
    helper = int(subprocess.run([sys.executable, script], capture_output=True, text=True, check=False, timeout=120).stdout)
    for _ in range(100):
        try:
            os.kill(helper, 0)
        except ProcessLookupError:
            return
        time.sleep(0.1)
    raise AssertionError("the helper outlived its program")
