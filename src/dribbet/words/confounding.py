"""What moves along with what is tested, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.confounding import Coupling
from dribbet.lab.plan.templates import Mending
from dribbet.records import Factor
from dribbet.records.wording import first_up
from dribbet.words.tongue import n, t
from dribbet.words.units import NARROW, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.confounding import Confound
    from dribbet.lab.plan.templates import Mend

LESS_PAINT: Final = {
    Factor.WATER_SHARE: t("More water also means less paint"),
    Factor.ALCOHOL: t("More alcohol also means less paint"),
    Factor.RATIO: t("More medium also means less paint"),
    Factor.SHIMMER: t("More shimmer medium also means less paint"),
    Factor.ANTI_CRAZE: t("More additive also means less paint"),
    Factor.ADDED: t("More of it also means less paint"),
    Factor.GRADE: t("A thinner grade also means less paint"),
}
BROUGHT_BY: Final = {
    Factor.MEDIUM: t("Mediums also differ in shine, which moves vividness and shimmer by itself."),
    Factor.FINISH: t("A paint of another finish is another paint: its density and body differ too."),
    Factor.PANEL_SIZE: t("A larger panel also means longer ways to tilt, more paint at once and later drying."),
    Factor.REST: t("A mix that rests loses bubbles and a little water, both. Keep it covered and weigh it again."),
    Factor.HEAT: t("Heat bursts bubbles and dries the surface, both."),
    Factor.HEAT_AFTER: t("Until the heat comes, the paint also runs on."),
    Factor.BASE_SHEEN: t("A base of another sheen is another paint: its thickness differs too. Check it."),
    Factor.AFTER: t("Compare only photos of the same stage: a coat changes shine and colour by itself."),
    Factor.ACTIVATOR: t("Activators also differ in thinness. Check both, and dose them by weight."),
}
BY_ITSELF: Final = {
    Coupling.THICKNESS: t("Silicone thickens its colour: check it again after the drops."),
    Coupling.TRACES: t("Silicone travels on sticks and cups. Keep a set of tools for the recipes without it, and no leftovers."),
    Coupling.FLAME: t("Alcohol and a flame do not go together, so recipes with alcohol are not torched: then heat differs too."),
    Coupling.AGE: t("Later panels get older paint. The lots spread that over all recipes."),
}
PARTS_SAID: Final = 3
PAIRS_SAID: Final = 2
PLAINLY: Final = {
    Coupling.DESIGN: t("things that moved together"), Coupling.THICKNESS: t("silicone from what it thickens"), Coupling.FLOW: t("flow"),
    Coupling.PAINT_SHARE: t("paint share"), Coupling.FILM: t("film"),
}  # fmt: skip


def sentence(c: Confound) -> str:
    """What moves along, and whether the test tells the two apart."""
    said = _fact(c)
    if c.told_by:
        return said + " " + t("Recipe {letters} tells the two apart.", letters=t(" and ").join(c.told_by))
    return said + " " + t("This test cannot tell which of the two did it.") if c.open else said


def _fact(c: Confound) -> str:
    if c.what in (Coupling.DESIGN, Coupling.PAIRS):
        return _together(c)
    if c.what is Coupling.PAINT_SHARE:
        plain = t("At equal flow the recipes hold unlike shares of paint") if c.even else t("The recipes hold unlike shares of paint")
        head = plain if c.even or c.by is None else LESS_PAINT[c.by]
        return t("{head}: {most} down to {least}.", head=head, most=percent(c.high), least=percent(c.low))
    if c.what is Coupling.FLOW:
        return t("The thinnest recipe flows about {times:.1f} times as fast as the thickest.", times=c.high)
    if c.what in (Coupling.FILM, Coupling.BASE_FILM):
        least, most = f"{c.low * 1e3:.1f}", f"{c.high * 1e3:.1f}{NARROW}mm"
        if c.what is Coupling.BASE_FILM:
            return t("The base adds {least} to {most} to what dries. Weigh after the base too.", least=least, most=most)
        return t("These ways of pouring leave {least} to {most} of film. Weigh every panel.", least=least, most=most)
    if c.what is Coupling.FLAME and c.low > 0.0:
        return t("Alcohol and a flame do not go together, so none of these recipes is torched.")
    return BROUGHT_BY[c.by] if c.by is not None else BY_ITSELF[c.what]


def _together(c: Confound) -> str:
    first, second = c.pairs[0]
    if c.what is Coupling.DESIGN and len(second) == 1:
        parts = {"first": first_up(_name(first)), "second": _name(second)}
        if c.in_full:
            return t("{first} and {second} always change together: this test cannot tell which of the two did it.", **parts)
        return t("{first} and {second} change together in part: this test cannot tell which of the two did it.", **parts)
    said = [t("{first} from {second}", first=_name(a), second=_name(b)) for a, b in c.pairs]
    nor = t("; nor ")
    if c.what is Coupling.DESIGN:
        more = t("; and so on") if len(said) > PARTS_SAID else ""
        return t("A chosen part cannot tell {pairs}{more}.", pairs=nor.join(said[:PARTS_SAID]), more=more)
    left = len(said) - PAIRS_SAID
    more = n(", nor {left} more such pair", ", nor {left} more such pairs", left, left=left) if left > 0 else ""
    return t("Each by itself is clear, but not what two do together: it cannot tell {pairs}{more}.", pairs=nor.join(said[:PAIRS_SAID]), more=more)


def _name(names: Sequence[str]) -> str:
    return t(" with ").join(names)


def mended(one: Mend) -> str:
    """One thing that a follow-up mends."""
    if one.what is Mending.CONTROL:
        return t("A recipe without {factor} was added.", factor=one.factor)
    if one.coupling is not None:
        return n(
            "{panels} more panel separates the {what}.", "{panels} more panels separate the {what}.", one.panels,
            panels=one.panels, what=PLAINLY.get(one.coupling, one.coupling),
        )  # fmt: skip
    return {
        Mending.TWICE: t("Each recipe is poured twice."),
        Mending.FLOW: t("Every recipe is thinned to the same flow, checked before pouring."),
        Mending.PAINT: t("Every recipe holds the same share of paint."),
    }[one.what]
