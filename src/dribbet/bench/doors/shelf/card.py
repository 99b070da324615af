"""The card of a container: its lines, and what typing or pressing one does. No widgets."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

from dribbet.lab.paint import measures
from dribbet.records import DribbetError, Form, Grade, Hazard, Kind, Levelling, Material, Opacity, Pack, Sheen
from dribbet.studio.acts.shelving import with_figures_of_its_parts
from dribbet.words import shelf as shelf_words
from dribbet.words.units import figure, units_of

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import datetime

    from dribbet.studio.desk import Desk


GOES_ROUND: Final[dict[str, tuple[object, ...]]] = {
    "kind": tuple(Kind),
    "opacity": tuple(Opacity),
    "sheen": tuple(Sheen),
    "grade": tuple(Grade),
    "form": tuple(Form),
    "levels": tuple(Levelling),
    "neutral_ph": (None, True, False),
    "wash_off": (False, True),
    "bakeable": (False, True),
}
HAZARD_KEYS: Final = {f"hazard {h}": h for h in Hazard}


def pressed(m: Material, key: str) -> Material:
    """The next value of a line that goes round.

    Raises
    ------
    DribbetError
        If the line asks for something typed.
    """
    if key in HAZARD_KEYS:
        h = HAZARD_KEYS[key]
        return replace(m, hazards=tuple(x for x in Hazard if (x in m.hazards) != (x is h)))
    if key not in GOES_ROUND:
        raise DribbetError(shelf_words.TYPE_THIS_ONE)
    values = GOES_ROUND[key]
    return replace(m, **{key: values[(values.index(getattr(m, key)) + 1) % len(values)]})  # type: ignore[arg-type]


def typed(m: Material, key: str, text: str, desk: Desk) -> Material:
    """A line with what was typed in it.

    Raises
    ------
    DribbetError
        If it cannot be that; the sentence says what to type.
    """
    reader = READERS.get(key)
    if reader is None:
        raise DribbetError(shelf_words.PRESS_TO_CHANGE)
    return reader(m, text.strip(), desk)


def _name(m: Material, text: str, desk: Desk) -> Material:
    if not text:
        raise DribbetError(shelf_words.NEEDS_A_NAME)
    if any(o.name.lower() == text.lower() and o.id != m.id for o in desk.shelf()):
        raise DribbetError(shelf_words.NAME_TAKEN(typed=text))
    if any(o.key.lower() == text.lower() and o.id != m.id for o in desk.shelf()):
        raise DribbetError(shelf_words.NAME_KNOWN_TO_RECIPES(typed=text))
    return replace(m, name=text[:80])


def _hex(m: Material, text: str, desk: Desk) -> Material:
    if not re.fullmatch(r"#[0-9A-Fa-f]{6}", text):
        raise DribbetError(shelf_words.NO_COLOUR(text=text))
    return replace(m, hex=text.upper())


def _lot(m: Material, text: str, desk: Desk) -> Material:
    """A new lot opens today, and asks for its measurements again."""
    if text == m.lot:
        return m
    return replace(m, lot=text[:40], lot_since=desk.now() if m.lot else m.lot_since, opened_at=desk.now())


def _day(name: str) -> Callable[[Material, str, Desk], Material]:
    def read(m: Material, text: str, desk: Desk) -> Material:
        return replace(m, **{name: _when(text, desk)})  # type: ignore[arg-type]

    return read


def _when(text: str, desk: Desk) -> datetime | None:
    from datetime import datetime

    if text.lower() in ("today", "now"):
        return desk.now()
    if not text:
        return None
    try:
        day = datetime.fromisoformat(text)
    except ValueError:
        raise DribbetError(shelf_words.NO_DAY(text=text)) from None
    return day.replace(tzinfo=desk.now().tzinfo)


def _kg(name: str) -> Callable[[Material, str, Desk], Material]:
    def read(m: Material, text: str, desk: Desk) -> Material:
        try:
            kg = units_of(desk).mass_kg(text)
        except ValueError:
            raise DribbetError(shelf_words.NO_WEIGHT(text=text)) from None
        put: dict[str, Any] = {name: kg}
        changed = replace(m, **put)
        return replace(changed, full_kg=max(changed.full_kg, changed.stock_kg))

    return read


def _share(name: str) -> Callable[[Material, str, Desk], Material]:
    def read(m: Material, text: str, desk: Desk) -> Material:
        put: dict[str, Any] = {name: _number(text.removesuffix("%"), shelf_words.LIKE_A_SHARE) / 100.0}
        return replace(m, **put)

    return read


def _number(text: str, like: str) -> float:
    try:
        return figure(text)
    except ValueError:
        raise DribbetError(shelf_words.NO_FIGURE(text=text, like=like)) from None


def _density(m: Material, text: str, desk: Desk) -> Material:
    grams = _number(text.removesuffix("g"), shelf_words.LIKE_A_DENSITY)
    if not 0.6 <= grams <= 3.0:
        raise DribbetError(shelf_words.NO_SUCH_DENSITY(grams=grams))
    return replace(m, density_kg_m3=grams * 1000.0)


PACK: Final = re.compile(r"^([\d.,]+)(?:\s*(?:for|/)\s*([\d.,]+)\s*(?:g|oz)?)?(?:\s*\(?\+\s*([\d.,]+)\)?)?$")


def _price(m: Material, text: str, desk: Desk) -> Material:
    """'12.50 for 250 (+ 3)' adds a pack; a bare figure is the price of a kilogram; nothing forgets all of it."""
    if not text:
        return replace(m, packs=(), price_per_kg=0.0)
    found = PACK.match(text)
    if found is None:
        raise DribbetError(shelf_words.NO_PRICE(text=text))
    price = _number(found.group(1), shelf_words.LIKE_A_PRICE)
    if found.group(2) is None:
        return replace(m, price_per_kg=price)
    pack = Pack(content_kg=units_of(desk).mass_kg(found.group(2)), price=price, delivery=_number(found.group(3) or "0", shelf_words.LIKE_DELIVERY))
    packs = (*(p for p in m.packs if p.content_kg != pack.content_kg), pack)
    return replace(m, packs=packs, price_per_kg=(pack.price + pack.delivery) / pack.content_kg)


AMOUNT: Final = re.compile(r"^(.*?)\s*([\d.,]+)\s*([a-zA-Z ]*)$")


def made_of(text: str, desk: Desk) -> tuple[tuple[str, float], ...]:
    """'glue 200, water 100 mL, belt silicone 3 drops' as names and kilograms, by the shelf's densities and the person's own measures.

    Raises
    ------
    DribbetError
        If a part has no amount, is not on the shelf, or is in a measure that is not known yet.
    """
    known = {m.name.lower(): m for m in desk.shelf()}
    parts = []
    for piece in re.split(r"[,;]\s+|\s\+\s|;", text):
        if not piece.strip():
            continue
        found = AMOUNT.match(piece.strip())
        if found is None or not found.group(1):
            raise DribbetError(shelf_words.NO_AMOUNT(part=piece.strip()))
        material = known.get(found.group(1).lower())
        if material is None:
            raise DribbetError(shelf_words.NOT_ON_THE_SHELF(group=found.group(1)))
        unit = measures.UNIT_WORDS.get(found.group(3).strip().lower())
        if unit is None:
            raise DribbetError(shelf_words.NO_MEASURE(typed=found.group(3).strip()))
        amount = _number(found.group(2), shelf_words.LIKE_AN_AMOUNT)
        parts.append((material.key, measures.to_kg(amount, unit or units_of(desk).mass, material, desk.gaugings())))
    return tuple(parts)


def _made(m: Material, text: str, desk: Desk) -> Material:
    if not text:
        return replace(m, made_of=(), made_at=None)
    changed = replace(m, made_of=made_of(text, desk), made_at=desk.now(), kind=Kind.HOUSE_MIX)
    return with_figures_of_its_parts(changed, desk.shelf())


READERS: Final[dict[str, Callable[[Material, str, Desk], Material]]] = {
    "name": _name,
    "hex": _hex,
    "lot": _lot,
    "opened_at": _day("opened_at"),
    "strained_at": _day("strained_at"),
    "stock_kg": _kg("stock_kg"),
    "full_kg": _kg("full_kg"),
    "price": _price,
    "density": _density,
    "volume_solids": _share("volume_solids"),
    "smallest_share": _share("smallest_share"),
    "alcohol_share": _share("alcohol_share"),
    "variant": lambda m, t, s: replace(m, variant=t[:40]),
    "note": lambda m, t, s: replace(m, note=t[:400]),
    "made_of": _made,
}
