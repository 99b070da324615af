"""Work off the GUI thread, with progress and cancel."""

from __future__ import annotations

import logging
import threading
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from dribbet.records import Cancelled, Report

if TYPE_CHECKING:
    from collections.abc import Callable

log = logging.getLogger(__name__)


class Job(QObject):
    """One computation off the GUI thread; ends with one of the last three signals."""

    progressed = pyqtSignal(int, int)
    succeeded = pyqtSignal(object)
    cancelled = pyqtSignal()
    failed = pyqtSignal(Exception)

    def __init__(self, work: Callable[[Report], object]) -> None:
        super().__init__()
        self._work, self._stop = work, threading.Event()

    def cancel(self) -> None:
        """Ask the work to end at its next report."""
        self._stop.set()

    def run(self) -> None:
        """Do the work; `Jobs.start` hands this to a thread."""
        try:
            result = self._work(self._report)
        except Cancelled:
            self.cancelled.emit()
        except Exception as error:
            log.info("job failed", exc_info=True)
            self.failed.emit(error)
        else:
            self.succeeded.emit(result)

    def _report(self, done: int, total: int) -> None:
        if self._stop.is_set():
            raise Cancelled
        self.progressed.emit(done, total)


class _Runner(QRunnable):
    def __init__(self, job: Job) -> None:
        super().__init__()
        self._job = job

    def run(self) -> None:
        self._job.run()


class Jobs(QObject):
    """All running jobs; kept until they have ended."""

    def __init__(self) -> None:
        super().__init__()
        self._pool = QThreadPool()
        self._pool.setMaxThreadCount(2)
        self._running: set[Job] = set()

    def start(
        self,
        work: Callable[[Report], object],
        done: Callable[[object], None],
        failed: Callable[[Exception], None],
        progressed: Callable[[int, int], None] | None = None,
    ) -> Job:
        """Run work in a thread; the callables are called in the GUI thread."""
        job = Job(work)
        self._running.add(job)
        job.succeeded.connect(done)
        job.failed.connect(failed)
        if progressed is not None:
            job.progressed.connect(progressed)
        for end in (job.succeeded, job.failed):
            end.connect(lambda _=None, job=job: self._running.discard(job))
        job.cancelled.connect(lambda job=job: self._running.discard(job))
        self._pool.start(_Runner(job))
        return job

    def widen(self, threads: int) -> None:
        """Let so many jobs run at the same time, if it were fewer."""
        self._pool.setMaxThreadCount(max(self._pool.maxThreadCount(), threads))

    def busy(self) -> bool:
        """Whether anything runs."""
        return bool(self._running)

    def stop_all(self) -> None:
        """Cancel everything and wait for it."""
        for job in list(self._running):
            job.cancel()
        self._pool.waitForDone(20_000)
