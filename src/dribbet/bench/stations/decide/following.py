"""Decide, what to pour next: the proposals as rows, and what taking one does. No widgets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.bench.parts.next_list import ROWS, NextRow
from dribbet.records import DribbetError
from dribbet.studio.acts import deciding, following
from dribbet.studio.standing import next_pour
from dribbet.studio.standing.next_pour import Act
from dribbet.words import next_pour as words
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.studio.standing.next_pour import Proposal


class NextPresenter:
    """Which proposal is in hand."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.shown = False
        """Whether the proposals stand in place of the intervals."""
        self.hand = 0

    def proposals(self, run: Run) -> tuple[Proposal, ...]:
        """Those that are shown."""
        return next_pour.proposed(self.desk, run).proposals[:ROWS]

    def rows(self, run: Run) -> tuple[NextRow, ...]:
        """What the list shows."""
        found, units = next_pour.proposed(self.desk, run), units_of(self.desk)
        return tuple(
            NextRow(words.what(p, run.series, units), words.why(p, found), words.brings(p, found), words.takes(p, units), p.gain)
            for p in self.proposals(run)
        )  # fmt: skip

    def first(self, run: Run) -> str:
        """The best proposal in a sentence."""
        found = next_pour.proposed(self.desk, run)
        if not found.proposals:
            return words.NOTHING
        return words.what(found.proposals[0], run.series, units_of(self.desk))

    def go(self, run: Run) -> str:
        """What the one key does with the proposal in hand."""
        found = self.proposals(run)
        return words.GO[found[min(self.hand, len(found) - 1)].act] if found else ""

    def turn(self) -> None:
        """Show the proposals, or the intervals again."""
        self.shown, self.hand = not self.shown, 0
        self.desk.changed()

    def choose(self, row: int) -> bool:
        """Take another proposal in hand; False where there is none."""
        run = self.desk.run()
        if not self.shown or run is None or not 0 <= row < len(self.proposals(run)):
            return False
        self.hand = row
        self.desk.changed()
        return True

    def take(self) -> str:
        """Do what the proposal in hand says; returns the station at which the work goes on."""
        found = self.proposals(self.desk.need_run())
        if not found:
            raise DribbetError(words.NOTHING)
        one = found[min(self.hand, len(found) - 1)]
        if one.act is Act.STOP:
            deciding.close(self.desk)
            self.shown = False
            self.desk.changed()
            return "decide"
        place = following.follow(self.desk, one)
        self.shown, self.hand = False, 0
        return place
