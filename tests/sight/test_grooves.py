"""Grooves under raking lamps, on planes where each figure can be worked out by hand, and on drawn panels whose cracks no colour shows."""

from __future__ import annotations

import dataclasses
import math

import cv2
import numpy as np
import pytest

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.demo.relief import DEEP_MM, RAKING_DEG, grooves, shading
from dribbet.sight import breaks, geometry
from dribbet.sight import measure as sight
from dribbet.sight.grooves import LEAST_DEPTH, Grooves, Raked, along, hidden, laid_closer
from dribbet.sight.registration import laid_over

K = 8.0
SHAPE = (160, 200)
STEEP = 0.8


def walls(ends: tuple[tuple[int, int], tuple[int, int]], half_px: float, steep: float = STEEP) -> np.ndarray:
    """Log ratio of a groove between two ends: `steep` at its right wall, two pixels wide, as much below nought at its left one."""
    (x, y), (to_x, to_y) = ends
    long = math.hypot(to_x - x, to_y - y)
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float64)
    along_it = ((columns - x) * (to_x - x) + (rows - y) * (to_y - y)) / long
    normal = np.array([to_y - y, x - to_x]) / long
    normal *= 1.0 if normal[0] >= 0.0 else -1.0
    off = (columns - x) * normal[0] + (rows - y) * normal[1]
    wall = (np.abs(np.abs(off) - half_px) <= 1.0) & (along_it >= 0.0) & (along_it <= long)
    return np.where(wall, np.sign(off) * steep, 0.0).astype(np.float32)


def raked(ratio: np.ndarray, light: np.ndarray | None = None, apart_mm: float = 0.03) -> Raked:
    nothing = np.zeros(SHAPE, np.float32)
    return Raked(ratio=ratio, light=nothing if light is None else light, apart_mm=nothing + np.float32(apart_mm))


def line(ends: tuple[tuple[int, int], tuple[int, int]]) -> np.ndarray:
    numbers = np.zeros(SHAPE, np.uint8)
    cv2.line(numbers, *ends, 1, 1)
    return numbers.astype(np.int32)


UP, ASLANT = ((100, 30), (100, 130)), ((60, 40), (140, 120))
UPRIGHT, SLANTED, LEVEL = line(UP), line(ASLANT), line(((40, 80), (160, 80)))


def test_walls_of_an_upright_groove_are_read_whole():
    told = along(raked(walls(UP, 2.0)), UPRIGHT, 1, K)
    assert told.depth[0] == pytest.approx(STEEP, abs=0.01)
    assert told.told_mm[0] == pytest.approx(101 / K, rel=0.02)
    assert told.sd[0] == pytest.approx(0.0, abs=0.01)
    assert told.deep.tolist() == [True]
    assert told.flat.tolist() == [False]


def test_a_raised_line_is_no_groove():
    told = along(raked(walls(UP, 2.0, -STEEP)), UPRIGHT, 1, K)
    assert told.most[0] == pytest.approx(0.0, abs=0.05)  # asked beyond its walls, there is nothing
    assert told.deep.tolist() == [False]
    assert told.flat.tolist() == [True]


def test_nothing_is_known_of_what_runs_along_the_lamps():
    told = along(raked(np.zeros(SHAPE, np.float32)), LEVEL, 1, K)
    assert told.told_mm[0] < 0.5
    assert told.deep.tolist() == told.flat.tolist() == [False]


def test_half_of_a_slanted_line_lies_across_the_lamps():
    root = math.sqrt(0.5)
    told = along(raked(walls(ASLANT, 2.0) * np.float32(root)), SLANTED, 1, K)  # light falls on it by the cosine
    assert told.told_mm[0] == pytest.approx(81 / K / 2, rel=0.03)
    assert told.depth[0] == pytest.approx(STEEP, rel=0.15)
    assert told.deep.tolist() == [True]


def test_each_line_is_asked_at_its_own_walls():
    """A wide groove and a narrow one; the number of each is where its figures are."""
    both = UPRIGHT.copy()
    both[30:131, 40] = 2
    ratio = walls(UP, 5.0) + walls(((40, 30), (40, 130)), 1.5, 0.5)
    told = along(raked(ratio), both, 2, K)
    assert told.depth == pytest.approx([STEEP, 0.5], abs=0.02)


@pytest.mark.parametrize(
    ("depth", "sd", "beside", "round_it", "told", "deep"),
    [
        (0.50, 0.01, 0.16, 0.01, 5.0, True),
        (0.50, 0.01, 0.17, 0.01, 5.0, False),  # three times what lies beside it is 0.51
        (0.50, 0.124, 0.0, 0.0, 5.0, True),
        (0.50, 0.126, 0.0, 0.0, 5.0, False),  # four standard errors
        (0.50, 0.01, 0.0, 0.166, 5.0, True),
        (0.50, 0.01, 0.0, 0.168, 5.0, False),  # three times what rises round it
        (0.14, 0.0, 0.0, 0.0, 5.0, False),
        (0.16, 0.0, 0.0, 0.0, 5.0, True),
        (0.50, 0.01, 0.0, 0.0, 0.9, False),  # of a line that runs along the lamps nothing is known
    ],
)
def test_what_is_deep_stands_out_of_all_that_might_look_so(depth, sd, beside, round_it, told, deep):
    one = (np.array([v]) for v in (depth, depth, sd, beside, round_it, told))
    assert Grooves(**dict(zip(("depth", "most", "sd", "beside", "round_it", "told_mm"), one, strict=True))).deep.tolist() == [deep]


@pytest.mark.parametrize(
    ("most", "sd", "beside", "told", "flat"),
    [
        (0.05, 0.014, 0.0, 5.0, True),
        (0.05, 0.016, 0.0, 5.0, False),  # with two standard errors it might be 0.082
        (0.05, 0.0, 0.014, 5.0, True),
        (0.05, 0.0, 0.016, 5.0, False),
        (0.05, 0.0, 0.0, 0.9, False),
        (0.09, 0.0, 0.0, 5.0, False),
    ],
)
def test_what_is_flat_is_surely_less_deep_than_any_groove(most, sd, beside, told, flat):
    nothing = np.zeros(1)
    one = Grooves(depth=nothing, most=np.array([most]), sd=np.array([sd]), beside=np.array([beside]), round_it=nothing, told_mm=np.array([told]))
    assert one.flat.tolist() == [flat]


def test_noise_is_no_groove_and_widens_what_is_known():
    luck = np.random.default_rng(4)
    ratio = cv2.GaussianBlur(luck.normal(0.0, 1.0, SHAPE).astype(np.float32), (0, 0), 0.7)
    told = along(raked(ratio), UPRIGHT, 1, K)
    places = 101 / (0.3 * K)  # that tell of it by themselves
    assert told.sd[0] == pytest.approx(ratio.std() * math.sqrt(0.5) / math.sqrt(places), rel=0.35)
    assert not told.deep[0]


def test_a_flat_dark_line_is_excused_by_so_much_as_the_photographs_lie_apart():
    """Two photographs of a dark line, a tenth of a millimetre beside each other, look like a groove; where that may be so it is none."""
    x = (np.arange(SHAPE[1]) - 100.0)[None, :] / K
    light = np.repeat(-1.0 * np.exp(-(x**2) / (2 * 0.15**2)), SHAPE[0], axis=0).astype(np.float32)
    apart = np.asarray(np.gradient(light, axis=1) * K * 0.1, np.float32)
    assert along(raked(apart, light, apart_mm=0.0), UPRIGHT, 1, K).deep[0]
    assert not along(raked(apart, light, apart_mm=0.1), UPRIGHT, 1, K).deep[0]


def test_a_shift_between_the_photographs_is_taken_out_by_their_broad_edges():
    luck = np.random.default_rng(2)
    broad = cv2.GaussianBlur(luck.normal(0.0, 1.0, SHAPE).astype(np.float32), (0, 0), 3.0)
    light = np.where(broad > 0.0, 0.5, -0.5).astype(np.float32)
    light = cv2.GaussianBlur(light, (0, 0), 1.0)
    gx = cv2.Sobel(light, cv2.CV_32F, 1, 0, scale=1 / 8)
    film = np.ones(SHAPE, bool)
    told = laid_closer(np.float32(0.6) * gx, light, film, 2.0)
    assert float(np.abs(told.ratio).mean()) < 0.2 * float(np.abs(0.6 * gx).mean())
    assert float(np.median(told.apart_mm)) == pytest.approx(0.04, abs=0.01)
    bare = laid_closer(np.zeros(SHAPE, np.float32), np.zeros(SHAPE, np.float32), film, K)
    assert float(bare.apart_mm.min()) == pytest.approx(0.1, abs=1e-3)  # where nothing tells how they lie


def test_a_weave_that_the_lamps_show_is_no_shift_between_the_photographs():
    """It makes the ratio fall and rise as a shift of its own faint pattern would: at the edges of flat lines that would look like grooves."""
    x = (np.arange(SHAPE[1]) - 100.0)[None, :] / K
    threads = np.repeat(np.sin(2.0 * np.pi * x / 0.95), SHAPE[0], axis=0).astype(np.float32)
    faint = np.roll(threads, 2, axis=1) * np.float32(0.01)  # steepest where the ratio is greatest
    strand = np.where(np.abs(x) < 0.3, -1.5, 0.0).astype(np.float32)
    told = laid_closer(np.float32(0.2) * threads, faint + strand, np.ones(SHAPE, bool), K)
    assert float(np.abs(told.ratio - 0.2 * threads).max()) < 0.7  # 3.5 by plain least squares: a shift of 0.8 mm
    assert not along(told, UPRIGHT, 1, K).deep[0]


def test_hidden_grooves_show_as_one_band_and_never_along_the_edge():
    chance = hidden(raked(walls(UP, 2.0) + walls(((3, 10), (3, 150)), 2.0)), K)
    assert chance[80, 100] > 0.4
    assert chance[80, 60] == 0.0
    assert chance[:, :12].max() == 0.0
    wide = hidden(raked(walls(UP, 5.0, 0.4)), K)[80, 95:106]
    assert (np.diff(wide[:6]) >= 0.0).all()  # one band, with one crest in the middle
    assert (np.diff(wide[5:]) <= 0.0).all()
    assert wide[3:8].min() > 0.4
    assert hidden(raked(-walls(UP, 1.0)), K).max() == 0.0  # raised


@pytest.mark.parametrize("turn", [-60.0, -33.0, 33.0, 60.0])
def test_hidden_grooves_show_whichever_way_they_run_across_the_lamps(turn):
    off = np.array([math.sin(math.radians(turn)), math.cos(math.radians(turn))]) * 50.0
    ends = tuple(tuple(round(v) for v in (100 + side * off[0], 80 + side * off[1])) for side in (-1.0, 1.0))
    chance = hidden(raked(walls(ends, 2.0) * np.float32(math.cos(math.radians(turn)))), K)
    assert (chance[line(ends) > 0] > 0.2).mean() > 0.9
    assert (chance[cv2.dilate(line(ends).astype(np.uint8), np.ones((17, 17))) == 0] > 0.0).mean() < 0.001


def wavy(long_mm: float, slope: float) -> np.ndarray:
    x = (np.arange(SHAPE[1]) - 100.0)[None, :] / K
    return np.repeat(np.float32(slope) * np.sin(2.0 * np.pi * x / long_mm), SHAPE[0], axis=0).astype(np.float32)


def test_a_valley_between_waves_is_no_groove():
    """Beyond twice its half width it goes on falling; a groove with as steep walls is over there."""
    valley = along(raked(wavy(8.0, 0.4)), UPRIGHT, 1, K)
    assert math.sin(2.0 * math.pi * 0.85 / 8.0) * 0.4 > LEAST_DEPTH  # deep enough by itself
    assert not valley.deep[0]
    assert hidden(raked(wavy(8.0, 0.4)), K).max() == 0.0
    assert along(raked(walls(UP, 2.0, 0.3)), UPRIGHT, 1, K).deep[0]


def test_a_chain_of_flakes_that_looks_like_walls_is_no_groove():
    """A line laid where the noise itself falls most is deep over and over; so is what round it rises."""
    luck = np.random.default_rng(9)
    ratio = cv2.GaussianBlur(luck.normal(0.0, 1.0, SHAPE).astype(np.float32), (0, 0), 1.0)
    falls = np.roll(ratio, -2, axis=1) - np.roll(ratio, 2, axis=1)
    numbers, x = np.zeros(SHAPE, np.int32), 100
    for row in range(30, 131):
        x += int(np.argmax(falls[row, x - 2 : x + 3])) - 2
        numbers[row, x] = 1
    told = along(raked(ratio), numbers, 1, K)
    assert told.depth[0] > max(LEAST_DEPTH, 4.0 * told.sd[0], 3.0 * told.beside[0])
    assert not told.deep[0]
    assert told.round_it[0] == pytest.approx(ratio.std() / math.sqrt(2.0), rel=0.25)  # of two places that tell nothing of each other
    assert hidden(raked(ratio), K).max() == 0.0


def test_drawn_cracks_are_as_deep_as_the_film_and_shaded_by_their_walls():
    cracks = np.zeros((60, 80), bool)
    cracks[:, 36:44] = True
    heights = grooves(cracks, K)
    assert heights[30, 40] == pytest.approx(-DEEP_MM, rel=0.01)
    assert heights[30, 10] == 0.0
    left, right = shading(heights, K, "left")[30], shading(heights, K, "right")[30]
    assert left[44] > 1.3 > 0.6 > left[35]  # the wall on the right faces the lamp on the left
    np.testing.assert_allclose(left, right[::-1], atol=1e-5)
    slope = DEEP_MM / (0.05 * math.sqrt(2 * math.pi))
    assert left.max() <= (1 + slope / math.tan(math.radians(RAKING_DEG))) + 1e-6


HIDDEN = Pour(
    width_mm=110.0, height_mm=90.0, palette=("#1D5C63", "#E8E1D0", "#B98A3C"), shares=(0.5, 0.3, 0.2), seed=5, cells_per_dm2=10.0, crack_mm=260.0
)


def lamps_of(panel, seed: int) -> sight.Lamps:
    shot = Shot(seed=seed, width_px=1800, height_px=1350, noise=0.005)
    taken = {name: photograph(panel, shot, lamp)[0] for name, lamp in (("main", "diffuse"), ("left", "left"), ("right", "right"))}
    return sight.Lamps(**taken)


def test_cracks_that_no_colour_shows_are_read_under_the_lamps():
    """The film is closed over them: in even light there is nothing to be seen, under the lamps there are grooves."""
    cracked = draw_panel(HIDDEN)
    closed = dataclasses.replace(cracked, linear=draw_panel(dataclasses.replace(HIDDEN, crack_mm=0.0)).linear)
    lamps = lamps_of(closed, 3)
    alone = sight.measure(sight.Lamps(main=lamps.main), 110.0, 90.0)
    told = sight.measure(lamps, 110.0, 90.0)
    assert alone.cracks.length_mm == 0.0
    steps = np.concatenate([np.diff(points, axis=0) for points in closed.lines]) / closed.px_per_mm
    upright = float(np.hypot(*steps[np.abs(steps[:, 1]) > np.abs(steps[:, 0])].T).sum())
    assert 1.1 * upright < told.cracks.length_mm < 1.02 * closed.crack_mm  # what runs along the lamps they do not show
    assert told.cracks.under_lamps.deep_mm == pytest.approx(told.cracks.length_mm, rel=0.15)
    assert (alone.cracks.under_lamps, told.cracks.under_lamps.flat_mm) == (None, 0.0)
    written = sight.as_json(told)["cracks"]["under_lamps"]
    assert written == {"deep_mm": pytest.approx(told.cracks.under_lamps.deep_mm, abs=0.05), "flat_mm": 0.0}
    assert "under_lamps" not in sight.as_json(alone)["cracks"]
    flat = sight.measure(lamps_of(dataclasses.replace(closed, cracks=np.zeros_like(closed.cracks)), 3), 110.0, 90.0)
    assert (flat.cracks.length_mm, flat.cracks.under_lamps.deep_mm, flat.cracks.under_lamps.flat_mm) == (0.0, 0.0, 0.0)


def test_lines_that_are_flat_under_the_lamps_are_said_and_not_counted():
    cracked = draw_panel(HIDDEN)
    painted = dataclasses.replace(cracked, cracks=np.zeros_like(cracked.cracks))  # the same lines, drawn and not broken
    lamps = lamps_of(painted, 4)
    alone = sight.measure(sight.Lamps(main=lamps.main), 110.0, 90.0).cracks
    told = sight.measure(lamps, 110.0, 90.0).cracks
    assert alone.length_mm > 100.0
    assert told.length_mm == 0.0
    assert told.doubtful_mm == pytest.approx(alone.length_mm, rel=0.1)
    assert told.under_lamps.flat_mm == pytest.approx(told.doubtful_mm, rel=0.1)
    assert told.under_lamps.deep_mm == 0.0
    assert told.length_sd_mm < 0.25 * alone.length_sd_mm  # what the lamps settled is not unsure


def test_flat_lines_of_which_the_eyes_only_doubted_are_not_said(monkeypatch):
    painted = draw_panel(HIDDEN)
    painted = dataclasses.replace(painted, cracks=np.zeros_like(painted.cracks))
    lengths = []

    def doubted(pieces, ridges, k):
        lengths.extend(sorted(pieces.length_mm))
        return np.where(pieces.length_mm == pieces.length_mm.max(), 0.95, 0.6)

    monkeypatch.setattr(breaks, "chances", doubted)
    told = sight.measure(lamps_of(painted, 4), 110.0, 90.0).cracks
    assert len(lengths) > 2
    assert lengths[-1] < 0.9 * sum(lengths)
    assert told.length_mm == 0.0
    assert told.under_lamps.flat_mm == pytest.approx(lengths[-1], rel=0.001)
    assert lengths[-1] < told.doubtful_mm < 0.6 * sum(lengths)  # with what the lamps did not see across


def test_walls_of_cracks_are_neither_shimmer_nor_an_uneven_surface():
    pour = dataclasses.replace(HIDDEN, mica=0.1)
    cracked, whole = (sight.measure(lamps_of(draw_panel(p), 3), 110.0, 90.0) for p in (pour, dataclasses.replace(pour, crack_mm=0.0)))
    assert cracked.cracks.length_mm > 200.0
    assert cracked.shimmer.index == pytest.approx(whole.shimmer.index, rel=0.03)
    assert cracked.shimmer.relief.slope == pytest.approx(whole.shimmer.relief.slope, rel=0.1)
    assert (cracked.shimmer.relief.faults, whole.shimmer.relief.faults) == ((), ())


def test_photographs_of_a_net_are_laid_by_what_is_no_line():
    """Walls are bright under one lamp and dark under the other: held against each other as light they pull the photographs apart by 0.3 mm."""
    shape, luck = (600, 720), np.random.default_rng(3)
    net = np.zeros(shape, np.uint8)
    for _ in range(14):
        cv2.polylines(net, [np.round(luck.uniform((20, 20), (700, 580), (4, 2))).astype(np.int32)], False, 1, 4)
    soft = cv2.GaussianBlur(net.astype(np.float32), (0, 0), 1.2)
    broad = cv2.GaussianBlur(luck.normal(0.0, 1.0, shape).astype(np.float32), (0, 0), 16.0)

    def taken(lit: np.ndarray) -> np.ndarray:
        noisy = np.clip(lit + luck.normal(0.0, 0.001, shape), 0, 1)
        return np.repeat((noisy ** (1 / 2.2) * 255).astype(np.uint8)[..., None], 3, axis=2)

    def nudged(light: np.ndarray, lamp: str) -> np.ndarray:
        lit = light * shading(-0.12 * soft, K, lamp)
        return taken(cv2.warpAffine(lit, np.float32([[1, 0, 2.4], [0, 1, -1.6]]), shape[::-1], borderMode=cv2.BORDER_REPLICATE))

    spots = np.array([[x, y] for x in (60.0, 360.0, 660.0) for y in (60.0, 300.0, 540.0)])
    marbled = (0.2 - 0.1 * soft) * np.where(broad > 0.0, 1.05, 1.0)  # one film a twentieth lighter than the other
    for lamp in ("left", "right"):
        laid = laid_over(nudged(marbled, lamp), taken(marbled), K)
        off = geometry.apply(laid.matrix, spots) - spots - (2.4, -1.6)
        assert laid.sure
        assert np.hypot(*off.T).max() / K < 0.06
    plain = 0.2 - 0.1 * soft  # nothing but its lines: they are not to be asked how they lie
    assert not laid_over(nudged(plain, "left"), taken(plain), K).sure
