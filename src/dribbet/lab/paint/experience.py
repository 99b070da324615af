"""What a person's own panels say about a container: means of what was measured on panels that hold it, with their number."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import fmean
from typing import TYPE_CHECKING, Final

from dribbet.records import SIGNS, Response

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

    from dribbet.records import MishapKind

TOLD: Final = (Response.CELL_COUNT, Response.CRACK_LENGTH, Response.VIVIDNESS)
COUNTS_FROM: Final = 0.02  # share of a cup from which a material has a say in a panel


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelSeen:
    """One panel: what was in its cup by mass share, and what was measured."""

    cup: Mapping[str, float]
    values: Mapping[Response, float]
    unlike_sheen: bool | None = None
    """Whether neighbours in the cup differ in sheen; None where not all sheens are known."""
    signs: frozenset[MishapKind] = frozenset()
    """How it ran while it was poured."""
    mound_s: float | None = None
    """How long the mounds of its cups held, the mean."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Experience:
    """Means over the panels that hold a material, and over those that do not."""

    panels: int
    means: dict[Response, float]
    others: dict[Response, float]
    """The same for the panels without it; empty where there is none."""


def of_material(names: Iterable[str], seen: Iterable[PanelSeen], least: float = COUNTS_FROM) -> Experience:
    """Experience with a material, or with several (all of one grade): any of the names counts."""
    wanted = frozenset(names)
    with_it: list[PanelSeen] = []
    without: list[PanelSeen] = []
    for panel in seen:
        share = sum(panel.cup.get(n, 0.0) for n in wanted)
        (with_it if share >= least else without).append(panel)
    return Experience(panels=len(with_it), means=_means(with_it), others=_means(without))


def by_sheen(seen: Iterable[PanelSeen]) -> tuple[Experience, Experience]:
    """Panels whose cup had neighbours of unlike sheen, and those whose neighbours were all alike."""
    panels = list(seen)
    unlike, alike = ([p for p in panels if p.unlike_sheen is so] for so in (True, False))
    return (
        Experience(panels=len(unlike), means=_means(unlike), others=_means(alike)),
        Experience(panels=len(alike), means=_means(alike), others=_means(unlike)),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class SignSeen:
    """A sign noted while pouring, against how long the mounds of those cups had held, and of all others."""

    sign: MishapKind
    panels: int
    mound_s: float
    others: int
    others_mound_s: float


def of_signs(seen: Iterable[PanelSeen]) -> list[SignSeen]:
    """Every sign that was noted, where its cups and others had been timed."""
    timed = [p for p in seen if p.mound_s is not None]
    found = []
    for sign in SIGNS:
        noted = [p.mound_s for p in timed if sign in p.signs and p.mound_s is not None]
        others = [p.mound_s for p in timed if sign not in p.signs and p.mound_s is not None]
        if noted and others:
            found.append(SignSeen(sign=sign, panels=len(noted), mound_s=fmean(noted), others=len(others), others_mound_s=fmean(others)))
    return found


def _means(panels: list[PanelSeen]) -> dict[Response, float]:
    found = {}
    for response in TOLD:
        values = [p.values[response] for p in panels if response in p.values]
        if values:
            found[response] = fmean(values)
    return found
