"""What is said of a cup in hand: its ratio, how thick it will come out, what really is in it, what the day asks care for."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.paint import measures
from dribbet.records import Basis
from dribbet.records.wording import first_up
from dribbet.words import cautions
from dribbet.words.tongue import t
from dribbet.words.units import G_PER_OZ, NARROW, in_words, listed, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Hazard, Material
    from dribbet.studio.standing.contents import Contents, CupForecast, Dropped, Held, Ratio, Shimmers
    from dribbet.words.units import Units

GRADES: Final = (t("very thin"), t("thin"), t("medium"), t("thick"), t("too thick"))
"""Grades of consistency, thin to thick."""


def grades(low: int, high: int) -> str:
    """A window of grades: 'thin', or 'thin to thick'."""
    return GRADES[low - 1] if low == high else t("{thinner} to {thicker}", thinner=GRADES[low - 1], thicker=GRADES[high - 1])


def ratio(found: Ratio | None, units: Units) -> str:
    """The plan as a ratio that cannot be mistaken, by weight and by volume, and what the scale's step makes of it."""
    if found is None:
        return ""
    order = [found.paint, *(key for key in found.by_mass if key != found.paint)]
    ones = " : ".join(f"{units.called(key)} {found.by_mass[key]:.3g}" for key in order)
    shares = ", ".join(f"{found.shares[key] * 100:.0f}" for key in order)
    by_mass = t("{ratio} ({shares} %), by {basis}", ratio=ones, shares=shares, basis=Basis.MASS)
    if found.off is None:
        return f"{by_mass}. {found.refused}"
    kg = found.total_kg
    other = f"{kg * 1e3 / G_PER_OZ:.2f}{NARROW}oz" if units.mass == "g" else f"{kg * 1e3:.1f}{NARROW}g"
    return t(
        "{by_mass}; by volume {volumes}. {whole}; steps of {step}: shares ± {share}.",
        by_mass=by_mass,
        volumes=" : ".join(f"{v:.3g}" for v in found.by_volume.values()),
        whole=t("{mass} ({other}) in all", mass=units.mass_text(kg), other=other),
        step=units.mass_text(found.step_kg),
        share=percent(found.off, 2),
    )


def forecast(found: CupForecast | None, units: Units) -> str:
    """How thick the plan will come out by the person's own cups, where that is not what the way of pouring wants."""
    if found is None:
        return ""
    said = t(
        "By {readings} readings of {number} of your own cups this comes out {grade}; a {technique} wants {wants}.",
        readings=found.readings,
        number=in_words(found.cups),
        grade=GRADES[found.grade - 1],
        technique=found.technique,
        wants=grades(*found.wants),
    )
    if found.water_kg is None:
        return said + " " + t("Keep some water back until it is checked.")
    low, high = (units.mass_text(kg) for kg in found.water_kg)
    return said + " " + t("{low} to {high} water more would do it: the check decides.", low=low, high=high)


def checklist(found: Sequence[tuple[Hazard, tuple[str, ...]]], units: Units) -> list[tuple[str, str]]:
    """Before the first cup: what to put on and off, and the care that each material of this series asks for, once."""
    care = [(first_up(listed([units.called(key) for key in who])), cautions.BY_HAZARD[hazard]) for hazard, who in found]
    return [(t("Before you begin"), cautions.START), *care]


def as_volume(material: Material | None, kg: float, units: Units) -> str:
    """The amount by volume, for who measures so; nothing where the shelf does not know its density."""
    if material is None:
        return ""
    return f"; {measures.from_kg(kg, units.volume, material):.{1 if units.volume == 'mL' else 2}f}{NARROW}{units.volume}"


def facts(found: Contents | None, units: Units) -> str:
    """Actual against planned, solids, dose, cost."""
    if found is None:
        return ""
    said = [t("Really in it: {names}.", names=", ".join(_held(one, units) for one in found.held))]
    if found.little is not None:
        said.append(t("Only {share} paint, below your {least}.", share=percent(found.paint), least=percent(found.little)))
    said.append(t("Dries to {share}.", share=percent(found.dries_to)))
    if found.dropped is not None:
        said.append(_dropped(found.dropped))
    said += [_shimmer(one, units) for one in found.shimmers]
    if found.money > 0.0:
        cost = t("It cost {money:.2f}", money=found.money)
        said.append(t("{cost}, {name} not counted.", cost=cost, name=units.called(found.unpriced)) if found.unpriced else f"{cost}.")
    return " ".join(said)


def _held(one: Held, units: Units) -> str:
    said = f"{units.called(one.key)} {percent(one.share, 1)}"
    return t("{said} (planned {share})", said=said, share=percent(one.planned, 1)) if one.off else said


def _dropped(one: Dropped) -> str:
    rests = t("from {count} weighed", count=one.weighed) if one.weighed else t("not weighed yet")
    return t(
        "{drops:.0f} drops: {of_colour:.0f} mg in 100 g of the colour, {of_cup:.0f} mg in 100 g of the cup; a drop weighs {drop:.0f} mg, {rests}.",
        drops=one.drops, of_colour=one.of_colour, of_cup=one.of_cup, drop=one.drop_kg * 1e6, rests=rests,
    )  # fmt: skip


def _shimmer(one: Shimmers, units: Units) -> str:
    """Shimmer agents: their share of the wet mix and of the dry film, against what shows, and what hides them."""
    said = t("{name}: {wet} of the wet mix, {dry} of the dry film", name=first_up(units.called(one.key)), wet=percent(one.wet), dry=percent(one.dry))
    if one.shows_from is not None:
        said = t("{said}, below the {share} from which it shows", said=said, share=percent(one.shows_from))
    return t("{said}; {hides} hides it.", said=said, hides=units.called(one.hidden_by)) if one.hidden_by else f"{said}."
