"""What is said of a cup in hand: its ratio, how thick it will come out, what really is in it, what the day asks care for."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from dribbet.lab.cup import composition, house_mix, house_rules, parts
from dribbet.lab.cup.recipe import WATER_KG_M3
from dribbet.lab.paint import containers, costs, flow_scale, history, measures
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S, GRADE_WORDS
from dribbet.lab.paint.learning import starting_ln
from dribbet.records import WATER, BasePlan, Basis, DribbetError, Kind
from dribbet.records.wording import first_up
from dribbet.studio.learned import LEAST_READINGS
from dribbet.studio.standing import cups
from dribbet.words import cautions
from dribbet.words.tongue import t
from dribbet.words.units import G_PER_OZ, NARROW, in_words, listed, percent, units_of

if TYPE_CHECKING:
    from dribbet.lab.cup.filling import Filling
    from dribbet.records import Material, Mix
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


def ratio(desk: Desk, mix: Mix, shelf: dict[str, Material]) -> str:
    """The plan as a ratio that cannot be mistaken, by weight and by volume, and what the scale's step makes of it."""
    plan = dict(mix.plan)
    if not plan.get(mix.colour) or len(plan) < 2:
        return ""
    by_mass = parts.ratio_text(plan, mix.colour, Basis.MASS)
    known = {n: shelf[n].density_kg_m3 if n in shelf else WATER_KG_M3 for n in plan}
    by_volume = parts.to_one(parts.converted(plan, known, have=Basis.MASS, want=Basis.VOLUME), mix.colour)
    try:
        _, off = parts.rounded(plan, desk.rules.scale_step_kg)
    except DribbetError as error:
        return f"{by_mass}. {error}"
    worst = max(abs(x) for x in off.values())
    step = units_of(desk).mass_text(desk.rules.scale_step_kg)
    volumes = " : ".join(f"{v:.3g}" for v in by_volume.values())
    total = sum(plan.values())
    other = f"{total * 1e3 / G_PER_OZ:.2f}{NARROW}oz" if units_of(desk).mass == "g" else f"{total * 1e3:.1f}{NARROW}g"
    whole = t("{mass} ({other}) in all", mass=units_of(desk).mass_text(total), other=other)
    return t(
        "{by_mass}; by volume {volumes}. {whole}; steps of {step}: shares ± {share}.",
        by_mass=by_mass,
        volumes=volumes,
        whole=whole,
        step=step,
        share=percent(worst, 2),
    )


def forecast(desk: Desk, run: Run, mix: Mix) -> str:
    """How thick the plan will come out by the person's own cups, where that is not what the way of pouring wants; silent without any."""
    medium = history.medium_of(mix, run.shelf)
    line = desk.learned.line(mix.colour, medium)
    if line.readings < LEAST_READINGS:
        return ""
    rules = desk.rules
    technique = next(a for a in run.arms if a.letter == mix.recipes[0]).technique
    volumes = composition.volumes_by_role(dict(mix.plan), mix.colour, medium, run.shelf)
    others = {n: v for n, v in volumes.items() if n not in ("paint", "medium", WATER)}
    whole = sum(volumes.values())
    plain = {n: volumes.get(n, 0.0) for n in ("paint", "medium", WATER)}
    others_ln = sum(v * starting_ln(n) for n, v in others.items())
    told = line.ln_viscosity({n: v / whole for n, v in plain.items()}, others_ln=others_ln / whole)
    grade = house_rules.grade_of(math.exp(told.value) * flow_scale.MOUND_S_PER_PA_S, rules)
    low, high = house_rules.window(technique, rules)
    if low <= grade <= high:
        return ""
    words = t(
        "By {readings} readings of {number} of your own cups this comes out {grade_words}; a {technique} wants ",
        readings=told.readings,
        number=in_words(told.cups),
        grade_words=GRADE_WORDS[grade - 1],
        technique=technique,
    )
    words += GRADE_WORDS[low - 1] if low == high else t("{thinner} to {thicker}", thinner=GRADE_WORDS[low - 1], thicker=GRADE_WORDS[high - 1])
    if grade > high:
        more = line.water_to_add_m3(plain | {"others": sum(others.values())}, math.log(GRADE_VISCOSITY_PA_S[high]), others_ln_m3=others_ln)
        low_g, high_g = (units_of(desk).mass_text(v * WATER_KG_M3) for v in (more.low, more.high))
        return t("{words}. {low_g} to {high_g} water more would do it: the check decides.", words=words, low_g=low_g, high_g=high_g)
    return t("{words}. Keep some water back until it is checked.", words=words)


def checklist(desk: Desk) -> list[tuple[str, str]]:
    """Before the first cup: what to put on and off, and the care that each material of this series asks for, once."""
    run = desk.need_run()
    shelf = {m.key: m for m in run.shelf}
    names = {n for m in run.mixes for n, _ in m.plan} | {m.drop_material for m in run.mixes if m.drop_material}
    held = [a.held for a in run.arms]
    names |= {h.silicone for h in held if h.silicone_drops_per_100g} | {h.base for h in held if h.base_plan not in (BasePlan.NONE, BasePlan.MIST)}
    made = [(t("Before you begin"), cautions.START)]
    by_words: dict[str, list[str]] = {}
    for name in sorted(names):
        material = shelf.get(name)
        if material is None:
            continue
        words = [cautions.BY_HAZARD[h] for h in material.hazards] + ([cautions.POWDER] if material.is_powder else [])
        for line in dict.fromkeys(words):
            by_words.setdefault(line, []).append(name)
    made += [(first_up(listed(who)), line) for line, who in by_words.items()]
    return made


def as_volume(desk: Desk, name: str, kg: float) -> str:
    """The amount by volume, for who measures so; nothing where the shelf does not know its density."""
    material = next((m for m in desk.shelf() if m.key == name), None)
    if material is None:
        return ""
    unit = units_of(desk).volume
    return f"; {measures.from_kg(kg, unit, material):.{1 if unit == 'mL' else 2}f}{NARROW}{unit}"


def facts(desk: Desk, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material]) -> str:
    """Actual against planned, solids, dose, cost."""
    if not now.total:
        return ""
    planned = dict(mix.plan)
    whole = sum(planned.values())
    said = []
    for name, kg in planned.items():
        actual, want = now.held.get(name, 0.0) / now.total, kg / whole
        said.append(f"{name} {percent(actual, 1)}" + (t(" (planned {share})", share=percent(want, 1)) if abs(actual - want) >= 5e-4 else ""))
    facts = t("Really in it: {names}.", names=", ".join(said))
    raw = house_mix.raw({n: kg / now.total for n, kg in now.held.items()}, run.shelf)
    paint = sum(share for n, share in raw.items() if n in shelf and shelf[n].kind in (Kind.PAINT, Kind.SHIMMER))
    if 0.0 < paint < desk.rules.least_paint:
        facts += t(" Only {share} paint, below your {least}.", share=percent(paint), least=percent(desk.rules.least_paint))
    facts += t(" Dries to {share}.", share=percent(composition.volume_solids(raw, run.shelf)))
    material = shelf.get(mix.drop_material)
    dropped = now.held.get(mix.drop_material, 0.0)
    if material is not None and dropped > 0.0:
        drops = dropped / cups.drop_kg(desk, run, mix)
        whole_cup = now.total / max(sum(layer.share for layer in run.series.layers if layer.material == mix.colour), 1e-9)
        facts += t(
            " {drops:.0f} drops: {dose_text}.", drops=drops, dose_text=measures.dose_text(drops, material, now.total, whole_cup, desk.gaugings())
        )
    facts += shimmer(raw, shelf)
    money = costs.of_amounts(now.held, run.shelf)
    if money > 0.0:
        left_out = costs.unpriced(now.held, run.shelf)
        facts += t(" It cost {money:.2f}", money=money) + (t(", {left_out} not counted.", left_out=left_out[0]) if left_out else ".")
    return facts


def shimmer(raw: dict[str, float], shelf: dict[str, Material]) -> str:
    """Shimmer agents: their share of the wet mix and of the dry film, against what shows, and what hides them."""
    said = ""
    solids = {n: share / shelf[n].density_kg_m3 * shelf[n].volume_solids for n, share in raw.items() if n in shelf}
    for name, share in raw.items():
        agent = shelf.get(name)
        if agent is None or not (agent.smallest_share or agent.kind is Kind.SHIMMER):
            continue
        dry = solids[name] / sum(solids.values()) if sum(solids.values()) else 0.0
        said += t(" {name}: {wet} of the wet mix, {dry} of the dry film", name=first_up(name), wet=percent(share), dry=percent(dry))
        if agent.smallest_share and share < agent.smallest_share:
            said += t(", below the {share} from which it shows", share=percent(agent.smallest_share))
        hides = [n for n in raw if n in shelf and containers.hidden_shimmer(agent, shelf[n])]
        said += t("; {hides} hides it.", hides=hides[0]) if hides else "."
    return said
