"""Stored mixes and leftovers: water lost, what to give back, what may be used where (science: evaporation; domain: stored mixes)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import house_mix, recipe
from dribbet.records import WATER, Bottle, BottleKind, DribbetError, order

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence
    from datetime import datetime

    from dribbet.records import BottleWeighing, Material

ALPHABET: Final = "ACDEFHJKLMNPRTUVWXY"  # letters that cannot be taken for a figure, or for each other
SPOILS_AFTER_D: Final = 120.0  # thinned acrylic keeps for months, not years; the label of the medium decides
WORTH_G: Final = 1e-3


@dataclass(frozen=True, slots=True, kw_only=True)
class Stand:
    """How a bottle stands now."""

    content_kg: float
    lost_kg: float
    """Water lost since it was capped or last topped up."""
    top_up_kg: float
    contents: dict[str, float]
    """Mass fractions now, the lost water missing."""
    unchecked: bool
    """Whether it must be checked before use: water was given back, or lost and not given back."""
    barred: str = ""
    """Why it may not go into a controlled run; empty where it may."""


def code_for(number: int) -> str:
    """Short code of a bottle: a letter and two figures, then a letter more; never mistaken when read aloud."""
    letter, rest = divmod(number, 90)
    lead = ALPHABET[letter % len(ALPHABET)]
    return f"{lead}{rest + 10}" if letter < len(ALPHABET) else f"{ALPHABET[(letter // len(ALPHABET) - 1) % len(ALPHABET)]}{lead}{rest + 10}"


def next_code(known: Iterable[str]) -> str:
    """First code that no bottle has."""
    taken = set(known)
    number = 0
    while (code := code_for(number)) in taken:
        number += 1
    return code


def stand(bottle: Bottle, weighings: Sequence[BottleWeighing] = ()) -> Stand:
    """What is in a bottle now, by its last weighing.

    Notes
    -----
    Weight lost since the bottle was capped is taken as water, never more than the water that was in it. Water given back
    makes the bottle whole again up to that point; paint taken out takes all components alike.
    """
    contents = {n: share * (bottle.stored_kg - bottle.empty_kg) for n, share in bottle.contents}
    gross = bottle.stored_kg
    lost_now, topped = 0.0, False
    for w in sorted((w for w in weighings if w.bottle_id == bottle.id and not w.taken_back), key=order):
        lost = recipe.water_lost_kg(gross, w.mass_kg, contents.get(WATER, 0.0) - lost_now)
        lost_now += lost
        gross = w.mass_kg
        if w.water_added_kg > 0.0:
            contents[WATER] = contents.get(WATER, 0.0) - lost_now + w.water_added_kg
            gross, lost_now, topped = gross + w.water_added_kg, 0.0, True
        if w.taken_out_kg > 0.0:
            whole = math.fsum(contents.values()) - lost_now
            keep = max(1.0 - w.taken_out_kg / whole, 0.0) if whole > 0.0 else 0.0
            contents = {n: kg * keep for n, kg in contents.items()}
            lost_now *= keep
            gross -= w.taken_out_kg
    if lost_now > 0.0:
        contents[WATER] = contents.get(WATER, 0.0) - lost_now
    total = math.fsum(contents.values())
    shares = {n: kg / total for n, kg in contents.items()} if total > 0.0 else dict(bottle.contents)
    return Stand(
        content_kg=total,
        lost_kg=lost_now,
        top_up_kg=lost_now if lost_now >= WORTH_G else 0.0,
        contents=shares,
        unchecked=topped or lost_now >= WORTH_G,
        barred=barred(bottle),
    )


def barred(bottle: Bottle) -> str:
    """Why a bottle may not go into a controlled run."""
    if bottle.kind is BottleKind.LEFTOVER:
        silicone = ", silicone included" if bottle.silicone else ""
        return f"{bottle.code} is a leftover{silicone}: its history is not that of your recipe. Use it for edges or free pours."
    return ""


def leftover(parts: Sequence[tuple[Mapping[str, float], float]], shelf: Sequence[Material]) -> tuple[dict[str, float], bool]:
    """Composition of a leftover pot from what was scraped together, and whether silicone is in it.

    Parameters
    ----------
    parts : sequence of (fractions, kilograms)
        Each scrap's mass fractions and how much of it went into the pot.

    Raises
    ------
    DribbetError
        If nothing was put in.
    """
    total = math.fsum(kg for _, kg in parts)
    if not total > 0.0:
        raise DribbetError("Nothing is in the leftover pot. Weigh what you scrape into it.")
    held: dict[str, float] = {}
    for fractions, kg in parts:
        for name, share in house_mix.raw(fractions, shelf).items():
            held[name] = held.get(name, 0.0) + share * kg
    oils = {m.key for m in shelf if m.wash_off}
    return {n: kg / total for n, kg in held.items()}, any(held.get(n, 0.0) > 0.0 for n in oils)


def use_first(bottles: Sequence[Bottle], now: datetime) -> list[tuple[Bottle, float]]:
    """Bottles that still hold something with their age in days, oldest first."""
    return sorted(((b, (now - b.stored_at).total_seconds() / 86400.0) for b in bottles if not b.finished), key=lambda x: -x[1])


def label_lines(bottle: Bottle, made_of: str) -> list[str]:
    """What the label says, most important first."""
    flags = [w for w, so in (("SILICONE", bottle.silicone), ("ACTIVATOR", bottle.activator), ("LEFTOVER", bottle.kind is BottleKind.LEFTOVER)) if so]
    return [bottle.name, *flags, f"{bottle.stored_at:%d %B %Y}", made_of]
