"""Several panels read one beside the other, each in a process of its own, as many at a time as there are cores."""

from __future__ import annotations

import os
from functools import partial
from typing import TYPE_CHECKING, Final

from dribbet.records import DribbetError, Panel, Photo, Reading, Report
from dribbet.words import read as read_words

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.bench.jobs import Job, Jobs
    from dribbet.bench.stations.read.presenter import ReadPresenter

MOST_AT_ONCE: Final = 4
"""A reading of a large panel takes some 700 MB."""


class Several:
    """Panels that wait to be read, those that are being read, and what went wrong with some."""

    def __init__(self, presenter: ReadPresenter, jobs: Jobs, changed: Callable[[], None], ended: Callable[[str], None]) -> None:
        self.presenter, self.jobs, self.changed, self.ended = presenter, jobs, changed, ended
        self.waiting: list[tuple[Panel, str, Callable[[Report], Reading]]] = []
        self.running: dict[str, Job] = {}
        self.total = self.done = 0
        self.troubles: list[str] = []

    @property
    def busy(self) -> bool:
        """Whether anything is being read."""
        return bool(self.running)

    def words(self) -> str:
        """How far it is."""
        return read_words.READING_SEVERAL(total=self.total, done=self.done)

    def start(self, wanted: Sequence[tuple[Panel, Photo | None]]) -> None:
        """Read these panels, from the photograph that stands for each or from the one given; each is kept as soon as it was read.

        What is to be read is taken from the series in hand now: another one may be in hand before the last panel's turn.
        """
        self.waiting, self.total, self.done, self.troubles = [], len(wanted), 0, []
        for panel, photo in wanted:
            try:
                self.waiting.append((panel, panel.id if photo is None else photo.id, self.presenter.reading_of(panel, photo)))
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
            panel, name, work = self.waiting.pop(0)
            job = self.jobs.start(work, partial(self._read, panel, name), partial(self._not_read, panel, name))
            job.cancelled.connect(partial(self._over, name))
            self.running[name] = job

    def _read(self, panel: Panel, name: str, reading: object) -> None:
        assert isinstance(reading, Reading)
        try:
            self.presenter.keep(reading, in_hand=False)
        except DribbetError as error:
            self._failed(panel, error)
        self._over(name)

    def _not_read(self, panel: Panel, name: str, error: Exception) -> None:
        self._failed(panel, error)
        self._over(name)

    def _failed(self, panel: Panel, error: Exception) -> None:
        self.troubles.append(read_words.COULD_NOT_READ(code=panel.code, error=error))

    def _over(self, name: str) -> None:
        self.running.pop(name, None)
        self.done += 1
        self._next()
        if not self.running:
            self.ended(" ".join(self.troubles))
        self.changed()
