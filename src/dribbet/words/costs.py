"""What panels cost, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.words.tongue import t
from dribbet.words.units import percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.paint.costs import PanelCost


def panels(found: Sequence[tuple[str, PanelCost]]) -> str:
    """What a panel of each recipe cost; empty where nothing is known."""
    said = []
    for letter, cost in found:
        gone = t(", {share} of it poured off", share=percent(cost.lost_share)) if cost.on_panel else ""
        said.append(t("{letter} {mixed:.2f} a panel{gone}", letter=letter, mixed=cost.mixed, gone=gone))
    return t("Paint cost: {names}.", names="; ".join(said)) if said else ""
