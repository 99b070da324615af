"""What a press or a typed word on Ask makes of the series: words become facts, facts go to `acts.asking`. No widgets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.records import BasePlan, BlockBy, Dosage, DribbetError, DropsBy, Equal, Factor, Outline, Response, Series, Wanted
from dribbet.studio.acts import asking
from dribbet.words import ask as ask_words
from dribbet.words import held, levels
from dribbet.words.question import names_on
from dribbet.words.units import figure

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.records import Material
    from dribbet.words.units import Units

WHOLE = ("torch", "second", "rounds")
"""Constants that are counted."""


def changed(series: Series, part: str, value: str, units: Units, shelf: Sequence[Material]) -> Series:
    """Return the series with one part chosen or typed anew.

    Raises
    ------
    DribbetError
        If that cannot be, in words that say what could.
    """
    stem = part.rstrip("0123456789")
    which = int(part[len(stem) :] or 0) if part[len(stem) :] or stem in ("factor", "levels", "of", "own") else 0
    names = names_on(shelf, series)
    if stem == "factor":
        return _factor(series, which, value, shelf)
    if part == "crossed":
        return asking.leave_out(series, 1) if not value and len(series.varied) > 1 else _factor(series, len(series.varied), value, shelf)
    if stem == "levels":
        return asking.level(series, which, levels.parse(series.varied[which].factor, value, units, names))
    if stem == "own":
        return asking.place_own(series, which, value, shelf)
    if stem == "of":
        layer, _, colour = value.partition(" ")
        return asking.exchange(series, which, colour, int(layer))
    plain: dict[str, Callable[[], Series]] = {
        "equal": lambda: asking.equalise(series, Equal(value), shelf),
        "design": lambda: _laid_out(series, value),
        "repeats": lambda: asking.repeat(series, int(value)),
        "response": lambda: asking.respond(series, Response(value)),
        "expect": lambda: asking.expect(series, Wanted(value) if value else None),
        "size": lambda: asking.expect_size(series, _size(value)),
        "name": lambda: asking.rename(series, value),
        "size_mm": lambda: asking.size(series, *held.size_m(value, units)),
        "support": lambda: asking.hold(series, support=held.support(value)),
        "from_size": lambda: asking.paint_from_size(series),
        "strip": lambda: asking.strip(series, held.strip_m(value, units)),
        "base_plan": lambda: asking.hold(series, base_plan=BasePlan(value)),
        "outline": lambda: asking.hold(series, outline=Outline(value)),
        "technique": lambda: asking.pour_by(series, value),
        "drops_by": lambda: asking.hold(series, drops_by=DropsBy(value)),
        "thinned": lambda: asking.hold(series, thinned=Dosage(value)),
        "medium": lambda: asking.hold(series, medium=value),
        "base": lambda: asking.hold(series, base=value),
        "third_liquid": lambda: asking.hold(series, third_liquid=value),
        "ratio": lambda: asking.hold(series, **held.recipe(value, series, names, {m.key: m.density_kg_m3 for m in shelf})),
        "colour_parts": lambda: asking.hold(series, colour_parts=held.ratios(value, series, names)),
        "cup": lambda: asking.fill(series, held.layers(value, names)),
        "silicone_in": lambda: asking.hold(series, silicone_colours=held.colours(value, series, names)),
        "asked": lambda: asking.also(series, held.responses(value, series.responses[0][0])),
    }
    if part in plain:
        return plain[part]()
    if part.startswith(held.DOING):
        return asking.do(series, held.doing(part, value, units))
    if part in held.NUMBERS:
        number = held.number(part, value, units)
        return asking.hold(series, **{held.NUMBERS[part][1]: int(number) if part in WHOLE else number})
    return asking.hold(series, **{part: held.named(part, value)})


def _factor(series: Series, which: int, value: str, shelf: Sequence[Material]) -> Series:
    if not value:
        return asking.leave_out(series, which)
    factor = Factor(value)
    if which < len(series.varied) and series.varied[which].factor is factor and factor is not Factor.OWN:
        return series
    new = levels.fresh(factor, names_on(shelf, series))
    return asking.vary(series, which, levels.at_most(new, 2) if which and factor is not Factor.OWN else new, shelf)


def _laid_out(series: Series, value: str) -> Series:
    what, _, rest = value.partition(" ")
    if what == "every":
        return asking.every(series)
    if what == "part":
        return asking.part(series, int(rest))
    if what == "paired":
        return asking.side_by_side(series)
    if what == "centre":
        return asking.centre(series, int(rest))
    if what == "blind":
        return asking.blind(series, drawn=rest == "on")
    by, blocks = rest.split()
    return asking.spread(series, BlockBy(by), int(blocks))


def _size(value: str) -> float:
    try:
        size = figure(value.split()[0])
    except (ValueError, IndexError):
        raise DribbetError(ask_words.NO_SIZE(text=value)) from None
    if not 0.0 <= size < 1e6:
        raise DribbetError(ask_words.A_SIZE_IS_ZERO_OR_MORE)
    return size
