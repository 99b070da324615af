"""Fields between cracks: how much of a rim lies on cracks, and what that leaves of a cell's chance, by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from dribbet.sight import cells as sight
from dribbet.sight.cells import Cell, Cells, told
from dribbet.sight.fields import share_on, without_fields
from dribbet.sight.mended import across
from tests.sight import drawn

K = 8.0
SHAPE = (320, 400)


def box(x: float, y: float, side: float, sureness: float) -> Cell:
    """A square from its top left corner, mm, with ten points on each side."""
    steps = np.arange(10) / 10.0 * side
    rim = [(x + s, y) for s in steps] + [(x + side, y + s) for s in steps]
    rim += [(x + side - s, y + side) for s in steps] + [(x, y + side - s) for s in steps]
    return Cell(
        x_mm=x + side / 2, y_mm=y + side / 2, area_mm2=side**2, diameter_mm=side * math.sqrt(4 / math.pi), circularity=math.pi / 4, elongation=1.0,
        outline_mm=tuple(rim), sureness=sureness,
    )  # fmt: skip


def placed(*cells: Cell, passed_over: tuple[float, ...] = ()) -> Cells:
    labels = np.zeros(SHAPE, np.uint16)
    for number, cell in enumerate(cells, 1):
        half = math.sqrt(cell.area_mm2) / 2
        rows, columns = (slice(round((at - half) * K), round((at + half) * K)) for at in (cell.y_mm, cell.x_mm))
        labels[rows, columns] = number
    return told(cells, labels, 3, passed_over, K)


def crack(*boxes: tuple[float, float, float, float]) -> np.ndarray:
    """Cracks from x, y to x, y in mm."""
    mask = np.zeros(SHAPE, bool)
    for x, y, to_x, to_y in boxes:
        mask[round(y * K) : round(to_y * K), round(x * K) : round(to_x * K)] = True
    return mask


ONE_SIDE = crack((9.0, 9.9, 21.0, 10.1))


def test_share_of_a_rim_on_a_crack_is_that_of_its_side():
    away = np.full(SHAPE, 9.0, np.float32)
    away[:, : round(15.5 * K)] = 0.19  # of the ten points at each of two sides six lie left of it, and all of the left one
    cell = box(10.0, 10.0, 10.0, 0.9)
    assert share_on(cell, away, K) == pytest.approx((6 + 10 + 5) / 40, abs=0.026)
    assert share_on(cell, away + np.float32(0.02), K) == 0.0


def test_what_lies_at_the_panels_edge_is_no_rim():
    away = np.full(SHAPE, 9.0, np.float32)
    away[:, : round(5.0 * K)] = 0.0
    at_edge = box(0.0, 20.0, 10.0, 0.9)  # its left side is the panel's; of the others 5 + 5 of 30 points lie left of 5 mm
    assert share_on(at_edge, away, K) == pytest.approx(9 / 29, abs=0.05)
    assert share_on(box(0.0, 0.0, 0.3, 0.9), away, K) == 0.0


@pytest.mark.parametrize(
    ("sureness", "stays"),
    # eleven of forty points take 0.825 off the log odds, which are not to fall below -0.75: 0.12 of even odds and a little stays, 0.04 does not
    [(0.9, True), (0.53, True), (0.51, False), (0.3, False)],
)
def test_a_cell_whose_side_is_a_crack_is_less_likely_by_a_quarter_of_what_a_whole_rim_takes(sureness, stays):
    found = without_fields(placed(box(10.0, 10.0, 10.0, sureness)), ONE_SIDE, K)
    share = share_on(box(10.0, 10.0, 10.0, sureness), np.where(ONE_SIDE, 0.0, 9.0).astype(np.float32), K)
    assert share == pytest.approx(0.25, abs=0.026)
    odds = math.log(sureness / (1 - sureness)) - 3.0 * 0.275
    assert len(found.items) == stays
    if stays:
        assert found.items[0].sureness == pytest.approx(1 / (1 + math.exp(-odds)), abs=0.005)
        assert found.count_sd == pytest.approx(sight.count_sd([found.items[0].sureness]))
    else:
        assert found.passed_over == (pytest.approx(1 / (1 + math.exp(-odds)), abs=0.005),)
        assert found.count_sd == pytest.approx(sight.count_sd(list(found.passed_over)))
        assert not found.labels.any()


def test_what_is_left_is_numbered_anew_and_a_crack_across_a_cell_says_nothing_against_it():
    large, field, small = box(25.0, 5.0, 12.0, 0.6), box(10.0, 10.0, 10.0, 0.4), box(30.0, 25.0, 6.0, 0.7)
    found = placed(small, large, field, passed_over=(0.2,))
    assert [c.area_mm2 for c in found.items] == [144.0, 100.0, 36.0]
    assert [found.labels[round(c.y_mm * K), round(c.x_mm * K)] for c in found.items] == [1, 2, 3]
    left = without_fields(found, ONE_SIDE | crack((32.3, 20.0, 32.5, 40.0)), K)
    assert [c.area_mm2 for c in left.items] == [144.0, 36.0]
    assert [left.labels[round(c.y_mm * K), round(c.x_mm * K)] for c in left.items] == [1, 2]
    assert set(np.unique(left.labels)) == {0, 1, 2}
    assert left.items[0] == found.items[0]  # nothing lies on its rim
    assert 0.5 < left.items[1].sureness < 0.7  # two of its points do
    assert left.pinholes == 3
    assert left.passed_over[0] == 0.2
    assert len(left.passed_over) == 2


def test_without_cracks_or_cells_nothing_changes():
    found = placed(box(10.0, 10.0, 10.0, 0.4))
    assert without_fields(found, np.zeros(SHAPE, bool), K) is found
    nothing = replace(found, items=(), labels=np.zeros(SHAPE, np.uint16))
    assert without_fields(nothing, ONE_SIDE, K) is nothing


def test_cells_of_a_cracked_panel_are_told_by_its_cracks():
    rgb = drawn.marble(SHAPE[1], SHAPE[0], seed=5)
    centres = np.array([[30.0, 0.0, 0.0], [70.0, 0.0, 0.0]])
    found = placed(box(10.0, 10.0, 10.0, 0.4))
    whole, cracked = (across(found, rgb, (1.0, 1.0, 1.0), centres, np.ones(SHAPE, bool), mask, K) for mask in (ONE_SIDE & False, ONE_SIDE))
    assert whole is found
    assert 100.0 not in [c.area_mm2 for c in cracked.items]
