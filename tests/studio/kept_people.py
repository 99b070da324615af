"""Figures of what people say: picks and points of two judges, and what follows from photographs that were taken again (kept by `kept`)."""

from __future__ import annotations

import shutil
import tempfile
from dataclasses import replace
from pathlib import Path
from typing import Any

from dribbet.notebook import open_notebook
from dribbet.records import Lamp, Liked, Stage
from dribbet.studio.acts import choosing as acts_of_choosing
from dribbet.studio.acts import scoring as acts_of_scoring
from dribbet.studio.desk import Desk
from dribbet.studio.standing import again, choosing, labour, pots, scoring, turning


def asked_of_people(desk: Desk) -> Any:
    """Two judges who choose and give points by a rule, in a copy of the notebook, and a panel that was photographed again."""
    with tempfile.TemporaryDirectory() as scratch:
        folder, now = Path(scratch) / "Asked.dribbet", desk.now()
        shutil.copytree(desk.notebook.folder, folder)
        mine = Desk(open_notebook(folder), lambda: now)
        made = {}
        for code in ("K2", "D1", "H1"):
            mine.choose_series(next(s.id for s in mine.all_series() if s.code == code))
            for number, (judge, guest) in enumerate((("maker", False), ("guest", True), ("maker", False)), start=1):
                for _ in range(14):
                    sitting = choosing.sitting(mine.need_run(), judge, number, guest=guest)
                    if sitting.pair is not None:
                        left, right = (sum(map(ord, p.code)) % (5 + number) for p in sitting.pair)
                        acts_of_choosing.pick(mine, sitting, Liked.LEFT if left > right else Liked.RIGHT if right > left else Liked.NEITHER)
                    scores = scoring.sitting(mine.need_run(), judge, number, guest=guest)
                    if scores.now is not None:
                        criterion, panel = scores.now
                        acts_of_scoring.score(mine, scores, (sum(map(ord, panel.code + str(criterion))) + number) % 5 + 1)
            run = mine.need_run()
            photo = next(p for p in run.photos if p.stage is Stage.DRY and p.lamp is Lamp.DIFFUSE)
            mine.notebook.add(replace(photo, id=f"again {code}", take=1))
            mine.changed()
            run = mine.need_run()
            panels = {p.id: p.code for p in run.panels}
            ends = {str(r): scoring.anchors(mine, run, r) for r, _ in run.series.responses}
            made[code] = {
                "liked": [choosing.preferred(run, guests=g) for g in (False, True)],
                "points": [
                    found and (found.judges, found.scores, found.same, found.again, found.of)
                    for found in (scoring.points(run, guests=g) for g in (False, True))
                ],
                "orders": [(str(c), p.code) for c, p in scoring.sitting(run, "maker", 9, guest=False).order],
                "anchors": {r: e and [p.code for _, p in e] for r, e in ends.items()},
                "again": [(p.code, again.can(run, p), again.stands(run, p)) for p in run.in_order()],
                "laid": [again.laid(run, p, Stage.DRY, take) for p in run.panels[:3] for take in (0, 1, 2)],
                "unread": [p.code for p, _ in again.unread(run, "nobody")],
                "next": panels.get(again.next_panel(run)),
                "at the bench": labour.of_recipes(run, "".join(a.letter for a in run.arms)),
                "rested": {a.letter: pots.rested_h(run, a.letter) for a in run.arms},
                "forecast": [turning.forecast(mine, run, p) for p in run.in_order()[:2]],
            }
        mine.notebook.close()
    return made
