"""Ask: the question as a sentence with parts to choose, the rack of recipes, the honest margin, and what is planned with them. No widgets."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

from dribbet.bench.apart import apart
from dribbet.bench.stations.ask import choosing, margin, sheets
from dribbet.bench.stations.ask.rack import lines, rack, sides
from dribbet.bench.stations.ask.view import LEAVES, AskView, Checks, Days, HeldGroup, HeldView, Leaf, Offered, Sheet
from dribbet.lab.panel.progress import Station
from dribbet.lab.plan import confounding, control, day_plan, design, planning, sizes, stops, templates
from dribbet.lab.plan.design import arms
from dribbet.lab.plan.factors import NATURES
from dribbet.notebook.store import new_id
from dribbet.records import (
    NO_HEX,
    WATER,
    BasePlan,
    Design,
    Dosage,
    DribbetError,
    DropsBy,
    Equal,
    Factor,
    Mix,
    Outline,
    Report,
    Response,
    Series,
    StepMark,
    Technique,
    Weighing,
)
from dribbet.records.wording import first_up
from dribbet.studio.acts import ways
from dribbet.studio.acts.planning import Planning, PlanStopped
from dribbet.studio.standing.choosing import covered
from dribbet.studio.standing.rehearsal import Rehearsal, rehearsal
from dribbet.words import ask as ask_words
from dribbet.words import confounding as confounding_words
from dribbet.words import held, levels, question
from dribbet.words import stops as stops_words
from dribbet.words import verdict as verdict_words
from dribbet.words.parts import Part, Remark
from dribbet.words.units import NARROW, count_text, dose_text, figure, percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.confounding import Confound
    from dribbet.lab.plan.planning import Demand
    from dribbet.lab.verdict.rehearse import Rehearsed
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

PRE_TEST: Final = "pre-test"
"""Kind of test that has no panels: it is made on Shelf."""
STUDIO: Final = {  # what the studio has; kept as settings of the notebook, nothing before somebody enters it: part, words
    "have_panels": ask_words.BARE_PANELS_AT_HAND,
    "rack_slots": ask_words.PLACES_ON_THE_DRYING_RACK,
    "sitting_h": ask_words.HOURS_AT_THE_BENCH,
}
ANY_PLACES: Final = 1000  # on a rack that nobody counted
USUAL_SITTING_H: Final = 4.0  # for the day plan, until somebody says
HELD_ORDER: Final = (
    "cup", "asked", "size_mm", "outline", "sides", "support", "poured", "from_size", "technique", "dwell", "tilt", "torch", "heat_after", "grow",
    "second", "rounds", "medium", "ratio", "colour_parts", "water", "thinned", "third_liquid", "water_source", "grade", "alcohol", "strength",
    "craze", "anti_craze", "shimmer_parts", "drops", "silicone", "silicone_in", "drops_by", "finish", "film", "base_plan", "base", "base_sheen",
    "base_m", "base_water", "base_craze", "activator", "activator_kg", "rest", "loss", "reserve", "strip", "room", "damp", "have_panels",
    "rack_slots", "sitting_h",
)  # fmt: skip
HELD_GROUPS: Final = (
    ("cup", "In the cup", (
        "cup", "rounds", "ratio", "medium", "colour_parts", "water", "thinned", "third_liquid", "water_source", "grade", "alcohol", "strength",
        "craze", "anti_craze", "shimmer_parts", "drops", "silicone", "silicone_in", "drops_by", "finish", "poured", "from_size", "rest", "loss",
        "reserve",
    )),
    ("panel", "On the panel", (
        "size_mm", "outline", "sides", "support", "base_plan", "base", "base_sheen", "base_m", "base_water", "base_craze", "activator",
        "activator_kg", "strip",
    )),
    ("steps", "Step by step", ("technique", "dwell", "torch", "heat_after", "grow", "second", "tilt", "film")),
    ("room", "Room and studio", ("asked", "room", "damp", "have_panels", "rack_slots", "sitting_h")),
)  # fmt: skip
"""What is held, as it stands on the card."""
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
        self.leaf = Leaf.RACK
        self.trouble: tuple[str, str, str] | None = None
        """Part, what was typed, and why it could not be taken: what was entered is never lost."""
        self.planning = Planning(desk)
        self._paces: tuple[int, tuple[day_plan.Pace, ...]] | None = None
        self._rehearsed: tuple[Series, Rehearsal, Rehearsed] | None = None

    # ------------------------------------------------------------ what is so

    def view(self) -> AskView:
        run = self.desk.run()
        if run is None:
            return AskView(empty=True, one_key="Start a question", margin=(Remark("Honest margin", ask_words.START_A_QUESTION),))
        s, units = run.series, units_of(self.desk)
        recipes = arms(s)
        drawn = s.seed is not None
        shelf = self.desk.shelf()
        known = self.desk.learned.scatter(s.responses[0][0])
        confounds = run.once(("confounds",), lambda: self.confounds(s, recipes))
        demand = run.once(("demand",), lambda: planning.demand(s, shelf))
        begun = bool(run.steps or run.weighings)
        head, columns, rows = run.once(("rack", units), lambda: rack(s, recipes, {m.key: m for m in shelf}, units, covered=covered(run)))
        have, prices = self.have("have_panels"), self._prices(s)
        said = run.once(
            ("margin", known, units, tuple(prices.items()), have),
            lambda: margin.remarks(s, recipes, confounds, demand, known, units, prices, have_panels=have),
        )
        seen = run.once(("can show", known, units), lambda: margin.can_show(s, sizes.shows(s, recipes, known), units))
        plan = self._day_plan(run, recipes)
        leaves = (*LEAVES, *((Leaf.PANELS,) if design.paired(s) else ()))
        leaf = self.leaf if self.leaf in leaves else Leaf.RACK
        return AskView(
            sentence=self._with_trouble(question.sentence(s, units, self.desk.shelf())),
            columns=columns,
            column_head=head,
            column_lines=lines(s, sides(s)[0], units),
            rows=rows,
            offers=() if drawn else run.once(("offers", known, units), lambda: self._offers(s, known)),
            held=self._held(s),
            expectation=self._with_trouble(question.expectation(s)),
            expectation_in_short=self._with_trouble(question.expectation(s, in_short=True)),
            margin=(*said[:1], *self._played(s), *said[1:]),
            can_show=seen,
            costs=margin.costs(
                s, demand, units, have_panels=have, rack=self._rack(run), days=margin.whole_days((plan.ends - plan.begins).total_seconds())
            ),
            trouble=self.trouble[2] if self.trouble else "",
            drawn=drawn,
            locked=begun,
            one_key=ask_words.LOTS_ARE_DRAWN_GO_TO_MIX if drawn else "Draw lots",
            can_take_back=drawn and not begun,
            leaves=leaves,
            leaf=leaf,
            bottles=sheets.bottles(demand, units) if leaf is Leaf.AMOUNTS else (),
            days=sheets.days(
                plan, rack_slots=self.have("rack_slots"), rack_taken=self._rack(run)[1], sitting_h=self.have("sitting_h") or USUAL_SITTING_H
            )
            if leaf is Leaf.DAYS
            else Days(),
            checks=sheets.checks(s, self.planning.goals(), units, self.desk.rules.looks) if leaf is Leaf.LOOKS else Checks(),
            sheet=sheets.sheet(s, units) if leaf is Leaf.PANELS else Sheet(),
            card=self._card(s) if leaf is Leaf.HELD else HeldView(),
        )

    def rehearsal(self) -> Rehearsal:
        """What is played through for the plan as it stands.

        Raises
        ------
        DribbetError
            If nothing is known to play it with.
        """
        found = rehearsal(self.desk, self.desk.need_run().series)
        if found is None:
            raise DribbetError(verdict_words.NOT_REHEARSED)
        return found

    def keep_rehearsal(self, series: Series, played: Rehearsal, out: Rehearsed) -> None:
        """Remember what came out, for as long as the plan stands."""
        self._rehearsed = (series, played, out)
        self.desk.changed()

    def _played(self, s: Series) -> tuple[Remark, ...]:
        if self._rehearsed is None or self._rehearsed[0] != s:
            return ()
        _, played, out = self._rehearsed
        effect = margin.amount(played.response, played.size, units_of(self.desk))
        return (Remark(verdict_words.REHEARSED, verdict_words.rehearsed(out, effect, str(played.response))),)

    def confounds(self, s: Series, recipes: tuple[Arm, ...]) -> tuple[Confound, ...]:
        """What moves along with what is tested."""
        return confounding.confounds(s, recipes)

    def demand(self) -> list[Demand]:
        """What the series takes from the shelf."""
        return planning.demand(self.desk.need_run().series, self.desk.shelf())

    def have(self, what: str) -> float | None:
        """A number of what the studio has: panels, places, hours; None where nobody entered it."""
        told = self.desk.notebook.setting(what)
        return float(told) if isinstance(told, (int, float)) and 0.0 <= told < 10_000.0 else None

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
            if offer.shows is not None:
                shown = ask_words.OFFER_SHOWS(amount=margin.amount(first, offer.shows, units_of(self.desk)))
            else:
                shown = ask_words.OFFER_NOT_KNOWN if known is None or first is Response.FIRST_CRACK else ask_words.OFFER_SHOWS_NONE
            same = before == offer.series
            now = not same and offer.series.layout == s.layout and offer.series.repeats == s.repeats
            words_ = f"the same as {i}" if same else f"{shown}. {first_up(offer.parts)}."
            made.append(Offered(i + 1, first_up(str(offer.size)), count_text(offer.panels, "panel"), words_, now))
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
            said.append(ask_words.DOING_IN_SHORT(technique=c.technique, rest_s=c.dwell_s, tilt_s=c.tilt_s))
        if s.equal is Equal.OWN:
            said.append("recipes as on the rack")
        else:
            if Factor.RATIO not in tested:
                said.append(f"1 paint : {c.medium_parts:.3g} {units.called(c.medium) if Factor.MEDIUM not in tested else 'medium'}")
            if Factor.WATER_SHARE not in tested and not c.grade:
                said.append(f"{percent(c.water_share)} {c.third_liquid if Factor.THIRD_LIQUID not in tested else 'third liquid'}")
        if Factor.SILICONE not in tested:
            said.append(dose_text(c.silicone_drops_per_100g, c.drop_kg, units.called(c.silicone)) if c.silicone_drops_per_100g else "no silicone")
        if c.base_plan is not BasePlan.NONE and Factor.BASE not in tested:
            tested_base = bool(tested & {Factor.BASE_PAINT, Factor.BASE_SHEEN})
            said.append(str(c.base_plan) if tested_base else f"{c.base_plan} of {units.called(c.base)}")
        if c.activator != "none" and Factor.ACTIVATOR not in tested:
            said.append(f"{units.mass_text(c.activator_kg)} {c.activator}")
        if Factor.HEAT not in tested:
            said.append(f"torch {c.torch_passes} times" if c.torch_passes else "no flame")
        said.append(f"room {units.temperature_text(c.room_c)}, {percent(c.room_rh)} damp")
        return "; ".join(said) + "."

    # ------------------------------------------------------------ days

    def _rack(self, run: Run) -> tuple[float | None, int]:
        """Places there are, and those that panels of other series dry on."""
        now = self.desk.now()
        taken = 0
        for s in self.desk.all_series():
            if s.id != run.series.id and s.seed is not None:
                other = self.desk.load(s.id)
                taken += len({p.sheet or p.id for p in other.panels if other.station(p, now) is Station.DRY})
        return self.have("rack_slots"), taken

    def _own_paces(self) -> tuple[day_plan.Pace, ...]:
        book = self.desk.notebook
        weighings, steps = book.all(Weighing), book.all(StepMark)
        key = len(weighings) + len(steps)
        if self._paces is None or self._paces[0] != key:
            self._paces = key, day_plan.paces(book.all(Mix), weighings, steps)
        return self._paces[1]

    def _day_plan(self, run: Run, recipes: tuple[Arm, ...]) -> day_plan.DayPlan:
        places, taken = self._rack(run)
        slots = round(places) if places is not None else ANY_PLACES
        morning = self.desk.now().replace(hour=9, minute=0, second=0, microsecond=0)
        pace, sitting_s = self._own_paces(), (self.have("sitting_h") or USUAL_SITTING_H) * 3600.0

        def laid_out() -> day_plan.DayPlan:
            numbers = iter(range(100_000))
            cups = len(planning.mixes(run.series, lambda: str(next(numbers))))
            return day_plan.plan(
                run.series, recipes, cups, pace=pace, sitting_s=sitting_s, rack_slots=slots, rack_taken=taken, begins=morning,
                waking=run.waking,
            )  # fmt: skip

        return run.once(("days", slots, taken, morning, pace, sitting_s), laid_out)

    # ------------------------------------------------------------ what choosing does

    def choose(self, part: str, value: str) -> None:
        """Choose or type a part of the sentence; what cannot be is said, kept as typed, and changes nothing."""
        s = self.desk.need_run().series
        if part in STUDIO:
            self._put_studio(part, value)
            return
        if part == "goal" or part.startswith("range:"):
            self._goal(part, value)
            return
        if part not in ("expect", "size", "name"):
            self.planning.open_plan()
        if part in ("expect", "size") and s.prediction and s.prediction.locked_at is not None:
            raise DribbetError(ask_words.PREDICTION_LOCKED)
        try:
            self.planning.keep(s, ways.kept(choosing.changed(ways.offered(self.desk, s), part, value, units_of(self.desk), self.desk.shelf())))
        except DribbetError as error:
            self.trouble = part, value, str(error)
            raise
        self.trouble = None

    def undo(self) -> None:
        """Take the last change of the plan back."""
        self.trouble = None
        self.planning.undo()

    def redo(self) -> None:
        """Do again what was taken back."""
        self.trouble = None
        self.planning.redo()

    def add_repeat(self, by: int) -> None:
        """One repeat more or fewer."""
        self.choose("repeats", str(min(max(self.desk.need_run().series.repeats + by, 1), 12)))

    def take_size(self, digit: int) -> bool:
        """Take one of the three sizes; False where there is none."""
        return self.planning.take_size(digit)

    # ------------------------------------------------------------ looks and goal

    def toggle_time(self, response: str, time: str) -> None:
        """Judge a response at a time, or no longer."""
        self.planning.toggle_time(Response(response), time, sheets.named_times(self.desk.need_run().series, self.desk.rules.looks))

    def _goal(self, part: str, value: str) -> None:
        if part == "goal":
            self.planning.new_goal() if value == "new" else self.planning.choose_goal(value or None)
            return
        self.planning.aim(Response(part.partition(":")[2]), *self._range(value))

    def _range(self, text: str) -> tuple[float | None, float | None]:
        found = text.lower().replace("any", "").replace("to", " ").replace(",", ".").split()
        if not found:
            return None, None
        try:
            figures = [figure(v) for v in found if v.replace(".", "").lstrip("-").isdigit()]
            low, high = figures[0], figures[1]
        except (ValueError, IndexError):
            raise DribbetError(ask_words.NO_RANGE(text=text)) from None
        return low, high

    def weigh(self, response: str) -> None:
        """Let a response count more in the goal: 0, 1, 2, 3 and round again."""
        self.planning.weigh(Response(response))

    def _put_studio(self, part: str, value: str) -> None:
        try:
            number = figure(value.split()[0])
        except (ValueError, IndexError):
            self.trouble = part, value, ask_words.NO_NUMBER(text=value, what=STUDIO[part].lower())
            raise DribbetError(self.trouble[2]) from None
        if not 0.0 < number < 10_000.0:
            raise DribbetError(ask_words.OUT_OF_REACH(number=number, what=STUDIO[part].lower()))
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
            left_out |= {"silicone_in", "silicone", "drops_by"}
        if c.base_plan is BasePlan.NONE:
            left_out |= {"base", "base_sheen", "base_m", "base_water", "base_craze"}
        if c.activator == "none" and not s.varies(Factor.ACTIVATOR):
            left_out.add("activator_kg")
        if not c.alcohol_share and not s.varies(Factor.ALCOHOL):
            left_out.add("strength")
        if s.layout.design is not Design.PAIRED:
            left_out.add("strip")
        varied = {(NATURES[v.factor].doing) for v in s.varied}
        steps = [
            p for p in held.doing_parts(c) if tuple(p.removeprefix(held.DOING).split("/")) not in {(d[0].value, d[1].value) for d in varied if d}
        ]
        parts = [*(p for p in HELD_ORDER if p not in left_out), *steps]
        return Part("held", "", tuple((p, ": ".join(self._held_said(s, p))) for p in parts))

    def _card(self, s: Series) -> HeldView:
        """What is held, each figure at its place."""
        there = dict.fromkeys(part for part, _ in self.held_list().choices)
        shelf = {m.key: m for m in self.desk.shelf()}
        groups = []
        for kind, head, names in HELD_GROUPS:
            rows = []
            own = [p for p in there if p.startswith(held.DOING)] if kind == "steps" else []
            for name in (*(n for n in names if n in there), *own):
                label, value = self._held_said(s, name)
                if name == "from_size":
                    label, value = ask_words.FROM_THE_PANELS_SIZE, "work it out"
                part = self.held_part(name)
                rows.append((label, replace(part, text=value)))
            if rows:
                groups.append(HeldGroup(kind, head, tuple(rows)))
        c = s.constants
        units = units_of(self.desk)
        return HeldView(
            groups=tuple(groups),
            layers=tuple((shelf[layer.material].hex if layer.material in shelf else NO_HEX, layer.share) for layer in s.layers),
            panel_mm=(c.panel_width_m * 1e3, c.panel_height_m * 1e3),
            round=c.outline is Outline.ROUND,
            has_base=c.base_plan is not BasePlan.NONE,
            room=units.temperature_text(c.room_c),
            fixed=s.seed is not None,
        )

    def _held_said(self, s: Series, part: str) -> tuple[str, str]:
        if part in STUDIO:
            told = self.have(part)
            return STUDIO[part], "not entered" if told is None else f"{told:g}"
        return held.said_of(s, part, units_of(self.desk))

    def held_part(self, part: str) -> Part:
        """One constant, to be chosen or typed."""
        s = self.desk.need_run().series
        names = question.names_on(self.desk.shelf(), s)
        choices: dict[str, tuple[str, ...]] = {
            "technique": (*Technique, *(w.name for w in ways.own(self.desk))),
            "base_plan": tuple(BasePlan),
            "outline": tuple(Outline),
            "drops_by": tuple(DropsBy),
            "thinned": tuple(Dosage),
            "medium": names.mediums,
            "base": names.bases or (s.constants.base,),
            "third_liquid": names.of(Factor.THIRD_LIQUID),
        }
        if part in choices:
            called = units_of(self.desk).called
            now = s.constants.way if part == "technique" and s.constants.way else str(getattr(s.constants, part))
            return Part(part, now, tuple((str(c), called(str(c))) for c in choices[part]))
        if part == "from_size":
            return Part(part, "", (("", ask_words.WORK_IT_OUT),))
        label, value = self._held_said(s, part)
        typed = f"{self.have(part) or 0.0:g}" if part in STUDIO else held.typed_of(s, part, units_of(self.desk))
        made = Part(part, f"{label}: {value}", typed=typed, hint=label)
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
            made += [("more repeats", ask_words.ADD_REPEAT_KEY), ("fewer repeats", ask_words.FEWER_REPEATS_KEY)]
            made.append(("templates", ask_words.KINDS_KEY))
        made += [("again", ask_words.REPEAT_WITH_ONE_CHANGE_KEY), ("mend", ask_words.MEND_KEY)]
        if not drawn:
            if margin.first_separable(self.confounds(s, arms(s))) is not None:
                made.append(("separate", ask_words.ADD_PANELS_KEY))
            if stops.doses(s):
                made += [("grown", ask_words.LARGER_CUP_KEY), ("diluted", ask_words.DILUTED_DROPS_KEY)]
            if s.layout.extras:
                made.append(("plain", ask_words.LEAVE_ADDED_OUT))
            if any(not m.insisted for m in control.missing(s)):
                made += [("control", ask_words.ADD_CONTROL_KEY), ("insist", ask_words.NO_CONTROL_KEY)]
        made += [("turning", ask_words.SEE_IT_TURN_OVER)]
        made += [("sheet", ask_words.RUN_SHEET_KEY), ("shopping", ask_words.SHOPPING_LIST_AS_TEXT)]
        if not drawn and self.planning.history(s).done:
            made.append(("undo", ask_words.TAKE_BACK_KEY))
        if not drawn and self.planning.history(s).undone:
            made.append(("redo", ask_words.DO_AGAIN_KEY))
        return Part("more", "", tuple(made))

    def template_list(self) -> Part:
        """Kinds of test."""
        kinds = tuple((t.key, t.words) for t in templates.TEMPLATES)
        return Part("template", "", (*kinds, (PRE_TEST, ask_words.A_SET_OF_COLOURS_WITHOUT_PANELS)))

    def again_list(self, series_id: str = "") -> Part:
        """Earlier series, the one in hand first; of a chosen one its recipes, each of which can be repeated with one change."""
        if series_id:
            old = self.desk.load(series_id)
            code = old.series.code
            return Part(
                "source",
                "",
                tuple((f"{series_id}/{a.letter}", f"{code}-{a.letter}  {levels.recipe_text(old.series, a, units_of(self.desk))}") for a in old.arms),
            )
        known = sorted(self.desk.all_series(), key=lambda s: (s.id != self.desk.series_id, -s.created_at.timestamp()))
        return Part("earlier", "", tuple((s.id, f"{s.name}: {s.varied[0].words}") for s in known[:24]))

    def change_list(self, source: str) -> Part:
        """What may change in the repetition."""
        return Part(f"change:{source}", "", tuple((f.value, str(f)) for f in Factor if f not in (Factor.OWN, Factor.ADDED)))

    def repeat_with(self, source: str, factor_value: str) -> None:
        """Start a new series like an earlier recipe, with one thing at two levels: as it was, and another."""
        series_id, _, letter = source.partition("/")
        old = self.desk.load(series_id).series
        factor = Factor(factor_value)
        changed = levels.fresh(factor, question.names_on(self.desk.shelf(), old))
        self.planning.repeat_with(series_id, letter, changed)

    def mend(self) -> tuple[str, ...]:
        """Start the follow-up that mends this test; says what was mended."""
        return tuple(confounding_words.mended(one) for one in self.planning.mend())

    def drops_by(self, by: DropsBy) -> None:
        """Another way where drops do not come out whole; refused where there is nothing of it to mend."""
        if not stops.doses(self.planning.open_plan()):
            raise DribbetError(ask_words.WHOLE_DROPS_ALREADY)
        self.choose("drops_by", str(by))

    def draw_lots(self) -> None:
        """Fix the design; what stops it is said."""
        try:
            self.planning.draw_lots()
        except PlanStopped as stopped:
            raise DribbetError(stops_words.sentence(stopped.found[0], units_of(self.desk))) from None

    # ------------------------------------------------------------ on paper

    def run_sheet(self) -> Callable[[Report], bytes]:
        """Run sheet and labels as they stand now; returns what draws them as PDF, to be called in a job."""
        from dribbet.bench.stations.ask.paper import run_sheet
        from dribbet.paper.run_sheet import run_sheet_pdf

        run = self.desk.need_run()
        s = run.series
        panels = run.panels or design.panels(s, new_id)
        said = "".join(p if isinstance(p, str) else p.text for p in question.sentence(s, units_of(self.desk)))
        expected = "".join(p if isinstance(p, str) else p.text for p in question.expectation(s)) if s.prediction else ""
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
        lines = [ask_words.WHAT_IT_TAKES(name=run.series.name), ""]
        for d in self.demand():
            stock = "" if d.name == WATER else f", there is {units.stock_text(d.stock_kg)}" if d.stock_kg is not None else ", not on the shelf"
            short = f"  BUY {units.mass_text(d.short_kg)}" if d.short_kg > 1e-6 else ""
            lines.append(f"{d.name}: {units.mass_text(d.kg)}{stock}{short}")
        return "\n".join(lines).replace(NARROW, " ") + "\n"
