"""The network's pass over a panel, the bodies it draws, and what is read from its maps, on small drawn truth."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from dribbet.records import Cancelled
from dribbet.sight import colour, instances, lines, looks, network
from dribbet.sight.breaks import _apart
from dribbet.sight.network import Maps, see
from dribbet.sight.outlines import Outlines, shape_of
from tests.sight import drawn

K = 6.0
TEAL, PAPER = (15, 106, 122), (236, 232, 220)


def disc(shape: tuple[int, int], x: float, y: float, r: float) -> np.ndarray:
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]]
    return np.hypot(columns - x, rows - y) < r


def maps_of(inside: np.ndarray, **planes: np.ndarray) -> Maps:
    nothing = np.zeros(inside.shape, np.float32)
    fine = np.zeros((inside.shape[0] * 2, inside.shape[1] * 2), np.float32)
    told = dict.fromkeys(("rim", "centre", "border", "lacing", "bare"), nothing) | {"cracks": fine, "breaks": fine} | planes
    return Maps(inside=inside.astype(np.float32), **{n: np.asarray(p, np.float32) for n, p in told.items()})


def contour_of(mask: np.ndarray) -> np.ndarray:
    (contour,) = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0]
    return contour


def by_network(maps: Maps, own: np.ndarray, found: Outlines) -> np.ndarray:
    """What the network saw of the only candidate."""
    (row,) = looks.by_network(maps, own, instances.beside_nearby(maps.border, K), looks.Rims.of(found), K)
    return row


def chances(shape: tuple[int, int], **planes: np.ndarray) -> Maps:
    """Maps that are scaled already."""
    nothing = np.zeros(shape, np.float32)
    return Maps(**dict.fromkeys(("inside", "rim", "centre", "border", "lacing", "bare", "cracks", "breaks"), nothing) | planes)


# ---------------------------------------------------------------- one pass


def test_four_pixels_become_twelve_channels_colour_by_colour_and_row_by_row():
    srgb = np.arange(2 * 4 * 3, dtype=np.float32).reshape(2, 4, 3) / 23.0
    folded = network.folded(srgb)
    assert folded.shape == (1, 12, 1, 2)
    expected = [srgb[row, column, colour] * 2 - 1 for colour in range(3) for row in range(2) for column in range(2)]
    np.testing.assert_allclose(folded[0, :, 0, 0], expected, rtol=1e-6)


@pytest.mark.parametrize("k", [5.0, 8.0, 12.0])
def test_maps_cover_the_panel_at_four_px_per_mm_however_fine_the_picture_is(k):
    picture = drawn.flat(round(60 * k), round(40 * k), TEAL, noise=1.0)
    drawn.disc(picture, 30 * k, 20 * k, 4 * k, PAPER)
    maps = see(picture.astype(np.float32) / 255.0, k)
    assert maps.inside.shape == (160, 240)
    assert maps.cracks.shape == (320, 480)
    assert maps.inside[80, 120] > 0.5
    assert maps.inside[20, 20] < 0.2
    assert min(maps.inside.min(), maps.border.min()) >= 0.0
    assert max(maps.inside.max(), maps.cracks.max()) <= 1.0


def test_tiles_leave_no_seam(monkeypatch):
    picture = drawn.marble(1200, 400, seed=3)
    for x in range(80, 1200, 90):
        drawn.disc(picture, x, 200, 22, PAPER)
    srgb = picture.astype(np.float32) / 255.0
    whole = see(srgb, 8.0)
    monkeypatch.setattr(network, "TILE", 320)
    tiled = see(srgb, 8.0)
    for name in ("inside", "border", "cracks", "bare"):
        apart = np.abs(getattr(whole, name) - getattr(tiled, name))
        assert apart.mean() < 2e-3
        assert np.percentile(apart, 99.9) < 0.1


def test_same_picture_is_seen_the_same_again():
    srgb = drawn.marble(320, 240, seed=1).astype(np.float32) / 255.0
    first, second = see(srgb, 8.0), see(srgb, 8.0)
    np.testing.assert_array_equal(first.inside, second.inside)
    np.testing.assert_array_equal(first.cracks, second.cracks)


def test_looking_can_be_called_off_between_tiles():
    def stop(done: int, total: int) -> None:
        if done:
            raise Cancelled

    with pytest.raises(Cancelled):
        see(np.zeros((240, 2000, 3), np.float32), 8.0, report=stop)


# ---------------------------------------------------------------- bodies


def test_cells_that_touch_part_at_the_border_the_network_saw():
    shape = (80, 120)
    left, right = disc(shape, 40, 40, 18), disc(shape, 74, 40, 18)
    inside = np.where(left | right, 0.9, 0.05).astype(np.float32)
    border = np.zeros(shape, np.float32)
    border[:, 56:59] = 0.9
    own = instances.parted(inside, border, 0.5, K)
    assert len(np.unique(own)) == 3
    assert own[40, 35] != own[40, 79] != 0
    assert (own > 0).sum() == (inside > 0.5).sum()
    assert len(np.unique(instances.parted(inside, np.zeros(shape, np.float32), 0.5, K))) == 2


def test_small_body_that_is_all_border_is_one_of_its_own():
    inside = np.where(disc((40, 40), 20, 20, 4), 0.8, 0.0).astype(np.float32)
    border = np.where(inside > 0, 0.9, 0.0).astype(np.float32)
    own = instances.parted(inside, border, 0.5, K)
    assert set(np.unique(own)) == {0, 1}


def test_bodies_drawn_by_many_levels_are_one_outline_with_their_votes():
    inside = np.where(disc((80, 80), 40, 40, 15), 0.95, 0.05).astype(np.float32)
    found, own = instances.find_bodies(inside, np.zeros((80, 80), np.float32), K)
    assert len(found.contours) == 1
    assert found.votes[0].tolist() == [0.0, 7.0]
    assert own.max() == 1
    assert found.shape[0, :2] == pytest.approx((40, 40), abs=0.5)


def test_specks_under_the_least_width_are_no_bodies():
    inside = np.where(disc((40, 40), 20, 20, 2.0), 0.95, 0.05).astype(np.float32)
    found, _ = instances.find_bodies(inside, np.zeros((40, 40), np.float32), K)
    assert found.contours == []
    assert found.shape.shape == (0, 7)


def test_shape_of_a_long_outline():
    box = np.array([[[0, 0]], [[40, 0]], [[40, 10]], [[0, 10]]], np.int32)
    x, y, area, around, solid, fit, long_ = shape_of(box)
    assert (x, y, area, around) == (20.0, 5.0, 400.0, 100.0)
    assert solid == 1.0
    assert fit == pytest.approx(math.sqrt(144) / (4 * math.pi))  # area / (4 pi sqrt(40^2 / 12 * 10^2 / 12))
    assert long_ == pytest.approx(4.0)
    assert shape_of(np.array([[[0, 0]], [[5, 5]]], np.int32)) is None


# ---------------------------------------------------------------- what is read from the maps


def test_candidate_that_is_the_networks_own_body_agrees_with_it():
    shape = (80, 80)
    body = disc(shape, 40, 40, 15)
    inside = np.where(body, 0.9, 0.1).astype(np.float32)
    found, own = instances.find_bodies(inside, np.zeros(shape, np.float32), K)
    row = by_network(maps_of(inside), own, found)
    assert len(row) == looks.BY_NETWORK
    assert row[0] == pytest.approx(0.9, abs=1e-3)  # chance of a cell within
    assert row[29] == pytest.approx(1.0)  # lies on one body
    assert row[30] == pytest.approx(math.log(found.shape[0, 2] / body.sum()), abs=1e-4)
    assert row[31] == pytest.approx(0.9, abs=1e-3)
    assert row[32] == pytest.approx(float(inside.mean()), abs=1e-4)


def test_candidate_where_the_network_saw_nothing_has_no_body():
    shape = (80, 80)
    contour = contour_of(disc(shape, 40, 40, 15))
    found = Outlines(contours=[contour], shape=np.array([shape_of(contour)]), votes=np.zeros((1, 2)))
    row = by_network(maps_of(np.zeros(shape, np.float32)), np.zeros(shape, np.int32), found)
    assert row[[29, 30, 31]].tolist() == [0.0, looks.NO_BODY, 0.0]


def test_what_is_seen_along_a_line_is_its_mean_there():
    """A straight line of 200 px; the network is sure of its left half."""
    picture = drawn.flat(300, 200, PAPER, noise=0.5)
    drawn.line(picture, [(40, 100), (260, 100)], 3, (28, 26, 25))
    lab = colour.lab_of(picture.astype(np.float32) / 255.0)
    cracks = np.zeros((200, 300), np.float32)
    cracks[95:105, :150] = 0.8
    maps = chances((200, 300), breaks=cracks, border=np.full((200, 300), 0.25, np.float32))
    film = np.ones(lab.shape[:2], bool)
    scene = lines.Scene.of(lab, colour.modes(lab)[0], np.zeros(lab.shape[:2], np.uint16), film, maps, 8.0)
    found = lines.find_segments(scene, lines.DARK)
    assert len(found.features) == 1
    assert found.features.shape[1] == lines.COLUMNS
    row = found.features[0, lines.BY_PICTURE :]
    assert row[0] == pytest.approx(0.4, abs=0.03)
    assert row[1] == pytest.approx(0.5, abs=0.03)
    assert row[2:6].tolist() == pytest.approx([0.0, 0.25, 0.0, 0.0])
    assert row[7] == pytest.approx(row[0])
    assert row[8] == pytest.approx(100 * 10 * 150 / (200 * 300), abs=1e-3)


def test_crack_of_the_paints_own_lightness_is_a_ridge_where_the_network_saw_one():
    lab = np.zeros((200, 300, 3), np.float32) + np.float32([60.0, 0.0, 0.0])
    cracks = np.zeros((200, 300), np.float32)
    cracks[99:102, 40:260] = 0.9
    maps = chances((200, 300), breaks=cracks)
    still = lines.Scene.of(lab, np.zeros((0, 3)), np.zeros((200, 300), np.uint16), np.ones((200, 300), bool), maps, 8.0)
    assert [len(lines.find_segments(still, polarity).features) for polarity in lines.RIDGES] == [0, 0, 1]
    assert lines.find_segments(still, lines.SEEN).length_px.sum() == pytest.approx(220, abs=5)


def test_line_that_a_ridge_showed_already_is_not_counted_again():
    """0.6 mm to either side is the same line at 10 px/mm; what is left over must be 1.5 mm long."""
    known = np.zeros((60, 200), bool)
    known[30, 20:120] = True
    seen = np.zeros((60, 200), bool)
    seen[33, 20:118] = True
    assert not _apart(seen, known, 6.0, 15.0).any()
    seen[33, 118:180] = True  # it goes on where the ridge ends
    left = _apart(seen, known, 6.0, 15.0)
    assert np.flatnonzero(left.any(axis=0)).tolist() == list(range(126, 180))
    seen[33, 140:] = False  # 14 px more than the ridge are no piece of their own
    assert not _apart(seen, known, 6.0, 15.0).any()
    apart = np.zeros((60, 200), bool)
    apart[37, 20:118] = True
    assert _apart(apart, known, 6.0, 15.0).sum() == 98


@pytest.mark.parametrize(("reach_px", "share"), [(20.0, 1.0), (16.0, 0.0)])
def test_a_neighbour_is_looked_for_just_outside_the_rim(reach_px, share):
    """0.45 mm outside a rim of 15 px is at 17.7 px."""
    shape = (100, 100)
    contour = contour_of(disc(shape, 50, 50, 15))
    found = Outlines(contours=[contour], shape=np.array([shape_of(contour)]), votes=np.zeros((1, 2)))
    row = by_network(maps_of(disc(shape, 50, 50, reach_px)), np.zeros(shape, np.int32), found)
    assert row[14 + 2 * len(looks.NEAR_RIM_MM)] == share
