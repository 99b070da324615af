"""Round panels: the rim is found, the table beyond it is no panel, and figures are of the disc."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.records import Sign, Where
from dribbet.sight import measure as sight
from dribbet.sight import patches, zones
from dribbet.sight.card import find_card
from dribbet.sight.corrected import face_mm2, without_cell
from dribbet.sight.geometry import apply, homography
from dribbet.sight.round_corners import find_round
from dribbet.sight.round_face import Disc, rim_on

PALETTE = ("#F2EBDD", "#1F4E5F", "#2E7D6B", "#C88A2B")


def drawn(wide: float, high: float, seed: int, **more: float):
    return draw_panel(
        Pour(
            width_mm=wide, height_mm=high, palette=PALETTE, shares=(3, 2, 2, 1), seed=seed, cells_per_dm2=24.0, cell_mm=4.0, rim_lines=0.2,
            base="#D2CCBC", **more,
        )
    )  # fmt: skip


def off_rim(truth, corners, wide: float, high: float) -> tuple[float, float]:
    """How far a found rim lies from the true one at most, and the found middle from the true one, mm."""
    turn = np.linspace(0.0, 2.0 * np.pi, 90)
    rim = np.stack([wide / 2 * (1 + np.cos(turn)), high / 2 * (1 + np.sin(turn))], axis=1)
    there = apply(np.linalg.inv(homography(truth, wide, high)), apply(homography(corners, wide, high), np.vstack([rim, [wide / 2, high / 2]])))
    away = np.hypot(there[:-1, 0] / (wide / 2) - 1, there[:-1, 1] / (high / 2) - 1)
    return float(np.abs(away - 1).max()) * min(wide, high) / 2, float(np.linalg.norm(there[-1] - [wide / 2, high / 2]))


@pytest.mark.parametrize(("wide", "high", "seed", "shot"), [(120, 120, 1, {}), (150, 100, 3, {}), (120, 120, 5, {"tilt": 0.12, "table": "#C8B89A"})])
def test_the_rim_of_a_round_panel_is_found_and_the_card_tells_how_the_camera_leaned(wide, high, seed, shot):
    photo, truth = photograph(drawn(wide, high, seed), Shot(seed=seed, width_px=1600, height_px=1200, noise=0.004, **shot), is_round=True)
    found = find_round(photo, wide, high, find_card(photo))
    rim, middle = off_rim(truth, found.corners_px, wide, high)
    assert found.sure
    assert rim < 0.15
    assert middle < 0.15


def test_without_the_card_the_rim_is_found_and_the_lean_is_said_to_be_unknown():
    photo, truth = photograph(drawn(120, 120, 2), Shot(seed=2, width_px=1600, height_px=1200, noise=0.004, card=False), is_round=True)
    found = find_round(photo, 120, 120, None)
    assert off_rim(truth, found.corners_px, 120, 120)[0] < 0.15
    assert found.seen.sign is Sign.LEAN_UNKNOWN
    assert "card" in found.doubt


def test_a_round_panel_of_another_size_than_stated_is_asked_about():
    photo, _ = photograph(drawn(120, 120, 1), Shot(seed=1, width_px=1600, height_px=1200, noise=0.004), is_round=True)
    found = find_round(photo, 130, 130, find_card(photo))
    assert found.seen.sign is Sign.CORNERS_SIZE
    assert found.seen.figures == pytest.approx((120.0, 120.0), abs=0.5)


@pytest.fixture(scope="module")
def read():
    """A round panel with cells and cracks, its photograph's true corners, and what is read there."""
    panel = drawn(110, 110, 4, crack_mm=180.0)
    photo, corners = photograph(panel, Shot(seed=4, width_px=1800, height_px=1350, noise=0.004), is_round=True)
    return panel, sight.measure(sight.Lamps(main=photo), 110, 110, corners_px=corners, disc=Disc.within(110, 110))


def test_what_lies_beyond_the_rim_counts_for_nothing(read):
    _, m = read
    face = m.disc.mask(m.lab.shape, m.px_per_mm)
    assert m.face_share == pytest.approx(math.pi / 4, abs=1e-3)
    for mask in (m.cells.labels > 0, m.spread.covered, m.lacing.mask):
        assert not mask[~face].any()
    told = sight.as_json(m)
    assert told["spread"]["fraction"] == 1.0
    assert told["spread"]["area_mm2"] == pytest.approx(math.pi / 4 * 110**2, rel=2e-3)
    assert told["cells"]["per_dm2"] == pytest.approx(told["cells"]["count"] / (math.pi / 4 * 1.21), rel=2e-3)
    assert told["cells"]["area_fraction"] == pytest.approx(sum(c.area_mm2 for c in m.cells.items) / (math.pi / 4 * 110**2), rel=0.02)
    assert sight.outlines(m)["edge"] == []


def test_cells_of_a_round_panel_are_counted_once_and_end_at_its_rim(read):
    panel, m = read
    face = Disc.within(110, 110).mask(panel.cells.shape, panel.px_per_mm)
    whole, there = (np.bincount(cells.ravel()) for cells in (panel.cells, np.where(face, panel.cells, 0)))
    there = np.pad(there, (0, len(whole) - len(there)))
    true = sum(n > 0.5 * w and np.sqrt(4 * n / np.pi) / panel.px_per_mm >= 1.0 for n, w in zip(there[1:], whole[1:], strict=True))
    assert len(m.cells.items) == pytest.approx(true, rel=0.15)
    for c in m.cells.items:
        assert m.disc.away(*np.array(c.outline_mm).T).max() < 1.01


def test_cracks_of_a_round_panel_are_those_on_it_and_its_rim_is_none(read):
    panel, m = read
    face = Disc.within(110, 110).mask(panel.cracks.shape, panel.px_per_mm)
    share = (panel.cracks & face).sum() / panel.cracks.sum()
    assert m.cracks.length_mm == pytest.approx(panel.crack_mm * share, rel=0.3)
    k = m.px_per_mm
    inner = m.disc.smaller(0.5).mask(m.lab.shape, k)
    assert (m.cracks.mask & ~inner).sum() < 0.1 * m.cracks.mask.sum()


def test_base_at_the_rim_of_a_round_panel_is_bare():
    panel = drawn(110, 110, 6)
    k = panel.px_per_mm
    rng = np.random.default_rng(0)
    x = (np.arange(panel.cells.shape[1]) + 0.5) / k
    bare = np.broadcast_to(x > 88.0, panel.cells.shape)  # a segment of the disc
    base = np.array([0.65, 0.60, 0.50], np.float32) * (1 + 0.01 * rng.standard_normal((*panel.cells.shape, 1)).astype(np.float32))
    panel.linear[bare] = base[bare]
    photo, corners = photograph(panel, Shot(seed=4, width_px=1600, height_px=1200, noise=0.004), is_round=True)
    m = sight.measure(sight.Lamps(main=photo), 110, 110, corners_px=corners, disc=Disc.within(110, 110))
    half = 55.0
    segment = half**2 * math.acos(33.0 / half) - 33.0 * math.sqrt(half**2 - 33.0**2)  # circular segment beyond 33 mm from the middle
    true = 1.0 - segment / (math.pi * half**2)
    least = m.spread.fraction - float(m.spread.doubtful.sum()) / m.disc.mask(m.lab.shape, m.px_per_mm).sum()
    assert min(abs(m.spread.fraction - true), abs(least - true)) < 0.02
    assert m.spread.bare_corners == ()


def test_fill_beyond_the_rim_is_the_paint_within_it():
    disc = Disc.within(10.0, 10.0)
    k = 10.0
    picture = np.add.outer(np.zeros(100), np.arange(100.0))  # colour goes with x
    mirrored, carried = disc.mirrored(picture, k), disc.carried_out(picture, k)
    inside = disc.mask(picture.shape, k)
    for made in (mirrored, carried):
        np.testing.assert_array_equal(made[inside], picture[inside])
    # The corner pixel's middle lies 4.95 mm from the panel's middle each way: 1.40007 of the way out. Mirrored it shows what is at 0.59993 of it,
    # 4.95 * 0.4285 = 2.121 mm from the middle, pixel 28; carried out what is at 0.985 of it, 4.95 * 0.70354 = 3.483 mm from the middle, pixel 15.
    assert (mirrored[0, 0], carried[0, 0]) == (28.0, 15.0)
    assert (mirrored[99, 99], carried[99, 99]) == (71.0, 84.0)


def test_a_disc_seen_by_a_piece_of_its_panel_keeps_its_place():
    disc = Disc.of_piece((200.0, 100.0), (0.5, 0.1, 1.0, 0.9))
    assert (disc.x_mm, disc.y_mm) == pytest.approx((0.0, 40.0))
    assert (disc.half_width_mm, disc.half_height_mm) == (100.0, 50.0)
    assert disc.holds(99.0, 40.0)
    assert not disc.holds(99.0, 60.0)
    assert Disc.of_result({"disc_mm": disc.told}) == disc
    assert Disc.of_result({}) is None


def test_the_rim_is_drawn_where_a_leaning_camera_sees_it():
    corners = np.array([[0.0, 0.0], [100.0, 0.0], [100.0, 100.0], [0.0, 100.0]])
    rim = rim_on(corners, points=4)
    np.testing.assert_allclose(rim, [[100, 50], [50, 100], [0, 50], [50, 0]], atol=1e-4)


def test_rim_and_middle_of_a_round_panel_are_rings(read):
    _, m = read
    told = sight.as_json(m) | {"outlines": sight.outlines(m), "patches": patches.of_measured(m)}
    rim_mm = zones.rim_mm(110.0, 110.0)
    assert rim_mm == pytest.approx(16.5)
    middle, rim = (zones.part_of(told, part) for part in (Where.MIDDLE, Where.RIM))
    share = ((55.0 - rim_mm) / 55.0) ** 2
    assert 1.0 - middle["panel"]["left_out"] == pytest.approx(share, abs=0.01)
    assert middle["panel"]["left_out"] + rim["panel"]["left_out"] == pytest.approx(1.0, abs=0.01)
    assert middle["cells"]["count"] + rim["cells"]["count"] == told["cells"]["count"]
    assert middle["cells"]["per_dm2"] == pytest.approx(middle["cells"]["count"] / (share * math.pi / 4 * 1.21), rel=0.02)
    for part in (middle, rim):
        assert part["spread"]["fraction"] == pytest.approx(1.0, abs=0.02)
    assert middle["spread"]["area_mm2"] + rim["spread"]["area_mm2"] == pytest.approx(told["spread"]["area_mm2"], rel=0.02)
    assert middle["lacing"]["length_mm"] + rim["lacing"]["length_mm"] == pytest.approx(told["lacing"]["length_mm"], rel=0.05, abs=2.0)


def test_a_cell_less_is_counted_on_the_disc(read):
    _, m = read
    told = sight.as_json(m) | {"outlines": sight.outlines(m)}
    made = without_cell(told, 0)
    assert face_mm2(told["panel"]) == pytest.approx(math.pi / 4 * 110**2, rel=2e-3)
    assert made["cells"]["per_dm2"] == pytest.approx((told["cells"]["count"] - 1) / (math.pi / 4 * 1.21), rel=2e-3)
