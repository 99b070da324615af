"""Figures of notebooks that are not as they should be: the demo's, upset by a rule in what was weighed, read, looked at and planned (kept by `kept`).

The demo's records are whole and plausible, so that many a limit, default and side way of a station is never asked for there. Here records
are missing, hold another's figure, stand at nought, or are a multiple; what no record may hold stays as it was. Nothing of it is true of any
studio: these figures only notice a change which nobody meant. Each panel's, cup's or answer's facts are folded into one figure and one word,
so that many notebooks fit.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import fields, is_dataclass, replace
from datetime import datetime, timedelta
from enum import Enum
from functools import partial
from random import Random
from typing import TYPE_CHECKING, Any

import numpy as np

from dribbet import records
from dribbet.records import Series
from dribbet.records.errors import DribbetError
from dribbet.studio.desk import Desk
from dribbet.studio.standing import again, choosing, fate, labour, panels, pots, rehearsal, scoring, since, turning, verdict

if TYPE_CHECKING:
    from dribbet.notebook import Notebook

SEEDS = range(30)
TURN = 10.0
LOST = {
    "Look": 0.1, "Photo": 0.06, "Reading": 0.06, "Check": 0.06, "Weighing": 0.04, "PanelWeighing": 0.05, "StepMark": 0.04, "Climate": 0.3,
    "Mishap": 0.1, "Panel": 0.06,
}  # fmt: skip
"""Share of each kind that is not there."""
TOUCHED = {"Panel": 0.04, "Photo": 0.02, "Climate": 0.1, "Material": 0.06, "Mix": 0.06, "Reading": 0.10}
"""Share of the figures of each kind that are another's, nought or a multiple; of all other kinds a twelfth."""
ELSE = 1 / 12
KINDS = (*LOST, "Bottle", "Levelled", "Material", "Mix", "MixMark", "Series", "Treated")
STANDS = {
    "id", "series_id", "panel_id", "mix_id", "photo_id", "sha256", "recipe", "code", "name", "place", "sheet", "block", "taken_back", "reader",
    "number", "key", "recipes", "colour", "plan", "settings",
}  # fmt: skip
"""What says which, and not how much."""
OF_A_PLAN = {"constants"}
"""What of a series may be otherwise without its recipes becoming others."""


def _figure(chance: Random, mine: Any, others: Sequence[Any]) -> Any:
    """Another's figure of the same kind, nought, or a multiple."""
    if others and (chance.random() < 0.25 or mine is None or isinstance(mine, (bool, str, Enum))):
        return chance.choice(others)
    if isinstance(mine, datetime):
        return mine + timedelta(hours=float(chance.randint(-30, 30)))
    if isinstance(mine, int) and not isinstance(mine, bool):
        return chance.choice((0, mine + 1, max(mine - 1, 0), 3 * mine))
    if isinstance(mine, float):
        return chance.choice((0.0, round(mine, 1), 0.5 * mine, 1.7 * mine))
    return mine


def _allowed(record: Any, name: str, value: Any) -> Any:
    """With another figure in place, where the record may hold it."""
    try:
        return replace(record, **{name: value})
    except (DribbetError, ValueError, TypeError):
        return record


def _upset(at: str, record: Any, others: Sequence[Any], share: float) -> Any:
    """A record with some of its figures changed, as far as it allows; each by a chance of its own, so that a new field changes no other."""
    for f in fields(record):
        mine, theirs = getattr(record, f.name), [getattr(o, f.name) for o in others]
        if f.name in STANDS or (isinstance(record, Series) and f.name not in OF_A_PLAN):
            continue
        if isinstance(mine, Mapping):
            for k, v in mine.items():
                told = _in_json(f"{at} {f.name} {k}", v, [o[k] for o in theirs if k in o], share)
                if told != v:
                    record = _allowed(record, f.name, {**getattr(record, f.name), k: told})
        elif is_dataclass(mine):
            record = _allowed(record, f.name, _upset(f"{at} {f.name}", mine, [o for o in theirs if type(o) is type(mine)], share))
        elif (chance := Random(f"{at} {f.name}")).random() < share:
            record = _allowed(record, f.name, _figure(chance, mine, theirs))
    return record


def _in_json(at: str, mine: Any, others: Sequence[Any], share: float) -> Any:
    """What a reading holds: its figures at any depth, never its outlines and lists of places."""
    if isinstance(mine, Mapping):
        return {k: _in_json(f"{at} {k}", v, [o[k] for o in others if isinstance(o, Mapping) and k in o], share) for k, v in mine.items()}
    if isinstance(mine, (int, float)) and not isinstance(mine, bool) and (chance := Random(at)).random() < share:
        return _figure(chance, mine, [o for o in others if type(o) is type(mine)])
    return mine


class UpsetNotebook:
    """A notebook that hands out upset records and writes nothing."""

    read_only = True

    def __init__(self, notebook: Notebook, seed: int) -> None:
        self._real = notebook
        self._upset: dict[type, list[Any]] = {}
        for kind in (getattr(records, name) for name in KINDS):
            real, told = notebook.all(kind), []
            for i, one in enumerate(real):
                at = f"{seed} {kind.__name__} {i}"
                chance = Random(at)
                if chance.random() >= LOST.get(kind.__name__, 0.0):
                    told.append(_upset(at, one, chance.choices(real, k=3), TOUCHED.get(kind.__name__, ELSE)))
            self._upset[kind] = told

    def __getattr__(self, name: str) -> Any:
        return getattr(self._real, name)

    def all(self, kind: type, **where: Any) -> list[Any]:
        """All records of a kind that hold these values."""
        if kind not in self._upset:
            return list(self._real.all(kind, **where))
        return [r for r in self._upset[kind] if all(getattr(r, k) == v for k, v in where.items())]

    def among(self, kind: type, field: str, values: Sequence[str]) -> list[Any]:
        """Those whose field is among values."""
        wanted = set(values)
        return [r for r in self.all(kind) if getattr(r, field) in wanted]

    def get(self, kind: type, which: str) -> Any:
        """One record."""
        return next(r for r in self.all(kind) if r.id == which)

    def put_setting(self, name: str, value: Any) -> None:
        """Nothing is written."""


def upset_desk(desk: Desk, seed: int) -> Desk:
    """A desk over an upset notebook, at another moment."""
    now = desk.now() + timedelta(hours=(0, -30, 7, 50, 400)[seed % 5])
    return Desk(UpsetNotebook(desk.notebook, seed), lambda: now)  # type: ignore[arg-type]


def tried(ask: Callable[[], Any]) -> Any:
    """An answer, or that it is refused."""
    try:
        return ask()
    except DribbetError as error:
        return f"refused: {error}"


def beside(desk: Desk, code: str) -> Any:
    """What no other section asks of a test."""
    desk.series_id = next(s.id for s in desk.all_series() if s.code == code)
    run, now = desk.need_run(), desk.now()
    told, letters = verdict.shown(desk, run), "".join(a.letter for a in run.arms)
    asked = [r for r, _ in run.series.responses]
    return {
        "since": [since.since(run, p, r) for p in run.panels for r in run.readings if r.panel_id == p.id],
        "fates": [tried(partial(fate.fates, desk, run, p)) for p in run.panels],
        "labour": labour.of_recipes(run, letters),
        "passed": [(panels.passed(desk, run, p), panels.coat_at(run, p, now)) for p in run.panels],
        "dripping": [panels.dripping(run, now + timedelta(hours=h)) for h in (-600, -100, 0)]
        + [panels.dripping(run, w.at) for w in run.panel_weighings],
        "up": [(p.code, t.kind) for p, t in panels.times_up(desk, now - timedelta(hours=200), now)],
        "rests": [pots.rest_left_s(desk, run, m, now) for m in run.mixes],
        "rested": [pots.rested_h(run, a.letter) for a in run.arms],
        "between": pots.rested_between(desk, run, now - timedelta(hours=400), now),
        "without": [{" ".join(k): v for k, v in verdict.words_without(told, i).items()} for i in range(len(told.panels))],
        "noise": {str(r): [verdict.noise_between(told, r, a, b) for a in letters for b in letters if a < b] for r in asked},
        "liked": [tried(partial(choosing.preferred, run, guests=g)) for g in (False, True)],
        "points": [tried(partial(scoring.points, run, guests=g)) for g in (False, True)],
        "ends": {str(r): (e := scoring.anchors(desk, run, r)) and [(x.series.code, p.code) for x, p in e] for r in asked},
        "again": [(again.can(run, p), again.stands(run, p)) for p in run.panels] + [p.code for p, _ in again.unread(run)],
        "turns": [tried(lambda p=p: (f := turning.forecast(desk, run, p)) and (f.up, f.wet, f.measured)) for p in run.panels],
        "rehearsal": tried(partial(rehearsal.rehearsal, desk, run.series)),
    }


def folded(x: Any) -> list[Any]:
    """All figures of a plain answer as one, and everything else as a short word.

    A figure counts by asinh of a million times itself, with a weight of its place, and the sum by what is left of tens: a change by a thousandth
    shows, at a milligram as at a day, however many others stand beside it.
    """
    figures: list[float] = []
    words = hashlib.sha1(usedforsecurity=False)

    def walk(one: Any) -> None:
        if isinstance(one, dict):
            for k, v in one.items():
                words.update(f"{k}:".encode())
                walk(v)
        elif isinstance(one, list):
            words.update(f"[{len(one)}".encode())
            for v in one:
                walk(v)
        elif isinstance(one, (int, float)) and not isinstance(one, bool):
            figures.append(math.asinh(1e6 * one))
        else:
            words.update(repr(one).encode())

    walk(x)
    weights = 1.0 + np.modf(np.arange(len(figures)) * 0.618)[0]
    return [round(TURN + float(np.dot(weights, figures)) % TURN, 5), words.hexdigest()[:6]]


def upset(desk: Desk, sections: Mapping[str, Callable[[Desk], Any]], plain: Callable[[Any], Any], seed: int) -> Any:
    """All sections over one upset notebook, folded by panel, cup or answer."""
    mine, made = upset_desk(desk, seed), {}
    for name, ask in sections.items():
        told = plain(tried(partial(ask, mine)))
        made[name] = {k: folded(v) for k, v in told.items()} if isinstance(told, dict) else folded(told)
    return made
