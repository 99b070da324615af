"""What the Check page shows, with every text ready. No widgets, no rules."""

from __future__ import annotations

from dataclasses import dataclass, field

from dribbet.bench.parts.drip_lanes import DripCardView


@dataclass(frozen=True, slots=True)
class MoundView:
    """One colour's mound: seconds and grade in words."""

    name: str
    hex: str
    seconds: float | None
    text: str


@dataclass(frozen=True, slots=True)
class WayView:
    """A way of pouring with its window in mound seconds, and whether it suits the set."""

    name: str
    low_s: float
    high_s: float
    suits: bool


@dataclass(frozen=True, slots=True)
class CheckTest:
    """A kind of test to choose: its name, and how many pots have it."""

    kind: str
    words: str
    hand: bool


@dataclass(frozen=True, slots=True)
class CheckView:
    """Everything the page shows."""

    sentence: str
    note: str = ""
    empty: bool = False
    card: DripCardView = field(default_factory=lambda: DripCardView((), None, "", 90.0, "mm", 20.0))
    tests: tuple[CheckTest, ...] = ()
    field_hint: str = ""
    field_note: str = ""
    mounds: tuple[MoundView, ...] = ()
    mound_note: str = ""
    sinking: tuple[tuple[str, str, str, bool], ...] = ()
    """(name, density, hex, sinks into the one below) from the top."""
    sink_note: str = ""
    ways: tuple[WayView, ...] = ()
    way_pots: tuple[tuple[str, str, float], ...] = ()
    """(name, hex, mound seconds) of each pot."""
    ways_note: str = ""
    read: tuple[str, ...] = ()
    """What else was read, a sentence a pot."""
    cautions: tuple[str, ...] = ()
    fix: str = ""
    """Words of the correction in hand, such as 'Log 1.5 g water'."""
    fix_note: str = ""
    can_keep: bool = False
    matched: bool = False
    groups: tuple[str, ...] = ()
    timing: str = ""
    streams: tuple[str, ...] = ()
    more: bool = False
    """Whether another mixed recipe still waits for its check."""
