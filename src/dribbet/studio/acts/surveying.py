"""Pre-tests: begin one with a set of colours, end it. The measurements themselves are the shelf's."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.lab.plan import planning
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Kind, Survey
from dribbet.studio.standing.shelf import pre_test_now

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.studio.desk import Desk


class Surveying:
    """What a person does about pre-tests."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def now(self) -> Survey | None:
        """The pre-test that was begun last and is not over."""
        return pre_test_now(self.desk)

    def offered(self) -> list[str]:
        """Keys of the colours that a new one begins with: those of the series in hand, else every paint of the shelf."""
        run = self.desk.run()
        colours = planning.colours_of(run.series) if run is not None else []
        known = {m.key for m in self.desk.shelf()}
        return [c for c in colours if c in known] or [m.key for m in self.desk.shelf() if m.kind in (Kind.PAINT, Kind.SHIMMER)]

    def begin(self, names: Sequence[str]) -> Survey:
        """Begin with these colours, by name or key; the one before it is over."""
        shelf = self.desk.shelf()
        by_name = {m.key.lower(): m.key for m in shelf} | {m.name.lower(): m.key for m in shelf}
        strange = next((n for n in names if n.strip().lower() not in by_name), None)
        if strange is not None:
            raise DribbetError(f"“{strange.strip()}” is not on the shelf. Add its container first, or name another colour.")
        keys = tuple(dict.fromkeys(by_name[n.strip().lower()] for n in names))
        at = self.desk.now()
        made = Survey(id=new_id(), name=f"Pre-test of {self.desk.local(at):%-d %B}", materials=keys, at=at)
        before = self.now()
        with self.desk.notebook.transaction():
            if before is not None:
                self.desk.notebook.replace(replace(before, finished=True))
            self.desk.notebook.add(made)
        self.desk.changed()
        return made

    def finish(self) -> None:
        """It is over, whatever is left to measure."""
        now = self.now()
        if now is None:
            raise DribbetError("No pre-test is under way. P begins one.")
        self.desk.notebook.replace(replace(now, finished=True))
        self.desk.changed()
