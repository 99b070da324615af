"""Figures of the computing rooms on grids of plain numbers, for what the demo's notebook does not lead to (see kept.py)."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import partial
from itertools import product
from typing import TYPE_CHECKING, Any

import numpy as np

from dribbet.lab.cup import bottles, dosing, house_mix, house_rules, overturning, parts, recipe, repair, resting
from dribbet.lab.paint import consistency, containers, costs, density, experience, flow_scale, measures
from dribbet.lab.panel import aftercare, air, cracking, drying, film, landing, loss, pouring, progress, risk
from dribbet.lab.plan import amounts, axes, basis, design, factors, goals, layouts, next_pour, planning, power
from dribbet.lab.verdict import causes, effects, exact, pooled, preference, scoring
from dribbet.records import (
    Aim,
    Basis,
    Check,
    CheckKind,
    Climate,
    Constants,
    DribbetError,
    DropsBy,
    HomeCup,
    HouseRules,
    Ingredient,
    Recipe,
    Response,
    Technique,
    Wanted,
)
from dribbet.records.climate import ReadBy
from tests.kept_constants import constants_of

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk

AT = datetime(2026, 11, 2, 9, 0, tzinfo=UTC)


def tried(ask: Any) -> Any:
    """An answer, or that it is refused."""
    try:
        return ask()
    except (DribbetError, LookupError, ValueError, ZeroDivisionError) as error:
        return f"refused: {type(error).__name__}"


def laid_out(_: Desk) -> Any:
    """Designs, halvings, orders, racks, regions."""
    told = {n: layouts.regions(n, 0.2, 0.15) for n in (2, 3, 4, 6)}
    return {
        "every": [layouts.every(s) for s in ((2, 3), (2, 2, 2))],
        "halvings": [layouts.most_halvings(s) for s in ((2, 2), (2, 2, 2), (2,) * 5, (3, 2))],
        "halves": [layouts.fraction((2,) * n, h) for n, h in ((3, 1), (4, 1), (5, 2))],
        "order": [layouts.pouring_order([1, 1, 2, 2, 2], s) for s in (1, 2, 3)],
        "rack": [layouts.rack_places(7, s) for s in (1, 2)],
        "regions": {n: [b, layouts.left_out_share(b, 0.2, 0.15, 0.01), layouts.neighbours(b)] for n, b in told.items()},
        "inner": [layouts.inner(b, 0.2, 0.15, 0.012) for b in told[4]],
    }


def dried(_: Desk) -> Any:
    """Air, film and time."""
    films, damp = (0.8e-3, 1.5e-3, 2.4e-3), (0.3, 0.55, 0.8)
    room = [Climate(id=str(i), at=AT + timedelta(hours=5 * i), celsius=18.0 + 2 * i, damp=0.4 + 0.07 * i, by=next(iter(ReadBy))) for i in range(4)]
    intervals = [cracking.Began(from_h=a, until_h=b) for a, b in ((2.0, 6.0), (4.0, 9.0), (5.0, 7.0), (12.0, None))]
    weights = [(h * 3600.0, 0.4120 + 0.0312 * np.exp(-h / 9.0)) for h in (1, 3, 7, 14, 25, 40)]
    return {
        "pressure": [drying.saturation_pressure_hpa(c) for c in (5.0, 20.0, 33.0)],
        "evaporation": [drying.evaporation_kg_m2_s(c, h, v) for c in (15.0, 25.0) for h in damp for v in (0.05, 0.4)],
        "diffusion": [drying.diffusion_time_s(f, 2e-11) for f in films],
        "windows": [drying.windows(f, s, 21.0, h, 0.1) for f in films for s in (0.25, 0.45) for h in damp],
        "risk": [
            drying.crack_risk(wet_film_m=f, water_share=w, evaporation_kg_m2_s=e, silicone_drops=d, anti_craze_share=a)
            for f in films
            for w in (0.0, 0.2)
            for e in (2e-5, 9e-5)
            for d, a in ((0.0, 0.0), (3.0, 0.02))
        ],
        "skin": [drying.skin_number(f, 3e-8) for f in films],
        "hours": [tried(partial(drying.hours_of, n)) for n in ("10 h", "3 d", "24 h", "dry", "no look")],
        "starting": risk.fit([]),
        "median": cracking.turnbull_median_h(intervals),
        "air": [air.over(room, AT + timedelta(hours=a), AT + timedelta(hours=b), 20.0, 0.5) for a, b in ((0, 24), (2, 9), (30, 60))],
        "loss": [tried(partial(loss.loss, 0.4432, 0.0612, 0.52, weights[:n])) for n in (0, 1, 3, 4, 6)],
        "cured": [aftercare.cured_days(f) for f in films],
    }


def films(_: Desk) -> Any:
    """Films, areas and what is poured onto them."""
    held = Constants()
    return {
        "wet": [film.wet_film_m(kg, 1200.0, a) for kg in (0.04, 0.09) for a in (0.03, 0.06)],
        "dry": film.dry_film_m(1.7e-3, 0.32),
        "zones": [film.zone(t * 1e-4) for t in range(1, 40)],
        "creep": film.creep_m_s(1.8e-3, 0.01, 0.7, 1210.0),
        "area": [amounts.covered_area_m2(0.2, 0.15, s, o) for s in (0.0, 0.015) for o in type(held.outline)],
        "face": amounts.face_m2(held),
        "depths": {str(t): tried(lambda t=t: amounts.poured_depth_m(t, held.base)) for t in Technique},
        "suggested": amounts.suggested_poured_kg(held, 1200.0),
        "base": amounts.base_m3(held),
        "loss": amounts.with_loss(0.1, held),
        "ways": {str(t): [tried(lambda t=t: pouring.planned(replace(held, technique=t)))] for t in Technique},
        "stages": [progress.stage_at(h) for h in (0.2, 5.0, 13.0, 23.0, 30.0, 49.0, 80.0, 200.0, 700.0)],
    }


def flows(desk: Desk) -> Any:
    """Viscosities, yields, grades, rests."""
    rules = HouseRules()
    cup = HomeCup(name="yoghurt cup", points=((11.0, 4e-4), (31.0, 1.3e-3), (70.0, 3.2e-3)))
    two = HomeCup(name="tin", points=((11.0, 4e-4), (70.0, 3.2e-3)))
    kinds = ((CheckKind.MOUND, 2.5), (CheckKind.DRIP, 0.05), (CheckKind.SLUMP, 0.09), (CheckKind.RING, 3.0), (CheckKind.STREAM, 2.0))
    checks = [Check(id=str(i), mix_id="m", kind=k, value=v, at=AT, seconds=30.0) for i, (k, v) in enumerate(kinds)]
    return {
        "cups": {
            str(c): [tried(partial(lambda c, t: float(consistency.kinematic_viscosity_m2_s(t, c)), c, t)) for t in (25.0, 40.0, 75.0)]
            for c in consistency.FlowCup
        },
        "drip": [consistency.drip_viscosity_m2_s(run, volume_m3=1e-7, width_m=5e-3, time_s=60.0) for run in (0.03, 0.06)],
        "puddle": consistency.puddle_yield_stress_pa(1e-6, 0.012, 1250.0),
        "grades": [consistency.grade(s / 2) for s in range(1, 30)],
        "log mix": consistency.log_mixed_viscosity_pa_s({"paint": 0.4, "medium": 0.5, "water": 0.1}),
        "home": [tried(partial(flow_scale.home_cup_viscosity_m2_s, s, c)) for s in (9.0, 11.0, 20.0, 45.0) for c in (cup, two)],
        "slump": flow_scale.slump_viscosity_m2_s(0.09, volume_m3=8e-6, seconds=30.0),
        "checks": [tried(partial(flow_scale.viscosity_pa_s, c, density_kg_m3=1230.0, rules=rules)) for c in checks],
        "sd": [tried(partial(flow_scale.sd_ln, c)) for c in checks],
        "mean": flow_scale.mean_of([2.0, 2.5, 3.3]),
        "house grades": [house_rules.grade_of(s / 2, rules) for s in range(1, 24)],
        "windows": {str(t): house_rules.window(t, rules) for t in Technique},
        "ways": [house_rules.techniques_for(list(g), rules) for g in ((2, 2, 3), (3,), (1, 4, 4, 4, 4, 4), (5, 5))],
        "rest": resting.rest_of(mass_kg=0.12, density_kg_m3=1220.0, viscosity_pa_s=0.8, bubble_m=2.5e-4, cup_radius_m=0.03, since=AT, checked=True),
        "bubbles": density.bubble_rest_s(3e-4, 0.8, 1200.0, 0.04),
        "joints": density.overturning_joints([1100.0, 1400.0, 1380.0, 1150.0, 1300.0]),
        "waves": [density.fastest_wavelength_m(d, 0.004) for d in (50.0, 300.0)],
        "growth": [density.growth_rate_per_s(d, 0.004, 1.6e-3, 0.9) for d in (50.0, 300.0)],
    }


def cups(desk: Desk) -> Any:
    """Doses, parts, repairs, house mixes, bottles, money."""
    shelf, gaugings = desk.shelf(), desk.gaugings()
    some = {"paint": 0.04, "medium": 0.052, "water": 0.011}
    wanted = {"paint": 0.36, "medium": 0.54, "water": 0.10}
    mixed = Recipe(
        basis=Basis.VOLUME,
        ingredients=(
            Ingredient(name="a", parts=2.0, density_kg_m3=1300.0, volume_solids=0.4),
            Ingredient(name="b", parts=3.0, density_kg_m3=1050.0),
            Ingredient(name="water", parts=1.0),
        ),
    )
    flat = recipe.flatten(mixed)
    return {
        "doses": [dosing.dosing(a, kg, by) for a, kg, by in product((0.5, 2.0, 4.0), (0.02, 0.06, 0.15), DropsBy)],
        "mg": dosing.mg_per_100g(3.0, 2.9e-5),
        "repair": [repair.repair(some, wanted), repair.repair(some, wanted, capacity_kg=0.11), repair.repair({**some, "silicone": 1e-4}, wanted)],
        "take out": repair.take_out_first(some, wanted, 0.103),
        "to mass": parts.converted({"a": 1.0, "b": 2.0}, {"a": 1300.0, "b": 1050.0}, have=Basis.VOLUME, want=Basis.MASS),
        "to one": parts.to_one({"a": 4.0, "b": 6.0}, "a"),
        "percent": parts.percentages({"a": 4.0, "b": 6.0, "c": 1.0}),
        "rounded": parts.rounded({"a": 0.01234, "b": 0.04567, "c": 0.0002}, 1e-4),
        "scaled": parts.scaled_to_paint({"a": 0.01, "b": 0.02}, "a", 0.03),
        "flat": flat,
        "density": recipe.mix_density_kg_m3(flat),
        "solids": recipe.volume_solids(flat),
        "alcohol": [recipe.final_alcohol_share(0.05, s) for s in (0.7, 0.99)],
        "dose": recipe.dose_mg_per_100g(3.0, 2.9e-5, 0.06),
        "lost": recipe.water_lost_kg(0.4, 0.38, 0.05),
        "raw": [tried(partial(house_mix.raw, {m.key: 0.1}, shelf)) for m in shelf if m.made_of],
        "tint": [tried(partial(house_mix.tint_share, m, shelf)) for m in shelf],
        "bottles": [bottles.code_for(n) for n in (0, 1, 25, 26, 30, 700)],
        "leftover": bottles.leftover([({"foam": 0.5, "water": 0.5}, 0.02), ({"foam": 1.0}, 0.01)], shelf),
        "units": {m.name: {u: tried(partial(measures.one, u, m, gaugings)) for u in measures.UNITS} for m in shelf},
        "prices": {
            m.name: [
                tried(partial(costs.price_per_kg, m, shelf)),
                tried(partial(costs.packs_of, m)),
                tried(partial(costs.drops_left, m, gaugings)),
                tried(partial(costs.pours_left, m, 0.03)),
            ]
            for m in shelf
        },
        "panel": costs.of_panel(14.0, mixed_kg=0.12, on_panel_kg=0.07, kept_kg=0.02),
        "filled": [containers.density_of_fillings([0.01222, 0.01224, 0.01221], 0.0), containers.density_sd([0.01222, 0.01224, 0.01221], 0.0)],
        "body": [containers.body_of(d, sample_kg=5e-3, density_kg_m3=1200.0) for d in (0.03, 0.045, 0.07, 0.1)],
        "own gauge": {m.name: tried(partial(containers.to_check, m, gaugings)) for m in shelf},
    }


def turned_over(desk: Desk) -> Any:
    """Wet layers turning over, and what colours show."""
    wet = [
        overturning.Wet(thick_m=t, density_kg_m3=d, viscosity_pa_s=v) for t, d, v in ((4e-4, 1080.0, 0.8), (5e-4, 1320.0, 0.6), (6e-4, 1150.0, 1.1))
    ]
    stack = overturning.Stack(wet, shape=(1, 64), width_m=0.05, seed=3)
    told: dict[str, Any] = {"growth": stack.growth(), "step": stack._step_wanted()}
    for _ in range(2):
        stack.run(20.0)
        told[f"after {stack.time_s:.0f} s"] = [stack.shares(), stack.h.min(axis=(1, 2)), stack.h.max(axis=(1, 2))]
    told["score"] = landing.score({"a": 0.4, "b": 0.6}, {"a": 0.5, "b": 0.3, "c": 0.2})
    return told


def planned(_: Desk) -> Any:
    """What tests can show, factors and their axes, goals, the next pour."""
    known = power.Scatter(sd=9.0, df=8, mean=60.0, dispersion=1.6, panels=12, sources=("x",))
    levels = {f: n.start for f, n in factors.NATURES.items()}
    curve = (
        next_pour.Along(levels=(-1.0, 0.0, 1.0), others=(-0.5, 0.5, 1.5)),
        [[-1.0], [-1.0], [0.0], [0.0], [1.0], [1.0]],
        [next_pour.Sought(values=(20.0, 24.0, 41.0, 38.0, 30.0, 33.0), more=True, sd=3.0)],
    )
    aims = (Aim(response=Response.CELL_COUNT, weight=2.0, low=20.0, high=40.0), Aim(response=Response.SPREAD, weight=1.0))
    return {
        "means": [power.power_of_means(d, 1.0, n, 2 * n - 2, q, r) for d in (1.0, 2.5) for n in (2, 3, 6) for q in (1, 3) for r in (None, n)],
        "counts": [power.power_of_counts(40.0, b, n, 1.8, 2 * n - 2, q) for b in (55.0, 80.0) for n in (2, 4) for q in (1, 3)],
        "lengths": [power.power_of_lengths(100.0, b, n, 30.0, 2 * n - 2, q, n) for b in (200.0, 500.0) for n in (2, 4) for q in (1, 3)],
        "shares": [power.power_of_shares(0.6, b, n, 0.08, 0.7, 2 * n - 2, q, n) for b in (0.7, 0.9) for n in (2, 4) for q in (1, 3)],
        "yes or no": [power.power_of_yes_no(0.1, b, n, q) for b in (0.5, 0.9) for n in (3, 6) for q in (1, 3)],
        "show": [tried(lambda m=m, n=n: power.can_show(m, known, n, 2 * n - 2, questions=2, repeats=n)) for m in power.Model for n in (2, 4)],
        "starts": {str(f): s for f, s in levels.items()},
        "handy": {str(f): [tried(partial(axes.handy, f, v)) for v in (0.123, 1.234, 12.34)] for f in factors.NATURES},
        "axes": {str(f): [tried(lambda f=f, v=v: axes.axis_of(f).back(axes.axis_of(f).to(v))) for v in (0.1, 0.4)] for f in factors.NATURES},
        "outlook": next_pour.outlook([curve[0]], curve[1], curve[2]),
        "places": next_pour.places((-1.0, 0.0, 1.0), -2.0, 3.0),
        "aims": [goals.desirability(v, a, w, (10.0, 60.0)) for v in (5.0, 18.0, 30.0, 45.0, 70.0) for a in aims for w in Wanted],
        "unbeaten": goals.unbeaten({"a": (1.0, 2.0), "b": (2.0, 2.0), "c": (0.5, 3.0), "d": (1.0, 3.0)}),
        "base": [design.default_layers(("a", "b")), planning.base_fractions(Constants())],
        "equal": str(basis.Equal.RECIPE),
    }


def judged(_: Desk) -> Any:
    """Exact tests, effects, pooling, preference, points, causes."""
    y = np.array([4.1, 4.4, 5.0, 5.6, 3.9, 4.2, 6.1, 6.6])
    design_ = {"A": list("11221122"), "B": list("11112222")}
    picks = [
        preference.PairSeen(left=a, right=b, liked=k)
        for a, b, k in (("a", "b", -1), ("a", "c", 1), ("b", "c", 0), ("a", "b", -1), ("c", "a", -1), ("b", "c", 1)) * 3
    ]
    given = [scoring.Given(panel=p, points=n) for p, n in (("a", 3), ("b", 5), ("c", 2), ("a", 4), ("c", None))]
    tests = [pooled.Shown(difference=d, low=d - w, high=d + w, real=abs(d) > w) for d, w in ((4.0, 3.0), (6.5, 2.0), (1.0, 4.0))]
    return {
        "exact": [
            exact.hypergeometric(4, 5, 6),
            exact.stratified([(3, 5, 1, 5), (4, 6, 2, 6)]),
            exact.fisher_p(5, 6, 1, 6),
            exact.unlike_strata((3, 4, 1, 4), (1, 4, 3, 4)),
        ],
        "ranks": exact.log_rank_scores(np.array([3.0, 5.0, 5.0, np.inf, 9.0])),
        "effects": [effects.effects(y, design_, interactions=i) for i in (False, True)],
        "anova": effects.anova(y, [a + b for a, b in zip(design_["A"], design_["B"], strict=True)]),
        "pooled": [pooled.pool(tests), pooled.pool(tests[:2]), pooled.pool(tests[:1]), pooled.strength(tests)],
        "liked": [
            tried(lambda: preference.strengths(picks)),
            tried(lambda: preference.between(picks)),
            preference.any_p(picks),
            preference.sign_p(7, 2),
        ],
        "pairs": preference.pairs_of({"a": ["a1", "a2"], "b": ["b1", "b2"], "c": ["c1"]}, 4),
        "repeated": preference.repeated([("a", "b", 1), ("b", "a", -1), ("a", "b", -1)]),
        "points": [
            scoring.firsts(given),
            scoring.repeats(given),
            scoring.averaged([scoring.firsts(given), {"a": 5, "b": 1}]),
            scoring.goes_with({"a": 1.0, "b": 2.0, "c": 4.0, "d": 3.0}, {"a": 2.0, "b": 1.0, "c": 9.0, "d": 5.0}),
        ],
        "order": scoring.order_of(["a", "b", "c"], ["cells", None], 3),
        "causes": {
            str(s): causes.ranked(s, dict.fromkeys(causes.Trait, 3.0), [dict.fromkeys(causes.Trait, v) for v in (1.0, 1.2, 0.9, 1.4)])
            for s in causes.Symptom
        },
        "seen": [experience.COUNTS_FROM],
    }


def constants(_: Desk) -> Any:
    """Tables and thresholds of the computing rooms."""
    return constants_of("dribbet.lab", "dribbet.studio.standing")


GRIDS = {
    "constants": constants,
    "laid out": laid_out,
    "dried": dried,
    "films": films,
    "flows": flows,
    "cups": cups,
    "wet layers": turned_over,
    "shows": planned,
    "judges": judged,
}
