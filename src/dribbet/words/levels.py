"""Levels between the person's words and SI: '10, 16, 22' for water share, '0, 2' drops, names for medium and technique."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.factors import AFTER_TREATMENTS, NATURES, Measure, blend, size_m
from dribbet.records import MOST_LEVELS, BasePlan, DribbetError, Factor, Level, Technique, Varied
from dribbet.words.units import NARROW, Units, figure, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

HINT: Final = {
    Measure.SHARE: "0, 10, 20",
    Measure.DROPS: "0, 1, 2, 4",
    Measure.PARTS: "1, 2, 3",
    Measure.LENGTH: "1.2, 2.3",
    Measure.SECONDS: "10, 120",
    Measure.HOURS: "0, 4",
    Measure.COUNT: "0, 2",
    Measure.GRADE: "2, 3, 4",
}
CHOSEN_FROM_THE_SHELF: Final = (Factor.MEDIUM, Factor.SILICONE_COLOUR)


@dataclass(frozen=True, slots=True)
class Names:
    """What named levels may be."""

    mediums: tuple[str, ...] = ()
    colours: tuple[str, ...] = ()
    bases: tuple[str, ...] = ()

    def of(self, factor: Factor) -> tuple[str, ...]:
        """Names that a factor's levels are chosen from; empty where any name will do."""
        return {
            Factor.MEDIUM: self.mediums,
            Factor.SILICONE_COLOUR: self.colours,
            Factor.TECHNIQUE: tuple(Technique),
            Factor.BASE: (*BasePlan, *self.bases),
            Factor.AFTER: AFTER_TREATMENTS,
            Factor.THIRD_LIQUID: ("nothing", "water", "alcohol"),
        }.get(factor, ())


def column_head(varied: Varied) -> str:
    """What stands over the levels."""
    return NATURES[varied.factor].means or varied.words.capitalize()


def level_text(factor: Factor, level: Level, units: Units) -> str:
    """A level in the person's words."""
    nature = NATURES[factor]
    if level.value is None:
        return units.size_text(*(v * 1e3 for v in size_m(level.name))) if factor is Factor.PANEL_SIZE else level.name
    if level.value == 0.0 and nature.without:
        return nature.without
    value = level.value
    return {
        Measure.SHARE: lambda: percent(value, 0 if abs(value * 100 - round(value * 100)) < 0.05 else 1),
        Measure.DROPS: lambda: f"{value:g} drop{'s' if value != 1 else ''}",
        Measure.PARTS: lambda: f"1 : {value:.3g}",
        Measure.LENGTH: lambda: units.length_text(value * 1e3, 1),
        Measure.SECONDS: lambda: f"{value:g}{NARROW}s" if value < 120 else f"{value / 60:g}{NARROW}min",
        Measure.HOURS: lambda: f"{value / 3600:g}{NARROW}h",
        Measure.COUNT: lambda: f"{value:g} pass{'es' if value != 1 else ''}",
        Measure.GRADE: lambda: f"grade {value:g}",
    }.get(nature.measure, lambda: f"{value:g}")()


def short_text(factor: Factor, level: Level, units: Units) -> str:
    """A level where there is room for a figure only, under a head that says what it is: 0, 10, 1.2."""
    if level.value is None:
        return level.name.split()[0]
    return typed_text(Varied(factor=factor, levels=(level,)), units)


def levels_text(varied: Varied, units: Units) -> str:
    """All levels as one says them: 10 %, 16 % or 22 %."""
    texts = [level_text(varied.factor, level, units) for level in varied.levels]
    return ", ".join(texts[:-1]) + " or " + texts[-1] if len(texts) > 1 else texts[0]


def typed_text(varied: Varied, units: Units) -> str:
    """Levels as the field shows them for editing."""
    measure = NATURES[varied.factor].measure
    words = []
    for level in varied.levels:
        if level.value is None:
            words.append(level.name)
        else:
            scale = {Measure.SHARE: 100.0, Measure.HOURS: 1 / 3600.0, Measure.LENGTH: 1e3 / (25.4 if units.length == "in" else 1.0)}.get(measure, 1.0)
            words.append(f"{level.value * scale:.4g}")
    return (f"{varied.name}: " if varied.factor is Factor.OWN and varied.name else "") + ", ".join(words)


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
    hint = HINT.get(nature.measure) or ", ".join(names.of(factor)[:2] or [str(v) for v in nature.start] or ("one", "another"))
    if not 2 <= len(words) <= MOST_LEVELS:
        raise DribbetError(
            f"{len(words)} level{'s were' if len(words) != 1 else ' was'} typed. Type 2 to {MOST_LEVELS}, with commas between them, such as {hint}."
        )
    if nature.measure is Measure.NAMED:
        levels = tuple(_named(factor, word, names) for word in words)
    else:
        levels = tuple(Level(value=_number(factor, word, units, hint)) for word in words)
    if len(set(levels)) < len(levels):
        raise DribbetError("Two levels are the same. Type levels that differ.")
    return Varied(factor=factor, levels=levels, name=name[:30])


def _named(factor: Factor, word: str, names: Names) -> Level:
    known = {n.lower(): n for n in names.of(factor)}
    if factor is Factor.OWN:
        try:
            return Level(value=figure(word))
        except ValueError:
            return Level(name=word[:40])
    if factor is Factor.PANEL_SIZE:
        size_m(word)
        return Level(name=word)
    if factor in CHOSEN_FROM_THE_SHELF:
        parts = blend(word) if factor is Factor.MEDIUM else dict.fromkeys((w.strip() for w in word.split("+")), 1.0)
        for part in parts:
            if part.lower() not in known:
                where = "a medium on the shelf" if factor is Factor.MEDIUM else "in the cup"
                raise DribbetError(f"“{part}” is not {where}. There are {', '.join(names.of(factor))}.")
        if len(parts) > 1:
            return Level(name=word.lower() if factor is Factor.MEDIUM else " + ".join(known[p.lower()] for p in parts))
    if known and word.lower() not in known:
        what = {Factor.TECHNIQUE: "a way to pour", Factor.AFTER: "a treatment", Factor.THIRD_LIQUID: "a third liquid", Factor.BASE: "a base"}
        raise DribbetError(f"“{word}” is not {what.get(factor, 'one of the names')}. There are {', '.join(names.of(factor))}.")
    return Level(name=known.get(word.lower(), word[:40]))


def _number(factor: Factor, word: str, units: Units, hint: str) -> float:
    nature = NATURES[factor]
    plain = word.lower()
    for tail in ("%", "drops", "drop", "passes", "pass", "min", "s", "h"):
        plain = plain.removesuffix(tail).strip()
    try:
        if nature.measure is Measure.LENGTH:
            value = units.length_mm(word) / 1e3
        else:
            value = figure(plain.replace("grade", "").replace("1 :", "").replace(":", " ").split()[-1])
    except (ValueError, IndexError):
        raise DribbetError(f"“{word}” is no number. Type levels such as {hint}.") from None
    if nature.measure is Measure.SECONDS and word.lower().endswith("min"):
        value *= 60.0
    value *= {Measure.SHARE: 0.01, Measure.HOURS: 3600.0}.get(nature.measure, 1.0)
    if not nature.least <= value <= nature.most:
        if nature.measure is Measure.SHARE:
            raise DribbetError(
                f"{word.removesuffix('%').strip()}{NARROW}% is no share of a mix that still holds paint. "
                f"Type {nature.least * 100:g} to {nature.most * 100:g}."
            )
        raise DribbetError(f"“{word}” is out of reach. Type levels such as {hint}.")
    return value


def fresh(factor: Factor, names: Names) -> Varied:
    """First levels to offer.

    Raises
    ------
    DribbetError
        If the shelf or the cup has too few of them.
    """
    nature = NATURES[factor]
    if factor in CHOSEN_FROM_THE_SHELF:
        known: Sequence[str] = names.of(factor)
        if len(known) < 2:
            what = "medium on the shelf. Add another on Shelf first." if factor is Factor.MEDIUM else "colour in the cup. Add another first."
            raise DribbetError(f"There is only one {what}")
        return Varied(factor=factor, levels=tuple(Level(name=n) for n in known[:2]))
    return Varied(factor=factor, levels=tuple(Level(name=v) if isinstance(v, str) else Level(value=float(v)) for v in nature.start))
