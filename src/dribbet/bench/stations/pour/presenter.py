"""Pour: the steps of one pour with their clock, weights before and after, mishaps in one press. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.film_gauge import GaugeView
from dribbet.lab.cup import additions, batches, composition
from dribbet.lab.panel import film, pouring, risk
from dribbet.lab.plan import planning
from dribbet.lab.plan.amounts import CUP_LOSS
from dribbet.records import NO_HEX, Does, DribbetError, Figure, Hazard, MishapKind, Panel, PanelWeight, Step
from dribbet.records.wording import first_up
from dribbet.studio.acts import pouring as acts
from dribbet.studio.acts import stills, zones
from dribbet.studio.acts.shelving import Shelving
from dribbet.studio.standing import choosing, panels, pots, turning
from dribbet.words import cautions
from dribbet.words import mix as mix_words
from dribbet.words import pots as pot_words
from dribbet.words import pour as pour_words
from dribbet.words import turning as turning_words
from dribbet.words.units import clock_text, units_of

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import StepMark, Technique
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.words.units import Units

EARLY_S: Final = 3.0
LEAST_ZONE_M: Final = 0.15e-3  # no zone of the gauge is too slim for its word


@dataclass(frozen=True, slots=True)
class ZoneView:
    """A mishap on the panel's outline, as shares of it."""

    x: float
    y: float
    reach: float
    out: bool


@dataclass(frozen=True, slots=True)
class StepView:
    """One step on the bench line."""

    step: str
    name: str
    note: str
    state: str
    """done, now, skipped or planned."""
    planned_s: float
    begun_s: float | None
    """Seconds since the first step, where it has begun."""
    still: bytes = b""
    """JPEG of the bench as it began, where a camera saw it."""


@dataclass(frozen=True, slots=True)
class PourView:
    """Everything the page shows."""

    code: str = ""
    panel: Panel | None = None
    sentence: str = ""
    recipe: str = ""
    """The recipe in words."""
    empty: bool = False
    leads: str = ""
    """The page at which the one key arrives, where it leads away."""
    layers: tuple[tuple[str, str, float, str], ...] = ()
    """(name, grams as text, share, hex) from below."""
    layers_note: str = ""
    clock_head: str = ""
    clock: str = ""
    steps: tuple[StepView, ...] = ()
    elapsed_s: float = 0.0
    gauge: GaugeView = field(default_factory=lambda: GaugeView(()))
    need: str = ""
    """Weight that is wanted: bare, poured or nothing."""
    one_key: str = ""
    mishaps: tuple[str, ...] = ()
    placing: str = ""
    caution: str = ""
    can_take_back: bool = False
    unmixed: bool = False
    """Whether its cups were not mixed here, which bars it until the person says so."""
    ticked: int = 0
    """So many layers went in, from below."""
    layer: str = ""
    """The layer that goes in next, while the cup is filled."""
    as_last: str = ""
    """Panel whose layers this cup's are the same as, while none of them is in."""
    ran_off: str = ""
    """What ran off the last panel and can be kept."""
    again: str = ""
    """What can be done once more now; empty where nothing can."""
    over: str = ""
    """What can be passed over; empty where nothing can."""
    asked: str = ""
    """Figure of the step in hand that is asked for, as a field names it."""
    zones: tuple[ZoneView, ...] = ()
    zone_words: str = ""
    ready: str = ""
    """What the panel and its level ask for before the pour."""
    levelling: bool = False
    past: bool = False
    """Whether a pour that is over is looked at."""
    before: bool = False
    """Whether an earlier pour can be looked at."""
    touching: bool = False
    """Whether the outline waits for a touch: a mishap's place, or where the panel is best."""
    noting: bool = False
    """Whether the product that was used instead is waited for."""


class PourPresenter:
    """Which panel is in hand, and what a press does to it."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.placing: str = ""
        """Mishap that waits for its place on the panel."""
        self.levelling = False
        """Whether the panel's level is asked for."""
        self.back = ""
        """Panel whose pour is looked back at; empty while pouring goes on."""
        self._stills: tuple[object, dict[str, bytes]] = (None, {})

    def stills(self, panel: Panel) -> dict[str, bytes]:
        """Pictures of the bench at each step of a panel; read once until something changes, since the page asks five times a second."""
        key = (panel.id, self.desk.revision)
        if self._stills[0] != key:
            self._stills = key, stills.of_panel(self.desk, panel)
        return self._stills[1]

    def panel(self, run: Run) -> Panel | None:
        """Panel in hand: one that is looked back at, the chosen one, else the next in the lots that is not poured."""
        back = next((p for p in run.panels if p.id == self.back), None)
        if back is not None:
            return back
        chosen = self.desk.in_hand("pour")
        found = next((p for p in run.panels if p.id == chosen), None)
        if found is not None and (run.weight(found, PanelWeight.POURED) is None):
            return found
        return next(
            (
                p
                for p in run.in_order()
                if not p.spoiled and (run.poured_at(p) is None or (self._begun(run, p) and run.weight(p, PanelWeight.POURED) is None))
            ),
            None,
        )

    def _begun(self, run: Run, panel: Panel) -> bool:
        return any(s.panel_id == panel.id for s in run.steps)

    def plan(self, run: Run, panel: Panel) -> list[tuple[Step, float]]:
        """Steps of this pour with their planned seconds."""
        return [(p.step, p.seconds) for p in panels.planned_of(run, panel)]

    def view(self) -> PourView:
        run = self.desk.run()
        if run is None or run.series.seed is None or not run.panels:
            return PourView(sentence=pour_words.NOTHING, empty=True, one_key=pour_words.GO_TO_ASK, leads="ask")
        panel = self.panel(run)
        if panel is None:
            wipe = pour_words.dripping(panels.dripping(run, self.desk.now()))
            return PourView(
                sentence=pour_words.ALL_POURED, empty=True, recipe=wipe, one_key=pour_words.GO_TO_DRY, leads="dry", before=bool(self._over(run))
            )
        units, now = units_of(self.desk), self.desk.now()
        arm, shelf = run.arm(panel), {m.key: m for m in self.desk.shelf()}
        layers = tuple(
            (
                first_up(layer.material),
                units.mass_figure(planning.poured_kg(run.series, arm) * layer.share),
                layer.share,
                shelf[layer.material].hex if layer.material in shelf else NO_HEX,
            )
            for layer in arm.layers
        )
        bare, poured = run.weight(panel, PanelWeight.BARE), run.weight(panel, PanelWeight.POURED)
        pour = panels.progress_of(run, panel)
        current, after = pour.current, pour.after
        first = min((s.mark.at for s in pour.stages if s.mark is not None), default=now)
        hold = pots.held_back(self.desk, run, panel) if not pour.begun else None
        unmixed = hold is not None and hold.fault is pots.PotFault.UNMIXED
        left = 0.0
        if current is None or current.mark is None:
            head, clock = pour_words.PLANNED, clock_text(sum(s.plan.seconds for s in pour.stages))
            sentence = pour_words.bare(panel.code) if bare is None else pour_words.NOT_MIXED if unmixed else pour_words.READY
        else:
            left = current.mark.planned_s - (now - current.mark.at).total_seconds()
            head = pour_words.TO_GO if left >= 0 else pour_words.OVER
            clock, sentence = clock_text(abs(left)), pour_words.do_text(arm.technique, current.plan, units)
            if current.plan.step is Step.WEIGH and panel.slot:
                sentence = pour_words.weigh_and_lay(panel.slot)
        past = self.back == panel.id
        if past and (poured_at := run.poured_at(panel)) is not None:
            head, sentence = pour_words.TOOK, pour_words.was_poured(panel.code, self.desk.local(poured_at))
            ends = [s.mark.at for s in pour.stages if s.mark is not None]
            clock = clock_text((max(ends) - first).total_seconds()) if ends else ""
        weighing = current is not None and current.plan.step is Step.WEIGH
        need = "" if past else "bare" if bare is None and not pour.begun else "poured" if weighing and poured is None else ""
        mine = [m for m in run.mishaps if m.panel_id == panel.id]
        placed = zones.last_placed(run, panel)
        asked = None if past else self._asked(current)
        ticked = acts.layers_in(run, panel)
        layer = self._layer(current, layers, ticked)
        return PourView(
            code=panel.code,
            panel=panel,
            sentence=pour_words.left_out(panel.code, panel.spoiled) if panel.spoiled else sentence,
            recipe=pour_words.recipe(run.series, arm, units, covered=choosing.covered(run)),
            layers=layers,
            layers_note=pour_words.layers_note(planning.poured_kg(run.series, arm), units),
            clock_head=head,
            clock=clock,
            steps=tuple(self._step(arm.technique, s, current, first, units, self.stills(panel)) for s in pour.stages),
            elapsed_s=(now - first).total_seconds() if pour.begun else 0.0,
            gauge=self._gauge(run, panel, bare, poured),
            need=need,
            one_key=pour_words.ON if past else self._one_key(arm.technique, pour, need, left, unmixed=unmixed),
            mishaps=tuple(str(m.kind) for m in mine),
            placing=self.placing,
            touching=bool(self.placing) or asked is Does.BEST,
            caution="" if past else self._caution(run, panel, pour),
            unmixed=unmixed,
            past=past,
            before=bool(self._over(run)),
            can_take_back=not past and bool(run.steps or run.panel_weighings or run.mishaps),
            ticked=ticked,
            layer=layer,
            as_last=last.code.split("-")[-1] if layer and not ticked and (last := acts.as_before(run, panel)) is not None else "",
            ran_off=units.mass_text(off[1]) if not pour.begun and (off := acts.ran_off(self.desk, run)) is not None else "",
            again=pour_words.said(arm.technique, s).name if not past and (s := pouring.again(pour)) is not None else "",
            over=pour_words.said(arm.technique, after.plan.step).name if pour.begun and after and after.plan.step is not Step.WEIGH else "",
            asked=pour_words.asked_text(asked, current.plan, units) if asked is not None and current is not None and not need else "",
            zones=tuple(ZoneView(m.x_share, m.y_share, m.reach_share, m.zone_out) for m in mine if m.x_share is not None and m.y_share is not None),
            zone_words=pour_words.zone_text(placed, run.sheet_mm(panel)[0], units) if placed is not None else "",
            ready=self._before_or_after(run, panel, pour, units, past=past),
            levelling=self.levelling and not pour.begun,
            noting=any(m.kind is MishapKind.SUBSTITUTED and not m.note for m in mine),
        )

    def _one_key(self, technique: Technique, pour: pouring.Progress, need: str, left_s: float, *, unmixed: bool) -> str:
        """What the one key does now."""
        if need:
            return pour_words.TAKE_BARE if need == "bare" else pour_words.TAKE_POURED
        if unmixed:
            return pour_words.GO_TO_MIX
        if pour.after is None:
            return pour_words.NEXT_PANEL
        step = pour.after.plan.step
        if pour.current is None:
            return pour_words.start(technique, step)
        return pour_words.go(technique, step, left_s if left_s > EARLY_S else 0.0)

    def _caution(self, run: Run, panel: Panel, pour: pouring.Progress) -> str:
        """What could hurt at this moment, else what the cups ask for."""
        alcohol = bool(run.arm(panel).alcohol_share)
        hazards = frozenset([Hazard.FLAMMABLE]) if alcohol else frozenset()
        upcoming = pour.after.plan.step if pour.after else None
        about = upcoming if upcoming is Step.TORCH or pour.current is None else pour.current.plan.step
        caution = cautions.for_step(about, hazards) if about is not None and (pour.begun or about is Step.TORCH) else ""
        if alcohol and not any(s.plan.step is Step.TORCH for s in pour.stages):
            caution = cautions.TORCH_AFTER_ALCOHOL
        cans = [s.plan for s in pour.stages if pouring.aerosol(s.plan)]
        if cans:
            near = about is not None and any(p.step is about for p in cans)
            caution = cautions.AEROSOL if near else cautions.TORCH_AFTER_AEROSOL if run.held(panel).torch_passes else caution
        return caution or ("" if pour.begun else self._cups_say(run, panel))

    def _layer(self, current: pouring.PourStage | None, layers: tuple[tuple[str, str, float, str], ...], ticked: int) -> str:
        """The layer that goes in next, with its grams; empty where none does."""
        if current is None or current.plan.step not in acts.FILLING or ticked >= len(layers):
            return ""
        name, grams, _, _ = layers[ticked]
        return pour_words.layer_in(name, grams)

    def _ready(self, run: Run, panel: Panel) -> str:
        """What the panel is made of, and how far its paint will creep."""
        units, told = units_of(self.desk), panels.creep(self.desk, run, panel)
        level = pour_words.creep(told.x_m, told.y_m, told.until_s, units) if told is not None else ""
        lies = turning_words.sinks(turning.lies(self.desk, run.arm(panel)), units)
        held = run.held(panel)
        wipe = pour_words.dripping(panels.dripping(run, self.desk.now()))
        return " ".join(x for x in (wipe, lies, pour_words.support(held.support), pour_words.sides(held.side_m), level) if x)

    def _before_or_after(self, run: Run, panel: Panel, pour: pouring.Progress, units: Units, *, past: bool) -> str:
        """What is to be known before the pour, before a step is done once more, or of a pour that is over."""
        if past:
            return self._told(run.arm(panel).technique, pour, units)
        if not pour.begun:
            return self._ready(run, panel)
        return pour_words.rescues(self.desk.learned.rescues()) if pouring.again(pour) else ""

    def _told(self, technique: Technique, pour: pouring.Progress, units: Units) -> str:
        """What was told of the steps of a pour that is looked back at."""
        told = [(pour_words.said(technique, s.plan.step).name, s.mark.figures) for s in pour.stages if s.mark is not None and s.mark.figures]
        return " ".join(pour_words.told(name, figures, units) for name, figures in told)

    def _asked(self, stage: pouring.PourStage | None) -> Does | None:
        """First figure of the step in hand that is asked for and was not told yet."""
        if stage is None or stage.mark is None:
            return None
        told = {f.does for f in stage.mark.figures}
        return next((d for d in stage.plan.asked if d not in told), None)

    def _cups_say(self, run: Run, panel: Panel) -> str:
        """What the cups of this panel ask for before they are poured: rest, a stir, or a thought about a trace of another cup."""
        shelf, now = {m.key: m for m in run.shelf}, self.desk.now()
        mine = [m for m in run.mixes if panel.recipe in m.recipes and m.block in (0, panel.block) and m.done]
        flagged = batches.contaminated_panels([panel], mine, run.marks)
        if flagged:
            return pour_words.trace(panel.code, mix_words.contaminated(*next(iter(flagged.values()))))
        resting = [(m, left) for m in mine if (left := pots.rest_left_s(self.desk, run, m, now)) > 0.0]
        if resting:
            mix, left = max(resting, key=lambda x: x[1])
            return pour_words.bubbles(mix.colour, clock_text(left))
        for mix in mine:
            held = composition.weighed_in(mix, run.weighings)
            total = sum(held.values())
            settles = additions.restir_needed({n: kg / total for n, kg in held.items()}, shelf) if total else ""
            if settles:
                return pour_words.stir_up(mix.colour, settles)
        return ""

    def _step(
        self, technique: Technique, stage: pouring.PourStage, current: pouring.PourStage | None, first: datetime, units: Units, seen: dict[str, bytes]
    ) -> StepView:
        state = "now" if stage is current else "skipped" if stage.skipped else "done" if stage.mark is not None else "planned"
        planned = stage.plan.seconds
        passes = stage.plan.figure(Does.PASSES)
        if state in ("done", "skipped"):
            told = [f for f in stage.mark.figures if f.does is not Does.BEST] if stage.mark is not None else []
            note = pour_words.figure_text(told[-1], units) if told else pour_words.STATES[state]
        elif stage.plan.step is Step.TORCH and passes is not None and passes.value:
            note = pour_words.passes(passes.value, pouring.PASS_S)
        else:
            note = pour_words.lasting(planned)
        if stage.plan.step is Step.WEIGH:
            note = pour_words.AND_LEVEL
        begun = (stage.mark.at - first).total_seconds() if stage.mark is not None else None
        still = seen.get(stage.mark.id, b"") if stage.mark is not None else b""
        return StepView(str(stage.plan.step), pour_words.said(technique, stage.plan.step).name, note, state, planned, begun, still)

    def film_mm(self, run: Run, panel: Panel) -> float | None:
        """Measured wet film, or None where it was not weighed."""
        film = panels.film(self.desk, run, panel)
        return film.wet_m * 1e3 if film.weighed else None

    def zones(self, run: Run, panel: Panel) -> tuple[tuple[float, str], ...]:
        """Borders of the gauge in mm with their words: by the risk of a panel like this, as the notebook has learned it."""
        learned, like = self.desk.learned.risk(), panels.causes(self.desk, run, panel)
        thin, top = film.FILM_ZONES_M[0], film.GAUGE_TOP_M
        safe = min(max(learned.film_m(like, risk.SAFE_BELOW), thin + LEAST_ZONE_M), top - 2 * LEAST_ZONE_M)
        cracks = min(max(learned.film_m(like, risk.CRACKS_FROM), safe + LEAST_ZONE_M), top - LEAST_ZONE_M)
        return tuple(zip((thin * 1e3, safe * 1e3, cracks * 1e3, top * 1e3), [str(z) for z in film.FilmZone], strict=True))

    def _gauge(self, run: Run, panel: Panel, bare: float | None, poured: float | None) -> GaugeView:
        units = units_of(self.desk)
        zones = self.zones(run, panel)
        marks = tuple((p.code, mm) for p in run.panels if p.id != panel.id and (mm := self.film_mm(run, p)) is not None)
        mine = self.film_mm(run, panel)
        foot = pour_words.before(bare, units)
        if mine is None and bare is None:
            return GaugeView(zones, marks, empty=pour_words.WEIGH_FIRST)
        expected = mine is None
        arm = run.arm(panel)
        value = mine if mine is not None else arm.film_m * 1e3
        stays = arm.film_m * run.area_m2(panel) * self.desk.density(run, panel)
        gone = planning.poured_kg(run.series, arm) * (1 - CUP_LOSS)
        note = pour_words.if_stays(stays, gone, units) if expected else pour_words.stayed((poured or 0) - (bare or 0), units)
        learned = self.desk.learned.risk()
        rests = pour_words.zones_by(learned.panels if learned.own else 0)
        return GaugeView(zones, marks, panel.code.split("-")[-1], value, expected, note, foot, rests=rests)

    # ------------------------------------------------------------ what a press does

    def _need_panel(self) -> Panel:
        panel = self.panel(self.desk.need_run())
        if panel is None:
            raise DribbetError(pour_words.ALL_POURED)
        return panel

    def advance(self, weight_kg: float | None, source: str) -> None:
        """The one key: a weight where one is wanted, else the next step; from a look back, on with the pour in hand."""
        if self.back:
            self.back = ""
            self.desk.changed()
            return
        panel = self._need_panel()
        need = self.view().need
        if need:
            acts.weigh(self.desk, panel, PanelWeight.BARE if need == "bare" else PanelWeight.POURED, weight_kg)
            if need == "poured":
                self.desk.take("pour", "")
                self.desk.changed()
            return
        try:
            went = acts.go_on(self.desk, panel)
        except acts.HeldBack as held:
            raise DribbetError(pot_words.held_back(held.hold, units_of(self.desk))) from None
        self.desk.take("pour", panel.id if went else "")
        self.desk.changed()

    def to_see(self) -> tuple[StepMark, str] | None:
        """The step that just began and its panel's code, where a camera can see it."""
        if self.back:
            return None
        run = self.desk.need_run()
        panel = self.panel(run)
        mark = stills.wanted(self.desk, run, panel) if panel is not None else None
        return (mark, panel.code) if mark is not None and panel is not None else None

    def saw(self, mark: StepMark, jpeg: str) -> None:
        """Keep what the camera saw of a step."""
        stills.keep(self.desk, mark, jpeg)

    def _over(self, run: Run) -> list[Panel]:
        """Panels whose pour is over, the last one first."""
        told = [(at, p) for p in run.panels if run.weight(p, PanelWeight.POURED) is not None and (at := run.poured_at(p)) is not None]
        return [p for _, p in sorted(told, key=lambda x: x[0], reverse=True)]

    def look_back(self) -> None:
        """Look at the pour before: its steps, times and stills; after the first one, at the last again."""
        over = self._over(self.desk.need_run())
        if not over:
            raise DribbetError(pour_words.NO_POUR_IS_OVER)
        at = next((i for i, p in enumerate(over) if p.id == self.back), -1)
        self.back = over[(at + 1) % len(over)].id
        self.desk.changed()

    def ask_level(self) -> None:
        """Ask how level the panel lies, or no longer."""
        self.levelling = not self.levelling
        self.desk.changed()

    def again(self) -> None:
        """Do the step in hand once more."""
        acts.once_more(self.desk, self._need_panel())

    def layer_in(self) -> None:
        """Tick the layer that went in."""
        acts.layer_in(self.desk, self._need_panel())

    def layers_as_last(self) -> None:
        """Tick all layers as they went into the last cup that held the same."""
        acts.all_layers_in(self.desk, self._need_panel())

    def keep_run_off(self) -> str:
        """What ran off the last panel goes into the leftover pot; what became of it, in words."""
        off = acts.ran_off(self.desk, self.desk.need_run())
        if off is None:
            raise DribbetError(pour_words.NOTHING_RAN_OFF)
        pot = Shelving(self.desk).keep_run_off(off[0])
        return pour_words.kept(pot.code, pot.stored_kg, units_of(self.desk))

    def pass_over(self) -> None:
        """Leave the next step out."""
        acts.pass_over(self.desk, self._need_panel())

    def tell(self, typed: str) -> None:
        """The figure of the step in hand that is asked for, as it was typed; or the product that was used instead."""
        run, panel = self.desk.need_run(), self._need_panel()
        noted = next((m for m in run.mishaps if m.panel_id == panel.id and m.kind is MishapKind.SUBSTITUTED and not m.note), None)
        if noted is not None:
            acts.note(self.desk, noted, typed)
            return
        if self.levelling:
            acts.level(self.desk, panel, *pour_words.typed_level(typed))
            self.levelling = False
            self.desk.changed()
            return
        does = self._asked(panels.progress_of(run, panel).current)
        if does is None:
            raise DribbetError(pour_words.NOTHING_IS_ASKED)
        acts.tell(self.desk, panel, pour_words.typed_figure(does, typed, units_of(self.desk)))

    def from_elsewhere(self) -> None:
        """Pour the panel in hand although its cups were not mixed here."""
        acts.pour_from_elsewhere(self.desk, self._need_panel())

    def take_back(self) -> None:
        """One press, one step back: the last weight, step or mishap of the whole pour."""
        self.desk.take("pour", acts.take_back(self.desk))
        self.placing = ""
        self.desk.changed()

    def mishap(self, kind: MishapKind) -> None:
        """Mark a mishap; the next touch on the panel's outline says where."""
        panel = self.panel(self.desk.need_run())
        if panel is None:
            raise DribbetError(pour_words.NO_PANEL_IN_HAND)
        entry = acts.mishap(self.desk, panel, kind)
        self.placing = entry.id if kind.has_place else ""
        self.desk.changed()

    def place(self, x_share: float, y_share: float, reach_share: float | None = None) -> None:
        """Say where the mishap is, and how far it reaches where that was drawn; the zone is left out until it is counted again."""
        run = self.desk.need_run()
        entry = next((m for m in run.mishaps if m.id == self.placing), None)
        self.placing = ""
        if entry is None and (panel := self.panel(run)) is not None and self._asked(panels.progress_of(run, panel).current) is Does.BEST:
            acts.tell(self.desk, panel, Figure(does=Does.BEST, word=pour_words.place(x_share, y_share)))
        if entry is not None:
            acts.place(self.desk, entry, x_share, y_share, reach_share)

    def choose(self, panel_id: str) -> None:
        self.desk.take("pour", panel_id)
        self.desk.changed()
