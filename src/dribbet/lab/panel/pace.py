"""How quickly films dry in this studio against what physics gives: the windows of drying, moved and narrowed by the person's own check-ins.

A window from the physics is read as nine chances in ten that a stage begins in it, on a logarithmic axis. Half of its variance is taken to be the
studio's own (air at the rack, paints, thumbs), shared by all panels and learned; the other half parts one panel from the next and stays. A
check-in says only that a stage has or has not begun by its hour, so each panel gives an interval, and the studio's share is found by Bayes' rule
on a grid: p(shift | looks) ~ N(shift; 0, s) x prod [Phi((ln hi - m - shift) / s) - Phi((ln lo - m - shift) / s)].
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.special import ndtr

from dribbet.lab.panel.drying import DryingWindow, DryStage
from dribbet.records import Feel, Stage

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime

    from dribbet.records import Look

LEARNED: Final = (DryStage.TOUCH, DryStage.THROUGH)
"""Stages that a finger or a nail tells."""
TAIL: Final = 1.6449  # standard deviations from the middle to either end of a window: nine chances in ten lie within
SHARED: Final = 0.5  # of the variance is the studio's
GRID: Final = np.linspace(-3.0, 3.0, 601)
WET: Final = (Feel.MARKS, Feel.TACKY)
DRY: Final = {DryStage.TOUCH: (Feel.FIRM, Feel.HARD), DryStage.THROUGH: (Feel.HARD,)}


@dataclass(frozen=True, slots=True, kw_only=True)
class PaceSeen:
    """What the check-ins of one panel say of one stage: it begins after `after_s`, and by `by_s` (infinite: nobody saw it), `window` expecting it."""

    window: DryingWindow
    after_s: float
    by_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PourPace:
    """How much later than the middle of its window a stage begins here: `shift` in natural logarithms, how sure, and by how many panels."""

    shift: float = 0.0
    sure: float = 1.0
    """Standard deviation of the shift as a share of what was believed before any panel: 1 where nothing was learned."""
    panels: int = 0


def seen(window: DryingWindow, poured: datetime, looks: Sequence[Look]) -> PaceSeen | None:
    """What a panel's looks say of the stage of a window; None where they say nothing."""
    after, by = 0.0, math.inf
    for look in looks:
        hours = (look.at - poured).total_seconds()
        if look.feel in WET:
            after = max(after, hours)
        elif look.feel in DRY[window.stage] or (look.feel is Feel.FIRM and look.due == Stage.DRY):
            by = min(by, hours)
    if after >= by:  # thumbs differ: what was said first and last cannot both be so, and nothing is learned of it
        return None
    return PaceSeen(window=window, after_s=after, by_s=by) if after > 0.0 or by < math.inf else None


def _middle(window: DryingWindow) -> tuple[float, float]:
    """Middle of a window and its standard deviation, in logarithms of seconds."""
    low, high = math.log(window.earliest_s), math.log(window.latest_s)
    return (low + high) / 2.0, (high - low) / 2.0 / TAIL


def learn(told: Sequence[PaceSeen]) -> PourPace:
    """Pace of one stage by the check-ins of many panels.

    >>> w = DryingWindow(stage=DryStage.TOUCH, earliest_s=3600.0, latest_s=14400.0)
    >>> learn([PaceSeen(window=w, after_s=9000.0, by_s=15000.0)] * 5).shift > 0.1
    True
    """
    if not told:
        return PourPace()
    wide = float(np.mean([_middle(s.window)[1] for s in told]))
    shared = wide * math.sqrt(SHARED)
    chances = -0.5 * (GRID / shared) ** 2
    for s in told:
        middle, sd = _middle(s.window)
        own = sd * math.sqrt(1.0 - SHARED)
        high = ndtr((math.log(s.by_s) - middle - GRID) / own) if s.by_s < math.inf else np.ones_like(GRID)
        low = ndtr((math.log(s.after_s) - middle - GRID) / own) if s.after_s > 0.0 else np.zeros_like(GRID)
        chances = chances + np.log(np.maximum(high - low, 1e-12))
    weight = np.exp(chances - chances.max())
    weight /= weight.sum()
    shift = float((weight * GRID).sum())
    return PourPace(shift=shift, sure=min(math.sqrt(float((weight * (GRID - shift) ** 2).sum())) / shared, 1.0), panels=len(told))


def moved(windows: tuple[DryingWindow, ...], paces: Mapping[DryStage, PourPace]) -> tuple[DryingWindow, ...]:
    """Windows as this studio's check-ins have moved them; stages stay in their order."""
    made: list[DryingWindow] = []
    for window in windows:
        pace = paces.get(window.stage)
        if pace is not None and pace.panels:
            middle, sd = _middle(window)
            half = TAIL * sd * math.sqrt(SHARED * pace.sure**2 + 1.0 - SHARED)
            window = replace(window, earliest_s=math.exp(middle + pace.shift - half), latest_s=math.exp(middle + pace.shift + half))
        if made:  # nothing is through-dry before it is touch-dry
            before = made[-1]
            window = replace(window, earliest_s=max(window.earliest_s, before.earliest_s), latest_s=max(window.latest_s, before.latest_s))
        made.append(window)
    return tuple(made)
