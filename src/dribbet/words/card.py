"""The card of a container: its lines, and what to type for each."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import house_mix
from dribbet.records import Hazard, Kind
from dribbet.words import shelf as words
from dribbet.words.parts import CardLine
from dribbet.words.tongue import name, t
from dribbet.words.units import percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Material
    from dribbet.words.units import Units

NOT_SAID: Final = t("not said")


def _or(text: str, otherwise: str = NOT_SAID) -> str:
    return text or otherwise


def lines(m: Material, shelf: Sequence[Material], units: Units) -> list[CardLine]:
    """Everything on the card, in the order in which one would look."""
    price = t("{price:.2f} a kg", price=m.price_per_kg) if m.price_per_kg else NOT_SAID
    if m.packs:
        price += "; " + ", ".join(t("{price:.2f} for {mass}", price=p.price + p.delivery, mass=units.stock_text(p.content_kg)) for p in m.packs)
    made = [
        CardLine("name", t("Name"), m.name, t("another name")),
        CardLine("kind", t("Used as"), name(m.kind)),
        CardLine("hex", t("Colour"), m.hex, "#7FB3A8"),
        CardLine("lot", t("Lot"), _or(m.lot), t("lot of the new container")),
        CardLine("opened_at", t("Opened"), f"{m.opened_at:%d %b %Y}" if m.opened_at else NOT_SAID, t("today, or 2026-11-03")),
        CardLine("stock_kg", t("Left"), units.stock_text(m.stock_kg), t("what is left, weighed")),
        CardLine("full_kg", t("When full"), units.stock_text(m.full_kg), t("what it holds when full")),
        CardLine("price", t("Price"), price, t("12.50 for 250 (+ 3)")),
        CardLine("density", t("Density"), words.DENSITY_IS(g_per_ml=m.density_kg_m3 / 1000), t("grams of one mL")),
        CardLine("volume_solids", t("Dries to"), percent(m.volume_solids), t("percent of its wet volume")),
        CardLine("opacity", t("Hides"), name(m.opacity)),
        CardLine("sheen", t("Dries"), _or(name(m.sheen) if m.sheen else "")),
        CardLine("grade", t("Grade"), _or(name(m.grade) if m.grade else "")),
        CardLine("form", t("Comes as"), _or(name(m.form) if m.form else "")),
        CardLine("levels", t("Levels"), _or(name(m.levels) if m.levels else "")),
        CardLine("neutral_ph", t("Neutral pH (label)"), {None: NOT_SAID, True: t("yes"), False: t("no")}[m.neutral_ph]),
        CardLine("variant", t("Variant"), _or(m.variant), t("national or other variant")),
        CardLine("smallest_share", t("Shows from"), percent(m.smallest_share) if m.smallest_share else t("not known"), t("percent of the wet mix")),
        CardLine("alcohol_share", t("Alcohol"), percent(m.alcohol_share) if m.alcohol_share else t("none"), t("percent on the label")),
        CardLine("wash_off", words.MUST_BE_WASHED_OFF, t("yes") if m.wash_off else t("no")),
        CardLine("bakeable", words.MAY_BE_BAKED_LABEL, t("yes") if m.bakeable else t("no")),
        *(CardLine(f"hazard {h}", t("Care: {hazard}", hazard=h), t("yes") if h in m.hazards else t("no")) for h in Hazard),
        CardLine("made_of", t("Made of"), _made_of(m, shelf, units) if m.made_of else t("bought"), t("glue 200, water 100 mL")),
        CardLine("strained_at", t("Strained"), f"{m.strained_at:%d %b %Y}" if m.strained_at else NOT_SAID, t("today, or 2026-11-03")),
        CardLine("note", t("Note"), _or(m.note, t("none")), t("anything worth keeping")),
    ]
    hidden = {"smallest_share"} if m.kind not in (Kind.SHIMMER, Kind.MEDIUM) else set()
    hidden |= {"alcohol_share"} if m.kind is not Kind.THINNER else set()
    hidden |= {"strained_at", "variant", "levels", "neutral_ph"} if m.kind not in (Kind.MEDIUM, Kind.BASE, Kind.HOUSE_MIX) else set()
    hidden |= {"grade", "form"} if m.kind in (Kind.THINNER, Kind.HOUSE_MIX) else set()
    return [line for line in made if line.key not in hidden]


def _made_of(m: Material, shelf: Sequence[Material], units: Units) -> str:
    raw = house_mix.raw({m.key: 1.0}, shelf)
    tint = house_mix.tint_share(m, shelf)
    said = ", ".join(f"{units.called(n)} {percent(s)}" for n, s in raw.items())
    return t("{said}; {share} of it is colour", said=said, share=percent(tint)) if tint else said
