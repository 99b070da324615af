"""Mix: one cup at a time, what to add or do now, how much is left, and the ways out of an overshoot. No widgets."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Final

from dribbet.bench.stations.mix.view import BatchLine, MixChoice, MixView, Slice, TrayCup
from dribbet.lab.cup import additions, composition, resting
from dribbet.lab.cup.filling import allowance_kg
from dribbet.lab.paint import measures
from dribbet.records import (
    NO_HEX,
    TAKEN_OUT,
    WATER,
    DribbetError,
    MarkKind,
    Material,
    Mix,
    MixMark,
    Weigh,
    Weighing,
    order,
)
from dribbet.records.wording import first_up
from dribbet.studio.acts.mixing import Mixing
from dribbet.studio.standing import cups, pots
from dribbet.words import cautions
from dribbet.words import cup as cup_words
from dribbet.words import mix as mix_words
from dribbet.words.units import NARROW, Units, clock_text, count_text, figure, listed, percent, units_of

if TYPE_CHECKING:
    from dribbet.lab.cup.filling import Filling
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SLOWLY_KG: Final = 4e-3
STEP_KG: Final = 1e-4  # below the scale's last digit, milligrams are said
STRAIN_AFTER_D: Final = 14.0  # a conditioner gels in its jug; gel lumps end up on the panel


class MixPresenter:
    """Which cup is in hand, and what is said of it; what a press does stands in `acts.mixing`."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.acts = Mixing(desk)

    # ------------------------------------------------------------ what is so

    def mix(self) -> Mix | None:
        """Cup in hand."""
        run = self.desk.run()
        return cups.in_hand(self.desk, run) if run is not None else None

    def ledger(self, run: Run, mix: Mix) -> list[Weighing]:
        """What was weighed into a cup."""
        return cups.ledger(run, mix)

    def cup(self, run: Run, mix: Mix) -> dict[str, float]:
        """Kilograms in the cup by ingredient."""
        return cups.held(run, mix)

    def filling(self, run: Run, mix: Mix) -> Filling:
        """Where a cup stands."""
        return cups.filling_of(self.desk, run, mix)

    def view(self) -> MixView:
        run = self.desk.run()
        if run is None:
            return MixView(empty=mix_words.NO_QUESTION, one_key="Go to Ask")
        if run.series.seed is None or not run.mixes:
            return MixView(empty=mix_words.NOTHING_TO_MIX, one_key="Go to Ask")
        mix = self.mix()
        assert mix is not None
        units, shelf, rules = units_of(self.desk), {m.key: m for m in run.shelf}, self.desk.rules
        now = self.filling(run, mix)
        tray, tray_note = self._tray(run, mix, shelf)
        whole, water = sum(kg for _, kg in mix.plan), dict(mix.plan).get(WATER, 0.0)
        called = units.called(mix.colour)
        share = "water by eye" if cups.by_eye(run, mix) else percent(water / whole) + " water" if water else "no water"
        base = MixView(
            note_line=cup_words.ratio(self.desk, mix, shelf),
            codes=", ".join(f"{run.series.code}-{c}" for c in mix.recipes),
            title=f"{first_up(called)}, {share}",
            slices=self._slices(run, mix, now, shelf, units),
            capacity_kg=cups.capacity_kg(self.desk, mix),
            already_kg=now.total,
            tolerance_kg=now.tolerance_kg,
            tray=tray,
            tray_note=tray_note,
            caution=self._caution(run, mix, now, shelf),
            tare_each=rules.weigh is Weigh.TARE,
            take_when_steady=rules.take_when_steady,
        )
        if now.over or now.mended is not None:
            base = self._with_repair(base, mix, now, units)
        covered = cups.covered_since(run, mix)
        if covered is not None and not mix.done:
            local = self.desk.local
            return replace(
                base, covered=f"{local(covered):%H:%M}", add_name="Covered", add_hint=f"since {local(covered):%H:%M}; the cup waits as it is",
                one_key=mix_words.UNCOVER, act="Uncover", choices=(), is_covered=True,
            )  # fmt: skip
        out = cups.taking_out_kg(self.desk, mix)
        if out > 0.0:
            thrift = now.thrift
            adds = (
                [f"\x02{units.mass_text(kg)} {units.called(n)}\x03" for n, kg in thrift.additions_kg.items() if kg > rules.tolerance_kg]
                if thrift
                else []
            )
            then = mix_words.CUP_COMES_TO(mass=units.mass_text(thrift.total_kg)) if thrift else ""
            base = replace(base, mend=mix_words.AFTER_THAT(adds=" + ".join(adds)) if adds else "", mend_then=then, note="")
            return replace(
                base, taking_out=True, add_name="Take paint out", add_hint="stir well first; into a spare cup", target_kg=base.already_kg - out,
                one_key="That is out", choices=(),
            )  # fmt: skip
        if now.acts and not mix.done:
            act = now.acts[0]
            return replace(base, act=act.words, add_name=act.words, add_hint=act.hint, one_key=_done_words(act), finished=False)
        if now.left:
            return self._adding(base, mix, now, units)
        return self._all_in(base, run, mix, now, shelf)

    def _adding(self, base: MixView, mix: Mix, now: Filling, units: Units) -> MixView:
        key, kg = now.left[0]
        name = units.called(key)
        again = now.held.get(key, 0.0) > 0
        following = units.called(now.left[1][0]) if len(now.left) > 1 else ""
        target = base.already_kg + kg
        if key == mix.drop_material and mix.drops:
            what, made = count_text(mix.drops, "drop"), ""
            if mix.drop_share < 1.0:
                what = count_text(mix.drops, "diluted drop")
                made = mix_words.MADE_UP(parts=1.0 / mix.drop_share - 1.0, diluent=units.called(self._diluent(mix)))
            are = "is" if mix.drops == 1 else "are"
            how = mix_words.COUNT_THEM(made=made)
            one = f"{count_text(mix.drops, 'drop')} {are} in"
            add = mix_words.ADD_WHAT(what=what, name=name)
            return replace(
                base, add_name=add, add_hint="gloves on; let them fall one by one", target_kg=target, drops=mix.drops, one_key=one, how=how
            )
        if now.by_eye:
            return self._by_eye(base, now, units, kg)
        hint = "slowly, by the drop" if kg < SLOWLY_KG else "pour steadily, then slow down"
        one = mix_words.GO_ON_TO(following=following) if following else mix_words.THAT_IS_ALL_OF_IT
        hint += cup_words.as_volume(self.desk, key, kg)
        run = self.desk.need_run()
        source = f" from {self.acts.water_source(run, mix)}" if key == WATER and cups.arm_of(run, mix).held.water_source else ""
        words = f"Add {name}{source}{' again' if again and now.mended is not None else ''}"
        base = replace(base, add_name=words, add_hint=hint, target_kg=target, one_key=one)
        if key in now.short and not base.choices:
            share = now.held[key] / now.total if now.total else 0.0
            base = replace(base, choices=(MixChoice("3", f"Keep {percent(share, 1)}", keeps=True),))
        return base

    def _diluent(self, mix: Mix) -> str:
        return cups.diluent(self.desk.need_run(), mix)

    def _by_eye(self, base: MixView, now: Filling, units: Units, kg: float) -> MixView:
        """Water step by step: add a little, stir, look at the thread; then another step, or it looks right."""
        inside = now.held.get(WATER, 0.0)
        share = inside / now.total if now.total else 0.0
        step = units.mass_text(kg)
        how = mix_words.ARE_IN(mass=units.mass_text(inside), step=step) if inside else mix_words.BY_THE_PLAN(step=step)
        return replace(
            base, add_name=mix_words.THIN_IT_BY_EYE, add_hint="a little, stir, let a thread run", target_kg=base.already_kg + kg, by_eye=True,
            one_key="It looks right" if inside else mix_words.WEIGH_STEP_IN, eye_begun=inside > 0.0, eye_share=percent(share, 1), how=how,
        )  # fmt: skip

    def _all_in(self, base: MixView, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material]) -> MixView:
        base = replace(base, finished=True, done=mix.done, facts=cup_words.facts(self.desk, run, mix, now, shelf))
        asked = cups.arm_of(run, mix).held.rest_s > 0.0
        rest = pots.rest_of(self.desk, run, mix)
        if rest is not None:
            doubt = f"{clock_text(rest.low_s)} to {clock_text(rest.high_s)}"
            source = "by its own check" if rest.checked else "by the recipe; its check will say better"
            again = additions.restir_needed({n: kg / now.total for n, kg in now.held.items()}, shelf) if now.total else ""
            settles = mix_words.IT_SETTLES(again=units_of(self.desk).called(again)) if again else ""
            if asked:
                words = mix_words.BUBBLES_OUT_AT(time=self.desk.local(rest.ready_at), doubt=doubt, source=source)
                base = replace(base, rest_s=rest.left_s(self.desk.now()), rest=words + settles)
            else:
                base = replace(base, rest=mix_words.NO_REST_ASKED(doubt=doubt, settles=settles))
        covered = cups.covered_since(run, mix) is not None
        waits = "rests" if asked else "waits"
        if mix.done:
            hint = mix_words.COVERED_IT(waits=waits) if covered else mix_words.COVER_IT_WHILE(waits=waits)
            return replace(base, add_name="Mixed", add_hint=hint, one_key="Next cup", is_covered=covered)
        hint = mix_words.COVER_IT_AND_LET_IT_REST if asked else mix_words.COVER_IT_UNTIL_YOU_POUR
        return replace(base, add_name="All in", add_hint=hint, one_key=mix_words.CUP_IS_DONE, is_covered=covered)

    # ------------------------------------------------------------ the ledger

    def ledger_lines(self) -> list[tuple[str, str]]:
        """Every entry of the cup in hand with its time: additions, and what else was done."""
        run = self.desk.need_run()
        mix = self.mix()
        if mix is None:
            return []
        entries: list[tuple[Weighing | MixMark, str, str]] = [
            (w, first_up(units_of(self.desk).called(w.ingredient)), _weighed(w, units_of(self.desk))) for w in self.ledger(run, mix)
        ]
        entries += [(m, first_up(str(m.kind)), m.note) for m in run.marks if m.mix_id == mix.id]
        return [(f"{self.desk.local(e.at):%H:%M:%S}  {what}", more) for e, what, more in sorted(entries, key=lambda e: order(e[0]))]

    def rest(self, run: Run, mix: Mix) -> resting.Rest | None:
        """Rest of a cup since it was last stirred or added to; None while nothing is in it."""
        return pots.rest_of(self.desk, run, mix)

    def _slices(self, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material], units: Units) -> tuple[Slice, ...]:
        made: list[tuple[str, float]] = []
        for w in self.ledger(run, mix):
            if w.ingredient == TAKEN_OUT:
                total = sum(kg for _, kg in made)
                keep = max(1.0 - w.mass_kg / total, 0.0) if total else 1.0
                made = [(n, kg * keep) for n, kg in made]
            elif w.mass_kg > 0.0:
                made.append((w.ingredient, w.mass_kg))
        over = dict(now.over)
        drawn: list[Slice] = []
        for name, kg in reversed(made):  # the surplus lies in what went in last
            surplus = min(over.pop(name, 0.0), kg)
            over_text = f"{units.mass_text(surplus)} over" if surplus else ""
            drawn.append(
                Slice(units.called(name), units.mass_text(kg - surplus), kg, _hex(name, shelf), "over" if surplus else "done", surplus, over_text)
            )
        drawn.reverse()
        names = {n for n, _ in made}
        for i, (name, kg) in enumerate(now.left):
            words = units.called(name) + (" again" if name in names else "")
            small = kg < STEP_KG
            text = f"{kg * 1e6:.0f}{NARROW}mg" if small else units.mass_text(kg)
            drawn.append(Slice(words, text, kg, _hex(name, shelf), "now" if i == 0 and not now.acts else "planned"))
        return tuple(drawn)

    def _with_repair(self, view: MixView, mix: Mix, now: Filling, units: Units) -> MixView:
        mended = now.mended
        assert mended is not None
        plan = dict(mix.plan)
        total = sum(plan.values())
        adds = [
            f"\x02{units.mass_text(kg)} {units.called(name)}\x03"
            for name, kg in mended.additions_kg.items()
            if kg > allowance_kg(plan[name], self.desk.rules.tolerance_kg)
        ]
        words = mix_words.ADD(adds=" + ".join(adds)) if adds else mix_words.NOTHING_MORE_TO_ADD
        if not now.over:
            then = mix_words.ON_THE_RECIPE_AGAIN(mass=units.mass_text(mended.total_kg))
            return replace(view, over=mix_words.BACK_TO_THE_RECIPE, mend=words, mend_then=then)
        worst = max(now.over, key=lambda n: now.over[n] / max(plan[n], 1e-9))
        then = mix_words.CUP_GROWS(percent=percent(plan[worst] / total), worst=units.called(worst), mass=units.mass_text(mended.total_kg))
        note = ""
        if mended.total_kg > view.capacity_kg and now.thrift is not None:
            out = units.mass_text(now.thrift.take_out_kg)
            note = mix_words.MORE_THAN_THE_CUP_HOLDS(out=out)
        choices = []
        if now.thrift is not None:
            choices.append(MixChoice("2", f"Take {units.mass_text(now.thrift.take_out_kg)} out"))
        stands = now.held.get(worst, 0.0) / now.total
        choices.append(MixChoice("3", f"Keep {percent(stands, 1)}", keeps=True))
        over = mix_words.TOO_MUCH_OF(mass=units.mass_text(now.over[worst]), worst=units.called(worst))
        return replace(view, over=over, mend=words, mend_then=then, note=note, choices=tuple(choices))

    def _tray(self, run: Run, mix: Mix, shelf: dict[str, Material]) -> tuple[tuple[TrayCup, ...], str]:
        tray = []
        for m in run.mixes:
            arm = next(a for a in run.arms if a.letter == m.recipes[0])
            state = "now" if m.id == mix.id else "done" if m.done else "planned"
            group = f"{run.series.code}-{m.recipes}  {percent(arm.water_share)} water"
            tray.append(TrayCup(m.id, _hex(m.colour, shelf), state, group, units_of(self.desk).called(m.colour)))
        done = sum(m.done for m in run.mixes)
        return tuple(tray), mix_words.MIXED_OF(done=done, mixes=len(run.mixes))

    def _caution(self, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material]) -> str:
        """The caution of what goes in now, once; else an open cup."""
        name = now.left[0][0] if now.left and not now.acts else ""
        material = shelf.get(name)
        logged = any(w.ingredient == name for w in self.ledger(run, mix))
        if material is not None and not logged:
            if material.is_powder:
                return cautions.POWDER
            for hazard in material.hazards:
                return cautions.BY_HAZARD[hazard]
        if name == WATER and (other := {m.note for m in run.marks if m.kind is MarkKind.WATER} - {self.desk.rules.water_source}):
            return mix_words.OTHER_WATER(water=listed(sorted(other)), water_source=self.desk.rules.water_source)
        if not now.held and (told := cup_words.forecast(self.desk, run, mix)):
            return told
        if material is not None and material.strained_at is not None and not logged:
            days = (self.desk.now() - material.strained_at).total_seconds() / 86400.0
            if days > STRAIN_AFTER_D:
                return mix_words.LAST_STRAINED(name=first_up(name), days=days)
        open_min = cups.open_minutes(self.desk, run, mix)
        limit = self.desk.rules.cover_after_s
        if limit and open_min * 60.0 >= limit and cups.covered_since(run, mix) is None:
            return mix_words.STOOD_OPEN(colour=first_up(mix.colour), open_min=open_min)
        return ""

    # ------------------------------------------------------------ the whole series

    def pour_at(self) -> datetime | None:
        """When the person means to pour, if they said so."""
        text = self.desk.notebook.setting(f"pour_at/{self.desk.series_id}", "")
        try:
            when = datetime.fromisoformat(text) if text else None
        except (ValueError, TypeError):
            return None
        return when if when is not None and when.tzinfo is not None else None

    def set_pour_at(self, text: str) -> None:
        """Take a time of the day such as 14:30; one that has passed is tomorrow's."""
        try:
            hour, minute = (int(x) for x in text.strip().replace(".", ":").split(":"))
            today = self.desk.local(self.desk.now()).replace(hour=hour, minute=minute, second=0, microsecond=0, tzinfo=None)
        except ValueError:
            raise DribbetError(mix_words.NO_TIME(text=text)) from None
        when = self.desk.at_wall(today)
        if when < self.desk.now():
            when = self.desk.at_wall(today + timedelta(days=1))
        self.desk.notebook.put_setting(f"pour_at/{self.desk.series_id}", when.isoformat())
        self.desk.changed()

    def list_of_batches(self) -> tuple[BatchLine, ...]:
        """Every cup of the series, those to be mixed first, from clean to dirty: tools, amounts, when to mix, since when it rests."""
        run = self.desk.need_run()
        shelf, units, mix, pour_at = {m.key: m for m in run.shelf}, units_of(self.desk), self.mix(), self.pour_at()
        lines = []
        for b in cups.all_batches(run):
            m = b.mix
            rest = pots.rest_of(self.desk, run, m)
            when = ""
            if b.done and rest is not None:
                left = rest.left_s(self.desk.now())
                when = f"{'rests until' if left else 'rested since'} {self.desk.local(rest.ready_at):%H:%M}"
            elif pour_at is not None:
                arm = next(a for a in run.arms if a.letter == m.recipes[0])
                total = sum(kg for _, kg in m.plan)
                density = composition.density_kg_m3({n: kg / total for n, kg in m.plan}, run.shelf)
                rules = self.desk.rules
                need = resting.rest_of(
                    mass_kg=total, density_kg_m3=density, viscosity_pa_s=arm.viscosity_pa_s, bubble_m=rules.bubble_m,
                    cup_radius_m=rules.cup_radius_m, since=self.desk.now(), checked=False,
                )  # fmt: skip
                when = f"mix by {self.desk.local(resting.latest_mixing(pour_at, need.seconds)):%H:%M}"
            note = f"contaminated: {b.contaminated}" if b.contaminated else ""
            state = "now" if mix is not None and m.id == mix.id else "done" if b.done else "next" if b.next_up else "planned"
            lines.append(
                BatchLine(
                    m.id, ", ".join(f"{run.series.code}-{c}" for c in m.recipes), m.colour, units.mass_text(sum(kg for _, kg in m.plan)),
                    _hex(m.colour, shelf), b.tools, when, note, state, m.drops, bool(b.contaminated),
                )
            )  # fmt: skip
        return tuple(sorted(lines, key=lambda line: line.state == "done"))

    # ------------------------------------------------------------ what was typed

    def typed(self, text: str) -> None:
        """Enter what was typed for the ingredient that is due: a weight, a volume, spoons, squirts; of drops, how many fell in."""
        run, mix = self.acts.need()
        now = self.filling(run, mix)
        name = now.left[0][0] if now.left else ""
        if name and name == mix.drop_material and mix.drops and (found := re.fullmatch(r"\s*(\d+)\s*(drops?)?\s*", text)):
            self.acts.count_drops(int(found.group(1)))
            return
        self.acts.enter(self.typed_kg(text), "typed")

    def typed_kg(self, text: str) -> float:
        """What was typed as kilograms of the ingredient that is due: a weight, or a volume, spoons, drops, squirts of it.

        Raises
        ------
        DribbetError
            If it is no amount, or in a measure that is not known yet.
        """
        run, mix = self.acts.need()
        now = self.filling(run, mix)
        name = now.left[0][0] if now.left else ""
        found = re.match(r"^\s*([\d.,]+)\s*([a-zA-Z ]*?)\s*$", text)
        unit = measures.UNIT_WORDS.get(found.group(2).lower()) if found is not None else None
        if found is None or unit is None:
            raise DribbetError(mix_words.NO_WEIGHT_OR_MEASURE(text=text))
        try:
            amount = figure(found.group(1))
        except ValueError:
            raise DribbetError(mix_words.NO_WEIGHT(text=text)) from None
        material = next((m for m in run.shelf if m.key == name), None)
        if unit in ("", *measures.MASS_UNITS) or material is None:
            return amount * measures.MASS_UNITS.get(unit or units_of(self.desk).mass, measures.KG_PER_G)
        return measures.to_kg(amount, unit, material, self.desk.gaugings())

    def scale_to_paint(self, text: str) -> str:
        """Scale the plan of the cup in hand to the paint there is; says whether it is enough for every panel."""
        _, mix = self.acts.need()
        units = units_of(self.desk)
        try:
            kg = units.mass_kg(text)
        except ValueError:
            raise DribbetError(mix_words.NO_WEIGHT_OF_COLOUR(text=text, colour=units.called(mix.colour))) from None
        after, before = self.acts.scale_to_paint(kg)
        short = mix_words.TOO_LITTLE_FOR_EVERY_PANEL(percent=percent(after / before))
        return mix_words.IN_ALL(mass=units.mass_text(after), enough=mix_words.THAT_IS_ENOUGH if after >= before else short)

    def all_done(self) -> bool:
        """Whether every cup of the series is mixed."""
        run = self.desk.run()
        return run is not None and bool(run.mixes) and all(m.done for m in run.mixes)


def _done_words(act: additions.CupAct) -> str:
    return {
        MarkKind.WETTED: mix_words.IT_IS_A_PASTE,
        MarkKind.STIRRED: "Stirred",
        MarkKind.STRAINED: "Strained",
        MarkKind.RIM: mix_words.RIM_WIPED_NO_LUMPS,
    }[act.kind]


def _hex(name: str, shelf: dict[str, Material]) -> str:
    if name == WATER:
        return "water"
    material = shelf.get(name) or shelf.get(name.rpartition(",")[0])
    return material.hex if material else NO_HEX


def still_text(units: Units, target_kg: float, reading_kg: float) -> str:
    """How much is left, or how much it is over."""
    left = target_kg - reading_kg
    return f"{units.mass_figure(abs(left))}{NARROW}{units.mass}"


def _weighed(w: Weighing, units: Units) -> str:
    drops = f"{count_text(w.drops, 'drop')}, " if w.drops else ""
    return f"{drops}{units.mass_text(w.mass_kg) if w.mass_kg >= STEP_KG else f'{w.mass_kg * 1e6:.0f}{NARROW}mg'}, {w.source}"
