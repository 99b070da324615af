"""What else differs between the recipes of a test besides its factor (domain: one factor, basis of comparison, confounds)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.records import Factor

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.design import Arm

SHARE_COUNTS_FROM: Final = 0.01  # paint share differing by a percent point counts as unequal
FLOW_COUNTS_FROM: Final = 1.25  # flow differing by more than the matching band counts as unequal
FILM_COUNTS_FROM_M: Final = 0.1e-3


@dataclass(frozen=True, slots=True, kw_only=True)
class Unequal:
    """A quantity that is not equal between recipes, from low to high, and the sentence that says so."""

    quantity: str
    low: float
    high: float
    sentence: str


def unequal(recipes: Sequence[Arm], factor: Factor, crossed: Factor | None = None) -> tuple[Unequal, ...]:
    """Compute what moves along with the factor: paint share, flow, film, water; in words."""
    tested = {factor, crossed}
    found = []
    paint = [a.paint_share for a in recipes]
    if max(paint) - min(paint) > SHARE_COUNTS_FROM:
        how = {
            Factor.WATER_SHARE: "More water also means less paint",
            Factor.ALCOHOL: "More alcohol also means less paint",
            Factor.RATIO: "More medium also means less paint",
        }.get(factor, "The recipes hold unlike shares of paint")
        found.append(
            Unequal(
                quantity="paint share",
                low=min(paint),
                high=max(paint),
                sentence=f"{how}: {max(paint) * 100:.0f} down to {min(paint) * 100:.0f}\u202f%. This test cannot tell which of the two did it.",
            )
        )
    flow = [1.0 / a.viscosity_pa_s for a in recipes]
    ratio = max(flow) / min(flow)
    if ratio > FLOW_COUNTS_FROM and not (tested == {Factor.SILICONE, None}):
        found.append(
            Unequal(
                quantity="flow",
                low=min(flow),
                high=max(flow),
                sentence=f"The thinnest recipe flows about {ratio:.1f} times as fast as the thickest.",
            )
        )
    if Factor.SILICONE in tested:
        drops = [a.silicone_drops_per_100g for a in recipes]
        if max(drops) > min(drops):
            found.append(
                Unequal(
                    quantity="thickness",
                    low=min(drops),
                    high=max(drops),
                    sentence="Silicone thickens its colour: check it again after the drops.",
                )
            )
    film = [a.film_m for a in recipes]
    if Factor.FILM_LEFT not in tested and max(film) - min(film) > FILM_COUNTS_FROM_M:
        found.append(
            Unequal(
                quantity="film",
                low=min(film),
                high=max(film),
                sentence=f"These ways of pouring leave {min(film) * 1e3:.1f} to {max(film) * 1e3:.1f} mm of film. Weigh every panel.",
            )
        )
    if Factor.MEDIUM in tested:
        found.append(
            Unequal(quantity="sheen", low=0.0, high=1.0, sentence="Mediums also differ in shine, which moves vividness and shimmer by itself.")
        )
    return tuple(found)
