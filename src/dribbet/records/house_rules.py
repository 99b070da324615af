"""What a person sets once for their bench: limits, windows, offsets, how the scale is used. Every school may have its own."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from dribbet.records.checks import CheckKind
from dribbet.records.errors import RecordError
from dribbet.records.factors import Technique  # noqa: TC001 (read back from its hint)
from dribbet.records.looks import OWN_TIME
from dribbet.records.photos import Stage
from dribbet.records.require import require_between, require_not_negative, require_positive, require_share


class Role(StrEnum):
    """What a pot is in the pour; roles may be thinner or thicker than the rest on purpose."""

    COLOUR = "colour"
    BASE = "base"
    METALLIC = "metallic"
    SWIPE = "swipe"
    ACTIVATOR = "activator"


class Weigh(StrEnum):
    """How the scale is used between additions."""

    ADD_UP = "add up"
    TARE = "tare each"


@dataclass(frozen=True, slots=True, kw_only=True)
class GradeWindow:
    """Consistency grades that a way of pouring wants, lowest and highest."""

    technique: Technique
    low: int
    high: int

    def __post_init__(self) -> None:
        if not 1 <= self.low <= self.high <= 5:
            raise RecordError(f"Grades {self.low} to {self.high} for a {self.technique} cannot be. Choose two grades from 1 to 5, the thinner first.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Offset:
    """How much farther than the set a role's drip should run; 1 is alike, 1.2 is a fifth farther, so thinner."""

    role: Role
    runs: float

    def __post_init__(self) -> None:
        if not 0.3 <= self.runs <= 3.0:
            raise RecordError(f"A {self.role} that runs {self.runs:g} times as far as the rest is beyond any pour. Choose 0.3 to 3.")


@dataclass(frozen=True, slots=True, kw_only=True)
class HomeCup:
    """A home-made flow cup with its own curve: seconds against kinematic viscosity in m2/s, from liquids that are known."""

    name: str
    points: tuple[tuple[float, float], ...]

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise RecordError("A flow cup needs a name. Write it on the cup, too.")
        if len(self.points) < 2:
            raise RecordError(f"{self.name} has {len(self.points)} known liquid. Time at least two, thin and thick, so that its curve is known.")
        for seconds, viscosity in self.points:
            require_positive(seconds, f"A time of {self.name}", "Enter the seconds until the stream breaks.", 3600.0)
            require_positive(viscosity, f"A viscosity of {self.name}", "Enter the liquid's viscosity in mm²/s.", 10.0)
        if len({seconds for seconds, _ in self.points}) < 2:
            raise RecordError(f"All liquids ran through {self.name} alike. Choose liquids of unlike thickness.")


@dataclass(frozen=True, slots=True, kw_only=True)
class HouseRules:
    """Everything that a studio may see otherwise than another; the values here are starting points.

    Order of checks: where a drip and a ring disagree, the ring wins, because a cloudy ring is seen in the very base that
    will be poured on. All offsets start at 1: that asserts nothing until someone asks for a contrast.
    """

    grade_limits_s: tuple[float, ...] = (0.05, 1.0, 3.0, 6.0)
    windows: tuple[GradeWindow, ...] = ()
    """Those that differ from the usual ones."""
    match_within: float = 0.25
    offsets: tuple[Offset, ...] = ()
    check_order: tuple[CheckKind, ...] = (CheckKind.RING, CheckKind.DRIP, CheckKind.FLOW_CUP, CheckKind.MOUND, CheckKind.SLUMP)
    ring_limit: float = 0.4
    weigh: Weigh = Weigh.ADD_UP
    take_when_steady: bool = True
    tolerance_kg: float = 0.2e-3
    scale_step_kg: float = 0.1e-3
    cups_kg: tuple[float, ...] = (0.06, 0.12, 0.25, 0.5, 1.0)
    """What the mixing cups at hand hold."""
    cup_radius_m: float = 0.032
    drip_seconds: float = 10.0
    drip_m3: float = 50e-9
    drip_width_m: float = 6e-3
    slump_kg: float = 5e-3
    slump_seconds: float = 60.0
    bubble_m: float = 0.25e-3
    """Radius of the bubbles that should have left a cup before it is poured."""
    cover_after_s: float = 600.0
    water_source: str = "tap"
    least_paint: float = 0.0
    """Share of paint in a mix below which it is said that it drains the colour; 0 for never."""
    home_cups: tuple[HomeCup, ...] = ()
    serial_baud: int = 9600
    serial_pattern: str = ""
    """Own line format of the scale; empty for the common ones."""
    tone: bool = False
    awake_from_h: float = 7.0
    awake_until_h: float = 22.0
    """Hours of the day between which looks are due: one that falls into the night is moved."""
    pedal: str = ""
    """Key that a foot pedal sends, which does what Space does; empty where there is none."""
    climate_file: str = ""
    """File to which the program of a climate sensor appends its lines; empty where there is none."""
    looks: tuple[str, ...] = ()
    """Times after the pour at which panels are looked at, such as 10 h, 18 h, 48 h, 7 d; empty for the usual ones."""

    def __post_init__(self) -> None:
        limits = self.grade_limits_s
        rising = all(a < b for a, b in pairwise((0.0, *limits)))  # NaN is refused too
        if len(limits) != 4 or not rising or not math.isfinite(limits[-1]):
            raise RecordError("Four rising limits part five grades, such as 0.05, 1, 3, 6 seconds. Type four, each longer than the one before.")
        if not 0.02 <= self.match_within <= 1.0:
            raise RecordError(f"A band of {self.match_within:.0%} either way cannot be. Choose 2 to 100 %.")
        if set(self.check_order) != {CheckKind.RING, CheckKind.DRIP, CheckKind.FLOW_CUP, CheckKind.MOUND, CheckKind.SLUMP}:
            raise RecordError("Each kind of check stands once in the order: ring, drip, flow cup, mound, slump.")
        require_share(self.ring_limit, "The ring that forbids thinning")
        require_share(self.least_paint, "The least paint in a mix")
        for value, low, high, what, remedy in (
            (self.tolerance_kg, 1e-6, 0.1, "The tolerance at the scale, in kilograms,", "Enter 0.001 to 100 g."),
            (self.scale_step_kg, 1e-7, 0.1, "The step of the scale, in kilograms,", "Enter 0.0001 to 100 g."),
            *((kg, 1e-3, 100.0, "What a cup holds, in kilograms,", "Enter 1 g to 100 kg.") for kg in self.cups_kg or (0.0,)),
            (self.cup_radius_m, 1e-3, 0.5, "The radius of a cup, in metres,", "Enter 1 to 500 mm."),
            (self.drip_seconds, 0.1, 3600.0, "The time of a drip", "Enter 0.1 to 3600 seconds."),
            (self.drip_m3, 1e-10, 1e-5, "The drop of a drip, in m³,", "Enter 0.0001 to 10 mL."),
            (self.drip_width_m, 1e-4, 0.1, "The width of a drip, in metres,", "Enter 0.1 to 100 mm."),
            (self.slump_kg, 1e-4, 1.0, "The sample of a slump, in kilograms,", "Enter 0.1 to 1000 g."),
            (self.slump_seconds, 0.1, 3600.0, "The time of a slump", "Enter 0.1 to 3600 seconds."),
            (self.bubble_m, 1e-6, 0.01, "The radius of bubbles, in metres,", "Enter 0.001 to 10 mm."),
            (self.awake_from_h, 0.0, 12.0, "The hour from which you look", "Enter an hour from 0 to 12, such as 7."),
            (self.awake_until_h, 12.0, 24.0, "The hour until which you look", "Enter an hour from 12 to 24, such as 22."),
            (self.serial_baud, 50, 4_000_000, "The speed of the scale's line", "Enter bauds as its manual gives them, such as 9600."),
            (limits[-1], 0.0, 3600.0, "The last limit of the grades", "Enter at most an hour, in seconds."),
        ):
            require_between(value, low, high, what, remedy)
        if len(self.pedal) > 20:
            raise RecordError("The key of a pedal is one key, such as F8, B or Right.")
        for name in self.looks:
            if name not in tuple(Stage) and OWN_TIME.match(name) is None:
                raise RecordError(f"{name[:20]!r} is no time for a look. Type hours or days after the pour, such as 10 h, 18 h, 48 h, 7 d.")
        if len(self.looks) > 12:
            raise RecordError("At most 12 looks are planned. Leave the rest to the day.")
        if len(self.cups_kg) > 24 or len(self.home_cups) > 24:
            raise RecordError("At most 24 cups are kept. Remove one that is no longer used.")
        require_not_negative(self.cover_after_s, "The time until a cup is to be covered", "Enter minutes up to a day, or 0 for never.", 86_400.0)
