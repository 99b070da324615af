"""House mixes opened up: every recipe that uses one is known by its raw components (domain: stock blends as ingredients)."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from dribbet.lab.cup.recipe import RecipeError
from dribbet.records import Kind
from dribbet.records.recipes import DEEPEST

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

    from dribbet.records import Material

TINTS = (Kind.PAINT, Kind.SHIMMER)


def raw(amounts: Mapping[str, float], shelf: Iterable[Material]) -> dict[str, float]:
    """Amounts of raw components, with house mixes opened at every depth.

    Parameters
    ----------
    amounts : mapping of name to mass
        In any unit; the result is in the same, and its sum is the same.
    shelf : iterable of Material
        Where `made_of` says what a house mix holds.

    Raises
    ------
    RecipeError
        If a house mix is, by way of others, made of itself.
    """
    known = {m.key: m for m in shelf if m.made_of}
    if not any(name in known for name in amounts):
        return dict(amounts)
    found: dict[str, float] = {}
    opened: dict[str, dict[str, float]] = {}
    for name, amount in amounts.items():
        for part, share in _opened(name, known, (), opened).items():
            found[part] = found.get(part, 0.0) + amount * share
    return found


def _opened(name: str, known: Mapping[str, Material], inside: tuple[str, ...], opened: dict[str, dict[str, float]]) -> dict[str, float]:
    """Raw shares of one material; each house mix is opened once, however many use it."""
    if name in inside:
        raise RecipeError(f"{inside[0]} is made of itself, by way of {name}. Correct what it is made of on the shelf.")
    if name in opened:
        return opened[name]
    if name not in known:
        return {name: 1.0}
    if len(inside) >= DEEPEST:
        raise RecipeError(f"{inside[0]} is made of mixes more than {DEEPEST} deep. Write the inner ones as what they are made of.")
    made_of = known[name].made_of
    total = math.fsum(kg for _, kg in made_of)
    found: dict[str, float] = {}
    for part, kg in made_of:
        for inner, share in _opened(part, known, (*inside, name), opened).items():
            found[inner] = found.get(inner, 0.0) + kg / total * share
    opened[name] = found
    return found


def tint_share(material: Material, shelf: Iterable[Material]) -> float:
    """Share of a house mix that is colour."""
    shelf = list(shelf)
    kinds = {m.key: m.kind for m in shelf}
    whole = raw({material.key: 1.0}, shelf)
    return math.fsum(share for name, share in whole.items() if kinds.get(name) in TINTS)
