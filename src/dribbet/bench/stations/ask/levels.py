"""Levels between the person's words and SI: '10, 16, 22' for water share, '0, 2' drops, names for medium and technique."""

from __future__ import annotations

from typing import Final

from dribbet.bench.units import NARROW, Units, percent
from dribbet.records import DribbetError, Factor, Level, Technique

HINT: Final = {
    Factor.WATER_SHARE: "10, 16, 22",
    Factor.ALCOHOL: "0, 10",
    Factor.SILICONE: "0, 1, 2, 4",
    Factor.RATIO: "1, 2, 3",
    Factor.FILM_LEFT: "1.2, 2.3",
    Factor.MEDIUM: "conditioner, glue",
    Factor.TECHNIQUE: "flip cup, open cup",
}
DEFAULT: Final = {
    Factor.WATER_SHARE: (0.10, 0.16, 0.22),
    Factor.ALCOHOL: (0.0, 0.10),
    Factor.SILICONE: (0.0, 2.0),
    Factor.RATIO: (1.0, 2.0),
    Factor.FILM_LEFT: (1.2e-3, 2.3e-3),
}
MEANS: Final = {
    Factor.WATER_SHARE: "Water share of the mix",
    Factor.ALCOHOL: "Alcohol share of the mix",
    Factor.SILICONE: "Drops of silicone in each 100 g",
    Factor.RATIO: "Medium to one part of paint",
    Factor.FILM_LEFT: "Wet film left on the panel",
    Factor.MEDIUM: "Medium",
    Factor.TECHNIQUE: "Way to pour",
}


def level_text(factor: Factor, level: Level, units: Units) -> str:
    """A level in the person's words."""
    if level.value is None:
        return level.name
    if factor in (Factor.WATER_SHARE, Factor.ALCOHOL):
        return percent(level.value)
    if factor is Factor.SILICONE:
        return "no silicone" if level.value == 0 else f"{level.value:g} drop{'s' if level.value != 1 else ''}"
    if factor is Factor.RATIO:
        return f"1 : {level.value:g}"
    return units.length_text(level.value * 1e3, 1)


def typed_text(factor: Factor, levels: tuple[Level, ...], units: Units) -> str:
    """Levels as the field shows them for editing."""
    words = []
    for level in levels:
        if level.value is None:
            words.append(level.name)
        elif factor in (Factor.WATER_SHARE, Factor.ALCOHOL):
            words.append(f"{level.value * 100:g}")
        elif factor is Factor.FILM_LEFT:
            words.append(f"{level.value * 1e3 / (25.4 if units.length == 'in' else 1):.3g}")
        else:
            words.append(f"{level.value:g}")
    return ", ".join(words)


def parse(factor: Factor, text: str, units: Units, mediums: list[str]) -> tuple[Level, ...]:
    """Levels from what was typed.

    Raises
    ------
    DribbetError
        If a word is no level of this factor, there are fewer than 2 or more than 4, or two are the same.
    """
    words = [w.strip().removesuffix("%").strip() for w in text.replace(";", ",").split(",") if w.strip()]
    if not 2 <= len(words) <= 4:
        raise DribbetError(f"{len(words)} levels were typed. Type 2 to 4, with commas between them, such as {HINT[factor]}.")
    levels = []
    for word in words:
        if factor is Factor.MEDIUM:
            found = next((m for m in mediums if m.lower() == word.lower()), None)
            if found is None:
                raise DribbetError(f"“{word}” is not a medium on the shelf. There are {', '.join(mediums)}.")
            levels.append(Level(name=found))
            continue
        if factor is Factor.TECHNIQUE:
            way = next((t for t in Technique if str(t) == word.lower()), None)
            if way is None:
                raise DribbetError(f"“{word}” is not a way to pour. There are {', '.join(Technique)}.")
            levels.append(Level(name=str(way)))
            continue
        try:
            value = units.length_mm(word) / 1e3 if factor is Factor.FILM_LEFT else float(word.replace("1 :", "").replace(":", " ").split()[-1])
        except (ValueError, IndexError):
            raise DribbetError(f"“{word}” is no number. Type levels such as {HINT[factor]}.") from None
        if factor in (Factor.WATER_SHARE, Factor.ALCOHOL):
            if not 0 <= value < 90:
                raise DribbetError(f"{value:g}{NARROW}% is no share of a mix that still holds paint. Type 0 to 89.")
            value /= 100.0
        if value < 0 or (factor is Factor.FILM_LEFT and not 1e-4 <= value <= 1e-2) or value > 1e3:
            raise DribbetError(f"“{word}” is out of reach. Type levels such as {HINT[factor]}.")
        levels.append(Level(value=value))
    if len(set(levels)) < len(levels):
        raise DribbetError("Two levels are the same. Type levels that differ.")
    return tuple(levels)
