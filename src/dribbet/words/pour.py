"""The steps of a pour, as one says them: a name for the bench line, what to do, and what the one key does."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.records import BETWEEN, BasePlan, Does, DribbetError, Figure, Mishap, MishapKind, Step, Technique
from dribbet.records.doing import NAMED
from dribbet.records.wording import first_up
from dribbet.words.levels import level_text
from dribbet.words.tongue import Sentence, n, name, t
from dribbet.words.units import NARROW, clock_text, figure, listed, percent

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.lab.panel.pouring import Planned, Rescues
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series
    from dribbet.words.units import Units


@dataclass(frozen=True, slots=True)
class Said:
    """One step in words."""

    name: str
    do: str
    go: str


STEPS: Final = {
    Step.BASE: Said(t("Base"), t("Lay the base. Burst its bubbles and take the crumbs out."), t("Lay the base")),
    Step.FILL: Said(t("Fill"), t("Fill the cup, layer by layer, from below."), t("Fill the cup")),
    Step.STAND: Said(t("Stand"), t("Stand the open cup on the panel and hold it down."), t("Stand the cup")),
    Step.REST: Said(t("Rest, flipped"), t("Let the flipped cup rest. Layers sort themselves."), t("Flip it: start the rest")),
    Step.LIFT: Said(t("Lift"), t("Lift the cup and let it drain."), t("Lift it")),
    Step.POUR: Said(t("Pour"), t("Pour it out in one stream, from one height."), t("Pour it")),
    Step.RING: Said(t("Ring"), t("Pour in small circles over one spot, slowly."), t("Pour rings")),
    Step.LAY: Said(t("Lay"), t("Lay the colours down in their order."), t("Lay the colours")),
    Step.PULL: Said(t("Pull"), t("Pull through the paint, in one go."), t("Pull now")),
    Step.SWIPE: Said(t("Swipe"), t("Swipe once across, barely touching."), t("Swipe now")),
    Step.BLOW: Said(t("Blow"), t("Blow from the height that was planned, then stop."), t("Blow now")),
    Step.ACTIVATE: Said(t("Activator"), t("Put the activator where it was planned."), t("Add the activator")),
    Step.PRESS: Said(t("Press"), t("Lay the other face onto the wet paint, press evenly, lift it straight up."), t("Press and lift")),
    Step.WAIT: Said(t("Wait"), t("Let it grow. Heat comes next."), t("Start the wait")),
    Step.TORCH: Said(t("Torch"), t("Pass the flame high and short."), t("Torch now")),
    Step.GROW: Said(t("Grow"), t("Let the cells grow. Touch nothing."), t("Let it grow")),
    Step.SPIN: Said(t("Spin"), t("Spin it, and count the turns."), t("Spin now")),
    Step.TILT: Said(t("Tilt"), t("Tilt to each corner, slowly."), t("Tilt now")),
    Step.WEIGH: Said(t("Weigh"), t("Wipe the drips, weigh the panel, lay it level."), t("Done: weigh it")),
}
OTHERWISE: Final = {
    (Technique.OPEN_CUP, Step.FILL): Said(t("Fill"), t("Fill the standing cup, layer by layer; the first lies below."), t("Fill the cup")),
    (Technique.OPEN_CUP, Step.REST): Said(t("Rest, open"), t("Let the standing cup rest. Nothing is flipped."), t("Start the rest")),
    (Technique.PULL_BACK, Step.PULL): Said(t("Drag"), t("Tip the flipped cup a little and drag it as it empties."), t("Drag it")),
    (Technique.DIRTY_POUR, Step.POUR): Said(t("Pour"), t("Pour the layered cup out into one spot."), t("Pour it")),
    (Technique.GRADUATED, Step.FILL): Said(t("Fill"), t("Fill the cups, each in the same order, the smallest first."), t("Fill the cups")),
    (Technique.GRADUATED, Step.REST): Said(t("Rest, flipped"), t("Flip all cups in their places. Let them rest."), t("Flip them: start the rest")),
    (Technique.GRADUATED, Step.LIFT): Said(t("Lift"), t("Lift the smallest first, the largest last."), t("Lift them")),
    (Technique.DUTCH_POUR, Step.POUR): Said(t("Pour"), t("Pour the colours in a line onto the base."), t("Pour the line")),
    (Technique.DUTCH_POUR, Step.BLOW): Said(t("Blow"), t("Blow the base over the line, then the line outwards."), t("Blow now")),
    (Technique.BLOOM, Step.LAY): Said(t("Pillow"), t("Lay the pillow and the colours onto it."), t("Lay the pillow")),
}
"""Steps that one way to pour does otherwise than the rest."""


NOTHING: Final = t("Nothing to pour yet. Draw lots on Ask, then mix and check.")
ALL_POURED: Final = t("Every panel of this series is poured.")
NOT_MIXED: Final = t("Its cups are not mixed yet. Mix them first.")
READY: Final = t("Ready. Press when you begin.")
PLANNED: Final = t("planned in all")
TO_GO: Final = t("still to go")
OVER: Final = t("over the plan by")
AND_LEVEL: Final = t("and level")
WEIGH_FIRST: Final = t("Weigh the bare panel first")
TAKE_BARE: Final = t("Take the bare weight")
TAKE_POURED: Final = t("Take the weight with paint")
GO_TO_ASK: Final = t("Go to Ask")
GO_TO_MIX: Final = t("Go to Mix")
GO_TO_DRY: Final = t("Go to Dry")
NEXT_PANEL: Final = t("Next panel")
TOOK: Final = t("it took")
ON: Final = t("On with the pour")
BEFORE: Final = t("Pour before")
STATES: Final = {"done": t("done"), "skipped": t("skipped")}


def bare(code: str) -> str:
    """What comes before the pour."""
    return t("Write {code} on its back, then weigh it bare.", code=code)


def was_poured(code: str, at: datetime) -> str:
    """A pour that is over."""
    return t("{code} was poured on {at:%a %-d %b} at {at:%H:%M}.", code=code, at=at)


def weigh_and_lay(slot: int) -> str:
    """The last step, where the panel has its place on the rack."""
    return t("Wipe the drips, weigh the panel, lay it level on rack place {slot}.", slot=slot)


def left_out(code: str, why: str) -> str:
    """A panel that does not count."""
    return t("{code} is left out: {why}.", code=code, why=why)


def layers_note(kg: float, units: Units) -> str:
    """What is poured in all."""
    return t("{mass}, filled from below", mass=units.mass_text(kg))


def start(technique: Technique, first: Step) -> str:
    """What the one key does before anything has begun."""
    go_ = said(technique, first).go
    return t("Start: {step}", step=f"{go_[:1].lower()}{go_[1:]}")


def go(technique: Technique, step: Step, early_s: float) -> str:
    """What the one key does, and how much earlier than planned."""
    one = said(technique, step).go
    if not early_s:
        return one
    return t("{step} now, {seconds:.0f} s early", step=one.split(":")[0].removesuffix(t(" now")), seconds=early_s)


def layer_in(name: str, grams: str) -> str:
    """The layer that goes in next."""
    return t("{name} {grams} in", name=name, grams=grams)


def trace(code: str, of: str) -> str:
    """A cup that another one's stick was in."""
    return t("{code} may hold a trace of another cup ({of}).", code=code, of=of)


def bubbles(colour: str, left: str) -> str:
    """A cup that still rests."""
    return t("Bubbles are still in {colour}: {left} of rest to go. Pour earlier, and they rise on the panel.", colour=colour, left=left)


def stir_up(colour: str, settles: str) -> str:
    """A cup in which something sinks."""
    return t("Stir {colour} up again: {settles} settles.", colour=colour, settles=settles)


def passes(count: float, seconds: float) -> str:
    """Passes of the flame, and how long each takes."""
    return t("{count:g} × {seconds:g} s", count=count, seconds=seconds)


def lasting(seconds: float) -> str:
    """How long a step is planned to take."""
    return t("{seconds:.0f} s", seconds=seconds) if seconds < 60 else t("{clock} min", clock=clock_text(seconds))


def before(kg: float | None, units: Units) -> str:
    """The bare panel's weight."""
    return t("Panel before: {mass}", mass=units.mass_text(kg)) if kg is not None else t("not weighed yet")


def if_stays(kg: float, of_kg: float, units: Units) -> str:
    """What the plan expects to stay."""
    return t("if {mass} stay of {whole}", mass=units.mass_text(kg), whole=units.mass_text(of_kg))


def stayed(kg: float, units: Units) -> str:
    """What stayed on the panel."""
    return t("{mass} stayed", mass=units.mass_text(kg))


def zones_by(panels: int) -> str:
    """What the zones of the gauge rest on."""
    if not panels:
        return t("zones: starting figures")
    return n("zones by {count} panel of yours", "zones by {count} panels of yours", panels, count=panels)


def said(technique: Technique, step: Step) -> Said:
    """A step of a way to pour."""
    return OTHERWISE.get((technique, step), STEPS[step])


def _named(what: str, level: str) -> str:
    """A level with what it is of, where it does not say that itself: water share 10 %, but no silicone."""
    return level if what in level else f"{what} {level}"


def recipe(series: Series, arm: Arm, units: Units, *, covered: bool) -> str:
    """The recipe in hand: its own levels, then what lies under it and goes onto it; no word of them while a blind test is covered."""
    if covered:
        return t("Recipe {letter}. This test is blind: what the letter stands for is not shown here.", letter=arm.letter)
    levels = [
        _named(v.words, level_text(v.factor, v.levels[at], units)) if at != BETWEEN else t("{what} halfway", what=v.words)
        for v, at in zip(series.varied, arm.settings, strict=True)
    ]
    if arm.extra is not None:
        levels = [*levels, *(f"{name(factor)} {level_text(factor, level, units)}" for factor, level in arm.extra.instead)]
    held = arm.held
    said = [t("Recipe {letter}: {levels}.", letter=arm.letter, levels=", ".join(levels))]
    if arm.silicone_drops_per_100g:
        colours = listed([units.called(c) for c in held.silicone_colours])
        said.append(t("{drops:.2g} drops in 100 g of {colours}.", drops=arm.silicone_drops_per_100g, colours=colours))
    if held.base_plan is not BasePlan.NONE:
        said.append(t("On a {plan} of {base}.", plan=held.base_plan, base=units.called(held.base)))
    if held.activator_kg:
        said.append(t("{mass} of {activator} as activator.", mass=units.mass_text(held.activator_kg), activator=units.called(held.activator)))
    return " ".join(said)


# ---------------------------------------------------------------- figures of a step

ASKED: Final = {
    Does.SECONDS: t("seconds"), Does.PASSES: t("passes"), Does.TURNS: t("turns"), Does.GRAMS: t("grams"),
    Does.BEST: t("where it is best: touch it"),
    Does.DISTANCE: t("distance"), Does.HEIGHT: t("height"), Does.SPEED: t("turns a minute"), Does.DIRECTION: t("direction"),
    Does.TOOL: t("with what"), Does.ZONE: t("where"), Does.STIR: t("how stirred in"), Does.GOOD: t("% of it good now"),
    Does.LAYERS: t("layers in"),
}  # fmt: skip


def figure_text(one: Figure, units: Units) -> str:
    """A figure of a step as one says it: 15 mm away, 12 turns, hair dryer."""
    if one.value is None:
        return t("best {place}", place=one.word) if one.does is Does.BEST else one.word
    value = one.value
    return {
        Does.SECONDS: lambda: f"{value:g}{NARROW}s",
        Does.PASSES: lambda: n("{value:g} pass", "{value:g} passes", value, value=value),
        Does.TURNS: lambda: n("{value:g} turn", "{value:g} turns", value, value=value),
        Does.SPEED: lambda: t("{value:g} turns a minute", value=value * 60.0),
        Does.HEIGHT: lambda: t("{length} high", length=units.length_text(value * 1e3)),
        Does.DISTANCE: lambda: t("{length} away", length=units.length_text(value * 1e3)),
        Does.GRAMS: lambda: units.mass_text(value),
        Does.LAYERS: lambda: n("{value:g} layer in", "{value:g} layers in", value, value=value),
        Does.GOOD: lambda: t("{share} good", share=percent(value)),
    }[one.does]()


def told(step: str, figures: Sequence[Figure], units: Units) -> str:
    """What was told of a step as it was done."""
    return t("{step}: {figures}.", step=step, figures=", ".join(figure_text(f, units) for f in figures))


def do_text(technique: Technique, plan: Planned, units: Units) -> str:
    """What to do now, with what is planned of it."""
    words = said(technique, plan.step).do
    told = [figure_text(f, units) for f in plan.figures if f.does is not Does.PASSES or plan.step is not Step.TORCH]
    return t("{words} {figures}.", words=words, figures=first_up(", ".join(told))) if told else words


def asked_text(does: Does, plan: Planned, units: Units) -> str:
    """What a field asks for: turns it made (planned 15 turns)."""
    known = plan.figure(does)
    if known is None and does is Does.SECONDS:
        known = Figure(does=does, value=plan.seconds)
    return t("{asked}, planned {figure}", asked=ASKED[does], figure=figure_text(known, units)) if known is not None else ASKED[does]


def typed_figure(does: Does, typed: str, units: Units) -> Figure:
    """A figure of a step from what was typed.

    Raises
    ------
    DribbetError
        If it is no figure of that kind.
    """
    typed = " ".join(typed.split())
    if does in NAMED:
        if not typed:
            raise DribbetError(t("Type {asked}.", asked=ASKED[does]))
        return Figure(does=does, word=typed[:40])
    try:
        if does is Does.GOOD:
            return Figure(does=does, value=figure(typed.rstrip("% ")) / 100.0)
        if does is Does.GRAMS:
            return Figure(does=does, value=units.mass_kg(typed))
        if does in (Does.HEIGHT, Does.DISTANCE):
            return Figure(does=does, value=units.length_mm(typed) / 1e3)
        return Figure(does=does, value=figure(typed.removesuffix("s").strip()) / (60.0 if does is Does.SPEED else 1.0))
    except ValueError:
        raise DribbetError(t("“{typed}” is no figure. Type {asked} as a number.", typed=typed[:30], asked=ASKED[does])) from None


def zone_text(mishap: Mishap, width_mm: float, units: Units) -> str:
    """What becomes of the place of a mishap."""
    reach = units.length_text(mishap.reach_share * width_mm)
    kind = first_up(name(mishap.kind))
    if not mishap.zone_out:
        return t("{kind}: its zone counts.", kind=kind)
    return t("{kind}: {reach} round it left out.", kind=kind, reach=reach)


def kept(code: str, kg: float, units: Units) -> str:
    """What went into the leftover pot."""
    return t("Pot {code} holds {mass} now. For edges and free pours.", code=code, mass=units.mass_text(kg))


def substituted_text(mishap: Mishap) -> str:
    """Another product in the place of one that was planned, as it stands beside the verdict."""
    assert mishap.kind is MishapKind.SUBSTITUTED
    return t("used instead: {note}", note=mishap.note) if mishap.note else t("another product was used; which one was not said")


def rescues(record: Rescues) -> str:
    """What became of one's own further actions, to be thought of before the next; empty before any."""
    if not record.all:
        return ""
    return n(
        "Of {all} panel to which you did more, {better} got better, {worse} worse.",
        "Of {all} panels to which you did more, {better} got better, {worse} worse.",
        record.all, all=record.all, better=record.better, worse=record.worse,
    )  # fmt: skip


# ---------------------------------------------------------------- before the pour

SUPPORTS: Final = {
    "paper": t("Paper buckles within minutes: tape it down."),
    "canvas": t("Canvas sags under the paint: prop its middle."),
    "stretched canvas": t("Canvas sags under the paint: prop its middle."),
    "tile": t("Glaze does not drink: paint runs and dries slower."),
    "glazed tile": t("Glaze does not drink: paint runs and dries slower."),
    "glass": t("Glass does not drink: paint runs and dries slower."),
    "mdf": t("Raw board drinks at its edges: seal it."),
}
"""How what a panel is made of behaves, where that matters before the pour."""
CREEP_MATTERS_M: Final = 2e-3


ACROSS: Final = (t("at the left"), t("in the middle"), t("at the right"))
ALONG: Final = {0: t("at the far side"), 2: t("at the near side")}
CORNERS: Final = {
    (0, 0): t("in the far left corner"), (2, 0): t("in the far right corner"),
    (0, 2): t("in the near left corner"), (2, 2): t("in the near right corner"),
}  # fmt: skip


def place(x_share: float, y_share: float) -> str:
    """Which ninth of a panel was touched, seen from where one stands."""
    across, along = (min(int(v * 3.0), 2) for v in (x_share, y_share))
    return CORNERS.get((across, along)) or (ALONG[along] if across == 1 and along in ALONG else ACROSS[across])


def sides(depth_m: float) -> str:
    """What is done about a panel's sides and back before the pour."""
    if depth_m:
        return t("Tape its back, and stand it clear: its sides are to be covered.")
    return t("Tape its back and sides, and stand it clear.")


def dripping(codes: Sequence[str]) -> str:
    """Panels under which drips hang by now; empty where there are none."""
    return t("Wipe the drips under {codes} now.", codes=listed(codes)) if codes else ""


def support(name: str) -> str:
    """What a panel's material does, empty where nothing is known of it."""
    return next((words for key, words in SUPPORTS.items() if key in name.lower().split() or key == name.lower()), "")


def creep(x_m: float, y_m: float, until_s: float, units: Units) -> str:
    """How far the paint wanders on a panel that is not level."""
    far = max(abs(x_m), abs(y_m))
    if far < 0.5e-3:
        return t("It lies level.")
    ways = [(t("to the right") if x_m > 0 else t("to the left"), abs(x_m)), (t("away from you") if y_m > 0 else t("towards you"), abs(y_m))]
    said = t(" and ").join(f"{units.length_text(v * 1e3)} {way}" for way, v in ways if v >= 0.5e-3)
    hours = until_s / 3600.0
    words = t("Its paint creeps {said} until the skin holds it, in {hours:.1f} h.", said=said, hours=hours)
    return words + (t(" Level it.") if far >= CREEP_MATTERS_M else "")


def typed_level(typed: str) -> tuple[float, float]:
    """Slopes in m per m from millimetres in a metre, right and far."""
    pieces = [p.strip() for p in typed.replace(";", ",").split(",") if p.strip()]
    try:
        right, far = (0.0, 0.0) if pieces == ["0"] else (figure(pieces[0]), figure(pieces[1]))
    except (ValueError, IndexError):
        raise DribbetError(
            t("“{typed}” is no level. Type how many mm in a metre it rises to the right and to the far side, such as 2, -1.", typed=typed[:30])
        ) from None
    return right / 1e3, far / 1e3


NOTHING_IS_ASKED: Final = t("Nothing is asked of this step. Go on with the next.")
NOTHING_RAN_OFF: Final = t("Nothing ran off that is worth keeping.")
NOTHING_TO_TAKE_BACK_YET: Final = t("Nothing to take back yet.")
NO_PANEL_IN_HAND: Final = t("No panel is in hand.")
NO_POUR_IS_OVER: Final = t("No pour of this series is over yet.")
NO_WEIGHT: Final = Sentence("“{text}” is no weight. Type a figure such as 214.6.")
ONE_PRESS_AT_THE_MOMENT: Final = t("One press, at the moment.")
PANEL_OUTLINE: Final = t("Panel outline: touch where it is")
PANEL_OUTLINE_ZONES: Final = Sentence("Panel outline: {left} zones left out of {zones}")
TOUCH_AND_DRAW: Final = t("Touch where it is, draw how far.")
TOUCH_THEN_WHERE: Final = t("Touch it, then where it is.")
TYPE_THE_GRAMS: Final = t("type the grams")
PRODUCT_HOW_MUCH: Final = t("product, how much")
