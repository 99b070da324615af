"""The honest margin: what the test can show, what is mixed up, what it costs, what would help; plain sentences in that order."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

from dribbet.bench.stations.ask.view import CanShowView
from dribbet.lab.plan import basis, control, design, planning, sizes, stops
from dribbet.lab.plan.power import Model
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.judge import POWER
from dribbet.records import WATER, Design, Equal, Factor, Outline, Response
from dribbet.records.wording import first_up
from dribbet.words import ask as ask_words
from dribbet.words import confounding as confounding_words
from dribbet.words import stops as stops_words
from dribbet.words.parts import Remark, Weight
from dribbet.words.units import NARROW, NO_BREAK, count_text, in_words, listed, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.confounding import Confound
    from dribbet.lab.plan.planning import Demand
    from dribbet.lab.plan.power import Scatter
    from dribbet.records import Series
    from dribbet.words.units import Units

UNLIKE: Final = {
    "medium": "medium", "base": "the base", "base_plan": "how the base is laid", "technique": "the way to pour", "poured_kg": "the paint poured",
    "water_source": "where the water is from",
    "silicone_drops_per_100g": "silicone", "anti_craze_share": "anti-craze additive", "film_m": "the film left",
}  # fmt: skip
"""What differs along with what is tested, as one says it."""
DEAR: Final = 60.0  # money at which the bar is full
LONG_DAYS: Final = 14.0
THINNED: Final = (Factor.WATER_SHARE, Factor.ALCOHOL, Factor.GRADE, Factor.RATIO)
"""Things tested by which the recipe differs of necessity."""


def amount(response: Response, value: float, units: Units) -> str:
    """A response in the person's words."""
    scale = SCALES[response]
    if scale.model is Model.YES_NO:
        return ask_words.OF_A_HUNDRED(share=value * 100)
    return units.length_text(value, scale.digits) if scale.unit == "mm" else f"{value:.{scale.digits}f}{NARROW}{scale.unit}".strip()


def can_show(series: Series, shown: float | None, units: Units) -> CanShowView:
    """The smallest difference as a drawing to scale on the panel."""
    held = series.constants
    panel = (held.panel_width_m * 1e3, held.panel_height_m * 1e3)
    first = series.responses[0][0]
    kind = {
        Response.CRACK_LENGTH: "line", Response.CELL_WIDTH: "wide", Response.CELL_COUNT: "cells", Response.SPREAD: "share", Response.LACING: "share"
    }.get(first, "")  # fmt: skip
    if shown is None or not kind:
        return CanShowView(panel_mm=panel)
    return CanShowView(kind, shown, amount(first, shown, units), panel, held.outline is Outline.ROUND)


def remarks(
    series: Series,
    recipes: Sequence[Arm],
    confounds: Sequence[Confound],
    demand: Sequence[Demand],
    known: Scatter | None,
    units: Units,
    prices: dict[str, float],
    *,
    have_panels: float | None,
) -> tuple[Remark, ...]:
    """All sentences of the margin."""
    made = [*_shows(series, recipes, known, units), *_stopped(series, units), *_equal(series, recipes, units, prices), *_mixed_up(series, confounds)]
    for lacking in control.missing(series):
        said = stops_words.no_control(lacking) if lacking.insisted else ask_words.CONTROL_OR_WITHOUT(no_control=stops_words.no_control(lacking))
        made.append(Remark("No control", said, Weight.CAUTION if lacking.insisted else Weight.STOP))
    made += _pairing(series, recipes)
    made += _repeats(series, recipes, known, units)
    made += _at_hand(series, demand, units, have_panels)
    return tuple(made)


def _stopped(series: Series, units: Units) -> list[Remark]:
    """What stops the lots, and doses that whole drops change."""
    heads = {
        stops.Why.UNMIXABLE: ask_words.CANNOT_BE_MIXED_LIKE,
        stops.Why.DROPS: ask_words.TOO_SMALL_A_CUP,
        stops.Why.PIECES: "Side by side",
        stops.Why.FILM: ask_words.TOO_LITTLE_PAINT_FOR_THAT_FILM,
    }
    stopped = stops.stops(series)
    made = [Remark(heads[s.why], stops_words.sentence(s, units), Weight.STOP) for s in stopped[:2]]
    made += [Remark("Thin film", stops_words.sentence(s, units)) for s in stops.thinner_than_usual(series)[:1]]
    near = [s for s in stops.doses(series) if s not in stopped] if not any(s.why is stops.Why.PIECES for s in stopped) else []
    return made + [Remark("Whole drops", stops_words.sentence(s, units), Weight.CAUTION) for s in near[:1]]


def _at_hand(series: Series, demand: Sequence[Demand], units: Units, have_panels: float | None) -> list[Remark]:
    """What is short, and what nobody entered."""
    if series.seed is not None:
        return []
    made = []
    short = [d for d in demand if d.short_kg > 1e-6]
    if short:
        lines = listed([f"{units.mass_text(d.short_kg)} {units.called(d.name)}" for d in short], 6)
        made.append(Remark(ask_words.SHORT_ON_THE_SHELF, ask_words.SHORT_OF(lines=lines), Weight.STOP))
    panels = design.sheets(series)
    if have_panels is not None and panels > have_panels:
        made.append(Remark("Short of panels", ask_words.TOO_FEW_PANELS(panels=count_text(panels, "panel"), have_panels=have_panels), Weight.STOP))
    unsaid = [units.called(d.name) for d in demand if d.on_shelf and d.stock_kg is None and d.name != WATER]
    what = [f"the stock of {listed(unsaid, 3)} (Shelf)"] if unsaid else []
    what += ["bare panels and rack places (\x02H\x03, at the end)"] if have_panels is None else []
    if what:
        made.append(Remark("Not entered", ask_words.NOT_KNOWN_WHETHER_ENOUGH(what=first_up("; ".join(what)))))
    return made


def _shows(series: Series, recipes: Sequence[Arm], known: Scatter | None, units: Units) -> list[Remark]:
    first = series.responses[0][0]
    shown = sizes.shows(series, recipes, known)
    if series.repeats < sizes.LEAST_REPEATS:
        return [Remark(ask_words.IT_CAN_SHOW_NOTHING, ask_words.ONE_PANEL_TELLS_NOTHING, Weight.STOP)]
    if first is Response.FIRST_CRACK and known is not None:
        return [Remark("It can show", ask_words.NO_FORMULA)]
    if known is None or shown is None:
        if known is not None:
            return [Remark("It can show", _too_small(series, first, known, units), Weight.CAUTION)]
        return [Remark("It can show", ask_words.SCATTER_NOT_KNOWN(response=first))]
    where = listed(list(known.sources), 3)
    made = [
        Remark(
            "It can show",
            ask_words.SHOWS(
                amount=amount(first, shown, units), where=where, scatter=amount(first, known.sd, units), panels=count_text(known.panels, "panel")
            ),
        )
    ]
    expected = series.prediction.size if series.prediction else 0.0
    if expected and expected < shown:
        needed = sizes.repeats_for(series, recipes, known, expected, POWER)
        tail = ""
        if needed is not None and needed <= 40:
            plain = [a for a in recipes if a.extra is None]
            tail = ask_words.TAKES_REPEATS(needed=needed, panels=count_text(needed * len(plain), "panel"))
        made.append(Remark("", ask_words.EXPECTED_TOO_SMALL(amount=amount(first, expected, units), more=tail), Weight.CAUTION))
    return made


def _too_small(series: Series, first: Response, known: Scatter, units: Units) -> str:
    """Why a plan shows nothing, and what would."""
    where = f"in {listed(list(known.sources), 3)} panels poured alike differed by {amount(first, known.sd, units)}"
    enough = sizes.enough_repeats(series, known)
    said = ask_words.SHOWS_NO_CHANGE(response=first, panels=count_text(known.panels, "panel"), where=where)
    expected = series.prediction.size if series.prediction else 0.0
    needed = sizes.repeats_for(series, design.arms(series), known, expected, POWER) if expected else None
    if needed is not None and needed <= 40:
        return ask_words.NEEDS_REPEATS(said=said, needed=needed, amount=amount(first, expected, units))
    return (
        ask_words.REPEATS_WOULD_SHOW(said=said, enough=first_up(in_words(enough[0])), amount=amount(first, enough[1], units))
        if enough
        else ask_words.ASK_LESS(said=said)
    )


def _span(low: float, high: float, unit: str, scale: float = 1.0, digits: int = 0) -> str:
    return f"{low * scale:.{digits}f} to {high * scale:.{digits}f}{unit}"


def _equal(series: Series, recipes: Sequence[Arm], units: Units, prices: dict[str, float]) -> list[Remark]:
    """What is not equal, of recipe, flow, paint share and cost."""
    compared = [a for a in recipes if a.extra is None]
    found = basis.differs([basis.standing(a, prices) for a in compared])
    if len(compared) < 2:
        return []
    said = []
    asked = any(v.factor in THINNED for v in series.varied)
    if Equal.RECIPE in found:
        low, high = found[Equal.RECIPE]
        thinner = f"thinner {_span(low, high, NARROW + '%', 100)}"
        said.append((thinner if high <= 1.0 and high - low > 0.009 else f"parts of medium {low:.1f} to {high:.1f}") + (" (tested)" if asked else ""))
    if Equal.FLOW in found:
        low, high = found[Equal.FLOW]
        said.append(f"flow, {high / low:.1f} times")
    if Equal.PAINT in found:
        said.append(f"paint {_span(*found[Equal.PAINT], NARROW + '%', 100)}")
    if Equal.COST in found:
        said.append(f"cost {_span(*found[Equal.COST], ' a kilogram', 1, 2)}")
    head = first_up(str(series.equal)) if series.equal is Equal.OWN else f"At {series.equal}"
    said += [UNLIKE[field] for field in basis.also_differs(compared, [v.factor for v in series.varied])]
    undone = basis.clash(series.equal, [v.factor for v in series.varied])
    if undone is not None:
        return [Remark(head, ask_words.WOULD_UNDO(undone=undone), Weight.STOP)]
    body = ask_words.NOT_EQUAL(what="; ".join(said)) if said else ask_words.ALL_EQUAL
    rests = "from your own cups" if series.constants.own_pa_s else "from starting figures"
    if series.equal is Equal.FLOW:
        waters = ", ".join(f"{a.letter}{NO_BREAK}{percent(a.water_share)}" for a in compared[:6])
        body += ask_words.WATER_IS_AN_ESTIMATE(rests=rests, waters=waters)
    elif any(a.held.grade for a in compared):
        body += ask_words.WATER_FOR_GRADE(rests=rests)
    return [Remark(head, body)]


def _mixed_up(series: Series, confounds: Sequence[Confound]) -> list[Remark]:
    made: list[Remark] = []
    offered = False
    for c in confounds:
        tail = ""
        if c.extras and not offered and series.seed is None:
            offered = True
            tells = "tells them apart" if c.panels == 1 else "tell them apart"
            tail = ask_words.X_ADDS(panels=count_text(c.panels, "panel"), tells=tells)
        made.append(
            Remark("" if made else "Mixed up together", confounding_words.sentence(c) + tail, Weight.PLAIN if c.separated else Weight.CAUTION)
        )
    return made


def first_separable(confounds: Sequence[Confound]) -> Confound | None:
    """Return the confound that X separates."""
    return next((c for c in confounds if c.extras), None)


def _pairing(series: Series, recipes: Sequence[Arm]) -> list[Remark]:
    if series.layout.design is not Design.PAIRED:
        return []
    from dribbet.lab.plan import layouts

    held = series.constants
    boxes = layouts.regions(len(recipes), held.panel_width_m, held.panel_height_m)
    out = layouts.left_out_share(boxes, held.panel_width_m, held.panel_height_m, series.layout.strip_m)
    touching = len(layouts.neighbours(boxes))
    return [
        Remark(
            "Side by side",
            ask_words.PIECES_SHARE(touching=count_text(touching, "border"), strip_mm=series.layout.strip_m * 1e3, percent=percent(out)),
            Weight.CAUTION,
        )
    ]


def _repeats(series: Series, recipes: Sequence[Arm], known: Scatter | None, units: Units) -> list[Remark]:
    from dataclasses import replace

    first = series.responses[0][0]
    each = sizes.behind_level(recipes)
    made = [Remark("Repeats", ask_words.BEHIND_EVERY_LEVEL(repeats=series.repeats, each=each))]
    if series.repeats < sizes.MOST_REPEATS:
        bigger = replace(series, repeats=series.repeats + 1)
        more = sizes.shows(bigger, design.arms(bigger), known)
        if more is not None:
            extra = design.sheets(bigger) - design.sheets(series)
            made.append(
                Remark(
                    "",
                    ask_words.ONE_MORE_REPEAT(amount=amount(first, more, units), extra=count_text(extra, "more panel", "more panels")),
                )
            )
    return made


def costs(
    series: Series, demand: Sequence[Demand], units: Units, *, have_panels: float | None, rack: tuple[float | None, int], days: int
) -> tuple[tuple[str, str, float | None], ...]:
    """What the test takes of what there is, as bars; no bar where nobody entered what there is."""
    colours = set(planning.colours_in(series))
    paint = [d for d in demand if d.name in colours]
    need, stock = sum(d.kg for d in paint), sum(d.stock_kg or 0.0 for d in paint)
    money = sum(d.kg * d.price_per_kg for d in demand)
    panels = design.sheets(series)
    made: list[tuple[str, str, float | None]] = [
        ("Paint", f"{units.stock_text(need)} of {units.stock_text(stock)}", min(need / stock, 1.0))
        if stock > 0.0
        else ("Paint", ask_words.STOCK_NOT_ENTERED(stock=units.stock_text(need)), None),
        ("Money", ask_words.COST_BY_SHELF_PRICES(money=money), min(money / DEAR, 1.0)) if money > 0.0 else ("Money", "prices not entered", None),
        ("Panels", ask_words.OF_AT_HAND(panels=panels, have_panels=have_panels), min(panels / max(have_panels, 1.0), 1.0))
        if have_panels is not None
        else ("Panels", ask_words.PANELS_NOT_ENTERED(panels=panels), None),
    ]
    if rack[0] is None:
        made.append(("Rack", ask_words.PLACES_NOT_ENTERED(panels=panels), None))
    else:
        free = rack[0] - rack[1]
        made.append(("Rack", ask_words.OF_FREE(panels=panels, free=free), min(panels / max(free, 1.0), 1.0)))
    made.append(("Days", f"{days}, with drying", min(days / LONG_DAYS, 1.0)))
    return tuple(made)


def whole_days(seconds: float) -> int:
    """Seconds as days begun."""
    return math.ceil(seconds / 86_400.0)
