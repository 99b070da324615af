"""Scoring blind: what is looked for, which panel comes next, pictures to hold it against, and what all points say."""

from __future__ import annotations

import zlib
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.responses import value_of
from dribbet.lab.verdict import scoring
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Answer, Asked, Test, answers
from dribbet.lab.verdict.scoring import Given
from dribbet.records import Lamp, Response, Stage
from dribbet.studio.standing import choosing

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Panel, Score
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SEEN_BY_EYE: Final = (
    Response.CELL_COUNT, Response.CELL_WIDTH, Response.CRACK_LENGTH, Response.LACING, Response.SPREAD, Response.VIVIDNESS,
)  # fmt: skip
"""What one photograph shows to eyes; shimmer shows only while the lamp moves, hours only while one waits."""
OVERALL: Final = "overall"
WHOLE_SD: Final = 12**-0.5  # of what is said in whole points: the law of rounding


@dataclass(frozen=True, slots=True, kw_only=True)
class Scoring:
    """One judge's sitting: what comes in which order, and how much of it is done."""

    judge: str
    number: int
    guest: bool
    order: tuple[tuple[Response | None, Panel], ...]
    pending: tuple[tuple[Response | None, Panel], ...]
    """What of it is not scored yet: panels may be read, or left out, while a sitting goes on."""
    given: int

    @property
    def over(self) -> bool:
        """Whether all is scored."""
        return not self.pending

    @property
    def now(self) -> tuple[Response | None, Panel] | None:
        """What is looked for, and on which panel; None where all is scored."""
        return None if self.over else self.pending[0]

    @property
    def of_this(self) -> tuple[int, int]:
        """Of the panels that come for the thing in hand: how many are scored, and how many there are."""
        if self.now is None:
            return 0, 0
        every, left = (sum(c == self.now[0] for c, _ in some) for some in (self.order, self.pending))
        return every - left, every


@dataclass(frozen=True, slots=True, kw_only=True)
class Scored:
    """What the points for one thing say."""

    criterion: Response | None
    by_recipe: tuple[tuple[str, tuple[float, ...]], ...]
    """Mean points of each recipe's panels, the recipe with most first."""
    answers: tuple[Answer, ...]
    """Pairs of recipes, closed over all things that were scored."""
    measured: float | None
    """Rank correlation with what the reader measured."""
    overall: float | None
    """Rank correlation with how well panels were liked over all."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Points:
    """What the maker's points, or those of guests, say."""

    judges: tuple[str, ...]
    scores: int
    of: tuple[Scored, ...]
    same: int
    again: int
    """Of so many panels that came twice, `same` got the same points, or one more or less."""


def criteria(run: Run) -> tuple[Response | None, ...]:
    """What is scored: what the test asks and eyes can see, in its order; how well it is liked comes last."""
    asked = [Response.CRACK_LENGTH if r is Response.CRACKED else r for r, _ in run.series.responses]
    return (*dict.fromkeys(r for r in asked if r in SEEN_BY_EYE), None)


def next_sitting(run: Run, judge: str) -> int:
    """Number of the sitting that a judge goes on with: the last one where it is not over, else another."""
    number = max((s.sitting for s in run.scores if s.judge == judge), default=0)
    return number if number and not sitting(run, judge, number, guest=False).over else number + 1


def sitting(run: Run, judge: str, number: int, *, guest: bool) -> Scoring:
    """A judge's sitting; its order follows from who sits and which sitting it is."""
    given = Counter((s.criterion, s.panel_id) for s in run.scores if s.judge == judge and s.sitting == number)
    count = given.total()
    by_id = {p.id: p for panels in choosing.photographed(run).values() for p in panels}
    seed = zlib.crc32(f"{run.series.id}/scores/{judge}/{number}".encode())
    order = tuple((c, by_id[p]) for c, p in scoring.order_of(sorted(by_id), criteria(run), seed))
    pending = []
    for criterion, panel in order:
        if given[criterion, panel.id]:
            given[criterion, panel.id] -= 1
        else:
            pending.append((criterion, panel))
    return Scoring(judge=judge, number=number, guest=guest, order=order, pending=tuple(pending), given=count)


def anchors(desk: Desk, run: Run, response: Response) -> tuple[tuple[Run, Panel], tuple[Run, Panel]] | None:
    """The person's own panels with least and with most of it, of other tests; None where there are no two that differ.

    Never of the test that is scored: that would tell what was measured on it.
    """
    known = []
    for series in desk.all_series():
        other = desk.load(series.id)
        if series.id == run.series.id or choosing.covered(other):
            continue
        for panels in choosing.photographed(other).values():
            for panel in panels:
                reading = other.reading(panel)
                value = value_of(reading.result, response) if reading is not None else None
                if value is not None:
                    area = other.face_dm2(panel) if response in PER_AREA else 1.0
                    known.append((value / area, panel.code, other, panel))
    if not known:
        return None
    least, most = min(known, key=lambda k: k[:2]), max(known, key=lambda k: k[:2])
    return None if least[0] == most[0] else ((least[2], least[3]), (most[2], most[3]))


PER_AREA: Final = (Response.CELL_COUNT, Response.CRACK_LENGTH)


def points(run: Run, *, guests: bool) -> Points | None:
    """What the maker's points (or those of guests, apart) say; None before any."""
    recipe = {p.id: p.recipe for p in run.panels}
    mine = sorted((s for s in run.scores if s.guest is guests and s.panel_id in recipe), key=lambda s: s.number)
    if not mine:
        return None
    sittings = list(dict.fromkeys((s.judge, s.sitting) for s in mine))
    same = again = 0
    means: dict[Response | None, dict[str, float]] = {}
    for criterion in criteria(run):
        told = [_given(mine, criterion, key) for key in sittings]
        for one in told:
            alike, twice = scoring.repeats(one)
            same, again = same + alike, again + twice
        means[criterion] = scoring.averaged([scoring.firsts(one) for one in told])
    judged = _judged(means, recipe, len(sittings))
    return Points(
        judges=tuple(dict.fromkeys(s.judge for s in mine)), scores=len(mine), same=same, again=again,
        of=tuple(_scored(run, c, values, means[None], judged, recipe) for c, values in means.items() if values),
    )  # fmt: skip


def _given(scores: Sequence[Score], criterion: Response | None, key: tuple[str, int]) -> list[Given]:
    return [Given(panel=s.panel_id, points=s.points) for s in scores if s.criterion == criterion and (s.judge, s.sitting) == key]


def _judged(means: dict[Response | None, dict[str, float]], recipe: dict[str, str], sittings: int) -> tuple[Answer, ...]:
    """Pairs of recipes for all things together: a panel's mean points are its figure, panels poured alike its scatter."""
    panels = [p for p in recipe if any(p in values for values in means.values())]
    if len({recipe[p] for p in panels}) < 2:
        return ()
    asked = tuple(
        Asked(
            name=str(c or OVERALL), kind=Kind.AMOUNT, values=tuple(v.get(p) for p in panels), measuring_sd=WHOLE_SD / sittings**0.5, independent=False
        )
        for c, v in means.items()
        if v
    )
    return answers(Test(factors={"recipe": tuple(recipe[p] for p in panels)}, responses=asked))


def _scored(
    run: Run,
    criterion: Response | None,
    values: dict[str, float],
    overall: dict[str, float],
    judged: tuple[Answer, ...],
    recipe: dict[str, str],
) -> Scored:
    by_recipe: dict[str, list[float]] = {}
    for panel, mean in values.items():
        by_recipe.setdefault(recipe[panel], []).append(mean)
    ranked = sorted(by_recipe.items(), key=lambda r: -sum(r[1]) / len(r[1]))
    return Scored(
        criterion=criterion, by_recipe=tuple((r, tuple(v)) for r, v in ranked),
        answers=tuple(a for a in judged if a.response == str(criterion or OVERALL)),
        measured=None if criterion is None else scoring.goes_with(values, _measured(run, criterion)),
        overall=None if criterion is None else scoring.goes_with(values, overall),
    )  # fmt: skip


def _measured(run: Run, response: Response) -> dict[str, float]:
    found = {}
    for panel in run.panels:
        reading = run.reading(panel) if run.photo(panel, Lamp.DIFFUSE, Stage.DRY) is not None else None
        value = value_of(reading.result, response) if reading is not None else None
        if value is not None:
            area = run.face_dm2(panel) if response in PER_AREA else 1.0
            found[panel.id] = value / area
    return found
