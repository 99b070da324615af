"""The run sheet of a series in the person's words; drawn by `paper.run_sheet`."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab.panel.progress import looks_of
from dribbet.lab.plan import basis, confounding, design
from dribbet.paper.labels import PanelLabel
from dribbet.paper.run_sheet import RunRow, RunSheet
from dribbet.words import ask as ask_words
from dribbet.words import confounding as confounding_words
from dribbet.words import levels as words
from dribbet.words.units import NARROW, NO_BREAK, count_text, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.planning import Demand
    from dribbet.records import Panel, Series
    from dribbet.words.units import Units


def recipe_words(series: Series, arm: Arm, units: Units) -> str:
    """A recipe by its levels, without signs that the paper's typeface lacks."""
    return words.recipe_text(series, arm, units).replace(NARROW, NO_BREAK)


def standings(series: Series, recipes: Sequence[Arm], prices: dict[str, float]) -> tuple[tuple[str, ...], ...]:
    """Recipe, flow, paint share and cost of each recipe, flow as times that of the first; nothing where the sheet is blind."""
    if series.layout.blind:
        return ()
    found = [basis.standing(a, prices) for a in recipes]
    rows = [("Recipe", "Thinner", "Medium to paint", "Paint", "Flow, estimated", ask_words.COST_OF_1_KG)]
    for s in found:
        flow = s.flow_per_pa_s / found[0].flow_per_pa_s
        rows.append(
            (s.letter, percent(s.thinner_share), f"{s.medium_parts:.2f} : 1", percent(s.paint_share), f"{flow:.2f} times", f"{s.cost_per_kg:.2f}")
        )
    return tuple(tuple(cell.replace(NARROW, NO_BREAK) for cell in row) for row in rows)


def run_sheet(
    series: Series,
    panels: Sequence[Panel],
    demand: Sequence[Demand],
    units: Units,
    *,
    question: str,
    held: str,
    expected: str,
    prices: dict[str, float],
) -> RunSheet:
    """Everything on the sheet, in the person's words and units; in the order of the lots."""
    recipes = {a.letter: a for a in design.arms(series)}
    blind = series.layout.blind
    rows, labels = [], []
    for p in sorted(panels, key=lambda p: (p.place, p.code)):
        arm = recipes[p.recipe]
        said = "blind" if blind else recipe_words(series, arm, units)
        if series.layout.blocks > 1:
            said = f"{series.layout.block_by} {p.block}; {said}"
        if p.sheet:
            said = f"panel {p.sheet}; {said}"
        grams = ", ".join(f"{layer.material} {units.mass_figure(arm.held.poured_kg * layer.share)}" for layer in arm.layers) + f" {units.mass}"
        rows.append(RunRow(str(p.place) if series.seed is not None else "", p.code, said, grams, str(p.slot or "")))
        lines = [
            series.name,
            "" if blind else said,
            ask_words.WASH_BEFORE_COAT if arm.silicone_drops_per_100g and not blind else "",
            "Poured: ____________",
        ]
        labels.append(PanelLabel(p.code, tuple(line for line in lines if line)))
    amounts = [("Material", f"Mass, {units.mass}", "Volume")]
    amounts += [(d.name, units.mass_figure(d.kg), units.volume_text(d.m3)) for d in demand]
    mind = [confounding_words.sentence(c) for c in confounding.confounds(series, tuple(recipes.values()))]
    drawn = ask_words.DRAWN_BY_LOT(seed=series.seed) if series.seed is not None else ask_words.LOTS_NOT_DRAWN
    return RunSheet(
        title=f"{series.code}: {series.name}",
        question=question.replace(NARROW, NO_BREAK),
        prediction=expected.replace(NARROW, NO_BREAK),
        held=tuple(part.strip().replace(NARROW, NO_BREAK) for part in held.removesuffix(".").split(";")),
        cautions=tuple(m.replace(NARROW, NO_BREAK) for m in mind),
        rows=tuple(rows),
        recipes=standings(series, tuple(recipes.values()), prices),
        amounts=tuple(amounts),
        looks=(ask_words.LOOKS_AT_EACH_PANEL(count=count_text(len(looks_of(series)), "look"), looks=", ".join(looks_of(series))),),
        seed=drawn,
        labels=tuple(labels),
    )
