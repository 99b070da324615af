"""What is so of one poured panel: its film, the air it dries in, how dry it is, when it began to crack, what was done to it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import composition
from dribbet.lab.paint import costs
from dribbet.lab.panel import aftercare, air, cracking, drying, loss, pace, pouring, risk
from dribbet.lab.panel import film as films
from dribbet.lab.plan import amounts, planning
from dribbet.records import COATS, WATER, After, BasePlan, Feel, PanelWeight, Stage, order

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import Panel, Treated
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SHOWN_H: Final = 96.0
DRIPS_FROM_S: Final = 180.0  # after the weighing: by then drops hang under the edge
DRIPS_TO_S: Final = 900.0  # later they hold, and a wiped one drags the side along
"""Hours of air that the drying windows rest on: until through-dry at the latest, or until now."""
WEIGHED_WITHIN: Final = 0.02  # a cup's own weighing and the scale's drift: less is no contradiction


@dataclass(frozen=True, slots=True, kw_only=True)
class Film:
    """Paint on a panel."""

    wet_m: float
    weighed: bool
    """Whether it was weighed, or is what the plan expects."""
    dry_m: float
    left_kg: float
    run_off_kg: float
    """Of the whole sheet, where regions share one."""
    wasted: float
    """What ran off or stayed in the cup is worth, by shelf prices."""
    too_much_kg: float
    """More on the panel than went into its cup; 0 where that is not so."""


def planned_of(run: Run, panel: Panel) -> tuple[pouring.Planned, ...]:
    """Steps of the pour of a panel, as its recipe has them."""
    return pouring.planned(run.held(panel), alcohol_share=run.arm(panel).alcohol_share)


def progress_of(run: Run, panel: Panel) -> pouring.Progress:
    """How far the pour of a panel has come."""
    return run.once(("progress", panel.id), lambda: pouring.progress(planned_of(run, panel), [s for s in run.steps if s.panel_id == panel.id]))


def film(desk: Desk, run: Run, panel: Panel) -> Film:
    """Film of a panel, wet and dry, and what ran off; of a region the share of its sheet's weight that it was given of the sheet's paint."""

    def compute() -> Film:
        bare, poured = run.weight(panel, PanelWeight.BARE), run.weight(panel, PanelWeight.POURED)
        arm, density, area = run.arm(panel), desk.density(run, panel), run.area_m2(panel)
        shelf = desk.shelf()
        solids = composition.volume_solids(run.cup(panel), shelf)
        sheet = run.together(panel)
        part = planning.piece_share(run.series)
        given = {p.id: part * (run.held(p).poured_kg + run.held(p).activator_kg + base_kg(desk, run, p)) for p in sheet}
        cup = math.fsum(given.values())
        if bare is None or poured is None or poured <= bare:
            return Film(
                wet_m=arm.film_m, weighed=False, dry_m=films.dry_film_m(arm.film_m, solids), left_kg=arm.film_m * area * density,
                run_off_kg=0.0,
                wasted=0.0, too_much_kg=0.0,
            )  # fmt: skip
        left = poured - bare
        mine = left * given[panel.id] / cup if len(sheet) > 1 and cup > 0.0 else left  # regions of one sheet: each keeps as it was given
        wet = films.wet_film_m(mine, density, area)
        return Film(
            wet_m=wet, weighed=True, dry_m=films.dry_film_m(wet, solids), left_kg=mine, run_off_kg=max(cup - left, 0.0),
            wasted=costs.of_amounts({n: share * max(cup - left, 0.0) for n, share in run.cup(panel).items()}, shelf),
            too_much_kg=max(left - cup, 0.0) if left > cup * (1.0 + WEIGHED_WITHIN) else 0.0,
        )  # fmt: skip

    return run.once(("film", panel.id), compute)


def base_kg(desk: Desk, run: Run, panel: Panel) -> float:
    """Base under a panel, as planned."""
    held = run.held(panel)
    density = next((m.density_kg_m3 for m in desk.shelf() if m.key == held.base), planning.BASE_KG_M3)
    return amounts.base_m3(held) * density


def air_of(desk: Desk, run: Run, panel: Panel) -> air.Air:
    """Air that a panel has dried in so far; as planned where nothing was read."""
    held, poured = run.held(panel), run.poured_at(panel)
    begins = poured if poured is not None else desk.now()
    ends = min(max(desk.now(), begins + timedelta(hours=1)), begins + timedelta(hours=SHOWN_H))
    reach = timedelta(hours=air.HOLDS_H)
    return run.once(
        ("air", panel.id, ends), lambda: air.over(desk.climate_between(begins - reach, ends + reach), begins, ends, held.room_c, held.room_rh)
    )


def physics(desk: Desk, run: Run, panel: Panel) -> tuple[drying.DryingWindow, ...]:
    """When each stage of drying begins by this panel's film and the air that was read, before any check-in is asked."""
    told = air_of(desk, run, panel)

    def compute() -> tuple[drying.DryingWindow, ...]:
        solids = composition.volume_solids(run.cup(panel), desk.shelf())
        return drying.windows(film(desk, run, panel).wet_m, solids, told.celsius, told.damp, run.held(panel).air_m_s)

    return run.once(("windows", panel.id, told), compute)


def windows(desk: Desk, run: Run, panel: Panel) -> tuple[drying.DryingWindow, ...]:
    """When each stage of drying begins: by film and air, as the check-ins of all panels have moved it."""
    paces = desk.learned.paces()
    key = tuple((stage, paces[stage]) for stage in pace.LEARNED)
    return run.once(("windows moved", panel.id, air_of(desk, run, panel), key), lambda: pace.moved(physics(desk, run, panel), paces))


def causes(desk: Desk, run: Run, panel: Panel) -> risk.Causes:
    """What cracking follows from on this panel."""
    held, arm, told = run.held(panel), run.arm(panel), air_of(desk, run, panel)
    return risk.Causes(
        wet_film_m=film(desk, run, panel).wet_m,
        water_share=arm.water_share,
        evaporation_kg_m2_s=drying.evaporation_kg_m2_s(told.celsius, told.damp, held.air_m_s),
        silicone_drops=arm.silicone_drops_per_100g,
        anti_craze_share=arm.anti_craze_share,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Creep:
    """How far the film of a panel that is not level wanders before its skin holds it."""

    x_m: float
    y_m: float
    until_s: float


def creep(desk: Desk, run: Run, panel: Panel) -> Creep | None:
    """Creep of a panel by its slopes; None where nobody levelled it.

    The film's mean drifts at rho g sin(theta) h^2 / (3 mu) until the surface closes, the later end of the first window; downhill is away
    from the rise.
    """
    told = max((m for m in run.levelled if m.panel_id == panel.id), key=order, default=None)
    if told is None:
        return None
    wet, density = film(desk, run, panel).wet_m, desk.density(run, panel)
    until = windows(desk, run, panel)[0].latest_s
    thick = run.arm(panel).viscosity_pa_s
    x, y = (-films.creep_m_s(wet, math.atan(s), thick, density) * until for s in (told.slope_x, told.slope_y))
    return Creep(x_m=x, y_m=y, until_s=until)


def loss_of(desk: Desk, run: Run, panel: Panel) -> loss.Loss | None:
    """How far a panel has dried by its weight; None where it was not weighed again."""
    poured_at, poured = run.poured_at(panel), run.weight(panel, PanelWeight.POURED)
    sheet = {p.id for p in run.together(panel)}
    later = [w for w in run.panel_weighings if w.panel_id in sheet and w.kind in (PanelWeight.DRYING, PanelWeight.DRY)]
    if poured_at is None or poured is None or not later or not film(desk, run, panel).weighed:
        return None
    bare = run.weight(panel, PanelWeight.BARE) or 0.0
    seconds = [((w.at - poured_at).total_seconds(), w.mass_kg) for w in later]
    return loss.loss(poured, poured - bare, loss.volatile_share(run.cup(panel), desk.shelf()), seconds)


def began(run: Run, panel: Panel) -> cracking.Began | None:
    """When a panel began to crack, as an interval."""
    return run.began(panel)


def state(desk: Desk, run: Run, panel: Panel) -> aftercare.State:
    """What decides whether a panel may be treated."""
    poured, now = run.poured_at(panel), desk.now()
    done = {t.kind for t in run.treated if t.panel_id == panel.id and t.finished_at is not None}
    judged = any(k.panel_id == panel.id and k.due == Stage.DRY and k.feel in (None, Feel.FIRM, Feel.HARD) for k in run.looks)
    weighed = loss_of(desk, run, panel)
    dry = judged or (weighed is not None and weighed.ready)
    if not dry and poured is not None:
        through = next(w for w in windows(desk, run, panel) if w.stage is drying.DryStage.THROUGH)
        dry = (now - poured).total_seconds() >= through.latest_s and not (weighed is not None and not weighed.ready)
    shelf = {m.key: m for m in desk.shelf()}
    inside = [*run.cup(panel), *([run.held(panel).silicone] if run.arm(panel).silicone_drops_per_100g else [])]
    if run.held(panel).base_plan not in (BasePlan.NONE, BasePlan.MIST):
        inside.append(run.held(panel).base)
    return aftercare.State(
        code=panel.code,
        dry=dry,
        days=(now - poured).total_seconds() / 86_400.0 if poured is not None else 0.0,
        film_m=film(desk, run, panel).wet_m,
        silicone=run.arm(panel).silicone_drops_per_100g > 0.0 or any(shelf[n].wash_off for n in inside if n in shelf),
        washed=After.WASH in done,
        coated=bool(done & set(COATS)),
        baked=After.BAKE in done,
        unbakeable=tuple(n for n in dict.fromkeys(inside) if n != WATER and not (n in shelf and shelf[n].bakeable)),
        photographed=run.photo(panel) is not None,
        scored=run.reading(panel) is not None,
        discarded=After.DISCARD in done,
    )


def dripping(run: Run, now: datetime) -> tuple[str, ...]:
    """Codes of the panels under whose edges drops hang by now: long enough after the pour to have gathered, not yet set."""
    weighed = {w.panel_id: w.at for w in run.panel_weighings if w.kind is PanelWeight.POURED}
    return tuple(
        p.code.split("-")[-1] for p in run.in_order() if p.id in weighed and DRIPS_FROM_S <= (now - weighed[p.id]).total_seconds() <= DRIPS_TO_S
    )


def coat_at(run: Run, panel: Panel, moment: datetime) -> After | None:
    """The last coat that lay on a panel at a moment; None where it was the paint alone."""
    done = [t for t in run.treated if t.panel_id == panel.id and t.kind in COATS and t.at <= moment]
    return max(done, key=order).kind if done else None


def times_up(desk: Desk, since: datetime, until: datetime) -> list[tuple[Panel, Treated]]:
    """Treatments of all series whose time ran out between two moments."""
    found = []
    for series in desk.all_series():
        run = desk.load(series.id)
        for one in run.treated:
            panel = next((p for p in run.panels if p.id == one.panel_id), None)
            stands, passed_s = aftercare.phase(one, until)
            if panel is not None and stands is aftercare.Phase.UP and passed_s < (until - since).total_seconds():
                found.append((panel, one))
    return found


def passed(desk: Desk, run: Run, panel: Panel) -> tuple[str, ...]:
    """What a panel has passed since it dried, for its sheet."""
    cups = [t.stuck for t in run.treated if t.panel_id == panel.id and t.kind is After.HOT_CUP and t.stuck is not None]
    return aftercare.fitness(state(desk, run, panel), str(cups[-1]) if cups else "")
