"""One recipe of a test: its levels in place of what is held, and the mix that follows from them."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

from dribbet.lab.cup.recipe import final_alcohol_share
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S, SILICONE_THICKENS_PER_DROP, log_mixed_viscosity_pa_s
from dribbet.lab.plan.factors import applied, between, blend
from dribbet.records import (
    ALCOHOL,
    AS_GIVEN,
    BETWEEN,
    TURNED_ROUND,
    WATER,
    Constants,
    DribbetError,
    Extra,
    Factor,
    Layer,
    Level,
    Series,
    Swap,
    Technique,
    Varied,
)
from dribbet.records.wording import first_up

THINNERS: Final = (WATER, ALCOHOL)
NOTHING: Final = "nothing"
MOST_THIN: Final = 0.9  # a mix with more thinner than this is no paint
# Densities for flow estimates before anything is weighed, in g/mL; the shelf's own are used for amounts.
ROUGH_DENSITY: Final = {"paint": 1.2, "medium": 1.03, WATER: 1.0, ALCOHOL: 0.81}


@dataclass(frozen=True, slots=True, kw_only=True)
class Arm:
    """One recipe with everything that follows from its levels. Shares are mass fractions of the mix and sum to one."""

    letter: str
    settings: tuple[int, ...]
    held: Constants
    layers: tuple[Layer, ...]
    paint_share: float
    medium_share: float
    shimmer_share: float = 0.0
    anti_craze_share: float = 0.0
    added: tuple[tuple[str, float], ...] = ()
    """What else is in every colour, with its share of the mix."""
    water_share: float
    alcohol_share: float
    panels: int
    extra: Extra | None = None
    trouble: str = ""
    """Why what should be equal could not be made so; empty where it could."""

    @property
    def level(self) -> int:
        """Level number of what is varied first."""
        return self.settings[0]

    @property
    def medium(self) -> str:
        """Name of the medium."""
        return self.held.medium

    @property
    def silicone_drops_per_100g(self) -> float:
        """Drops of silicone in 100 g of the colours that get it."""
        return self.held.silicone_drops_per_100g

    @property
    def film_m(self) -> float:
        """Wet film that should stay."""
        return self.held.film_m

    @property
    def technique(self) -> Technique:
        """How it is poured."""
        return self.held.technique

    def batch_key(self, colour: str) -> tuple[object, ...]:
        """What must be equal for two recipes to share a batch of a colour: what is in it, its drops, its rest, what its words promise."""
        held = self.held
        inside = tuple((name, round(share, 9)) for name, share in mix_fractions(self, colour).items())
        strength = held.alcohol_strength if self.alcohol_share else 0.0
        drops = (self.dose_of(colour), held.silicone) if self.dose_of(colour) else (0.0, "")
        return (inside, held.finish, held.rest_s, strength, held.water_source, *drops)

    def dose_of(self, colour: str) -> float:
        """Drops of silicone wanted in 100 g of a colour; 0 where it gets none."""
        return self.held.silicone_drops_per_100g if colour in self.held.silicone_colours else 0.0

    @property
    def colours(self) -> list[str]:
        """Colours of this recipe's cup, each once, from below."""
        return list(dict.fromkeys(layer.material for layer in self.layers))

    def cup_share(self, colour: str) -> float:
        """Share of the cup that a colour takes."""
        return sum(layer.share for layer in self.layers if layer.material == colour)

    @property
    def thinner(self) -> str:
        """What stands for water in this recipe: water, or a thinner of the shelf."""
        return self.held.third_liquid if self.held.third_liquid not in (*THINNERS, NOTHING) else WATER

    @property
    def parts(self) -> dict[str, float]:
        """Mass fractions by what each is."""
        each = [
            ("paint", self.paint_share),
            *((name, self.medium_share * share) for name, share in blend(self.medium).items()),
            (self.held.shimmer_medium, self.shimmer_share),
            (self.held.anti_craze, self.anti_craze_share),
            *self.added,
            (self.thinner, self.water_share),
            ("alcohol", self.alcohol_share),
        ]
        shares: dict[str, float] = {}
        for name, share in each:  # the same material may be the medium and the shimmer at once
            shares[name] = shares.get(name, 0.0) + share
        return {name: share for name, share in shares.items() if share > 0.0}

    @property
    def viscosity_pa_s(self) -> float:
        """Flow estimate by log mixing, from the person's own checks as the plan keeps them; silicone thickens."""
        return flow_pa_s(self.parts, dict(self.held.own_pa_s)) * (1.0 + SILICONE_THICKENS_PER_DROP * self.silicone_drops_per_100g)

    @property
    def isopropyl_share(self) -> float:
        """Isopropyl alcohol in the mix by mass: a solution of so many % v/v brings that much, and the rest is water."""
        return final_alcohol_share(self.alcohol_share, self.held.alcohol_strength)


def flow_pa_s(shares: dict[str, float], own_pa_s: dict[str, float] | None = None) -> float:
    """Viscosity of a mix given by mass, by log mixing of rough volumes; by the person's own figures where there are some."""
    volumes = {name: share / ROUGH_DENSITY.get(name, ROUGH_DENSITY["medium"]) for name, share in shares.items()}
    return log_mixed_viscosity_pa_s(volumes, own_pa_s)


def mix_fractions(arm: Arm, colour: str) -> dict[str, float]:
    """Mass fractions of one colour's mix in the order of mixing: paint, mediums, then thinners.

    A colour with parts of medium of its own keeps the recipe's thinners and additives; paint and medium share the rest.
    """
    own = dict(arm.held.colour_parts).get(colour)
    if own is not None:
        arm = mixed(arm, arm.water_share, arm.alcohol_share, own)
    shares: dict[str, float] = {}
    for name, share in arm.parts.items():  # a paint may be its own medium's name
        name = colour if name == "paint" else name
        shares[name] = shares.get(name, 0.0) + share
    return shares


def settled(held: Constants, what: tuple[Varied, ...], settings: tuple[int, ...], extra: Extra | None = None) -> Constants:
    """Constants with the levels of one recipe in place.

    Raises
    ------
    DribbetError
        If a level is out of its factor's reach.
    """
    for varied, at in zip(what, settings, strict=True):
        level = between(varied.levels, varied.words) if at == BETWEEN else varied.levels[at]
        held = applied(held, varied, level)
    for factor, level in extra.instead if extra else ():
        held = applied(held, Varied(factor=factor, levels=(level,)), level)
    return held


def arm_of(series: Series, letter: str, settings: tuple[int, ...], panels: int, extra: Extra | None = None) -> Arm:
    """One recipe from its level numbers.

    Raises
    ------
    DribbetError
        If it cannot be mixed.
    """
    return replace(_arm(series.constants, series.varied, series.layers, letter, settings, extra), panels=panels)


@lru_cache(maxsize=2048)  # a change of the plan leaves most recipes as they were, and its three sizes share them
def _arm(
    constants: Constants, what: tuple[Varied, ...], layers: tuple[Layer, ...], letter: str, settings: tuple[int, ...], extra: Extra | None
) -> Arm:
    held = settled(constants, what, settings, extra)
    blend(held.medium)  # refuses what is no blend, before anything is computed with it
    layers = repeated(ordered(swapped(layers, held.swaps), held.order), held.rounds)
    water, alcohol = held.water_share, held.alcohol_share
    if held.third_liquid == "alcohol":
        water, alcohol = 0.0, alcohol + water
    elif held.third_liquid == NOTHING:
        water = 0.0
    made = mixed(
        Arm(letter=letter, settings=settings, held=held, layers=layers, paint_share=1.0, medium_share=0.0,
            water_share=water, alcohol_share=alcohol, panels=1, extra=extra),
        water, alcohol,
    )  # fmt: skip
    if held.grade and not (extra and any(f is Factor.WATER_SHARE for f, _ in extra.instead)):
        made = thinned_to(made, grade_viscosity_pa_s(held.grade))
    return made


def mixed(arm: Arm, water: float, alcohol: float, ratio: float | None = None) -> Arm:
    """Return the recipe with so much water and alcohol; paint and mediums fill the rest in their ratio.

    Raises
    ------
    DribbetError
        If no paint is left.
    """
    ratio = arm.held.medium_parts if ratio is None else ratio
    thin = water + alcohol
    if not -1e-12 <= thin < MOST_THIN or water < -1e-12:
        raise DribbetError(f"Recipe {arm.letter} would be {thin:.0%} thinner. Choose less water or alcohol: below 90 % together.")
    craze = arm.held.anti_craze_share
    beside = arm.held.beside_share
    rest = 1.0 - thin - beside
    if rest < 0.05:
        raise DribbetError(f"Recipe {arm.letter} has {thin + beside:.0%} thinner and additive, so hardly any paint. Choose less of one.")
    paint = rest / (1.0 + ratio + arm.held.shimmer_parts)
    return replace(
        arm, paint_share=paint, medium_share=paint * ratio, shimmer_share=paint * arm.held.shimmer_parts, anti_craze_share=craze,
        added=arm.held.added,
        water_share=max(water, 0.0), alcohol_share=alcohol,
    )  # fmt: skip


def grade_viscosity_pa_s(grade: float) -> float:
    """Viscosity to thin to for a grade; between grades in equal steps of ln mu."""
    low = min(max(int(grade), 1), 4)
    first, second = GRADE_VISCOSITY_PA_S[low], GRADE_VISCOSITY_PA_S[low + 1]
    return float(first * (second / first) ** (grade - low))


def thinned_to(arm: Arm, viscosity_pa_s: float) -> Arm:
    """Return the recipe with the water at which it flows like this, its paint to medium held.

    `trouble` says so where water cannot do it: a mix gets no thicker than without water.
    """
    if arm.paint_share <= 0.0:  # a cup into which no paint was weighed
        return replace(arm, trouble=f"Recipe {arm.letter} holds no paint: no ratio is there to keep while it is thinned.")
    ratio = arm.medium_share / arm.paint_share  # as it stands: equal cost may have changed the parts
    low, high = 0.0, MOST_THIN - arm.alcohol_share - 0.05

    def flow(water: float) -> float:
        return mixed(arm, water, arm.alcohol_share, ratio).viscosity_pa_s

    high = min(high, 0.94 - arm.alcohol_share - arm.held.beside_share)
    if flow(low) <= viscosity_pa_s:
        short = flow(low) < viscosity_pa_s / 1.05
        made = mixed(arm, 0.0, arm.alcohol_share, ratio)
        return replace(made, trouble=f"Recipe {arm.letter} is thinner than that even without water." if short else "")
    if flow(high) > viscosity_pa_s:
        return replace(mixed(arm, high, arm.alcohol_share, ratio), trouble=f"No water makes recipe {arm.letter} that thin.")
    from scipy.optimize import brentq  # takes its time: only where a recipe is thinned to a grade

    water = brentq(lambda share: math.log(flow(share) / viscosity_pa_s), low, high, xtol=1e-12)
    return replace(mixed(arm, float(water), arm.alcohol_share, ratio), trouble="")


def swapped(layers: tuple[Layer, ...], swaps: tuple[Swap, ...]) -> tuple[Layer, ...]:
    """Layers with one paint in place of another.

    Raises
    ------
    DribbetError
        If the paint that is to give way is not in that place.
    """
    for swap in swaps:
        here = [i for i, layer in enumerate(layers, start=1) if layer.material == swap.of and swap.layer in (0, i)]
        if not here:
            where = f"layer {swap.layer} of the cup" if swap.layer else "the cup"
            raise DribbetError(f"{first_up(swap.of)} is not in {where}, so {swap.to} cannot take its place. Name a colour that is in it.")
        layers = tuple(replace(layer, material=swap.to) if i in here else layer for i, layer in enumerate(layers, start=1))
    return layers


def repeated(layers: tuple[Layer, ...], rounds: int) -> tuple[Layer, ...]:
    """The same paint in more, thinner layers: the order so many times over."""
    return tuple(replace(layer, share=layer.share / rounds) for _ in range(rounds) for layer in layers) if rounds > 1 else layers


def ordered(layers: tuple[Layer, ...], order: str) -> tuple[Layer, ...]:
    """Layers in another order: as given, turned round, or named from below with slashes between.

    Raises
    ------
    DribbetError
        If a name is no colour of the cup, or one is left out.
    """
    if order == AS_GIVEN:
        return layers
    if order == TURNED_ROUND:
        return tuple(reversed(layers))
    wanted = [w.strip().lower() for w in order.split("/")]
    left = list(layers)
    made = []
    for name in wanted:
        found = next((layer for layer in left if layer.material.lower() == name), None)
        if found is None:
            raise DribbetError(f"“{name}” is not in the cup (again). Name each layer once from below, such as foam / teal, or say turned round.")
        left.remove(found)
        made.append(found)
    if left:
        raise DribbetError(f"{first_up(left[0].material)} is left out of the order “{order}”. Name every layer of the cup.")
    return tuple(made)


def level_at(series: Series, which: int, settings: tuple[int, ...]) -> Level:
    """Level that a recipe has of one of the things varied."""
    varied = series.varied[which]
    return between(varied.levels, varied.words) if settings[which] == BETWEEN else varied.levels[settings[which]]
