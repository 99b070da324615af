"""Panels of a series as factors of the model: each thing varied by its place, each added recipe as a thing of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.columns import MIDDLE
from dribbet.records import BETWEEN

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series

DIGITS: Final = 3  # of a level's number, so that levels sort as they were typed


def level_name(level: int) -> str:
    """Name of a level in the model.

    >>> level_name(2), level_name(BETWEEN) == MIDDLE
    ('002', True)
    """
    return MIDDLE if level == BETWEEN else f"{level:0{DIGITS}d}"


def added(letter: str) -> str:
    """Name of what an added recipe exchanges, in the model."""
    return f"+{letter}"


def factors_of(series: Series, recipes: Sequence[Arm], panels: Sequence[tuple[str, tuple[int, ...]]]) -> dict[str, tuple[str, ...]]:
    """Factors of panels, each given by its recipe's letter and its level numbers."""
    made = {str(i): tuple(level_name(settings[i]) for _, settings in panels) for i, v in enumerate(series.varied) if len(v.levels) > 1}
    for arm in recipes:
        if arm.extra is not None and arm.extra.instead:
            made[added(arm.letter)] = tuple(level_name(int(letter == arm.letter)) for letter, _ in panels)
    return made
