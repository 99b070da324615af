"""The honest margin of a plan: what it can show, what is unlike, what is mixed up, what stops it, what is short."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import basis, control, design, layouts, sizes, stops
from dribbet.lab.verdict.judge import POWER
from dribbet.records import WATER, Design, Equal, Factor, Response

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.basis import Quantity
    from dribbet.lab.plan.confounding import Confound
    from dribbet.lab.plan.control import NoControl
    from dribbet.lab.plan.planning import Demand
    from dribbet.lab.plan.power import Scatter
    from dribbet.lab.plan.stops import Stop
    from dribbet.records import Series

THINNED: Final = (Factor.WATER_SHARE, Factor.ALCOHOL, Factor.GRADE, Factor.RATIO)
"""Things tested by which the recipe differs of necessity."""
MOST_TAKES: Final = 40
"""Repeats of each recipe up to which it is said how many a difference takes."""
STOPS_SAID: Final = 2
WATERS_SAID: Final = 6


class Shows(Enum):
    """What can be said of the smallest difference that a plan shows."""

    NOTHING = auto()
    """One panel of each recipe."""
    NO_FORMULA = auto()
    """Hours to the first crack: panels that never crack have no figure."""
    NOT_KNOWN = auto()
    """Nobody has poured two alike yet."""
    NO_CHANGE = auto()
    """So few panels and so much asked that no change is shown."""
    A_CHANGE = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Repeats:
    """So many of each recipe."""

    each: int
    panels: int


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallestShown:
    """The smallest difference of the first response that a plan shows four times in five."""

    how: Shows
    response: Response
    known: Scatter | None = None
    size: float | None = None
    expected: float = 0.0
    """What the person expects; nought where it is nothing, or where the plan shows it."""
    takes: Repeats | None = None
    """What would show what is expected, where that is within reason."""
    enough: tuple[int, float] | None = None
    """Fewest repeats of each that show anything, and what."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LikeAndUnlike:
    """What is equal between the recipes, and what is not."""

    equal: Equal
    unlike: Mapping[Quantity, tuple[float, float]]
    """From low to high; flow in 1/(Pa s), cost in money a kilogram, shares and parts as they are."""
    tested: bool
    """Whether the recipes differ of necessity, by what is tested."""
    besides: tuple[str, ...] = ()
    """Constants, by field, that differ without being tested."""
    undone: Factor | None = None
    """What making this equal would undo."""
    own_figures: bool = False
    waters: tuple[tuple[str, float], ...] = ()
    """Recipe and its share of water, where water was worked out so that all flow alike."""
    graded: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Pieces:
    """Recipes that share one panel."""

    borders: int
    strip_m: float
    left_out: float
    """Share of the panel along borders that is not measured."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OneMore:
    """What one more repeat of each recipe would show, and what it takes."""

    size: float
    panels: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Lacking:
    """What is short, and what nobody entered."""

    short: tuple[Demand, ...] = ()
    panels: int = 0
    have_panels: float | None = None
    unsaid: tuple[str, ...] = ()
    """Containers on the shelf whose stock nobody entered."""

    @property
    def too_few_panels(self) -> bool:
        """Whether more panels are planned than are at hand."""
        return self.have_panels is not None and self.panels > self.have_panels


@dataclass(frozen=True, slots=True, kw_only=True)
class Margin:
    """Everything that stands in the margin, in the order in which it is said."""

    shows: SmallestShown
    stopped: tuple[Stop, ...]
    thin: Stop | None
    """A film thinner than this way to pour usually leaves."""
    whole_drops: Stop | None
    """A dose that whole drops change, though not so far that it stops the lots."""
    compared: LikeAndUnlike | None
    mixed_up: tuple[Confound, ...]
    separable: Confound | None
    """What added panels would tell apart."""
    no_control: tuple[NoControl, ...]
    pieces: Pieces | None
    repeats: int
    behind_level: int
    one_more: OneMore | None
    lacking: Lacking | None
    """None once the lots are drawn."""


def margin(
    series: Series,
    recipes: Sequence[Arm],
    confounds: Sequence[Confound],
    demand: Sequence[Demand],
    known: Scatter | None,
    prices: Mapping[str, float],
    *,
    have_panels: float | None,
) -> Margin:
    """What is so of a plan."""
    stopped = stops.stops(series)
    pieces = any(s.why is stops.Why.PIECES for s in stopped)
    near = () if pieces else tuple(s for s in stops.doses(series) if s not in stopped)
    return Margin(
        shows=can_show(series, recipes, known),
        stopped=stopped[:STOPS_SAID],
        thin=next(iter(stops.thinner_than_usual(series)), None),
        whole_drops=next(iter(near), None),
        compared=compared(series, recipes, prices),
        mixed_up=tuple(confounds),
        separable=first_separable(confounds),
        no_control=tuple(control.missing(series)),
        pieces=_pieces(series, recipes),
        repeats=series.repeats,
        behind_level=sizes.behind_level(recipes),
        one_more=one_more(series, known),
        lacking=lacking(series, demand, have_panels) if series.seed is None else None,
    )


def first_separable(confounds: Sequence[Confound]) -> Confound | None:
    """Return what is mixed up and added panels would tell apart, if anything is."""
    return next((c for c in confounds if c.extras), None)


def can_show(series: Series, recipes: Sequence[Arm], known: Scatter | None) -> SmallestShown:
    """The smallest difference that a plan shows, or why there is none."""
    first = series.responses[0][0]
    if series.repeats < sizes.LEAST_REPEATS:
        return SmallestShown(how=Shows.NOTHING, response=first)
    if known is None:
        return SmallestShown(how=Shows.NOT_KNOWN, response=first)
    if first is Response.FIRST_CRACK:
        return SmallestShown(how=Shows.NO_FORMULA, response=first, known=known)
    size = sizes.shows(series, recipes, known)
    expected = series.prediction.size if series.prediction else 0.0
    if size is not None and expected >= size:
        expected = 0.0
    needed = sizes.repeats_for(series, recipes, known, expected, POWER) if expected else None
    takes = None
    if needed is not None and needed <= MOST_TAKES:
        takes = Repeats(each=needed, panels=needed * sum(a.extra is None for a in recipes))
    return SmallestShown(
        how=Shows.A_CHANGE if size is not None else Shows.NO_CHANGE,
        response=first,
        known=known,
        size=size,
        expected=expected,
        takes=takes,
        enough=sizes.enough_repeats(series, known) if size is None and takes is None else None,
    )


def compared(series: Series, recipes: Sequence[Arm], prices: Mapping[str, float]) -> LikeAndUnlike | None:
    """What is equal and what is not; None where there is but one recipe."""
    plain = [a for a in recipes if a.extra is None]
    if len(plain) < 2:
        return None
    tested = [v.factor for v in series.varied]
    waters = tuple((a.letter, a.water_share) for a in plain[:WATERS_SAID]) if series.equal is Equal.FLOW else ()
    return LikeAndUnlike(
        equal=series.equal,
        unlike=basis.differs([basis.standing(a, prices) for a in plain]),
        tested=any(f in THINNED for f in tested),
        besides=basis.also_differs(plain, tested),
        undone=basis.clash(series.equal, tested),
        own_figures=bool(series.constants.own_pa_s),
        waters=waters,
        graded=any(a.held.grade for a in plain),
    )


def _pieces(series: Series, recipes: Sequence[Arm]) -> Pieces | None:
    if series.layout.design is not Design.PAIRED:
        return None
    held = series.constants
    boxes = layouts.regions(len(recipes), held.panel_width_m, held.panel_height_m)
    return Pieces(
        borders=len(layouts.neighbours(boxes)),
        strip_m=series.layout.strip_m,
        left_out=layouts.left_out_share(boxes, held.panel_width_m, held.panel_height_m, series.layout.strip_m),
    )


def one_more(series: Series, known: Scatter | None) -> OneMore | None:
    """What one more repeat of each recipe would show; None where that is not known, or enough are poured."""
    if series.repeats >= sizes.MOST_REPEATS:
        return None
    bigger = replace(series, repeats=series.repeats + 1)
    size = sizes.shows(bigger, design.arms(bigger), known)
    return OneMore(size=size, panels=design.sheets(bigger) - design.sheets(series)) if size is not None else None


def lacking(series: Series, demand: Sequence[Demand], have_panels: float | None) -> Lacking:
    """What is short of what the test takes, and what nobody entered."""
    return Lacking(
        short=tuple(d for d in demand if d.short_kg > LEAST_SHORT_KG),
        panels=design.sheets(series),
        have_panels=have_panels,
        unsaid=tuple(d.name for d in demand if d.on_shelf and d.stock_kg is None and d.name != WATER),
    )


LEAST_SHORT_KG: Final = 1e-6
"""Less is rounding."""
