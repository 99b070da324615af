"""What else differs between the recipes of a test, in plain sentences, and the fewest panels that would separate it.

Two sources: the columns of the design (`lab.plan.aliases`), and couplings known in advance: silicone thickens, medium moves flow,
paint share and sheen, technique moves film (science: confounded).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import aliases, layouts
from dribbet.lab.plan.arm import mixed, thinned_to
from dribbet.records import BETWEEN, BasePlan, Design, DribbetError, Equal, Extra, Factor, Level
from dribbet.records.wording import first_up

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series

SHARE_COUNTS_FROM: Final = 0.01  # paint share differing by a percent point counts as unequal
FLOW_COUNTS_FROM: Final = 1.25  # flow differing by more than the matching band counts as unequal
FILM_COUNTS_FROM_M: Final = 0.1e-3
AGES_FROM: Final = 8  # panels in one sitting from which the last ones get noticeably older paint
NARROW: Final = "\u202f"


@dataclass(frozen=True, slots=True, kw_only=True)
class Confound:
    """Something that moves along with what is tested: its sentence, and the recipes that would separate the two."""

    what: str
    sentence: str
    extras: tuple[Extra, ...] = ()
    separated: bool = False
    """Whether the plan holds such recipes already."""

    @property
    def panels(self) -> int:
        """How many panels the separating recipes take."""
        return sum(e.panels for e in self.extras)


def _pc(share: float) -> str:
    return f"{share * 100:.0f}{NARROW}%"


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
    found += [Confound(what=what, sentence=sentence) for what, sentence in _plain(series, compared)]
    return tuple(found)


# ---------------------------------------------------------------- from the design's columns


def _names(series: Series, term: aliases.Term) -> str:
    return " with ".join(series.varied[i].words for i in term)


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
        how = "always change together" if a.full else "change together in part"
        sentence = f"{first_up(_names(series, a.first))} and {_names(series, a.second)} {how}: this test cannot tell which of the two did it."
        said.append(_parted("design", sentence, series, rows, levels, [a.first, a.second]))
    if with_pairs:
        lines = [f"{_names(series, a.first)} from {_names(series, a.second)}" for a in with_pairs]
        sentence = f"A chosen part cannot tell {'; nor '.join(lines[:3])}{'; and so on' if len(lines) > 3 else ''}."
        wanted = [(i,) for i in range(len(levels))] + sorted({a.second for a in with_pairs})
        said.append(_parted("design", sentence, series, rows, levels, wanted))
    elif pairs:
        lines = [f"{_names(series, a.first)} from {_names(series, a.second)}" for a in pairs]
        more = f", nor {len(lines) - 2} more such pairs" if len(lines) > 2 else ""
        sentence = f"Each by itself is clear, but not what two do together: it cannot tell {'; nor '.join(lines[:2])}{more}."
        wanted = [(i,) for i in range(len(levels))] + sorted({t for a in pairs for t in (a.first, a.second)})
        said.append(_parted("pairs", sentence, series, rows, levels, wanted))
    return said


def _parted(what: str, sentence: str, series: Series, rows: list[tuple[int, ...]], levels: list[int], wanted: list[aliases.Term]) -> Confound:
    candidates = layouts.every(levels)
    needed = aliases.fewest_extra([r for r in rows if r[0] != BETWEEN], candidates, levels, wanted)
    # Repeats of the added recipes are not needed to part the two: the scatter comes from the others.
    each = 1 if series.repeats > 1 else series.repeats
    return Confound(what=what, sentence=sentence, extras=tuple(Extra(settings=row, why=what, panels=each) for row in needed))


# ---------------------------------------------------------------- from what is known in advance


def _with(arm: Arm, why: str, factor: Factor, value: float) -> tuple[Extra, ...]:
    """One recipe like `arm` as it stands, equalised water and parts included, but for one figure; none where no paint is in it."""
    if arm.paint_share <= 0.0:
        return ()
    instead = list(arm.extra.instead if arm.extra else ())
    ratio = arm.medium_share / arm.paint_share
    if factor is not Factor.RATIO and abs(ratio - arm.held.medium_parts) > 1e-6:
        instead.append((Factor.RATIO, Level(value=round(ratio, 6))))
    if factor is not Factor.WATER_SHARE and arm.held.third_liquid == "water" and abs(arm.water_share - arm.held.water_share) > 1e-6:
        instead.append((Factor.WATER_SHARE, Level(value=round(arm.water_share, 6))))
    instead.append((factor, Level(value=round(value, 6))))
    return (Extra(settings=arm.settings, instead=tuple(instead), why=why),)


def _is_separated(extra: Sequence[Arm], why: str) -> bool:
    return any(a.extra is not None and a.extra.why == why for a in extra)


def _parting(extra: Sequence[Arm], why: str) -> str:
    letters = [a.letter for a in extra if a.extra is not None and a.extra.why == why]
    return f" Recipe {' and '.join(letters)} tells the two apart."


def _end(sentence: str, series: Series, extra: Sequence[Arm], why: str, remedy: Callable[[], tuple[Extra, ...]]) -> Confound:
    """Close a sentence: with the recipe that separates the two, or with what cannot be told."""
    if _is_separated(extra, why):
        return Confound(what=why, sentence=f"{sentence}{_parting(extra, why)}", separated=True)
    try:
        extras = remedy() if series.layout.design is not Design.PAIRED else ()
    except DribbetError:
        extras = ()
    return Confound(what=why, sentence=f"{sentence} This test cannot tell which of the two did it.", extras=extras)


def _paint_share(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    paint = [a.paint_share for a in recipes]
    if max(paint) - min(paint) <= SHARE_COUNTS_FROM:
        return None
    how = {
        Factor.WATER_SHARE: "More water also means less paint",
        Factor.ALCOHOL: "More alcohol also means less paint",
        Factor.RATIO: "More medium also means less paint",
        Factor.SHIMMER: "More shimmer medium also means less paint",
        Factor.ANTI_CRAZE: "More additive also means less paint",
        Factor.ADDED: "More of it also means less paint",
        Factor.GRADE: "A thinner grade also means less paint",
    }
    known = next((how[v.factor] for v in series.varied if v.factor in how), "The recipes hold unlike shares of paint")
    if series.equal is Equal.FLOW:
        known = "At equal flow the recipes hold unlike shares of paint"
    sentence = f"{known}: {_pc(max(paint))} down to {_pc(min(paint))}."
    first, last = recipes[0], max(recipes, key=lambda a: abs(a.paint_share - recipes[0].paint_share))

    def remedy() -> tuple[Extra, ...]:
        if series.varies(Factor.RATIO):
            return ()
        rest = 1.0 - last.water_share - last.alcohol_share - last.held.beside_share
        ratio = rest / first.paint_share - 1.0 - last.held.shimmer_parts
        if not 0.0 <= ratio <= 20.0:
            return ()
        mixed(last, last.water_share, last.alcohol_share, ratio)
        return _with(last, "paint share", Factor.RATIO, ratio)

    return _end(sentence, series, extra, "paint share", remedy)


def _flow(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    flow = [1.0 / a.viscosity_pa_s for a in recipes]
    ratio = max(flow) / min(flow)
    only_silicone = {v.factor for v in series.varied} <= {Factor.SILICONE, Factor.SILICONE_COLOUR}
    if ratio <= FLOW_COUNTS_FROM or only_silicone:
        return None
    sentence = f"The thinnest recipe flows about {ratio:.1f} times as fast as the thickest."
    if series.varies(Factor.WATER_SHARE) or series.varies(Factor.GRADE):  # flow is what these change: nothing to separate
        return Confound(what="flow", sentence=sentence)
    first, last = recipes[0], max(recipes, key=lambda a: abs(1.0 / a.viscosity_pa_s - 1.0 / recipes[0].viscosity_pa_s))

    def remedy() -> tuple[Extra, ...]:
        thinned = thinned_to(last, first.viscosity_pa_s)
        return () if thinned.trouble else _with(last, "flow", Factor.WATER_SHARE, thinned.water_share)

    return _end(sentence, series, extra, "flow", remedy)


def _thickness(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    drops = [a.silicone_drops_per_100g for a in recipes]
    if not series.varies(Factor.SILICONE) or max(drops) <= min(drops):
        return None
    sentence = "Silicone thickens its colour: check it again after the drops."
    if _is_separated(extra, "thickness"):
        return Confound(what="thickness", sentence=sentence + _parting(extra, "thickness"), separated=True)
    first, last = min(recipes, key=lambda a: a.silicone_drops_per_100g), max(recipes, key=lambda a: a.silicone_drops_per_100g)
    if series.varies(Factor.WATER_SHARE) or series.equal is Equal.FLOW or series.layout.design is Design.PAIRED:
        return Confound(what="thickness", sentence=sentence)
    thinned = thinned_to(last, first.viscosity_pa_s)
    extras = () if thinned.trouble else _with(last, "thickness", Factor.WATER_SHARE, thinned.water_share)
    return Confound(what="thickness", sentence=sentence, extras=extras)


def _film(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    film = [a.film_m for a in recipes]
    if series.varies(Factor.FILM_LEFT) or max(film) - min(film) <= FILM_COUNTS_FROM_M:
        return None
    sentence = f"These ways of pouring leave {min(film) * 1e3:.1f} to {max(film) * 1e3:.1f}{NARROW}mm of film. Weigh every panel."
    first, last = recipes[0], max(recipes, key=lambda a: abs(a.film_m - recipes[0].film_m))
    return _end(sentence, series, extra, "film", lambda: _with(last, "film", Factor.FILM_LEFT, first.film_m))


def _base_film(series: Series, recipes: Sequence[Arm], extra: Sequence[Arm]) -> Confound | None:
    lies = [a.held.base_m if a.held.base_plan in (BasePlan.FULL, BasePlan.PILLOW) else 0.0 for a in recipes]
    if max(lies) - min(lies) <= FILM_COUNTS_FROM_M or series.varies(Factor.FILM_LEFT) or series.varies(Factor.BASE_DEPTH):
        return None
    return Confound(
        what="film", sentence=f"The base adds {min(lies) * 1e3:.1f} to {max(lies) * 1e3:.1f}{NARROW}mm to what dries. Weigh after the base too."
    )


def _plain(series: Series, recipes: Sequence[Arm]) -> list[tuple[str, str]]:
    """Couplings that no further panel separates, or that are met by the way of working."""
    said = []
    for factor, (what, sentence) in {
        Factor.MEDIUM: ("sheen", "Mediums also differ in shine, which moves vividness and shimmer by itself."),
        Factor.FINISH: ("paint", "A paint of another finish is another paint: its density and body differ too."),
        Factor.PANEL_SIZE: ("size", "A larger panel also means longer ways to tilt, more paint at once and later drying."),
        Factor.REST: ("rest", "A mix that rests loses bubbles and a little water, both. Keep it covered and weigh it again."),
        Factor.HEAT: ("heat", "Heat bursts bubbles and dries the surface, both."),
        Factor.HEAT_AFTER: ("heat", "Until the heat comes, the paint also runs on."),
        Factor.BASE_SHEEN: ("base", "A base of another sheen is another paint: its thickness differs too. Check it."),
        Factor.AFTER: ("stage", "Compare only photos of the same stage: a coat changes shine and colour by itself."),
        Factor.ACTIVATOR: ("activator", "Activators also differ in thinness. Check both, and dose them by weight."),
    }.items():
        if series.varies(factor):
            said.append((what, sentence))
    drops = [a.silicone_drops_per_100g for a in recipes]
    if max(drops) > 0.0 and min(drops) == 0.0:
        said.append(("traces", "Silicone travels on sticks and cups. Keep a set of tools for the recipes without it, and no leftovers."))
    alcohol = [a.alcohol_share for a in recipes]
    if max(alcohol) > 0.0 and any(a.held.torch_passes for a in recipes):
        said.append(("flame", "Alcohol and a flame do not go together, so recipes with alcohol are not torched: then heat differs too."))
    panels = sum(a.panels for a in recipes) / series.layout.blocks
    if panels >= AGES_FROM:
        said.append(("age", "Later panels get older paint. The lots spread that over all recipes."))
    return said


def after_the_fact(series: Series, recipes: Sequence[Arm]) -> tuple[Confound, ...]:
    """The same sentences for what was really weighed in; recipes are compared as they stand, nothing is proposed."""
    return tuple(replace(c, extras=()) for c in confounds(series, recipes))


__all__ = ["Confound", "after_the_fact", "confounds"]
