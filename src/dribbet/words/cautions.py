"""The usual cautions, in words, for the moment at which each applies. Labels, local codes and qualified people decide."""

from __future__ import annotations

from typing import Final

from dribbet.records import Hazard, Step
from dribbet.words.tongue import t

BY_HAZARD: Final = {
    Hazard.FLAMMABLE: t("Alcohol burns: no flame or spark near it, open a window, wear gloves. The label decides."),
    Hazard.DUST: t("Fine powder: keep it out of the air and wear a suitable mask. The label decides."),
    Hazard.SLIPPERY: t("Silicone makes gloves and floors slippery. Keep it off anything you want to coat."),
    Hazard.FUMES: t("Air the room while you mix. The label decides."),
}
START: Final = t("Gloves and apron on, rings off; tables and floor covered; windows as the labels ask. Paint stays out of drains and food.")
POWDER: Final = BY_HAZARD[Hazard.DUST]
TORCH: Final = t("Flame: clear the bench of film, cups and loose sleeves, air first, extinguisher at hand.")
TORCH_AFTER_ALCOHOL: Final = t("No torch: there is alcohol in this cup. Let it air off first, or leave this step out.")
TORCH_AFTER_AEROSOL: Final = t("No torch: the gas of the can burns. Air the room, let it settle, or leave the flame out of this test.")
AEROSOL: Final = t("The can's gas burns and is no air to breathe: windows open, no flame or spark, keep it upright. Its label decides.")
WASTE: Final = t("No paint down the drain: let scrapings dry and follow your local rules.")


def for_step(step: Step, hazards: frozenset[Hazard]) -> str:
    """Return the caution to show beside a step of the pour; empty where there is none."""
    if step is Step.TORCH:
        return TORCH_AFTER_ALCOHOL if Hazard.FLAMMABLE in hazards else TORCH
    if step is Step.TILT:
        return WASTE
    return ""
