"""Design of a test: recipes from levels, panel codes, pouring order and rack places by lot (science: what a test shows)."""

from __future__ import annotations

import string
from dataclasses import replace
from functools import lru_cache
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.plan import basis, layouts
from dribbet.lab.plan.arm import THINNERS, Arm, arm_of, mix_fractions
from dribbet.records import BETWEEN, Design, DribbetError, Layer, Panel, Series

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["LETTERS", "THINNERS", "Arm", "arms", "default_layers", "mix_fractions", "panels", "sheets"]

LETTERS: Final = string.ascii_lowercase


def settings_of(series: Series) -> list[layouts.Settings]:
    """Level numbers of every recipe of the design, without the extra ones."""
    return layouts.recipes([len(v.levels) for v in series.varied], series.layout)


@lru_cache(maxsize=128)
def arms(series: Series) -> tuple[Arm, ...]:
    """Recipes of a series, a, b, c, ... : the first factor runs fastest; centre point and extra recipes come last.

    Raises
    ------
    DribbetError
        If a level cannot be mixed, or there are more than 26 recipes.
    """
    rows = settings_of(series)
    extras = series.layout.extras
    count = len(rows) + len(extras)
    if count > len(LETTERS):
        raise DribbetError(f"{count} recipes are more than the alphabet has letters. Pour a chosen part of them, or split the series in two.")
    made = []
    for letter, row in zip(LETTERS, rows, strict=False):
        repeats = series.layout.centre_points if row[0] == BETWEEN and series.layout.centre_points else series.repeats
        made.append(arm_of(series, letter, row, repeats))
    made = list(basis.equalised(made, series.equal, dict(series.prices)))
    for letter, extra in zip(LETTERS[len(rows) :], extras, strict=False):
        made.append(arm_of(series, letter, extra.settings, extra.panels, extra))
    if series.layout.blind and series.seed is not None:
        drawn = np.random.default_rng(series.seed + 2).permutation(len(made))
        made = sorted((replace(a, letter=LETTERS[i]) for a, i in zip(made, drawn, strict=True)), key=lambda a: a.letter)
    return tuple(made)


def paired(series: Series) -> bool:
    """Whether all recipes of a repeat share one panel."""
    return series.layout.design is Design.PAIRED


def sheets(series: Series) -> int:
    """How many panels are needed; pieces side by side share one."""
    recipes = arms(series)
    return series.repeats if paired(series) else sum(a.panels for a in recipes)


def _blocks(series: Series, recipes: tuple[Arm, ...]) -> list[int]:
    """Block of every piece: repeats are dealt to blocks in turn, so that each block holds every recipe where it can."""
    return [1 + repeat % series.layout.blocks for arm in recipes for repeat in range(arm.panels)]


def panels(series: Series, new_id: Callable[[], str]) -> tuple[Panel, ...]:
    """All panels of a series with codes, lots and rack places; without a seed they stand in plain order."""
    recipes = arms(series)
    pieces = [(arm, repeat) for arm in recipes for repeat in range(1, arm.panels + 1)]
    blocks = _blocks(series, recipes)
    together = paired(series)
    groups = [repeat for _, repeat in pieces] if together else blocks
    places = layouts.pouring_order(groups, series.seed) if series.seed is not None else tuple(range(1, len(pieces) + 1))
    racked = series.repeats if together else len(pieces)
    slots = layouts.rack_places(racked, series.seed) if series.seed is not None else tuple(range(1, racked + 1))
    held = series.constants
    boxes = layouts.regions(len(recipes), held.panel_width_m, held.panel_height_m) if together else []
    made = []
    for i, (arm, repeat) in enumerate(pieces):
        region: tuple[float, ...] = ()
        if together:  # which recipe lies where changes from panel to panel, by the same lots
            turn = np.random.default_rng((series.seed or 0) + 100 + repeat).permutation(len(boxes))
            region = boxes[int(turn[recipes.index(arm)])]
        made.append(
            Panel(
                id=new_id(), series_id=series.id, code=f"{series.code}-{arm.letter}{repeat}", recipe=arm.letter, repeat=repeat, place=places[i],
                settings=arm.settings, block=blocks[i], slot=slots[repeat - 1 if together else i], sheet=repeat if together else 0, region=region,
            )
        )  # fmt: skip
    return tuple(made)


def default_layers(colours: tuple[str, ...]) -> tuple[Layer, ...]:
    """A plain cup: each colour the same share, in the order given from below."""
    if not colours:
        raise DribbetError("The cup has no colours. Choose at least one paint from the shelf.")
    return tuple(Layer(material=c, share=1.0 / len(colours)) for c in colours)
