"""Figures that the demo's notebook leads to, station by station, kept in tests/reference/studio.json.gz.

They are no truth of their own: other tests hold values against hand-worked and published ones. These notice that a figure which nobody
meant to change has changed. Renewed after a change that was meant: `python -m tests.studio.kept` prints what is otherwise, to be read line by line.
"""

from __future__ import annotations

import gzip
import json
import math
import re
import tempfile
from collections.abc import Callable, Mapping, Sequence
from dataclasses import fields, is_dataclass, replace
from datetime import datetime, timedelta
from enum import Enum
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from dribbet.lab.panel import progress
from dribbet.lab.plan import aliases, basis, confounding, control, day_plan, design, pieces, planning, sizes, stops, templates
from dribbet.lab.verdict import rehearse
from dribbet.lab.verdict.judge import POWER
from dribbet.records import Mix, Response, SeriesState, StepMark, Weighing
from dribbet.studio.desk import Desk
from dribbet.studio.standing import (
    causes,
    contents,
    cups,
    differs,
    findings,
    how_made,
    looks,
    next_pour,
    panel_costs,
    panels,
    pots,
    rehearsal,
    shelf,
    today,
    turning,
    verdict,
)
from tests.studio.kept_bench import asked, beside_the_card, in_the_cup
from tests.studio.kept_grids import GRIDS
from tests.studio.kept_people import asked_of_people
from tests.studio.kept_upset import SEEDS, beside, tried, upset

KEPT = Path(__file__).parents[1] / "reference" / "studio.json.gz"
DIGITS = 7
BESIDE = {"id", "number", "panel_id", "mix_id", "series_id", "photo_id", "sha256", "record", "outlines", "items"}
"""What says which, not how much."""
DRAWN_ID = re.compile(r"[0-9a-f]{32}\Z")
CODES = ("K2", "K3", "K4", "D1", "B2", "H1", "S1", "E1")


def plain(x: Any) -> Any:
    """Anything as what JSON can hold, figures to seven digits."""
    if isinstance(x, Enum):
        return str(x)
    if isinstance(x, str):
        return "some id" if DRAWN_ID.match(x) else x
    if isinstance(x, bool) or x is None:
        return x
    if isinstance(x, (int, np.integer)):
        return int(x)
    if isinstance(x, (float, np.floating)):
        return float(f"{float(x):.{DIGITS}g}") if math.isfinite(x) else str(x)
    if isinstance(x, datetime):
        return x.isoformat(timespec="seconds")
    if isinstance(x, timedelta):
        return plain(x.total_seconds())
    if isinstance(x, np.ndarray):
        return plain(x.tolist())
    if is_dataclass(x):
        return {f.name: plain(getattr(x, f.name)) for f in fields(x) if f.name not in BESIDE and not f.name.startswith("_")}
    if isinstance(x, Mapping) and any(DRAWN_ID.match(str(k)) for k in x):
        return [plain(v) for v in x.values()]
    if isinstance(x, Mapping):
        return {str(k): plain(v) for k, v in x.items() if k not in BESIDE}
    if isinstance(x, (set, frozenset)):
        return sorted((plain(v) for v in x), key=str)
    if isinstance(x, Sequence):
        return [plain(v) for v in x]
    return str(type(x).__name__)


def desk_of(folder: Path, now: datetime) -> Desk:
    """The demo's notebook at a moment that stands."""
    from dribbet.notebook import open_notebook

    return Desk(open_notebook(folder), lambda: now)


def _series(desk: Desk, code: str) -> Any:
    found = next(s for s in desk.all_series() if s.code == code)
    desk.choose_series(found.id)
    return found


def planned(desk: Desk, code: str) -> Any:
    """What a plan asks for: recipes, cups, what it needs and costs, what it can show, what it mixes up, its days."""
    series = _series(desk, code)
    run = desk.need_run()
    numbers = iter(range(10_000))
    recipes = design.arms(series)
    prices = dict(planning.prices_per_kg(desk.shelf()))
    rows, levels = [a.settings for a in recipes if a.extra is None], [len(v.levels) for v in series.varied]
    mixes = planning.mixes(series, lambda: str(next(numbers)))
    pace_ = day_plan.paces(desk.notebook.all(Mix), desk.notebook.all(Weighing), desk.notebook.all(StepMark))
    return {
        "arms": recipes,
        "poured": {a.letter: [planning.poured_kg(series, a), stops.film_needs_kg(a), stops.rough_density_kg_m3(a)] for a in recipes},
        "batches": planning.batches(series),
        "mixes": mixes,
        "demand": planning.demand(series, desk.shelf()),
        "cost": planning.cost(planning.demand_kg(mixes), desk.shelf()),
        "standings": [basis.standing(a, prices) for a in recipes],
        "equal": {str(e): tried(lambda e=e: basis.equalised(recipes, e, prices)) for e in type(series.equal)},
        "panels": design.panels(series, lambda: str(next(numbers))),
        "pieces": [(pieces.area_m2(run.held and next(a for a in recipes if a.letter == p.recipe), p), run.size_mm(p)) for p in run.panels],
        "stops": stops.stops(series),
        "controls": control.missing(series),
        "confounds": confounding.confounds(series, recipes),
        "aliases": aliases.aliases(rows, levels) if rows and levels else None,
        "shows": {str(r): sizes.shows(series, recipes, desk.learned.scatter(r)) for r, _ in series.responses},
        "offers": sizes.offers(series, desk.learned.scatter(series.responses[0][0])),
        "enough": sizes.enough_repeats(series, desk.learned.scatter(series.responses[0][0])),
        "wanted": sizes.repeats_for(series, recipes, desk.learned.scatter(series.responses[0][0]), 30.0, POWER),
        "asked": asked(desk, run),
        "days": day_plan.plan(
            series,
            recipes,
            len(mixes),
            pace=pace_,
            sitting_s=5400.0,
            rack_slots=12,
            rack_taken=3,
            begins=desk.now().replace(hour=9),
            waking=run.waking,
        ),
    }


def weighed(desk: Desk, code: str) -> Any:
    """What the cups hold, want and cost, how pots stand and match, how long they rest."""
    _series(desk, code)
    run = desk.need_run()
    return {
        "arms": run.actual_arms,
        "cups": [
            {
                "held": cups.held(run, m),
                "filling": cups.filling_of(desk, run, m),
                "drop": cups.drop_kg(desk, run, m),
                "room": cups.capacity_kg(desk, m),
                "open": cups.open_minutes(desk, run, m),
                "out": cups.taking_out_kg(desk, m),
                "pot": pots.pot_of(desk, run, m),
                "rest": pots.rest_of(desk, run, m),
                "mound": progress.mound_s(m, run.checks),
                "contents": in_the_cup(desk, run, m),
            }
            for m in run.mixes
        ],
        "batches": cups.all_batches(run),
        "care": contents.care(run),
        "groups": {g: [pots.verdict(desk, run, g), pots.standing(desk, run, g), *beside_the_card(desk, run, g)] for g in pots.groups(run)},
        "costs": panel_costs.of_recipes(desk, run, "".join(a.letter for a in run.arms)),
    }


def poured(desk: Desk, code: str) -> Any:
    """Films, drying, risk of cracks, creep, loss, way and steps of each panel."""
    _series(desk, code)
    run, told = desk.need_run(), desk.learned.risk()
    return {
        p.code: {
            "film": panels.film(desk, run, p),
            "base": panels.base_kg(desk, run, p),
            "air": panels.air_of(desk, run, p),
            "physics": panels.physics(desk, run, p),
            "windows": panels.windows(desk, run, p),
            "causes": (c := panels.causes(desk, run, p)),
            "risk": told.of(c) if hasattr(told, "of") else None,
            "creep": panels.creep(desk, run, p),
            "loss": panels.loss_of(desk, run, p),
            "began": panels.began(run, p),
            "state": panels.state(desk, run, p),
            "plan": panels.planned_of(run, p),
            "progress": panels.progress_of(run, p),
            "made": how_made.figures_of(desk, run, p),
            "held": pots.held_back(desk, run, p),
            "cup": run.cup(p),
            "station": run.station(p, desk.now()),
        }
        for p in run.in_order()
    } | {"looks": run.due_looks(desk.now())}


def judged(desk: Desk, code: str) -> Any:
    """Every answer, with and without what moved along; what else differed; what is poured next."""
    _series(desk, code)
    run = desk.need_run()
    told = verdict.shown(desk, run)
    letters = "".join(a.letter for a in run.arms)
    half = max(len(letters) // 2, 1)
    return {
        "answers": told.answers,
        "plain": told.plain,
        "moved": told.moved,
        "odd": told.odd,
        "figures": {str(r): [(p.code, v) for p, v in verdict.figures(told, r)] for r, _ in run.series.responses},
        "noise": {str(r): [verdict.noise(told, r), *verdict.noise_from(desk, run, r)] for r, _ in run.series.responses},
        "differs": [
            (b.about, b.codes, b.names, b.values, b.changes)
            for b in differs.beside(desk, run, differs.Sides(first=letters[:half], second=letters[half:]))
        ],
        "next": next_pour.proposed(desk, run),
        "why": {p.code: [(s, causes.diagnosis(desk, run, p, s)) for s in causes.symptoms(desk, run, p)] for p in run.in_order() if run.reading(p)},
    }


def rehearsed(desk: Desk, code: str) -> Any:
    """What a rehearsal of a plan starts from, and one made-up test of it."""
    found = rehearsal.rehearsal(desk, _series(desk, code))
    if found is None:
        return None
    return found, rehearse.one(found.plan, found.responses, found.effect, found.factor, found.ends, 5)


def learned(desk: Desk) -> Any:
    """What the whole notebook has taught, and what stands on the shelf."""
    all_ = desk.learned
    lines = sorted({told.line for told in all_._tellers_all()})
    shares = {"paint": 0.4, "medium": 0.5, "water": 0.1}
    return {
        "scatter": {str(r): all_.scatter(r) for r in Response},
        "noise": {str(r): all_.noise(r, 3.0) for r in Response if r not in (Response.CRACKED, Response.FIRST_CRACK)},
        "risk": all_.risk(),
        "paces": all_.paces(),
        "rescues": all_.rescues(),
        "past": all_.past_mixes(),
        "lines": {
            f"{paint} in {medium}": {
                "figures": line.figures_pa_s,
                "ln": line.ln_viscosity(shares),
                "share": tried(partial(line.water_share_for, 0.6, medium_to_paint=1.5)),
                "grade": [tried(partial(line.water_per_grade_m3, g, whole_m3=2e-4, medium_to_paint=1.5)) for g in (2, 3, 4)],
                "thin": tried(partial(line.to_thin_m3, {"paint": 8e-5, "medium": 1e-4, "water": 2e-5}, -0.3, sd=0.1)),
                "thick": tried(partial(line.to_thicken_m3, {"paint": 8e-5, "medium": 1e-4, "water": 2e-5}, 0.2, sd=0.1)),
                "stiff": tried(partial(line.to_stiffen_m3, {"paint": 8e-5, "medium": 1e-4, "water": 2e-5}, 0.3, 1.2, sd=0.1)),
                "thinnest": line.thinnest_pa_s(),
            }
            for paint, medium in lines
            for line in [all_.line(paint, medium)]
        },
        "shelf": [shelf.container(desk, m) for m in shelf.materials(desk)],
        "bottles": [shelf.bottle(desk, b) for b in shelf.stored(desk)],
        "low": [m.name for m in shelf.running_low(desk)],
        "claims": findings.claims(desk),
        "due": [(d.__class__.__name__, plain(d)) for d in today.due(desk)],
        "ahead": looks.ahead(desk),
    }


def kinds_of_test(desk: Desk) -> Any:
    """Every kind of test, filled with the demo's shelf."""
    base = _series(desk, "E1")
    made = {}
    for template in templates.TEMPLATES:
        series = tried(lambda t=template: templates.filled(t, replace(base, state=SeriesState.PLANNED), desk.shelf()))
        if isinstance(series, str):
            made[template.key] = series
            continue
        recipes = tried(lambda s=series: design.arms(s))
        made[template.key] = {
            "varied": series.varied,
            "layout": series.layout,
            "repeats": series.repeats,
            "constants": series.constants,
            "layers": series.layers,
            "arms": recipes,
            "stops": tried(lambda s=series: stops.stops(s)),
            "batches": tried(lambda s=series: planning.batches(s)),
            "mended": tried(lambda s=series: templates.mended(s)),
            "confounds": tried(lambda s=series, r=recipes: confounding.confounds(s, r)),
        }
    return made


def turned_over(desk: Desk) -> Any:
    """How colours lie in the cups, and what they would show."""
    made = {}
    for code in ("K4", "D1"):
        _series(desk, code)
        run = desk.need_run()
        arm = run.arms[0]
        told = turning.cup(desk, run, arm)
        stack = told.stack if hasattr(told, "stack") else None
        made[code] = {
            "densities": turning.densities_of(desk, arm),
            "viscosities": turning.viscosities_of(desk, run, arm),
            "lies": turning.lies(desk, arm),
            "cup": told if stack is None else plain(told),
        }
    return made


OF_A_TEST: dict[str, Callable[[Desk], Any]] = {
    f"{name} {code}": partial(ask, code=code)
    for name, ask in (("weighed", weighed), ("poured", poured), ("judged", judged), ("beside", beside))
    for code in CODES
}
SECTIONS: dict[str, Callable[[Desk], Any]] = {
    **{f"planned {code}": partial(planned, code=code) for code in CODES},
    **OF_A_TEST,
    **{f"rehearsed {code}": partial(rehearsed, code=code) for code in ("K4", "E1", "D1")},
    "learned": learned,
    "kinds of test": kinds_of_test,
    "turned over": turned_over,
    "asked of people": asked_of_people,
    **{f"upset by {seed}": partial(upset, sections=OF_A_TEST | {"learned": learned}, plain=plain, seed=seed) for seed in SEEDS},
    **GRIDS,
}


def apart(was: Any, now: Any, path: str = "") -> list[str]:
    """Where two answers differ by more than rounding."""
    if isinstance(was, dict) and isinstance(now, dict):
        if was.keys() != now.keys():
            return [f"{path}: {sorted(was.keys() ^ now.keys())} are on one side only"]
        return [line for k in was for line in apart(was[k], now[k], f"{path}/{k}")]
    if isinstance(was, list) and isinstance(now, list):
        if len(was) != len(now):
            return [f"{path}: {len(was)} were, {len(now)} are"]
        return [line for i, (a, b) in enumerate(zip(was, now, strict=True)) for line in apart(a, b, f"{path}[{i}]")]
    if isinstance(was, (int, float)) and isinstance(now, (int, float)) and not isinstance(was, bool):
        return [] if math.isclose(was, now, rel_tol=2e-5, abs_tol=1e-11) else [f"{path}: {was} was, {now} is"]
    return [] if was == now else [f"{path}: {was!r} was, {now!r} is"]


def kept() -> dict[str, Any]:
    """What was so when it was written."""
    content: dict[str, Any] = json.loads(gzip.decompress(KEPT.read_bytes()))
    return content


def main() -> None:
    """Write what is so now."""
    from dribbet.demo.build import build_notebook
    from tests.conftest import NOW

    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "Tidewrack.dribbet"
        build_notebook(folder, NOW)
        desk = desk_of(folder, NOW)
        made = {name: plain(ask(desk)) for name, ask in SECTIONS.items()}
    for line in apart(kept(), made) if KEPT.exists() else []:
        print(line)
    KEPT.write_bytes(gzip.compress(json.dumps(made, separators=(",", ":"), ensure_ascii=False).encode(), mtime=0))


if __name__ == "__main__":
    main()
