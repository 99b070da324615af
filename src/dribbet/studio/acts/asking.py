"""What a person makes of a question: one part of a plan exchanged for another, each refused in words where it cannot be.

Every function takes a series and returns the one that would stand in its place; `acts.planning` keeps it.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

from dribbet.lab.panel import pouring
from dribbet.lab.plan import amounts, basis, control, design, layouts, planning, stops
from dribbet.lab.plan.arm import ROUGH_DENSITY
from dribbet.lab.plan.factors import EXCHANGES, NATURES, applied
from dribbet.records import (
    WAYS,
    BasePlan,
    BlockBy,
    Design,
    DribbetError,
    Equal,
    Factor,
    Kind,
    Layer,
    Layout,
    Level,
    Prediction,
    Response,
    Series,
    Step,
    Varied,
    Wanted,
)
from dribbet.records.wording import first_up

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Constants, Does, Doing, Material

LIKED: Final = {response: Wanted.LESS if response in (Response.CRACK_LENGTH, Response.CRACKED) else Wanted.MORE for response in Response}
MOST_ASKED: Final = 6  # responses of one test: each more widens every interval
USUAL_DOSE: Final = 2.0  # drops in 100 g, where a test of silicone needs some to act at all
USUAL_ALCOHOL: Final = 0.10
USUAL_ACTIVATOR_KG: Final = 0.003
USUAL_PASSES: Final = 2
STEP_OF: Final = {Factor.DWELL: Step.REST}
"""Steps without which a constant of the pour does nothing."""
OWN_NAMES: Final = ("my own change", "my second change", "my third change", "my fourth change", "my fifth change")


# ---------------------------------------------------------------- what is varied


def vary(series: Series, which: int, varied: Varied, shelf: Sequence[Material]) -> Series:
    """Vary this, as the `which`-th thing; where another thing stood there, its layout and basis are looked through anew."""
    if varied.factor is Factor.OWN and not varied.name:
        known = {v.words for i, v in enumerate(series.varied) if i != which}
        varied = replace(varied, name=next(n for n in OWN_NAMES if n not in known))
    if varied.factor is Factor.ADDED and not varied.of:
        varied = replace(varied, of=next((m.key for m in shelf if m.kind is Kind.ADDITIVE), ""))
    made = (*series.varied[:which], varied, *series.varied[which + 1 :])
    return _with_needs(_varied(series, made), varied.factor, shelf)


def leave_out(series: Series, which: int) -> Series:
    """Vary one thing less."""
    return _varied(series, (*series.varied[:which], *series.varied[which + 1 :]))


def level(series: Series, which: int, varied: Varied) -> Series:
    """Other levels of the same thing."""
    now = series.varied[which]
    named = replace(varied, name=varied.name or now.name, of=now.of, layer=now.layer)
    made = _varied(series, (*series.varied[:which], named, *series.varied[which + 1 :]))
    return stops.with_enough_paint(made) if now.factor is Factor.FILM_LEFT else made


def place_own(series: Series, which: int, of: str, shelf: Sequence[Material]) -> Series:
    """Whether something of one's own changes what is in the cup (then which container it adds), or only the doing (no container)."""
    now = series.varied[which]
    if now.factor not in (Factor.OWN, Factor.ADDED):
        raise DribbetError(f"{first_up(now.words)} is not something of your own.")
    if of and of not in {m.key for m in shelf}:
        raise DribbetError(f"“{of}” is not on the shelf. Enter its container there first.")
    if (now.factor is Factor.ADDED) == bool(of):
        new = replace(now, of=of)
    else:
        factor = Factor.ADDED if of else Factor.OWN
        start = NATURES[factor].start[: 2 if which else None]
        new = Varied(factor=factor, name="" if of else now.name, of=of, levels=tuple(_started(v) for v in start))
    return vary(series, which, new, shelf)


def _started(value: float | str) -> Level:
    return Level(name=value) if isinstance(value, str) else Level(value=value)


def exchange(series: Series, which: int, of: str, layer: int = 0) -> Series:
    """Another paint that gives way, throughout (0) or in one layer from below."""
    now = series.varied[which]
    if now.factor not in EXCHANGES:
        raise DribbetError(f"No paint gives way to another where {now.words} is varied.")
    if of not in planning.colours_of(series):
        raise DribbetError(f"“{of}” is not in the cup. There are {', '.join(planning.colours_of(series))}.")
    return _varied(series, (*series.varied[:which], replace(now, of=of, layer=layer), *series.varied[which + 1 :]))


def _with_needs(series: Series, factor: Factor, shelf: Sequence[Material]) -> Series:
    """What a factor needs held so that it can act at all."""
    held = series.constants
    colours = planning.colours_of(series)
    if factor in (Factor.SILICONE, Factor.SILICONE_KIND, Factor.SILICONE_COLOUR):
        if not held.silicone_colours:
            held = replace(held, silicone_colours=tuple(colours[1:2] or colours))
        on_shelf = next((m.key for m in shelf if m.kind is Kind.ADDITIVE and m.wash_off), None)
        if factor is not Factor.SILICONE_KIND and on_shelf:
            held = replace(held, silicone=on_shelf)
        if factor is not Factor.SILICONE and not held.silicone_drops_per_100g and not series.varies(Factor.SILICONE):
            held = replace(held, silicone_drops_per_100g=USUAL_DOSE)
    if factor is Factor.ALCOHOL_STRENGTH and not held.alcohol_share and not series.varies(Factor.ALCOHOL):
        held = replace(held, alcohol_share=USUAL_ALCOHOL)
    if factor is Factor.ACTIVATOR and not held.activator_kg:
        held = replace(held, activator_kg=USUAL_ACTIVATOR_KG)
    if factor in (Factor.BASE_DEPTH, Factor.BASE_WATER, Factor.BASE_CRAZE, Factor.BASE_PAINT, Factor.BASE_SHEEN) and held.base_plan is BasePlan.NONE:
        held = replace(held, base_plan=BasePlan.FULL)
    if factor in (Factor.HEAT_AFTER, Factor.HEAT_DISTANCE, Factor.HEAT_ZONE) and not held.torch_passes:
        held = replace(held, torch_passes=USUAL_PASSES)
    if factor is Factor.ACTIVATOR_PLACE and not held.activator_kg:
        held = replace(held, activator_kg=USUAL_ACTIVATOR_KG)
    if factor is Factor.SILICONE_STIR and not held.silicone_drops_per_100g:
        held = replace(held, silicone_drops_per_100g=USUAL_DOSE, silicone_colours=held.silicone_colours or tuple(colours[1:2] or colours))
    if factor is Factor.FILM_LEFT:  # the thickest film has to come from somewhere
        held = stops.with_enough_paint(replace(series, constants=held)).constants
    held = _with_step(series, held, NATURES[factor].doing or (STEP_OF[factor], None) if factor in STEP_OF or NATURES[factor].doing else None)
    return replace(series, constants=held)


def do(series: Series, doing: Doing) -> Series:
    """Hold one figure of a step otherwise than its way to pour says."""
    kept = tuple(d for d in series.constants.doing if (d.step, d.figure.does) != (doing.step, doing.figure.does))
    return replace(series, constants=replace(series.constants, doing=(*kept, doing)))


def pour_by(series: Series, name: str) -> Series:
    """Pour by this way: a shipped one, or one of the person's own by its name; the film that usually stays comes with it."""
    level = Level(name=name)
    return replace(series, constants=applied(series.constants, Varied(factor=Factor.TECHNIQUE, levels=(level,)), level))


def _with_step(series: Series, held: Constants, what: tuple[Step, Does | None] | None) -> Constants:
    """What is held, by a way to pour that has this step: a blow cannot be varied where nothing is blown."""
    if what is None or series.varies(Factor.TECHNIQUE) or any(p.step is what[0] for p in pouring.planned(held)):
        return held
    way = next((w for w, steps in WAYS.items() if any(s.step is what[0] for s in steps)), held.technique)
    return applied(held, Varied(factor=Factor.TECHNIQUE, levels=(Level(name=way),)), Level(name=way))


def _varied(series: Series, varied: tuple[Varied, ...]) -> Series:
    """Return the series with other things varied; what no longer fits its layout is let go, and what would undo it.

    Recipes side by side stay so even where there are too many for one panel: that stops the plan and is said.
    """
    levels = [len(v.levels) for v in varied]
    layout = replace(series.layout, extras=())
    if layout.design is Design.FRACTION and layout.halvings > layouts.most_halvings(levels):
        layout = replace(layout, design=Design.EVERY, halvings=1)
    if layout.design is not Design.PAIRED:
        layout = _within_letters(layout, levels)
    if layout.centre_points and not all(one.value is not None for v in varied for one in v.levels):
        layout = replace(layout, centre_points=0)
    own = any(one.brings for v in varied for one in v.levels if v.factor is Factor.MEDIUM)
    equal = Equal.OWN if own else Equal.RECIPE if basis.clash(series.equal, [v.factor for v in varied]) else series.equal
    if equal is Equal.OWN and not own:
        equal = Equal.RECIPE
    return control.still_insisted(replace(series, varied=varied, layout=layout, equal=equal))


def _within_letters(layout: Layout, levels: list[int]) -> Layout:
    """Return the layout, or the largest part of all recipes that has letters enough."""
    parts = [replace(layout, design=Design.FRACTION, halvings=n) for n in range(1, layouts.most_halvings(levels) + 1)]
    fits = [one for one in (layout, *parts) if len(layouts.recipes(levels, one)) <= len(design.LETTERS)]
    return fits[0] if fits else layout


# ---------------------------------------------------------------- how it is laid out


def equalise(series: Series, equal: Equal, shelf: Sequence[Material]) -> Series:
    """Another quantity made equal between recipes; prices are kept where cost is."""
    basis.need_no_clash(equal, [v.factor for v in series.varied])
    return replace(series, equal=equal, prices=planning.prices_per_kg(shelf) if equal is Equal.COST else ())


def every(series: Series) -> Series:
    """Every combination on panels of its own."""
    return replace(series, layout=replace(series.layout, extras=(), design=Design.EVERY, halvings=1))


def part(series: Series, halvings: int) -> Series:
    """A half, a quarter or an eighth of all combinations."""
    return replace(series, layout=replace(series.layout, extras=(), design=Design.FRACTION, halvings=halvings))


def side_by_side(series: Series) -> Series:
    """All recipes of a repeat on one panel."""
    count = len(layouts.every([len(v.levels) for v in series.varied]))
    layouts.regions(count, series.constants.panel_width_m, series.constants.panel_height_m)  # refuses too many in words
    if series.varies(Factor.PANEL_SIZE):
        raise DribbetError("Recipes of unlike panel size cannot lie side by side on one panel.")
    return replace(series, layout=replace(series.layout, extras=(), design=Design.PAIRED, centre_points=0, blocks=1))


def centre(series: Series, panels: int) -> Series:
    """Panels of the middle of all numeric levels, or (0) none."""
    return replace(series, layout=replace(series.layout, centre_points=panels))


def blind(series: Series, *, drawn: bool) -> Series:
    """Letters drawn by lot, or in order."""
    return replace(series, layout=replace(series.layout, blind=drawn))


def spread(series: Series, by: BlockBy, blocks: int) -> Series:
    """Repeats spread over days or batches."""
    if blocks > 1 and series.repeats < 2:
        raise DribbetError("With one panel of each recipe there is nothing to spread over days. Add a repeat first.")
    return replace(series, layout=replace(series.layout, extras=(), block_by=by, blocks=blocks))


def repeat(series: Series, repeats: int) -> Series:
    """So many panels of each recipe."""
    return replace(series, repeats=repeats, layout=replace(series.layout, blocks=min(series.layout.blocks, max(repeats, 1))))


def strip(series: Series, width_m: float) -> Series:
    """Another strip left out along borders between pieces."""
    return replace(series, layout=replace(series.layout, strip_m=width_m))


# ---------------------------------------------------------------- what is asked of it


def respond(series: Series, first: Response) -> Series:
    """Another response first."""
    rest = tuple(r for r in series.responses if r[0] is not first)
    p = series.prediction
    return replace(series, responses=((first, LIKED[first]), *rest)[:4], prediction=replace(p, response=first) if p else None)


def also(series: Series, rest: Sequence[tuple[Response, Wanted]]) -> Series:
    """What else is measured, beside the first response."""
    if len(rest) >= MOST_ASKED:
        raise DribbetError("Ask at most six things of one test: each more widens every interval.")
    return replace(series, responses=(series.responses[0], *rest))


def expect(series: Series, way: Wanted | None) -> Series:
    """Which way the first response is expected to go; None for no expectation."""
    if way is None:
        return replace(series, prediction=None)
    size = series.prediction.size if series.prediction else 0.0
    return replace(series, prediction=Prediction(response=series.responses[0][0], more_or_less=way, size=size))


def expect_size(series: Series, size: float) -> Series:
    """How much is expected."""
    if series.prediction is None:
        raise DribbetError("Say first whether you expect more or less.")
    return replace(series, prediction=replace(series.prediction, size=size))


def rename(series: Series, name: str) -> Series:
    """Another name for the series."""
    if not name.strip():
        raise DribbetError("A series needs a name, such as Kelp 05.")
    return replace(series, name=name.strip()[:80])


# ---------------------------------------------------------------- what is held


def hold(series: Series, **fields: Any) -> Series:
    """Constants at other values; drops that have no colour yet go into the second one of the cup."""
    if fields.get("silicone_drops_per_100g") and not (fields.get("silicone_colours") or series.constants.silicone_colours):
        fields["silicone_colours"] = planning.colours_of(series)[:1]
    if "silicone_colours" in fields:
        fields["silicone_colours"] = tuple(fields["silicone_colours"])
    return replace(series, constants=replace(series.constants, **fields))


def size(series: Series, width_m: float, height_m: float) -> Series:
    """Another panel; the paint for it grows with its face."""
    held = series.constants
    grown = width_m * height_m / (held.panel_width_m * held.panel_height_m)
    return hold(series, panel_width_m=width_m, panel_height_m=height_m, poured_kg=round(held.poured_kg * grown, 4))


def paint_from_size(series: Series) -> Series:
    """Paint per panel worked out from its size, its sides, the technique and the base."""
    arm = design.arms(replace(series, layout=Layout()))[0]
    density = 1.0 / sum(share / ROUGH_DENSITY.get(name, ROUGH_DENSITY["medium"]) for name, share in arm.parts.items()) * 1e3
    return hold(series, poured_kg=round(amounts.suggested_poured_kg(series.constants, density), 4))


def fill(series: Series, layers: tuple[Layer, ...]) -> Series:
    """Another cup; drops, parts and exchanges stay only with colours that are still in it."""
    colours = list(dict.fromkeys(layer.material for layer in layers))
    held = series.constants
    kept = tuple(c for c in held.silicone_colours if c in colours)
    if held.silicone_colours and not kept:
        kept = (layers[0].material,)
    parts = tuple((c, n) for c, n in held.colour_parts if c in colours)
    varied = tuple(replace(v, of=colours[-1], layer=0) if v.of and v.of not in colours else v for v in series.varied)
    return replace(series, layers=layers, varied=varied, constants=replace(held, silicone_colours=kept, colour_parts=parts))
