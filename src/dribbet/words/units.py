"""The person's units: SI comes in, words go out. Figures never carry more digits than the scale or photo gives."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.dosing import mg_per_100g
from dribbet.records import UnitChoice

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.studio.desk import Desk

NO_BREAK: Final = "\u00a0"
NARROW: Final = "\u202f"
MINUS: Final = "\u2212"
G_PER_OZ: Final = 28.349523125
ML_PER_FLOZ: Final = 29.5735295625
MM_PER_IN: Final = 25.4
LEAST: Final = 1e-9
MOST: Final = 1e9


@dataclass(frozen=True)
class Units(UnitChoice):
    """Quantities in the systems that the person reads in, as text and back; and what they call each container now."""

    names: tuple[tuple[str, str], ...] = ()
    """Key and present name of containers that were renamed."""

    def called(self, key: str) -> str:
        """Name of a container, or of the cup of a base or activator that shares its name with a colour."""
        known = dict(self.names)
        stem, comma, what = key.rpartition(", ")
        return known.get(key) or (f"{known[stem]}{comma}{what}" if stem in known else key)

    def mass_text(self, kg: float) -> str:
        """2.4 g, or 0.08 oz."""
        return f"{self.mass_figure(kg)}{NARROW}{self.mass}"

    def stock_text(self, kg: float) -> str:
        """780 g, 1.9 kg, or 27.5 oz: what stands on a shelf, without the scale's last digit."""
        if self.mass != "g":
            return f"{kg * 1e3 / G_PER_OZ:.1f}{NARROW}oz"
        return f"{kg:.1f}{NARROW}kg" if kg >= 1.0 else f"{kg * 1e3:.0f}{NARROW}g"

    def mass_figure(self, kg: float) -> str:
        """Figure alone, with the scale's digits."""
        value = kg * 1e3 if self.mass == "g" else kg * 1e3 / G_PER_OZ
        digits = 1 if self.mass == "g" else 3
        value = round(value, digits)
        return f"{abs(value):.{digits}f}" if value >= 0 or value == 0 else f"{MINUS}{abs(value):.{digits}f}"

    def mass_kg(self, typed: str) -> float:
        """Typed grams (or ounces) as kg; raises ValueError for words."""
        value = figure(typed.strip().removesuffix(self.mass))
        return value / 1e3 if self.mass == "g" else value * G_PER_OZ / 1e3

    def volume_text(self, m3: float) -> str:
        """120 mL, or 4.1 fl oz."""
        ml = m3 * 1e6
        return f"{ml:.0f}{NARROW}mL" if self.volume == "mL" else f"{ml / ML_PER_FLOZ:.1f}{NARROW}fl{NARROW}oz"

    def length_text(self, mm: float, digits: int = 0) -> str:
        """33 mm, or 1.30 in."""
        sign = MINUS if round(mm, digits) < 0 else ""
        if self.length == "mm":
            return f"{sign}{abs(mm):.{digits}f}{NARROW}mm"
        return f"{sign}{abs(mm) / MM_PER_IN:.{digits + 2}f}{NARROW}in"

    def size_text(self, width_mm: float, height_mm: float) -> str:
        """200 × 150 mm."""
        if self.length == "mm":
            return f"{width_mm:.0f} × {height_mm:.0f}{NARROW}mm"
        return f"{width_mm / MM_PER_IN:.1f} × {height_mm / MM_PER_IN:.1f}{NARROW}in"

    def length_mm(self, typed: str) -> float:
        """Typed millimetres (or inches) as mm; raises ValueError for words."""
        value = figure(typed.strip().removesuffix(self.length))
        return value if self.length == "mm" else value * MM_PER_IN

    def size_mm(self, typed: str) -> tuple[float, float]:
        """Width and height in mm of a size that was typed with a cross between; raises ValueError for anything else.

        >>> Units().size_mm("198 x 151")
        (198.0, 151.0)
        """
        wide, high = self.sides(typed)
        return self.length_mm(wide), self.length_mm(high)

    def sides(self, typed: str) -> list[str]:
        """What was typed so far of a size, side by side.

        >>> Units().sides("198 x")
        ['198', '']
        """
        return re.split(r"\s*[x×*]\s*|\s+by\s+|\s+", typed.lower().removesuffix(self.length).lstrip(), maxsplit=1)

    def temperature_text(self, celsius: float) -> str:
        """21 °C, or 70 °F."""
        value = celsius if self.temperature == "°C" else celsius * 9 / 5 + 32
        return f"{value:.0f}{NARROW}{self.temperature}"


def units_of(desk: Desk) -> Units:
    """Units that the person at this desk reads in."""
    told = desk.units
    renamed = tuple((m.key, m.name) for m in desk.shelf() if m.name != m.key)
    return Units(told.mass, told.volume, told.length, told.temperature, renamed)


def figure(typed: str) -> float:
    """Figure of what was typed, with a point or a comma; raises ValueError for words, NaN, infinity, and what no scale or ruler shows."""
    value = float(typed.strip().replace(MINUS, "-").replace(",", "."))
    if "_" in typed or not (value == 0.0 or LEAST <= abs(value) <= MOST):
        raise ValueError(typed)
    return value


def percent(share: float, digits: int = 0) -> str:
    """16 %."""
    return f"{share * 100:.{digits}f}{NARROW}%"


def clock_text(seconds: float) -> str:
    """0:24, or 1:02:05."""
    whole = round(max(seconds, 0.0))
    hours, rest = divmod(whole, 3600)
    return f"{hours}:{rest // 60:02d}:{rest % 60:02d}" if hours else f"{rest // 60}:{rest % 60:02d}"


def count_text(n: int, one: str, many: str = "") -> str:
    """1 panel, 3 panels."""
    return f"{n} {one if n == 1 else many or one + 's'}"


WORDS: Final = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def listed(names: Sequence[str], most: int = 4) -> str:
    """a, b and c; beyond `most` the rest is counted."""
    shown = [*names] if len(names) <= most else [*names[: most - 1], f"{in_words(len(names) - most + 1)} more"]
    return shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}"


def in_words(n: int) -> str:
    """Small numbers as words."""
    return WORDS[n] if 0 <= n < len(WORDS) else str(n)


def dose_text(drops_per_100g: float, drop_kg: float, what: str) -> str:
    """2 drops (58 mg) of belt silicone in 100 g."""
    return (
        f"{drops_per_100g:.3g} {'drop' if drops_per_100g == 1 else 'drops'} ({mg_per_100g(drops_per_100g, drop_kg):.0f}{NARROW}mg) of {what} in 100 g"
    )
