"""Mix: one cup at a time, what to add now, how much is left, and what to do after an overshoot. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.bench.units import NARROW, Units, percent
from dribbet.lab import cautions, composition
from dribbet.lab.repair import Repair, repair
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Material, Mix, Weighing

if TYPE_CHECKING:
    from dribbet.bench.studio import Run, Studio

TOLERANCE_KG: Final = 0.2e-3
SLOWLY_KG: Final = 4e-3
DEFAULT_CAPACITY_KG: Final = 0.25


@dataclass(frozen=True, slots=True)
class Slice:
    """One amount in the cup, from below: name, weight as text, kg, colour, and how it stands."""

    name: str
    text: str
    kg: float
    hex: str
    state: str
    """done, now, over or planned."""


@dataclass(frozen=True, slots=True)
class TrayCup:
    """One cup of the series on the tray."""

    mix_id: str
    hex: str
    state: str
    group: str


@dataclass(frozen=True, slots=True)
class MixView:
    """Everything the page shows."""

    codes: str = ""
    title: str = ""
    empty: str = ""
    slices: tuple[Slice, ...] = ()
    capacity_kg: float = DEFAULT_CAPACITY_KG
    add_name: str = ""
    add_hint: str = ""
    target_kg: float = 0.0
    """Cumulative weight to reach on the scale."""
    already_kg: float = 0.0
    over: str = ""
    mend: str = ""
    mend_then: str = ""
    note: str = ""
    one_key: str = ""
    finished: bool = False
    tray: tuple[TrayCup, ...] = ()
    tray_note: str = ""
    caution: str = ""


class MixPresenter:
    """Which cup is in hand, and what a press does to it."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio

    # ------------------------------------------------------------ what is so

    def mix(self) -> Mix | None:
        """Cup in hand: the chosen one, else the first that is not done."""
        run = self.studio.run()
        if run is None or not run.mixes:
            return None
        chosen = self.studio.in_hand("mix")
        return next((m for m in run.mixes if m.id == chosen), None) or next((m for m in run.mixes if not m.done), run.mixes[-1])

    def ledger(self, run: Run, mix: Mix) -> list[Weighing]:
        return [w for w in run.weighings if w.mix_id == mix.id]

    def cup(self, run: Run, mix: Mix) -> dict[str, float]:
        """Kilograms in the cup by ingredient."""
        return composition.weighed_in(mix, run.weighings)

    def next_additions(self, run: Run, mix: Mix) -> tuple[list[tuple[str, float]], Repair | None]:
        """What is still to add, in order; with the repair where something went over."""
        held = self.cup(run, mix)
        plan = dict(mix.plan)
        total = sum(plan.values())
        over = {n: held.get(n, 0.0) - kg for n, kg in plan.items() if held.get(n, 0.0) > kg + TOLERANCE_KG}
        mended = None
        if over:
            mended = repair(held, {n: kg / total for n, kg in plan.items()})
            wanted = {n: held.get(n, 0.0) + a for n, a in mended.additions_kg.items()}
        else:
            wanted = plan
        left = [(n, wanted[n] - held.get(n, 0.0)) for n in plan if wanted[n] - held.get(n, 0.0) > TOLERANCE_KG]
        return left, mended

    def view(self) -> MixView:
        run = self.studio.run()
        if run is None:
            return MixView(empty="No question yet. Start one on Ask.", one_key="Go to Ask")
        if run.series.seed is None or not run.mixes:
            return MixView(empty="Nothing to mix yet. Draw lots on Ask, and the cups stand here.", one_key="Go to Ask")
        mix = self.mix()
        assert mix is not None
        units, shelf = self.studio.units, {m.name: m for m in self.studio.shelf()}
        held = self.cup(run, mix)
        left, mended = self.next_additions(run, mix)
        slices = self._slices(run, mix, left, shelf, units)
        tray, tray_note = self._tray(run, mix, shelf)
        arm = next(a for a in run.arms if a.letter == mix.recipes[0])
        share = percent(arm.water_share) + " water" if arm.water_share else "no water"
        base = MixView(
            codes=", ".join(f"{run.series.code}-{c}" for c in mix.recipes),
            title=f"{mix.colour[:1].upper()}{mix.colour[1:]}, {share}",
            slices=slices,
            capacity_kg=max(DEFAULT_CAPACITY_KG, sum(kg for _, kg in mix.plan) * 1.35),
            already_kg=sum(held.values()),
            tray=tray,
            tray_note=tray_note,
            caution=self._caution(mix, left, shelf),
        )
        if mended is not None:
            base = self._with_repair(base, mix, held, mended, units)
        if left:
            name, kg = left[0]
            again = held.get(name, 0.0) > 0
            following = left[1][0] if len(left) > 1 else ""
            hint = "slowly, by the drop" if kg < SLOWLY_KG else "pour steadily, then slow down"
            one = f"Go on to {following}" if following else "The cup is done"
            return replace(
                base, add_name=f"Add {name}{' again' if again and mended else ''}", add_hint=hint, target_kg=base.already_kg + kg, one_key=one
            )
        drops = f" Then {mix.drops} drops of {mix.drop_material}." if mix.drops else ""
        if mix.done:
            return replace(base, finished=True, add_name="Mixed", add_hint="This cup is done.", one_key="Next cup")
        return replace(base, finished=True, add_name="All in", add_hint=f"Stir down to the walls and the bottom.{drops}", one_key="Stirred: next cup")

    def _slices(self, run: Run, mix: Mix, left: list[tuple[str, float]], shelf: dict[str, Material], units: Units) -> tuple[Slice, ...]:
        plan = dict(mix.plan)
        filled: dict[str, float] = {}
        made = []
        for w in self.ledger(run, mix):
            if w.mass_kg <= 0.0:
                continue
            filled[w.ingredient] = filled.get(w.ingredient, 0.0) + w.mass_kg
            over = filled[w.ingredient] > plan.get(w.ingredient, 0.0) + TOLERANCE_KG and not any(s.name == w.ingredient for s in made)
            made.append(Slice(w.ingredient, units.mass_text(w.mass_kg), w.mass_kg, _hex(w.ingredient, shelf), "over" if over else "done"))
        for i, (name, kg) in enumerate(left):
            words = name + (" again" if filled.get(name) else "")
            made.append(Slice(words, units.mass_text(kg), kg, _hex(name, shelf), "now" if i == 0 else "planned"))
        return tuple(made)

    def _with_repair(self, view: MixView, mix: Mix, held: dict[str, float], mended: Repair, units: Units) -> MixView:
        plan = dict(mix.plan)
        over_by = {n: held.get(n, 0.0) - kg for n, kg in plan.items()}
        worst = max(over_by, key=lambda n: over_by[n] / max(plan[n], 1e-9))
        adds = [f"<b>{units.mass_text(kg)} {name}</b>" for name, kg in mended.additions_kg.items() if kg > TOLERANCE_KG]
        total = sum(plan.values())
        words = f"Add {' + '.join(adds)}." if adds else "Nothing more to add."
        then = f"Then it is {percent(plan[worst] / total)} {worst} again. The cup grows to {units.mass_text(mended.total_kg)}."
        note = ""
        if mended.total_kg > view.capacity_kg:
            pour_off = sum(held.values()) * (1.0 - view.capacity_kg / mended.total_kg)
            note = f"That is more than the cup holds. Pour {units.mass_text(pour_off)} off into a spare cup first, or start anew."
        over = f"{units.mass_text(over_by[worst])} too much {worst}" if over_by[worst] > TOLERANCE_KG else ""
        return replace(view, over=over or "Back on the recipe soon", mend=words, mend_then=then, note=note)

    def _tray(self, run: Run, mix: Mix, shelf: dict[str, Material]) -> tuple[tuple[TrayCup, ...], str]:
        cups = []
        for m in run.mixes:
            arm = next(a for a in run.arms if a.letter == m.recipes[0])
            state = "now" if m.id == mix.id else "done" if m.done else "planned"
            cups.append(TrayCup(m.id, _hex(m.colour, shelf), state, f"{run.series.code}-{m.recipes}  {percent(arm.water_share)} water"))
        done = sum(m.done for m in run.mixes)
        return tuple(cups), f"{done} of {len(run.mixes)} mixed"

    def _caution(self, mix: Mix, left: list[tuple[str, float]], shelf: dict[str, Material]) -> str:
        names = [n for n, _ in left[:1]] + ([mix.drop_material] if mix.drops and not left else [])
        for name in names:
            material = shelf.get(name)
            for hazard in material.hazards if material else ():
                return cautions.BY_HAZARD[hazard]
        return ""

    # ------------------------------------------------------------ what a press does

    def enter(self, kg: float, source: str) -> None:
        """Take what was added of the ingredient that is due."""
        run = self.studio.need_run()
        mix = self.mix()
        if mix is None:
            raise DribbetError("No cup is in hand. Draw lots on Ask first.")
        left, _ = self.next_additions(run, mix)
        if not left:
            raise DribbetError("Everything is in this cup. Press on to the next cup.")
        if not kg > 0.0:
            raise DribbetError(f"Nothing was added. Pour {left[0][0]} in, or type the grams.")
        rounded = round(kg * 1e4) / 1e4
        entry = Weighing(id=new_id(), mix_id=mix.id, ingredient=left[0][0], mass_kg=rounded, at=self.studio.now(), source=source)
        with self.studio.notebook.transaction():
            if mix.done:
                self.studio.notebook.replace(replace(mix, done=False))
            self.studio.notebook.add(entry)
        self.studio.take("mix", mix.id)
        self.studio.changed()

    def take_back(self) -> None:
        """Take back the last entry of the cup in hand."""
        run = self.studio.need_run()
        mix = self.mix()
        entries = self.ledger(run, mix) if mix else []
        if not entries or mix is None:
            raise DribbetError("There is nothing to take back in this cup.")
        with self.studio.notebook.transaction():
            self.studio.notebook.replace(replace(entries[-1], taken_back=True))
            if mix.done:
                self.studio.notebook.replace(replace(mix, done=False))
        self.studio.take("mix", mix.id)
        self.studio.changed()

    def start_anew(self) -> None:
        """Throw the cup away: every entry stays in the ledger as taken back."""
        run = self.studio.need_run()
        mix = self.mix()
        if mix is None:
            return
        with self.studio.notebook.transaction():
            self.studio.notebook.replace(*[replace(w, taken_back=True) for w in self.ledger(run, mix)])
            self.studio.notebook.replace(replace(mix, done=False))
        self.studio.changed()

    def finish(self) -> None:
        """Call the cup done and go on to the next that is not."""
        run = self.studio.need_run()
        mix = self.mix()
        if mix is None:
            return
        if not mix.done:
            self.studio.notebook.replace(replace(mix, done=True))
        later = [m for m in run.mixes if not m.done and m.id != mix.id]
        self.studio.take("mix", later[0].id if later else mix.id)
        self.studio.changed()

    def choose(self, mix_id: str) -> None:
        """Take another cup in hand."""
        self.studio.take("mix", mix_id)
        self.studio.changed()

    def all_done(self) -> bool:
        run = self.studio.run()
        return run is not None and bool(run.mixes) and all(m.done for m in run.mixes)


def _hex(name: str, shelf: dict[str, Material]) -> str:
    if name.startswith("water"):
        return "water"
    material = shelf.get(name)
    return material.hex if material else "#9A9A9A"


def still_text(units: Units, target_kg: float, reading_kg: float) -> str:
    """How much is left, or how much it is over."""
    left = target_kg - reading_kg
    return f"{units.mass_figure(abs(left))}{NARROW}{units.mass}"
