"""Choosing blind: who sits, which pair is in hand, and what all picks said. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.bench.choosing.seat import Seat
from dribbet.bench.flats import FlatShot, shot_of
from dribbet.bench.parts.likings import Liking
from dribbet.records import DribbetError, Lamp, Liked, Stage
from dribbet.records.wording import first_up
from dribbet.studio.acts import choosing as acts
from dribbet.studio.standing import choosing
from dribbet.words import choosing as words

if TYPE_CHECKING:
    from dribbet.studio.run import Run
    from dribbet.studio.standing.choosing import Preferred, Sitting


@dataclass(frozen=True, slots=True)
class PickTold:
    """What the picks of one side say."""

    who: str
    result: str
    rows: tuple[Liking, ...]
    note: str


@dataclass(frozen=True, slots=True)
class ChoosingView:
    """Everything the page shows."""

    sentence: str
    note: str
    asking: bool = False
    """Whether it is asked who picks."""
    left: FlatShot | None = None
    right: FlatShot | None = None
    progress: str = ""
    done: int = 0
    pairs: int = 0
    lines: tuple[str, ...] = ()
    over: bool = False
    results: tuple[PickTold, ...] = ()
    guest: bool = False
    can_take_back: bool = False
    cannot: bool = False
    said: bool = False
    """Whether there are picks whose result can be asked for."""


class ChoosingPresenter(Seat):
    """Which pair one sees, and what all picks said."""

    nobody = words.SAY_WHO_PICKS

    def next_number(self, run: Run, judge: str) -> int:
        """Number of the sitting that a judge begins or goes on with."""
        return choosing.next_sitting(run, judge)

    def sitting(self, run: Run) -> Sitting | None:
        """The sitting in hand; None before it is said who picks."""
        return choosing.sitting(run, self.judge, self.number, guest=self.guest) if self.seated(run) else None

    def view(self) -> ChoosingView:
        """What is so."""
        run = self.desk.run()
        if run is None or len(choosing.photographed(run)) < 2:
            return ChoosingView(words.TOO_FEW, "", cannot=True)
        now = self.sitting(run)
        if now is None:
            told = self.results(run) if self.telling else ()
            return ChoosingView(words.WHO, words.WHO_NOTE, asking=True, guest=self.guest, results=told, said=bool(run.picks))
        picked = any((p.judge, p.sitting) == (now.judge, now.number) for p in run.picks)
        if now.pair is None:
            return ChoosingView(words.OVER, "", over=True, results=self.results(run), can_take_back=picked)
        left, right = (shot_of(run, p, Lamp.DIFFUSE, Stage.DRY) for p in now.pair)
        return ChoosingView(
            words.QUESTION, words.HIDDEN, left=left, right=right, progress=words.progress(now), done=now.done, pairs=len(now.pairs),
            lines=(words.ALONE, words.AGAIN), guest=self.guest, can_take_back=picked,
        )  # fmt: skip

    def results(self, run: Run) -> tuple[PickTold, ...]:
        """What picks said: the maker's own, and those of guests apart."""
        made = []
        for guests in (False, True):
            found = choosing.preferred(run, guests=guests)
            if found is not None:
                made.append(self._told(run, found, guests=guests))
        return tuple(made)

    def _told(self, run: Run, found: Preferred, *, guests: bool) -> PickTold:
        name = self.called(run)
        rows = tuple(Liking(first_up(name(s.recipe)), s.share, s.low, s.high, words.picked(found, s.recipe)) for s in found.strengths)
        notes = (words.repeated(found), words.circles(found, name), words.single(found, name))
        return PickTold(words.who(found, guests=guests), words.result(found, name), rows, " ".join(s for s in notes if s))

    # ------------------------------------------------------------ what a press does

    def pick(self, liked: Liked) -> None:
        """Keep what was liked."""
        acts.pick(self.desk, self._need_sitting(), liked)

    def take_back(self) -> None:
        """Take back the last pick."""
        acts.take_back(self.desk, self._need_sitting())

    def _need_sitting(self) -> Sitting:
        now = self.sitting(self.desk.need_run())
        if now is None:
            raise DribbetError(words.SAY_WHO_PICKS_FIRST)
        return now
