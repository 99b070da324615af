"""Mix: one cup at a time, what to add or do now, how much is left, and the ways out of an overshoot. No widgets."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Final

from dribbet.bench.stations.mix import sayings
from dribbet.bench.stations.mix.view import BatchLine, Choice, MixView, Slice, TrayCup
from dribbet.lab.cup import additions, batches, bottles, composition, house_mix, parts, resting
from dribbet.lab.cup.filling import Filling, filling
from dribbet.lab.paint import cautions, history, measures
from dribbet.notebook.store import new_id
from dribbet.records import (
    TAKEN_OUT,
    Bottle,
    BottleKind,
    BottleWeighing,
    DribbetError,
    MarkKind,
    Material,
    Mix,
    MixMark,
    Weigh,
    Weighing,
    order,
)
from dribbet.studio.standing import pots as flow_set
from dribbet.words.units import NARROW, Units, clock_text, figure, listed, percent, units_of

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SLOWLY_KG: Final = 4e-3
STRAIN_AFTER_D: Final = 14.0  # a conditioner gels in its jug; gel lumps end up on the panel
CUP_ROOM: Final = 1.35  # a cup holds this much more than its plan, where the person set no size


class MixPresenter:
    """Which cup is in hand, and what a press does to it."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    # ------------------------------------------------------------ what is so

    def mix(self) -> Mix | None:
        """Cup in hand: the chosen one, else the next by the order from clean to dirty."""
        run = self.desk.run()
        if run is None or not run.mixes:
            return None
        chosen = self.desk.in_hand("mix")
        found = next((m for m in run.mixes if m.id == chosen), None)
        return found or next((b.mix for b in self.batches(run) if b.next_up), run.mixes[-1])

    def batches(self, run: Run) -> list[batches.Batch]:
        """All cups, clean to dirty."""
        return batches.ordered(run.mixes, run.arms, {m.key: m for m in run.shelf}, run.marks)

    def ledger(self, run: Run, mix: Mix) -> list[Weighing]:
        return [w for w in run.weighings if w.mix_id == mix.id]

    def cup(self, run: Run, mix: Mix) -> dict[str, float]:
        """Kilograms in the cup by ingredient."""
        return composition.weighed_in(mix, run.weighings)

    def filling(self, run: Run, mix: Mix) -> Filling:
        """Where a cup stands."""
        return filling(
            mix,
            run.weighings,
            run.marks,
            {m.key: m for m in run.shelf},
            tolerance_kg=self.desk.rules.tolerance_kg,
            drop_kg=sayings.drop_kg(self.desk, run, mix),
            capacity_kg=self.capacity_kg(mix),
        )

    def covered_since(self, run: Run, mix: Mix) -> datetime | None:
        """Since when a cup stands covered; None where it is open."""
        mine = sorted((m for m in run.marks if m.mix_id == mix.id and m.kind in (MarkKind.COVERED, MarkKind.UNCOVERED)), key=order)
        return mine[-1].at if mine and mine[-1].kind is MarkKind.COVERED else None

    def taking_out(self, mix: Mix) -> float:
        """How much well-mixed paint is to be taken out now; 0 where nothing is."""
        text = self.desk.hand.get(f"take-out/{mix.id}", "")
        return float(text) if text else 0.0

    def view(self) -> MixView:
        run = self.desk.run()
        if run is None:
            return MixView(empty="No question yet. Start one on Ask.", one_key="Go to Ask")
        if run.series.seed is None or not run.mixes:
            return MixView(empty="Nothing to mix yet. Draw lots on Ask, and the cups stand here.", one_key="Go to Ask")
        mix = self.mix()
        assert mix is not None
        units, shelf, rules = units_of(self.desk), {m.key: m for m in run.shelf}, self.desk.rules
        now = self.filling(run, mix)
        tray, tray_note = self._tray(run, mix, shelf)
        whole, water = sum(kg for _, kg in mix.plan), dict(mix.plan).get("water", 0.0)
        share = percent(water / whole) + " water" if water else "no water"
        base = MixView(
            note_line=sayings.ratio(self.desk, mix, shelf),
            codes=", ".join(f"{run.series.code}-{c}" for c in mix.recipes),
            title=f"{mix.colour[:1].upper()}{mix.colour[1:]}, {share}",
            slices=self._slices(run, mix, now, shelf, units),
            capacity_kg=self.capacity_kg(mix),
            already_kg=now.total,
            tolerance_kg=rules.tolerance_kg,
            tray=tray,
            tray_note=tray_note,
            caution=self._caution(run, mix, now, shelf),
            tare_each=rules.weigh is Weigh.TARE,
            take_when_steady=rules.take_when_steady,
        )
        if now.over or now.mended is not None:
            base = self._with_repair(base, mix, now, units)
        covered = self.covered_since(run, mix)
        if covered is not None and not mix.done:
            local = self.desk.local
            return replace(
                base, covered=f"{local(covered):%H:%M}", add_name="Covered", add_hint=f"since {local(covered):%H:%M}; the cup waits as it is",
                one_key="Uncover and go on", act="Uncover", choices=(),
            )  # fmt: skip
        out = self.taking_out(mix)
        if out > 0.0:
            thrift = now.thrift
            adds = [f"\x02{units.mass_text(kg)} {n}\x03" for n, kg in thrift.additions_kg.items() if kg > rules.tolerance_kg] if thrift else []
            then = f"The cup then comes to {units.mass_text(thrift.total_kg)}." if thrift else ""
            base = replace(base, mend=f"After that, {' + '.join(adds)}." if adds else "", mend_then=then, note="")
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
        name, kg = now.left[0]
        again = now.held.get(name, 0.0) > 0
        following = now.left[1][0] if len(now.left) > 1 else ""
        if name == mix.drop_material and mix.drops:
            hint = f"{mix.drops} drops, gloves on; count them, or weigh them"
        else:
            hint = "slowly, by the drop" if kg < SLOWLY_KG else "pour steadily, then slow down"
        one = f"Go on to {following}" if following else "That is all of it"
        hint += sayings.as_volume(self.desk, name, kg)
        name_words = f"Add {name}{' again' if again and now.mended is not None else ''}"
        if name == mix.drop_material and mix.drops:
            name_words, one = f"Add {mix.drops} drops of {name}", f"{mix.drops} drops are in"
        return replace(base, add_name=name_words, add_hint=hint, target_kg=base.already_kg + kg, one_key=one)

    def _all_in(self, base: MixView, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material]) -> MixView:
        base = replace(base, finished=True, done=mix.done, facts=sayings.facts(self.desk, run, mix, now, shelf))
        rest = self.rest(run, mix)
        if rest is not None:
            left = rest.left_s(self.desk.now())
            doubt = f"{clock_text(rest.low_s)} to {clock_text(rest.high_s)}"
            source = "by its own check" if rest.checked else "by the recipe; its check will say better"
            words = f"Bubbles are out at {self.desk.local(rest.ready_at):%H:%M} ({doubt} of rest, {source})."
            again = additions.restir_needed({n: kg / now.total for n, kg in now.held.items()}, shelf) if now.total else ""
            base = replace(base, rest_s=left, rest=words + (f" Stir {again} up again just before pouring: it settles." if again else ""))
        if mix.done:
            return replace(
                base,
                add_name="Mixed",
                add_hint="Covered, it rests." if self.covered_since(run, mix) else "Cover it while it rests.",
                one_key="Next cup",
            )
        return replace(base, add_name="All in", add_hint="Cover it and let it rest.", one_key="The cup is done: next cup")

    # ------------------------------------------------------------ the ledger

    def ledger_lines(self) -> list[tuple[str, str]]:
        """Every entry of the cup in hand with its time: additions, and what else was done."""
        run = self.desk.need_run()
        mix = self.mix()
        if mix is None:
            return []
        entries: list[tuple[Weighing | MixMark, str, str]] = [
            (w, w.ingredient.capitalize(), f"{units_of(self.desk).mass_text(w.mass_kg)}, {w.source}") for w in self.ledger(run, mix)
        ]
        entries += [(m, str(m.kind).capitalize(), m.note) for m in run.marks if m.mix_id == mix.id]
        return [(f"{self.desk.local(e.at):%H:%M:%S}  {what}", more) for e, what, more in sorted(entries, key=lambda e: order(e[0]))]

    def rest(self, run: Run, mix: Mix) -> resting.Rest | None:
        """Rest of a cup since it was last stirred or added to; None while nothing is in it."""
        return flow_set.rest_of(self.desk, run, mix)

    def capacity_kg(self, mix: Mix) -> float:
        """What the cup in hand holds: the smallest of the person's cups that the plan fits into with room to stir and mend."""
        plan = sum(kg for _, kg in mix.plan) * CUP_ROOM
        return next((kg for kg in sorted(self.desk.rules.cups_kg) if kg >= plan), plan)

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
            drawn.append(Slice(name, units.mass_text(kg - surplus), kg, _hex(name, shelf), "over" if surplus else "done", surplus, over_text))
        drawn.reverse()
        names = {n for n, _ in made}
        for i, (name, kg) in enumerate(now.left):
            words = name + (" again" if name in names else "")
            drawn.append(Slice(words, units.mass_text(kg), kg, _hex(name, shelf), "now" if i == 0 and not now.acts else "planned"))
        return tuple(drawn)

    def _with_repair(self, view: MixView, mix: Mix, now: Filling, units: Units) -> MixView:
        mended = now.mended
        assert mended is not None
        plan = dict(mix.plan)
        total = sum(plan.values())
        adds = [f"\x02{units.mass_text(kg)} {name}\x03" for name, kg in mended.additions_kg.items() if kg > self.desk.rules.tolerance_kg]
        words = f"Add {' + '.join(adds)}." if adds else "Nothing more to add."
        if not now.over:
            then = f"Then it is on the recipe again. The cup comes to {units.mass_text(mended.total_kg)}."
            return replace(view, over="Back to the recipe", mend=words, mend_then=then)
        worst = max(now.over, key=lambda n: now.over[n] / max(plan[n], 1e-9))
        then = f"Then it is {percent(plan[worst] / total)} {worst} again. The cup grows to {units.mass_text(mended.total_kg)}."
        note = ""
        if mended.total_kg > view.capacity_kg and now.thrift is not None:
            out = units.mass_text(now.thrift.take_out_kg)
            note = f"That is more than the cup holds. Pour {out} off into a spare cup first (2), or start anew."
        choices = []
        if now.thrift is not None:
            choices.append(Choice("2", f"Take {units.mass_text(now.thrift.take_out_kg)} out"))
        stands = now.held.get(worst, 0.0) / now.total
        choices.append(Choice("3", f"Keep {percent(stands, 1)}"))
        over = f"{units.mass_text(now.over[worst])} too much {worst}"
        return replace(view, over=over, mend=words, mend_then=then, note=note, choices=tuple(choices))

    def _tray(self, run: Run, mix: Mix, shelf: dict[str, Material]) -> tuple[tuple[TrayCup, ...], str]:
        cups = []
        for m in run.mixes:
            arm = next(a for a in run.arms if a.letter == m.recipes[0])
            state = "now" if m.id == mix.id else "done" if m.done else "planned"
            group = f"{run.series.code}-{m.recipes}  {percent(arm.water_share)} water"
            cups.append(TrayCup(m.id, _hex(m.colour, shelf), state, group, m.colour))
        done = sum(m.done for m in run.mixes)
        return tuple(cups), f"{done} of {len(run.mixes)} mixed"

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
        if name == "water" and (other := {m.note for m in run.marks if m.kind is MarkKind.WATER} - {self.desk.rules.water_source}):
            return f"Other cups of this series took {listed(sorted(other))} water; Bench rules say {self.desk.rules.water_source} now."
        if not now.held and (told := sayings.forecast(self.desk, run, mix)):
            return told
        if material is not None and material.strained_at is not None and not logged:
            days = (self.desk.now() - material.strained_at).total_seconds() / 86400.0
            if days > STRAIN_AFTER_D:
                return f"{name.capitalize()} was last strained {days:.0f} days ago. Shake and strain it, and rinse the strainer at once."
        open_min = self.open_minutes(run, mix)
        limit = self.desk.rules.cover_after_s
        if limit and open_min * 60.0 >= limit and self.covered_since(run, mix) is None:
            return f"{mix.colour[:1].upper()}{mix.colour[1:]} has stood open for {open_min:.0f} min. Cover it."
        return ""

    def open_minutes(self, run: Run, mix: Mix) -> float:
        """How long nothing has happened to a cup that stands open."""
        moments = [w.at for w in self.ledger(run, mix)] + [m.at for m in run.marks if m.mix_id == mix.id]
        return max(0.0, (self.desk.now() - max(moments)).total_seconds()) / 60.0 if moments else 0.0

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
            raise DribbetError(f"“{text}” is no time of the day. Type one such as 14:30.") from None
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
        for b in self.batches(run):
            m = b.mix
            rest = self.rest(run, m)
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

    # ------------------------------------------------------------ what a press does

    def _need(self) -> tuple[Run, Mix]:
        run = self.desk.need_run()
        mix = self.mix()
        if mix is None:
            raise DribbetError("No cup is in hand. Draw lots on Ask first.")
        return run, mix

    def _reopen(self, mix: Mix) -> None:
        if mix.done:
            self.desk.notebook.replace(replace(mix, done=False))

    def _keep(self, mix: Mix) -> None:
        self.desk.take("mix", mix.id)
        self.desk.changed()

    def _mark(self, mix: Mix, kind: MarkKind, note: str = "") -> None:
        self.desk.notebook.add(MixMark(id=new_id(), mix_id=mix.id, kind=kind, at=self.desk.now(), note=note))

    def enter(self, kg: float, source: str) -> None:
        """Take what was added of the ingredient that is due, or taken out where that was asked for."""
        run, mix = self._need()
        now = self.filling(run, mix)
        out = self.taking_out(mix)
        if not out and now.acts:
            raise DribbetError(f"{now.acts[0].words} first: {now.acts[0].hint}. Then go on.")
        if not out and not now.left:
            raise DribbetError("Everything is in this cup. Press on to the next cup.")
        name = TAKEN_OUT if out else now.left[0][0]
        if not kg > 0.0:
            what = (
                "Nothing was taken out. Take it out of the cup, or type the grams."
                if out
                else f"Nothing was added. Pour {name} in, or type the grams."
            )
            raise DribbetError(what)
        if out and kg > now.total:
            raise DribbetError(f"Only {units_of(self.desk).mass_text(now.total)} are in the cup. Type what was really taken out.")
        fine = 1e6 if name == mix.drop_material and mix.drops else 1e4  # drops weigh less than the scale's step
        entry = Weighing(id=new_id(), mix_id=mix.id, ingredient=name, mass_kg=round(kg * fine) / fine, at=self.desk.now(), source=source)
        with self.desk.notebook.transaction():
            self._reopen(mix)
            self.desk.notebook.add(entry)
            if name == "water":
                note = self.desk.rules.water_source
                self.desk.notebook.add(MixMark(id=new_id(), mix_id=mix.id, kind=MarkKind.WATER, at=entry.at, note=note))
        self.desk.hand.pop(f"take-out/{mix.id}", None)
        self._keep(mix)

    def typed_kg(self, text: str) -> float:
        """What was typed as kilograms of the ingredient that is due: a weight, or a volume, spoons, drops, squirts of it.

        Raises
        ------
        DribbetError
            If it is no amount, or in a measure that is not known yet.
        """
        run, mix = self._need()
        now = self.filling(run, mix)
        name = now.left[0][0] if now.left else ""
        found = re.match(r"^\s*([\d.,]+)\s*([a-zA-Z ]*?)\s*$", text)
        unit = measures.UNIT_WORDS.get(found.group(2).lower()) if found is not None else None
        if found is None or unit is None:
            raise DribbetError(f"“{text}” is no weight. Type a figure such as 12.4; or mL, tsp, drops or squirts behind it.")
        try:
            amount = figure(found.group(1))
        except ValueError:
            raise DribbetError(f"“{text}” is no weight. Type a figure such as 12.4.") from None
        material = next((m for m in run.shelf if m.key == name), None)
        if unit in ("", *measures.MASS_UNITS) or material is None:
            return amount * measures.MASS_UNITS.get(unit or units_of(self.desk).mass, measures.KG_PER_G)
        return measures.to_kg(amount, unit, material, self.desk.gaugings())

    def scale_to_paint(self, text: str) -> str:
        """Scale the plan of the cup in hand to the paint there is; says whether it is enough for every panel.

        Raises
        ------
        DribbetError
            If something is in the cup already, or the plan has no paint of its own name.
        """
        run, mix = self._need()
        if self.ledger(run, mix):
            raise DribbetError("The plan can only follow the paint in hand before the first addition. Start anew to do so.")
        try:
            kg = units_of(self.desk).mass_kg(text)
        except ValueError:
            raise DribbetError(f"“{text}” is no weight. Type the grams of {mix.colour} that you have.") from None
        if not kg > 0.0:
            raise DribbetError(f"No {mix.colour}, no cup. Type the grams that you have.")
        plan = tuple((n, round(x, 7)) for n, x in parts.scaled_to_paint(dict(mix.plan), mix.colour, kg).items())
        before, after = sum(x for _, x in mix.plan), sum(x for _, x in plan)
        self.desk.notebook.replace(replace(mix, plan=plan))
        self._keep(mix)
        amount = units_of(self.desk).mass_text(after)
        short = f"That is {percent(after / before)} of what was planned: too little for every panel."
        return f"{amount} in all. {'That is enough.' if after >= before else short}"

    def enter_drops(self) -> None:
        """Take the planned number of drops as counted."""
        run, mix = self._need()
        self.enter(mix.drops * sayings.drop_kg(self.desk, run, mix), "counted")

    def acted(self) -> None:
        """What was to be done with the cup is done."""
        run, mix = self._need()
        if self.covered_since(run, mix) is not None and not mix.done:
            self._mark(mix, MarkKind.UNCOVERED)
        else:
            acts = self.filling(run, mix).acts
            if not acts:
                raise DribbetError("There is nothing to stir or wipe just now.")
            self._mark(mix, acts[0].kind)
        self._keep(mix)

    def lumps(self) -> None:
        """Lumps were seen: the strainer comes up."""
        _, mix = self._need()
        self._mark(mix, MarkKind.LUMPS)
        self._keep(mix)

    def cover(self) -> None:
        """Cover the cup, or take the cover off."""
        run, mix = self._need()
        self._mark(mix, MarkKind.UNCOVERED if self.covered_since(run, mix) is not None else MarkKind.COVERED)
        self._keep(mix)

    def contaminate(self, reason: str) -> None:
        """Flag the cup: its panels say so from now on. The same again takes the flag off."""
        run, mix = self._need()
        flags = [m for m in run.marks if m.mix_id == mix.id and m.kind is MarkKind.CONTAMINATED]
        if flags:
            self.desk.notebook.replace(*[replace(m, taken_back=True) for m in flags])
        else:
            self._mark(mix, MarkKind.CONTAMINATED, reason.strip() or "a trace of another cup")
        self._keep(mix)

    def accept(self) -> None:
        """Take the cup as it is; what it really holds is what the verdict will use."""
        run, mix = self._need()
        if not self.filling(run, mix).over:
            raise DribbetError("Nothing is over in this cup.")
        with self.desk.notebook.transaction():
            self._mark(mix, MarkKind.ACCEPTED)
            self.desk.notebook.replace(replace(mix, kept_over=True))
        self._keep(mix)

    def take_out(self) -> None:
        """Take well-mixed paint out first: ask for it."""
        run, mix = self._need()
        thrift = self.filling(run, mix).thrift
        if thrift is None:
            raise DribbetError("Nothing need be taken out: the repair fits.")
        self.desk.hand[f"take-out/{mix.id}"] = f"{thrift.take_out_kg:.6f}"
        self._keep(mix)

    def take_back(self) -> None:
        """Take back the last thing that was entered for the cup in hand: an addition, a stir, a cover, a flag."""
        run, mix = self._need()
        if self.desk.hand.pop(f"take-out/{mix.id}", ""):
            self._keep(mix)
            return
        entries: list[Weighing | MixMark] = [*self.ledger(run, mix), *(m for m in run.marks if m.mix_id == mix.id)]
        if not entries:
            raise DribbetError("There is nothing to take back in this cup.")
        *before, last = sorted(entries, key=order)
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(replace(last, taken_back=True))
            if isinstance(last, MixMark) and last.kind is MarkKind.WATER and before:  # it came with the water it speaks of
                self.desk.notebook.replace(replace(before[-1], taken_back=True))
            if isinstance(last, MixMark) and last.kind is MarkKind.ACCEPTED:
                self.desk.notebook.replace(replace(mix, kept_over=False, done=False))
            else:
                self._reopen(mix)
        self._keep(mix)

    def start_anew(self) -> None:
        """Throw the cup away: every entry stays in the ledger as taken back."""
        run, mix = self._need()
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(*[replace(w, taken_back=True) for w in self.ledger(run, mix)])
            self.desk.notebook.replace(*[replace(m, taken_back=True) for m in run.marks if m.mix_id == mix.id])
            self.desk.notebook.replace(replace(mix, done=False, kept_over=False))
        self.desk.hand.pop(f"take-out/{mix.id}", None)
        self._keep(mix)

    def finish(self) -> None:
        """Call the cup done and go on to the next that is not."""
        run, mix = self._need()
        if not mix.done:
            self.desk.notebook.replace(replace(mix, done=True))
        later = [b.mix for b in self.batches(run) if not b.done and b.mix.id != mix.id]
        self.desk.take("mix", later[0].id if later else mix.id)
        self.desk.changed()

    def store(self, full_kg: float | None = None, empty_kg: float = 0.0) -> Bottle:
        """Put the rest of the cup into a bottle with a code of its own; its weight by the ledger where it was not weighed."""
        run, mix = self._need()
        held = self.cup(run, mix)
        total = sum(held.values())
        if not total:
            raise DribbetError("Nothing is in this cup to be stored.")
        raw = house_mix.raw({n: kg / total for n, kg in held.items()}, run.shelf)
        arm = next(a for a in run.arms if a.letter == mix.recipes[0])
        known = {m.key: m for m in run.shelf}
        oily = any(n in known and known[n].wash_off for n in raw)
        made = Bottle(
            id=new_id(), code=bottles.next_code(b.code for b in self.desk.notebook.all(Bottle)), kind=BottleKind.MIX,
            name=f"{mix.colour}, {percent(raw.get('water', 0.0))} water", contents=tuple(raw.items()), stored_at=self.desk.now(),
            stored_kg=full_kg if full_kg is not None else total, empty_kg=empty_kg, hex=_hex(mix.colour, known) if mix.colour in known else "#9A9A9A",
            silicone=oily, activator=mix.colour == arm.held.activator, series_id=run.series.id, mix_id=mix.id,
            grade=float(history.grade_of(mix, run.checks, composition.density_kg_m3(held, run.shelf), self.desk.rules)),
        )  # fmt: skip
        with self.desk.notebook.transaction():
            self.desk.notebook.add(made)
            self._mark(mix, MarkKind.STORED, made.code)
        self._keep(mix)
        return made

    def use_bottle(self, code: str, taken_kg: float | None = None) -> None:
        """Fill the cup in hand from a stored bottle: its raw components go into the ledger, and it waits for its check.

        Raises
        ------
        DribbetError
            If there is no such bottle, it may not go into a test, or it is of another colour or holds silicone that the plan has not.
        """
        _, mix = self._need()
        bottle = next((b for b in self.desk.notebook.all(Bottle) if b.code.lower() == code.strip().lower() and not b.finished), None)
        if bottle is None:
            raise DribbetError(f"No bottle on the shelf has the code “{code.strip()}”. Read it off the label again.")
        weighings = self.desk.notebook.all(BottleWeighing, bottle_id=bottle.id)
        stand = bottles.stand(bottle, weighings)
        if stand.barred:
            raise DribbetError(stand.barred)
        if stand.contents.get(mix.colour, 0.0) <= 0.0:
            raise DribbetError(f"{bottle.code} holds {bottle.name}, not {mix.colour}. Take the right bottle, or another cup in hand.")
        if bottle.silicone and mix.drop_material not in stand.contents:
            raise DribbetError(f"There is silicone in {bottle.code}, and none in this recipe. It would spoil the test.")
        if stand.lost_kg >= bottles.WORTH_G:
            lost = units_of(self.desk).mass_text(stand.lost_kg)
            raise DribbetError(f"{bottle.code} lost {lost} of water. Give it back on Shelf first, then it is what its label says.")
        taken = min(taken_kg if taken_kg is not None else sum(kg for _, kg in mix.plan), stand.content_kg)
        gross = (weighings[-1].mass_kg + weighings[-1].water_added_kg - weighings[-1].taken_out_kg) if weighings else bottle.stored_kg
        with self.desk.notebook.transaction():
            self._reopen(mix)
            for name, share in stand.contents.items():
                kg, at = round(taken * share * 1e6) / 1e6, self.desk.now()
                self.desk.notebook.add(Weighing(id=new_id(), mix_id=mix.id, ingredient=name, mass_kg=kg, at=at, source=f"bottle {bottle.code}"))
                self.desk.forget(mix.series_id)
            self.desk.notebook.add(BottleWeighing(id=new_id(), bottle_id=bottle.id, mass_kg=gross, at=self.desk.now(), taken_out_kg=taken))
            if stand.content_kg - taken < bottles.WORTH_G:
                self.desk.notebook.replace(replace(bottle, finished=True))
        self._keep(mix)

    def choose(self, mix_id: str) -> None:
        """Take another cup in hand."""
        self.desk.take("mix", mix_id)
        self.desk.changed()

    def all_done(self) -> bool:
        run = self.desk.run()
        return run is not None and bool(run.mixes) and all(m.done for m in run.mixes)


def _done_words(act: additions.Act) -> str:
    return {MarkKind.WETTED: "It is a paste", MarkKind.STIRRED: "Stirred", MarkKind.STRAINED: "Strained", MarkKind.RIM: "Rim wiped, no lumps"}[
        act.kind
    ]


def _hex(name: str, shelf: dict[str, Material]) -> str:
    if name.startswith("water"):
        return "water"
    material = shelf.get(name) or shelf.get(name.rpartition(",")[0])
    return material.hex if material else "#9A9A9A"


def still_text(units: Units, target_kg: float, reading_kg: float) -> str:
    """How much is left, or how much it is over."""
    left = target_kg - reading_kg
    return f"{units.mass_figure(abs(left))}{NARROW}{units.mass}"
