"""Today: what is due across all series, on a clock line."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractButton, QFileDialog, QVBoxLayout, QWidget

from dribbet.bench.doors.today.presenter import Task, TodayPresenter
from dribbet.bench.page import Page
from dribbet.bench.parts.base import draw_focus, draw_text, scroller
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.tape import Tape, draw_code, strip_size
from dribbet.bench.theme.inks import BLACK, PAPER, TAPE
from dribbet.bench.theme.patterns import solid
from dribbet.words import today as today_words

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk


class TaskRow(QAbstractButton):
    """One task on the clock line."""

    wanted = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.task: Task | None = None
        self.first = False
        self.setMinimumHeight(52)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.clicked.connect(lambda: self.wanted.emit(self.task))

    def show_task(self, task: Task, first: bool) -> None:
        """Stand for a task."""
        if (task, first) != (self.task, self.first):
            self.task, self.first = task, first
            self.setAccessibleName(f"{task.when}: {task.due.code}. {task.words}")
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
        if self.task.due.overdue:
            p.fillRect(QRectF(120, y - 10, 20, 20), BLACK)
            draw_text(p, QRectF(120, y - 10, 20, 20), "!", 16, 800, PAPER.card, Qt.AlignmentFlag.AlignHCenter)
        else:
            p.setBrush(TAPE if self.first else PAPER.card if not self.task.due.now else BLACK)
            p.drawEllipse(QPointF(130, y), 8.5, 8.5)
        draw_text(p, QRectF(0, 0, 112, self.height()), self.task.when, 18, 700 if self.task.due.now else 500, BLACK, Qt.AlignmentFlag.AlignRight)
        size = strip_size(self.task.due.code, 17)
        draw_code(
            p, QRectF(160, y - size.height() / 2, size.width(), size.height()), self.task.due.code, 17, Tape.HAND if self.first else Tape.OTHER, PAPER
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

    def refresh(self) -> None:
        tasks = self.presenter.tasks()
        while len(self._rows) < len(tasks):
            row = TaskRow()
            row.wanted.connect(self.open)
            self.rows.addWidget(row)
            self._rows.append(row)
        for i, (row, task) in enumerate(zip(self._rows, tasks, strict=False)):
            row.show_task(task, i == 0)
            row.show()
        for row in self._rows[len(tasks) :]:
            row.hide()
        self.title("", *self.presenter.title(tasks))
        if not tasks:
            self.keys([(Key("Space", "Go to Ask"), lambda: self.go.emit("ask"))])
            return
        first = tasks[0]
        self.keys([(Key("Space", f"Go to {first.due.code}"), lambda: self.open(first)), (Key("C", "Calendar file"), self.calendar)])

    def calendar(self) -> None:
        """Save every look that is still to be made, with alarms, for any calendar."""
        name, _ = QFileDialog.getSaveFileName(self, today_words.LOOKS_AS_A_CALENDAR, str(Path.home() / "looks.ics"), "Calendar (*.ics)")
        if name:
            many = self.presenter.save_calendar(Path(name))
            self.say_note(today_words.LOOKS_ARE_IN(many=many, name=Path(name).name))

    def open(self, task: object) -> None:
        """Walk to where the task is done."""
        assert isinstance(task, Task)
        self.presenter.take(task)
        self.go.emit(task.station)
