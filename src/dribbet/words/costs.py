"""What panels cost, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.words.units import percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.paint.costs import PanelCost


def panels(found: Sequence[tuple[str, PanelCost]]) -> str:
    """What a panel of each recipe cost; empty where nothing is known."""
    said = []
    for letter, cost in found:
        gone = f", {percent(cost.lost_share)} of it poured off" if cost.on_panel else ""
        said.append(f"{letter} {cost.mixed:.2f} a panel{gone}")
    return f"Paint cost: {'; '.join(said)}." if said else ""
