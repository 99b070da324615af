"""Several panels read one beside the other, each in a process of its own, as many at a time as there are cores."""

from __future__ import annotations

import os
from functools import partial
from typing import TYPE_CHECKING, Final

from dribbet.records import DribbetError, Panel, Reading, Report

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Job, Jobs
    from dribbet.bench.stations.read.presenter import ReadPresenter

MOST_AT_ONCE: Final = 4
"""A reading of a large panel takes some 700 MB."""


class Several:
    """Panels that wait to be read, those that are being read, and what went wrong with some."""

    def __init__(self, presenter: ReadPresenter, jobs: Jobs, changed: Callable[[], None], ended: Callable[[str], None]) -> None:
        self.presenter, self.jobs, self.changed, self.ended = presenter, jobs, changed, ended
        self.waiting: list[tuple[Panel, Callable[[Report], Reading]]] = []
        self.running: dict[str, Job] = {}
        self.total = self.done = 0
        self.troubles: list[str] = []

    @property
    def busy(self) -> bool:
        """Whether anything is being read."""
        return bool(self.running)

    def words(self) -> str:
        """How far it is."""
        return f"Reading {self.total} panels: {self.done} done."

    def start(self, panels: list[Panel]) -> None:
        """Read these panels; each is kept as soon as it was read.

        What is to be read is taken from the series in hand now: another one may be in hand before the last panel's turn.
        """
        self.waiting, self.total, self.done, self.troubles = [], len(panels), 0, []
        for panel in panels:
            try:
                self.waiting.append((panel, self.presenter.reading_of(panel)))
            except DribbetError as error:
                self._failed(panel, error)
                self.done += 1
        self.jobs.widen(self.at_once() + 1)  # one thread stays free for pictures
        for _ in range(self.at_once()):
            self._next()
        self.changed()

    @staticmethod
    def at_once() -> int:
        """How many are read at the same time."""
        return max(1, min(os.cpu_count() or 1, MOST_AT_ONCE))

    def stop(self) -> None:
        """Leave off; what was read stays."""
        self.waiting.clear()
        for job in list(self.running.values()):
            job.cancel()

    def _next(self) -> None:
        if self.waiting:
            panel, work = self.waiting.pop(0)
            job = self.jobs.start(work, partial(self._read, panel), partial(self._not_read, panel))
            job.cancelled.connect(partial(self._over, panel))
            self.running[panel.id] = job

    def _read(self, panel: Panel, reading: object) -> None:
        assert isinstance(reading, Reading)
        try:
            self.presenter.keep(reading, in_hand=False)
        except DribbetError as error:
            self._failed(panel, error)
        self._over(panel)

    def _not_read(self, panel: Panel, error: Exception) -> None:
        self._failed(panel, error)
        self._over(panel)

    def _failed(self, panel: Panel, error: Exception) -> None:
        self.troubles.append(f"{panel.code} was not read: {error}")

    def _over(self, panel: Panel) -> None:
        self.running.pop(panel.id, None)
        self.done += 1
        self._next()
        if not self.running:
            self.ended(" ".join(self.troubles))
        self.changed()
