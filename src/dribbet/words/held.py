"""What is held, as numbers: each constant as words to show, as text to type, and what was typed as facts again."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.dosing import mg_per_100g
from dribbet.lab.cup.recipe import final_alcohol_share
from dribbet.lab.panel import pouring
from dribbet.lab.plan.factors import blend
from dribbet.records import (
    BasePlan,
    Constants,
    Does,
    Doing,
    DribbetError,
    Equal,
    Factor,
    Figure,
    Layer,
    Outline,
    Response,
    Series,
    Step,
    Wanted,
)
from dribbet.words.pour import ASKED, STEPS, figure_text, typed_figure
from dribbet.words.tongue import n, name, t
from dribbet.words.units import NARROW, Units, dose_text, figure, percent

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.records import Constants, Figure
    from dribbet.words.levels import Names

MASS, LENGTH, SHARE, PLAIN, SECONDS, CELSIUS, HOURS = "mass", "length", "share", "plain", "seconds", "celsius", "hours"
NUMBERS: Final = {  # part: (words, field, kind)
    "poured": ("Paint per panel", "poured_kg", MASS),
    "dwell": ("Rest under the cup", "dwell_s", SECONDS),
    "tilt": ("Tilting takes", "tilt_s", SECONDS),
    "torch": ("Passes of the torch", "torch_passes", PLAIN),
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
    "base_craze": ("Additive in the base", "base_craze_share", SHARE),
    "rounds": ("Layers are repeated", "rounds", PLAIN),
    "activator_kg": ("Activator per panel", "activator_kg", MASS),
    "heat_after": ("First heat after", "heat_after_s", SECONDS),
    "grow": ("Wait before the stretch", "grow_s", SECONDS),
    "second": ("Passes of a second heat", "second_passes", PLAIN),
    "rest": ("The mix rests", "rest_s", HOURS),
    "loss": ("Stays in the cup", "cup_loss", SHARE),
    "reserve": ("Reserve", "reserve", SHARE),
    "room": ("Room", "room_c", CELSIUS),
    "damp": ("Damp of the air", "room_rh", SHARE),
}
DOING: Final = "do:"
"""Begins the part of a step's figure: do:blow/distance."""
CHOICES: Final = {
    "technique": "Way to pour",
    "medium": "Medium",
    "base_plan": "Base",
    "outline": "Shape",
    "base": "Base is of",
    "third_liquid": "Thinner",
    "drops_by": "Where drops do not come out whole",
    "thinned": "Water goes in",
}
TEXTS: Final = {
    "finish": "Finish of the paint",
    "base_sheen": "Sheen of the base",
    "activator": "Activator",
    "silicone": "Silicone",
    "anti_craze": "Anti-craze additive is",
    "water_source": "Water is from (nothing: as Bench rules say)",
}
LISTS: Final = {"cup": "Cup, from below", "silicone_in": "Colours that get silicone", "asked": "Also measured"}


def in_short(series: Series, units: Units) -> str:
    """What is held, in a line under the rack: paint, panel, doing, recipe, base, room; without what is tested."""
    c, tested = series.constants, {v.factor for v in series.varied}
    size = units.size_text(c.panel_width_m * 1e3, c.panel_height_m * 1e3)
    said = [
        t("{mass} a panel", mass=units.mass_text(c.poured_kg)),
        t("{size} round {support}", size=size, support=c.support) if c.outline is Outline.ROUND else f"{size} {c.support}",
    ]
    if Factor.TECHNIQUE not in tested:
        said.append(
            t("{technique}, {rest_s:.0f} s rest, tilt {tilt_s:.0f} s", technique=c.way or name(c.technique), rest_s=c.dwell_s, tilt_s=c.tilt_s)
        )
    said += [t("recipes as on the rack")] if series.equal is Equal.OWN else _recipe_in_short(c, tested, units)
    if Factor.SILICONE not in tested:
        dose = c.silicone_drops_per_100g
        said.append(dose_text(dose, c.drop_kg, units.called(c.silicone)) if dose else t("no silicone"))
    if c.base_plan is not BasePlan.NONE and Factor.BASE not in tested:
        brought = tested & {Factor.BASE_PAINT, Factor.BASE_SHEEN}
        said.append(name(c.base_plan) if brought else t("{plan} of {base}", plan=c.base_plan, base=units.called(c.base)))
    if c.activator != "none" and Factor.ACTIVATOR not in tested:
        said.append(t("{mass} {activator}", mass=units.mass_text(c.activator_kg), activator=units.called(c.activator)))
    if Factor.HEAT not in tested:
        said.append(n("torch {passes} time", "torch {passes} times", c.torch_passes, passes=c.torch_passes) if c.torch_passes else t("no flame"))
    said.append(t("room {room}, {damp} damp", room=units.temperature_text(c.room_c), damp=percent(c.room_rh)))
    return "; ".join(said) + "."


def _recipe_in_short(c: Constants, tested: set[Factor], units: Units) -> list[str]:
    said = []
    if Factor.RATIO not in tested:
        medium = t("medium") if Factor.MEDIUM in tested else units.called(c.medium)
        said.append(t("1 paint : {parts:.3g} {medium}", parts=c.medium_parts, medium=medium))
    if Factor.WATER_SHARE not in tested and not c.grade:
        thinner = t("third liquid") if Factor.THIRD_LIQUID in tested else units.called(c.third_liquid)
        said.append(t("{share} {thinner}", share=percent(c.water_share), thinner=thinner))
    return said


def doing_part(step: Step, does: Does) -> str:
    """Part of a step's figure."""
    return f"{DOING}{step.value}/{does.value}"


def _doing(part: str) -> tuple[Step, Does]:
    step, _, does = part.removeprefix(DOING).partition("/")
    return Step(step), Does(does)


def doing(part: str, text: str, units: Units) -> Doing:
    """A figure of a step from what was typed."""
    step, does = _doing(part)
    return Doing(step=step, figure=typed_figure(does, text, units))


def said_of(series: Series, part: str, units: Units) -> tuple[str, str]:
    """What one constant is called, and what it is now: ('Paint per panel', '68.0 g')."""
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
        if part == "drops" and value:
            shown += f" ({mg_per_100g(value, held.drop_kg):.0f}{NARROW}mg)"
        if part == "alcohol" and value:
            shown = t("{share}, {pure} pure alcohol", share=shown, pure=percent(final_alcohol_share(value, held.alcohol_strength), 1))
        return name, shown
    if part.startswith(DOING):
        step, does = _doing(part)
        known = _planned(held, step, does)
        return f"{STEPS[step].name}, {ASKED[does]}", figure_text(known, units) if known is not None else "not said"
    if part == "size_mm":
        return "Panel", units.size_text(held.panel_width_m * 1e3, held.panel_height_m * 1e3)
    if part == "support":
        return "Panel is made of", held.support
    if part == "from_size":
        return "Work the paint out from the size", t("now {mass}", mass=units.mass_text(held.poured_kg))
    if part == "strip":
        return "Strip left out along borders", units.length_text(series.layout.strip_m * 1e3, 0)
    if part in TEXTS:
        return TEXTS[part], units.called(getattr(held, part)) or "not said"
    if part == "technique" and held.way:
        return CHOICES[part], held.way
    if part in CHOICES:
        return CHOICES[part], units.called(str(getattr(held, part)))
    if part == "ratio":
        return "Recipe, paint : medium", " : ".join(typed_of(series, part, units).split(":"))
    if part == "colour_parts":
        return "Colours with a ratio of their own", typed_of(series, part, units) or "none"
    return LISTS[part], typed_of(series, part, units)


def _planned(held: Constants, step: Step, does: Does) -> Figure | None:
    plan = next((p for p in pouring.planned(held) if p.step is step), None)
    return plan.figure(does) if plan is not None else None


def typed_of(series: Series, part: str, units: Units) -> str:
    """One constant as the person would type it."""
    held = series.constants
    if part.startswith(DOING):
        step, does = _doing(part)
        known = _planned(held, step, does)
        return "" if known is None else figure_text(known, units).split(NARROW)[0]
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
        return units.called(str(getattr(held, part)))
    if part == "ratio":
        each = blend(held.medium)
        return ":".join(["1", *(f"{held.medium_parts * share:.4g} {units.called(name)}" for name, share in each.items())])
    if part == "colour_parts":
        return ", ".join(f"{units.called(colour)} 1:{parts:.4g}" for colour, parts in held.colour_parts)
    if part == "cup":
        return ", ".join(f"{units.called(layer.material)} {layer.share * 100:g}" for layer in series.layers)
    if part == "silicone_in":
        return ", ".join(units.called(c) for c in held.silicone_colours) or "none"
    return ", ".join(f"{name(response)} {name(wanted)}" for response, wanted in series.responses[1:]) or "nothing else"


# ---------------------------------------------------------------- what was typed


def number(part: str, text: str, units: Units) -> float:
    """Figure of one constant, in SI."""
    name, _, kind = NUMBERS[part]
    return _number(text, name, kind, units)


def strip_m(text: str, units: Units) -> float:
    """Width of the strip along borders."""
    return _number(text, "Strip", LENGTH, units)


def named(part: str, text: str) -> str:
    """A name that was typed for a constant."""
    if not text.strip() and part != "water_source":
        raise DribbetError(t("Say a name for: {texts}.", texts=TEXTS[part].lower()))
    return text.strip()[:80]


def support(text: str) -> str:
    """What the panel is made of."""
    if not text.strip():
        raise DribbetError("Say what the panel is made of, such as birch ply or glazed tile.")
    return text.strip()[:40]


def size_m(text: str, units: Units) -> tuple[float, float]:
    """Width and height of a panel."""
    try:
        width, height = (units.length_mm(v) for v in text.lower().replace("×", "x").split("x"))
    except ValueError:
        raise DribbetError(t("“{text}” is no panel size. Type width x height, such as 200 x 150.", text=text)) from None
    if not 20.0 <= min(width, height) <= max(width, height) <= 3000.0:
        raise DribbetError("A panel is 20 to 3000 mm wide and high.")
    return width / 1e3, height / 1e3


def recipe(text: str, series: Series, names: Names, densities: Mapping[str, float]) -> dict[str, object]:
    """A ratio as constants: 2, or 1:2, or 1 : 2 conditioner : 1 glue; by volume where that is said behind it.

    By volume, each colour gets parts of its own by weight: a heavy paint fewer, a light one more.
    """
    by_volume = bool(re.search(r"\bvol(ume)?\b\.?", text.lower()))
    plain = re.sub(r"\b(by\s+)?(vol(ume)?|weight|mass)\b\.?", "", text, flags=re.IGNORECASE)
    pieces = [p.strip() for p in plain.split(":")]
    pieces = pieces if len(pieces) > 1 else ["1", *pieces]
    parts: list[float] = []
    mediums: list[str] = []
    for i, piece in enumerate(pieces):
        figures, _, word = piece.partition(" ")
        try:
            parts.append(figure(figures))
        except ValueError:
            raise DribbetError(t("“{text}” is no recipe. Type paint : medium, such as 1:2, or 1 : 2 conditioner : 1 glue.", text=text)) from None
        if i and word.strip():
            key = names.key(word)
            if key is None or key not in names.mediums:
                raise DribbetError(
                    t("“{word}” is not a medium on the shelf. There are {names}.", word=word.strip(), names=", ".join(names.said_mediums))
                )
            mediums.append(key)
    paint, *rest = parts
    if not (paint > 0.0 and all(p >= 0.0 for p in rest) and sum(rest) / paint <= 20.0):
        raise DribbetError(t("“{text}” is no recipe that pours. Type paint : medium, such as 1:2; at most 20 parts of medium.", text=text))
    if len(rest) > 1 and len(mediums) != len(rest):
        raise DribbetError("Name each medium of the recipe, such as 1 : 2 conditioner : 1 glue.")
    held = series.constants
    share_of = dict(zip(mediums, rest, strict=True)) if mediums else {name: sum(rest) * s for name, s in blend(held.medium).items()}
    weigh = {n: p * (densities.get(n, USUAL_KG_M3) if by_volume else 1.0) for n, p in share_of.items()}
    total = sum(weigh.values())
    fields: dict[str, object] = {"medium_parts": total / paint, "colour_parts": ()}
    if mediums:
        fields["medium"] = mediums[0] if len(mediums) == 1 else " + ".join(f"{n} {kg / total * 100:.6g}" for n, kg in weigh.items() if kg > 0.0)
    if by_volume:
        each = {layer.material: total / (paint * densities.get(layer.material, USUAL_PAINT_KG_M3)) for layer in series.layers}
        fields["colour_parts"] = tuple(each.items())
        fields["medium_parts"] = sum(each.values()) / len(each)
    return fields


USUAL_KG_M3: Final = 1050.0  # a medium before it was weighed
USUAL_PAINT_KG_M3: Final = 1200.0


def ratios(text: str, series: Series, names: Names) -> tuple[tuple[str, float], ...]:
    """Colours with parts of their own: teal 1:1.5, slate 1:3; nothing for none."""
    made: dict[str, float] = {}
    cup = {layer.material for layer in series.layers}
    for piece in (v.strip() for v in text.split(",") if v.strip() and v.strip().lower() != "none"):
        word, _, ratio = piece.rpartition(" ")
        key = names.key(word)
        if key not in cup:
            raise DribbetError(t("“{word}” is not in the cup. Type a colour and its ratio, such as teal 1:1.5.", word=word or piece))
        paint, colon, medium = ratio.partition(":")
        try:
            value = figure(medium) / figure(paint) if colon else figure(ratio)
        except (ValueError, ZeroDivisionError):
            raise DribbetError(t("“{ratio}” is no ratio. Type paint : medium, such as 1:1.5.", ratio=ratio)) from None
        if not 0.0 <= value <= 20.0:
            raise DribbetError(t("{value:g} parts of medium to one of paint are out of reach. Type 0 to 20.", value=value))
        made[str(key)] = value
    return tuple(made.items())


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
        raise DribbetError(t("“{text}” is no number. Type a figure for: {name}.", text=text, name=name.lower())) from None
    if kind == CELSIUS and units.temperature == "°F":
        value = (value - 32.0) * 5.0 / 9.0
    if kind == CELSIUS and not -5.0 <= value <= 50.0:
        raise DribbetError(t("A room of {value:g} °C is no room to pour in. Type its temperature.", value=value))
    if kind in (SECONDS, PLAIN, HOURS) and not 0.0 <= value <= 36_000.0:
        raise DribbetError(t("{value:g} is out of reach for: {name}. Type zero or more.", value=value, name=name.lower()))
    return value / 100.0 if kind == SHARE else value * 3600.0 if kind == HOURS else value


def layers(text: str, names: Names) -> tuple[Layer, ...]:
    """Layers of a cup from below, each with its parts: foam 40, teal 25, slate 10."""
    parts: list[tuple[str, float]] = []
    for piece in (v.strip() for v in text.split(",") if v.strip()):
        name, _, parts_said = piece.rpartition(" ")
        try:
            share = figure(parts_said.removesuffix("%"))
        except ValueError:
            name, share = piece, 1.0
        key = names.key(name)
        if key is None or key not in names.paints:
            raise DribbetError(
                t("“{word}” is not a paint on the shelf. There are {names}.", word=name.strip() or piece, names=", ".join(names.said_paints))
            )
        if not 0.0 < share <= 1e4:
            raise DribbetError(
                t("{colour} has {share:g} parts. Give each layer parts above zero, such as foam 40, teal 25.", colour=name.strip(), share=share)
            )
        parts.append((key, share))
    total = sum(share for _, share in parts)
    if not 1 <= len(parts) <= 36:
        raise DribbetError("A cup has 1 to 36 layers. Type them from below, such as foam 40, teal 25, slate 10.")
    return tuple(Layer(material=name, share=share / total) for name, share in parts)


def colours(text: str, series: Series, names: Names) -> tuple[str, ...]:
    """Colours of the cup, each once."""
    cup = list(dict.fromkeys(layer.material for layer in series.layers))
    words = [w.strip() for w in text.split(",") if w.strip() and w.strip().lower() != "none"]
    keys = [names.key(w) for w in words]
    strange = next((w for w, key in zip(words, keys, strict=True) if key not in cup), None)
    if strange is not None:
        told = dict(names.called)
        raise DribbetError(t("“{strange}” is not in the cup. There are {names}.", strange=strange, names=", ".join(told.get(c, c) for c in cup)))
    return tuple(dict.fromkeys(str(key) for key in keys))


def responses(text: str, first: Response) -> tuple[tuple[Response, Wanted], ...]:
    """What else is measured: cell count more, spread less."""
    found: dict[Response, Wanted] = {}
    for piece in (v.strip().lower() for v in text.split(",") if v.strip() and v.strip().lower() != "nothing else"):
        name, _, way = piece.rpartition(" ")
        if way not in tuple(Wanted):
            name, way = piece, str(Wanted.MORE)
        response = next((r for r in Response if str(r) == name), None)
        if response is None:
            raise DribbetError(t("“{name}” cannot be measured. Type some of {names}, each with more or less.", name=name, names=", ".join(Response)))
        if response is not first:
            found[response] = Wanted(way)
    return tuple(found.items())
