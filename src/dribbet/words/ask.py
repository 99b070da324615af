"""What Ask says."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.sizes import Tells
from dribbet.records import WATER
from dribbet.records.wording import first_up
from dribbet.studio.standing.ask import More, ShownBy, Takes
from dribbet.studio.standing.has import Has
from dribbet.words.margin import amount
from dribbet.words.tongue import Sentence, name, t
from dribbet.words.units import NARROW

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.planning import Demand
    from dribbet.records import Series
    from dribbet.studio.standing.ask import Need, PlanInHand, SizeOffered
    from dribbet.words.units import Units

ADD_CONTROL_KEY: Final = t("C  Add a recipe without it")
ADD_PANELS_KEY: Final = t("X  Add the panels that separate what is mixed up")
ADD_REPEAT_KEY: Final = t("R  Add a repeat")
ASK_RANGE: Final = Sentence("From and to, such as 5 to 40, in {unit}; empty for any")
AT_LOOK: Final = Sentence("{name} at the {look} look")
A_SET_OF_COLOURS_WITHOUT_PANELS: Final = t("A set of colours, without panels: density, drip, disc")
A_SIZE_IS_ZERO_OR_MORE: Final = t("A size is zero or more.")
BARE_PANELS_AT_HAND: Final = t("Bare panels at hand")
CHANGE_TO_SCALE: Final = Sentence("A change of {change} on the panel, to scale")
CHOOSE_A_KIND_OF_TEST: Final = t("Choose a kind of test")
COST_BY_SHELF_PRICES: Final = Sentence("{money:.0f}, by shelf prices")
COST_OF_1_KG: Final = t("Cost of 1 kg")
DEMO_OPENS: Final = t("The made-up studio opens in a window of its own.")
DILUTED_DROPS_KEY: Final = t("D  Drops diluted 1 in 10")
DO_AGAIN_KEY: Final = t("Y  Do it again")
DRAWN_BY_LOT: Final = Sentence("Order and rack places were drawn by lot, seed {seed}.")
EIGHT_STATIONS: Final = t("What happens from a doubt to a verdict")
FEWER_REPEATS_KEY: Final = t("T  One repeat fewer")
FROM_THE_PANELS_SIZE: Final = t("From the panel's size")
HATCHED_IS_TAKEN: Final = t("Hatched is what the test takes, with what stays in the cup and the reserve.")
HOURS_AT_THE_BENCH: Final = t("Hours at the bench on one day")
IS_WRITTEN: Final = Sentence("{out} is written.")
ITS_OWN_FIGURES: Final = t("its own figures")
KINDS_KEY: Final = t("P  Kinds of test, filled with your last materials")
LARGER_CUP_KEY: Final = t("G  A cup large enough for whole drops")
LEAVE_ADDED_OUT: Final = t("Leave the added panels out again")
LOOKS_AT_EACH_PANEL: Final = Sentence("{count} at each panel: {looks}.")
LOTS_ARE_DRAWN_GO_TO_MIX: Final = t("Lots are drawn: go to Mix")
LOTS_DECIDE_PLACES: Final = t("Lots decide which lies where. Hatched strips are not measured.")
LOTS_NOT_DRAWN: Final = t("The lots are not drawn yet: draw them on Ask, then print again.")
MEND_KEY: Final = t("F  Mend this test in a new series")
NAME_OF_THE_SERIES: Final = t("Name of the series")
NOT_ENTERED: Final = t("not entered")
NO_CONTROL_KEY: Final = t("I  Go without a control, on record")
NO_FORMULA: Final = t("No formula holds for panels that never crack: \x02E\x03 rehearses what you expect.")
NO_NUMBER: Final = Sentence("“{text}” is no number. Type a figure for: {what}.")
NO_RANGE: Final = Sentence("“{text}” is no range. Type from and to, such as 5 to 40, or nothing for any.")
NO_SIZE: Final = Sentence("“{text}” is no size. Type a figure such as 40.")
OFFER_NOT_KNOWN: Final = t("shows: not known yet")
OFFER_SHOWS: Final = Sentence("shows {amount}")
OFFER_SHOWS_NONE: Final = t("too few to show any change")
OF_AT_HAND: Final = Sentence("{panels:.0f} of {have_panels:.0f} at hand")
OF_STOCK: Final = Sentence("{mass} of {stock}")
OF_FREE: Final = Sentence("{panels:.0f} of {free:.0f} free")
PANELS_NOT_ENTERED: Final = Sentence("{panels:.0f}; not entered how many are there")
PLACES_LEFT: Final = Sentence("{taken} taken, {needed} needed, {left} left")
PLACES_NOT_ENTERED: Final = Sentence("{panels:.0f} places; not entered how many there are")
PLACES_ON_THE_DRYING_RACK: Final = t("Places on the drying rack")
PREDICTION_LOCKED: Final = t("The prediction was locked at the first pour. It stands.")
RACK_PLACES: Final = Sentence("Drying rack: {taken} of {all} places taken, {needed} needed")
REPEAT_WITH_ONE_CHANGE_KEY: Final = t("O  Repeat with one change")
RING_IS_A_LOOK: Final = t("A ring is a look or a photo that becomes a task on Dry and Shoot. What good means is kept apart from what is measured.")
RUN_SHEET_KEY: Final = t("L  Run sheet and panel labels as PDF")
SEE_IT_TURN_OVER: Final = t("See the cup turn over, beside another one")
SHOPPING_LIST_AS_TEXT: Final = t("Shopping list as text")
SHOWS: Final = Sentence(
    "A change of \x02{amount}\x03 or more, four times in five. "
    "Smaller ones look like chance: in {where} panels poured alike differed by {scatter} ({panels}). \x02E\x03 rehearses it."
)
START_A_QUESTION: Final = t("Start a question and this margin starts talking.")
STIR_STICK: Final = t("Stir stick: black paint, grey medium, waves thinner; rings are drops of silicone on the colour that gets them")
STOCK_NOT_ENTERED: Final = Sentence("{stock}; stock not entered")
TAKE_BACK_KEY: Final = t("Z  Take the last change back")
TAKE_THE_LOTS_BACK: Final = t("Take the lots back")
WASH_BEFORE_COAT: Final = t("Silicone: wash before any coat")
WEIGHT_OF_RESPONSE: Final = Sentence("{response} counts {weight} of 3")
WHAT_GOOD_MEANS_HERE: Final = t("What good means here:")
WHAT_IT_TAKES: Final = Sentence("{name}: what it takes")
WHOLE_DROPS_ALREADY: Final = t("Every cup of this plan gets whole drops.")
WORK_OUT: Final = t("work it out")
WORK_IT_OUT: Final = t("Yes, work it out from size, sides, technique and base")

HAS: Final = {Has.PANELS: BARE_PANELS_AT_HAND, Has.RACK: PLACES_ON_THE_DRYING_RACK, Has.HOURS: HOURS_AT_THE_BENCH}
"""What the studio has, as it is called on the card."""
TELLS: Final = {
    Tells.TWO_LEVELS: t("the two"),
    Tells.EACH_LEVEL: t("each level"),
    Tells.EACH_AND_PAIRS: t("each, and what two do together"),
    Tells.EACH: t("each, but not what two do together"),
    Tells.EACH_IF_NONE_WORK_TOGETHER: t("each, if none work together"),
}
MORE: Final = {
    More.MORE_REPEATS: ADD_REPEAT_KEY, More.FEWER_REPEATS: FEWER_REPEATS_KEY, More.KINDS: KINDS_KEY, More.AGAIN: REPEAT_WITH_ONE_CHANGE_KEY,
    More.MEND: MEND_KEY, More.SEPARATE: ADD_PANELS_KEY, More.GROWN: LARGER_CUP_KEY, More.DILUTED: DILUTED_DROPS_KEY, More.PLAIN: LEAVE_ADDED_OUT,
    More.CONTROL: ADD_CONTROL_KEY, More.INSIST: NO_CONTROL_KEY, More.TURNING: SEE_IT_TURN_OVER, More.SHEET: RUN_SHEET_KEY,
    More.SHOPPING: SHOPPING_LIST_AS_TEXT, More.UNDO: TAKE_BACK_KEY, More.REDO: DO_AGAIN_KEY,
}  # fmt: skip


def more(what: More, series: Series) -> str:
    """One line of what else can be done with a plan."""
    return t("Rename {name}", name=series.name) if what is More.NAME else MORE[what]


def offered(found: PlanInHand, one: SizeOffered, units: Units) -> str:
    """What one of the three sizes shows, and what it tells apart."""
    if one.same_as:
        return t("the same as {number}", number=one.same_as)
    offer, why = one.offer, found.shown_by(one.offer)
    if why is not None or offer.shows is None:
        shown = OFFER_NOT_KNOWN if why is ShownBy.NOT_KNOWN else OFFER_SHOWS_NONE
    else:
        shown = OFFER_SHOWS(amount=amount(found.series.responses[0][0], offer.shows, units))
    tells = t("{parts} and a bend between", parts=TELLS[offer.tells]) if offer.bend else TELLS[offer.tells]
    return f"{shown}. {first_up(tells)}."


def need(one: Need, units: Units) -> tuple[str, str]:
    """What a test takes of one thing, and of how much: ('Paint', '420 g of 1.9 kg')."""
    if one.what is Takes.PAINT:
        mass = units.stock_text(one.amount)
        said = OF_STOCK(mass=mass, stock=units.stock_text(one.there)) if one.there is not None else STOCK_NOT_ENTERED(stock=mass)
        return t("Paint"), said
    if one.what is Takes.MONEY:
        return t("Money"), COST_BY_SHELF_PRICES(money=one.amount) if one.share is not None else t("prices not entered")
    if one.what is Takes.PANELS:
        known = one.there is not None
        return t("Panels"), OF_AT_HAND(panels=one.amount, have_panels=one.there) if known else PANELS_NOT_ENTERED(panels=one.amount)
    if one.what is Takes.RACK:
        return t("Rack"), OF_FREE(panels=one.amount, free=one.there) if one.there is not None else PLACES_NOT_ENTERED(panels=one.amount)
    return t("Days"), t("{days:.0f}, with drying", days=one.amount)


def recipe_of(series: Series, letter: str, said: str) -> str:
    """A recipe of an earlier test, to be repeated."""
    return f"{series.code}-{letter}  {said}"


def earlier(series: Series) -> str:
    """An earlier test in one line."""
    return f"{series.name}: {name(series.varied[0].words)}"


def shopping(series: Series, demand: Sequence[Demand], units: Units) -> str:
    """What is taken and what is short, as text for any screen."""
    lines = [WHAT_IT_TAKES(name=series.name), ""]
    for d in demand:
        line = t("{name}: {mass}", name=units.called(d.name), mass=units.mass_text(d.kg))
        if d.stock_kg is not None:
            line += t(", there is {stock}", stock=units.stock_text(d.stock_kg))
        elif d.name != WATER:
            line += t(", stock not entered") if d.on_shelf else t(", not on the shelf")
        lines.append(line + (t("  BUY {mass}", mass=units.mass_text(d.short_kg)) if d.short_kg > 1e-6 else ""))
    return "\n".join(lines).replace(NARROW, " ") + "\n"


WATER_OR_ALCOHOL: Final = t("water or alcohol")
A_DROP_ON_ITS_COLOUR: Final = t("a drop of silicone, on its colour")
