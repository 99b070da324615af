"""The question as a sentence with parts to choose, and what choosing one makes of the series."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.bench.stations.ask import held
from dribbet.bench.stations.ask.view import Part
from dribbet.lab.plan import basis, control, design, layouts, planning
from dribbet.lab.plan.responses import SCALES
from dribbet.records import (
    MOST_FACTORS,
    BasePlan,
    BlockBy,
    Design,
    DribbetError,
    Equal,
    Factor,
    Kind,
    Layout,
    Prediction,
    Response,
    Series,
    Varied,
    Wanted,
)
from dribbet.words import levels as words
from dribbet.words.units import count_text, figure

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Material
    from dribbet.words.units import Units

LIKED: Final = {response: Wanted.LESS if response in (Response.CRACK_LENGTH, Response.CRACKED) else Wanted.MORE for response in Response}
PARTS_OF_ALL: Final = {1: "half of all recipes", 2: "a quarter of all recipes", 3: "an eighth of all recipes"}


def names_on(shelf: Sequence[Material], series: Series) -> words.Names:
    """What named levels may be: mediums, colours of the cup, bases."""
    return words.Names(
        mediums=tuple(m.key for m in shelf if m.kind is Kind.MEDIUM),
        colours=tuple(planning.colours_of(series)),
        bases=tuple(m.key for m in shelf if m.kind is Kind.BASE),
    )


def sentence(series: Series, units: Units) -> tuple[str | Part, ...]:
    """The question."""
    taken = {v.factor for v in series.varied}
    said: list[str | Part] = ["Does ", _factor_part(series, 0, taken), " of ", _levels_part(series, 0, units), " change "]
    response = series.responses[0][0]
    said += [Part("response", str(response), tuple((r.value, str(r)) for r in Response)), ", "]
    for i in range(1, len(series.varied)):
        said += ["with ", _factor_part(series, i, taken), " of ", _levels_part(series, i, units), ", "]
    if len(series.varied) < MOST_FACTORS:
        text = "nothing else changed" if len(series.varied) == 1 else "nothing more changed"
        more = tuple((f.value, f"with {f}") for f in Factor if f not in taken or f is Factor.OWN)
        said += [Part("crossed", text, (("", text), *more)), ", "]
    said += ["at ", Part("equal", str(series.equal), tuple((e.value, str(e)) for e in Equal)), ", "]
    poured = Part("design", _design_words(series), _design_choices(series))
    repeats = Part("repeats", count_text(series.repeats, "panel"), tuple((str(n), count_text(n, "panel")) for n in range(1, 9)))
    said += [poured, " on ", repeats, "?" if series.layout.design is Design.PAIRED else " each?"]
    return tuple(said)


def _factor_part(series: Series, which: int, taken: set[Factor]) -> Part:
    now = series.varied[which]
    free = [f for f in Factor if f is now.factor or f not in taken or f is Factor.OWN]
    choices = tuple((f.value, str(f)) for f in free)
    if which:
        choices = (("", "leave this out"), *choices)
    return Part("factor" if which == 0 else f"factor{which}", now.words, choices)


def _levels_part(series: Series, which: int, units: Units) -> Part:
    now = series.varied[which]
    hint = "Levels, with commas between them"
    if now.factor is Factor.OWN:
        hint = "What it is, a colon, then levels: stirring: gently, hard"
    elif now.factor is Factor.MEDIUM:
        hint = "Mediums, or blends such as conditioner 60 + glue 40"
    return Part("levels" if which == 0 else f"levels{which}", words.levels_text(now, units), typed=words.typed_text(now, units), hint=hint)


def _design_words(series: Series) -> str:
    layout = series.layout
    if layout.design is Design.PAIRED:
        text = "all recipes side by side"
    elif layout.design is Design.FRACTION:
        text = PARTS_OF_ALL[layout.halvings]
    else:
        text = "each recipe" if len(series.varied) == 1 else "every combination"
    if layout.centre_points:
        text += " and the middle"
    if layout.blocks > 1:
        text += f" in {layout.blocks} {layout.block_by}s" if layout.block_by is BlockBy.DAY else f" from {layout.blocks} batches"
    return text


def _design_choices(series: Series) -> tuple[tuple[str, str], ...]:
    plain = "each recipe on panels of its own" if len(series.varied) == 1 else "every combination"
    halves = layouts.most_halvings([len(v.levels) for v in series.varied])
    made = [
        ("every", plain),
        *((f"part {n}", f"{PARTS_OF_ALL[n]}") for n in range(1, halves + 1)),
        ("paired", "all recipes side by side on one panel"),
    ]
    numeric = all(level.value is not None for v in series.varied for level in v.levels)
    if numeric:
        made.append(("centre 0", "without the middle") if series.layout.centre_points else ("centre 2", "and the middle, on two panels"))
    for by, what in ((BlockBy.DAY, "days"), (BlockBy.BATCH, "batches")):
        if series.layout.blocks == 1 or series.layout.block_by is not by:
            made.append((f"blocks {by} {min(series.repeats, 3)}" if series.repeats > 1 else f"blocks {by} 2", f"repeats spread over {what}"))
    if series.layout.blocks > 1:
        made.append(("blocks day 1", "all in one go"))
    made.append(("blind off", "with letters in order") if series.layout.blind else ("blind on", "blind: letters drawn by lot"))
    return tuple(made)


def expectation(series: Series) -> tuple[str | Part, ...]:
    """What the person expects, so that it can fail."""
    first = series.responses[0][0]
    scale, p = SCALES[first], series.prediction
    if p is not None and p.locked_at is not None:
        size = f" by {p.size:g} {scale.unit}".rstrip() if p.size else ""
        return (f"You expected {p.more_or_less} {p.response}{size}. Locked {p.locked_at:%-d %b, %H:%M}, at the first pour.",)
    which = Part("expect", str(p.more_or_less) if p else "not said", (("", "not said"), ("less", "less"), ("more", "more")))
    if p is None:
        return ("I expect ", which, f" {first} at the last level. It is locked at the first pour.")
    size_part = Part("size", f"{p.size:g} {scale.unit}".strip(), typed=f"{p.size:g}", hint=f"By how much, in {scale.unit or 'its own figures'}")
    return ("I expect ", which, f" {first} at the last level, by ", size_part, ". Locked at the first pour.")


# ---------------------------------------------------------------- what choosing does


def changed(series: Series, part: str, value: str, units: Units, shelf: Sequence[Material]) -> Series:
    """Return the series with one part chosen or typed anew.

    Raises
    ------
    DribbetError
        If that cannot be, in words that say what could.
    """
    if part == "factor" or (part.startswith("factor") and part[6:].isdigit()):
        return _with_factor(series, int(part[6:] or 0), value, shelf)
    if part == "levels" or (part.startswith("levels") and part[6:].isdigit()):
        which = int(part[6:] or 0)
        varied = words.parse(series.varied[which].factor, value, units, names_on(shelf, series))
        if series.varied[which].factor is Factor.OWN and not varied.name:
            varied = replace(varied, name=series.varied[which].name)
        return _varied(series, (*series.varied[:which], varied, *series.varied[which + 1 :]))
    if part == "crossed":
        if not value:
            return _varied(series, series.varied[:1])
        return _with_factor(series, len(series.varied), value, shelf)
    if part == "equal":
        equal = Equal(value)
        basis.need_no_clash(equal, [v.factor for v in series.varied])
        prices = planning.prices_per_kg(shelf) if equal is Equal.COST else ()
        return replace(series, equal=equal, prices=prices)
    if part == "design":
        return replace(series, layout=_layout(series, value))
    if part == "repeats":
        repeats = int(value)
        return replace(series, repeats=repeats, layout=replace(series.layout, blocks=min(series.layout.blocks, max(repeats, 1))))
    if part == "response":
        first = Response(value)
        rest = tuple(r for r in series.responses if r[0] is not first)
        p = series.prediction
        return replace(series, responses=((first, LIKED[first]), *rest)[:4], prediction=replace(p, response=first) if p else None)
    if part == "expect":
        if not value:
            return replace(series, prediction=None)
        old = series.prediction
        return replace(series, prediction=Prediction(response=series.responses[0][0], more_or_less=Wanted(value), size=old.size if old else 0.0))
    if part == "size" and series.prediction is not None:
        return replace(series, prediction=replace(series.prediction, size=_size(value)))
    if part == "name":
        if not value.strip():
            raise DribbetError("A series needs a name, such as Kelp 05.")
        return replace(series, name=value.strip()[:40])
    return held.changed(series, part, value, units, [m.name for m in planning.paints(shelf)])


def _size(value: str) -> float:
    try:
        size = figure(value.split()[0])
    except (ValueError, IndexError):
        raise DribbetError(f"“{value}” is no size. Type a figure such as 40.") from None
    if not 0.0 <= size < 1e6:
        raise DribbetError("A size is zero or more.")
    return size


def _with_factor(series: Series, which: int, value: str, shelf: Sequence[Material]) -> Series:
    if not value:
        return _varied(series, (*series.varied[:which], *series.varied[which + 1 :]))
    factor = Factor(value)
    if which < len(series.varied) and series.varied[which].factor is factor and factor is not Factor.OWN:
        return series
    new = words.fresh(factor, names_on(shelf, series))
    if factor is Factor.OWN:
        new = replace(new, name=_own_name(series))
    elif which:
        new = replace(new, levels=new.levels[:2])
    return _with_needs(_varied(series, (*series.varied[:which], new, *series.varied[which + 1 :])), factor, shelf)


def _own_name(series: Series) -> str:
    known = {v.words for v in series.varied}
    return next(n for n in ("my own change", "my second change", "my third change", "my fourth change", "my fifth change") if n not in known)


def _with_needs(series: Series, factor: Factor, shelf: Sequence[Material]) -> Series:
    """What a factor needs held so that it can act at all."""
    constants = series.constants
    colours = planning.colours_of(series)
    if factor in (Factor.SILICONE, Factor.SILICONE_KIND, Factor.SILICONE_COLOUR):
        if not constants.silicone_colours:
            constants = replace(constants, silicone_colours=tuple(colours[1:2] or colours))
        on_shelf = next((m.key for m in shelf if m.kind is Kind.ADDITIVE and m.wash_off), None)
        if factor is not Factor.SILICONE_KIND and on_shelf:
            constants = replace(constants, silicone=on_shelf)
        if factor is not Factor.SILICONE and not constants.silicone_drops_per_100g and not series.varies(Factor.SILICONE):
            constants = replace(constants, silicone_drops_per_100g=2.0)
    if factor is Factor.ALCOHOL_STRENGTH and not constants.alcohol_share and not series.varies(Factor.ALCOHOL):
        constants = replace(constants, alcohol_share=0.10)
    if factor is Factor.ACTIVATOR and not constants.activator_kg:
        constants = replace(constants, activator_kg=0.003)
    if factor in (Factor.BASE_DEPTH, Factor.BASE_WATER) and constants.base_plan is BasePlan.NONE:
        constants = replace(constants, base_plan=BasePlan.FULL)
    if factor is Factor.HEAT_AFTER and not constants.torch_passes:
        constants = replace(constants, torch_passes=2)
    return replace(series, constants=constants)


def _varied(series: Series, varied: tuple[Varied, ...]) -> Series:
    """Return the series with other things varied; what no longer fits its layout is let go, and what would undo it."""
    levels = [len(v.levels) for v in varied]
    layout = replace(series.layout, extras=())
    if layout.design is Design.FRACTION and layout.halvings > layouts.most_halvings(levels):
        layout = replace(layout, design=Design.EVERY, halvings=1)
    if layout.design is Design.PAIRED and len(layouts.every(levels)) > layouts.REGIONS_MOST:
        layout = replace(layout, design=Design.EVERY)
    if layout.design is not Design.PAIRED:
        layout = _within_letters(layout, levels)
    if layout.centre_points and not all(level.value is not None for v in varied for level in v.levels):
        layout = replace(layout, centre_points=0)
    equal = Equal.RECIPE if basis.clash(series.equal, [v.factor for v in varied]) else series.equal
    return control.still_insisted(replace(series, varied=varied, layout=layout, equal=equal))


def _within_letters(layout: Layout, levels: list[int]) -> Layout:
    """Return the layout, or the largest part of all recipes that has letters enough."""
    parts = [replace(layout, design=Design.FRACTION, halvings=n) for n in range(1, layouts.most_halvings(levels) + 1)]
    fits = [one for one in (layout, *parts) if len(layouts.recipes(levels, one)) <= len(design.LETTERS)]
    return fits[0] if fits else layout


def _layout(series: Series, value: str) -> Layout:
    what, _, rest = value.partition(" ")
    layout = replace(series.layout, extras=())
    if what == "every":
        return replace(layout, design=Design.EVERY, halvings=1)
    if what == "part":
        return replace(layout, design=Design.FRACTION, halvings=int(rest))
    if what == "paired":
        count = len(layouts.every([len(v.levels) for v in series.varied]))
        layouts.regions(count, series.constants.panel_width_m, series.constants.panel_height_m)  # refuses too many in words
        if series.varies(Factor.PANEL_SIZE):
            raise DribbetError("Recipes of unlike panel size cannot lie side by side on one panel.")
        return replace(layout, design=Design.PAIRED, centre_points=0, blocks=1)
    if what == "centre":
        return replace(series.layout, centre_points=int(rest))
    if what == "blind":
        return replace(series.layout, blind=rest == "on")
    by, count_words = rest.split()
    blocks = int(count_words)
    if blocks > 1 and series.repeats < 2:
        raise DribbetError("With one panel of each recipe there is nothing to spread over days. Add a repeat first.")
    return replace(series.layout, block_by=BlockBy(by), blocks=blocks)
