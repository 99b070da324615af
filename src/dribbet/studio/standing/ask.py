"""Ask: the plan in hand, its honest margin, what it takes of what there is, its days, and the sizes that are offered."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from enum import Enum, StrEnum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import pouring
from dribbet.lab.panel.progress import Station
from dribbet.lab.plan import confounding, control, day_plan, design, planning, sizes, stops
from dribbet.lab.plan.factors import NATURES
from dribbet.records import BasePlan, Design, Does, Factor, Response, Step
from dribbet.studio.standing import margin as margins
from dribbet.studio.standing.choosing import covered
from dribbet.studio.standing.has import Has, has

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.day_plan import DayPlan, Pace
    from dribbet.lab.plan.planning import Demand
    from dribbet.lab.plan.power import Scatter
    from dribbet.lab.plan.sizes import Offer
    from dribbet.records import Series
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.studio.standing.margin import Margin

ANY_PLACES: Final = 1000  # on a rack that nobody counted
USUAL_SITTING_H: Final = 4.0  # for the day plan, until somebody says
MORNING: Final = 9
"""Hour at which a day at the bench begins."""
DEAR: Final = 60.0  # money at which the bar is full
LONG_DAYS: Final = 14.0
DAY_S: Final = 86_400.0


class Takes(Enum):
    """What a test takes."""

    PAINT = auto()
    """Kilograms of the colours in it."""
    MONEY = auto()
    PANELS = auto()
    RACK = auto()
    DAYS = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Need:
    """How much a test takes of one thing, how much there is of it, and how full that makes its bar."""

    what: Takes
    amount: float
    there: float | None = None
    """None where nobody entered it."""
    share: float | None = None
    """None where nothing is known to measure it by."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeOffered:
    """One of the three sizes."""

    offer: Offer
    same_as: int = 0
    """Number of the one before it that is the same plan; nought where it differs."""
    current: bool = False


class ShownBy(Enum):
    """Why an offered size says no figure."""

    NOT_KNOWN = auto()
    TOO_FEW = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanInHand:
    """What is so of the plan in hand."""

    series: Series
    recipes: tuple[Arm, ...]
    demand: tuple[Demand, ...]
    known: Scatter | None
    """How panels poured alike scatter in the first response."""
    margin: Margin
    needs: tuple[Need, ...]
    plan: DayPlan
    rack: tuple[float | None, int]
    """Places there are, and those that panels of other series dry on."""
    sitting_h: float
    offers: tuple[SizeOffered, ...]
    drawn: bool
    begun: bool
    """Something was weighed or poured: the lots stand."""
    covered: bool
    """A blind test whose codes hide what they are."""

    def shown_by(self, offer: Offer) -> ShownBy | None:
        """Why an offered size says no figure; None where it does."""
        if offer.shows is not None:
            return None
        return ShownBy.NOT_KNOWN if self.known is None or self.series.responses[0][0] is Response.FIRST_CRACK else ShownBy.TOO_FEW


def asked(desk: Desk, run: Run) -> PlanInHand:
    """What is so of the plan in hand."""
    s = run.series
    recipes, shelf = design.arms(s), desk.shelf()
    known = desk.learned.scatter(s.responses[0][0])
    confounds = run.once(("confounds",), lambda: confounding.confounds(s, recipes))
    demand = run.once(("demand",), lambda: tuple(planning.demand(s, shelf)))
    have, prices = has(desk, Has.PANELS), prices_of(desk, s)
    found = run.once(
        ("margin", known, tuple(prices.items()), have),
        lambda: margins.margin(s, recipes, confounds, demand, known, prices, have_panels=have),
    )
    rack = (has(desk, Has.RACK), _taken_places(desk, s))
    plan = _day_plan(desk, run, recipes, rack)
    return PlanInHand(
        series=s,
        recipes=tuple(recipes),
        demand=demand,
        known=known,
        margin=found,
        needs=_needs(s, demand, have, rack, plan),
        plan=plan,
        rack=rack,
        sitting_h=has(desk, Has.HOURS) or USUAL_SITTING_H,
        offers=run.once(("offers", known), lambda: _offers(s, known)) if s.seed is None else (),
        drawn=s.seed is not None,
        begun=bool(run.steps or run.weighings),
        covered=covered(run),
    )


def prices_of(desk: Desk, s: Series) -> dict[str, float]:
    """Money for a kilogram of each container: as the plan fixed them, else by the shelf."""
    return dict(s.prices or planning.prices_per_kg(desk.shelf()))


def _offers(s: Series, known: Scatter | None) -> tuple[SizeOffered, ...]:
    made: list[SizeOffered] = []
    for i, offer in enumerate(sizes.offers(s, known)):
        same = bool(made) and made[-1].offer.series == offer.series
        current = not same and offer.series.layout == s.layout and offer.series.repeats == s.repeats
        made.append(SizeOffered(offer=offer, same_as=i if same else 0, current=current))
    return tuple(made)


def _needs(s: Series, demand: Sequence[Demand], have: float | None, rack: tuple[float | None, int], plan: DayPlan) -> tuple[Need, ...]:
    """What the test takes of what there is; no bar where nobody entered what there is."""
    colours = set(planning.colours_in(s))
    paint = [d for d in demand if d.name in colours]
    kg, stock = sum(d.kg for d in paint), sum(d.stock_kg or 0.0 for d in paint)
    money = sum(d.kg * d.price_per_kg for d in demand)
    panels = design.sheets(s)
    free = None if rack[0] is None else rack[0] - rack[1]
    begun = math.ceil((plan.ends - plan.begins).total_seconds() / DAY_S)
    return (
        Need(what=Takes.PAINT, amount=kg, there=stock, share=min(kg / stock, 1.0)) if stock > 0.0 else Need(what=Takes.PAINT, amount=kg),
        Need(what=Takes.MONEY, amount=money, share=min(money / DEAR, 1.0) if money > 0.0 else None),
        Need(what=Takes.PANELS, amount=panels, there=have, share=None if have is None else min(panels / max(have, 1.0), 1.0)),
        Need(what=Takes.RACK, amount=panels, there=free, share=None if free is None else min(panels / max(free, 1.0), 1.0)),
        Need(what=Takes.DAYS, amount=begun, share=min(begun / LONG_DAYS, 1.0)),
    )


def _taken_places(desk: Desk, s: Series) -> int:
    """Places of the rack on which panels of other series dry."""
    now, taken = desk.now(), 0
    for one in desk.all_series():
        if one.id != s.id and one.seed is not None:
            other = desk.load(one.id)
            taken += len({p.sheet or p.id for p in other.panels if other.station(p, now) is Station.DRY})
    return taken


def _day_plan(desk: Desk, run: Run, recipes: Sequence[Arm], rack: tuple[float | None, int]) -> DayPlan:
    places, taken = rack
    slots = round(places) if places is not None else ANY_PLACES
    morning = desk.now().replace(hour=MORNING, minute=0, second=0, microsecond=0)
    pace: tuple[Pace, ...] = desk.learned.work_paces()
    sitting_s = (has(desk, Has.HOURS) or USUAL_SITTING_H) * 3600.0

    def laid_out() -> DayPlan:
        numbers = itertools.count()
        cups = len(planning.mixes(run.series, lambda: str(next(numbers))))
        return day_plan.plan(
            run.series, tuple(recipes), cups, pace=pace, sitting_s=sitting_s, rack_slots=slots, rack_taken=taken, begins=morning,
            waking=run.waking,
        )  # fmt: skip

    return run.once(("days", slots, taken, morning, pace, sitting_s), laid_out)


# ---------------------------------------------------------------- what else can be done


class More(StrEnum):
    """What can be done with a plan beside choosing its parts; its value is what a press of it sends."""

    NAME = "name"
    MORE_REPEATS = "more repeats"
    FEWER_REPEATS = "fewer repeats"
    KINDS = "templates"
    AGAIN = "again"
    MEND = "mend"
    SEPARATE = "separate"
    GROWN = "grown"
    DILUTED = "diluted"
    PLAIN = "plain"
    CONTROL = "control"
    INSIST = "insist"
    TURNING = "turning"
    SHEET = "sheet"
    SHOPPING = "shopping"
    UNDO = "undo"
    REDO = "redo"


def more(s: Series, *, done: bool, undone: bool) -> tuple[More, ...]:
    """Everything else that can be done with this plan; `done` and `undone`: changes that can be taken back, or made again."""
    if s.seed is not None:
        return (More.NAME, More.AGAIN, More.MEND, More.TURNING, More.SHEET, More.SHOPPING)
    made = [More.NAME, More.MORE_REPEATS, More.FEWER_REPEATS, More.KINDS, More.AGAIN, More.MEND]
    if margins.first_separable(confounding.confounds(s, design.arms(s))) is not None:
        made.append(More.SEPARATE)
    if stops.doses(s):
        made += [More.GROWN, More.DILUTED]
    if s.layout.extras:
        made.append(More.PLAIN)
    if any(not m.insisted for m in control.missing(s)):
        made += [More.CONTROL, More.INSIST]
    made += [More.TURNING, More.SHEET, More.SHOPPING]
    return (*made, *([More.UNDO] if done else []), *([More.REDO] if undone else []))


# ---------------------------------------------------------------- what is held

PART_OF_FIELD: Final = {
    "technique": "technique", "medium": "medium", "medium_parts": "ratio", "water_share": "water", "film_m": "film",
    "silicone_drops_per_100g": "drops", "alcohol_share": "alcohol", "alcohol_strength": "strength", "anti_craze_share": "craze",
    "shimmer_parts": "shimmer_parts", "silicone": "silicone", "silicone_colours": "silicone_in", "finish": "finish",
    "base_plan": "base_plan", "base_sheen": "base_sheen", "base_m": "base_m", "base_water_share": "base_water",
    "activator": "activator", "torch_passes": "torch", "heat_after_s": "heat_after", "rest_s": "rest", "grade": "grade",
    "panel": "size_mm",
}  # fmt: skip
"""Name of a constant among the parts of what is held, by its field."""


def not_held(s: Series) -> frozenset[str]:
    """Constants that are nothing to hold: tested, or of something that this test does without."""
    c = s.constants
    out = {PART_OF_FIELD.get(NATURES[v.factor].field) for v in s.varied}
    if not c.silicone_drops_per_100g and not s.varies(Factor.SILICONE):
        out |= {"silicone_in", "silicone", "drops_by"}
    if c.base_plan is BasePlan.NONE:
        out |= {"base", "base_sheen", "base_m", "base_water", "base_craze"}
    if c.activator == "none" and not s.varies(Factor.ACTIVATOR):
        out.add("activator_kg")
    if not c.alcohol_share and not s.varies(Factor.ALCOHOL):
        out.add("strength")
    if s.layout.design is not Design.PAIRED:
        out.add("strip")
    return frozenset(part for part in out if part)


HELD_ELSEWHERE: Final = ((Step.TORCH, Does.PASSES), (Step.ACTIVATE, Does.GRAMS))
"""Figures of steps that constants of their own hold."""


def steps_held(s: Series) -> tuple[tuple[Step, Does], ...]:
    """Figures that the steps of this pour have and that nothing tested changes."""
    tested = {d for v in s.varied if (d := NATURES[v.factor].doing)}
    figures = [(p.step, f.does) for p in dict.fromkeys(pouring.planned(s.constants)) for f in p.figures]
    return tuple(one for one in figures if one not in HELD_ELSEWHERE and one not in tested)
