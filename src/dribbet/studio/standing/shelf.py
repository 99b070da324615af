"""What is known of each container and bottle: facts as numbers and names, no words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles, house_rules
from dribbet.lab.paint import containers, costs, experience, flow_scale, survey
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S
from dribbet.lab.paint.learning import start_ratio
from dribbet.lab.plan import planning
from dribbet.records import Bottle, BottleWeighing, Factor, GaugingKind, Grade, Kind, Material, Survey, latest

if TYPE_CHECKING:
    from dribbet.lab.cup.bottles import Stand
    from dribbet.lab.paint.containers import Body
    from dribbet.lab.paint.costs import PackWorth
    from dribbet.lab.paint.experience import Experience
    from dribbet.lab.paint.learning import Estimate, StartRatio
    from dribbet.lab.paint.survey import SurveyRow
    from dribbet.records import Gauging, Technique
    from dribbet.studio.desk import Desk

ORDER: Final = (Kind.PAINT, Kind.SHIMMER, Kind.BASE, Kind.MEDIUM, Kind.HOUSE_MIX, Kind.THINNER, Kind.ADDITIVE)
RUNNING_LOW: Final = 0.25  # of a full container
FLIP_CUP_GRADE: Final = 3  # medium: what a start ratio is told for
A_MIX_M3: Final = 100e-6  # the whole that a step of water is told for
USUAL_DROP_KG: Final = 2.9e-5
DOSES: Final = (GaugingKind.DROP, GaugingKind.TEASPOON, GaugingKind.SQUIRT, GaugingKind.PEA)


@dataclass(frozen=True, slots=True, kw_only=True)
class Start:
    """Where to begin with a paint: from its own line, for the grade of a flip cup."""

    medium: str
    medium_to_paint: float
    """By mass, the mean of its cups."""
    share: Estimate
    """Of water, by volume."""
    found: StartRatio | None
    step_m3: Estimate
    """Water that takes `A_MIX_M3` from thick to medium."""
    thinnest: int
    """Grade that no mix passes without a thinner."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Panels:
    """What measured panels say."""

    own: Experience
    grade: Experience | None = None
    tried: tuple[tuple[str, Experience], ...] = ()
    """Other containers of its kind, by key."""
    untried: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Money:
    """What it costs and how long it lasts."""

    per_kg: float = 0.0
    per_m3: float = 0.0
    per_dry_m3: float | None = None
    packs: tuple[PackWorth, ...] = ()
    large_pays_from_kg: float | None = None
    drops: int | None = None
    pours: int | None = None
    per_pour_kg: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class ContainerStanding:
    """Everything that is known of a container beyond its card."""

    material: Material
    to_check: tuple[GaugingKind, ...]
    density: Gauging | None
    density_sd: float
    disc: Gauging | None
    body: Body | None
    doses: tuple[Gauging, ...]
    start: Start | None
    panels: Panels
    money: Money


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleStanding:
    """How a bottle stands, and what it may be used for."""

    bottle: Bottle
    stand: Stand
    age_d: float
    origin: str
    """Name of its series; empty where there is none."""
    fits: tuple[Technique, ...] | None
    """Ways of pouring at its thickness; None where that is not known."""

    @property
    def old(self) -> bool:
        """Whether it may have spoilt."""
        return self.age_d > bottles.SPOILS_AFTER_D


def materials(desk: Desk) -> list[Material]:
    """Containers by what they are used as."""
    return sorted(desk.shelf(), key=lambda m: ORDER.index(m.kind))


def stored(desk: Desk) -> list[Bottle]:
    """Bottles that still hold something, oldest first."""
    return [b for b, _ in bottles.use_first(desk.notebook.all(Bottle), desk.now())]


def to_measure(desk: Desk) -> list[Material]:
    """Containers of which a measurement is older than their lot."""
    gaugings = desk.gaugings()
    return [m for m in materials(desk) if containers.to_check(m, gaugings)]


def running_low(desk: Desk) -> list[Material]:
    """Containers with less than a quarter of what they hold when full."""
    return [m for m in materials(desk) if m.full_kg and m.stock_kg < RUNNING_LOW * m.full_kg]


def container(desk: Desk, m: Material) -> ContainerStanding:
    """What is known of a container."""
    gaugings = desk.gaugings()
    density = containers.newest(gaugings, m, GaugingKind.DENSITY)
    disc = containers.newest(gaugings, m, GaugingKind.BODY)
    return ContainerStanding(
        material=m,
        to_check=containers.to_check(m, gaugings),
        density=density,
        density_sd=containers.density_sd(density.readings[1:], density.readings[0]) if density else 0.0,
        disc=disc,
        body=containers.body_of(disc.value, sample_kg=disc.sample_kg, density_kg_m3=m.density_kg_m3) if disc else None,
        doses=tuple(g for k in DOSES if (g := containers.newest(gaugings, m, k))),
        start=_start(desk, m),
        panels=_panels(desk, m),
        money=_money(desk, m),
    )


def _start(desk: Desk, m: Material) -> Start | None:
    """From the paint's own cups, in the medium that most of them were mixed with; where several were, the one that was used last."""
    if m.kind not in (Kind.PAINT, Kind.SHIMMER):
        return None
    mine = [p for p in desk.learned.past_mixes() if p.paint == m.key]
    if not mine:
        return None
    medium = max(dict.fromkeys(p.medium for p in reversed(mine)), key=lambda name: sum(p.medium == name for p in mine))
    alike = [p.medium_to_paint for p in mine if p.medium == medium]
    ratio = sum(alike) / len(alike)
    densities = {o.key: o.density_kg_m3 for o in desk.shelf()}
    by_volume = ratio * m.density_kg_m3 / densities.get(medium, 1030.0)
    line = desk.learned.line(m.key, medium)
    return Start(
        medium=medium,
        medium_to_paint=ratio,
        share=line.water_share_for(GRADE_VISCOSITY_PA_S[FLIP_CUP_GRADE], medium_to_paint=by_volume),
        found=start_ratio(mine, m.key, medium, FLIP_CUP_GRADE),
        step_m3=line.water_per_grade_m3(FLIP_CUP_GRADE + 1, whole_m3=A_MIX_M3, medium_to_paint=by_volume),
        thinnest=house_rules.grade_of(line.thinnest_pa_s() * flow_scale.MOUND_S_PER_PA_S, desk.rules),
    )


def _panels(desk: Desk, m: Material) -> Panels:
    seen = desk.learned.panels_seen()
    own = experience.of_material([m.key], seen)
    if not own.panels:
        return Panels(own=own)
    alike = [o.key for o in desk.shelf() if o.grade is m.grade] if m.grade is not Grade.UNKNOWN else []
    others = [o.key for o in desk.shelf() if o.kind is m.kind and o.id != m.id and m.kind in (Kind.MEDIUM, Kind.ADDITIVE, Kind.BASE)]
    tried = tuple((key, e) for key in others if (e := experience.of_material([key], seen)).panels)
    return Panels(
        own=own,
        grade=experience.of_material(alike, seen) if len(alike) > 1 else None,
        tried=tried,
        untried=tuple(key for key in others if key not in {k for k, _ in tried}),
    )


def _money(desk: Desk, m: Material) -> Money:
    price = costs.price_per_kg(m, desk.shelf())
    per_m3 = price * m.density_kg_m3
    packs = tuple(costs.packs_of(m))
    pays = None
    if len(packs) > 1:
        small, large = min(packs, key=lambda p: p.pack.content_kg).pack, max(packs, key=lambda p: p.pack.content_kg).pack
        pays = costs.break_even_kg(small, large)
    counted = m.kind is Kind.ADDITIVE and m.stock_kg > 0.0
    per_pour = per_pour_kg(desk, m) if counted else 0.0
    return Money(
        per_kg=price,
        per_m3=per_m3,
        per_dry_m3=per_m3 / m.volume_solids if m.volume_solids else None,
        packs=packs if len(packs) > 1 else (),
        large_pays_from_kg=pays,
        drops=costs.drops_left(m, desk.gaugings()) if counted else None,
        pours=costs.pours_left(m, per_pour) if counted else None,
        per_pour_kg=per_pour,
    )


def per_pour_kg(desk: Desk, m: Material) -> float:
    """What a pour took of a silicone in the newest series that used it; nothing for anything else."""
    for series in reversed(desk.all_series()):
        held = series.constants
        if m.key == held.silicone and held.silicone_colours:
            most = max((v.value for varied in series.varied for v in varied.levels if varied.factor is Factor.SILICONE and v.value), default=0.0)
            dosed = sum(layer.share for layer in series.layers if layer.material in held.silicone_colours)
            poured = held.poured_kg * planning.piece_share(series)
            return (most or held.silicone_drops_per_100g) * 10.0 * poured * dosed * (m.drop_kg or USUAL_DROP_KG)
    return 0.0


def stand(desk: Desk, b: Bottle) -> Stand:
    """What a bottle holds now."""
    return bottles.stand(b, desk.notebook.all(BottleWeighing, bottle_id=b.id))


def bottle(desk: Desk, b: Bottle) -> BottleStanding:
    """How a bottle stands."""
    now = stand(desk, b)
    fits = tuple(house_rules.techniques_for([round(b.grade)], desk.rules)) if b.grade and not now.unchecked else None
    return BottleStanding(
        bottle=b,
        stand=now,
        age_d=(desk.now() - b.stored_at).total_seconds() / 86400.0,
        origin=next((s.name for s in desk.all_series() if s.id == b.series_id), ""),
        fits=fits,
    )


# ---------------------------------------------------------------- pre-tests


def pre_test_now(desk: Desk) -> Survey | None:
    """The pre-test that was begun last and is not over."""
    last = latest(desk.notebook.all(Survey))
    return last if last is not None and not last.finished else None


def pre_test(desk: Desk) -> tuple[SurveyRow, ...]:
    """The pre-test under way, as a table; nothing where there is none."""
    now = pre_test_now(desk)
    return survey.rows(now, desk.shelf(), desk.gaugings()) if now is not None else ()


def pre_test_due(desk: Desk) -> tuple[Material, GaugingKind] | None:
    """What is measured next in it: one tool for all colours before the next tool; None once the table is full."""
    return survey.next_due(pre_test(desk))
