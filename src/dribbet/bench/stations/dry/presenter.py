"""Dry: what dries, what is due, what was found. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.time_bands import BandsView, BandView
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Feel, Look, Panel, Stage
from dribbet.studio.standing import panels as standing
from dribbet.words.night import moved_text
from dribbet.words.parts import Remark, Weight
from dribbet.words.units import in_words, listed, percent, units_of

if TYPE_CHECKING:
    from dribbet.lab.panel import drying
    from dribbet.lab.panel.progress import DueLook
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

LOOK_WORDS: Final = {
    Stage.WET: "Look: level, no fly, no crack?",
    Stage.H12: "Touch a corner. How is it?",
    Stage.H24: "Touch a corner, look for cracks.",
    Stage.H48: "Look for cracks.",
    Stage.DRY: "Press with a nail: dry all through?",
    Stage.D7: "Look for late cracks, in thick corners first.",
    Stage.CURED: "Cured: look once more, and press with a nail.",
}
"""What is looked for at each look."""


@dataclass(frozen=True, slots=True)
class Due:
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
    dues: tuple[Due, ...] = ()
    asking: str = ""
    """What is asked now: feel, crack or nothing."""
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

    def film_m(self, run: Run, panel: Panel) -> tuple[float, bool]:
        """Wet film and whether it was weighed."""
        film = standing.film(self.desk, run, panel)
        return film.wet_m, film.weighed

    def windows(self, run: Run, panel: Panel) -> tuple[drying.Window, ...]:
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

    def view(self) -> DryView:
        run = self.desk.run()
        now = self.desk.now()
        poured = [p for p in run.in_order() if run.poured_at(p) is not None] if run else []
        if run is None or not poured:
            return DryView("Nothing is drying.", "Pour a panel and its band starts here.", None, one_key="Go to Pour", empty=True)
        due, held = self.hand(run), run.series.constants
        start = min(t for p in poured if (t := run.poured_at(p)) is not None)
        start = self.desk.local(start).replace(hour=0, minute=0, second=0, microsecond=0)
        if now - start > timedelta(days=25):
            start = now - timedelta(days=25)
        end = start + timedelta(days=max(14, (now - start).days + 4))
        bands = BandsView(tuple(self._band(run, p, due, now) for p in run.in_order()), start, end, now, f"now, {self.desk.local(now):%H:%M}")
        waiting = len(run.panels) - len(poured)
        days = (now.date() - start.date()).days + 1
        note = f"{run.series.name}, day {days}. {in_words(len(poured)).capitalize()} panels poured"
        note += f", {in_words(waiting)} still to pour." if waiting else "."
        asking = ""
        if due is not None:
            asking = "crack" if self.feel is not None or self.skipped_feel or due.name == "wet" else "feel"
        if due is None:
            nxt = next(iter(run.due_looks(now)), None)
            sentence = f"Nothing is due. {nxt.panel.code} at {self._when(nxt.due, now)}." if nxt else "All looks are made."
            one = "Go to Shoot"
        else:
            touch = "Look at" if asking == "crack" else "Touch a corner of"
            sentence = f"{touch} {due.panel.code} now." if asking == "feel" else f"Is {due.panel.code} cracked anywhere?"
            one = "No crack" if asking == "crack" else "Only look, do not touch"
        return DryView(
            sentence=sentence,
            note=note,
            bands=bands,
            dues=tuple(self._due(run, d, now, due) for d in run.due_looks(now)[:6]),
            asking=asking,
            hand_code=due.panel.code if due else "",
            hand=due.panel if due else None,
            remarks=self._remarks(run, poured, now),
            room=f"Room {units_of(self.desk).temperature_text(held.room_c)}, {percent(held.room_rh)} damp, as planned.",
            one_key=one,
            can_take_back=bool(run.looks),
        )

    def _when(self, moment: datetime, now: datetime) -> str:
        local = self.desk.local(moment)
        if local.date() == self.desk.local(now).date():
            return f"{local:%H:%M}"
        return f"{local:%a %H:%M}" if local - now < timedelta(days=6) else f"{local.day} {local:%b}"

    def _due(self, run: Run, d: DueLook, now: datetime, hand: DueLook | None) -> Due:
        when = "overdue" if d.overdue else "now" if d.now else self._when(d.due, now)
        thick = self.film_m(run, d.panel)
        extra = f" {units_of(self.desk).length_text(thick[0] * 1e3, 1)} film." if thick[1] and self.risk(run, d.panel) > 0.35 else ""
        if not d.now and not d.overdue:
            extra += moved_text(d.moved_s)
        return Due(when, d.panel.code, LOOK_WORDS[Stage(d.name)] + extra, hand is not None and d.panel.id == hand.panel.id)

    def _band(self, run: Run, panel: Panel, due: DueLook | None, now: datetime) -> BandView:
        poured = run.poured_at(panel)
        if poured is None:
            return BandView(panel.id, panel.code, None, words=f"{panel.code}, not poured")
        local = self.desk.local
        poured = local(poured)
        at = [(poured + timedelta(seconds=w.earliest_s), poured + timedelta(seconds=w.latest_s)) for w in self.windows(run, panel)]
        cuts = tuple((local(a), local(b)) for a, b in at)
        looks = [look for look in run.looks if look.panel_id == panel.id]
        cracked = next((local(look.at) for look in looks if look.cracked), None)
        risky = self.risk(run, panel) > 0.35
        crack_from = None
        if cracked is not None:
            before = [look.at for look in looks if look.at < cracked]
            crack_from = local(max(before) if before else poured)
        elif risky:
            crack_from = cuts[0][1]
        mine = next((d for d in run.due_looks(now) if d.panel.id == panel.id), None)
        touch, through = cuts[1], cuts[2]
        words = f"{panel.code}, touch-dry between {touch[0]:%a %H:%M} and {touch[1]:%a %H:%M}"
        words += f", through-dry between {through[0]:%a %H:%M} and {through[1]:%a %H:%M}"
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

    def _remarks(self, run: Run, poured: list[Panel], now: datetime) -> tuple[Remark, ...]:
        made = []
        cracked = [p for p in poured if any(look.cracked for look in run.looks if look.panel_id == p.id)]
        if cracked:
            levels = {p.level for p in cracked}
            codes = listed([p.code.split("-")[-1] for p in cracked])
            same = (
                ", all of one recipe"
                if len({p.recipe for p in cracked}) == 1 and len(cracked) > 1
                else ", all at one level"
                if len(levels) == 1 and len(cracked) > 1
                else ""
            )
            made.append(
                Remark(f"Cracks in {codes}", f"{in_words(len(cracked)).capitalize()} of {in_words(len(poured))} panels{same}.", Weight.CAUTION)
            )
        washed = [p for p in poured if run.arm(p).silicone_drops_per_100g > 0]
        if washed:
            made.append(
                Remark(
                    "Silicone", f"It is on {in_words(len(washed))} of these panels. Varnish will not stick until it is washed off.", Weight.CAUTION
                )
            )
        dry = [self.windows(run, p)[2] for p in poured]
        when = [(run.poured_at(p), w.earliest_s) for p, w in zip(poured, dry, strict=True)]
        first = min((at + timedelta(seconds=s) for at, s in when if at is not None), default=None)
        if first is not None and first > now:
            made.append(Remark("", f"First panel through-dry from {self._when(first, now)} at the earliest."))
        return tuple(made)

    # ------------------------------------------------------------ what an answer does

    def answer_feel(self, feel: Feel | None) -> None:
        """How the corner feels; the question of cracks follows."""
        if self.hand(self.desk.need_run()) is None:
            raise DribbetError("Nothing is due. The next look stands on the right.")
        self.feel, self.skipped_feel = feel, feel is None
        self.desk.changed()

    def answer_crack(self, cracked: bool) -> None:
        """Write the look down."""
        run = self.desk.need_run()
        due = self.hand(run)
        if due is None:
            raise DribbetError("Nothing is due. The next look stands on the right.")
        look = Look(id=new_id(), panel_id=due.panel.id, due=due.name, at=self.desk.now(), feel=self.feel, cracked=cracked)
        self.desk.notebook.add(look)
        self.feel, self.skipped_feel = None, False
        self.desk.take("dry", "")
        self.desk.changed()

    def take_back(self) -> None:
        """Take back the last look, or the answer in between."""
        run = self.desk.need_run()
        if self.feel is not None or self.skipped_feel:
            self.feel, self.skipped_feel = None, False
        elif run.looks:
            last = run.looks[-1]
            self.desk.notebook.replace(replace(last, taken_back=True))
            self.desk.take("dry", last.panel_id)
        else:
            raise DribbetError("There is nothing to take back.")
        self.desk.changed()

    def choose(self, panel_id: str) -> None:
        self.desk.take("dry", panel_id)
        self.feel, self.skipped_feel = None, False
        self.desk.changed()
