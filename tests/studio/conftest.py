"""A studio without a window: the demo's notebook, or an empty one, and a clock that stands until it is moved."""

from __future__ import annotations

from datetime import timedelta

import pytest

from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook
from dribbet.studio.desk import Desk
from tests.conftest import NOW


class Clock:
    def __init__(self) -> None:
        self.now = NOW

    def __call__(self):
        self.now += timedelta(seconds=1)  # nothing happens twice at one moment
        return self.now


@pytest.fixture
def desk(demo_copy):
    book = open_notebook(demo_copy)
    yield Desk(book, Clock(), scale=SimulatedScale(faults_every_s=7.0, seed=4))
    book.close()


@pytest.fixture
def empty_desk(tmp_path):
    book = open_notebook(tmp_path / "Mine.dribbet", create=True)
    yield Desk(book, Clock())
    book.close()
