"""A plan as the judge will see it: its panels, what is asked of them, and how panels poured alike scatter here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import design, pieces, sizes
from dribbet.lab.plan.power import Model
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Test
from dribbet.lab.verdict.poured import factors_of, level_name
from dribbet.lab.verdict.rehearse import Played
from dribbet.notebook.store import new_id
from dribbet.records import Wanted
from dribbet.studio.standing import verdict

if TYPE_CHECKING:
    from dribbet.records import Response, Series
    from dribbet.studio.desk import Desk

UNKNOWN: Final = (1.0, 0.25)
"""Mean and scatter of a response that was never repeated: it is played as a question only."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Rehearsal:
    """What is needed to play a plan through."""

    plan: Test
    responses: tuple[Played, ...]
    effect: dict[str, float]
    factor: str
    ends: tuple[str, str]
    size: float
    """Of the effect, in the first response's unit and on a whole panel."""
    response: Response


def rehearsal(desk: Desk, series: Series) -> Rehearsal | None:
    """The plan of a series with the effect that is expected of it, else the smallest that it promises; None where neither is known."""
    response, wanted = series.responses[0]
    known = desk.learned.scatter(response)
    recipes = design.arms(series)
    expected = series.prediction.size if series.prediction is not None and series.prediction.response is response else 0.0
    size = expected or sizes.shows(series, recipes, known) or 0.0
    count = len(series.varied[0].levels)
    if known is None or size <= 0.0 or count < 2:
        return None
    planned = design.panels(series, new_id)
    letters = {a.letter: a for a in recipes}
    factors = factors_of(series, recipes, [(p.recipe, p.settings) for p in planned])
    blocks = tuple(str(p.block) for p in planned)
    areas = [pieces.measured_dm2(series, letters[p.recipe], p) for p in planned]
    way = series.prediction.more_or_less if series.prediction is not None else wanted
    signed = size if way is Wanted.MORE else -size
    factor = 100.0 if verdict.KINDS[response] is Kind.SHARE else 1.0
    return Rehearsal(
        plan=Test(
            factors=factors, responses=(), area_dm2=tuple(areas), block=blocks if len(set(blocks)) > 1 else None,
            sheet=tuple(str(p.sheet) for p in planned) if all(p.sheet for p in planned) else None,
        ),
        responses=tuple(_played(desk, r, sum(areas) / len(areas)) for r, _ in series.responses),
        effect={level_name(i): signed / factor * i / (count - 1) for i in range(count)},
        factor="0", ends=(level_name(0), level_name(count - 1)), size=size, response=response,
    )  # fmt: skip


def _played(desk: Desk, response: Response, area_dm2: float) -> Played:
    known, scale, kind = desk.learned.scatter(response), SCALES[response], verdict.KINDS[response]
    factor = 100.0 if kind is Kind.SHARE else 1.0
    noise = 0.0 if scale.model is Model.YES_NO else max(desk.learned.noise(response, area_dm2).sd, desk.learned.doubt(response)) / factor
    if known is None:
        mean, sd = (0.5, 0.1) if kind in (Kind.SHARE, Kind.YES_NO) else UNKNOWN
        return Played(name=str(response), kind=Kind.AMOUNT if kind in (Kind.COUNT, Kind.LENGTH, Kind.TIME) else kind, mean=mean, sd=sd)
    wide = known.sd**2 / max(known.mean, 1e-9) if kind is Kind.LENGTH else known.dispersion
    return Played(name=str(response), kind=kind, mean=known.mean / factor, sd=known.sd / factor, dispersion=wide, measuring_sd=noise)
