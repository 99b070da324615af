"""What became of each colour: how much of it was poured, and how much of the dried film shows it (domain: fate of each colour)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.sight.swatches import alike, given

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


@dataclass(frozen=True, slots=True, kw_only=True)
class Fate:
    """One colour of a cup, or several that a photograph cannot tell apart."""

    paints: tuple[str, ...]
    hex: str
    poured: float
    """Share of what was poured, by mass."""
    shows: float
    """Share of the film's face."""

    @property
    def survival(self) -> float:
        """Share of the view for each share of the pour: 1 where it shows as much as was poured, 0 where it is gone."""
        return self.shows / self.poured


@dataclass(frozen=True, slots=True, kw_only=True)
class Fates:
    """All colours of a panel, as they lie in the cup from below, and the share of the film that is none of them: blends."""

    of: tuple[Fate, ...]
    blended: float


def fates(desk: Desk, run: Run, panel: Panel) -> Fates | None:
    """What became of the colours of a panel; None before it was read, or where no paint of its cup has a swatch."""
    reading, arm = run.reading(panel), run.arm(panel)
    told = [(s["hex"], float(s["share"])) for s in (reading.result if reading else {}).get("colour", {}).get("shares", [])]
    swatch = {m.key: m.hex for m in desk.shelf() if m.hex}
    poured: dict[str, float] = {}
    for layer in arm.layers:
        poured[layer.material] = poured.get(layer.material, 0.0) + layer.share
    paints = {name: swatch[name] for name in poured if name in swatch}
    if not told or not paints:
        return None
    shows, whole, seen = given(told, paints), sum(poured.values()), sum(share for _, share in told)
    if whole <= 0.0 or seen <= 0.0:
        return None
    of = tuple(
        Fate(
            paints=tuple(group), hex=paints[max(group, key=poured.__getitem__)], poured=sum(poured[n] for n in group) / whole,
            shows=sum(shows[n] for n in group) / seen,
        )
        for group in alike(paints)
        if any(poured[n] > 0.0 for n in group)
    )  # fmt: skip
    return Fates(of=of, blended=max(1.0 - sum(f.shows for f in of), 0.0))
