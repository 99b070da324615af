"""Why a panel went wrong: what is known of how it was made, against the person's own panels without the symptom."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import median
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.responses import value_of
from dribbet.lab.verdict import causes
from dribbet.lab.verdict.causes import Cause, Symptom, Trait
from dribbet.records import Response, Stage
from dribbet.studio.standing.how_made import figures_of

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

WHOLE: Final = 97.0  # % of the face covered, from which a panel has no bare spots
LACED: Final = 5.0  # % of the face
LOW: Final = 0.6  # of the middle of all panels: below it a figure is low
ASKED: Final = {
    Symptom.CRACKS: Response.CRACK_LENGTH, Symptom.FEW_CELLS: Response.CELL_COUNT, Symptom.SMALL_CELLS: Response.CELL_WIDTH,
    Symptom.BARE: Response.SPREAD, Symptom.DULL: Response.VIVIDNESS, Symptom.LACING: Response.LACING,
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagnosis:
    """One symptom of a panel and what may have caused it."""

    panel: Panel
    symptom: Symptom
    present: bool
    """Whether the panel has it by its own figures."""
    causes: tuple[Cause, ...]
    good: int
    """Panels without it that could be compared."""


def diagnosis(desk: Desk, run: Run, panel: Panel, symptom: Symptom) -> Diagnosis:
    """What may have caused a symptom on a panel."""
    known = _known(desk)
    middle = _middle(known, symptom)
    asked = ASKED[symptom]
    others = [(figures, values[asked]) for other, figures, values in known if other.id != panel.id and asked in values]
    good = [figures for figures, value in others if not has(symptom, value, middle)]
    mine = run.counted(panel)
    value = value_of(mine, ASKED[symptom]) if mine else None
    present = value is not None and has(symptom, _per_dm2(run, panel, ASKED[symptom], value), middle)
    return Diagnosis(panel=panel, symptom=symptom, present=present, causes=causes.ranked(symptom, figures_of(desk, run, panel), good), good=len(good))


def symptoms(desk: Desk, run: Run, panel: Panel) -> list[Symptom]:
    """What a panel has, by its own figures."""
    return [s for s in Symptom if diagnosis(desk, run, panel, s).present]


def has(symptom: Symptom, value: float, middle: float) -> bool:
    """Whether a panel has a symptom, by its figure and the middle of all panels."""
    if symptom is Symptom.CRACKS:
        return value > 0.0
    if symptom is Symptom.BARE:
        return value < WHOLE
    if symptom is Symptom.LACING:
        return value > LACED
    return value < LOW * middle


def _middle(known: list[tuple[Panel, dict[Trait, float], dict[Response, float]]], symptom: Symptom) -> float:
    told = [v for _, _, values in known if (v := values.get(ASKED[symptom])) is not None]
    return median(told) if told else 0.0


def _per_dm2(run: Run, panel: Panel, response: Response, value: float) -> float:
    return value / run.face_dm2(panel) if response in (Response.CELL_COUNT, Response.CRACK_LENGTH) else value


def _known(desk: Desk) -> list[tuple[Panel, dict[Trait, float], dict[Response, float]]]:
    """All panels that were read dry: how they were made, and what they showed."""
    found = []
    for series in desk.all_series():
        run = desk.load(series.id)
        found += run.once(("made", desk.revision), lambda run=run: _of_run(desk, run))  # type: ignore[misc]
    return found


def _of_run(desk: Desk, run: Run) -> list[tuple[Panel, dict[Trait, float], dict[Response, float]]]:
    made = []
    for panel in run.panels:
        reading, counted = run.reading(panel), run.counted(panel)
        if panel.spoiled or reading is None or counted is None or reading.stage is not Stage.DRY:
            continue
        values = {r: _per_dm2(run, panel, r, v) for r in set(ASKED.values()) if (v := value_of(counted, r)) is not None}
        made.append((panel, figures_of(desk, run, panel), values))
    return made
