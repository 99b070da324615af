"""What a person's own panels say about a container: means of what was measured on panels that hold it, with their number."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import fmean
from typing import TYPE_CHECKING, Final

from dribbet.records import Response

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

TOLD: Final = (Response.CELL_COUNT, Response.CRACK_LENGTH, Response.VIVIDNESS)
COUNTS_FROM: Final = 0.02  # share of a cup from which a material has a say in a panel


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """One panel: what was in its cup by mass share, and what was measured."""

    cup: Mapping[str, float]
    values: Mapping[Response, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Experience:
    """Means over the panels that hold a material, and over those that do not."""

    panels: int
    means: dict[Response, float]
    others: dict[Response, float]
    """The same for the panels without it; empty where there is none."""


def of_material(names: Iterable[str], seen: Iterable[Seen], least: float = COUNTS_FROM) -> Experience:
    """Experience with a material, or with several (all of one grade): any of the names counts."""
    wanted = frozenset(names)
    with_it: list[Seen] = []
    without: list[Seen] = []
    for panel in seen:
        share = sum(panel.cup.get(n, 0.0) for n in wanted)
        (with_it if share >= least else without).append(panel)
    return Experience(panels=len(with_it), means=_means(with_it), others=_means(without))


def _means(panels: list[Seen]) -> dict[Response, float]:
    found = {}
    for response in TOLD:
        values = [p.values[response] for p in panels if response in p.values]
        if values:
            found[response] = fmean(values)
    return found
