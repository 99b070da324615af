"""What a person should know before saying yes to days at the bench."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.day_plan import Mind
from dribbet.words.tongue import t

if TYPE_CHECKING:
    from collections.abc import Sequence

SAID: Final = {
    Mind.DAY_BEFORE: t("Mix the day before and keep it covered: the cups rest overnight, and the day of pouring is for pouring."),
    Mind.ALCOHOL_LATE: t("Leave the alcohol out until the day of pouring: it does not keep in a cup."),
    Mind.BATCH_AGES: t("The batch would stand for more than two days. It ages: weigh it and check it again each morning."),
    Mind.SILICONE_APART: t("Panels with silicone dry away from the others and are washed before any coat."),
}


def mind(what: Mind, figures: Sequence[float]) -> str:
    """One thing, with its figures in it."""
    if what is Mind.DAYS_APART:
        return t(
            "Pouring takes {days:.0f} days, but nothing keeps the days apart. Pour every recipe on each day: make a block of each.", days=figures[0]
        )
    if what is Mind.LONG_DAY:
        longest, given = figures
        return t("The longest day takes about {longest:.1f} hours, more than the {given:g} you give it.", longest=longest, given=given)
    if what is Mind.RACK_SHORT:
        free, panels = figures
        return t("The rack has {free:.0f} free places for {panels:.0f} panels. Pour in parts, or clear it first.", free=free, panels=panels)
    return SAID[what]
