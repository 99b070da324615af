"""Scores of panels, one thing at a time: the order in which panels come, how well a judge repeats himself, what goes with what.

Each thing is judged for all panels before the next is asked, and liking comes last (a whole impression, formed first, colours every other
score: Thorndike 1920).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final, TypeVar

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Hashable, Mapping, Sequence

    import numpy.typing as npt

C = TypeVar("C", bound="Hashable")

AGAIN: Final = 2  # panels of each thing that come a second time, to see whether one scores the same again
LEAST_RANKED: Final = 5  # panels, below which a rank correlation is said of nothing


@dataclass(frozen=True, slots=True, kw_only=True)
class Given:
    """Points that one panel got for one thing, in the order in which they were given."""

    panel: str
    points: int | None


def order_of(panels: Sequence[str], criteria: Sequence[C], seed: int) -> tuple[tuple[C, str], ...]:
    """Panels by lot for each thing in turn; the first two of each come again at its end.

    Examples
    --------
    >>> [c for c, _ in order_of(["x", "y", "z"], ["cells", "liking"], 1)]
    ['cells', 'cells', 'cells', 'cells', 'cells', 'liking', 'liking', 'liking', 'liking', 'liking']
    """
    rng = np.random.default_rng(seed)
    made: list[tuple[C, str]] = []
    for criterion in criteria:
        turn = [panels[i] for i in rng.permutation(len(panels))]
        made += [(criterion, p) for p in (*turn, *turn[: min(AGAIN, max(len(turn) - 1, 0))])]
    return tuple(made)


def firsts(given: Sequence[Given]) -> dict[str, int | None]:
    """The first points of each panel: what was given again is for repeatability alone."""
    made: dict[str, int | None] = {}
    for g in given:
        made.setdefault(g.panel, g.points)
    return made


def repeats(given: Sequence[Given]) -> tuple[int, int]:
    """How many panels that came twice got the same points or one more or less, and how many came twice and were scored both times."""
    first = firsts(given)
    seen: set[str] = set()
    same = again = 0
    for g in given:
        before = first[g.panel]
        if g.panel in seen and g.points is not None and before is not None:
            again += 1
            same += abs(g.points - before) <= 1
        seen.add(g.panel)
    return same, again


def averaged(by_judge: Sequence[Mapping[str, int | None]]) -> dict[str, float]:
    """Mean points of each panel over sittings, each sitting's own mean taken out and the common one put back: some judges score high, some low.

    Examples
    --------
    >>> averaged([{"a": 1, "b": 2}, {"a": 4, "b": 5}])
    {'a': 2.5, 'b': 3.5}
    """
    told = [{p: float(v) for p, v in one.items() if v is not None} for one in by_judge]
    told = [one for one in told if one]
    if not told:
        return {}
    every = float(np.mean([v for one in told for v in one.values()]))
    level = [every - float(np.mean(list(one.values()))) if len(told) > 1 else 0.0 for one in told]
    panels = dict.fromkeys(p for one in told for p in one)
    return {p: float(np.mean([one[p] + up for one, up in zip(told, level, strict=True) if p in one])) for p in panels}


def goes_with(first: Mapping[str, float], second: Mapping[str, float]) -> float | None:
    """Spearman's rank correlation over panels that have both; None below five of them, or where one is the same of all.

    Examples
    --------
    >>> goes_with({"a": 1, "b": 2, "c": 3, "d": 4, "e": 5}, {"a": 2, "b": 4, "c": 9, "d": 16, "e": 30})
    1.0
    """
    both = [p for p in first if p in second]
    if len(both) < LEAST_RANKED:
        return None
    x, y = _ranks([first[p] for p in both]), _ranks([second[p] for p in both])
    if np.ptp(x) == 0.0 or np.ptp(y) == 0.0:
        return None
    return round(float(np.corrcoef(x, y)[0, 1]), 12)


def _ranks(values: Sequence[float]) -> npt.NDArray[np.float64]:
    """Ranks from 1, those alike share the mean of theirs."""
    v = np.asarray(values, np.float64)
    return np.asarray([(v < x).sum() + ((v == x).sum() + 1) / 2.0 for x in v])
