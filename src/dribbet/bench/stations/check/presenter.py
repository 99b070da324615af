"""Check: do the colours of one recipe flow alike? One instruction with an amount for each that does not. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

from dribbet.bench.parts.drip_lanes import Card, Lane
from dribbet.bench.units import in_words, percent
from dribbet.lab import composition, consistency, density, progress
from dribbet.lab.design import mix_fractions
from dribbet.notebook.store import new_id
from dribbet.records import Check, CheckKind, DribbetError, Factor, Mix, Weighing

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.bench.studio import Run, Studio
    from dribbet.records import Report


@dataclass(frozen=True, slots=True)
class MoundView:
    """One colour's mound: seconds and grade in words."""

    name: str
    hex: str
    seconds: float | None
    text: str


@dataclass(frozen=True, slots=True)
class CheckView:
    """Everything the page shows."""

    sentence: str
    note: str = ""
    empty: bool = False
    card: Card = field(default_factory=lambda: Card((), None, "", 90.0, "mm", 20.0))
    mounds: tuple[MoundView, ...] = ()
    mound_note: str = ""
    sinking: tuple[tuple[str, str, str, bool], ...] = ()
    """(name, density, hex, sinks into the one below) from the top."""
    sink_note: str = ""
    ways: str = ""
    caution: str = ""
    fix: str = ""
    """Words of the correction in hand, such as 'Log 1.5 g water'."""
    matched: bool = False
    groups: tuple[str, ...] = ()
    timing: str = ""
    more: bool = False
    """Whether another mixed recipe still waits for its check."""


class CheckPresenter:
    """Which recipe's colours are looked at, and what a reading does."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio
        self.hand: int | None = None
        self.timing: tuple[str, float] | None = None
        """Mix whose mound is being timed, and when the stopwatch was started (s)."""

    def groups(self, run: Run) -> list[str]:
        """Recipes that share cups, such as 'be'; those mixed come first in order of need."""
        sharing: dict[tuple[str, ...], str] = {}
        for arm in run.arms:
            cups = tuple(m.id for m in run.mixes if arm.letter in m.recipes)
            sharing[cups] = sharing.get(cups, "") + arm.letter
        return [g for cups, g in sharing.items() if any(m.done for m in run.mixes if m.id in cups)]

    def group(self, run: Run) -> str | None:
        known = self.groups(run)
        chosen = self.studio.in_hand("check")
        if chosen in known:
            return chosen
        undone = [g for g in known if not self._done(run, g)]
        return undone[0] if undone else known[0] if known else None

    def _done(self, run: Run, group: str) -> bool:
        return all(progress.checked(m, run.checks) for m in self.cups(run, group))

    def cups(self, run: Run, group: str) -> list[Mix]:
        return [m for m in run.mixes if group[0] in m.recipes and m.done]

    def held(self, run: Run, mix: Mix) -> dict[str, float]:
        return composition.weighed_in(mix, run.weighings)

    def verdicts(self, run: Run, cups: list[Mix]) -> dict[str, consistency.Verdict]:
        """Verdict by mix, for those with a drip."""
        runs = progress.drip_runs(cups, run.checks)
        named = [m for m in cups if m.id in runs]
        if len(named) < 2:
            return {}
        mass, water = [], []
        for m in named:
            cup = self.held(run, m)
            total = sum(cup.values()) or sum(kg for _, kg in m.plan)
            mass.append(total)
            water.append(cup.get("water", 0.0) / total)
        found = consistency.match_runs([runs[m.id] for m in named], mass, water)
        return {m.id: v for m, v in zip(named, found, strict=True)}

    def view(self) -> CheckView:
        run = self.studio.run()
        group = self.group(run) if run is not None else None
        if run is None or group is None:
            return CheckView(sentence="No cup is mixed yet. Mix the first recipe, then check it here.", empty=True)
        units, shelf = self.studio.units, {m.name: m for m in self.studio.shelf()}
        cups = self.cups(run, group)
        runs = progress.drip_runs(cups, run.checks)
        verdicts = self.verdicts(run, cups)
        outs = [i for i, m in enumerate(cups) if m.id in verdicts and verdicts[m.id].match is not consistency.Match.GOOD]
        if self.hand is None or self.hand >= len(cups):
            self.hand = outs[0] if outs else None
        lanes = []
        for i, m in enumerate(cups):
            v = verdicts.get(m.id)
            text = f"{runs[m.id] * 1e3:.0f}" if m.id in runs else ""
            if units.length == "in" and m.id in runs:
                text = f"{runs[m.id] * 1e3 / 25.4:.2f}"
            good = v is not None and v.match is consistency.Match.GOOD
            word = "" if m.id not in runs else "one drip so far" if v is None else "Good" if good else v.match.value.capitalize()
            told = "" if v is None or good else f"add {units.mass_text(v.add_kg)} {v.add if v.add != 'paint' else m.colour}"
            lanes.append(
                Lane(
                    m.colour.capitalize(),
                    _hex(m.colour, shelf),
                    runs[m.id] * 1e3 if m.id in runs else None,
                    text,
                    word if m.id in runs else "Not dripped",
                    told,
                    good,
                    i == self.hand,
                )
            )
        values = sorted(runs.values())
        middle = values[len(values) // 2] if len(values) % 2 else (sum(values[len(values) // 2 - 1 : len(values) // 2 + 1]) / 2 if values else 0.0)
        aim = (middle * 1e3 * (1 - consistency.MATCH_WITHIN), middle * 1e3 * (1 + consistency.MATCH_WITHIN)) if len(runs) > 1 else None
        longest = max(90.0, *(v * 1e3 * 1.08 for v in runs.values()), (aim or (0, 0))[1] * 1.1) if runs else 90.0
        card = Card(tuple(lanes), aim, f"aim: {aim[0]:.0f}\nto {aim[1]:.0f} mm" if aim else "", longest, "mm", 20.0)
        codes = ", ".join(f"{run.series.code}-{c}" for c in group)
        missing = [m.colour for m in cups if m.id not in runs]
        if missing:
            sentence = f"Drip {missing[0]} next." if runs else "Drip every colour of this recipe once."
        elif outs:
            what = verdicts[cups[outs[0]].id].match.value
            same = all(verdicts[cups[i].id].match.value == what for i in outs)
            sentence = (
                f"{in_words(len(outs)).capitalize()} of {in_words(len(cups))} colours {'is' if len(outs) == 1 else 'are'} {what if same else 'out'}."
            )
        else:
            sentence = "All colours flow alike. Pour when you are ready."
        arm = next(a for a in run.arms if a.letter == group[0])
        fix, caution = self._fix(run, cups, verdicts)
        mounds, mound_note = self._mounds(run, group, cups, shelf)
        return CheckView(
            sentence=sentence,
            note=f"{codes}, {percent(arm.water_share)} water. Equal drops, the same seconds down an upright drip card.",
            card=card,
            mounds=mounds,
            mound_note=mound_note,
            sinking=self._sinking(run, group),
            sink_note=self._sink_note(run, group),
            ways=self._ways(run, cups),
            caution=caution,
            fix=fix,
            matched=bool(runs) and not missing and not outs,
            groups=tuple(self.groups(run)),
            more=any(not self._done(run, g) for g in self.groups(run) if g != group),
            timing=next((m.colour for m in cups if self.timing and m.id == self.timing[0]), ""),
        )

    def _fix(self, run: Run, cups: list[Mix], verdicts: dict[str, consistency.Verdict]) -> tuple[str, str]:
        if self.hand is None or self.hand >= len(cups):
            return "", ""
        mix = cups[self.hand]
        v = verdicts.get(mix.id)
        if v is None or not v.add:
            return "", ""
        units = self.studio.units
        what = v.add if v.add != "paint" else mix.colour
        caution = ""
        if v.add == "water" and run.series.varies(Factor.WATER_SHARE):
            cup = self.held(run, mix)
            total = sum(cup.values())
            if total > 0:
                before, after = cup.get("water", 0.0) / total, (cup.get("water", 0.0) + v.add_kg) / (total + v.add_kg)
                caution = (
                    f"<b>Water is what you are testing.</b> {units.mass_text(v.add_kg)} more takes {mix.colour} from {percent(before, 1)} to "
                    f"{percent(after, 1)}. Add it, and the series says so beside {' and '.join(mix.recipes)}."
                )
        return f"Log {units.mass_text(v.add_kg)} {what}", caution

    def _mounds(self, run: Run, group: str, cups: list[Mix], shelf: dict) -> tuple[tuple[MoundView, ...], str]:  # type: ignore[type-arg]
        made = []
        for m in cups:
            seconds = progress.mound_s(m, run.checks)
            made.append(MoundView(m.colour, _hex(m.colour, shelf), seconds, "not timed" if seconds is None else f"{seconds:.1f} s"))
        technique = next(a for a in run.arms if a.letter == group[0]).technique
        low, high = consistency.TECHNIQUE_GRADES[technique]
        limits = (0.0, *consistency.GRADE_LIMITS_S)
        out = [v.name for v in made if v.seconds is not None and not low <= consistency.grade(v.seconds) <= high]
        words = f"For a {technique}: {limits[low - 1]:g} to {limits[high]:g} s."
        if out:
            words += f" {out[0].capitalize()} is outside."
        return tuple(made), words

    def _layers(self, run: Run, group: str) -> list[tuple[str, float]]:
        """Layers from below with the density of their mix, from what was really weighed in."""
        arm = next(a for a in run.arms if a.letter == group[0])
        shelf = self.studio.shelf()
        known = {m.name: m.density_kg_m3 for m in shelf}
        found = []
        for layer in run.series.layers:
            mix = next((m for m in run.mixes if group[0] in m.recipes and m.colour == layer.material), None)
            cup = self.held(run, mix) if mix else {}
            cup = cup if sum(cup.values()) > 0 else mix_fractions(arm, layer.material)
            volume = sum(kg / known.get(n, 1050.0) for n, kg in cup.items())
            found.append((layer.material, sum(cup.values()) / volume))
        return found

    def _sinking(self, run: Run, group: str) -> tuple[tuple[str, str, str, bool], ...]:
        shelf = {m.name: m for m in self.studio.shelf()}
        layers = self._layers(run, group)
        joints = density.overturning_joints([d for _, d in layers])
        rows = [(n.capitalize(), f"{d / 1000:.2f}", _hex(n, shelf), i - 1 in joints) for i, (n, d) in enumerate(layers)]
        return tuple(reversed(rows))

    def _sink_note(self, run: Run, group: str) -> str:
        layers = self._layers(run, group)
        joints = density.overturning_joints([d for _, d in layers])
        if not joints:
            return "g in each cm³. Lighter lies on heavier everywhere: no joint turns over by weight."
        steps = [layers[i + 1][1] - layers[i][1] for i in joints]
        thin, wide = (density.fastest_wavelength_m(max(steps), t) * 1e3 for t in (0.1e-3, 1e-3))
        turning = f"{in_words(len(joints)).capitalize()} joint{' turns' if len(joints) == 1 else 's turn'} over"
        return f"g in each cm³. {turning}: where they do, patches of about {thin:.0f} to {wide:.0f} mm."

    def _ways(self, run: Run, cups: list[Mix]) -> str:
        grades = [consistency.grade(s) for m in cups if (s := progress.mound_s(m, run.checks)) is not None]
        if not grades:
            return "Time a mound, and the ways to pour that suit it stand here."
        fits = [str(t) for t, (low, high) in consistency.TECHNIQUE_GRADES.items() if sum(low <= g <= high for g in grades) >= len(grades) * 0.8]
        return (
            f"{', '.join(fits).capitalize()} suit{'s' if len(fits) == 1 else ''} this consistency."
            if fits
            else "No way to pour suits all of these; match them first."
        )

    # ------------------------------------------------------------ what a press does

    def next_mound(self, run: Run) -> Mix | None:
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        counts = {m.id: sum(c.mix_id == m.id and c.kind is CheckKind.MOUND for c in run.checks) for m in cups}
        return min(cups, key=lambda m: counts[m.id], default=None)

    def time_mound(self, now_s: float) -> None:
        """Start the stopwatch, or stop it and keep the seconds."""
        run = self.studio.need_run()
        if self.timing is None:
            mix = self.next_mound(run)
            if mix is None:
                raise DribbetError("No cup is mixed yet. Mix one first.")
            self.timing = (mix.id, now_s)
            return
        mix_id, started = self.timing
        self.timing = None
        self.keep(mix_id, CheckKind.MOUND, round(now_s - started, 1), "stopwatch")

    def _stay(self) -> None:
        """Keep the recipe in hand that is being checked, so that its last reading does not turn the page."""
        run = self.studio.need_run()
        group = self.group(run)
        if group is not None:
            self.studio.take("check", group)

    def keep(self, mix_id: str, kind: CheckKind, value: float, source: str) -> None:
        self._stay()
        self.studio.notebook.add(Check(id=new_id(), mix_id=mix_id, kind=kind, value=value, at=self.studio.now(), source=source))
        self.studio.changed()

    def type_run(self, text: str) -> None:
        """Take a typed drip run for the colour in hand, or the first that has none."""
        run = self.studio.need_run()
        group = self.group(run)
        if group is None:
            raise DribbetError("No cup is mixed yet. Mix one first.")
        try:
            mm = self.studio.units.length_mm(text)
        except ValueError:
            raise DribbetError(f"“{text}” is no length. Type a figure such as 64.") from None
        if not 0.0 <= mm <= 300.0:
            raise DribbetError(f"A run of {mm:g} mm is not on the card. Type 0 to 300 mm.")
        cups = self.cups(run, group)
        runs = progress.drip_runs(cups, run.checks)
        mix = next((m for m in cups if m.id not in runs), cups[self.hand] if self.hand is not None else None)
        if mix is None:
            raise DribbetError("Every colour has its drip. Touch one on the card to drip it again.")
        self.keep(mix.id, CheckKind.DRIP, mm / 1e3, "typed")

    def read_card(self, path: Path, report: Report) -> list[float]:
        """Runs in m from a photo of a drip card (in a job)."""
        from dribbet.sight.drips import read_drips
        from dribbet.sight.load import load

        report(0, 2)
        rgb = load(path).rgb
        report(1, 2)
        return [d.run_mm / 1e3 for d in read_drips(rgb)]

    def take_card(self, runs: list[float]) -> None:
        """Runs from left to right go to the colours in the order of the cup."""
        run = self.studio.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if len(runs) != len(cups):
            raise DribbetError(
                f"The card shows {len(runs)} drips, this recipe has {len(cups)} colours. Drip one of each, left to right in the order of the cup."
            )
        now = self.studio.now()
        self._stay()
        self.studio.notebook.add(
            *[Check(id=new_id(), mix_id=m.id, kind=CheckKind.DRIP, value=v, at=now, source="photo") for m, v in zip(cups, runs, strict=True)]
        )
        self.studio.changed()

    def log_fix(self) -> None:
        """Log the correction in hand as a weighing; that colour must be dripped again."""
        run = self.studio.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if self.hand is None or self.hand >= len(cups):
            raise DribbetError("No colour is in hand. Touch one on the card.")
        mix = cups[self.hand]
        v = self.verdicts(run, cups).get(mix.id)
        if v is None or not v.add:
            raise DribbetError(f"{mix.colour.capitalize()} needs nothing.")
        now = self.studio.now()
        name = v.add if v.add != "paint" else mix.colour
        stale = [c for c in run.checks if c.mix_id == mix.id]
        with self.studio.notebook.transaction():
            self.studio.notebook.add(
                Weighing(id=new_id(), mix_id=mix.id, ingredient=name, mass_kg=round(v.add_kg * 1e4) / 1e4, at=now, source="correction")
            )
            self.studio.notebook.replace(*[replace(c, taken_back=True) for c in stale])  # any addition resets what was checked
        self.hand = None
        self.studio.changed()

    def drip_again(self) -> None:
        """Forget the drip of the colour in hand."""
        run = self.studio.need_run()
        group = self.group(run)
        cups = self.cups(run, group) if group else []
        if self.hand is None or self.hand >= len(cups):
            raise DribbetError("Touch the colour to drip again on the card.")
        old = [c for c in run.checks if c.mix_id == cups[self.hand].id and c.kind is CheckKind.DRIP]
        self.studio.notebook.replace(*[replace(c, taken_back=True) for c in old])
        self.studio.changed()

    def choose(self, i: int) -> None:
        self.hand = i
        self.studio.changed()

    def next_undone(self) -> None:
        """Go on to a recipe that still waits for its check."""
        run = self.studio.need_run()
        waiting = [g for g in self.groups(run) if not self._done(run, g)]
        self.studio.take("check", waiting[0] if waiting else "")
        self.hand = None
        self.studio.changed()

    def next_group(self) -> None:
        run = self.studio.need_run()
        known, now = self.groups(run), self.group(run)
        if known and now is not None:
            self.studio.take("check", known[(known.index(now) + 1) % len(known)])
            self.hand = None
            self.studio.changed()


def _hex(name: str, shelf: dict) -> str:  # type: ignore[type-arg]
    return shelf[name].hex if name in shelf else "#9A9A9A"
