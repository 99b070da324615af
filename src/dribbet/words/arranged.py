"""How cells lie to each other, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

from dribbet.words.tongue import n, t

if TYPE_CHECKING:
    from collections.abc import Mapping

WAYS: Final = (t("across"), t("up to the right"), t("up and down"), t("up to the left"))
OCTANT: Final = 45.0


def way(degrees: float) -> str:
    """A direction (0 to the right, 90 upwards, axes alike either way) as one of four."""
    return WAYS[round(degrees / OCTANT) % len(WAYS)]


def lie(told: Mapping[str, Any], drawn_out: float | None, gap: str) -> str:
    """Where cells lie: how far apart, in clusters, drawn out which way; `gap` is a length in words."""
    made = []
    if told.get("gap_mm") is not None:
        made.append(t("Half have their neighbour within {gap}.", gap=gap))
    if told.get("clusters"):
        made.append(
            n(
                "{count} cluster, up to {most} cells.",
                "{count} clusters, up to {most} cells.",
                told["clusters"],
                count=told["clusters"],
                most=told["largest_cluster"],
            )
        )
    if drawn_out is not None:
        made.append(t("They are drawn out {way}.", way=way(drawn_out)))
    return " ".join(made)
