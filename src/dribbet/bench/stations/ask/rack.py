"""The rack: recipes as cups in columns and rows of what is varied, whatever their number."""

from __future__ import annotations

import math
from itertools import product
from typing import TYPE_CHECKING

from dribbet.bench.parts.cup import CupView
from dribbet.bench.stations.ask.view import RackCup, RackRow
from dribbet.lab.plan.factors import NATURES
from dribbet.records import BETWEEN, NO_HEX, BasePlan, Factor
from dribbet.records.wording import first_up
from dribbet.words import ask as ask_words
from dribbet.words import levels as words
from dribbet.words.units import count_text, dose_text, percent

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Material, Series
    from dribbet.words.units import Units


COLUMNS_MOST = 8  # more stand too close for their codes; rows may scroll


def sides(series: Series) -> tuple[list[int], list[int]]:
    """Which of the things varied run along the columns, and which down the rows: dealt so that the rack stays wide."""
    columns, rows = [0], []
    wide, tall = len(series.levels), 1
    for i in range(1, len(series.varied)):
        count = len(series.varied[i].levels)
        if tall < wide or wide * count > COLUMNS_MOST:
            rows.append(i)
            tall *= count
        else:
            columns.append(i)
            wide *= count
    columns.sort(key=lambda i: max(len(level.name) or 5 for level in series.varied[i].levels))  # short words where columns are narrow
    return columns, rows


def combinations(series: Series, which: Sequence[int]) -> list[tuple[int, ...]]:
    """Level numbers of some of the things varied, the first running fastest."""
    sizes = [len(series.varied[i].levels) for i in reversed(which)]
    return [tuple(reversed(c)) for c in product(*(range(n) for n in sizes))]


def lines(series: Series, which: Sequence[int], units: Units) -> tuple[tuple[str, tuple[tuple[str, str, int], ...]], ...]:
    """Heads of the columns line by line, the slowest thing first."""
    made = []
    for at, i in reversed(list(enumerate(which))):
        varied = series.varied[i]
        inner = math.prod(len(series.varied[j].levels) for j in which[:at])
        outer = math.prod(len(series.varied[j].levels) for j in which[at + 1 :])
        texts = [(words.level_text(varied.factor, v, units), words.short_text(varied.factor, v, units)) for v in varied.levels]
        levels = tuple((text, short, inner) for text, short in texts)
        made.append((first_up(varied.words), levels * outer))
    return tuple(made)


def head(series: Series, which: Sequence[int], at: Sequence[int], units: Units) -> str:
    """Levels of one column or row."""
    return ", ".join(words.level_text(series.varied[i].factor, series.varied[i].levels[n], units) for i, n in zip(which, at, strict=True))


def rack(
    series: Series, recipes: Sequence[Arm], shelf: Mapping[str, Material], units: Units, *, covered: bool = False
) -> tuple[str, tuple[str, ...], tuple[RackRow, ...]]:
    """Head of the columns, their levels, and the shelves of the rack; recipes besides the design stand on the last.

    While a blind test is `covered`, no code says which letter a recipe has.
    """
    across, down = sides(series)
    by_settings = {a.settings: a for a in recipes if a.extra is None}
    columns = combinations(series, across)
    made = []
    for row in combinations(series, down) if down else [()]:
        cups: list[RackCup | None] = []
        for column in columns:
            settings = [0] * len(series.varied)
            for i, n in (*zip(across, column, strict=True), *zip(down, row, strict=True)):
                settings[i] = n
            arm = by_settings.get(tuple(settings))
            cups.append(cup(series, arm, shelf, units, covered=covered) if arm is not None else None)
        if any(cups):
            text = head(series, down, row, units) if down else ""
            what = ", ".join(series.varied[i].words for i in down if series.varied[i].words not in text)
            note = what if down else ask_words.REPEATS_OF_EACH(repeats=count_text(series.repeats, "repeat"))
            made.append(RackRow(first_up(text), note, tuple(cups)))
    besides = [a for a in recipes if a.extra is not None or BETWEEN in a.settings]
    if besides:
        wide = len(columns)
        for start in range(0, len(besides), wide):
            some = besides[start : start + wide]
            notes = "; ".join(_besides(series, a, units, covered=covered) for a in some)
            row_cups = [cup(series, a, shelf, units, covered=covered) for a in some]
            made.append(RackRow("Besides", notes, (*row_cups, *[None] * (wide - len(some)))))
    if len(across) == 1:
        title = words.column_head(series.varied[0], series.constants.drop_kg)
    else:
        title = first_up(" and ".join(series.varied[i].words for i in across))
    return title, tuple(head(series, across, c, units) for c in columns), tuple(made)


def _besides(series: Series, arm: Arm, units: Units, *, covered: bool) -> str:
    letter = "" if covered else f"{arm.letter}: "
    if arm.extra is None:
        return f"{letter}halfway, {count_text(arm.panels, 'panel')}"
    levels = head(series, range(len(arm.settings)), arm.settings, units)
    if not arm.extra.instead:
        return f"{letter}{levels}"
    factor, level = arm.extra.instead[-1]
    return f"{letter}{levels}, but {factor} {words.level_text(factor, level, units)}"


def cup(series: Series, arm: Arm, shelf: Mapping[str, Material], units: Units, *, covered: bool = False) -> RackCup:
    """One recipe as a cup: its layers, its stick, its drops."""
    layers = tuple((shelf[layer.material].hex if layer.material in shelf else NO_HEX, layer.share) for layer in arm.layers)
    dosed = arm.silicone_drops_per_100g > 0
    drops = {i: math.ceil(arm.silicone_drops_per_100g) for i, layer in enumerate(arm.layers) if dosed and layer.material in arm.held.silicone_colours}
    fill = min(max(arm.film_m / 1.7e-3, 0.45), 1.0) if series.varies(Factor.FILM_LEFT) else 1.0
    view = CupView(
        layers=layers,
        fill=fill,
        stick=(arm.paint_share, arm.medium_share + arm.shimmer_share + arm.held.beside_share, arm.water_share + arm.alcohol_share),
        drops=drops,
        behind=arm.panels - 1,
    )
    codes = tuple(series.code if covered else f"{series.code}-{arm.letter}{r}" for r in range(1, arm.panels + 1))
    said = [
        f"{percent(arm.paint_share)} paint",
        f"{percent(arm.medium_share)} {units.called(arm.medium)}",
        f"{percent(arm.water_share + arm.alcohol_share)} thinner",
    ]
    if arm.shimmer_share:
        said.append(f"{percent(arm.shimmer_share)} {units.called(arm.held.shimmer_medium)}")
    if arm.anti_craze_share:
        said.append(f"{percent(arm.anti_craze_share)} {units.called(arm.held.anti_craze)}")
    said += [f"{percent(share)} {units.called(name)}" for name, share in arm.added if share]
    if dosed:
        said.append(dose_text(arm.silicone_drops_per_100g, arm.held.drop_kg, units.called(arm.held.silicone)))
    if arm.held.base_plan is not BasePlan.NONE:
        more = f" with {percent(arm.held.base_craze_share)} {units.called(arm.held.anti_craze)}" if arm.held.base_craze_share else ""
        said.append(f"on {arm.held.base_plan} of {units.called(arm.held.base)}{more}")
    for v, n in zip(series.varied, arm.settings, strict=True):
        if n != BETWEEN and NATURES[v.factor].field not in ("water_share", "medium_parts", "medium", "silicone_drops_per_100g", "added"):
            said.append(f"{v.words} {words.level_text(v.factor, v.levels[n], units)}")
    return RackCup(view, codes, f"Recipe{'' if covered else f' {arm.letter}'}: {', '.join(said)}")
