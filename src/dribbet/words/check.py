"""What Check says."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.matching import Outvoted, ring_of
from dribbet.lab.paint.consistency import Match
from dribbet.records import CheckKind, Stream
from dribbet.records.wording import first_up
from dribbet.studio.standing.pots import is_out
from dribbet.words.tongue import Counted, Sentence, n, name, t
from dribbet.words.units import NARROW, in_words, listed, percent

if TYPE_CHECKING:
    from dribbet.lab.cup.matching import PotVerdict
    from dribbet.records import Mix
    from dribbet.studio.standing.check import Correction, MoundsHeld, OtherReadings, WaysToPour
    from dribbet.studio.standing.sinking import Sinking
    from dribbet.words.units import Units

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


HEAD: Final = {CheckKind.DRIP: t("drip"), CheckKind.MOUND: t("mound"), CheckKind.FLOW_CUP: t("flow cup time"), CheckKind.SLUMP: t("slump")}
SEEN: Final = {
    Stream.LUMPS: t("lumps: it is not mixed through, or a gel is in it. Stir to the bottom, or strain it"),
    Stream.FOLDS: t("it folds: far too thick to pour"),
}
"""What a stream does that no amount mends."""
SEEN_IN_SHORT: Final = {Stream.LUMPS: t("lumps"), Stream.FOLDS: t("it folds")}
THE_NEXT: Final = t("the next")
NOT_TIMED: Final = t("not timed")


def compared(kind: CheckKind | None, drip_seconds: float) -> str:
    """By which reading the pots are compared."""
    if kind in (None, CheckKind.DRIP):
        return EQUAL_DROPS(seconds=drip_seconds)
    return COMPARED_BY_MOUND if kind is CheckKind.MOUND else COMPARED_BY(check=HEAD[kind])


def under(codes: str, water: float, kind: CheckKind | None, drip_seconds: float) -> str:
    """Under the head: which recipe, its water, and how its pots are compared."""
    return t("{codes}, {water} water. {how}", codes=codes, water=percent(water), how=compared(kind, drip_seconds))


def aim(ends: tuple[float, float], *, seconds: bool) -> str:
    """The band that pots are to lie in, beside it."""
    low, high = ends
    if seconds:
        return t("aim: {low:.1f}\nto {high:.1f} s", low=low, high=high)
    return t("aim: {low:.0f}\nto {high:.0f} mm", low=low, high=high)


def tested(kind: CheckKind, have: int, of: int) -> str:
    """A kind of test, and how many pots have it: 'Drip 2/4'."""
    return f"{first_up(name(kind))} {have}/{of}" if have else first_up(name(kind))


def lane(v: PotVerdict, kind: CheckKind | None) -> str:
    """How a pot stands, over its drip."""
    if v.kept and v.match is not Match.GOOD:
        return t("Kept")
    if v.value is None:
        return t("Not dripped") if kind in (None, CheckKind.DRIP) else t("Not read")
    if v.match is None:
        return t("one so far")
    return t("Good") if v.match is Match.GOOD else first_up(name(v.match))


def lane_told(v: PotVerdict, mix: Mix, units: Units) -> str:
    """What is to be done with it, in a few words; nothing where nothing is."""
    if v.kept and v.match is not Match.GOOD:
        return t("as it is")
    if v.anew:
        return t("start it anew")
    if is_out(v):
        what = mix.colour if v.add == "paint" else v.add
        return t("add {mass} {name}", mass=units.mass_text(v.first_kg), name=units.called(what))
    return SEEN_IN_SHORT.get(v.seen, "") if v.seen is not None else ""


def cautions(v: PotVerdict, mix: Mix, kind: CheckKind | None, units: Units) -> list[str]:
    """What to mind of a pot: what its stream did, which of two checks won, why it is kept."""
    said = [SEEN[v.seen]] if v.seen in SEEN else []
    if v.outvoted is not None and kind is not None:
        check, ring = HEAD[kind], v.ring or 0.0
        said.append(
            {
                Outvoted.NO_THINNER: t("its ring in the base is {ring:.2f} of the drop: no thinner", ring=ring),
                Outvoted.BY_RING: t(
                    "the {check} asks for thinner, but its ring in the base is {ring:.2f} of the drop: it is thinner than the base already",
                    check=check, ring=ring,
                ),
                Outvoted.BY_READING: t("its ring asks for no thinner, but the {check} comes first in your order", check=check),
            }[v.outvoted]
        )  # fmt: skip
    elif v.kept:
        said.append(v.kept_because or t("kept as it is"))
    return [t("\x02{colour}:\x03 {said}.", colour=first_up(units.called(mix.colour)), said=one) for one in said]


def correction(one: Correction, units: Units) -> str:
    """What a correction rests on, how to go about it, and what to mind of the cup."""
    low, high = units.mass_text(one.low_kg), units.mass_text(one.high_kg)
    if one.rests_on is None:
        return ""
    said = (
        FROM_TO_BY_CUPS(low=low, high=high, readings=one.rests_on.readings, cups=in_words(one.rests_on.cups))
        if one.rests_on.own
        else FROM_TO_BY_START(low=low, high=high)
    )
    said += BEGIN_WITH(mass=units.mass_text(one.first_kg)) if one.in_steps else ""
    said += CUP_TOO_FULL(mass=units.mass_text(one.room_kg)) if one.room_kg is not None else ""
    said += POWDER_INTO_PASTE if one.powder else ""
    return t("\x02{colour}:\x03 {said}", colour=first_up(units.called(one.colour)), said=said)


def log_it(one: Correction, units: Units) -> str:
    """What stands on the key that logs a correction."""
    return t("Log {mass} {name}", mass=units.mass_text(one.first_kg), name=units.called(one.add))


def water_is_tested(one: Correction, units: Units) -> str:
    """That the correction changes what is tested; nothing where it does not."""
    if one.water is None:
        return ""
    before, after = one.water
    return WATER_IS_TESTED(
        mass=units.mass_text(one.first_kg), colour=units.called(one.colour), before=percent(before, 1), after=percent(after, 1),
        recipes=t(" and ").join(one.recipes),
    )  # fmt: skip


def anew(mix: Mix, units: Units) -> str:
    """That a pot is better started anew."""
    return t("\x02{colour}:\x03 {said}", colour=first_up(units.called(mix.colour)), said=START_ANEW)


def mounds(found: MoundsHeld, units: Units) -> str:
    """What the way to pour wants of a mound, and which pot does not have it."""
    thin, thick = found.wants_s
    said = WINDOW_OF_TECHNIQUE(technique=found.technique, thin=thin, thick=thick)
    return said + OUTSIDE(out=first_up(units.called(found.outside[0]))) if found.outside else said


def ways(found: WaysToPour) -> str:
    """Which ways to pour suit the pots."""
    if not found.pots:
        return TIME_A_MOUND_FIRST
    return SUIT(len(found.fits), ways=first_up(listed([name(way) for way in found.fits]))) if found.fits else NO_WAY_SUITS


def others(one: OtherReadings, units: Units) -> str:
    """What else was read of a pot, in one sentence."""
    said = []
    if one.through is not None:
        through = THROUGH_CUP(seconds=one.through.seconds, cup=one.through.cup)
        spread = t(" (± {sd:.1f}, {runs} runs)", sd=one.through.sd_s, runs=one.through.runs) if one.through.runs > 1 else ""
        said.append(through + spread)
    if one.ring is not None:
        said.append(RING_IN_BASE(ring_words=ring_of(one.ring), ring=one.ring))
    if one.slump_m is not None:
        said.append(t("slump {length}", length=units.length_text(one.slump_m * 1e3)))
    if one.stream is not None:
        said.append(t("stream: {stream}", stream=one.stream))
    if one.beside is not None:
        role, times = one.beside
        said.append(t("the {role} runs {times:.2f} times as far as the colours", role=role, times=times))
    if one.drip_m_s is not None:
        said.append(t("its drip still ran {length} a second", length=units.length_text(one.drip_m_s * 1e3, 2)))
    return t("{colour}: {said}.", colour=first_up(units.called(one.colour)), said="; ".join(said))


def ask(kind: CheckKind, who: str, cup: str, slump: tuple[str, float], units: Units) -> tuple[str, str]:
    """Hint in the field of a test, and how to make it; `slump`: mass in words, seconds."""
    mass, seconds = slump
    return {
        CheckKind.DRIP: (t("run in {unit}", unit=units.length), ASK_RUN(who=who)),
        CheckKind.MOUND: (t("seconds"), ASK_MOUND(who=who)),
        CheckKind.FLOW_CUP: (t("seconds"), ASK_FLOW_CUP(who=first_up(who), cup=cup)),
        CheckKind.RING: (t("ring / drop, {unit}", unit=units.length), ASK_RING(who=who)),
        CheckKind.SLUMP: (f"{units.length} × {units.length}", ASK_SLUMP(mass=mass, who=who, slump_seconds=seconds)),
        CheckKind.STREAM: ("", ASK_STREAM(who=who)),
    }[kind]


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


RUN_IN_MM: Final = t("run in mm")
LIKE_SECONDS: Final = t("seconds, such as 2.4")
READING_THE_RING: Final = t("Reading the ring…")
MATCHED_NEXT_RECIPE: Final = t("Matched: next recipe")
