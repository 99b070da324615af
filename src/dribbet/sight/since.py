"""What changed on a panel between two photographs of it, laid over each other by what was read on both: wet and dry, dry and cured.

Both readings are in millimetres of the same panel; what is left between them is how it lay before the camera (turned by quarters) and how exactly its
corners were found. Cells that are on both tell that; which cell is which follows from where they lie.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import numpy as np
from scipy.spatial import cKDTree

from dribbet.sight.swatches import labs

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

NEAR: Final = 0.35  # of the wider of the two: cells whose middles lie nearer than that (or than `NEAR_MM`) may be one
NEAR_MM: Final = 1.0
MOST_SHIFT_MM: Final = 3.0  # corners found twice differ by less
MOST_TIMES: Final = 4.0  # as large or as small in area: more is another cell
LEAST_SHARE: Final = 1 / 3  # of the fewer cells that must be found again, or the two are not laid over each other
CLEARLY: Final = 0.6  # of them, at which other ways to lay the panel are not tried
LEAST_CELLS: Final = 5
CRACK_MM: Final = 1.5  # a crack's line that lies nearer to one of before than this was there already
SURE: Final = 2.0  # standard errors from no change at all
MEDIAN: Final = 1.2533  # standard error of a median over that of a mean, of normal scatter: sqrt(pi / 2)
MAD: Final = 1.4826  # standard deviation over median absolute departure, of normal scatter


@dataclass(frozen=True, slots=True, kw_only=True)
class Since:
    """Change from an earlier to a later reading of one panel."""

    turned: int
    """Quarter turns clockwise by which the panel lay otherwise."""
    pairs: tuple[tuple[int, int], ...]
    """Cells that are on both: earlier and later, in the order of the readings' items."""
    new: tuple[int, ...]
    """Cells of the later reading only,"""
    gone: tuple[int, ...]
    """and of the earlier only."""
    growth: float | None
    """Median ratio of areas, later over earlier, of the cells that are on both; None where too few are."""
    growth_sure: bool
    """Whether that is more than the scatter of single cells explains."""
    crack_mm: float
    """Length of crack more than before."""
    new_cracks: tuple[int, ...]
    """Cracks of the later reading that lie where none was."""
    lightness: float
    """L* more than before, mean over the film."""
    chroma: float
    """C* more than before."""

    @property
    def over_each_other(self) -> bool:
        """Whether enough cells were found again to say which is which."""
        return self.growth is not None


def since(earlier: Mapping[str, Any], later: Mapping[str, Any]) -> Since:
    """Change between two readings of one panel."""
    before, after = (_cells(r) for r in (earlier, later))
    size, other = ((float(r["panel"]["width_mm"]), float(r["panel"]["height_mm"])) for r in (earlier, later))
    best: tuple[int, list[tuple[int, int]], Floats] = (0, [], np.zeros(2))
    for turn in range(4):
        fits = math.isclose(size[turn % 2], other[0], rel_tol=0.02) and math.isclose(size[1 - turn % 2], other[1], rel_tol=0.02)
        if not fits:
            continue
        pairs, shift = _laid_over(_turned(before, turn, size), after)
        if len(pairs) > len(best[1]):
            best = (turn, pairs, shift)
        if len(best[1]) >= CLEARLY * min(len(before), len(after)):
            break  # no other way to lay it can be meant
    turn, pairs, shift = best
    known = len(pairs) >= max(LEAST_CELLS, LEAST_SHARE * min(len(before), len(after)))
    ratios = np.log([after[j, 2] / before[i, 2] for i, j in pairs]) if known else np.zeros(0)
    growth = float(np.exp(np.median(ratios))) if known else None
    sd = MAD * float(np.median(np.abs(ratios - np.median(ratios)))) if known else 0.0
    first, second = ({p[k] for p in pairs} for k in (0, 1))
    return Since(
        turned=turn,
        pairs=tuple(pairs),
        new=tuple(j for j in range(len(after)) if j not in second) if known else (),
        gone=tuple(i for i in range(len(before)) if i not in first) if known else (),
        growth=growth,
        growth_sure=known and abs(float(np.median(ratios))) > SURE * MEDIAN * sd / math.sqrt(len(pairs)),
        crack_mm=float(later["cracks"]["length_mm"]) - float(earlier["cracks"]["length_mm"]),
        new_cracks=_new_cracks(earlier, later, turn, size, shift),
        lightness=_film(later)[0] - _film(earlier)[0],
        chroma=float(later["colour"]["mean_chroma"]) - float(earlier["colour"]["mean_chroma"]),
    )


def _cells(result: Mapping[str, Any]) -> Floats:
    """Middle, area and width of each cell, shape (n, 4)."""
    items = result["cells"]["items"]
    return np.array([(c["x_mm"], c["y_mm"], c["area_mm2"], c["diameter_mm"]) for c in items], np.float64).reshape(-1, 4)


def _turned(cells: Floats, turn: int, size: tuple[float, float]) -> Floats:
    """The same with the panel turned clockwise by so many quarters."""
    made = cells.copy()
    wide, high = size
    for _ in range(turn):
        made[:, 0], made[:, 1] = high - made[:, 1], made[:, 0].copy()
        wide, high = high, wide
    return made


def _laid_over(before: Floats, after: Floats) -> tuple[list[tuple[int, int]], Floats]:
    """Cells that are on both, once a common shift is taken out, and that shift in mm."""
    shift = np.zeros(2)
    pairs: list[tuple[int, int]] = []
    for _ in range(3):
        pairs = _pairs(before, after, shift)
        if not pairs:
            break
        steps = np.array([after[j, :2] - before[i, :2] for i, j in pairs])
        shift = np.clip(np.median(steps, axis=0), -MOST_SHIFT_MM, MOST_SHIFT_MM)
    return pairs, shift


def _pairs(before: Floats, after: Floats, shift: Floats) -> list[tuple[int, int]]:
    """Cells that are nearest to each other, each once, the nearest first."""
    if not len(before) or not len(after):
        return []
    furthest = max(NEAR * max(before[:, 3].max(), after[:, 3].max()), NEAR_MM)
    near = cKDTree(before[:, :2] + shift).sparse_distance_matrix(cKDTree(after[:, :2]), furthest, output_type="ndarray")
    one, other, away = near["i"], near["j"], near["v"]
    reach = np.maximum(NEAR * np.maximum(before[one, 3], after[other, 3]), NEAR_MM)
    times = after[other, 2] / before[one, 2]
    fit = np.flatnonzero((away <= reach) & (times < MOST_TIMES) & (times > 1.0 / MOST_TIMES))
    fit = fit[np.lexsort((other[fit], one[fit], away[fit]))]
    found: list[tuple[int, int]] = []
    taken: tuple[set[int], set[int]] = (set(), set())
    for i, j in zip(one[fit].tolist(), other[fit].tolist(), strict=True):
        if i not in taken[0] and j not in taken[1]:
            taken[0].add(i)
            taken[1].add(j)
            found.append((i, j))
    return found


def _new_cracks(earlier: Mapping[str, Any], later: Mapping[str, Any], turn: int, size: tuple[float, float], shift: Floats) -> tuple[int, ...]:
    """Cracks of the later reading of which most lies where none was."""
    lines = [np.array(line, np.float64) for line in earlier.get("outlines", {}).get("cracks", [])]
    points = np.concatenate(lines) if lines else np.zeros((0, 2))
    there = _turned(np.c_[points, np.zeros((len(points), 2))], turn, size)[:, :2] + shift
    new = []
    for k, line in enumerate(later.get("outlines", {}).get("cracks", [])):
        mine = np.array(line, np.float64)
        far = np.linalg.norm(mine[:, None] - there[None], axis=2).min(axis=1) > CRACK_MM if len(there) else np.ones(len(mine), bool)
        if far.mean() > 0.5:
            new.append(k)
    return tuple(new)


def _film(result: Mapping[str, Any]) -> Floats:
    """Mean colour of the film in CIELAB, from its colours' shares."""
    shares: Sequence[Mapping[str, Any]] = result["colour"]["shares"]
    if not shares:
        return np.zeros(3)
    weight = np.array([float(s["share"]) for s in shares])
    mean: Floats = (labs([s["hex"] for s in shares]) * weight[:, None]).sum(axis=0) / weight.sum()
    return mean
