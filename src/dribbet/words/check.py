"""What Check says."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records.wording import first_up
from dribbet.words.tongue import Counted, Sentence, n, t
from dribbet.words.units import NARROW, in_words

if TYPE_CHECKING:
    from dribbet.studio.standing.sinking import Sinking

ASK_FLOW_CUP: Final = Sentence("{who} through {cup}, from opening it to the first break of the stream. U: another cup.")
ASK_MOUND: Final = Sentence("Space starts and stops the stopwatch for {who}: from the moment the stream ends until the mound is gone.")
ASK_RING: Final = Sentence("A drop of {who} in a puddle of base, after 1 to 2 min: the ring's width and the drop's radius, such as 1.2/4.")
ASK_RUN: Final = Sentence("Type the run of {who} and press Enter, or read a photo of the drip card.")
ASK_SLUMP: Final = Sentence("{mass} of {who} on a level plate: its diameters after {slump_seconds:g} s, as 62x60.")
ASK_STREAM: Final = Sentence("What does the stream of {who} do? Press its figure.")
BACK_TO_THE_CHECK: Final = t("Back to the check")
BEGIN_WITH: Final = Sentence(" Begin with {mass} and check again.")
CARD_PHOTO: Final = t("Photo of the drip card (two give its speed)")
COMPARED_BY: Final = Sentence("Compared by {check}.")
COMPARED_BY_MOUND: Final = t("Compared by how long the mound holds, the mean of three.")
CUP_TOO_FULL: Final = Sentence(" The cup holds {mass} more: take a larger one, or pour some off first.")
EQUAL_DROPS: Final = Sentence("Equal drops, {seconds:g} seconds down an upright drip card.")
EVERY_COLOUR_DRIPPED: Final = t("Every colour has its drip. Touch one on the card to drip it again.")
FROM_TO_BY_START: Final = Sentence("{low} to {high} in all, from the starting figures: nothing of yours is known yet.")
FROM_TO_BY_CUPS: Final = Sentence("{low} to {high} in all, from {readings} readings of {cups} of your own cups.")
KEEP_AS_IT_IS: Final = t("Keep as it is")
LOG_WHAT_WENT_IN: Final = t("Log what went in")
MATCHED_GO_TO_POUR: Final = t("Matched: go to Pour")
MIX_ONE_FIRST: Final = t("No cup is mixed yet. Mix one first.")
MOUND_HOLDS: Final = t("How long the mound holds")
NEEDS_NOTHING: Final = Sentence("{colour} needs nothing.")
NOTHING_SINKS: Final = t("g in each cm³. Lighter lies on heavier everywhere: no joint turns over by weight.")
NO_COLOUR_IN_HAND: Final = t("No colour is in hand. Touch one on the card.")
NO_CUP_YET: Final = t("No cup is mixed yet. Mix the first recipe, then check it here.")
NO_FIGURE: Final = Sentence("“{text}” is no figure. Type {like}.")
NO_LENGTH: Final = Sentence("“{text}” is no length. Type a figure such as 64.")
NO_SUCH_MOUND: Final = Sentence("A mound does not hold {seconds:g} s. Type 0 to 120 s.")
NO_SUCH_RING: Final = t("A ring is 0 to 50 mm wide, round a drop with a radius above 0. Measure again.")
NO_SUCH_RUN: Final = Sentence("A run of {mm:g} mm is not on the card. Type 0 to 300 mm.")
NO_TIMES_IN_PHOTOS: Final = t("These photos do not say when they were taken, so no speed can be had. Read one of them.")
NO_WAY_SUITS: Final = t("No way to pour suits all of these; match them first.")
NO_WEIGHT: Final = Sentence("“{text}” is no weight. Type the grams that you added.")
OFF_THE_CARD: Final = Counted(
    "Drip {which} from the left runs off the card. Drip again with smaller drops, or photograph the card sooner.",
    "Drips {which} from the left run off the card. Drip again with smaller drops, or photograph the card sooner.",
)
OUTSIDE: Final = Sentence(" {out} is outside.")
POWDER_INTO_PASTE: Final = t(" Work the powder into a little medium first, to a paste without dry crumbs.")
READING_CARD: Final = t("Reading the drip card…")
READ_A_RING_PHOTO: Final = t("Read a ring photo")
REALLY_ADDED: Final = t("What did you really add? Enter logs it as it stands; Esc leaves it.")
RING_IN_BASE: Final = Sentence("{ring_words} in the base ({ring:.2f} of the drop)")
RING_PHOTO: Final = t("Photo of a drop in a puddle of base")
START_ANEW: Final = t("thickening it would take more than half of what it holds. Start it anew on Mix (M, N) with less water, or keep it as it is.")
SUIT: Final = Counted("{ways} suits this consistency.", "{ways} suit this consistency.")
THROUGH_CUP: Final = Sentence("{seconds:.1f} s through {cup}")
TIME_A_MOUND_FIRST: Final = t("Time a mound, and your pots stand among the ways to pour.")
TIME_THE_FLOW_CUP: Final = t("Time the flow cup")
TIME_THE_NEXT_MOUND: Final = t("Time the next mound")
TOUCH_TO_DRIP_AGAIN: Final = t("Touch the colour to drip again on the card.")
TWO_FIGURES_OF_DISC: Final = t("Two figures are needed: both diameters.")
TWO_FIGURES_OF_RING: Final = t("Two figures are needed: the ring's width / the drop's radius.")
WANTS_TO_SINK: Final = t("What wants to sink")
WATER_IS_TESTED: Final = Sentence(
    "\x02Water is what you are testing.\x03 {mass} more takes {colour} from {before} to {after}. Add it, and the series says so beside {recipes}."
)
WAYS_TO_POUR: Final = t("Ways to pour at this consistency")
WHAT_ELSE_WAS_READ: Final = t("What else was read")
WHAT_WANTS_TO_SINK: Final = t("What wants to sink in the cup")
WINDOW_OF_TECHNIQUE: Final = Sentence("For a {technique}: {thin:g} to {thick:g} s.")


def sinks(found: Sinking) -> str:
    """What the densities make of the cup: joints that turn over, patches to expect and when, as ranges, and unlike sheens."""
    if not found.joints:
        return NOTHING_SINKS
    count = first_up(in_words(len(found.joints)))
    turning = n("{count} joint turns over", "{count} joints turn over", len(found.joints), count=count)
    thin, wide = (v * 1e3 for v in found.patches_m)
    said = t(
        "g in each cm³. {turning}: where they do, patches of about {thin:.0f} to {wide:.0f} mm. "
        "By weight alone they take {soon} to {late} on the panel.",
        turning=turning, thin=thin, wide=wide, soon=_time(found.begins_s[0]), late=_time(found.begins_s[1]),
    )  # fmt: skip
    if not found.sheens:
        return said
    below, sheen_below, above, sheen_above = found.sheens[0]
    others = len(found.sheens) - 1
    more = n(", and {others} more such joint", ", and {others} more such joints", others, others=others) if others else ""
    return said + " " + t(
        "Unlike sheen: {above} ({sheen_above}) over {below} ({sheen_below}){more}.",
        above=above, sheen_above=sheen_above, below=below, sheen_below=sheen_below, more=more,
    )  # fmt: skip


def _time(seconds: float) -> str:
    """A time as roughly as it is known."""
    if seconds > 99.5 * 60.0:
        return f"{float(f'{seconds / 3600.0:.2g}'):g}{NARROW}h"
    return f"{float(f'{seconds / 60.0:.2g}'):g}{NARROW}min" if seconds > 99.5 else f"{float(f'{seconds:.2g}'):g}{NARROW}s"
