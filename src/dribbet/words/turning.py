"""Two cups that turn over, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records.wording import first_up
from dribbet.words.tongue import Sentence, n, t
from dribbet.words.units import listed, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.panel.landing import Lying
    from dribbet.studio.standing.turning import Cup
    from dribbet.words.units import Units

HONEST: Final = t("The physics of a stack of colours, not this panel: no mixing, no silicone, no tilt.")


def head(cup: Cup) -> str:
    """Which cup it is."""
    return t("Recipe {letter}, filled the other way round", letter=cup.letter) if cup.turned_round else t("Recipe {letter}", letter=cup.letter)


def lies(cup: Cup, units: Units) -> str:
    """How its colours lie, and what sinks."""
    names = [units.called(x.material) for x in reversed(cup.up)]
    said = t("From above: {names}.", names=", ".join(dict.fromkeys(names)))
    heavy = sinks(cup.up, units)
    return f"{said} {heavy}" if heavy else said


def sinks(up: Sequence[Lying], units: Units) -> str:
    """Which colours will sink; empty where none does."""
    heavy = list(dict.fromkeys(units.called(x.material) for x in up if x.sinks))
    if not heavy:
        return ""
    return n(
        "{heavy} is heavier than what lies under it and sinks.", "{heavy} are heavier than what lies under them and sink.", len(heavy),
        heavy=first_up(listed(heavy)),
    )  # fmt: skip


def scored(score: float) -> str:
    """How near the forecast of visible colours came."""
    return t("The order in its cup foretold {share} of the colours that show.", share=percent(score))


def pace(cup: Cup, units: Units) -> str:
    """How fast it turns over, and in patches of what size."""
    if cup.rate_per_s <= 0.0:
        return t("Nothing in it turns over.")
    seconds = 1.0 / cup.rate_per_s
    time = f"{seconds:.0f} s" if seconds < 120 else f"{seconds / 60:.0f} min"
    return t("Grows threefold in {time}, in patches of {wave}.", time=time, wave=units.length_text(cup.wave_m * 1e3))


ANOTHER_CUP: Final = t("Another cup beside it")
A_CUP: Final = t("A cup from above and cut through")
COMPUTING_BOTH_CUPS: Final = Sentence("Computing both cups, {done} of {total}.")
NO_CUP_YET: Final = t("No cup to turn over yet. Ask a question first.")
NOT_COMPUTED_YET: Final = t("not computed yet")
CUT_THROUGH: Final = Sentence("cut through, {times:.0f} times deeper")
AFTER: Final = Sentence("After {minutes} minutes.")
COMPUTING_BOTH: Final = t("Computing both cups.")
