"""Ask: the question as a sentence with parts to choose, the rack of recipes, and the honest margin. No widgets."""

from __future__ import annotations

import math
import secrets
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.cup import CupView
from dribbet.bench.parts.margin import Remark, Weight
from dribbet.bench.stations.ask import held
from dribbet.bench.stations.ask import levels as words
from dribbet.bench.units import NARROW, count_text, percent
from dribbet.lab import coupling, design, drying, planning
from dribbet.lab.judge import smallest_difference
from dribbet.lab.responses import SCALES
from dribbet.notebook.store import new_id
from dribbet.records import Constants, DribbetError, Factor, Kind, Level, Material, Prediction, Response, Series, Technique, Wanted

if TYPE_CHECKING:
    from dribbet.bench.studio import Run, Studio

NAMES: Final = ("Kelp", "Dulse", "Bladderwrack", "Haar", "Squall", "Thrift", "Eelgrass", "Sleet")
LIKED: Final = {
    Response.CRACK_LENGTH: Wanted.LESS,
    Response.CELL_COUNT: Wanted.MORE,
    Response.CELL_WIDTH: Wanted.MORE,
    Response.SPREAD: Wanted.MORE,
    Response.LACING: Wanted.MORE,
    Response.SHIMMER: Wanted.MORE,
    Response.VIVIDNESS: Wanted.MORE,
}
DRYING_SLOTS: Final = 20
HELD_ORDER: Final = (
    "cup", "asked", "size_mm", "support", "poured", "technique", "dwell", "tilt", "torch", "medium", "ratio", "water", "drops", "silicone_in", "film",
    "room", "damp",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the sentence that can be chosen: its words, and what it may become."""

    id: str
    text: str
    choices: tuple[tuple[str, str], ...] = ()
    """(value, words); empty where it is typed."""
    typed: str = ""


@dataclass(frozen=True, slots=True)
class RackCup:
    """One recipe on the rack."""

    view: CupView
    codes: tuple[str, ...]
    words: str


@dataclass(frozen=True, slots=True)
class AskView:
    """Everything the page shows."""

    empty: bool = False
    sentence: tuple[str | Part, ...] = ()
    columns: tuple[str, ...] = ()
    column_head: str = ""
    rows: tuple[tuple[str, str, tuple[RackCup, ...]], ...] = ()
    held: str = ""
    expectation: tuple[str | Part, ...] = ()
    margin: tuple[Remark, ...] = ()
    show_mm: float | None = None
    """Smallest difference to draw to scale on the panel, for lengths."""
    panel_mm: tuple[float, float] = (200.0, 150.0)
    costs: tuple[tuple[str, str, float], ...] = ()
    """(what, words, share of what there is)."""
    drawn: bool = False
    locked: bool = False
    one_key: str = ""
    can_take_back: bool = False


class AskPresenter:
    """What the series asks, and what choosing a part does."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio

    # ------------------------------------------------------------ what is so

    def view(self) -> AskView:
        run = self.studio.run()
        if run is None:
            return AskView(
                empty=True, one_key="Start a question", margin=(Remark("Honest margin", "Start a question and this margin starts talking."),)
            )
        s = run.series
        recipes = design.arms(s)
        drawn = s.seed is not None
        first = s.responses[0][0]
        count = len(recipes) * s.repeats
        begun = bool(run.steps or run.weighings)
        return AskView(
            sentence=self._sentence(s, first),
            columns=tuple(words.level_text(s.factor, level, self.studio.units) for level in s.levels),
            column_head=words.MEANS[s.factor],
            rows=self._rows(s, recipes),
            held=self._held(s),
            expectation=self._expectation(s, first),
            margin=self._margin(run, recipes, count),
            show_mm=self._can_show(s, recipes)[0] if SCALES[first].unit == "mm" else None,
            panel_mm=(s.constants.panel_width_m * 1e3, s.constants.panel_height_m * 1e3),
            costs=self._costs(s, count),
            drawn=drawn,
            locked=begun,
            one_key="Lots are drawn: go to Mix" if drawn else "Draw lots for the pouring order",
            can_take_back=drawn and not begun,
        )

    def _sentence(self, s: Series, first: Response) -> tuple[str | Part, ...]:
        factor = Part("factor", str(s.factor), tuple((f.value, str(f)) for f in Factor if f is not s.crossed))
        response = Part("response", str(first), tuple((r.value, str(r)) for r in Response))
        levels_ = Part("levels", self._levels_words(s.factor, s.levels), typed=words.typed_text(s.factor, s.levels, self.studio.units))
        crossed = Part(
            "crossed",
            f"with and without {s.crossed}" if s.crossed else "nothing else changed",
            (
                ("", "nothing else changed"),
                *((f.value, f"with two levels of {f}") for f in (Factor.SILICONE, Factor.FILM_LEFT, Factor.WATER_SHARE) if f is not s.factor),
            ),
        )
        repeats = Part("repeats", count_text(s.repeats, "panel"), tuple((str(n), count_text(n, "panel")) for n in range(1, 7)))
        return ("Does ", factor, " of ", levels_, " change ", response, ", ", crossed, ", on ", repeats, " of each recipe?")

    def _levels_words(self, factor: Factor, levels_: tuple[Level, ...]) -> str:
        texts = [words.level_text(factor, level, self.studio.units) for level in levels_]
        return ", ".join(texts[:-1]) + " or " + texts[-1] if len(texts) > 1 else texts[0]

    def _expectation(self, s: Series, first: Response) -> tuple[str | Part, ...]:
        p = s.prediction
        scale = SCALES[first]
        if p is not None and p.locked_at is not None:
            size = f" by {p.size:g} {scale.unit}".rstrip() if p.size else ""
            return (f"You expected {p.more_or_less} {p.response}{size}. Locked {p.locked_at:%-d %b, %H:%M}, at the first pour.",)
        which = Part("expect", str(p.more_or_less) if p else "not said", (("", "not said"), ("less", "less"), ("more", "more")))
        if p is None:
            return ("I expect ", which, f" {first} at the last level. It is locked at the first pour.")
        size = Part("size", f"{p.size:g} {scale.unit}".strip(), typed=f"{p.size:g}")
        return ("I expect ", which, f" {first} at the last level, by ", size, ". Locked at the first pour.")

    def _rows(self, s: Series, recipes: tuple[design.Arm, ...]) -> tuple[tuple[str, str, tuple[RackCup, ...]], ...]:
        shelf = {m.name: m for m in self.studio.shelf()}
        rows = []
        for row in range(max(len(s.crossed_levels), 1)):
            head = ""
            if s.crossed and s.crossed_levels:
                head = words.level_text(s.crossed, s.crossed_levels[row], self.studio.units)
            cups = []
            for arm in recipes:
                if arm.crossed_level != row:
                    continue
                layers = tuple((shelf[layer.material].hex if layer.material in shelf else "#9A9A9A", layer.share) for layer in s.layers)
                drops = {
                    i: math.ceil(arm.silicone_drops_per_100g)
                    for i, layer in enumerate(s.layers)
                    if layer.material in s.constants.silicone_colours and arm.silicone_drops_per_100g
                }
                fill = arm.film_m / 1.7e-3 if Factor.FILM_LEFT in (s.factor, s.crossed) else 1.0
                view = CupView(
                    layers=layers,
                    fill=min(max(fill, 0.45), 1.0),
                    stick=(arm.paint_share, arm.medium_share, arm.water_share + arm.alcohol_share),
                    drops=drops,
                    behind=s.repeats - 1,
                )
                codes = tuple(f"{s.code}-{arm.letter}{r}" for r in range(1, s.repeats + 1))
                thinner = percent(arm.water_share + arm.alcohol_share)
                thin = f"{percent(arm.paint_share)} paint, {percent(arm.medium_share)} {arm.medium}, {thinner} thinner"
                cups.append(RackCup(view, codes, f"Recipe {arm.letter}: {thin}"))
            rows.append((head.capitalize(), f"{count_text(s.repeats, 'repeat')} of each recipe", tuple(cups)))
        return tuple(rows)

    def _held(self, s: Series) -> str:
        constants, units = s.constants, self.studio.units
        said = [
            f"{units.mass_text(constants.poured_kg)} a panel",
            f"{units.size_text(constants.panel_width_m * 1e3, constants.panel_height_m * 1e3)} {constants.support}",
        ]
        if Factor.TECHNIQUE not in (s.factor, s.crossed):
            said.append(f"{constants.technique}, {constants.dwell_s:.0f} s rest, tilt {constants.tilt_s:.0f} s")
        if Factor.RATIO not in (s.factor, s.crossed):
            said.append(f"1 paint : {constants.medium_parts:g} {constants.medium if s.factor is not Factor.MEDIUM else 'medium'}")
        if Factor.WATER_SHARE not in (s.factor, s.crossed):
            said.append(f"{percent(constants.water_share)} water")
        if Factor.SILICONE not in (s.factor, s.crossed):
            said.append("no silicone" if not constants.silicone_drops_per_100g else f"{constants.silicone_drops_per_100g:g} drops of silicone")
        said.append(f"room {units.temperature_text(constants.room_c)}, {percent(constants.room_rh)} damp")
        return "; ".join(said) + "."

    def _can_show(self, s: Series, recipes: tuple[design.Arm, ...], extra: int = 0) -> tuple[float | None, str]:
        """Smallest difference the test can show in the response's unit, and what its scatter rests on."""
        first = s.responses[0][0]
        known = self.studio.scatter(first)
        repeats = s.repeats + extra
        df = len(recipes) * (repeats - 1)
        each = repeats * max(len(s.crossed_levels), 1)
        if known is None or df < 1:
            return None, "" if known is None else known[2]
        return smallest_difference(known[0], each, df), known[2]

    def _margin(self, run: Run, recipes: tuple[design.Arm, ...], count: int) -> tuple[Remark, ...]:
        s = run.series
        first = s.responses[0][0]
        scale, units = SCALES[first], self.studio.units
        delta, rests_on = self._can_show(s, recipes)
        known = self.studio.scatter(first)
        each = s.repeats * max(len(s.crossed_levels), 1)
        made: list[Remark] = []

        def amount(value: float) -> str:
            return units.length_text(value, scale.digits) if scale.unit == "mm" else f"{value:.{scale.digits}f}{NARROW}{scale.unit}".strip()

        if s.repeats < 2:
            made.append(Remark("It can show nothing", "One panel of each recipe cannot tell a difference from luck. Add a repeat.", Weight.STOP))
        elif delta is None or known is None:
            made.append(Remark("It can show", f"Not known yet: no series has repeats of {first}. The first repeats will tell."))
        else:
            body = (
                f"A change of <b>{amount(delta)}</b> or more, four times in five. Smaller ones look like chance: "
                f"in {rests_on} two panels poured alike differed by {amount(known[0])}."
            )
            made.append(Remark("It can show", body))
        if s.prediction and delta is not None and s.prediction.size and s.prediction.size < delta:
            made.append(Remark("", f"You expect {amount(s.prediction.size)}: less than this test can show.", Weight.CAUTION))
        for other in coupling.unequal(recipes, s.factor, s.crossed):
            made.append(Remark("Mixed up together" if not any(r.head == "Mixed up together" for r in made) else "", other.sentence, Weight.CAUTION))
        if s.factor is Factor.SILICONE and all((level.value or 0) > 0 for level in s.levels):
            made.append(Remark("No control", "No recipe goes without silicone, so its effect has nothing to stand against.", Weight.STOP))
        made.append(Remark("Repeats", f"<b>{s.repeats}</b> of each recipe, so <b>{each}</b> panels stand behind every level."))
        if s.repeats < 6:
            more, _ = self._can_show(s, recipes, 1)
            if more is not None:
                made.append(
                    Remark(
                        "",
                        f"<b>One more repeat of each</b> would show {amount(more)}. "
                        f"It takes {count_text(len(recipes), 'more panel', 'more panels')}.",
                    )
                )
        short = planning.short_of(planning.demand_kg(self._mixes(s)), self.studio.shelf())
        if short and s.seed is None:
            lines = ", ".join(f"{units.mass_text(kg)} {name}" for name, kg in short.items())
            made.append(Remark("Short on the shelf", f"{lines}. Get it before you start.", Weight.STOP))
        return tuple(made)

    def _mixes(self, s: Series) -> list:  # type: ignore[type-arg]
        numbers = iter(range(100_000))
        return planning.mixes(s, lambda: str(next(numbers)))

    def _costs(self, s: Series, count: int) -> tuple[tuple[str, str, float], ...]:
        shelf, units = self.studio.shelf(), self.studio.units
        need = planning.demand_kg(self._mixes(s))
        names = set(planning.colours_of(s))
        paint, stock = sum(kg for n, kg in need.items() if n in names), sum(m.stock_kg for m in shelf if m.name in names)
        money = planning.cost(need, shelf)
        rate = drying.windows(s.constants.film_m, 0.25, s.constants.room_c, s.constants.room_rh, s.constants.air_m_s)
        days = math.ceil(rate[2].latest_s / drying.DAY_S) + math.ceil(count / 12)
        return (
            ("Paint", f"{units.stock_text(paint)} of {units.stock_text(stock)}", min(paint / max(stock, 1e-9), 1.0)),
            ("Money", f"{money:.0f}, by shelf prices", min(money / 60.0, 1.0)),
            ("Panels", count_text(count, "panel"), min(count / 16.0, 1.0)),
            ("Rack", f"{count} of {DRYING_SLOTS} slots", min(count / DRYING_SLOTS, 1.0)),
            ("Days", f"{days}, pours and drying", min(days / 14.0, 1.0)),
        )

    # ------------------------------------------------------------ what choosing does

    def choose(self, part: str, value: str) -> None:
        """Choose or type a part of the sentence."""
        run = self.studio.need_run()
        s = run.series
        if part not in ("expect", "size") and s.seed is not None:
            raise DribbetError("Lots are drawn, so the question stands. Take the lots back to change it, or start a new series.")
        if part in ("expect", "size") and s.prediction and s.prediction.locked_at is not None:
            raise DribbetError("The prediction was locked at the first pour. It stands.")
        changed = self._changed(s, part, value)
        design.arms(changed)  # refuses what cannot be mixed before it is kept
        self.studio.notebook.replace(changed)
        self.studio.changed()

    def _changed(self, s: Series, part: str, value: str) -> Series:
        mediums = [m.name for m in self.studio.shelf() if m.kind is Kind.MEDIUM]
        if part == "factor":
            factor = Factor(value)
            return replace(
                s,
                factor=factor,
                levels=self._default_levels(factor, mediums),
                crossed=None if s.crossed is factor else s.crossed,
                constants=self._with_drops(s, factor),
            )
        if part == "levels":
            return replace(s, levels=words.parse(s.factor, value, self.studio.units, mediums))
        if part == "response":
            first = Response(value)
            rest = tuple(r for r in s.responses if r[0] is not first)
            p = s.prediction
            return replace(s, responses=((first, LIKED[first]), *rest)[:4], prediction=replace(p, response=first) if p else None)
        if part == "crossed":
            if not value:
                return replace(s, crossed=None, crossed_levels=())
            factor = Factor(value)
            return replace(s, crossed=factor, crossed_levels=self._default_levels(factor, mediums)[:2], constants=self._with_drops(s, factor))
        if part == "repeats":
            return replace(s, repeats=int(value))
        if part == "expect":
            if not value:
                return replace(s, prediction=None)
            old = s.prediction
            return replace(s, prediction=Prediction(response=s.responses[0][0], more_or_less=Wanted(value), size=old.size if old else 0.0))
        if part == "size" and s.prediction is not None:
            try:
                size = float(value.replace(",", ".").split()[0])
            except (ValueError, IndexError):
                raise DribbetError(f"“{value}” is no size. Type a figure such as 40.") from None
            if not 0.0 <= size < 1e6:
                raise DribbetError("A size is zero or more.")
            return replace(s, prediction=replace(s.prediction, size=size))
        if part == "name":
            if not value.strip():
                raise DribbetError("A series needs a name, such as Kelp 05.")
            return replace(s, name=value.strip()[:40])
        return held.changed(s, part, value, self.studio.units, [m.name for m in planning.paints(self.studio.shelf())])

    def held_list(self) -> Part:
        """Everything that is held, each as a choice that opens it."""
        s = self.studio.need_run().series
        tested = {Factor.TECHNIQUE: "technique", Factor.MEDIUM: "medium", Factor.RATIO: "ratio", Factor.WATER_SHARE: "water"}
        tested |= {Factor.SILICONE: "drops", Factor.FILM_LEFT: "film"}
        left_out = {tested.get(f) for f in (s.factor, s.crossed) if f is not None}
        if Factor.SILICONE not in (s.factor, s.crossed) and not s.constants.silicone_drops_per_100g:
            left_out.add("silicone_in")
        parts = [p for p in HELD_ORDER if p not in left_out]
        return Part("held", "", tuple((p, held.words_of(s, p, self.studio.units)) for p in parts))

    def held_part(self, part: str) -> Part:
        """One constant, to be chosen or typed."""
        s = self.studio.need_run().series
        if part == "technique":
            return Part(part, str(s.constants.technique), tuple((t.value, str(t)) for t in Technique))
        if part == "medium":
            return Part(part, s.constants.medium, tuple((m.name, m.name) for m in self.studio.shelf() if m.kind is Kind.MEDIUM))
        return Part(part, held.words_of(s, part, self.studio.units), typed=held.typed_of(s, part, self.studio.units))

    def _with_drops(self, s: Series, factor: Factor) -> Constants:
        if factor is Factor.SILICONE and not s.constants.silicone_colours:
            return replace(s.constants, silicone_colours=tuple(planning.colours_of(s)[1:2] or planning.colours_of(s)))
        return s.constants

    def _silicone(self) -> str:
        """Return the additive that is dosed in drops: the one on the shelf, or its plain name."""
        return next((m.name for m in self.studio.shelf() if m.kind is Kind.ADDITIVE and m.wash_off), "silicone")

    def _default_levels(self, factor: Factor, mediums: list[str]) -> tuple[Level, ...]:
        if factor is Factor.MEDIUM:
            if len(mediums) < 2:
                raise DribbetError("There is only one medium on the shelf. Add another on Shelf first.")
            return tuple(Level(name=m) for m in mediums[:2])
        if factor is Factor.TECHNIQUE:
            return (Level(name=str(Technique.FLIP_CUP)), Level(name=str(Technique.OPEN_CUP)))
        return tuple(Level(value=v) for v in words.DEFAULT[factor])

    def draw_lots(self) -> None:
        """Fix the design: seed, panels with codes and places, cups to mix."""
        run = self.studio.need_run()
        if run.series.seed is not None:
            raise DribbetError("Lots are drawn already.")
        series = replace(run.series, seed=secrets.randbelow(2**31))
        with self.studio.notebook.transaction():
            self.studio.notebook.replace(series)
            self.studio.notebook.add(*design.panels(series, new_id), *planning.mixes(series, new_id, self._silicone()))
        self.studio.changed()

    def take_back_lots(self) -> None:
        """Undo the draw while nothing was weighed or poured."""
        run = self.studio.need_run()
        if run.series.seed is None:
            raise DribbetError("There is nothing to take back.")
        if run.weighings or run.steps or run.panel_weighings or run.photos or run.checks or run.looks:
            raise DribbetError("Work on these lots has begun, so they stand. Start a new series to ask something else.")
        from dribbet.records import Weighing

        if any(w.mix_id in {m.id for m in run.mixes} for w in self.studio.notebook.all(Weighing)):
            raise DribbetError("Weighings of these lots are in the ledger, so they stand. Start a new series to ask something else.")
        with self.studio.notebook.transaction():
            self.studio.notebook.remove_plan(run.series.id)
            self.studio.notebook.replace(replace(run.series, seed=None))
        self.studio.changed()

    def new_series(self) -> None:
        """Start a series like the last one, with a fresh name and code."""
        known = self.studio.all_series()
        last = known[-1] if known else None
        shelf = self.studio.shelf()
        paints = planning.paints(shelf)
        if last is None and not paints:
            self._stock_the_shelf()
            paints = planning.paints(self.studio.shelf())
        name, code = self._fresh_name([s.name for s in known], {s.code for s in known})
        layers = last.layers if last else design.default_layers(tuple(m.name for m in paints[:4]))
        medium = next((m.name for m in self.studio.shelf() if m.kind is Kind.MEDIUM), "conditioner")
        constants = last.constants if last else Constants(medium=medium)
        series = Series(
            id=new_id(),
            code=code,
            name=name,
            factor=Factor.WATER_SHARE,
            levels=tuple(Level(value=v) for v in words.DEFAULT[Factor.WATER_SHARE]),
            repeats=2,
            responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_COUNT, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
            constants=replace(constants, silicone_drops_per_100g=0.0),
            layers=layers,
            created_at=self.studio.now(),
        )
        self.studio.notebook.add(series)
        self.studio.choose_series(series.id)

    def _fresh_name(self, names: list[str], codes: set[str]) -> tuple[str, str]:
        stem = names[-1].rsplit(" ", 1)[0] if names and names[-1].rsplit(" ", 1)[-1].isdigit() else NAMES[0]
        number = 1
        while f"{stem} {number:02d}" in names or f"{stem[0].upper()}{number}" in codes:
            number += 1
        return f"{stem} {number:02d}", f"{stem[0].upper()}{number}"

    def _stock_the_shelf(self) -> None:
        """A new notebook starts with plain materials; their figures are starting values to be replaced on Shelf."""
        plain = (("white", "#F2F0EA", 1350.0), ("blue", "#1F4E79", 1090.0), ("red", "#9C2F3C", 1100.0), ("black", "#1F1F1F", 1080.0))
        self.studio.notebook.add(
            *[
                Material(id=new_id(), name=n, kind=Kind.PAINT, hex=h, density_kg_m3=d, volume_solids=0.4, stock_kg=0.5, full_kg=0.5)
                for n, h, d in plain
            ],
            Material(
                id=new_id(), name="conditioner", kind=Kind.MEDIUM, hex="#E3DFD3", density_kg_m3=1025.0, volume_solids=0.15, stock_kg=2.5, full_kg=2.5
            ),
            Material(id=new_id(), name="glue", kind=Kind.MEDIUM, hex="#EFECE2", density_kg_m3=1080.0, volume_solids=0.47, stock_kg=1.0, full_kg=1.0),
            Material(id=new_id(), name="water", kind=Kind.THINNER, hex="#FFFFFF", density_kg_m3=998.0, volume_solids=0.0, stock_kg=5.0, full_kg=5.0),
        )

    def add_repeat(self, by: int) -> None:
        """One repeat more or fewer."""
        run = self.studio.need_run()
        self.choose("repeats", str(min(max(run.series.repeats + by, 1), 6)))
