"""What the first page of an empty notebook says."""

from __future__ import annotations

from typing import Final

from dribbet.lab.plan.templates import TEMPLATES
from dribbet.words.tongue import t
from dribbet.words.units import in_words

HEAD: Final = t("One question, a few small panels, an answer you can trust.")
NOTE: Final = t("Eight stations, from a doubt to a verdict. Nothing is typed twice, nothing leaves this computer.")
STATIONS: Final = (
    ("Ask", t("a doubt becomes the smallest honest test")),
    ("Mix", t("the scale says what to add, and mends a slip")),
    ("Check", t("all colours flow alike before you pour")),
    ("Pour", t("the same way each time, one key")),
    ("Dry", t("what is due, and when")),
    ("Shoot", t("a photo with the card beside the panel")),
    ("Read", t("cells, cracks, shimmer in millimetres")),
    ("Decide", t("real, or could be chance")),
)
NOTHING_INVENTED: Final = t("Nothing is invented for you: stock, prices and panels stay empty until you enter them, and the margin says so.")


def ways() -> tuple[tuple[str, str], ...]:
    """Three ways in: name, and what comes of it."""
    kinds = in_words(len(TEMPLATES)) if len(TEMPLATES) <= 12 else str(len(TEMPLATES))
    return (
        (
            t("A kind of test"),
            t(
                "Medium against medium, silicone from none, thin against thick: {kinds} kinds, each laid out at once. Change what you like.",
                kinds=kinds,
            ),
        ),
        (
            t("A jar and a doubt"),
            t("Name what stands on your shelf, weigh a syringe of it, drip it once. Dribbet learns your paints from the first cup on."),
        ),
        (t("Look round first"), t("The made-up studio: tests in every state, in its own window. Break what you like; it comes back whole.")),
    )
