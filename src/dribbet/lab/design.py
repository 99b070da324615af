"""Design of a test: recipes from levels, panel codes, pouring order by lot (science: what a test shows)."""

from __future__ import annotations

import string
from dataclasses import dataclass
from itertools import product
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.consistency import SILICONE_THICKENS_PER_DROP, log_mixed_viscosity_pa_s
from dribbet.records import DribbetError, Factor, Layer, Level, Panel, Series, Technique

if TYPE_CHECKING:
    from collections.abc import Callable

LETTERS: Final = string.ascii_lowercase
THINNERS: Final = ("water", "alcohol")
FILM_BY_TECHNIQUE_M: Final = {  # what usually stays, before anyone has weighed; replaced by own weighings
    Technique.FLIP_CUP: 1.7e-3,
    Technique.OPEN_CUP: 1.8e-3,
    Technique.STRAIGHT_POUR: 1.5e-3,
    Technique.RING_POUR: 1.9e-3,
    Technique.SWIPE: 1.2e-3,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Arm:
    """One recipe of a test with everything that follows from its levels. Shares are mass fractions of the mix."""

    letter: str
    level: int
    crossed_level: int
    paint_share: float
    medium_share: float
    water_share: float
    alcohol_share: float
    medium: str
    silicone_drops_per_100g: float
    film_m: float
    technique: Technique

    @property
    def mix_key(self) -> tuple[object, ...]:
        """What must be equal for two recipes to be mixed in one batch (drops go into the colour later)."""
        return (self.medium, *(round(x, 9) for x in (self.paint_share, self.water_share, self.alcohol_share)))

    @property
    def viscosity_pa_s(self) -> float:
        """Flow estimate by log mixing; silicone thickens."""
        shares = {"paint": self.paint_share / 1.2, self.medium: self.medium_share / 1.03, "water": self.water_share}
        if self.alcohol_share:
            shares["alcohol"] = self.alcohol_share / 0.81
        return log_mixed_viscosity_pa_s(shares) * (1.0 + SILICONE_THICKENS_PER_DROP * self.silicone_drops_per_100g)


def _number(level: Level, factor: Factor) -> float:
    if level.value is None:
        raise DribbetError(f"The level {level.name!r} of {factor} is not a number. Type a number.")
    return level.value


def arms(series: Series) -> tuple[Arm, ...]:
    """Recipes of a series, a, b, c, ... : the factor runs fastest, the crossed factor slowest.

    Raises
    ------
    DribbetError
        If a level cannot be mixed, or there are more than 26 recipes.
    """
    crossed = series.crossed_levels or (None,)
    pairs = list(product(range(len(crossed)), range(len(series.levels))))
    if len(pairs) > len(LETTERS):
        raise DribbetError(f"{len(pairs)} recipes are more than the alphabet has letters. Split the series in two.")
    made = []
    for letter, (row, column) in zip(LETTERS, pairs, strict=False):
        settings = [(series.factor, series.levels[column])]
        if series.crossed is not None and series.crossed_levels:
            settings.append((series.crossed, series.crossed_levels[row]))
        made.append(_arm(series, letter, column, row, settings))
    return tuple(made)


def _arm(series: Series, letter: str, column: int, row: int, settings: list[tuple[Factor, Level]]) -> Arm:
    held = series.constants
    medium, ratio, water, alcohol = held.medium, held.medium_parts, held.water_share, held.alcohol_share
    drops, film, technique = held.silicone_drops_per_100g, held.film_m, held.technique
    for factor, level in settings:
        if factor is Factor.MEDIUM:
            medium = level.name
        elif factor is Factor.TECHNIQUE:
            technique = Technique(level.name)
            film = FILM_BY_TECHNIQUE_M[technique]
        elif factor is Factor.RATIO:
            ratio = _number(level, factor)
        elif factor is Factor.WATER_SHARE:
            water = _number(level, factor)
        elif factor is Factor.SILICONE:
            drops = _number(level, factor)
        elif factor is Factor.ALCOHOL:
            alcohol = _number(level, factor)
        else:
            film = _number(level, factor)
    if not 0.0 <= water + alcohol < 0.9:
        raise DribbetError(f"Recipe {letter} would be {water + alcohol:.0%} thinner. Choose less water or alcohol: below 90 % together.")
    if ratio < 0 or drops < 0 or film <= 0:
        raise DribbetError(f"Recipe {letter} has a level below zero. Choose a level of zero or more.")
    paint = (1.0 - water - alcohol) / (1.0 + ratio)
    return Arm(
        letter=letter,
        level=column,
        crossed_level=row,
        paint_share=paint,
        medium_share=paint * ratio,
        water_share=water,
        alcohol_share=alcohol,
        medium=medium,
        silicone_drops_per_100g=drops,
        film_m=film,
        technique=technique,
    )


def mix_fractions(arm: Arm, colour: str) -> dict[str, float]:
    """Mass fractions of one colour's mix in the order of mixing: paint, medium, then thinners."""
    parts = {colour: arm.paint_share, arm.medium: arm.medium_share, **dict(zip(THINNERS, (arm.water_share, arm.alcohol_share), strict=True))}
    return {name: share for name, share in parts.items() if share > 0.0}


def pouring_order(panels: int, seed: int) -> tuple[int, ...]:
    """Places drawn by lot from a stored seed: entry i is when panel i is poured, from 1."""
    order = np.random.default_rng(seed).permutation(panels)
    places = np.empty(panels, dtype=int)
    places[order] = np.arange(1, panels + 1)
    return tuple(int(p) for p in places)


def panels(series: Series, new_id: Callable[[], str]) -> tuple[Panel, ...]:
    """All panels of a series with codes and lots; without a seed they stand in plain order."""
    recipes = arms(series)
    count = len(recipes) * series.repeats
    places = pouring_order(count, series.seed) if series.seed is not None else tuple(range(1, count + 1))
    made = []
    for i, (arm, repeat) in enumerate(product(recipes, range(1, series.repeats + 1))):
        made.append(
            Panel(
                id=new_id(),
                series_id=series.id,
                code=f"{series.code}-{arm.letter}{repeat}",
                recipe=arm.letter,
                repeat=repeat,
                place=places[i],
                level=arm.level,
                crossed_level=arm.crossed_level,
            )
        )
    return tuple(made)


def default_layers(colours: tuple[str, ...]) -> tuple[Layer, ...]:
    """A plain cup: each colour the same share, in the order given from below."""
    if not colours:
        raise DribbetError("The cup has no colours. Choose at least one paint from the shelf.")
    return tuple(Layer(material=c, share=1.0 / len(colours)) for c in colours)
