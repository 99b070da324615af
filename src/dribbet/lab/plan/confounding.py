"""What else differs between the recipes of a test, as facts, and the fewest panels that would separate it.

Two sources: the columns of the design (`lab.plan.aliases`), and couplings known in advance: silicone thickens, medium moves flow,
paint share and sheen, technique moves film (science: confounded).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import aliases, layouts
from dribbet.lab.plan.arm import mixed, thinned_to
from dribbet.records import BETWEEN, WATER, BasePlan, Design, DribbetError, Equal, Extra, Factor, Level

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series

SHARE_COUNTS_FROM: Final = 0.01  # paint share differing by a percent point counts as unequal
FLOW_COUNTS_FROM: Final = 1.25  # flow differing by more than the matching band counts as unequal
FILM_COUNTS_FROM_M: Final = 0.1e-3
AGES_FROM: Final = 8  # panels in one sitting from which the last ones get noticeably older paint


class Coupling(StrEnum):
    """What moves along with what is tested."""

    DESIGN = "design"
    """Things varied that the recipes of this test do not tell apart."""
    PAIRS = "pairs"
    """The same of what two of them do together."""
    PAINT_SHARE = "paint share"
    FLOW = "flow"
    THICKNESS = "thickness"
    FILM = "film"
    BASE_FILM = "film of the base"
    SHEEN = "sheen"
    PAINT = "paint"
    SIZE = "size"
    REST = "rest"
    HEAT = "heat"
    BASE = "base"
    STAGE = "stage"
    ACTIVATOR = "activator"
    TRACES = "traces"
    FLAME = "flame"
    AGE = "age"


LESS_PAINT: Final = (
    Factor.WATER_SHARE, Factor.ALCOHOL, Factor.RATIO, Factor.SHIMMER, Factor.ANTI_CRAZE, Factor.ADDED, Factor.GRADE,
)  # fmt: skip
"""Factors of which more means less paint."""
BROUGHT_BY: Final = {
    Factor.MEDIUM: Coupling.SHEEN,
    Factor.FINISH: Coupling.PAINT,
    Factor.PANEL_SIZE: Coupling.SIZE,
    Factor.REST: Coupling.REST,
    Factor.HEAT: Coupling.HEAT,
    Factor.HEAT_AFTER: Coupling.HEAT,
    Factor.BASE_SHEEN: Coupling.BASE,
    Factor.AFTER: Coupling.STAGE,
    Factor.ACTIVATOR: Coupling.ACTIVATOR,
}
"""What comes with a factor whatever the recipes are."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Confound:
    """Something that moves along with what is tested, and the recipes that would separate the two."""

    what: Coupling
    by: Factor | None = None
    """The thing varied that brings it, where one is named."""
    low: float = 0.0
    high: float = 0.0
    """Least and most of it over the recipes: a share, how many times as fast, or m of film."""
    even: bool = False
    """Whether it is there because the recipes are mixed to equal flow."""
    pairs: tuple[tuple[tuple[str, ...], tuple[str, ...]], ...] = ()
    """Names of things varied that cannot be told apart, each against the other."""
    in_full: bool = True
    open: bool = False
    """Whether this test cannot tell which of the two did it."""
    told_by: tuple[str, ...] = ()
    """Letters of the recipes in the plan that tell the two apart."""
    extras: tuple[Extra, ...] = ()

    @property
    def separated(self) -> bool:
        """Whether the plan holds recipes that separate the two already."""
        return bool(self.told_by)

    @property
    def panels(self) -> int:
        """How many panels the separating recipes take."""
        return sum(e.panels for e in self.extras)


def confounds(series: Series, recipes: Sequence[Arm]) -> tuple[Confound, ...]:
    """Everything that moves along with the factors of a test, in the order in which it matters."""
    compared = [a for a in recipes if a.extra is None]
    extra = [a for a in recipes if a.extra is not None]
    if not compared:
        return ()
    found = [*_aliased(series, recipes)]
    for say in (_paint_share, _flow, _thickness, _film, _base_film):
        said = say(series, compared, extra)
        if said is not None:
            found.append(said)
    return tuple(found + _plain(series, compared))


# ---------------------------------------------------------------- from the design's columns


def _names(series: Series, alias: aliases.Alias) -> tuple[tuple[str, ...], tuple[str, ...]]:
    return tuple(series.varied[i].words for i in alias.first), tuple(series.varied[i].words for i in alias.second)


def _aliased(series: Series, recipes: Sequence[Arm]) -> list[Confound]:
    levels = [len(v.levels) for v in series.varied]
    if len(levels) < 2:
        return []
    rows = [a.settings for a in recipes if a.extra is None or not a.extra.instead]
    found = [a for a in aliases.aliases(rows, levels) if a.full or (len(a.first) == 1 and len(a.second) == 1)]
    mains = [a for a in found if len(a.second) == 1]
    with_pairs = [a for a in found if len(a.first) == 1 and len(a.second) == 2]
    pairs = [a for a in found if len(a.first) == 2]
    said: list[Confound] = []
    for a in mains:
        one = Confound(what=Coupling.DESIGN, pairs=(_names(series, a),), in_full=a.full)
        said.append(_parted(one, series, rows, levels, [a.first, a.second]))
    if with_pairs:
        one = Confound(what=Coupling.DESIGN, pairs=tuple(_names(series, a) for a in with_pairs))
        wanted = [(i,) for i in range(len(levels))] + sorted({a.second for a in with_pairs})
        said.append(_parted(one, series, rows, levels, wanted))
    elif pairs:
        one = Confound(what=Coupling.PAIRS, pairs=tuple(_names(series, a) for a in pairs))
        wanted = [(i,) for i in range(len(levels))] + sorted({t for a in pairs for t in (a.first, a.second)})
        said.append(_parted(one, series, rows, levels, wanted))
    return said


def _parted(one: Confound, series: Series, rows: list[tuple[int, ...]], levels: list[int], wanted: list[aliases.Term]) -> Confound:
    candidates = layouts.every(levels)
    needed = aliases.fewest_extra([r for r in rows if r[0] != BETWEEN], candidates, levels, wanted)
    # Repeats of the added recipes are not needed to part the two: the scatter comes from the others.
    each = 1 if series.repeats > 1 else series.repeats
    return replace(one, extras=tuple(Extra(settings=row, why=one.what, panels=each) for row in needed))


# ---------------------------------------------------------------- from what is known in advance


def _with(arm: Arm, why: Coupling, factor: Factor, value: float) -> tuple[Extra, ...]:
    """One recipe like `arm` as it stands, equalised water and parts included, but for one figure; none where no paint is in it."""
    if arm.paint_share <= 0.0:
        return ()
    instead = list(arm.extra.instead if arm.extra else ())
    ratio = arm.medium_share / arm.paint_share
    if factor is not Factor.RATIO and abs(ratio - arm.held.medium_parts) > 1e-6:
        instead.append((Factor.RATIO, Level(value=round(ratio, 6))))
    if factor is not Factor.WATER_SHARE and arm.held.third_liquid == WATER and abs(arm.water_share - arm.held.water_share) > 1e-6:
        instead.append((Factor.WATER_SHARE, Level(value=round(arm.water_share, 6))))
    instead.append((factor, Level(value=round(value, 6))))
    return (Extra(settings=arm.settings, instead=tuple(instead), why=why),)


def _told_by(extra: Sequence[Arm], why: Coupling) -> tuple[str, ...]:
    return tuple(a.letter for a in extra if a.extra is not None and a.extra.why == why)


def _ended(one: Confound, series: Series, extra: Sequence[Arm], remedy: Callable[[], tuple[Extra, ...]]) -> Confound:
    """With the recipes in the plan that separate the two; else open, with those that would."""
    if letters := _told_by(extra, one.what):
        return replace(one, told_by=letters)
    try:
        extras = remedy() if series.layout.design is not Design.PAIRED else ()
    except DribbetError:
        extras = ()
    return replace(one, open=True, extras=extras)


def _paint_share(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    paint = [a.paint_share for a in recipes]
    if max(paint) - min(paint) <= SHARE_COUNTS_FROM:
        return None
    by = next((v.factor for v in series.varied if v.factor in LESS_PAINT), None)
    one = Confound(what=Coupling.PAINT_SHARE, by=by, low=min(paint), high=max(paint), even=series.equal is Equal.FLOW)
    first, last = recipes[0], max(recipes, key=lambda a: abs(a.paint_share - recipes[0].paint_share))

    def remedy() -> tuple[Extra, ...]:
        if series.varies(Factor.RATIO):
            return ()
        rest = 1.0 - last.water_share - last.alcohol_share - last.held.beside_share
        ratio = rest / first.paint_share - 1.0 - last.held.shimmer_parts
        if not 0.0 <= ratio <= 20.0:
            return ()
        mixed(last, last.water_share, last.alcohol_share, ratio)
        return _with(last, Coupling.PAINT_SHARE, Factor.RATIO, ratio)

    return _ended(one, series, extra, remedy)


def _flow(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    flow = [1.0 / a.viscosity_pa_s for a in recipes]
    ratio = max(flow) / min(flow)
    only_silicone = {v.factor for v in series.varied} <= {Factor.SILICONE, Factor.SILICONE_COLOUR}
    if ratio <= FLOW_COUNTS_FROM or only_silicone:
        return None
    one = Confound(what=Coupling.FLOW, high=ratio)
    if series.varies(Factor.WATER_SHARE) or series.varies(Factor.GRADE):  # flow is what these change: nothing to separate
        return one
    first, last = recipes[0], max(recipes, key=lambda a: abs(1.0 / a.viscosity_pa_s - 1.0 / recipes[0].viscosity_pa_s))

    def remedy() -> tuple[Extra, ...]:
        thinned = thinned_to(last, first.viscosity_pa_s)
        return () if thinned.trouble else _with(last, Coupling.FLOW, Factor.WATER_SHARE, thinned.water_share)

    return _ended(one, series, extra, remedy)


def _thickness(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    drops = [a.silicone_drops_per_100g for a in recipes]
    if not series.varies(Factor.SILICONE) or max(drops) <= min(drops):
        return None
    one = Confound(what=Coupling.THICKNESS, told_by=_told_by(extra, Coupling.THICKNESS))
    if one.separated:
        return one
    first, last = min(recipes, key=lambda a: a.silicone_drops_per_100g), max(recipes, key=lambda a: a.silicone_drops_per_100g)
    if series.varies(Factor.WATER_SHARE) or series.equal is Equal.FLOW or series.layout.design is Design.PAIRED:
        return one
    thinned = thinned_to(last, first.viscosity_pa_s)
    extras = () if thinned.trouble else _with(last, Coupling.THICKNESS, Factor.WATER_SHARE, thinned.water_share)
    return replace(one, extras=extras)


def _film(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    film = [a.film_m for a in recipes]
    if series.varies(Factor.FILM_LEFT) or max(film) - min(film) <= FILM_COUNTS_FROM_M:
        return None
    one = Confound(what=Coupling.FILM, low=min(film), high=max(film))
    first, last = recipes[0], max(recipes, key=lambda a: abs(a.film_m - recipes[0].film_m))
    return _ended(one, series, extra, lambda: _with(last, Coupling.FILM, Factor.FILM_LEFT, first.film_m))


def _base_film(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    lies = [a.held.base_m if a.held.base_plan in (BasePlan.FULL, BasePlan.PILLOW) else 0.0 for a in recipes]
    if max(lies) - min(lies) <= FILM_COUNTS_FROM_M or series.varies(Factor.FILM_LEFT) or series.varies(Factor.BASE_DEPTH):
        return None
    return Confound(what=Coupling.BASE_FILM, low=min(lies), high=max(lies))


def _plain(series: Series, recipes: Sequence[Arm]) -> list[Confound]:
    """Couplings that no further panel separates, or that are met by the way of working."""
    found = [Confound(what=what, by=factor) for factor, what in BROUGHT_BY.items() if series.varies(factor)]
    drops = [a.silicone_drops_per_100g for a in recipes]
    if max(drops) > 0.0 and min(drops) == 0.0:
        found.append(Confound(what=Coupling.TRACES))
    alcohol = [a.alcohol_share for a in recipes]
    if max(alcohol) > 0.0 and any(a.held.torch_passes for a in recipes):
        found.append(Confound(what=Coupling.FLAME, low=min(alcohol), high=max(alcohol)))
    panels = sum(a.panels for a in recipes) / series.layout.blocks
    if panels >= AGES_FROM:
        found.append(Confound(what=Coupling.AGE))
    return found


def after_the_fact(series: Series, recipes: Sequence[Arm]) -> tuple[Confound, ...]:
    """The same for what was really weighed in; recipes are compared as they stand, nothing is proposed."""
    return tuple(replace(c, extras=()) for c in confounds(series, recipes))


__all__ = ["Confound", "after_the_fact", "confounds"]
