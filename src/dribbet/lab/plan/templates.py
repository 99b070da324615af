"""Kinds of test, ready to be filled with the person's last materials (domain: kinds of test that must be easy to plan)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import confounding, control, design
from dribbet.lab.plan.confounding import Coupling
from dribbet.lab.plan.factors import NATURES, Measure, applied
from dribbet.lab.plan.stops import with_enough_paint
from dribbet.records import (
    ALCOHOL,
    AS_GIVEN,
    BETWEEN,
    TURNED_ROUND,
    WATER,
    BasePlan,
    Design,
    DribbetError,
    Equal,
    Factor,
    Judging,
    Layout,
    Level,
    Response,
    Series,
    Technique,
    Varied,
    Wanted,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.records import Constants, Material

    Fill = Callable[[Series, "Found"], Series]

CRACKS: Final = ((Response.CRACK_LENGTH, Wanted.LESS), (Response.SPREAD, Wanted.MORE))
CELLS: Final = ((Response.CELL_COUNT, Wanted.MORE), (Response.CELL_WIDTH, Wanted.MORE))
SHINE: Final = ((Response.SHIMMER, Wanted.MORE), (Response.VIVIDNESS, Wanted.MORE))
REVISITS: Final = ("wet", "12 h", "24 h", "48 h", "dry")
LATE: Final = ("dry", "7 d", "cured")
ACTIVATOR_KG_M2: Final = 0.1  # about a teaspoon on a 200 x 150 panel


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """What the shelf offers to fill a template with."""

    mediums: tuple[str, ...]
    shimmer: str
    silicone: str
    anti_craze: str

    @classmethod
    def on(cls, shelf: Sequence[Material]) -> Found:
        """Look a shelf through."""
        mediums = [m.key for m in shelf if m.kind == "medium"]
        special = [m for m in mediums if "iridescent" in m or "craze" in m]
        return cls(
            mediums=tuple(m for m in mediums if m not in special) or ("conditioner",),
            shimmer=next((m for m in mediums if "iridescent" in m), "iridescent medium"),
            silicone=next((m.key for m in shelf if m.kind == "additive" and m.wash_off), "belt silicone"),
            anti_craze=next((m.key for m in shelf if "craze" in m.name), "anti-craze additive"),
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Template:
    """A kind of test, and what fills it."""

    key: str
    fill: Fill


def _numbers(factor: Factor, *values: float) -> Varied:
    return Varied(factor=factor, levels=tuple(Level(value=v) for v in values))


def _names(factor: Factor, *names: str) -> Varied:
    return Varied(factor=factor, levels=tuple(Level(name=n) for n in names))


def _held(s: Series, **changed: object) -> Constants:
    return replace(s.constants, **changed)  # type: ignore[arg-type]


def two_mediums(found: Found) -> Varied:
    """Two mediums of the shelf.

    Raises
    ------
    DribbetError
        If there is only one.
    """
    if len(found.mediums) < 2:
        raise DribbetError("There is only one medium on the shelf. Add another on Shelf first.")
    return _names(Factor.MEDIUM, *found.mediums[:2])


def _medium(s: Series, f: Found) -> Series:
    return replace(s, varied=(two_mediums(f),), equal=Equal.FLOW, responses=(*CELLS, (Response.VIVIDNESS, Wanted.MORE)), repeats=3)


def _silicone(s: Series, f: Found) -> Series:
    colours = s.constants.silicone_colours or (s.layers[min(1, len(s.layers) - 1)].material,)
    held = _held(s, silicone=f.silicone, silicone_colours=colours)
    return replace(s, varied=(_numbers(Factor.SILICONE, 0, 1, 2, 4),), constants=held, responses=CELLS, repeats=2)


def _alcohol(s: Series, _: Found) -> Series:
    return replace(s, varied=(_numbers(Factor.ALCOHOL, 0.0, 0.05, 0.10),), constants=_held(s, torch_passes=0), responses=CELLS, repeats=2)


def _shimmer(s: Series, f: Found) -> Series:
    held = _held(s, shimmer_medium=f.shimmer, medium=s.constants.medium if s.constants.medium != f.shimmer else f.mediums[0])
    return replace(s, varied=(_numbers(Factor.SHIMMER, 0.0, 0.5, 1.0, 2.0),), constants=held, responses=SHINE, repeats=2)


def _anti_craze(s: Series, f: Found) -> Series:
    held = _held(s, anti_craze=f.anti_craze)
    timed = (Judging(response=Response.CRACK_LENGTH, times=REVISITS),)
    return replace(s, varied=(_numbers(Factor.ANTI_CRAZE, 0.0, 0.10, 0.20),), constants=held, responses=CRACKS, repeats=3, protocol=timed)


def _ratio(s: Series, _: Found) -> Series:
    return replace(s, varied=(_numbers(Factor.RATIO, 1.0, 1.5, 2.0, 3.0),), responses=((Response.SPREAD, Wanted.MORE), *CELLS), repeats=2)


def _medium_film(s: Series, f: Found) -> Series:
    varied = (two_mediums(f), _numbers(Factor.FILM_LEFT, 1.2e-3, 2.3e-3))
    timed = (Judging(response=Response.CRACK_LENGTH, times=(*REVISITS, "7 d")),)
    return replace(s, varied=varied, equal=Equal.FLOW, responses=CRACKS, repeats=2, protocol=timed)


def _spots(s: Series, f: Found) -> Series:
    varied = (two_mediums(f), _names(Factor.FINISH, "matt", "glossy"), _names(Factor.BASE_SHEEN, "satin", "semi-gloss"))
    held = _resized(_held(s, base_plan=BasePlan.FULL), 0.4, 0.3)
    return replace(s, varied=varied, constants=held, layout=Layout(design=Design.PAIRED), responses=CELLS, repeats=3)


def _resized(held: Constants, width_m: float, height_m: float) -> Constants:
    grown = width_m * height_m / (held.panel_width_m * held.panel_height_m)
    return replace(held, panel_width_m=width_m, panel_height_m=height_m, poured_kg=held.poured_kg * grown)


def _base(s: Series, _: Found) -> Series:
    face = s.constants.panel_width_m * s.constants.panel_height_m
    held = _held(
        s, technique=Technique.BLOOM, base_plan=BasePlan.PILLOW, base_m=2e-3, film_m=2e-3, torch_passes=0, poured_kg=round(face * 0.6, 4),
        activator="activator", activator_kg=round(face * ACTIVATOR_KG_M2, 5),
    )  # fmt: skip
    return replace(
        s, varied=(_numbers(Factor.BASE_WATER, 0.0, 0.10, 0.20),), constants=held, responses=((Response.SPREAD, Wanted.MORE), *CELLS), repeats=2
    )


def _technique(s: Series, _: Found) -> Series:
    return replace(s, varied=(_names(Factor.TECHNIQUE, "flip cup", "straight pour"),), responses=CELLS, repeats=3)


def _order(s: Series, _: Found) -> Series:
    return replace(s, varied=(_names(Factor.ORDER, AS_GIVEN, TURNED_ROUND),), responses=(*CELLS, (Response.VIVIDNESS, Wanted.MORE)), repeats=3)


def _heat(s: Series, _: Found) -> Series:
    return replace(s, varied=(_numbers(Factor.HEAT, 0, 2),), constants=_held(s, alcohol_share=0.0), responses=CELLS, repeats=3)


def _heat_after(s: Series, _: Found) -> Series:
    held = _held(s, alcohol_share=0.0, torch_passes=s.constants.torch_passes or 2)
    return replace(s, varied=(_numbers(Factor.HEAT_AFTER, 10, 120),), constants=held, responses=CELLS, repeats=3)


def _third(s: Series, _: Found) -> Series:
    held = _held(s, water_share=0.25, alcohol_share=0.0, torch_passes=0)
    return replace(s, varied=(_names(Factor.THIRD_LIQUID, WATER, ALCOHOL),), constants=held, responses=CELLS, repeats=3)


def _activator(s: Series, _: Found) -> Series:
    face = s.constants.panel_width_m * s.constants.panel_height_m
    held = _held(s, technique=Technique.SWIPE, film_m=1.2e-3, activator="activator A", activator_kg=round(face * ACTIVATOR_KG_M2, 5), torch_passes=0)
    asked = ((Response.LACING, Wanted.MORE), *CELLS)
    layout = replace(s.layout, design=Design.EVERY, extras=(), blind=True)
    return replace(s, varied=(_names(Factor.ACTIVATOR, "activator A", "activator B"),), constants=held, layout=layout, responses=asked, repeats=3)


def _cure(s: Series, _: Found) -> Series:
    timed = (Judging(response=Response.VIVIDNESS, times=LATE), Judging(response=Response.CRACK_LENGTH, times=("48 h", *LATE)))
    asked = ((Response.VIVIDNESS, Wanted.MORE), (Response.CRACK_LENGTH, Wanted.LESS))
    return replace(s, varied=(_names(Factor.AFTER, "nothing", "wash", "varnish", "bake", "hot cup"),), responses=asked, repeats=2, protocol=timed)


def _scale_up(s: Series, _: Found) -> Series:
    width, height = s.constants.panel_width_m * 1e3, s.constants.panel_height_m * 1e3
    names = (f"{width:g} x {height:g}", f"{width * 2:g} x {height * 2:g}")
    return replace(s, varied=(_names(Factor.PANEL_SIZE, *names),), responses=(*CELLS, (Response.SPREAD, Wanted.MORE)), repeats=2)


TEMPLATES: Final = (
    Template(key="medium", fill=_medium),
    Template(key="silicone", fill=_silicone),
    Template(key="alcohol", fill=_alcohol),
    Template(key="shimmer", fill=_shimmer),
    Template(key="anti-craze", fill=_anti_craze),
    Template(key="ratio", fill=_ratio),
    Template(key="film", fill=_medium_film),
    Template(key="spots", fill=_spots),
    Template(key="base", fill=_base),
    Template(key="technique", fill=_technique),
    Template(key="order", fill=_order),
    Template(key="heat", fill=_heat),
    Template(key="heat after", fill=_heat_after),
    Template(key="third", fill=_third),
    Template(key="activator", fill=_activator),
    Template(key="cure", fill=_cure),
    Template(key="size", fill=_scale_up),
)


def filled(template: Template, base: Series, shelf: Sequence[Material]) -> Series:
    """Fill a kind of test with the person's last materials: cup, panel, constants of `base`; nothing else of its question."""
    plain = replace(
        base, layout=Layout(strip_m=base.layout.strip_m), equal=Equal.RECIPE, prices=(), protocol=(), insisted=(), prediction=None, goal_id=None
    )
    return with_enough_paint(template.fill(plain, Found.on(shelf)))


def level_held(held: Constants, factor: Factor) -> Level:
    """What is held of a factor, as a level of it."""
    nature = NATURES[factor]
    if factor is Factor.PANEL_SIZE:
        return Level(name=f"{held.panel_width_m * 1e3:g} x {held.panel_height_m * 1e3:g}")
    if factor is Factor.OWN:
        return Level(name="as it was")
    if factor is Factor.SILICONE_COLOUR:
        return Level(name=" + ".join(held.silicone_colours) or "none")
    value = getattr(held, nature.field)
    return Level(name=str(value)) if nature.measure is Measure.NAMED else Level(value=float(value))


def one_change(base: Series, settings: tuple[int, ...] | None, changed: Varied) -> Series:
    """Repeat an earlier test with one change: all of a recipe held as it was, one thing at another level beside it.

    Parameters
    ----------
    settings : tuple of int or None
        Recipe to repeat; None for the first of the series.
    changed : Varied
        What changes; its first level is replaced by what was held.
    """
    settings = settings or tuple(0 for _ in base.varied)
    held = base.constants
    for varied, at in zip(base.varied, settings, strict=True):
        if at != BETWEEN:
            held = applied(held, varied, varied.levels[at])
    then = level_held(held, changed.factor)
    levels = (then, *(level for level in changed.levels[1:] if level != then))
    if len(levels) < 2:
        levels = (then, *[level for level in changed.levels if level != then][:1])
    layout = Layout(strip_m=base.layout.strip_m)
    return replace(
        base,
        varied=(replace(changed, levels=levels),),
        constants=held,
        layout=layout,
        equal=Equal.RECIPE,
        prices=(),
        insisted=(),
        prediction=None,
        concluded=(),
        earlier=(),
        opened_at=None,
    )


class Mending(StrEnum):
    """How a flawed test is mended."""

    CONTROL = auto()
    TWICE = auto()
    FLOW = auto()
    PAINT = auto()
    APART = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Mend:
    """One thing that was mended."""

    what: Mending
    factor: str = ""
    """Without which a recipe was added."""
    coupling: Coupling | None = None
    panels: int = 0
    """Panels that tell the coupling apart."""


APART_BY_PANELS: Final = (Coupling.PAINT_SHARE, Coupling.FLOW, Coupling.FILM, Coupling.THICKNESS, Coupling.DESIGN)


def mended(series: Series) -> tuple[Series, tuple[Mend, ...]]:
    """Follow-up of a flawed test: same recipes, with what was not equal made so; and what was mended.

    Raises
    ------
    DribbetError
        If there is nothing that a plan can mend.
    """
    found: list[Mend] = []
    made = series = replace(series, concluded=(), earlier=(), opened_at=None)  # what it said is of its own levels
    missing = control.missing(series)
    if missing:
        made = control.with_control(made)
        found.append(Mend(what=Mending.CONTROL, factor=missing[0].words))
    if series.repeats < 2:
        made = replace(made, repeats=2)
        found.append(Mend(what=Mending.TWICE))
    what = {c.what for c in confounding.confounds(made, design.arms(made)) if not c.separated}
    if Coupling.FLOW in what and made.equal is Equal.RECIPE and not made.varies(Factor.WATER_SHARE):
        made = replace(made, equal=Equal.FLOW)
        found.append(Mend(what=Mending.FLOW))
    elif Coupling.PAINT_SHARE in what and made.equal is Equal.RECIPE and not made.varies(Factor.WATER_SHARE):
        made = replace(made, equal=Equal.PAINT)
        found.append(Mend(what=Mending.PAINT))
    for c in confounding.confounds(made, design.arms(made)):
        if c.extras and c.what in APART_BY_PANELS:
            made = replace(made, layout=replace(made.layout, extras=(*made.layout.extras, *c.extras)))
            found.append(Mend(what=Mending.APART, coupling=c.what, panels=c.panels))
    if not found:
        raise DribbetError("Nothing in this plan needs mending that a plan can mend. Repeat it with one change instead.")
    return made, tuple(found)
