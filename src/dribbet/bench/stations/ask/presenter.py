"""Ask: the question as a sentence with parts to choose, the rack of recipes, the honest margin, and what is planned with them. No widgets."""

from __future__ import annotations

import secrets
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

from dribbet.bench.apart import apart
from dribbet.bench.parts.margin import Remark
from dribbet.bench.stations.ask import held, margin, sentence, sheets
from dribbet.bench.stations.ask.history import History
from dribbet.bench.stations.ask.rack import lines, rack, sides
from dribbet.bench.stations.ask.view import AskView, Checks, Days, Offered, Part, Sheet
from dribbet.lab.panel.progress import Station
from dribbet.lab.plan import confounding, control, day_plan, design, planning, sizes, templates
from dribbet.lab.plan.design import arms
from dribbet.lab.plan.factors import NATURES
from dribbet.notebook.store import new_id
from dribbet.records import (
    Aim,
    BasePlan,
    Constants,
    Design,
    DribbetError,
    Factor,
    Goal,
    Judging,
    Kind,
    Level,
    Material,
    Mix,
    Outline,
    Report,
    Response,
    Series,
    StepMark,
    Technique,
    Varied,
    Wanted,
    Weighing,
)
from dribbet.words import levels as words
from dribbet.words.units import NARROW, count_text, figure, percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.confounding import Confound
    from dribbet.lab.plan.planning import Demand
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

NAMES: Final = ("Kelp", "Dulse", "Bladderwrack", "Haar", "Squall", "Thrift", "Eelgrass", "Sleet")
STUDIO: Final = {  # what the studio has; kept as settings of the notebook: part, words, first value
    "have_panels": ("Bare panels at hand", 16),
    "rack_slots": ("Places on the drying rack", 20),
    "sitting_h": ("Hours at the bench on one day", 4.0),
}
HELD_ORDER: Final = (
    "cup", "asked", "size_mm", "outline", "sides", "support", "poured", "from_size", "technique", "dwell", "tilt", "torch",
    "heat_after", "medium", "ratio", "water", "grade", "alcohol", "strength", "craze", "shimmer_parts", "drops", "silicone",
    "silicone_in", "finish", "film", "base_plan", "base", "base_sheen", "base_m", "base_water", "activator", "activator_kg",
    "rest", "loss", "reserve", "strip", "room", "damp", "have_panels", "rack_slots", "sitting_h",
)  # fmt: skip
PART_OF_FIELD: Final = {
    "technique": "technique", "medium": "medium", "medium_parts": "ratio", "water_share": "water", "film_m": "film",
    "silicone_drops_per_100g": "drops", "alcohol_share": "alcohol", "alcohol_strength": "strength", "anti_craze_share": "craze",
    "shimmer_parts": "shimmer_parts", "silicone": "silicone", "silicone_colours": "silicone_in", "finish": "finish",
    "base_plan": "base_plan", "base_sheen": "base_sheen", "base_m": "base_m", "base_water_share": "base_water",
    "activator": "activator", "torch_passes": "torch", "heat_after_s": "heat_after", "rest_s": "rest", "grade": "grade",
    "panel": "size_mm",
}  # fmt: skip


class AskPresenter:
    """What the series asks, and what choosing a part does."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.stage = "Rack"
        self.trouble: tuple[str, str, str] | None = None
        """Part, what was typed, and why it could not be taken: what was entered is never lost."""
        self._histories: dict[str, History] = {}
        self._paces: tuple[int, tuple[day_plan.Pace, ...]] | None = None

    # ------------------------------------------------------------ what is so

    def view(self) -> AskView:
        run = self.desk.run()
        if run is None:
            return AskView(
                empty=True, one_key="Start a question", margin=(Remark("Honest margin", "Start a question and this margin starts talking."),)
            )
        s, units = run.series, units_of(self.desk)
        recipes = arms(s)
        drawn = s.seed is not None
        shelf = self.desk.shelf()
        known = self.desk.learned.scatter(s.responses[0][0])
        confounds = run.once(("confounds",), lambda: self.confounds(s, recipes))
        demand = run.once(("demand",), lambda: planning.demand(s, shelf))
        begun = bool(run.steps or run.weighings)
        head, columns, rows = rack(s, recipes, {m.key: m for m in shelf}, units)
        plan = self._day_plan(run, recipes)
        have = int(self.have("have_panels"))
        history = self._history(s)
        stages = ("Rack", "Amounts", "Days", "Looks", *(("Panels",) if design.paired(s) else ()))
        stage = self.stage if self.stage in stages else "Rack"
        return AskView(
            sentence=self._with_trouble(sentence.sentence(s, units)),
            columns=columns,
            column_head=head,
            column_lines=lines(s, sides(s)[0], units),
            rows=rows,
            offers=() if drawn else run.once(("offers", known, units), lambda: self._offers(s, known)),
            held=self._held(s),
            expectation=self._with_trouble(sentence.expectation(s)),
            margin=margin.remarks(s, recipes, confounds, demand, known, units, self._prices(s), have_panels=have),
            can_show=margin.can_show(s, sizes.shows(s, recipes, known), units),
            costs=margin.costs(
                s, demand, units, have_panels=have, rack=self._rack(run), days=margin.whole_days((plan.ends - plan.begins).total_seconds())
            ),
            trouble=self.trouble[2] if self.trouble else "",
            drawn=drawn,
            locked=begun,
            one_key="Lots are drawn: go to Mix" if drawn else "Draw lots",
            can_take_back=drawn and not begun,
            can_undo=bool(history.done) and not drawn,
            can_redo=bool(history.undone) and not drawn,
            stages=stages,
            stage=stage,
            bottles=sheets.bottles(demand, units) if stage == "Amounts" else (),
            days=sheets.days(plan, rack_slots=int(self.have("rack_slots")), sitting_h=self.have("sitting_h")) if stage == "Days" else Days(),
            checks=sheets.checks(s, self.goals(), units) if stage == "Looks" else Checks(),
            sheet=sheets.sheet(s, units) if stage == "Panels" else Sheet(),
        )

    def confounds(self, s: Series, recipes: tuple[Arm, ...]) -> tuple[Confound, ...]:
        """What moves along with what is tested."""
        return confounding.confounds(s, recipes)

    def demand(self) -> list[Demand]:
        """What the series takes from the shelf."""
        return planning.demand(self.desk.need_run().series, self.desk.shelf())

    def goals(self) -> list[Goal]:
        return self.desk.notebook.all(Goal)

    def have(self, what: str) -> float:
        """A number of what the studio has: panels, places, hours."""
        told = self.desk.notebook.setting(what, STUDIO[what][1])
        return float(told) if isinstance(told, (int, float)) and 0.0 <= told < 10_000.0 else float(STUDIO[what][1])

    def _prices(self, s: Series) -> dict[str, float]:
        return dict(s.prices or planning.prices_per_kg(self.desk.shelf()))

    def _with_trouble(self, said: tuple[str | Part, ...]) -> tuple[str | Part, ...]:
        """Put what was typed and refused back into its part."""
        if self.trouble is None:
            return said
        part, typed, why = self.trouble
        return tuple(replace(p, trouble=why, typed=typed if p.typed else "") if isinstance(p, Part) and p.id == part else p for p in said)

    def _offers(self, s: Series, known: Any) -> tuple[Offered, ...]:
        first = s.responses[0][0]
        made: list[Offered] = []
        before: Series | None = None
        for i, offer in enumerate(sizes.offers(s, known)):
            shown = f"shows {margin.amount(first, offer.shows, units_of(self.desk))}" if offer.shows is not None else "shows: not known yet"
            same = before == offer.series
            now = not same and offer.series.layout == s.layout and offer.series.repeats == s.repeats
            words_ = f"the same as {i}" if same else f"{shown}. {offer.parts.capitalize()}."
            made.append(Offered(i + 1, str(offer.size).capitalize(), count_text(offer.panels, "panel"), words_, now))
            before = offer.series
        return tuple(made)

    def _held(self, s: Series) -> str:
        c, units = s.constants, units_of(self.desk)
        tested = {v.factor for v in s.varied}
        shape = "round " if c.outline is Outline.ROUND else ""
        said = [
            f"{units.mass_text(c.poured_kg)} a panel",
            f"{units.size_text(c.panel_width_m * 1e3, c.panel_height_m * 1e3)} {shape}{c.support}",
        ]
        if Factor.TECHNIQUE not in tested:
            said.append(f"{c.technique}, {c.dwell_s:.0f} s rest, tilt {c.tilt_s:.0f} s")
        if Factor.RATIO not in tested:
            said.append(f"1 paint : {c.medium_parts:g} {c.medium if Factor.MEDIUM not in tested else 'medium'}")
        if Factor.WATER_SHARE not in tested and not c.grade:
            said.append(f"{percent(c.water_share)} {c.third_liquid if Factor.THIRD_LIQUID not in tested else 'third liquid'}")
        if Factor.SILICONE not in tested:
            said.append("no silicone" if not c.silicone_drops_per_100g else f"{c.silicone_drops_per_100g:g} drops of {c.silicone}")
        if c.base_plan is not BasePlan.NONE and Factor.BASE not in tested:
            said.append(f"{c.base_plan} of {c.base}")
        if c.activator != "none" and Factor.ACTIVATOR not in tested:
            said.append(f"{units.mass_text(c.activator_kg)} {c.activator}")
        if Factor.HEAT not in tested:
            said.append(f"torch {c.torch_passes} times" if c.torch_passes else "no flame")
        said.append(f"room {units.temperature_text(c.room_c)}, {percent(c.room_rh)} damp")
        return "; ".join(said) + "."

    # ------------------------------------------------------------ days

    def _rack(self, run: Run) -> tuple[int, int]:
        """Places there are, and those that panels of other series dry on."""
        now = self.desk.now()
        taken = 0
        for s in self.desk.all_series():
            if s.id != run.series.id and s.seed is not None:
                other = self.desk.load(s.id)
                taken += len({p.sheet or p.id for p in other.panels if other.station(p, now) is Station.DRY})
        return int(self.have("rack_slots")), taken

    def _own_paces(self) -> tuple[day_plan.Pace, ...]:
        book = self.desk.notebook
        weighings, steps = book.all(Weighing), book.all(StepMark)
        key = len(weighings) + len(steps)
        if self._paces is None or self._paces[0] != key:
            self._paces = key, day_plan.paces(book.all(Mix), weighings, steps)
        return self._paces[1]

    def _day_plan(self, run: Run, recipes: tuple[Arm, ...]) -> day_plan.DayPlan:
        slots, taken = self._rack(run)
        morning = self.desk.now().replace(hour=9, minute=0, second=0, microsecond=0)
        pace, sitting_s = self._own_paces(), self.have("sitting_h") * 3600.0

        def laid_out() -> day_plan.DayPlan:
            numbers = iter(range(100_000))
            cups = len(planning.mixes(run.series, lambda: str(next(numbers))))
            return day_plan.plan(
                run.series, recipes, cups, pace=pace, sitting_s=sitting_s, rack_slots=slots, rack_taken=taken, begins=morning
            )  # fmt: skip

        return run.once(("days", slots, taken, morning, pace, sitting_s), laid_out)

    # ------------------------------------------------------------ what choosing does

    def choose(self, part: str, value: str) -> None:
        """Choose or type a part of the sentence; what cannot be is said, kept as typed, and changes nothing."""
        run = self.desk.need_run()
        s = run.series
        if part in STUDIO:
            self._put_studio(part, value)
            return
        if part == "goal" or part.startswith("range:"):
            self._goal(part, value)
            return
        if part not in ("expect", "size", "name") and s.seed is not None:
            raise DribbetError("Lots are drawn, so the question stands. Take the lots back to change it, or start a new series.")
        if part in ("expect", "size") and s.prediction and s.prediction.locked_at is not None:
            raise DribbetError("The prediction was locked at the first pour. It stands.")
        try:
            changed = sentence.changed(s, part, value, units_of(self.desk), self.desk.shelf())
            arms(changed)  # refuses what cannot be mixed before it is kept
            if design.paired(changed):
                design.panels(changed, lambda: "")
        except DribbetError as error:
            self.trouble = part, value, str(error)
            raise
        self._keep(s, changed)

    def _keep(self, before: Series, after: Series) -> None:
        """Keep a change of the plan, so that it can be taken back."""
        self.trouble = None
        if after == before:
            return
        self._history(before).changed(before)
        self.desk.notebook.replace(self._with_own_figures(after))
        self.desk.changed()

    def _with_own_figures(self, s: Series) -> Series:
        """The plan with what the person's own checks say of flow; kept in it, so that it stays what it was when more is learned."""
        return replace(s, constants=replace(s.constants, own_pa_s=self.desk.learned.own_figures(s))) if s.seed is None else s

    def _history(self, s: Series) -> History:
        return self._histories.setdefault(s.id, History())

    def undo(self) -> None:
        """Take the last change of the plan back."""
        self._step(back=True)

    def redo(self) -> None:
        """Do again what was taken back."""
        self._step(back=False)

    def _step(self, *, back: bool) -> None:
        s = self.desk.need_run().series
        if s.seed is not None:
            raise DribbetError("Lots are drawn, so the plan stands. Take the lots back first.")
        history = self._history(s)
        then = history.back(s) if back else history.forth(s)
        if then is None:
            raise DribbetError("There is nothing to take back." if back else "Nothing was taken back.")
        self.trouble = None
        self.desk.notebook.replace(then)
        self.desk.changed()

    def _plan(self) -> Series:
        s = self.desk.need_run().series
        if s.seed is not None:
            raise DribbetError("Lots are drawn, so the question stands. Take the lots back to change it, or start a new series.")
        return s

    def add_repeat(self, by: int) -> None:
        """One repeat more or fewer."""
        self.choose("repeats", str(min(max(self.desk.need_run().series.repeats + by, 1), 12)))

    def take_size(self, digit: int) -> bool:
        """Take one of the three sizes; False where there is none."""
        s = self.desk.need_run().series
        if s.seed is not None:
            return False
        found = sizes.offers(s, self.desk.learned.scatter(s.responses[0][0]))
        if not 1 <= digit <= len(found):
            return False
        self._keep(s, found[digit - 1].series)
        return True

    def separate(self) -> None:
        """Add the fewest panels that separate what is mixed up."""
        s = self._plan()
        found = margin.first_separable(self.confounds(s, arms(s)))
        if found is None:
            raise DribbetError("Nothing is mixed up that a few more panels would separate.")
        changed = replace(s, layout=replace(s.layout, extras=(*s.layout.extras, *found.extras)))
        arms(changed)
        self._keep(s, changed)

    def add_control(self) -> None:
        """Add a recipe without what is tested."""
        s = self._plan()
        if not control.missing(s):
            raise DribbetError("Every effect has a recipe to stand against.")
        changed = control.with_control(s)
        arms(changed)
        self._keep(s, changed)

    def insist(self) -> None:
        """Go without a control, on record."""
        s = self._plan()
        if not any(not m.insisted for m in control.missing(s)):
            raise DribbetError("There is nothing to insist on.")
        self._keep(s, control.insist(s, self.desk.now()))

    # ------------------------------------------------------------ looks and goal

    def toggle_time(self, response: str, time: str) -> None:
        """Judge a response at a time, or no longer."""
        s = self.desk.need_run().series
        if s.state != "planned" and self.desk.need_run().looks:
            raise DribbetError("Looks were made already, so their times stand.")
        named = [name for name, _ in sheets.TIMES_H]
        now = {j.response: set(j.times) for j in s.protocol}
        usual = set(named[:5])
        table = {r: now.get(r, usual if not s.protocol else {"dry"}) for r, _ in s.responses}
        table[Response(response)] ^= {time}
        if not table[Response(response)]:
            raise DribbetError(f"{response.capitalize()} would never be judged. Leave it one look, or do not ask it.")
        protocol = tuple(Judging(response=r, times=tuple(n for n in named if n in times)) for r, times in table.items())
        self._keep(s, replace(s, protocol=protocol))

    def _goal(self, part: str, value: str) -> None:
        s = self.desk.need_run().series
        book = self.desk.notebook
        if part == "goal":
            if value == "new":
                aims = tuple(Aim(response=r, weight=1.0) for r, _ in s.responses)
                goal = Goal(id=new_id(), name=f"Goal {len(self.goals()) + 1}: {s.responses[0][0]} {s.responses[0][1]}", aims=aims)
                with book.transaction():
                    book.add(goal)
                    book.replace(replace(s, goal_id=goal.id))
            else:
                book.replace(replace(s, goal_id=value or None))
            self.desk.changed()
            return
        goal = self._own_goal(s)
        response = Response(part.partition(":")[2])
        low, high = self._range(value)
        aims = tuple(replace(a, low=low, high=high) if a.response is response else a for a in goal.aims)
        book.replace(replace(goal, aims=aims))
        self.desk.changed()

    def _own_goal(self, s: Series) -> Goal:
        goal = next((g for g in self.goals() if g.id == s.goal_id), None)
        if goal is None:
            self._goal("goal", "new")
            goal = self.goals()[-1]
        missing = [r for r, _ in s.responses if r not in {a.response for a in goal.aims}]
        return replace(goal, aims=(*goal.aims, *(Aim(response=r, weight=1.0) for r in missing)))

    def _range(self, text: str) -> tuple[float | None, float | None]:
        found = text.lower().replace("any", "").replace("to", " ").replace(",", ".").split()
        if not found:
            return None, None
        try:
            figures = [figure(v) for v in found if v.replace(".", "").lstrip("-").isdigit()]
            low, high = figures[0], figures[1]
        except (ValueError, IndexError):
            raise DribbetError(f"“{text}” is no range. Type from and to, such as 5 to 40, or nothing for any.") from None
        return low, high

    def weigh(self, response: str) -> None:
        """Let a response count more in the goal: 0, 1, 2, 3 and round again."""
        s = self.desk.need_run().series
        goal = self._own_goal(s)
        kind = Response(response)
        aims = tuple(replace(a, weight=float((round(a.weight) + 1) % 4)) if a.response is kind else a for a in goal.aims)
        self.desk.notebook.replace(replace(goal, aims=aims))
        self.desk.changed()

    def _put_studio(self, part: str, value: str) -> None:
        try:
            number = figure(value.split()[0])
        except (ValueError, IndexError):
            self.trouble = part, value, f"“{value}” is no number. Type a figure for: {STUDIO[part][0].lower()}."
            raise DribbetError(self.trouble[2]) from None
        if not 0.0 < number < 10_000.0:
            raise DribbetError(f"{number:g} is out of reach for: {STUDIO[part][0].lower()}.")
        self.trouble = None
        self.desk.notebook.put_setting(part, number)
        self.desk.changed()

    # ------------------------------------------------------------ what is held

    def held_list(self) -> Part:
        """Everything that is held, each as a choice that opens it."""
        s = self.desk.need_run().series
        left_out = {PART_OF_FIELD.get(NATURES[v.factor].field) for v in s.varied}
        c = s.constants
        silicone = c.silicone_drops_per_100g or s.varies(Factor.SILICONE)
        if not silicone:
            left_out |= {"silicone_in", "silicone"}
        if c.base_plan is BasePlan.NONE:
            left_out |= {"base", "base_sheen", "base_m", "base_water"}
        if c.activator == "none" and not s.varies(Factor.ACTIVATOR):
            left_out.add("activator_kg")
        if not c.alcohol_share and not s.varies(Factor.ALCOHOL):
            left_out.add("strength")
        if s.layout.design is not Design.PAIRED:
            left_out.add("strip")
        parts = [p for p in HELD_ORDER if p not in left_out]
        return Part("held", "", tuple((p, self._held_words(s, p)) for p in parts))

    def _held_words(self, s: Series, part: str) -> str:
        if part in STUDIO:
            return f"{STUDIO[part][0]}: {self.have(part):g}"
        return held.words_of(s, part, units_of(self.desk))

    def held_part(self, part: str) -> Part:
        """One constant, to be chosen or typed."""
        s = self.desk.need_run().series
        choices: dict[str, tuple[str, ...]] = {
            "technique": tuple(Technique),
            "base_plan": tuple(BasePlan),
            "outline": tuple(Outline),
            "medium": tuple(m.key for m in self.desk.shelf() if m.kind is Kind.MEDIUM),
        }
        if part in choices:
            return Part(part, str(getattr(s.constants, part)), tuple((str(c), str(c)) for c in choices[part]))
        if part == "from_size":
            return Part(part, "", (("", "Yes, work it out from size, sides, technique and base"),))
        shown = self._held_words(s, part)
        typed = f"{self.have(part):g}" if part in STUDIO else held.typed_of(s, part, units_of(self.desk))
        made = Part(part, shown, typed=typed, hint=shown.partition(":")[0])
        if self.trouble is not None and self.trouble[0] == part:
            return replace(made, typed=self.trouble[1], trouble=self.trouble[2])
        return made

    # ------------------------------------------------------------ more

    def more_list(self) -> Part:
        """Everything else that can be done with a plan, each with its key."""
        s = self.desk.need_run().series
        drawn = s.seed is not None
        made: list[tuple[str, str]] = [("name", f"Rename {s.name}")]
        if not drawn:
            made += [("more repeats", "R  Add a repeat"), ("fewer repeats", "T  One repeat fewer")]
            made.append(("templates", "P  Kinds of test, filled with your last materials"))
        made += [("again", "O  Repeat with one change"), ("mend", "F  Mend this test in a new series")]
        if not drawn:
            if margin.first_separable(self.confounds(s, arms(s))) is not None:
                made.append(("separate", "X  Add the panels that separate what is mixed up"))
            if s.layout.extras:
                made.append(("plain", "Leave the added panels out again"))
            if any(not m.insisted for m in control.missing(s)):
                made += [("control", "C  Add a recipe without it"), ("insist", "I  Go without a control, on record")]
        made += [("sheet", "L  Run sheet and panel labels as PDF"), ("shopping", "Shopping list as text")]
        if not drawn and self._history(s).done:
            made.append(("undo", "Z  Take the last change back"))
        if not drawn and self._history(s).undone:
            made.append(("redo", "Y  Do it again"))
        return Part("more", "", tuple(made))

    def template_list(self) -> Part:
        """Kinds of test."""
        return Part("template", "", tuple((t.key, t.words) for t in templates.TEMPLATES))

    def take_template(self, key: str) -> None:
        """Fill this series with a kind of test and the last materials."""
        s = self._plan()
        template = next(t for t in templates.TEMPLATES if t.key == key)
        poured = [old for old in self.desk.all_series() if old.seed is not None and old.id != s.id]
        last = max(poured, key=lambda old: old.created_at, default=s)  # what was poured last, not what an earlier template left
        made = templates.filled(template, replace(s, constants=last.constants, layers=last.layers), self.desk.shelf())
        arms(made)
        self._keep(s, made)

    def again_list(self, series_id: str = "") -> Part:
        """Earlier series, the one in hand first; of a chosen one its recipes, each of which can be repeated with one change."""
        if series_id:
            old = self.desk.load(series_id)
            code = old.series.code
            return Part("source", "", tuple((f"{series_id}/{a.letter}", f"{code}-{a.letter}  {self._recipe_words(old.series, a)}") for a in old.arms))
        known = sorted(self.desk.all_series(), key=lambda s: (s.id != self.desk.series_id, -s.created_at.timestamp()))
        return Part("earlier", "", tuple((s.id, f"{s.name}: {s.varied[0].words}") for s in known[:24]))

    def _recipe_words(self, s: Series, arm: Arm) -> str:
        return ", ".join(
            words.level_text(v.factor, v.levels[n], units_of(self.desk)) if n >= 0 else "halfway" for v, n in zip(s.varied, arm.settings, strict=True)
        )

    def change_list(self, source: str) -> Part:
        """What may change in the repetition."""
        return Part(f"change:{source}", "", tuple((f.value, str(f)) for f in Factor if f is not Factor.OWN))

    def repeat_with(self, source: str, factor_value: str) -> None:
        """Start a new series like an earlier recipe, with one thing at two levels: as it was, and another."""
        series_id, _, letter = source.partition("/")
        old = self.desk.load(series_id)
        arm = next((a for a in old.arms if a.letter == letter), None)
        factor = Factor(factor_value)
        names = sentence.names_on(self.desk.shelf(), old.series)
        changed = words.fresh(factor, names)
        made = templates.one_change(old.series, arm.settings if arm and arm.extra is None else None, changed)
        self._start(replace(made, repeats=max(made.repeats, 2)), f"Like {old.series.code}{'-' + letter if letter else ''}, with another {factor}.")

    def mend(self) -> tuple[str, ...]:
        """Start the follow-up of this series with what was not equal made so; returns what was mended."""
        s = self.desk.need_run().series
        made, said = templates.mended(s)
        self._start(made, f"Mends {s.name}: {' '.join(said)}")
        return said

    def _start(self, like: Series, note: str) -> None:
        known = self.desk.all_series()
        name, code = self._fresh_name([s.name for s in known], {s.code for s in known}, like.name)
        fresh = replace(
            like, id=new_id(), name=name, code=code, seed=None, state=type(like.state).PLANNED, verdict="", prediction=None, insisted=(),
            created_at=self.desk.now(), note=note,
        )  # fmt: skip
        arms(fresh)
        self.desk.notebook.add(fresh)
        self.desk.choose_series(fresh.id)

    def leave_extras_out(self) -> None:
        """Take the added recipes out of the plan."""
        s = self._plan()
        self._keep(s, replace(s, layout=replace(s.layout, extras=())))

    # ------------------------------------------------------------ lots

    def draw_lots(self) -> None:
        """Fix the design: seed, panels with codes and places, cups to mix."""
        run = self.desk.need_run()
        if run.series.seed is not None:
            raise DribbetError("Lots are drawn already.")
        lacking = [m for m in control.missing(run.series) if not m.insisted]
        if lacking:
            raise DribbetError(
                f"No recipe goes without {lacking[0].words}, so its effect would have nothing to stand against. "
                f"C adds one, poured in the same sitting; I goes without, on record."
            )
        series = replace(run.series, seed=secrets.randbelow(2**31))
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(series)
            cups = planning.mixes(series, new_id)
            density = {m.key: m.density_kg_m3 for m in self.desk.shelf()}
            cups += planning.side_mixes(series, new_id, len(cups) + 1, lambda name: density.get(name, planning.BASE_KG_M3))
            self.desk.notebook.add(*design.panels(series, new_id), *cups)
        self.desk.changed()

    def take_back_lots(self) -> None:
        """Undo the draw while nothing was weighed or poured."""
        run = self.desk.need_run()
        if run.series.seed is None:
            raise DribbetError("There is nothing to take back.")
        if run.weighings or run.steps or run.panel_weighings or run.photos or run.checks or run.looks:
            raise DribbetError("Work on these lots has begun, so they stand. Start a new series to ask something else.")
        if any(w.mix_id in {m.id for m in run.mixes} for w in self.desk.notebook.all(Weighing)):
            raise DribbetError("Weighings of these lots are in the ledger, so they stand. Start a new series to ask something else.")
        with self.desk.notebook.transaction():
            self.desk.notebook.remove_plan(run.series.id)
            self.desk.notebook.replace(replace(run.series, seed=None))
        self.desk.changed()

    # ------------------------------------------------------------ a new series

    def new_series(self) -> None:
        """Start a series like the last one, with a fresh name and code."""
        known = self.desk.all_series()
        last = known[-1] if known else None
        paints = planning.paints(self.desk.shelf())
        if last is None and not paints:
            self._stock_the_shelf()
            paints = planning.paints(self.desk.shelf())
        name, code = self._fresh_name([s.name for s in known], {s.code for s in known})
        layers = last.layers if last else design.default_layers(tuple(m.key for m in paints[:4]))
        medium = next((m.key for m in self.desk.shelf() if m.kind is Kind.MEDIUM), "conditioner")
        constants = last.constants if last else Constants(medium=medium)
        series = Series(
            id=new_id(),
            code=code,
            name=name,
            varied=(Varied(factor=Factor.WATER_SHARE, levels=tuple(Level(value=v) for v in (0.10, 0.16, 0.22))),),
            repeats=2,
            responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_COUNT, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
            constants=replace(constants, silicone_drops_per_100g=0.0),
            layers=layers,
            created_at=self.desk.now(),
        )
        self.desk.notebook.add(self._with_own_figures(series))
        self.desk.choose_series(series.id)

    def _fresh_name(self, names: list[str], codes: set[str], like: str = "") -> tuple[str, str]:
        last = like or (names[-1] if names else "")
        stem = last.rsplit(" ", 1)[0] if last and last.rsplit(" ", 1)[-1].isdigit() else last or NAMES[0]
        number = 1
        while f"{stem} {number:02d}" in names or f"{stem[0].upper()}{number}" in codes:
            number += 1
        return f"{stem} {number:02d}", f"{stem[0].upper()}{number}"

    def _stock_the_shelf(self) -> None:
        """A new notebook starts with plain materials; their figures are starting values to be replaced on Shelf."""
        plain = (("white", "#F2F0EA", 1350.0), ("blue", "#1F4E79", 1090.0), ("red", "#9C2F3C", 1100.0), ("black", "#1F1F1F", 1080.0))
        self.desk.notebook.add(
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

    # ------------------------------------------------------------ on paper

    def run_sheet(self) -> Callable[[Report], bytes]:
        """Run sheet and labels as they stand now; returns what draws them as PDF, to be called in a job."""
        from dribbet.bench.stations.ask.paper import run_sheet
        from dribbet.paper.run_sheet import run_sheet_pdf

        run = self.desk.need_run()
        s = run.series
        panels = run.panels or design.panels(s, new_id)
        said = "".join(p if isinstance(p, str) else p.text for p in sentence.sentence(s, units_of(self.desk)))
        expected = "".join(p if isinstance(p, str) else p.text for p in sentence.expectation(s)) if s.prediction else ""
        made = run_sheet(s, panels, self.demand(), units_of(self.desk), question=said, held=self._held(s), expected=expected, prices=self._prices(s))
        return lambda report: apart(report, run_sheet_pdf, made)

    def write_shopping(self, out: Path) -> None:
        """Write the shopping list as text."""
        self._write(out, self.shopping_list().encode())

    def _write(self, out: Path, data: bytes) -> None:
        from dribbet.notebook.whole_file import save_file

        save_file(out, data)

    def shopping_list(self) -> str:
        """What is taken and what is short, as text."""
        run = self.desk.need_run()
        units = units_of(self.desk)
        lines = [f"{run.series.name}: what it takes", ""]
        for d in self.demand():
            stock = "" if d.name == "water" else f", there is {units.stock_text(d.stock_kg)}" if d.stock_kg is not None else ", not on the shelf"
            short = f"  BUY {units.mass_text(d.short_kg)}" if d.short_kg > 1e-6 else ""
            lines.append(f"{d.name}: {units.mass_text(d.kg)}{stock}{short}")
        return "\n".join(lines).replace(NARROW, " ") + "\n"
