"""What a test shows, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.laws import Way
from dribbet.records.wording import first_up
from dribbet.words.tongue import t

if TYPE_CHECKING:
    from dribbet.lab.verdict.model import Unlike

METHOD: Final = {
    Way.ALIKE: t("least squares, one scatter"),
    Way.APART: t("least squares, each recipe's own scatter"),
    Way.COUNTS: t("counts, Poisson or wider"),
    Way.SHARES: t("shares, least squares"),
    Way.EXACT: t("exact test of yes and no"),
    Way.SHUFFLED: t("panels shuffled within the design"),
    Way.NONE: t("no panels poured alike"),
    Way.TIED: t("moves together with something else in this design"),
}
"""How a difference was judged."""


FILM_COUNTED: Final = t("The figures take it into account.")


def depends(one: str, other: str, response: str) -> str:
    """Two things that do more together than each alone."""
    return t("What {one} does to {response} depends on {other}: look at each level of it.", one=one, other=other, response=response)


def without_film(response: str, with_film: str, without: str) -> str:
    """A word that hangs on the film."""
    return t(
        "{response}: {with_film} with the film counted in, {without} without.", response=first_up(response), with_film=with_film, without=without
    )


def moved(one: Unlike) -> str:
    """Something that moved along with a factor."""
    return t("{covariate} moved along with {factor} (r = {r:.2f}).", covariate=one.covariate, factor=one.factor, r=one.r)
