"""What stands beside the drip card, as the page draws it: mounds, and the rows of the cup. No widgets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.bench.hexes import hex_of
from dribbet.bench.stations.check.view import MoundView
from dribbet.records.wording import first_up
from dribbet.words import check as check_words
from dribbet.words.units import NARROW

if TYPE_CHECKING:
    from dribbet.records import Material
    from dribbet.studio.standing.check import MoundsHeld
    from dribbet.studio.standing.sinking import Sinking
    from dribbet.words.units import Units


def mounds(found: MoundsHeld, shelf: dict[str, Material], units: Units) -> tuple[MoundView, ...]:
    """How long each mound holds."""
    return tuple(
        MoundView(units.called(colour), hex_of(colour, shelf), s, check_words.NOT_TIMED if s is None else f"{s:.1f}{NARROW}s")
        for colour, s in found.pots
    )


def rows(sinks: Sinking, shelf: dict[str, Material], units: Units) -> tuple[tuple[str, str, str, bool], ...]:
    """Rows of the cup from the top: name, density, colour, and whether it sinks into the one below."""
    made = [(first_up(units.called(key)), f"{d / 1000:.2f}", hex_of(key, shelf), i - 1 in sinks.joints) for i, (key, d) in enumerate(sinks.layers)]
    return tuple(reversed(made))
