"""Why a panel may not be poured yet, and how a set of pots stands, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.paint.consistency import Match
from dribbet.records import CheckKind
from dribbet.studio.standing.pots import Fault, is_out
from dribbet.words.units import in_words, listed

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Mix
    from dribbet.studio.standing.pots import Hold, Standing
    from dribbet.words.units import Units


def first_up(words: str) -> str:
    """The words with a capital at their head."""
    return words[:1].upper() + words[1:]


def held_back(hold: Hold, units: Units) -> str:
    """What bars a pour, and what to do about it."""
    name = first_up(units.called(hold.colour))
    more = f" and {hold.more} more" if hold.more else ""
    recipes = " and ".join(hold.recipes)
    if hold.fault is Fault.UNREAD:
        return f"{name}{more} not checked since the last addition. Drip or time it on Check, or keep it there as it is."
    if hold.fault is Fault.LUMPY:
        return f"{name}{more}: lumps were seen. Stir it through or strain it on Check, or keep it there as it is."
    if hold.fault is Fault.APART:
        return f"{name} is {hold.match} for the others. Mend it on Check, or keep it there as it is: the reason is stored."
    head = "This test compares recipes at equal flow"
    pot = f"{units.called(hold.colour)} of {recipes}"
    if hold.fault is Fault.UNEQUAL_UNREAD:
        others = f", and {hold.more} more" if hold.more else ""
        return f"{head}, and {pot} was not checked{others}. Check it first."
    if hold.fault is Fault.INCOMPARABLE:
        return f"{head}, but {pot} was read in another way than the others, which cannot be compared. Read it alike on Check."
    runs = f"runs {hold.apart:.2f} times as far as the others"
    return f"{head}, but {pot} {runs}. Mend it on Check first."


VERBS: Final = {CheckKind.DRIP: "Drip", CheckKind.MOUND: "Time a mound of", CheckKind.FLOW_CUP: "Run", CheckKind.SLUMP: "Set down"}


def sentence(cups: Sequence[Mix], stands: Standing, technique: str, units: Units, others: Sequence[str]) -> str:
    """What Check says of the pots of one recipe; `others` are recipes whose pots are not read yet."""
    found = stands.found
    if found.kind is None or len(found.unread) == len(cups):
        return "Drip every colour of this recipe once."
    if found.unread:
        tail = " through the cup" if found.kind is CheckKind.FLOW_CUP else ""
        return f"{VERBS[found.kind]} {units.called(found.unread[0])}{tail} next."
    apart = [found.pots[m.id].match for m in cups if is_out(found.pots[m.id])]
    if apart:
        what = str(apart[0]) if all(w is apart[0] for w in apart) else "out"
        return f"{in_words(len(apart)).capitalize()} of {in_words(len(cups))} colours {'is' if len(apart) == 1 else 'are'} {what}."
    lumpy = [units.called(m.colour) for m in cups if m.id in stands.lumpy]
    if lumpy:
        return f"{first_up(listed(lumpy))} {'has' if len(lumpy) == 1 else 'have'} lumps. Stir to the bottom or strain, then look again."
    kept = [units.called(m.colour) for m in cups if found.pots[m.id].kept and found.pots[m.id].match is not Match.GOOD]
    if kept:
        rest = "" if stands.outside else " The others flow alike."
        return f"{first_up(listed(kept))} {'stays as it is' if len(kept) == 1 else 'stay as they are'}.{rest}"
    if stands.outside:
        return f"The colours match each other. {suits(stands, technique, units)}"
    if others:
        return f"These flow alike. Next are the cups of {listed(others)}."
    return "All colours flow alike. Pour when you are ready."


def suits(stands: Standing, technique: str, units: Units) -> str:
    """What pots outside their window are; nothing where all suit."""
    if not stands.outside:
        return ""
    words = [m for _, m in stands.outside]
    what = str(words[0]) if all(w is words[0] for w in words) else "too thick or too thin"
    names = listed([units.called(c) for c, _ in stands.outside])
    low, high = stands.window
    wants = f"grade {low}" if low == high else f"grade {low} to {high}"
    tail = "That is what you test." if stands.on_purpose else f"A {technique} wants {wants}."
    return f"{first_up(names)} {'is' if len(stands.outside) == 1 else 'are'} {what} for it. {tail}"
