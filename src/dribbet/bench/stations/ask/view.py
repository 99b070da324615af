"""What the Ask page shows, as plain values with their words ready."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from dribbet.bench.parts.cup import CupView
    from dribbet.words.parts import Part, Remark


class Leaf(StrEnum):
    """The sheets of Ask, of which one lies open."""

    RACK = "Rack"
    HELD = "Held"
    AMOUNTS = "Amounts"
    DAYS = "Days"
    LOOKS = "Looks"
    PANELS = "Panels"


LEAVES: Final = (Leaf.RACK, Leaf.HELD, Leaf.AMOUNTS, Leaf.DAYS, Leaf.LOOKS)
"""Those that every test has; pieces of one panel have theirs beside them."""


@dataclass(frozen=True, slots=True)
class RackCup:
    """One recipe on the rack."""

    view: CupView
    codes: tuple[str, ...]
    words: str


@dataclass(frozen=True, slots=True)
class RackRow:
    """A shelf of the rack; None where a recipe of the whole is not poured."""

    head: str
    note: str
    cups: tuple[RackCup | None, ...]


@dataclass(frozen=True, slots=True)
class Offered:
    """One of the three sizes."""

    digit: int
    name: str
    panels: str
    words: str
    current: bool


@dataclass(frozen=True, slots=True)
class BottleView:
    """A container and what the test takes of it."""

    name: str
    hex: str
    role: str
    need: str
    stock: str
    short: str
    share: float
    """Share of what there is that is taken; above 1 it does not suffice."""
    on_shelf: bool = True


@dataclass(frozen=True, slots=True)
class Day:
    """A day of the plan."""

    number: int
    words: str
    mix_h: float
    pour_h: float
    work: str
    looks: tuple[tuple[str, str], ...] = ()
    """(name, how many panels and when)."""


@dataclass(frozen=True, slots=True)
class Days:
    """The day plan."""

    days: tuple[Day, ...] = ()
    sitting_h: float = 4.0
    paces: tuple[str, ...] = ()
    said: tuple[str, ...] = ()
    rack: tuple[int, int, int] = (0, 0, 20)
    """Places needed, taken by others, there are."""
    ends: str = ""


@dataclass(frozen=True, slots=True)
class JudgedRow:
    """A response: when it is judged, and what it counts in the goal."""

    name: str
    value: str
    times: tuple[bool, ...]
    weight: int
    range_part: Part


@dataclass(frozen=True, slots=True)
class Checks:
    """Protocol and goal."""

    times: tuple[tuple[str, str], ...] = ()
    """(name of the look, when)."""
    rows: tuple[JudgedRow, ...] = ()
    goal: Part | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class Region:
    """A piece of a panel."""

    box: tuple[float, float, float, float]
    inner: tuple[float, float, float, float]
    code: str
    words: str


@dataclass(frozen=True, slots=True)
class Sheet:
    """Panels with the pieces that share them."""

    size_mm: tuple[float, float] = (200.0, 150.0)
    panels: tuple[tuple[Region, ...], ...] = ()
    note: str = ""


@dataclass(frozen=True, slots=True)
class CanShowView:
    """The smallest difference, to be drawn to scale on the panel."""

    kind: str = ""
    """`line` in mm, `cells` as a number, `share` of the face in percent, or nothing to draw."""
    size: float = 0.0
    words: str = ""
    panel_mm: tuple[float, float] = (200.0, 150.0)
    round: bool = False


@dataclass(frozen=True, slots=True)
class HeldGroup:
    """Constants that belong together: what they are drawn as, a head, and (label, part) rows."""

    kind: str
    head: str
    rows: tuple[tuple[str, Part], ...]


@dataclass(frozen=True, slots=True)
class HeldView:
    """What is held, in groups, with what their pictures show."""

    groups: tuple[HeldGroup, ...] = ()
    layers: tuple[tuple[str, float], ...] = ()
    panel_mm: tuple[float, float] = (200.0, 150.0)
    round: bool = False
    has_base: bool = False
    room: str = ""
    fixed: bool = False


@dataclass(frozen=True, slots=True)
class AskView:
    """Everything the page shows."""

    empty: bool = False
    sentence: tuple[str | Part, ...] = ()
    columns: tuple[str, ...] = ()
    column_head: str = ""
    column_lines: tuple[tuple[str, tuple[tuple[str, str, int], ...]], ...] = ()
    """Where several things run along the columns: name of each, and its levels, in full, short, and how many columns they span."""
    rows: tuple[RackRow, ...] = ()
    offers: tuple[Offered, ...] = ()
    held: str = ""
    expectation: tuple[str | Part, ...] = ()
    expectation_in_short: tuple[str | Part, ...] = ()
    """Without when it is locked, where there is no room for it."""
    margin: tuple[Remark, ...] = ()
    can_show: CanShowView = CanShowView()
    costs: tuple[tuple[str, str, float | None], ...] = ()
    """(what, words, share of what there is; None where nobody entered that)."""
    trouble: str = ""
    """Why the last entry could not be taken."""
    drawn: bool = False
    locked: bool = False
    one_key: str = ""
    can_take_back: bool = False
    leaves: tuple[Leaf, ...] = LEAVES
    leaf: Leaf = Leaf.RACK
    bottles: tuple[BottleView, ...] = ()
    days: Days = Days()
    checks: Checks = Checks()
    sheet: Sheet = Sheet()
    card: HeldView = HeldView()
