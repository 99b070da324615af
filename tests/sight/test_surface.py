"""Two raking photographs: laid exactly over each other, then slopes, pits and bumps of the surface, told apart from flakes and from colours."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.demo.relief import DrawnFault, scattered, shading, surface
from dribbet.lab.plan.responses import doubt_of
from dribbet.records import RecordError, Response
from dribbet.records.results import FaultKind, check_result
from dribbet.sight import geometry, registration, relief, shimmer, zones
from dribbet.sight import measure as sight
from dribbet.sight.arrays import SightError
from dribbet.sight.corrected import without_fault
from dribbet.sight.retold import retold

WIDE, HIGH, K = 120.0, 90.0, 8.0
SHAPE = (round(HIGH * K), round(WIDE * K))
FLAT = Pour(
    width_mm=WIDE, height_mm=HIGH, palette=("#ECE8DC", "#0F6A7A", "#9C2F3C", "#C9902B"), shares=(0.4, 0.3, 0.2, 0.1), seed=11, cells_per_dm2=20.0
)
FAULTS = (
    DrawnFault(x_mm=30.0, y_mm=25.0, width_mm=3.0, height_mm=-0.12),
    DrawnFault(x_mm=70.0, y_mm=60.0, width_mm=4.0, height_mm=0.15),
    DrawnFault(x_mm=95.0, y_mm=30.0, width_mm=2.2, height_mm=-0.10),
)


def ratio_of(height, flakes=0.0, seed=0):
    """Log of the left photograph over the right one, of a surface without colours; flakes turn to either lamp."""
    told = np.log(shading(height, K, "left") / shading(height, K, "right"))
    noise = np.random.default_rng(seed).standard_normal(told.shape).astype(np.float32)
    noise = cv2.GaussianBlur(noise, (0, 0), 0.15 * K)
    return told + np.float32(flakes) * noise / noise.std()


def found(height, flakes=0.0):
    everywhere = np.ones(height.shape, bool)
    return relief.find_relief(ratio_of(height, flakes), np.zeros(height.shape, np.float32), everywhere, K)


def in_band(height):
    """Root mean square slope along the lamps of the waves that the reader counts, straight from the heights."""
    slope = np.gradient(height, axis=1) * K
    spectrum = np.fft.fft2(slope - slope.mean())
    wave = np.hypot(np.fft.fftfreq(height.shape[0], 1 / K)[:, None], np.fft.fftfreq(height.shape[1], 1 / K)[None, :])
    spectrum[(wave < 1 / 8.0) | (wave > 1 / 1.2)] = 0
    return float(np.fft.ifft2(spectrum).real.std())


# ---------------------------------------------------------------- over each other


@pytest.fixture(scope="module")
def flat_photo():
    panel = draw_panel(FLAT)
    return (np.clip(panel.linear, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)


def test_a_nudged_photograph_is_laid_back_to_a_twentieth_of_a_millimetre(flat_photo):
    nudge = np.array([[1.004, 0.006, 7.3], [-0.005, 1.002, -11.1], [4e-7, -3e-7, 1.0]])
    other = cv2.warpPerspective(flat_photo, nudge, SHAPE[::-1], borderMode=cv2.BORDER_REPLICATE)
    darker = (other * np.linspace(0.7, 0.95, SHAPE[1])[None, :, None]).astype(np.uint8)  # under another lamp
    laid = registration.laid_over(darker, flat_photo, K)
    spots = np.array([[x, y] for x in (100.0, 480.0, 860.0) for y in (100.0, 360.0, 620.0)])
    off = np.hypot(*(geometry.apply(laid.matrix, spots) - geometry.apply(nudge, spots)).T) / K
    assert off.max() < 0.05
    assert np.median(off) < 0.02
    everywhere = np.stack([v.ravel() for v in np.meshgrid(np.arange(0.0, SHAPE[1], 8.0), np.arange(0.0, SHAPE[0], 8.0))], axis=1)
    far = np.hypot(*(geometry.apply(nudge, everywhere) - everywhere).T) / K
    assert laid.shift_mm == pytest.approx(math.sqrt((far**2).mean()), rel=0.03)
    assert not laid.lost


def test_the_panels_corners_follow_the_photograph_that_was_nudged(flat_photo):
    laid = registration.Laid(matrix=np.array([[1.0, 0.0, 16.0], [0.0, 1.0, -8.0], [0.0, 0.0, 1.0]]), shift_mm=2.2, alike=0.9)
    corners = np.array([[100.0, 50.0], [1300.0, 50.0], [1300.0, 950.0], [100.0, 950.0]])  # 10 px a mm
    assert registration.corners_of(laid, corners, WIDE, HIGH, K) == pytest.approx(corners + (20.0, -10.0))  # 2 mm to the right, 1 mm up


def test_another_panel_is_lost_and_one_without_colours_stays_where_it_is(flat_photo):
    other = draw_panel(replace(FLAT, seed=12)).linear
    strange = (np.clip(other, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)
    assert registration.laid_over(strange, flat_photo, K).lost
    plain = np.full((*SHAPE, 3), 180, np.uint8)
    laid = registration.laid_over(plain, plain, K)
    assert (laid.shift_mm, laid.lost) == (0.0, False)


# ---------------------------------------------------------------- slopes


def test_a_lamp_brightens_the_slope_that_faces_it():
    """z = x / 10 rises to the right, so it faces the lamp at the left: 1 + 0.1 / tan 25 degrees, through the square root of 1.01."""
    ramp = np.tile(np.arange(60, dtype=np.float32) / K / 10.0, (40, 1))
    left, right = ((1.0 + sign * 0.1 / math.tan(math.radians(25.0))) / math.sqrt(1.01) for sign in (1, -1))
    assert shading(ramp, K, "left") == pytest.approx(left, rel=1e-4)
    assert shading(ramp, K, "right") == pytest.approx(right, rel=1e-4)
    assert shading(np.zeros((8, 8), np.float32), K, "diffuse") == pytest.approx(1.0)


@pytest.mark.parametrize("slope", [0.01, 0.03, 0.08])
@pytest.mark.parametrize("flakes", [0.0, 0.2])
def test_waves_are_read_as_steep_as_they_are_flakes_or_not(slope, flakes):
    height = surface(SHAPE, K, np.random.default_rng(4), slope=slope)
    assert found(height, flakes).slope == pytest.approx(in_band(height), rel=0.15 if flakes else 0.08)


@pytest.mark.parametrize(("wave_mm", "soft_mm"), [(2.0, 0.3), (5.0, 0.0), (5.0, 0.3), (12.0, 0.0), (12.0, 0.3)])
def test_what_waves_of_up_to_24_mm_make_of_the_ratio_is_told_as_it_is_once_softened(wave_mm, soft_mm):
    """Short ones lose two thirds by softening over 0.3 mm, long ones next to nothing; those over 8 mm are no unevenness, but make the ratio."""
    ratio = ratio_of(surface(SHAPE, K, np.random.default_rng(4), slope=0.03, wave_mm=wave_mm))
    there = cv2.GaussianBlur(ratio, (0, 0), soft_mm * K) if soft_mm else ratio
    told = relief.find_relief(ratio, np.zeros(SHAPE, np.float32), np.ones(SHAPE, bool), K, soft_mm)
    assert told.energy == pytest.approx(there.var(), rel=0.07)


def test_flakes_alone_are_no_slope_and_no_faults():
    told = found(np.zeros(SHAPE, np.float32), 0.3)
    assert told.slope < 0.0045
    assert 0.001 < told.slope_sd < 0.006
    assert told.faults == ()


@pytest.mark.parametrize("flakes", [0.1, 0.3, 0.6])
def test_what_flakes_hide_is_told_as_large_as_it_comes_out(flakes):
    """Twelve films that are smooth: what is read of their slopes by chance is about what each says that it may be off by."""
    read = []
    for seed in range(12):
        ratio = ratio_of(np.zeros((360, 480), np.float32), flakes, seed)
        read.append(relief.find_relief(ratio, np.zeros(ratio.shape, np.float32), np.ones(ratio.shape, bool), K))
    off, said = (math.sqrt(np.mean([v**2 for v in part])) for part in ([r.slope for r in read], [r.slope_sd for r in read]))
    assert 0.4 < off / said < 1.3


def test_a_reading_says_how_far_unevenness_may_be_off():
    assert doubt_of({"surface": {"slope": 0.01, "slope_sd": 0.002}}, Response.UNEVENNESS) == pytest.approx(0.2)
    assert doubt_of({"surface": {"slope": 0.01}}, Response.UNEVENNESS) == doubt_of({"surface": None}, Response.UNEVENNESS) == 0.0


def test_shimmer_does_not_grow_with_an_uneven_surface():
    panel = draw_panel(replace(FLAT, mica=0.3))
    index = []
    for slope in (0.0, 0.05):
        height = surface(SHAPE, K, np.random.default_rng(4), slope=slope) if slope else None
        left, right = (
            photograph(replace(panel, height_mm=height), Shot(seed=3, width_px=1400, height_px=1050, noise=0.003), lamp) for lamp in ("left", "right")
        )
        flat = [geometry.rectify(p, c, WIDE, HIGH, K) for p, c in (left, right)]
        told = shimmer.find_shimmer(*flat, np.ones(SHAPE, bool), K)
        index.append(told.index)
    uncorrected = math.hypot(index[1], math.sqrt(told.relief.energy))
    assert uncorrected > 1.8 * index[0]
    assert index[1] == pytest.approx(index[0], abs=0.25 * (uncorrected - index[0]))


# ---------------------------------------------------------------- pits and bumps


def test_pits_and_bumps_are_told_apart_with_place_width_and_slope():
    told = found(surface(SHAPE, K, np.random.default_rng(0), faults=FAULTS, slope=0.003), 0.03)
    assert len(told.faults) == 3
    for fault in FAULTS:
        (mine,) = [f for f in told.faults if math.dist((f.x_mm, f.y_mm), (fault.x_mm, fault.y_mm)) < 0.5]
        assert mine.kind is (FaultKind.PIT if fault.height_mm < 0 else FaultKind.BUMP)
        assert mine.width_mm == pytest.approx(fault.width_mm, rel=0.3)
        steepest = abs(fault.height_mm) / (fault.width_mm / 4.0) / math.sqrt(math.e)
        assert mine.slope == pytest.approx(steepest, rel=0.25)


def test_edges_of_colours_and_what_is_beyond_the_film_are_no_faults():
    height = surface(SHAPE, K, np.random.default_rng(0), faults=FAULTS)
    film = np.ones(SHAPE, bool)
    film[:, : round(50 * K)] = False  # the first pit lies on bare base
    told = relief.find_relief(ratio_of(height), np.zeros(SHAPE, np.float32), film, K)
    assert sorted(f.x_mm for f in told.faults) == pytest.approx([70.0, 95.0], abs=0.5)
    edges = np.zeros(SHAPE, np.float32)
    for x, y in ((200, 200), (420, 500), (700, 300)):
        cv2.circle(edges, (x, y), 12, 2.0, -1)
    shifted = np.roll(edges, 1, axis=1)[:, :] - edges  # an eighth of a millimetre out of place
    assert relief.find_relief(0.2 * shifted, edges, np.ones(SHAPE, bool), K).faults == ()


def test_faults_are_scattered_apart_from_each_other_and_the_edge():
    drawn = scattered(WIDE, HIGH, np.random.default_rng(2), pits=4, bumps=3)
    assert [f.height_mm < 0 for f in drawn] == [True] * 4 + [False] * 3
    assert all(8.0 <= f.x_mm <= WIDE - 8.0 and 8.0 <= f.y_mm <= HIGH - 8.0 for f in drawn)
    assert min(math.dist((a.x_mm, a.y_mm), (b.x_mm, b.y_mm)) for i, a in enumerate(drawn) for b in drawn[:i]) > 8.0


# ---------------------------------------------------------------- a whole reading


@pytest.fixture(scope="module")
def photographed():
    panel = replace(draw_panel(FLAT), height_mm=surface(SHAPE, K, np.random.default_rng(0), faults=FAULTS))
    shot = Shot(seed=5, width_px=1600, height_px=1200, noise=0.004)
    taken = {lamp: photograph(panel, shot, lamp) for lamp in ("diffuse", "left", "right")}
    corners = taken["diffuse"][1]
    nudge = np.array([[1.0, 0.002, 6.0], [-0.002, 1.0, -4.0], [0.0, 0.0, 1.0]])
    nudged = cv2.warpPerspective(taken["right"][0], nudge, (1600, 1200), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    return taken["diffuse"][0], taken["left"][0], nudged, corners


def test_a_reading_lists_the_faults_though_the_phone_was_nudged(photographed):
    main, left, right, corners = photographed
    told = sight.as_json(sight.measure(sight.Lamps(main=main, left=left, right=right), WIDE, HIGH, corners_px=corners))
    check_result(told)
    assert told["surface"]["count"] == len(told["surface"]["faults"]) == 3
    assert {f["kind"] for f in told["surface"]["faults"]} == {"pit", "bump"}
    assert told["shimmer"]["index"] < 0.03
    assert 0.0 < told["surface"]["slope_sd"] < 0.01
    with pytest.raises(RecordError, match="surface slope_sd"):
        check_result(told | {"surface": told["surface"] | {"slope_sd": -0.1}})
    with pytest.raises(RecordError, match="other faults than it lists"):
        check_result(told | {"surface": told["surface"] | {"count": 4}})
    with pytest.raises(RecordError, match="surface faults"):
        check_result(told | {"surface": told["surface"] | {"faults": [told["surface"]["faults"][0] | {"kind": "hole"}]}})


def test_a_phone_that_is_held_by_hand_is_followed_too(photographed):
    main, left, _, corners = photographed
    panel = replace(draw_panel(FLAT), height_mm=surface(SHAPE, K, np.random.default_rng(0), faults=FAULTS))
    other, where = photograph(panel, Shot(seed=9, width_px=1600, height_px=1200, noise=0.004), "right")
    assert np.abs(where - corners).max() > 100.0
    told = sight.measure(sight.Lamps(main=main, left=left, right=other), WIDE, HIGH, corners_px=corners)
    assert told.shimmer is not None
    assert len(told.shimmer.relief.faults) == 3
    assert told.shimmer.index < 0.05


def test_lamps_that_show_something_else_are_not_read_and_said(photographed):
    main, left, _, corners = photographed
    other = photograph(draw_panel(replace(FLAT, seed=12)), Shot(seed=5, width_px=1600, height_px=1200), "right")[0]
    told = sight.measure(sight.Lamps(main=main, left=left, right=other), WIDE, HIGH, corners_px=corners)
    assert told.shimmer is None
    assert any("do not fit the first" in words for words in told.warnings)
    assert sight.as_json(told)["surface"] is None


def test_one_photograph_for_both_lamps_is_not_read_and_said(photographed):
    main, left, _, corners = photographed
    told = sight.measure(sight.Lamps(main=main, left=left, right=left.copy()), WIDE, HIGH, corners_px=corners)
    assert told.shimmer is None
    assert any("one and the same" in words for words in told.warnings)


def test_a_film_on_which_nothing_is_unlike_has_no_slope():
    told = found(np.zeros(SHAPE, np.float32))
    assert (told.slope, told.slope_sd, told.energy, told.faults) == (0.0, 0.0, 0.0, ())


RESULT = {
    "panel": {"width_mm": 100.0, "height_mm": 80.0},
    "cells": {"items": []},
    "spread": {},
    "cracks": {},
    "surface": {
        "slope": 0.01,
        "count": 2,
        "faults": [
            {"kind": "pit", "x_mm": 20.0, "y_mm": 20.0, "width_mm": 3.0, "slope": 0.1},
            {"kind": "bump", "x_mm": 70.0, "y_mm": 60.0, "width_mm": 2.0, "slope": 0.1},
        ],
    },
}


def test_faults_in_a_zone_count_for_nothing():
    left = zones.without(RESULT | {"cells": None}, [zones.Zone(20.0, 20.0, 10.0)])
    assert (left["surface"]["count"], [f["kind"] for f in left["surface"]["faults"]]) == (1, ["bump"])


def test_a_person_takes_a_fault_out_and_a_new_reading_remembers():
    mended = without_fault(RESULT, 0)
    assert (mended["surface"]["count"], mended["surface"]["faults"][0]["kind"]) == (1, "bump")
    with pytest.raises(SightError, match="no longer there"):
        without_fault(mended, 1)
    moved = [f | {"x_mm": f["x_mm"] + 0.4} for f in RESULT["surface"]["faults"]]
    again = retold(RESULT | {"surface": RESULT["surface"] | {"faults": moved}}, RESULT, mended)
    assert [f["kind"] for f in again["surface"]["faults"]] == ["bump"]
    elsewhere = [f | {"y_mm": 40.0} for f in RESULT["surface"]["faults"]]
    kept = retold(RESULT | {"surface": RESULT["surface"] | {"faults": elsewhere}}, RESULT, mended)
    assert kept["surface"]["count"] == 2
