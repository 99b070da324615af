"""The pots of one recipe as a set, with what the notebook knows of each: what Check judges and Pour asks before it begins. No widgets."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import Enum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import composition, flow_gate, house_mix, house_rules, matching, resting
from dribbet.lab.cup.matching import Pot, PotVerdict, SetVerdict
from dribbet.lab.cup.recipe import WATER_KG_M3
from dribbet.lab.paint import flow_scale, history
from dribbet.lab.paint.consistency import GEL_PA_S, Match
from dribbet.lab.paint.learning import starting_ln
from dribbet.lab.panel import progress
from dribbet.lab.plan.arm import THINNERS
from dribbet.records import WATER, Advice, Equal, Factor, Form, MarkKind, Role, order

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import datetime

    from dribbet.lab.cup.resting import Rest
    from dribbet.records import Mix, MixMark, Panel, Weighing
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


THICKNESS: Final = (Factor.WATER_SHARE, Factor.RATIO, Factor.GRADE, Factor.MEDIUM, Factor.ALCOHOL, Factor.THIRD_LIQUID)
"""Factors by which recipes are meant to differ in thickness, unless flow is made equal."""


def groups(run: Run) -> list[str]:
    """Recipes that share cups, such as 'be', of which at least one cup is mixed; 'be/2' where each block has a batch of its own."""
    sharing: dict[tuple[str, ...], str] = {}
    blocks = sorted({m.block for m in run.mixes})
    for block in blocks:
        for arm in run.arms:
            cups = tuple(m.id for m in run.mixes if arm.letter in m.recipes and m.block == block)
            sharing[cups] = sharing.get(cups, f"/{block}" if block else "")
            head, slash, tail = sharing[cups].partition("/")
            sharing[cups] = f"{head}{arm.letter}{slash}{tail}"
    done = {m.id for m in run.mixes if m.done}
    return [g for cups, g in sharing.items() if done.intersection(cups)]


def letters(group: str) -> str:
    """Recipes of a group."""
    return group.partition("/")[0]


def block_of(group: str) -> int:
    """Block that a group is mixed for; 0 where one batch serves all."""
    return int(group.partition("/")[2] or 0)


def cups(run: Run, group: str) -> list[Mix]:
    """Mixed cups of a group, in the order of the cup."""
    return [m for m in run.mixes if group[0] in m.recipes and m.block == block_of(group) and m.done]


def pot_of(desk: Desk, run: Run, mix: Mix) -> Pot:
    """One pot with its current readings, its volumes, and its paint's own line."""
    arm = next(a for a in run.arms if a.letter == mix.recipes[0])
    held = composition.weighed_in(mix, run.weighings)
    held = {n: kg for n, kg in held.items() if kg > 0.0} or dict(mix.plan)
    medium = history.medium_of(mix, run.shelf)
    volumes = composition.volumes_by_role(held, mix.colour, medium, run.shelf)
    gels = {m.key: m for m in run.shelf if m.form is Form.GEL}
    gel = next((m for m in gels.values() if m.stock_kg > 0.0 or not m.full_kg), None)  # one that was never weighed may be there, too
    others = {n: v for n, v in volumes.items() if n not in ("paint", "medium", WATER)}
    plain: Mapping[str, float] = {n: volumes.get(n, 0.0) for n in ("paint", "medium", WATER)} | {"others": sum(others.values())}
    thinner = arm.thinner if arm.thinner not in THINNERS else next((n for n in THINNERS if n in held), THINNERS[0])
    return Pot(
        mix_id=mix.id,
        name=mix.colour,
        role=house_rules.role_of(mix.colour, arm, run.series, {m.key: m for m in run.shelf}),
        checks=tuple(sorted((c for c in run.checks if c.mix_id == mix.id), key=order)),
        density_kg_m3=composition.density_kg_m3(held, run.shelf),
        volumes_m3=plain,
        others_ln_m3=sum(v * (math.log(GEL_PA_S) if n in gels else starting_ln(n)) for n, v in others.items()),
        gel=gel.key if gel is not None else "",
        gel_kg_m3=gel.density_kg_m3 if gel is not None else WATER_KG_M3,
        line=desk.learned.line(mix.colour, medium),
        thinner=thinner,
        thinner_strength=house_mix.raw({thinner: 1.0}, run.shelf).get(WATER, 1.0) if thinner not in THINNERS else 1.0,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """How the pots of one group stand: what Check says and what Pour asks before it begins. One truth for both."""

    found: SetVerdict
    outside: tuple[tuple[str, Match], ...] = ()
    """Colours that are too thick or too thin for the way to pour, by their own readings."""
    on_purpose: bool = False
    """Whether thickness is what the series tests, so that being outside is meant."""
    window: tuple[int, int] = (1, 5)
    """Grades that the way to pour wants, or the one that the recipe is thinned to."""

    @property
    def lumpy(self) -> tuple[str, ...]:
        """Ids of pots with lumps that nobody kept."""
        return tuple(id_ for id_, p in self.found.pots.items() if p.lumpy and not p.kept)

    @property
    def ready(self) -> bool:
        """Whether the set may be poured."""
        return self.found.matched

    @property
    def alike(self) -> bool:
        """Whether it is true that all flow alike and suit the way to pour."""
        return self.ready and not self.outside and all(p.match is Match.GOOD for p in self.found.pots.values())


def is_out(pot: PotVerdict) -> bool:
    """Whether a pot is too thick or too thin for the others, and nobody kept it as it is."""
    return not pot.kept and pot.match in (Match.TOO_THICK, Match.TOO_THIN)


def verdict(desk: Desk, run: Run, group: str) -> SetVerdict:
    """How the pots of a group stand to each other."""
    return standing(desk, run, group).found


def standing(desk: Desk, run: Run, group: str) -> Standing:
    """How the pots of a group stand; computed once until something changes."""

    def compute() -> Standing:
        mine, rules = cups(run, group), desk.rules
        pots = [pot_of(desk, run, m) for m in mine]
        arm = next(a for a in run.arms if a.letter == group[0])
        grade = arm.held.grade
        window = (math.floor(grade), math.ceil(grade)) if grade else house_rules.window(arm.technique, rules)
        outside = []
        for mix, pot in zip(mine, pots, strict=True):
            pa_s = history.viscosity_of(mix, run.checks, pot.density_kg_m3, rules)
            if pa_s is None or pot.role is not Role.COLOUR:
                continue
            stands = house_rules.grade_of(pa_s * flow_scale.MOUND_S_PER_PA_S, rules)
            if not window[0] <= stands <= window[1]:
                outside.append((mix.colour, Match.TOO_THIN if stands < window[0] else Match.TOO_THICK))
        meant = any(v.factor in THICKNESS for v in run.series.varied)
        return Standing(found=matching.judge(pots, rules), outside=tuple(outside), on_purpose=meant, window=window)

    return run.once(("set", group, desk.revision), compute)


class PotFault(Enum):
    """Why a panel may not be poured yet."""

    UNMIXED = auto()
    UNREAD = auto()
    APART = auto()
    LUMPY = auto()
    UNEQUAL_UNREAD = auto()
    UNEQUAL = auto()
    INCOMPARABLE = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """What bars a pour, and which pot it is about."""

    fault: PotFault
    colour: str
    more: int = 0
    """Further pots of which the same is so."""
    recipes: str = ""
    match: Match | None = None
    apart: float = 1.0


def held_back(desk: Desk, run: Run, panel: Panel) -> Hold | None:
    """What bars pouring a panel; None where its set is matched or kept, and flows as the comparison asks."""
    return _unequal(desk, run) or _own_set(desk, run, panel)


def _from_elsewhere(run: Run, panel: Panel) -> bool:
    """Whether the person said that this panel is poured from cups that were not mixed here."""
    return any(i.against is Advice.UNMIXED and i.of == panel.code for i in run.series.insisted)


def _own_set(desk: Desk, run: Run, panel: Panel) -> Hold | None:
    group = next((g for g in groups(run) if panel.recipe in letters(g) and block_of(g) in (0, panel.block)), None)
    mine = [m for m in run.mixes if panel.recipe in m.recipes and m.block in (0, panel.block)]
    unmixed = [m.colour for m in mine if not m.done]
    if unmixed and not _from_elsewhere(run, panel):
        return Hold(fault=PotFault.UNMIXED, colour=unmixed[0], more=len(unmixed) - 1)
    if group is None or not mine or unmixed:
        return None  # it is poured from elsewhere: the person said so
    unread = [m.colour for m in mine if not progress.checked(m, run.checks)]
    if unread:
        return Hold(fault=PotFault.UNREAD, colour=unread[0], more=len(unread) - 1)
    stands = standing(desk, run, group)
    lumpy = [m.colour for m in mine if m.id in stands.lumpy]
    if lumpy:
        return Hold(fault=PotFault.LUMPY, colour=lumpy[0], more=len(lumpy) - 1)
    out = [m for m in mine if (p := stands.found.pots.get(m.id)) is not None and not p.kept and p.match not in (None, Match.GOOD)]
    if out:
        return Hold(fault=PotFault.APART, colour=out[0].colour, more=len(out) - 1, match=stands.found.pots[out[0].id].match)
    return None


def _unequal(desk: Desk, run: Run) -> Hold | None:
    """What bars a series that is compared at equal flow, colour by colour over all its recipes."""
    if run.series.equal is not Equal.FLOW:
        return None
    unread = [m for m in run.mixes if not progress.checked(m, run.checks)]
    if unread:
        return Hold(fault=PotFault.UNEQUAL_UNREAD, colour=unread[0].colour, recipes=unread[0].recipes, more=len(unread) - 1)
    graded = run.series.varies(Factor.GRADE)
    arms = {a.letter: a for a in run.arms}
    for colour in dict.fromkeys(m.colour for m in run.mixes):
        mine = [
            flow_gate.Compared(pot=pot_of(desk, run, m), recipes=m.recipes, grade=arms[m.recipes[0]].held.grade if graded else 0.0)
            for m in run.mixes
            if m.colour == colour
        ]
        found = flow_gate.unlike(mine, desk.rules)
        if found is not None:
            fault = PotFault.UNEQUAL if found.kind is not None else PotFault.INCOMPARABLE
            return Hold(fault=fault, colour=colour, recipes=found.recipes, apart=found.apart)
    return None


def rest_of(desk: Desk, run: Run, mix: Mix) -> Rest | None:
    """Rest of a cup since it was last stirred or added to; None while nothing is in it."""
    held = {n: kg for n, kg in composition.weighed_in(mix, run.weighings).items() if kg > 0.0}
    touched = _touched(run, {mix.id})
    if not held or not touched:
        return None
    density, rules = composition.density_kg_m3(held, run.shelf), desk.rules
    own = history.viscosity_of(mix, run.checks, density, rules)
    arm = next(a for a in run.arms if a.letter == mix.recipes[0])
    return resting.rest_of(
        mass_kg=sum(held.values()), density_kg_m3=density, viscosity_pa_s=own or arm.viscosity_pa_s, bubble_m=rules.bubble_m,
        cup_radius_m=rules.cup_radius_m, since=max(touched, key=order).at, checked=own is not None,
    )  # fmt: skip


def _touched(run: Run, mix_ids: set[str]) -> list[Weighing | MixMark]:
    """What worked air into these cups: additions and stirs."""
    stirs = [m for m in run.marks if m.mix_id in mix_ids and m.kind is MarkKind.STIRRED]
    return [*(w for w in run.weighings if w.mix_id in mix_ids), *stirs]


def rest_left_s(desk: Desk, run: Run, mix: Mix, now: datetime) -> float:
    """Seconds that a cup still rests; 0 where it is over or not known."""
    rest = rest_of(desk, run, mix)
    return rest.left_s(now) if rest is not None else 0.0


def rested_between(desk: Desk, run: Run, before: datetime, now: datetime) -> list[str]:
    """Colours whose bubbles came out between two moments, and that a panel still waits for."""
    found = []
    for mix in run.mixes:
        rest = rest_of(desk, run, mix) if mix.done and _waited_for(run, mix) else None
        if rest is not None and before < rest.ready_at <= now:
            found.append(mix.colour)
    return found


def _waited_for(run: Run, mix: Mix) -> bool:
    """Whether any panel that gets of a cup is still to be poured."""
    theirs = [p for p in run.panels if p.recipe in mix.recipes and mix.block in (0, p.block)]
    return any(not p.spoiled and run.poured_at(p) is None for p in theirs) or not theirs


def rested_h(run: Run, letter: str) -> float | None:
    """Hours between the last stir (or addition) of a recipe's cups and the filling of its panels, the mean; None before any pour."""
    found = []
    for panel in run.panels:
        filled = min((s for s in run.steps if s.panel_id == panel.id), key=order, default=None)
        if panel.recipe != letter or filled is None:
            continue
        mine = {m.id for m in run.mixes if letter in m.recipes and m.block in (0, panel.block)}
        before = [t for t in _touched(run, mine) if order(t) <= order(filled)]
        if before:
            found.append(max(0.0, (filled.at - max(before, key=order).at).total_seconds()) / 3600.0)
    return sum(found) / len(found) if found else None
