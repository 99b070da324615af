"""The parts of telling base from paint, each on fields drawn for it: thresholds are seen from both sides."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dribbet.sight import spread

K = 3.0
HIGH, WIDE = 180, 240
PAINT, BASE = np.array([40.0, 5.0, -20.0], np.float32), np.array([75.0, 3.0, 12.0], np.float32)


def field(base: np.ndarray, colour: np.ndarray = BASE, *, seed: int = 0, stirred: float = 6.0) -> np.ndarray:
    """Stirred paint, and even base where it lies."""
    rng = np.random.default_rng(seed)
    waves = cv2.GaussianBlur(rng.normal(0, 1, (HIGH, WIDE)).astype(np.float32), (0, 0), 6.0)
    lab = PAINT + (waves / waves.std() * stirred)[..., None]
    lab[base] = colour
    return np.asarray(lab + rng.normal(0, 0.4, (HIGH, WIDE, 3)), np.float32)


def quarter(radius: float, corner: int = 0) -> np.ndarray:
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    cx, cy = ((0, 0), (WIDE - 1, 0), (WIDE - 1, HIGH - 1), (0, HIGH - 1))[corner]
    return np.hypot(x - cx, y - cy) < radius


@pytest.mark.parametrize(("corner", "rows", "columns"), [(0, (2, 8), (2, 8)), (1, (2, 8), (32, 38)), (2, (22, 28), (32, 38)), (3, (22, 28), (2, 8))])
def test_corners_are_counted_clockwise_from_the_top_left(corner, rows, columns):
    there = spread._corner((30, 40), corner, 2, 8)
    assert [(s.start, s.stop) for s in there] == [rows, columns]


def test_pieces_that_reach_the_edge_lie_within_a_millimetre_and_a_half_of_it():
    labels = np.zeros((60, 80), np.int32)
    for i, (row, column) in enumerate([(3, 40), (56, 40), (30, 3), (30, 76), (5, 20), (30, 40)], start=1):
        labels[row, column] = i
    assert spread._at_edge(labels, 3.0) == [1, 2, 3, 4]  # 1.5 mm are 4 px
    assert spread._at_edge(labels, 4.0) == [1, 2, 3, 4, 5]


def test_light_over_the_base_is_a_plane_through_what_lies_bare():
    y, x = np.mgrid[0:HIGH, 0:WIDE].astype(np.float32)
    lab = np.stack([70 - 8 * y / HIGH + 5 * x / WIDE, 2 + 0 * x, 10 + 3 * x / WIDE], axis=-1)
    fitted = spread._plane_fit(lab, quarter(80))
    assert np.abs(fitted - lab).max() < 1e-3


def test_solid_is_what_fills_its_hull_and_the_largest_piece_is_counted():
    square = np.zeros((60, 80), bool)
    square[10:40, 10:50] = True
    assert spread._solidity(square) == pytest.approx(30 * 40 / (29 * 39))
    ell = square.copy()
    ell[10:30, 20:50] = False
    assert spread._solidity(ell) < 0.85
    pieces = np.zeros((60, 80), bool)
    pieces[5:15, 5:15] = pieces[30:50, 30:45] = True
    assert spread._largest_share(pieces) == pytest.approx(300 / 400)
    assert spread._largest_share(np.zeros((4, 4), bool)) == 0.0


def test_chance_is_read_along_the_rim_and_dust_is_no_rim():
    region = quarter(90)
    away = cv2.distanceTransform(region.astype(np.uint8), cv2.DIST_L2, 3)
    chance = np.where(away < 12.0, 0.8, 0.1).astype(np.float32)  # 4 mm at 3 px/mm
    assert spread._along_rim(region, chance, K) == pytest.approx(0.8, abs=0.01)
    assert spread._along_rim(region, chance, 2 * K) < 0.55  # the same at twice the scale: half of the rim lies further in
    dusty = region.copy()
    dusty[40:43, 20:23] = False  # a crumb of a millimetre, deep inside
    assert spread._along_rim(dusty, chance, K) == pytest.approx(0.8, abs=0.01)
    holed = region.copy()
    holed[30:42, 20:32] = False  # four millimetres: paint, and its rim counts
    assert spread._along_rim(holed, chance, K) < 0.75
    assert spread._along_rim(np.zeros((HIGH, WIDE), bool), chance, K) == 0.0
    assert spread._along_rim(np.ones((HIGH, WIDE), bool), chance, K) == 0.0


def test_even_corners_of_one_colour_stand_together():
    lab = field(quarter(60) | quarter(60, 2))
    (group,) = [g for g in spread._groups(lab, K, spread.REACH) if len(g) > 1]
    assert [corner for corner, _ in group] == [0, 2]
    assert np.linalg.norm(group[0][1] - BASE) < 1.0
    other = field(quarter(60) | quarter(60, 2))
    other[quarter(60, 2)] += np.array([9.0, 0.0, 0.0], np.float32)  # more than SAME_BASE
    assert all(len(g) == 1 for g in spread._groups(other, K, spread.REACH))
    rough = field(quarter(60))
    rough[quarter(60)] += np.random.default_rng(1).normal(0, 12, (int(quarter(60).sum()), 3)).astype(np.float32)
    assert 0 not in [corner for g in spread._groups(rough, K, spread.REACH) for corner, _ in g]


def test_by_a_narrower_reach_corners_must_be_more_even_and_more_alike():
    """Two corners 6 dE apart are one by 9 dE (8 part them) and two by 4 dE (3.6); a grain of 1.7 dE is even by 9 (2.6) and not by 4 (1.2)."""
    lab = field(quarter(60) | quarter(60, 2))
    lab[quarter(60, 2)] += np.array([6.0, 0.0, 0.0], np.float32)
    assert sorted(len(g) for g in spread._groups(lab, K, 9.0) if g[0][0] == 0) == [2]
    assert sorted(len(g) for g in spread._groups(lab, K, 4.0) if g[0][0] == 0) == [1]
    grainy = field(quarter(60))
    grainy[quarter(60)] = BASE + np.random.default_rng(2).normal(0, 1.7 / 1.54, (int(quarter(60).sum()), 3)).astype(np.float32)
    corners = [[corner for g in spread._groups(grainy, K, reach) for corner, _ in g] for reach in (9.0, 4.0)]
    assert 0 in corners[0]
    assert 0 not in corners[1]


def base_of(bare: np.ndarray, **how: float) -> float:
    """Share of the panel that colour takes for base at the corners."""
    lab = field(bare, **how)
    told = [t.region for group in spread._groups(lab, K, spread.REACH) for t in spread._base_of(lab, group, K, spread.REACH).values()]
    return float(spread._union(told, lab.shape).mean())


def test_a_bare_corner_is_base_by_its_colour():
    assert base_of(quarter(70)) == pytest.approx(quarter(70).mean(), rel=0.05)
    assert base_of(quarter(70) | quarter(50, 2)) == pytest.approx((quarter(70) | quarter(50, 2)).mean(), rel=0.05)


def test_colour_that_lies_within_the_pour_as_well_is_a_paint():
    def disc(radius: float) -> np.ndarray:
        y, x = np.mgrid[0:HIGH, 0:WIDE]
        return np.hypot(x - 150, y - 110) < radius

    corner = quarter(70)
    little = np.sqrt(0.20 * corner.sum() / np.pi)
    assert base_of(corner | disc(little)) > 0.9 * corner.mean()
    assert base_of(corner | disc(1.4 * little)) == 0.0  # 39 %, above ALIKE


def test_a_winding_band_from_a_corner_is_paint():
    band = np.zeros((HIGH, WIDE), np.uint8)
    cv2.polylines(band, [np.array([[0, 0], [90, 20], [100, 90], [30, 110], [25, 160]], np.int32)], False, 1, 22)
    assert base_of(band.astype(bool)) == 0.0


def seen_bases(chance: float, area_px: int, *, at_edge: bool = True) -> list[float]:
    bare = np.zeros((HIGH, WIDE), bool)
    side = round(area_px**0.5)
    left = 0 if at_edge else 60
    bare[60 : 60 + side, left : left + side] = True
    lab = field(bare)
    return [says for _, says in spread._seen_bases(lab, bare * np.float32(chance), np.zeros_like(bare), K)]


def test_network_finds_base_at_the_edge_by_itself():
    (says,) = seen_bases(0.9, 2500)
    assert says == pytest.approx(0.9, abs=0.12)
    assert seen_bases(0.45, 2500) == []  # below an even chance
    assert seen_bases(0.9, 2500, at_edge=False) == []  # base hangs on the edge
    assert seen_bases(0.9, 196) == []  # 22 mm2: too little to be told


def test_further_fields_of_a_known_base_are_found_at_the_edge():
    bare = quarter(60)
    other = np.zeros((HIGH, WIDE), bool)
    other[100:140, 200:] = True
    inside = np.zeros((HIGH, WIDE), bool)
    inside[80:110, 110:150] = True
    lab = field(bare | other | inside)
    plane = np.broadcast_to(BASE, lab.shape).astype(np.float32)
    told = spread._more_of(lab, other * np.float32(0.3), [spread._Base(bare, plane, 9.0)], K)
    assert len(told) == 1
    assert told[0][0].region.mean() == pytest.approx(other.mean(), rel=0.06)
    assert told[0][1] == pytest.approx(0.3, abs=0.05)


@pytest.mark.parametrize(("share", "asked"), [(0.017, False), (0.023, True)])
def test_a_doubt_of_less_than_two_hundredths_is_not_worth_a_question(share, asked):
    corner = quarter((share * HIGH * WIDE * 4 / np.pi) ** 0.5)
    found = spread.find_spread(field(corner), corner * np.float32(0.05), K)
    assert bool(found.doubtful.any()) is asked
    assert found.fraction == 1.0


@pytest.mark.parametrize(("chance", "bare", "asked"), [(0.02, False, False), (0.04, False, True), (0.12, False, True), (0.17, True, False)])
def test_what_colour_takes_for_base_at_a_corner_needs_a_little_of_the_networks_word(chance, bare, asked):
    corner = quarter(70)
    found = spread.find_spread(field(corner), corner * np.float32(chance), K)
    assert (found.fraction < 1.0) is bare
    assert bool(found.doubtful.any()) is asked


@pytest.mark.parametrize(("apart", "chance", "told"), [(30.0, 0.6, "bare"), (30.0, 0.4, "asked"), (7.0, 0.8, "bare"), (7.0, 0.6, "asked")])
def test_what_the_network_sees_needs_to_be_surer_where_a_paint_is_nearly_the_same(apart, chance, told):
    """Away from corners. Where 9 dE take in a paint that runs on over the panel, the chance must be 0.7 instead of 0.55."""
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    bare = np.hypot(x - 120, y) < 55
    lab = field(np.zeros_like(bare), stirred=0.5)
    lab[bare] = np.random.default_rng(4).normal(PAINT + np.array([apart, 0, 0]), 0.3, (int(bare.sum()), 3))
    sees = np.where(bare, chance + 0.12, 0.0).astype(np.float32)  # the rim of the region takes in a little beyond
    found = spread.find_spread(lab, sees, K)
    assert found.fraction == pytest.approx(1 - bare.mean() if told == "bare" else 1.0, abs=0.002)
    assert bool(found.doubtful.any()) == (told == "asked")  # not the paint either, which by 9 dE is one field with the base


def test_edge_of_the_base_is_drawn_at_full_scale():
    """At 8 px/mm, a corner of 30 mm with a lobe of paint: within a tenth of a millimetre all round."""
    size = (640, 480)
    fine = cv2.resize(quarter(90).astype(np.uint8), size, interpolation=cv2.INTER_NEAREST).astype(bool)
    cv2.circle(fine_ := fine.astype(np.uint8), (150, 60), 26, 0, -1)
    bare = fine_.astype(bool)
    small = field(quarter(90))
    lab = cv2.resize(small, size, interpolation=cv2.INTER_LINEAR)
    lab[~bare] = cv2.resize(field(np.zeros((HIGH, WIDE), bool)), size, interpolation=cv2.INTER_LINEAR)[~bare]
    lab[bare] = BASE
    found = spread.find_spread(np.asarray(lab, np.float32), bare * np.float32(0.9), 8.0)
    off = (~found.covered) ^ bare
    rim = cv2.dilate(bare.astype(np.uint8), np.ones((3, 3))) - cv2.erode(bare.astype(np.uint8), np.ones((3, 3)))
    assert off.sum() < 0.8 * rim.sum() / 2  # less than a pixel along the whole rim
    assert found.bare_corners == ("top-left",)


@pytest.mark.parametrize(
    ("certain", "beyond", "runs_on"), [(0.2, BASE, True), (0.9, BASE, False), (0.2, PAINT, False), (0.2, BASE + (0, 4.0, 4.0), True)]
)
def test_a_border_through_one_colour_bounds_no_base_unless_the_network_is_certain(certain, beyond, runs_on):
    """Colours of both sides differ by nothing, by a pour, or by 5.7 dE."""
    region = quarter(90)
    lab = np.where(region[..., None], BASE, np.asarray(beyond, np.float32)).astype(np.float32)
    chance = np.full((HIGH, WIDE), certain, np.float32)
    assert spread._runs_on(spread._Base(region, lab, 9.0), lab, chance, K) is runs_on


def test_a_region_without_a_border_in_view_runs_on_nowhere():
    lab = field(np.ones((HIGH, WIDE), bool))
    assert spread._runs_on(spread._Base(np.ones((HIGH, WIDE), bool), lab, 9.0), lab, np.zeros((HIGH, WIDE), np.float32), K) is False


@pytest.mark.parametrize(("apart", "alike"), [(3.5, False), (2.0, True)])
def test_a_step_counts_by_how_far_the_base_reaches(apart, alike):
    """By 9 dE a step is 6; by 4 dE it is 2.7."""
    region = quarter(90)
    lab = np.where(region[..., None], BASE, BASE + np.array([apart, 0, 0], np.float32)).astype(np.float32)
    chance = np.full((HIGH, WIDE), 0.2, np.float32)
    assert spread._runs_on(spread._Base(region, lab, 9.0), lab, chance, K) is True
    assert spread._runs_on(spread._Base(region, lab, 4.0), lab, chance, K) is alike


@pytest.mark.parametrize(("apart", "read"), [(7.0, True), (2.5, False)])
def test_a_base_that_is_nearly_one_of_the_paints_is_found_by_a_narrower_reach(apart, read):
    """Undyed base beside cream of another field: by 9 dE both are one colour all over the panel."""
    corner = quarter(60)
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    cream = (np.hypot(x - 150, y - 110) < 60) | ((np.hypot(x, y) < 90) & ~corner)
    lab = field(corner | cream)
    lab[cream] = np.random.default_rng(3).normal(BASE + np.array([apart, 0, 0]), 0.4, (int(cream.sum()), 3))
    assert spread._base_of(lab, [(0, BASE)], K, spread.REACH) == {}
    found, unsure = spread._at_corners(lab, corner * np.float32(0.4), K)
    assert bool(found) is read
    assert unsure == []
    if read:
        assert found[0].region.mean() == pytest.approx(corner.mean(), rel=0.06)
        whole = spread.find_spread(lab, corner * np.float32(0.4), K)
        assert whole.bare_corners == ("top-left",)
        assert whole.fraction == pytest.approx(1 - corner.mean(), abs=0.003)
