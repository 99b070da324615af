"""Dry: what dries, what is due, what was found, what is done with what is dry. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import Enum
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.time_bands import BandsView, BandView
from dribbet.devices.climate import from_table
from dribbet.lab.panel import aftercare
from dribbet.records import After, DribbetError, Feel, Flaw, Panel, PanelWeight, Stuck
from dribbet.records.wording import first_up
from dribbet.studio.acts import drying as acts
from dribbet.studio.standing import panels as standing
from dribbet.words import dry as dry_words
from dribbet.words.night import moved_text
from dribbet.words.parts import Remark, Weight
from dribbet.words.units import listed, units_of

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.lab.panel import drying
    from dribbet.lab.panel.progress import DueLook
    from dribbet.records import Treated
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

RISKY: Final = 0.35
"""Risk above which a band is hatched and its looks name the film."""


class Asking(Enum):
    """What is asked at the moment."""

    NOTHING = ""
    FEEL = "feel"
    CRACK = "crack"
    WHERE = "where"
    WEIGHT = "weight"
    ROOM = "room"
    TREAT = "treat"
    FIGURES = "figures"
    STUCK = "stuck"


@dataclass(frozen=True, slots=True)
class TreatmentChoice:
    """One answer that a digit gives."""

    words: str
    ticked: bool = False
    why_not: str = ""


@dataclass(frozen=True, slots=True)
class DueLine:
    """A line of the due list."""

    when: str
    code: str
    words: str
    hand: bool


@dataclass(frozen=True, slots=True)
class DryView:
    """Everything the page shows."""

    sentence: str
    note: str
    bands: BandsView | None
    dues: tuple[DueLine, ...] = ()
    asking: str = ""
    """What is asked now: feel, crack, where, weight, room, treat, figures, stuck or nothing."""
    choices: tuple[TreatmentChoice, ...] = ()
    typed: str = ""
    """What a field asks for; empty where nothing is typed."""
    shape: float = 1.0
    round_face: bool = False
    """Width of the panel in hand over its height."""
    hand_code: str = ""
    hand: Panel | None = None
    remarks: tuple[Remark, ...] = ()
    room: str = ""
    one_key: str = ""
    empty: bool = False
    can_take_back: bool = False


class DryPresenter:
    """Which panel is looked at, and what an answer does."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.feel: Feel | None = None
        self.skipped_feel = False
        self.flaws: tuple[Flaw, ...] = ()
        self.mode = Asking.NOTHING
        self.kind: After | None = None
        """Treatment whose figures are asked for."""

    def film_m(self, run: Run, panel: Panel) -> tuple[float, bool]:
        """Wet film and whether it was weighed."""
        film = standing.film(self.desk, run, panel)
        return film.wet_m, film.weighed

    def windows(self, run: Run, panel: Panel) -> tuple[drying.DryingWindow, ...]:
        """When each stage of drying begins."""
        return standing.windows(self.desk, run, panel)

    def risk(self, run: Run, panel: Panel) -> float:
        """Probability that a panel cracks, as the notebook has learned it."""
        return self.desk.learned.risk().of(standing.causes(self.desk, run, panel))

    def hand(self, run: Run) -> DueLook | None:
        """The look that is due now: the chosen panel's, else the oldest."""
        now = self.desk.now()
        dues = [d for d in run.due_looks(now) if d.now]
        chosen = self.desk.in_hand("dry")
        return next((d for d in dues if d.panel.id == chosen), dues[0] if dues else None)

    def subject(self, run: Run) -> Panel | None:
        """The panel that is weighed or treated: the chosen one, else the one whose look is due, else the last that was poured."""
        chosen = self.desk.in_hand("dry")
        poured = [p for p in run.in_order() if run.poured_at(p) is not None and not p.spoiled]
        due = self.hand(run)
        return next((p for p in poured if p.id == chosen), due.panel if due else poured[-1] if poured else None)

    def running(self, run: Run) -> Treated | None:
        """A treatment that takes its time and is not finished: that of the chosen panel, so that others may be looked at meanwhile."""
        chosen = self.desk.in_hand("dry")
        return next((t for t in run.treated if t.finished_at is None and chosen in ("", t.panel_id)), None)

    def asking(self, run: Run, due: DueLook | None) -> Asking:
        """What is asked: what the person turned to, else what the look that is due wants to know."""
        if self.mode is not Asking.NOTHING:
            return self.mode
        if self.running(run) is not None:
            return Asking.STUCK
        if due is None:
            return Asking.NOTHING
        return Asking.CRACK if self.feel is not None or self.skipped_feel or due.name == "wet" else Asking.FEEL

    def view(self) -> DryView:
        run = self.desk.run()
        now = self.desk.now()
        poured = [p for p in run.in_order() if run.poured_at(p) is not None] if run else []
        if run is None or not poured:
            return DryView(dry_words.NOTHING, dry_words.NOTHING_NOTE, None, one_key=dry_words.GO_TO_POUR, empty=True)
        due, subject = self.hand(run), self.subject(run)
        start = min(t for p in poured if (t := run.poured_at(p)) is not None)
        start = self.desk.local(start).replace(hour=0, minute=0, second=0, microsecond=0)
        if now - start > timedelta(days=25):
            start = now - timedelta(days=25)
        end = start + timedelta(days=max(14, (now - start).days + 4))
        bands = BandsView(tuple(self._band(run, p, due, now) for p in run.in_order()), start, end, now, dry_words.now_mark(self.desk.local(now)))
        waiting = len(run.panels) - len(poured)
        days = (now.date() - start.date()).days + 1
        asking = self.asking(run, due)
        wide, high = run.sheet_mm(subject) if subject is not None else (1.0, 1.0)
        return DryView(
            sentence=self._sentence(run, asking, due, subject, now),
            note=dry_words.note(run.series.name, days, len(poured), waiting),
            bands=bands,
            dues=tuple(self._due(run, d, now, due) for d in run.due_looks(now)[:6]),
            asking=asking.value,
            choices=self._choices(run, asking, subject),
            typed=self._typed(asking),
            shape=wide / high,
            round_face=subject is not None and run.is_round(subject),
            hand_code=due.panel.code if due else "",
            hand=due.panel if due else subject,
            remarks=self._remarks(run, poured, subject, now),
            room=self._room(run, subject),
            one_key=self._one_key(run, asking),
            can_take_back=bool(run.looks or run.treated or any(w.kind is PanelWeight.DRYING for w in run.panel_weighings)),
        )

    def _sentence(self, run: Run, asking: Asking, due: DueLook | None, subject: Panel | None, now: datetime) -> str:
        code = subject.code if subject is not None else ""
        running = self.running(run)
        if asking is Asking.STUCK and running is not None:
            mine = next(p for p in run.panels if p.id == running.panel_id)
            return dry_words.under_way(running, mine.code, now, units_of(self.desk))
        if due is None and asking is Asking.NOTHING:
            nxt = next(iter(run.due_looks(now)), None)
            return dry_words.not_due(nxt.panel.code, self._when(nxt.due, now)) if nxt else dry_words.ALL_LOOKED
        looked = due.panel.code if due is not None else code
        if asking is Asking.FEEL:
            return dry_words.touch(looked, due.name) if due is not None else ""
        if asking is Asking.FIGURES:
            return dry_words.ask(self.kind, code) if self.kind is not None else ""
        return dry_words.question(asking.value, looked if asking in (Asking.CRACK, Asking.WHERE) else code)

    def _one_key(self, run: Run, asking: Asking) -> str:
        running = self.running(run)
        if asking is Asking.STUCK:
            return dry_words.next_press(running, self.desk.now(), units_of(self.desk)) if running is not None else ""
        return dry_words.ONE_KEY[asking.value]

    def running_kind(self) -> After | None:
        """Which treatment is under way."""
        run = self.desk.run()
        running = self.running(run) if run is not None else None
        return running.kind if running is not None else None

    def _choices(self, run: Run, asking: Asking, subject: Panel | None) -> tuple[TreatmentChoice, ...]:
        if asking is Asking.FEEL:
            return tuple(TreatmentChoice(dry_words.FEEL[f]) for f in Feel)
        if asking is Asking.CRACK:
            return tuple(TreatmentChoice(dry_words.FLAW[f], f in self.flaws) for f in Flaw)
        if asking is Asking.TREAT and subject is not None:
            state = standing.state(self.desk, run, subject)
            return tuple(TreatmentChoice(dry_words.AFTER[k], why_not=aftercare.barred(k, state) or "") for k in After)
        if asking is Asking.STUCK and self.running_kind() is After.HOT_CUP:
            return tuple(TreatmentChoice(dry_words.STUCK[s]) for s in Stuck)
        return ()

    def _typed(self, asking: Asking) -> str:
        if asking is Asking.FIGURES and self.kind is not None:
            return dry_words.ask_figures(self.kind, units_of(self.desk))
        return dry_words.FIELD.get(asking.value, "")

    def _room(self, run: Run, subject: Panel | None) -> str:
        units = units_of(self.desk)
        if subject is None:
            return ""
        paces = self.desk.learned.paces()
        said = dry_words.room(standing.air_of(self.desk, run, subject), units)
        said += dry_words.paced(max((p.panels for p in paces.values()), default=0))
        weighed, poured = standing.loss_of(self.desk, run, subject), run.poured_at(subject)
        if weighed is not None and poured is not None:
            now = self.desk.now()
            said += " " + dry_words.weight(subject.code, weighed, lambda s: self._when(poured + timedelta(seconds=s), now), units)
        return said

    def _when(self, moment: datetime, now: datetime) -> str:
        local = self.desk.local(moment)
        if local.date() == self.desk.local(now).date():
            return f"{local:%H:%M}"
        return f"{local:%a %H:%M}" if local - now < timedelta(days=6) else f"{local.day} {local:%b}"

    def _due(self, run: Run, d: DueLook, now: datetime, hand: DueLook | None) -> DueLine:
        when = dry_words.OVERDUE if d.overdue else dry_words.NOW if d.now else self._when(d.due, now)
        thick = self.film_m(run, d.panel)
        extra = dry_words.thick(thick[0], units_of(self.desk)) if thick[1] and self.risk(run, d.panel) > RISKY else ""
        if not d.now and not d.overdue:
            extra += moved_text(d.moved_s)
        return DueLine(when, d.panel.code, dry_words.look(d.name) + extra, hand is not None and d.panel.id == hand.panel.id)

    def _band(self, run: Run, panel: Panel, due: DueLook | None, now: datetime) -> BandView:
        poured = run.poured_at(panel)
        if poured is None:
            return BandView(panel.id, panel.code, None, words=dry_words.not_poured(panel.code))
        local = self.desk.local
        poured = local(poured)
        at = [(poured + timedelta(seconds=w.earliest_s), poured + timedelta(seconds=w.latest_s)) for w in self.windows(run, panel)]
        cuts = tuple((local(a), local(b)) for a, b in at)
        looks = [look for look in run.looks if look.panel_id == panel.id]
        interval = standing.began(run, panel)
        cracked = crack_from = None
        if interval is not None and interval.until_h is not None:
            cracked, crack_from = (poured + timedelta(hours=h) for h in (interval.until_h, interval.from_h))
        elif self.risk(run, panel) > RISKY:
            crack_from = cuts[0][1]
        mine = next((d for d in run.due_looks(now) if d.panel.id == panel.id), None)
        touch, through = cuts[1], cuts[2]
        words = dry_words.band(panel.code, [(local(a), local(b)) for a, b in (touch, through)])
        return BandView(
            panel.id,
            panel.code,
            poured,
            cuts,
            tuple(local(look.at) for look in looks),
            local(mine.due) if mine and mine.now else None,
            mine.overdue if mine else False,
            crack_from,
            cracked,
            due is not None and due.panel.id == panel.id,
            words,
        )

    def _remarks(self, run: Run, poured: list[Panel], subject: Panel | None, now: datetime) -> tuple[Remark, ...]:
        made = []
        units = units_of(self.desk)
        if subject is not None:
            film = standing.film(self.desk, run, subject)
            if film.too_much_kg:
                made.append(Remark(subject.code, dry_words.too_much(film.too_much_kg, units), Weight.CAUTION))
            if film.weighed and not film.too_much_kg and self.mode in (Asking.WEIGHT, Asking.TREAT):
                said = dry_words.film(film.left_kg, film.run_off_kg, film.wasted, film.wet_m, film.dry_m, units)
                made.append(Remark(subject.code, said))
            kind = self.kind if self.mode is Asking.FIGURES else self.running_kind()
            if kind is not None:
                made.append(Remark("", dry_words.CAUTION[kind], Weight.CAUTION))
                thick = film.wet_m > aftercare.THIN_M and kind is After.BAKE and self.kind is not None
                if thick:
                    made.append(Remark("", dry_words.blisters(film.wet_m, units), Weight.CAUTION))
            poured_at = run.poured_at(subject)
            done = [
                dry_words.treated(t, units, (t.at - poured_at).total_seconds() / 86_400.0)
                for t in run.treated
                if t.panel_id == subject.id and t.finished_at is not None and poured_at is not None
            ]
            if done:
                made.append(Remark(subject.code, f"{first_up(listed(done))}."))
        cracked = [p for p in poured if any(look.cracked for look in run.looks if look.panel_id == p.id)]
        if cracked:
            codes = [p.code.split("-")[-1] for p in cracked]
            head, body = dry_words.cracked(
                codes, len(poured), one_recipe=len({p.recipe for p in cracked}) == 1, one_level=len({p.level for p in cracked}) == 1
            )
            made.append(Remark(head, body, Weight.CAUTION))
        washed = {t.panel_id for t in run.treated if t.kind is After.WASH}
        oily = [p for p in poured if run.arm(p).silicone_drops_per_100g > 0 and p.id not in washed]
        if oily:
            made.append(Remark(dry_words.SILICONE, dry_words.oily(len(oily)), Weight.CAUTION))
        dry = [self.windows(run, p)[2] for p in poured]
        when = [(run.poured_at(p), w.earliest_s) for p, w in zip(poured, dry, strict=True)]
        first = min((at + timedelta(seconds=s) for at, s in when if at is not None), default=None)
        if first is not None and first > now:
            made.append(Remark("", dry_words.first_dry(self._when(first, now))))
        return tuple(made)

    # ------------------------------------------------------------ what an answer does

    def answer(self, digit: int) -> None:
        """A digit answers what is asked: how it feels, a flaw, a treatment, how a cup came off."""
        run = self.desk.need_run()
        asking = self.asking(run, self.hand(run))
        choices = self._choices(run, asking, self.subject(run))
        if not 1 <= digit <= len(choices):
            return
        if choices[digit - 1].why_not:
            raise DribbetError(choices[digit - 1].why_not)
        if asking is Asking.FEEL:
            self.answer_feel(tuple(Feel)[digit - 1])
        elif asking is Asking.CRACK:
            flaw = tuple(Flaw)[digit - 1]
            self.flaws = tuple(f for f in self.flaws if f is not flaw) if flaw in self.flaws else (*self.flaws, flaw)
            self.desk.changed()
        elif asking is Asking.TREAT:
            self._choose_treatment(tuple(After)[digit - 1])
        elif asking is Asking.STUCK:
            self.finish(tuple(Stuck)[digit - 1])

    def answer_feel(self, feel: Feel | None) -> None:
        """How the corner feels; the question of cracks follows."""
        if self.hand(self.desk.need_run()) is None:
            raise DribbetError(dry_words.NOTHING_IS_DUE)
        self.feel, self.skipped_feel = feel, feel is None
        self.desk.changed()

    def ask_where(self) -> None:
        """Ask where the first crack is that was seen."""
        self.turn_to(Asking.WHERE)

    def answer_crack(self, cracked: bool, at: tuple[float, float] | None = None) -> None:
        """Write the look down."""
        run = self.desk.need_run()
        due = self.hand(run)
        if due is None:
            raise DribbetError(dry_words.NOTHING_IS_DUE)
        acts.look(self.desk, due, feel=self.feel, cracked=cracked, at=at, flaws=self.flaws)
        self._done()

    def turn_to(self, mode: Asking) -> None:
        """Ask for something else: a weight, the room, a treatment; or for nothing of that any more."""
        self.mode = mode
        if mode is not Asking.FIGURES:
            self.kind = None
        self.desk.changed()

    def take_weight(self, weight_kg: float | None) -> None:
        """The panel in hand, weighed while it dries."""
        acts.weigh_drying(self.desk, self._need_subject(), weight_kg)
        self.mode = Asking.NOTHING
        self.desk.changed()

    def take_room(self, typed: str) -> None:
        """The room's air as it was typed."""
        acts.read_room(self.desk, *dry_words.typed_room(typed, units_of(self.desk)))
        self.mode = Asking.NOTHING
        self.desk.changed()

    def bring_in(self, path: Path) -> str:
        """The room's air from a sensor's own table; what it gave, in words."""
        try:
            text = path.read_text(encoding="utf-8", errors="replace")
        except OSError:
            raise DribbetError(dry_words.CANNOT_BE_READ(name=path.name)) from None
        new = acts.bring_in(self.desk, from_table(text, self.desk.now().tzinfo))
        self.turn_to(Asking.NOTHING)
        return dry_words.brought_in(new)

    def _choose_treatment(self, kind: After) -> None:
        if aftercare.lasts(kind):
            self.kind = kind
            self.mode = Asking.FIGURES
            self.desk.changed()
            return
        acts.treat(self.desk, self._need_subject(), kind)
        self.mode = Asking.NOTHING
        self.desk.changed()

    def begin(self, typed: str) -> None:
        """Begin a treatment that takes its time."""
        if self.kind is None:
            raise DribbetError(dry_words.CHOOSE_A_TREATMENT_FIRST)
        celsius, seconds, load_kg = dry_words.typed_figures(self.kind, typed, units_of(self.desk))
        acts.treat(self.desk, self._need_subject(), self.kind, celsius=celsius, seconds=seconds, load_kg=load_kg)
        self.mode, self.kind = Asking.NOTHING, None
        self.desk.changed()

    def finish(self, stuck: Stuck | None = None) -> None:
        """The treatment under way goes on: a bake to its next phase, a hot cup to how it came off."""
        running = self.running(self.desk.need_run())
        if running is None:
            raise DribbetError(dry_words.NOTHING_IS_UNDER_WAY)
        if running.kind is After.HOT_CUP and stuck is None:
            raise DribbetError(dry_words.LIFT_THE_CUP)
        if running.kind is After.BAKE:
            acts.go_on(self.desk, running)
        else:
            acts.finish(self.desk, running, stuck=stuck)

    def _need_subject(self) -> Panel:
        panel = self.subject(self.desk.need_run())
        if panel is None:
            raise DribbetError(dry_words.NO_PANEL_IN_HAND)
        return panel

    def _done(self) -> None:
        self.feel, self.skipped_feel, self.flaws, self.mode = None, False, (), Asking.NOTHING
        self.desk.take("dry", "")
        self.desk.changed()

    def take_back(self) -> None:
        """Take back the last act, or the answer in between."""
        if self.mode is not Asking.NOTHING:
            self.turn_to(Asking.NOTHING)
        elif self.feel is not None or self.skipped_feel:
            self.feel, self.skipped_feel, self.flaws = None, False, ()
            self.desk.changed()
        else:
            self.desk.take("dry", acts.take_back(self.desk))
            self.desk.changed()

    def choose(self, panel_id: str) -> None:
        self.desk.take("dry", panel_id)
        self.feel, self.skipped_feel, self.flaws, self.mode = None, False, (), Asking.NOTHING
        self.desk.changed()
