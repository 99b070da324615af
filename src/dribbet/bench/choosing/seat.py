"""Who sits before the panels: what a sitting of pairs and one of points have in common. No widgets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.records import DribbetError
from dribbet.studio.standing import choosing
from dribbet.words import choosing as words
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

MOST_NAME = 40


class Seat:
    """One judge at a time, the maker or a guest; what was said so far is shown only where it was asked for, or one judge would lead the next."""

    nobody = ""
    """What is said where no name was typed."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.judge, self.guest, self.number = "", False, 0
        self.telling = False
        self._of = ""

    def next_number(self, run: Run, judge: str) -> int:
        """Number of the sitting that a judge begins or goes on with."""
        raise NotImplementedError

    def seated(self, run: Run) -> bool:
        """Whether it was said who sits; another series is another sitting."""
        if self._of != run.series.id:
            self._of, self.judge, self.guest = run.series.id, "", False
        return bool(self.judge)

    def called(self, run: Run) -> Callable[[str], str]:
        """How a recipe is called in the results: its letter while a blind test is covered, its levels else."""
        units, arms, covered = units_of(self.desk), {a.letter: a for a in run.arms}, choosing.covered(run)
        return lambda letter: words.recipe(run.series, arms[letter], units, covered=covered)

    # ------------------------------------------------------------ what a press does

    def begin(self, judge: str) -> None:
        """Say who sits, and begin (or go on with) a sitting."""
        judge = " ".join(judge.split())[:MOST_NAME]
        if not judge:
            raise DribbetError(self.nobody)
        run = self.desk.need_run()
        self._of, self.judge, self.number, self.telling = run.series.id, judge, self.next_number(run, judge), False
        self.desk.changed()

    def turn_results(self) -> None:
        """Show what was said so far, or no longer."""
        self.telling = not self.telling
        self.desk.changed()

    def turn_guest(self) -> None:
        """A guest sits, or the maker."""
        self.guest = not self.guest
        self.desk.changed()

    def leave(self) -> None:
        """Somebody else sits next, or nobody."""
        self.judge, self.guest = "", False
        self.desk.changed()
