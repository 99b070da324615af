"""Looking at many panels, as one says it."""

from __future__ import annotations

from typing import Final

from dribbet.words.pour import place
from dribbet.words.tongue import n, t

LOOK: Final = t("Look")
NOTHING: Final = t("No dry panel of this series was photographed yet.")
BACK: Final = t("Back to Decide")
MORE: Final = t("More panels")
OVER_TIME: Final = t("Over time")
PANELS: Final = t("All panels")
TURN: Final = t("Turn")
BLINK: Final = t("Blink")
MISSING: Final = t("no photo")
COMING: Final = t("Squaring it up")
NO_FIGURES: Final = t("Digits take two panels to blink between. Zoom and pan move all of them.")


def sentence(panels: int, *, over_time: bool) -> str:
    """What is shown."""
    if over_time:
        return n("{count} recipe over time, at one scale.", "{count} recipes over time, at one scale.", panels, count=panels)
    return n("{count} panel at one scale.", "{count} panels at one scale.", panels, count=panels)


WHOLE: Final = t("Zone: all of it")


def zone(number: int | None) -> str:
    """Key of the ninth that is looked at."""
    if number is None:
        return WHOLE
    return t("Zone {place}", place=place((number % 3 + 0.5) / 3.0, (number // 3 + 0.5) / 3.0))


def lamp(name: str) -> str:
    """Key of the lamp."""
    return t("Lamp: {name}", name=name)


def blinking(first: str, second: str) -> str:
    """Which two panels take turns."""
    return t("{first} and {second} take turns.", first=first, second=second)
