"""Kinds of test, as one asks for them."""

from __future__ import annotations

from typing import Final

from dribbet.words.tongue import t

KINDS: Final = {
    "medium": t("Medium against medium"),
    "silicone": t("Silicone, a ladder from none"),
    "alcohol": t("Alcohol, a ladder from none"),
    "shimmer": t("Shimmer medium, a ladder from none"),
    "anti-craze": t("Anti-craze additive, a ladder from none"),
    "ratio": t("Ratio, from too thick to too thin"),
    "film": t("Medium and film left, for cracks"),
    "spots": t("Sheen, finish and medium, spots on one panel"),
    "base": t("Water in the base, under a bloom"),
    "technique": t("Technique against technique"),
    "order": t("Order of layers in the cup"),
    "heat": t("With and without heat"),
    "heat after": t("Early against late heat"),
    "third": t("Alcohol against water as third liquid"),
    "activator": t("Activator against activator, blind"),
    "cure": t("Drying and cure: wash, varnish, bake, hot cup"),
    "size": t("A winner on a larger panel"),
}
"""By key of the template."""
