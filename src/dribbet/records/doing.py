"""What can be planned and told of a step of a pour: how long, how far, how often, with what and where."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from dribbet.records.errors import RecordError
from dribbet.records.require import require_between, require_text
from dribbet.records.wording import first_up


class Step(StrEnum):
    """The steps of a pour."""

    BASE = "base"
    STAND = "stand"
    FILL = "fill"
    REST = "rest"
    LIFT = "lift"
    POUR = "pour"
    RING = "ring"
    LAY = "lay"
    PULL = "pull"
    SWIPE = "swipe"
    BLOW = "blow"
    ACTIVATE = "activate"
    PRESS = "press"
    WAIT = "wait"
    TORCH = "torch"
    GROW = "grow"
    SPIN = "spin"
    TILT = "tilt"
    WEIGH = "weigh"


class Does(StrEnum):
    """One figure of a step."""

    SECONDS = "seconds"
    PASSES = "passes"
    HEIGHT = "height"
    DISTANCE = "distance"
    TURNS = "turns"
    SPEED = "turns a minute"
    GRAMS = "grams"
    DIRECTION = "direction"
    TOOL = "tool"
    ZONE = "zone"
    STIR = "stirred in"
    LAYERS = "layers in"
    GOOD = "good"
    """How much of the panel pleases, as a share, before something more is done to it or at the end."""
    BEST = "best zone"
    """Which part of it pleases most, before something more is done to it."""


NAMED: Final = (Does.DIRECTION, Does.TOOL, Does.ZONE, Does.STIR, Does.BEST)
"""Figures that are words; the others are numbers in SI (m, s, kg, turns per second)."""

MOST: Final = {
    Does.SECONDS: 86_400.0, Does.PASSES: 100.0, Does.HEIGHT: 2.0, Does.DISTANCE: 2.0, Does.TURNS: 1000.0, Does.SPEED: 50.0,
    Does.GRAMS: 50.0, Does.LAYERS: 200.0, Does.GOOD: 1.0,
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """One figure of a step: a number in SI, or a word."""

    does: Does
    value: float | None = None
    word: str = ""

    def __post_init__(self) -> None:
        if (self.does in NAMED) != (self.value is None):
            kind = "a word" if self.does in NAMED else "a number"
            raise RecordError(f"{first_up(str(self.does))} of a step is {kind}. Enter {kind}.")
        if self.value is not None:
            require_between(self.value, 0.0, MOST[self.does], f"{first_up(str(self.does))} of a step", "Enter a figure that a hand can do.")
        require_text(self.word, f"The {self.does} of a step", 40)


@dataclass(frozen=True, slots=True, kw_only=True)
class Doing:
    """A figure of one step that a recipe holds, in place of what its way to pour says."""

    step: Step
    figure: Figure
