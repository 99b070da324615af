"""Shelf: what is known of containers and bottles, as one says it; and what was typed as facts again."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles
from dribbet.records import DribbetError, Kind, Response
from dribbet.studio.standing.shelf import A_MIX_M3
from dribbet.words import cautions
from dribbet.words.parts import Remark, Weight
from dribbet.words.units import count_text, in_words, listed, percent

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence
    from datetime import datetime

    from dribbet.lab.paint.experience import Experience
    from dribbet.records import Material
    from dribbet.studio.standing.shelf import BottleStanding, ContainerStanding, Money, Panels, Start
    from dribbet.words.units import Units

SEEN_WORDS: Final = {
    Response.CELL_COUNT: "{:.0f} cells a dm²",
    Response.CRACK_LENGTH: "{:.0f} mm of cracks",
    Response.VIVIDNESS: "vividness {:.0f}",
}
LEAST_TOLD: Final = 0.005  # share of a bottle below which a part is not named
GREY: Final = "#9A9A9A"


def sentence(due: Sequence[Material], low: Sequence[Material], containers: int, stored: int) -> tuple[str, str]:
    """What is to be done about the shelf, and how much stands on it."""
    if not containers:
        return "The shelf is empty. Add what you pour with.", ""
    if due:
        words = f"{listed([m.name for m in due], 3).capitalize()} came in a new lot: measure {'it' if len(due) == 1 else 'them'} again."
    elif low:
        words = f"{listed([m.name for m in low], 3).capitalize()} {'is' if len(low) == 1 else 'are'} running low."
    else:
        words = "Nothing is running low."
    more = f" and {count_text(stored, 'bottle')}; the oldest mix first" if stored else ""
    return words, f"{count_text(containers, 'container')}{more}."


def container(stands: ContainerStanding, units: Units, local: Callable[[datetime], datetime]) -> list[Remark]:
    """What is to be done about a container, and what is known of it beyond its card."""
    m = stands.material
    made = [Remark("New lot", f"Its {kind} was measured before this lot came. Measure it again.", Weight.CAUTION) for kind in stands.to_check]
    made += [Remark("", cautions.BY_HAZARD[h], Weight.CAUTION) for h in m.hazards]
    if m.is_powder:
        made.append(Remark("", cautions.POWDER, Weight.CAUTION))
    if m.wash_off:
        made.append(Remark("", "Must be washed off before varnish, resin or oven.", Weight.CAUTION))
    made += _measured(stands, units, local)
    if stands.start is not None:
        made.append(Remark("To start from", _start(stands.start, units)))
    return [*made, *_panels(stands.panels, m, units), *_money(stands.money, units)]


def _measured(stands: ContainerStanding, units: Units, local: Callable[[datetime], datetime]) -> list[Remark]:
    m, weighed, disc, body = stands.material, stands.density, stands.disc, stands.body
    if weighed is None:
        made = [Remark("Density", f"{m.density_kg_m3 / 1000:.2f} g in each mL is a starting figure, not weighed yet.")]
    else:
        lot = f", lot {weighed.lot}" if weighed.lot else ""
        figures = f"{weighed.value / 1000:.3f} ± {stands.density_sd / 1000:.3f}"
        made = [Remark("Density", f"weighed {local(weighed.at):%d %b}: {figures} g in each mL{lot}.")]
    if disc is not None and body is not None:
        made.append(Remark("Body", f"{body.words} ({units.length_text(disc.value * 1e3)} across): start from 1 to {body.start_parts:g}."))
    made += [Remark(f"One {g.kind}", f"{g.value * 1e6:.0f} mg, from {g.count} weighed {local(g.at):%d %b}.") for g in stands.doses]
    if not stands.doses and m.drop_kg:
        made.append(Remark("One drop", f"{m.drop_kg * 1e6:.0f} mg, not weighed yet."))
    return made


def _start(start: Start, units: Units) -> str:
    """Ratio and water to begin with, and what that rests on."""
    share, step, medium = start.share, start.step_m3, units.called(start.medium)
    span = f"{percent(share.value)} water by volume ({percent(share.low)} to {percent(share.high)})"
    words = f"For medium thickness in 1 : {start.medium_to_paint:.1f} {medium}: {span}, "
    words += f"from {count_text(share.readings, 'reading')} of {count_text(share.cups, 'cup')}."
    if start.found is not None:
        low, high = percent(start.found.water_low), percent(start.found.water_high)
        words += f" Your cups that stood so held {low if low == high else f'{low} to {high}'} water by weight ({start.found.cases})."
    figures = f"{step.value * 1e6:.0f} g water in {A_MIX_M3 * 1e6:.0f} mL ({step.low * 1e6:.0f} to {step.high * 1e6:.0f})"
    return f"{words} From thick to medium: {figures}. Without a thinner no mix gets thinner than {medium} alone: grade {start.thinnest}."


def _panels(panels: Panels, m: Material, units: Units) -> list[Remark]:
    if not panels.own.panels:
        return [Remark("Your panels", "None of those measured holds it yet.")]
    made = [Remark("Your panels", seen(panels.own))]
    if panels.grade is not None:
        made.append(Remark(f"All {m.grade} grade", seen(panels.grade)))
    if panels.tried:
        made.append(Remark("Instead of it", "; ".join(f"{units.called(key)}: {seen(e)}" for key, e in panels.tried[:3])))
    if panels.untried:
        made.append(Remark("", f"Not tried on a measured panel: {listed([units.called(key) for key in panels.untried], 3)}."))
    return made


def seen(e: Experience) -> str:
    """Means of measured panels, beside those without it."""
    if not e.panels:
        return "not tried yet"
    said = []
    for response, mean in e.means.items():
        other = e.others.get(response)
        said.append(SEEN_WORDS[response].format(mean) + (f" ({other:.0f} without it)" if other is not None else ""))
    return f"{in_words(e.panels)} {'panel' if e.panels == 1 else 'panels'}: {', '.join(said) or 'not measured yet'}"


def _money(money: Money, units: Units) -> list[Remark]:
    made = []
    if money.per_kg:
        solids = f", {money.per_dry_m3 * 1e-6:.3f} a mL of what stays dry" if money.per_dry_m3 is not None else ""
        made.append(Remark("Costs", f"{money.per_kg:.2f} a kg, {money.per_m3 * 1e-6:.3f} a mL{solids}."))
    if money.packs:
        said = "; ".join(f"{units.stock_text(p.pack.content_kg)} at {p.per_kg:.2f} a kg" for p in money.packs)
        pays = money.large_pays_from_kg
        made.append(Remark("Packs", f"{said}.{f' The large one pays from {units.stock_text(pays)} on.' if pays is not None else ''}"))
    if money.drops is not None:
        words = f"{money.drops} drops are left"
        if money.pours is not None:
            words += f": {money.pours} pours as the last ones"
            words += f", {money.per_pour_kg * money.per_kg:.3f} each" if money.per_kg else ""
        made.append(Remark("Lasts", words + "."))
    return made


def contents(shares: Mapping[str, float], units: Units) -> str:
    """Teal 28 %, conditioner 56 %: what is more than a trace."""
    return ", ".join(f"{units.called(key)} {percent(share)}" for key, share in shares.items() if share >= LEAST_TOLD)


def bottle(stands: BottleStanding, units: Units, local: Callable[[datetime], datetime]) -> list[Remark]:
    """How a bottle stands, and what it may be used for."""
    b, now = stands.bottle, stands.stand
    origin = f", from {stands.origin}" if stands.origin else ""
    made = [
        Remark("Holds", f"{units.mass_text(now.content_kg)} of {contents(now.contents, units)}."),
        Remark("Stored", f"{local(b.stored_at):%d %B}, {stands.age_d:.0f} days ago{origin}."),
    ]
    if now.barred:
        made.insert(0, Remark("Not for a test", now.barred, Weight.STOP))
    if b.silicone:
        made.append(Remark("Silicone", "It is in here: keep its tools apart, and wash what it touches before any coat.", Weight.CAUTION))
    if b.activator:
        made.append(Remark("Activator", "Not a colour of a cup: it is laid over colours.", Weight.CAUTION))
    if now.unchecked:
        lost = now.lost_kg >= bottles.WORTH_G
        words = f"It lost {units.mass_text(now.lost_kg)} of water. Give it back, stir," if lost else "Water was given back. Stir,"
        made.append(Remark("Check it first", f"{words} and check it before you pour it.", Weight.CAUTION))
    elif stands.fits is None:
        made.append(Remark("Fits", "not known: it was stored unchecked."))
    else:
        made.append(Remark("Fits", f"{listed([str(t) for t in stands.fits])}." if stands.fits else "No way of pouring at its thickness."))
    if stands.old:
        made.append(Remark("Old", "Smell and stir it before use; the label of its medium says how long it keeps.", Weight.CAUTION))
    return made


# ---------------------------------------------------------------- what was typed


def new_container(text: str) -> tuple[str, Kind, str]:
    """Name, kind and colour of 'sea glass, paint, #7FB3A8'; kind and colour may be left out."""
    words = [w.strip() for w in text.split(",")]
    if not words or not words[0]:
        raise DribbetError("A container needs a name. Type it, then its kind and its colour, such as sea glass, paint, #7FB3A8.")
    kinds = {str(k): k for k in Kind}
    colours = [w for w in words[1:] if re.fullmatch(r"#[0-9A-Fa-f]{6}", w)]
    strange = [w for w in words[1:] if w and w.lower() not in kinds and w not in colours]
    if strange:
        raise DribbetError(f"“{strange[0]}” is no kind and no colour. Kinds are {', '.join(kinds)}; a colour is written as #7FB3A8.")
    kind = next((kinds[w.lower()] for w in words[1:] if w.lower() in kinds), Kind.PAINT)
    return words[0], kind, colours[0].upper() if colours else GREY


def scraped(text: str, units: Units) -> list[tuple[str, float]]:
    """Recipes and kilograms of 'K3-a 35, K3-b 20'."""
    made = []
    for piece in re.split(r"[,;]", text):
        found = re.match(r"^\s*(\S+)\s+([\d.,]+)\s*(?:g|oz)?\s*$", piece)
        if found is None:
            raise DribbetError("Say which cups and how much: K3-a 35, K3-b 20.")
        made.append((found.group(1), units.mass_kg(found.group(2))))
    return made
