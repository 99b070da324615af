"""Mix: one cup at a time, what to add or do now, how much is left, and the ways out of an overshoot. No widgets."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.bench.hexes import hex_of
from dribbet.bench.stations.mix.view import BatchLine, MixChoice, MixView, Slice, TrayCup
from dribbet.lab.paint import measures
from dribbet.records import WATER, DribbetError, Material, Mix, MixMark, Weigh, Weighing, order
from dribbet.records.wording import first_up
from dribbet.studio.acts.mixing import Mixing
from dribbet.studio.standing import contents, cups, mixing, pots
from dribbet.words import cup as cup_words
from dribbet.words import mix as mix_words
from dribbet.words.units import NARROW, Units, figure, percent, units_of

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.lab.cup.filling import Filling
    from dribbet.lab.cup.resting import Rest
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


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
        water = dict(mix.plan).get(WATER, 0.0) / sum(kg for _, kg in mix.plan)
        base = MixView(
            note_line=cup_words.ratio(contents.ratio(self.desk, mix, shelf), units),
            codes=", ".join(f"{run.series.code}-{c}" for c in mix.recipes),
            title=mix_words.title(units.called(mix.colour), water, by_eye=cups.by_eye(run, mix)),
            slices=self._slices(run, mix, now, shelf, units),
            capacity_kg=cups.capacity_kg(self.desk, mix),
            already_kg=now.total,
            tolerance_kg=now.tolerance_kg,
            tray=tray,
            tray_note=tray_note,
            caution=mix_words.minded(mixing.minded(self.desk, run, mix, now, shelf), units),
            tare_each=rules.weigh is Weigh.TARE,
            take_when_steady=rules.take_when_steady,
        )
        if (back := mixing.way_back(self.desk, mix, now)) is not None:
            base = _with_way_back(base, back, units)
        covered = cups.covered_since(run, mix)
        if covered is not None and not mix.done:
            at = self.desk.local(covered)
            return replace(
                base, covered=f"{at:%H:%M}", add_name="Covered", add_hint=mix_words.COVERED_SINCE(at=at), one_key=mix_words.UNCOVER, act="Uncover",
                choices=(), is_covered=True,
            )  # fmt: skip
        out = cups.taking_out_kg(self.desk, mix)
        if out > 0.0:
            mend, then = mix_words.taken_out(mixing.after_taking_out(self.desk, now), units)
            return replace(
                base, mend=mend, mend_then=then, note="", taking_out=True, add_name="Take paint out", add_hint=mix_words.STIR_FIRST_INTO_A_SPARE,
                target_kg=base.already_kg - out, one_key="That is out", choices=(),
            )  # fmt: skip
        if now.acts and not mix.done:
            act, how, done = mix_words.DO[now.acts[0]]
            return replace(base, act=act, add_name=act, add_hint=how, one_key=done, finished=False)
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
            made = ""
            if mix.drop_share < 1.0:
                diluent = units.called(cups.diluent(self.desk.need_run(), mix))
                made = mix_words.MADE_UP(parts=1.0 / mix.drop_share - 1.0, diluent=diluent)
            what = mix_words.ADD_WHAT(what=mix_words.what_drops(mix.drops, diluted=mix.drop_share < 1.0), name=name)
            return replace(
                base, add_name=what, add_hint=mix_words.LET_THEM_FALL, target_kg=target, drops=mix.drops,
                one_key=mix_words.drops_are_in(mix.drops), how=mix_words.COUNT_THEM(made=made),
            )  # fmt: skip
        if now.by_eye:
            return self._by_eye(base, now, units, kg)
        run = self.desk.need_run()
        hint = mix_words.BY_THE_DROP if kg < mix_words.SLOWLY_KG else mix_words.STEADILY
        hint += cup_words.as_volume(next((m for m in run.shelf if m.key == key), None), kg, units)
        one = mix_words.GO_ON_TO(following=following) if following else mix_words.THAT_IS_ALL_OF_IT
        source = self.acts.water_source(run, mix) if key == WATER and cups.arm_of(run, mix).held.water_source else ""
        words = mix_words.add(name, source, again=again and now.mended is not None)
        base = replace(base, add_name=words, add_hint=hint, target_kg=target, one_key=one)
        if key in now.short and not base.choices:
            share = now.held[key] / now.total if now.total else 0.0
            base = replace(base, choices=(MixChoice("3", mix_words.keep(share), keeps=True),))
        return base

    def _by_eye(self, base: MixView, now: Filling, units: Units, kg: float) -> MixView:
        """Water step by step: add a little, stir, look at the thread; then another step, or it looks right."""
        inside = now.held.get(WATER, 0.0)
        share = inside / now.total if now.total else 0.0
        step = units.mass_text(kg)
        how = mix_words.ARE_IN(mass=units.mass_text(inside), step=step) if inside else mix_words.BY_THE_PLAN(step=step)
        return replace(
            base, add_name=mix_words.THIN_IT_BY_EYE, add_hint=mix_words.LET_A_THREAD_RUN, target_kg=base.already_kg + kg, by_eye=True,
            one_key="It looks right" if inside else mix_words.WEIGH_STEP_IN, eye_begun=inside > 0.0, eye_share=percent(share, 1), how=how,
        )  # fmt: skip

    def _all_in(self, base: MixView, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material]) -> MixView:
        base = replace(
            base, finished=True, done=mix.done, facts=cup_words.facts(contents.contents(self.desk, run, mix, now, shelf), units_of(self.desk))
        )
        asked = cups.arm_of(run, mix).held.rest_s > 0.0
        rest = pots.rest_of(self.desk, run, mix)
        if rest is not None:
            settles = units_of(self.desk).called(mixing.settling(now, shelf))
            said = mix_words.rest(rest, settles, self.desk.local, asked=asked)
            base = replace(base, rest=said, rest_s=rest.left_s(self.desk.now()) if asked else 0.0)
        covered = cups.covered_since(run, mix) is not None
        hint = mix_words.waiting(asked=asked, covered=covered, done=mix.done)
        if mix.done:
            return replace(base, add_name="Mixed", add_hint=hint, one_key="Next cup", is_covered=covered)
        return replace(base, add_name="All in", add_hint=hint, one_key=mix_words.CUP_IS_DONE, is_covered=covered)

    # ------------------------------------------------------------ the ledger

    def ledger_lines(self) -> list[tuple[str, str]]:
        """Every entry of the cup in hand with its time: additions, and what else was done."""
        run = self.desk.need_run()
        mix = self.mix()
        if mix is None:
            return []
        entries: list[tuple[Weighing | MixMark, str, str]] = [
            (w, first_up(units_of(self.desk).called(w.ingredient)), mix_words.weighed(w, units_of(self.desk))) for w in self.ledger(run, mix)
        ]
        entries += [(m, mix_words.marked(m), m.note) for m in run.marks if m.mix_id == mix.id]
        return [(f"{self.desk.local(e.at):%H:%M:%S}  {what}", more) for e, what, more in sorted(entries, key=lambda e: order(e[0]))]

    def rest(self, run: Run, mix: Mix) -> Rest | None:
        """Rest of a cup since it was last stirred or added to; None while nothing is in it."""
        return pots.rest_of(self.desk, run, mix)

    def _slices(self, run: Run, mix: Mix, now: Filling, shelf: dict[str, Material], units: Units) -> tuple[Slice, ...]:
        made = mixing.went_in(run, mix, now)
        drawn = []
        for one in made:
            over = mix_words.OVER(mass=units.mass_text(one.over_kg)) if one.over_kg else ""
            name, text = units.called(one.key), units.mass_text(one.kg - one.over_kg)
            drawn.append(Slice(name, text, one.kg, _hex(one.key, shelf), "over" if one.over_kg else "done", one.over_kg, over))
        inside = {one.key for one in made}
        for i, (key, kg) in enumerate(now.left):
            name = mix_words.AGAIN(name=units.called(key)) if key in inside else units.called(key)
            drawn.append(Slice(name, mix_words.amount(kg, units), kg, _hex(key, shelf), "now" if i == 0 and not now.acts else "planned"))
        return tuple(drawn)

    def _tray(self, run: Run, mix: Mix, shelf: dict[str, Material]) -> tuple[tuple[TrayCup, ...], str]:
        tray = []
        for m in run.mixes:
            state = "now" if m.id == mix.id else "done" if m.done else "planned"
            group = mix_words.on_the_tray(run.series.code, m, cups.arm_of(run, m).water_share)
            tray.append(TrayCup(m.id, _hex(m.colour, shelf), state, group, units_of(self.desk).called(m.colour)))
        done = sum(m.done for m in run.mixes)
        return tuple(tray), mix_words.MIXED_OF(done=done, mixes=len(run.mixes))

    # ------------------------------------------------------------ the whole series

    def pour_at(self) -> datetime | None:
        """When the person means to pour, if they said so."""
        return mixing.pour_at(self.desk, self.desk.need_run())

    def set_pour_at(self, text: str) -> None:
        """Take a time of the day such as 14:30; one that has passed is tomorrow's."""
        try:
            hour, minute = (int(x) for x in text.strip().replace(".", ":").split(":"))
            when = mixing.next_time(self.desk, hour, minute)
        except ValueError:
            raise DribbetError(mix_words.NO_TIME(text=text)) from None
        self.acts.pour_at(when)

    def checklist(self) -> list[tuple[str, str]]:
        """Before the first cup: what to put on and off, and the care that each material of this series asks for."""
        return cup_words.checklist(contents.care(self.desk.need_run()), units_of(self.desk))

    def list_of_batches(self) -> tuple[BatchLine, ...]:
        """Every cup of the series, those to be mixed first, from clean to dirty: tools, amounts, when to mix, since when it rests."""
        run, units, mix = self.desk.need_run(), units_of(self.desk), self.mix()
        shelf = {m.key: m for m in run.shelf}
        lines = []
        for one in mixing.cups_of_the_day(self.desk, run):
            b, m = one.batch, one.batch.mix
            state = "now" if mix is not None and m.id == mix.id else "done" if b.done else "next" if b.next_up else "planned"
            lines.append(
                BatchLine(
                    m.id, ", ".join(f"{run.series.code}-{c}" for c in m.recipes), units.called(m.colour),
                    units.mass_text(sum(kg for _, kg in m.plan)), _hex(m.colour, shelf), mix_words.TOOLS[b.dirt],
                    mix_words.when(one, self.desk.now(), self.desk.local), mix_words.flag(b.why) if b.contaminated else "", state, m.drops,
                    b.contaminated,
                )
            )  # fmt: skip
        return tuple(lines)

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


def _with_way_back(view: MixView, back: mixing.WayBack, units: Units) -> MixView:
    """The view with what brings the cup back to its recipe."""
    over, mend, then, note = mix_words.back(back, units)
    choices = []
    if back.take_out_kg is not None:
        choices.append(MixChoice("2", mix_words.take_out(back.take_out_kg, units)))
    if back.overshoot is not None:
        choices.append(MixChoice("3", mix_words.keep(back.overshoot.stands), keeps=True))
    return replace(view, over=over, mend=mend, mend_then=then, note=note, choices=tuple(choices))


def _hex(name: str, shelf: dict[str, Material]) -> str:
    return "water" if name == WATER else hex_of(name, shelf)


def still_text(units: Units, target_kg: float, reading_kg: float) -> str:
    """How much is left, or how much it is over."""
    left = target_kg - reading_kg
    return f"{units.mass_figure(abs(left))}{NARROW}{units.mass}"
