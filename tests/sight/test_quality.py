"""What a photograph says of its own fitness, at the edge of each sentence; and who touches whom."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from dribbet.records import Sign
from dribbet.sight.cells import touching_share
from dribbet.sight.quality import assess, finest_edge_px
from tests.sight import drawn

K = 8.0
CORNERS = np.array([[0.0, 0.0], [640.0, 0.0], [640.0, 480.0], [0.0, 480.0]])


def signs(flat: np.ndarray, corners: np.ndarray = CORNERS, photo_k: float = K) -> dict[Sign, tuple[float, ...]]:
    return {s.sign: s.figures for s in assess(flat, corners, 80.0, 60.0, K, photo_k).signs}


def grey(width_px: int = 640, height_px: int = 480) -> np.ndarray:
    return drawn.flat(width_px, height_px, (120, 110, 100))


@pytest.mark.parametrize(("near", "far"), [(640.0, 600.0), (600.0, 640.0)])
def test_camera_leans_by_twice_the_log_of_opposite_sides(near, far):
    leaning = np.array([[0.0, 0.0], [far, 0.0], [(far + near) / 2, 480.0], [(far - near) / 2, 480.0]])
    lean = math.degrees(math.atan(2.0 * math.log(640.0 / 600.0)))
    assert assess(grey(), leaning, 80.0, 60.0, K, K).tilt_deg == pytest.approx(lean, abs=1e-6)
    sideways = np.array([[0.0, 0.0], [640.0, (far - near) / 2], [640.0, (far + near) / 2], [0.0, far]])
    assert assess(grey(), sideways, 80.0, 60.0, K, K).tilt_deg == pytest.approx(lean, abs=1e-6)
    assert assess(grey(), CORNERS, 80.0, 60.0, K, K).tilt_deg == 0.0


@pytest.mark.parametrize(("degrees", "sign"), [(19.0, Sign.TILT), (21.0, Sign.STEEP)])
def test_from_20_degrees_the_camera_is_told_to_stand_straight(degrees, sign):
    ratio = math.exp(math.tan(math.radians(degrees)) / 2.0)
    leaning = np.array([[0.0, 0.0], [600.0 * ratio, 0.0], [600.0 * ratio, 480.0], [600.0 * (ratio - 1.0), 480.0]])
    assert signs(grey(), leaning)[sign] == pytest.approx((degrees,), abs=0.1)


def test_glare_is_a_blotch_of_clipped_light_and_has_its_place():
    lit = grey()
    cv2.circle(lit, (480, 120), 60, (255, 255, 255), -1)
    share, x, y = signs(lit)[Sign.GLARE]
    assert share == pytest.approx(np.pi * 60**2 / (640 * 480), rel=0.1)  # its skirt is left out
    assert (x, y) == pytest.approx((480 / 640, 120 / 480), abs=0.01)
    small = grey()
    cv2.circle(small, (480, 120), 18, (255, 255, 255), -1)  # 0.33 % of the panel
    assert Sign.GLARE not in signs(small)
    assert assess(small, CORNERS, 80.0, 60.0, K, K).clipped_share == pytest.approx(np.pi * 18**2 / (640 * 480), rel=0.05)


def test_more_white_than_one_lamp_leaves_is_overexposure():
    lit = grey()
    lit[:, :160] = 255  # a quarter
    assert signs(lit)[Sign.WHITE_OUT] == pytest.approx((0.25,))
    thin = grey()
    thin[:, ::40] = 255  # 2.5 % in hairlines, which no lamp draws
    assert Sign.WHITE_OUT in signs(thin)
    thin = grey()
    thin[:, ::64] = 255  # 1.6 %
    assert Sign.WHITE_OUT not in signs(thin)


@pytest.mark.parametrize(("share", "black"), [(0.55, False), (0.65, True)])
def test_most_of_a_panel_in_the_dark_is_said(share, black):
    dim = grey()
    dim[: round(480 * share)] = 5
    assert (Sign.BLACK in signs(dim)) is black


@pytest.mark.parametrize(("photo_k", "coarse"), [(3.9, True), (4.1, False)])
def test_fewer_than_four_pixels_a_millimetre_are_coarse(photo_k, coarse):
    assert (Sign.COARSE in signs(grey(), photo_k=photo_k)) is coarse


def test_width_of_the_finest_edges_is_that_of_their_blur():
    """A step blurred by s px: range over steepest slope is s sqrt(2 pi), in quadrature with the smoothing by 0.6 px."""
    for s in (1.5, 2.5):
        step = np.full((300, 300), 60, np.uint8)
        step[:, 150:] = 180
        soft = cv2.GaussianBlur(step, (0, 0), s)
        assert finest_edge_px(soft) == pytest.approx(math.hypot(s, 0.6) * math.sqrt(2 * math.pi), rel=0.25)
    assert math.isnan(finest_edge_px(np.full((300, 300), 60, np.uint8)))


@pytest.mark.parametrize(("blur_px", "photo_k", "blurred"), [(1.0, 8.0, False), (2.6, 8.0, True), (2.6, 4.0, False)])
def test_blurred_is_what_is_wider_than_a_sharp_lens_leaves(blur_px, photo_k, blurred):
    """0.65 mm, or 5.5 px of the photograph where those are more: at 4 px/mm they are 1.4 mm."""
    soft = cv2.GaussianBlur(drawn.marble(640, 480), (0, 0), blur_px)
    assert (Sign.BLURRED in signs(soft, photo_k=photo_k)) is blurred


def test_cells_within_two_fifths_of_a_millimetre_touch():
    labels = np.zeros((80, 200), np.uint16)
    labels[20:40, 20:40], labels[20:40, 41:60], labels[20:40, 120:140] = 1, 2, 3
    assert touching_share(labels, 3, 6.0) == pytest.approx(2 / 3)
    labels[43:60, 120:140] = 4  # 3 px below the third: half a millimetre
    assert touching_share(labels, 4, 6.0) == pytest.approx(2 / 4)
    labels[41:43, 120:140] = 4
    assert touching_share(labels, 4, 6.0) == 1.0
    assert touching_share(np.zeros((9, 9), np.uint16), 0, 6.0) == 0.0
