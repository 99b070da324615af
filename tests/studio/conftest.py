"""A studio without a window: the demo's notebook, or an empty one, and a clock that stands until it is moved."""

from __future__ import annotations

from datetime import timedelta

import pytest

from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook
from dribbet.records import PanelWeight
from dribbet.studio.acts import pouring as acts
from dribbet.studio.desk import Desk
from tests.conftest import NOW
from tests.studio.test_six_plans import Bench


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


@pytest.fixture
def poured(desk):
    """A test whose first panel is weighed bare, its cups checked."""
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    bench.check_all()
    panel = desk.need_run().in_order()[0]
    acts.weigh(desk, panel, PanelWeight.BARE, 0.2146)
    return desk, panel
