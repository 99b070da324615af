"""Today: standing facts become lines on the clock. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.notebook.whole_file import save_file
from dribbet.paper.calendar import calendar
from dribbet.studio.standing.looks import ahead
from dribbet.studio.standing.today import due
from dribbet.words import dry as dry_words
from dribbet.words import today as said

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.today import Due


@dataclass(frozen=True, slots=True)
class Task:
    """One line on the clock: what is so, and its words."""

    due: Due
    when: str
    words: str

    @property
    def station(self) -> str:
        """Where it is done."""
        return self.due.todo.value


class TodayPresenter:
    """What is due, in words, and where it is done."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def tasks(self) -> list[Task]:
        """All tasks of running series, soonest first."""
        now = self.desk.now()
        return [Task(d, said.when(d, now, self.desk.local), said.task(d)) for d in due(self.desk)]

    def due_now(self) -> int:
        """Things to do now: as many as the page says."""
        return sum(d.now for d in due(self.desk))

    def title(self, tasks: list[Task]) -> tuple[str, str]:
        """Head and note of the page."""
        return said.head([t.due for t in tasks]), said.note(self.desk.now(), self.desk.local) if tasks else said.HINT

    def save_calendar(self, path: Path) -> int:
        """Write every look ahead into an iCalendar file; returns how many."""
        found = ahead(self.desk)
        events = [
            (
                f"{a.panel.id}-{a.look.replace(' ', '')}",
                f"Look at {a.panel.code}",
                self.desk.local(a.due),
                f"{a.series.name}. {dry_words.look(a.look)}",
            )
            for a in found
        ]
        save_file(path, calendar(events, self.desk.now()))
        return len(found)

    def take(self, task: Task) -> None:
        """Take its panel in hand."""
        self.desk.choose_series(task.due.series_id)
        if task.due.panel_id:
            self.desk.take(task.station, task.due.panel_id)
            self.desk.changed()
