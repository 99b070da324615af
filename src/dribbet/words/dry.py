"""Dry: looks, weights, air and treatments, as one says them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import aftercare
from dribbet.lab.panel.drying import hours_of
from dribbet.records import After, DribbetError, Feel, Flaw, Stage, Stuck
from dribbet.records.wording import first_up
from dribbet.words.tongue import Sentence, n, t
from dribbet.words.units import NARROW, count_text, figure, in_words, listed, percent

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from datetime import datetime

    from dribbet.lab.panel.air import Air
    from dribbet.lab.panel.cracking import Began
    from dribbet.lab.panel.loss import Loss
    from dribbet.records import Treated
    from dribbet.words.units import Units

LOOK: Final = {
    Stage.WET: t("Look: level, no fly, no crack?"),
    Stage.H12: t("Touch a corner. How is it?"),
    Stage.H24: t("Touch a corner, look for cracks."),
    Stage.H48: t("Look for cracks."),
    Stage.DRY: t("Press with a nail: dry all through?"),
    Stage.D7: t("Look for late cracks, in thick corners first."),
    Stage.CURED: t("Cured: look once more, and press with a nail."),
}
OWN_LOOK: Final = ((2.0, Stage.WET), (15.0, Stage.H12), (36.0, Stage.H24), (72.0, Stage.H48), (120.0, Stage.DRY), (400.0, Stage.D7))
"""Until how many hours a look of the person's own is worded like one of the usual ones."""
FEEL: Final = {Feel.MARKS: t("It marks"), Feel.TACKY: t("Tacky"), Feel.FIRM: t("Firm"), Feel.HARD: t("Hard")}
FLAW: Final = {Flaw.DIVOT: t("Divot"), Flaw.BLISTER: t("Blister"), Flaw.WRINKLE: t("Wrinkle"), Flaw.BUCKLED: t("Buckled")}
AFTER: Final = {
    After.WASH: t("Washed"), After.VARNISH: t("Varnish"), After.RESIN: t("Resin"), After.BAKE: t("Bake"), After.HOT_CUP: t("Hot cup"),
    After.DISCARD: t("Discard"),
}  # fmt: skip
STUCK: Final = {Stuck.FREE: t("Came off free"), Stuck.SLIGHT: t("Pulled a little"), Stuck.STUCK: t("Stuck"), Stuck.MARKED: t("Left a mark")}
CAUTION: Final = {
    After.WASH: t("Silicone makes floors and gloves slippery. Washing water does not go down the drain unless your local rules allow it."),
    After.VARNISH: t("Air the room, follow the label, no flame near a solvent."),
    After.RESIN: t("Resin makes skin allergic: gloves, air, and its own data sheet. The label decides."),
    After.BAKE: t("Only what its label allows, in an oven not used for food; cold start, air the room, cool with the door ajar, hot tray: gloves."),
    After.HOT_CUP: t("Just-boiled water scalds. Whether a piece may bear heat or touch food, only its product's label says."),
}


NOTHING: Final = t("Nothing is drying.")
NOTHING_NOTE: Final = t("Pour a panel and its band starts here.")
GO_TO_POUR: Final = t("Go to Pour")
ALL_LOOKED: Final = t("All looks are made.")
OVERDUE: Final = t("overdue")
NOW: Final = t("now")
SILICONE: Final = t("Silicone")
ONE_KEY: Final = {
    "": t("Go to Shoot"), "feel": t("Only look, do not touch"), "crack": t("No crack"), "where": t("Do not say where"),
    "weight": t("Take the weight"), "room": t("Keep it"), "treat": t("Nothing now"), "figures": t("Begin"),
}  # fmt: skip
"""What the one key does, by what is asked."""
FIELD: Final = {"weight": t("type the grams"), "room": t("21, 45")}


def note(series: str, day: int, poured: int, waiting: int) -> str:
    """How far a series has come in its drying."""
    said = t("{series}, day {day}.", series=series, day=day)
    panels = n("{count} panel poured", "{count} panels poured", poured, count=first_up(in_words(poured)))
    return f"{said} {panels}" + (t(", {count} still to pour.", count=in_words(waiting)) if waiting else ".")


def now_mark(now: datetime) -> str:
    """The moment, on the axis."""
    return t("now, {clock}", clock=f"{now:%H:%M}")


def not_due(code: str, when: str) -> str:
    """When the next look comes."""
    return t("Nothing is due. {code} at {when}.", code=code, when=when)


def question(asked: str, code: str) -> str:
    """What is asked of a panel: crack, where, weight, room or treat."""
    return {
        "crack": t("Is {code} cracked anywhere?", code=code),
        "where": t("Where is the first crack of {code}?", code=code),
        "weight": t("Put {code} on the scale.", code=code),
        "room": t("How warm and how damp is the drying room?"),
        "treat": t("What is done with {code}?", code=code),
    }[asked]


def thick(wet_m: float, units: Units) -> str:
    """A film that may crack, beside its look."""
    return " " + t("{film} film.", film=units.length_text(wet_m * 1e3, 1))


def not_poured(code: str) -> str:
    """A panel without a band."""
    return t("{code}, not poured", code=code)


def band(code: str, windows: Sequence[tuple[datetime, datetime]]) -> str:
    """When a panel is touch-dry and through-dry, for who hears the page."""
    (a, b), (c, d) = [(f"{low:%a %H:%M}", f"{high:%a %H:%M}") for low, high in windows]
    return t("{code}, touch-dry between {a} and {b}, through-dry between {c} and {d}", code=code, a=a, b=b, c=c, d=d)


def too_much(kg: float, units: Units) -> str:
    """More paint on a panel than its cup held."""
    return t("Weighed {mass} more than its cup held. Mend one of the two.", mass=units.mass_text(kg))


def blisters(wet_m: float, units: Units) -> str:
    """A film that is thick for an oven."""
    return t("{film} of wet film: thick films blister in the oven.", film=units.length_text(wet_m * 1e3, 1))


def cracked(codes: Sequence[str], poured: int, *, one_recipe: bool, one_level: bool) -> tuple[str, str]:
    """Which panels cracked, and what they share."""
    head = t("Cracks in {codes}", codes=listed(list(codes)))
    many, whole = first_up(in_words(len(codes))), in_words(poured)
    if len(codes) > 1 and one_recipe:
        return head, t("{count} of {whole} panels, all of one recipe.", count=many, whole=whole)
    if len(codes) > 1 and one_level:
        return head, t("{count} of {whole} panels, all at one level.", count=many, whole=whole)
    return head, n("{count} of {whole} panel.", "{count} of {whole} panels.", poured, count=many, whole=whole)


def oily(count: int) -> str:
    """Silicone that was not washed off yet."""
    return t("It is on {count} of these panels. Varnish will not stick until it is washed off.", count=in_words(count))


def first_dry(when: str) -> str:
    """When the first panel may be dry all through."""
    return t("First panel through-dry from {when} at the earliest.", when=when)


def paced(panels: int) -> str:
    """What the drying windows rest on beside film and air."""
    return (
        " " + n("Windows moved by the looks at {count} panel.", "Windows moved by the looks at {count} panels.", panels, count=panels)
        if panels
        else ""
    )


def look(name: str) -> str:
    """What is looked for at a look."""
    if name in tuple(Stage):
        return LOOK[Stage(name)]
    hours = hours_of(name)
    return LOOK[next((stage for until, stage in OWN_LOOK if hours < until), Stage.CURED)]


def touch(code: str, name: str) -> str:
    """What the hand does at a look that feels: the whole film is pressed with a nail, a skin is touched."""
    if look(name) in (LOOK[Stage.DRY], LOOK[Stage.CURED]):
        return t("Press a corner of {code} with a nail.", code=code)
    return t("Touch a corner of {code} now.", code=code)


FAR_DRIER: Final = 0.05
FAR_WARMER_K: Final = 2.0
"""From here on the driest and the warmest that a panel stood in are told beside the mean: a film skins in the worst hour, not in the mean one."""


def room(air: Air, units: Units) -> str:
    """Air of the drying room so far, and how much of it was read."""
    said = t("Room {warm}, {damp} damp", warm=units.temperature_text(air.celsius), damp=percent(air.damp))
    if round(air.damp - air.least_damp, 3) >= FAR_DRIER or air.most_celsius - air.celsius >= FAR_WARMER_K:
        driest, warmest = percent(air.least_damp), units.temperature_text(air.most_celsius)
        said = t("{said} (down to {driest} damp, up to {warmest})", said=said, driest=driest, warmest=warmest)
    if air.read <= 0.0:
        return t("{said}, as planned. E reads the room.", said=said)
    if air.read < 0.95:
        return t("{said}, read for {share} of the time.", said=said, share=percent(air.read))
    return t("{said} on the mean, as read.", said=said)


def weight(code: str, loss: Loss, when: Callable[[float], str], units: Units) -> str:
    """How dry a panel is by its weight."""
    said = t(
        "{code} lost {lost} of {all}, {share}",
        code=code,
        lost=units.mass_text(loss.lost_kg),
        all=units.mass_text(loss.volatile_kg),
        share=percent(loss.share),
    )
    if loss.ready:
        return t("{said}: dry by weight.", said=said)
    if loss.dry_at_s is None:
        return t("{said}. Three weighings tell when it is dry.", said=said)
    hours = f"{loss.sd_s / 3600:.0f}{NARROW}h"
    return t("{said}: dry by weight {when}, give or take {hours}.", said=said, when=when(loss.dry_at_s), hours=hours)


def began(code: str, interval: Began) -> str:
    """When a panel began to crack."""
    if interval.until_h is None:
        return t("{code}: no crack until {hours:.0f} h.", code=code, hours=interval.from_h)
    return t("{code} began to crack between {low:.0f} and {high:.0f} h.", code=code, low=interval.from_h, high=interval.until_h)


def film(left_kg: float, run_off_kg: float, wasted: float, wet_m: float, dry_m: float, units: Units) -> str:
    """What stays on a panel and what went elsewhere."""
    said = t(
        "{left} stay: {wet} wet, about {dry} dry. {off} ran off or stayed in the cup",
        left=units.mass_text(left_kg), wet=units.length_text(wet_m * 1e3, 1), dry=units.length_text(dry_m * 1e3, 1), off=units.mass_text(run_off_kg),
    )  # fmt: skip
    return said + (f" ({wasted:.2f})." if wasted else ".")


def flaws(found: Sequence[Flaw]) -> str:
    """Flaws that were ticked."""
    return listed([str(f) for f in found]) if found else ""


def ask(kind: After, code: str) -> str:
    """What is wanted before a treatment that takes its time."""
    if kind is After.HOT_CUP:
        return t("Hot cup on {code}: how hot, how long, how heavy?", code=code)
    return t("Bake {code}: how hot, how long?", code=code)


def ask_figures(kind: After, units: Units) -> str:
    """What a field asks for before a treatment that takes its time."""
    warm, seconds = aftercare.BAKE if kind is After.BAKE else aftercare.HOT_CUP
    cup = f", {units.mass_text(0.3)}" if kind is After.HOT_CUP else ""
    return f"{units.temperature_text(warm)}, {_time(seconds)}{cup}".replace(NARROW, " ")


def _time(seconds: float) -> str:
    """Seconds or minutes, whichever one says."""
    return f"{seconds / 60:.0f}{NARROW}min" if seconds >= 90 else f"{seconds:.0f}{NARROW}s"


def typed_figures(kind: After, typed: str, units: Units) -> tuple[float, float, float]:
    """Temperature in °C, time in s and the full cup in kg (0 where it was not told) from what was typed; the usual ones where nothing was.

    Raises
    ------
    DribbetError
        If it is no pair of figures.
    """
    usual = aftercare.BAKE if kind is After.BAKE else aftercare.HOT_CUP
    if not typed.strip():
        return *usual, 0.0
    pieces = [p.strip() for p in typed.replace(";", ",").split(",") if p.strip()]
    try:
        warm = figure(pieces[0].rstrip("°CFcf "))
        time = pieces[1].lower()
        value = figure(time.rstrip("smin h"))
        load_kg = units.mass_kg(pieces[2]) if kind is After.HOT_CUP and len(pieces) > 2 else 0.0
    except (ValueError, IndexError):
        raise DribbetError(t("“{typed}” is no temperature with a time. Type {such}.", typed=typed[:30], such=ask_figures(kind, units))) from None
    seconds = value * (3600.0 if time.endswith("h") else 60.0 if "m" in time else 1.0)
    return (warm if units.temperature == "°C" else (warm - 32.0) / 1.8), seconds, load_kg


def typed_room(typed: str, units: Units) -> tuple[float, float]:
    """Temperature in °C and damp 0 to 1 from what was typed."""
    pieces = [p.strip() for p in typed.replace(";", ",").split(",") if p.strip()]
    try:
        warm, damp = figure(pieces[0].rstrip("°CFcf ")), figure(pieces[1].rstrip("% ")) / 100.0
    except (ValueError, IndexError):
        raise DribbetError(t("“{typed}” is no room. Type its temperature and damp, such as 21, 45.", typed=typed[:30])) from None
    return (warm if units.temperature == "°C" else (warm - 32.0) / 1.8), damp


def treated(one: Treated, units: Units, days: float) -> str:
    """One treatment that was done, so many days after the pour."""
    said = {
        After.WASH: t("washed"), After.VARNISH: t("varnished"), After.RESIN: t("coated with resin"), After.BAKE: t("baked"),
        After.HOT_CUP: t("hot cup"), After.DISCARD: t("discarded"),
    }[one.kind]  # fmt: skip
    if one.celsius is not None:
        said = t("{said} at {warm}, {time}", said=said, warm=units.temperature_text(one.celsius), time=_time(aftercare.held_s(one)))
    if one.load_kg > 0.0:
        said += f", {units.mass_text(one.load_kg)}"
    if one.kind is After.HOT_CUP:
        said = t("{said} after {days}", said=said, days=count_text(int(days), "day"))
    if one.hot_at is not None and one.ajar_at is not None and one.finished_at is not None:
        heating, cooling = _time((one.hot_at - one.at).total_seconds()), _time((one.finished_at - one.ajar_at).total_seconds())
        said = t("{said} ({heating} to heat, {cooling} to cool)", said=said, heating=heating, cooling=cooling)
    return said + (f": {one.stuck}" if one.stuck is not None else "")


def coat(kind: After | None) -> str:
    """What lies on the paint in a photograph, empty where nothing does."""
    return {After.VARNISH: t("varnished"), After.RESIN: t("under resin")}.get(kind, "") if kind is not None else ""


def under_way(one: Treated, code: str, now: datetime, units: Units) -> str:
    """Where a treatment stands that takes its time, and what to do."""
    stands, seconds = aftercare.phase(one, now)
    warm, time = units.temperature_text(one.celsius) if one.celsius is not None else "", _time(seconds)
    if one.kind is After.HOT_CUP:
        if stands is aftercare.Phase.HELD:
            return t("Hot cup on {code}: {time} to go.", code=code, time=time)
        return t("Time is up. Lift the cup off {code}: how does it come off?", code=code)
    return {
        aftercare.Phase.HEATING: t("{code} in the cold oven, heating to {warm} for {time} now.", code=code, warm=warm, time=time),
        aftercare.Phase.HELD: t("{code} at {warm}: {time} to go.", code=code, warm=warm, time=time),
        aftercare.Phase.UP: t("{code}: time is up. Oven off, door ajar.", code=code),
        aftercare.Phase.COOLING: t("{code} cools with the door ajar, for {time} now.", code=code, time=time),
        aftercare.Phase.OVER: "",
    }[stands]


def next_press(one: Treated, now: datetime, units: Units) -> str:
    """What the one key says while a treatment is under way."""
    stands, _ = aftercare.phase(one, now)
    if one.kind is After.HOT_CUP:
        return t("Wait, then say how it came off")
    if stands is aftercare.Phase.HEATING:
        return t("It is at {warm}", warm=units.temperature_text(one.celsius or 0.0))
    return {aftercare.Phase.HELD: t("Off early, door ajar"), aftercare.Phase.UP: t("Oven is off, door ajar")}.get(stands, t("It is cold"))


def brought_in(new: int) -> str:
    """How many readings of the air a file gave."""
    return n("{new} new reading of the room.", "{new} new readings of the room.", new, new=new) if new else t("Nothing new in this file.")


def half_cracked(hours: float | None, panels: int) -> str:
    """When half of some panels were cracked, by the looks at them (an interval each, some of them open)."""
    of = n("{panels} panel", "{panels} panels", panels, panels=panels)
    if hours is None:
        return t("fewer than half of {of} cracked", of=of)
    return t("half of {of} were cracked by {hours:.0f}{gap}h", of=of, hours=hours, gap=NARROW)


BANDS: Final = t("Bands: wet, skin, touch-dry, through-dry, cured; hatched may crack; ring looked")
CANNOT_BE_READ: Final = Sentence("{name} cannot be read. Choose another file.")
CHOOSE_A_TREATMENT_FIRST: Final = t("Choose a treatment first.")
CLIMATE_FILE: Final = t("Readings of a climate sensor")
LIFT_THE_CUP: Final = t("Lift the cup and say how it came off: 1 to 4.")
NOTHING_IS_DUE: Final = t("Nothing is due. The next look stands on the right.")
NOTHING_IS_UNDER_WAY: Final = t("Nothing is under way.")
NOTHING_TO_TAKE_BACK_YET: Final = t("Nothing to take back yet.")
NO_PANEL_IN_HAND: Final = t("No panel is in hand. Touch its band.")
NO_WEIGHT: Final = Sentence("“{typed}” is no weight. Type a figure such as 214.6.")
TOUCH_WHERE: Final = t("Touch where it is")
