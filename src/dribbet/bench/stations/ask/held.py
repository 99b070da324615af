"""What is held, as numbers: each constant as words to show, as text to type, and back."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import amounts, design
from dribbet.lab.plan.arm import ROUGH_DENSITY
from dribbet.records import BasePlan, Constants, DribbetError, Layer, Layout, Outline, Response, Series, Technique, Wanted
from dribbet.words.units import NARROW, Units, figure, percent

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

MASS, LENGTH, SHARE, PLAIN, SECONDS, CELSIUS, HOURS = "mass", "length", "share", "plain", "seconds", "celsius", "hours"
NUMBERS: Final = {  # part: (words, field, kind)
    "poured": ("Paint per panel", "poured_kg", MASS),
    "dwell": ("Rest under the cup", "dwell_s", SECONDS),
    "tilt": ("Tilting takes", "tilt_s", SECONDS),
    "torch": ("Passes of the torch", "torch_passes", PLAIN),
    "ratio": ("Parts of medium to 1 of paint", "medium_parts", PLAIN),
    "water": ("Water share", "water_share", SHARE),
    "drops": ("Drops of silicone in 100 g", "silicone_drops_per_100g", PLAIN),
    "film": ("Wet film that stays", "film_m", LENGTH),
    "sides": ("Sides to cover, deep", "side_m", LENGTH),
    "grade": ("Thinned to grade (0 is as planned)", "grade", PLAIN),
    "alcohol": ("Alcohol share", "alcohol_share", SHARE),
    "strength": ("Strength of the alcohol", "alcohol_strength", SHARE),
    "craze": ("Anti-craze additive", "anti_craze_share", SHARE),
    "shimmer_parts": ("Shimmer medium to 1 of paint", "shimmer_parts", PLAIN),
    "base_m": ("Base lies", "base_m", LENGTH),
    "base_water": ("Water in the base", "base_water_share", SHARE),
    "activator_kg": ("Activator per panel", "activator_kg", MASS),
    "heat_after": ("First heat after", "heat_after_s", SECONDS),
    "rest": ("The mix rests", "rest_s", HOURS),
    "loss": ("Stays in the cup", "cup_loss", SHARE),
    "reserve": ("Reserve", "reserve", SHARE),
    "room": ("Room", "room_c", CELSIUS),
    "damp": ("Damp of the air", "room_rh", SHARE),
}
CHOICES: Final = {"technique": "Way to pour", "medium": "Medium", "base_plan": "Base", "outline": "Shape"}
TEXTS: Final = {
    "base": "Base is of",
    "finish": "Finish of the paint",
    "base_sheen": "Sheen of the base",
    "activator": "Activator",
    "silicone": "Silicone",
}
LISTS: Final = {"cup": "Cup, from below", "silicone_in": "Colours that get silicone", "asked": "Also measured"}


def words_of(series: Series, part: str, units: Units) -> str:
    """One constant as it stands, such as 'Paint per panel: 68.0 g'."""
    held = series.constants
    if part in NUMBERS:
        name, field, kind = NUMBERS[part]
        value = float(getattr(held, field))
        shown = {
            MASS: units.mass_text(value),
            LENGTH: units.length_text(value * 1e3, 1),
            SHARE: percent(value),
            SECONDS: f"{value:.0f}{NARROW}s",
            HOURS: f"{value / 3600:g}{NARROW}h",
            CELSIUS: units.temperature_text(value),
            PLAIN: f"{value:g}",
        }[kind]
        return f"{name}: {shown}"
    if part == "size_mm":
        return f"Panel: {units.size_text(held.panel_width_m * 1e3, held.panel_height_m * 1e3)}"
    if part == "support":
        return f"Panel is made of: {held.support}"
    if part == "from_size":
        return f"Work the paint out from the size: now {units.mass_text(held.poured_kg)}"
    if part == "strip":
        return f"Strip left out along borders: {units.length_text(series.layout.strip_m * 1e3, 0)}"
    if part in TEXTS:
        return f"{TEXTS[part]}: {getattr(held, part)}"
    if part in CHOICES:
        return f"{CHOICES[part]}: {getattr(held, part)}"
    return f"{LISTS[part]}: {typed_of(series, part, units)}"


def typed_of(series: Series, part: str, units: Units) -> str:
    """One constant as the person would type it."""
    held = series.constants
    if part in NUMBERS:
        _, field, kind = NUMBERS[part]
        value = float(getattr(held, field))
        return {
            MASS: units.mass_figure(value),
            LENGTH: f"{value * 1e3 / (25.4 if units.length == 'in' else 1.0):.3g}",
            SHARE: f"{value * 100:g}",
            HOURS: f"{value / 3600:g}",
            CELSIUS: f"{value if units.temperature == '°C' else value * 9 / 5 + 32:g}",
        }.get(kind, f"{value:g}")
    if part == "size_mm":
        factor = 25.4 if units.length == "in" else 1.0
        return f"{held.panel_width_m * 1e3 / factor:g} x {held.panel_height_m * 1e3 / factor:g}"
    if part == "support":
        return held.support
    if part == "strip":
        return f"{series.layout.strip_m * 1e3 / (25.4 if units.length == 'in' else 1.0):.3g}"
    if part in TEXTS:
        return str(getattr(held, part))
    if part == "cup":
        return ", ".join(f"{layer.material} {layer.share * 100:g}" for layer in series.layers)
    if part == "silicone_in":
        return ", ".join(held.silicone_colours) or "none"
    return ", ".join(f"{response} {wanted}" for response, wanted in series.responses[1:]) or "nothing else"


def changed(series: Series, part: str, text: str, units: Units, paints: Sequence[str]) -> Series:
    """Return the series with one constant typed anew.

    Raises
    ------
    DribbetError
        If the text is no such constant, in words that say what would be one.
    """
    held = series.constants
    if part in NUMBERS:
        name, field, kind = NUMBERS[part]
        value = _number(text, name, kind, units)
        kept: dict[str, object] = {field: int(value) if field == "torch_passes" else value}
        if field == "silicone_drops_per_100g" and value and not held.silicone_colours:
            kept["silicone_colours"] = tuple(dict.fromkeys(layer.material for layer in series.layers))[:1]
        return replace(series, constants=replace(held, **kept))  # type: ignore[arg-type]
    special: dict[str, Callable[[], Series]] = {
        "size_mm": lambda: replace(series, constants=_sized(held, text, units)),
        "support": lambda: replace(series, constants=replace(held, support=_named(text))),
        "from_size": lambda: replace(series, constants=_from_size(series)),
        "strip": lambda: replace(series, layout=replace(series.layout, strip_m=_number(text, "Strip", LENGTH, units))),
        "base_plan": lambda: replace(series, constants=replace(held, base_plan=BasePlan(text))),
        "outline": lambda: replace(series, constants=replace(held, outline=Outline(text))),
        **{p: partial(_texted, series, p, text) for p in TEXTS},
        "technique": lambda: replace(series, constants=replace(held, technique=Technique(text))),
        "medium": lambda: replace(series, constants=replace(held, medium=text)),
        "cup": lambda: _with_cup(series, _layers(text, paints)),
        "silicone_in": lambda: replace(series, constants=replace(held, silicone_colours=_colours(text, series))),
        "asked": lambda: replace(series, responses=(series.responses[0], *_responses(text, series.responses[0][0]))),
    }
    return special[part]()


def _texted(series: Series, part: str, text: str) -> Series:
    if not text.strip():
        raise DribbetError(f"Say a name for: {TEXTS[part].lower()}.")
    return replace(series, constants=replace(series.constants, **{part: text.strip()[:40]}))


def _from_size(series: Series) -> Constants:
    """Paint per panel worked out from its size, its sides, the technique and the base."""
    arm = design.arms(replace(series, layout=Layout()))[0]
    density = 1.0 / sum(share / ROUGH_DENSITY.get(name, ROUGH_DENSITY["medium"]) for name, share in arm.parts.items()) * 1e3
    return replace(series.constants, poured_kg=round(amounts.suggested_poured_kg(series.constants, density), 4))


def _with_cup(series: Series, layers: tuple[Layer, ...]) -> Series:
    """Another cup; silicone stays only in colours that are still in it."""
    colours = {layer.material for layer in layers}
    kept = tuple(c for c in series.constants.silicone_colours if c in colours)
    if series.constants.silicone_colours and not kept:
        kept = (layers[0].material,)
    return replace(series, layers=layers, constants=replace(series.constants, silicone_colours=kept))


def _number(text: str, name: str, kind: str, units: Units) -> float:
    try:
        if kind == MASS:
            return units.mass_kg(text)
        if kind == LENGTH:
            return units.length_mm(text) / 1e3
        value = figure(
            text.strip().replace(",", ".").removesuffix("%").removesuffix("s").removesuffix("h").removesuffix("°C").removesuffix("°F").strip()
        )
    except ValueError:
        raise DribbetError(f"“{text}” is no number. Type a figure for: {name.lower()}.") from None
    if kind == CELSIUS and units.temperature == "°F":
        value = (value - 32.0) * 5.0 / 9.0
    if kind == CELSIUS and not -5.0 <= value <= 50.0:
        raise DribbetError(f"A room of {value:g} °C is no room to pour in. Type its temperature.")
    if kind in (SECONDS, PLAIN, HOURS) and not 0.0 <= value <= 36_000.0:
        raise DribbetError(f"{value:g} is out of reach for: {name.lower()}. Type zero or more.")
    return value / 100.0 if kind == SHARE else value * 3600.0 if kind == HOURS else value


def _sized(held: Constants, text: str, units: Units) -> Constants:
    """Another panel; the paint for it grows with its face."""
    try:
        width, height = (units.length_mm(v) for v in text.lower().replace("×", "x").split("x"))
    except ValueError:
        raise DribbetError(f"“{text}” is no panel size. Type width x height, such as 200 x 150.") from None
    if not 20.0 <= min(width, height) <= max(width, height) <= 3000.0:
        raise DribbetError("A panel is 20 to 3000 mm wide and high.")
    grown = width * height / (held.panel_width_m * held.panel_height_m * 1e6)
    return replace(held, panel_width_m=width / 1e3, panel_height_m=height / 1e3, poured_kg=round(held.poured_kg * grown, 4))


def _named(text: str) -> str:
    if not text.strip():
        raise DribbetError("Say what the panel is made of, such as birch ply or glazed tile.")
    return text.strip()[:40]


def _layers(text: str, paints: Sequence[str]) -> tuple[Layer, ...]:
    known = {p.lower(): p for p in paints}
    parts: list[tuple[str, float]] = []
    for piece in (v.strip() for v in text.split(",") if v.strip()):
        name, _, parts_said = piece.rpartition(" ")
        try:
            share = figure(parts_said.removesuffix("%"))
        except ValueError:
            name, share = piece, 1.0
        if name.strip().lower() not in known:
            raise DribbetError(f"“{name.strip() or piece}” is not a paint on the shelf. There are {', '.join(paints)}.")
        if not 0.0 < share <= 1e4:
            raise DribbetError(f"{name.strip()} has {share:g} parts. Give each layer parts above zero, such as foam 40, teal 25.")
        parts.append((known[name.strip().lower()], share))
    total = sum(share for _, share in parts)
    if not 1 <= len(parts) <= 12:
        raise DribbetError("A cup has one to twelve layers. Type them from below, such as foam 40, teal 25, slate 10.")
    return tuple(Layer(material=name, share=share / total) for name, share in parts)


def _colours(text: str, series: Series) -> tuple[str, ...]:
    cup = {layer.material.lower(): layer.material for layer in series.layers}
    words = [w.strip().lower() for w in text.split(",") if w.strip() and w.strip().lower() != "none"]
    strange = [w for w in words if w not in cup]
    if strange:
        raise DribbetError(f"“{strange[0]}” is not in the cup. There are {', '.join(dict.fromkeys(cup.values()))}.")
    return tuple(dict.fromkeys(cup[w] for w in words))


def _responses(text: str, first: Response) -> tuple[tuple[Response, Wanted], ...]:
    found: dict[Response, Wanted] = {}
    for piece in (v.strip().lower() for v in text.split(",") if v.strip() and v.strip().lower() != "nothing else"):
        name, _, way = piece.rpartition(" ")
        if way not in tuple(Wanted):
            name, way = piece, str(Wanted.MORE)
        response = next((r for r in Response if str(r) == name), None)
        if response is None:
            raise DribbetError(f"“{name}” cannot be measured. Type some of {', '.join(Response)}, each with more or less.")
        if response is not first:
            found[response] = Wanted(way)
    if len(found) > 5:
        raise DribbetError("Ask at most six things of one test: each more widens every interval.")
    return tuple(found.items())
