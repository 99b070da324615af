"""Shelf: what is known of containers and bottles, as one says it; and what was typed as facts again."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles
from dribbet.records import NO_HEX, DribbetError, Kind, Response
from dribbet.records.wording import first_up
from dribbet.studio.standing.shelf import A_MIX_M3
from dribbet.words import cautions
from dribbet.words.parts import Remark, Weight
from dribbet.words.tongue import Sentence, n, t
from dribbet.words.units import count_text, in_words, listed, percent

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence
    from datetime import datetime

    from dribbet.lab.paint.experience import Experience
    from dribbet.records import Material
    from dribbet.studio.standing.shelf import BottleStanding, ContainerStanding, Money, Panels, Start
    from dribbet.words.units import Units

SEEN_WORDS: Final = {
    Response.CELL_COUNT: t("{value:.0f} cells a dm²"),
    Response.CRACK_LENGTH: t("{value:.0f} mm of cracks"),
    Response.VIVIDNESS: t("vividness {value:.0f}"),
}
LEAST_TOLD: Final = 0.005  # share of a bottle below which a part is not named


def sentence(due: Sequence[Material], low: Sequence[Material], containers: int, stored: int) -> tuple[str, str]:
    """What is to be done about the shelf, and how much stands on it."""
    if not containers:
        return t("The shelf is empty. Add what you pour with."), ""
    if due:
        words = n(
            "{names} came in a new lot: measure it again.",
            "{names} came in a new lot: measure them again.",
            len(due),
            names=first_up(listed([m.name for m in due], 3)),
        )
    elif low:
        words = n("{names} is running low.", "{names} are running low.", len(low), names=first_up(listed([m.name for m in low], 3)))
    else:
        words = t("Nothing is running low.")
    more = t(" and {count}; the oldest mix first", count=count_text(stored, "bottle")) if stored else ""
    return words, f"{count_text(containers, 'container')}{more}."


def container(stands: ContainerStanding, units: Units, local: Callable[[datetime], datetime]) -> list[Remark]:
    """What is to be done about a container, and what is known of it beyond its card."""
    m = stands.material
    made = [
        Remark(t("New lot"), t("Its {kind} was measured before this lot came. Measure it again.", kind=kind), Weight.CAUTION)
        for kind in stands.to_check
    ]
    made += [Remark("", cautions.BY_HAZARD[h], Weight.CAUTION) for h in m.hazards]
    if m.is_powder:
        made.append(Remark("", cautions.POWDER, Weight.CAUTION))
    if m.wash_off:
        made.append(Remark("", t("Must be washed off before varnish, resin or oven."), Weight.CAUTION))
    made += _measured(stands, units, local)
    if stands.start is not None:
        made.append(Remark(t("To start from"), _start(stands.start, units)))
    return [*made, *_panels(stands.panels, m, units), *_money(stands.money, units)]


def _measured(stands: ContainerStanding, units: Units, local: Callable[[datetime], datetime]) -> list[Remark]:
    m, weighed, disc, body = stands.material, stands.density, stands.disc, stands.body
    if weighed is None:
        made = [Remark("Density", t("{figure:.2f} g in each mL is a starting figure, not weighed yet.", figure=m.density_kg_m3 / 1000))]
    else:
        lot = t(", lot {lot}", lot=weighed.lot) if weighed.lot else ""
        figures = f"{weighed.value / 1000:.3f} ± {stands.density_sd / 1000:.3f}"
        made = [Remark("Density", t("weighed {local:%d %b}: {figures} g in each mL{lot}.", local=local(weighed.at), figures=figures, lot=lot))]
    if disc is not None and body is not None:
        made.append(
            Remark(
                "Body",
                t(
                    "{words} ({length} across): start from 1 to {start_parts:g}.",
                    words=body.words,
                    length=units.length_text(disc.value * 1000.0),
                    start_parts=body.start_parts,
                ),
            )
        )
    made += [
        Remark(
            t("One {kind}", kind=g.kind),
            t("{figure:.0f} mg, from {count} weighed {local:%d %b}.", figure=g.value * 1000000.0, count=g.count, local=local(g.at)),
        )
        for g in stands.doses
    ]
    if not stands.doses and m.drop_kg:
        made.append(Remark(t("One drop"), t("{figure:.0f} mg, not weighed yet.", figure=m.drop_kg * 1000000.0)))
    return made


def _start(start: Start, units: Units) -> str:
    """Ratio and water to begin with, and what that rests on."""
    share, step, medium = start.share, start.step_m3, units.called(start.medium)
    span = t("{share} water by volume ({low} to {high})", share=percent(share.value), low=percent(share.low), high=percent(share.high))
    words = t("For medium thickness in 1 : {medium_to_paint:.1f} {medium}: {span}, ", medium_to_paint=start.medium_to_paint, medium=medium, span=span)
    words += t("from {count} of {count2}.", count=count_text(share.readings, "reading"), count2=count_text(share.cups, "cup"))
    if start.found is not None:
        low, high = percent(start.found.water_low), percent(start.found.water_high)
        words += t(
            " Your cups that stood so held {words} water by weight ({cases}).",
            words=low if low == high else f"{low} to {high}",
            cases=start.found.cases,
        )
    figures = t(
        "{grams:.0f} g water in {ml:.0f} mL ({low:.0f} to {high:.0f})",
        grams=step.value * 1000000.0,
        ml=A_MIX_M3 * 1000000.0,
        low=step.low * 1000000.0,
        high=step.high * 1000000.0,
    )
    return t(
        "{words} From thick to medium: {figures}. Without a thinner no mix gets thinner than {medium} alone: grade {thinnest}.",
        words=words,
        figures=figures,
        medium=medium,
        thinnest=start.thinnest,
    )


def _panels(panels: Panels, m: Material, units: Units) -> list[Remark]:
    if not panels.own.panels:
        return [Remark(t("Your panels"), t("None of those measured holds it yet."))]
    made = [Remark(t("Your panels"), seen(panels.own))]
    if panels.grade is not None:
        made.append(Remark(t("All {grade} grade", grade=m.grade), seen(panels.grade)))
    if panels.tried:
        made.append(Remark(t("Instead of it"), "; ".join(f"{units.called(key)}: {seen(e)}" for key, e in panels.tried[:3])))
    if panels.untried:
        made.append(Remark("", t("Not tried on a measured panel: {names}.", names=listed([units.called(key) for key in panels.untried], 3))))
    return made


def seen(e: Experience) -> str:
    """Means of measured panels, beside those without it."""
    if not e.panels:
        return t("not tried yet")
    said = []
    for response, mean in e.means.items():
        other = e.others.get(response)
        said.append(SEEN_WORDS[response].format(value=mean) + (t(" ({other:.0f} without it)", other=other) if other is not None else ""))
    return f"{in_words(e.panels)} {'panel' if e.panels == 1 else 'panels'}: {', '.join(said) or 'not measured yet'}"


def _money(money: Money, units: Units) -> list[Remark]:
    made = []
    if money.per_kg:
        solids = t(", {figure:.3f} a mL of what stays dry", figure=money.per_dry_m3 * 1e-06) if money.per_dry_m3 is not None else ""
        made.append(
            Remark("Costs", t("{per_kg:.2f} a kg, {figure:.3f} a mL{solids}.", per_kg=money.per_kg, figure=money.per_m3 * 1e-06, solids=solids))
        )
    if money.packs:
        said = "; ".join(t("{mass} at {per_kg:.2f} a kg", mass=units.stock_text(p.pack.content_kg), per_kg=p.per_kg) for p in money.packs)
        pays = money.large_pays_from_kg
        made.append(Remark("Packs", f"{said}.{f' The large one pays from {units.stock_text(pays)} on.' if pays is not None else ''}"))
    if money.drops is not None:
        words = t("{drops} drops are left", drops=money.drops)
        if money.pours is not None:
            words += t(": {pours} pours as the last ones", pours=money.pours)
            words += t(", {figure:.3f} each", figure=money.per_pour_kg * money.per_kg) if money.per_kg else ""
        made.append(Remark("Lasts", words + "."))
    return made


def contents(shares: Mapping[str, float], units: Units) -> str:
    """Teal 28 %, conditioner 56 %: what is more than a trace."""
    return ", ".join(f"{units.called(key)} {percent(share)}" for key, share in shares.items() if share >= LEAST_TOLD)


def bottle(stands: BottleStanding, units: Units, local: Callable[[datetime], datetime]) -> list[Remark]:
    """How a bottle stands, and what it may be used for."""
    b, now = stands.bottle, stands.stand
    origin = t(", from {origin}", origin=stands.origin) if stands.origin else ""
    made = [
        Remark("Holds", t("{mass} of {contents}.", mass=units.mass_text(now.content_kg), contents=contents(now.contents, units))),
        Remark("Stored", t("{local:%d %B}, {age_d:.0f} days ago{origin}.", local=local(b.stored_at), age_d=stands.age_d, origin=origin)),
    ]
    if now.barred:
        made.insert(0, Remark(t("Not for a test"), now.barred, Weight.STOP))
    if b.silicone:
        made.append(Remark("Silicone", t("It is in here: keep its tools apart, and wash what it touches before any coat."), Weight.CAUTION))
    if b.activator:
        made.append(Remark("Activator", t("Not a colour of a cup: it is laid over colours."), Weight.CAUTION))
    if now.unchecked:
        lost = now.lost_kg >= bottles.WORTH_G
        words = t("It lost {mass} of water. Give it back, stir,", mass=units.mass_text(now.lost_kg)) if lost else t("Water was given back. Stir,")
        made.append(Remark(t("Check it first"), t("{words} and check it before you pour it.", words=words), Weight.CAUTION))
    elif stands.fits is None:
        made.append(Remark("Fits", t("not known: it was stored unchecked.")))
    else:
        made.append(Remark("Fits", f"{listed([str(t) for t in stands.fits])}." if stands.fits else t("No way of pouring at its thickness.")))
    if stands.old:
        made.append(Remark("Old", t("Smell and stir it before use; the label of its medium says how long it keeps."), Weight.CAUTION))
    return made


# ---------------------------------------------------------------- what was typed


def new_container(text: str) -> tuple[str, Kind, str]:
    """Name, kind and colour of 'sea glass, paint, #7FB3A8'; kind and colour may be left out."""
    words = [w.strip() for w in text.split(",")]
    if not words or not words[0]:
        raise DribbetError(t("A container needs a name. Type it, then its kind and its colour, such as sea glass, paint, #7FB3A8."))
    kinds = {str(k): k for k in Kind}
    colours = [w for w in words[1:] if re.fullmatch(r"#[0-9A-Fa-f]{6}", w)]
    strange = [w for w in words[1:] if w and w.lower() not in kinds and w not in colours]
    if strange:
        raise DribbetError(
            t("“{strange}” is no kind and no colour. Kinds are {names}; a colour is written as #7FB3A8.", strange=strange[0], names=", ".join(kinds))
        )
    kind = next((kinds[w.lower()] for w in words[1:] if w.lower() in kinds), Kind.PAINT)
    return words[0], kind, colours[0].upper() if colours else NO_HEX


def scraped(text: str, units: Units) -> list[tuple[str, float]]:
    """Recipes and kilograms of 'K3-a 35, K3-b 20'."""
    made = []
    for piece in re.split(r"[,;]", text):
        found = re.match(r"^\s*(\S+)\s+([\d.,]+)\s*(?:g|oz)?\s*$", piece)
        if found is None:
            raise DribbetError(t("Say which cups and how much: K3-a 35, K3-b 20."))
        made.append((found.group(1), units.mass_kg(found.group(2))))
    return made


BACK_TO_THE_SHELF: Final = t("Back to the shelf")
BODY_IS: Final = Sentence("{name} {body}: {across} across. Start from 1 part to {parts:g} of conditioner.")
BOTTLES_THE_OLDEST_FIRST: Final = t("Bottles, the oldest first")
BOTTLE_HOLDS: Final = Sentence("{code} holds {mass}. What it loses from now on is water.")
COLOURS_TO_MEASURE: Final = t("Colours to measure together; Enter alone takes those of the series in hand.")
DENSITY_FOUND: Final = Sentence("{name} weighs {g_per_ml:.3f} g in each mL; the fillings differ by {percent}.")
DENSITY_IS: Final = Sentence("{g_per_ml:.3f} g in each mL")
LET_INTO_A_CUP: Final = Sentence("Let {count} {plural} into a cup")
SET_INTO_A_CUP: Final = Sentence("Set {count} {plural} into a cup")
DROP_WEIGHS: Final = Sentence("One {kind} of {name} weighs {one_mg:.0f} mg, from {count} together.")
FILL_AGAIN: Final = t("Empty it, fill it again, weigh it")
FILL_AND_CAP: Final = t("Fill it, cap it, weigh it")
FILL_TO_10_ML: Final = t("Fill it to 10 mL and weigh it")
GIVE_WATER_BACK: Final = t("Give its water back")
IN_ONE_HEAP: Final = Sentence("{name} as it leaves the container, in one heap")
KINDS: Final = Sentence("Kinds: {kinds}. House mix: cut glue = glue 200, water 100. A bottle's code finds it.")
LABELS_ARE_IN: Final = Sentence("Labels for sheets of {size} mm are in {name}.")
LOST_NOTHING: Final = Sentence("{code} lost nothing that the scale can see.")
LOST_WATER: Final = Sentence("{code} lost {lost} of water. {tail}")
MAY_BE_BAKED_LABEL: Final = t("May be baked (label)")
MEASURE_HOW_FAR_IT_RAN: Final = t("Measure how far it ran")
MEASURE_IT_THE_OTHER_WAY: Final = t("Measure it the other way")
MUST_BE_WASHED_OFF: Final = t("Must be washed off")
NAME_KNOWN_TO_RECIPES: Final = Sentence("Recipes know another container as {typed}. Give this one another name, or that one its old name back.")
NAME_TAKEN: Final = Sentence("There is a {typed} on the shelf already. Give this one another name.")
NEEDS_A_NAME: Final = t("A container needs a name.")
NOTHING_CALLED: Final = Sentence("Nothing on the shelf is called “{typed}”. Type a bottle's code, or a container's name.")
NOTHING_TO_LABEL: Final = t("There is no bottle and no house mix to label yet. Store a mix on Mix (M, then S).")
NOTHING_WAS_GIVEN_BACK: Final = t("Nothing was given back.")
NOT_ON_THE_SHELF: Final = Sentence("There is no {group} on the shelf. Add it first, then make the mix of it.")
NO_AIR_IN_IT: Final = Sentence("{name}, no air in it; wipe the tip")
NO_AMOUNT: Final = Sentence("“{part}” has no amount. Write each part as glue 200.")
NO_COLOUR: Final = Sentence("“{text}” is no colour. Write it as #7FB3A8.")
NO_DAY: Final = Sentence("“{text}” is no day. Type today, or one such as 2026-11-03.")
NO_FIGURE: Final = Sentence("“{text}” is no figure. Type {like}.")
NO_FIGURE_SUCH_AS: Final = Sentence("“{text}” is no figure. Type one such as {like}.")
NO_MEASURE: Final = Sentence("“{typed}” is no measure here. Use g, oz, mL, fl oz, teaspoons, drops, squirts or peas.")
NO_PRICE: Final = Sentence("“{text}” is no price. Type one such as 12.50 for 250, with + 3 for delivery; or the price of a kilogram.")
NO_SCALE: Final = t("No scale answers. Type the grams and press Enter.")
NO_SUCH_DENSITY: Final = Sentence("One mL of paint weighs 0.6 to 3 g, not {grams:g}. Weigh it with G.")
NO_WEIGHT: Final = Sentence("“{text}” is no weight. Type what is left, such as 250.")
ONE_DROP_OF: Final = Sentence("One {kind} of {name}")
PRESS_TO_CHANGE: Final = t("Press this line to change it.")
PUT_BOTTLE_ON: Final = Sentence("Put bottle {code} on the scale")
RAN: Final = Sentence("{name} ran {length} in {drip_seconds:g} seconds, as it left the container.")
SCRAPED_TOGETHER: Final = t("Which cups were scraped together, and how many grams of each.")
SET_A_DROP: Final = t("Set a drop on the upright card")
SET_ON_A_PLATE: Final = Sentence("Set {slump_g:g} g on a level plate")
THE_SAME_DROP: Final = Sentence("{name} as it leaves the container; the same drop each time")
TYPE_IT: Final = Sentence("{head} of {name}: type it and press Enter.")
TYPE_THIS_ONE: Final = t("Type this one, and press Enter.")
WATER_IS_BACK: Final = Sentence("{mass} of it are back. Stir, then check it before you pour it.")
WEIGH_THE_EMPTY_BOTTLE: Final = t("Weigh the empty bottle")
WEIGH_THE_EMPTY_SYRINGE: Final = t("Weigh the empty syringe")
WHAT_THE_SET_SAYS: Final = t("What the set says")
WRITE_CODE_ON: Final = Sentence("{name}; write {code} on it")
LIKE_A_DENSITY: Final = t("the grams of one mL, such as 1.09")
LIKE_DELIVERY: Final = t("what delivery costs")
LIKE_A_SHARE: Final = t("a share, such as 38")
LIKE_A_PRICE: Final = t("a price")
LIKE_AN_AMOUNT: Final = t("an amount")
DRY_WITH_ITS_CAP: Final = t("dry, with its cap if it has one")
TWICE_FOR_AIR: Final = t("twice, because air hides in one filling")
LET_IT_SPREAD: Final = t("Let it spread")
DO_NOT_TOUCH_THE_PLATE: Final = t("do not touch the plate")
MEASURE_THE_DISC: Final = t("Measure the disc")
ACROSS_WITH_A_RULER: Final = t("across, with a ruler")
NEVER_QUITE_ROUND: Final = t("it is never quite round")
FROM_TOP_TO_TIP: Final = t("from the top of the drop to its tip")
COUNT_ALOUD: Final = t("a cup on the scale, zeroed; count aloud")
WITH_CAP_AND_LABEL: Final = t("with its cap and label")
AS_IT_WAS_CAPPED: Final = t("as it was weighed when it was capped")
SLOWLY_THEN_STIR: Final = t("slowly; then shake or stir")
KEPT_WITH_DATE_AND_LOT: Final = t("kept with its date and lot")
LIKE_COLOURS: Final = t("foam, teal, slate")
OR_TYPE_GRAMS: Final = t("or type grams")
DIAMETER_IN_MM: Final = t("diameter in mm")
LIKE_A_CONTAINER: Final = t("name, kind, #colour")


def read_aloud(called: str, left: str, *, flag: bool, hand: bool) -> str:
    """A thing on the shelf for who hears it: what it is, how much is left, whether something is to be done about it."""
    said = [called, t("{left} left", left=left), *([t("to be seen to")] if flag else []), *([t("in hand")] if hand else [])]
    return ", ".join(said)
