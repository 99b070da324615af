"""The rack: recipes as cups in columns and rows of what is varied, whatever their number."""

from __future__ import annotations

import math
from itertools import product
from typing import TYPE_CHECKING

from dribbet.bench.parts.cup import CupView
from dribbet.bench.stations.ask.view import RackCup, RackRow
from dribbet.records import BETWEEN, NO_HEX, Factor
from dribbet.records.wording import first_up
from dribbet.words import levels
from dribbet.words import rack as words

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
        texts = [(levels.level_text(varied.factor, v, units), levels.short_text(varied.factor, v, units)) for v in varied.levels]
        each = tuple((text, short, inner) for text, short in texts)
        made.append((first_up(varied.words), each * outer))
    return tuple(made)


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
            note = words.of_what(series, down, row, units) if down else words.OF_EACH(series.repeats, repeats=series.repeats)
            made.append(RackRow(first_up(words.settings(series, down, row, units)), note, tuple(cups)))
    besides = [a for a in recipes if a.extra is not None or BETWEEN in a.settings]
    if besides:
        wide = len(columns)
        for start in range(0, len(besides), wide):
            some = besides[start : start + wide]
            notes = "; ".join(words.besides(series, a, units, covered=covered) for a in some)
            row_cups = [cup(series, a, shelf, units, covered=covered) for a in some]
            made.append(RackRow(words.BESIDES, notes, (*row_cups, *[None] * (wide - len(some)))))
    if len(across) == 1:
        title = levels.column_head(series.varied[0], series.constants.drop_kg)
    else:
        title = words.varied(series, across)
    return title, tuple(words.settings(series, across, c, units) for c in columns), tuple(made)


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
    return RackCup(view, codes, words.recipe(series, arm, units, covered=covered))
