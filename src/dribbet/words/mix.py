"""What Mix says."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.additions import CupAct
from dribbet.lab.cup.batches import Dirt
from dribbet.records.wording import first_up
from dribbet.studio.standing.mixing import Minding
from dribbet.words import cautions
from dribbet.words import cup as cup_words
from dribbet.words.tongue import Sentence, name, t
from dribbet.words.units import NARROW, clock_text, count_text, listed, percent

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import datetime

    from dribbet.lab.cup.resting import Rest
    from dribbet.records import Mix, MixMark, Weighing
    from dribbet.studio.standing.mixing import CupOfTheDay, Minded, WayBack
    from dribbet.words.units import Units

ADD: Final = Sentence("Add {adds}.")
ADD_WHAT: Final = Sentence("Add {what} of {name}")
AFTER_THAT: Final = Sentence("After that, {adds}.")
ARE_IN: Final = Sentence("{mass} are in; a step more is about {step}.")
ASK_CODE: Final = t("Type or scan the code on its label; it is checked before it is poured.")
BACK_TO_THE_CUP: Final = t("Back to the cup")
BACK_TO_THE_RECIPE: Final = t("Back to the recipe")
BOTTLED: Final = Sentence("It is bottle {code} now. Write the code on it; Shelf prints its label and takes its weight.")
BUBBLES_OUT_AT: Final = Sentence("Bubbles are out at {time:%H:%M} ({doubt} of rest, {source}).")
BY_THE_PLAN: Final = Sentence("By the plan about {step} in all: begin with less.")
COUNT_THEM: Final = Sentence("{made}Count them; type the number if more or fewer fell.")
COVERED_IT: Final = Sentence("Covered, it {waits}.")
COVER_IT_AND_LET_IT_REST: Final = t("Cover it and let it rest.")
COVER_IT_UNTIL_YOU_POUR: Final = t("Cover it until you pour.")
COVER_IT_WHILE: Final = Sentence("Cover it while it {waits}.")
COVER_OFF: Final = t("Take the cover off")
CUPS_ARE_MIXED: Final = Sentence("{done} of {cups} cups are mixed. Clean ones come first.")
CUP_COMES_TO: Final = Sentence("The cup then comes to {mass}.")
CUP_GROWS: Final = Sentence("Then it is {percent} {worst} again. The cup grows to {mass}.")
CUP_IS_DONE: Final = t("The cup is done: next cup")
CUP_NOT_ON_THE_SCALE: Final = t("The cup is not on the scale. Put it back, then press again.")
FILL_FROM_IT: Final = t("Fill the cup from it")
GO_ON_TO: Final = Sentence("Go on to {following}")
HOW_MUCH_IS_THERE: Final = t("How much paint of this colour is there? The cup's plan follows it.")
IN_ALL: Final = Sentence("{mass} in all. {enough}")
IT_IS_A_PASTE: Final = t("It is a paste")
IT_SETTLES: Final = Sentence(" Stir {again} up again just before pouring: it settles.")
LAST_STRAINED: Final = Sentence("{name} was last strained {days:.0f} days ago. Shake and strain it, and rinse the strainer at once.")
MADE_UP: Final = Sentence("Made up of 1 part in {parts:.0f} of {diluent}. ")
MIXED_OF: Final = Sentence("{done} of {mixes} mixed")
MORE_THAN_DROPS_WEIGH: Final = Sentence(
    "The scale shows {mass} more, and these drops weigh {drops_mg:.0f} mg. Take off what else went on it, or type how many drops fell."
)
MORE_THAN_THE_CUP_HOLDS: Final = Sentence("That is more than the cup holds. Pour {out} off into a spare cup first (2), or start anew.")
MORE_THAN_THE_SCALE_WEIGHS: Final = t("That is more than the scale can weigh. Take a lighter cup or a larger scale, or type the grams.")
NOTHING_MORE_TO_ADD: Final = t("Nothing more to add.")
NOTHING_WENT_IN: Final = Sentence("{title}: nothing went in yet.")
NOTHING_TO_MIX: Final = t("Nothing to mix yet. Draw lots on Ask, and the cups stand here.")
NO_GRAMS: Final = t("No grams yet. Pour onto the scale, or type what you added.")
NO_QUESTION: Final = t("No question yet. Start one on Ask.")
NO_REST_ASKED: Final = Sentence("This test asks for no rest; bubbles would need {doubt}.{settles}")
NO_TIME: Final = Sentence("“{text}” is no time of the day. Type one such as 14:30.")
NO_WEIGHT: Final = Sentence("“{text}” is no weight. Type a figure such as 12.4.")
NO_WEIGHT_OF_COLOUR: Final = Sentence("“{text}” is no weight. Type the grams of {colour} that you have.")
NO_WEIGHT_OR_MEASURE: Final = Sentence("“{text}” is no weight. Type a figure such as 12.4; or mL, tsp, drops or squirts behind it.")
ONE_BATCH: Final = t("One batch of a colour serves all recipes that share it.")
ON_THE_RECIPE_AGAIN: Final = Sentence("Then it is on the recipe again. The cup comes to {mass}.")
OTHER_WATER: Final = Sentence("Other cups of this series took {water} water; Bench rules say {water_source} now.")
PRACTICE_SCALE: Final = t("Practice scale: D pours, D again stops.")
RIM_WIPED_NO_LUMPS: Final = t("Rim wiped, no lumps")
SAY_WHEN_YOU_POUR: Final = t("Say when you pour, and each cup says until when it must be mixed.")
SCALE_CUP_TO_IT: Final = t("Scale the cup to it")
SCALE_IS_BACK: Final = t("The scale is back, with another zero. It starts from your cup as it is logged.")
STOOD_OPEN: Final = Sentence("{colour} has stood open for {open_min:.0f} min. Cover it.")
TAKE_PAINT_OUT: Final = t("Take paint out of the cup")
THAT_IS_ALL_OF_IT: Final = t("That is all of it")
THAT_IS_ENOUGH: Final = t("That is enough.")
THIN_IT_BY_EYE: Final = t("Thin it by eye")
TOOLS_OF_THEIR_OWN: Final = Sentence("{tools}: a stick and a cup of their own")
TOO_LITTLE_FOR_EVERY_PANEL: Final = Sentence("That is {percent} of what was planned: too little for every panel.")
TOO_MUCH_OF: Final = Sentence("{mass} too much {worst}")
UNCOVER: Final = t("Uncover and go on")
WEIGH_STEP_IN: Final = t("Weigh this step in")
WENT_IN: Final = Sentence("{title}: what went in, and when.")
WHAT_GOT_INTO_IT: Final = t("What got into it? Its panels will say so.")
YOU_POUR_AT: Final = Sentence("You pour at {time:%H:%M}: each cup says until when it must be mixed for its bubbles to be out.")

STEP_KG: Final = 1e-4
"""Below the scale's last digit, milligrams are said."""
SLOWLY_KG: Final = 4e-3
DO: Final = {
    CupAct.WET: (t("Work the powder in"), t("to a paste without dry crumbs, before anything thinner"), IT_IS_A_PASTE),
    CupAct.STIR_FIRST: (t("Stir to the bottom"), t("slowly, walls and bottom, until one colour"), t("Stirred")),
    CupAct.STIR_THIN: (t("Stir again"), t("walls and bottom; gently, so that no air goes in"), t("Stirred")),
    CupAct.STIR_LAST: (t("Stir the drops in"), t("as you always do: how hard is part of the test"), t("Stirred")),
    CupAct.RIM: (t("Wipe the rim"), t("no dried crumbs may fall in; look for lumps"), RIM_WIPED_NO_LUMPS),
    CupAct.STRAIN: (t("Strain it"), t("lumps were seen: into a clean cup, and rinse the strainer at once"), t("Strained")),
}
"""What is to be done with a cup, how, and what the key says once it is done."""
TOOLS: Final = {
    Dirt.CLEAN: t("tools A"), Dirt.ALCOHOL: t("tools B, alcohol"), Dirt.ACTIVATOR: t("tools C, activator"), Dirt.SILICONE: t("tools D, silicone"),
}  # fmt: skip
"""A set of sticks, cups and pipes for each kind of trace."""
MIXED_ALREADY: Final = t("mixed already")
COVERED_SINCE: Final = Sentence("since {at:%H:%M}; the cup waits as it is")
STIR_FIRST_INTO_A_SPARE: Final = t("stir well first; into a spare cup")
LET_THEM_FALL: Final = t("gloves on; let them fall one by one")
LET_A_THREAD_RUN: Final = t("a little, stir, let a thread run")
BY_THE_DROP: Final = t("slowly, by the drop")
STEADILY: Final = t("pour steadily, then slow down")
OVER: Final = Sentence("{mass} over")
AGAIN: Final = Sentence("{name} again")


def title(colour: str, water: float, *, by_eye: bool) -> str:
    """The cup in hand: its colour, and the water of its plan."""
    share = t("water by eye") if by_eye else t("{share} water", share=percent(water)) if water else t("no water")
    return f"{first_up(colour)}, {share}"


def amount(kg: float, units: Units) -> str:
    """An amount; below the scale's last digit in milligrams."""
    return f"{kg * 1e6:.0f}{NARROW}mg" if kg < STEP_KG else units.mass_text(kg)


def weighed(w: Weighing, units: Units) -> str:
    """One entry of the ledger."""
    drops = f"{count_text(w.drops, 'drop')}, " if w.drops else ""
    return f"{drops}{amount(w.mass_kg, units)}, {w.source}"


def marked(mark: MixMark) -> str:
    """Something else that happened to a cup."""
    return first_up(name(mark.kind))


def drops_are_in(drops: int) -> str:
    """What the key says once the drops are in."""
    return t("{drops} is in", drops=count_text(drops, "drop")) if drops == 1 else t("{drops} are in", drops=count_text(drops, "drop"))


def what_drops(drops: int, *, diluted: bool) -> str:
    """How many drops are due."""
    return count_text(drops, t("diluted drop"), t("diluted drops")) if diluted else count_text(drops, "drop")


def add(called: str, water: str, *, again: bool) -> str:
    """What goes in now; `water`: where it is from, of water whose source is part of the test."""
    if water:
        return t("Add {name} from {water}", name=called, water=water)
    return t("Add {name} again", name=called) if again else t("Add {name}", name=called)


def _added(one: WayBack, units: Units) -> str:
    return " + ".join(f"\x02{units.mass_text(kg)} {units.called(key)}\x03" for key, kg in one.adds_kg)


def back(one: WayBack, units: Units) -> tuple[str, str, str, str]:
    """Head, what to add, what comes of it, and a caution, of the way back to the recipe."""
    adds = _added(one, units)
    mend = ADD(adds=adds) if adds else NOTHING_MORE_TO_ADD
    total = units.mass_text(one.total_kg)
    if one.overshoot is None:
        return BACK_TO_THE_RECIPE, mend, ON_THE_RECIPE_AGAIN(mass=total), ""
    worst = units.called(one.overshoot.key)
    head = TOO_MUCH_OF(mass=units.mass_text(one.overshoot.over_kg), worst=worst)
    then = CUP_GROWS(percent=percent(one.overshoot.planned), worst=worst, mass=total)
    note = MORE_THAN_THE_CUP_HOLDS(out=units.mass_text(one.take_out_kg)) if one.too_full and one.take_out_kg is not None else ""
    return head, mend, then, note


def taken_out(one: WayBack | None, units: Units) -> tuple[str, str]:
    """What goes in once paint was taken out, and what comes of it."""
    if one is None:
        return "", ""
    adds = _added(one, units)
    return AFTER_THAT(adds=adds) if adds else "", CUP_COMES_TO(mass=units.mass_text(one.total_kg))


def take_out(kg: float, units: Units) -> str:
    """What stands on the key of the other way back."""
    return t("Take {mass} out", mass=units.mass_text(kg))


def keep(share: float) -> str:
    """What stands on the key that keeps a cup as it is."""
    return t("Keep {share}", share=percent(share, 1))


def minded(one: Minded | None, units: Units) -> str:
    """What is to be minded of the cup just now."""
    if one is None:
        return ""
    if one.what is Minding.HAZARD and one.hazard is not None:
        return cautions.BY_HAZARD[one.hazard]
    if one.what is Minding.OTHER_WATER:
        return OTHER_WATER(water=listed(one.waters[:-1]), water_source=one.waters[-1])
    if one.what is Minding.FORECAST:
        return cup_words.forecast(one.forecast, units)
    called = first_up(units.called(one.key))
    return LAST_STRAINED(name=called, days=one.figure) if one.what is Minding.STRAIN else STOOD_OPEN(colour=called, open_min=one.figure)


def rest(found: Rest, settles: str, local: Callable[[datetime], datetime], *, asked: bool) -> str:
    """When the bubbles are out; or that nobody asked for a rest, and how long they would need."""
    doubt = t("{low} to {high}", low=clock_text(found.low_s), high=clock_text(found.high_s))
    again = IT_SETTLES(again=settles) if settles else ""
    if not asked:
        return NO_REST_ASKED(doubt=doubt, settles=again)
    source = t("by its own check") if found.checked else t("by the recipe; its check will say better")
    return BUBBLES_OUT_AT(time=local(found.ready_at), doubt=doubt, source=source) + again


def waiting(*, asked: bool, covered: bool, done: bool) -> str:
    """What a finished cup is to do now."""
    if not done:
        return COVER_IT_AND_LET_IT_REST if asked else COVER_IT_UNTIL_YOU_POUR
    waits = t("rests") if asked else t("waits")
    return COVERED_IT(waits=waits) if covered else COVER_IT_WHILE(waits=waits)


def on_the_tray(code: str, mix: Mix, water: float) -> str:
    """The recipes of a cup, and their water."""
    return t("{code}-{recipes}  {share} water", code=code, recipes=mix.recipes, share=percent(water))


def when(one: CupOfTheDay, now: datetime, local: Callable[[datetime], datetime]) -> str:
    """Until when a cup rests or must be mixed."""
    if one.rest is not None:
        at = local(one.rest.ready_at)
        return t("rests until {at:%H:%M}", at=at) if one.rest.left_s(now) else t("rested since {at:%H:%M}", at=at)
    return t("mix by {at:%H:%M}", at=local(one.mix_by)) if one.mix_by is not None else ""


def contaminated(colour: str, why: str) -> str:
    """What got into a cup: 'teal: stick from the silicone cup'."""
    return f"{colour}: {why or t('no reason given')}"


def flag(why: str) -> str:
    """That a cup is contaminated, beside it in the list."""
    return t("contaminated: {why}", why=why or t("no reason given"))


TYPE_WHY: Final = t("type why, then Enter")
LIKE_A_CODE: Final = t("code, such as A10")
GRAMS_OF_PAINT: Final = t("grams of paint")
TYPE_THE_GRAMS: Final = t("type the grams")
OR_TYPE_HOW_MANY: Final = t("or type how many")
THAT_IS_IT: Final = t("that is it")
TAKE_IT: Final = t("take it: the repair follows at once")
