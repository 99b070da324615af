"""How long a cup rests until its bubbles are out, and until when it must be mixed (science: bubbles)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final

from dribbet.lab.paint.density import bubble_rest_s

SHORTEST_S: Final = 60.0
UNSURE: Final = 2.0  # a mound's seconds give viscosity within about this factor either way


@dataclass(frozen=True, slots=True, kw_only=True)
class Rest:
    """When a cup may be poured."""

    seconds: float
    low_s: float
    high_s: float
    since: datetime
    checked: bool
    """Whether the viscosity comes from this cup's own check."""

    @property
    def ready_at(self) -> datetime:
        """When its bubbles are out, by the middle of the estimate."""
        return self.since + timedelta(seconds=self.seconds)

    def left_s(self, now: datetime) -> float:
        """Seconds still to rest; zero when it is over."""
        return max((self.ready_at - now).total_seconds(), 0.0)


def depth_m(mass_kg: float, density_kg_m3: float, cup_radius_m: float) -> float:
    """Depth of paint in a cup taken as a cylinder."""
    return mass_kg / density_kg_m3 / (math.pi * cup_radius_m**2)


def rest_of(
    *, mass_kg: float, density_kg_m3: float, viscosity_pa_s: float, bubble_m: float, cup_radius_m: float, since: datetime, checked: bool
) -> Rest:
    """Rest of a cup since it was last stirred, with what the unsure viscosity makes of it."""
    deep = depth_m(mass_kg, density_kg_m3, cup_radius_m)
    middle = max(bubble_rest_s(bubble_m, viscosity_pa_s, density_kg_m3, deep), SHORTEST_S)
    spread = UNSURE if checked else UNSURE**2
    return Rest(seconds=middle, low_s=max(middle / spread, SHORTEST_S), high_s=middle * spread, since=since, checked=checked)


def latest_mixing(pour_at: datetime, rest_s: float) -> datetime:
    """Latest moment to stir a cup that is to be poured at a time."""
    return pour_at - timedelta(seconds=rest_s)
