"""Check: do the colours of one recipe flow alike? One instruction with an amount for each that does not. No widgets."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.drip_lanes import DripCardView, Lane
from dribbet.bench.stations.check import side
from dribbet.bench.stations.check.view import CheckTest, CheckView
from dribbet.lab.cup import composition
from dribbet.lab.paint.consistency import FlowCup, Match
from dribbet.lab.panel import progress
from dribbet.records import WATER, Check, CheckKind, DribbetError, Factor, Mix, Stream
from dribbet.records.wording import first_up
from dribbet.studio.acts.checking import Checking
from dribbet.studio.standing import cups as cup_standing
from dribbet.studio.standing import pots as flow_set
from dribbet.studio.standing import sinking
from dribbet.words import check as check_words
from dribbet.words import pots as pot_words
from dribbet.words.units import figure, in_words, listed, percent, units_of

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.lab.cup.matching import PotVerdict, SetVerdict
    from dribbet.records import Material, Report
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

KINDS: Final = (CheckKind.DRIP, CheckKind.MOUND, CheckKind.FLOW_CUP, CheckKind.RING, CheckKind.SLUMP, CheckKind.STREAM)
LONGEST_RUN_MM: Final = 300.0
HEAD: Final = {CheckKind.DRIP: "drip", CheckKind.MOUND: "mound", CheckKind.FLOW_CUP: "flow cup time", CheckKind.SLUMP: "slump"}


class CheckPresenter:
    """Which recipe's colours are looked at, by which test, and what a reading does."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.acts = Checking(desk)
        self.hand: int | None = None
        self.test = CheckKind.DRIP
        self.cup = str(FlowCup.ISO_4MM)
        self.timing: tuple[str, float] | None = None
        """Mix that is being timed, and when the stopwatch was started (s)."""

    # ------------------------------------------------------------ what is so

    def groups(self, run: Run) -> list[str]:
        """Recipes that share cups, such as 'be'."""
        return flow_set.groups(run)

    def group(self, run: Run) -> str | None:
        """The chosen recipe, else the first that is not checked."""
        known = self.groups(run)
        chosen = self.desk.in_hand("check")
        if chosen in known:
            return chosen
        undone = [g for g in known if not self._done(run, g)]
        return undone[0] if undone else known[0] if known else None

    def _done(self, run: Run, group: str) -> bool:
        return all(progress.checked(m, run.checks) for m in self.cups(run, group))

    def cups(self, run: Run, group: str) -> list[Mix]:
        return flow_set.cups(run, group)

    def held(self, run: Run, mix: Mix) -> dict[str, float]:
        return composition.weighed_in(mix, run.weighings)

    def cup_names(self) -> list[str]:
        """Flow cups to choose from, one's own first."""
        return [*(c.name for c in self.desk.rules.home_cups), *(str(c) for c in FlowCup)]

    def view(self) -> CheckView:
        run = self.desk.run()
        group = self.group(run) if run is not None else None
        if run is None or group is None:
            return CheckView(sentence=check_words.NO_CUP_YET, empty=True)
        cups, stands = self.cups(run, group), flow_set.standing(self.desk, run, group)
        found = stands.found
        outs = [i for i, m in enumerate(cups) if flow_set.is_out(found.pots[m.id]) or m.id in stands.lumpy]
        if self.hand is None or self.hand >= len(cups):
            self.hand = outs[0] if outs else None
        shelf = {m.key: m for m in run.shelf}
        codes = ", ".join(f"{run.series.code}-{c}" for c in flow_set.letters(group))
        if flow_set.block_of(group):
            codes += f", batch {flow_set.block_of(group)}"
        arm = next(a for a in run.arms if a.letter == group[0])
        fix, fix_note, cautions = self._fix(run, cups, found)
        mounds, mound_note = side.mounds(self.desk, run, group, cups, shelf)
        sinks = sinking.of_group(self.desk, run, group)
        ways, pots, ways_note = side.ways(self.desk, run, cups, shelf)
        hint, note = self._field(run, cups)
        others = [f"{run.series.code}-{c}" for g in self.groups(run) if g != group and not self._done(run, g) for c in flow_set.letters(g)]
        return CheckView(
            sentence=pot_words.sentence(cups, stands, str(arm.technique), units_of(self.desk), others),
            note=f"{codes}, {percent(arm.water_share)} water. {self._how(found)}",
            card=self._card(cups, found, shelf),
            tests=self._tests(run, cups),
            field_hint=hint,
            field_note=note,
            mounds=mounds,
            mound_note=mound_note,
            sinking=side.rows(sinks, run),
            sink_note=check_words.sinks(sinks),
            ways=ways,
            way_pots=pots,
            ways_note=ways_note,
            read=side.read(self.desk, run, group, cups),
            cautions=tuple(cautions),
            fix=fix,
            fix_note=fix_note,
            can_keep=self.hand is not None and (flow_set.is_out(found.pots[cups[self.hand].id]) or cups[self.hand].id in stands.lumpy),
            matched=found.matched,
            groups=tuple(self.groups(run)),
            more=bool(others),
            timing=next((m.colour for m in cups if self.timing and m.id == self.timing[0]), ""),
            streams=tuple(str(s) for s in Stream) if self.test is CheckKind.STREAM else (),
        )

    def _how(self, found: SetVerdict) -> str:
        seconds = self.desk.rules.drip_seconds
        if found.kind in (None, CheckKind.DRIP):
            return check_words.EQUAL_DROPS(seconds=seconds)
        if found.kind is CheckKind.MOUND:
            return check_words.COMPARED_BY_MOUND
        return check_words.COMPARED_BY(check=HEAD[found.kind])

    def _card(self, cups: list[Mix], found: SetVerdict, shelf: dict[str, Material]) -> DripCardView:
        """Lanes of what is compared: true runs in mm, or seconds."""
        units = units_of(self.desk)
        seconds = found.kind in (CheckKind.MOUND, CheckKind.FLOW_CUP)
        scale = 1.0 if seconds else 1e3
        unit = "s" if seconds else "mm"
        lanes, values = [], []
        for i, m in enumerate(cups):
            v = found.pots[m.id]
            value = v.value * scale if v.value is not None else None
            values += [value] if value is not None else []
            text = "" if value is None else f"{value:.1f}" if seconds else f"{value:.0f}"
            if units.length == "in" and value is not None and not seconds:
                text = f"{value / 25.4:.2f}"
            good = v.match is Match.GOOD
            word = "Not read" if value is None else "one so far" if v.match is None else "Good" if good else first_up(str(v.match))
            if found.kind in (None, CheckKind.DRIP) and value is None:
                word = "Not dripped"
            told = ""
            if v.kept and not good:
                word, told = "Kept", "as it is"
            elif v.anew:
                told = "start it anew"
            elif flow_set.is_out(v):
                told = f"add {units.mass_text(v.first_kg)} {v.add if v.add != 'paint' else m.colour}"
            elif v.hint:
                told = v.hint.partition(":")[0]
            lanes.append(Lane(first_up(m.colour), side.hex_of(m.colour, shelf), value, text, word, told, good or v.kept, i == self.hand))
        aim = (found.band[0] * scale, found.band[1] * scale) if found.band and len(values) > 1 and found.kind is not CheckKind.FLOW_CUP else None
        words = (f"aim: {aim[0]:.1f}\nto {aim[1]:.1f} s" if seconds else f"aim: {aim[0]:.0f}\nto {aim[1]:.0f} mm") if aim else ""
        least, step = (5.0, 1.0) if seconds else (90.0, 20.0)
        longest = max([least, *(v * 1.08 for v in values), (aim or (0, 0))[1] * 1.1])
        while longest / step > 9:
            step *= 2
        return DripCardView(tuple(lanes), aim, words, longest, unit, step)

    def _tests(self, run: Run, cups: list[Mix]) -> tuple[CheckTest, ...]:
        made = []
        for kind in KINDS:
            n = sum(any(c.kind is kind and c.mix_id == m.id for c in run.checks) for m in cups)
            made.append(CheckTest(str(kind), f"{first_up(str(kind))}{f' {n}/{len(cups)}' if n else ''}", kind is self.test))
        return tuple(made)

    def _due(self, run: Run, cups: list[Mix]) -> Mix | None:
        """Pot that the next reading is for: the one in hand, else the one with the fewest of this test."""
        if self.hand is not None and self.hand < len(cups):
            return cups[self.hand]
        counts = {m.id: sum(c.mix_id == m.id and c.kind is self.test for c in run.checks) for m in cups}
        if self.test is CheckKind.DRIP and cups and all(counts.values()):
            return None
        return min(cups, key=lambda m: counts[m.id], default=None)

    def _field(self, run: Run, cups: list[Mix]) -> tuple[str, str]:
        due = self._due(run, cups)
        who = due.colour if due is not None else "the next"
        rules = self.desk.rules
        unit = "mm" if units_of(self.desk).length == "mm" else "in"
        told = {
            CheckKind.DRIP: (f"run in {unit}", check_words.ASK_RUN(who=who)),
            CheckKind.MOUND: ("seconds", check_words.ASK_MOUND(who=who)),
            CheckKind.FLOW_CUP: (
                "seconds",
                check_words.ASK_FLOW_CUP(who=first_up(who), cup=self.cup),
            ),
            CheckKind.RING: (
                f"ring / drop, {unit}",
                check_words.ASK_RING(who=who),
            ),
            CheckKind.SLUMP: (
                f"{unit} × {unit}",
                check_words.ASK_SLUMP(mass=units_of(self.desk).mass_text(rules.slump_kg), who=who, slump_seconds=rules.slump_seconds),
            ),
            CheckKind.STREAM: ("", check_words.ASK_STREAM(who=who)),
        }
        return told[self.test]

    def _fix(self, run: Run, cups: list[Mix], found: SetVerdict) -> tuple[str, str, list[str]]:
        """Words of the correction in hand, what it rests on, and all cautions."""
        cautions = []
        for m in cups:
            v = found.pots[m.id]
            name = first_up(m.colour)
            if v.hint:
                cautions.append(f"\x02{name}:\x03 {v.hint}.")
            if v.reason:
                cautions.append(f"\x02{name}:\x03 {v.reason}.")
        if self.hand is None or self.hand >= len(cups):
            return "", "", cautions
        mix = cups[self.hand]
        v = found.pots[mix.id]
        if v.anew and not v.kept:
            name = first_up(mix.colour)
            told = check_words.START_ANEW
            return "", f"\x02{name}:\x03 {told}", cautions
        if not flow_set.is_out(v) or not v.add:
            return "", "", cautions
        units = units_of(self.desk)
        what = v.add if v.add != "paint" else mix.colour
        note = ""
        if v.rests_on is not None:
            low, high = units.mass_text(v.low_kg), units.mass_text(v.high_kg)
            whole = (
                check_words.FROM_TO_BY_CUPS(low=low, high=high, readings=v.rests_on.readings, cups=in_words(v.rests_on.cups))
                if v.rests_on.own
                else check_words.FROM_TO_BY_START(low=low, high=high)
            )
            steps = check_words.BEGIN_WITH(mass=units.mass_text(v.first_kg)) if v.first_kg < v.amount_kg * 0.99 else ""
            note = f"\x02{first_up(mix.colour)}:\x03 {whole}{steps}{self._room(run, mix, v)}"
        if v.add == WATER and run.series.varies(Factor.WATER_SHARE):
            cup = self.held(run, mix)
            total = sum(cup.values())
            if total > 0:
                before, after = cup.get(WATER, 0.0) / total, (cup.get(WATER, 0.0) + v.first_kg) / (total + v.first_kg)
                cautions.insert(
                    0,
                    check_words.WATER_IS_TESTED(
                        mass=units.mass_text(v.first_kg),
                        colour=mix.colour,
                        before=percent(before, 1),
                        after=percent(after, 1),
                        recipes=" and ".join(mix.recipes),
                    ),
                )
        return f"Log {units.mass_text(v.first_kg)} {what}", note, cautions

    def _room(self, run: Run, mix: Mix, v: PotVerdict) -> str:
        """What there is to mind when it goes in: a cup that would run over, a powder that must be wetted first."""
        units = units_of(self.desk)
        total = sum(self.held(run, mix).values())
        said = ""
        room = cup_standing.capacity_kg(self.desk, mix) - total
        if total and v.amount_kg > room > 0.0:
            said += check_words.CUP_TOO_FULL(mass=units.mass_text(room))
        paint = next((m for m in run.shelf if m.key == mix.colour), None)
        if v.add == "paint" and paint is not None and paint.is_powder:
            said += check_words.POWDER_INTO_PASTE
        return said

    # ------------------------------------------------------------ what a press does

    def choose_test(self, kind: str) -> None:
        """Another kind of test."""
        self.test = CheckKind(kind)
        self.timing = None
        self.desk.changed()

    def next_test(self) -> None:
        """The next kind of test."""
        self.choose_test(str(KINDS[(KINDS.index(self.test) + 1) % len(KINDS)]))

    def next_cup(self) -> None:
        """Another flow cup."""
        names = self.cup_names()
        self.cup = names[(names.index(self.cup) + 1) % len(names)] if self.cup in names else names[0]
        self.desk.changed()

    def next_mound(self, run: Run) -> Mix | None:
        """Pot with the fewest mounds, the one in hand first."""
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        counts = {m.id: sum(c.mix_id == m.id and c.kind is CheckKind.MOUND for c in run.checks) for m in cups}
        return min(cups, key=lambda m: counts[m.id], default=None)

    def time_mound(self, now_s: float) -> None:
        """Start the stopwatch, or stop it and keep the seconds: of a mound, or of the flow cup where that is the test."""
        run = self.desk.need_run()
        cupping = self.test is CheckKind.FLOW_CUP
        if self.timing is None:
            group = self.group(run)
            mix = self._due(run, self.cups(run, group)) if cupping and group else self.next_mound(run)
            if mix is None:
                raise DribbetError(check_words.MIX_ONE_FIRST)
            self.timing = (mix.id, now_s)
            return
        mix_id, started = self.timing
        self.timing = None
        seconds = round(now_s - started, 1)
        if cupping:
            self._keep_cup(mix_id, seconds, "stopwatch")
        else:
            self.keep(mix_id, CheckKind.MOUND, seconds, "stopwatch")

    def _stay(self) -> None:
        """Keep the recipe in hand that is being checked, so that its last reading does not turn the page."""
        run = self.desk.need_run()
        group = self.group(run)
        if group is not None:
            self.desk.take("check", group)

    def keep(self, mix_id: str, kind: CheckKind, value: float, source: str, *, tool: str = "", seconds: float = 0.0, note: str = "") -> None:
        """Keep one reading."""
        self._stay()
        self._store_reason(self.acts.keep(mix_id, kind, value, source, tool=tool, seconds=seconds, note=note))

    def _store_reason(self, made: Check) -> None:
        """A check that was outvoted by another keeps the reason with its reading."""
        run = self.desk.need_run()
        group = self.group(run)
        found = flow_set.verdict(self.desk, run, group).pots.get(made.mix_id) if group else None
        if found is not None and found.reason and not found.kept and not made.note:
            self.acts.explain(made, found.reason)

    def _keep_cup(self, mix_id: str, seconds: float, source: str) -> None:
        """Keep a flow cup's time."""
        self.keep(mix_id, CheckKind.FLOW_CUP, seconds, source, tool=self.cup)

    def type_reading(self, text: str) -> None:
        """Take what was typed for the test in hand."""
        run = self.desk.need_run()
        group = self.group(run)
        if group is None:
            raise DribbetError(check_words.MIX_ONE_FIRST)
        if self.test is CheckKind.DRIP:
            self.type_run(text)
            return
        mix = self._due(run, self.cups(run, group))
        assert mix is not None
        if self.test in (CheckKind.MOUND, CheckKind.FLOW_CUP):
            seconds = _figure(text, "seconds, such as 2.4")
            if self.test is CheckKind.FLOW_CUP:
                self._keep_cup(mix.id, seconds, "typed")
            else:
                if not 0.0 <= seconds <= 120.0:
                    raise DribbetError(check_words.NO_SUCH_MOUND(seconds=seconds))
                self.keep(mix.id, CheckKind.MOUND, seconds, "typed")
            return
        ends = [e for e in re.split(r"[x×/*]| by ", text) if e.strip()]
        if len(ends) != 2:
            raise DribbetError(check_words.TWO_FIGURES_OF_RING if self.test is CheckKind.RING else check_words.TWO_FIGURES_OF_DISC)
        first, second = (self._mm(e) for e in ends)
        if self.test is CheckKind.RING:
            if not (0.0 <= first <= 50.0 and second > 0.0):
                raise DribbetError(check_words.NO_SUCH_RING)
            self.keep(mix.id, CheckKind.RING, round(first / second, 3), "typed", seconds=90.0)
            return
        from dribbet.lab.paint.containers import slump_diameter_m

        diameter = slump_diameter_m([first / 1e3, second / 1e3])
        self.keep(mix.id, CheckKind.SLUMP, round(diameter, 5), "typed", seconds=self.desk.rules.slump_seconds)

    def _mm(self, text: str) -> float:
        try:
            return units_of(self.desk).length_mm(text)
        except ValueError:
            raise DribbetError(check_words.NO_LENGTH(text=text.strip())) from None

    def type_run(self, text: str) -> None:
        """Take a typed drip run for the colour in hand, or the first that has none."""
        run = self.desk.need_run()
        group = self.group(run)
        if group is None:
            raise DribbetError(check_words.MIX_ONE_FIRST)
        mm = self._mm(text)
        if not 0.0 <= mm <= LONGEST_RUN_MM:
            raise DribbetError(check_words.NO_SUCH_RUN(mm=mm))
        cups = self.cups(run, group)
        runs = progress.drip_runs(cups, run.checks)
        mix = next((m for m in cups if m.id not in runs), cups[self.hand] if self.hand is not None else None)
        if mix is None:
            raise DribbetError(check_words.EVERY_COLOUR_DRIPPED)
        self.keep(mix.id, CheckKind.DRIP, mm / 1e3, "typed", seconds=self.desk.rules.drip_seconds)

    def tick_stream(self, digit: int) -> bool:
        """Say what the stream does; False where there is no such answer."""
        if self.test is not CheckKind.STREAM or not 1 <= digit <= len(Stream):
            return False
        run = self.desk.need_run()
        group = self.group(run)
        mix = self._due(run, self.cups(run, group)) if group else None
        if mix is None:
            return False
        self.keep(mix.id, CheckKind.STREAM, float(digit - 1), "seen", note=str(list(Stream)[digit - 1]))
        return True

    def read_cards(self, paths: list[Path], report: Report) -> list[tuple[float, list[float]]]:
        """Seconds since the first photo and runs in m, of one drip card photographed once or twice (in a job)."""
        from dribbet.sight.drips import read_drips
        from dribbet.sight.load import load

        found = []
        for done, path in enumerate(paths):
            report(done, len(paths))
            loaded = load(path)
            drips = read_drips(loaded.rgb)
            off = [str(i) for i, d in enumerate(drips, 1) if d.off_card]
            if off:
                raise DribbetError(check_words.OFF_THE_CARD(len(off), which=listed(off)))
            found.append((loaded.taken_at, [d.run_mm / 1e3 for d in drips]))
        if len(found) > 1:
            if any(taken is None for taken, _ in found):
                raise DribbetError(check_words.NO_TIMES_IN_PHOTOS)
            found.sort(key=lambda f: f[0])  # type: ignore[arg-type, return-value]
        first = found[0][0]
        return [((taken - first).total_seconds() if taken is not None and first is not None else 0.0, runs) for taken, runs in found]

    def read_ring(self, path: Path, report: Report) -> float:
        """Ring width over drop radius from a photo of a drop in a puddle of base (in a job)."""
        from dribbet.sight.load import load
        from dribbet.sight.rings import read_ring

        report(0, 1)
        return read_ring(load(path).rgb).ratio

    def take_ring(self, ratio: float) -> None:
        """Keep a ring that was read from a photo, for the pot in hand or the next."""
        run = self.desk.need_run()
        group = self.group(run)
        mix = self._due(run, self.cups(run, group)) if group else None
        if mix is None:
            raise DribbetError(check_words.MIX_ONE_FIRST)
        self.keep(mix.id, CheckKind.RING, round(ratio, 3), "photo", seconds=90.0)

    def take_card(self, runs: list[float], later_s: float = 0.0) -> None:
        """Runs from left to right go to the colours in the order of the cup."""
        run = self.desk.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        self._stay()
        self.acts.keep_card(cups, runs, timedelta(seconds=later_s))

    def take_cards(self, cards: list[tuple[float, list[float]]]) -> None:
        """One card, or the same card twice: the second photo gives the speed."""
        for later_s, runs in cards:
            self.take_card(runs, later_s)

    def fix_grams(self) -> str:
        """What is advised, as the field shows it for typing what was really added."""
        run = self.desk.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if self.hand is None or self.hand >= len(cups) or group is None:
            raise DribbetError(check_words.NO_COLOUR_IN_HAND)
        return units_of(self.desk).mass_figure(flow_set.verdict(self.desk, run, group).pots[cups[self.hand].id].first_kg)

    def log_typed(self, text: str) -> None:
        """Log what was really added, as it was typed."""
        try:
            kg = units_of(self.desk).mass_kg(text)
        except ValueError:
            raise DribbetError(check_words.NO_WEIGHT(text=text)) from None
        self.log_fix(kg)

    def log_fix(self, really_kg: float | None = None) -> None:
        """Log the correction in hand as a weighing, with what was really added; that colour must be checked again."""
        run = self.desk.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if self.hand is None or self.hand >= len(cups) or group is None:
            raise DribbetError(check_words.NO_COLOUR_IN_HAND)
        mix = cups[self.hand]
        v = flow_set.verdict(self.desk, run, group).pots[mix.id]
        if not flow_set.is_out(v) or not v.add:
            raise DribbetError(check_words.NEEDS_NOTHING(colour=first_up(mix.colour)))
        name = v.add if v.add != "paint" else mix.colour
        self.hand = None
        self._stay()
        self.acts.correct(mix, name, v.first_kg if really_kg is None else really_kg)

    def keep_as_it_is(self, why: str = "") -> None:
        """Keep the pot in hand although it is out; the decision is stored with its reason."""
        run = self.desk.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if self.hand is None or self.hand >= len(cups) or group is None:
            raise DribbetError(check_words.NO_COLOUR_IN_HAND)
        mix = cups[self.hand]
        found = flow_set.verdict(self.desk, run, group)
        v = found.pots[mix.id]
        reason = why.strip() or f"kept although it is {v.match or 'not compared'}"
        self.hand = None
        self.keep(mix.id, CheckKind.KEPT, 0.0, "decided", note=reason)

    def drip_again(self) -> None:
        """Forget the compared readings of the colour in hand."""
        run = self.desk.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if self.hand is None or self.hand >= len(cups):
            raise DribbetError(check_words.TOUCH_TO_DRIP_AGAIN)
        kinds = (CheckKind.DRIP, CheckKind.KEPT) if self.test is CheckKind.DRIP else (self.test, CheckKind.KEPT)
        self.acts.forget(cups[self.hand], kinds)

    def choose(self, i: int) -> None:
        """Take a colour in hand."""
        self.hand = i
        self.desk.changed()

    def next_undone(self) -> None:
        """Go on to a recipe that still waits for its check."""
        run = self.desk.need_run()
        waiting = [g for g in self.groups(run) if not self._done(run, g)]
        self.desk.take("check", waiting[0] if waiting else "")
        self.hand = None
        self.desk.changed()

    def next_group(self) -> None:
        """Another recipe."""
        run = self.desk.need_run()
        known, now = self.groups(run), self.group(run)
        if known and now is not None:
            self.desk.take("check", known[(known.index(now) + 1) % len(known)])
            self.hand = None
            self.desk.changed()


def _figure(text: str, like: str) -> float:
    try:
        value = figure(text.strip().removesuffix("s"))
    except ValueError:
        raise DribbetError(check_words.NO_FIGURE(text=text, like=like)) from None
    return value
