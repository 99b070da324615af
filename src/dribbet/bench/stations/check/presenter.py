"""Check: do the colours of one recipe flow alike? One instruction with an amount for each that does not. No widgets."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import TYPE_CHECKING, Final

from dribbet.bench.hexes import hex_of
from dribbet.bench.parts.drip_lanes import DripCardView, Lane
from dribbet.bench.stations.check import side
from dribbet.bench.stations.check.view import CheckTest, CheckView, WayView
from dribbet.lab.paint.consistency import FlowCup, Match
from dribbet.lab.panel import progress
from dribbet.records import CheckKind, DribbetError, Mix, Stream
from dribbet.records.wording import first_up
from dribbet.studio.acts.checking import Checking
from dribbet.studio.standing import check as standing
from dribbet.studio.standing import pots as flow_set
from dribbet.studio.standing import sinking
from dribbet.words import check as check_words
from dribbet.words import pots as pot_words
from dribbet.words.tongue import name
from dribbet.words.units import figure, listed, units_of

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.lab.cup.matching import SetVerdict
    from dribbet.records import Material, Report
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

LONGEST_RUN_MM: Final = 300.0


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
        units, mix = units_of(self.desk), self._in_hand(cups)
        timed = standing.mounds(self.desk, run, group)
        sinks = sinking.of_group(self.desk, run, group)
        suit = standing.ways_to_pour(self.desk, run, group)
        mends = standing.correction(self.desk, run, group, mix) if mix is not None else None
        hint, note = self._field(run, cups)
        others = [f"{run.series.code}-{c}" for g in self.groups(run) if g != group and not self._done(run, g) for c in flow_set.letters(g)]
        return CheckView(
            sentence=pot_words.sentence(cups, stands, str(arm.technique), units, others),
            note=check_words.under(codes, arm.water_share, found.kind, self.desk.rules.drip_seconds),
            card=self._card(cups, found, shelf),
            tests=tuple(CheckTest(str(k), check_words.tested(k, standing.having(run, cups, k), len(cups)), k is self.test) for k in standing.KINDS),
            field_hint=hint,
            field_note=note,
            mounds=side.mounds(timed, shelf, units),
            mound_note=check_words.mounds(timed, units),
            sinking=side.rows(sinks, shelf, units),
            sink_note=check_words.sinks(sinks),
            ways=tuple(WayView(name(w.technique), *w.wants_s, w.suits) for w in suit.ways),
            way_pots=tuple((units.called(colour), hex_of(colour, shelf), s) for colour, s in suit.pots),
            ways_note=check_words.ways(suit),
            read=tuple(check_words.others(one, units) for one in standing.others(self.desk, run, group)),
            cautions=self._cautions(cups, found, mends),
            fix=check_words.log_it(mends, units) if mends is not None else "",
            fix_note=self._fix_note(mix, found, mends),
            can_keep=mix is not None and (flow_set.is_out(found.pots[mix.id]) or mix.id in stands.lumpy),
            matched=found.matched,
            groups=tuple(self.groups(run)),
            more=bool(others),
            timing=next((m.colour for m in cups if self.timing and m.id == self.timing[0]), ""),
            streams=tuple(str(s) for s in Stream) if self.test is CheckKind.STREAM else (),
        )

    def _in_hand(self, cups: list[Mix]) -> Mix | None:
        """Pot in hand, if one is."""
        return cups[self.hand] if self.hand is not None and self.hand < len(cups) else None

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
            lanes.append(
                Lane(
                    first_up(units.called(m.colour)), hex_of(m.colour, shelf), value, text, check_words.lane(v, found.kind),
                    check_words.lane_told(v, m, units), v.match is Match.GOOD or v.kept, i == self.hand,
                )
            )  # fmt: skip
        aim = (found.band[0] * scale, found.band[1] * scale) if found.band and len(values) > 1 and found.kind is not CheckKind.FLOW_CUP else None
        words = check_words.aim(aim, seconds=seconds) if aim else ""
        least, step = (5.0, 1.0) if seconds else (90.0, 20.0)
        longest = max([least, *(v * 1.08 for v in values), (aim or (0, 0))[1] * 1.1])
        while longest / step > 9:
            step *= 2
        return DripCardView(tuple(lanes), aim, words, longest, unit, step)

    def _due(self, run: Run, cups: list[Mix]) -> Mix | None:
        """Pot that the next reading is for."""
        return standing.due(run, cups, self.test, self._in_hand(cups))

    def _field(self, run: Run, cups: list[Mix]) -> tuple[str, str]:
        due, rules, units = self._due(run, cups), self.desk.rules, units_of(self.desk)
        who = units.called(due.colour) if due is not None else check_words.THE_NEXT
        return check_words.ask(self.test, who, self.cup, (units.mass_text(rules.slump_kg), rules.slump_seconds), units)

    def _cautions(self, cups: list[Mix], found: SetVerdict, mends: standing.Correction | None) -> tuple[str, ...]:
        """What to mind of every pot; first, that a correction changes what is tested."""
        units = units_of(self.desk)
        said = [line for m in cups for line in check_words.cautions(found.pots[m.id], m, found.kind, units)]
        tested = check_words.water_is_tested(mends, units) if mends is not None else ""
        return (tested, *said) if tested else tuple(said)

    def _fix_note(self, mix: Mix | None, found: SetVerdict, mends: standing.Correction | None) -> str:
        units = units_of(self.desk)
        if mends is not None:
            return check_words.correction(mends, units)
        stands = found.pots[mix.id] if mix is not None else None
        return check_words.anew(mix, units) if mix is not None and stands is not None and stands.anew and not stands.kept else ""

    # ------------------------------------------------------------ what a press does

    def choose_test(self, kind: str) -> None:
        """Another kind of test."""
        self.test = CheckKind(kind)
        self.timing = None
        self.desk.changed()

    def next_test(self) -> None:
        """The next kind of test."""
        self.choose_test(str(standing.KINDS[(standing.KINDS.index(self.test) + 1) % len(standing.KINDS)]))

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
        self.acts.keep(mix_id, kind, value, source, tool=tool, seconds=seconds, note=note)

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
            seconds = _figure(text, check_words.LIKE_SECONDS)
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
        mix_id = cups[self.hand].id
        self.hand = None
        self.keep(mix_id, CheckKind.KEPT, 0.0, "decided", note=why.strip())

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
