"""What a test shows, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.laws import Way
from dribbet.words.tongue import t

if TYPE_CHECKING:
    from dribbet.lab.verdict.model import Unlike

METHOD: Final = {
    Way.ALIKE: t("least squares, one scatter for all recipes"),
    Way.APART: t("least squares, each recipe's own scatter (Welch)"),
    Way.COUNTS: t("counts, Poisson and what they scatter beyond it"),
    Way.SHARES: t("shares, scatter by their distance from nought and all"),
    Way.EXACT: t("exact test of yes and no within the design"),
    Way.SHUFFLED: t("panels shuffled within the design"),
    Way.NONE: t("no panels poured alike"),
    Way.TIED: t("moves together with something else in this design"),
}
"""How a difference was judged."""


def moved(one: Unlike) -> str:
    """Something that moved along with a factor."""
    return t("{covariate} moved along with {factor} (r = {r:.2f}).", covariate=one.covariate, factor=one.factor, r=one.r)
