"""How far the night moved a check, as one says it."""

from __future__ import annotations

from dribbet.words.tongue import t
from dribbet.words.units import NARROW

LEAST_SAID_S = 60.0


def moved_text(moved_s: float) -> str:
    """' (1 h later, by day)' behind a time; nothing where it was not moved."""
    if abs(moved_s) < LEAST_SAID_S:
        return ""
    minutes = round(abs(moved_s) / 60.0)
    long = f"{minutes}{NARROW}min" if minutes < 60 else f"{minutes / 60.0:.1f}".removesuffix(".0") + f"{NARROW}h"
    return t(" ({long} later, by day)", long=long) if moved_s > 0.0 else t(" ({long} sooner, by day)", long=long)
