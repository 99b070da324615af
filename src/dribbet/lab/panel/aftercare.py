"""What may be done to a dry panel, and what has to come first. Labels and qualified people decide; this only keeps the order."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records import COATS, After
from dribbet.records.wording import first_up

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import Treated

CURE_DAYS: Final = 21.0
"""Starting figure for a usual film; a thicker one takes longer in proportion."""
USUAL_FILM_M: Final = 1.7e-3
BAKE: Final = (160.0, 1800.0)
"""A common label bake in °C and s, from a cold oven, cooling with the door ajar: the label decides."""
HOT_CUP: Final = (95.0, 30.0)
"""A cup of just-boiled water, and how long it stands, in °C and s."""
THIN_M: Final = 2.2e-3
"""Wet films above this blister in the oven more often than not, by the craft's own reports."""


class Phase(StrEnum):
    """Where a treatment that takes its time stands."""

    HEATING = "heating"
    HELD = "held"
    UP = "up"
    COOLING = "cooling"
    OVER = "over"


@dataclass(frozen=True, slots=True, kw_only=True)
class State:
    """What decides whether a treatment may begin."""

    code: str
    dry: bool
    """Through-dry by its window or by weight, or judged so."""
    days: float
    film_m: float
    silicone: bool
    washed: bool
    coated: bool
    baked: bool
    unbakeable: tuple[str, ...]
    """Ingredients that no label was said to allow in an oven."""
    photographed: bool
    scored: bool
    discarded: bool


def cured_days(film_m: float) -> float:
    """Days after which a film may be called cured: in proportion to its thickness, never fewer than the starting figure."""
    return CURE_DAYS * max(film_m / USUAL_FILM_M, 1.0)


def lasts(kind: After) -> bool:
    """Whether a treatment takes its time and is finished by a second press."""
    return kind in (After.BAKE, After.HOT_CUP)


def phase(one: Treated, now: datetime) -> tuple[Phase, float]:
    """Where a treatment stands, and seconds: to go while it is held, since it began for every other phase.

    A bake starts in a cold oven, so its time runs from the moment at which the oven is hot, and ends when the door stands ajar;
    a hot cup's time runs from the start.
    """
    if one.finished_at is not None:
        return Phase.OVER, (now - one.finished_at).total_seconds()
    if one.ajar_at is not None:
        return Phase.COOLING, (now - one.ajar_at).total_seconds()
    since = one.hot_at if one.kind is After.BAKE else one.at
    if since is None:
        return Phase.HEATING, (now - one.at).total_seconds()
    left = one.seconds - (now - since).total_seconds()
    return (Phase.HELD, left) if left > 0.0 else (Phase.UP, -left)


def held_s(one: Treated) -> float:
    """Seconds for which heat was really held: from hot to ajar where a bake says both, else what was planned."""
    if one.hot_at is None or one.ajar_at is None:
        return one.seconds
    return (one.ajar_at - one.hot_at).total_seconds()


def barred(kind: After, state: State) -> str | None:
    """Why a treatment may not begin; None where it may."""
    code = state.code
    if state.discarded:
        return f"{code} was discarded. Its record stays."
    if kind is After.DISCARD:
        if not state.photographed:
            return f"Photograph {code} first: what is thrown away can never be looked at again."
        return None if state.scored else f"Read the photo of {code} first: its figures belong to the test, also where it is disliked."
    if not state.dry:
        return f"{code} is not through-dry yet. Wait until it is, by its band or by its weight."
    if kind is After.WASH:
        return None
    if state.silicone and not state.washed and kind in (*COATS, After.BAKE):
        return f"There is silicone on {code}. Wash it off first, and say so: nothing sticks to oil, and an oven smokes it."
    if kind is After.BAKE:
        if state.unbakeable:
            what = first_up(state.unbakeable[0])
            return f"{what} is in {code}, and its card does not say that it may be baked. Look at its label, then mark it on Shelf."
        if state.coated:
            return f"{code} is coated. Only the label of the coat can say whether it may go into an oven: bake before coating."
    return None


def fitness(state: State, stuck: str) -> tuple[str, ...]:
    """What a panel has passed, for its sheet: facts, no promise. `stuck` is how a hot cup came off, empty where none was tried."""
    passed = []
    if state.days >= cured_days(state.film_m):
        passed.append("cured")
    if state.washed:
        passed.append("washed")
    if state.coated:
        passed.append("coated")
    if state.baked:
        passed.append("baked")
    if stuck:
        passed.append(f"hot cup: {stuck}")
    return tuple(passed)
