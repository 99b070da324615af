"""What a person does at the shelf: a container, a house mix or a leftover is put there, changed, measured; a bottle is capped, weighed, finished."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles, composition, house_mix
from dribbet.lab.cup.recipe import DENSITY_BY_WORD
from dribbet.notebook.store import new_id
from dribbet.records import (
    WATER,
    Bottle,
    BottleKind,
    BottleWeighing,
    DribbetError,
    Gauging,
    GaugingKind,
    Hazard,
    Kind,
    Material,
    Opacity,
    PanelWeighing,
    PanelWeight,
)
from dribbet.studio.standing import panels
from dribbet.studio.standing.shelf import USUAL_DROP_KG

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

STARTING_SOLIDS: Final = {
    Kind.PAINT: 0.4, Kind.MEDIUM: 0.2, Kind.THINNER: 0.0, Kind.BASE: 0.36, Kind.SHIMMER: 0.38, Kind.ADDITIVE: 0.5, Kind.HOUSE_MIX: 0.2,
}  # fmt: skip
"""Share of the wet volume that stays, until the label says better."""
STARTING_DENSITY_KG_M3: Final = 1030.0
PAINT_DENSITY_KG_M3: Final = 1150.0
NAME_LONG: Final = 80
LEFTOVER_HEX: Final = "#8C8C8C"


class Shelving:
    """Acts at the shelf; each is one transaction."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def put(self, name: str, kind: Kind, hex_: str) -> Material:
        """A new container, with starting figures for its kind."""
        return self._add(self._plain(name, kind, hex_))

    def put_house_mix(self, name: str, made_of: tuple[tuple[str, float], ...]) -> Material:
        """A house mix of containers on the shelf: keys and kilograms."""
        if not name:
            raise DribbetError("A house mix needs a name before the = sign, such as cut glue = glue 200, water 100.")
        if not made_of:
            raise DribbetError("Name what the house mix is made of, such as cut glue = glue 200, water 100.")
        known = {m.key: m for m in self.desk.shelf()}
        total = sum(kg for _, kg in made_of)
        main = known[max(made_of, key=lambda p: p[1])[0]]
        plain = self._plain(name, Kind.HOUSE_MIX, main.hex)
        made = replace(plain, made_of=made_of, made_at=self.desk.now(), stock_kg=total, full_kg=total, opacity=main.opacity)
        return self._add(with_figures_of_its_parts(made, self.desk.shelf()))

    def _plain(self, name: str, kind: Kind, hex_: str) -> Material:
        if any(name.lower() in (m.name.lower(), m.key.lower()) for m in self.desk.shelf()):
            raise DribbetError(f"There is a {name} on the shelf already. Give this one another name.")
        usual = PAINT_DENSITY_KG_M3 if kind is Kind.PAINT else STARTING_DENSITY_KG_M3
        density = next((v for k, v in DENSITY_BY_WORD.items() if k in name.lower()), usual)
        return Material(
            id=new_id(), name=name[:NAME_LONG], kind=kind, hex=hex_, density_kg_m3=density, volume_solids=STARTING_SOLIDS[kind],
            opacity=Opacity.OPAQUE, stock_kg=0.0, full_kg=0.25,
        )  # fmt: skip

    def _add(self, m: Material) -> Material:
        self.desk.notebook.add(m)
        self.desk.changed()
        return m

    def change(self, changed: Material) -> None:
        """A container's card as it is now."""
        if changed != self.desk.notebook.get(Material, changed.id):
            self.desk.notebook.replace(changed)
            self.desk.changed()

    def measured(
        self,
        m: Material,
        kind: GaugingKind,
        value: float,
        readings: tuple[float, ...],
        *,
        count: int = 1,
        sample_kg: float = 0.0,
        seconds: float = 0.0,
    ) -> None:
        """A measurement of a container, and its card as it follows from it."""
        made = Gauging(
            id=new_id(), material_id=m.id, kind=kind, value=value, readings=readings, at=self.desk.now(),
            count=count, sample_kg=sample_kg, seconds=seconds, lot=m.lot,
        )  # fmt: skip
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(m)
            self.desk.notebook.add(made)
        self.desk.changed()

    # ------------------------------------------------------------ bottles

    def scrape_together(self, scraped: Sequence[tuple[str, float]], name: str) -> Bottle:
        """A leftover pot: recipes such as K3-a, and kilograms of each one's cup. Silicone that was dropped in at filling is counted."""
        recipes = {f"{s.code}-{a.letter}".lower(): (s.id, a.letter) for s in self.desk.all_series() for a in self.desk.load(s.id).arms}
        parts: list[tuple[Mapping[str, float], float]] = []
        for recipe, kg in scraped:
            place = recipes.get(re.sub(r"\d+$", "", recipe.lower()))
            if place is None:
                raise DribbetError(f"There is no recipe {recipe}. Write it as K3-a.")
            parts.append((with_drops(self.desk.load(place[0]), place[1]), kg))
        contents, oily = bottles.leftover(parts, self.desk.shelf())
        made = Bottle(
            id=new_id(), code=bottles.next_code(b.code for b in self.desk.notebook.all(Bottle)), name=name[:NAME_LONG],
            kind=BottleKind.LEFTOVER, contents=tuple(contents.items()), stored_at=self.desk.now(), stored_kg=sum(kg for _, kg in parts),
            hex=LEFTOVER_HEX, silicone=oily,
        )  # fmt: skip
        self.desk.notebook.add(made)
        self.desk.changed()
        return made

    def keep_run_off(self, panel: Panel) -> Bottle:
        """What ran off a panel goes into the leftover pot of its series, weighed as what its cup gave less what stayed on the panel.

        Raises
        ------
        DribbetError
            If nothing ran off, or it is in the pot already.
        """
        run = self.desk.load(panel.series_id)
        kg = panels.film(self.desk, run, panel).run_off_kg
        if kg <= 0.0 or run.weight(panel, PanelWeight.RUN_OFF) is not None:
            raise DribbetError(f"Nothing of {panel.code} is left to keep.")
        weighed = {w.bottle_id for w in self.desk.notebook.all(BottleWeighing)}
        pots = [b for b in self.desk.notebook.all(Bottle, series_id=run.series.id) if b.kind is BottleKind.LEFTOVER]
        pot = next((b for b in pots if not b.finished and b.id not in weighed and not b.empty_kg), None)
        parts: list[tuple[Mapping[str, float], float]] = [(with_drops(run, panel.recipe), kg)]
        if pot is not None:
            parts.append((dict(pot.contents), pot.stored_kg))
        contents, oily = bottles.leftover(parts, self.desk.shelf())
        total = sum(kg for _, kg in parts)
        if pot is None:
            made = Bottle(
                id=new_id(), code=bottles.next_code(b.code for b in self.desk.notebook.all(Bottle)), name=f"run-off of {run.series.code}",
                kind=BottleKind.LEFTOVER, contents=tuple(contents.items()), stored_at=self.desk.now(), stored_kg=total, hex=LEFTOVER_HEX,
                silicone=oily, series_id=run.series.id,
            )  # fmt: skip
        else:
            made = replace(pot, contents=tuple(contents.items()), stored_kg=total, silicone=pot.silicone or oily)
        with self.desk.notebook.transaction():
            self.desk.notebook.add(PanelWeighing(id=new_id(), panel_id=panel.id, kind=PanelWeight.RUN_OFF, mass_kg=kg, at=self.desk.now()))
            (self.desk.notebook.add if pot is None else self.desk.notebook.replace)(made)
        self.desk.changed()
        return made

    def cap(self, b: Bottle, empty_kg: float, full_kg: float) -> None:
        """A bottle was filled: empty and capped weight, from which its losses are counted."""
        self.desk.notebook.replace(replace(b, empty_kg=empty_kg, stored_kg=full_kg))
        self.desk.changed()

    def weighing(self, b: Bottle, gross_kg: float, water_kg: float = 0.0) -> BottleWeighing:
        """A weighing of a bottle as it would be kept."""
        return BottleWeighing(id=new_id(), bottle_id=b.id, mass_kg=gross_kg, at=self.desk.now(), water_added_kg=water_kg)

    def weigh_bottle(self, b: Bottle, gross_kg: float, water_kg: float) -> None:
        """A stored bottle was weighed again, and water given back."""
        self.desk.notebook.add(self.weighing(b, gross_kg, water_kg))
        self.desk.changed()

    def finish_bottle(self, b: Bottle) -> None:
        """The bottle is empty, or thrown away; its record stays."""
        self.desk.notebook.replace(replace(b, finished=True))
        self.desk.changed()


def with_drops(run: Run, letter: str) -> dict[str, float]:
    """What a recipe's cup holds, with the silicone that was dropped in when the cups were filled."""
    arm = next(a for a in run.arms if a.letter == letter)
    cup = composition.of_cup(run.series, arm, run.mixes, run.weighings, run.shelf)
    drop_kg = next((m.drop_kg for m in run.shelf if m.key == arm.held.silicone and m.drop_kg), USUAL_DROP_KG)
    carrying = sum(layer.share for layer in arm.layers if layer.material in arm.held.silicone_colours)
    silicone = arm.silicone_drops_per_100g * 10.0 * drop_kg * carrying
    if silicone > 0.0 and arm.held.silicone not in cup:
        return {n: s * (1.0 - silicone) for n, s in cup.items()} | {arm.held.silicone: silicone}
    return dict(cup)


def with_figures_of_its_parts(m: Material, shelf: Sequence[Material]) -> Material:
    """A house mix with the density, solids and flags that follow from what is in it.

    Raises
    ------
    DribbetError
        If it is, by way of others, made of itself.
    """
    whole = [*(o for o in shelf if o.id != m.id), m]
    raw = house_mix.raw({m.key: 1.0}, whole)
    known = {o.key: o for o in whole}
    return replace(
        m,
        density_kg_m3=composition.density_kg_m3(raw, whole),
        volume_solids=composition.volume_solids(raw, whole),
        wash_off=any(known[n].wash_off for n in raw if n in known),
        bakeable=all(known[n].bakeable for n in raw if n in known and n != WATER),
        hazards=tuple(h for h in Hazard if any(h in known[n].hazards for n in raw if n in known)),
    )
