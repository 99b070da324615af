"""Figures of a place on the panel that a person points at on Read."""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from dribbet.records import Where
from tests.bench.conftest import press


@pytest.fixture
def ring(window, desk, qtbot):
    """Read with its ring in hand, squared up."""
    desk.choose_series("d1")
    window.walk("read")
    page = window.page("read")
    qtbot.waitUntil(lambda: page.stage.image is not None and not window.jobs.busy(), timeout=30_000)
    press(window, "Z", "Z", "Z")
    assert page.presenter.part is Where.HERE
    return page


def inside(page, x: float, y: float, reach: float) -> int:
    run = page.desk.need_run()
    items = page.presenter.shown(run, page.view.panel).result["cells"]["items"]
    return sum(math.hypot(c["x_mm"] - x, c["y_mm"] - y) <= reach for c in items)


def told(page) -> tuple[float, str]:
    return float(page.view.figures[0].figure), page.view.figures[0].words


def test_a_ring_begins_in_the_middle_and_says_what_lies_in_it(ring):
    wide, high = ring.view.size_mm
    reach = 0.2 * min(wide, high)
    count = inside(ring, wide / 2, high / 2, reach)
    per_dm2, words = told(ring)
    assert words.startswith(f"{count} in the dashed ring.")
    assert per_dm2 == pytest.approx(count / (math.pi * reach**2 / 1e4), rel=0.02)
    assert "press where its middle is" in ring.subline.text()


def test_a_ring_is_drawn_from_its_middle_as_wide_as_it_is_pulled_and_a_press_moves_it(ring):
    start, end = (ring.stage.to_screen(60.0 + d, 50.0).toPoint() for d in (0.0, 25.0))
    QTest.mousePress(ring.stage, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(ring.stage, end)
    QTest.mouseRelease(ring.stage, Qt.MouseButton.LeftButton, pos=end)
    at = ring.presenter.rings[ring.view.panel.id]
    assert (at.x_mm, at.y_mm, at.radius_mm) == pytest.approx((60.0, 50.0, 25.0), abs=0.4)
    assert told(ring)[1].startswith(f"{inside(ring, at.x_mm, at.y_mm, at.radius_mm)} in")
    QTest.mouseClick(ring.stage, Qt.MouseButton.LeftButton, pos=ring.stage.to_screen(100.0, 70.0).toPoint())
    moved = ring.presenter.rings[ring.view.panel.id]
    assert (moved.x_mm, moved.y_mm) == pytest.approx((100.0, 70.0), abs=0.4)
    assert moved.radius_mm == at.radius_mm
    (left, top), (right, bottom) = ring.stage.overlay.inner
    assert ((left + right) / 2, (bottom - top) / 2) == pytest.approx((moved.x_mm, moved.radius_mm))


def test_arrows_move_the_ring_and_it_never_leaves_the_panel(ring):
    wide, high = ring.view.size_mm
    QTest.keyClick(ring.stage, Qt.Key.Key_Right)
    step = ring.presenter.rings[ring.view.panel.id].x_mm - wide / 2
    assert step > 0.0
    QTest.keyClick(ring.stage, Qt.Key.Key_Down)
    assert ring.presenter.rings[ring.view.panel.id].y_mm == pytest.approx(high / 2 + step)
    ring.presenter.move_ring(-1000.0, 1000.0)
    at = ring.presenter.rings[ring.view.panel.id]
    assert (at.x_mm, at.y_mm) == (0.0, high)
    ring.presenter.draw_ring(5.0, 5.0, 0.01)
    assert ring.presenter.rings[ring.view.panel.id].radius_mm == 2.0


def test_a_press_takes_a_cell_in_hand_again_when_the_ring_is_put_away(ring, window):
    press(window, "Z")
    assert ring.presenter.part is Where.WHOLE
    assert not ring.stage.draws_ring
    assert ring.stage.overlay.inner is None
    x, y = ring.stage.overlay.cells[0][0]
    cell = ring.stage.overlay.cells[0]
    middle = QPointF(sum(p[0] for p in cell) / len(cell), sum(p[1] for p in cell) / len(cell))
    QTest.mouseClick(ring.stage, Qt.MouseButton.LeftButton, pos=ring.stage.to_screen(middle.x(), middle.y()).toPoint())
    assert ring.stage.hand_cell is not None
    assert (x, y) != (middle.x(), middle.y())
