"""Ring tests drawn with a known ring are read back; what cannot be read says what to do."""

import cv2
import numpy as np
import pytest

from dribbet.sight.arrays import SightError
from dribbet.sight.rings import read_ring

BASES = {"white": (232, 230, 222), "grey": (120, 124, 128), "dark": (40, 44, 50)}


def photo(ratio, *, drop=(15, 106, 122), base="white", radius=110.0, cloud=0.45, tilt=1.0, blur=1.6, noise=3.0, light=0.15, seed=1, size=(900, 1200)):
    """A puddle of base that fills the picture, a drop a little off the middle, and its cloudy ring of `ratio` drop radii."""
    rng = np.random.default_rng(seed)
    tall, wide = size
    y, x = np.mgrid[0:tall, 0:wide].astype(np.float64)
    cx, cy = wide * 0.52, tall * 0.47
    r = np.hypot(x - cx, (y - cy) * tilt)
    share = np.where(r < radius, 1.0, 0.0)
    if ratio:
        ring = (r >= radius) & (r < radius * (1 + ratio))
        share = np.where(ring, cloud, share)
    colour = np.array(BASES[base]) * (1 - share[..., None]) + np.array(drop) * share[..., None]
    colour *= (1.0 + light * (x / wide - 0.5))[..., None]
    colour = cv2.GaussianBlur(colour, (0, 0), blur) + rng.normal(0, noise, colour.shape)
    return np.clip(colour, 0, 255).astype(np.uint8)


@pytest.mark.parametrize("ratio", [0.0, 0.1, 0.2, 0.35, 0.6])
@pytest.mark.parametrize(("base", "drop"), [("white", (15, 106, 122)), ("grey", (200, 60, 60)), ("dark", (230, 226, 214))])
def test_ring_is_read_within_a_twentieth_of_the_drop(ratio, base, drop):
    found = read_ring(photo(ratio, base=base, drop=drop))
    assert found.ratio == pytest.approx(ratio, abs=0.05)
    assert found.drop_px == pytest.approx(110.0, abs=4.0)
    assert (found.x_px, found.y_px) == pytest.approx((1200 * 0.52, 900 * 0.47), abs=4.0)


@pytest.mark.parametrize("changed", [{"blur": 4.0}, {"noise": 8.0}, {"tilt": 1.08}, {"light": 0.4}, {"radius": 60.0}, {"cloud": 0.25}])
def test_worse_photos_are_read_within_a_tenth(changed):
    assert read_ring(photo(0.3, **changed)).ratio == pytest.approx(0.3, abs=0.1)
    assert read_ring(photo(0.0, **changed)).ratio <= 0.1


def test_wider_rings_read_wider():
    found = [read_ring(photo(r, seed=3)).ratio for r in (0.0, 0.15, 0.3, 0.45, 0.7)]
    assert found == sorted(found)


def test_picture_without_a_drop_says_what_to_do():
    with pytest.raises(SightError, match="No drop is seen"):
        read_ring(photo(0.0, drop=BASES["white"]))


def test_drop_at_the_edge_or_too_small_says_what_to_do():
    with pytest.raises(SightError, match="edge of the picture"):
        read_ring(photo(0.0, radius=480.0))
    with pytest.raises(SightError, match="too small"):
        read_ring(photo(0.0, radius=27.0))


@pytest.mark.parametrize(("side", "shift"), [("left", (-1, 0)), ("right", (1, 0)), ("top", (0, -1)), ("bottom", (0, 1))])
def test_drop_that_meets_an_edge_of_the_picture_is_refused_on_every_side(side, shift):
    whole = photo(0.0, radius=110.0, size=(900, 1200))
    cx, cy = 624, 423
    cut = {"left": np.s_[:, cx - 105 :], "right": np.s_[:, : cx + 105], "top": np.s_[cy - 105 :], "bottom": np.s_[: cy + 105]}[side]
    with pytest.raises(SightError, match="edge of the picture"):
        read_ring(np.ascontiguousarray(whole[cut]))


def vignetted(rgb, fall):
    """As a lens darkens the corners: by `fall` along the picture's sides, and as much again in its corners."""
    tall, wide = rgb.shape[:2]
    y, x = np.mgrid[0:tall, 0:wide]
    away = ((x - wide / 2) / (wide / 2)) ** 2 + ((y - tall / 2) / (tall / 2)) ** 2
    return np.clip(rgb * (1.0 - fall * away)[..., None], 0, 255).astype(np.uint8)


PALE = [(244, 243, 238), (236, 228, 206), (222, 226, 230)]  # 5 to 8 delta E from the white base


@pytest.mark.parametrize("drop", PALE)
@pytest.mark.parametrize("ratio", [0.0, 0.2, 0.4])
def test_a_pale_drop_on_a_pale_base_is_read_within_a_tenth(drop, ratio):
    for seed, changed in enumerate(({}, {"noise": 6.0}, {"light": 0.05})):
        found = read_ring(photo(ratio, drop=drop, seed=seed, **changed))
        assert found.ratio == pytest.approx(ratio, abs=0.1)
        assert found.drop_px == pytest.approx(110.0, abs=6.0)


@pytest.mark.parametrize("fall", [0.1, 0.2])
def test_light_that_falls_towards_the_corners_is_neither_drop_nor_ring(fall):
    with pytest.raises(SightError, match="No drop is seen"):
        read_ring(vignetted(photo(0.0, drop=BASES["white"]), fall))
    for drop in (PALE[1], (15, 106, 122)):
        assert read_ring(vignetted(photo(0.3, drop=drop), fall)).ratio == pytest.approx(0.3, abs=0.06)
        assert read_ring(vignetted(photo(0.0, drop=drop), fall)).ratio <= 0.05


@pytest.mark.parametrize(("radius", "ratio"), [(480.0, 0.3), (400.0, 0.0), (400.0, 0.3), (330.0, 0.3), (300.0, 0.6)])
def test_a_drop_that_leaves_too_little_base_is_never_read(radius, ratio):
    with pytest.raises(SightError):
        read_ring(photo(ratio, radius=radius))
