"""Today: what is due across all series, on a clock line."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from dribbet.bench.page import Page
from dribbet.bench.parts.base import draw_focus, draw_text, scroller
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.tape import Tape, draw_code, strip_size
from dribbet.bench.theme.inks import BLACK, PAPER, TAPE
from dribbet.bench.theme.patterns import solid
from dribbet.lab.panel.progress import Station
from dribbet.records import Panel, SeriesState
from dribbet.words.units import in_words

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.bench.jobs import Jobs
    from dribbet.lab.panel.progress import DueLook
    from dribbet.studio.desk import Desk


@dataclass(frozen=True, slots=True)
class Task:
    """One thing due: when, which panels, what to do, and where."""

    series_id: str
    when: datetime
    now: bool
    overdue: bool
    code: str
    words: str
    station: str
    panel_id: str = ""
    panels: int = 1


class TodayPresenter:
    """Collects what is due. No widgets."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def tasks(self) -> list[Task]:
        """All tasks of running series, soonest first."""
        now = self.desk.now()
        found: list[Task] = []
        for series in self.desk.all_series():
            if series.state is SeriesState.DECIDED or series.seed is None:
                continue
            run = self.desk.load(series.id)
            stations: dict[Station, list[Panel]] = {}
            for panel in run.panels:
                stations.setdefault(run.station(panel, now), []).append(panel)
            looks: dict[tuple[str, bool, bool], list[DueLook]] = {}
            for due in run.due_looks(now):
                if due.due - now < timedelta(hours=36):
                    looks.setdefault((due.name, due.now, due.overdue), []).append(due)
            for (name, is_now, overdue), alike in looks.items():
                one = min(alike, key=lambda look: look.due)
                words = f"Look at it: {name} check." + _then(alike)
                found.append(Task(series.id, one.due, is_now, overdue, one.panel.code, words, "dry", one.panel.id, len(alike)))
            for station, words in (
                (Station.MIX, "Mix its cups."),
                (Station.CHECK, "Check its colours."),
                (Station.POUR, "Pour it."),
                (Station.SHOOT, "Photograph it."),
                (Station.READ, "Read its photo."),
            ):
                members = stations.get(station, [])
                if members:
                    first = min(members, key=lambda p: p.place)
                    found.append(Task(series.id, now, True, False, first.code, words + _then(members), station.name.lower(), first.id, len(members)))
            if stations and set(stations) == {Station.DECIDE}:
                found.append(Task(series.id, now, True, False, series.code, f"All panels of {series.name} are read. Decide.", "decide"))
        return sorted(found, key=lambda t: (not t.overdue, not t.now, t.when))

    def due_now(self) -> int:
        """Things to do now: as many as the page says."""
        return sum(t.now for t in self.tasks())


def _then(alike: Sequence[object]) -> str:
    return f" Then {in_words(len(alike) - 1)} more." if len(alike) > 1 else ""


class TaskRow(QAbstractButton):
    """One task on the clock line."""

    wanted = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.task: Task | None = None
        self.when, self.first = "", False
        self.setMinimumHeight(52)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.clicked.connect(lambda: self.wanted.emit(self.task))

    def show_task(self, task: Task, when: str, first: bool) -> None:
        """Stand for a task; `when` is its time in words."""
        if (task, when, first) != (self.task, self.when, self.first):
            self.task, self.when, self.first = task, when, first
            self.setAccessibleName(f"{when}: {task.code}. {task.words}")
            self.update()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.task is None:
            p.end()
            return
        y = self.height() / 2
        p.setPen(solid(BLACK, 3))
        p.drawLine(QPointF(130, 0), QPointF(130, self.height()))
        if self.task.overdue:
            p.fillRect(QRectF(120, y - 10, 20, 20), BLACK)
            draw_text(p, QRectF(120, y - 10, 20, 20), "!", 16, 800, PAPER.card, Qt.AlignmentFlag.AlignHCenter)
        else:
            p.setBrush(TAPE if self.first else PAPER.card if not self.task.now else BLACK)
            p.drawEllipse(QPointF(130, y), 8.5, 8.5)
        draw_text(p, QRectF(0, 0, 112, self.height()), self.when, 18, 700 if self.task.now else 500, BLACK, Qt.AlignmentFlag.AlignRight)
        size = strip_size(self.task.code, 17)
        draw_code(
            p, QRectF(160, y - size.height() / 2, size.width(), size.height()), self.task.code, 17, Tape.HAND if self.first else Tape.OTHER, PAPER
        )
        draw_text(p, QRectF(160 + size.width() + 18, 0, self.width() - size.width() - 180, self.height()), self.task.words, 18, 500, BLACK)
        if self.hasFocus() or self.underMouse():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class TodayPage(Page):
    """The door Today."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = TodayPresenter(desk)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 8, 0)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(0)
        column.addLayout(self.rows)
        column.addStretch(1)
        self.body.addWidget(scroller(inner), 1)
        self._rows: list[TaskRow] = []
        self._tasks: list[Task] = []

    def refresh(self) -> None:
        self._tasks = tasks = self.presenter.tasks()
        now = self.desk.now()
        due = [t for t in tasks if t.now]
        while len(self._rows) < len(tasks):
            row = TaskRow()
            row.wanted.connect(self.open)
            self.rows.addWidget(row)
            self._rows.append(row)
        for i, (row, task) in enumerate(zip(self._rows, tasks, strict=False)):
            row.show_task(task, self._when(task, now), i == 0)
            row.show()
        for row in self._rows[len(tasks) :]:
            row.hide()
        if not tasks:
            self.title("", "Nothing is due.", "Ask a question, and its steps appear here.")
            self.keys([(Key("Space", "Go to Ask"), lambda: self.go.emit("ask"))])
            return
        self.title(
            "",
            f"{in_words(len(due)).capitalize()} thing{'s' if len(due) != 1 else ''} to do now." if due else "Nothing is due yet.",
            f"{self.desk.local(now):%A %-d %B, %H:%M}, all series",
        )
        first = tasks[0]
        self.keys([(Key("Space", f"Go to {first.code}"), lambda: self.open(first))])

    def _when(self, task: Task, now: datetime) -> str:
        if task.overdue or task.now:
            return "overdue" if task.overdue else "now"
        at = self.desk.local(task.when)
        return f"{at:%H:%M}" if at.date() == self.desk.local(now).date() else f"{at:%a %H:%M}"

    def open(self, task: object) -> None:
        """Walk to where the task is done."""
        assert isinstance(task, Task)
        self.desk.choose_series(task.series_id)
        if task.panel_id:
            self.desk.take(task.station, task.panel_id)
            self.desk.changed()
        self.go.emit(task.station)
