"""Why a panel may not be poured yet, and how a set of pots stands, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.paint.consistency import Match
from dribbet.records import CheckKind
from dribbet.records.wording import first_up
from dribbet.studio.standing.pots import PotFault, is_out
from dribbet.words.tongue import n, t
from dribbet.words.units import in_words, listed

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Mix
    from dribbet.studio.standing.pots import Hold, Standing
    from dribbet.words.units import Units


def held_back(hold: Hold, units: Units) -> str:
    """What bars a pour, and what to do about it."""
    name = first_up(units.called(hold.colour))
    more = t(" and {more} more", more=hold.more) if hold.more else ""
    recipes = t(" and ").join(hold.recipes)
    if hold.fault is PotFault.UNMIXED:
        return t("{name}{more}: not mixed here. W pours from elsewhere all the same; that is kept beside the verdict.", name=name, more=more)
    if hold.fault is PotFault.UNREAD:
        return t("{name}{more} not checked since the last addition. Drip or time it on Check, or keep it there as it is.", name=name, more=more)
    if hold.fault is PotFault.LUMPY:
        return t("{name}{more}: lumps were seen. Stir it through or strain it on Check, or keep it there as it is.", name=name, more=more)
    if hold.fault is PotFault.APART:
        return t("{name} is {match} for the others. Mend it on Check, or keep it there as it is: the reason is stored.", name=name, match=hold.match)
    head = t("This test compares recipes at equal flow")
    pot = t("{name} of {recipes}", name=units.called(hold.colour), recipes=recipes)
    if hold.fault is PotFault.UNEQUAL_UNREAD:
        others = t(", and {more} more", more=hold.more) if hold.more else ""
        return t("{head}, and {pot} was not checked{others}. Check it first.", head=head, pot=pot, others=others)
    if hold.fault is PotFault.INCOMPARABLE:
        return t("{head}, but {pot} was read in another way than the others, which cannot be compared. Read it alike on Check.", head=head, pot=pot)
    runs = t("runs {apart:.2f} times as far as the others", apart=hold.apart)
    return t("{head}, but {pot} {runs}. Mend it on Check first.", head=head, pot=pot, runs=runs)


VERBS: Final = {CheckKind.DRIP: "Drip", CheckKind.MOUND: t("Time a mound of"), CheckKind.FLOW_CUP: "Run", CheckKind.SLUMP: t("Set down")}


def sentence(cups: Sequence[Mix], stands: Standing, technique: str, units: Units, others: Sequence[str]) -> str:
    """What Check says of the pots of one recipe; `others` are recipes whose pots are not read yet."""
    found = stands.found
    if found.kind is None or len(found.unread) == len(cups):
        return t("Drip every colour of this recipe once.")
    if found.unread:
        tail = t(" through the cup") if found.kind is CheckKind.FLOW_CUP else ""
        return t("{verbs} {name}{tail} next.", verbs=VERBS[found.kind], name=units.called(found.unread[0]), tail=tail)
    apart = [found.pots[m.id].match for m in cups if is_out(found.pots[m.id])]
    if apart:
        what = str(apart[0]) if all(w is apart[0] for w in apart) else "out"
        return n(
            "{out} of {all} colours is {what}.",
            "{out} of {all} colours are {what}.",
            len(apart),
            out=first_up(in_words(len(apart))),
            all=in_words(len(cups)),
            what=what,
        )
    lumpy = [units.called(m.colour) for m in cups if m.id in stands.lumpy]
    if lumpy:
        return n(
            "{name} has lumps. Stir to the bottom or strain, then look again.",
            "{name} have lumps. Stir to the bottom or strain, then look again.",
            len(lumpy),
            name=first_up(listed(lumpy)),
        )
    kept = [units.called(m.colour) for m in cups if found.pots[m.id].kept and found.pots[m.id].match is not Match.GOOD]
    if kept:
        rest = "" if stands.outside else t(" The others flow alike.")
        return f"{first_up(listed(kept))} {'stays as it is' if len(kept) == 1 else 'stay as they are'}.{rest}"
    if stands.outside:
        return t("The colours match each other. {suits}", suits=suits(stands, technique, units))
    if others:
        return t("These flow alike. Next are the cups of {names}.", names=listed(others))
    return t("All colours flow alike. Pour when you are ready.")


def suits(stands: Standing, technique: str, units: Units) -> str:
    """What pots outside their window are; nothing where all suit."""
    if not stands.outside:
        return ""
    words = [m for _, m in stands.outside]
    what = str(words[0]) if all(w is words[0] for w in words) else t("too thick or too thin")
    names = listed([units.called(c) for c, _ in stands.outside])
    low, high = stands.window
    wants = t("grade {low}", low=low) if low == high else t("grade {low} to {high}", low=low, high=high)
    tail = t("That is what you test.") if stands.on_purpose else t("A {technique} wants {wants}.", technique=technique, wants=wants)
    return n("{name} is {what} for it. {tail}", "{name} are {what} for it. {tail}", len(stands.outside), name=first_up(names), what=what, tail=tail)
