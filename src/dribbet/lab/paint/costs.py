"""What a mix, a panel and the paint poured off cost; pack sizes, and life of what is dear (domain: cost)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.lab.cup import house_mix
from dribbet.lab.paint import measures
from dribbet.records import WATER, DribbetError, Pack

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.records import Gauging, Material


def pack_price_per_kg(pack: Pack) -> float:
    """Price of a kilogram from a pack, delivery included."""
    return (pack.price + pack.delivery) / pack.content_kg


def price_per_kg(material: Material, shelf: Sequence[Material] = ()) -> float:
    """Price of a kilogram: what was entered, else its dearest pack, else what a house mix is made of."""
    if material.price_per_kg > 0.0:
        return material.price_per_kg
    if material.packs:
        return max(pack_price_per_kg(p) for p in material.packs)
    if material.made_of:
        raws = house_mix.raw({material.key: 1.0}, shelf)
        known = {m.key: m for m in shelf}
        return math.fsum(share * price_per_kg(known[n]) for n, share in raws.items() if n in known and not known[n].made_of)
    return 0.0


def of_amounts(amounts_kg: Mapping[str, float], shelf: Sequence[Material]) -> float:
    """Money for what was weighed in."""
    known = {m.key: m for m in shelf}
    return math.fsum(kg * price_per_kg(known[n], shelf) for n, kg in amounts_kg.items() if n in known)


def unpriced(amounts_kg: Mapping[str, float], shelf: Sequence[Material]) -> list[str]:
    """What was used but has no price: the sum leaves it out, and says so. Water from the tap counts as free."""
    known = {m.key: m for m in shelf}
    return [n for n in amounts_kg if n != WATER and (n not in known or not price_per_kg(known[n], shelf) > 0.0)]


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelCost:
    """What one panel cost, and where the money is now."""

    mixed: float
    on_panel: float
    kept: float
    lost: float

    @property
    def lost_share(self) -> float:
        """Share of the money that was poured off."""
        return self.lost / self.mixed if self.mixed > 0.0 else 0.0


def of_panel(per_kg: float, *, mixed_kg: float, on_panel_kg: float | None, kept_kg: float = 0.0) -> PanelCost:
    """Mixed less what lies on the panel less what was kept is lost.

    Raises
    ------
    DribbetError
        If more is on the panel than was mixed.
    """
    on = on_panel_kg or 0.0
    lost = mixed_kg - on - kept_kg
    if lost < -1e-6:
        raise DribbetError(
            f"{(on + kept_kg) * 1e3:.1f} g lie on the panel or were kept, but only {mixed_kg * 1e3:.1f} g were mixed. Weigh the panel again."
        )
    return PanelCost(mixed=mixed_kg * per_kg, on_panel=on * per_kg, kept=kept_kg * per_kg, lost=max(lost, 0.0) * per_kg)


@dataclass(frozen=True, slots=True, kw_only=True)
class PackWorth:
    """A pack against what it gives."""

    pack: Pack
    per_kg: float


def packs_of(material: Material) -> list[PackWorth]:
    """Packs of a material, cheapest by the kilogram first."""
    return sorted((PackWorth(pack=pack, per_kg=pack_price_per_kg(pack)) for pack in material.packs), key=lambda p: p.per_kg)


def break_even_kg(small: Pack, large: Pack) -> float | None:
    """Amount beyond which the large pack costs less in sum, bought once, than small ones by need; None where it never does."""
    per_small = pack_price_per_kg(small)
    needed = (large.price + large.delivery) / per_small
    return needed if needed < large.content_kg else None


def drops_left(material: Material, gaugings: Sequence[Gauging] = ()) -> int:
    """Drops that the stock still gives."""
    return int(material.stock_kg / measures.one("drop", material, gaugings).kg)


def pours_left(material: Material, per_pour_kg: float) -> int | None:
    """Pours that the stock still gives at so much a pour; None where a pour takes nothing of it."""
    return int(material.stock_kg / per_pour_kg) if per_pour_kg > 0.0 else None
