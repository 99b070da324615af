"""Ask: the question as a sentence with parts to choose, the rack of recipes, the honest margin, and what is planned with them. No widgets."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.bench.apart import apart
from dribbet.bench.stations.ask import choosing, sheets
from dribbet.bench.stations.ask.rack import lines, rack, sides
from dribbet.bench.stations.ask.view import LEAVES, AskView, CanShowView, Checks, Days, HeldGroup, HeldView, Leaf, Offered, Sheet
from dribbet.lab.plan import design, stops, templates
from dribbet.notebook.store import new_id
from dribbet.records import (
    NO_HEX,
    BasePlan,
    Dosage,
    DribbetError,
    DropsBy,
    Factor,
    Outline,
    Report,
    Response,
    Series,
    Technique,
)
from dribbet.records.wording import first_up
from dribbet.studio.acts import having, ways
from dribbet.studio.acts.planning import Planning, PlanStopped
from dribbet.studio.standing import ask as standing
from dribbet.studio.standing.has import Has, has
from dribbet.studio.standing.rehearsal import Rehearsal, rehearsal
from dribbet.studio.standing.sheets import named_times
from dribbet.words import ask as ask_words
from dribbet.words import confounding as confounding_words
from dribbet.words import held, kinds, levels, margin, question
from dribbet.words import sheets as sheet_words
from dribbet.words import stops as stops_words
from dribbet.words import verdict as verdict_words
from dribbet.words.parts import Part, Remark
from dribbet.words.units import count_text, figure, units_of

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from dribbet.lab.verdict.rehearse import Rehearsed
    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.ask import PlanInHand
    from dribbet.studio.standing.margin import SmallestShown
    from dribbet.words.units import Units

PRE_TEST: Final = "pre-test"
"""Kind of test that has no panels: it is made on Shelf."""
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
DRAWN_AS: Final = {
    Response.CRACK_LENGTH: "line", Response.CELL_WIDTH: "wide", Response.CELL_COUNT: "cells", Response.SPREAD: "share", Response.LACING: "share",
}  # fmt: skip
"""Responses whose smallest difference is drawn on the panel, to scale."""


def studio_has(part: str) -> Has | None:
    """What of the studio a part of the card is about; None for a constant of the plan."""
    return next((h for h in Has if h.value == part), None)


def can_show(series: Series, found: SmallestShown, units: Units) -> CanShowView:
    """The smallest difference as a drawing to scale on the panel."""
    held = series.constants
    panel, kind = (held.panel_width_m * 1e3, held.panel_height_m * 1e3), DRAWN_AS.get(found.response)
    if found.size is None or kind is None:
        return CanShowView(panel_mm=panel)
    return CanShowView(kind, found.size, margin.amount(found.response, found.size, units), panel, held.outline is Outline.ROUND)


class AskPresenter:
    """What the series asks, and what choosing a part does."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.leaf = Leaf.RACK
        self.trouble: tuple[str, str, str] | None = None
        """Part, what was typed, and why it could not be taken: what was entered is never lost."""
        self.planning = Planning(desk)
        self._rehearsed: tuple[Series, Rehearsal, Rehearsed] | None = None

    # ------------------------------------------------------------ what is so

    def view(self) -> AskView:
        run = self.desk.run()
        if run is None:
            return AskView(empty=True, one_key="Start a question", margin=(Remark("Honest margin", ask_words.START_A_QUESTION),))
        found, units = standing.asked(self.desk, run), units_of(self.desk)
        s, shelf = found.series, self.desk.shelf()
        head, columns, rows = run.once(("rack", units), lambda: rack(s, found.recipes, {m.key: m for m in shelf}, units, covered=found.covered))
        said = margin.remarks(found.margin, units)
        leaves = (*LEAVES, *((Leaf.PANELS,) if found.margin.pieces is not None else ()))
        leaf = self.leaf if self.leaf in leaves else Leaf.RACK
        return AskView(
            sentence=self._with_trouble(question.sentence(s, units, shelf)),
            columns=columns,
            column_head=head,
            column_lines=lines(s, sides(s)[0], units),
            rows=rows,
            offers=tuple(self._offer(found, number, one, units) for number, one in enumerate(found.offers, start=1)),
            held=held.in_short(s, units),
            expectation=self._with_trouble(question.expectation(s)),
            expectation_in_short=self._with_trouble(question.expectation(s, in_short=True)),
            margin=(*said[:1], *self._played(s), *said[1:]),
            can_show=can_show(s, found.margin.shows, units),
            costs=tuple((*ask_words.need(one, units), one.share) for one in found.needs),
            trouble=self.trouble[2] if self.trouble else "",
            drawn=found.drawn,
            locked=found.begun,
            one_key=ask_words.LOTS_ARE_DRAWN_GO_TO_MIX if found.drawn else "Draw lots",
            can_take_back=found.drawn and not found.begun,
            leaves=leaves,
            leaf=leaf,
            bottles=sheets.bottles(found.demand, units) if leaf is Leaf.AMOUNTS else (),
            days=sheets.days(found) if leaf is Leaf.DAYS else Days(),
            checks=sheets.checks(s, self.planning.goals(), self.desk.rules.looks) if leaf is Leaf.LOOKS else Checks(),
            sheet=sheets.sheet(s, units) if leaf is Leaf.PANELS else Sheet(),
            card=self._card(s) if leaf is Leaf.HELD else HeldView(),
        )

    def _offer(self, found: PlanInHand, number: int, one: standing.SizeOffered, units: Units) -> Offered:
        return Offered(
            number, first_up(str(one.offer.size)), count_text(one.offer.panels, "panel"), ask_words.offered(found, one, units), one.current
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

    def _with_trouble(self, said: tuple[str | Part, ...]) -> tuple[str | Part, ...]:
        """Put what was typed and refused back into its part."""
        if self.trouble is None:
            return said
        part, typed, why = self.trouble
        return tuple(replace(p, trouble=why, typed=typed if p.typed else "") if isinstance(p, Part) and p.id == part else p for p in said)

    # ------------------------------------------------------------ what choosing does

    def choose(self, part: str, value: str) -> None:
        """Choose or type a part of the sentence; what cannot be is said, kept as typed, and changes nothing."""
        s = self.desk.need_run().series
        if (owned := studio_has(part)) is not None:
            self._enter(owned, value)
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
        self.planning.toggle_time(Response(response), time, named_times(self.desk.need_run().series, self.desk.rules.looks))

    def _goal(self, part: str, value: str) -> None:
        if part == "goal":
            self.planning.new_goal() if value == "new" else self.planning.choose_goal(value or None)
            return
        self.planning.aim(Response(part.partition(":")[2]), *sheet_words.range_of(value))

    def weigh(self, response: str) -> None:
        """Let a response count more in the goal: 0, 1, 2, 3 and round again."""
        self.planning.weigh(Response(response))

    def _enter(self, what: Has, value: str) -> None:
        try:
            number = figure(value.split()[0])
        except (ValueError, IndexError):
            self.trouble = what.value, value, ask_words.NO_NUMBER(text=value, what=ask_words.HAS[what].lower())
            raise DribbetError(self.trouble[2]) from None
        having.enter(self.desk, what, number)
        self.trouble = None

    # ------------------------------------------------------------ what is held

    def held_list(self) -> Part:
        """Everything that is held, each as a choice that opens it."""
        s = self.desk.need_run().series
        left_out = standing.not_held(s)
        steps = [held.doing_part(*one) for one in standing.steps_held(s)]
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
                    label, value = ask_words.FROM_THE_PANELS_SIZE, ask_words.WORK_OUT
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
        if (owned := studio_has(part)) is not None:
            told = has(self.desk, owned)
            return ask_words.HAS[owned], ask_words.NOT_ENTERED if told is None else f"{told:g}"
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
        owned = studio_has(part)
        typed = f"{has(self.desk, owned) or 0.0:g}" if owned is not None else held.typed_of(s, part, units_of(self.desk))
        made = Part(part, f"{label}: {value}", typed=typed, hint=label)
        if self.trouble is not None and self.trouble[0] == part:
            return replace(made, typed=self.trouble[1], trouble=self.trouble[2])
        return made

    # ------------------------------------------------------------ more

    def more_list(self) -> Part:
        """Everything else that can be done with a plan, each with its key."""
        s = self.desk.need_run().series
        history = self.planning.history(s)
        found = standing.more(s, done=bool(history.done), undone=bool(history.undone))
        return Part("more", "", tuple((one.value, ask_words.more(one, s)) for one in found))

    def template_list(self) -> Part:
        """Kinds of test."""
        found = tuple((one.key, kinds.KINDS[one.key]) for one in templates.TEMPLATES)
        return Part("template", "", (*found, (PRE_TEST, ask_words.A_SET_OF_COLOURS_WITHOUT_PANELS)))

    def again_list(self, series_id: str = "") -> Part:
        """Earlier series, the one in hand first; of a chosen one its recipes, each of which can be repeated with one change."""
        if series_id:
            old = self.desk.load(series_id)
            said = [(a.letter, levels.recipe_text(old.series, a, units_of(self.desk))) for a in old.arms]
            return Part("source", "", tuple((f"{series_id}/{letter}", ask_words.recipe_of(old.series, letter, text)) for letter, text in said))
        known = sorted(self.desk.all_series(), key=lambda s: (s.id != self.desk.series_id, -s.created_at.timestamp()))
        return Part("earlier", "", tuple((s.id, ask_words.earlier(s)) for s in known[:24]))

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
        from dribbet.paper.run_sheet import run_sheet_pdf
        from dribbet.paper.run_sheet_said import run_sheet

        run, units = self.desk.need_run(), units_of(self.desk)
        found = standing.asked(self.desk, run)
        s = found.series
        panels = run.panels or design.panels(s, new_id)
        said = "".join(p if isinstance(p, str) else p.text for p in question.sentence(s, units))
        expected = "".join(p if isinstance(p, str) else p.text for p in question.expectation(s)) if s.prediction else ""
        prices = standing.prices_of(self.desk, s)
        made = run_sheet(s, panels, found.demand, units, question=said, held=held.in_short(s, units), expected=expected, prices=prices)
        return lambda report: apart(report, run_sheet_pdf, made)

    def write_shopping(self, out: Path) -> None:
        """Write the shopping list as text."""
        self._write(out, self.shopping_list().encode())

    def _write(self, out: Path, data: bytes) -> None:
        from dribbet.notebook.whole_file import save_file

        save_file(out, data)

    def shopping_list(self) -> str:
        """What is taken and what is short, as text."""
        found = standing.asked(self.desk, self.desk.need_run())
        return ask_words.shopping(found.series, found.demand, units_of(self.desk))
