"""Scoring blind: who sits, what is looked for, on which panel, beside which of the person's own; and what all points said. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.bench.choosing.seat import Seat
from dribbet.bench.flats import FlatShot, shot_of
from dribbet.bench.parts.likings import Liking
from dribbet.records import LEAST_POINTS, MOST_POINTS, DribbetError, Lamp, Stage
from dribbet.records.wording import first_up
from dribbet.studio.acts import scoring as acts
from dribbet.studio.standing import choosing, scoring
from dribbet.words import choosing as choosing_words
from dribbet.words import scoring as words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.records import Response
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.studio.standing.scoring import Points, Scored, Scoring


@dataclass(frozen=True, slots=True)
class ScoreTold:
    """What the points for one thing say."""

    result: str
    rows: tuple[Liking, ...]
    ends: tuple[str, str, str]
    note: str


@dataclass(frozen=True, slots=True)
class ScoredSide:
    """What the maker's points, or those of guests, say."""

    who: str
    told: tuple[ScoreTold, ...]
    note: str


@dataclass(frozen=True, slots=True)
class ScoringView:
    """Everything the page shows."""

    sentence: str
    note: str
    asking: bool = False
    panel: FlatShot | None = None
    least: FlatShot | None = None
    most: FlatShot | None = None
    low: str = ""
    high: str = ""
    """What 1 and 5 mean."""
    progress: str = ""
    thing: str = ""
    done: int = 0
    panels: int = 0
    line: str = ""
    over: bool = False
    results: tuple[ScoredSide, ...] = ()
    guest: bool = False
    can_take_back: bool = False
    cannot: bool = False
    said: bool = False


class ScoringPresenter(Seat):
    """Which panel one sees beside which, and what all points said."""

    nobody = choosing_words.SAY_WHO_SCORES

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._anchors: dict[Response, tuple[FlatShot | None, FlatShot | None]] = {}

    def next_number(self, run: Run, judge: str) -> int:
        """Number of the sitting that a judge begins or goes on with."""
        return scoring.next_sitting(run, judge)

    def begin(self, judge: str) -> None:
        """Say who sits; what the panels are held against is looked for again."""
        self._anchors.clear()
        super().begin(judge)

    def sitting(self, run: Run) -> Scoring | None:
        """The sitting in hand; None before it is said who scores."""
        return scoring.sitting(run, self.judge, self.number, guest=self.guest) if self.seated(run) else None

    def view(self) -> ScoringView:
        """What is so."""
        run = self.desk.run()
        if run is None or len(choosing.photographed(run)) < 2:
            return ScoringView(choosing_words.TOO_FEW, "", cannot=True)
        now = self.sitting(run)
        if now is None:
            told = self.results(run) if self.telling else ()
            return ScoringView(words.WHO, words.WHO_NOTE, asking=True, guest=self.guest, results=told, said=bool(run.scores))
        if now.now is None:
            return ScoringView(words.OVER, "", over=True, results=self.results(run), can_take_back=True)
        criterion, panel = now.now
        least, most = self.anchors(run, criterion) if criterion is not None else (None, None)
        done, panels = now.of_this
        note = words.HIDDEN_OVERALL if criterion is None else words.HIDDEN if least is not None else words.NO_ANCHORS
        return ScoringView(
            words.QUESTIONS[criterion], note, panel=shot_of(run, panel, Lamp.DIFFUSE, Stage.DRY), least=least, most=most,
            low=words.LEAST[criterion], high=words.MOST[criterion], progress=words.progress(now), thing=words.things(now), done=done, panels=panels,
            line=words.AGAIN, guest=self.guest, can_take_back=now.given > 0,
        )  # fmt: skip

    def anchors(self, run: Run, response: Response) -> tuple[FlatShot | None, FlatShot | None]:
        """The person's own panels with least and most of it; looked for once, as all tests are read for it."""
        if response not in self._anchors:
            found = scoring.anchors(self.desk, run, response)
            shots = (None, None) if found is None else tuple(shot_of(r, p, Lamp.DIFFUSE, Stage.DRY) for r, p in found)
            self._anchors[response] = (shots[0], shots[1])
        return self._anchors[response]

    def results(self, run: Run) -> tuple[ScoredSide, ...]:
        """What points said: the maker's own, and those of guests apart."""
        name = self.called(run)
        both = ((guests, scoring.points(run, guests=guests)) for guests in (False, True))
        return tuple(self._side(found, name, guests=guests) for guests, found in both if found is not None)

    def _side(self, found: Points, name: Callable[[str], str], *, guests: bool) -> ScoredSide:
        return ScoredSide(words.who(found, guests=guests), tuple(self._told(s, name) for s in found.of), words.repeated(found))

    def _told(self, scored: Scored, name: Callable[[str], str]) -> ScoreTold:
        span = MOST_POINTS - LEAST_POINTS

        def share(points: float) -> float:
            return min(max((points - LEAST_POINTS) / span, 0.0), 1.0)

        rows = tuple(
            Liking(first_up(name(r)), share(sum(v) / len(v)), share(min(v)), share(max(v)), words.mean(v), tuple(share(x) for x in v))
            for r, v in scored.by_recipe
        )
        middle = f"{(LEAST_POINTS + MOST_POINTS) / 2:.0f}"
        ends = (f"{LEAST_POINTS} {words.LEAST[scored.criterion]}", middle, f"{MOST_POINTS} {words.MOST[scored.criterion]}")
        return ScoreTold(words.result(scored, name), rows, ends, words.notes(scored))

    # ------------------------------------------------------------ what a press does

    def score(self, points: int | None) -> None:
        """Keep the points of the panel in hand."""
        acts.score(self.desk, self._need_sitting(), points)

    def take_back(self) -> None:
        """Take back the last points."""
        acts.take_back(self.desk, self._need_sitting())

    def _need_sitting(self) -> Scoring:
        now = self.sitting(self.desk.need_run())
        if now is None:
            raise DribbetError(choosing_words.SAY_WHO_SCORES_FIRST)
        return now
