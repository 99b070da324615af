"""The question as a sentence with parts to choose, and what the person expects of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import layouts, planning
from dribbet.lab.plan.factors import EXCHANGES
from dribbet.lab.plan.responses import SCALES
from dribbet.records import (
    MOST_FACTORS,
    BlockBy,
    Design,
    Equal,
    Factor,
    Kind,
    Response,
    Series,
)
from dribbet.words import levels
from dribbet.words.parts import Part
from dribbet.words.units import count_text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Material
    from dribbet.words.units import Units

PARTS_OF_ALL: Final = {1: "half of all recipes", 2: "a quarter of all recipes", 3: "an eighth of all recipes"}


def names_on(shelf: Sequence[Material], series: Series) -> levels.Names:
    """What named levels may be: mediums (water and house mixes among them), colours of the cup, paints, bases, thinners."""
    blends = tuple(m.key for m in shelf if m.kind in (Kind.MEDIUM, Kind.HOUSE_MIX))
    return levels.Names(
        called=tuple((m.key, m.name) for m in shelf),
        mediums=tuple(dict.fromkeys((*blends, "water"))),
        colours=tuple(planning.colours_of(series)),
        bases=tuple(m.key for m in shelf if m.kind is Kind.BASE),
        paints=tuple(m.key for m in planning.paints(shelf)),
        thinners=tuple(m.key for m in shelf if m.kind in (Kind.THINNER, Kind.HOUSE_MIX)),
        sheens=tuple((m.key, str(m.sheen)) for m in shelf if m.sheen),
        opacities=tuple((m.key, str(m.opacity)) for m in shelf if m.kind in (Kind.PAINT, Kind.SHIMMER)),
    )


def sentence(series: Series, units: Units, shelf: Sequence[Material] = ()) -> tuple[str | Part, ...]:
    """The question; of the shelf where parts of it are to be chosen."""
    taken = {v.factor for v in series.varied}
    said: list[str | Part] = ["Does ", *_factor_parts(series, 0, taken, units, shelf), " of ", _levels_part(series, 0, units), " change "]
    response = series.responses[0][0]
    said += [Part("response", str(response), tuple((r.value, str(r)) for r in Response)), ", "]
    for i in range(1, len(series.varied)):
        said += ["with ", *_factor_parts(series, i, taken, units, shelf), " of ", _levels_part(series, i, units), ", "]
    if len(series.varied) < MOST_FACTORS:
        text = "nothing else changed" if len(series.varied) == 1 else "nothing more changed"
        more = tuple((f.value, f"with {f}") for f in _choosable() if f not in taken or f is Factor.OWN)
        said += [Part("crossed", text, (("", text), *more)), ", "]
    said += ["" if series.equal is Equal.OWN else "at ", Part("equal", str(series.equal), tuple((e.value, str(e)) for e in Equal)), ", "]
    poured = Part("design", _design_words(series), _design_choices(series))
    repeats = Part("repeats", count_text(series.repeats, "panel"), tuple((str(n), count_text(n, "panel")) for n in range(1, 9)))
    said += [poured, " on ", repeats, "?" if series.layout.design is Design.PAIRED else " each?"]
    return tuple(said)


def _factor_parts(series: Series, which: int, taken: set[Factor], units: Units, shelf: Sequence[Material]) -> list[str | Part]:
    """What is varied; and of which paint, where one gives way to another."""
    now = series.varied[which]
    free = [f for f in _choosable() if f is now.factor or f not in taken or f is Factor.OWN]
    choices = tuple((f.value, str(f)) for f in free)
    if which:
        choices = (("", "leave this out"), *choices)
    text = now.name or str(Factor.OWN if now.factor is Factor.ADDED else now.factor)
    made: list[str | Part] = [Part("factor" if which == 0 else f"factor{which}", text, choices)]
    if now.factor in EXCHANGES:
        named = units.called(now.of) + (f" in layer {now.layer}" if now.layer else "")
        made += [" in place of " if now.factor is Factor.PAINT else " of ", Part("of" if which == 0 else f"of{which}", named, _places(series, units))]
    if now.factor in (Factor.OWN, Factor.ADDED):
        where = f"the cup, as {units.called(now.of)}" if now.of else "the doing only"
        made += [" in ", Part("own" if which == 0 else f"own{which}", where, _containers(shelf))]
    return made


def _choosable() -> list[Factor]:
    """What can be varied; something of one's own is asked afterwards whether it is in the cup."""
    return [f for f in Factor if f is not Factor.ADDED]


def _containers(shelf: Sequence[Material]) -> tuple[tuple[str, str], ...]:
    """Only the doing, or a container of the shelf that goes into the cup; additives first."""
    ranked = sorted((m for m in shelf if m.kind is not Kind.BASE), key=lambda m: m.kind is not Kind.ADDITIVE)
    return (("", "the doing only"), *((m.key, f"the cup, as {m.name}") for m in ranked))


def _places(series: Series, units: Units) -> tuple[tuple[str, str], ...]:
    """Colours that may give way: throughout, or in one layer where a colour stands in several."""
    made = []
    for colour in planning.colours_of(series):
        where = [i for i, layer in enumerate(series.layers, start=1) if layer.material == colour]
        made.append((f"0 {colour}", units.called(colour)))
        if len(where) > 1:
            made += [(f"{i} {colour}", f"{units.called(colour)} in layer {i} only") for i in where]
    return tuple(made)


def _levels_part(series: Series, which: int, units: Units) -> Part:
    now = series.varied[which]
    hint = "Levels, with commas between them"
    if now.factor is Factor.OWN:
        hint = "What it is, a colon, then levels: stirring: gently, hard"
    elif now.factor is Factor.MEDIUM:
        hint = "Mediums, each with a ratio of its own if you like: conditioner 1:2, glue 1:1"
    elif now.factor in (Factor.FINISH, Factor.OPACITY, Factor.BASE_SHEEN):
        hint = "A word, an equals sign, its container: satin = house satin"
    return Part("levels" if which == 0 else f"levels{which}", levels.brief_text(now, units), typed=levels.typed_text(now, units), hint=hint)


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
