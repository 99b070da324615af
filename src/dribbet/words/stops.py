"""What stops a plan, and what can be done about it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab.cup.dosing import OFF_FAR
from dribbet.lab.plan.layouts import REGIONS_MOST
from dribbet.lab.plan.stops import Why
from dribbet.words.units import in_words, listed, percent

if TYPE_CHECKING:
    from dribbet.lab.plan.control import NoControl
    from dribbet.lab.plan.stops import Stop
    from dribbet.records import Insisted
    from dribbet.words.units import Units

REMEDY = "G mixes a cup large enough for whole drops, D dilutes the drops 1 in 10; or choose other levels."


def sentence(stop: Stop, units: Units) -> str:
    """One reason, with its remedy where Dribbet knows one."""
    if stop.why is Why.PIECES:
        return f"{stop.pieces} recipes do not fit side by side on one panel: at most {REGIONS_MOST}. Give each its own panel, or test less."
    if stop.why is Why.UNMIXABLE or stop.dosing is None:
        return stop.said
    far = abs(stop.dosing.off) > OFF_FAR
    return f"{dose(stop, units)} {remedy(stop, units) if far else 'The verdict uses what was counted.'}"


def no_control(lacking: NoControl) -> str:
    """An addition that every recipe has."""
    tail = "You chose to go without, and that stands beside the verdict." if lacking.insisted else "Add one."
    return f"No recipe goes without {lacking.words}, so its effect has nothing to stand against. {tail}"


def gone_against(insisted: Insisted) -> str:
    """An advice that was gone against, as it stands beside a verdict."""
    return f"no panel without {insisted.of}"


def dose(stop: Stop, units: Units) -> str:
    """What whole drops make of a dose in one cup."""
    one = stop.dosing
    assert one is not None
    asked, wanted = f"{one.asked:g} in 100 g", one.asked * one.cup_kg * 10.0 / one.drop_share
    cup = f"{units.mass_text(one.cup_kg)} of {units.called(stop.colour)} for {listed(tuple(stop.letters))}"
    if not one.drops:
        return f"{asked} is {wanted:.1f} of a drop in {cup}: none would go in."
    more = f"{percent(abs(one.off))} {'more' if one.off > 0.0 else 'less'} than asked"
    makes = f"{in_words(one.drops)} {'makes' if one.drops == 1 else 'make'} {one.got:.1f}"
    return f"{asked} is {wanted:.1f} {'drop' if wanted <= 1.0 else 'drops'} in {cup}; {makes} in 100 g, {more}."


def remedy(stop: Stop, units: Units) -> str:
    """Ways to a true dose."""
    one = stop.dosing
    assert one is not None
    return f"A whole drop wants a cup of {units.mass_text(1.0 / (one.asked * 10.0))}. {REMEDY}"
