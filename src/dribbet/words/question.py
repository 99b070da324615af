"""The question as a sentence with parts to choose, and what the person expects of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import layouts, planning
from dribbet.lab.plan.factors import EXCHANGES
from dribbet.lab.plan.responses import SCALES
from dribbet.records import (
    MOST_FACTORS,
    WATER,
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
from dribbet.words.tongue import arranged, name, t
from dribbet.words.units import count_text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Material
    from dribbet.words.units import Units

PARTS_OF_ALL: Final = {1: t("half of all recipes"), 2: t("a quarter of all recipes"), 3: t("an eighth of all recipes")}


def names_on(shelf: Sequence[Material], series: Series) -> levels.Names:
    """What named levels may be: mediums (water and house mixes among them), colours of the cup, paints, bases, thinners."""
    blends = tuple(m.key for m in shelf if m.kind in (Kind.MEDIUM, Kind.HOUSE_MIX))
    return levels.Names(
        called=tuple((m.key, m.name) for m in shelf),
        ways=tuple(w.name for w in series.constants.ways),
        mediums=tuple(dict.fromkeys((*blends, WATER))),
        colours=tuple(planning.colours_of(series)),
        bases=tuple(m.key for m in shelf if m.kind is Kind.BASE),
        paints=tuple(m.key for m in planning.paints(shelf)),
        thinners=tuple(m.key for m in shelf if m.kind in (Kind.THINNER, Kind.HOUSE_MIX)),
        sheens=tuple((m.key, name(m.sheen)) for m in shelf if m.sheen),
        opacities=tuple((m.key, name(m.opacity)) for m in shelf if m.kind in (Kind.PAINT, Kind.SHIMMER)),
    )


def sentence(series: Series, units: Units, shelf: Sequence[Material] = ()) -> tuple[str | Part, ...]:
    """The question; of the shelf where parts of it are to be chosen."""
    taken = {v.factor for v in series.varied}
    response = series.responses[0][0]
    said: list[str | Part] = [
        *arranged(
            "Does {factor} of {levels} change {response}, ",
            factor=_factor_parts(series, 0, taken, units, shelf),
            levels=_levels_part(series, 0, units),
            response=Part("response", name(response), tuple((r.value, name(r)) for r in Response)),
        )
    ]
    for i in range(1, len(series.varied)):
        said += arranged("with {factor} of {levels}, ", factor=_factor_parts(series, i, taken, units, shelf), levels=_levels_part(series, i, units))
    if len(series.varied) < MOST_FACTORS:
        text = t("nothing else changed") if len(series.varied) == 1 else t("nothing more changed")
        more = tuple((f.value, t("with {factor}", factor=f)) for f in _choosable() if f not in taken or f is Factor.OWN)
        said += [Part("crossed", text, (("", text), *more)), ", "]
    equal = Part("equal", name(series.equal), tuple((e.value, name(e)) for e in Equal))
    said += arranged("{equal}, ", equal=equal) if series.equal is Equal.OWN else arranged("at {equal}, ", equal=equal)
    poured = Part("design", _design_words(series), _design_choices(series))
    repeats = Part("repeats", count_text(series.repeats, "panel"), tuple((str(k), count_text(k, "panel")) for k in range(1, 9)))
    paired = series.layout.design is Design.PAIRED
    said += arranged("{poured} on {repeats}?" if paired else "{poured} on {repeats} each?", poured=poured, repeats=repeats)
    return tuple(said)


def _factor_parts(series: Series, which: int, taken: set[Factor], units: Units, shelf: Sequence[Material]) -> list[str | Part]:
    """What is varied; and of which paint, where one gives way to another."""
    now = series.varied[which]
    free = [f for f in _choosable() if f is now.factor or f not in taken or f is Factor.OWN]
    choices = tuple((f.value, name(f)) for f in free)
    if which:
        choices = (("", t("leave this out")), *choices)
    text = now.name or name(Factor.OWN if now.factor is Factor.ADDED else now.factor)
    made: list[str | Part] = [Part("factor" if which == 0 else f"factor{which}", text, choices)]
    if now.factor in EXCHANGES:
        named = units.called(now.of) + (t(" in layer {layer}", layer=now.layer) if now.layer else "")
        made += [
            " in place of " if now.factor is Factor.PAINT else " of ",
            Part("of" if which == 0 else f"of{which}", named, _places(series, units)),
        ]
    if now.factor in (Factor.OWN, Factor.ADDED):
        where = t("the cup, as {name}", name=units.called(now.of)) if now.of else t("the doing only")
        made += [" in ", Part("own" if which == 0 else f"own{which}", where, _containers(shelf))]
    return made


def _choosable() -> list[Factor]:
    """What can be varied; something of one's own is asked afterwards whether it is in the cup."""
    return [f for f in Factor if f is not Factor.ADDED]


def _containers(shelf: Sequence[Material]) -> tuple[tuple[str, str], ...]:
    """Only the doing, or a container of the shelf that goes into the cup; additives first."""
    ranked = sorted((m for m in shelf if m.kind is not Kind.BASE), key=lambda m: m.kind is not Kind.ADDITIVE)
    return (("", t("the doing only")), *((m.key, t("the cup, as {name}", name=m.name)) for m in ranked))


def _places(series: Series, units: Units) -> tuple[tuple[str, str], ...]:
    """Colours that may give way: throughout, or in one layer where a colour stands in several."""
    made = []
    for colour in planning.colours_of(series):
        where = [i for i, layer in enumerate(series.layers, start=1) if layer.material == colour]
        made.append((f"0 {colour}", units.called(colour)))
        if len(where) > 1:
            made += [(f"{i} {colour}", t("{name} in layer {i} only", name=units.called(colour), i=i)) for i in where]
    return tuple(made)


def _levels_part(series: Series, which: int, units: Units) -> Part:
    now = series.varied[which]
    hint = t("Levels, with commas between them")
    if now.factor is Factor.OWN:
        hint = t("What it is, a colon, then levels: stirring: gently, hard")
    elif now.factor is Factor.MEDIUM:
        hint = t("Mediums, each with a ratio of its own if you like: conditioner 1:2, glue 1:1")
    elif now.factor in (Factor.FINISH, Factor.OPACITY, Factor.BASE_SHEEN):
        hint = t("A word, an equals sign, its container: satin = house satin")
    return Part("levels" if which == 0 else f"levels{which}", levels.brief_text(now, units), typed=levels.typed_text(now, units), hint=hint)


def _design_words(series: Series) -> str:
    layout = series.layout
    if layout.design is Design.PAIRED:
        text = t("all recipes side by side")
    elif layout.design is Design.FRACTION:
        text = PARTS_OF_ALL[layout.halvings]
    else:
        text = t("each recipe") if len(series.varied) == 1 else t("every combination")
    if layout.centre_points:
        text += t(" and the middle")
    if layout.blocks > 1:
        text += (
            t(" in {blocks} {block_by}s", blocks=layout.blocks, block_by=layout.block_by)
            if layout.block_by is BlockBy.DAY
            else t(" from {blocks} batches", blocks=layout.blocks)
        )
    return text


def _design_choices(series: Series) -> tuple[tuple[str, str], ...]:
    plain = t("each recipe on panels of its own") if len(series.varied) == 1 else t("every combination")
    halves = layouts.most_halvings([len(v.levels) for v in series.varied])
    made = [
        ("every", plain),
        *((f"part {k}", PARTS_OF_ALL[k]) for k in range(1, halves + 1)),
        ("paired", t("all recipes side by side on one panel")),
    ]
    numeric = all(level.value is not None for v in series.varied for level in v.levels)
    if numeric:
        made.append(("centre 0", t("without the middle")) if series.layout.centre_points else ("centre 2", t("and the middle, on two panels")))
    for by, what in ((BlockBy.DAY, "days"), (BlockBy.BATCH, "batches")):
        if series.layout.blocks == 1 or series.layout.block_by is not by:
            made.append(
                (
                    f"blocks {by} {min(series.repeats, 3)}" if series.repeats > 1 else f"blocks {by} 2",
                    t("repeats spread over {what}", what=what),
                )
            )
    if series.layout.blocks > 1:
        made.append(("blocks day 1", t("all in one go")))
    made.append(("blind off", t("with letters in order")) if series.layout.blind else ("blind on", t("blind: letters drawn by lot")))
    return tuple(made)


def expectation(series: Series, *, in_short: bool = False) -> tuple[str | Part, ...]:
    """What the person expects, so that it can fail; in short without when it is locked."""
    first = series.responses[0][0]
    scale, p = SCALES[first], series.prediction
    if p is not None and p.locked_at is not None:
        size = t(" by {size:g} {unit}", size=p.size, unit=scale.unit).rstrip() if p.size else ""
        if in_short:
            return (
                t(
                    "You expected {more_or_less} {response}{size}. Locked {locked_at:%-d %b, %H:%M}.",
                    more_or_less=p.more_or_less, response=p.response, size=size, locked_at=p.locked_at,
                ),
            )  # fmt: skip
        return (
            t(
                "You expected {more_or_less} {response}{size}. Locked {locked_at:%-d %b, %H:%M}, at the first pour.",
                more_or_less=p.more_or_less,
                response=p.response,
                size=size,
                locked_at=p.locked_at,
            ),
        )
    which = Part("expect", str(p.more_or_less) if p else t("not said"), (("", t("not said")), ("less", "less"), ("more", "more")))
    if p is None and in_short:
        return arranged("I expect {more_or_less} {response} at the last level.", more_or_less=which, response=first)
    if p is None:
        return arranged("I expect {more_or_less} {response} at the last level. It is locked at the first pour.", more_or_less=which, response=first)
    size_part = Part(
        "size", f"{p.size:g} {scale.unit}".strip(), typed=f"{p.size:g}", hint=t("By how much, in {unit}", unit=scale.unit or t("its own figures"))
    )
    parts = {"more_or_less": which, "response": first, "size": size_part}
    if in_short:
        return arranged("I expect {more_or_less} {response} at the last level, by {size}.", **parts)
    return arranged("I expect {more_or_less} {response} at the last level, by {size}. Locked at the first pour.", **parts)
