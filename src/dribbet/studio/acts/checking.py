"""What a person reads of a cup, corrects in it after a check, or keeps as it is. One act, one transaction."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.lab.paint import flow_scale
from dribbet.notebook.store import new_id
from dribbet.records import CORRECTION, Check, CheckKind, DribbetError, Mix, Weighing
from dribbet.studio.standing import pots

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import timedelta

    from dribbet.lab.cup.matching import Outvoted
    from dribbet.studio.desk import Desk


class Checking:
    """Checks at one desk."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def keep(self, mix_id: str, kind: CheckKind, value: float, source: str, *, tool: str = "", seconds: float = 0.0, note: str = "") -> Check:
        """Keep one reading of a cup; a flow cup's time outside the cup's range is refused with the range."""
        made = Check(
            id=new_id(), mix_id=mix_id, kind=kind, value=value, at=self.desk.now(), source=source, tool=tool, seconds=seconds, note=note,
            celsius=self.desk.need_run().series.constants.room_c if kind is CheckKind.FLOW_CUP else None,
        )  # fmt: skip
        if kind is CheckKind.FLOW_CUP:
            flow_scale.viscosity_pa_s(made, density_kg_m3=1.0, rules=self.desk.rules)
        self.desk.notebook.add(made)
        self.desk.changed()
        if not note and (outvoted := self._outvoted(made)) is not None:
            made = replace(made, note=outvoted.value)
            self.desk.notebook.replace(made)
            self.desk.changed()
        return made

    def _outvoted(self, made: Check) -> Outvoted | None:
        """Which of two checks that contradict each other won by this one, to be kept with it: the person's order may change later."""
        run = self.desk.need_run()
        group = next((g for g in pots.groups(run) if any(m.id == made.mix_id for m in pots.cups(run, g))), None)
        found = pots.verdict(self.desk, run, group).pots.get(made.mix_id) if group is not None else None
        return found.outvoted if found is not None and not found.kept else None

    def keep_card(self, cups: Sequence[Mix], runs_m: Sequence[float], later: timedelta) -> None:
        """Runs of a drip card from left to right, one for each colour in the order of the cup."""
        if len(runs_m) != len(cups):
            raise DribbetError(
                f"The card shows {len(runs_m)} drips, this recipe has {len(cups)} colours. Drip one of each, left to right in the order of the cup."
            )
        seconds = self.desk.rules.drip_seconds + later.total_seconds()
        at = self.desk.now() + later
        self.desk.notebook.add(
            *[
                Check(id=new_id(), mix_id=m.id, kind=CheckKind.DRIP, value=v, at=at, source="photo", seconds=seconds)
                for m, v in zip(cups, runs_m, strict=True)
            ]
        )
        self.desk.changed()

    def correct(self, mix: Mix, ingredient: str, kg: float) -> None:
        """Log what was really added after a check; that cup must be checked again."""
        kg = round(kg, 4)
        if not kg > 0.0:
            raise DribbetError("Nothing was added. Type the grams that went in, or leave it.")
        self.desk.notebook.add(Weighing(id=new_id(), mix_id=mix.id, ingredient=ingredient, mass_kg=kg, at=self.desk.now(), source=CORRECTION))
        self.desk.changed()

    def forget(self, mix: Mix, kinds: Sequence[CheckKind]) -> None:
        """Take readings of some kinds back, to read the cup again."""
        old = [c for c in self.desk.need_run().checks if c.mix_id == mix.id and c.kind in kinds]
        self.desk.notebook.replace(*[replace(c, taken_back=True) for c in old])
        self.desk.changed()
