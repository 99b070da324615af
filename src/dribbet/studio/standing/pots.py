"""The pots of one recipe as a set, with what the notebook knows of each: what Check judges and Pour asks before it begins. No widgets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab.cup import composition, house_rules, matching, resting
from dribbet.lab.cup.matching import Pot, SetVerdict
from dribbet.lab.paint import history
from dribbet.lab.paint.consistency import Match
from dribbet.lab.paint.learning import starting_ln
from dribbet.lab.panel import progress
from dribbet.lab.plan.arm import THINNERS
from dribbet.records import MarkKind, order

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import datetime

    from dribbet.lab.cup.resting import Rest
    from dribbet.records import Mix, MixMark, Panel, Weighing
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


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
    others = {n: v for n, v in volumes.items() if n not in ("paint", "medium", "water")}
    plain: Mapping[str, float] = {n: volumes.get(n, 0.0) for n in ("paint", "medium", "water")} | {"others": sum(others.values())}
    return Pot(
        mix_id=mix.id,
        name=mix.colour,
        role=house_rules.role_of(mix.colour, arm, run.series, {m.key: m for m in run.shelf}),
        checks=tuple(sorted((c for c in run.checks if c.mix_id == mix.id), key=order)),
        density_kg_m3=composition.density_kg_m3(held, run.shelf),
        volumes_m3=plain,
        others_ln_m3=sum(v * starting_ln(n) for n, v in others.items()),
        line=desk.learned.line(mix.colour, medium),
        thinner=next((n for n in THINNERS if n in held), THINNERS[0]),
    )


def verdict(desk: Desk, run: Run, group: str) -> SetVerdict:
    """How the pots of a group stand; computed once until something changes."""
    return run.once(("set", group, desk.revision), lambda: matching.judge([pot_of(desk, run, m) for m in cups(run, group)], desk.rules))


def not_yet(desk: Desk, run: Run, panel: Panel) -> str:
    """Why a panel may not be poured yet, in words; nothing where its set is matched, or was kept as it is."""
    group = next((g for g in groups(run) if panel.recipe in letters(g) and block_of(g) in (0, panel.block)), None)
    mine = [m for m in run.mixes if panel.recipe in m.recipes and m.block in (0, panel.block)]
    if group is None or not mine or not all(m.done for m in mine):
        return ""  # what is not mixed here is poured from elsewhere: that is said on Mix
    unread = [m.colour for m in mine if not progress.checked(m, run.checks)]
    if unread:
        more = f" and {len(unread) - 1} more" if len(unread) > 1 else ""
        return (
            f"{unread[0][:1].upper()}{unread[0][1:]}{more} not checked since the last addition. Drip or time it on Check, or keep it there as it is."
        )
    found = verdict(desk, run, group)
    out = [m.colour for m in mine if (p := found.pots.get(m.id)) is not None and not p.kept and p.match not in (None, Match.GOOD)]
    if out:
        word = found.pots[next(m.id for m in mine if m.colour == out[0])].match
        return f"{out[0][:1].upper()}{out[0][1:]} is {word} for the others. Mend it on Check, or keep it there as it is: the reason is stored."
    return ""


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
    """Colours whose bubbles came out between two moments."""
    found = []
    for mix in run.mixes:
        rest = rest_of(desk, run, mix) if mix.done else None
        if rest is not None and before < rest.ready_at <= now:
            found.append(mix.colour)
    return found


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
