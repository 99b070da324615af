"""What a person does with a cup: add, count drops, stir, cover, keep, take back, store. One act, one transaction."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles, composition, house_mix, parts
from dribbet.lab.paint import history
from dribbet.notebook.store import new_id
from dribbet.records import (
    AT_THE_SCALE,
    IN_THE_DROPS,
    NO_HEX,
    TAKEN_OUT,
    WATER,
    Bottle,
    BottleKind,
    BottleWeighing,
    Check,
    CheckKind,
    DribbetError,
    MarkKind,
    Mix,
    MixMark,
    Stream,
    Weighing,
    order,
)
from dribbet.studio.standing import cups
from dribbet.studio.standing.mixing import POUR_AT

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

STEP: Final = 4  # digits of a kilogram that a kitchen scale shows
FINE: Final = 6  # of drops, which weigh less than the scale's step
FIRST: Final = {
    MarkKind.WETTED: "Work the powder into a paste without dry crumbs first. Then go on.",
    MarkKind.STIRRED: "Stir first, walls and bottom. Then go on.",
    MarkKind.STRAINED: "Strain it first, into a clean cup: lumps were seen. Then go on.",
    MarkKind.RIM: "Wipe the rim first, and look for lumps. Then go on.",
}
"""What is due before anything more goes in."""


class Mixing:
    """The cup in hand of one desk."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    # ------------------------------------------------------------ what every act does

    def need(self) -> tuple[Run, Mix]:
        """Series and cup in hand; refused where there is none."""
        run = self.desk.need_run()
        mix = cups.in_hand(self.desk, run)
        if mix is None:
            raise DribbetError("No cup is in hand. Draw lots on Ask first.")
        return run, mix

    def _reopen(self, mix: Mix) -> None:
        if mix.done:
            self.desk.notebook.replace(replace(mix, done=False))

    def _keep(self, mix: Mix) -> None:
        self.desk.take("mix", mix.id)
        self.desk.changed()

    def _mark(self, mix: Mix, kind: MarkKind, note: str = "") -> None:
        self.desk.notebook.add(MixMark(id=new_id(), mix_id=mix.id, kind=kind, at=self.desk.now(), note=note))

    def _weigh_in(self, mix: Mix, ingredient: str, kg: float, source: str, drops: int = 0) -> None:
        self.desk.notebook.add(
            Weighing(id=new_id(), mix_id=mix.id, ingredient=ingredient, mass_kg=kg, at=self.desk.now(), source=source, drops=drops)
        )

    def pour_at(self, when: datetime) -> None:
        """Say when this series is to be poured."""
        self.desk.notebook.put_setting(f"{POUR_AT}{self.desk.need_run().series.id}", when.isoformat())
        self.desk.changed()

    # ------------------------------------------------------------ additions

    def enter(self, kg: float, source: str) -> None:
        """Take what was added of the ingredient that is due, or taken out where that was asked for."""
        run, mix = self.need()
        now = cups.filling_of(self.desk, run, mix)
        out = cups.taking_out_kg(self.desk, mix)
        if not out and now.acts:
            raise DribbetError(FIRST[now.acts[0].kind])
        if not out and not now.left:
            raise DribbetError("Everything is in this cup. Press on to the next cup.")
        name = TAKEN_OUT if out else now.left[0][0]
        if not kg > 0.0:
            nothing_out = "Nothing was taken out. Take it out of the cup, or type the grams."
            raise DribbetError(nothing_out if out else f"Nothing was added. Pour {name} in, or type the grams.")
        if out and kg > now.total:
            raise DribbetError(f"Only {now.total * 1e3:.1f} g are in the cup. Type what was really taken out.")
        digits = FINE if name == mix.drop_material and mix.drops else STEP
        with self.desk.notebook.transaction():
            self._reopen(mix)
            self._weigh_in(mix, name, round(kg, digits), source)
            if name == WATER:
                self._mark(mix, MarkKind.WATER, self.water_source(run, mix))
        self.desk.hand.pop(f"take-out/{mix.id}", None)
        self._keep(mix)

    def water_source(self, run: Run, mix: Mix) -> str:
        """Where the water of a cup is from: what its recipe says, else what is usual here."""
        return cups.arm_of(run, mix).held.water_source or self.desk.rules.water_source

    def count_drops(self, count: int | None = None) -> None:
        """Drops that were counted into the cup; the planned number where none is given.

        Of prediluted drops, the medium in them goes into the ledger too.
        """
        run, mix = self.need()
        now = cups.filling_of(self.desk, run, mix)
        if not mix.drops or not now.left or now.left[0][0] != mix.drop_material:
            raise DribbetError("No drops are due in this cup just now.")
        count = mix.drops if count is None else count
        if not 0 < count <= 10_000:
            raise DribbetError("Type how many drops fell in: a whole number above zero.")
        kg = count * cups.drop_kg(self.desk, run, mix)
        with self.desk.notebook.transaction():
            self._reopen(mix)
            self._weigh_in(mix, mix.drop_material, round(kg * mix.drop_share, FINE), "counted", count)
            if mix.drop_share < 1.0:
                self._weigh_in(mix, cups.diluent(run, mix), round(kg * (1.0 - mix.drop_share), FINE), IN_THE_DROPS)
        self._keep(mix)

    def scale_to_paint(self, kg: float) -> tuple[float, float]:
        """Scale the plan of the cup in hand to the paint there is; returns what it comes to, and what was planned.

        Raises
        ------
        DribbetError
            If something is in the cup already, or there is no paint.
        """
        run, mix = self.need()
        if cups.ledger(run, mix):
            raise DribbetError("The plan can only follow the paint in hand before the first addition. Start anew to do so.")
        if not kg > 0.0:
            raise DribbetError(f"No {mix.colour}, no cup. Type the grams that you have.")
        plan = tuple((n, round(x, 7)) for n, x in parts.scaled_to_paint(dict(mix.plan), mix.colour, kg).items())
        before, after = sum(x for _, x in mix.plan), sum(x for _, x in plan)
        drops = round(mix.drops * after / before) if mix.drops else 0
        if mix.drops and not drops:
            raise DribbetError(f"That cup would be too small for one drop of {mix.drop_material}. Mix more, or plan it anew on Ask.")
        self.desk.notebook.replace(replace(mix, plan=plan, drops=drops))
        self._keep(mix)
        return after, before

    # ------------------------------------------------------------ water by eye

    def looks(self, stream: Stream) -> None:
        """What the stream from the stick does after this step of water; logged as a check of the cup as it is now."""
        run, mix = self.need()
        if not cups.by_eye(run, mix):
            raise DribbetError("This cup's water is planned, not by eye. Weigh it in.")
        place = list(Stream).index(stream)
        look = Check(
            id=new_id(), mix_id=mix.id, kind=CheckKind.STREAM, value=float(place), at=self.desk.now(), source=AT_THE_SCALE, note="while thinning"
        )  # fmt: skip
        self.desk.notebook.add(look)
        self._keep(mix)

    def looks_right(self) -> None:
        """The water that is in by now stays: it is this paint's own."""
        run, mix = self.need()
        if not cups.by_eye(run, mix):
            raise DribbetError("This cup's water is planned, not by eye. Weigh it in.")
        self._mark(mix, MarkKind.RIGHT)
        self._keep(mix)

    # ------------------------------------------------------------ what is done with it

    def acted(self) -> None:
        """What was to be done with the cup is done."""
        run, mix = self.need()
        if cups.covered_since(run, mix) is not None and not mix.done:
            self._mark(mix, MarkKind.UNCOVERED)
        else:
            acts = cups.filling_of(self.desk, run, mix).acts
            if not acts:
                raise DribbetError("There is nothing to stir or wipe just now.")
            self._mark(mix, acts[0].kind)
        self._keep(mix)

    def lumps(self) -> None:
        """Lumps were seen: the strainer comes up."""
        _, mix = self.need()
        self._mark(mix, MarkKind.LUMPS)
        self._keep(mix)

    def cover(self) -> None:
        """Cover the cup, or take the cover off."""
        run, mix = self.need()
        self._mark(mix, MarkKind.UNCOVERED if cups.covered_since(run, mix) is not None else MarkKind.COVERED)
        self._keep(mix)

    def contaminate(self, reason: str) -> None:
        """Flag the cup: its panels say so from now on. The same again takes the flag off."""
        run, mix = self.need()
        flags = [m for m in run.marks if m.mix_id == mix.id and m.kind is MarkKind.CONTAMINATED]
        if flags:
            self.desk.notebook.replace(*[replace(m, taken_back=True) for m in flags])
        else:
            self._mark(mix, MarkKind.CONTAMINATED, reason.strip() or "a trace of another cup")
        self._keep(mix)

    def accept(self) -> None:
        """Take the cup as it is, with too much or too little; what it really holds is what the verdict will use."""
        run, mix = self.need()
        now = cups.filling_of(self.desk, run, mix)
        if not now.over and not now.short:
            raise DribbetError("Nothing is over or short in this cup.")
        with self.desk.notebook.transaction():
            self._mark(mix, MarkKind.ACCEPTED)
            self.desk.notebook.replace(replace(mix, kept_over=True))
        self._keep(mix)

    def take_out(self) -> None:
        """Take well-mixed paint out first: ask for it."""
        run, mix = self.need()
        thrift = cups.filling_of(self.desk, run, mix).thrift
        if thrift is None:
            raise DribbetError("Nothing need be taken out: the repair fits.")
        self.desk.hand[f"take-out/{mix.id}"] = f"{thrift.take_out_kg:.6f}"
        self._keep(mix)

    def take_back(self) -> None:
        """Take back the last thing that was entered for the cup in hand: an addition, a stir, a cover, a flag, a look."""
        run, mix = self.need()
        if self.desk.hand.pop(f"take-out/{mix.id}", ""):
            self._keep(mix)
            return
        looked = [c for c in run.checks if c.mix_id == mix.id and c.kind is CheckKind.STREAM and c.source == AT_THE_SCALE]
        entries: list[Weighing | MixMark | Check] = [*cups.ledger(run, mix), *(m for m in run.marks if m.mix_id == mix.id), *looked]
        if not entries:
            raise DribbetError("There is nothing to take back in this cup.")
        *before, last = sorted(entries, key=order)
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(replace(last, taken_back=True))
            if isinstance(last, MixMark) and last.kind is MarkKind.WATER and before:  # it came with the water it speaks of
                self.desk.notebook.replace(replace(before[-1], taken_back=True))
            if isinstance(last, Weighing) and last.source == IN_THE_DROPS and before:  # it came with the drops
                self.desk.notebook.replace(replace(before[-1], taken_back=True))
            if isinstance(last, MixMark) and last.kind is MarkKind.ACCEPTED:
                self.desk.notebook.replace(replace(mix, kept_over=False, done=False))
            elif not isinstance(last, Check):
                self._reopen(mix)
        self._keep(mix)

    def start_anew(self) -> None:
        """Throw the cup away: every entry stays in the ledger as taken back."""
        run, mix = self.need()
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(*[replace(w, taken_back=True) for w in cups.ledger(run, mix)])
            self.desk.notebook.replace(*[replace(m, taken_back=True) for m in run.marks if m.mix_id == mix.id])
            self.desk.notebook.replace(replace(mix, done=False, kept_over=False))
        self.desk.hand.pop(f"take-out/{mix.id}", None)
        self._keep(mix)

    def finish(self) -> None:
        """Call the cup done and go on to the next that is not."""
        run, mix = self.need()
        if not mix.done:
            self.desk.notebook.replace(replace(mix, done=True))
        later = [b.mix for b in cups.all_batches(run) if not b.done and b.mix.id != mix.id]
        self.desk.take("mix", later[0].id if later else mix.id)
        self.desk.changed()

    def choose(self, mix_id: str) -> None:
        """Take another cup in hand."""
        self.desk.take("mix", mix_id)
        self.desk.changed()

    # ------------------------------------------------------------ bottles

    def stored_kg(self, run: Run, mix: Mix) -> float:
        """How much of a cup went into bottles already."""
        mine = [b for b in self.desk.notebook.all(Bottle) if b.mix_id == mix.id]
        return sum(max(b.stored_kg - b.empty_kg, 0.0) for b in mine)

    def store(self, full_kg: float | None = None, empty_kg: float = 0.0) -> Bottle:
        """Put the rest of the cup into a bottle with a code of its own; its weight by the ledger where it was not weighed.

        By the ledger there is left what went in, less what was poured and what was stored before.
        """
        run, mix = self.need()
        held = cups.held(run, mix)
        total = sum(held.values())
        left = max(total - self.stored_kg(run, mix) - poured_kg(run, mix), 0.0)
        if not total or (full_kg is None and left <= bottles.WORTH_G):
            raise DribbetError("Nothing is left in this cup to be stored.")
        if full_kg is not None and full_kg - empty_kg > left + self.desk.rules.tolerance_kg:
            raise DribbetError(f"Only {left * 1e3:.1f} g can be left of this cup. Weigh the bottle empty and full, and type both.")
        raw = house_mix.raw({n: kg / total for n, kg in held.items()}, run.shelf)
        known = {m.key: m for m in run.shelf}
        made = Bottle(
            id=new_id(), code=bottles.next_code(b.code for b in self.desk.notebook.all(Bottle)), kind=BottleKind.MIX,
            name=f"{mix.colour}, {raw.get('water', 0.0) * 100:.0f} % water"[:80], contents=tuple(raw.items()), stored_at=self.desk.now(),
            stored_kg=full_kg if full_kg is not None else left, empty_kg=empty_kg, hex=known[mix.colour].hex if mix.colour in known else NO_HEX,
            silicone=any(n in known and known[n].wash_off for n in raw), activator=mix.colour == cups.arm_of(run, mix).held.activator,
            series_id=run.series.id, mix_id=mix.id,
            grade=float(history.grade_of(mix, run.checks, composition.density_kg_m3(held, run.shelf), self.desk.rules)),
        )  # fmt: skip
        with self.desk.notebook.transaction():
            self.desk.notebook.add(made)
            self._mark(mix, MarkKind.STORED, made.code)
        self._keep(mix)
        return made

    def use_bottle(self, code: str, taken_kg: float | None = None) -> None:
        """Fill the cup in hand from a stored bottle: its raw components go into the ledger, and it waits for its check.

        Raises
        ------
        DribbetError
            If there is no such bottle, it may not go into a test, it is of another colour, holds silicone that the plan has not,
            or less than is taken.
        """
        _, mix = self.need()
        bottle = next((b for b in self.desk.notebook.all(Bottle) if b.code.lower() == code.strip().lower() and not b.finished), None)
        if bottle is None:
            raise DribbetError(f"No bottle on the shelf has the code “{code.strip()}”. Read it off the label again.")
        weighings = self.desk.notebook.all(BottleWeighing, bottle_id=bottle.id)
        stand = bottles.stand(bottle, weighings)
        if stand.barred:
            raise DribbetError(stand.barred)
        if stand.contents.get(mix.colour, 0.0) <= 0.0:
            raise DribbetError(f"{bottle.code} holds {bottle.name}, not {mix.colour}. Take the right bottle, or another cup in hand.")
        if bottle.silicone and mix.drop_material not in stand.contents:
            raise DribbetError(f"There is silicone in {bottle.code}, and none in this recipe. It would spoil the test.")
        if stand.lost_kg >= bottles.WORTH_G:
            lost = f"{stand.lost_kg * 1e3:.1f} g"
            raise DribbetError(f"{bottle.code} lost {lost} of water. Give it back on Shelf first, then it is what its label says.")
        if taken_kg is not None and taken_kg > stand.content_kg + self.desk.rules.tolerance_kg:
            raise DribbetError(f"{bottle.code} holds {stand.content_kg * 1e3:.1f} g. Take at most that, or another bottle.")
        taken = min(taken_kg if taken_kg is not None else sum(kg for _, kg in mix.plan), stand.content_kg)
        gross = (weighings[-1].mass_kg + weighings[-1].water_added_kg - weighings[-1].taken_out_kg) if weighings else bottle.stored_kg
        with self.desk.notebook.transaction():
            self._reopen(mix)
            for name, share in stand.contents.items():
                self._weigh_in(mix, name, round(taken * share, FINE), f"bottle {bottle.code}")
            self.desk.notebook.add(BottleWeighing(id=new_id(), bottle_id=bottle.id, mass_kg=gross, at=self.desk.now(), taken_out_kg=taken))
            if stand.content_kg - taken < bottles.WORTH_G:
                self.desk.notebook.replace(replace(bottle, finished=True))
        self._keep(mix)


def poured_kg(run: Run, mix: Mix) -> float:
    """What went from a cup onto panels, by the plan of those that were filled."""
    filled = {s.panel_id for s in run.steps}
    share = 1.0
    if run.panels and run.panels[0].region:
        left, top, right, bottom = run.panels[0].region
        share = (right - left) * (bottom - top)
    arms = {a.letter: a for a in run.arms}
    mine = [p for p in run.panels if p.id in filled and p.recipe in mix.recipes and mix.block in (0, p.block)]
    return sum(arms[p.recipe].held.poured_kg * arms[p.recipe].cup_share(mix.colour) * share for p in mine)
