"""Every measured panel with its cup, for what Shelf and Findings say of experience. No widgets."""

from __future__ import annotations

from itertools import pairwise
from statistics import fmean
from typing import TYPE_CHECKING

from dribbet.lab.paint import experience
from dribbet.lab.panel import progress
from dribbet.lab.plan.responses import value_of
from dribbet.records import Stage

if TYPE_CHECKING:
    from dribbet.bench.studio import Run, Studio
    from dribbet.lab.paint.experience import Seen
    from dribbet.records import Panel


def panels_seen(studio: Studio) -> list[Seen]:
    """All panels that were measured dry; read once until something changes."""
    if studio.seen is None or studio.seen[0] != studio.revision:
        found = []
        for series in studio.all_series():
            run = studio.load(series.id)
            for panel in run.panels:
                reading = run.reading(panel)
                if reading is None or panel.spoiled or reading.stage is not Stage.DRY:
                    continue
                values = {r: v for r in experience.TOLD if (v := value_of(reading.result, r)) is not None}
                found.append(_seen(run, panel, values))
        studio.seen = studio.revision, found
    return studio.seen[1]


def _seen(run: Run, panel: Panel, values: dict) -> Seen:  # type: ignore[type-arg]
    sheen = {m.name: m.sheen for m in run.shelf}
    layers = [sheen.get(layer.material) for layer in run.arm(panel).layers]
    known = all(layers)
    mounds = [s for m in run.mixes if panel.recipe in m.recipes and (s := progress.mound_s(m, run.checks)) is not None]
    return experience.Seen(
        cup=run.cup(panel),
        values=values,
        unlike_sheen=any(a is not b for a, b in pairwise(layers)) if known else None,
        signs=frozenset(m.kind for m in run.mishaps if m.panel_id == panel.id and m.kind.is_sign),
        mound_s=fmean(mounds) if mounds else None,
    )
