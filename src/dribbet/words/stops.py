"""What stops a plan, and what can be done about it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab.cup.dosing import OFF_FAR
from dribbet.lab.plan.layouts import REGIONS_MOST
from dribbet.lab.plan.stops import Why
from dribbet.records import Advice
from dribbet.words.tongue import t
from dribbet.words.units import in_words, listed, percent

if TYPE_CHECKING:
    from dribbet.lab.plan.control import NoControl
    from dribbet.lab.plan.stops import Stop
    from dribbet.records import Insisted
    from dribbet.words.units import Units

REMEDY = t("G mixes a cup large enough for whole drops, D dilutes the drops 1 in 10; or choose other levels.")


def sentence(stop: Stop, units: Units) -> str:
    """One reason, with its remedy where Dribbet knows one."""
    if stop.why is Why.PIECES:
        return t(
            "{pieces} recipes do not fit side by side on one panel: at most {regions_most}. Give each its own panel, or test less.",
            pieces=stop.pieces,
            regions_most=REGIONS_MOST,
        )
    if stop.why is Why.FILM and not stop.needed_kg:
        return t("Of {poured} about {film} of wet film can stay, less than usual.", poured=units.mass_text(stop.poured_kg),
                 film=units.length_text(stop.film_m * 1e3, 1))  # fmt: skip
    if stop.why is Why.FILM:
        return t(
            "A film of {film} cannot stay of {poured} in recipe {letters}. Pour at least {needed} (H, Paint per panel), or leave a thinner film.",
            film=units.length_text(stop.film_m * 1e3, 1), poured=units.mass_text(stop.poured_kg), letters=stop.letters,
            needed=units.mass_text(stop.needed_kg),
        )  # fmt: skip
    if stop.why is Why.UNMIXABLE or stop.dosing is None:
        return stop.said
    far = abs(stop.dosing.off) > OFF_FAR
    return f"{dose(stop, units)} {remedy(stop, units) if far else 'The verdict uses what was counted.'}"


def no_control(lacking: NoControl) -> str:
    """An addition that every recipe has."""
    tail = t("You chose to go without, and that stands beside the verdict.") if lacking.insisted else t("Add one.")
    return t("No recipe goes without {words}, so its effect has nothing to stand against. {tail}", words=lacking.words, tail=tail)


def gone_against(insisted: Insisted) -> str:
    """An advice that was gone against, as it stands beside a verdict."""
    if insisted.against is Advice.UNMIXED:
        return t("{code} poured from cups that were not mixed here", code=insisted.of)
    return t("no panel without {of}", of=insisted.of)


def dose(stop: Stop, units: Units) -> str:
    """What whole drops make of a dose in one cup."""
    one = stop.dosing
    assert one is not None
    asked, wanted = t("{asked:g} in 100 g", asked=one.asked), one.asked * one.cup_kg * 10.0 / one.drop_share
    cup = t("{mass} of {name} for {names}", mass=units.mass_text(one.cup_kg), name=units.called(stop.colour), names=listed(tuple(stop.letters)))
    if not one.drops:
        return t("{asked} is {wanted:.1f} of a drop in {cup}: none would go in.", asked=asked, wanted=wanted, cup=cup)
    more = t("{share} more than asked", share=percent(abs(one.off))) if one.off > 0.0 else t("{share} less than asked", share=percent(abs(one.off)))
    makes = f"{in_words(one.drops)} {'makes' if one.drops == 1 else 'make'} {one.got:.1f}"
    return (
        t("{asked} is {wanted:.1f} drop in {cup}; {makes} in 100 g, {more}.", asked=asked, wanted=wanted, cup=cup, makes=makes, more=more)
        if wanted <= 1.0
        else t("{asked} is {wanted:.1f} drops in {cup}; {makes} in 100 g, {more}.", asked=asked, wanted=wanted, cup=cup, makes=makes, more=more)
    )


def remedy(stop: Stop, units: Units) -> str:
    """Ways to a true dose."""
    one = stop.dosing
    assert one is not None
    return t("A whole drop wants a cup of {mass}. {remedy}", mass=units.mass_text(1.0 / (one.asked * 10.0)), remedy=REMEDY)
