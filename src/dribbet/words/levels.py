"""Levels between the person's words and SI: '10, 16, 22' for water share, '0, 2' drops, names for medium and technique."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.arm import level_at
from dribbet.lab.plan.factors import AFTER_TREATMENTS, NATURES, Measure, blend, size_m
from dribbet.records import ALCOHOL, MOST_LEVELS, WATER, BasePlan, DribbetError, Factor, Level, Technique, Varied
from dribbet.records.wording import first_up
from dribbet.words.tongue import n, name, t
from dribbet.words.units import NARROW, Units, figure, in_words, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series

LINE: Final = 44
"""Letters that a line of the question holds."""
HINT: Final = {
    Measure.SHARE: "0, 10, 20",
    Measure.DROPS: "0, 1, 2, 4",
    Measure.PARTS: "1, 2, 3",
    Measure.LENGTH: "1.2, 2.3",
    Measure.SECONDS: "10, 120",
    Measure.HOURS: "0, 4",
    Measure.COUNT: "0, 2",
    Measure.GRADE: "2, 3, 4",
    Measure.ROUNDS: "1, 2",
    Measure.MASS: "55, 70",
    Measure.TURNS: "5, 15",
    Measure.SPEED: "30, 90",
}
CHOSEN_FROM_THE_SHELF: Final = (Factor.MEDIUM, Factor.SILICONE_COLOUR, Factor.PAINT, Factor.BASE_PAINT)
WITH_RATIO: Final = re.compile(
    r"^(?P<name>.*?)\s+(?P<paint>\d+(?:[.,]\d+)?)\s*:\s*(?P<medium>\d+(?:[.,]\d+)?)(?:\s*\+\s*(?P<water>\d+(?:[.,]\d+)?)\s*%.*)?$"
)
"""A medium with a recipe of its own: glue 1:1, or conditioner 1:2 + 16 % water."""


@dataclass(frozen=True, slots=True)
class Names:
    """What named levels may be: containers by key, with what they are called now."""

    called: tuple[tuple[str, str], ...] = ()
    """Key and name of every container."""
    mediums: tuple[str, ...] = ()
    ways: tuple[str, ...] = ()
    """Own ways to pour."""
    colours: tuple[str, ...] = ()
    bases: tuple[str, ...] = ()
    paints: tuple[str, ...] = ()
    thinners: tuple[str, ...] = ()
    sheens: tuple[tuple[str, str], ...] = ()
    """Key and sheen of containers that have one."""
    opacities: tuple[tuple[str, str], ...] = ()
    """Key and hiding class of paints."""

    def of(self, factor: Factor) -> tuple[str, ...]:
        """Keys or names that a factor's levels are chosen from; empty where any name will do."""
        return {
            Factor.MEDIUM: self.mediums,
            Factor.SILICONE_COLOUR: self.colours,
            Factor.TECHNIQUE: (*Technique, *self.ways),
            Factor.BASE: (*BasePlan, *self.bases),
            Factor.BASE_PAINT: self.bases,
            Factor.PAINT: self.paints,
            Factor.AFTER: AFTER_TREATMENTS,
            Factor.THIRD_LIQUID: ("nothing", *dict.fromkeys((WATER, ALCOHOL, *self.thinners))),
        }.get(factor, ())

    def said(self, factor: Factor) -> tuple[str, ...]:
        """The same as the person calls them."""
        known = dict(self.called)
        return tuple(known.get(key, key) for key in self.of(factor))

    @property
    def said_mediums(self) -> tuple[str, ...]:
        """Mediums as the person calls them."""
        return self.said(Factor.MEDIUM)

    @property
    def said_paints(self) -> tuple[str, ...]:
        """Paints as the person calls them."""
        return self.said(Factor.PAINT)

    def key(self, word: str) -> str | None:
        """Key of a container by its name, or by the key where no other bears it as a name; None where there is none."""
        low = word.strip().lower()
        by_name = {name.lower(): key for key, name in self.called}
        return by_name.get(low) or {key.lower(): key for key, _ in self.called}.get(low)


def column_head(varied: Varied, drop_kg: float = 0.0) -> str:
    """What stands over the levels."""
    if varied.factor is Factor.SILICONE and drop_kg:
        return t("Drops in {hundred}, each {drop}", hundred=f"100{NARROW}g", drop=f"{drop_kg * 1e6:.0f}{NARROW}mg")
    return NATURES[varied.factor].means or first_up(varied.words)


def level_text(factor: Factor, level: Level, units: Units) -> str:
    """A level in the person's words."""
    nature = NATURES[factor]
    if level.value is None:
        if factor is Factor.PANEL_SIZE:
            return units.size_text(*(v * 1e3 for v in size_m(level.name)))
        return units.called(level.name) + _brought(level, units)
    if level.value == 0.0 and nature.without:
        return nature.without
    value = level.value
    return {
        Measure.SHARE: lambda: percent(value, 0 if abs(value * 100 - round(value * 100)) < 0.05 else 1),
        Measure.DROPS: lambda: n("{value:g} drop", "{value:g} drops", value, value=value),
        Measure.PARTS: lambda: f"1 : {value:.3g}",
        Measure.LENGTH: lambda: units.length_text(value * 1e3, 1),
        Measure.SECONDS: lambda: f"{value:g}{NARROW}s" if value < 120 else f"{value / 60:g}{NARROW}min",
        Measure.HOURS: lambda: f"{value / 3600:g}{NARROW}h",
        Measure.COUNT: lambda: n("{value:g} pass", "{value:g} passes", value, value=value),
        Measure.GRADE: lambda: t("grade {value:g}", value=value),
        Measure.ROUNDS: lambda: "once" if value == 1 else t("{value:g} times", value=value),
        Measure.MASS: lambda: units.mass_text(value),
        Measure.SPEED: lambda: t("{value:.3g} turns a minute", value=value * 60.0),
        Measure.TURNS: lambda: n("{value:g} turn", "{value:g} turns", value, value=value),
    }.get(nature.measure, lambda: f"{value:g}")()


def recipe_text(series: Series, arm: Arm, units: Units) -> str:
    """A recipe by its levels, and what is different in an added one."""
    said = [level_text(v.factor, level_at(series, i, arm.settings), units) for i, v in enumerate(series.varied)]
    if arm.extra is not None:
        said += [t("but {factor} {level}", factor=name(factor), level=level_text(factor, level, units)) for factor, level in arm.extra.instead]
    return ", ".join(said)


def _brought(level: Level, units: Units) -> str:
    """What comes with a named level: its container, or a recipe of its own."""
    said = []
    for factor, brought in level.brings:
        if factor in (Factor.PAINT, Factor.BASE_PAINT) and brought.name != level.name:
            said.append(units.called(brought.name))
        elif factor is Factor.RATIO and brought.value is not None:
            said.append(f"1 : {brought.value:.2g}")
        elif factor is Factor.WATER_SHARE and brought.value:
            said.append(t("{share} water", share=percent(brought.value)))
    return f" ({', '.join(said)})" if said else ""


def short_text(factor: Factor, level: Level, units: Units) -> str:
    """A level where there is room for a figure only, under a head that says what it is: 0, 10, 1.2."""
    if level.value is None:
        return units.called(level.name)
    return typed_text(Varied(factor=factor, levels=(level,)), units)


def levels_text(varied: Varied, units: Units) -> str:
    """All levels as one says them: 10 %, 16 % or 22 %."""
    return _alternatives([level_text(varied.factor, level, units) for level in varied.levels])


def brief_text(varied: Varied, units: Units) -> str:
    """The same where a line has to hold it: without what they bring, or only their number; the rack says them whole."""
    whole = levels_text(varied, units)
    if len(whole) <= LINE:
        return whole
    plain = _alternatives([level_text(varied.factor, replace(level, brings=()), units) for level in varied.levels])
    return plain if len(plain) <= LINE else t("{number} kinds", number=in_words(len(varied.levels)))


def _alternatives(texts: Sequence[str]) -> str:
    return ", ".join(texts[:-1]) + " or " + texts[-1] if len(texts) > 1 else texts[0]


def typed_text(varied: Varied, units: Units) -> str:
    """Levels as the field shows them for editing."""
    measure = NATURES[varied.factor].measure
    words = []
    for level in varied.levels:
        if level.value is None:
            words.append(_typed_name(level, units))
        elif measure is Measure.MASS:
            words.append(units.mass_figure(level.value))
        else:
            scale = {
                Measure.SHARE: 100.0,
                Measure.HOURS: 1 / 3600.0,
                Measure.SPEED: 60.0,
                Measure.LENGTH: 1e3 / (25.4 if units.length == "in" else 1.0),
            }.get(measure, 1.0)
            words.append(f"{level.value * scale:.4g}")
    return (f"{varied.name}: " if varied.factor is Factor.OWN and varied.name else "") + ", ".join(words)


def _typed_name(level: Level, units: Units) -> str:
    """A named level with what it brings, as it is typed."""
    brings = dict(level.brings)
    text = units.called(level.name)
    for container in (Factor.PAINT, Factor.BASE_PAINT):
        if container in brings:
            text += f" = {units.called(brings[container].name)}"
    ratio, water = brings.get(Factor.RATIO), brings.get(Factor.WATER_SHARE)
    if ratio is not None and ratio.value is not None:
        text += f" 1:{ratio.value:.4g}"
        text += f" + {water.value * 100:.4g} % water" if water is not None and water.value else ""
    return text


def parse(factor: Factor, text: str, units: Units, names: Names) -> Varied:
    """Levels from what was typed.

    Raises
    ------
    DribbetError
        If a word is no level of this factor, there are too few or too many, or two are the same.
    """
    name = ""
    if factor is Factor.OWN and ":" in text:
        name, text = (v.strip() for v in text.split(":", 1))
    words = [w.strip() for w in text.replace(";", ",").split(",") if w.strip()]
    nature = NATURES[factor]
    hint = HINT.get(nature.measure) or ", ".join(names.said(factor)[:2] or [str(v) for v in nature.start] or ("one", "another"))
    if not 2 <= len(words) <= MOST_LEVELS:
        raise DribbetError(
            n(
                "{count} level was typed. Type 2 to {most_levels}, with commas between them, such as {hint}.",
                "{count} levels were typed. Type 2 to {most_levels}, with commas between them, such as {hint}.",
                len(words),
                count=len(words),
                most_levels=MOST_LEVELS,
                hint=hint,
            )
        )
    if nature.measure is Measure.NAMED:
        levels = tuple(_named(factor, word, names) for word in words)
    else:
        levels = tuple(Level(value=_number(factor, word, units, hint)) for word in words)
    if len(set(levels)) < len(levels):
        raise DribbetError("Two levels are the same. Type levels that differ.")
    return Varied(factor=factor, levels=levels, name=name[:30])


WHAT: Final = {
    Factor.TECHNIQUE: "a way to pour",
    Factor.AFTER: "a treatment",
    Factor.THIRD_LIQUID: "a third liquid",
    Factor.BASE: "a base",
    Factor.BASE_PAINT: "a base on the shelf",
    Factor.PAINT: "a paint on the shelf",
    Factor.MEDIUM: "a medium on the shelf",
    Factor.SILICONE_COLOUR: "in the cup",
}
WITH_CONTAINER: Final = {Factor.FINISH: Factor.PAINT, Factor.OPACITY: Factor.PAINT, Factor.BASE_SHEEN: Factor.BASE_PAINT}
"""Factors whose levels are words, and the factor by which a container stands behind each."""
SHEENS: Final = {"matt": "matte", "glossy": "gloss", "transparent": "transparent", "clear": "transparent", "semi": "semi-opaque"}
"""Other words for what stands on a card."""


def _named(factor: Factor, word: str, names: Names) -> Level:
    if factor is Factor.OWN:
        try:
            return Level(value=figure(word))
        except ValueError:
            return Level(name=word[:200])
    if factor is Factor.PANEL_SIZE:
        size_m(word)
        return Level(name=word)
    if factor is Factor.MEDIUM:
        return _medium(word, names)
    if factor in WITH_CONTAINER:
        return _by_container(factor, word, names)
    if factor is Factor.SILICONE_COLOUR:
        return Level(name=" + ".join(_known(factor, part.strip(), names) for part in word.split("+")))
    return Level(name=_known(factor, word, names) if names.of(factor) else word[:200])


def _known(factor: Factor, word: str, names: Names) -> str:
    """Key behind a word that must be one of a factor's names."""
    key = names.key(word)
    choices = {n.lower(): n for n in names.of(factor)}
    if key is not None and key.lower() in choices:
        return key
    if word.lower() in choices:
        return choices[word.lower()]
    raise DribbetError(
        t("“{word}” is not {wanted}. There are {names}.", word=word, wanted=WHAT.get(factor, "one of the names"), names=", ".join(names.said(factor)))
    )


def _medium(word: str, names: Names) -> Level:
    """A medium, a blend of several, water among them; with a ratio behind it, a recipe of its own."""
    found = WITH_RATIO.match(word)
    name = found.group("name") if found else word
    parts = blend(name)
    keys = [_known(Factor.MEDIUM, part, names) for part in parts]
    key = keys[0] if len(keys) == 1 else " + ".join(f"{k} {share * 100:.4g}" for k, share in zip(keys, parts.values(), strict=True))
    if found is None:
        return Level(name=key)
    try:
        paint, medium, water = (figure(found.group(g) or "0") for g in ("paint", "medium", "water"))
    except ValueError:
        raise DribbetError(t("“{word}” is no recipe. Type paint : medium in plain figures, such as glue 1:1.", word=word)) from None
    if not (paint > 0.0 and 0.0 <= medium / paint <= NATURES[Factor.RATIO].most):
        raise DribbetError(
            t("“{word}” has no paint, or too much medium. Type paint : medium, such as glue 1:1 or conditioner 1:2 + 16 % water.", word=word)
        )
    brings = [(Factor.RATIO, Level(value=medium / paint))]
    if found.group("water") is not None or key in (WATER, ALCOHOL):
        if not water <= NATURES[Factor.WATER_SHARE].most * 100.0:
            raise DribbetError(
                t("{water:g} % of water leave no paint. Type 0 to {figure:g}.", water=water, figure=NATURES[Factor.WATER_SHARE].most * 100)
            )
        brings.append((Factor.WATER_SHARE, Level(value=water / 100.0)))
    return Level(name=key, brings=tuple(brings))


def _by_container(factor: Factor, word: str, names: Names) -> Level:
    """A word such as satin with the container that brings it: named behind an equals sign, or the only one on the shelf that is so."""
    said, sign, container = (v.strip() for v in word.partition("="))
    behind = WITH_CONTAINER[factor]
    if sign:
        return Level(name=said[:200] or container[:200], brings=((behind, Level(name=_known(behind, container, names))),))
    wanted = SHEENS.get(said.lower(), said.lower())
    there = names.opacities if factor is Factor.OPACITY else names.sheens
    fit = [key for key, what in there if what == wanted and key in names.of(behind)]
    if len(fit) != 1:
        told = dict(names.called)
        some = (
            t("{names} are {said}", names=", ".join(told.get(k, k) for k in fit), said=said) if fit else t("no card on Shelf says {said}", said=said)
        )
        what = "base" if behind is Factor.BASE_PAINT else "paint"
        such = told.get(fit[0], fit[0]) if fit else ", ".join(names.said(behind)[:1])
        raise DribbetError(
            t(
                "Which {what} is {said}? {some}. Type it with its {what}: {said} = {such}.",
                what=what,
                said=said,
                some=first_up(some),
                such=such,
            )
        )
    return Level(name=said, brings=((behind, Level(name=fit[0])),))


def _number(factor: Factor, word: str, units: Units, hint: str) -> float:
    nature = NATURES[factor]
    plain = word.lower()
    for tail in ("%", "drops", "drop", "passes", "pass", "times", "min", "s", "h", "g"):
        plain = plain.removesuffix(tail).strip()
    try:
        if nature.measure is Measure.LENGTH:
            value = units.length_mm(word) / 1e3
        else:
            value = figure(plain.replace("grade", "").replace("1 :", "").replace(":", " ").split()[-1])
    except (ValueError, IndexError):
        raise DribbetError(t("“{word}” is no number. Type levels such as {hint}.", word=word, hint=hint)) from None
    if nature.measure is Measure.MASS:
        value = units.mass_kg(word.removesuffix("g").strip() if units.mass == "g" else word)
    if nature.measure is Measure.SECONDS and word.lower().endswith("min"):
        value *= 60.0
    value *= {Measure.SHARE: 0.01, Measure.HOURS: 3600.0, Measure.SPEED: 1.0 / 60.0}.get(nature.measure, 1.0)
    if not nature.least <= value <= nature.most:
        if nature.measure is Measure.SHARE:
            raise DribbetError(
                t(
                    "{share} is no share of a mix that still holds paint. Type {least:g} to {most:g}.",
                    share=f"{word.removesuffix('%').strip()}{NARROW}%",
                    least=nature.least * 100,
                    most=nature.most * 100,
                )
            )
        raise DribbetError(t("“{word}” is out of reach. Type levels such as {hint}.", word=word, hint=hint))
    return value


def at_most(varied: Varied, count: int) -> Varied:
    """The first levels of something."""
    return replace(varied, levels=varied.levels[:count])


def fresh(factor: Factor, names: Names) -> Varied:
    """First levels to offer.

    Raises
    ------
    DribbetError
        If the shelf or the cup has too few of them.
    """
    nature = NATURES[factor]
    if factor in WITH_CONTAINER:
        return _fresh_by_container(factor, names)
    if factor in CHOSEN_FROM_THE_SHELF:
        known: Sequence[str] = names.of(factor)
        if len(known) < 2:
            raise DribbetError(t("There is only one {only_one}", only_one=ONLY_ONE[factor]))
        first = names.colours[-1:] if factor is Factor.PAINT else ()
        chosen = tuple(dict.fromkeys((*first, *(k for k in known if k not in names.colours or factor is not Factor.PAINT), *known)))[:2]
        return Varied(factor=factor, levels=tuple(Level(name=n) for n in chosen), of=first[0] if first else "")
    return Varied(factor=factor, levels=tuple(Level(name=v) if isinstance(v, str) else Level(value=float(v)) for v in nature.start))


ONLY_ONE: Final = {
    Factor.MEDIUM: "medium on the shelf. Add another on Shelf first.",
    Factor.SILICONE_COLOUR: "colour in the cup. Add another first.",
    Factor.BASE_PAINT: "base on the shelf. Add another on Shelf first.",
    Factor.PAINT: "paint on the shelf. Add another on Shelf first.",
}


def _fresh_by_container(factor: Factor, names: Names) -> Varied:
    """Two containers that differ in what is tested, each under its word."""
    behind = WITH_CONTAINER[factor]
    there = [(k, what) for k, what in (names.opacities if factor is Factor.OPACITY else names.sheens) if k in names.of(behind)]
    of = names.colours[-1] if behind is Factor.PAINT and names.colours else ""
    ordered = sorted(there, key=lambda kw: kw[0] != of)
    chosen: dict[str, str] = {}
    for key, what in ordered:
        chosen.setdefault(what, key)
    if len(chosen) < 2:
        kind = {Factor.OPACITY: "opacity", Factor.FINISH: "sheen", Factor.BASE_SHEEN: "sheen"}[factor]
        what_of = "bases" if behind is Factor.BASE_PAINT else "paints"
        raise DribbetError(
            t(
                "Fewer than two {what_of} on Shelf differ in {kind}. Say the {kind} on their cards first, or test the {behind} itself.",
                what_of=what_of,
                kind=kind,
                behind=behind,
            )
        )
    pairs = list(chosen.items())[:2]
    return Varied(factor=factor, levels=tuple(Level(name=w, brings=((behind, Level(name=k)),)) for w, k in pairs), of=of)
